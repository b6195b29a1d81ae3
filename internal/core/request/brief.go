package request

import (
	"time"

	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

// Brief is the state with no more than a line in a list says of it: what it is and how it
// ended, who decided how, and while it is under way with whom it lies and what they have to
// do. What was answered and what has come out of the work are no part of it; nothing can be
// decided on it.
func (s *State) Brief() State {
	b := State{
		ID: s.ID, Reference: s.Reference, Offering: s.Offering, Version: s.Version, Title: s.Title, Service: s.Service, Asker: s.Asker, For: s.For, Shared: s.Shared,
		Status: s.Status, Outcome: s.Outcome, Stages: s.Stages, Price: s.Price, Together: s.Together, Urging: s.Urging, Seq: s.Seq, At: s.At,
	}
	for _, r := range s.Rungs {
		r.Say, r.Note, r.Facts = "", "", nil
		b.Rungs = append(b.Rungs, r)
	}
	if s.Status == Closed {
		b.Price.Lines = []price.Line{}
		return b
	}
	b.Question, b.Foreseen, b.Followers, b.Warned, b.Links = s.Question, s.Foreseen, s.Followers, s.Warned, s.Awaits()
	for _, t := range s.Tasks {
		if t.State.Ended() && t.Undo == nil {
			b.Tasks = append(b.Tasks, Task{Key: t.Key, Name: t.Name, Kind: t.Kind, Team: t.Team, State: t.State, Confirmers: t.Confirmers})
			continue
		}
		t.Slice, t.MustDos = nil, nil
		if len(t.Confirmers) == 0 { // who confirms a part reads them in a list
			t.Instructions = ""
		}
		b.Tasks = append(b.Tasks, t)
	}
	return b
}

// Outlook is what lists say of a forecast.
type Outlook struct {
	Finish   time.Time     `json:"finish,omitzero"` // likely; zero for nothing to foresee
	Sure     time.Time     `json:"sure,omitzero"`   // done by then in four of five cases
	Unknown  bool          `json:"unknown,omitempty"`
	Measured bool          `json:"measured,omitempty"`
	StuckOn  []string      `json:"stuckOn,omitempty"`  // names of what is stuck
	Critical []string      `json:"critical,omitempty"` // keys of the tasks that the finish hangs on
	Due      time.Time     `json:"due,omitzero"`       // of the promise
	Day      string        `json:"day,omitempty"`      // of the answers, before which it is promised to be ready; RFC 3339
	Slack    time.Duration `json:"slack,omitempty"`    // from the likely finish to the due instant, in open time
}

// Outlook is what lists say of it.
func (f Forecast) Outlook() Outlook {
	o := Outlook{Finish: f.Finish, Sure: f.Sure, Unknown: f.Unknown, Measured: f.Measured, Due: f.Due, Day: f.Day, Slack: f.Slack}
	for i, step := range f.Steps {
		if step.Stuck {
			o.StuckOn = append(o.StuckOn, step.Name)
		}
		if step.Rung == "" && step.State != plan.Blocked && !step.State.Ended() && f.Slots[i].Critical {
			o.Critical = append(o.Critical, step.Task)
		}
	}
	return o
}

// TooLate reports whether it will likely be done after it is due.
func (o Outlook) TooLate() bool { return !o.Unknown && !o.Due.IsZero() && o.Finish.After(o.Due) }
