package request

import (
	"math"
	"slices"
	"strings"

	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

func (t tasks) withdraw(c Withdraw) error {
	switch {
	case t.state.Asker != t.facts.Actor:
		return notYours("Only %s can take this back.", t.facts.Company.Name(t.state.Asker))
	case !t.state.running():
		return conflict(refusal.NotNow, "This cannot be taken back any more.")
	}
	if c.Chosen != "" && !slices.Contains(t.facts.Offering.Document.Promise.AskerReasons, c.Chosen) {
		return missing("/chosen", "Choose one of the reasons, or say it in your words.")
	}
	t.undo(Withdrawn, withChosen(c.Chosen, c.Reason), c.Chosen)
	return nil
}

// running reports whether a request is on its way to delivery.
func (s *State) running() bool {
	switch s.Status {
	case Deciding, Returned, Delivering, Waiting:
		return true
	}
	return false
}

func (t tasks) cancel(c Cancel) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !v.Owner && !v.HomeLead:
		return notYours("Only the lead of the home team, or the owner of the service, can cancel this.")
	case !t.state.running() && t.state.Status != Delivered:
		return conflict(refusal.NotNow, "This cannot be cancelled any more.")
	case len(t.state.Awaits()) > 0:
		return conflict(refusal.Awaits, "It waits for %s, and cannot end before.", t.state.awaited())
	}
	why := strings.TrimSpace(c.Reason)
	switch reasons := t.facts.Offering.Document.Promise.Reasons; {
	case len(reasons) == 0 && why == "":
		return missing("/reason", "Say why: the asker will read it.")
	case len(reasons) > 0 && !slices.Contains(reasons, c.Chosen):
		return missing("/chosen", "Choose why: the asker will read it.")
	case len(reasons) == 0:
		c.Chosen = ""
	}
	t.undo(Cancelled, withChosen(c.Chosen, why), c.Chosen)
	return nil
}

// withChosen is a reason with the one that was chosen before it.
func withChosen(chosen, words string) string {
	words = strings.TrimSpace(words)
	if chosen == "" || words == "" {
		return chosen + words
	}
	return chosen + ". " + words
}

// undo ends the request before its delivery, with a reason, which may be chosen of those
// the offering gives: what is open stops, what was done
// is taken back in reverse order, then it closes.
func (t tasks) undo(outcome Outcome, why, chosen string) {
	if len(t.state.Tasks) == 0 {
		t.close(RequestClosed{Outcome: outcome, Reason: why, Chosen: chosen})
		return
	}
	t.emit(UndoingBegun{outcome, why, chosen})
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		if task.State.Ended() || task.unsettled() || task.mayBeDone() {
			continue
		}
		t.giveBack(task)
		t.emit(TaskStopped{Task: task.Key})
	}
	t.undoNext()
}

// mayBeDone reports whether an open automatic task may have been done, at least
// in part: it was accepted, or got stuck after tries.
func (t *Task) mayBeDone() bool {
	return t.Kind == plan.Automatic && (t.Accepted || t.State == plan.Stuck) && !t.State.Ended()
}

// doneBy orders tasks by when they were done; what may be done while it is open
// is the last.
func (t *Task) doneBy() int {
	if t.mayBeDone() {
		return math.MaxInt
	}
	return t.EndedBy
}

// undoNext takes back the next task: the last that was done first, one after
// the other. A call under way is waited for, as it may still be done.
func (t tasks) undoNext() {
	for t.state.Status == Undoing {
		next := -1
		for i := range t.state.Tasks {
			task := &t.state.Tasks[i]
			if task.Undo != nil || task.unsettled() {
				return
			}
			if task.Left || task.State != plan.Done && !task.mayBeDone() {
				continue
			}
			if next < 0 || task.doneBy() >= t.state.Tasks[next].doneBy() {
				next = i
			}
		}
		if next < 0 {
			t.close(RequestClosed{Outcome: t.state.Ending, Reason: t.state.Why, Chosen: t.state.Chosen})
			return
		}
		t.takeBack(t.state.Tasks[next].Key)
	}
	t.undoRedone()
}

// takeBack begins to take one task back; one that nothing takes back is left
// as it is.
func (t tasks) takeBack(key string) {
	task := t.state.task(key)
	of, ok := t.facts.Offering.Plan.Task(task.Of)
	switch {
	case !ok || of.Undo == nil:
		if task.mayBeDone() {
			t.giveBack(task)
			t.emit(TaskStopped{Task: key})
		} else {
			t.emit(UndoLeft{Task: key})
		}
	case of.Undo.Action != nil:
		t.emit(UndoBegun{Task: key})
		t.undoCall(key, t.facts.Now)
	default:
		text, err := t.facts.Offering.Plan.UndoWords(task.Of, t.taskValues(task), t.show())
		if err != nil {
			text = of.Undo.Text
		}
		t.emit(UndoBegun{key, text})
	}
}

// completeUndo ends an undo that people did.
func (t tasks) completeUndo(task *Task) error {
	u := task.Undo
	switch {
	case u.State == plan.Taken && u.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(u.Holder))
	case u.State == plan.Ready && u.Text == "":
		return conflict(refusal.Automatic, "%q is being taken back by itself.", task.Name)
	case u.State == plan.Ready:
		return conflict(refusal.NotTaken, "Take %q before you end it.", task.Name)
	}
	t.undone(task.Key)
	return nil
}

// undone says that a task is taken back, with what it made.
func (t tasks) undone(key string) {
	task := *t.state.task(key)
	t.emit(TaskUndone{key})
	t.giveBack(&task)
	if did := task.Did; did != nil {
		switch did.Does {
		case plan.Make:
			t.emit(HoldingEnded{Task: key, ID: did.Now.ID, Name: did.Now.Name})
		case plan.Change:
			t.emit(HoldingChanged{key, did.Before, did.Now})
		case plan.End:
			t.emit(HoldingRestored{key, did.Now.ID, did.Now.Name})
		}
	}
	if of, ok := t.facts.Offering.Plan.Task(task.Of); ok && of.Pool != nil && of.Pool.Adds && task.State == plan.Done {
		t.emit(PoolGrown{key, of.Pool.Pool, -1})
	}
	t.undoNext()
}
