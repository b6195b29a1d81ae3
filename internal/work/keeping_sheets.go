package work

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/refusal"
	"heptad/internal/core/sheet"
	"heptad/internal/store"
)

// preview is what a sheet would change, as it was worked out.
type preview struct {
	*intake.Preview
	of string // what was said of the sheet, and for whom it was read
}

// progress is how far the doing of a sheet is.
type progress struct {
	done atomic.Int64
	of   int64
}

// SheetView is a sheet that is looked through.
type SheetView struct {
	store.Sheet
	Header   []string
	Preview  *intake.Preview
	Done, Of int64 // lines kept so far, of how many; while it is being done
	Under    bool  // it is being done
}

// AddSheet takes a spreadsheet in, to be looked through by administrators; nothing is
// changed.
func (w *Keeping) AddSheet(ctx context.Context, person string, kind intake.Kind, name string, content []byte) (string, error) {
	if !w.Administers(person) {
		return "", ErrNotFound
	}
	if intake.Fields(kind) == nil {
		return "", ErrNotFound
	}
	if _, err := sheet.Parse(content); err != nil {
		return "", invalid(refusal.BadSheet, "/file", "This cannot be read: %s.", err)
	}
	s := store.Sheet{ID: rand.Text(), Kind: kind, Name: name, By: person, At: w.Clock()}
	return s.ID, w.Store.AddSheet(ctx, s, content)
}

// Sheet shows what a sheet would change, to administrators.
func (w *Keeping) Sheet(ctx context.Context, person, id string) (SheetView, error) {
	if !w.Administers(person) {
		return SheetView{}, ErrNotFound
	}
	kept, err := w.Store.Sheet(ctx, id)
	if err != nil {
		return SheetView{}, err
	}
	v := SheetView{Sheet: kept}
	if p, ok := w.under.Load(id); ok {
		v.Under, v.Done, v.Of = true, p.(*progress).done.Load(), p.(*progress).of
	}
	if !kept.Done.IsZero() {
		return v, nil
	}
	table, err := w.table(id)
	if err != nil {
		return v, err
	}
	v.Header = table.Header
	v.Preview, err = w.preview(ctx, person, kept)
	return v, err
}

func (w *Keeping) table(id string) (*sheet.Table, error) {
	content, err := w.Store.SheetContent(id)
	if err != nil {
		return nil, err
	}
	return sheet.Parse(content)
}

// preview works out what a sheet would change; once, until the company or what was said
// of the sheet changes.
func (w *Keeping) preview(ctx context.Context, person string, s store.Sheet) (*intake.Preview, error) {
	self, err := w.self(ctx, person)
	if err != nil {
		return nil, err
	}
	of := self + fmt.Sprint(s.Edits) // maps are printed in the order of their keys
	make := func() (preview, error) {
		table, err := w.table(s.ID)
		if err != nil {
			return preview{}, err
		}
		return preview{intake.Work(s.Kind, table, s.Edits, w.reads(ctx, self)), of}, nil
	}
	p, err := w.previews.get(w.age.company.Load, s.ID, make)
	if err == nil && p.of != of {
		w.previews.drop(s.ID)
		p, err = w.previews.get(w.age.company.Load, s.ID, make)
	}
	return p.Preview, err
}

// reads is what a sheet is read against.
func (w *Keeping) reads(ctx context.Context, self string) intake.Reader {
	return intake.Reader{
		Company: w.Company(), NewID: rand.Text, Self: self,
		Has: func(id string) (intake.Had, bool) {
			b, ended, err := w.Store.Belonging(ctx, id)
			return intake.Had{Owned: intake.Owned{Person: b.Person, Belonging: b.Belonging}, Ended: ended, Made: b.Request != ""}, err == nil
		},
		Offers: func(key string) (intake.Head, bool) {
			v, err := w.Store.VersionIn(ctx, key, store.Draft)
			if err != nil {
				v, err = w.Store.VersionIn(ctx, key, store.Current)
			}
			return intake.Head{Key: key, Name: v.Document.Purpose.Name}, err == nil
		},
	}
}

// self is who cannot put themself in charge of anything: nobody while moving in, when
// there may be only one.
func (w *Keeping) self(ctx context.Context, person string) (string, error) {
	at, err := w.Store.MovedIn(ctx)
	if at.IsZero() {
		return "", err
	}
	return person, err
}

// SheetEdit is one thing said of a sheet.
type SheetEdit struct {
	Columns map[string]string // which heading is which field; nil leaves them
	Field   string            // of a cell or a value that is mended
	Value   string            // as it stands there, in every line
	Line    int               // of the cell; 0 for every line with the value
	Means   string            // what it is to be
	Leave   int               // a line that is left out, or taken in again; 0 for none
}

// mostEdits is how many things can be said of one sheet: who has more to say mends the
// file.
const mostEdits = 5000

// EditSheet keeps what an administrator says of a sheet; nothing of the company is
// changed.
func (w *Keeping) EditSheet(ctx context.Context, person, id string, e SheetEdit) (SheetView, error) {
	if !w.Administers(person) {
		return SheetView{}, ErrNotFound
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.Sheet(ctx, id)
		if err != nil {
			return err
		}
		if !kept.Done.IsZero() {
			return errSheetDone
		}
		edits := kept.Edits
		if err := e.into(&edits, kept.Kind); err != nil {
			return err
		}
		return tx.EditSheet(id, edits)
	})
	if err != nil {
		return SheetView{}, err
	}
	return w.Sheet(ctx, person, id)
}

var errSheetDone = conflict(refusal.SheetDone, "This sheet was done already.")

// into adds what was said to what was said before.
func (e SheetEdit) into(edits *intake.Edits, kind intake.Kind) error {
	known := func(field string) bool {
		return slices.ContainsFunc(intake.Fields(kind), func(f intake.Field) bool { return f.Key == field })
	}
	if e.Columns != nil {
		for field := range e.Columns {
			if !known(field) {
				return invalid(refusal.UnknownField, "/columns", "There is no field %q.", field)
			}
		}
		edits.Columns = e.Columns
	}
	if e.Leave > 0 {
		if edits.Left == nil {
			edits.Left = map[int]bool{}
		}
		if edits.Left[e.Leave] = !edits.Left[e.Leave]; !edits.Left[e.Leave] {
			delete(edits.Left, e.Leave)
		}
	}
	if edits.Size() > mostEdits {
		return conflict(refusal.TooManyEdits, "More than %d things were mended here: mend the rest in the file, and send it anew.", mostEdits)
	}
	if e.Field == "" {
		return nil
	}
	if !known(e.Field) {
		return invalid(refusal.UnknownField, "/field", "There is no field %q.", e.Field)
	}
	means := strings.TrimSpace(e.Means)
	if e.Line > 0 {
		edits.Mend(e.Line, e.Field, means)
	} else {
		edits.MendAll(e.Field, e.Value, means)
	}
	return nil
}

// DoSheet keeps all that a sheet changes, at once, by an administrator. Wrong lines are
// left out when they say so; who stands in no line becomes inactive when they say so.
func (w *Keeping) DoSheet(ctx context.Context, person, id string, leaveWrong, gone bool) (SheetResult, error) {
	if !w.Administers(person) {
		return SheetResult{}, ErrNotFound
	}
	kept, err := w.Store.Sheet(ctx, id)
	if err != nil {
		return SheetResult{}, err
	}
	if !kept.Done.IsZero() {
		return SheetResult{}, errSheetDone
	}
	p, err := w.preview(ctx, person, kept)
	if err != nil {
		return SheetResult{}, err
	}
	switch {
	case len(p.Missing) > 0:
		return SheetResult{}, conflict(refusal.MissingColumns, "No column is read as %s: choose which it is.", strings.Join(p.Missing, ", "))
	case p.Counts[intake.Wrong]+p.Counts[intake.Waits] > 0 && !leaveWrong:
		return SheetResult{}, conflict(refusal.WrongLines, "%d lines are wrong: mend them, or say that they are left out.", p.Counts[intake.Wrong]+p.Counts[intake.Waits])
	}
	under := &progress{of: int64(p.Counts[intake.New] + p.Counts[intake.Changed])}
	if _, already := w.under.LoadOrStore(id, under); already {
		return SheetResult{}, conflict(refusal.SheetDone, "This sheet is being done just now.")
	}
	defer w.under.Delete(id)
	result := SheetResult{New: p.Counts[intake.New], Changed: p.Counts[intake.Changed], LeftOut: p.Counts[intake.Wrong] + p.Counts[intake.Waits] + p.Counts[intake.Left]}
	// begun, it is done in whole, whether or not somebody waits for it
	ctx = context.WithoutCancel(ctx)
	err = w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		if err := tx.SheetDone(id, w.Clock()); err != nil {
			return err
		}
		var err error
		if result.Gone, result.Waiting, err = w.keep(ctx, tx, person, p, gone, under); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.SheetRead, id, kept.Name, result.changes(kept.Kind)...)
	})
	if errors.Is(err, store.ErrExists) {
		err = errSheetDone
	}
	if err != nil {
		return SheetResult{}, err
	}
	if err := w.Store.ForgetSheet(id); err != nil {
		w.Log.Error("the file of a sheet that was done stays", "sheet", id, "error", err)
	}
	return result, w.companyChanged(ctx, concernedBy(p, person)...)
}

// mostTold is to how many people it is told that their record has changed, before all are
// told the same.
const mostTold = 500

// concernedBy are those whose own records a preview changes, and who keeps it; nobody in
// particular when it is about more than people.
func concernedBy(p *intake.Preview, person string) []string {
	if p.Kind != intake.People || len(p.Records.Persons) > mostTold {
		return nil
	}
	persons := []string{person}
	for _, r := range p.Records.Persons {
		persons = append(persons, r.ID)
	}
	return persons
}

// SheetResult is what the doing of a sheet came to.
type SheetResult struct{ New, Changed, LeftOut, Gone, Waiting int }

func (r SheetResult) changes(kind intake.Kind) []audit.Change {
	changes := []audit.Change{{Field: "kind", After: string(kind)}}
	for _, c := range []struct {
		field string
		n     int
	}{{"new", r.New}, {"changed", r.Changed}, {"left out", r.LeftOut}, {"inactive", r.Gone}, {"waiting to become inactive", r.Waiting}} {
		if c.n > 0 {
			changes = append(changes, audit.Change{Field: c.field, After: itoa(c.n)})
		}
	}
	return changes
}

// DropSheet throws a sheet away that is not to be done.
func (w *Keeping) DropSheet(ctx context.Context, person, id string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	if _, err := w.Store.Sheet(ctx, id); err != nil {
		return err
	}
	return w.Store.DropSheet(ctx, id)
}
