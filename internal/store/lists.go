package store

import (
	"context"
	"fmt"
	"strings"
	"time"

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
}

// Entry is one line of a list: a request, and which rung or task of it.
type Entry struct {
	State request.State
	Key   string
	Next  string // cursor of the entry
}

func (r reads) list(ctx context.Context, query string, args ...any) ([]Entry, error) {
	var rows []listRow
	if err := r.all(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	entries := make([]Entry, len(rows))
	for i, r := range rows {
		state, err := decodeState(r.State)
		if err != nil {
			return nil, err
		}
		entries[i] = Entry{state, r.Key, Cursor(r.Since, state.ID+"/"+r.Key)}
	}
	return entries, nil
}

// RequestsOf lists the requests a person has asked, without discarded drafts,
// those for them that they may see, and those they follow, the last changed first.
func (r reads) RequestsOf(ctx context.Context, asker string, p Page) ([]Entry, error) {
	ms, id := p.after()
	return r.list(ctx, `SELECT state, '' AS key, changed_at AS since FROM requests
		WHERE (asker = ?1 OR beneficiary = ?1 OR id IN (SELECT request FROM followers WHERE person = ?1)) AND NOT (status = 'closed' AND reference IS NULL)
		AND (?2 = 0 OR changed_at < ?2 OR (changed_at = ?2 AND id || '/' < ?3))
		ORDER BY changed_at DESC, id DESC LIMIT ?4`, asker, ms, id, p.Limit)
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
func (r reads) DecisionsOf(ctx context.Context, person string, d Decisions) ([]Entry, error) {
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
// or is absent at an instant; at most 1,000.
func (r reads) Absentees(ctx context.Context, now time.Time) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, `SELECT DISTINCT s.request FROM seats s JOIN people p ON p.id = s.person
		WHERE s.state = 'open' AND (p.away OR EXISTS (SELECT 1 FROM absences a WHERE a.person = s.person AND a.begins_at <= ?1 AND a.ends_at > ?1)) LIMIT 1000`, millis(now))
	return ids, err
}

// Counts are the numbers of things that wait for a person on the desks.
type Counts struct {
	Follow  int // drafts, questions to answer, requests to confirm
	Decide  int
	Deliver int // tasks nobody has taken, and those they hold
}

// CountsFor counts what waits for a person.
func (r reads) CountsFor(ctx context.Context, person string) (Counts, error) {
	var c Counts
	err := r.get(ctx, &c, `SELECT
		(SELECT count(*) FROM requests WHERE asker = ?1 AND status IN ('draft', 'returned', 'waiting', 'delivered')) + (SELECT count(*) FROM task_people WHERE person = ?1 AND open = 1) AS follow,
		(SELECT count(*) FROM seats WHERE person = ?1 AND state = 'open') AS decide,
		(SELECT count(*) FROM team_members m JOIN tasks t ON t.team = m.team
		  WHERE m.person = ?1 AND t.open = 1 AND (t.state IN ('ready', 'stuck') OR t.holder IN ('', ?1))) AS deliver`, person)
	return c, err
}
