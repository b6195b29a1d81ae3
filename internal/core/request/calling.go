package request

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"time"

	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

// CallKey is the idempotency key of the call of an automatic task, which never
// changes over retries; that of its undo differs.
func CallKey(request, task string, undo bool) string {
	if undo {
		return request + "/" + task + "/undo"
	}
	return request + "/" + task
}

// call asks for the action of an automatic task at an instant.
func (t tasks) call(key string, at time.Time) {
	task, o := t.state.task(key), t.facts.Offering
	inputs, err := o.Plan.Inputs(task.Of, t.taskValues(task), t.showSystems())
	if err != nil {
		t.stuck(TaskStuck{Task: key, Trouble: "What to send could not be worked out: " + err.Error() + "."})
		return
	}
	maps.Copy(inputs, task.Corrected)
	of, _ := o.Plan.Task(task.Of)
	t.effects = append(t.effects, Effect{
		Kind: Call, Key: CallKey(t.state.ID, key, false), At: at, Task: key,
		Connector: of.Action.Connector, Do: of.Action.Do, Inputs: inputs, Within: of.Action.Within(),
	})
}

// undoCall asks for the action that takes a task back. It carries the key of
// the call it undoes, as nobody may know whether that was done.
func (t tasks) undoCall(key string, at time.Time) {
	task, o := t.state.task(key), t.facts.Offering
	inputs, err := o.Plan.UndoInputs(task.Of, t.taskValues(task), t.showSystems())
	if err != nil {
		t.stuck(TaskStuck{Task: key, Undo: true, Trouble: "What to send could not be worked out: " + err.Error() + "."})
		return
	}
	of, _ := o.Plan.Task(task.Of)
	t.effects = append(t.effects, Effect{
		Kind: Call, Key: CallKey(t.state.ID, key, true), At: at, Task: key, Connector: of.Undo.Action.Connector, Do: of.Undo.Action.Do,
		Inputs: inputs, Outputs: task.Outputs, Undoes: CallKey(t.state.ID, key, false),
		Within: of.Undo.Action.Within(),
	})
}

// called finds a task that a report of a call is about. A late or repeated
// report changes nothing.
func (t tasks) called(key string, undo bool) (*Task, error) {
	task, ok := t.state.Task(key)
	switch {
	case !ok:
		return nil, conflict(refusal.NoTask, "This request has no such task.")
	case undo && (task.Undo == nil || task.Undo.State != plan.Ready || task.Undo.Text != ""):
		return nil, conflict(refusal.Ended, "%q is not being taken back.", task.Name)
	case !undo && (task.Kind != plan.Automatic || task.State != plan.Ready || task.Undo != nil):
		return nil, conflict(refusal.Ended, "%q does not wait for a report.", task.Name)
	}
	return task, nil
}

func (t tasks) succeed(c Succeed) error {
	task, err := t.called(c.Task, c.Undo)
	switch {
	case err != nil:
		return err
	case c.Undo:
		t.undone(c.Task)
	case c.Later && task.Accepted: // by a report that was faster than the answer to the call
		outputs := map[string]string{}
		maps.Copy(outputs, task.Outputs)
		open, secrets := t.apart(task, c.Outputs)
		maps.Copy(outputs, open)
		if maps.Equal(outputs, task.Outputs) && len(secrets) == 0 {
			return conflict(refusal.Seen, "%q was accepted already.", task.Name)
		}
		t.emit(CallAccepted{c.Task, outputs, secrets})
		t.undoNext()
	case c.Later:
		open, secrets := t.apart(task, c.Outputs)
		t.emit(CallAccepted{c.Task, open, secrets})
		t.undoNext()
	default:
		open, secrets := t.apart(task, c.Outputs)
		t.done(TaskDone{Task: c.Task, Outputs: open, Secrets: secrets})
	}
	return nil
}

func (t tasks) fail(c Fail) error {
	task, err := t.called(c.Task, c.Undo)
	if err != nil {
		return err
	}
	attempt := task.Attempts + 1
	if c.Undo {
		attempt = task.Undo.Attempts + 1
	}
	delay, again := t.facts.Offering.Plan.Delay(task.Of, attempt, c.Jitter)
	if c.Final || !again {
		trouble := c.Trouble
		if attempt > 1 {
			trouble = fmt.Sprintf("Tried %d times. %s", attempt, c.Trouble)
		}
		t.stuck(TaskStuck{Task: c.Task, Undo: c.Undo, Trouble: trouble})
		t.undoNext()
		return nil
	}
	at := t.facts.Now.Add(delay).Truncate(time.Millisecond)
	t.emit(CallFailed{c.Task, c.Undo, attempt, c.Trouble, at})
	if c.Undo {
		t.undoCall(c.Task, at)
	} else {
		t.call(c.Task, at)
	}
	return nil
}

// report takes a report of another system. It may come before the call it
// answers is known to be accepted, late, or twice.
func (t tasks) report(c Report) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok:
		return conflict(refusal.NoTask, "This request has no such task.")
	case slices.Contains(task.Steps, c.Step):
		return conflict(refusal.Seen, "This step was reported already.")
	case overtaken(c.Step, task.Steps):
		return conflict(refusal.Overtaken, "A later step was reported already.")
	case task.Kind != plan.Automatic || task.State != plan.Ready && task.State != plan.Stuck || task.Undo != nil:
		return conflict(refusal.Ended, "%q does not wait for a report.", task.Name)
	}
	for line, done := range c.Lines {
		if line < 0 || line >= len(task.Lines) || done < 0 || done > task.Lines[line].Of {
			return &Refusal{Kind: Invalid, Code: refusal.Range, Sentence: "There is no such line, or not so much of it.", Place: "/lines"}
		}
	}
	open, secrets := t.apart(task, c.Outputs)
	t.emit(Reported{c.Task, c.Step, c.Words, open, c.Lines, secrets})
	switch {
	case c.Failed:
		words := c.Words
		if words == "" {
			words = "The other side says that it will not be done."
		}
		t.stuck(TaskStuck{Task: c.Task, Trouble: words})
		t.undoNext()
	case c.Final:
		t.done(TaskDone{Task: c.Task})
	default:
		t.undoNext()
	}
	return nil
}

var stepNumber = regexp.MustCompile(`^(.*?)([0-9]{1,18})$`)

// overtaken reports whether a step came after a later one was taken. Steps are
// ordered that differ only in the number at their end; others come as they come.
func overtaken(step string, taken []string) bool {
	one := stepNumber.FindStringSubmatch(step)
	return one != nil && slices.ContainsFunc(taken, func(other string) bool {
		two := stepNumber.FindStringSubmatch(other)
		if two == nil || two[1] != one[1] {
			return false
		}
		a, _ := strconv.ParseUint(one[2], 10, 64) // they are digits, and few
		b, _ := strconv.ParseUint(two[2], 10, 64)
		return a < b
	})
}

// mostInput is the longest that an input can be corrected to, in bytes.
const mostInput = 8000

// correct has a stuck automatic task tried again with other inputs.
func (t tasks) correct(c Retry) error {
	if task, ok := t.state.Task(c.Task); ok && !t.leads(task.Team) {
		return notYours("Only %s can correct what is asked for.", t.leadWords(task.Team))
	}
	task, err := t.open(c.Task)
	switch {
	case err != nil:
		return err
	case task.Kind != plan.Automatic || task.State != plan.Stuck || task.Undo != nil || task.Of == "":
		return conflict(refusal.NotStuck, "%q is not stuck on a call.", task.Name)
	}
	why, err := reason(c.Reason, "/reason", "Say why it is corrected.")
	if err != nil {
		return err
	}
	of, _ := t.facts.Offering.Plan.Task(task.Of)
	for key, text := range c.Inputs {
		if _, known := of.Action.Inputs[key]; !known || len(text) > mostInput {
			return &Refusal{Kind: Invalid, Code: refusal.BadInput, Sentence: "This is not asked for, or too long.", Place: "/inputs/" + key}
		}
	}
	t.emit(TaskRetried{Task: c.Task, Inputs: c.Inputs, Reason: why})
	t.call(c.Task, t.facts.Now)
	return nil
}

func (t tasks) retry(c Retry) error {
	if len(c.Inputs) > 0 {
		return t.correct(c)
	}
	find := t.openToMember
	if t.facts.Actor == Program { // an administrator has everything tried again that is stuck on one system
		find = t.open
	}
	task, err := find(c.Task)
	if err != nil {
		return err
	}
	switch {
	case task.Undo != nil && task.Undo.State == plan.Stuck:
		t.emit(TaskRetried{Task: c.Task, Undo: true})
		t.undoCall(c.Task, t.facts.Now)
		return nil
	case task.State != plan.Stuck || task.Undo != nil:
		return conflict(refusal.NotStuck, "%q is not stuck.", task.Name)
	}
	t.emit(TaskRetried{Task: c.Task})
	switch {
	case task.Kind == plan.Automatic:
		t.call(c.Task, t.facts.Now)
	case task.Kind == plan.Message:
		t.write(c.Task)
		t.release()
	}
	return nil
}
