package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
)

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
		return nil, t.ofTeam(task)
	}
	return t.open(key)
}

// ofTeam refuses who is not of the team of a task.
func (t *turn) ofTeam(task *Task) *Refusal {
	if task.Team == "" {
		return notYours("%q is done by itself.", task.Name)
	}
	return notYours("%q is a task of %s.", task.Name, t.facts.Company.TeamName(task.Team))
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
		return t.ofTeam(task)
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
		if person, ok := t.facts.Company.Person(c.Person); !ok || person.Former || !t.facts.Company.InTeam(c.Person, to) {
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
	if holder == "" || ok && !person.Former {
		return conflict("notNeeded", "Who has %q is there.", task.Name)
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

// stuck hands a task to people: to those whose work its rescue is, with the time
// they have for it.
func (t *turn) stuck(s TaskStuck) {
	task := t.state.task(s.Task)
	if of, ok := t.facts.Offering.Plan.Task(task.Of); ok && !s.Undo {
		team := task.Team
		if of.Rescue != nil && of.Rescue.Team != "" && of.Rescue.Team != team {
			team, s.Team = of.Rescue.Team, of.Rescue.Team
		}
		s.Tell = t.rescuers(of, team)
		s.Due, s.Remind, _ = t.facts.Offering.Plan.Rescue(task.Of, t.facts.Now, t.clocks(team).Work)
	}
	t.emit(s)
	t.peopled(s.Task)
}

// rescuers are the IDs of those whom a task names to be told that it is stuck.
func (t *turn) rescuers(of plan.Task, team string) []string {
	if of.Rescue == nil {
		return nil
	}
	lead, _ := t.facts.Company.Team(team)
	home, _ := t.facts.Company.Team(t.facts.Service.Home)
	var persons []string
	for _, whom := range of.Rescue.Tell {
		persons = append(persons, map[string]string{plan.TellLead: lead.Lead, plan.TellHome: home.Lead, plan.TellOwner: t.facts.Service.Owner, plan.TellAsker: t.state.Asker}[whom])
	}
	return persons
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
	case !t.side():
		return notYours("Only %s can answer this.", t.sideNames())
	case !ok || task.State != plan.Asking:
		return conflict("notAsked", "Nobody waits for an answer of yours.")
	}
	text, err := reason(c.Text, "/text", "Write your answer.")
	if err == nil {
		t.emit(AskerAnswered{Task: c.Task, Text: text})
	}
	return err
}

func (t *turn) unaskAsker(c UnaskAsker) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || task.Question == nil || task.Question.By != t.facts.Actor:
		return notYours("Only who asked can take a question back.")
	case task.State != plan.Asking:
		return conflict("notAsked", "This question is answered already.")
	}
	t.emit(TaskQuestionDropped(c))
	return nil
}

// doubt says that somebody is not eligible; those who lead decide what follows.
func (t *turn) doubt(c Doubt) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || !t.facts.Company.InTeam(t.facts.Actor, task.Team):
		return notYours("Only the team of a task can say this.")
	case !t.state.running():
		return conflict("notNow", "This is over.")
	}
	why, err := reason(c.Reason, "/reason", "Say why they are not eligible.")
	if err == nil {
		t.emit(Doubted{c.Task, why})
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
			if output.Secret && text == "" && slices.Contains(task.Secrets, output.Key) {
				continue // it is kept already
			}
			trouble := output.Check(text, t.facts.Offering.Plan.Currency())
			if output.Kind == plan.File && text != "" && !t.added(text, c.Task) {
				trouble = output.Name + ": add the file here first."
			}
			if trouble != "" {
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
	open, secrets := t.apart(task, outputs)
	t.done(TaskDone{Task: c.Task, Outputs: open, Word: word, Secrets: secrets})
	return nil
}

// added reports whether a file was added on a task.
func (t *turn) added(file, task string) bool {
	return slices.ContainsFunc(t.state.Files, func(a Attachment) bool { return a.ID == file && a.Task == task })
}

// done ends a task with what follows from it, and goes on.
func (t *turn) done(d TaskDone) {
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
