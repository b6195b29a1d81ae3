package plan

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/ladder"
	"heptad/internal/core/rule"
)

// teams checks where a task lands.
func (c *compiling) teams() {
	t := c.task
	if t.Kind == Manual || t.Kind == Automatic {
		if t.Team == "" {
			c.error(finding.NoTeam, "/team", fmt.Sprintf("The task %q would land nowhere: it has no team.", t.Name), "Choose a team.")
		} else if _, ok := c.team(t.Team); !ok {
			c.error(finding.UnknownTeam, "/team", fmt.Sprintf("The task %q would land nowhere: there is no team %q.", t.Name, t.Team), "Choose a team.")
		}
	}
	for j, r := range t.Routes {
		at := finding.At("routes", j)
		t.routes = append(t.routes, c.env.Condition(r.When, c.at+at+"/when", c.findings))
		if strings.TrimSpace(r.When) == "" {
			c.error(finding.NoRule, at+"/when", fmt.Sprintf("Nothing says when %q goes to another team.", t.Name), "Say when, or take the team out.")
		}
		if _, ok := c.team(r.Team); !ok || r.Team == "" {
			c.error(finding.UnknownTeam, at+"/team", fmt.Sprintf("The task %q would land nowhere: there is no team %q.", t.Name, r.Team), "Choose a team.")
		} else if r.Person != "" && c.Company != nil && !c.Company.Partial() {
			if p, ok := c.Company.ByLogin(r.Person); !ok || !c.Company.InTeam(p.ID, r.Team) {
				c.error(finding.NoMember, at+"/person", fmt.Sprintf("%q is no member of that team.", r.Person), "Choose one of its members, or nobody.")
			}
		}
	}
}

// byKind checks what only tasks of one kind have.
func (c *compiling) byKind() {
	t := c.task
	if t.Action != nil && t.Kind != Automatic {
		c.error(finding.Action, "/action", fmt.Sprintf("The task %q is not automatic, yet has an action.", t.Name), "Make it automatic or take the action away.")
	}
	switch t.Kind {
	case Manual:
	case Automatic:
		c.action(t.Action, t.inputs, "/action")
		for j, text := range t.Tries {
			d, err := time.ParseDuration(text)
			if err != nil || d < 0 || d > 24*time.Hour {
				c.error(finding.Tries, finding.At("tries", j), fmt.Sprintf("%q is no time to wait before another try.", text), "Write it like 30s, 10m or 2h, up to a day.")
			}
			t.tries = append(t.tries, d)
		}
	case Wait:
		w := t.Task.Wait

		if w == nil || w.Of == "" && w.Moment.Task == "" && w.Holds == "" {
			c.error(finding.NoWait, "/wait", fmt.Sprintf("Nothing says when %q ends.", t.Name), "Give a date, or a rule.")
			break
		}
		t.waitOf = c.env.Moment(w.Of, c.at+"/wait/of", c.findings)
		if w.At == "" && w.Days == 0 && t.waitOf.Gives(rule.DateT) {
			c.findings.Hint(finding.ClosedDay, c.at+"/wait/at", fmt.Sprintf("When the date that %q waits for is a closed day, it ends with the next opening.", t.Name), "Give a clock time if it must end on the day itself.")
		}
		t.holds = c.env.Condition(w.Holds, c.at+"/wait/holds", c.findings)
		c.clock(w.Moment, "/wait")
	case Message:
		if t.Words == nil || strings.TrimSpace(t.Words.Subject) == "" || strings.TrimSpace(t.Words.Text) == "" {
			c.error(finding.NoWords, "/words", fmt.Sprintf("Nothing says what %q writes.", t.Name), "Give it a subject and a text.")
			break
		}
		if !slices.Contains([]string{"asker", "beneficiary", "team", "followers"}, t.Words.To) {
			c.error(finding.NoReader, "/words/to", fmt.Sprintf("Nobody is there to read %q.", t.Name), "Choose whom it is written to.")
		}
		if t.Words.To == "team" && t.Team == "" {
			c.error(finding.NoTeam, "/team", fmt.Sprintf("The message %q goes to a team, but to none in particular.", t.Name), "Choose a team.")
		}
		t.subject, t.words = c.text(t.Words.Subject, "/words/subject"), c.text(t.Words.Text, "/words/text")
	default:
		c.error(finding.BadKind, "/kind", fmt.Sprintf("%q is no kind of task.", t.Kind), "")
	}
}

// action checks a call and compiles its inputs.
func (c *compiling) action(a *Action, inputs map[string]*rule.Placeholder, at string) {
	t := c.task
	if a == nil {
		c.error(finding.NoAction, at, fmt.Sprintf("The task %q is automatic, but nothing says what it does.", t.Name), "Choose a connector and an action.")
		return
	}
	for _, key := range slices.Sorted(maps.Keys(a.Inputs)) {
		inputs[key] = c.text(a.Inputs[key], at+"/inputs/"+key)
	}
	if a.Limit != "" {
		if d, err := time.ParseDuration(a.Limit); err != nil || d < time.Second || d > MostLimit {
			c.error(finding.Limit, at+"/limit", fmt.Sprintf("%q is no time that a call may take.", a.Limit), "Write it like 30s or 2m, from 1s to 5m.")
		}
	}
	action, ok := FindAction(c.Connectors, *a)
	if !ok {
		if c.Company != nil {
			c.error(finding.UnknownAction, at, fmt.Sprintf("No connector %q can do %q.", a.Connector, a.Do), "Choose an action that is there.")
		}
		return
	}
	takes := map[string]bool{}
	for _, input := range action.Inputs {
		takes[input.Key] = true
		if text := inputs[input.Key]; text != nil && input.Form != "" {
			inputs[input.Key] = text.Escaped(input.Form.escape)
		}
		if t.OnDemand && at == "/action" && strings.TrimSpace(a.Inputs[input.Key]) == "" {
			t.asks = append(t.asks, input)
		}
		known := at == "/undo/action" && slices.ContainsFunc(t.outputs, func(o Output) bool { return o.Key == input.Key })
		if !input.Free && !known && !t.OnDemand && strings.TrimSpace(a.Inputs[input.Key]) == "" {
			c.error(finding.NoInput, at+"/inputs/"+input.Key, fmt.Sprintf("The action of %q needs %s.", t.Name, input.Name), "Fill it in, with a placeholder such as {{ asker.name }}.")
		}
	}
	for _, key := range slices.Sorted(maps.Keys(a.Inputs)) {
		if !takes[key] {
			c.error(finding.UnknownInput, at+"/inputs/"+key, fmt.Sprintf("The action of %q takes no %q.", t.Name, key), "Take it out.")
		}
	}
}

// MostLimit is the longest that a call may take, and UsualLimit how long one may
// that says nothing.
const (
	MostLimit  = 5 * time.Minute
	UsualLimit = 10 * time.Second
)

// Within is how long one call of the action may take.
func (a Action) Within() time.Duration {
	if d, err := time.ParseDuration(a.Limit); err == nil && d >= time.Second && d <= MostLimit {
		return d
	}
	return UsualLimit
}

// FindAction finds what an action is among the connectors.
func FindAction(connectors []Connector, a Action) (ActionType, bool) {
	for _, connector := range connectors {
		for _, action := range connector.Actions {
			if connector.Key == a.Connector && action.Key == a.Do {
				return action, true
			}
		}
	}
	return ActionType{}, false
}

var outputKey = regexp.MustCompile(`^[a-z][A-Za-z0-9_]*$`)

// parts checks the points, lines, outputs and people of a task.
func (c *compiling) parts() {
	t := c.task
	for j, point := range t.MustDos {
		if strings.TrimSpace(point) == "" {
			c.error(finding.EmptyPoint, finding.At("mustDos", j), "A point to tick says nothing.", "Write it, or take it out.")
		}
	}
	if thing := c.Thing(t.Lines); t.Lines != "" && (t.Kind != Manual && t.Kind != Automatic || thing != Picks && thing != Rows) {
		c.error(finding.NoLines, "/lines", fmt.Sprintf("%q cannot be done line by line: %q is neither an item pick nor a table.", t.Name, t.Lines), "Choose another question.")
	}
	if r := t.Rescue; r != nil {
		if t.Kind == Wait {
			c.error(finding.Rescue, "/rescue", fmt.Sprintf("%q is a wait, which is never stuck.", t.Name), "Take it away.")
		}
		if r.Team != "" {
			if _, ok := c.team(r.Team); !ok {
				c.error(finding.UnknownTeam, "/rescue/team", fmt.Sprintf("There is no team %q.", r.Team), "Choose a team.")
			}
		}
		t.rescue = c.length(r.Within, "/rescue/within")
		for j, whom := range r.Tell {
			if !slices.Contains([]string{TellLead, TellHome, TellOwner, TellAsker}, whom) {
				c.error(finding.NoReader, finding.At("rescue", "tell", j), fmt.Sprintf("%q is nobody who can be told.", whom), "Choose lead, home, owner or asker.")
			}
		}
	}
	seen := map[string]bool{}
	for j, o := range t.Outputs {
		if _, known := ruleTypes[o.Kind]; !outputKey.MatchString(o.Key) || seen[o.Key] || !known || strings.TrimSpace(o.Name) == "" {
			c.error(finding.BadOutput, finding.At("outputs", j), fmt.Sprintf("What comes out of %q needs a name, a kind, and a key of its own.", t.Name), "Use letters, digits and _ for the key.")
		}
		if o.Real && o.Kind != Money {
			c.error(finding.BadOutput, finding.At("outputs", j, "real"), fmt.Sprintf("%s is no sum of money, and so no real cost.", o.Name), "Make it money.")
		}
		if o.Kind == Money && c.Env.Scope().Currency == "" {
			c.error(finding.Currency, finding.At("outputs", j, "kind"), fmt.Sprintf("%s is money, but the offering has no currency.", o.Name), "Choose the currency on the items side.")
		}
		if o.Kind == File && (t.Kind != Manual || o.Secret || o.From != "") {
			c.error(finding.BadOutput, finding.At("outputs", j, "kind"), fmt.Sprintf("%s: a file is added by people, and open to whom the task shows it.", o.Name), "Choose another kind.")
		}
		if o.From != "" && !strings.HasPrefix(o.From, "/") {
			c.error(finding.BadOutput, finding.At("outputs", j, "from"), fmt.Sprintf("%q is no place in a reply.", o.From), "Write it like /order/number.")
		}
		seen[o.Key] = true
	}
	if people := t.People; people != nil {
		c.people(people)
	}
}

func (c *compiling) people(p *People) {
	t := c.task
	if t.Kind != Manual {
		c.error(finding.People, "/people", fmt.Sprintf("Only a task done by people can ask many: %q is none.", t.Name), "")
	}
	switch {
	case p.Team == "" && p.Question == "":
		c.error(finding.Nobody, "/people", fmt.Sprintf("%q asks nobody to confirm.", t.Name), "Choose a team, or a question for a person.")
	case p.Question != "" && !c.Person(p.Question):
		c.error(finding.UnknownQuestion, "/people/question", fmt.Sprintf("%q asks for no person.", p.Question), "Choose a question for a person.")
	case p.Team != "":
		if _, ok := c.team(p.Team); !ok {
			c.error(finding.UnknownTeam, "/people/team", fmt.Sprintf("There is no team %q.", p.Team), "Choose a team.")
		}
	}
	if !ladder.GoodQuorum(p.Enough) {
		c.error(finding.Enough, "/people/enough", fmt.Sprintf("%q says not how many are enough.", p.Enough), "Write all, any, a number such as 2, or a share such as 50%.")
	}
	t.silence = c.length(p.Silence, "/people/silence")
}

// clock checks the parts of a moment that are not rules.
func (c *compiling) clock(m Moment, at string) {
	if m.At != "" {
		if _, err := time.Parse("15:04", m.At); err != nil {
			c.error(finding.ClockTime, at+"/at", fmt.Sprintf("%q is no clock time.", m.At), "Write it like 17:00.")
		}
	}
	if m.Task != "" {
		if _, ok := c.plan.index[m.Task]; !ok {
			c.error(finding.UnknownTask, at+"/task", fmt.Sprintf("There is no task %q.", m.Task), "Choose a task of the plan.")
		} else if m.Days < 0 {
			c.error(finding.Before, at+"/days", "Nobody knows beforehand when a task will end.", "Count forward from its end, or from a date in the answers.")
		}
	}
	if m.Days < -250 || m.Days > 250 {
		c.error(finding.Days, at+"/days", "From 250 working days before to 250 after can be said.", "")
	}
}

func (c *compiling) due() {
	t := c.task
	if t.Due == nil {
		return
	}
	t.within, t.dueOf = c.length(t.Due.Within, "/due/within"), c.env.Moment(t.Due.Of, c.at+"/due/of", c.findings)
	if t.Due.Within == "" && t.Due.Of == "" && t.Due.Task == "" {
		c.error(finding.NoDue, "/due", fmt.Sprintf("Nothing says when %q is due.", t.Name), "Give a working time, or a date.")
	}
	c.clock(t.Due.Moment, "/due")
	for j, text := range t.Due.Remind {
		t.remind = append(t.remind, c.length(text, finding.At("due", "remind", j)))
	}
}

func (c *compiling) undo() {
	t := c.task
	if t.Undo == nil {
		return
	}
	if t.Undo.Action == nil && strings.TrimSpace(t.Undo.Text) == "" {
		c.error(finding.NoUndo, "/undo", fmt.Sprintf("Nothing says how %q is taken back.", t.Name), "Choose an action, or say what is to be done.")
	}
	if t.Undo.Action != nil {
		c.action(t.Undo.Action, t.undoInputs, "/undo/action")
	}
	if t.Team == "" {
		c.error(finding.NoTeam, "/team", fmt.Sprintf("Nobody would take %q back, or help when that fails.", t.Name), "Choose a team.")
	}
	t.undoText = c.text(t.Undo.Text, "/undo/text")
}

func (c *compiling) belonging() {
	t := c.task
	b := t.Belonging
	if b == nil {
		return
	}
	t.which, t.named, t.detail = c.text(b.Which, "/belonging/which"), c.text(b.Name, "/belonging/name"), c.text(b.Detail, "/belonging/detail")
	t.heldUntil = c.env.Value(b.Until, rule.DateT, c.at+"/belonging/until", c.findings)
	switch b.Does {
	case Make:
		if strings.TrimSpace(b.Kind) == "" || strings.TrimSpace(b.Name) == "" {
			c.error(finding.NoBelonging, "/belonging", fmt.Sprintf("Nothing says what somebody has after %q.", t.Name), "Give it a kind and a name.")
		}
	case Change, End:
		if strings.TrimSpace(b.Which) == "" {
			c.error(finding.NoBelonging, "/belonging/which", fmt.Sprintf("Nothing says which of the belongings %q is about.", t.Name), "Name it, such as {{ answers.badge.id }}.")
		}
	default:
		c.error(finding.NoBelonging, "/belonging/does", fmt.Sprintf("%q is nothing that can happen to a belonging.", b.Does), "Choose make, change or end.")
	}
}

// onDemand checks what staff start by hand: it stands outside of the order of the plan.
func (c *compiling) onDemand() {
	t := c.task
	if t.OnDemand && (t.Kind != Automatic || len(t.After) > 0 || t.Each != "" || t.When != "") {
		c.error(finding.OnDemand, "/onDemand", fmt.Sprintf("%q is started by hand: it is automatic, waits for nothing, and is made once.", t.Name), "Take away what it waits for, or let it be a step of the plan.")
	}
	for i, key := range t.After {
		if j, ok := c.plan.index[key]; ok && c.plan.tasks[j].OnDemand {
			c.error(finding.OnDemand, finding.At("after", i), fmt.Sprintf("%q is started by hand: nothing waits for it.", c.plan.tasks[j].Name), "Let it wait for another.")
		}
	}
}
