package store

import (
	"context"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/request"
)

// Standing says where a request is on its way.
type Standing string

// The standings of what is under way, in their order.
const (
	BeingDecided   Standing = "deciding"   // or returned to its asker
	BeingDone      Standing = "working"    // or waiting for its asker
	ToBeConfirmed  Standing = "confirming" // by its asker
	BeingTakenBack Standing = "undoing"
)

// standingOfStatus gives the standing of a row, or its status when it has none.
const standingOfStatus = "CASE r.status WHEN 'deciding' THEN 'deciding' WHEN 'returned' THEN 'deciding' WHEN 'delivering' THEN 'working' WHEN 'waiting' THEN 'working' WHEN 'delivered' THEN 'confirming' ELSE r.status END"

// Sight is what a person may see requests by, beside having asked for them,
// getting what they are for, and following them.
type Sight struct {
	Person   string   // ID
	Services []string // keys of those that are theirs
	Teams    []string // keys of those they are in
	Now      time.Time
}

// seen are the requests that somebody may see, or has a task in; the values are
// those of args. CROSS JOIN keeps SQLite from beginning with all persons, + from
// beginning with all references.
const seen = `requests r CROSS JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = json_extract(r.state, '$.for.person') LEFT JOIN forecasts f ON f.request = r.id
		WHERE ?4 > 0 AND +r.reference IS NOT NULL AND r.id IN (SELECT id FROM requests WHERE asker = ?1 UNION SELECT id FROM requests WHERE beneficiary = ?1
			UNION SELECT s.id FROM json_each(?2) j CROSS JOIN requests s ON s.service = j.value
			UNION SELECT t.request FROM json_each(?3) j CROSS JOIN tasks t ON t.team = j.value UNION SELECT request FROM followers WHERE person = ?1)`

// What is late will likely miss what is promised; what is stuck has a task that
// is.
const (
	lateNow  = "(coalesce(f.due_at, 0) > 0 AND (f.likely_at > f.due_at OR f.late_at < ?4) AND r.status NOT IN ('delivered', 'closed', 'undoing'))"
	stuckNow = "EXISTS (SELECT 1 FROM tasks t WHERE t.request = r.id AND t.state = 'stuck')"
	underWay = "r.status NOT IN ('draft', 'closed')"
)

func (s Sight) args() []any {
	in := func(list []string) string {
		data, _ := json.Marshal(slices.Concat([]string{}, list)) // strings always marshal
		return string(data)
	}
	return []any{s.Person, in(s.Services), in(s.Teams), millis(s.Now)}
}

// Wanted says which requests are looked for.
type Wanted struct {
	Words    string   // of the title, the reference or a name; each must be there
	Service  string   // key; empty for all
	Standing Standing // empty for all
	Late     bool
	Stuck    bool
	Limit    int
}

// Find lists requests that a person may see all of, or has a task in. Those that
// words find come with the last changed first, else the most pressed.
func (r reads) Find(ctx context.Context, s Sight, w Wanted) ([]Entry, error) {
	query, args := "SELECT r.state, '' AS key, r.changed_at AS since FROM "+seen, s.args()
	for _, word := range strings.Fields(w.Words) {
		query += ` AND (r.title || ' ' || r.reference || ' ' || p.name || ' ' || coalesce(b.name, '') || ' ' || coalesce(json_extract(r.state, '$.for.newcomer.name'), '')) LIKE ? ESCAPE '\'`
		args = append(args, "%"+likeEscape.Replace(word)+"%")
	}
	if w.Service != "" {
		query, args = query+" AND r.service = ?", append(args, w.Service)
	}
	if w.Standing != "" {
		query, args = query+" AND "+standingOfStatus+" = ?", append(args, w.Standing)
	}
	if w.Late {
		query += " AND " + lateNow
	}
	if w.Stuck {
		query += " AND " + stuckNow
	}
	if w.Standing != "" || w.Late || w.Stuck {
		query += " AND " + underWay
	}
	order := "r.changed_at DESC"
	if w.Words == "" {
		order = stuckNow + " DESC, coalesce(nullif(f.due_at, 0) - max(f.likely_at, ?4), 9e15), r.changed_at DESC"
	}
	return r.list(ctx, query+" ORDER BY "+order+" LIMIT ?", append(args, w.Limit)...)
}

// UnderWay counts the requests of a service that are on their way.
type UnderWay struct {
	Service  string // key
	Standing Standing
	Count    int
	Late     int
	Stuck    int
}

// Overview counts what is under way of what a person may see, or has a task in.
func (r reads) Overview(ctx context.Context, s Sight) ([]UnderWay, error) {
	var rows []UnderWay
	err := r.all(ctx, &rows, "SELECT r.service, "+standingOfStatus+" AS standing, count(*) AS count, sum("+lateNow+") AS late, sum("+stuckNow+") AS stuck FROM "+seen+" AND "+underWay+" GROUP BY 1, 2", s.args()...)
	return rows, err
}

// ByReference finds a request by its reference.
func (r reads) ByReference(ctx context.Context, reference string) (request.State, error) {
	var text string
	if err := r.get(ctx, &text, "SELECT state FROM requests WHERE reference = ?", reference); err != nil {
		return request.State{}, err
	}
	return decodeState(text)
}
