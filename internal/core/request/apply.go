package request

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
)

// Apply takes one event into the state, and leaves the event as it is. Events
// that Handle gave always fit.
func (s *State) Apply(e Event) {
	s.Seq = e.Seq
	switch b := e.Body.(type) {
	case DraftBegun:
		s.ID, s.Offering, s.Title, s.Service = b.ID, b.Offering, b.Title, b.Service
		s.Asker, s.Status = e.Actor, Draft
		s.reach("drafted", e)
	case Submitted:
		s.Reference, s.Version, s.Title, s.Service = b.Reference, b.Version, b.Title, b.Service
		s.For, s.Told, s.Answers, s.Price, s.Promise, s.Rungs, s.Status = b.For, b.Told, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs), Deciding
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
			if r.Seats[i].Person == b.Seat {
				r.Seats[i].Others = append(slices.Clip(r.Seats[i].Others), b.Other)
			}
		}
	case RungReminded:
		s.rung(b.Rung).Told = b.Share
	case Voted:
		r := s.rung(b.Rung)
		r.Votes = slices.DeleteFunc(slices.Clone(r.Votes), func(v Vote) bool { return v.Seat == b.Seat })
		r.Votes = append(r.Votes, Vote{b.Seat, b.Person, b.Decision, b.Reason, e.At, b.Carried})
	case AskedBack:
		s.Status, s.Question = Returned, &Question{b.Rung, e.Actor, b.Text, e.At, b.Until}
	case Resubmitted:
		s.Title, s.Answers, s.Price, s.Promise, s.Rungs = b.Title, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs)
		s.Status, s.Question = Deciding, nil
	case Commented:
	case Followed:
		s.Followers = append(slices.Clip(s.Followers), b.Person)
	case Unfollowed:
		s.Followers = slices.DeleteFunc(slices.Clone(s.Followers), func(p string) bool { return p == b.Person })
	case RungEnded:
		s.rung(b.Rung).Outcome = b.Outcome
	case Decided:
		s.reach("decided", e)
	case Planned:
		s.Tasks, s.Status = slices.Clone(b.Tasks), Delivering
		s.reach("planned", e)
	case WorkDelivered:
		s.Status, s.ConfirmBy = Delivered, b.ConfirmBy
		s.reach("delivered", e)
	case Confirmed:
		s.reach("confirmed", e)
	case RequestClosed:
		s.Status, s.Outcome, s.Question = Closed, b.Outcome, nil
		s.reach("closed", e)
	default:
		s.applyToTask(e)
	}
}

func (s *State) applyToTask(e Event) {
	switch b := e.Body.(type) {
	case TaskReady:
		t := s.task(b.Task)
		t.State, t.ReadyAt = plan.Ready, e.At
	case TaskSkipped:
		t := s.task(b.Task)
		t.State, t.EndedAt = plan.Skipped, e.At
	case TaskTaken:
		t := s.task(b.Task)
		t.State, t.Holder = plan.Taken, e.Actor
	case TaskDone:
		t := s.task(b.Task)
		t.State, t.EndedAt, t.Outputs, t.Trouble = plan.Done, e.At, b.Outputs, ""
	case CallFailed:
		t := s.task(b.Task)
		t.Attempts, t.Trouble, t.RetryAt = b.Attempt, b.Trouble, b.RetryAt
	case TaskStuck:
		t := s.task(b.Task)
		t.State, t.Trouble = plan.Stuck, b.Trouble
	case TaskRetried:
		t := s.task(b.Task)
		t.State, t.Attempts, t.Trouble, t.RetryAt = plan.Ready, 0, "", e.At
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
