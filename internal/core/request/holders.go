package request

import (
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// Holder is with whom a request lies: a person, a team, or a system by itself.
type Holder struct {
	Person string `json:"person,omitempty"`
	Team   string `json:"team,omitempty"`
	System string `json:"system,omitempty" doc:"Key of the connector at work"`
	Pool   string `json:"pool,omitempty" doc:"Key of the pool whose waiting list it is on"`
	Wait   bool   `json:"wait,omitempty" doc:"It waits for its time"`
	For    string `json:"for,omitempty" doc:"References of requests that have to end before"`
	Task   string `json:"task,omitempty" doc:"Key of the task in hand"`
}

// Holders lists with whom the request lies now; it is empty only when closed.
// Home is the key of the home team of its service.
func (s *State) Holders(home string) []Holder {
	switch s.Status {
	case Draft, Returned, Delivered:
		return []Holder{{Person: s.Asker}}
	case Deciding:
		rung, ok := s.OpenRung()
		if !ok {
			return nil
		}
		var out []Holder
		if len(rung.Seats) == 0 { // nobody was found: whoever is at home in the service must see to it
			return []Holder{{Team: home}}
		}
		for _, person := range rung.Waiting() {
			out = append(out, Holder{Person: person})
		}
		for i := range s.Tasks { // begun before more urgency was asked for
			if h, ok := s.Tasks[i].holder(s.Asker, false); ok {
				out = append(out, h)
			}
		}
		return out
	case Delivering, Waiting, Undoing:
		var out []Holder
		for i := range s.Tasks {
			if h, ok := s.Tasks[i].holder(s.Asker, s.Status == Undoing); ok {
				out = append(out, h)
			}
		}
		if len(out) == 0 && s.Status == Delivering && len(s.Awaits()) > 0 {
			return []Holder{{Wait: true, For: s.awaited()}}
		}
		if len(out) == 0 && s.Status == Undoing {
			return []Holder{{Team: home}}
		}
		return out
	}
	return nil
}

// holder is with whom a task lies; false when with nobody.
func (t *Task) holder(asker string, undoing bool) (Holder, bool) {
	if u := t.Undo; u != nil {
		switch {
		case u.State == plan.Ready && u.Text == "":
			return Holder{System: t.Connector, Task: t.Key}, true
		case u.State == plan.Taken:
			return Holder{Person: u.Holder, Team: t.Team, Task: t.Key}, true
		}
		return Holder{Team: t.Team, Task: t.Key}, true
	}
	switch t.State {
	case plan.Ready:
		switch {
		case t.Place == Queued:
			return Holder{Pool: t.Pool, Team: t.Team, Task: t.Key}, true
		case t.Kind == plan.Automatic:
			return Holder{System: t.Connector, Task: t.Key}, true
		case t.Kind == plan.Wait:
			return Holder{Wait: true, Task: t.Key}, true
		}
		return Holder{Team: t.Team, Task: t.Key}, true
	case plan.Stuck:
		return Holder{Person: t.Holder, Team: t.Team, Task: t.Key}, true
	case plan.Taken:
		return Holder{Person: t.Holder, Team: t.Team, Task: t.Key}, true
	case plan.Asking:
		return Holder{Person: asker, Task: t.Key}, true
	}
	return Holder{}, false
}

// Name says with whom a request lies, in words; system names a connector.
func (h Holder) Name(company *people.Directory, system func(key string) string) string {
	switch {
	case h.System != "":
		return system(h.System) + " (by itself)"
	case h.Pool != "":
		pool, _ := company.Pool(h.Pool)
		return "Waiting list of " + pool.Name
	case h.For != "":
		return "Nobody: it waits for " + h.For
	case h.Wait:
		return "Nobody: it waits for its time"
	case h.Person == "":
		return company.TeamName(h.Team)
	}
	return company.Name(h.Person)
}

// todo is what is to be done about a request, by its status.
var todo = map[Status]string{Draft: "finish and send", Deciding: "decide", Returned: "answer a question", Delivered: "confirm that it is done"}

// HasToDo says what a holder has to do, in words, and until when a wait lasts; zero
// for none.
func (s *State) HasToDo(h Holder) (what string, until time.Time) {
	task, isTask := s.Task(h.Task)
	switch {
	case h.For != "":
		return "wait until " + h.For + " has ended", until
	case !isTask:
		return todo[s.Status], until
	case task.Undo != nil:
		return "take back: " + task.Name, until
	case task.State == plan.Stuck:
		return task.Name + " (stuck)", until
	case task.State == plan.Asking:
		return "answer a question on " + task.Name, until
	case task.Kind == plan.Wait:
		return task.Name, task.Until
	}
	return task.Name, until
}
