package request

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rule"
)

// values are what the rules of the offering read after sending.
func (t *transition) values() rule.Values {
	if t.base == nil {
		o, parties := t.facts.Offering, t.parties(t.state.For)
		values := o.Form.Sent(t.state.Answers, t.state.Price, o.Values(parties, t.facts.Now), parties.Facts())
		t.base = &values
	}
	values := *t.base
	values.Pools = t.facts.Pools
	return values
}

// taskValues are what the rules of a task read.
func (t *transition) taskValues(task *Task) rule.Values {
	return t.facts.Offering.Plan.Values(task.Of, t.values(), task.Each, t.state.cameOut)
}

// cameOut gives what came out of all that was made of a task of the plan; of a
// file its name.
func (s *State) cameOut(of string) []plan.CameOut {
	var all []plan.CameOut
	for i := range s.Tasks {
		t := &s.Tasks[i]
		if t.Of != of || s.doneAgain(i) {
			continue
		}
		texts := t.Outputs
		for _, out := range s.CameOut(t, t.Outputs) {
			if out.File != "" {
				texts = maps.Clone(texts)
				texts[out.Key] = out.Text
			}
		}
		all = append(all, plan.CameOut{Each: t.Each, Texts: texts})
	}
	return all
}

// doneAgain reports whether what was made of a task of the plan is done again by a later
// one.
func (s *State) doneAgain(i int) bool {
	old := &s.Tasks[i]
	return slices.ContainsFunc(s.Tasks[i+1:], func(t Task) bool { return t.Back > 0 && t.Of == old.Of && t.number() == old.number() })
}

// show gives words for answers in texts.
func (t *transition) show() plan.Show {
	return t.facts.Offering.Show(t.state.Answers, t.parties(t.state.For).Facts())
}

// showSystems gives words for answers in what other systems are given.
func (t *transition) showSystems() plan.Show {
	return t.facts.Offering.ShowSystems(t.state.Answers, t.parties(t.state.For).Facts())
}

// plan makes the tasks; all are blocked until they are released.
func (t tasks) plan() {
	planned := Planned{Tasks: t.made()}
	for i := range planned.Tasks {
		task := &planned.Tasks[i]
		if text, err := t.facts.Offering.Plan.Instructions(task.Of, t.taskValues(task), t.show()); err == nil { // a faulty placeholder must not stop the work
			task.Instructions = text
		}
	}
	t.emit(planned)
	t.release()
}

// made are the tasks of the plan for this request, with their instructions as
// the offering has them.
func (t tasks) made() []Task {
	o, facts := t.facts.Offering, t.parties(t.state.For).Facts()
	tasks := []Task{}
	for _, made := range o.Plan.Make(func(source string) []plan.Each { return o.Things(source, t.state.Answers, facts) }) {
		tasks = append(tasks, t.taskOf(made))
	}
	return tasks
}

// taskOf is a task of the plan as it is made for this request.
func (t tasks) taskOf(made plan.Made) Task {
	o, facts := t.facts.Offering, t.parties(t.state.For).Facts()
	of, _ := o.Plan.Task(made.Of)
	task := Task{
		Key: made.Key, Of: made.Of, Name: made.Name, Kind: of.Kind, After: made.After, Slice: of.Slice, Each: made.Each,
		State: plan.Blocked, Instructions: of.Instructions,
	}
	if task.After == nil {
		task.After = []string{}
	}
	if of.Action != nil {
		task.Connector = of.Action.Connector
	}
	for _, out := range o.Plan.Outputs(made.Of) {
		coming := Coming{Key: out.Key, Name: out.Name, Kind: out.Kind, Real: out.Real}
		if out.Kind == plan.Money {
			coming.Currency = o.Plan.Currency()
		}
		task.Comes = append(task.Comes, coming)
	}
	for _, point := range of.MustDos {
		task.MustDos = append(task.MustDos, MustDo{Text: point})
	}
	for i, line := range o.Form.Lines(of.Lines, t.state.Answers[of.Lines], facts, o.Promise.Zone()) {
		if of.Each == of.Lines && i+1 != task.number() {
			continue // the task is for one of them
		}
		task.Lines = append(task.Lines, Line{Name: line.Name, Of: max(line.Quantity, 1)})
	}
	task.Team, _ = o.Plan.Routed(made.Of, t.taskValues(&task))
	return task
}

// release readies every task whose forerunners have ended, and delivers the
// request when all have.
func (t tasks) release() {
	if t.state.Status != Delivering && t.state.Status != Waiting {
		return
	}
	state := func(key string) plan.State { return t.state.task(key).State }
	redoing := slices.ContainsFunc(t.state.Tasks, func(task Task) bool { return task.toRedo() })
	for again := true; again; {
		again = false
		for i := range t.state.Tasks {
			task := &t.state.Tasks[i]
			if task.Back > 0 && redoing {
				continue
			}
			if task.State == plan.Blocked && plan.Released(task.Waits(), state) {
				t.beginTask(task.Key)
				again = true
			}
		}
	}
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		if !task.State.Ended() || task.Undo != nil || task.toRedo() { // what is taken back to be done again is not delivered meanwhile
			return
		}
	}
	if len(t.state.Awaits()) > 0 {
		return // what it waits for ends first
	}
	left := t.state.LeftOut()
	done := slices.ContainsFunc(t.state.Tasks, func(task Task) bool { return task.isWork() && task.State == plan.Done })
	if len(left) > 0 && !done {
		t.undo(Cancelled, "All that was needed was left out: "+leftWords(left)+".", "")
		return
	}
	t.deliver()
}

// leftWords name what was left out, with the reasons.
func leftWords(left []LeftOut) string {
	words := make([]string, len(left))
	for i, l := range left {
		words[i] = l.Task + " (" + strings.TrimRight(l.Reason, ". ") + ")"
	}
	return strings.Join(words, ", ")
}

// beginTask releases one task: it is skipped when it is not wanted, waits for a
// place when it needs one, and else is somebody's turn.
func (t tasks) beginTask(key string) {
	task := t.state.task(key)
	if of, ok := t.facts.Offering.Plan.Task(task.Of); ok {
		if wanted, err := t.facts.Offering.Plan.Wanted(task.Of, t.taskValues(task)); err == nil && !wanted {
			t.emit(TaskSkipped{Task: key})
			return
		}
		if use := of.Pool; use != nil && !use.Adds && task.Place == NoPlace {
			if t.facts.Pools[use.Pool] <= 0 {
				t.emit(PlaceQueued{key, use.Pool})
				return
			}
			t.reserve(key, use.Pool)
		}
	}
	t.start(key)
}

// start makes a released task somebody's turn.
func (t tasks) start(key string) {
	task, o := t.state.task(key), t.facts.Offering
	ready := TaskReady{Task: key}
	if task.Of != "" {
		values := t.taskValues(task)
		team, login := o.Plan.Routed(task.Of, values)
		if team != task.Team {
			ready.Team = team
		}
		if person, ok := t.facts.Company.ByLogin(login); ok && !person.Former && t.facts.Company.InTeam(person.ID, team) && task.Kind == plan.Manual {
			ready.Person = person.ID
		}
		if text, err := o.Plan.Instructions(task.Of, values, t.show()); err == nil && text != task.Instructions {
			ready.Instructions = text
		}
		clocks := t.clocks(team)
		ready.Due, ready.Remind = o.Plan.Due(task.Of, t.facts.Now, values, clocks)
		if task.Kind == plan.Wait {
			ready.Until = o.Plan.WaitUntil(task.Of, values, clocks).Truncate(time.Millisecond)
		}
		if ready.Confirmers = o.Plan.Confirmers(task.Of, t.facts.Company, t.ladderFacts().Named); ready.Confirmers != nil {
			ready.Until = o.Plan.Silence(task.Of, t.facts.Now, clocks.Work)
		}
	}
	t.emit(ready)
	if task.Kind == plan.Manual && ready.Person == "" && ready.Confirmers == nil {
		t.peopled(key)
	}
	switch {
	case task.Kind == plan.Automatic:
		t.call(key, t.facts.Now)
	case task.Kind == plan.Message:
		t.write(key)
	case task.Kind == plan.Wait:
		t.waited(key)
	case ready.Confirmers != nil && len(ready.Confirmers) == 0:
		t.stuck(TaskStuck{Task: key, Trouble: "Nobody could be found to ask."})
	}
}

// clocks are what moments of a team's task are computed with.
func (t tasks) clocks(team string) plan.Clocks {
	return plan.Clocks{
		Work: t.facts.Company.TeamHours(team, t.facts.Offering.Promise.Calendar()),
		Ended: func(of string) (time.Time, bool) {
			var last time.Time
			for _, other := range t.state.Tasks {
				if other.Of != of {
					continue
				}
				if !other.State.Ended() {
					return time.Time{}, false
				}
				if other.EndedAt.After(last) {
					last = other.EndedAt
				}
			}
			return last, !last.IsZero()
		},
	}
}

// write does a message task.
func (t tasks) write(key string) {
	task := t.state.task(key)
	of, _ := t.facts.Offering.Plan.Task(task.Of)
	subject, text, err := t.facts.Offering.Plan.Message(task.Of, t.taskValues(task), t.show())
	if err != nil {
		t.stuck(TaskStuck{Task: key, Trouble: "What to write could not be worked out: " + err.Error() + "."})
		return
	}
	t.emit(MessageWritten{key, of.Words.To, subject, text})
	t.emit(TaskDone{Task: key, Reason: "Written."})
}

// waited ends a wait whose time has come, or whose rule holds.
func (t tasks) waited(key string) bool {
	task := t.state.task(key)
	of, _ := t.facts.Offering.Plan.Task(task.Of)
	switch {
	case !task.Until.IsZero() && !task.Until.After(t.facts.Now):
		t.emit(TaskDone{Task: key, Reason: "Its time has come."})
	case t.facts.Offering.Plan.WaitOver(task.Of, t.taskValues(task)):
		t.emit(TaskDone{Task: key, Reason: "What it waited for has come about."})
	case task.Until.IsZero() && of.Wait.Holds == "":
		t.emit(TaskDone{Task: key, Reason: "There is no date to wait for."})
	default:
		return false
	}
	return true
}

// look ends the waits that something has just made an end of.
func (t tasks) look() {
	if len(t.events) == 0 || t.state.Status != Delivering && t.state.Status != Waiting {
		return
	}
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		if task.Kind == plan.Wait && task.State == plan.Ready && t.waited(task.Key) {
			t.release()
		}
	}
	t.endTied()
}

// nextTick is when something falls due by itself; zero when nothing does.
func (t tasks) nextTick() time.Time {
	next := t.state.rungTick()
	sooner := func(at time.Time) {
		if !at.IsZero() && (next.IsZero() || at.Before(next)) {
			next = at
		}
	}
	sooner(marks(t).nextMark())
	if t.state.Status != Delivering && t.state.Status != Waiting {
		return next
	}
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		switch task.State {
		case plan.Ready, plan.Taken, plan.Stuck:
		case plan.Asking:
			sooner(task.Question.Until)
			continue
		default:
			continue
		}
		if task.State == plan.Ready {
			sooner(task.Until)
			if of, ok := t.facts.Offering.Plan.Task(task.Of); ok && task.Kind == plan.Wait && of.Wait.Holds != "" {
				zone := t.facts.Offering.Promise.Zone() // its rule may read today
				sooner(calendar.DateOf(t.facts.Now.In(zone)).AddDays(1).In(zone).UTC())
			}
		}
		sooner(task.nextReminder())
	}
	return next
}

// nextReminder is when who has the task is told next that it is due; zero when
// no more.
func (t *Task) nextReminder() time.Time {
	switch {
	case t.Reminded < len(t.Remind):
		return t.Remind[t.Reminded]
	case t.Reminded == len(t.Remind):
		return t.Due
	}
	return time.Time{}
}

// tickTasks does what has fallen due during the work.
func (t tasks) tickTasks() error {
	due := func(at time.Time) bool { return !at.IsZero() && !at.After(t.facts.Now) }
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		switch {
		case task.State == plan.Asking && due(task.Question.Until):
			t.undo(Expired, fmt.Sprintf("Nobody answered the question on %q in time.", task.Name), "")
			return nil
		case task.Kind == plan.Wait && task.State == plan.Ready:
			t.waited(task.Key)
		case task.State == plan.Ready && len(task.Confirmers) > 0 && due(task.Until):
			t.emit(TaskDone{Task: task.Key, Reason: fmt.Sprintf("%d of %d confirmed in time.", len(task.Confirmed), len(task.Confirmers))})
		case (task.State == plan.Ready || task.State == plan.Taken || task.State == plan.Stuck) && due(task.nextReminder()):
			reminded := task.Reminded
			for reminded < len(task.Remind) && due(task.Remind[reminded]) {
				reminded++
			}
			over := due(task.Due)
			if over {
				reminded = len(task.Remind) + 1
			}
			t.emit(TaskReminded{task.Key, reminded, over})
		}
	}
	t.release()
	if len(t.events) == 0 && t.nextTick().IsZero() {
		return conflict(refusal.NotDue, "Nothing is due.")
	}
	return nil
}
