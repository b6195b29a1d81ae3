package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

func (t tasks) complete(c Complete) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if u := task.Undo; u != nil {
		return t.completeUndo(task)
	}
	switch {
	case task.State == plan.Stuck, task.Accepted && task.State == plan.Ready: // done by hand after all
	case len(task.Confirmers) > 0:
		return conflict(refusal.AsksMany, "%q is done when enough have confirmed.", task.Name)
	case task.State == plan.Asking:
		return conflict(refusal.Asking, "%q waits for an answer of %s.", task.Name, t.facts.Company.Name(t.state.Asker))
	case task.State != plan.Taken:
		return conflict(refusal.NotTaken, "Take %q before you end it.", task.Name)
	case task.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	refused := &Refusal{Kind: Invalid, Code: refusal.Incomplete, Sentence: "Something is still missing."}
	for i, point := range task.MustDos {
		if !point.Done {
			refused.Details = append(refused.Details, Refusal{Kind: Invalid, Code: refusal.MustDo, Sentence: "Still to be ticked: " + point.Text, Place: fmt.Sprintf("/mustDos/%d", i)})
		}
	}
	word := strings.TrimSpace(c.Word)
	for i, line := range task.Lines {
		if line.Done < line.Of && word == "" {
			refused.Details = append(refused.Details, Refusal{Kind: Invalid, Code: refusal.Line, Sentence: fmt.Sprintf("%s: %d of %d are done. Say in your word why the rest is left.", line.Name, line.Done, line.Of), Place: fmt.Sprintf("/lines/%d", i)})
		}
	}
	outputs := map[string]string{}
	if task.Of != "" {
		for _, output := range t.facts.Offering.Plan.Outputs(task.Of) {
			text, given := c.Outputs[output.Key]
			if text = strings.TrimSpace(text); !given {
				text = task.Outputs[output.Key]
			}
			if output.Secret && text == "" && slices.Contains(task.Secrets, output.Key) {
				continue // it is kept already
			}
			trouble := output.Check(text, t.facts.Offering.Plan.Currency())
			if output.Kind == plan.File && text != "" && !t.added(text, c.Task) {
				trouble = output.Name + ": add the file here first."
			}
			if trouble != "" {
				refused.Details = append(refused.Details, Refusal{Kind: Invalid, Code: refusal.Output, Sentence: trouble, Place: "/outputs/" + output.Key})
			} else if text != "" {
				outputs[output.Key] = text
			}
		}
	}
	if len(refused.Details) > 0 {
		refused.Sentence = refused.Details[0].Sentence
		return refused
	}
	open, secrets := t.apart(task, outputs)
	t.done(TaskDone{Task: c.Task, Outputs: open, Word: word, Secrets: secrets})
	return nil
}

// added reports whether a file was added on a task.
func (t tasks) added(file, task string) bool {
	return slices.ContainsFunc(t.state.Files, func(a Attachment) bool { return a.ID == file && a.Task == task })
}

// done ends a task with what follows from it, and goes on.
func (t tasks) done(d TaskDone) {
	task := t.state.task(d.Task)
	if late := t.clocks(task.Team).Work.Between(task.Due, t.facts.Now); !task.Due.IsZero() && late >= time.Minute {
		d.Over = calendar.Length{Open: late.Truncate(time.Minute)}.String()
	}
	t.emit(d)
	task = t.state.task(d.Task)
	if of, ok := t.facts.Offering.Plan.Task(task.Of); ok {
		if of.Pool != nil && of.Pool.Adds {
			t.emit(PoolGrown{d.Task, of.Pool.Pool, 1})
			if t.facts.Pools != nil {
				t.facts.Pools[of.Pool.Pool]++
			}
		}
		t.holding(d.Task)
	}
	t.release()
	t.undoNext()
}

// holding does to the belongings what a task that is done says.
func (t tasks) holding(key string) {
	task := t.state.task(key)
	h, ok, err := t.facts.Offering.Plan.Holding(task.Of, t.taskValues(task), t.show())
	if !ok {
		return
	}
	if err != nil || h.Name == "" {
		h.Name = task.Name // a faulty placeholder must not lose what somebody has
	}
	until := ""
	if !h.Until.IsZero() {
		until = h.Until.String()
	}
	if h.Does == plan.Make {
		made := Holding{Person: t.state.Beneficiary()}
		made.ID, made.Kind, made.Name, made.Detail, made.Until = HoldingID(t.state.ID, key), h.Kind, h.Name, h.Detail, until
		if n := t.state.For.Newcomer; n != nil {
			made.Newcomer, made.Login = n.Name, t.newLogin()
		}
		t.emit(HoldingMade{key, made})
		return
	}
	if t.facts.Holding == nil {
		return
	}
	was, ok := t.facts.Holding(h.Which)
	if !ok {
		return
	}
	if h.Does == plan.End {
		ended := HoldingEnded{Task: key, ID: was.ID, Name: was.Name}
		if last, err := calendar.ParseDate(was.Until); err == nil {
			ended.Over = max(0, t.facts.Offering.Promise.Today(t.facts.Now).Since(last))
		}
		t.emit(ended)
		return
	}
	now := was.Belonging
	if of, _ := t.facts.Offering.Plan.Task(task.Of); of.Belonging.Name != "" {
		now.Name = h.Name
	}
	if h.Detail != "" {
		now.Detail = h.Detail
	}
	if until != "" {
		now.Until = until
	}
	t.emit(HoldingChanged{key, now, was.Belonging})
}

// newLogin is the login that some task of the request made.
func (t tasks) newLogin() string {
	for i := range t.state.Tasks {
		if login := t.state.Tasks[i].Outputs["login"]; login != "" {
			return login
		}
	}
	return ""
}
