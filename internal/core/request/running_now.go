package request

import (
	"slices"
	"strings"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

// mostRuns is how often staff start actions on one request.
const mostRuns = 30

// RunNow starts an automatic action that the offering lets staff start when they need it: a
// task of its own, with its outcome on the record.
type RunNow struct {
	Action string            // key of the task of the plan
	Inputs map[string]string // what the offering leaves for staff to type, by input
	Then   string            // key of a task of the actor that ends in the same act; empty for none
	Word   string            // to the asker, with the end of that
}

func (c RunNow) do(t *transition) error { return t.tasks().runNow(c) }

// Runs lists the actions that somebody may start now on a request.
func (s *State) Runs(v Viewer, o *offering.Compiled, inTeam func(team string) bool) []plan.Task {
	if o == nil || s.Status != Delivering && s.Status != Waiting || !v.works() {
		return nil
	}
	return slices.DeleteFunc(o.Plan.Tasks(), func(of plan.Task) bool {
		return !of.OnDemand || !(v.Owner || v.HomeLead || inTeam(of.Team))
	})
}

func (t tasks) runNow(c RunNow) error {
	s, o := &t.state, t.facts.Offering
	of, ok := o.Plan.Task(c.Action)
	v := s.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !ok || !of.OnDemand:
		return conflict(refusal.NoTask, "This request has no such task.")
	case !v.Owner && !v.HomeLead && !t.facts.Company.InTeam(t.facts.Actor, of.Team):
		return t.ofTeam(&Task{Name: of.Name, Team: of.Team})
	case s.Status != Delivering && s.Status != Waiting:
		return conflict(refusal.NotNow, "Nothing can be run on it now.")
	}
	runs := 0
	for i := range s.Tasks {
		if task := &s.Tasks[i]; task.Of == c.Action {
			runs++
			if !task.State.Ended() {
				return conflict(refusal.Calling, "%q is being done by itself. Wait for its end.", of.Name)
			}
		}
	}
	if runs >= mostRuns {
		return conflict(refusal.TooMany, "%q was run %d times here: that is enough.", of.Name, runs)
	}
	inputs := map[string]string{}
	for _, asked := range o.Plan.Asks(c.Action) {
		text := strings.TrimSpace(c.Inputs[asked.Key])
		if text == "" && !asked.Free {
			return missing("/inputs/"+asked.Key, asked.Name+" is needed.")
		}
		if text != "" {
			inputs[asked.Key] = text
		}
	}
	task := t.taskOf(o.Plan.Run(c.Action, runs+1))
	if len(inputs) > 0 {
		task.Corrected = inputs
	}
	t.emit(TaskAdded{Task: task})
	t.release()
	if c.Then != "" {
		return t.complete(Complete{Task: c.Then, Word: c.Word})
	}
	return nil
}
