package plan

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Clocks are what moments are computed with.
type Clocks struct {
	Work  *calendar.Calendar                  // of the team
	Ended func(task string) (time.Time, bool) // when a task of the plan ended
}

// WaitUntil is the instant at which a wait ends; zero when it only waits for
// its rule, or when nothing is known to compute from. An instant already past
// is given as it is.
func (p *Plan) WaitUntil(key string, values rule.Values, c Clocks) time.Time {
	t := p.task(key)
	at, _ := moment(t.Task.Wait.Moment, t.waitOf, values, c, true)
	return at
}

// WaitOver reports whether the rule of a wait holds.
func (p *Plan) WaitOver(key string, values rule.Values) bool {
	t := p.task(key)
	if t.holds == nil {
		return false
	}
	over, err := t.holds.Holds(values, false)
	return err == nil && over
}

// Due is when a task that became ready at an instant is due, and when its
// holder is reminded; zero when it has no due time of its own.
func (p *Plan) Due(key string, ready time.Time, values rule.Values, c Clocks) (time.Time, []time.Time) {
	t := p.task(key)
	if t.Due == nil {
		return time.Time{}, nil
	}
	at, known := moment(t.Due.Moment, t.dueOf, values, c, false)
	if !known && t.Due.Within != "" {
		if from, err := c.Work.NextOpen(ready); err == nil {
			at, err = c.Work.AddLength(from, t.within)
			known = err == nil
		}
	}
	if !known {
		return time.Time{}, nil
	}
	at = at.Truncate(time.Millisecond)
	return at, t.reminders(at, c.Work)
}

// reminders are the instants so much working time before a task is due.
func (t *compiled) reminders(due time.Time, work *calendar.Calendar) []time.Time {
	var remind []time.Time
	for _, before := range t.remind {
		r, err := work.Latest(due, before.Open) // when somebody is there, not at the beginning of a break
		if before.Days > 0 {
			r, err = work.AddDays(due, -before.Days)
		}
		if err == nil {
			remind = append(remind, r.Truncate(time.Millisecond))
		}
	}
	slices.SortFunc(remind, time.Time.Compare)
	return remind
}

// moment computes an instant. Without a clock time it is the opening of the
// day, or its close; a bare instant with no days is itself.
func moment(m Moment, of *rule.Rule, values rule.Values, c Clocks, opening bool) (time.Time, bool) {
	var day calendar.Date
	zone := c.Work.Zone()
	var exact time.Time
	switch {
	case of != nil:
		value, err := of.Eval(values)
		if err != nil {
			return time.Time{}, false
		}
		if d, ok := rule.As[calendar.Date](value); ok {
			day = d
		} else if at, ok := rule.As[time.Time](value); ok {
			exact = at
		}
	case m.Task != "":
		ended, ok := c.Ended(m.Task)
		if !ok {
			return time.Time{}, false
		}
		exact = ended
	}
	if day.IsZero() {
		if exact.IsZero() {
			return time.Time{}, false
		}
		if m.At == "" && of != nil && m.Days == 0 {
			return exact.UTC().Truncate(time.Millisecond), true
		}
		day = calendar.DateOf(exact.In(zone))
	}
	day, err := c.Work.AddWorkdays(day, m.Days)
	if err != nil {
		return time.Time{}, false
	}
	return onDay(day, m.At, c.Work, opening)
}

// onDay is a clock time on a date, or its opening or close; a date without
// open time opens with the next one, and closed with the one before.
func onDay(day calendar.Date, clock string, work *calendar.Calendar, opening bool) (time.Time, bool) {
	if clock != "" {
		var hour, minute int
		if _, err := fmt.Sscanf(clock, "%d:%d", &hour, &minute); err != nil {
			return time.Time{}, false
		}
		return time.Date(day.Year(), day.Month(), day.Day(), hour, minute, 0, 0, work.Zone()).UTC(), true
	}
	if open := work.Open(day); len(open) > 0 {
		if opening {
			return open[0].From, true
		}
		return open[len(open)-1].Until, true
	}
	find := work.PrevClose
	if opening {
		find = work.NextOpen
	}
	at, err := find(day.In(work.Zone()))
	return at, err == nil
}

// Confirmers lists whom a task asks to confirm; nil when it asks nobody.
func (p *Plan) Confirmers(key string, company *people.Directory, named func(question string) []string) []string {
	t := p.task(key)
	if t.People == nil {
		return nil
	}
	confirmers := []string{}
	add := func(id string) {
		if person, ok := company.Person(id); ok && !person.Former && !slices.Contains(confirmers, id) {
			confirmers = append(confirmers, id)
		}
	}
	if t.People.Team != "" {
		for _, id := range company.Members(t.People.Team) {
			add(id)
		}
	}
	if t.People.Question != "" {
		for _, login := range named(t.People.Question) {
			if person, ok := company.ByLogin(login); ok {
				add(person.ID)
			}
		}
	}
	return confirmers
}

// Silence is when a task that asks many ends all the same; zero for never.
func (p *Plan) Silence(key string, ready time.Time, work *calendar.Calendar) time.Time {
	t := p.task(key)
	if t.People == nil || t.silence.IsZero() {
		return time.Time{}
	}
	at, err := work.AddLength(ready, t.silence)
	if err != nil {
		return time.Time{}
	}
	return at.Truncate(time.Millisecond)
}
