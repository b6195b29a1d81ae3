package store

import (
	"context"
	"time"
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

// Form is a form that was begun.
type Form struct {
	Offering, Department, Question string
	Begun, Touched, Ended          int64 // in seconds; Ended is 0 while it is a draft
	Sent                           bool
}

// Forms lists the forms that were begun between two instants, in seconds.
func (r ofOfferings) Forms(ctx context.Context, from, until int64) ([]Form, error) {
	var all []Form
	err := r.all(ctx, &all, "SELECT offering, department, question, begun, touched, ended, sent FROM facts_forms WHERE begun >= ? AND begun < ?", from, until)
	return all, err
}

// ForgetOld forgets the searches, and the forms that were begun, before an instant.
func (t factsTx) ForgetOld(before time.Time) error {
	if err := t.exec("DELETE FROM searches WHERE at < ?", millis(before)); err != nil {
		return err
	}
	return t.exec("DELETE FROM facts_forms WHERE begun < ?", before.Unix())
}

// SearchesBetween lists what was looked for between two instants, the first first.
func (r ofOfferings) SearchesBetween(ctx context.Context, from, until time.Time) ([]Search, error) {
	var rows []struct {
		Search
		At int64
	}
	if err := r.all(ctx, &rows, "SELECT * FROM searches WHERE at >= ? AND at < ? ORDER BY at", millis(from), millis(until)); err != nil {
		return nil, err
	}
	searches := make([]Search, len(rows))
	for i, row := range rows {
		searches[i] = row.Search
		searches[i].At = instant(row.At)
	}
	return searches, nil
}
