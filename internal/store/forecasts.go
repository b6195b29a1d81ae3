package store

import (
	"context"
	"time"
)

// Forecast is what was worked out of a request after a change.
type Forecast struct {
	Request string
	Seq     int
	Likely  time.Time            // zero for unknown
	Due     time.Time            // of the promise; zero for none
	Latest  map[string]time.Time // by when lists order each task: when it must begin at the latest, or end once it has begun
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
