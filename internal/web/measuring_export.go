package web

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/measure"
	"heptad/internal/work"
)

// exportMeasure gives what is seen of a sentence as a sheet or as JSON: the row of figures, one
// of the series, or the records.
func (s *Server) exportMeasure(w http.ResponseWriter, r *http.Request) {
	person := me(r.Context())
	if person == "" {
		s.refuse(w, r, errNotSignedIn)
		return
	}
	if !s.Office.Measuring.Measures(person) {
		s.refuse(w, r, work.ErrNotFound)
		return
	}
	h, query := measuring{handlers{s.Office}}, r.URL.Query()
	sentence := measure.Sentence{Figure: query.Get("figure"), Period: query.Get("period"), Along: measure.Side(query.Get("along")), Side: measure.Side(query.Get("side")), Second: measure.Side(query.Get("second"))}
	for _, only := range query["only"] {
		side, key, _ := strings.Cut(only, ":")
		sentence.Only = append(sentence.Only, measure.Narrowed{Side: measure.Side(side), Keys: []string{key}})
	}
	rows, left, err := h.sheet(r, person, query.Get("what"), sentence)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	if query.Get("format") == "json" {
		w.Header().Set("Content-Type", "application/json")
		w.Header().Set("Content-Disposition", `attachment; filename="measured.json"`)
		_ = json.NewEncoder(w).Encode(recordsOfSheet(rows)) // whoever asked and left needs no answer
		return
	}
	w.Header().Set("Content-Type", "text/csv; charset=utf-8")
	w.Header().Set("Content-Disposition", `attachment; filename="measured.csv"`)
	if left > 0 {
		last := make([]string, len(rows[0]))
		last[1] = fmt.Sprintf("%d more are counted that do not stand here", left)
		rows = append(rows, last)
	}
	out := csv.NewWriter(w)
	_ = out.WriteAll(rows) // likewise
}

// recordsOfSheet are the lines of a sheet, each by the names of its head.
func recordsOfSheet(rows [][]string) []map[string]string {
	all := []map[string]string{}
	for _, row := range rows[1:] {
		record := map[string]string{}
		for i, name := range rows[0] {
			record[name] = row[i]
		}
		all = append(all, record)
	}
	return all
}

// mostExported is how many records are given at once.
const mostExported = 10_000

// sheet is what is asked for, as the lines of a sheet, and how many records are counted beside.
func (h measuring) sheet(r *http.Request, person, what string, sentence measure.Sentence) (rows [][]string, left int64, err error) {
	ctx := r.Context()
	names, err := h.Office.Measuring.Names(ctx)
	if err != nil {
		return nil, 0, err
	}
	if what == "records" {
		records, err := h.Office.Measuring.Records(ctx, person, sentence, nil, mostExported)
		if err != nil {
			return nil, 0, err
		}
		rows = [][]string{{"reference", "title", "offering", "service", "department", "place", "cost centre", "status", "outcome", "sent", "due", "delivered", "closed", "used open hours", "promised open hours", "kept", "speed", "impact", "urgency", "sent back", "cost", "version", "task", "team", "task waited open hours", "task in hand open hours"}}
		for _, line := range records.Lines {
			rows = append(rows, h.sheetLine(h.record(names, line)))
		}
		return rows, records.Total - int64(len(records.Lines)), nil
	}
	screen, err := h.Office.Measuring.Screen(ctx, person, sentence)
	if err != nil {
		return nil, 0, err
	}
	s := screen.Sentence
	switch what {
	case "along":
		return screen.Along.Rows([]measure.Side{s.Along}, names.Of), 0, nil
	case "grid":
		return screen.Grid.Rows([]measure.Side{s.Side, s.Second}[:len(screen.Grid.Keys)], names.Of), 0, nil
	case "row":
		rows = [][]string{{"figure", "value", "unit", "counted", "of them", "before"}}
		for _, told := range screen.Row {
			f, _ := measure.FigureOf(told.Figure)
			line := told.Series.Rows(nil, nil)[1]
			rows = append(rows, []string{f.Name, line[0], line[1], line[2], line[3], f.Plainly(told.Before.Number)})
		}
		return rows, 0, nil
	}
	return screen.Side.Rows([]measure.Side{s.Side}, names.Of), 0, nil
}

// sheetLine is a record as a line of a sheet.
func (h measuring) sheetLine(v countedView) []string {
	hours := func(seconds int64) string {
		return strconv.FormatFloat(float64(seconds)/3600, 'f', 2, 64)
	}
	line := []string{
		v.Reference, v.Title, v.Offering, v.Service, v.Department, v.Location, v.CostCentre, string(v.Status), string(v.Outcome), stamp(&v.Sent), stamp(v.Due), stamp(v.Delivered), stamp(v.Closed),
		hours(v.Used), hours(v.Target), v.Kept, v.Speed, v.Impact, v.Urgency, strconv.Itoa(v.Backs), v.Cost, strconv.Itoa(v.Version), v.Task, v.Team, hours(v.Waited), hours(v.Worked),
	}
	for i := range line {
		line[i] = measure.Safe(line[i])
	}
	return line
}

var givingMeasured = huma.Operation{
	Description: "What is seen of a sentence, as CSV or JSON: no cell of the sheet begins a formula.", Security: needsSession,
	Parameters: []*huma.Param{
		{Name: "format", In: "query", Schema: &huma.Schema{Type: "string", Enum: []any{"csv", "json"}}},
		{Name: "what", In: "query", Schema: &huma.Schema{Type: "string", Enum: []any{"row", "along", "side", "grid", "records"}}},
		{Name: "figure", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "period", In: "query", Schema: &huma.Schema{Type: "string"}},
		{Name: "along", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "side", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "second", In: "query", Schema: &huma.Schema{Type: "string"}},
		{Name: "only", In: "query", Description: "A side and a value with a colon between them, such as service:access; again for each", Schema: &huma.Schema{Type: "array", Items: &huma.Schema{Type: "string"}}},
	},
	Responses: map[string]*huma.Response{"200": {Description: "A sheet, or a list of its lines, as an attachment", Content: fileContent}},
}

// stamp is an instant by RFC 3339; empty for none.
func stamp(t *time.Time) string {
	if t == nil {
		return ""
	}
	return t.Format(time.RFC3339)
}
