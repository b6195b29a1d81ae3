package request

import (
	"maps"
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

// Apply takes one event into the state, and leaves the event as it is. Events
// that Handle gave always fit.
func (s *State) Apply(e Event) {
	s.Seq, s.At = e.Seq, e.At
	stands, is := e.Body.(stands)
	if is {
		s.spend(stands)
	}
	e.Body.apply(s, e)
	if is {
		s.stood(stands, e.At)
	}
	s.pause(e.At)
	if s.Responded.IsZero() && s.responds(e) {
		s.Responded = e.At
	}
}

// pause notes when the clock of the promise stands still: while the request is
// returned, waits for its asker, or has a task in hand that the promise names.
func (s *State) pause(now time.Time) {
	why := ""
	if s.Status == Returned || s.Status == Waiting {
		why = promise.ForAsker
	}
	for i := range s.Tasks {
		t := &s.Tasks[i]
		if why == "" && (s.Status == Delivering || s.Urging != nil) && (t.State == plan.Ready || t.State == plan.Taken) && s.Promise.PausedBy(t.Of) {
			why = t.Of
		}
	}
	last := len(s.Pauses) - 1
	open := last >= 0 && s.Pauses[last].Until.IsZero()
	older := open && why != "" && s.Pauses[last].Why == "" // begun by a program that did not say why
	if open && why != s.Pauses[last].Why && !older {
		s.Pauses = slices.Clone(s.Pauses)
		s.Pauses[last].Until, open = now, false
	}
	if why != "" && !open {
		s.Pauses = append(slices.Clip(s.Pauses), promise.Pause{From: now, Why: why})
	}
}

// responds reports whether an event is a first word of staff.
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

func (b DraftBegun) apply(s *State, e Event) {
	s.ID, s.Offering, s.Title, s.Service = b.ID, b.Offering, b.Title, b.Service
	s.Asker, s.Status = e.Actor, Draft
	s.reach("drafted", e)
}

func (b Submitted) apply(s *State, e Event) {
	s.Reference, s.Version, s.Title, s.Service = b.Reference, b.Version, b.Title, b.Service
	s.Named, s.Present, s.Private, s.Foreseen = b.Named, b.Present, b.Private, b.Foreseen
	s.For, s.Shared, s.Answers, s.Price, s.Promise, s.Rungs, s.Status = b.For, b.Shared, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs), Deciding
	s.Likely, s.Together = b.Likely, b.Together
	s.reach("submitted", e)
}

func (b RungOpened) apply(s *State, e Event) {
	r := s.rung(b.Rung)
	r.Seats, r.Opened, r.Outcome, r.Times, r.Reminded, r.Note = slices.Clone(b.Seats), e.At, ladder.Open, b.Times, 0, b.Note
}

func (b RungResumed) apply(s *State, e Event) {
	r := s.rung(b.Rung)
	r.Opened, r.Times, r.Reminded = e.At, b.Times, 0
}

func (b SeatJoined) apply(s *State, e Event) {
	r := s.rung(b.Rung)
	r.Seats = slices.Clone(r.Seats)
	for i := range r.Seats {
		if r.Seats[i].Is(ladder.Seat{Person: b.Seat, Part: b.Part}) || b.Part == "" && r.Seats[i].Person == b.Seat && !r.hasWhole(b.Seat) {
			r.Seats[i].Others = append(slices.Clip(r.Seats[i].Others), b.Other)
		}
	}
}

func (b SeatLeft) apply(s *State, e Event) {
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
}

func (QuestionDropped) apply(s *State, e Event) {
	s.Status, s.Question = Deciding, nil
}

func (b RungReminded) apply(s *State, e Event) {
	s.rung(b.Rung).Reminded = b.Share
}

func (b Voted) apply(s *State, e Event) {
	r := s.rung(b.Rung)
	r.Votes = slices.DeleteFunc(slices.Clone(r.Votes), func(v Vote) bool { return v.Seat == b.Seat && v.Part == b.Part })
	r.Votes = append(r.Votes, Vote{b.Seat, b.Part, b.Person, b.Decision, b.Reason, e.At, b.Carried})
}

func (b AskedBack) apply(s *State, e Event) {
	s.Status, s.Question = Returned, &Question{b.Rung, e.Actor, b.Text, e.At, b.Until, b.Declined, b.Parts}
	s.Remind, s.Reminded = b.Remind, 0
}

func (b Resubmitted) apply(s *State, e Event) {
	s.Title, s.Answers, s.Price, s.Promise, s.Rungs = b.Title, b.Answers, b.Price, b.Promise, slices.Clone(b.Rungs)
	s.Status, s.Question, s.Named, s.Present, s.Private = Deciding, nil, b.Named, b.Present, b.Private
	s.Likely = time.Time{}
}

func (b Attached) apply(s *State, e Event) {
	s.Files = append(slices.Clip(s.Files), Attachment{b.File, e.Actor, e.At, b.Task, b.Readers})
}

func (b Followed) apply(s *State, e Event) {
	s.Followers = append(slices.Clip(s.Followers), b.Person)
}

func (b Unfollowed) apply(s *State, e Event) {
	s.Followers = slices.DeleteFunc(slices.Clone(s.Followers), func(p string) bool { return p == b.Person })
}

func (b RungEnded) apply(s *State, e Event) {
	s.rung(b.Rung).Outcome = b.Outcome
}

func (b Decided) apply(s *State, e Event) {
	if !b.From.IsZero() {
		started := *s.Promise
		started.From = b.From
		s.Promise = &started
	}
	s.reach("decided", e)
}

func (b Planned) apply(s *State, e Event) {
	s.Tasks, s.Status = slices.Clone(b.Tasks), Delivering
	s.reach("planned", e)
}

func (b UndoingBegun) apply(s *State, e Event) {
	s.Status, s.Ending, s.Why, s.Chosen = Undoing, b.Outcome, b.Reason, b.Chosen
}

func (b WorkDelivered) apply(s *State, e Event) {
	s.Status, s.ConfirmBy, s.Rates = Delivered, b.ConfirmBy, s.Rates || b.Rates
	s.Remind, s.Reminded, s.Closing = b.Remind, 0, nil
	if b.Word != "" || b.Next != "" {
		s.Closing = &Closing{b.Word, e.Actor, b.Next}
	}
	s.reach("delivered", e)
}

func (b SideReminded) apply(s *State, _ Event) { s.Reminded = b.Times }

func (Confirmed) apply(s *State, e Event) {
	s.reach("confirmed", e)
}

func (b RequestClosed) apply(s *State, e Event) {
	s.Status, s.Outcome, s.Question, s.Ending, s.BackBy = Closed, b.Outcome, nil, "", b.BackBy
	s.Rates, s.Chosen = s.Rates || b.Rates, b.Chosen
	if b.Reason != "" {
		s.Why = b.Reason
	}
	if b.Word != "" {
		next := ""
		if s.Closing != nil {
			next = s.Closing.Next
		}
		s.Closing = &Closing{b.Word, e.Actor, next}
	}
	s.reach("closed", e)
}

// What is only told.
func (Commented) apply(*State, Event) {}

func (Noted) apply(*State, Event) {}

func (Doubted) apply(*State, Event) {}

func (HoldingRestored) apply(*State, Event) {}

func (MessageWritten) apply(*State, Event) {}

func (PoolGrown) apply(*State, Event) {}

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

// unreach takes stages back.
func (s *State) unreach(stages ...Stage) {
	s.Stages = maps.Clone(s.Stages)
	for _, stage := range stages {
		delete(s.Stages, stage)
	}
}

// without is a map without a key.
func without[K comparable, V any](all map[K]V, key K) map[K]V {
	all = maps.Clone(all)
	delete(all, key)
	return all
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
