package store

import (
	"context"
	"encoding/json"
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
	return t.exec(`INSERT INTO effects (key, request, kind, task, connector, action, inputs, state, due_at) VALUES (?,?,?,?,?,?,?,'waiting',?)
		ON CONFLICT (key) DO UPDATE SET inputs = excluded.inputs, state = 'waiting', due_at = excluded.due_at`,
		e.Key, id, e.Kind, e.Task, e.Connector, e.Do, string(inputs), millis(e.At))
}

// LeaseDue marks effects due by now as running and gives them, the oldest
// first. Only the process that holds the data folder leases.
func (s *Store) LeaseDue(ctx context.Context, now time.Time, limit int) ([]Effect, error) {
	var rows []struct {
		Key, Request, Kind, Task, Connector, Action, Inputs string
		DueAt                                               int64 `db:"due_at"`
	}
	if err := s.writer.SelectContext(ctx, &rows, `UPDATE effects SET state = 'running' WHERE key IN
		(SELECT key FROM effects WHERE state = 'waiting' AND due_at <= ? ORDER BY due_at LIMIT ?)
		RETURNING key, request, kind, task, connector, action, inputs, due_at`, millis(now), limit); err != nil {
		return nil, err
	}
	effects := make([]Effect, len(rows))
	for i, r := range rows {
		effects[i] = Effect{request.Effect{Kind: request.EffectKind(r.Kind), Key: r.Key, At: instant(r.DueAt), Task: r.Task, Connector: r.Connector, Do: r.Action}, r.Request}
		if err := json.Unmarshal([]byte(r.Inputs), &effects[i].Inputs); err != nil {
			return nil, err
		}
	}
	return effects, nil
}

// ReleaseRunning makes effects wait again that a process which is no more was
// running.
func (s *Store) ReleaseRunning(ctx context.Context) error {
	_, err := s.writer.ExecContext(ctx, "UPDATE effects SET state = 'waiting' WHERE state = 'running'")
	return err
}

// ReleaseEffect makes one running effect wait again, for instance when the
// process stops before it could report.
func (s *Store) ReleaseEffect(ctx context.Context, key string, at time.Time) error {
	_, err := s.writer.ExecContext(ctx, "UPDATE effects SET state = 'waiting', due_at = ? WHERE key = ? AND state = 'running'", millis(at), key)
	return err
}

// FinishEffect ends a running effect. It stays, so that its key is never used
// for anything else.
func (t *Tx) FinishEffect(key string) error {
	return t.exec("UPDATE effects SET state = 'done' WHERE key = ? AND state = 'running'", key)
}

// NextDue is when the next waiting effect, publishing or mail falls due, or
// ErrNotFound.
func (r reads) NextDue(ctx context.Context) (time.Time, error) {
	var due *int64
	if err := r.get(ctx, &due, "SELECT min(due) FROM (SELECT min(due_at) AS due FROM effects WHERE state = 'waiting' UNION ALL SELECT min(publish_at) FROM offering_versions WHERE publish_at IS NOT NULL UNION ALL SELECT min(due_at) FROM messages WHERE mail = 'waiting')"); err != nil {
		return time.Time{}, err
	}
	if due == nil {
		return time.Time{}, ErrNotFound
	}
	return instant(*due), nil
}
