package request

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
)

// Went says where the time of an ended clock went, as open time in milliseconds.
type Went struct {
	Deciding int64 `json:"deciding,omitempty"` // of what is used, until it was decided
	Working  int64 `json:"working,omitempty"`  // of what is used, from then on
	Asker    int64 `json:"asker,omitempty"`    // it stood still and waited for who asks
	Set      int64 `json:"set,omitempty"`      // it stood still in a task that the promise names: a time or a place was waited for
}

// went says where the time of a clock went that reads so, until an instant.
func (s *State) went(work *calendar.Calendar, r promise.Reading, until time.Time) Went {
	decided, is := s.Stages["decided"]
	if !is || decided.After(until) {
		decided = until
	}
	deciding := work.Between(s.Promise.From, later(decided, s.Promise.From))
	var asker, set time.Duration
	for _, p := range r.Pauses {
		end := p.Until
		if end.IsZero() || end.After(until) {
			end = until
		}
		from := later(p.From, s.Promise.From)
		stood := max(0, work.Between(from, end))
		switch p.Why {
		case promise.ForAsker:
			asker += stood
		case promise.Delivered:
		default:
			set += stood
		}
		if from.Before(decided) {
			deciding -= work.Between(from, earlier(end, decided))
		}
	}
	deciding = max(0, deciding)
	return Went{deciding.Milliseconds(), max(0, r.Used-deciding).Milliseconds(), asker.Milliseconds(), set.Milliseconds()}
}

// endOf is the event of a clock that has just ended.
func (s *State) endOf(o *offering.Compiled, kind ClockKind, clock promise.Clock, end promise.End) ClockEnded {
	ended := ClockEnded{Clock: kind, End: end}
	if kind == FulfilmentClock {
		went := s.went(o.Promise.CalendarOf(*s.Promise), clock.Read(end.At), end.At)
		ended.Went = &went
	}
	return ended
}

// setDue says when the promise is due now, where that is another time than was said last.
// While its clock stands still nobody knows it.
func (t meter) setDue() {
	s := &t.state
	if !s.Status.Promising() || t.facts.Offering == nil {
		return
	}
	if n := len(s.Pauses); n > 0 && s.Pauses[n-1].Until.IsZero() {
		return
	}
	var set DueSet
	if clock, ok := s.Fulfilment(t.facts.Offering); ok {
		if _, ended := clock.End(); ended {
			return
		}
		set.Due = clock.Read(t.facts.Now).Due
		set.Late = s.LateFrom(t.facts.Offering, set.Due)
	}
	if !set.Due.Equal(s.DueAt) || !set.Late.Equal(s.LateAt) {
		t.emit(set)
	}
}

func (b DueSet) apply(s *State, _ Event) { s.DueAt, s.LateAt = b.Due, b.Late }

// open is the time since an instant by the calendar of the promise, in milliseconds.
func (t meter) open(since time.Time) int64 {
	if since.IsZero() || t.facts.Offering == nil {
		return 0
	}
	return max(0, t.facts.Offering.Promise.Calendar().Between(since, t.facts.Now)).Milliseconds()
}
