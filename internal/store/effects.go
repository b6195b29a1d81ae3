package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"heptad/internal/core/request"
)

// Effect is an effect that has fallen due, with the request it belongs to.
type Effect struct {
	request.Effect
	Request string
}

// saveEffect keeps an effect; one of the same key is put off to the new time.
func (t *Tx) saveEffect(id string, e request.Effect) error {
	inputs, err := json.Marshal(e.Inputs)
	if err != nil {
		return err
	}
	outputs, err := json.Marshal(e.Outputs)
	if err != nil {
		return err
	}
	return t.exec(`INSERT INTO effects (key, request, kind, task, connector, action, inputs, outputs, undoes, state, due_at, within) VALUES (?,?,?,?,?,?,?,?,?,'waiting',?,?)
		ON CONFLICT (key) DO UPDATE SET inputs = excluded.inputs, state = 'waiting', due_at = excluded.due_at`,
		e.Key, id, e.Kind, e.Task, e.Connector, e.Do, string(inputs), string(outputs), e.Undoes, millis(e.At), e.Within.Milliseconds())
}

// LeaseDue marks effects of a connector that are due by now as running and
// gives them, the oldest first; timers have no connector. Only the process
// that holds the data folder leases. Those that cannot be read are told by key,
// with why.
func (s *Store) LeaseDue(ctx context.Context, connector string, now time.Time, limit int) (due []Effect, unreadable map[string]error, err error) {
	const isDue = "FROM effects WHERE state = 'waiting' AND connector = ? AND due_at <= ?"
	var waits bool
	if err := s.get(ctx, &waits, "SELECT EXISTS (SELECT 1 "+isDue+")", connector, millis(now)); err != nil || !waits {
		return nil, nil, err // who looks in vain holds up nobody who writes
	}
	var rows []effectRow
	if err := s.Write(ctx, func(tx *Tx) error {
		return tx.all(tx.ctx, &rows, `UPDATE effects SET state = 'running' WHERE key IN
			(SELECT key `+isDue+` ORDER BY due_at LIMIT ?)
			RETURNING key, request, kind, task, connector, action, inputs, outputs, undoes, due_at, within`, connector, millis(now), limit)
	}); err != nil {
		return nil, nil, err
	}
	unreadable = map[string]error{}
	for _, r := range rows {
		e, err := r.effect()
		if err != nil {
			unreadable[r.Key] = err
			continue
		}
		due = append(due, e)
	}
	return due, unreadable, nil
}

// WaitAgain lets an effect fall due that was set aside while it ran.
func (t *Tx) WaitAgain(key string, at time.Time) error {
	return t.exec("UPDATE effects SET state = 'waiting', due_at = ? WHERE key = ? AND state = 'running'", millis(at), key)
}

type effectRow struct {
	Key, Request, Kind, Task, Connector, Action, Inputs, Outputs, Undoes string
	DueAt                                                                int64 `db:"due_at"`
	Within                                                               int64 // milliseconds
}

func (r effectRow) effect() (Effect, error) {
	e := Effect{request.Effect{Kind: request.EffectKind(r.Kind), Key: r.Key, At: instant(r.DueAt), Task: r.Task, Connector: r.Connector, Do: r.Action, Undoes: r.Undoes, Within: time.Duration(r.Within) * time.Millisecond}, r.Request}
	return e, errors.Join(json.Unmarshal([]byte(r.Inputs), &e.Inputs), json.Unmarshal([]byte(r.Outputs), &e.Outputs))
}

// firstDues are the connectors that have effects waiting, with when the first falls due: each
// is one step in the index, however many wait.
const firstDues = `WITH RECURSIVE waiting AS (
		SELECT min(connector) AS connector FROM effects WHERE state = 'waiting'
		UNION ALL SELECT (SELECT min(e.connector) FROM effects e WHERE e.state = 'waiting' AND e.connector > waiting.connector) FROM waiting WHERE waiting.connector IS NOT NULL),
	dues AS (SELECT connector, (SELECT min(e.due_at) FROM effects e WHERE e.state = 'waiting' AND e.connector = waiting.connector) AS due FROM waiting WHERE connector IS NOT NULL)`

// Due names the connectors that have effects due by now; the empty one has the
// timers.
func (r ofSystems) Due(ctx context.Context, now time.Time) ([]string, error) {
	var connectors []string
	err := r.all(ctx, &connectors, firstDues+" SELECT connector FROM dues WHERE due <= ?", millis(now))
	return connectors, err
}

// CallEffect finds the call of a key.
func (r ofSystems) CallEffect(ctx context.Context, key string) (Effect, error) {
	var row effectRow
	if err := r.get(ctx, &row, "SELECT key, request, kind, task, connector, action, inputs, outputs, undoes, due_at, within FROM effects WHERE key = ? AND kind = 'call'", key); err != nil {
		return Effect{}, err
	}
	return row.effect()
}

// ReleaseRunning makes effects wait again that a process which is no more was
// running.
func (s *Store) ReleaseRunning(ctx context.Context) error {
	return s.change(ctx, "UPDATE effects SET state = 'waiting' WHERE state = 'running' AND key NOT IN (SELECT id FROM set_aside WHERE lane = 'effect')")
}

// ReleaseEffect makes one running effect wait again, for instance when the
// process stops before it could report.
func (s *Store) ReleaseEffect(ctx context.Context, key string, at time.Time) error {
	return s.change(ctx, "UPDATE effects SET state = 'waiting', due_at = ? WHERE key = ? AND state = 'running'", millis(at), key)
}

// FinishEffect ends a running effect. It stays, so that its key is never used
// for anything else.
func (t *Tx) FinishEffect(key string) error {
	return t.exec("UPDATE effects SET state = 'done' WHERE key = ? AND state = 'running'", key)
}

// NextDues is when the next effect of each connector falls due; the empty one
// has the timers, and publishing.
func (r ofSystems) NextDues(ctx context.Context) (map[string]time.Time, error) {
	var rows []struct {
		Connector string
		Due       int64
	}
	if err := r.all(ctx, &rows, firstDues+` SELECT connector, min(due) AS due FROM (
		SELECT connector, due FROM dues
		UNION ALL SELECT '', min(publish_at) FROM offering_versions WHERE publish_at IS NOT NULL
			AND offering NOT IN (SELECT id FROM set_aside WHERE lane = 'publishing')) WHERE due IS NOT NULL GROUP BY connector`); err != nil {
		return nil, err
	}
	next := map[string]time.Time{}
	for _, row := range rows {
		next[row.Connector] = instant(row.Due)
	}
	return next, nil
}

// NextDue is when anything falls due next, or ErrNotFound.
func (r reads) NextDue(ctx context.Context) (time.Time, error) {
	all, err := r.NextDues(ctx)
	if err != nil {
		return time.Time{}, err
	}
	next, err := r.NextMail(ctx)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return next, err
	}
	err = nil
	for _, due := range all {
		if next.IsZero() || due.Before(next) {
			next = due
		}
	}
	if err == nil && next.IsZero() {
		err = ErrNotFound
	}
	return next, err
}
