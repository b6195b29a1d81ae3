package web

import (
	"context"
	"encoding/json"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/audit"
	"heptad/internal/work"
)

// actView is a row of the audit.
type actView struct {
	ID      int64          `json:"id"`
	At      time.Time      `json:"at"`
	Person  string         `json:"person,omitempty" doc:"ID of who did it"`
	Who     string         `json:"who" doc:"Their name"`
	Act     string         `json:"act"`
	Words   string         `json:"words" doc:"What was done, after the name"`
	Kind    string         `json:"kind" doc:"Of the thing it was done to"`
	Thing   string         `json:"thing,omitempty" doc:"ID or key"`
	Name    string         `json:"name,omitempty" doc:"Of the thing, as it was then"`
	Session string         `json:"session,omitempty"`
	Changes []audit.Change `json:"changes" nullable:"false"`
}

// ActsInput says which rows of the audit are read.
type ActsInput struct {
	Person string    `query:"person" maxLength:"60" doc:"ID of who did it"`
	Thing  string    `query:"thing" maxLength:"200" doc:"ID or key"`
	Act    audit.Act `query:"act"`
	From   string    `query:"from" maxLength:"30" doc:"First day, RFC 3339, in UTC"`
	Until  string    `query:"until" maxLength:"30" doc:"Last day, RFC 3339, in UTC"`
	Before int64     `query:"before" minimum:"0" doc:"Row before which they begin"`
}

func (in ActsInput) wanted(limit int) work.WantedActs {
	w := work.WantedActs{Actor: in.Person, Thing: in.Thing, Act: in.Act, Before: in.Before, Limit: limit}
	if from, err := time.Parse(time.DateOnly, in.From); err == nil {
		w.From = from
	}
	if until, err := time.Parse(time.DateOnly, in.Until); err == nil {
		w.Until = until.AddDate(0, 0, 1)
	}
	return w
}

type actsBody struct {
	Entries []actView  `json:"entries" nullable:"false" doc:"The newest first"`
	More    bool       `json:"more"`
	Acts    []actWords `json:"acts" nullable:"false" doc:"All acts there can be"`
}

type actWords struct {
	Act   audit.Act `json:"act"`
	Words string    `json:"words"`
}

// actsShown is how many rows of the audit are shown at once, actsGiven how many are
// taken out.
const (
	actsShown = 100
	actsGiven = 100_000
)

func (h auditing) acts(ctx context.Context, in *ActsInput) (*body[actsBody], error) {
	rows, err := h.Office.Auditing.Acts(ctx, me(ctx), in.wanted(actsShown+1))
	out := actsBody{Entries: []actView{}, More: len(rows) > actsShown, Acts: []actWords{}}
	for _, a := range rows[:min(actsShown, len(rows))] {
		out.Entries = append(out.Entries, h.act(a))
	}
	for _, act := range audit.Act("").All() {
		out.Acts = append(out.Acts, actWords{act, act.Words()})
	}
	return answer(out, err)
}

type verifiedBody struct {
	Rows  int64    `json:"rows" doc:"Of the audit and of history"`
	Wrong []string `json:"wrong" nullable:"false" doc:"The first broken row of each chain"`
}

func (h auditing) verify(ctx context.Context, _ *none) (*body[verifiedBody], error) {
	rows, wrong, err := h.Office.Auditing.Verify(ctx, me(ctx))
	return answer(verifiedBody{rows, append([]string{}, wrong...)}, err)
}

// exportAudit gives the audit as JSON lines, a row each.
func (s *Server) exportAudit(w http.ResponseWriter, r *http.Request) {
	person := me(r.Context())
	if person == "" {
		s.refuse(w, r, errNotSignedIn)
		return
	}
	query := r.URL.Query()
	in := ActsInput{Person: query.Get("person"), Thing: query.Get("thing"), Act: audit.Act(query.Get("act")), From: query.Get("from"), Until: query.Get("until")}
	rows, err := s.Office.Auditing.Give(r.Context(), person, in.wanted(actsGiven))
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/jsonl")
	w.Header().Set("Content-Disposition", `attachment; filename="audit.jsonl"`)
	out := json.NewEncoder(w)
	for _, a := range rows {
		if out.Encode(handlers{s.Office}.act(a)) != nil {
			return // whoever asked has left
		}
	}
}

var givingAudit = huma.Operation{
	Description: "The audit as JSON lines, the newest row first; the filters are those of acts.", Security: needsSession,
	Parameters: []*huma.Param{
		{Name: "person", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "thing", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "act", In: "query", Schema: &huma.Schema{Type: "string"}},
		{Name: "from", In: "query", Schema: &huma.Schema{Type: "string"}}, {Name: "until", In: "query", Schema: &huma.Schema{Type: "string"}},
	},
	Responses: map[string]*huma.Response{"200": {Description: "JSON lines, as an attachment", Content: fileContent}},
}
