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
	Fulfilment string    `json:"fulfilment,omitempty" doc:"Working time, such as 8h or 5d; empty where it is to be ready by an instant"`
	Calendar   string    `json:"calendar,omitempty" doc:"Key; empty for that of the promise"`
	From       time.Time `json:"from" doc:"When the clock starts; zero while that is not known"`
	Until      []string  `json:"until,omitempty" doc:"Keys of the tasks whose end it runs to; the delivery when there are none"`
	Pauses     []string  `json:"pauses,omitempty" doc:"Keys of the tasks during which it stands still"`

	ReadyBy time.Time `json:"readyBy,omitzero" doc:"Instant by which it is to be ready, which no pause moves"`
	Day     string    `json:"day,omitempty" doc:"Of the answers, before which it is to be ready; RFC 3339"`
}

// Promised gives the first target that fits, with the clock started as far as
// sending starts it; nil when nothing is promised. A rule that hangs on a
// missing answer does not fit.
func (c *Compiled) Promised(values rule.Values, sent time.Time) *Promised {
	today := c.Today(sent)
	for _, t := range c.targets {
		if !t.fits(today, values) {
			continue
		}
		p := &Promised{Name: t.Name, Response: t.Response, Fulfilment: t.Fulfilment, Calendar: t.Calendar, Until: t.Until, Pauses: c.pauses}
		if t.ReadyBy != nil && !c.readyBy(t, values, p) {
			continue
		}
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

// readyBy computes by when it is to be ready: at the clock time that the target
// names, else at the close of the day so many working days before the date, or at
// its opening when it is the date itself. False while the date is not answered.
func (c *Compiled) readyBy(t compiledTarget, values rule.Values, p *Promised) bool {
	value, err := t.ready.Eval(values)
	day, ok := rule.As[calendar.Date](value)
	if err != nil || !ok {
		return false
	}
	work := c.calendarOf(p)
	on := day
	if t.ReadyBy.Days > 0 {
		if on, err = work.AddWorkdays(day, -t.ReadyBy.Days); err != nil {
			return false
		}
	}
	p.Day = day.String()
	open := work.Open(on)
	switch {
	case t.ReadyBy.At != "":
		midnight := on.In(work.Zone())
		p.ReadyBy = time.Date(midnight.Year(), midnight.Month(), midnight.Day(), int(t.clock.Hours()), int(t.clock.Minutes())%60, 0, 0, work.Zone()).UTC()
	case len(open) == 0: // a closed day: the close before it
		p.ReadyBy, err = work.PrevClose(on.In(work.Zone()))
	case t.ReadyBy.Days > 0:
		p.ReadyBy = open[len(open)-1].Until
	default:
		p.ReadyBy = open[0].From
	}
	return err == nil
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

// CalendarOf is the calendar that a promise of a request is computed in.
func (c *Compiled) CalendarOf(p Promised) *calendar.Calendar { return c.calendarOf(&p) }

// PausedBy reports whether a task of a plan lets the clock stand still.
func (p *Promised) PausedBy(task string) bool { return p != nil && slices.Contains(p.Pauses, task) }
