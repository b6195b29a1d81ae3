package plan

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/ladder"
	"heptad/internal/core/order"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Plan is a compiled list of tasks.
type Plan struct {
	tasks []compiled
	index map[string]int
}

type compiled struct {
	Task
	effort       calendar.Length
	within       calendar.Length
	silence      calendar.Length
	remind       []calendar.Length
	tries        []time.Duration
	when         *rule.Rule
	holds        *rule.Rule
	waitOf       *rule.Rule
	dueOf        *rule.Rule
	heldUntil    *rule.Rule
	routes       []*rule.Rule
	instructions *rule.Placeholder
	undoText     *rule.Placeholder
	which        *rule.Placeholder
	named        *rule.Placeholder
	detail       *rule.Placeholder
	subject      *rule.Placeholder
	words        *rule.Placeholder
	inputs       map[string]*rule.Placeholder
	undoInputs   map[string]*rule.Placeholder
	outputs      []Output
}

// UsualEffort is reckoned for a task of people that names none, in open time.
const UsualEffort = 4 * time.Hour

// usualTries are the delays between the tries of an automatic task that names
// none. After the last it is stuck.
var usualTries = []time.Duration{time.Second, 5 * time.Second, 20 * time.Second, 2 * time.Minute, 10 * time.Minute}

// Surroundings are what a plan is checked against.
type Surroundings struct {
	Env        *rule.Env
	Company    *people.Directory
	Connectors []Connector
	Question   func(key string) bool
	Person     func(key string) bool           // whether a question, or table.column, asks for a person
	Thing      func(source string) Thing       // what a task can be made for each of
	Fields     func(source string) rule.Fields // of a row of a table
}

// Thing says what the answers to a question, or belongings, are lists of.
type Thing string

// The things of which a task can be made for each.
const (
	NoThing  Thing = ""
	Choices  Thing = "choices"
	Picks    Thing = "picks"
	Rows     Thing = "rows"
	Holdings Thing = "belongings"
)

// Belongings is the source of tasks for each thing the beneficiary has.
const Belongings = "belongings"

// team finds a team; when the company is not known every team is there.
func (s Surroundings) team(key string) (people.Team, bool) {
	if s.Company == nil {
		return people.Team{}, true
	}
	return s.Company.Team(key)
}

// compiling is a plan on its way.
type compiling struct {
	Surroundings
	plan     *Plan
	findings *finding.List
	envs     map[string]*rule.Env // by the source of each
	at       string               // place of the task in hand
	task     *compiled
	env      *rule.Env // of the task in hand
}

var keyShape = regexp.MustCompile(`^[A-Za-z][A-Za-z0-9]*(-[A-Za-z0-9]+)*$`)

// Compile checks the tasks and their order.
func Compile(tasks []Task, s Surroundings, findings *finding.List) *Plan {
	p := &Plan{index: map[string]int{}}
	c := &compiling{Surroundings: s, plan: p, findings: findings, envs: map[string]*rule.Env{}}
	for i, t := range tasks {
		at := finding.At("plan", i, "key")
		switch _, twice := p.index[t.Key]; {
		case twice || t.Key == "":
			findings.Error("duplicateKey", at, fmt.Sprintf("The key %q is empty or stands twice among the tasks.", t.Key), "")
		case !keyShape.MatchString(t.Key):
			findings.Error("badKey", at, fmt.Sprintf("%q cannot be the key of a task.", t.Key), "Begin with a letter; letters, digits and single hyphens may follow.")
		}
		p.index[t.Key] = i
		p.tasks = append(p.tasks, compiled{Task: t, inputs: map[string]*rule.Placeholder{}, undoInputs: map[string]*rule.Placeholder{}, outputs: outputsOf(t, s.Connectors)})
	}
	if len(tasks) == 0 {
		findings.Error("noTasks", "/plan", "There is no task, so a request would be delivered with nothing done.", "Add a task.")
	}
	for i := range p.tasks {
		c.at, c.task = finding.At("plan", i), &p.tasks[i]
		c.compileTask()
	}
	if p.checkOrder(findings) {
		c.readsAhead()
	}
	return p
}

// outputsOf lists what comes out of a task.
func outputsOf(t Task, connectors []Connector) []Output {
	if t.Action == nil {
		return t.Outputs
	}
	action, ok := FindAction(connectors, *t.Action)
	if !ok || action.Free {
		return t.Outputs
	}
	out := make([]Output, len(action.Outputs))
	for i, f := range action.Outputs {
		out[i] = Output{Key: f.Key, Name: f.Name, Kind: f.Kind, Free: f.Free}
	}
	return out
}

// envFor is what the rules of a task read: beside the answers the outputs of
// tasks, and what the task is made for.
func (c *compiling) envFor(each string) *rule.Env {
	if env, ok := c.envs[each]; ok {
		return env
	}
	scope, outputs := c.Env.Scope(), rule.Fields{}
	for i := range c.plan.tasks {
		t := &c.plan.tasks[i]
		if t.Each != "" && t.Each != each || len(t.outputs) == 0 || !keyShape.MatchString(t.Key) {
			continue
		}
		fields := rule.Fields{}
		for _, o := range t.outputs {
			fields[o.Key] = ruleTypes[o.Kind]
		}
		scope = scope.WithElement("out_"+ident(t.Key), fields)
		outputs[ident(t.Key)] = rule.RecordOf("out_" + ident(t.Key))
	}
	scope = scope.With("outputs", outputs)
	if each != "" {
		scope = scope.With("each", eachFields(c.Thing(each), c.Fields(each)))
	}
	env := c.Env.Within(scope)
	c.envs[each] = env
	return env
}

// Scope is what the rules of a task may read, with the outputs of the tasks
// and what it is made for each of.
func Scope(tasks []Task, i int, s Surroundings) rule.Scope {
	p := &Plan{}
	for _, t := range tasks {
		p.tasks = append(p.tasks, compiled{Task: t, outputs: outputsOf(t, s.Connectors)})
	}
	c := &compiling{Surroundings: s, plan: p, envs: map[string]*rule.Env{}}
	return c.envFor(tasks[i].Each).Scope()
}

var ruleTypes = map[Type]rule.Type{"": rule.Text, Text: rule.Text, Number: rule.Number, Date: rule.DateT}

// ident is the key of a task as rules write it.
func ident(key string) string { return strings.ReplaceAll(key, "-", "_") }

// eachFields are what rules read of a thing a task is made for.
func eachFields(thing Thing, row rule.Fields) rule.Fields {
	fields := rule.Fields{}
	if thing == Rows {
		maps.Copy(fields, row)
	}
	fields["number"], fields["name"], fields["key"] = rule.Count, rule.Text, rule.Text
	switch thing {
	case Picks:
		fields["quantity"] = rule.Count
	case Holdings:
		fields["id"], fields["kind"], fields["detail"] = rule.Text, rule.Text, rule.Text
	}
	return fields
}

func (c *compiling) error(code, place, sentence, hint string) {
	c.findings.Error(code, c.at+place, sentence, hint)
}

func (c *compiling) text(source, place string) *rule.Placeholder {
	compiled, err := c.env.CompileText(source)
	if err != nil {
		c.error("placeholder", place, "A placeholder cannot be read: "+err.Error()+".", "")
	}
	return compiled
}

func (c *compiling) length(text, place string) calendar.Length {
	if text == "" {
		return calendar.Length{}
	}
	l, err := calendar.ParseLength(text)
	if err != nil || l.Open < 0 || l.Days < 0 {
		c.error("length", place, fmt.Sprintf("%q is no working time.", text), "Write it like 2h, 90m or 3d.")
	}
	return l
}

func (c *compiling) compileTask() {
	t := c.task
	if thing := c.Thing(t.Each); t.Each != "" && thing == NoThing {
		c.error("unknownQuestion", "/each", fmt.Sprintf("%q is made for each of %q, which is no list.", t.Name, t.Each), "Choose an item pick, a table, several choices or belongings.")
		t.Each = ""
	}
	c.env = c.envFor(t.Each)
	if strings.TrimSpace(t.Name) == "" {
		c.error("noName", "/name", "A task has no name.", "Say what is to be done.")
	}
	for j, key := range t.After {
		if _, ok := c.plan.index[key]; !ok {
			c.error("unknownTask", finding.At("after", j), fmt.Sprintf("The task %q waits for %q, which is not there.", t.Name, key), "Take it out.")
		}
	}
	for j, key := range t.Slice {
		if !c.Question(key) {
			c.error("unknownQuestion", finding.At("slice", j), fmt.Sprintf("The task %q shows the answer to %q, which is no question.", t.Name, key), "Take it out.")
		}
	}
	t.when = c.env.Condition(t.When, c.at+"/when", c.findings)
	t.effort = c.length(t.Effort, "/effort")
	t.instructions = c.text(t.Instructions, "/instructions")
	if t.instructions != nil {
		for _, key := range t.instructions.Reads("answers") {
			if !slices.Contains(t.Slice, key) {
				c.error("outsideSlice", "/instructions", fmt.Sprintf("The instructions of %q show the answer to %q, which its team does not see.", t.Name, key), "Add the question to what the team sees.")
			}
		}
	}
	c.teams()
	c.byKind()
	c.parts()
	c.due()
	c.undo()
	c.belonging()
}

// teams checks where a task lands.
func (c *compiling) teams() {
	t := c.task
	if t.Kind == Manual || t.Kind == Automatic {
		if t.Team == "" {
			c.error("noTeam", "/team", fmt.Sprintf("The task %q would land nowhere: it has no team.", t.Name), "Choose a team.")
		} else if _, ok := c.team(t.Team); !ok {
			c.error("unknownTeam", "/team", fmt.Sprintf("The task %q would land nowhere: there is no team %q.", t.Name, t.Team), "Choose a team.")
		}
	}
	for j, r := range t.Routes {
		at := finding.At("routes", j)
		t.routes = append(t.routes, c.env.Condition(r.When, c.at+at+"/when", c.findings))
		if strings.TrimSpace(r.When) == "" {
			c.error("noRule", at+"/when", fmt.Sprintf("Nothing says when %q goes to another team.", t.Name), "Say when, or take the team out.")
		}
		if _, ok := c.team(r.Team); !ok || r.Team == "" {
			c.error("unknownTeam", at+"/team", fmt.Sprintf("The task %q would land nowhere: there is no team %q.", t.Name, r.Team), "Choose a team.")
		} else if r.Person != "" && c.Company != nil && !c.Company.Partial() {
			if p, ok := c.Company.ByLogin(r.Person); !ok || !c.Company.InTeam(p.ID, r.Team) {
				c.error("noMember", at+"/person", fmt.Sprintf("%q is no member of that team.", r.Person), "Choose one of its members, or nobody.")
			}
		}
	}
}

// byKind checks what only tasks of one kind have.
func (c *compiling) byKind() {
	t := c.task
	if t.Action != nil && t.Kind != Automatic {
		c.error("action", "/action", fmt.Sprintf("The task %q is not automatic, yet has an action.", t.Name), "Make it automatic or take the action away.")
	}
	switch t.Kind {
	case Manual:
	case Automatic:
		c.action(t.Action, t.inputs, "/action")
		for j, text := range t.Tries {
			d, err := time.ParseDuration(text)
			if err != nil || d < 0 || d > 24*time.Hour {
				c.error("tries", finding.At("tries", j), fmt.Sprintf("%q is no time to wait before another try.", text), "Write it like 30s, 10m or 2h, up to a day.")
			}
			t.tries = append(t.tries, d)
		}
		if len(t.Tries) == 0 {
			t.tries = usualTries
		}
	case Wait:
		w := t.Task.Wait
		if w == nil || w.Of == "" && w.Moment.Task == "" && w.Holds == "" {
			c.error("noWait", "/wait", fmt.Sprintf("Nothing says when %q ends.", t.Name), "Give a date, or a rule.")
			break
		}
		t.waitOf = c.env.Moment(w.Of, c.at+"/wait/of", c.findings)
		t.holds = c.env.Condition(w.Holds, c.at+"/wait/holds", c.findings)
		c.clock(w.Moment, "/wait")
	case Message:
		if t.Words == nil || strings.TrimSpace(t.Words.Subject) == "" || strings.TrimSpace(t.Words.Text) == "" {
			c.error("noWords", "/words", fmt.Sprintf("Nothing says what %q writes.", t.Name), "Give it a subject and a text.")
			break
		}
		if !slices.Contains([]string{"asker", "beneficiary", "team", "followers"}, t.Words.To) {
			c.error("noReader", "/words/to", fmt.Sprintf("Nobody is there to read %q.", t.Name), "Choose whom it is written to.")
		}
		if t.Words.To == "team" && t.Team == "" {
			c.error("noTeam", "/team", fmt.Sprintf("The message %q goes to a team, but to none in particular.", t.Name), "Choose a team.")
		}
		t.subject, t.words = c.text(t.Words.Subject, "/words/subject"), c.text(t.Words.Text, "/words/text")
	default:
		c.error("badKind", "/kind", fmt.Sprintf("%q is no kind of task.", t.Kind), "")
	}
}

// action checks a call and compiles its inputs.
func (c *compiling) action(a *Action, inputs map[string]*rule.Placeholder, at string) {
	t := c.task
	if a == nil {
		c.error("noAction", at, fmt.Sprintf("The task %q is automatic, but nothing says what it does.", t.Name), "Choose a connector and an action.")
		return
	}
	for _, key := range slices.Sorted(maps.Keys(a.Inputs)) {
		inputs[key] = c.text(a.Inputs[key], at+"/inputs/"+key)
	}
	action, ok := FindAction(c.Connectors, *a)
	if !ok {
		if c.Company != nil {
			c.error("unknownAction", at, fmt.Sprintf("No connector %q can do %q.", a.Connector, a.Do), "Choose an action that is there.")
		}
		return
	}
	takes := map[string]bool{}
	for _, input := range action.Inputs {
		takes[input.Key] = true
		if text := inputs[input.Key]; text != nil && input.Form != "" {
			inputs[input.Key] = text.Escaped(input.Form.escape)
		}
		known := at == "/undo/action" && slices.ContainsFunc(t.outputs, func(o Output) bool { return o.Key == input.Key })
		if !input.Free && !known && strings.TrimSpace(a.Inputs[input.Key]) == "" {
			c.error("noInput", at+"/inputs/"+input.Key, fmt.Sprintf("The action of %q needs %s.", t.Name, input.Name), "Fill it in, with a placeholder such as {{ asker.name }}.")
		}
	}
	for _, key := range slices.Sorted(maps.Keys(a.Inputs)) {
		if !takes[key] {
			c.error("unknownInput", at+"/inputs/"+key, fmt.Sprintf("The action of %q takes no %q.", t.Name, key), "Take it out.")
		}
	}
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
			c.error("emptyPoint", finding.At("mustDos", j), "A point to tick says nothing.", "Write it, or take it out.")
		}
	}
	if thing := c.Thing(t.Lines); t.Lines != "" && (t.Kind != Manual && t.Kind != Automatic || thing != Picks && thing != Rows) {
		c.error("noLines", "/lines", fmt.Sprintf("%q cannot be done line by line: %q is neither an item pick nor a table.", t.Name, t.Lines), "Choose another question.")
	}
	seen := map[string]bool{}
	for j, o := range t.Outputs {
		if _, known := ruleTypes[o.Kind]; !outputKey.MatchString(o.Key) || seen[o.Key] || !known || strings.TrimSpace(o.Name) == "" {
			c.error("badOutput", finding.At("outputs", j), fmt.Sprintf("What comes out of %q needs a name, a kind, and a key of its own.", t.Name), "Use letters, digits and _ for the key.")
		}
		if o.From != "" && !strings.HasPrefix(o.From, "/") {
			c.error("badOutput", finding.At("outputs", j, "from"), fmt.Sprintf("%q is no place in a reply.", o.From), "Write it like /order/number.")
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
		c.error("people", "/people", fmt.Sprintf("Only a task done by people can ask many: %q is none.", t.Name), "")
	}
	switch {
	case p.Team == "" && p.Question == "":
		c.error("nobody", "/people", fmt.Sprintf("%q asks nobody to confirm.", t.Name), "Choose a team, or a question for a person.")
	case p.Question != "" && !c.Person(p.Question):
		c.error("unknownQuestion", "/people/question", fmt.Sprintf("%q asks for no person.", p.Question), "Choose a question for a person.")
	case p.Team != "":
		if _, ok := c.team(p.Team); !ok {
			c.error("unknownTeam", "/people/team", fmt.Sprintf("There is no team %q.", p.Team), "Choose a team.")
		}
	}
	if !ladder.GoodQuorum(p.Enough) {
		c.error("enough", "/people/enough", fmt.Sprintf("%q says not how many are enough.", p.Enough), "Write all, any, a number such as 2, or a share such as 50%.")
	}
	t.silence = c.length(p.Silence, "/people/silence")
}

// clock checks the parts of a moment that are not rules.
func (c *compiling) clock(m Moment, at string) {
	if m.At != "" {
		if _, err := time.Parse("15:04", m.At); err != nil {
			c.error("clockTime", at+"/at", fmt.Sprintf("%q is no clock time.", m.At), "Write it like 17:00.")
		}
	}
	if m.Task != "" {
		if _, ok := c.plan.index[m.Task]; !ok {
			c.error("unknownTask", at+"/task", fmt.Sprintf("There is no task %q.", m.Task), "Choose a task of the plan.")
		} else if m.Days < 0 {
			c.error("before", at+"/days", "Nobody knows beforehand when a task will end.", "Reckon forward from its end, or from a date in the answers.")
		}
	}
	if m.Days < -250 || m.Days > 250 {
		c.error("days", at+"/days", "From 250 working days before to 250 after can be said.", "")
	}
}

func (c *compiling) due() {
	t := c.task
	if t.Due == nil {
		return
	}
	t.within, t.dueOf = c.length(t.Due.Within, "/due/within"), c.env.Moment(t.Due.Of, c.at+"/due/of", c.findings)
	if t.Due.Within == "" && t.Due.Of == "" && t.Due.Task == "" {
		c.error("noDue", "/due", fmt.Sprintf("Nothing says when %q is due.", t.Name), "Give a working time, or a date.")
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
		c.error("noUndo", "/undo", fmt.Sprintf("Nothing says how %q is taken back.", t.Name), "Choose an action, or say what is to be done.")
	}
	if t.Undo.Action != nil {
		c.action(t.Undo.Action, t.undoInputs, "/undo/action")
	}
	if t.Team == "" {
		c.error("noTeam", "/team", fmt.Sprintf("Nobody would take %q back, or help when that fails.", t.Name), "Choose a team.")
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
			c.error("noBelonging", "/belonging", fmt.Sprintf("Nothing says what somebody has after %q.", t.Name), "Give it a kind and a name.")
		}
	case Change, End:
		if strings.TrimSpace(b.Which) == "" {
			c.error("noBelonging", "/belonging/which", fmt.Sprintf("Nothing says which of the belongings %q is about.", t.Name), "Name it, such as {{ answers.badge.id }}.")
		}
	default:
		c.error("noBelonging", "/belonging/does", fmt.Sprintf("%q is nothing that can happen to a belonging.", b.Does), "Choose make, change or end.")
	}
}

// checkOrder reports a circle among the tasks with its path; it tells whether
// there is none. A plan with a circle keeps no order, so that nothing that
// follows it runs in one.
func (p *Plan) checkOrder(findings *finding.List) bool {
	_, circle := order.Sort(len(p.tasks), p.forerunners)
	if circle == nil {
		return true
	}
	names := make([]string, len(circle))
	for k, i := range circle {
		names[k] = p.tasks[i].Name
	}
	for i := range p.tasks {
		p.tasks[i].After = nil
	}
	findings.Error("circle", finding.At("plan", circle[0], "after"), "These tasks wait for each other in a circle: "+strings.Join(names, " → ")+".", "Take one of the waits away.")
	return false
}

// forerunners of a task that are there, by index.
func (p *Plan) forerunners(i int) []int {
	var after []int
	for _, key := range p.tasks[i].After {
		if j, ok := p.index[key]; ok {
			after = append(after, j)
		}
	}
	return after
}
