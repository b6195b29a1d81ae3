package store

import (
	"context"
	"errors"
	"time"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Aside is a record that could not be handled, and waits for somebody to have
// it tried again.
type Aside struct {
	Lane   string // what was to be done
	ID     string // of the record
	Reason string
	At     time.Time
}

// SetAside keeps that a record could not be handled.
func (s *Store) SetAside(ctx context.Context, a Aside) error {
	return s.change(ctx, "INSERT INTO set_aside (lane, id, reason, at) VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET reason = excluded.reason, at = excluded.at", a.Lane, a.ID, a.Reason, millis(a.At))
}

// TakeUp lets a record be handled again that was set aside; ErrNotFound when it
// was not.
func (t *Tx) TakeUp(lane, id string) error {
	done, err := t.tx.ExecContext(t.ctx, "DELETE FROM set_aside WHERE lane = ? AND id = ?", lane, id)
	if err != nil {
		return err
	}
	if n, err := done.RowsAffected(); err != nil || n == 0 {
		return ErrNotFound
	}
	return nil
}

// SetAsides lists what was set aside, the last first; at most so many.
func (r ofSystems) SetAsides(ctx context.Context, limit int) ([]Aside, error) {
	var rows []struct {
		Lane, ID, Reason string
		At               int64
	}
	if err := r.all(ctx, &rows, "SELECT lane, id, reason, at FROM set_aside ORDER BY at DESC, lane, id LIMIT ?", limit); err != nil {
		return nil, err
	}
	all := make([]Aside, len(rows))
	for i, row := range rows {
		all[i] = Aside{row.Lane, row.ID, row.Reason, instant(row.At)}
	}
	return all, nil
}

// OfAll reports whether an error is the database's own trouble, which no other
// record would be spared.
func OfAll(err error) bool {
	if errors.Is(err, ErrFull) || errors.Is(err, context.Canceled) || errors.Is(err, context.DeadlineExceeded) {
		return true
	}
	var failed *sqlite.Error
	return errors.As(err, &failed) && failed.Code()&0xff != sqlite3.SQLITE_CONSTRAINT
}

// Standstill is a time in which the work that goes on by itself did not.
type Standstill struct {
	From, Until time.Time
	Reason      string
	Due         int // how much fell due meanwhile
}

// AddStandstill keeps one that is over.
func (t *Tx) AddStandstill(s Standstill) error {
	return t.exec("INSERT INTO standstills (from_at, until_at, reason, due) VALUES (?,?,?,?)", millis(s.From), millis(s.Until), s.Reason, s.Due)
}

// DueCount counts what has fallen due and waits.
func (r ofSystems) DueCount(ctx context.Context, now time.Time) (int, error) {
	var n int
	err := r.get(ctx, &n, "SELECT count(*) FROM effects WHERE state = 'waiting' AND due_at <= ?", millis(now))
	return n, err
}

// Standstills lists the last, the last first.
func (r ofSystems) Standstills(ctx context.Context, limit int) ([]Standstill, error) {
	var rows []struct {
		FromAt  int64 `db:"from_at"`
		UntilAt int64 `db:"until_at"`
		Reason  string
		Due     int
	}
	if err := r.all(ctx, &rows, "SELECT from_at, until_at, reason, due FROM standstills ORDER BY id DESC LIMIT ?", limit); err != nil {
		return nil, err
	}
	all := make([]Standstill, len(rows))
	for i, row := range rows {
		all[i] = Standstill{instant(row.FromAt), instant(row.UntilAt), row.Reason, row.Due}
	}
	return all, nil
}

// Looked keeps when the runner looked last, so that it can be told how long the
// program was away.
func (t *Tx) Looked(at time.Time) error {
	return t.exec("INSERT INTO counters (name, value) VALUES ('looked', ?) ON CONFLICT DO UPDATE SET value = excluded.value", millis(at))
}

// LastLooked is when the runner looked last; ErrNotFound when it never did.
func (r ofSystems) LastLooked(ctx context.Context) (time.Time, error) {
	var ms int64
	err := r.get(ctx, &ms, "SELECT value FROM counters WHERE name = 'looked'")
	return instant(ms), err
}
