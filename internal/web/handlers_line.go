package web

import (
	"context"
	"time"

	"heptad/internal/core/plan"
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

func (h handlers) line(ctx context.Context, state request.State) RequestLine {
	out := h.head(ctx, state)
	if state.Status.Promising() {
		if f, err := h.Office.Forecast(ctx, state); err == nil { // the list is worth more than its forecasts
			out.Forecast = forecastOf(f)
		}
	}
	return out
}

// head is a line without its forecast.
func (h handlers) head(ctx context.Context, state request.State) RequestLine {
	return RequestLine{
		ID: state.ID, Reference: state.Reference, Offering: state.Offering, Title: state.Title, Asker: h.Office.Company().Name(state.Asker),
		Status: state.Status, Outcome: state.Outcome, Stages: stages(state), Holders: h.holders(state),
		Yours: state.Turn(me(ctx)), ChangedAt: state.At,
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
		entry := holder{Name: h.Office.Company().Name(by.Person)}
		task, isTask := state.Task(by.Task)
		switch {
		case by.System != "":
			entry.Name = h.connectorName(by.System) + " (by itself)"
		case by.Pool != "":
			pool, _ := h.Office.Company().Pool(by.Pool)
			entry.Name = "Waiting list of " + pool.Name
		case by.Wait:
			entry.Name = "Nobody: it waits for its time"
		case by.Person == "":
			entry.Name = h.Office.Company().TeamName(by.Team)
		}
		switch {
		case isTask && task.Undo != nil:
			entry.What = "take back: " + task.Name
		case isTask && task.State == plan.Stuck:
			entry.What = task.Name + " (stuck)"
		case isTask && task.State == plan.Asking:
			entry.What = "answer a question on " + task.Name
		case isTask && task.Kind == plan.Wait && !task.Until.IsZero():
			entry.What, entry.Until = task.Name, &task.Until
		case isTask:
			entry.What = task.Name
		default:
			entry.What = map[request.Status]string{request.Draft: "finish and send", request.Deciding: "decide", request.Returned: "answer a question", request.Delivered: "confirm that it is done"}[state.Status]
		}
		out = append(out, entry)
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
