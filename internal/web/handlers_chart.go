package web

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
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

func forecastOf(f request.Outlook) *forecastView {
	if f.Finish.IsZero() {
		return nil
	}
	out := &forecastView{Measured: f.Measured, Due: reached(f.Due), Day: f.Day, StuckOn: f.StuckOn}
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

// chartOf draws a forecast.
func chartOf(company *people.Directory, f request.Forecast, work *calendar.Calendar, now time.Time) *chartView {
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
				name = company.TeamName(step.Team)
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
