package request

import (
	"time"

	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
)

// restsFor is how many working days pass before the asker's side is told again that
// it slips.
const restsFor = 3

// Slips reports whether a likely finish is to be noted: it slips by more than a
// working day from what the asker's side knows, or that is not known since an act
// of their own.
func (s *State) Slips(o *offering.Compiled, likely, now time.Time) bool {
	if !s.running() || likely.IsZero() {
		return false
	}
	if s.Likely.IsZero() {
		return true
	}
	work := o.Promise.Calendar()
	days, err := work.DaysBetween(s.Likely, likely)
	if err != nil || days <= 1 {
		return false
	}
	rested, err := work.DaysBetween(s.SlipToldAt, now)
	return s.SlipToldAt.IsZero() || err == nil && rested >= restsFor
}

// foresee notes a likely finish, and has it told when it slips.
func (t *transition) foresee(c Foresee) error {
	if !t.state.Slips(t.facts.Offering, c.Likely, t.facts.Now) {
		return conflict(refusal.NotSlipped, "It does not slip.")
	}
	t.emit(Foretold{Likely: c.Likely.UTC().Truncate(time.Millisecond), Slips: !t.state.Likely.IsZero()})
	return nil
}
