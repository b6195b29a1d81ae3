package request

import (
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
)

// Part says what of an offering took so long.
type Part int

// The parts that are measured, as Measures gives them.
const (
	OfTask Part = iota
	OfRescue
	OfRung
)

// Lesson is how long one thing took.
type Lesson struct {
	Part Part
	Key  string // in the plan, or the ladder
	Took time.Duration
}

// Learned is how long what events have ended took, in the open time of who did it. The
// state is the one after them.
func (s *State) Learned(events []Event, f Facts) []Lesson {
	var all []Lesson
	for _, e := range events {
		switch b := e.Body.(type) {
		case TaskDone:
			t, _ := s.Task(b.Task)
			of, ok := f.Offering.Plan.Task(t.Of)
			if !ok || b.Reason != "" || of.Kind == plan.Wait {
				continue
			}
			work := f.Company.TeamHours(t.Team, f.Offering.Promise.Calendar())
			if t.StuckAt.IsZero() {
				all = append(all, Lesson{OfTask, t.Of, max(0, work.Between(t.ReadyAt, e.At))})
			} else {
				all = append(all, Lesson{OfRescue, t.Of, max(0, work.Between(t.StuckAt, e.At))})
			}
		case RungEnded:
			for _, r := range s.Rungs {
				if r.Key == b.Rung && b.Outcome == ladder.Passed {
					all = append(all, Lesson{OfRung, r.Key, max(0, f.Offering.Promise.Calendar().Between(r.Opened, e.At))})
				}
			}
		}
	}
	return all
}
