package foresee

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
)

// Form is a past request as it would come again, worked out once for all runs.
type Form struct {
	Offering string
	Sent     int64
	Steps    []Step
	Stops    bool // it was declined, or taken back, before anything was done: so it will be again
	Promise  *Promise
}

// Step is a decision or a task of a form.
type Step struct {
	Key      string // of the decision, or of the task of the plan
	Decision bool
	Team     string // key of the team whose people do it; empty for a decision, a system and a wait
	After    []int
	Work     *calendar.Calendar // of who does it; nil counts clock time
	Effort   calendar.Length    // unless it was measured
	Measured []time.Duration    // what it took before, in open time; used from plan.EnoughMeasured on
	Until    int64              // it does not end before; 0 for none
	Due      int64              // of its own; 0 for none
	Latest   int64              // when it must begin, so that the promise is kept; 0 for never: the place in the queue
	Pause    bool               // the clock of the promise stands still while it lasts
}

// drawn is one of the times that were measured, by a number of [0, 1), in whole seconds;
// false where the effort is used.
func (s *Step) drawn(u float64) (time.Duration, bool) {
	n := len(s.Measured)
	if n < plan.EnoughMeasured {
		return 0, false
	}
	return s.Measured[int(u*float64(n))].Truncate(time.Second), true
}

// Promise is what was promised to a form.
type Promise struct {
	promise.Promised
	With *promise.Compiled
	Due  int64 // 0 while the clock has not begun
}

// Evaluating is what past requests are worked out with.
type Evaluating struct {
	Offering *offering.Compiled
	Company  *people.Directory
	Measures request.Measures // of tasks for people, what they worked; of others, what they took
	Shift    int              // days from when it was sent to when it comes again
	Levers   Levers
}

// Form works out a past request as it would come again.
func (e Evaluating) Form(p rehearse.Past) Form {
	c, s := e.Offering, &p.State
	at := s.Stages["submitted"].AddDate(0, 0, e.Shift)
	answered := p.Answered(c, moved(c, s.Answers, e.Shift), e.Company, at)
	rungs, promised := e.Levers.rungs(c.Document.Key, answered.Rungs), e.Levers.promised(c.Document.Key, answered.Promised)
	f := Form{Offering: c.Document.Key, Sent: at.Unix(), Stops: stopped(s)}
	steps, shown, due := request.Steps(c, answered.Parties, answered.Kept, answered.Result.Values, rungs, promised, e.Measures, at)
	// The place in the queue hangs on the efforts alone, as each request has one.
	plain := make([]plan.Step, len(steps))
	for i, step := range steps {
		step.Measured = nil
		plain[i] = step
	}
	slots := plan.Schedule(plain, at, due).Slots
	if promised != nil {
		f.Promise = &Promise{Promised: *promised, With: c.Promise, Due: unix(due)}
	}
	for i, step := range steps {
		out := Step{
			Key: shown[i].Rung, Decision: shown[i].Rung != "", After: step.After, Work: step.Work, Effort: step.Effort, Measured: step.Measured,
			Until: unix(step.Until), Due: unix(step.Due), Latest: unix(slots[i].LatestStart), Pause: step.Pause,
		}
		if of, planned := c.Plan.Of(shown[i].Task); !out.Decision && planned {
			out.Key = of.Key
			if of.Kind == plan.Manual && shown[i].Needed {
				out.Team = shown[i].Team
			}
			e.Levers.task(c.Document.Key, &out)
		}
		f.Steps = append(f.Steps, out)
	}
	return f
}

// stopped reports whether a request ended before anything was done.
func stopped(s *request.State) bool {
	if s.Outcome == "" || s.Outcome == request.Fulfilled {
		return false
	}
	for i := range s.Tasks {
		if s.Tasks[i].State == plan.Done {
			return false
		}
	}
	return true
}

// moved are answers whose dates lie so many days later.
func moved(c *offering.Compiled, answers form.Answers, days int) form.Answers {
	out := maps.Clone(answers)
	if days == 0 {
		return out
	}
	for key, value := range out {
		if q, known := c.Form.Question(key); !known || q.Kind != form.Date {
			continue
		}
		text, _ := value.Text()
		if day, err := calendar.ParseDate(text); err == nil {
			out[key] = form.OfText(day.AddDays(days).String())
		}
	}
	return out
}

func unix(at time.Time) int64 {
	if at.IsZero() {
		return 0
	}
	return at.Unix()
}

// Levers are changes whose effect is foreseen.
type Levers struct {
	People    []More      `json:"people,omitempty" maxItems:"20" nullable:"false"`
	Rungs     []Part      `json:"rungs,omitempty" maxItems:"20" nullable:"false" doc:"Decisions that are left out"`
	Automatic []Part      `json:"automatic,omitempty" maxItems:"50" nullable:"false" doc:"Tasks that a system does"`
	Promises  []Promising `json:"promises,omitempty" maxItems:"20" nullable:"false"`
}

// Touch reports whether anything of an offering itself is changed.
func (l Levers) Touch(offering string) bool {
	of := func(p Part) bool { return p.Offering == offering }
	return slices.ContainsFunc(l.Rungs, of) || slices.ContainsFunc(l.Automatic, of) || slices.ContainsFunc(l.Promises, func(p Promising) bool { return p.Offering == offering })
}

// More are people more in a team.
type More struct {
	Team string `json:"team" minLength:"1" maxLength:"100" doc:"Key"`
	More int    `json:"more" minimum:"-5" maximum:"20" doc:"So many more; fewer below zero"`
}

// Part is a decision or a task of an offering.
type Part struct {
	Offering string `json:"offering" minLength:"1" maxLength:"100"`
	Key      string `json:"key" minLength:"1" maxLength:"100"`
}

// Promising is another length for all that an offering promises.
type Promising struct {
	Offering   string `json:"offering" minLength:"1" maxLength:"100"`
	Fulfilment string `json:"fulfilment" minLength:"1" maxLength:"20" doc:"Such as 8h or 5d"`
}

// bySystem is what a task takes once a system does it.
const bySystem = time.Minute

func (l Levers) rungs(key string, all []ladder.Rung) []ladder.Rung {
	var out []ladder.Rung
	for _, r := range all {
		if !slices.Contains(l.Rungs, Part{key, r.Key}) {
			out = append(out, r)
		}
	}
	return out
}

func (l Levers) task(key string, s *Step) {
	if slices.Contains(l.Automatic, Part{key, s.Key}) {
		s.Team, s.Work, s.Measured, s.Effort = "", nil, nil, calendar.Length{Open: bySystem}
	}
}

func (l Levers) promised(key string, p *promise.Promised) *promise.Promised {
	for _, other := range l.Promises {
		if p != nil && other.Offering == key {
			changed := *p
			changed.Fulfilment, changed.ReadyBy, changed.Day = other.Fulfilment, time.Time{}, ""
			return &changed
		}
	}
	return p
}
