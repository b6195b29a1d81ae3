package web

import (
	"context"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/work"
)

// RequestLine is a request in a list.
type RequestLine struct {
	ID        string          `json:"id"`
	Reference string          `json:"reference" doc:"Empty for a draft"`
	Offering  string          `json:"offering" doc:"Key"`
	Title     string          `json:"title"`
	Asker     string          `json:"asker"`
	Status    request.Status  `json:"status"`
	Outcome   request.Outcome `json:"outcome,omitempty"`
	Stages    []stage         `json:"stages" nullable:"false" doc:"All seven, in order"`
	Holders   []holder        `json:"holders" nullable:"false" doc:"With whom it lies now"`
	Yours     bool            `json:"yours" doc:"Whether it waits for the person who reads"`
	ChangedAt time.Time       `json:"changedAt"`
	Forecast  *forecastView   `json:"forecast,omitempty" doc:"While it is under way"`
	Together  string          `json:"together,omitempty" doc:"What holds it together with others that were sent at once"`
	Group     work.Group      `json:"group,omitempty" doc:"What it waits for, in the reader's own list"`
}

type stage struct {
	Key request.Stage `json:"key"`
	At  *time.Time    `json:"at,omitempty" doc:"When it was reached"`
}

type holder struct {
	Name  string     `json:"name"`
	What  string     `json:"what" doc:"What they have to do"`
	Until *time.Time `json:"until,omitempty" doc:"Of a wait"`
}

func (h handlers) line(ctx context.Context, e work.Entry) RequestLine {
	out := h.head(ctx, e.State)
	if e.State.Status.Promising() {
		if o, err := h.Office.Following.OutlookOf(ctx, e); err == nil { // the list is worth more than its forecasts
			out.Forecast = forecastOf(o)
		}
	}
	return out
}

// head is a line without its forecast.
func (h handlers) head(ctx context.Context, state request.State) RequestLine {
	together := ""
	if state.Together != nil {
		together = state.Together.Title
	}
	return RequestLine{
		Together: together, ID: state.ID, Reference: state.Reference, Offering: state.Offering, Title: state.Title, Asker: h.Office.Company().Name(state.Asker),
		Status: state.Status, Outcome: state.Outcome, Stages: stages(state), Holders: h.holders(state),
		Yours: state.WaitsFor(me(ctx)), ChangedAt: state.At,
	}
}

func stages(state request.State) []stage {
	out := make([]stage, len(request.Stages))
	for i, key := range request.Stages {
		out[i].Key = key
		if at, ok := state.Stages[key]; ok {
			out[i].At = &at
		}
	}
	return out
}

// home is the key of the home team of a request's service.
func (h handlers) home(state request.State) string {
	service, _ := h.Office.Company().Service(state.Service)
	return service.Home
}

// holders says with whom a request lies, in words.
func (h handlers) holders(state request.State) []holder {
	out := []holder{}
	for _, by := range state.Holders(h.home(state)) {
		what, until := state.HasToDo(by)
		out = append(out, holder{Name: by.Name(h.Office.Company(), h.connectorName), What: what, Until: reached(until)})
	}
	return out
}

// beneficiary is the name of who a request is for.
func (h handlers) beneficiary(state request.State) string {
	if n := state.For.Newcomer; n != nil {
		return n.Name
	}
	return h.Office.Company().Name(state.Beneficiary())
}
