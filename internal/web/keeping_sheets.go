package web

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"reflect"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/sheet"
	"heptad/internal/work"
)

// sheetView is a spreadsheet that is looked through.
type sheetView struct {
	ID       string            `json:"id"`
	Kind     intake.Kind       `json:"kind"`
	Name     string            `json:"name"`
	Finished bool              `json:"finished" doc:"It was done"`
	Under    *underView        `json:"under,omitempty" doc:"It is being done"`
	Header   []string          `json:"header" nullable:"false"`
	Fields   []intake.Field    `json:"fields" nullable:"false"`
	Columns  map[string]string `json:"columns" doc:"Heading by field, of those that are read"`
	Unread   []string          `json:"unread" nullable:"false" doc:"Headings that are no field"`
	Missing  []string          `json:"missing" nullable:"false" doc:"Fields no line can do without, and no column is"`
	Notes    []string          `json:"notes" nullable:"false" doc:"What was odd about the file"`
	Counts   map[string]int    `json:"counts" doc:"Lines by what becomes of them"`
	Gone     []string          `json:"gone" nullable:"false" doc:"Names of what stands in no line, at most so many as are shown"`
	GoneAll  int               `json:"goneAll" doc:"How many those are"`
	Wrong    []wrongView       `json:"wrong" nullable:"false" doc:"What is wrong, alike together, the most first"`
	Lines    []sheetLine       `json:"lines" nullable:"false"`
	More     bool              `json:"more" doc:"There are lines after these"`
}

type underView struct {
	Done int64 `json:"done"`
	Of   int64 `json:"of"`
}

// wrongView is one value that is wrong, in however many lines.
type wrongView struct {
	Field    string   `json:"field"`
	Raw      string   `json:"raw" doc:"As it stands in the file"`
	Value    string   `json:"value" doc:"As it is taken"`
	Sentence string   `json:"sentence"`
	Near     []string `json:"near" nullable:"false" doc:"What may have been meant"`
	Lines    []int    `json:"lines" nullable:"false" doc:"The first of them"`
	Count    int      `json:"count" doc:"How many lines"`
}

type sheetLine struct {
	Line     int            `json:"line"`
	Name     string         `json:"name"`
	State    intake.State   `json:"state"`
	Changes  []audit.Change `json:"changes" nullable:"false"`
	Problems []string       `json:"problems" nullable:"false"`
}

// How much of a sheet is shown at once.
const (
	linesShown = 100
	wrongShown = 60
	goneShown  = 30
	alikeShown = 5
)

// SheetInput names a sheet, and which lines of it are shown.
type SheetInput struct {
	Sheet string       `path:"sheet" maxLength:"60"`
	State intake.State `query:"state" doc:"Only lines of which this becomes"`
	After int          `query:"after" minimum:"0" doc:"Line after which they begin"`
}

func (h keeping) sheetOf(in SheetInput, v work.SheetView) sheetView {
	out := sheetView{
		ID: v.ID, Kind: v.Kind, Name: v.Name, Finished: !v.Sheet.Done.IsZero(), Header: []string{}, Fields: intake.Fields(v.Kind), Columns: map[string]string{}, Unread: []string{}, Missing: []string{},
		Notes: []string{}, Counts: map[string]int{}, Gone: []string{}, Wrong: []wrongView{}, Lines: []sheetLine{},
	}
	if v.Under {
		out.Under = &underView{v.Done, v.Of}
	}
	p := v.Preview
	if p == nil {
		return out
	}
	out.Header, out.Columns, out.Unread, out.Missing, out.GoneAll = v.Header, p.Columns, p.Unread, p.Missing, len(p.Gone)
	out.Notes = append(out.Notes, p.Notes...)
	for state, n := range p.Counts {
		out.Counts[string(state)] = n
	}
	for _, g := range p.Gone[:min(goneShown, len(p.Gone))] {
		out.Gone = append(out.Gone, g.Name)
	}
	out.Wrong = alike(p.Lines)
	for _, l := range p.Lines {
		if l.Line <= in.After || in.State != "" && l.State != in.State {
			continue
		}
		if len(out.Lines) == linesShown {
			out.More = true
			break
		}
		view := sheetLine{l.Line, l.Name, l.State, l.Changes, []string{}}
		if view.Changes == nil {
			view.Changes = []audit.Change{}
		}
		for _, problem := range l.Problems {
			view.Problems = append(view.Problems, problem.Sentence)
		}
		out.Lines = append(out.Lines, view)
	}
	return out
}

// alike puts together what is wrong in the same way.
func alike(lines []intake.Line) []wrongView {
	at, all := map[[3]string]int{}, []wrongView{}
	for _, l := range lines {
		for _, p := range l.Problems {
			if p.Leans {
				continue
			}
			key := [3]string{p.Field, p.Raw, p.Sentence}
			i, ok := at[key]
			if !ok {
				i = len(all)
				at[key] = i
				all = append(all, wrongView{Field: p.Field, Raw: p.Raw, Value: p.Value, Sentence: p.Sentence, Near: append([]string{}, p.Near...), Lines: []int{}})
			}
			if all[i].Count++; len(all[i].Lines) < alikeShown {
				all[i].Lines = append(all[i].Lines, l.Line)
			}
		}
	}
	slices.SortStableFunc(all, func(a, b wrongView) int { return b.Count - a.Count })
	return all[:min(wrongShown, len(all))]
}

func (h keeping) sheet(ctx context.Context, in *SheetInput) (*body[sheetView], error) {
	v, err := h.Office.Keeping.Sheet(ctx, me(ctx), in.Sheet)
	if err != nil {
		return nil, err
	}
	return answer(h.sheetOf(*in, v), nil)
}

func (h keeping) editSheet(ctx context.Context, in *struct {
	SheetInput
	Body struct {
		Columns map[string]string `json:"columns,omitempty" maxProperties:"40" doc:"Heading by field; empty for a field no column is"`
		Field   string            `json:"field,omitempty" maxLength:"60" doc:"Of what is mended"`
		Value   string            `json:"value,omitempty" maxLength:"4000" doc:"As it stands in the file, in every line"`
		Line    int               `json:"line,omitempty" minimum:"0" doc:"Of one cell; every line with the value when left out"`
		Means   string            `json:"means,omitempty" maxLength:"4000" doc:"What it is to be"`
		Leave   int               `json:"leave,omitempty" minimum:"0" doc:"A line that is left out, or taken in again"`
	}
}) (*body[sheetView], error) {
	v, err := h.Office.Keeping.EditSheet(ctx, me(ctx), in.Sheet, work.SheetEdit(in.Body))
	if err != nil {
		return nil, err
	}
	return answer(h.sheetOf(in.SheetInput, v), nil)
}

// doneView is what the doing of a sheet came to, in lines and people.
type doneView struct {
	New     int `json:"new"`
	Changed int `json:"changed"`
	LeftOut int `json:"leftOut"`
	Gone    int `json:"gone" doc:"People who became inactive"`
	Waiting int `json:"waiting" doc:"People who wait to become inactive"`
}

func (h keeping) doSheet(ctx context.Context, in *struct {
	Sheet string `path:"sheet" maxLength:"60"`
	Body  struct {
		LeaveWrong bool `json:"leaveWrong,omitempty" doc:"Wrong lines are left out"`
		Gone       bool `json:"gone,omitempty" doc:"Who stands in no line becomes inactive"`
	}
}) (*body[doneView], error) {
	r, err := h.Office.Keeping.DoSheet(ctx, me(ctx), in.Sheet, in.Body.LeaveWrong, in.Body.Gone)
	return answer(doneView(r), err)
}

func (h keeping) dropSheet(ctx context.Context, in *struct {
	Sheet string `path:"sheet" maxLength:"60"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Keeping.DropSheet(ctx, me(ctx), in.Sheet))
}

// addSheet takes a spreadsheet in. Who sends it is asked before any of it is read.
func (s *Server) addSheet(w http.ResponseWriter, r *http.Request) {
	person, content, err := s.incoming(w, r)
	if err == nil && !s.Office.Administers(person) {
		err = work.ErrNotFound
	}
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	data, err := io.ReadAll(io.LimitReader(content, sheet.MaxBytes+1))
	if err != nil {
		s.refuse(w, r, newProblem(http.StatusRequestEntityTooLarge, fmt.Sprintf("The file is larger than %d MB. Nothing was changed.", sheet.MaxBytes>>20)))
		return
	}
	query := r.URL.Query()
	name := query.Get("name")
	if runes := []rune(name); len(runes) > 200 {
		name = string(runes[:200])
	}
	id, err := s.Office.Keeping.AddSheet(r.Context(), person, intake.Kind(query.Get("kind")), name, data)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(Named{Key: id, Name: name}) // whoever asked and left needs no answer
}

// companySheet gives a template, or all that is kept of a kind, as CSV or XLSX.
func (s *Server) companySheet(template bool) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		kind := intake.Kind(chi.URLParam(r, "kind"))
		person := me(r.Context())
		if person == "" {
			s.refuse(w, r, errNotSignedIn)
			return
		}
		header, rows := intake.Template(kind)
		var err error
		if !s.Office.Administers(person) || len(header) == 0 {
			err = work.ErrNotFound
		} else if !template {
			header, rows, err = s.Office.Keeping.RecordSheet(r.Context(), person, kind)
		}
		if err != nil {
			s.refuse(w, r, err)
			return
		}
		data, name, mediaType := sheet.CSV(header, rows), string(kind)+".csv", "text/csv; charset=utf-8"
		if r.URL.Query().Get("as") == "xlsx" {
			if data, err = sheet.XLSX(string(kind), header, rows); err != nil {
				s.refuse(w, r, err)
				return
			}
			name, mediaType = string(kind)+".xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
		}
		w.Header().Set("Content-Type", mediaType)
		w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name))
		_, _ = w.Write(data) // whoever asked and left needs no answer
	}
}

// kindParam is a kind of sheet in the path or the query.
func kindParam(in string) *huma.Param {
	schema := enum[intake.Kind]("").Schema(nil)
	return &huma.Param{Name: "kind", In: in, Required: true, Schema: schema}
}

var asParam = &huma.Param{Name: "as", In: "query", Schema: &huma.Schema{Type: "string", Enum: []any{"csv", "xlsx"}}}

func (s *Server) addingSheet() huma.Operation {
	named := s.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[Named](), true, "Named")
	return huma.Operation{
		Description: "Takes a spreadsheet in, CSV or XLSX, to be looked through. Nothing is changed.", Security: needsSession,
		Parameters:  []*huma.Param{kindParam("query"), {Name: "name", In: "query", Required: true, Schema: &huma.Schema{Type: "string"}}},
		RequestBody: &huma.RequestBody{Required: true, Content: fileContent},
		Responses:   map[string]*huma.Response{"200": {Description: "Its ID and name", Content: map[string]*huma.MediaType{"application/json": {Schema: named}}}},
	}
}

func givingSheet(description string) huma.Operation {
	return huma.Operation{
		Description: description, Security: needsSession, Parameters: []*huma.Param{kindParam("path"), asParam},
		Responses: map[string]*huma.Response{"200": {Description: "CSV or XLSX, as an attachment", Content: fileContent}},
	}
}
