package request

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
)

// PromiseLine is how the clock of a promised time stands, as a line from its start
// to when it is due, or later.
type PromiseLine struct {
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
	Parts  []LinePart    `json:"parts" nullable:"false" doc:"Of the line, from 0 to 1"`
	End    *float64      `json:"end,omitempty" doc:"Where on the line it is due"`
	Likely *float64      `json:"likely,omitempty" doc:"Where on the line it is likely to be done"`
	Sure   *float64      `json:"sure,omitempty"`

	Counted Counted `json:"counted" doc:"How it came to what it shows"`

	Response *ResponseReading `json:"response,omitempty" doc:"The clock of staff's first word, when one is promised"`
}

// Counted says where the time of a clock went, in open minutes.
type Counted struct {
	From     *time.Time  `json:"from,omitempty" doc:"Since when it counts"`
	Asker    int         `json:"asker" doc:"It stood still and waited for who asks"`
	Deciding int         `json:"deciding" doc:"Of what is used, until it was decided"`
	Us       int         `json:"us" doc:"Of what is used, from then on"`
	Pauses   []PauseLine `json:"pauses" nullable:"false" doc:"The last twenty"`
}

// PauseLine is a time in which a clock stood still.
type PauseLine struct {
	From  time.Time  `json:"from"`
	Until *time.Time `json:"until,omitempty" doc:"Left out while it lasts"`
	Why   string     `json:"why" doc:"In words"`
}

// mostPauses is how many pauses of a clock are told.
const mostPauses = 20

// counted tells where the time of a clock went that reads so, until an instant.
func (s *State) counted(c *offering.Compiled, r promise.Reading, until time.Time) Counted {
	out := Counted{From: orNil(s.Promise.From), Pauses: []PauseLine{}}
	if r.State == promise.Before {
		return out
	}
	work := c.Promise.CalendarOf(*s.Promise)
	went := s.went(work, r, until)
	for _, p := range r.Pauses {
		out.Pauses = append(out.Pauses, PauseLine{From: p.From, Until: orNil(p.Until), Why: s.whyPaused(p, c)})
	}
	out.Pauses = out.Pauses[max(0, len(out.Pauses)-mostPauses):]
	minutes := func(ms int64) int { return int(ms / time.Minute.Milliseconds()) }
	out.Asker, out.Deciding = minutes(went.Asker), minutes(went.Deciding)
	out.Us = max(0, int(r.Used.Minutes())-out.Deciding)
	return out
}

// whyPaused says why a clock stood still.
func (s *State) whyPaused(p promise.Pause, c *offering.Compiled) string {
	switch p.Why {
	case promise.ForAsker:
		return "a question waited for an answer"
	case promise.Delivered:
		return "all was done, until it was sent back"
	}
	if t, ok := c.Plan.Task(p.Why); ok {
		return t.Name
	}
	return "it waited"
}

func earlier(a, b time.Time) time.Time {
	if b.Before(a) {
		return b
	}
	return a
}

// ResponseReading is how the clock of staff's first word stands.
type ResponseReading struct {
	State promise.State `json:"state"`
	Due   *time.Time    `json:"due,omitempty"`
	Late  bool          `json:"late"`
}

// LinePart is a stretch of the line.
type LinePart struct {
	Kind string  `json:"kind" enum:"gone,paused,left"`
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// PromiseLine reads the clock of the promised delivery; nil when nothing is
// promised. The forecast may be nil.
func (s *State) PromiseLine(c *offering.Compiled, f *Forecast, now time.Time) *PromiseLine {
	clock, ok := s.Fulfilment(c)
	if !ok {
		return nil
	}
	if f != nil {
		clock = clock.Knowing(f.Ahead)
	}
	r := clock.Read(now)
	target := s.Promise.Fulfilment
	if l, err := calendar.ParseLength(target); err == nil {
		target = l.Words()
	}
	out := &PromiseLine{
		Name: s.Promise.Name, Target: target, State: r.State, Due: orNil(r.Due), Used: int(r.Used.Minutes()), Left: int(r.Left.Minutes()),
		Day: s.Promise.Day, Share: r.Share, Late: r.Late, Since: orNil(r.Since), Parts: []LinePart{},
	}
	if first, ok := s.Response(c); ok {
		read := first.Read(now)
		out.Response = &ResponseReading{read.State, orNil(read.Due), read.Late}
	}
	end := now
	if stop := s.stop().At; !stop.IsZero() {
		end = stop
	}
	out.Counted = s.counted(c, r, end)
	if r.State == promise.Before || r.Due.IsZero() {
		return out
	}
	work, from := c.Promise.CalendarOf(*s.Promise), s.Promise.From
	last := later(r.Due, end)
	if f != nil && r.State != promise.Kept && r.State != promise.Missed {
		last = later(last, f.Sure)
	}
	whole := work.Between(from, last)
	place := func(t time.Time) float64 {
		if whole <= 0 {
			return 1
		}
		return max(0, min(1, float64(work.Between(from, t))/float64(whole)))
	}
	out.Parts = lineParts(r.Pauses, from, end, last, place)
	due := place(r.Due)
	out.End = &due
	if f != nil && !f.Unknown && (r.State == promise.Running || r.State == promise.Paused) {
		likely, sure := place(f.Finish), place(f.Sure)
		out.Likely, out.Sure = &likely, &sure
	}
	return out
}

// lineParts are the stretches of a line from an instant until it ends, and what is
// left until the last.
func lineParts(pauses []promise.Pause, from, end, last time.Time, place func(time.Time) float64) []LinePart {
	parts, at := []LinePart{}, from
	part := func(kind string, until time.Time) {
		if !until.After(at) {
			return
		}
		if place(until) > place(at) {
			parts = append(parts, LinePart{kind, place(at), place(until)})
		}
		at = until
	}
	for _, p := range pauses {
		part("gone", p.From)
		until := p.Until
		if until.IsZero() || until.After(end) {
			until = end
		}
		part("paused", until)
	}
	part("gone", end)
	part("left", last)
	return parts
}

func later(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// orNil is nil for no instant.
func orNil(t time.Time) *time.Time {
	if t.IsZero() {
		return nil
	}
	return &t
}
