package store

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"heptad/internal/core/request"
)

// Forecast is what was worked out of a request after a change.
type Forecast struct {
	Request string
	Seq     int
	Likely  time.Time        // zero for unknown
	Due     time.Time        // of the promise; zero for none
	Late    time.Time        // the first open instant after it is due; zero for none
	Next    time.Time        // when it is worked out anew; zero for when something happens
	Places  map[string]Place // of each open task
	Outlook request.Outlook  // as lists say it
	Slips   bool             // its asker's side is to know; not kept
}

func millisOr0(t time.Time) int64 {
	if t.IsZero() {
		return 0
	}
	return millis(t)
}

// SaveForecasts keeps forecasts, unless their request has changed meanwhile or has ended.
func (t *Tx) SaveForecasts(all []Forecast) error {
	for _, f := range all {
		t.wrote[f.Request] = true
		outlook, err := json.Marshal(f.Outlook)
		if err != nil {
			return err
		}
		if err := t.exec(`INSERT INTO forecasts (request, seq, likely_at, due_at, late_at, next_at, outlook) SELECT id, ?2, ?3, ?4, ?5, ?6, ?7 FROM requests WHERE id = ?1 AND seq = ?2 AND `+isOpen+`
			ON CONFLICT DO UPDATE SET seq = excluded.seq, likely_at = excluded.likely_at, due_at = excluded.due_at, late_at = excluded.late_at, next_at = excluded.next_at, outlook = excluded.outlook`,
			f.Request, f.Seq, millisOr0(f.Likely), millisOr0(f.Due), millisOr0(f.Late), millisOr0(f.Next), string(outlook)); err != nil {
			return err
		}
		for key, p := range f.Places {
			if err := t.exec("UPDATE tasks SET latest_start = ?1, due_at = ?2, place = ?5 WHERE request = ?3 AND key = ?4 AND (latest_start <> ?1 OR due_at <> ?2 OR place <> ?5)", millis(p.Latest), millisOr0(p.Due), f.Request, key, p.order()); err != nil {
				return err
			}
		}
	}
	return nil
}

// Unforecast lists requests under way whose forecast is older than their last
// change; at most so many.
func (r ofRequests) Unforecast(ctx context.Context, limit int) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, `SELECT r.id FROM requests r LEFT JOIN forecasts f ON f.request = r.id
		WHERE r.`+isOpen+` AND (f.seq IS NULL OR f.seq < r.seq) LIMIT ?`, limit)
	return ids, err
}

// Stale lists requests whose forecast is to be worked out anew by an instant; at
// most so many.
func (r ofRequests) Stale(ctx context.Context, now time.Time, limit int) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, "SELECT request FROM forecasts WHERE next_at > 0 AND next_at <= ? ORDER BY next_at LIMIT ?", millis(now), limit)
	return ids, err
}

// NextStale is when the next forecast is to be worked out anew; zero for never.
func (r ofRequests) NextStale(ctx context.Context) (time.Time, error) {
	var at int64
	err := r.get(ctx, &at, "SELECT coalesce(min(next_at), 0) FROM forecasts WHERE next_at > 0")
	if err != nil || at == 0 {
		return time.Time{}, err
	}
	return instant(at), nil
}

// UnderWay lists all requests under way.
func (r ofRequests) UnderWay(ctx context.Context) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, "SELECT id FROM requests WHERE "+isOpen)
	return ids, err
}

// measured is how many of the last finished tasks of a kind are computed with.
const measured = 200

// What is measured.
const (
	MeasuredTask   = "task"
	MeasuredRescue = "rescue" // from being stuck until it was done
	MeasuredRung   = "rung"
)

// Took reads the open times that the last tasks, rescues or decisions of a key
// took, sorted.
func (r ofRequests) Took(ctx context.Context, offering, part, key string) ([]time.Duration, error) {
	var rows []int64
	err := r.all(ctx, &rows, "SELECT took FROM measures WHERE offering = ? AND part = ? AND key = ? ORDER BY id DESC LIMIT ?", offering, part, key, measured)
	slices.Sort(rows)
	took := make([]time.Duration, len(rows))
	for i, ms := range rows {
		took[i] = time.Duration(ms) * time.Millisecond
	}
	return took, err
}

// AddMeasure keeps how long a task, a rescue or a decision took in open time.
func (t *Tx) AddMeasure(offering, part, key string, took time.Duration) error {
	return t.exec("INSERT INTO measures (offering, part, key, took) VALUES (?,?,?,?)", offering, part, key, took.Milliseconds())
}
