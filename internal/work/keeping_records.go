package work

import (
	"context"
	"crypto/rand"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/sheet"
	"heptad/internal/store"
)

// WantedRecords says which records of a kind are read.
type WantedRecords struct {
	Words string
	Sort  string // a field; by name when it is empty
	Down  bool   // the last first
	Skip  int
	Limit int
}

// recordsOf is the key of the records of a kind, as they are kept with the company.
type recordsOf intake.Kind

// Records lists what is kept of a kind, with how many there are in all, to
// administrators.
func (w *Keeping) Records(_ context.Context, person string, kind intake.Kind, wanted WantedRecords) ([]intake.Record, int, error) {
	if !w.Administers(person) || !kind.Kept() {
		return nil, 0, ErrNotFound
	}
	words := strings.Fields(strings.ToLower(wanted.Words))
	var all []intake.Record
	kept := w.Company().Once(recordsOf(kind), func() any { return slices.Collect(intake.Records(kind, w.Company())) }).([]intake.Record)
	for _, r := range kept {
		if r.Has(words) {
			all = append(all, r)
		}
	}
	if wanted.Sort != "" {
		by := map[string]string{} // by ID
		for _, r := range all {
			by[r.ID] = strings.ToLower(r.Cells[wanted.Sort])
		}
		slices.SortStableFunc(all, func(a, b intake.Record) int { return strings.Compare(by[a.ID], by[b.ID]) })
	}
	if wanted.Down {
		slices.Reverse(all)
	}
	from := min(max(0, wanted.Skip), len(all))
	some := slices.Clone(all[from:min(from+wanted.Limit, len(all))])
	for i := range some {
		some[i].Cells = maps.Clone(some[i].Cells)
		delete(some[i].Cells, "picture") // it is seen on the record itself
	}
	return some, len(all), nil
}

// RecordSheet writes all that is kept of a kind as a sheet; that it was taken out is
// audited.
func (w *Keeping) RecordSheet(ctx context.Context, person string, kind intake.Kind) (header []string, rows [][]string, err error) {
	if !w.Administers(person) || !kind.Kept() {
		return nil, nil, ErrNotFound
	}
	for _, f := range intake.Columns(kind) {
		header = append(header, f.Name)
	}
	for r := range intake.Records(kind, w.Company()) {
		row := make([]string, 0, len(header))
		for _, f := range intake.Columns(kind) {
			row = append(row, r.Cells[f.Key])
		}
		rows = append(rows, row)
	}
	return header, rows, w.noteAlone(ctx, person, audit.CompanyGiven, string(kind), string(kind))
}

// historyShown is how many rows of its history a record shows.
const historyShown = 50

// Record gives one of what is kept, with what was done to it, to administrators.
func (w *Keeping) Record(ctx context.Context, person string, kind intake.Kind, id string) (intake.Record, []audit.Row, error) {
	if !w.Administers(person) {
		return intake.Record{}, nil, ErrNotFound
	}
	for r := range intake.Records(kind, w.Company()) {
		if r.ID == id {
			rows, err := w.Store.Acts(ctx, store.WantedActs{Thing: id, Limit: historyShown})
			return r, slices.DeleteFunc(rows, func(a audit.Row) bool { return a.Act.Kind() != thingOf[kind] }), err
		}
	}
	return intake.Record{}, nil, ErrNotFound
}

// thingOf is what the audit calls a record of a kind.
var thingOf = map[intake.Kind]string{
	intake.People: audit.Person, intake.Locations: audit.Location, intake.CostCentres: audit.Centre, intake.Teams: audit.Team, intake.Services: audit.Service,
}

// SaveRecord keeps one record, as if it came in a sheet of one line, by an
// administrator; one with no ID is new. It tells whether somebody waits to become
// inactive.
func (w *Keeping) SaveRecord(ctx context.Context, person string, kind intake.Kind, id string, cells map[string]string) (waits bool, err error) {
	if !w.Administers(person) || !kind.Kept() {
		return false, ErrNotFound
	}
	before, _, err := w.Record(ctx, person, kind, id)
	if id != "" && err != nil {
		return false, err
	}
	if fixed := before.Cells["key"]; id != "" && fixed != "" && cells["key"] != fixed || id != "" && kind == intake.Locations && cells["name"] != id {
		return false, invalid(refusal.FixedKey, "/cells/key", "This never changes: others are kept under it.")
	}
	table := &sheet.Table{Rows: []sheet.Row{{Line: 1}}}
	for _, f := range intake.Fields(kind) {
		table.Header = append(table.Header, f.Name)
		table.Rows[0].Cells = append(table.Rows[0].Cells, strings.TrimSpace(cells[f.Key]))
	}
	self, err := w.self(ctx, person)
	if err != nil {
		return false, err
	}
	r := intake.Reader{Company: w.Company(), NewID: rand.Text, Blanks: true, Self: self}
	if kind == intake.People || kind == intake.Areas {
		r.Subject = id
	}
	p := intake.Work(kind, table, intake.Edits{}, r)
	var wrong []request.Refusal
	for _, problem := range p.Lines[0].Problems {
		wrong = append(wrong, *invalid(refusal.BadRecord, "/cells/"+problem.Field, "%s", problem.Sentence))
	}
	if id == "" && p.Lines[0].State != intake.New && len(wrong) == 0 {
		return false, invalid(refusal.RecordThere, "/cells/"+intake.Fields(kind)[0].Key, "There is one with this already.")
	}
	if err := refusedAll(wrong); err != nil {
		return false, err
	}
	if p.Lines[0].State == intake.Same {
		return false, nil
	}
	waiting := 0
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		_, waiting, err = w.keep(ctx, tx, person, p, false, &progress{})
		return err
	})
	if err != nil {
		return false, err
	}
	return waiting > 0, w.companyChanged(ctx, concernedBy(p, person)...)
}

// Ownerless lists the services whose owner, the teams whose lead, and the cost centres
// whose owner has left, to administrators: each needs somebody new.
func (w *Keeping) Ownerless(person string) (map[intake.Kind][]intake.Record, error) {
	if !w.Administers(person) {
		return nil, ErrNotFound
	}
	company, all := w.Company(), map[intake.Kind][]intake.Record{}
	left := func(id string) bool { p, ok := company.Person(id); return !ok || p.Former }
	charge := map[intake.Kind]func(id string) string{
		intake.Areas:       func(name string) string { a, _ := company.Area(name); return a.Owner },
		intake.Services:    func(key string) string { s, _ := company.Service(key); return s.Owner },
		intake.Teams:       func(key string) string { t, _ := company.Team(key); return t.Lead },
		intake.CostCentres: func(key string) string { c, _ := company.CostCentre(key); return c.Owner },
	}
	for kind, of := range charge {
		for r := range intake.Records(kind, company) {
			if id := of(r.ID); left(id) && (id != "" || kind != intake.Areas) { // an area can do without
				all[kind] = append(all[kind], r)
			}
		}
	}
	return all, nil
}
