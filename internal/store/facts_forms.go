package store

import (
	"context"
	"time"

	"heptad/internal/core/measure"
)

// FormTouched notes that a form was begun, or touched at a question.
type FormTouched struct {
	Draft, Offering, Department, Question string
	At                                    time.Time
}

// TouchForm keeps it. Of a form that was sent or thrown away nothing more is kept.
func (t factsTx) TouchForm(f FormTouched) error {
	return t.exec(`INSERT INTO facts_forms (draft, offering, department, begun, touched, question, ended, sent) VALUES (?1,?2,?3,?4,?4,?5,0,0)
		ON CONFLICT (draft) DO UPDATE SET touched = excluded.touched, question = iif(excluded.question = '', question, excluded.question)`,
		f.Draft, f.Offering, f.Department, f.At.Unix(), f.Question)
}

// EndForm notes that a form was sent, or thrown away, and forgets whose it was.
func (t factsTx) EndForm(draft string, at time.Time, sent bool) error {
	return t.exec("UPDATE facts_forms SET draft = NULL, ended = ?, sent = ? WHERE draft = ?", at.Unix(), sent, draft)
}

// FormsBegun counts the forms that were begun between two instants, in seconds, and those of
// them that were given up: thrown away, or not touched since another.
func (r ofOfferings) FormsBegun(ctx context.Context, from, until, touched int64) ([]measure.Plain, error) {
	var all []measure.Plain
	err := r.all(ctx, &all, "SELECT begun / 900 * 900 AS at, department, offering, count(*) AS records, sum("+givenUp+") AS part FROM facts_forms WHERE begun >= ?1 AND begun < ?2 GROUP BY 1, 2, 3", from, until, touched)
	return all, err
}

// givenUp is true of a form that nobody goes on with.
const givenUp = "iif(ended > 0, NOT sent, touched < ?3)"

// GivenUpAt is at which questions how many forms were given up.
type GivenUpAt struct {
	Offering, Question string
	Times              int
}

// FormsGivenUp tells it of the forms that FormsBegun counts.
func (r ofOfferings) FormsGivenUp(ctx context.Context, from, until, touched int64) ([]GivenUpAt, error) {
	var all []GivenUpAt
	err := r.all(ctx, &all, "SELECT offering, question, count(*) AS times FROM facts_forms WHERE begun >= ?1 AND begun < ?2 AND question <> '' AND "+givenUp+" GROUP BY 1, 2", from, until, touched)
	return all, err
}

// ForgetOld forgets the searches, and the forms that were begun, before an instant.
func (t factsTx) ForgetOld(before time.Time) error {
	if err := t.exec("DELETE FROM searches WHERE at < ?", millis(before)); err != nil {
		return err
	}
	return t.exec("DELETE FROM facts_forms WHERE begun < ?", before.Unix())
}

// SearchesMade counts what was looked for between two instants, and what of it found nothing.
func (r ofOfferings) SearchesMade(ctx context.Context, from, until time.Time) ([]measure.Plain, error) {
	var all []measure.Plain
	err := r.all(ctx, &all, "SELECT at / 900000 * 900 AS at, department, count(*) AS records, sum(found = 0 AND opened = '') AS part FROM searches WHERE searches.at >= ? AND searches.at < ? GROUP BY 1, 2", millis(from), millis(until))
	return all, err
}

// Wished is what people looked for in the same words.
type Wished struct {
	Words  string
	People int
}

// SearchedInVain lists what was looked for between two instants and not found, at most so
// many words; what most people looked for stands first.
func (r ofOfferings) SearchedInVain(ctx context.Context, from, until time.Time, limit int) ([]Wished, error) {
	var all []Wished
	err := r.all(ctx, &all, "SELECT words, count(*) AS people FROM searches WHERE at >= ? AND at < ? AND found = 0 AND opened = '' GROUP BY words ORDER BY 2 DESC, 1 LIMIT ?", millis(from), millis(until), limit)
	return all, err
}
