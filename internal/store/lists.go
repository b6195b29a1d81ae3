package store

import (
	"context"
	"fmt"
	"slices"
	"strconv"
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

// cursor names a place in a list.
func cursor(ms int64, id string) string { return fmt.Sprintf("%d.%s", ms, id) }

type listRow struct {
	Brief   []byte // packed
	Outlook []byte // empty while it is not worked out
	Key     string // of a rung or a task, where there is one
	Since   int64

	Number int64 // of the reference, where a list goes by it
}

// briefly are the columns of requests r that lists read, foreseen with those of their
// forecasts f.
const (
	briefly  = "r.brief"
	foreseen = briefly + ", coalesce(CASE f.seq WHEN r.seq THEN f.outlook END, '') AS outlook"
)

// Entry is one line of a list: a request, and which rung or task of it.
type Entry struct {
	State   request.State    // its brief: request.State.Brief
	Outlook *request.Outlook // nil where it is not listed, or not worked out since the last change
	Key     string
	Next    string // cursor of the entry
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
		state, err := briefs.of(r.Brief)
		if err != nil {
			continue
		}
		e := Entry{State: state, Key: r.Key, Next: cursor(r.Since, state.ID+"/"+r.Key)}
		if len(r.Outlook) > 0 {
			if o, err := outlooks.of(r.Outlook); err == nil {
				e.Outlook = o
			}
		}
		entries = append(entries, e)
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

// mine are the requests under way that a person has asked, without those on a slip, those
// for them that they may see, and those they follow, with their groups.
var mine = `WITH own AS (
		SELECT id, asker, beneficiary, status, changed_at, sent_at, slip FROM requests INDEXED BY requests_asker_open WHERE asker = ?1 AND status <> ` + closed + `
		UNION ALL SELECT id, asker, beneficiary, status, changed_at, sent_at, slip FROM requests INDEXED BY requests_beneficiary_open WHERE beneficiary = ?1 AND beneficiary IS NOT NULL AND status <> ` + closed + ` AND asker <> ?1
		UNION ALL SELECT r.id, r.asker, r.beneficiary, r.status, r.changed_at, r.sent_at, r.slip FROM followers w JOIN requests r ON r.id = w.request WHERE w.person = ?1 AND r.status <> ` + closed + ` AND r.asker <> ?1 AND r.beneficiary IS NOT ?1),
	mine AS (SELECT own.*, CASE
		WHEN asker = ?1 AND ` + withAsker + ` OR beneficiary = ?1 AND ` + withSide + ` THEN 0
		WHEN status = ` + text(request.Deciding) + ` THEN 1
		WHEN status = ` + text(request.Delivering) + ` THEN 2
		WHEN ` + withAsker + ` THEN 3 ELSE 4 END AS rank
	FROM own WHERE NOT (status = ` + draft + ` AND slip <> ''))`

// Mine says which of a person's requests are listed, and how.
type Mine struct {
	Page
	Words string // parts of the title, the reference or a name; each must be there
	Group Group  // empty for all
	Sort  string // within a group that is under way: "likely" for what will be done first, "due" for what is due first, "sent" for the longest under way; else the last changed first
}

// In cursors of own requests a group begins where its rank says: within it lie instants, in
// milliseconds.
const (
	never    = 99_999_999_999_999
	perGroup = never + 1
)

// RequestsOf lists a person's requests, group by group. The key of an entry is
// its group. What is closed is read no further than the page.
func (r ofRequests) RequestsOf(ctx context.Context, person string, m Mine) ([]Entry, error) {
	last := int64(slices.Index(Groups, ForNothing))
	var rows []listRow
	if since, _ := m.after(); m.Group != ForNothing && since < last*perGroup {
		var err error
		if rows, err = r.ownOpen(ctx, person, m); err != nil {
			return nil, err
		}
	}
	if m.Limit -= len(rows); m.Limit > 0 && (m.Group == "" || m.Group == ForNothing) {
		over, err := r.ownClosed(ctx, person, m, last*perGroup)
		if err != nil {
			return nil, err
		}
		rows = append(rows, over...)
	}
	entries := entriesOf(rows)
	for i := range entries {
		rank, _ := strconv.Atoi(entries[i].Key)
		entries[i].Key = string(Groups[rank])
	}
	return entries, nil
}

// values are those of a query, each with a number of its own.
type values []any

func (v *values) add(value any) string {
	*v = append(*v, value)
	return fmt.Sprintf("?%d", len(*v))
}

// ownOpen lists what is under way.
func (r ofRequests) ownOpen(ctx context.Context, person string, m Mine) (rows []listRow, err error) {
	const forecast, named = " LEFT JOIN forecasts f ON f.request = m.id", " JOIN requests n ON n.id = m.id JOIN people p ON p.id = m.asker LEFT JOIN people b ON b.id = m.beneficiary"
	by, of := fmt.Sprintf("%d - m.changed_at", never), ""
	switch m.Sort {
	case "likely":
		by, of = fmt.Sprintf("coalesce(nullif(f.likely_at, 0), %d)", never), forecast
	case "due":
		by, of = fmt.Sprintf("coalesce(nullif(f.due_at, 0), %d)", never), forecast
	case "sent":
		by = "m.sent_at"
	}
	words := strings.Fields(m.Words)
	if len(words) > 0 {
		of += named
	}
	since, id := m.after()
	args := values{person, since, id, m.Limit}
	query := mine + fmt.Sprintf(`, page AS (SELECT id, key, since FROM (SELECT m.id, m.rank AS key, m.rank * %d + %s AS since FROM mine m%s WHERE TRUE`, perGroup, by, of)
	if m.Group != "" {
		query += " AND m.rank = " + args.add(slices.Index(Groups, m.Group))
	}
	for _, word := range words {
		query += ` AND (n.title || ' ' || coalesce(n.reference, '') || ' ' || p.name || ' ' || coalesce(b.name, '')) LIKE ` + args.add("%"+likeEscape.Replace(word)+"%") + ` ESCAPE '\'`
	}
	query += `) WHERE since > ?2 OR (since = ?2 AND id || '/' || key > ?3) ORDER BY since, id LIMIT ?4)
		SELECT ` + foreseen + `, page.key, page.since FROM page JOIN requests r ON r.id = page.id LEFT JOIN forecasts f ON f.request = r.id ORDER BY page.since, page.id`
	return rows, r.all(ctx, &rows, query, args...)
}

// ownClosed lists what is closed, the last changed first; its group begins at an instant of
// the cursor.
func (r ofRequests) ownClosed(ctx context.Context, person string, m Mine, begins int64) (rows []listRow, err error) {
	before, id := int64(never), ""
	if since, key := m.after(); since >= begins {
		before = begins + never - since
		id, _, _ = strings.Cut(key, "/")
	}
	args := values{person, before, id, m.Limit}
	part := " AND r.status = " + closed + " AND r.reference IS NOT NULL AND (r.changed_at, r.id) < (?2, ?3)"
	for _, word := range strings.Fields(m.Words) {
		part += ` AND (r.title || ' ' || r.reference || ' ' || (SELECT name FROM people WHERE id = r.asker) || ' ' || coalesce((SELECT name FROM people WHERE id = r.beneficiary), '')) LIKE ` + args.add("%"+likeEscape.Replace(word)+"%") + ` ESCAPE '\'`
	}
	part += " ORDER BY r.changed_at DESC, r.id DESC LIMIT ?4)"
	query := fmt.Sprintf(`SELECT %[1]s, '%[2]d' AS key, %[3]d - r.changed_at AS since FROM (SELECT id FROM (
		SELECT * FROM (SELECT r.id, r.changed_at FROM requests r INDEXED BY requests_asker_closed WHERE r.asker = ?1%[4]s
		UNION SELECT * FROM (SELECT r.id, r.changed_at FROM requests r INDEXED BY requests_beneficiary_closed WHERE r.beneficiary = ?1 AND r.beneficiary IS NOT NULL%[4]s
		UNION SELECT * FROM (SELECT r.id, r.changed_at FROM followers w CROSS JOIN requests r ON r.id = w.request WHERE w.person = ?1%[4]s)
		ORDER BY changed_at DESC, id DESC LIMIT ?4) page CROSS JOIN requests r ON r.id = page.id ORDER BY r.changed_at DESC, r.id DESC`, briefly, begins/perGroup, begins+never, part)
	return rows, r.all(ctx, &rows, query, args...)
}

// GroupsOf counts a person's requests by what they wait for.
func (r ofRequests) GroupsOf(ctx context.Context, person string) (map[Group]int, error) {
	var of struct { // one row, as each would cost more than it says
		Ranks  string // a digit for each that is under way
		Closed int
	}
	if err := r.get(ctx, &of, mine+" SELECT coalesce(group_concat(rank, ''), '') AS ranks, coalesce((SELECT count FROM closed_counts WHERE person = ?1), 0) AS closed FROM mine", person); err != nil {
		return nil, err
	}
	counts := map[Group]int{}
	for _, rank := range of.Ranks {
		counts[Groups[rank-'0']]++
	}
	if of.Closed > 0 {
		counts[ForNothing] = of.Closed
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
	states, by, order, beyond, index := "s.state = 'open'", "s.since", "ASC", ">", ""
	switch {
	case d.Decided:
		states, order, beyond, index = "s.state IN ('approve', 'decline')", "DESC", "<", "INDEXED BY seats_decided"
	case d.Sort == "due":
		by = "s.due_at"
	case d.Sort == "cost":
		by, order, beyond = "r.cost", "DESC", "<"
	}
	query := "SELECT " + briefly + ", s.rung AS key, " + by + " AS since FROM seats s " + index + " CROSS JOIN requests r ON r.id = s.request JOIN people p ON p.id = r.asker WHERE s.person = ? AND " + states
	args := []any{person}
	if d.Cursor != "" {
		request, rung, _ := strings.Cut(id, "/")
		query += " AND (" + by + ", s.request, s.rung) " + beyond + " (?, ?, ?)"
		args = append(args, at, request, rung)
	}
	if d.Offering != "" {
		query += " AND r.offering = ?"
		args = append(args, d.Offering)
	}
	for _, word := range strings.Fields(d.Words) {
		query += ` AND (r.title || ' ' || r.reference || ' ' || p.name) LIKE ? ESCAPE '\'`
		args = append(args, "%"+likeEscape.Replace(word)+"%")
	}
	query += " ORDER BY " + by + " " + order + ", s.request " + order + ", s.rung " + order + " LIMIT ?"
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
		(SELECT count(*) FROM requests INDEXED BY requests_asker_open WHERE asker = ?1 AND status <> `+closed+` AND `+withAsker+`)
		+ (SELECT count(*) FROM requests INDEXED BY requests_beneficiary_open WHERE beneficiary = ?1 AND beneficiary IS NOT NULL AND status <> `+closed+` AND asker <> ?1 AND `+withSide+`) + (SELECT count(*) FROM task_people WHERE person = ?1 AND open = 1) AS follow,
		(SELECT count(*) FROM seats WHERE person = ?1 AND state = 'open') AS decide,
		(SELECT count(*) FROM team_members m CROSS JOIN tasks t INDEXED BY tasks_waiting ON t.team = m.team WHERE m.person = ?1 AND t.open = 1 AND (t.state IN `+unbegun+` OR t.holder = ''))
		+ (SELECT count(*) FROM tasks t INDEXED BY tasks_holder WHERE t.holder = ?1 AND t.open = 1 AND t.state NOT IN `+unbegun+` AND t.team IN (SELECT team FROM team_members WHERE person = ?1)) AS deliver`, person)
	return c, err
}
