package request

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

func (b TaskAdded) apply(s *State, e Event) {
	s.Tasks = append(slices.Clip(s.Tasks), b.Task)
	if b.Before != "" {
		waits := s.task(b.Before)
		waits.After = append(slices.Clip(waits.After), b.Task.Key)
	}
}

func (b TaskReady) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.State, t.ReadyAt, t.Until, t.Due, t.Remind, t.Confirmers = plan.Ready, e.At, b.Until, b.Due, b.Remind, b.Confirmers
	if b.Team != "" {
		t.Team = b.Team
	}
	if b.Instructions != "" {
		t.Instructions = b.Instructions
	}
	if b.Person != "" {
		t.State, t.Holder, t.TakenAt = plan.Taken, b.Person, e.At
	}
}

func (b TaskSkipped) apply(s *State, e Event) {
	s.end(b.Task, plan.Skipped, e)
	if b.Needed {
		s.task(b.Task).LeftOut = b.Reason
	}
}

func (b TaskStopped) apply(s *State, e Event) {
	s.end(b.Task, plan.Stopped, e)
}

func (b TaskTaken) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.State, t.Holder, t.TakenAt = plan.Taken, e.Actor, e.At
}

func (b TaskHanded) apply(s *State, e Event) {
	t := s.task(b.Task)
	if t.Undo != nil {
		t.Team = b.Team
		t.undo(func(u *Undo) {
			if u.State != plan.Taken {
				return
			}
			u.Holder, u.State = "", plan.Ready
			if u.Text == "" { // no call is under way: it was taken because it is stuck
				u.State = plan.Stuck
			}
		})
		return
	}
	t.Holder, t.Team = b.Person, b.Team
	switch {
	case t.State == plan.Asking:
	case t.State == plan.Stuck || t.Kind == plan.Automatic:
	case b.Person == "":
		t.State, t.TakenAt = plan.Ready, time.Time{}
	default:
		t.State, t.TakenAt = plan.Taken, e.At
	}
}

func (b TaskWaived) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Waived = append(slices.Clip(t.Waived), b.After)
}

func (b PointTicked) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.MustDos = slices.Clone(t.MustDos)
	t.MustDos[b.Point].Done = b.Done
}

func (b LineDone) apply(s *State, e Event) {
	s.task(b.Task).line(b.Line, b.Done)
}

func (b PartConfirmed) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Confirmed = append(slices.Clip(t.Confirmed), e.Actor)
}

func (b AskerAsked) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.State, t.Question = plan.Asking, &TaskQuestion{e.Actor, b.Text, e.At, b.Until}
	s.Status = Waiting
}

func (b TaskQuestionDropped) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.State, t.Question = plan.Taken, nil
	s.answered()
}

func (b AskerAnswered) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.State, t.Question = plan.Taken, nil
	s.Likely = time.Time{}
	s.answered()
}

func (b TaskReminded) apply(s *State, e Event) {
	s.task(b.Task).Reminded = b.Reminded
}

func (b TaskDone) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Trouble, t.Outputs, t.Word = "", with(t.Outputs, b.Outputs), b.Word
	t.keepSecrets(b.Secrets)
	s.end(b.Task, plan.Done, e)
}

func (b HoldingMade) apply(s *State, e Event) {
	s.task(b.Task).did(Did{Does: plan.Make, Now: b.Holding.Belonging})
}

func (b HoldingChanged) apply(s *State, e Event) {
	s.task(b.Task).did(Did{Does: plan.Change, Now: b.Now, Before: b.Before})
}

func (b HoldingEnded) apply(s *State, e Event) {
	s.task(b.Task).did(Did{Does: plan.End, Now: people.Belonging{ID: b.ID, Name: b.Name}})
}

func (b Foretold) apply(s *State, e Event) {
	s.Likely = b.Likely
	if b.Slips {
		s.SlipToldAt = e.At
	}
}

func (b ClockEnded) apply(s *State, e Event) {
	s.Ends = maps.Clone(s.Ends)
	if s.Ends == nil {
		s.Ends = map[ClockKind]promise.End{}
	}
	s.Ends[b.Clock] = b.End
	if b.Went != nil {
		s.Went = b.Went
	}
}

func (b CallFailed) apply(s *State, e Event) {
	t := s.task(b.Task)
	if b.Undo {
		t.undo(func(u *Undo) { u.Attempts, u.Trouble, u.RetryAt = b.Attempt, b.Trouble, b.RetryAt })
		return
	}
	t.Attempts, t.Trouble, t.RetryAt = b.Attempt, b.Trouble, b.RetryAt
}

func (b CallAccepted) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Accepted, t.Attempts, t.Trouble, t.Outputs = true, 0, "", b.Outputs
	t.keepSecrets(b.Secrets)
}

func (b Reported) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Accepted, t.Steps, t.Attempts, t.Trouble = true, append(slices.Clip(t.Steps), b.Step), 0, ""
	t.Outputs = with(t.Outputs, b.Outputs)
	t.keepSecrets(b.Secrets)
	for line, done := range b.Lines {
		t.line(line, done)
	}
}

func (b TaskStuck) apply(s *State, e Event) {
	t := s.task(b.Task)
	if b.Undo {
		t.undo(func(u *Undo) { u.State, u.Trouble = plan.Stuck, b.Trouble })
		return
	}
	t.State, t.Trouble, t.StuckAt = plan.Stuck, b.Trouble, e.At
	if b.Team != "" {
		t.Team, t.Holder = b.Team, ""
	}
	if !b.Due.IsZero() {
		t.Due, t.Remind, t.Reminded = b.Due, b.Remind, 0
	}
}

func (b TaskRetried) apply(s *State, e Event) {
	t := s.task(b.Task)
	if b.Undo {
		t.undo(func(u *Undo) { u.State, u.Attempts, u.Trouble, u.RetryAt = plan.Ready, 0, "", e.At })
		return
	}
	t.State, t.Attempts, t.Trouble, t.RetryAt = plan.Ready, 0, "", e.At
	if len(b.Inputs) > 0 {
		t.Corrected = with(t.Corrected, b.Inputs)
	}
	if t.Kind == plan.Manual && t.Holder != "" {
		t.State = plan.Taken
	}
}

func (b PlaceQueued) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Place, t.Pool, t.State, t.ReadyAt = Queued, b.Pool, plan.Ready, e.At
}

func (b PlaceReserved) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Place, t.Pool = Reserved, b.Pool
}

func (b PlaceReturned) apply(s *State, e Event) {
	s.task(b.Task).Place = NoPlace
}

func (b UndoBegun) apply(s *State, e Event) {
	s.task(b.Task).Undo = &Undo{State: plan.Ready, Text: b.Text}
}

func (b UndoTaken) apply(s *State, e Event) {
	s.task(b.Task).undo(func(u *Undo) { u.State, u.Holder = plan.Taken, e.Actor })
}

func (b TaskUndone) apply(s *State, e Event) {
	s.task(b.Task).Undo = nil
	s.end(b.Task, plan.Undone, e)
}

func (b UndoLeft) apply(s *State, e Event) {
	t := s.task(b.Task)
	t.Undo, t.Left = nil, true
	if !t.State.Ended() {
		s.end(b.Task, plan.Stopped, e)
	}
}

// with is a map with more in it; the one it is made from stays as it is.
func with(values, more map[string]string) map[string]string {
	out := make(map[string]string, len(values)+len(more))
	maps.Copy(out, values)
	maps.Copy(out, more)
	return out
}
