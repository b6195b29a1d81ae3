package store

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Page limits a list: at most Limit entries after the one that Cursor names;
// an empty cursor begins at the top.
type Page struct {
	Cursor string
	Limit  int
}

// after reads a cursor: a time and an ID.
func (p Page) after() (int64, string) {
	var ms int64
	id := ""
	if at, rest, ok := strings.Cut(p.Cursor, "."); ok {
		if _, err := fmt.Sscanf(at, "%d", &ms); err == nil {
			id = rest
		}
	}
	return ms, id
}

// Cursor names a place in a list.
func Cursor(ms int64, id string) string { return fmt.Sprintf("%d.%s", ms, id) }

type listRow struct {
	State string
	Key   string // of a rung or a task, where there is one
	Since int64

	Number int64 // of the reference, where a list goes by it
}

// Entry is one line of a list: a request, and which rung or task of it.
type Entry struct {
	State request.State
	Key   string
	Next  string // cursor of the entry
}

func (r queries) list(ctx context.Context, query string, args ...any) ([]Entry, error) {
	var rows []listRow
	if err := r.all(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	return entriesOf(rows), nil
}

// entriesOf decodes rows. One that cannot be decoded is left out: the runner has
// set it aside, for all to see on Manage.
func entriesOf(rows []listRow) []Entry {
	entries := make([]Entry, 0, len(rows))
	for _, r := range rows {
		if state, err := decodeState(r.State); err == nil {
			entries = append(entries, Entry{state, r.Key, Cursor(r.Since, state.ID+"/"+r.Key)})
		}
	}
	return entries
}

// Group is what a person's request waits for.
type Group string

// The groups in which a person's requests are listed, in this order.
const (
	ForReader   Group = "you"      // a draft, a question, or to confirm
	ForDecision Group = "decision" // for those who decide
	ForWork     Group = "work"     // for teams and systems
	ForAsker    Group = "asker"    // for somebody else who asked
	ForUndoing  Group = "undoing"  // until what was done is undone
	ForNothing  Group = "closed"
)

// All lists the groups in their order.
func (Group) All() []Group { return Groups }

// Groups in order.
var Groups = []Group{ForReader, ForDecision, ForWork, ForAsker, ForUndoing, ForNothing}

// mine are the requests a person has asked, without discarded drafts, those
// for them that they may see, and those they follow, with their groups.
var mine = `WITH mine AS (SELECT r.*, CASE
		WHEN r.asker = ?1 AND r.` + withAsker + ` OR r.beneficiary = ?1 AND r.` + withSide + ` THEN 0
		WHEN r.status = ` + text(request.Deciding) + ` THEN 1
		WHEN r.status = ` + text(request.Delivering) + ` THEN 2
		WHEN r.` + withAsker + ` THEN 3
		WHEN r.status = ` + text(request.Undoing) + ` THEN 4 ELSE 5 END AS rank
	FROM requests r WHERE (r.asker = ?1 OR r.beneficiary = ?1 OR r.id IN (SELECT request FROM followers WHERE person = ?1))
		AND NOT (r.status = ` + closed + ` AND r.reference IS NULL) AND NOT (r.status = ` + draft + ` AND r.slip <> ''))`

// Mine says which of a person's requests are listed, and how.
type Mine struct {
	Page
	Words string // parts of the title, the reference or a name; each must be there
	Group Group  // empty for all
	Sort  string // within a group: "likely" for what will be done first, "due" for what is due first, "sent" for the longest under way; else the last changed first
}

// RequestsOf lists a person's requests, group by group. The key of an entry is
// its group.
func (r ofRequests) RequestsOf(ctx context.Context, person string, m Mine) ([]Entry, error) {
	const never = 99_999_999_999_999 // in milliseconds; beyond it ranks lie
	by := fmt.Sprintf("%d - m.changed_at", never)
	switch m.Sort {
	case "likely":
		by = fmt.Sprintf("coalesce(nullif(f.likely_at, 0), %d)", never)
	case "due":
		by = fmt.Sprintf("coalesce(nullif(f.due_at, 0), %d)", never)
	case "sent":
		by = "m.sent_at"
	}
	since, id := m.after()
	query := mine + fmt.Sprintf(`, page AS (SELECT id, key, since FROM (SELECT m.id, m.rank AS key, m.rank * %d + %s AS since
		FROM mine m JOIN people p ON p.id = m.asker LEFT JOIN people b ON b.id = m.beneficiary LEFT JOIN forecasts f ON f.request = m.id WHERE TRUE`, never+1, by)
	args := []any{person, since, id, m.Limit}
	given := func(value any) string { // a value of its own number
		args = append(args, value)
		return fmt.Sprintf("?%d", len(args))
	}
	if m.Group != "" {
		query += " AND m.rank = " + given(slices.Index(Groups, m.Group))
	}
	for _, word := range strings.Fields(m.Words) {
		query += ` AND (m.title || ' ' || coalesce(m.reference, '') || ' ' || p.name || ' ' || coalesce(b.name, '')) LIKE ` + given("%"+likeEscape.Replace(word)+"%") + ` ESCAPE '\'`
	}
	query += `) WHERE since > ?2 OR (since = ?2 AND id || '/' || key > ?3) ORDER BY since, id LIMIT ?4)
		SELECT r.state, page.key, page.since FROM page JOIN requests r ON r.id = page.id ORDER BY page.since, page.id` // only the states of the page are read
	entries, err := r.list(ctx, query, args...)
	for i := range entries {
		rank, _ := strconv.Atoi(entries[i].Key)
		entries[i].Key = string(Groups[rank])
	}
	return entries, err
}

// GroupsOf counts a person's requests by what they wait for.
func (r ofRequests) GroupsOf(ctx context.Context, person string) (map[Group]int, error) {
	var rows []struct{ Rank, Count int }
	if err := r.all(ctx, &rows, mine+" SELECT rank, count(*) AS count FROM mine GROUP BY rank", person); err != nil {
		return nil, err
	}
	counts := map[Group]int{}
	for _, row := range rows {
		counts[Groups[row.Rank]] = row.Count
	}
	return counts, nil
}

// Decisions says which of a person's decisions are listed, and how.
type Decisions struct {
	Page
	Decided  bool   // those they have decided, the last first; else those that wait
	Sort     string // of those that wait: "due" for the earliest first, "cost" for the dearest first; else the longest waiting first
	Words    string // parts of the title, the reference or the asker's name; each must be there
	Offering string // key; empty for all
}

// DecisionsOf lists rungs that wait for a person, or that they have decided.
func (r ofRequests) DecisionsOf(ctx context.Context, person string, d Decisions) ([]Entry, error) {
	at, id := d.after()
	states, by, order, beyond := "s.state = 'open'", "s.since", "ASC", ">"
	switch {
	case d.Decided:
		states, order, beyond = "s.state IN ('approve', 'decline')", "DESC", "<"
	case d.Sort == "due":
		by = "s.due_at"
	case d.Sort == "cost":
		by, order, beyond = "r.cost", "DESC", "<"
	}
	query := "SELECT r.state, s.rung AS key, " + by + " AS since FROM seats s JOIN requests r ON r.id = s.request JOIN people p ON p.id = r.asker WHERE s.person = ? AND " + states
	args := []any{person}
	if d.Cursor != "" {
		query += " AND (" + by + " " + beyond + " ? OR (" + by + " = ? AND s.request || '/' || s.rung " + beyond + " ?))"
		args = append(args, at, at, id)
	}
	if d.Offering != "" {
		query += " AND r.offering = ?"
		args = append(args, d.Offering)
	}
	for _, word := range strings.Fields(d.Words) {
		query += ` AND (r.title || ' ' || r.reference || ' ' || p.name) LIKE ? ESCAPE '\'`
		args = append(args, "%"+likeEscape.Replace(word)+"%")
	}
	query += " ORDER BY " + by + " " + order + ", s.request || '/' || s.rung " + order + " LIMIT ?"
	return r.list(ctx, query, append(args, d.Limit)...)
}

var likeEscape = strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`)

// Absentees lists the requests with a decision open for somebody who has left
// or is absent at an instant, or whose absence has ended since another; at most
// 1,000.
func (r ofRequests) Absentees(ctx context.Context, since, now time.Time) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, `SELECT DISTINCT s.request FROM seats s JOIN people p ON p.id = s.person
		WHERE s.state = 'open' AND (p.away OR EXISTS (SELECT 1 FROM absences a WHERE a.person = s.person AND (a.begins_at <= ?1 AND a.ends_at > ?1 OR a.ends_at > ?2 AND a.ends_at <= ?1)))
		AND s.request NOT IN (SELECT id FROM set_aside WHERE lane = 'stand-ins') LIMIT 1000`, millis(now), millis(since))
	return ids, err
}

// Counts are the numbers of things that wait for a person on the desks.
type Counts struct {
	Follow  int // drafts, questions to answer, requests to confirm
	Decide  int
	Deliver int // tasks nobody has taken, and those they hold
}

// CountsFor counts what waits for a person.
func (r ofRequests) CountsFor(ctx context.Context, person string) (Counts, error) {
	var c Counts
	err := r.get(ctx, &c, `SELECT
		(SELECT count(*) FROM requests WHERE asker = ?1 AND `+withAsker+`)
		+ (SELECT count(*) FROM requests WHERE beneficiary = ?1 AND asker <> ?1 AND `+withSide+`) + (SELECT count(*) FROM task_people WHERE person = ?1 AND open = 1) AS follow,
		(SELECT count(*) FROM seats WHERE person = ?1 AND state = 'open') AS decide,
		(SELECT count(*) FROM team_members m JOIN tasks t ON t.team = m.team
		  WHERE m.person = ?1 AND t.open = 1 AND (t.state IN `+list([]plan.State{plan.Ready, plan.Stuck})+` OR t.holder IN ('', ?1))) AS deliver`, person)
	return c, err
}
