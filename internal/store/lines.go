package store

import (
	"context"
	"time"

	"heptad/internal/core/request"
)

// Line is what a line in a list says of a request.
type Line struct {
	ID, Reference, Title, Offering string
	Status                         request.Status
	Outcome                        request.Outcome
	Sent                           time.Time
}

// LineOf is the line of a request that was read.
func LineOf(s request.State) Line {
	return Line{s.ID, s.Reference, s.Title, s.Offering, s.Status, s.Outcome, s.Stages["submitted"]}
}

// LinesOf lists requests that a person has asked for, or that are for them, but for one: what
// is open, unless only that is wanted then what was sent last. A reader sees those that they
// may see, work on, or decide or have decided on.
func (r ofRequests) LinesOf(ctx context.Context, s Sight, whose, besides string, open bool, limit int) ([]Line, error) {
	which := "r.status <> " + draft
	if open {
		which = "r." + isOpen
	}
	var rows []struct {
		ID, Reference, Title, Offering string
		Status                         request.Status
		Outcome                        request.Outcome
		SentAt                         int64 `db:"sent_at"`
	}
	err := r.all(ctx, &rows, `SELECT r.id, coalesce(r.reference, '') AS reference, r.title, r.offering, r.status, r.outcome, r.sent_at
		FROM (SELECT id FROM requests WHERE asker = ?5 UNION SELECT id FROM requests WHERE whom = ?5) x JOIN requests r ON r.id = x.id
		WHERE ?4 > 0 AND r.id <> ?6 AND `+which+` AND (`+seen+` OR EXISTS (SELECT 1 FROM seats s WHERE s.request = r.id AND s.person = ?1))
		ORDER BY r.status = `+closed+`, r.sent_at DESC LIMIT ?7`, append(s.args(), whose, besides, limit)...)
	all := make([]Line, len(rows))
	for i, row := range rows {
		all[i] = Line{row.ID, row.Reference, row.Title, row.Offering, row.Status, row.Outcome, instant(row.SentAt)}
	}
	return all, err
}

// PatternsOf lists requests of an offering that were for a person, or for people of the same
// department and location, as far as a reader may see them, by ID: those for the person
// first, then the last sent.
func (r ofRequests) PatternsOf(ctx context.Context, s Sight, offering, person, department, location string, limit int) (ids []string, err error) {
	err = r.all(ctx, &ids, `SELECT r.id FROM requests r JOIN people p ON p.id = coalesce(r.whom, r.asker)
		WHERE ?4 > 0 AND r.offering = ?5 AND r.status <> `+draft+` AND r.reference IS NOT NULL
		AND (p.id = ?6 OR ?7 <> '' AND ?8 <> '' AND p.department = ?7 AND p.location = ?8) AND `+seen+`
		ORDER BY p.id = ?6 DESC, r.sent_at DESC LIMIT ?9`, append(s.args(), offering, person, department, location, limit)...)
	return ids, err
}
