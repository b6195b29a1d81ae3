package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"strings"
	"time"

	"heptad/internal/core/audit"
)

// actRow is a row of the audit as it is kept.
type actRow struct {
	ID      int64
	At      int64
	Actor   string
	Session string
	Act     string
	Thing   string
	Hash    []byte `db:"body_hash"`
	Chain   []byte
	Body    sql.NullString
}

const actColumns = "SELECT a.id, a.at, a.actor, a.session, a.act, a.thing, a.body_hash, a.chain, b.body FROM audit a LEFT JOIN audit_bodies b ON b.id = a.id"

func (r actRow) head() []any { return []any{r.ID, r.At, r.Actor, r.Session, r.Act, r.Thing} }

func (r actRow) row() (audit.Row, error) {
	out := audit.Row{ID: r.ID, At: instant(r.At), Actor: r.Actor, Session: r.Session, Act: audit.Act(r.Act), Thing: r.Thing}
	if !r.Body.Valid {
		return out, nil
	}
	return out, json.Unmarshal([]byte(r.Body.String), &out.Body)
}

// AddAct adds rows to the audit; their IDs are set here.
func (t companyTx) AddAct(rows ...audit.Row) error {
	last, err := t.lastOf("audit")
	for _, a := range rows {
		if err != nil {
			return err
		}
		body, err := json.Marshal(a.Body)
		if err != nil {
			return err
		}
		r := actRow{ID: last.ID + 1, At: millis(a.At), Actor: a.Actor, Session: a.Session, Act: string(a.Act), Thing: a.Thing, Hash: audit.Hash(body)}
		last = chained{r.ID, audit.Next(last.Chain, r.head(), r.Hash)}
		if err := t.exec("INSERT INTO audit (id, at, actor, session, act, thing, body_hash, chain) VALUES (?,?,?,?,?,?,?,?)", r.ID, r.At, r.Actor, r.Session, r.Act, r.Thing, r.Hash, last.Chain); err != nil {
			return err
		}
		if err := t.exec("INSERT INTO audit_bodies (id, body) VALUES (?,?)", r.ID, string(body)); err != nil {
			return err
		}
	}
	return err
}

// WantedActs says which rows of the audit are read; what is left out is not asked for.
type WantedActs struct {
	Actor, Thing string
	Act          audit.Act
	From, Until  time.Time // of Until, up to it
	Before       int64     // row; 0 for the newest
	Limit        int
}

// Acts reads the audit, the newest row first.
func (r ofCompany) Acts(ctx context.Context, w WantedActs) ([]audit.Row, error) {
	var where []string
	var args []any
	add := func(asked bool, words string, arg any) {
		if asked {
			where, args = append(where, words), append(args, arg)
		}
	}
	add(w.Actor != "", "a.actor = ?", w.Actor)
	add(w.Thing != "", "a.thing = ?", w.Thing)
	add(w.Act != "", "a.act = ?", w.Act)
	add(!w.From.IsZero(), "a.at >= ?", millis(w.From))
	add(!w.Until.IsZero(), "a.at < ?", millis(w.Until))
	add(w.Before > 0, "a.id < ?", w.Before)
	query := actColumns
	if len(where) > 0 {
		query += " WHERE " + strings.Join(where, " AND ")
	}
	var rows []actRow
	if err := r.all(ctx, &rows, query+" ORDER BY a.id DESC LIMIT ?", append(args, w.Limit)...); err != nil {
		return nil, err
	}
	all := make([]audit.Row, len(rows))
	for i, row := range rows {
		var err error
		if all[i], err = row.row(); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// Acts goes through the audit, the oldest row first.
func (i *Inspection) Acts(ctx context.Context, each func(audit.Row) error) error {
	for after := int64(0); ; {
		var rows []actRow
		if err := i.db.SelectContext(ctx, &rows, actColumns+" WHERE a.id > ? ORDER BY a.id LIMIT ?", after, linksAtATime); err != nil || len(rows) == 0 {
			return err
		}
		for _, r := range rows {
			row, err := r.row()
			if err == nil {
				err = each(row)
			}
			if err != nil {
				return err
			}
			after = r.ID
		}
	}
}
