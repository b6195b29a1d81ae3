package store

import (
	"context"
	"strings"
	"time"
)

// Tasks says which tasks of a person's teams are listed, and how.
type Tasks struct {
	Page
	Teams    []string // keys; those the person may see
	Who      string   // "mine", "free" for those nobody has, "others"; else all
	Person   string   // who mine is
	State    string   // ready, taken, asking, stuck or undoing; empty for all
	Service  string   // key; empty for all
	Offering string   // key; empty for all
	Late     bool     // only those that must have begun by Now
	Now      time.Time
	Words    string // parts of the title, the reference or the asker's name; each must be there
	Sort     string // "ready" for the longest ready first, "due" for the first due; else by place
}

// Place is where a task stands in a list, as of the last forecast.
type Place struct {
	Latest time.Time // when it must begin, or end once it has begun
	Due    time.Time // zero when nothing presses it
	Stuck  bool      // it stands before all that are not
}

// beforeAll moves a place before all instants there are, in milliseconds.
const beforeAll = 1e15

// order is the place as a list is ordered by it.
func (p Place) order() int64 {
	if p.Stuck {
		return millis(p.Latest) - beforeAll
	}
	return millis(p.Latest)
}

// TaskEntry is one line of a list of tasks.
type TaskEntry struct {
	Entry
	Place
	Late bool // its request is late, or will likely be
}

// placeRow is a place as its columns hold it.
type placeRow struct {
	LatestStart int64 `db:"latest_start"`
	DueAt       int64 `db:"due_at"`
	Stuck       bool
}

func (r placeRow) place() Place {
	p := Place{Latest: instant(r.LatestStart), Stuck: r.Stuck}
	if r.DueAt > 0 {
		p.Due = instant(r.DueAt)
	}
	return p
}

// PlaceOf is where a task stands in a list, when that was worked out after event
// seq of its request; else ErrNotFound.
func (r ofTasks) PlaceOf(ctx context.Context, request, task string, seq int) (Place, error) {
	var row placeRow
	err := r.get(ctx, &row, "SELECT t.latest_start, t.due_at, t.state = "+stuck+" AS stuck FROM tasks t JOIN forecasts f ON f.request = t.request AND f.seq = ? WHERE t.request = ? AND t.key = ?", seq, request, task)
	return row.place(), err
}

// where are the conditions of a list of tasks beside the team.
func (q Tasks) where() (string, []any) {
	where, args := "t.open = 1", []any{}
	add := func(condition string, values ...any) {
		where += " AND " + condition
		args = append(args, values...)
	}
	switch q.Who {
	case "mine":
		add("t.holder = ?", q.Person)
	case "free":
		add("t.holder = ''")
	case "others":
		add("t.holder NOT IN ('', ?)", q.Person)
	}
	if q.State != "" {
		add("t.state = ?", q.State)
	}
	if q.Late {
		add("t.due_at > 0 AND t.latest_start <= ?", millis(q.Now))
	}
	if q.Service != "" {
		add("r.service = ?", q.Service)
	}
	if q.Offering != "" {
		add("r.offering = ?", q.Offering)
	}
	for _, word := range strings.Fields(q.Words) {
		add(`(r.title || ' ' || r.reference || ' ' || p.name) LIKE ? ESCAPE '\'`, "%"+likeEscape.Replace(word)+"%")
	}
	return where, args
}

// TasksOf lists the open tasks of teams that people work on. Each team is read
// in order by its index, and no further than the page.
func (r ofTasks) TasksOf(ctx context.Context, q Tasks) ([]TaskEntry, error) {
	by := map[string]string{"ready": "t.since", "due": "CASE t.due_at WHEN 0 THEN 9e15 ELSE t.due_at END"}[q.Sort]
	if by == "" {
		by = "t.place"
	}
	where, filters := q.where()
	if q.Cursor != "" {
		at, id := q.after()
		where += " AND (" + by + " > ? OR (" + by + " = ? AND t.request || '/' || t.key > ?))"
		filters = append(filters, at, at, id)
	}
	joins := ""
	if q.Service != "" || q.Offering != "" || q.Words != "" {
		joins = " JOIN requests r ON r.id = t.request JOIN people p ON p.id = r.asker"
	}
	var parts []string
	var args []any
	for _, team := range q.Teams {
		parts = append(parts, "SELECT * FROM (SELECT t.request, t.key, t.latest_start, t.due_at, t.state = "+stuck+" AS stuck, "+by+" AS place FROM tasks t"+joins+" WHERE t.team = ? AND "+where+" ORDER BY "+by+", t.request, t.key LIMIT ?)")
		args = append(append(append(args, team), filters...), q.Limit)
	}
	if len(parts) == 0 {
		return nil, nil
	}
	var rows []struct {
		placeRow
		Brief []byte // packed
		Key   string
		Place float64
		Late  bool
	}
	if err := r.all(ctx, &rows, "SELECT "+briefly+", l.key, l.latest_start, l.due_at, l.stuck, l.place, coalesce(f.due_at > 0 AND (f.likely_at > f.due_at OR f.late_at < ?), FALSE) AS late FROM ("+strings.Join(parts, " UNION ALL ")+") l JOIN requests r ON r.id = l.request LEFT JOIN forecasts f ON f.request = l.request ORDER BY l.place, l.request, l.key LIMIT ?", append(append([]any{millis(q.Now)}, args...), q.Limit)...); err != nil {
		return nil, err
	}
	entries := make([]TaskEntry, 0, len(rows))
	for _, row := range rows {
		state, err := briefs.of(row.Brief)
		if err != nil {
			continue // it is set aside, for all to see on Manage
		}
		entries = append(entries, TaskEntry{Entry{State: state, Key: row.Key, Next: cursor(int64(row.Place), state.ID+"/"+row.Key)}, row.place(), row.Late})
	}
	return entries, nil
}

// ToConfirm lists the tasks that a person is to confirm a part of; at most 200.
func (r ofTasks) ToConfirm(ctx context.Context, person string) ([]Entry, error) {
	return r.list(ctx, "SELECT "+briefly+", a.task AS key, 0 AS since FROM task_people a JOIN requests r ON r.id = a.request WHERE a.person = ? AND a.open = 1 ORDER BY r.sent_at LIMIT 200", person)
}

// Leavers lists the open tasks of those who have left the company; at most
// 1,000.
func (r ofTasks) Leavers(ctx context.Context) ([]Waiting, error) {
	var tasks []Waiting
	err := r.all(ctx, &tasks, "SELECT t.request, t.key AS task FROM people p JOIN tasks t ON t.holder = p.id AND t.open = 1 WHERE p.away AND t.request || '/' || t.key NOT IN (SELECT id FROM set_aside WHERE lane = 'leavers') LIMIT 1000")
	return tasks, err
}

// Load is how much the people of a team have in hand.
type Load struct {
	Person string // ID; empty for what nobody has
	Open   int
	Stuck  int
	Late   int // must have begun
}

// LoadOf counts the open tasks of a team by who has them.
func (r ofTasks) LoadOf(ctx context.Context, team string, now time.Time) ([]Load, error) {
	var rows []Load
	err := r.all(ctx, &rows, "SELECT holder AS person, count(*) AS open, sum(state = "+stuck+") AS stuck, sum(due_at > 0 AND latest_start <= ?) AS late FROM tasks WHERE team = ? AND open = 1 GROUP BY holder", millis(now), team)
	return rows, err
}
