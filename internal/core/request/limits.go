package request

import (
	"fmt"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/refusal"
)

// rungTick is when something falls due by itself on the way to a decision; zero
// when nothing does.
func (s *State) rungTick() time.Time {
	if s.Status == Returned || s.Status == Delivered {
		if s.Reminded < len(s.Remind) {
			return s.Remind[s.Reminded]
		}
		if s.Status == Delivered {
			return time.Time{} // its end has a timer of its own
		}
		return s.Question.Until
	}
	r, open := s.OpenRung()
	if !open {
		return time.Time{}
	}
	for _, reminder := range r.Times.Remind {
		if reminder.Share > r.Reminded {
			return reminder.At
		}
	}
	if r.Reminded < 100 && !r.Times.Limit.IsZero() {
		return r.Times.Limit
	}
	return r.Times.Expire
}

// tick does what has fallen due. Nothing that is due is no refusal: a timer
// that was put off may still come.
func (t *transition) tick() error {
	marks{t}.reachMarks()
	err := t.tickRest()
	if r, refused := AsRefusal(err); refused && r.Code == refusal.NotDue && !t.tasks().nextTick().IsZero() {
		return nil
	}
	return err
}

// tickRest does what has fallen due beside the marks of a promise.
func (t *transition) tickRest() error {
	due := func(at time.Time) bool { return !at.IsZero() && !at.After(t.facts.Now) }
	if t.state.Status == Returned || t.state.Status == Delivered {
		if q := t.state.Question; t.state.Status == Returned && due(q.Until) {
			t.close(RequestClosed{Outcome: Expired, Reason: "Nobody answered the question in time."})
			return nil
		}
		passed := t.state.Reminded
		for passed < len(t.state.Remind) && due(t.state.Remind[passed]) {
			passed++
		}
		if passed > t.state.Reminded { // after an outage one is enough
			t.emit(SideReminded{passed})
			return nil
		}
		return conflict(refusal.NotDue, "Nothing is due.")
	}
	r, open := t.state.OpenRung()
	if !open {
		return t.tasks().tickTasks()
	}
	if !due(t.state.rungTick()) {
		return conflict(refusal.NotDue, "Nothing is due.")
	}
	if due(r.Times.Expire) && (r.Reminded == 100 || r.Times.Limit.IsZero()) { // the limit comes first, after an outage too
		if t.state.Urging != nil {
			t.urged(false)
			return nil
		}
		t.close(RequestClosed{Outcome: Expired, Reason: fmt.Sprintf("Nobody decided %q in time.", r.Name)})
		return nil
	}
	var passed []int
	for _, reminder := range r.Times.Remind {
		if reminder.Share > r.Reminded && due(reminder.At) {
			passed = append(passed, reminder.Share)
		}
	}
	if due(r.Times.Limit) && r.Reminded < 100 {
		return t.limit(r, passed)
	}
	last := len(passed) - 1
	t.emit(RungReminded{r.Key, passed[last], passed[:last]})
	return nil
}

// limit does what happens when nobody decided within the limit of a rung.
func (t *transition) limit(r *Rung, passed []int) error {
	key, rung := r.Key, t.rungOf(r.Key)
	within := "the time set"
	if words := rung.LimitWords(); words != "" {
		within = words
	}
	switch rung.Then {
	case ladder.Approve:
		t.emit(RungEnded{key, ladder.Passed, "Nobody said no within " + within + ".", t.meter().open(r.Opened)})
		t.goOn(key)
		return nil
	case ladder.Decline:
		t.emit(RungEnded{key, ladder.Declined, "Nobody said yes within " + within + ".", t.meter().open(r.Opened)})
		t.goOn(key)
		return nil
	}
	t.emit(RungReminded{key, 100, passed})
	if rung.Then == ladder.Escalate {
		facts := t.ladderFacts()
		for _, seat := range t.state.rung(key).Seats {
			if _, filled := t.state.rung(key).VoteFor(seat); filled {
				continue
			}
			if other, ok := ladder.Escalation(seat.Person, t.state.rung(key).rivals(seat), facts); ok {
				other.Reason += ", as nobody decided within " + within
				t.emit(SeatJoined{key, seat.Person, seat.Part, other})
			}
		}
	}
	return nil
}

// relieve asks somebody else where nobody who is asked can decide.
func (t *transition) relieve() error {
	r, open := t.state.OpenRung()
	if !open {
		return conflict(refusal.Decided, "There is nothing to decide on this request any more.")
	}
	key, facts := r.Key, t.ladderFacts()
	before := len(t.events)
	if len(r.Seats) == 0 {
		if seats, err := ladder.Seats(t.rungOf(key), facts); err == nil {
			t.emit(RungOpened{Rung: key, Name: r.Name, Seats: seats, Times: r.Times, Note: ladder.Reduced(r.Quorum, seats)})
		}
	}
	for _, seat := range t.state.rung(key).Seats {
		if _, filled := t.state.rung(key).VoteFor(seat); filled {
			continue
		}
		for _, person := range ladder.Returned(seat, facts) {
			t.emit(SeatLeft{Rung: key, Seat: seat.Person, Part: seat.Part, Person: person})
		}
		if other, ok := ladder.Relief(seat, t.state.rung(key).rivals(seat), facts); ok {
			t.emit(SeatJoined{key, seat.Person, seat.Part, other})
		}
	}
	if len(t.events) == before {
		return conflict(refusal.NotNeeded, "Everybody who is asked can decide.")
	}
	return nil
}
