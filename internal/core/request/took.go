package request

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// Took says how long a task stood as it did until an event changed that. It is kept with
// the event, so that no later change of a calendar changes what was measured.
type Took struct {
	Open int64 `json:"open,omitempty"` // open time of its team, in milliseconds
	Hand int64 `json:"hand,omitempty"` // of who had it in hand: their open time, shared equally among all they had in hand at once, in milliseconds
	Mark int64 `json:"mark,omitempty"` // what the hands of who has it from now on had worked by then, in milliseconds
}

// Hands are what one person has in hand, of all requests: how many tasks, and the open time
// in which they had any, each stretch divided by how many there were then. What a task took
// of it is the difference of two readings.
type Hands struct {
	Tasks  int
	Worked time.Duration
	At     time.Time // of the reading
}

// Read is the hands at a later instant, by the person's own working calendar.
func (h Hands) Read(at time.Time, work *calendar.Calendar) Hands {
	if h.Tasks > 0 && at.After(h.At) {
		h.Worked += max(0, work.Between(h.At, at)) / time.Duration(h.Tasks)
	}
	if at.After(h.At) {
		h.At = at
	}
	return h
}

// stands is an event that changes how a task stands. Those of taking back a task do not.
type stands interface {
	Body
	of() string // key of the task; empty where it is about taking back
	took() Took
	taking(Took) Body
}

func (t Took) took() Took { return t }

func (b TaskReady) of() string           { return b.Task }
func (b TaskTaken) of() string           { return b.Task }
func (b TaskHanded) of() string          { return b.Task }
func (b TaskSkipped) of() string         { return b.Task }
func (b TaskDone) of() string            { return b.Task }
func (b TaskStopped) of() string         { return b.Task }
func (b AskerAsked) of() string          { return b.Task }
func (b AskerAnswered) of() string       { return b.Task }
func (b TaskQuestionDropped) of() string { return b.Task }
func (b TaskStuck) of() string           { return unless(b.Undo, b.Task) }
func (b TaskRetried) of() string         { return unless(b.Undo, b.Task) }

func (b TaskReady) taking(t Took) Body           { b.Took = t; return b }
func (b TaskTaken) taking(t Took) Body           { b.Took = t; return b }
func (b TaskHanded) taking(t Took) Body          { b.Took = t; return b }
func (b TaskSkipped) taking(t Took) Body         { b.Took = t; return b }
func (b TaskDone) taking(t Took) Body            { b.Took = t; return b }
func (b TaskStopped) taking(t Took) Body         { b.Took = t; return b }
func (b AskerAsked) taking(t Took) Body          { b.Took = t; return b }
func (b AskerAnswered) taking(t Took) Body       { b.Took = t; return b }
func (b TaskQuestionDropped) taking(t Took) Body { b.Took = t; return b }
func (b TaskStuck) taking(t Took) Body           { b.Took = t; return b }
func (b TaskRetried) taking(t Took) Body         { b.Took = t; return b }

func unless(no bool, key string) string {
	if no {
		return ""
	}
	return key
}

// Spent is where the open time of a task went, in milliseconds of its team's calendar.
type Spent struct {
	Waited int64  `json:"waited,omitempty"` // nobody had taken it, or no place was free
	Worked int64  `json:"worked,omitempty"` // somebody had it in hand, or another system
	Paused int64  `json:"paused,omitempty"` // it was stuck, or waited for who asked
	Hand   int64  `json:"hand,omitempty"`   // of Worked, what its people gave to it, by their own calendars
	Handed int    `json:"handed,omitempty"` // how often it went to another person or team
	First  string `json:"first,omitempty"`  // key of the team that it lay with before it went to another
	Late   int64  `json:"late,omitempty"`   // after it was due, when it was done
}

// spend adds how long a task stood as it does, which an event ends now.
func (s *State) spend(b stands) {
	t, there := s.Task(b.of())
	if !there || t.Undo != nil || t.State.Ended() {
		return
	}
	took, spent := b.took(), &t.Spent
	switch {
	case t.State == plan.Ready && t.Kind == plan.Automatic && t.Place != Queued:
		spent.Worked += took.Open
	case t.State == plan.Ready:
		spent.Waited += took.Open
	case t.State == plan.Taken:
		spent.Worked += took.Open
		spent.Hand += took.Hand
	case t.State == plan.Asking || t.State == plan.Stuck:
		spent.Paused += took.Open
	}
	if done, is := b.(TaskDone); is {
		if over, err := calendar.ParseLength(done.Over); err == nil && done.Over != "" {
			spent.Late = over.Open.Milliseconds()
		}
	}
	if handed, is := b.(TaskHanded); is && (handed.Team != t.Team || t.Holder != "" && handed.Person != t.Holder) {
		spent.Handed++
		if handed.Team != t.Team && spent.First == "" {
			spent.First = t.Team
		}
	}
}

// InHand reports whether a person works on a task now.
func (t *Task) InHand() bool { return t.State == plan.Taken && t.Holder != "" }

// InHand counts the tasks that each person has in hand.
func (s *State) InHand() map[string]int {
	all := map[string]int{}
	for i := range s.Tasks {
		if t := &s.Tasks[i]; t.InHand() {
			all[t.Holder]++
		}
	}
	return all
}

// Regrip tells the hands of those whom a command has given or taken something, by ID: what
// they had in hand before, by InHand, and what hands read then.
func (s *State) Regrip(before map[string]int, hands func(person string) Hands, company *people.Directory) map[string]Hands {
	now := s.InHand()
	for person := range before {
		now[person] += 0 // who has nothing any more
	}
	changed := map[string]Hands{}
	for person, tasks := range now {
		if tasks == before[person] {
			continue
		}
		h := hands(person).Read(s.At, company.HoursOf(person))
		h.Tasks = max(0, h.Tasks+tasks-before[person])
		changed[person] = h
	}
	return changed
}

// stood notes since when a task stands as it does. One that is being taken back has ended.
func (s *State) stood(b stands, at time.Time) {
	t, there := s.Task(b.of())
	switch {
	case !there:
	case t.State.Ended() || t.Undo != nil:
		t.Since, t.Mark = time.Time{}, 0
	default:
		t.Since, t.Mark = at, b.took().Mark
	}
}

// since is when a task came to stand as it does; zero while it is blocked. An older program
// did not keep it.
func (t *Task) since() time.Time {
	switch {
	case !t.Since.IsZero() || t.State == plan.Blocked || t.State.Ended():
		return t.Since
	case t.State == plan.Stuck:
		return t.StuckAt
	case t.State == plan.Asking && t.Question != nil:
		return t.Question.At
	case t.State == plan.Taken:
		return t.TakenAt
	}
	return t.ReadyAt
}

// meter is a transition as far as it says with its events what is measured.
type meter struct{ *transition }

func (t *transition) meter() meter { return meter{t} }

// timed says with an event how long its task has stood as it did.
func (t meter) timed(b stands, at time.Time) Body {
	task, there := t.state.Task(b.of())
	if !there || task.Undo != nil {
		return b
	}
	var took Took
	if since := task.since(); !since.IsZero() && t.facts.Offering != nil {
		took.Open = max(0, t.facts.Company.TeamHours(task.Team, t.facts.Offering.Promise.Calendar()).Between(since, at)).Milliseconds()
	}
	if task.InHand() {
		took.Hand = took.Open
		if t.facts.Hands != nil && !task.Since.IsZero() {
			took.Hand = t.worked(task.Holder, at) - task.Mark
		}
	}
	if next := t.holderAfter(task, b); next != "" {
		took.Mark = t.worked(next, at)
	}
	return b.taking(took)
}

// holderAfter is who has a task in hand once an event has happened; empty for nobody.
func (t meter) holderAfter(task *Task, b stands) string {
	switch b := b.(type) {
	case TaskTaken:
		return t.facts.Actor
	case TaskReady:
		return b.Person
	case TaskHanded:
		return b.Person
	case AskerAnswered, TaskQuestionDropped:
		return task.Holder
	case TaskRetried:
		if task.Kind == plan.Manual {
			return task.Holder
		}
	}
	return ""
}

// worked is what the hands of a person have worked by an instant, in milliseconds.
func (t meter) worked(person string, at time.Time) int64 {
	if t.facts.Hands == nil {
		return 0
	}
	return t.facts.Hands(person).Read(at, t.facts.Company.HoursOf(person)).Worked.Milliseconds()
}
