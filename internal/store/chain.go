package store

import (
	"context"
	"database/sql"
	"errors"
	"strings"

	"github.com/pressly/goose/v3"

	"heptad/internal/core/audit"
)

// inGo are the migrations that SQL alone cannot do.
var inGo = []*goose.Migration{
	goose.NewGoMigration(8, &goose.GoFunc{RunTx: chainEvents}, nil),
	goose.NewGoMigration(18, &goose.GoFunc{RunTx: briefAll}, nil),
	goose.NewGoMigration(22, &goose.GoFunc{RunTx: briefAll}, nil),
}

// eventRow is an event as the chain runs over it.
type eventRow struct {
	ID      int64
	Request string
	Seq     int
	At      int64
	Event   happened
	Chain   []byte
}

// happened is what an event says beside when: packed in one column.
type happened struct{ Kind, Actor, Body string }

// text is it as it is packed: kind and actor have a line each.
func (h happened) text() string { return h.Kind + "\n" + h.Actor + "\n" + h.Body }

// Scan reads it. Of what is damaged nothing is known.
func (h *happened) Scan(v any) error {
	var u unpacked
	if err := u.Scan(v); err != nil {
		return err
	}
	*h = happenedOf(u)
	return nil
}

func happenedOf(text unpacked) happened {
	kind, rest, _ := strings.Cut(string(text), "\n")
	actor, body, _ := strings.Cut(rest, "\n")
	return happened{kind, actor, body}
}

func (e eventRow) head() []any {
	return []any{e.ID, e.Request, e.Seq, e.At, e.Event.Actor, e.Event.Kind}
}

// chainEvents links the history that was there before there was a chain.
func chainEvents(ctx context.Context, tx *sql.Tx) error {
	write, err := tx.PrepareContext(ctx, "UPDATE events SET chain = ? WHERE id = ?")
	if err != nil {
		return err
	}
	defer func() { _ = write.Close() }() // it ends with its transaction, too
	var last []byte
	for after := int64(0); ; {
		some, err := eventsAfter(ctx, tx, after)
		if err != nil {
			return err
		}
		if len(some) == 0 {
			break
		}
		for _, e := range some {
			last = audit.Next(last, e.head(), audit.Hash([]byte(e.Event.Body)))
			if _, err := write.ExecContext(ctx, last, e.ID); err != nil {
				return err
			}
			after = e.ID
		}
	}
	_, err = tx.ExecContext(ctx, "CREATE TRIGGER events_stay BEFORE UPDATE ON events BEGIN SELECT RAISE(ABORT, 'history is only ever added to'); END")
	return err
}

// linksAtATime is how many rows of a chain are read at once.
const linksAtATime = 2000

func eventsAfter(ctx context.Context, tx *sql.Tx, after int64) (all []eventRow, err error) {
	rows, err := tx.QueryContext(ctx, "SELECT id, request, seq, at, actor, kind, body FROM events WHERE id > ? ORDER BY id LIMIT ?", after, linksAtATime)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	for rows.Next() {
		var e eventRow
		if err := rows.Scan(&e.ID, &e.Request, &e.Seq, &e.At, &e.Event.Actor, &e.Event.Kind, &e.Event.Body); err != nil {
			return nil, err
		}
		all = append(all, e)
	}
	return all, rows.Err()
}

// chained is where a chain ends: what the next row is linked to.
type chained struct {
	ID    int64
	Chain []byte
}

// lastOf is the end of a chain; the zero value when it has not begun.
func (t *transaction) lastOf(table string) (chained, error) {
	var last chained
	err := t.get(t.ctx, &last, "SELECT id, chain FROM "+table+" ORDER BY id DESC LIMIT 1")
	if errors.Is(err, ErrNotFound) {
		err = nil
	}
	return last, err
}

// Chains are the chains of a data file.
var Chains = []string{"audit", "events"}

// Links reads rows of a chain after one, in their order, and how many rows it has had
// in all; at most so many.
func (i *Inspection) Links(ctx context.Context, chain string, after int64) (links []audit.Link, count int64, err error) {
	if err := i.db.GetContext(ctx, &count, "SELECT coalesce((SELECT seq FROM sqlite_sequence WHERE name = ?), 0)", chain); err != nil {
		return nil, 0, err
	}
	if chain == "events" {
		var rows []eventRow
		err := i.db.SelectContext(ctx, &rows, "SELECT id, request, seq, at, event, chain FROM events WHERE id > ? ORDER BY id LIMIT ?", after, linksAtATime)
		for _, e := range rows {
			links = append(links, audit.Link{ID: e.ID, Head: e.head(), Body: []byte(e.Event.Body), Hash: audit.Hash([]byte(e.Event.Body)), Chain: e.Chain})
		}
		return links, count, err
	}
	var rows []actRow
	err = i.db.SelectContext(ctx, &rows, actColumns+" WHERE a.id > ? ORDER BY a.id LIMIT ?", after, linksAtATime)
	for _, r := range rows {
		l := audit.Link{ID: r.ID, Head: r.head(), Hash: r.Hash, Chain: r.Chain}
		if r.Body.Valid {
			l.Body = []byte(r.Body.String)
		}
		links = append(links, l)
	}
	return links, count, err
}

// VerifyChains follows all chains of a data file; it gives how many rows they have, and
// what is wrong with the first broken one of each.
func (i *Inspection) VerifyChains(ctx context.Context) (rows int64, wrong []string, err error) {
	for _, name := range Chains {
		c, count, trouble := audit.Chain{}, int64(0), ""
		for trouble == "" {
			links, all, err := i.Links(ctx, name, c.Count)
			if err != nil {
				return rows, nil, err
			}
			count = all
			for n := 0; n < len(links) && trouble == ""; n++ {
				trouble = c.Follow(links[n])
			}
			if len(links) == 0 {
				break
			}
		}
		if trouble == "" {
			trouble = c.End(count)
		}
		if trouble != "" {
			wrong = append(wrong, name+": "+trouble)
		}
		rows += c.Count
	}
	return rows, wrong, nil
}

// VerifyChains follows the chains of the open data file.
func (s *Store) VerifyChains(ctx context.Context) (rows int64, wrong []string, err error) {
	return (&Inspection{s.reader, s.dir}).VerifyChains(ctx)
}
