package request

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

// Apply takes one event into the state, and leaves the event as it is. Events
// that Handle gave always fit.
func (s *State) Apply(e Event) {
	s.Seq, s.At = e.Seq, e.At
	s.apply(e)
	s.pause(e.At)
	if s.Responded.IsZero() && s.responds(e) {
		s.Responded = e.At
	}
}

// pause notes when the clock of the promise stands still: while the request is
// returned, waits for its asker, or has a task in hand that the promise names.
func (s *State) pause(now time.Time) {
	paused := s.Status == Returned || s.Status == Waiting
	for i := range s.Tasks {
		t := &s.Tasks[i]
		paused = paused || (s.Status == Delivering && (t.State == plan.Ready || t.State == plan.Taken) && s.Promise.PausedBy(t.Of))
	}
	last := len(s.Pauses) - 1
	switch open := last >= 0 && s.Pauses[last].Until.IsZero(); {
	case paused && !open:
		s.Pauses = append(slices.Clip(s.Pauses), promise.Pause{From: now})
	case !paused && open:
		s.Pauses = slices.Clone(s.Pauses)
		s.Pauses[last].Until = now
	}
}

// responds tells whether an event is a first word of staff.
func (s *State) responds(e Event) bool {
	switch b := e.Body.(type) {
	case TaskTaken, TaskHanded, TaskDone, AskerAsked, AskedBack:
		return e.Actor != Program // what goes on by itself is nobody's word
	case WorkDelivered:
		return true
	case Voted:
		return !b.Carried
	case Commented:
		return e.Actor != s.Asker && e.Actor != s.Beneficiary() && !slices.Contains(s.Followers, e.Actor)
	}
	return false
}

func (s *State) apply(e Event) {
	switch b := e.Body.(type) {
	case DraftBegun:
		s.ID, s.Offering, s.Title, s.Service = b.ID, b.Offering, b.Title, b.Service
		s.Asker, s.Status = e.Actor, Draft
		s.reach("drafted", e)
	case Submitted:
		s.Reference, s.Version, s.Title, s.Service = b.Reference, b.Version, b.Title, b.Service
		s.Held, s.Present, s.Private, s.Foreseen = b.Held, b.Present, b.Private, b.Foreseen
		s.For, s.Told, s.Answers, s.Price, s.Promise, s.Rungs, s.Status = b.For, b.Told, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs), Deciding
		s.Likely = b.Likely
		s.reach("submitted", e)
	case RungOpened:
		r := s.rung(b.Rung)
		r.Seats, r.Opened, r.Outcome, r.Times, r.Told, r.Note = slices.Clone(b.Seats), e.At, ladder.Open, b.Times, 0, b.Note
	case RungResumed:
		r := s.rung(b.Rung)
		r.Opened, r.Times, r.Told = e.At, b.Times, 0
	case SeatJoined:
		r := s.rung(b.Rung)
		r.Seats = slices.Clone(r.Seats)
		for i := range r.Seats {
			if r.Seats[i].Is(ladder.Seat{Person: b.Seat, Part: b.Part}) || b.Part == "" && r.Seats[i].Person == b.Seat && !r.hasWhole(b.Seat) {
				r.Seats[i].Others = append(slices.Clip(r.Seats[i].Others), b.Other)
			}
		}
	case SeatLeft:
		r := s.rung(b.Rung)
		r.Seats = slices.Clone(r.Seats)
		for i := range r.Seats {
			seat := &r.Seats[i]
			if !seat.Is(ladder.Seat{Person: b.Seat, Part: b.Part}) {
				continue
			}
			seat.Others = slices.Clone(seat.Others)
			for j := range seat.Others {
				if seat.Others[j].Person == b.Person {
					seat.Others[j].Left = true
				}
			}
			seat.Absent = seat.Absent && b.Back
		}
	case QuestionDropped:
		s.Status, s.Question = Deciding, nil
	case RungReminded:
		s.rung(b.Rung).Told = b.Share
	case Voted:
		r := s.rung(b.Rung)
		r.Votes = slices.DeleteFunc(slices.Clone(r.Votes), func(v Vote) bool { return v.Seat == b.Seat && v.Part == b.Part })
		r.Votes = append(r.Votes, Vote{b.Seat, b.Part, b.Person, b.Decision, b.Reason, e.At, b.Carried})
	case AskedBack:
		s.Status, s.Question = Returned, &Question{b.Rung, e.Actor, b.Text, e.At, b.Until, b.Declined, b.Parts}
	case Resubmitted:
		s.Title, s.Answers, s.Price, s.Promise, s.Rungs = b.Title, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs)
		s.Status, s.Question, s.Held, s.Present, s.Private = Deciding, nil, b.Held, b.Present, b.Private
		s.Likely = time.Time{}
	case Commented, Noted, Doubted:
	case Attached:
		s.Files = append(slices.Clip(s.Files), Attachment{b.File, e.Actor, e.At, b.Task, b.Readers})
	case Followed:
		s.Followers = append(slices.Clip(s.Followers), b.Person)
	case Unfollowed:
		s.Followers = slices.DeleteFunc(slices.Clone(s.Followers), func(p string) bool { return p == b.Person })
	case RungEnded:
		s.rung(b.Rung).Outcome = b.Outcome
	case Decided:
		if !b.From.IsZero() {
			started := *s.Promise
			started.From = b.From
			s.Promise = &started
		}
		s.reach("decided", e)
	case Planned:
		s.Tasks, s.Status = slices.Clone(b.Tasks), Delivering
		s.reach("planned", e)
	case UndoingBegun:
		s.Status, s.Ending, s.Why = Undoing, b.Outcome, b.Reason
	case WorkDelivered:
		s.Status, s.ConfirmBy = Delivered, b.ConfirmBy
		s.reach("delivered", e)
	case Confirmed:
		s.reach("confirmed", e)
	case RequestClosed:
		s.Status, s.Outcome, s.Question, s.Ending = Closed, b.Outcome, nil, ""
		s.reach("closed", e)
	default:
		s.applyToTask(e)
	}
}

func (s *State) applyToTask(e Event) {
	switch b := e.Body.(type) {
	case TaskAdded:
		s.Tasks = append(slices.Clip(s.Tasks), b.Task)
		if b.Before != "" {
			waits := s.task(b.Before)
			waits.After = append(slices.Clip(waits.After), b.Task.Key)
		}
	case TaskReady:
		t := s.task(b.Task)
		t.State, t.ReadyAt, t.Until, t.Due, t.Remind, t.Asked = plan.Ready, e.At, b.Until, b.Due, b.Remind, b.Asked
		if b.Team != "" {
			t.Team = b.Team
		}
		if b.Instructions != "" {
			t.Instructions = b.Instructions
		}
		if b.Person != "" {
			t.State, t.Holder, t.TakenAt = plan.Taken, b.Person, e.At
		}
	case TaskSkipped:
		s.end(b.Task, plan.Skipped, e)
		if b.Needed {
			s.task(b.Task).LeftOut = b.Reason
		}
	case TaskStopped:
		s.end(b.Task, plan.Stopped, e)
	case TaskTaken:
		t := s.task(b.Task)
		t.State, t.Holder, t.TakenAt = plan.Taken, e.Actor, e.At
	case TaskHanded:
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
	case TaskWaived:
		t := s.task(b.Task)
		t.Waived = append(slices.Clip(t.Waived), b.After)
	case PointTicked:
		t := s.task(b.Task)
		t.MustDos = slices.Clone(t.MustDos)
		t.MustDos[b.Point].Done = b.Done
	case LineDone:
		s.task(b.Task).line(b.Line, b.Done)
	case PartConfirmed:
		t := s.task(b.Task)
		t.Confirmed = append(slices.Clip(t.Confirmed), e.Actor)
	case AskerAsked:
		t := s.task(b.Task)
		t.State, t.Question = plan.Asking, &TaskQuestion{e.Actor, b.Text, e.At, b.Until}
		s.Status = Waiting
	case TaskQuestionDropped:
		t := s.task(b.Task)
		t.State, t.Question = plan.Taken, nil
		s.answered()
	case AskerAnswered:
		t := s.task(b.Task)
		t.State, t.Question = plan.Taken, nil
		s.Likely = time.Time{}
		s.answered()
	case TaskReminded:
		s.task(b.Task).Reminded = b.Told
	case TaskDone:
		t := s.task(b.Task)
		outputs := maps.Clone(t.Outputs)
		if outputs == nil {
			outputs = map[string]string{}
		}
		maps.Copy(outputs, b.Outputs)
		t.Trouble, t.Outputs, t.Word = "", outputs, b.Word
		t.keepSecrets(b.Secrets)
		s.end(b.Task, plan.Done, e)
	case HoldingMade:
		s.task(b.Task).did(Did{Does: plan.Make, Now: b.Held.Belonging})
	case HoldingChanged:
		s.task(b.Task).did(Did{Does: plan.Change, Now: b.Now, Before: b.Before})
	case HoldingEnded:
		s.task(b.Task).did(Did{Does: plan.End, Now: people.Belonging{ID: b.ID, Name: b.Name}})
	case Foretold:
		s.Likely = b.Likely
		if b.Told {
			s.ToldAt = e.At
		}
	case ClockEnded:
		s.Ends = maps.Clone(s.Ends)
		if s.Ends == nil {
			s.Ends = map[ClockKind]promise.End{}
		}
		s.Ends[b.Clock] = b.End
	case HoldingRestored, MessageWritten, PoolGrown:
	default:
		s.applyToCall(e)
	}
}

// applyToCall takes in what other systems and undoing lead to.
func (s *State) applyToCall(e Event) {
	switch b := e.Body.(type) {
	case CallFailed:
		t := s.task(b.Task)
		if b.Undo {
			t.undo(func(u *Undo) { u.Attempts, u.Trouble, u.RetryAt = b.Attempt, b.Trouble, b.RetryAt })
			return
		}
		t.Attempts, t.Trouble, t.RetryAt = b.Attempt, b.Trouble, b.RetryAt
	case CallAccepted:
		t := s.task(b.Task)
		t.Accepted, t.Attempts, t.Trouble, t.Outputs = true, 0, "", b.Outputs
		t.keepSecrets(b.Secrets)
	case Reported:
		t := s.task(b.Task)
		t.Accepted, t.Steps, t.Attempts, t.Trouble = true, append(slices.Clip(t.Steps), b.Step), 0, ""
		outputs := maps.Clone(t.Outputs)
		if outputs == nil {
			outputs = map[string]string{}
		}
		maps.Copy(outputs, b.Outputs)
		t.Outputs = outputs
		t.keepSecrets(b.Secrets)
		for line, done := range b.Lines {
			t.line(line, done)
		}
	case TaskStuck:
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
	case TaskRetried:
		t := s.task(b.Task)
		if b.Undo {
			t.undo(func(u *Undo) { u.State, u.Attempts, u.Trouble, u.RetryAt = plan.Ready, 0, "", e.At })
			return
		}
		t.State, t.Attempts, t.Trouble, t.RetryAt = plan.Ready, 0, "", e.At
		if len(b.Inputs) > 0 {
			corrected := maps.Clone(t.Corrected)
			if corrected == nil {
				corrected = map[string]string{}
			}
			maps.Copy(corrected, b.Inputs)
			t.Corrected = corrected
		}
		if t.Kind == plan.Manual && t.Holder != "" {
			t.State = plan.Taken
		}
	case PlaceQueued:
		t := s.task(b.Task)
		t.Place, t.Pool, t.State, t.ReadyAt = Queued, b.Pool, plan.Ready, e.At
	case PlaceReserved:
		t := s.task(b.Task)
		t.Place, t.Pool = Reserved, b.Pool
	case PlaceReturned:
		s.task(b.Task).Place = NoPlace
	case UndoBegun:
		s.task(b.Task).Undo = &Undo{State: plan.Ready, Text: b.Text}
	case UndoTaken:
		s.task(b.Task).undo(func(u *Undo) { u.State, u.Holder = plan.Taken, e.Actor })
	case TaskUndone:
		s.task(b.Task).Undo = nil
		s.end(b.Task, plan.Undone, e)
	case UndoLeft:
		t := s.task(b.Task)
		t.Undo, t.Left = nil, true
		if !t.State.Ended() {
			s.end(b.Task, plan.Stopped, e)
		}
	}
}

// did notes what a task did to a belonging; not what its undo does.
func (t *Task) did(d Did) {
	if t.State != plan.Undone {
		t.Did = &d
	}
}

// undo changes how a task is being taken back.
func (t *Task) undo(change func(*Undo)) {
	u := *t.Undo
	change(&u)
	t.Undo = &u
}

// line says how many of a line are done.
func (t *Task) line(i, done int) {
	if i >= 0 && i < len(t.Lines) {
		t.Lines = slices.Clone(t.Lines)
		t.Lines[i].Done = done
	}
}

func (s *State) end(key string, state plan.State, e Event) {
	t := s.task(key)
	t.State, t.EndedAt, t.EndedBy, t.Question = state, e.At, e.Seq, nil
	s.answered()
}

// answered ends the waiting when no question is open any more.
func (s *State) answered() {
	asking := slices.ContainsFunc(s.Tasks, func(t Task) bool { return t.State == plan.Asking })
	if s.Status == Waiting && !asking {
		s.Status = Delivering
	}
}

// reach sets the instant of a stage.
func (s *State) reach(stage Stage, e Event) {
	stages := maps.Clone(s.Stages)
	if stages == nil {
		stages = map[Stage]time.Time{}
	}
	stages[stage] = e.At
	s.Stages = stages
}

// rung and task find what an event of this request names.
func (s *State) rung(key string) *Rung {
	for i := range s.Rungs {
		if s.Rungs[i].Key == key {
			return &s.Rungs[i]
		}
	}
	panic("no rung " + key + " on request " + s.ID)
}

func (s *State) task(key string) *Task {
	if t, ok := s.Task(key); ok {
		return t
	}
	panic("no task " + key + " on request " + s.ID)
}

// clone copies the parts that Apply changes in place.
func (s State) clone() State {
	s.Rungs = slices.Clone(s.Rungs)
	s.Tasks = slices.Clone(s.Tasks)
	return s
}

// Replay makes the state from all events of a request.
func Replay(events []Event) State {
	var s State
	for _, e := range events {
		s.Apply(e)
	}
	return s
}
