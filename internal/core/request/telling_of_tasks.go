package request

import (
	"fmt"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
)

func (b TaskAdded) tell(w *telling) bool {
	w.Task, w.Remark = b.Task.Key, b.Reason
	if b.Task.Of != "" {
		w.Sentence = b.Task.Name + ": started by hand"
		return true
	}
	w.Sentence = fmt.Sprintf("Added the task %q, for %s", b.Task.Name, w.company.TeamName(b.Task.Team))
	return true
}

func (b TaskReady) tell(w *telling) bool {
	w.itself()
	t := w.state.task(b.Task)
	switch {
	case t.Kind == plan.Automatic:
		w.say(b.Task, "now being done by itself")
	case t.Kind == plan.Message:
		return false
	case t.Kind == plan.Wait:
		w.say(b.Task, "waits for its time")
	case b.Person != "":
		w.say(b.Task, "now with %s", w.company.Name(b.Person))
	case len(b.Confirmers) > 0:
		w.say(b.Task, "asked %d people", len(b.Confirmers))
	default:
		w.say(b.Task, "now with %s", w.company.TeamName(t.Team))
	}
	return true
}

func (b TaskSkipped) tell(w *telling) bool {
	w.say(b.Task, "not needed")
	if b.Reason == "" {
		w.itself()
	} else {
		w.say(b.Task, "left out")
		w.Remark = b.Reason
	}
	return true
}

func (b TaskStopped) tell(w *telling) bool {
	w.itself()
	w.say(b.Task, "stopped")
	return true
}

func (b TaskTaken) tell(w *telling) bool {
	w.say(b.Task, "taken")
	return true
}

func (b TaskHanded) tell(w *telling) bool {
	to := w.company.TeamName(b.Team)
	if b.Person != "" {
		to = w.company.Name(b.Person)
	}
	w.say(b.Task, "handed over to %s", to)
	w.Remark = b.Reason
	return true
}

func (b TaskWaived) tell(w *telling) bool {
	w.say(b.Task, "need not wait for %q", w.state.task(b.After).Name)
	w.Remark = b.Reason
	return true
}

func (b PointTicked) tell(w *telling) bool {
	if !b.Done {
		return false
	}
	w.say(b.Task, "ticked %q", w.state.task(b.Task).MustDos[b.Point].Text)
	return true
}

func (b LineDone) tell(w *telling) bool {
	line := w.state.task(b.Task).Lines[b.Line]
	w.say(b.Task, "%d of %d done of %s", b.Done, line.Of, line.Name)
	return true
}

func (b PartConfirmed) tell(w *telling) bool {
	w.say(b.Task, "confirmed")
	return true
}

func (b AskerAsked) tell(w *telling) bool {
	w.say(b.Task, "asked a question")
	w.Kind, w.Remark = "word", b.Text
	return true
}

func (b AskerAnswered) tell(w *telling) bool {
	w.say(b.Task, "answered")
	w.Kind, w.Remark = "word", b.Heard.in(b.Text, w.company)
	return true
}

func (b TaskQuestionDropped) tell(w *telling) bool {
	w.say(b.Task, "took the question back")
	return true
}

func (b TaskReminded) tell(w *telling) bool {
	w.itself()
	w.say(b.Task, "reminded, it is due soon")
	if b.Over {
		w.say(b.Task, "is due")
	}
	return true
}

func (b TaskDone) tell(w *telling) bool {
	w.say(b.Task, "done")
	if l, err := calendar.ParseLength(b.Over); err == nil && b.Over != "" {
		w.Sentence += ", " + l.Words() + " after it was due"
	}
	w.Remark = strings.TrimSpace(b.Word + " " + b.Reason)
	if b.Reason != "" {
		w.itself()
	}
	w.Remark = w.state.withOutputs(w.Remark, b.Task, b.Outputs)
	return true
}

func (b MessageWritten) tell(w *telling) bool {
	w.itself()
	w.say(b.Task, "wrote to %s", map[string]string{"asker": w.company.Name(w.state.Asker), "beneficiary": "whom it is for", "team": w.company.TeamName(w.state.task(b.Task).Team), "followers": "who follows it"}[b.To])
	w.Kind, w.Remark = "word", b.Subject
	return true
}

func (b CallFailed) tell(w *telling) bool {
	w.say(b.Task, "try %d failed; it is tried again by itself", b.Attempt)
	w.Remark = b.Trouble
	return true
}

func (b CallAccepted) tell(w *telling) bool {
	w.say(b.Task, "accepted by the other side, which will report")
	return true
}

func (b Reported) tell(w *telling) bool {
	w.say(b.Task, "the other side reports")
	w.Remark = w.state.withOutputs(b.Words, b.Task, b.Outputs)
	return true
}

func (b TaskStuck) tell(w *telling) bool {
	w.say(b.Task, "stuck, with %s", w.company.TeamName(w.state.task(b.Task).Team))
	if b.Undo {
		w.say(b.Task, "taking it back is stuck, with %s", w.company.TeamName(w.state.task(b.Task).Team))
	}
	w.Remark = b.Trouble
	return true
}

func (b TaskRetried) tell(w *telling) bool {
	w.say(b.Task, "started again")
	if len(b.Inputs) > 0 {
		w.say(b.Task, "corrected what is asked for, and started again")
		w.Remark = b.Reason
	}
	return true
}

func (b PlaceQueued) tell(w *telling) bool {
	w.say(b.Task, "waits for a free place")
	w.Actor = ""
	return true
}

func (b PlaceReserved) tell(w *telling) bool {
	w.say(b.Task, "a place is reserved")
	w.Actor = ""
	return true
}

func (b UndoBegun) tell(w *telling) bool {
	w.say(b.Task, "now being taken back")
	w.Actor, w.Remark = "", b.Text
	return true
}

func (b UndoTaken) tell(w *telling) bool {
	w.say(b.Task, "taken, to take it back")
	return true
}

func (b TaskUndone) tell(w *telling) bool {
	w.say(b.Task, "taken back")
	return true
}

func (b UndoLeft) tell(w *telling) bool {
	if b.Reason == "" {
		return false
	}
	w.say(b.Task, "left as it was done")
	w.Remark = b.Reason
	return true
}

func (b HoldingMade) tell(w *telling) bool {
	w.belonging(b.Task, "Now there: "+b.Holding.Words())
	return true
}

func (b HoldingChanged) tell(w *telling) bool {
	w.belonging(b.Task, "Changed: "+b.Before.Words()+" is now "+b.Now.Words())
	return true
}

func (b HoldingEnded) tell(w *telling) bool {
	w.belonging(b.Task, "No longer there: "+b.Name)
	if b.Over > 0 {
		w.Sentence += ", " + count(b.Over, "day") + " after its last day"
	}
	return true
}

func (b HoldingRestored) tell(w *telling) bool {
	w.belonging(b.Task, "There again: "+b.Name)
	return true
}
