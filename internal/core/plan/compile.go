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
	"heptad/internal/core/order"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Plan is a compiled list of tasks.
type Plan struct {
	tasks    []compiled
	index    map[string]int
	currency string // of outputs that are money
}

type compiled struct {
	Task
	effort       calendar.Length
	within       calendar.Length
	silence      calendar.Length
	rescue       calendar.Length
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
	asks         []Field // inputs that staff type who start it
	outputs      []Output
}

// UsualEffort is assumed for a task of people that names none, in open time.
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
	ForStaff   func(key string) bool           // whether the answer to a question is not for the asker's side; nil: none is
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
	p := &Plan{index: map[string]int{}, currency: s.Env.Scope().Currency}
	c := &compiling{Surroundings: s, plan: p, findings: findings, envs: map[string]*rule.Env{}}
	for i, t := range tasks {
		at := finding.At("plan", i, "key")
		switch _, twice := p.index[t.Key]; {
		case twice || t.Key == "":
			findings.Error(finding.DuplicateKey, at, fmt.Sprintf("The key %q is empty or stands twice among the tasks.", t.Key), "")
		case !keyShape.MatchString(t.Key):
			findings.Error(finding.BadKey, at, fmt.Sprintf("%q cannot be the key of a task.", t.Key), "Begin with a letter; letters, digits and single hyphens may follow.")
		}
		p.index[t.Key] = i
		p.tasks = append(p.tasks, compiled{Task: t, inputs: map[string]*rule.Placeholder{}, undoInputs: map[string]*rule.Placeholder{}, outputs: outputsOf(t, s.Connectors)})
	}
	if len(tasks) == 0 {
		findings.Error(finding.NoTasks, "/plan", "There is no task, so a request would be delivered with nothing done.", "Add a task.")
	}
	for i := range p.tasks {
		c.at, c.task = finding.At("plan", i), &p.tasks[i]
		c.compileTask()
		c.onDemand()
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
		out[i] = Output{Key: f.Key, Name: f.Name, Kind: f.Kind, Real: f.Real, Free: f.Free, Secret: f.Secret}
	}
	return out
}

// envFor is what the rules of a task read: beside the answers the outputs of
// tasks, as a list of those made for each of something else, and what the task is
// made for.
func (c *compiling) envFor(each string) *rule.Env {
	if env, ok := c.envs[each]; ok {
		return env
	}
	scope, outputs := c.Env.Scope(), rule.Fields{}
	for i := range c.plan.tasks {
		t := &c.plan.tasks[i]
		if len(t.outputs) == 0 || !keyShape.MatchString(t.Key) {
			continue
		}
		fields := rule.Fields{}
		for _, o := range t.outputs {
			if !o.Secret {
				fields[o.Key] = ruleTypes[o.Kind]
			}
		}
		name := "out_" + ident(t.Key)
		if t.Each != "" && t.Each != each { // a list, with what each was for
			fields["name"], fields["number"] = rule.Text, rule.Count
			scope, outputs[ident(t.Key)] = scope.WithElement(name, fields), rule.Records(name)
			continue
		}
		scope, outputs[ident(t.Key)] = scope.WithElement(name, fields), rule.RecordOf(name)
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

var ruleTypes = map[Type]rule.Type{"": rule.Text, Text: rule.Text, Number: rule.Number, Date: rule.DateT, Money: rule.MoneyT, File: rule.Text}

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
		c.error(finding.Placeholder, place, "A placeholder cannot be read: "+err.Error()+".", "")
	}
	return compiled
}

func (c *compiling) length(text, place string) calendar.Length {
	if text == "" {
		return calendar.Length{}
	}
	l, err := calendar.ParseLength(text)
	if err != nil || l.Open < 0 || l.Days < 0 {
		c.error(finding.Length, place, fmt.Sprintf("%q is no working time.", text), "Write it like 2h, 90m or 3d.")
	}
	return l
}

func (c *compiling) compileTask() {
	t := c.task
	if thing := c.Thing(t.Each); t.Each != "" && thing == NoThing {
		c.error(finding.UnknownQuestion, "/each", fmt.Sprintf("%q is made for each of %q, which is no list.", t.Name, t.Each), "Choose an item pick, a table, several choices or belongings.")
		t.Each = ""
	}
	c.env = c.envFor(t.Each)
	if strings.TrimSpace(t.Name) == "" {
		c.error(finding.NoName, "/name", "A task has no name.", "Say what is to be done.")
	}
	for j, key := range t.After {
		if _, ok := c.plan.index[key]; !ok {
			c.error(finding.UnknownTask, finding.At("after", j), fmt.Sprintf("The task %q waits for %q, which is not there.", t.Name, key), "Take it out.")
		}
	}
	for j, key := range t.Slice {
		if !c.Question(key) {
			c.error(finding.UnknownQuestion, finding.At("slice", j), fmt.Sprintf("The task %q shows the answer to %q, which is no question.", t.Name, key), "Take it out.")
		}
	}
	t.when = c.env.Condition(t.When, c.at+"/when", c.findings)
	t.effort = c.length(t.Effort, "/effort")
	t.instructions = c.text(t.Instructions, "/instructions")
	if t.instructions != nil {
		for _, key := range t.instructions.Reads("answers") {
			if !slices.Contains(t.Slice, key) {
				c.error(finding.OutsideSlice, "/instructions", fmt.Sprintf("The instructions of %q show the answer to %q, which its team does not see.", t.Name, key), "Add the question to what the team sees.")
			}
		}
	}
	c.teams()
	c.byKind()
	c.parts()
	c.due()
	c.undo()
	c.belonging()
	c.forSide()
}

// forSide finds texts that would show the asker's side an answer for staff.
func (c *compiling) forSide() {
	t := c.task
	if c.ForStaff == nil {
		return
	}
	texts := map[string]*rule.Placeholder{"/belonging/name": t.named, "/belonging/detail": t.detail}
	if t.Words != nil && t.Words.To != "team" {
		texts["/words/subject"], texts["/words/text"] = t.subject, t.words
	}
	for _, place := range slices.Sorted(maps.Keys(texts)) {
		if texts[place] == nil {
			continue
		}
		for _, key := range texts[place].Reads("answers") {
			if c.ForStaff(key) {
				c.error(finding.ForStaff, place, fmt.Sprintf("%q would show the asker's side the answer to %q, which is for staff.", t.Name, key), "Take it out, or let the asker's side read the answer.")
			}
		}
	}
}

// checkOrder reports a circle among the tasks with its path; it reports whether
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
	findings.Error(finding.Circle, finding.At("plan", circle[0], "after"), "These tasks wait for each other in a circle: "+strings.Join(names, " → ")+".", "Take one of the waits away.")
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
