package request

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// Measures are the times that finished tasks and decisions of an offering took
// before, in open time, sorted; fewer than plan.EnoughMeasured count for
// nothing.
type Measures interface {
	Task(key string) []time.Duration // by key in the plan
	Rung(key string) []time.Duration
}

// UsualDecision is reckoned for a decision that neither was measured nor has a
// limit.
var UsualDecision = calendar.Length{Days: 2}

// Forecast is when a request is likely to be done, worked out for one instant.
type Forecast struct {
	plan.Timetable
	Steps []ForecastStep
	Due   time.Time     // of the promise; zero when nothing is promised, or not yet
	Slack time.Duration // open time of the promise's calendar from the likely finish to the due instant
}

// ForecastStep is one step of a forecast.
type ForecastStep struct {
	Rung   string // key of an open decision; empty for a task
	Task   string // key of a task
	Name   string
	Team   string
	State  plan.State         // of the task
	After  []string           // keys of the tasks it waits for
	Needed bool               // as far as one can tell now
	Work   *calendar.Calendar // of who does it; nil counts clock time
}

// Step finds a task in the forecast.
func (f Forecast) Step(task string) (plan.Slot, ForecastStep, bool) {
	for i, step := range f.Steps {
		if step.Task == task && step.Rung == "" {
			return f.Slots[i], step, true
		}
	}
	return plan.Slot{}, ForecastStep{}, false
}

// forecasting puts the steps of one request together.
type forecasting struct {
	f     Facts
	m     Measures
	steps []plan.Step
	told  []ForecastStep
}

func (f *forecasting) add(step plan.Step, told ForecastStep) {
	step.Work = told.Work
	f.steps, f.told = append(f.steps, step), append(f.told, told)
}

// Forecast reckons a request that was sent, from now on.
func (s *State) Forecast(f Facts, m Measures) Forecast {
	t := &turn{state: *s, facts: f}
	c := &forecasting{f: f, m: m}
	var due time.Time
	if clock, ok := s.Fulfilment(f.Offering); ok {
		due = clock.Read(f.Now).Due
	}
	if s.Status == Deciding || s.Status == Returned {
		var rungs []ladder.Rung
		opened := map[string]time.Time{}
		for _, r := range s.Rungs {
			if r.Outcome == ladder.Open {
				rungs = append(rungs, t.rungOf(r.Key))
				opened[r.Key] = r.Opened
			}
		}
		c.rungs(rungs, opened)
		c.tasks(t.made(), t.taskValues)
	} else {
		c.tasks(s.Tasks, t.taskValues)
	}
	return c.forecast(due, s.Promise)
}

// ForecastDraft reckons what would be sent now.
func ForecastDraft(o *offering.Compiled, parties offering.Parties, answers form.Answers, values rule.Values, needed []ladder.Rung, promised *promise.Promised, m Measures, now time.Time) Forecast {
	s := State{Answers: answers, For: parties.Beneficiary, Asker: parties.Asker.ID, Promise: promised, Status: Deciding}
	t := &turn{state: s, facts: Facts{Company: parties.Company, Offering: o, Belongings: parties.Belongings, Pools: parties.Pools, Now: now}, base: &values}
	c := &forecasting{f: t.facts, m: m}
	c.rungs(needed, nil)
	c.tasks(t.made(), t.taskValues)
	var due time.Time
	if promised != nil {
		due = o.Promise.Fulfilment(*promised, nil, promise.Stop{}).Read(now).Due
	}
	return c.forecast(due, promised)
}

// rungs reckons open decisions, one after the other.
func (c *forecasting) rungs(rungs []ladder.Rung, opened map[string]time.Time) {
	for i, r := range rungs {
		step := plan.Step{Effort: UsualDecision, Measured: c.m.Rung(r.Key), Begun: opened[r.Key]}
		if limit, err := calendar.ParseLength(r.Limit); err == nil && r.Limit != "" {
			step.Effort = limit
		}
		if i > 0 {
			step.After = []int{i - 1}
		}
		c.add(step, ForecastStep{Rung: r.Key, Name: r.Name, Needed: true, Work: c.f.Offering.Promise.Calendar()})
	}
}

// tasks reckons tasks, after the decisions that are open.
func (c *forecasting) tasks(tasks []Task, valuesOf func(*Task) rule.Values) {
	rungs := len(c.steps)
	index := map[string]int{}
	for i := range tasks {
		index[tasks[i].Key] = rungs + i
	}
	for i := range tasks {
		c.task(&tasks[i], index, rungs, valuesOf)
	}
}

func (c *forecasting) task(task *Task, index map[string]int, rungs int, valuesOf func(*Task) rule.Values) {
	o := c.f.Offering
	told := ForecastStep{Task: task.Key, Name: task.Name, Team: task.Team, State: task.State, After: task.Waits(), Needed: true}
	step := plan.Step{Ended: task.EndedAt, Due: task.Due, Until: task.RetryAt}
	if rungs > 0 {
		step.After = []int{rungs - 1}
	}
	for _, key := range task.Waits() {
		step.After = append(step.After, index[key])
	}
	if task.Kind == plan.Manual || task.Effort != "" {
		told.Work = c.f.Company.TeamHours(task.Team, o.Promise.Calendar())
	}
	if task.Of == "" {
		step.Effort = calendar.Length{Open: plan.UsualEffort}
		if length, err := calendar.ParseLength(task.Effort); err == nil && task.Effort != "" {
			step.Effort = length
		}
	} else {
		step.Effort, step.Measured = o.Plan.Effort(task.Of), c.m.Task(task.Of)
		if !step.Effort.IsZero() {
			told.Work = c.f.Company.TeamHours(task.Team, o.Promise.Calendar())
		}
	}
	switch {
	case !step.Ended.IsZero():
		step.Begun = task.ReadyAt
		told.Needed = task.State != plan.Skipped && task.State != plan.Stopped
	case task.State == plan.Blocked && task.Of != "":
		c.ahead(task, valuesOf(task), &step, &told)
	case task.Kind == plan.Wait:
		step.Begun, step.Until = task.ReadyAt, task.Until
	case len(step.Measured) >= plan.EnoughMeasured, task.Kind == plan.Automatic:
		step.Begun = task.ReadyAt
	default:
		step.Begun = task.TakenAt
	}
	c.add(step, told)
}

// ahead reckons a task of the plan that has not begun: whether it will be needed,
// when it is due by a date that is known already, and how long it waits.
func (c *forecasting) ahead(task *Task, values rule.Values, step *plan.Step, told *ForecastStep) {
	o := c.f.Offering
	if !o.Plan.Foreseen(task.Of, values) {
		step.Effort, step.Measured, told.Needed = calendar.Length{}, nil, false
		return
	}
	of, _ := o.Plan.Task(task.Of)
	clocks := plan.Clocks{Work: c.f.Company.TeamHours(task.Team, o.Promise.Calendar()), Ended: func(string) (time.Time, bool) { return time.Time{}, false }}
	if of.Due != nil && of.Due.Of != "" {
		step.Due, _ = o.Plan.Due(task.Of, c.f.Now, values, clocks)
	}
	if task.Kind != plan.Wait {
		return
	}
	step.Until = o.Plan.WaitUntil(task.Of, values, clocks)
	if of.Wait.Of == "" && slices.Contains(task.Waits(), of.Wait.Moment.Task) { // so many working days after that
		step.Effort, told.Work = calendar.Length{Days: of.Wait.Days}, clocks.Work
	}
}

func (c *forecasting) forecast(due time.Time, promised *promise.Promised) Forecast {
	out := Forecast{Timetable: plan.Schedule(c.steps, c.f.Now, due), Steps: c.told, Due: due}
	if !due.IsZero() {
		out.Slack = c.f.Offering.Promise.CalendarOf(*promised).Between(out.Finish, due)
	}
	return out
}

// Fulfilment is the clock of the promised delivery; false when nothing is
// promised.
func (s *State) Fulfilment(o *offering.Compiled) (promise.Clock, bool) {
	if s.Promise == nil {
		return promise.Clock{}, false
	}
	return o.Promise.Fulfilment(*s.Promise, s.Pauses, s.stop()), true
}

// Response is the clock of staff's first word; false when none is promised.
func (s *State) Response(o *offering.Compiled) (promise.Clock, bool) {
	if s.Promise == nil {
		return promise.Clock{}, false
	}
	stop := promise.Stop{At: s.Responded}
	if stop.At.IsZero() {
		stop = promise.Stop{At: s.Stages["closed"], End: true}
	}
	return o.Promise.Response(*s.Promise, s.Pauses, stop)
}

// stop is what stopped the clock of the delivery: the delivery, the end of the
// tasks the promise names, or another end of the request.
func (s *State) stop() promise.Stop {
	if len(s.Promise.Until) > 0 {
		var last time.Time
		for i := range s.Tasks {
			t := &s.Tasks[i]
			if !slices.Contains(s.Promise.Until, t.Of) {
				continue
			}
			if t.State != plan.Done && t.State != plan.Skipped { // it is open, or the request ended first
				return s.over()
			}
			if t.EndedAt.After(last) {
				last = t.EndedAt
			}
		}
		if last.IsZero() {
			return s.over()
		}
		return promise.Stop{At: last}
	}
	if at, ok := s.Stages["delivered"]; ok {
		return promise.Stop{At: at}
	}
	return s.over()
}

// over stops a clock whose request ended, or is being taken back, without what
// was promised.
func (s *State) over() promise.Stop {
	if at, ok := s.Stages["closed"]; ok {
		return promise.Stop{At: at, End: true}
	}
	return promise.Stop{}
}
