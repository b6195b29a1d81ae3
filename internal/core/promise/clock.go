package promise

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/rule"
)

// Promised is what is promised for one request, fixed when it is sent.
type Promised struct {
	Name       string    `json:"name"`
	Response   string    `json:"response,omitempty" doc:"Working time, such as 4h or 1d"`
	Fulfilment string    `json:"fulfilment"`
	Calendar   string    `json:"calendar,omitempty" doc:"Key; empty for that of the promise"`
	From       time.Time `json:"from" doc:"When the clock starts; zero while that is not known"`
	Until      []string  `json:"until,omitempty" doc:"Keys of the tasks whose end it runs to; the delivery when there are none"`
	Pauses     []string  `json:"pauses,omitempty" doc:"Keys of the tasks during which it stands still"`
}

// Promised gives the first target that fits, with the clock started as far as
// sending starts it; nil when nothing is promised. A rule that hangs on a
// missing answer does not fit.
func (c *Compiled) Promised(values rule.Values, sent time.Time) *Promised {
	for _, t := range c.targets {
		if t.when != nil {
			if holds, err := t.when.Holds(values, false); err != nil || !holds {
				continue
			}
		}
		p := &Promised{Name: t.Name, Response: t.Response, Fulfilment: t.Fulfilment, Calendar: t.Calendar, Until: t.Until, Pauses: c.pauses}
		if t.from != nil {
			if value, err := t.from.Eval(values); err == nil {
				p.From = c.instant(value, p)
			}
		}
		if p.From.IsZero() && c.starts != OnDecision {
			p.From = c.begins(sent, p)
		}
		return p
	}
	return nil
}

// Decided starts a clock that the decision starts; it gives when.
func (c *Compiled) Decided(p *Promised, at time.Time) time.Time {
	if p == nil || !p.From.IsZero() {
		return time.Time{}
	}
	return c.begins(at, p)
}

// instant reads a date, as its opening, or an instant.
func (c *Compiled) instant(value rule.Value, p *Promised) time.Time {
	if at, ok := rule.As[time.Time](value); ok {
		return at.UTC().Truncate(time.Millisecond)
	}
	day, ok := rule.As[calendar.Date](value)
	if !ok {
		return time.Time{}
	}
	work := c.calendarOf(p)
	at, err := work.NextOpen(day.In(work.Zone()))
	if err != nil {
		return day.In(work.Zone()).UTC()
	}
	return at
}

// begins is from when on something sent at an instant counts: after the daily
// cut-off from the opening of the next working day.
func (c *Compiled) begins(at time.Time, p *Promised) time.Time {
	work := c.calendarOf(p)
	local := at.In(work.Zone())
	midnight := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, work.Zone())
	clock := time.Duration(local.Hour())*time.Hour + time.Duration(local.Minute())*time.Minute + time.Duration(local.Second())*time.Second
	if c.cutOff == 0 || clock < c.cutOff {
		return at
	}
	next, err := work.NextOpen(midnight.AddDate(0, 0, 1))
	if err != nil {
		return at
	}
	return next
}

func (c *Compiled) calendarOf(p *Promised) *calendar.Calendar {
	if named, ok := c.hours[p.Calendar]; ok {
		return named
	}
	return c.calendar
}

// Pause is a time in which a clock stands still.
type Pause struct {
	From  time.Time `json:"from"`
	Until time.Time `json:"until"` // zero while it lasts
}

// Clock measures one promised time of one request. It keeps nothing: all it
// tells follows from the events it is made from.
type Clock struct {
	work    *calendar.Calendar
	target  calendar.Length
	from    time.Time
	pauses  []Pause
	stopped time.Time
	kept    bool // whether it was stopped by what it measures
}

// Stop is what ended a clock.
type Stop struct {
	At  time.Time // zero while it runs
	End bool      // the request ended without what was promised
}

// Fulfilment is the clock of the delivery.
func (c *Compiled) Fulfilment(p Promised, pauses []Pause, stop Stop) Clock {
	return c.clock(p, p.Fulfilment, pauses, stop)
}

// Response is the clock of staff's first word; false when none is promised.
func (c *Compiled) Response(p Promised, pauses []Pause, stop Stop) (Clock, bool) {
	return c.clock(p, p.Response, pauses, stop), p.Response != ""
}

func (c *Compiled) clock(p Promised, length string, pauses []Pause, stop Stop) Clock {
	target, err := calendar.ParseLength(length)
	if err != nil {
		target = calendar.Length{}
	}
	return Clock{work: c.calendarOf(&p), target: target, from: p.From, pauses: pauses, stopped: stop.At, kept: !stop.End}
}

// State says how a clock stands.
type State string

// The states of a clock.
const (
	Before  State = "before"  // it has not started
	Running State = "running" // it may be late already
	Paused  State = "paused"
	Kept    State = "kept"
	Missed  State = "missed" // it was stopped too late
	Over    State = "over"   // the request ended without what was promised
)

// Reading is what a clock shows at an instant.
type Reading struct {
	State  State
	Due    time.Time     // while it is paused: if it went on now; zero before it starts
	Used   time.Duration // open time
	Left   time.Duration // open time until it is due; negative when it is late
	Share  float64       // of the target that is used; above 1 when it is late
	Since  time.Time     // of the pause
	Late   bool
	Pauses []Pause // those since it started, the last perhaps still open
}

// Read reads the clock. Used time is open time between the start and now
// without the pauses; a target in working days is reckoned in positions of the
// day (rules.md 1), and what is left of it in parts of a day.
func (c Clock) Read(now time.Time) Reading {
	if c.from.IsZero() || c.stopped.IsZero() && now.Before(c.from) {
		return Reading{State: Before}
	}
	r := Reading{State: Running}
	end := now
	if !c.stopped.IsZero() {
		end = c.stopped
	}
	at, days := c.from, 0.0
	run := func(until time.Time) {
		if until.After(end) {
			until = end
		}
		if !until.After(at) {
			return
		}
		r.Used += c.work.Between(at, until)
		if d, err := c.work.DaysBetween(at, until); err == nil {
			days += d
		}
		at = until
	}
	for _, p := range c.pauses {
		if !p.From.Before(end) || !p.Until.IsZero() && !p.Until.After(c.from) {
			continue
		}
		if due := c.due(r.Used, days, at); r.Due.IsZero() && !due.After(p.From) {
			r.Due = due // no later pause moves what was due before it
		}
		run(p.From)
		r.Pauses = append(r.Pauses, p)
		if p.Until.IsZero() || p.Until.After(end) {
			r.State, r.Since, at = Paused, p.From, end
			break
		}
		if p.Until.After(at) {
			at = p.Until
		}
	}
	if r.Due.IsZero() {
		r.Due = c.due(r.Used, days, at)
	}
	run(end)
	if c.target.Days > 0 {
		r.Share = days / float64(c.target.Days)
	} else if c.target.Open > 0 {
		r.Share = float64(r.Used) / float64(c.target.Open)
	}
	r.Late = end.After(r.Due)
	r.Left = c.work.Between(end, r.Due)
	switch {
	case c.stopped.IsZero():
	case !c.kept:
		r.State = Over
	case r.Late:
		r.State = Missed
	default:
		r.State = Kept
	}
	return r
}

// due is when the target is reached when the clock goes on from an instant
// with so much used.
func (c Clock) due(used time.Duration, days float64, at time.Time) time.Time {
	var due time.Time
	var err error
	switch {
	case c.target.Days > 0 && days == 0:
		due, err = c.work.AddDays(at, c.target.Days)
	case c.target.Days > 0:
		due, err = c.work.AddShare(at, float64(c.target.Days)-days)
	default:
		due, err = c.work.Add(at, c.target.Open-used)
	}
	if err != nil {
		return at.AddDate(0, 0, c.target.Days).Add(c.target.Open - used)
	}
	return due.Truncate(time.Millisecond)
}

// CalendarOf is the calendar that a promise of a request is reckoned in.
func (c *Compiled) CalendarOf(p Promised) *calendar.Calendar { return c.calendarOf(&p) }

// PausedBy tells whether a task of a plan lets the clock stand still.
func (p *Promised) PausedBy(task string) bool { return p != nil && slices.Contains(p.Pauses, task) }
