package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/request"
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
	Sort     string // "ready" for the longest ready first, "due" for the first due; else by latest start
}

// TaskEntry is one line of a list of tasks.
type TaskEntry struct {
	Entry
	LatestStart time.Time
	Due         time.Time // zero for none
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
		add("t.latest_start <= ?", millis(q.Now))
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
func (r reads) TasksOf(ctx context.Context, q Tasks) ([]TaskEntry, error) {
	by := map[string]string{"ready": "t.since", "due": "CASE t.due_at WHEN 0 THEN 9e15 ELSE t.due_at END"}[q.Sort]
	if by == "" {
		by = "t.latest_start"
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
		parts = append(parts, "SELECT * FROM (SELECT t.request, t.key, t.latest_start, t.due_at, "+by+" AS place FROM tasks t"+joins+" WHERE t.team = ? AND "+where+" ORDER BY "+by+", t.request, t.key LIMIT ?)")
		args = append(append(append(args, team), filters...), q.Limit)
	}
	if len(parts) == 0 {
		return nil, nil
	}
	var rows []struct {
		State, Key  string
		LatestStart int64 `db:"latest_start"`
		DueAt       int64 `db:"due_at"`
		Place       float64
	}
	if err := r.all(ctx, &rows, "SELECT q.state, l.key, l.latest_start, l.due_at, l.place FROM ("+strings.Join(parts, " UNION ALL ")+") l JOIN requests q ON q.id = l.request ORDER BY l.place, l.request, l.key LIMIT ?", append(args, q.Limit)...); err != nil {
		return nil, err
	}
	entries := make([]TaskEntry, len(rows))
	for i, row := range rows {
		state, err := decodeState(row.State)
		if err != nil {
			return nil, err
		}
		entries[i] = TaskEntry{Entry: Entry{state, row.Key, Cursor(int64(row.Place), state.ID+"/"+row.Key)}, LatestStart: instant(row.LatestStart)}
		if row.DueAt > 0 {
			entries[i].Due = instant(row.DueAt)
		}
	}
	return entries, nil
}

// AskedOf lists the tasks that a person is to confirm a part of; at most 200.
func (r reads) AskedOf(ctx context.Context, person string) ([]Entry, error) {
	return r.list(ctx, "SELECT r.state, a.task AS key, 0 AS since FROM task_people a JOIN requests r ON r.id = a.request WHERE a.person = ? AND a.open = 1 ORDER BY r.sent_at LIMIT 200", person)
}

// Leavers lists the open tasks of those who have left the company; at most
// 1,000.
func (r reads) Leavers(ctx context.Context) ([]Waiting, error) {
	var tasks []Waiting
	err := r.all(ctx, &tasks, "SELECT t.request, t.key AS task FROM people p JOIN tasks t ON t.holder = p.id AND t.open = 1 WHERE p.away LIMIT 1000")
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
func (r reads) LoadOf(ctx context.Context, team string, now time.Time) ([]Load, error) {
	var rows []Load
	err := r.all(ctx, &rows, "SELECT holder AS person, count(*) AS open, sum(state = 'stuck') AS stuck, sum(latest_start <= ?) AS late FROM tasks WHERE team = ? AND open = 1 GROUP BY holder", millis(now), team)
	return rows, err
}

// Forecast is what was worked out of a request after a change.
type Forecast struct {
	Request string
	Seq     int
	Likely  time.Time            // zero for unknown
	Due     time.Time            // of the promise; zero for none
	Latest  map[string]time.Time // when each task must begin at the latest
	Dues    map[string]time.Time // when each task is due
}

func millisOr0(t time.Time) int64 {
	if t.IsZero() {
		return 0
	}
	return millis(t)
}

// SaveForecasts keeps forecasts, unless their request has changed meanwhile.
func (t *Tx) SaveForecasts(all []Forecast) error {
	for _, f := range all {
		if err := t.exec(`INSERT INTO forecasts (request, seq, likely_at, due_at) SELECT id, ?2, ?3, ?4 FROM requests WHERE id = ?1 AND seq = ?2
			ON CONFLICT DO UPDATE SET seq = excluded.seq, likely_at = excluded.likely_at, due_at = excluded.due_at`, f.Request, f.Seq, millisOr0(f.Likely), millisOr0(f.Due)); err != nil {
			return err
		}
		for key, at := range f.Latest {
			if err := t.exec("UPDATE tasks SET latest_start = ?1, due_at = ?2 WHERE request = ?3 AND key = ?4 AND (latest_start <> ?1 OR due_at <> ?2)", millis(at), millisOr0(f.Dues[key]), f.Request, key); err != nil {
				return err
			}
		}
	}
	return nil
}

// Unforecast lists requests under way whose forecast is older than their last
// change; at most so many.
func (r reads) Unforecast(ctx context.Context, limit int) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, `SELECT r.id FROM requests r LEFT JOIN forecasts f ON f.request = r.id
		WHERE r.status IN ('deciding', 'returned', 'delivering', 'waiting', 'undoing') AND (f.seq IS NULL OR f.seq < r.seq) LIMIT ?`, limit)
	return ids, err
}

// UnderWay lists all requests that are neither drafts nor closed.
func (r reads) UnderWay(ctx context.Context) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, "SELECT id FROM requests WHERE status IN ('deciding', 'returned', 'delivering', 'waiting', 'undoing', 'delivered')")
	return ids, err
}

// measured is how many of the last finished tasks of a kind are reckoned with.
const measured = 200

// Measures reads the open times that the last tasks and decisions of an
// offering took, sorted, by part and key.
func (r reads) Measures(ctx context.Context, offering string) (tasks, rungs map[string][]time.Duration, err error) {
	var rows []struct {
		Part, Key string
		Took      int64
	}
	if err := r.all(ctx, &rows, `SELECT part, key, took FROM (SELECT part, key, took, row_number() OVER (PARTITION BY part, key ORDER BY id DESC) AS n FROM measures WHERE offering = ?) WHERE n <= ? ORDER BY took`, offering, measured); err != nil {
		return nil, nil, err
	}
	tasks, rungs = map[string][]time.Duration{}, map[string][]time.Duration{}
	for _, row := range rows {
		into := tasks
		if row.Part == "rung" {
			into = rungs
		}
		into[row.Key] = append(into[row.Key], time.Duration(row.Took)*time.Millisecond)
	}
	return tasks, rungs, nil
}

// AddMeasure keeps how long a task or a decision took in open time.
func (t *Tx) AddMeasure(offering, part, key string, took time.Duration) error {
	return t.exec("INSERT INTO measures (offering, part, key, took) VALUES (?,?,?,?)", offering, part, key, took.Milliseconds())
}

// Find lists requests by reference, the names of who asks or whom it is for, or
// words of the title, the last changed first; only those a person may see all
// of, or has a task in.
func (r reads) Find(ctx context.Context, person, words string, services, teams []string, limit int) ([]Entry, error) {
	in := func(list []string) string {
		data, _ := json.Marshal(slices.Concat([]string{}, list)) // strings always marshal
		return string(data)
	}
	query := `SELECT r.state, '' AS key, r.changed_at AS since FROM requests r JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = json_extract(r.state, '$.for.person')
		WHERE r.reference IS NOT NULL AND (r.asker = ?1 OR r.beneficiary = ?1 OR r.service IN (SELECT value FROM json_each(?2))
		OR EXISTS (SELECT 1 FROM tasks t WHERE t.request = r.id AND t.team IN (SELECT value FROM json_each(?3))) OR EXISTS (SELECT 1 FROM followers f WHERE f.request = r.id AND f.person = ?1))`
	args := []any{person, in(services), in(teams)}
	for _, word := range strings.Fields(words) {
		query += ` AND (r.title || ' ' || r.reference || ' ' || p.name || ' ' || coalesce(b.name, '') || ' ' || coalesce(json_extract(r.state, '$.for.newcomer.name'), '')) LIKE ? ESCAPE '\'`
		args = append(args, "%"+likeEscape.Replace(word)+"%")
	}
	return r.list(ctx, query+" ORDER BY r.changed_at DESC LIMIT ?", append(args, limit)...)
}

// ByReference finds a request by its reference.
func (r reads) ByReference(ctx context.Context, reference string) (request.State, error) {
	var text string
	if err := r.get(ctx, &text, "SELECT state FROM requests WHERE reference = ?", reference); err != nil {
		return request.State{}, err
	}
	return decodeState(text)
}

// View is a way to look at the tasks of teams.
type View struct {
	ID, Person, Team, Name, Query string
}

// ViewsOf lists the views of a person and of their teams, by name.
func (r reads) ViewsOf(ctx context.Context, person string) ([]View, error) {
	views := []View{}
	err := r.all(ctx, &views, "SELECT id, person, team, name, query FROM views WHERE (person = ?1 AND team = '') OR team IN (SELECT team FROM team_members WHERE person = ?1) ORDER BY name, id", person)
	return views, err
}

// View finds one by its ID.
func (r reads) View(ctx context.Context, id string) (View, error) {
	var v View
	err := r.get(ctx, &v, "SELECT id, person, team, name, query FROM views WHERE id = ?", id)
	return v, err
}

// SaveView keeps a view, new or changed.
func (t *Tx) SaveView(v View) error {
	return t.exec("INSERT INTO views (id, person, team, name, query) VALUES (?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET team = excluded.team, name = excluded.name, query = excluded.query", v.ID, v.Person, v.Team, v.Name, v.Query)
}

// DropView takes a view away.
func (t *Tx) DropView(id string) error { return t.exec("DELETE FROM views WHERE id = ?", id) }

// Reply is a prepared text with placeholders.
type Reply struct {
	ID, Person, Team, Offering, Name, Text string
}

// RepliesOf lists the replies of a person and of their teams that fit an
// offering, by name; all of them when no offering is named.
func (r reads) RepliesOf(ctx context.Context, person, offering string) ([]Reply, error) {
	replies := []Reply{}
	err := r.all(ctx, &replies, `SELECT id, person, team, offering, name, text FROM replies WHERE ((person = ?1 AND team = '') OR team IN (SELECT team FROM team_members WHERE person = ?1))
		AND (?2 = '' OR offering IN ('', ?2)) ORDER BY name, id`, person, offering)
	return replies, err
}

// Reply finds one by its ID.
func (r reads) Reply(ctx context.Context, id string) (Reply, error) {
	var one Reply
	err := r.get(ctx, &one, "SELECT id, person, team, offering, name, text FROM replies WHERE id = ?", id)
	return one, err
}

// SaveReply keeps a reply, new or changed.
func (t *Tx) SaveReply(r Reply) error {
	return t.exec("INSERT INTO replies (id, person, team, offering, name, text) VALUES (?,?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET team = excluded.team, offering = excluded.offering, name = excluded.name, text = excluded.text",
		r.ID, r.Person, r.Team, r.Offering, r.Name, r.Text)
}

// DropReply takes a reply away.
func (t *Tx) DropReply(id string) error { return t.exec("DELETE FROM replies WHERE id = ?", id) }

// Connector is how another system is reached.
type Connector struct {
	Key       string
	URL       string
	Secret    []byte // encrypted; nil for none
	AtOnce    int    `db:"at_once"`
	Hosts     string
	SuccessAt sql.NullInt64 `db:"success_at"`
	Trouble   string
	TroubleAt sql.NullInt64 `db:"trouble_at"`
}

// Succeeded is when a call last succeeded; zero for never.
func (c Connector) Succeeded() time.Time {
	if !c.SuccessAt.Valid {
		return time.Time{}
	}
	return instant(c.SuccessAt.Int64)
}

// Connectors lists how the other systems are reached, by key.
func (r reads) Connectors(ctx context.Context) ([]Connector, error) {
	var all []Connector
	err := r.all(ctx, &all, "SELECT key, url, secret, at_once, hosts, success_at, trouble, trouble_at FROM connectors ORDER BY key")
	return all, err
}

// SaveConnector keeps how another system is reached; a nil secret leaves the
// one that is there.
func (t *Tx) SaveConnector(c Connector, at time.Time) error {
	return t.exec(`INSERT INTO connectors (key, url, secret, at_once, hosts, changed_at) VALUES (?,?,?,?,?,?)
		ON CONFLICT (key) DO UPDATE SET url = excluded.url, secret = coalesce(excluded.secret, connectors.secret), at_once = excluded.at_once, hosts = excluded.hosts, changed_at = excluded.changed_at`,
		c.Key, c.URL, c.Secret, c.AtOnce, c.Hosts, millis(at))
}

// Called notes how the last call of a connector went; an empty trouble is a
// success.
func (t *Tx) Called(connector, trouble string, at time.Time) error {
	if trouble == "" {
		return t.exec("UPDATE connectors SET success_at = ?, trouble = '' WHERE key = ?", millis(at), connector)
	}
	return t.exec("UPDATE connectors SET trouble = ?, trouble_at = ? WHERE key = ?", trouble, millis(at), connector)
}

// SetTrouble notes why the last try of an effect failed.
func (t *Tx) SetTrouble(key, trouble string) error {
	return t.exec("UPDATE effects SET trouble = ? WHERE key = ?", trouble, key)
}

// Job is a call in the background.
type Job struct {
	Key, Request, Task, Connector, Action, State, Trouble string
	DueAt                                                 int64 `db:"due_at"`
}

// Due is when it is called, or called again.
func (j Job) Due() time.Time { return instant(j.DueAt) }

// Jobs lists the calls that run or wait, the first due first; at most so many.
func (r reads) Jobs(ctx context.Context, limit int) ([]Job, error) {
	jobs := []Job{}
	err := r.all(ctx, &jobs, "SELECT key, request, task, connector, action, state, trouble, due_at FROM effects WHERE state IN ('waiting', 'running') AND kind = 'call' ORDER BY state, due_at LIMIT ?", limit)
	return jobs, err
}

// JobCounts counts what waits and runs for each connector.
type JobCounts struct {
	Connector        string
	Waiting, Running int
}

// JobsByConnector counts the calls that wait or run.
func (r reads) JobsByConnector(ctx context.Context) ([]JobCounts, error) {
	counts := []JobCounts{}
	err := r.all(ctx, &counts, "SELECT connector, sum(state = 'waiting') AS waiting, sum(state = 'running') AS running FROM effects WHERE state IN ('waiting', 'running') AND kind = 'call' GROUP BY connector")
	return counts, err
}

// StuckCalls lists the automatic tasks that are stuck; at most so many.
func (r reads) StuckCalls(ctx context.Context, limit int) ([]Entry, error) {
	return r.list(ctx, `SELECT r.state, t.key, t.since FROM tasks t JOIN requests r ON r.id = t.request
		WHERE t.kind = 'automatic' AND (t.state = 'stuck' OR (t.state = 'undoing' AND t.open = 1)) ORDER BY t.since LIMIT ?`, limit)
}

// Report is a report from outside, taken or not.
type Report struct {
	At                                  time.Time
	Connector, Key, Step, Verdict, Body string
}

// AddReport keeps a report.
func (t *Tx) AddReport(r Report) error {
	return t.exec("INSERT INTO reports (at, connector, key, step, verdict, body) VALUES (?,?,?,?,?,?)", millis(r.At), r.Connector, r.Key, r.Step, r.Verdict, r.Body)
}

// Reports lists the last reports from outside, the last first.
func (r reads) Reports(ctx context.Context, limit int) ([]Report, error) {
	var rows []struct {
		At                                  int64
		Connector, Key, Step, Verdict, Body string
	}
	if err := r.all(ctx, &rows, "SELECT at, connector, key, step, verdict, body FROM reports ORDER BY id DESC LIMIT ?", limit); err != nil {
		return nil, err
	}
	all := make([]Report, len(rows))
	for i, row := range rows {
		all[i] = Report{instant(row.At), row.Connector, row.Key, row.Step, row.Verdict, row.Body}
	}
	return all, nil
}
