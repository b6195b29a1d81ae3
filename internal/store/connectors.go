package store

import (
	"context"
	"database/sql"
	"time"

	"heptad/internal/core/plan"
)

// Connector is how another system is reached.
type Connector struct {
	Key       string
	URL       string
	Secret    []byte // encrypted; nil for none
	AtOnce    int    `db:"at_once"`
	Hosts     string
	Sensitive string
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

// Connector reads how another system is reached; ErrNotFound when nobody has
// said.
func (r ofSystems) Connector(ctx context.Context, key string) (Connector, error) {
	var c Connector
	err := r.get(ctx, &c, "SELECT key, url, secret, at_once, hosts, sensitive, success_at, trouble, trouble_at FROM connectors WHERE key = ?", key)
	return c, err
}

// SaveConnector keeps how another system is reached; a nil secret leaves the
// one that is there.
func (t *Tx) SaveConnector(c Connector, at time.Time) error {
	return t.exec(`INSERT INTO connectors (key, url, secret, at_once, hosts, sensitive, changed_at) VALUES (?,?,?,?,?,?,?)
		ON CONFLICT (key) DO UPDATE SET url = excluded.url, secret = coalesce(excluded.secret, connectors.secret), at_once = excluded.at_once, hosts = excluded.hosts, sensitive = excluded.sensitive, changed_at = excluded.changed_at`,
		c.Key, c.URL, c.Secret, c.AtOnce, c.Hosts, c.Sensitive, millis(at))
}

// DropConnectorSecret takes the secret of a connector away.
func (t *Tx) DropConnectorSecret(key string) error {
	return t.exec("UPDATE connectors SET secret = NULL WHERE key = ?", key)
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

// callsUnderWay are the calls that run or wait, without those that are set aside.
const callsUnderWay = "state <> 'done' AND state IN ('waiting', 'running') AND kind = 'call' AND key NOT IN (SELECT id FROM set_aside WHERE lane = 'effect')"

// Jobs lists the calls that run or wait, the first due first; at most so many.
func (r ofSystems) Jobs(ctx context.Context, limit int) ([]Job, error) {
	jobs := []Job{}
	err := r.all(ctx, &jobs, "SELECT key, request, task, connector, action, state, trouble, due_at FROM effects WHERE "+callsUnderWay+" ORDER BY state, due_at LIMIT ?", limit)
	return jobs, err
}

// JobCounts counts what waits and runs for each connector.
type JobCounts struct {
	Connector        string
	Waiting, Running int
}

// JobsByConnector counts the calls that wait or run.
func (r ofSystems) JobsByConnector(ctx context.Context) ([]JobCounts, error) {
	counts := []JobCounts{}
	err := r.all(ctx, &counts, "SELECT connector, sum(state = 'waiting') AS waiting, sum(state = 'running') AS running FROM effects WHERE "+callsUnderWay+" GROUP BY connector")
	return counts, err
}

// StuckCalls lists the automatic tasks that are stuck; at most so many.
func (r ofSystems) StuckCalls(ctx context.Context, limit int) ([]Entry, error) {
	return r.list(ctx, `SELECT `+briefly+`, t.key, t.since FROM tasks t INDEXED BY tasks_stuck_calls JOIN requests r ON r.id = t.request
		WHERE t.kind = `+text(plan.Automatic)+` AND (t.state = `+stuck+` OR (t.state = `+text(undoing)+` AND t.open = 1)) ORDER BY t.since LIMIT ?`, limit)
}

// Report is a report from outside, taken or not.
type Report struct {
	At                                  time.Time
	Connector, Key, Step, Verdict, Body string
}

// reportsKept is how many reports of each verdict stay at least: whoever is
// outside cannot fill the disk, nor push out what was taken.
const reportsKept = 1000

// AddReport keeps a report, and from time to time throws old ones away.
func (t *Tx) AddReport(r Report) error {
	var id int64
	if err := t.get(t.ctx, &id, "INSERT INTO reports (at, connector, key, step, verdict, body) VALUES (?,?,?,?,?,?) RETURNING id", millis(r.At), r.Connector, r.Key, r.Step, r.Verdict, r.Body); err != nil {
		return err
	}
	if id%(reportsKept/4) != 0 {
		return nil
	}
	return t.exec("DELETE FROM reports WHERE id IN (SELECT id FROM (SELECT id, row_number() OVER (PARTITION BY verdict ORDER BY id DESC) AS n FROM reports) WHERE n > ?)", reportsKept)
}

// Forgery counts the reports to a connector whose signature was wrong.
type Forgery struct {
	Connector string
	Count     int
	Last      time.Time
}

// AddForgeries adds to the counts of forged reports.
func (t *Tx) AddForgeries(all []Forgery) error {
	for _, f := range all {
		if err := t.exec("INSERT INTO forgeries (connector, count, last_at) VALUES (?,?,?) ON CONFLICT DO UPDATE SET count = count + excluded.count, last_at = excluded.last_at", f.Connector, f.Count, millis(f.Last)); err != nil {
			return err
		}
	}
	return nil
}

// Forgeries are the counts of forged reports, by connector.
func (r ofSystems) Forgeries(ctx context.Context) ([]Forgery, error) {
	var rows []struct {
		Connector string
		Count     int
		LastAt    int64 `db:"last_at"`
	}
	if err := r.all(ctx, &rows, "SELECT connector, count, last_at FROM forgeries ORDER BY connector"); err != nil {
		return nil, err
	}
	all := make([]Forgery, len(rows))
	for i, row := range rows {
		all[i] = Forgery{row.Connector, row.Count, instant(row.LastAt)}
	}
	return all, nil
}

// Reports lists the last reports from outside, the last first.
func (r ofSystems) Reports(ctx context.Context, limit int) ([]Report, error) {
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
