package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

// values are what the rules of the offering read after sending.
func (t *turn) values() rule.Values {
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
func (t *turn) taskValues(task *Task) rule.Values {
	return t.facts.Offering.Plan.Values(task.Of, t.values(), task.Each, t.state.outputsFor(task))
}

// outputsFor gives what a task can read of the others: of those for each thing
// only the one for the same.
func (s *State) outputsFor(task *Task) func(of string) map[string]string {
	return func(of string) map[string]string {
		for i := range s.Tasks {
			other := &s.Tasks[i]
			if other.Of == of && (other.Each == nil || other.number() == task.number()) {
				return other.Outputs
			}
		}
		return nil
	}
}

// show gives words for answers in texts.
func (t *turn) show() plan.Show {
	return t.facts.Offering.Show(t.state.Answers, t.parties(t.state.For).Facts())
}

// plan makes the tasks; all are blocked until they are released.
func (t *turn) plan() {
	planned := Planned{Tasks: t.made()}
	t.emit(planned)
	t.release()
}

func (t *turn) made() []Task {
	o, facts := t.facts.Offering, t.parties(t.state.For).Facts()
	tasks := []Task{}
	for _, made := range o.Plan.Make(func(source string) []plan.Each { return o.Things(source, t.state.Answers, facts) }) {
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
		for _, point := range of.MustDos {
			task.MustDos = append(task.MustDos, MustDo{Text: point})
		}
		for _, line := range o.Form.Lines(of.Lines, t.state.Answers[of.Lines], facts, o.Promise.Zone()) {
			task.Lines = append(task.Lines, Line{Name: line.Name, Of: max(line.Quantity, 1)})
		}
		values := t.taskValues(&task)
		task.Team, _ = o.Plan.Routed(made.Of, values)
		if text, err := o.Plan.Instructions(made.Of, values, t.show()); err == nil { // a faulty placeholder must not stop the work
			task.Instructions = text
		}
		tasks = append(tasks, task)
	}
	return tasks
}

// release readies every task whose forerunners have ended, and delivers the
// request when all have.
func (t *turn) release() {
	if t.state.Status != Delivering && t.state.Status != Waiting {
		return
	}
	state := func(key string) plan.State { return t.state.task(key).State }
	for again := true; again; {
		again = false
		for i := range t.state.Tasks {
			task := &t.state.Tasks[i]
			if task.State == plan.Blocked && plan.Released(task.Waits(), state) {
				t.beginTask(task.Key)
				again = true
			}
		}
	}
	for i := range t.state.Tasks {
		if !t.state.Tasks[i].State.Ended() {
			return
		}
	}
	t.deliver()
}

// beginTask releases one task: it is skipped when it is not wanted, waits for a
// place when it needs one, and else is somebody's turn.
func (t *turn) beginTask(key string) {
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

func (t *turn) reserve(key, pool string) {
	t.facts.Pools[pool]--
	t.emit(PlaceReserved{key, pool})
}

// start makes a released task somebody's turn.
func (t *turn) start(key string) {
	task, o := t.state.task(key), t.facts.Offering
	ready := TaskReady{Task: key}
	if task.Of != "" {
		values := t.taskValues(task)
		team, login := o.Plan.Routed(task.Of, values)
		if team != task.Team {
			ready.Team = team
		}
		if person, ok := t.facts.Company.ByLogin(login); ok && !person.Away && t.facts.Company.InTeam(person.ID, team) && task.Kind == plan.Manual {
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
		if ready.Asked = o.Plan.Asked(task.Of, t.facts.Company, t.ladderFacts().Named); ready.Asked != nil {
			ready.Until = o.Plan.Silence(task.Of, t.facts.Now, clocks.Work)
		}
	}
	t.emit(ready)
	if task.Kind == plan.Manual && ready.Person == "" && ready.Asked == nil {
		t.peopled(key)
	}
	switch {
	case task.Kind == plan.Automatic:
		t.call(key, t.facts.Now)
	case task.Kind == plan.Message:
		t.write(key)
	case task.Kind == plan.Wait:
		t.waited(key)
	case ready.Asked != nil && len(ready.Asked) == 0:
		t.stuck(TaskStuck{Task: key, Trouble: "Nobody could be found to ask."})
	}
}

// clocks are what moments of a team's task are reckoned with.
func (t *turn) clocks(team string) plan.Clocks {
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
func (t *turn) write(key string) {
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
func (t *turn) waited(key string) bool {
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
func (t *turn) look() {
	if len(t.events) == 0 || t.state.Status != Delivering && t.state.Status != Waiting {
		return
	}
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		if task.Kind == plan.Wait && task.State == plan.Ready && t.waited(task.Key) {
			t.release()
		}
	}
}

// nextTick is when something falls due by itself; zero when nothing does.
func (t *turn) nextTick() time.Time {
	next := t.state.rungTick()
	if t.state.Status != Delivering && t.state.Status != Waiting {
		return next
	}
	sooner := func(at time.Time) {
		if !at.IsZero() && (next.IsZero() || at.Before(next)) {
			next = at
		}
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
func (t *turn) tickTasks() error {
	due := func(at time.Time) bool { return !at.IsZero() && !at.After(t.facts.Now) }
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		switch {
		case task.State == plan.Asking && due(task.Question.Until):
			t.undo(Expired, fmt.Sprintf("Nobody answered the question on %q in time.", task.Name))
			return nil
		case task.Kind == plan.Wait && task.State == plan.Ready:
			t.waited(task.Key)
		case task.State == plan.Ready && len(task.Asked) > 0 && due(task.Until):
			t.emit(TaskDone{Task: task.Key, Reason: fmt.Sprintf("%d of %d confirmed in time.", len(task.Confirmed), len(task.Asked))})
		case (task.State == plan.Ready || task.State == plan.Taken || task.State == plan.Stuck) && due(task.nextReminder()):
			told := task.Reminded
			for told < len(task.Remind) && due(task.Remind[told]) {
				told++
			}
			over := due(task.Due)
			if over {
				told = len(task.Remind) + 1
			}
			t.emit(TaskReminded{task.Key, told, over})
		}
	}
	t.release()
	if len(t.events) == 0 && t.nextTick().IsZero() {
		return conflict("notDue", "Nothing is due.")
	}
	return nil
}

func (t *turn) deliver() {
	by := t.facts.Offering.Promise.ConfirmBy(t.facts.Now)
	t.emit(WorkDelivered{ConfirmBy: by})
	if !by.After(t.facts.Now) {
		t.close(RequestClosed{Outcome: Fulfilled})
		return
	}
	t.effects = append(t.effects, Effect{Kind: LapseTimer, Key: t.state.ID + "/lapse", At: by})
}

// close ends the request, and gives back the places that nobody has.
func (t *turn) close(c RequestClosed) {
	for i := range t.state.Tasks {
		if task := &t.state.Tasks[i]; task.Place != NoPlace && (task.Did == nil || task.Did.Does != plan.Make) {
			t.emit(PlaceReturned{task.Key, task.Pool})
		}
	}
	t.emit(c)
}

// open finds a task that still can be worked on.
func (t *turn) open(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	switch {
	case !ok:
		return nil, conflict("noTask", "This request has no such task.")
	case t.state.Status == Closed:
		return nil, conflict("closed", "This request is closed.")
	case t.state.Status == Undoing && task.Undo == nil:
		return nil, conflict("undoing", "This request has been taken back.")
	case task.Undo != nil:
		return task, nil
	case task.State == plan.Blocked:
		return nil, conflict("blocked", "%q still waits for other tasks.", task.Name)
	case task.State.Ended():
		return nil, conflict("ended", "%q is already %s.", task.Name, task.State)
	}
	return task, nil
}

// openToMember finds a task that the actor's team works on.
func (t *turn) openToMember(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	if ok && !t.facts.Company.InTeam(t.facts.Actor, task.Team) {
		return nil, notYours("%q is a task of %s.", task.Name, t.facts.Company.TeamName(task.Team))
	}
	return t.open(key)
}

// held finds a task that the actor has taken.
func (t *turn) held(key string) (*Task, error) {
	task, err := t.openToMember(key)
	switch {
	case err != nil:
		return nil, err
	case task.Undo != nil:
		return nil, conflict("undoing", "%q is being taken back.", task.Name)
	case task.State != plan.Taken:
		return nil, conflict("notTaken", "Take %q first.", task.Name)
	case task.Holder != t.facts.Actor:
		return nil, notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	return task, nil
}

// leads tells whether the actor leads a team, or the home team of the service,
// or owns the service.
func (t *turn) leads(team string) bool {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	of, _ := t.facts.Company.Team(team)
	return v.Owner || v.HomeLead || of.Lead == t.facts.Actor
}

// reason is a text that must be there.
func reason(text, place, sentence string) (string, error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return "", missing(place, sentence)
	}
	return text, nil
}

func (t *turn) take(c Take) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if u := task.Undo; u != nil {
		switch {
		case u.State == plan.Taken:
			return conflict("taken", "%s has taken %q already.", t.facts.Company.Name(u.Holder), task.Name)
		case u.State == plan.Ready && u.Text == "":
			return conflict("automatic", "%q is being taken back by itself.", task.Name)
		}
		t.emit(UndoTaken(c))
		return nil
	}
	switch {
	case task.Kind != plan.Manual:
		return conflict("automatic", "%q is done by itself.", task.Name)
	case len(task.Asked) > 0:
		return conflict("asksMany", "%q is done when enough have confirmed.", task.Name)
	case task.State == plan.Taken || task.State == plan.Asking:
		return conflict("taken", "%s has taken %q already.", t.facts.Company.Name(task.Holder), task.Name)
	case task.Place == Queued:
		return conflict("queued", "%q waits for a free place.", task.Name)
	case task.State == plan.Stuck:
		return conflict("stuck", "%q is stuck. Go on with it first.", task.Name)
	}
	t.emit(TaskTaken(c))
	return nil
}

func (t *turn) handOver(c HandOver) error {
	task, ok := t.state.Task(c.Task)
	member := ok && t.facts.Company.InTeam(t.facts.Actor, task.Team)
	lead := ok && t.leads(task.Team)
	if ok && !member && !lead {
		return notYours("%q is a task of %s.", task.Name, t.facts.Company.TeamName(task.Team))
	}
	task, err := t.open(c.Task)
	if err != nil {
		return err
	}
	to := task.Team
	refuse := func(place, format string, args ...any) error {
		return &Refusal{Kind: Invalid, Code: "handTo", Sentence: fmt.Sprintf(format, args...), Place: place}
	}
	switch {
	case task.Undo != nil || len(task.Asked) > 0 || task.Kind == plan.Wait || task.Kind == plan.Automatic && task.State != plan.Stuck:
		return conflict("notNow", "%q cannot be handed over now.", task.Name)
	case task.State == plan.Asking:
		return conflict("asking", "%q waits for an answer of %s.", task.Name, t.facts.Company.Name(t.state.Asker))
	case task.Holder != "" && task.Holder != t.facts.Actor && !lead:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	case c.Upward:
		team, _ := t.facts.Company.Team(task.Team)
		if to = team.Upward; to == "" {
			return conflict("noUpward", "There is no team above %s.", team.Name)
		}
	case c.Team != "":
		to = c.Team
	}
	team, ok := t.facts.Company.Team(to)
	if !ok {
		return refuse("/team", "Choose a team of the company.")
	}
	if c.Person != "" {
		if person, ok := t.facts.Company.Person(c.Person); !ok || person.Away || !t.facts.Company.InTeam(c.Person, to) {
			return refuse("/person", "Choose a member of %s.", team.Name)
		}
	}
	if to == task.Team && c.Person == task.Holder {
		return refuse("/person", "It is there already.")
	}
	why := strings.TrimSpace(c.Reason)
	if to != task.Team && why == "" {
		return missing("/reason", "Say why it goes to "+team.Name+".")
	}
	t.emit(TaskHanded{c.Task, c.Person, to, why})
	return nil
}

// free gives a task back to its team whose holder is not with the company any
// more.
func (t *turn) free(c Free) error {
	task, err := t.open(c.Task)
	if err != nil {
		return err
	}
	holder := task.Holder
	if task.Undo != nil {
		holder = task.Undo.Holder
	}
	person, ok := t.facts.Company.Person(holder)
	if holder == "" || ok && !person.Away {
		return conflict("nothingToDo", "Who has %q is there.", task.Name)
	}
	t.emit(TaskHanded{Task: c.Task, Team: task.Team, Reason: t.facts.Company.Name(holder) + " is not with the company any more."})
	t.peopled(c.Task)
	return nil
}

// peopled gives a task of a team that nobody is in to the home team of the
// service.
func (t *turn) peopled(key string) {
	task, home := t.state.task(key), t.facts.Service.Home
	if len(t.facts.Company.Members(task.Team)) == 0 && task.Team != home && len(t.facts.Company.Members(home)) > 0 {
		t.emit(TaskHanded{Task: key, Team: home, Reason: t.facts.Company.TeamName(task.Team) + " has no members."})
	}
}

// stuck hands a task to people.
func (t *turn) stuck(s TaskStuck) {
	t.emit(s)
	t.peopled(s.Task)
}

func (t *turn) check(c Check) error {
	task, err := t.held(c.Task)
	if err != nil {
		return err
	}
	if c.Point < 0 || c.Point >= len(task.MustDos) {
		return conflict("noPoint", "%q has no such point.", task.Name)
	}
	if task.MustDos[c.Point].Done != c.Done {
		t.emit(PointTicked(c))
	}
	return nil
}

func (t *turn) count(c Count) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if c.Line < 0 || c.Line >= len(task.Lines) {
		return conflict("noLine", "%q has no such line.", task.Name)
	}
	if of := task.Lines[c.Line].Of; c.Done < 0 || c.Done > of {
		return &Refusal{Kind: Invalid, Code: "range", Sentence: fmt.Sprintf("From 0 to %d can be done of this line.", of), Place: "/done"}
	}
	if task.Lines[c.Line].Done != c.Done {
		t.emit(LineDone(c))
	}
	return nil
}

func (t *turn) confirmPart(c ConfirmPart) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || !slices.Contains(task.Asked, t.facts.Actor):
		return notYours("You are not asked for this.")
	case task.State != plan.Ready || t.state.Status == Undoing:
		return conflict("ended", "%q is over.", task.Name)
	case slices.Contains(task.Confirmed, t.facts.Actor):
		return conflict("confirmed", "You have confirmed this already.")
	}
	t.emit(PartConfirmed(c))
	task = t.state.task(c.Task)
	of, _ := t.facts.Offering.Plan.Task(task.Of)
	if ladder.Stand(of.People.Enough, len(task.Asked), len(task.Confirmed), 0) == ladder.Passed {
		t.done(TaskDone{Task: c.Task, Reason: fmt.Sprintf("%d of %d have confirmed.", len(task.Confirmed), len(task.Asked))})
	}
	return nil
}

func (t *turn) askAsker(c AskAsker) error {
	if _, err := t.held(c.Task); err != nil {
		return err
	}
	text, err := reason(c.Text, "/text", "Write what you want to know.")
	if err == nil {
		t.emit(AskerAsked{c.Task, text, t.facts.Offering.Promise.AnswerBy(t.facts.Now)})
	}
	return err
}

func (t *turn) answer(c Answer) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case t.state.Asker != t.facts.Actor:
		return notYours("Only %s can answer this.", t.facts.Company.Name(t.state.Asker))
	case !ok || task.State != plan.Asking:
		return conflict("notAsked", "Nobody waits for an answer of yours.")
	}
	text, err := reason(c.Text, "/text", "Write your answer.")
	if err == nil {
		t.emit(AskerAnswered{c.Task, text})
	}
	return err
}

func (t *turn) complete(c Complete) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if u := task.Undo; u != nil {
		return t.completeUndo(task)
	}
	switch {
	case task.State == plan.Stuck, task.Accepted && task.State == plan.Ready: // done by hand after all
	case len(task.Asked) > 0:
		return conflict("asksMany", "%q is done when enough have confirmed.", task.Name)
	case task.State == plan.Asking:
		return conflict("asking", "%q waits for an answer of %s.", task.Name, t.facts.Company.Name(t.state.Asker))
	case task.State != plan.Taken:
		return conflict("notTaken", "Take %q before you end it.", task.Name)
	case task.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	refusal := &Refusal{Kind: Invalid, Code: "incomplete", Sentence: "Something is still missing."}
	for i, point := range task.MustDos {
		if !point.Done {
			refusal.Details = append(refusal.Details, Refusal{Kind: Invalid, Code: "mustDo", Sentence: "Still to be ticked: " + point.Text, Place: fmt.Sprintf("/mustDos/%d", i)})
		}
	}
	word := strings.TrimSpace(c.Word)
	for i, line := range task.Lines {
		if line.Done < line.Of && word == "" {
			refusal.Details = append(refusal.Details, Refusal{Kind: Invalid, Code: "line", Sentence: fmt.Sprintf("%s: %d of %d are done. Say in your word why the rest is left.", line.Name, line.Done, line.Of), Place: fmt.Sprintf("/lines/%d", i)})
		}
	}
	outputs := map[string]string{}
	if task.Of != "" {
		for _, output := range t.facts.Offering.Plan.Outputs(task.Of) {
			text, given := c.Outputs[output.Key]
			if text = strings.TrimSpace(text); !given {
				text = task.Outputs[output.Key]
			}
			if trouble := output.Check(text); trouble != "" {
				refusal.Details = append(refusal.Details, Refusal{Kind: Invalid, Code: "output", Sentence: trouble, Place: "/outputs/" + output.Key})
			} else if text != "" {
				outputs[output.Key] = text
			}
		}
	}
	if len(refusal.Details) > 0 {
		refusal.Sentence = refusal.Details[0].Sentence
		return refusal
	}
	t.done(TaskDone{Task: c.Task, Outputs: outputs, Word: word})
	return nil
}

// done ends a task with what follows from it, and goes on.
func (t *turn) done(d TaskDone) {
	t.emit(d)
	task := t.state.task(d.Task)
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
func (t *turn) holding(key string) {
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
		held := Held{Person: t.state.Beneficiary()}
		held.ID, held.Kind, held.Name, held.Detail, held.Until = HoldingID(t.state.ID, key), h.Kind, h.Name, h.Detail, until
		if n := t.state.For.Newcomer; n != nil {
			held.Newcomer, held.Login = n.Name, t.newLogin()
		}
		t.emit(HoldingMade{key, held})
		return
	}
	if t.facts.Held == nil {
		return
	}
	was, ok := t.facts.Held(h.Which)
	if !ok {
		return
	}
	if h.Does == plan.End {
		t.emit(HoldingEnded{key, was.ID, was.Name})
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
func (t *turn) newLogin() string {
	for i := range t.state.Tasks {
		if login := t.state.Tasks[i].Outputs["login"]; login != "" {
			return login
		}
	}
	return ""
}

func (t *turn) getStuck(c GetStuck) error {
	task, err := t.openToMember(c.Task)
	switch {
	case err != nil:
		return err
	case task.Undo != nil || task.Kind != plan.Manual || task.State != plan.Ready && task.State != plan.Taken:
		return conflict("notNow", "%q cannot get stuck now.", task.Name)
	case task.State == plan.Taken && task.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	why, err := reason(c.Reason, "/reason", "Say what it is stuck on.")
	if err == nil {
		t.stuck(TaskStuck{Task: c.Task, Trouble: why})
	}
	return err
}

func (t *turn) skip(c Skip) error {
	task, ok := t.state.Task(c.Task)
	if !ok {
		return conflict("noTask", "This request has no such task.")
	}
	undoing := task.Undo != nil
	stuck := task.State == plan.Stuck || undoing && task.Undo.State == plan.Stuck
	if !t.leads(task.Team) && !(stuck && t.facts.Company.InTeam(t.facts.Actor, task.Team)) {
		return notYours("Only the lead of %s, or of the service, can leave a task out.", t.facts.Company.TeamName(task.Team))
	}
	switch {
	case t.state.Status == Closed:
		return conflict("closed", "This request is closed.")
	case t.state.Status == Undoing && !undoing:
		return conflict("undoing", "This request has been taken back.")
	case undoing && !stuck && task.Undo.Text == "":
		return conflict("calling", "%q is being taken back by itself.", task.Name)
	case !undoing && task.State.Ended():
		return conflict("ended", "%q is already %s.", task.Name, task.State)
	case !undoing && task.unsettled():
		return conflict("calling", "%q is being done by itself. Wait for its end.", task.Name)
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
	t.emit(TaskSkipped{c.Task, why})
	t.release()
	return nil
}

// giveBack gives the place back that a task has, or queues for.
func (t *turn) giveBack(task *Task) {
	if task.Place != NoPlace {
		t.emit(PlaceReturned{task.Key, task.Pool})
	}
}

func (t *turn) waive(c Waive) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok:
		return conflict("noTask", "This request has no such task.")
	case !t.leads(task.Team):
		return notYours("Only the lead of %s, or of the service, can let it begin earlier.", t.facts.Company.TeamName(task.Team))
	case task.State != plan.Blocked || t.state.Status == Undoing || t.state.Status == Closed:
		return conflict("notBlocked", "%q does not wait for other tasks.", task.Name)
	case !slices.Contains(task.Waits(), c.After):
		return &Refusal{Kind: Invalid, Code: "notAfter", Sentence: fmt.Sprintf("%q does not wait for that task.", task.Name), Place: "/after"}
	}
	why, err := reason(c.Reason, "/reason", "Say why it need not wait.")
	if err == nil {
		t.emit(TaskWaived{c.Task, c.After, why})
		t.release()
	}
	return err
}

func (t *turn) addTask(c AddTask) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	lead := v.Owner || v.HomeLead || slices.ContainsFunc(t.state.Tasks, func(task Task) bool { return t.leads(task.Team) })
	invalid := func(place, sentence string) error {
		return &Refusal{Kind: Invalid, Code: "badTask", Sentence: sentence, Place: place}
	}
	_, known := t.facts.Company.Team(c.Team)
	before, there := t.state.Task(c.Before)
	length, badLength := calendar.ParseLength(c.Effort)
	switch {
	case !lead:
		return notYours("Only a lead can add a task.")
	case t.state.Status != Delivering && t.state.Status != Waiting:
		return conflict("notNow", "No task can be added now.")
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

func (t *turn) advance(c Advance) error {
	task, ok := t.state.Task(c.Task)
	if !ok || task.Place != Queued || t.facts.Pools[task.Pool] <= 0 || t.state.Status == Undoing {
		return conflict("noPlace", "There is no free place to go on with.")
	}
	t.reserve(c.Task, task.Pool)
	t.start(c.Task)
	t.release()
	return nil
}

func (t *turn) comment(c Comment) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	staff := slices.Contains(v.Tasks, c.Task)
	switch {
	case !v.SeesRequest() && !v.Approver && !staff:
		return notYours("Only those who see the whole request, decide on it or work on it can write here.")
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict("noWords", "Nobody can say anything on this now.")
	}
	text, err := reason(c.Text, "/text", "Write something first.")
	if err == nil {
		t.emit(Commented{text, c.Task})
	}
	return err
}

func (t *turn) note(c Note) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !v.Staff():
		return notYours("Only those who work on this can leave a note.")
	case t.state.Status == Closed:
		return conflict("noWords", "Nobody can say anything on this now.")
	}
	text, err := reason(c.Text, "/text", "Write something first.")
	if err == nil {
		t.emit(Noted{text, c.Task})
	}
	return err
}

// mostFiles is how many files can be added to one request after sending.
const mostFiles = 100

func (t *turn) attach(c Attach) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !v.SeesFiles() && !slices.Contains(v.Tasks, c.Task):
		return notYours("Only those who see the files of this request can add one.")
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict("notNow", "No file can be added now.")
	case len(t.state.Files) >= mostFiles:
		return conflict("tooMany", "At most %d files can be added to one request.", mostFiles)
	}
	t.emit(Attached(c))
	return nil
}
