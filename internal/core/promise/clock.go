package promise

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
)

// Why a clock stands still; else it is the key of a task of the plan.
const (
	ForAsker  = "!asker" // a question waits for who asked
	Delivered = "!back"  // all work was done, before it was sent back
)

// Pause is a time in which a clock stands still.
type Pause struct {
	From  time.Time `json:"from"`
	Until time.Time `json:"until"` // zero while it lasts
	Why   string    `json:"why,omitempty"`
}

// Clock measures one promised time of one request. It keeps nothing: all it
// tells follows from the events it is made from.
type Clock struct {
	work    *calendar.Calendar
	target  calendar.Length
	readyBy time.Time // a fixed due instant in place of the target; zero for none
	from    time.Time
	pauses  []Pause
	ahead   []Pause
	stopped time.Time
	kept    bool    // whether it was stopped by what it measures
	end     *End    // as it was when it ended
	share   float64 // of the target that is looked at; all of it when 0
}

// End is what a clock showed when it ended. No later change of a calendar changes
// it (rules.md 8).
type End struct {
	At      time.Time `json:"at"`
	Target  string    `json:"target,omitempty"` // such as 8h or 5d; empty where it was to be ready by an instant
	Due     time.Time `json:"due"`
	Used    int64     `json:"used"`  // open time, in milliseconds
	Left    int64     `json:"left"`  // open time, in milliseconds; negative when it was late
	Share   float64   `json:"share"` // of the target that was used
	Verdict State     `json:"verdict"`
}

// Ended is the clock with what it showed when it ended; nil when that was not
// kept.
func (c Clock) Ended(e *End) Clock {
	c.end = e
	return c
}

// End is what the clock shows as it ended; false while it runs, or when it never
// started.
func (c Clock) End() (End, bool) {
	if c.stopped.IsZero() {
		return End{}, false
	}
	r := c.Read(c.stopped)
	e := End{At: c.stopped, Due: r.Due, Used: r.Used.Milliseconds(), Left: r.Left.Milliseconds(), Share: r.Share, Verdict: r.State}
	if c.readyBy.IsZero() {
		e.Target = c.target.String()
	}
	return e, r.State != Before
}

// Knowing is the clock with pauses that are still to come, or to end, at instants
// that are known already: they count in the due instant from the start.
func (c Clock) Knowing(ahead []Pause) Clock {
	c.ahead = slices.SortedFunc(slices.Values(ahead), func(a, b Pause) int { return a.From.Compare(b.From) })
	return c
}

// Stop is what ended a clock.
type Stop struct {
	At  time.Time // zero while it runs
	End bool      // the request ended without what was promised
}

// Fulfilment is the clock of the delivery.
func (c *Compiled) Fulfilment(p Promised, pauses []Pause, stop Stop) Clock {
	clock := c.clock(p, p.Fulfilment, pauses, stop)
	clock.readyBy = p.ReadyBy
	return clock
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

// All lists them in their order.
func (State) All() []State { return []State{Before, Running, Paused, Kept, Missed, Over} }

// Reading is what a clock shows at an instant.
type Reading struct {
	State  State
	Due    time.Time     // while it is paused until nobody knows when: if it went on now; zero before it starts
	Used   time.Duration // open time
	Left   time.Duration // open time until it is due; negative when it is late
	Share  float64       // of the target that is used; above 1 when it is late
	Since  time.Time     // of the pause
	Late   bool
	Pauses []Pause // those since it started, the last perhaps still open
}

// Read reads the clock. Used time is open time between the start and now
// without the pauses; a target in working days is computed in positions of the
// day (rules.md 1), and what is left of it in parts of a day. It is late from the
// first open minute on that is more than the target, and kept when it was stopped
// before, whatever the instant. Where something is to be ready by an instant,
// pauses are shown and never move it.
func (c Clock) Read(now time.Time) Reading {
	if c.from.IsZero() || c.stopped.IsZero() && now.Before(c.from) {
		r := Reading{State: Before}
		if c.stopped.IsZero() {
			r.Due = c.readyBy
		}
		return r
	}
	r := Reading{State: Running}
	end := now
	if !c.stopped.IsZero() {
		end = c.stopped
	}
	if !c.readyBy.IsZero() {
		r.Due = c.readyBy
	}
	at, days, over := c.from, 0.0, time.Duration(0)
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
		if beyond := latest(at, r.Due); !r.Due.IsZero() && until.After(beyond) {
			over += c.work.Between(beyond, until)
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
		r.Due = c.dueAhead(r.Used, days, at, end)
	}
	run(end)
	r.Left = c.work.Between(end, r.Due)
	r.Late = over > 0
	switch {
	case !c.readyBy.IsZero():
		r.Late = end.After(c.readyBy)
		r.Share = 1
		if whole := c.work.Between(c.from, c.readyBy); whole > 0 {
			r.Share = float64(c.work.Between(c.from, end)) / float64(whole)
		}
	case c.target.Days > 0:
		r.Share = days / float64(c.target.Days)
	case c.target.Open > 0:
		r.Share = float64(r.Used) / float64(c.target.Open)
	}
	switch {
	case !c.readyBy.IsZero():
	case r.Late:
		r.Left = -over
	default:
		r.Left = max(0, r.Left) // what went by after it was due stood still
	}
	if e := c.end; e != nil {
		r.Due, r.Used, r.Left, r.Share, r.Late = e.Due, time.Duration(e.Used)*time.Millisecond, time.Duration(e.Left)*time.Millisecond, e.Share, e.Left < 0
		r.State = e.Verdict
		return r
	}
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

// dueAhead is when the target is reached when the clock goes on from an instant
// with so much used, and stands still in the pauses that are known already.
func (c Clock) dueAhead(used time.Duration, days float64, at, now time.Time) time.Time {
	if c.stopped.IsZero() {
		for _, p := range c.ahead {
			from := latest(p.From, now)
			if !p.Until.After(from) || !p.Until.After(at) {
				continue
			}
			if due := c.due(used, days, at); !due.After(from) {
				return due
			}
			if from.After(at) {
				used += c.work.Between(at, from)
				if d, err := c.work.DaysBetween(at, from); err == nil {
					days += d
				}
			}
			at = p.Until
		}
	}
	return c.due(used, days, at)
}

func latest(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// due is when the target is reached when the clock goes on from an instant
// with so much used.
func (c Clock) due(used time.Duration, days float64, at time.Time) time.Time {
	whole, open := float64(c.target.Days), c.target.Open
	if c.share > 0 {
		whole, open = whole*c.share, time.Duration(float64(open)*c.share)
	}
	var due time.Time
	var err error
	switch {
	case c.target.Days > 0 && days == 0 && c.share == 0:
		due, err = c.work.AddDays(at, c.target.Days)
	case c.target.Days > 0:
		due, err = c.work.AddShare(at, whole-days)
	default:
		due, err = c.work.Add(at, open-used)
	}
	if err != nil {
		return at.AddDate(0, 0, c.target.Days).Add(c.target.Open - used)
	}
	return due.Truncate(time.Millisecond)
}
