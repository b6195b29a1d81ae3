package request

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

// leads reports whether the actor leads a team, or the home team of the service,
// or owns the service.
func (t *transition) leads(team string) bool {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	of, _ := t.facts.Company.Team(team)
	return v.Owner || v.HomeLead || of.Lead == t.facts.Actor
}

func (t tasks) skip(c Skip) error {
	task, ok := t.state.Task(c.Task)
	if !ok {
		return conflict(refusal.NoTask, "This request has no such task.")
	}
	undoing, stuck := task.Undo != nil, task.State == plan.Stuck
	if undoing {
		stuck = task.Undo.State == plan.Stuck
	}
	// What its team may not leave out it may not leave out by saying that it is
	// stuck: only what got stuck by itself.
	byItself := stuck && (undoing || task.Kind != plan.Manual)
	if !t.leads(task.Team) && !(byItself && t.facts.Company.InTeam(t.facts.Actor, task.Team)) {
		return notYours("Only %s can leave a task out.", t.leadWords(task.Team))
	}
	switch {
	case t.state.Status == Closed:
		return conflict(refusal.Closed, "This request is closed.")
	case t.state.Status == Undoing && !undoing:
		return conflict(refusal.Undoing, "This request has been taken back.")
	case undoing && task.Undo.State == plan.Ready && task.Undo.Text == "":
		return conflict(refusal.Calling, "%q is being taken back by itself.", task.Name)
	case !undoing && task.State.Ended():
		return conflict(refusal.Ended, "%q is already %s.", task.Name, task.State)
	case !undoing && task.unsettled():
		return conflict(refusal.Calling, "%q is being done by itself. Wait for its end.", task.Name)
	}
	why, err := reason(c.Reason, "/reason", "Say why it is left out.")
	if err != nil {
		return err
	}
	if undoing {
		t.emit(UndoLeft{c.Task, why})
		t.undoNext()
		return nil
	}
	t.giveBack(task)
	t.emit(TaskSkipped{Task: c.Task, Reason: why, Needed: t.needs(task)})
	t.release()
	return nil
}

// needs reports whether a task that is left out was work that is needed, as far as
// one can tell.
func (t tasks) needs(task *Task) bool {
	if !task.isWork() {
		return false
	}
	return task.Of == "" || task.State != plan.Blocked || t.facts.Offering.Plan.Foreseen(task.Of, t.taskValues(task))
}

// leadWords name who leads the work of a team.
func (t tasks) leadWords(team string) string {
	if team == "" {
		return "the lead of the service's home team, or the owner of the service,"
	}
	return "the lead of " + t.facts.Company.TeamName(team) + ", or of the service,"
}

func (t tasks) waive(c Waive) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok:
		return conflict(refusal.NoTask, "This request has no such task.")
	case !t.leads(task.Team):
		return notYours("Only %s can let it begin earlier.", t.leadWords(task.Team))
	case task.State != plan.Blocked || t.state.Status == Undoing || t.state.Status == Closed:
		return conflict(refusal.NotBlocked, "%q does not wait for other tasks.", task.Name)
	case !slices.Contains(task.Waits(), c.After):
		return &Refusal{Kind: Invalid, Code: refusal.NotAfter, Sentence: fmt.Sprintf("%q does not wait for that task.", task.Name), Place: "/after"}
	}
	why, err := reason(c.Reason, "/reason", "Say why it need not wait.")
	if err == nil {
		t.emit(TaskWaived{c.Task, c.After, why})
		t.release()
	}
	return err
}

func (t tasks) addTask(c AddTask) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	lead := v.Owner || v.HomeLead || slices.ContainsFunc(t.state.Tasks, func(task Task) bool { return t.leads(task.Team) })
	invalid := func(place, sentence string) error {
		return &Refusal{Kind: Invalid, Code: refusal.BadTask, Sentence: sentence, Place: place}
	}
	_, known := t.facts.Company.Team(c.Team)
	before, there := t.state.Task(c.Before)
	length, badLength := calendar.ParseLength(c.Effort)
	switch {
	case !lead:
		return notYours("Only a lead can add a task.")
	case t.state.Status != Delivering && t.state.Status != Waiting:
		return conflict(refusal.NotNow, "No task can be added now.")
	case strings.TrimSpace(c.Name) == "":
		return invalid("/name", "Say what is to be done.")
	case !known:
		return invalid("/team", "Choose a team.")
	case c.Before != "" && (!there || before.State != plan.Blocked):
		return invalid("/before", "Choose a task that has not begun.")
	case c.Effort != "" && (badLength != nil || length.Open < 0 || length.Days < 0):
		return invalid("/effort", "Write a working time like 2h or 1d.")
	}
	why, err := reason(c.Reason, "/reason", "Say why it is needed.")
	if err != nil {
		return err
	}
	key := fmt.Sprintf("added-%d", len(t.state.Tasks)+1)
	t.emit(TaskAdded{Task: Task{
		Key: key, Name: strings.TrimSpace(c.Name), Kind: plan.Manual, Team: c.Team, After: []string{}, Slice: []string{},
		Instructions: strings.TrimSpace(c.Instructions), Effort: c.Effort, State: plan.Blocked,
	}, Before: c.Before, Reason: why})
	t.release()
	return nil
}
