package intake

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/sheet"
)

// Edits are what somebody has said of a sheet while looking through it.
type Edits struct {
	Columns map[string]string            `json:"columns,omitempty"` // heading by field; empty for a field that no column is
	Values  map[string]map[string]string `json:"values,omitempty"`  // by field: what a value is to be everywhere
	Cells   map[int]map[string]string    `json:"cells,omitempty"`   // by line and field: what one cell is to be
	Left    map[int]bool                 `json:"left,omitempty"`    // lines that are left out
}

// State says what becomes of a line.
type State string

// The states of a line.
const (
	Wrong   State = "wrong"
	Waits   State = "waits" // for another line, which is wrong or left out
	New     State = "new"
	Changed State = "changed"
	Same    State = "same"
	Left    State = "left" // out
)

// All lists the states in their order.
func (State) All() []State { return []State{Wrong, Waits, New, Changed, Same, Left} }

// Line is what becomes of one line.
type Line struct {
	Line     int
	ID       string // under which it is kept
	Name     string // of what it is about
	State    State
	Changes  []audit.Change
	Problems []Problem
}

// Problem is what is wrong with a cell.
type Problem struct {
	Field    string
	Raw      string // what stands in the file
	Value    string // what it is taken as
	Sentence string
	Near     []string // what may have been meant, the nearest first
	Leans    bool     // it goes away with what is wrong in another line
}

// Gone is what stands in no line.
type Gone struct{ Key, Name string }

// Preview is what a sheet would change.
type Preview struct {
	Kind    Kind
	Columns map[string]string // heading by field, of those that are read
	Unread  []string          // headings that are no field
	Missing []string          // fields that no line can do without, and no column is
	Lines   []Line
	Counts  map[State]int
	Gone    []Gone
	Notes   []string
	Records people.Records      // what is to be kept: new, or with other values than before
	Members map[string][]string // IDs by team, where a sheet of teams says so
	Renamed map[string]string   // areas: the name after by the one before

	Belongings []Owned // new, or otherwise than before
	Heads      []Head  // of offerings that are new
}

// Reader is who a sheet is read for, and where.
type Reader struct {
	Company *people.Directory
	NewID   func() string                 // makes an ID for somebody new
	Subject string                        // ID of the person the only line is about, whatever its login; empty when the login says so
	Blanks  bool                          // a column with nothing in it empties its field; else it is not read
	Has     func(id string) (Had, bool)   // what somebody has or had, by ID
	Offers  func(key string) (Head, bool) // the head of an offering that is there
	Self    string                        // ID of who reads it and cannot put themself anywhere; empty when they can
}

// Work works out what a sheet of a kind would change in a company.
func Work(kind Kind, table *sheet.Table, edits Edits, r Reader) *Preview {
	read := Columns(kind)
	if r.Blanks {
		read = Fields(kind)
	}
	at := columns(read, table.Header, edits.Columns)
	notes := slices.Clone(table.Notes)
	for _, f := range read {
		if column, there := at[f.Key]; there && !r.Blanks && !f.Needed && !slices.ContainsFunc(table.Rows, func(row sheet.Row) bool { return row.Cells[column] != "" }) {
			delete(at, f.Key)
			notes = append(notes, fmt.Sprintf("The column %q is empty: it is not read, and changes nothing.", table.Header[column]))
		}
	}
	p := &Preview{Kind: kind, Columns: map[string]string{}, Unread: []string{}, Missing: []string{}, Notes: notes, Counts: map[State]int{}, Members: map[string][]string{}, Renamed: map[string]string{}}
	for key, column := range at {
		p.Columns[key] = table.Header[column]
	}
	for i, heading := range table.Header {
		if heading != "" && !slices.Contains(slices.Collect(values(at)), i) {
			p.Unread = append(p.Unread, heading)
		}
	}
	for _, f := range read {
		if _, there := at[f.Key]; f.Needed && !there {
			p.Missing = append(p.Missing, f.Key)
		}
	}
	w := &worker{Preview: p, company: r.Company, at: at, edits: edits, newID: r.NewID, self: r.Self, subject: r.Subject, belonging: r.Has, offered: r.Offers, near: map[string][]string{}}
	if len(p.Missing) > 0 { // every line would be wrong for the same reason
		return p
	}
	for _, row := range table.Rows {
		w.rows = append(w.rows, &entry{worker: w, row: row, line: Line{Line: row.Line}, left: edits.Left[row.Line]})
	}
	w.index()
	map[Kind]func(){People: w.people, Teams: w.teams, Locations: w.locations, CostCentres: w.costCentres, Services: w.services, Areas: w.areas, Belongings: w.belongings, Offerings: w.offerings}[kind]()
	for _, e := range w.rows {
		p.Lines = append(p.Lines, e.end())
		p.Counts[e.line.State]++
	}
	slices.SortFunc(p.Gone, func(a, b Gone) int { return cmp.Or(strings.Compare(a.Name, b.Name), strings.Compare(a.Key, b.Key)) })
	return p
}

func values(at map[string]int) func(yield func(int) bool) {
	return func(yield func(int) bool) {
		for _, v := range at {
			if !yield(v) {
				return
			}
		}
	}
}

// worker is one working out.
type worker struct {
	*Preview
	company *people.Directory
	at      map[string]int
	edits   Edits
	newID   func() string
	self    string
	subject string
	rows    []*entry
	known   names // people, as the sheet leaves them

	belonging func(id string) (Had, bool)
	offered   func(key string) (Head, bool)

	near map[string][]string

	allTeams []people.Team
	places   []string
	centres  []people.CostCentre
}

// entry is one line while it is worked out.
type entry struct {
	*worker
	row   sheet.Row
	line  Line
	left  bool
	fresh bool // what it is about is not there yet
}

// has reports whether a field has a column.
func (w *worker) has(field string) bool { _, ok := w.at[field]; return ok }

// cell is what a field is meant to be on a line.
func (e *entry) cell(field string) string {
	column, ok := e.at[field]
	if !ok {
		return ""
	}
	if meant, ok := e.edits.Cells[e.row.Line][field]; ok {
		return meant
	}
	value := e.row.Cells[column]
	if meant, ok := e.edits.Values[field][value]; ok {
		return meant
	}
	return value
}

// raw is what stands in the file for a field.
func (e *entry) raw(field string) string {
	if column, ok := e.at[field]; ok {
		return e.row.Cells[column]
	}
	return ""
}

// set gives a text its value from a field that has a column, and notes the change.
func (e *entry) set(field string, into *string) {
	if e.has(field) {
		e.change(field, *into, e.cell(field))
		*into = e.cell(field)
	}
}

// change notes that a field has another value than before.
func (e *entry) change(field, before, after string) {
	e.line.Changes = audit.Changed(e.line.Changes, field, before, after)
}

func (e *entry) wrong(field, sentence string, near ...string) {
	e.line.Problems = append(e.line.Problems, Problem{Field: field, Raw: e.raw(field), Value: e.cell(field), Sentence: sentence, Near: near})
}

// check adds what is wrong with a record by itself.
func (e *entry) check(problems []people.Problem) {
	for _, p := range problems {
		e.wrong(p.Field, p.Sentence)
	}
}

// formulas are cells that a spreadsheet program was to compute and has not.
func (e *entry) formulas() {
	for _, f := range fields[e.Kind] {
		if value := e.cell(f.Key); strings.HasPrefix(value, "=") {
			e.wrong(f.Key, "This is a formula, not a value: copy the column and paste it as values.")
		}
	}
}

// good reports whether a line is to be kept.
func (e *entry) good() bool { return !e.left && len(e.line.Problems) == 0 }

// end is what has become of a line.
func (e *entry) end() Line {
	switch {
	case e.left:
		e.line.State, e.line.Problems, e.line.Changes = Left, nil, nil
	case len(e.line.Problems) == 1 && e.line.Problems[0].Leans:
		e.line.State = Waits
	case len(e.line.Problems) > 0:
		e.line.State = Wrong
	case e.fresh:
		e.line.State = New
	case len(e.line.Changes) > 0:
		e.line.State = Changed
	default:
		e.line.State = Same
	}
	return e.line
}

// lean finds lines that name what is new by another line, which is not to be kept: they
// wait for it. Of says what a line is about, and what it names.
func (w *worker) lean(field string, of func(i int) (own, on string)) {
	line := map[string]*entry{}
	for i, e := range w.rows {
		if own, _ := of(i); e.fresh && own != "" {
			line[own] = e
		}
	}
	for again := true; again; { // whoever leans on who leans
		again = false
		for i, e := range w.rows {
			_, on := of(i)
			if other := line[on]; other != nil && e.good() && !other.good() {
				e.wrong(field, fmt.Sprintf("This stands in line %d, which is not read: mend that line.", other.row.Line))
				e.line.Problems[0].Leans = true
				again = true
			}
		}
	}
}

// alike finds lines about the same thing: all but the first of them are wrong.
func (w *worker) alike(field string, key func(e *entry) string, sentence func(first int) string) {
	first := map[string]int{}
	for _, e := range w.rows {
		k := strings.ToLower(key(e))
		if k == "" || e.left {
			continue
		}
		if line, twice := first[k]; twice {
			e.wrong(field, sentence(line))
			continue
		}
		first[k] = e.row.Line
	}
}

// Mend says what one cell is to be.
func (e *Edits) Mend(line int, field, means string) {
	if e.Cells == nil {
		e.Cells = map[int]map[string]string{}
	}
	if e.Cells[line] == nil {
		e.Cells[line] = map[string]string{}
	}
	e.Cells[line][field] = means
}

// MendAll says what a value of a field is to be, wherever it stands.
func (e *Edits) MendAll(field, value, means string) {
	if e.Values == nil {
		e.Values = map[string]map[string]string{}
	}
	if e.Values[field] == nil {
		e.Values[field] = map[string]string{}
	}
	e.Values[field][value] = means
}

// Size is how many things were said.
func (e *Edits) Size() int {
	n := len(e.Left) + len(e.Cells)
	for _, values := range e.Values {
		n += len(values)
	}
	return n
}
