package store

import (
	"context"
	"database/sql"
	"time"

	"heptad/internal/core/people"
)

// Absence is a kept absence of a person.
type Absence struct {
	people.Absence
	ID    string
	SetAt time.Time
}

type absenceRow struct {
	ID, Person string
	BeginsAt   int64          `db:"begins_at"`
	EndsAt     int64          `db:"ends_at"`
	StandIn    sql.NullString `db:"stand_in"`
	SetBy      string         `db:"set_by"`
	SetAt      int64          `db:"set_at"`
}

func (r absenceRow) absence() Absence {
	return Absence{
		Absence: people.Absence{Person: r.Person, From: instant(r.BeginsAt), Until: instant(r.EndsAt), StandIn: r.StandIn.String, SetBy: r.SetBy},
		ID:      r.ID, SetAt: instant(r.SetAt),
	}
}

const absenceColumns = "id, person, begins_at, ends_at, stand_in, set_by, set_at"

// Absences are all that have been set.
func (r ofCompany) Absences(ctx context.Context) ([]people.Absence, error) {
	return r.absences(ctx, "")
}

// AllAbsencesOf are all that have been set of a person.
func (r ofCompany) AllAbsencesOf(ctx context.Context, person string) ([]people.Absence, error) {
	return r.absences(ctx, " WHERE person = ?", person)
}

func (r ofCompany) absences(ctx context.Context, where string, args ...any) ([]people.Absence, error) {
	var rows []absenceRow
	if err := r.all(ctx, &rows, "SELECT "+absenceColumns+" FROM absences"+where, args...); err != nil {
		return nil, err
	}
	all := make([]people.Absence, len(rows))
	for i, row := range rows {
		all[i] = row.absence().Absence
	}
	return all, nil
}

// AbsencesOf lists the absences of a person that have not ended, the next
// first; at most 100.
func (r ofCompany) AbsencesOf(ctx context.Context, person string, now time.Time) ([]Absence, error) {
	var rows []absenceRow
	err := r.all(ctx, &rows, "SELECT "+absenceColumns+" FROM absences WHERE person = ? AND ends_at > ? ORDER BY begins_at, id LIMIT 100", person, millis(now))
	all := make([]Absence, len(rows))
	for i, row := range rows {
		all[i] = row.absence()
	}
	return all, err
}

// Absence finds one by its ID.
func (r ofCompany) Absence(ctx context.Context, id string) (Absence, error) {
	var row absenceRow
	err := r.get(ctx, &row, "SELECT "+absenceColumns+" FROM absences WHERE id = ?", id)
	return row.absence(), err
}

// AddAbsence keeps an absence.
func (t *Tx) AddAbsence(a Absence) error {
	return t.exec("INSERT INTO absences ("+absenceColumns+") VALUES (?,?,?,?,?,?,?)",
		a.ID, a.Person, millis(a.From), millis(a.Until), sql.NullString{String: a.StandIn, Valid: a.StandIn != ""}, a.SetBy, millis(a.SetAt))
}

// EndAbsence ends an absence at an instant; one that has not begun is taken
// out.
func (t *Tx) EndAbsence(id string, at time.Time) error {
	if err := t.exec("DELETE FROM absences WHERE id = ? AND begins_at >= ?", id, millis(at)); err != nil {
		return err
	}
	return t.exec("UPDATE absences SET ends_at = ? WHERE id = ? AND ends_at > ?", millis(at), id, millis(at))
}
