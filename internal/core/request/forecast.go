package request

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
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
	Task(key string) []time.Duration   // by key in the plan
	Rescue(key string) []time.Duration // of a task, from being stuck until it was done
	Rung(key string) []time.Duration
}

// unmeasured are the measures of what was never measured.
type unmeasured struct{}

func (unmeasured) Task(string) []time.Duration { return nil }

func (unmeasured) Rescue(string) []time.Duration { return nil }

func (unmeasured) Rung(string) []time.Duration { return nil }

func (f Facts) measures() Measures {
	if f.Measures == nil {
		return unmeasured{}
	}
	return f.Measures
}

// UsualDecision is assumed for a decision that neither was measured nor has a
// limit.
var UsualDecision = calendar.Length{Days: 2}

// Forecast is when a request is likely to be done, worked out for one instant.
type Forecast struct {
	plan.Timetable
	Steps []ForecastStep
	Due   time.Time       // of the promise, with the pauses known ahead; zero when nothing is promised, or not yet
	Ahead []promise.Pause // of the promise's clock, that are known ahead
	Day   string          // of the answers, before which it is promised to be ready; RFC 3339
	Slack time.Duration   // open time of the promise's calendar from the likely finish to the due instant
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
	Stuck  bool               // nobody knows when it goes on
	Work   *calendar.Calendar // of who does it; nil counts clock time
}

// TooLate reports whether it will likely be done after it is due.
func (f Forecast) TooLate() bool { return !f.Unknown && !f.Due.IsZero() && f.Finish.After(f.Due) }

// Examine finds that what is sent by somebody would likely be done later than it
// is promised.
func (f Forecast) Examine(asker string) finding.List {
	findings := finding.List{}
	if f.TooLate() {
		findings.Warning(finding.LikelyTooLate, "/promise/targets", fmt.Sprintf("Sent by %s as in the preview, it would likely be done later than it is promised.", asker), "Promise more time, or shorten the plan.")
	}
	return findings
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
	f Facts
	m Measures

	promised *promise.Promised
	steps    []plan.Step
	shown    []ForecastStep
}

func (f *forecasting) add(step plan.Step, shown ForecastStep) {
	step.Work = shown.Work
	f.steps, f.shown = append(f.steps, step), append(f.shown, shown)
}

// Forecast computes a request that was sent, from now on.
func (s *State) Forecast(f Facts, m Measures) Forecast {
	t := &transition{state: *s, facts: f}
	c := &forecasting{f: f, m: m, promised: s.Promise}
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
		c.tasks(t.tasks().made(), t.taskValues)
	} else {
		c.tasks(s.Tasks, t.taskValues)
	}
	clock, ok := s.Fulfilment(f.Offering)
	return c.forecast(clock, ok, s.Promise)
}

// ForecastDraft computes what would be sent now.
func ForecastDraft(o *offering.Compiled, parties offering.Parties, answers form.Answers, values rule.Values, needed []ladder.Rung, promised *promise.Promised, m Measures, now time.Time) Forecast {
	c, clock, ok := draft(o, parties, answers, values, needed, promised, m, now)
	return c.forecast(clock, ok, promised)
}

// Steps are what would be sent now, step by step, and when its promise would be due: zero
// when nothing is promised, or not yet. Nothing is put in time.
func Steps(o *offering.Compiled, parties offering.Parties, answers form.Answers, values rule.Values, needed []ladder.Rung, promised *promise.Promised, m Measures, now time.Time) ([]plan.Step, []ForecastStep, time.Time) {
	c, clock, timed := draft(o, parties, answers, values, needed, promised, m, now)
	_, due := c.due(clock, timed)
	return c.steps, c.shown, due
}

func draft(o *offering.Compiled, parties offering.Parties, answers form.Answers, values rule.Values, needed []ladder.Rung, promised *promise.Promised, m Measures, now time.Time) (*forecasting, promise.Clock, bool) {
	s := State{Answers: answers, For: parties.Beneficiary, Asker: parties.Asker.ID, Promise: promised, Status: Deciding}
	t := &transition{state: s, facts: Facts{Company: parties.Company, Offering: o, Belongings: parties.Belongings, Pools: parties.Pools, Now: now, Known: parties.Known}, base: &values}
	c := &forecasting{f: t.facts, m: m, promised: promised}
	c.rungs(needed, nil)
	c.tasks(t.tasks().made(), t.taskValues)
	clock, ok := s.Fulfilment(o)
	return c, clock, ok
}

// rungs computes open decisions, one after the other.
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

// tasks computes tasks, after the decisions that are open.
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
	shown := ForecastStep{Task: task.Key, Name: task.Name, Team: task.Team, State: task.State, After: task.Waits(), Needed: true}
	step := plan.Step{Ended: task.EndedAt, Due: task.Due, Until: task.RetryAt}
	if rungs > 0 {
		step.After = []int{rungs - 1}
	}
	for _, key := range task.Waits() {
		step.After = append(step.After, index[key])
	}
	if task.Kind == plan.Manual || task.Effort != "" {
		shown.Work = c.f.Company.TeamHours(task.Team, o.Promise.Calendar())
	}
	if task.Of == "" {
		step.Effort = calendar.Length{Open: plan.UsualEffort}
		if length, err := calendar.ParseLength(task.Effort); err == nil && task.Effort != "" {
			step.Effort = length
		}
	} else {
		step.Effort, step.Measured = o.Plan.Effort(task.Of), c.m.Task(task.Of)
		if !step.Effort.IsZero() {
			shown.Work = c.f.Company.TeamHours(task.Team, o.Promise.Calendar())
		}
	}
	switch {
	case !step.Ended.IsZero():
		step.Begun = task.ReadyAt
		shown.Needed = task.State != plan.Skipped && task.State != plan.Stopped
	case task.State == plan.Stuck && task.Undo == nil:
		step.Begun = task.StuckAt
		step.Measured = nil
		if task.Of != "" {
			step.Measured = c.m.Rescue(task.Of)
		}
		step.Unknown = len(step.Measured) < plan.EnoughMeasured
		shown.Stuck = step.Unknown
	case task.State == plan.Blocked && task.Of != "":
		c.ahead(task, valuesOf(task), &step, &shown)
	case task.Kind == plan.Wait:
		step.Begun, step.Until = task.ReadyAt, task.Until
		step.Pause = c.promised.PausedBy(task.Of)
	case len(step.Measured) >= plan.EnoughMeasured, task.Kind == plan.Automatic:
		step.Begun = task.ReadyAt
	default:
		step.Begun = task.TakenAt
	}
	c.add(step, shown)
}

// ahead computes a task of the plan that has not begun: whether it will be needed,
// when it is due by a date that is known already, and how long it waits.
func (c *forecasting) ahead(task *Task, values rule.Values, step *plan.Step, shown *ForecastStep) {
	o := c.f.Offering
	if !o.Plan.Foreseen(task.Of, values) {
		step.Effort, step.Measured, shown.Needed = calendar.Length{}, nil, false
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
	step.Pause = c.promised.PausedBy(task.Of)
	if of.Wait.Of == "" && slices.Contains(task.Waits(), of.Wait.Moment.Task) { // so many working days after that
		step.Effort, shown.Work = calendar.Length{Days: of.Wait.Days}, clocks.Work
	}
}

// forecast puts the steps in time. What the promise's clock will stand still for
// counts in its due instant from the start.
func (c *forecasting) forecast(clock promise.Clock, timed bool, promised *promise.Promised) Forecast {
	out := Forecast{Steps: c.shown}
	if promised != nil {
		out.Day = promised.Day
	}
	out.Ahead, out.Due = c.due(clock, timed)
	out.Timetable = plan.Schedule(c.steps, c.f.Now, out.Due)
	if due := out.Due; !due.IsZero() {
		out.Slack = c.f.Offering.Promise.CalendarOf(*promised).Between(out.Finish, due)
	}
	return out
}

// due is when the promise is due, with the pauses that are known ahead.
func (c *forecasting) due(clock promise.Clock, timed bool) (ahead []promise.Pause, due time.Time) {
	if !timed {
		return nil, time.Time{}
	}
	for _, wait := range plan.Waits(c.steps, c.f.Now) {
		ahead = append(ahead, promise.Pause{From: wait.Start, Until: wait.Finish})
	}
	return ahead, clock.Knowing(ahead).Read(c.f.Now).Due
}

// leastInterval is the shortest time after which a forecast is worked out anew
// though nothing has happened.
const leastInterval = time.Minute

// Next is when a forecast is to be worked out anew though nothing has happened since the
// last event: at the next foreseen step. What takes longer than foreseen is foreseen for
// now, again and again: at growing intervals.
func (f Forecast) Next(last, now time.Time) time.Time {
	var next time.Time
	for _, slot := range f.Slots {
		for _, at := range []time.Time{slot.Start, slot.Finish} {
			if at.After(now) && (next.IsZero() || at.Before(next)) {
				next = at
			}
		}
	}
	if soonest := now.Add(max(leastInterval, now.Sub(last)/10)); next.IsZero() || next.Before(soonest) {
		next = soonest
	}
	return next.Truncate(time.Millisecond)
}

// Fulfilment is the clock of the promised delivery; false when nothing is
// promised.
func (s *State) Fulfilment(o *offering.Compiled) (promise.Clock, bool) {
	if s.Promise == nil {
		return promise.Clock{}, false
	}
	return o.Promise.Fulfilment(*s.Promise, s.Pauses, s.stop()).Ended(s.ended(FulfilmentClock)), true
}

// eachClock goes through the clocks of the promise, that of the first word first.
func (s *State) eachClock(o *offering.Compiled, each func(ClockKind, promise.Clock)) {
	if clock, ok := s.Response(o); ok {
		each(ResponseClock, clock)
	}
	if clock, ok := s.Fulfilment(o); ok {
		each(FulfilmentClock, clock)
	}
}

// LateFrom is the first open instant after the promise is due: from then on it is
// late. Zero when nothing is due.
func (s *State) LateFrom(o *offering.Compiled, due time.Time) time.Time {
	if due.IsZero() || s.Promise == nil || !s.Promise.ReadyBy.IsZero() {
		return due
	}
	at, err := o.Promise.CalendarOf(*s.Promise).NextOpen(due)
	if err != nil {
		return due
	}
	return at
}

// ended is what a clock showed when it ended; nil when it runs, or was not kept.
func (s *State) ended(clock ClockKind) *promise.End {
	if end, ok := s.Ends[clock]; ok {
		return &end
	}
	return nil
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
	clock, ok := o.Promise.Response(*s.Promise, s.Pauses, stop)
	return clock.Ended(s.ended(ResponseClock)), ok
}

// stop is what stopped the clock of the delivery: the delivery, the end of the
// tasks the promise names, or another end of the request.
func (s *State) stop() promise.Stop {
	if len(s.Promise.Until) > 0 {
		var last time.Time
		for i := range s.Tasks {
			t := &s.Tasks[i]
			if !slices.Contains(s.Promise.Until, t.Of) && t.Back == 0 { // what was sent back has to be put right
				continue
			}
			if s.doneAgain(i) {
				continue
			}
			if t.State != plan.Done && t.State != plan.Skipped { // it is open, or the request ended first
				return s.over()
			}
			if t.LeftOut != "" { // a promise is kept only for work that was done
				continue
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
