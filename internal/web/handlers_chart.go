package web

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// forecastView is when something is likely to be done.
type forecastView struct {
	Likely   *time.Time `json:"likely,omitempty" doc:"Left out while nobody knows, as something is stuck"`
	Sure     *time.Time `json:"sure,omitempty" doc:"Done by then in four of five cases"`
	StuckOn  []string   `json:"stuckOn,omitempty" nullable:"false" doc:"Names of what is stuck, of which nobody knows when it goes on"`
	TooLate  bool       `json:"tooLate,omitempty" doc:"After it is due"`
	Day      string     `json:"day,omitempty" doc:"The date of the answers before which it is promised to be ready; RFC 3339"`
	Measured bool       `json:"measured" doc:"Computed with the times that such work took before, not only with efforts"`
	Due      *time.Time `json:"due,omitempty" doc:"Of the promise; while it is paused, if it went on now"`
	Slack    *int       `json:"slack,omitempty" doc:"Open minutes of the promise's calendar from the likely finish until it is due; negative when it will be late"`
}

func forecastOf(f request.Forecast) *forecastView {
	if f.Finish.IsZero() {
		return nil
	}
	out := &forecastView{Measured: f.Measured, Due: reached(f.Due), Day: f.Day}
	for _, step := range f.Steps {
		if step.Stuck {
			out.StuckOn = append(out.StuckOn, step.Name)
		}
	}
	if f.Unknown {
		return out
	}
	out.Likely, out.Sure = &f.Finish, &f.Sure
	if out.Due != nil {
		slack := int(f.Slack.Minutes())
		out.Slack, out.TooLate = &slack, f.TooLate()
	}
	return out
}

// chartView is a plan as it is drawn: a lane for each team, working days along
// the top. Places are in working days from the beginning of the first.
type chartView struct {
	Days   []string   `json:"days" nullable:"false" doc:"Working days, RFC 3339"`
	Now    float64    `json:"now"`
	Due    *float64   `json:"due,omitempty"`
	Likely *float64   `json:"likely,omitempty"`
	Lanes  []laneView `json:"lanes" nullable:"false"`
}

type laneView struct {
	Team  string    `json:"team" doc:"Name; empty for what nobody does"`
	Tasks []barView `json:"tasks" nullable:"false"`
}

type barView struct {
	Key      string     `json:"key"`
	Name     string     `json:"name"`
	State    plan.State `json:"state"`
	Needed   bool       `json:"needed" doc:"As far as one can tell now"`
	From     float64    `json:"from"`
	To       float64    `json:"to"`
	Start    time.Time  `json:"start"`
	Finish   time.Time  `json:"finish"`
	Critical bool       `json:"critical" doc:"The finish hangs on it"`
	Float    int        `json:"float" doc:"Open minutes it can slip without moving the finish"`
	After    []string   `json:"after" nullable:"false" doc:"Keys of the tasks it waits for"`
}

// chart draws a forecast.
func (h handlers) chart(f request.Forecast, work *calendar.Calendar, now time.Time) *chartView {
	if len(f.Slots) == 0 {
		return nil
	}
	from, until := now, f.Finish
	for _, slot := range f.Slots {
		if !slot.Start.IsZero() && slot.Start.Before(from) {
			from = slot.Start
		}
		if slot.Finish.After(until) {
			until = slot.Finish
		}
	}
	if f.Due.After(until) && f.Due.Before(until.AddDate(0, 0, 60)) {
		until = f.Due
	}
	axis := plan.NewAxis(work, from, until)
	out := &chartView{Days: []string{}, Now: axis.Place(now), Lanes: []laneView{}}
	for _, d := range axis.Days {
		out.Days = append(out.Days, d.String())
	}
	place := func(t time.Time) *float64 {
		if t.IsZero() {
			return nil
		}
		at := axis.Place(t)
		return &at
	}
	out.Due = place(f.Due)
	if !f.Unknown {
		out.Likely = place(f.Finish)
	}
	lanes := map[string]int{}
	for i, step := range f.Steps {
		name := "Decisions"
		if step.Rung == "" {
			name = ""
			if step.Team != "" {
				name = h.Office.Company().TeamName(step.Team)
			}
		}
		at, ok := lanes[name]
		if !ok {
			at = len(out.Lanes)
			lanes[name] = at
			out.Lanes = append(out.Lanes, laneView{Team: name, Tasks: []barView{}})
		}
		slot := f.Slots[i]
		bar := barView{
			Key: step.Task, Name: step.Name, State: step.State, Needed: step.Needed, From: axis.Place(slot.Start), To: axis.Place(slot.Finish),
			Start: slot.Start, Finish: slot.Finish, Critical: slot.Critical && step.Needed, Float: int(slot.Float.Minutes()), After: list(step.After),
		}
		if step.Rung != "" {
			bar.Key, bar.State = "rung/"+step.Rung, plan.Ready
		}
		out.Lanes[at].Tasks = append(out.Lanes[at].Tasks, bar)
	}
	return out
}

// promiseView is the promise line: how the clock of a promised time stands.
type promiseView struct {
	Name   string        `json:"name"`
	Target string        `json:"target,omitempty" doc:"In words, such as 5 working days; left out where it is to be ready by an instant"`
	Day    string        `json:"day,omitempty" doc:"The date of the answers before which it is to be ready; RFC 3339"`
	State  promise.State `json:"state"`
	Due    *time.Time    `json:"due,omitempty"`
	Used   int           `json:"used" doc:"Open minutes since it started, without the pauses"`
	Left   int           `json:"left" doc:"Open minutes until it is due; negative when it is late"`
	Share  float64       `json:"share" doc:"Of the target that is used; above 1 when it is late"`
	Late   bool          `json:"late"`
	Since  *time.Time    `json:"since,omitempty" doc:"Of the pause"`
	Parts  []linePart    `json:"parts" nullable:"false" doc:"Of the line, from 0 to 1"`
	End    *float64      `json:"end,omitempty" doc:"Where on the line it is due"`
	Likely *float64      `json:"likely,omitempty" doc:"Where on the line it is likely to be done"`
	Sure   *float64      `json:"sure,omitempty"`

	Response *responseView `json:"response,omitempty" doc:"The clock of staff's first word, when one is promised"`
}

// responseView is how the clock of staff's first word stands.
type responseView struct {
	State promise.State `json:"state"`
	Due   *time.Time    `json:"due,omitempty"`
	Late  bool          `json:"late"`
}

type linePart struct {
	Kind string  `json:"kind" enum:"gone,paused,left"`
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// promiseLine reads the clock of the promised delivery. The forecast may be nil.
func promiseLine(c *offering.Compiled, state request.State, f *request.Forecast, now time.Time) *promiseView {
	clock, ok := state.Fulfilment(c)
	if !ok {
		return nil
	}
	if f != nil {
		clock = clock.Knowing(f.Ahead)
	}
	r := clock.Read(now)
	target := state.Promise.Fulfilment
	if l, err := calendar.ParseLength(target); err == nil {
		target = l.Words()
	}
	out := &promiseView{
		Name: state.Promise.Name, Target: target, State: r.State, Due: reached(r.Due), Used: int(r.Used.Minutes()), Left: int(r.Left.Minutes()),
		Day: state.Promise.Day, Share: r.Share, Late: r.Late, Since: reached(r.Since), Parts: []linePart{},
	}
	if first, ok := state.Response(c); ok {
		read := first.Read(now)
		out.Response = &responseView{read.State, reached(read.Due), read.Late}
	}
	if r.State == promise.Before || r.Due.IsZero() {
		return out
	}
	work, from, end := c.Promise.CalendarOf(*state.Promise), state.Promise.From, now
	if at, delivered := state.Stages["delivered"]; delivered && r.State != promise.Running {
		end = at
	}
	last := r.Due
	if end.After(last) {
		last = end
	}
	if f != nil && r.State != promise.Kept && r.State != promise.Missed && f.Sure.After(last) {
		last = f.Sure
	}
	whole := work.Between(from, last)
	place := func(t time.Time) float64 {
		if whole <= 0 {
			return 1
		}
		return max(0, min(1, float64(work.Between(from, t))/float64(whole)))
	}
	at := from
	part := func(kind string, until time.Time) {
		if until.After(at) && place(until) > place(at) {
			out.Parts = append(out.Parts, linePart{kind, place(at), place(until)})
		}
		if until.After(at) {
			at = until
		}
	}
	for _, p := range r.Pauses {
		part("gone", p.From)
		until := p.Until
		if until.IsZero() || until.After(end) {
			until = end
		}
		part("paused", until)
	}
	part("gone", end)
	part("left", last)
	due := place(r.Due)
	out.End = &due
	if f != nil && (r.State == promise.Running || r.State == promise.Paused) {
		if !f.Unknown {
			likely, sure := place(f.Finish), place(f.Sure)
			out.Likely, out.Sure = &likely, &sure
		}
	}
	return out
}
