package request

import (
	"slices"
	"strings"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

// Readers say who reads a word or a file, beside who wrote it, the owner of the
// service and the lead of its home team, who read all (rules.md 9).
type Readers struct {
	Side  bool     `json:"side,omitempty"`  // the asker, whom it is for when they see it, and followers
	Rung  string   `json:"rung,omitempty"`  // key; those who decide on it
	Tasks []string `json:"tasks,omitempty"` // keys; the teams that have them
	Staff bool     `json:"staff,omitempty"` // all teams with a task
}

// To says whom somebody writes to.
type To string

// Whom one can write to.
const (
	ToThoseAtWork To = ""        // what is usual for who writes
	ToRequest     To = "request" // the asker's side, the home team's lead and the owner
	ToTask        To = "task"    // the team of the task that is named, too
	ToStaff       To = "staff"   // all teams with a task, too
)

// All lists them in their order.
func (To) All() []To { return []To{ToRequest, ToTask, ToStaff} }

// Open reports whether somebody reads what was written by an author for some
// readers.
func (v Viewer) Open(r Readers, author string) bool {
	switch {
	case v.overall(), v.Person != "" && v.Person == author:
		return true
	case r.Side && (v.Asker || v.Receiver || v.Follower), r.Staff && len(v.Tasks) > 0, r.Rung != "" && slices.Contains(v.Rungs, r.Rung):
		return true
	}
	return slices.ContainsFunc(r.Tasks, func(key string) bool { return slices.Contains(v.Tasks, key) })
}

// OpensFile is Open for files, which followers do not see.
func (v Viewer) OpensFile(r Readers, author string) bool {
	v.Follower = false
	return v.Open(r, author)
}

// concerns reports whether what was written on a task, or on none, is for the
// team of another, too.
func (r Readers) concerns(on, task string) bool {
	return on == "" || on == task || r.Staff || slices.Contains(r.Tasks, task)
}

// before are the readers of what was written before one could choose them.
func before(r *Readers, task string, note bool) Readers {
	switch {
	case r != nil:
		return *r
	case task != "":
		return Readers{Side: !note, Tasks: []string{task}}
	}
	return Readers{Side: !note, Staff: true}
}

// readersOf works out who reads what somebody writes.
func (t *transition) readersOf(v Viewer, task string, to To) (Readers, error) {
	if _, ok := t.state.Task(task); task != "" && !ok || to == ToTask && task == "" {
		return Readers{}, conflict(refusal.NoTask, "This request has no such task.")
	}
	r := Readers{Side: true}
	switch to {
	case ToRequest:
		return r, nil
	case ToStaff:
		r.Staff = true
		return r, nil
	case ToTask:
		r.Tasks = []string{task}
		return r, nil
	}
	rung, open := t.state.OpenRung()
	switch {
	case task != "":
		r.Tasks = []string{task}
	case v.overall():
	case open:
		r.Rung = rung.Key
	case v.Asker, v.Receiver, v.Follower:
		for i := range t.state.Tasks {
			if task := &t.state.Tasks[i]; task.Team != "" && (task.inHand() || t.state.Status == Delivered && task.State == plan.Done) {
				r.Tasks = append(r.Tasks, task.Key)
			}
		}
	default: // who has decided
		for _, key := range v.Rungs {
			r.Rung = key
		}
	}
	return r, nil
}

// inHand reports whether a task is with its team now.
func (t *Task) inHand() bool {
	return t.Undo != nil && t.Undo.State != plan.Undone || !t.State.Ended() && t.State != plan.Blocked
}

// Words name the readers, beside those who read all; empty when nobody else
// does.
func (r Readers) Words(s *State, company *people.Directory) string {
	var names []string
	if r.Side {
		names = append(names, "the asker's side")
	}
	for i := range s.Rungs {
		if s.Rungs[i].Key == r.Rung {
			names = append(names, "who decides on "+s.Rungs[i].Name)
		}
	}
	if r.Staff {
		names = append(names, "all teams at work")
	}
	for _, key := range r.Tasks {
		if t, ok := s.Task(key); ok && !slices.Contains(names, company.TeamName(t.Team)) {
			names = append(names, company.TeamName(t.Team))
		}
	}
	return strings.Join(names, ", ")
}
