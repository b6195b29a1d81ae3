package web

import (
	"context"
	"slices"

	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// foundLine is a request that was found, with what holds it up.
type foundLine struct {
	RequestLine
	HeldUp *heldUp `json:"heldUp,omitempty" doc:"What it waits for longest"`
	Decide string  `json:"decide,omitempty" doc:"Key of the rung on which the reader decides now"`
	Tasks  []Named `json:"tasks" nullable:"false" doc:"That are to be done now, by the reader's teams"`
}

// underWayView counts the requests of a service by where they stand.
type underWayView struct {
	Service   string          `json:"service" doc:"Key"`
	Name      string          `json:"name"`
	Standings []standingCount `json:"standings" nullable:"false" doc:"In their order, those of none left out"`
	Late      int             `json:"late" doc:"Will likely miss what is promised"`
	Stuck     int             `json:"stuck"`
}

type standingCount struct {
	Standing work.Standing `json:"standing"`
	Count    int           `json:"count"`
}

func (h following) overview(ctx context.Context, _ *none) (*body[listOf[underWayView]], error) {
	counts, err := h.Office.Following.Overview(ctx, me(ctx))
	out := listOf[underWayView]{Entries: []underWayView{}}
	for _, service := range h.Office.Company().Services() {
		view := underWayView{Service: service.Key, Name: service.Name, Standings: []standingCount{}}
		for _, standing := range work.Standing("").All() {
			for _, c := range counts {
				if c.Service == service.Key && c.Standing == standing {
					view.Standings = append(view.Standings, standingCount{standing, c.Count})
					view.Late, view.Stuck = view.Late+c.Late, view.Stuck+c.Stuck
				}
			}
		}
		if len(view.Standings) > 0 {
			out.Entries = append(out.Entries, view)
		}
	}
	return answer(out, err)
}

func (h following) find(ctx context.Context, in *struct {
	Words    string        `query:"words" maxLength:"100" doc:"A reference, a person, or words"`
	Service  string        `query:"service" maxLength:"60" doc:"Key"`
	Standing work.Standing `query:"standing"`
	Late     bool          `query:"late" doc:"Only what will likely miss what is promised"`
	Stuck    bool          `query:"stuck"`
	After    string        `query:"after" maxLength:"60" doc:"What the page before gave as next"`
}) (*body[listOf[foundLine]], error) {
	found, err := h.Office.Following.Find(ctx, me(ctx), work.Wanted{Words: in.Words, Service: in.Service, Standing: in.Standing, Late: in.Late, Stuck: in.Stuck, After: in.After})
	out := listing(found.Entries, -1, func(e work.Entry) foundLine {
		out := foundLine{RequestLine: h.head(ctx, e.State)}
		out.Decide, out.Tasks = h.toAct(ctx, e.State)
		if !e.State.Status.Promising() {
			return out
		}
		o, err := h.Office.Following.OutlookOf(ctx, e)
		c, also := h.Office.Version(ctx, e.State.Offering, e.State.Version)
		if err == nil && also == nil { // the list is worth more than its forecasts
			out.Forecast, out.HeldUp = forecastOf(o), h.heldUp(e.State, o, c, h.Office.Clock())
		}
		return out
	})
	out.Next = found.Next
	return answer(out, err)
}

// toAct says where the reader can act on a request now: the rung they decide on,
// and the tasks of their teams.
func (h following) toAct(ctx context.Context, state request.State) (rung string, tasks []Named) {
	viewer := h.Office.Viewer(me(ctx), state)
	if r, open := state.OpenRung(); open && len(r.OpenSeatsFor(me(ctx))) > 0 {
		rung = r.Key
	}
	tasks = []Named{}
	for _, t := range state.Tasks {
		if (t.State == plan.Ready || t.State == plan.Taken || t.State == plan.Stuck) && slices.Contains(viewer.Tasks, t.Key) {
			tasks = append(tasks, Named{Key: t.Key, Name: t.Name})
		}
	}
	return rung, tasks
}
