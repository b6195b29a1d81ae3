package request

import (
	"slices"
	"time"

	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// HoldUp is what a request waits for.
type HoldUp struct {
	What  string   // name of the rung or the task
	Who   []Holder // with whom it lies
	Since time.Time
	Open  time.Duration // open time since then
	Stuck bool
}

// HeldUp finds what a request waits for: a rung that is open, else what is stuck,
// else of what is in hand the step that the finish hangs on, else the one that has
// waited longest. It is false when nothing is in hand. Home is the key of the home
// team of its service.
func (s *State) HeldUp(o Outlook, c *offering.Compiled, company *people.Directory, home string, now time.Time) (HoldUp, bool) {
	if r, open := s.OpenRung(); open {
		return HoldUp{What: r.Name, Who: s.Holders(home), Since: r.Opened, Open: c.Promise.Calendar().Between(r.Opened, now)}, true
	}
	var found *Task
	pressing := 0
	for i := range s.Tasks {
		t := &s.Tasks[i]
		if t.State.Ended() || t.State == plan.Blocked {
			continue
		}
		presses := 0
		if t.State == plan.Stuck {
			presses = 2
		} else if slices.Contains(o.Critical, t.Key) {
			presses = 1
		}
		if found == nil || presses > pressing || presses == pressing && t.ReadyAt.Before(found.ReadyAt) {
			found, pressing = t, presses
		}
	}
	if found == nil {
		return HoldUp{}, false
	}
	out := HoldUp{What: found.Name, Since: found.ReadyAt, Stuck: found.State == plan.Stuck}
	out.Open = company.TeamHours(found.Team, c.Promise.Calendar()).Between(found.ReadyAt, now)
	if h, known := found.holder(s.Asker, s.Status == Undoing); known {
		out.Who = []Holder{h}
	}
	return out, true
}
