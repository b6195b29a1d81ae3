package request

import (
	"time"

	"heptad/internal/core/promise"
)

// Replay makes the state from all events of a request.
func Replay(events []Event) State {
	var s State
	for _, e := range events {
		s.Apply(e)
	}
	return s
}

// AsKeptBefore is a replayed state without what an older program did not make of the same
// events, where what it kept does not have that: why a clock stood still, with a pause of its
// own for each reason, why a request has ended, and since when a task stands as it does.
func (s State) AsKeptBefore(kept State) State {
	older := func(i int) bool { return i < len(kept.Pauses) && kept.Pauses[i].Why == "" }
	var pauses []promise.Pause
	for _, p := range s.Pauses {
		n := len(pauses)
		if n > 0 && older(n-1) && pauses[n-1].Until.Equal(p.From) && !(n < len(kept.Pauses) && kept.Pauses[n].From.Equal(p.From)) {
			pauses[n-1].Until = p.Until
			continue
		}
		if older(n) {
			p.Why = ""
		}
		pauses = append(pauses, p)
	}
	s.Pauses = pauses
	for i := range s.Tasks {
		if i < len(kept.Tasks) && kept.Tasks[i].Since.IsZero() {
			s.Tasks[i].Since = time.Time{}
		}
	}
	if kept.Why == "" {
		s.Why = ""
	}
	return s
}
