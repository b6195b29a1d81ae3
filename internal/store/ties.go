package store

import (
	"context"
	"time"

	"heptad/internal/core/request"
)

// TiedTo lists the requests that are tied to another in a way, the first tied first, at most
// so many.
func (r ofRequests) TiedTo(ctx context.Context, other string, kind request.Linking, limit int) (ids []string, err error) {
	err = r.all(ctx, &ids, "SELECT request FROM ties WHERE other = ? AND kind = ? ORDER BY rowid LIMIT ?", other, kind, limit)
	return ids, err
}

// OpenFault is a request that staff have opened to all.
type OpenFault struct {
	Request  string
	Sentence string
	Touches  int  // how many have it, with who asked
	Mine     bool // the reader has joined, or asked
}

// OpenFaults lists the faults of an offering that somebody can join, those that touch the
// most first.
func (r ofRequests) OpenFaults(ctx context.Context, offering, person string, limit int) (all []OpenFault, err error) {
	err = r.all(ctx, &all, `SELECT f.request, f.sentence, `+touches+` AS touches,
		EXISTS (SELECT 1 FROM joined j WHERE j.request = f.request AND j.person = ?1) OR EXISTS (SELECT 1 FROM requests r WHERE r.id = f.request AND r.asker = ?1) AS mine
		FROM faults f WHERE f.offering = ?2 AND f.open = 1 ORDER BY touches DESC, f.request LIMIT ?3`, person, offering, limit)
	return all, err
}

// touches counts whom a fault f touches: who asked, whose requests are the same, and who joined.
const touches = `(1 + (SELECT count(*) FROM ties t WHERE t.other = f.request AND t.kind = 'sameAs') + (SELECT count(*) FROM joined j WHERE j.request = f.request))`

// Touches counts whom a request touches that others are the same as, or have joined.
func (r ofRequests) Touches(ctx context.Context, id string) (n int, err error) {
	err = r.get(ctx, &n, "SELECT "+touches+" FROM (SELECT ? AS request) f", id)
	return n, err
}

// HasJoined reports whether a person has joined a request.
func (r ofRequests) HasJoined(ctx context.Context, id, person string) (is bool, err error) {
	err = r.get(ctx, &is, "SELECT EXISTS (SELECT 1 FROM joined WHERE request = ? AND person = ?)", id, person)
	return is, err
}

// JoinedBy is a request that somebody has joined.
type JoinedBy struct {
	Request  string
	Sentence string
	Line     string
	At       time.Time
	Status   request.Status
	Outcome  request.Outcome
}

// JoinedBy lists what a person has joined, the last first.
func (r ofRequests) JoinedBy(ctx context.Context, person string, limit int) ([]JoinedBy, error) {
	var rows []struct {
		Request, Sentence, Line string
		At                      int64
		Status                  request.Status
		Outcome                 request.Outcome
	}
	err := r.all(ctx, &rows, `SELECT j.request, f.sentence, j.line, j.at, r.status, r.outcome FROM joined j
		JOIN faults f ON f.request = j.request JOIN requests r ON r.id = j.request WHERE j.person = ? ORDER BY j.at DESC LIMIT ?`, person, limit)
	all := make([]JoinedBy, len(rows))
	for i, row := range rows {
		all[i] = JoinedBy{row.Request, row.Sentence, row.Line, instant(row.At), row.Status, row.Outcome}
	}
	return all, err
}

// WhoJoined lists who has joined a request after a person, by ID.
func (r ofRequests) WhoJoined(ctx context.Context, id, after string, limit int) (persons []string, err error) {
	err = r.all(ctx, &persons, "SELECT person FROM joined WHERE request = ? AND person > ? ORDER BY person LIMIT ?", id, after, limit)
	return persons, err
}

// Queue keeps effects of another request than the one that was saved.
func (t *Tx) Queue(id string, effects ...request.Effect) error { return t.saveEffects(id, effects) }

// saveTie keeps what an event says of how requests belong together; it tells whether that
// was such an event.
func (t *Tx) saveTie(s request.State, e request.Event) (bool, error) {
	switch b := e.Body.(type) {
	case request.Tied:
		return true, t.exec("INSERT INTO ties (request, kind, other) VALUES (?,?,?)", s.ID, b.Kind, b.Other)
	case request.Untied:
		return true, t.exec("DELETE FROM ties WHERE request = ? AND kind = ? AND other = ?", s.ID, b.Kind, b.Other)
	case request.OpenedToAll:
		if b.Sentence == "" { // who joined reads it on
			return true, t.exec("UPDATE faults SET open = 0 WHERE request = ?", s.ID)
		}
		return true, t.exec("INSERT INTO faults (request, offering, sentence, open) VALUES (?,?,?,1) ON CONFLICT (request) DO UPDATE SET sentence = excluded.sentence, open = 1", s.ID, s.Offering, b.Sentence)
	case request.Joined:
		return true, t.exec("INSERT INTO joined (request, person, line, at) VALUES (?,?,?,?)", s.ID, e.Actor, b.Line, millis(e.At))
	case request.RequestClosed:
		if s.Fault != nil {
			return true, t.exec("UPDATE faults SET open = 0 WHERE request = ?", s.ID)
		}
	}
	return false, nil
}
