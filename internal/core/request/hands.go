package request

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
)

// open finds a task that still can be worked on.
func (t tasks) open(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	switch {
	case !ok:
		return nil, conflict(refusal.NoTask, "This request has no such task.")
	case t.state.Status == Closed:
		return nil, conflict(refusal.Closed, "This request is closed.")
	case t.state.Status == Undoing && task.Undo == nil:
		return nil, conflict(refusal.Undoing, "This request has been taken back.")
	case task.Undo != nil:
		return task, nil
	case task.State == plan.Blocked:
		return nil, conflict(refusal.Blocked, "%q still waits for other tasks.", task.Name)
	case task.State.Ended():
		return nil, conflict(refusal.Ended, "%q is already %s.", task.Name, task.State)
	}
	return task, nil
}

// openToMember finds a task that the actor's team works on.
func (t tasks) openToMember(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	if ok && !t.facts.Company.InTeam(t.facts.Actor, task.Team) {
		return nil, t.ofTeam(task)
	}
	return t.open(key)
}

// ofTeam refuses who is not of the team of a task.
func (t tasks) ofTeam(task *Task) *Refusal {
	if task.Team == "" {
		return notYours("%q is done by itself.", task.Name)
	}
	return notYours("%q is a task of %s.", task.Name, t.facts.Company.TeamName(task.Team))
}

// takenByActor finds a task that the actor has taken.
func (t tasks) takenByActor(key string) (*Task, error) {
	task, err := t.openToMember(key)
	switch {
	case err != nil:
		return nil, err
	case task.Undo != nil:
		return nil, conflict(refusal.Undoing, "%q is being taken back.", task.Name)
	case task.State != plan.Taken:
		return nil, conflict(refusal.NotTaken, "Take %q first.", task.Name)
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

func (t tasks) take(c Take) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if u := task.Undo; u != nil {
		switch {
		case u.State == plan.Taken:
			return conflict(refusal.Taken, "%s has taken %q already.", t.facts.Company.Name(u.Holder), task.Name)
		case u.State == plan.Ready && u.Text == "":
			return conflict(refusal.Automatic, "%q is being taken back by itself.", task.Name)
		}
		t.emit(UndoTaken(c))
		return nil
	}
	switch {
	case task.Kind != plan.Manual:
		return conflict(refusal.Automatic, "%q is done by itself.", task.Name)
	case len(task.Confirmers) > 0:
		return conflict(refusal.AsksMany, "%q is done when enough have confirmed.", task.Name)
	case task.State == plan.Taken || task.State == plan.Asking:
		return conflict(refusal.Taken, "%s has taken %q already.", t.facts.Company.Name(task.Holder), task.Name)
	case task.Place == Queued:
		return conflict(refusal.Queued, "%q waits for a free place.", task.Name)
	case task.State == plan.Stuck:
		return conflict(refusal.Stuck, "%q is stuck. Go on with it first.", task.Name)
	}
	t.emit(TaskTaken{Task: c.Task})
	return nil
}

func (t tasks) handOver(c HandOver) error {
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
		return &Refusal{Kind: Invalid, Code: refusal.HandTo, Sentence: fmt.Sprintf(format, args...), Place: place}
	}
	switch {
	case task.Undo != nil || len(task.Confirmers) > 0 || task.Kind == plan.Wait || task.Kind == plan.Automatic && task.State != plan.Stuck:
		return conflict(refusal.NotNow, "%q cannot be handed over now.", task.Name)
	case task.State == plan.Asking:
		return conflict(refusal.Asking, "%q waits for an answer of %s.", task.Name, t.facts.Company.Name(t.state.Asker))
	case task.Holder != "" && task.Holder != t.facts.Actor && !lead:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	case c.Upward:
		team, _ := t.facts.Company.Team(task.Team)
		if to = team.Upward; to == "" {
			return conflict(refusal.NoUpward, "There is no team above %s.", team.Name)
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
	t.emit(TaskHanded{Task: c.Task, Person: c.Person, Team: to, Reason: why})
	return nil
}

// free gives a task back to its team whose holder is not with the company any
// more.
func (t tasks) free(c Free) error {
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
		return conflict(refusal.NotNeeded, "Who has %q is there.", task.Name)
	}
	t.emit(TaskHanded{Task: c.Task, Team: task.Team, Reason: t.facts.Company.Name(holder) + " is not with the company any more."})
	t.peopled(c.Task)
	return nil
}

// peopled gives a task of a team that nobody is in to the home team of the
// service.
func (t tasks) peopled(key string) {
	task, home := t.state.task(key), t.facts.Service.Home
	if len(t.facts.Company.Members(task.Team)) == 0 && task.Team != home && len(t.facts.Company.Members(home)) > 0 {
		t.emit(TaskHanded{Task: key, Team: home, Reason: t.facts.Company.TeamName(task.Team) + " has no members."})
	}
}

// stuck hands a task to people: to those whose work its rescue is, with the time
// they have for it.
func (t tasks) stuck(s TaskStuck) {
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
func (t tasks) rescuers(of plan.Task, team string) []string {
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

func (t tasks) check(c Check) error {
	task, err := t.takenByActor(c.Task)
	if err != nil {
		return err
	}
	if c.Point < 0 || c.Point >= len(task.MustDos) {
		return conflict(refusal.NoPoint, "%q has no such point.", task.Name)
	}
	if task.MustDos[c.Point].Done != c.Done {
		t.emit(PointTicked(c))
	}
	return nil
}

func (t tasks) count(c Count) error {
	task, err := t.openToMember(c.Task)
	if err != nil {
		return err
	}
	if c.Line < 0 || c.Line >= len(task.Lines) {
		return conflict(refusal.NoLine, "%q has no such line.", task.Name)
	}
	if of := task.Lines[c.Line].Of; c.Done < 0 || c.Done > of {
		return &Refusal{Kind: Invalid, Code: refusal.Range, Sentence: fmt.Sprintf("From 0 to %d can be done of this line.", of), Place: "/done"}
	}
	if task.Lines[c.Line].Done != c.Done {
		t.emit(LineDone(c))
	}
	return nil
}

func (t tasks) confirmPart(c ConfirmPart) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || !slices.Contains(task.Confirmers, t.facts.Actor):
		return notYours("You are not asked for this.")
	case task.State != plan.Ready || t.state.Status == Undoing:
		return conflict(refusal.Ended, "%q is over.", task.Name)
	case slices.Contains(task.Confirmed, t.facts.Actor):
		return conflict(refusal.Confirmed, "You have confirmed this already.")
	}
	t.emit(PartConfirmed(c))
	task = t.state.task(c.Task)
	of, _ := t.facts.Offering.Plan.Task(task.Of)
	if ladder.Stand(of.People.Enough, len(task.Confirmers), len(task.Confirmed), 0) == ladder.Passed {
		t.done(TaskDone{Task: c.Task, Reason: fmt.Sprintf("%d of %d have confirmed.", len(task.Confirmed), len(task.Confirmers))})
	}
	return nil
}

func (t tasks) askAsker(c AskAsker) error {
	if _, err := t.takenByActor(c.Task); err != nil {
		return err
	}
	text, err := reason(c.Text, "/text", "Write what you want to know.")
	if err == nil {
		t.emit(AskerAsked{Task: c.Task, Text: text, Until: t.facts.Offering.Promise.AnswerBy(t.facts.Now)})
	}
	return err
}

func (t tasks) answer(c Answer) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !t.side():
		return notYours("Only %s can answer this.", t.sideNames())
	case !ok || task.State != plan.Asking:
		return conflict(refusal.NotAsked, "Nobody waits for an answer of yours.")
	}
	text, err := reason(c.Text, "/text", "Write your answer.")
	if err == nil {
		t.emit(AskerAnswered{Task: c.Task, Text: text})
	}
	return err
}

func (t tasks) unaskAsker(c UnaskAsker) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || task.Question == nil || task.Question.By != t.facts.Actor:
		return notYours("Only who asked can take a question back.")
	case task.State != plan.Asking:
		return conflict(refusal.NotAsked, "This question is answered already.")
	}
	t.emit(TaskQuestionDropped{Task: c.Task})
	return nil
}

// doubt says that somebody is not eligible; those who lead decide what follows.
func (t tasks) doubt(c Doubt) error {
	task, ok := t.state.Task(c.Task)
	switch {
	case !ok || !t.facts.Company.InTeam(t.facts.Actor, task.Team):
		return notYours("Only the team of a task can say this.")
	case !t.state.running():
		return conflict(refusal.NotNow, "This is over.")
	}
	why, err := reason(c.Reason, "/reason", "Say why they are not eligible.")
	if err == nil {
		t.emit(Doubted{c.Task, why})
	}
	return err
}

func (t tasks) getStuck(c GetStuck) error {
	task, err := t.openToMember(c.Task)
	switch {
	case err != nil:
		return err
	case task.Undo != nil || task.Kind != plan.Manual || task.State != plan.Ready && task.State != plan.Taken:
		return conflict(refusal.NotNow, "%q cannot get stuck now.", task.Name)
	case task.State == plan.Taken && task.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	why, err := reason(c.Reason, "/reason", "Say what it is stuck on.")
	if err == nil {
		t.stuck(TaskStuck{Task: c.Task, Trouble: why})
	}
	return err
}
