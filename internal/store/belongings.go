package store

import (
	"context"
	"database/sql"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/request"
)

// Belonging is something that somebody has.
type Belonging struct {
	request.Holding
	Request string    // ID of the one that made it; empty for what was there before
	Since   time.Time // zero for what was there before
}

type belongingRow struct {
	ID, Kind, Name, Detail, Until, Newcomer, Login string
	Person, Request                                sql.NullString
	Since                                          int64
}

func (r belongingRow) belonging() Belonging {
	b := Belonging{Request: r.Request.String}
	b.Belonging = people.Belonging{ID: r.ID, Kind: r.Kind, Name: r.Name, Detail: r.Detail, Until: r.Until}
	b.Person, b.Newcomer, b.Login = r.Person.String, r.Newcomer, r.Login
	if r.Since > 0 {
		b.Since = instant(r.Since)
	}
	return b
}

const belongingColumns = "id, kind, name, detail, until, newcomer, login, person, request, since"

// AddBelonging keeps something that a person has had since before Heptad, with
// its place in a pool, if it has one.
func (t *Tx) AddBelonging(person string, b people.Belonging, pool string) error {
	if pool != "" {
		if err := t.exec("INSERT INTO pool_places (id, pool, task, state, sent_at, reference) VALUES (?,?,'','reserved',0,'')", b.ID, pool); err != nil {
			return err
		}
	}
	return t.exec("INSERT INTO belongings (id, person, kind, name, detail, until) VALUES (?,?,?,?,?,?)", b.ID, person, b.Kind, b.Name, b.Detail, b.Until)
}

// PutBelonging keeps something that a person has since before Heptad, in place of what goes
// by its ID.
func (t *Tx) PutBelonging(person string, b people.Belonging) error {
	return t.exec(`INSERT INTO belongings (id, person, kind, name, detail, until) VALUES (?,?,?,?,?,?)
		ON CONFLICT (id) DO UPDATE SET person = excluded.person, kind = excluded.kind, name = excluded.name, detail = excluded.detail, until = excluded.until`, b.ID, person, b.Kind, b.Name, b.Detail, b.Until)
}

// Belonging finds something by its ID, and whether nobody has it any more.
func (r ofTasks) Belonging(ctx context.Context, id string) (b Belonging, ended bool, err error) {
	var row struct {
		belongingRow
		Ended bool
	}
	err = r.get(ctx, &row, "SELECT "+belongingColumns+", ended_at IS NOT NULL AS ended FROM belongings WHERE id = ?", id)
	return row.belonging(), row.Ended, err
}

// BelongingsOf lists what a person has, by kind and name.
func (r ofTasks) BelongingsOf(ctx context.Context, person string) ([]people.Belonging, error) {
	list := []people.Belonging{}
	err := r.all(ctx, &list, "SELECT id, kind, name, detail, until FROM belongings WHERE person = ? AND ended_at IS NULL ORDER BY kind, name, id", person)
	return list, err
}

// HoldingsOf lists what a person has with where it came from, by kind and name.
func (r ofTasks) HoldingsOf(ctx context.Context, person string) ([]Belonging, error) {
	return r.belongings(ctx, "person = ? AND ended_at IS NULL ORDER BY kind, name, id", person)
}

// Holding finds something that somebody has.
func (r ofTasks) Holding(ctx context.Context, id string) (Belonging, error) {
	all, err := r.belongings(ctx, "id = ? AND ended_at IS NULL", id)
	if err == nil && len(all) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Belonging{}, err
	}
	return all[0], nil
}

// Expiring lists at most so many belongings of people that end by a day, RFC
// 3339, and that nobody was reminded of.
func (r ofTasks) Expiring(ctx context.Context, by string, limit int) ([]Belonging, error) {
	return r.belongings(ctx, "until <> '' AND until <= ? AND reminded <> until AND ended_at IS NULL AND person IS NOT NULL AND id NOT IN (SELECT id FROM set_aside WHERE lane = 'reminder') ORDER BY until LIMIT ?", by, limit)
}

func (r queries) belongings(ctx context.Context, where string, args ...any) ([]Belonging, error) {
	var rows []belongingRow
	if err := r.all(ctx, &rows, "SELECT "+belongingColumns+" FROM belongings WHERE "+where, args...); err != nil {
		return nil, err
	}
	all := make([]Belonging, len(rows))
	for i, row := range rows {
		all[i] = row.belonging()
	}
	return all, nil
}

// Reminded notes that its holder was told when a belonging ends.
func (t *Tx) Reminded(id string) error {
	return t.exec("UPDATE belongings SET reminded = until WHERE id = ?", id)
}

// claim gives a person of the directory what they got as a newcomer.
func (t companyTx) claim(p people.Person) error {
	return t.exec("UPDATE belongings SET person = ? WHERE person IS NULL AND login = ?", p.ID, p.Login)
}

// saveHolding keeps what an event says of a belonging or a pool.
func (t *Tx) saveHolding(s request.State, e request.Event) error {
	place := func(task string) string { return request.HoldingID(s.ID, task) }
	switch b := e.Body.(type) {
	case request.HoldingMade:
		h := b.Holding
		person := sql.NullString{String: h.Person, Valid: h.Person != ""}
		return t.exec("INSERT INTO belongings (id, person, newcomer, login, kind, name, detail, until, request, since) VALUES (?,?,?,?,?,?,?,?,?,?)",
			h.ID, person, h.Newcomer, h.Login, h.Kind, h.Name, h.Detail, h.Until, s.ID, millis(e.At))
	case request.TaskDone: // now it is known under what login a newcomer will be found
		if login := b.Outputs["login"]; login != "" && s.For.Newcomer != nil {
			return t.exec("UPDATE belongings SET login = ? WHERE request = ? AND person IS NULL AND login = ''", login, s.ID)
		}
	case request.HoldingChanged:
		return t.exec("UPDATE belongings SET name = ?, detail = ?, until = ? WHERE id = ?", b.Now.Name, b.Now.Detail, b.Now.Until, b.Now.ID)
	case request.HoldingEnded: // its place in a pool is free again
		if err := t.exec("UPDATE belongings SET ended_at = ? WHERE id = ?", millis(e.At), b.ID); err != nil {
			return err
		}
		return t.exec("DELETE FROM pool_places WHERE id = ?", b.ID)
	case request.HoldingRestored:
		return t.exec("UPDATE belongings SET ended_at = NULL WHERE id = ?", b.ID)
	case request.PlaceQueued:
		return t.savePlace(s, place(b.Task), b.Pool, b.Task, "queued")
	case request.PlaceReserved:
		return t.savePlace(s, place(b.Task), b.Pool, b.Task, "reserved")
	case request.PlaceReturned:
		return t.exec("DELETE FROM pool_places WHERE id = ?", place(b.Task))
	case request.PoolGrown:
		return t.exec("UPDATE pools SET size = max(0, size + ?) WHERE key = ?", b.By, b.Pool)
	}
	return nil
}

func (t *Tx) savePlace(s request.State, id, pool, task, state string) error {
	return t.exec("INSERT INTO pool_places (id, pool, request, task, state, sent_at, reference) VALUES (?,?,?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET state = excluded.state",
		id, pool, s.ID, task, state, millis(s.Stages["submitted"]), s.Reference)
}

// PoolUse is how a pool stands.
type PoolUse struct {
	Key, Name              string
	Size, Reserved, Queued int
}

// Free is how many places nobody has.
func (p PoolUse) Free() int { return max(0, p.Size-p.Reserved) }

// Pools tells how the pools stand, by name.
func (r ofTasks) Pools(ctx context.Context) ([]PoolUse, error) {
	var all []PoolUse
	err := r.all(ctx, &all, `SELECT p.key, p.name, p.size,
		(SELECT count(*) FROM pool_places WHERE pool = p.key AND state = 'reserved') AS reserved,
		(SELECT count(*) FROM pool_places WHERE pool = p.key AND state = 'queued') AS queued FROM pools p ORDER BY p.name`)
	return all, err
}

// Waiting is a task on the waiting list of a pool.
type Waiting struct{ Request, Task string }

// Next lists the tasks that a free place is waiting for, the first sent first:
// for each pool as many as it has free places.
func (r ofTasks) Next(ctx context.Context) ([]Waiting, error) {
	var next []Waiting
	err := r.all(ctx, &next, `SELECT request, task FROM (
		SELECT w.request, w.task, w.sent_at, w.reference, row_number() OVER (PARTITION BY w.pool ORDER BY w.sent_at, w.reference) AS place,
		(SELECT p.size - (SELECT count(*) FROM pool_places x WHERE x.pool = p.key AND x.state = 'reserved') FROM pools p WHERE p.key = w.pool) AS free
		FROM pool_places w WHERE w.state = 'queued' AND w.request || '/' || w.task NOT IN (SELECT id FROM set_aside WHERE lane = 'waiting list')) WHERE place <= free ORDER BY sent_at, reference`)
	return next, err
}
