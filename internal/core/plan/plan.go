package plan

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/finding"
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
	when         *rule.Rule
	instructions *rule.Placeholder
	inputs       map[string]*rule.Placeholder
}

// Surroundings are what a plan is checked against.
type Surroundings struct {
	Env        *rule.Env
	Company    *people.Directory
	Connectors []Connector
	Question   func(key string) bool
}

// team finds a team; when the company is not known every team is there.
func (s Surroundings) team(key string) (people.Team, bool) {
	if s.Company == nil {
		return people.Team{}, true
	}
	return s.Company.Team(key)
}

// Compile checks the tasks and their order.
func Compile(tasks []Task, s Surroundings, findings *finding.List) *Plan {
	p := &Plan{index: map[string]int{}}
	for i, t := range tasks {
		if _, twice := p.index[t.Key]; twice || t.Key == "" {
			findings.Error("duplicateKey", finding.At("plan", i, "key"), fmt.Sprintf("The key %q is empty or stands twice among the tasks.", t.Key), "")
		}
		p.index[t.Key] = i
	}
	if len(tasks) == 0 {
		findings.Error("noTasks", "/plan", "There is no task, so a request would be delivered with nothing done.", "Add a task.")
	}
	for i, t := range tasks {
		p.tasks = append(p.tasks, p.compileTask(t, finding.At("plan", i), s, findings))
	}
	p.checkOrder(findings)
	return p
}

func (p *Plan) compileTask(t Task, at string, s Surroundings, findings *finding.List) compiled {
	c := compiled{Task: t, inputs: map[string]*rule.Placeholder{}}
	if strings.TrimSpace(t.Name) == "" {
		findings.Error("noName", at+"/name", "A task has no name.", "Say what is to be done.")
	}
	if t.Team == "" {
		findings.Error("noTeam", at+"/team", fmt.Sprintf("The task %q would land nowhere: it has no team.", t.Name), "Choose a team.")
	} else if _, ok := s.team(t.Team); !ok {
		findings.Error("unknownTeam", at+"/team", fmt.Sprintf("The task %q would land nowhere: there is no team %q.", t.Name, t.Team), "Choose a team.")
	}
	for j, key := range t.After {
		if _, ok := p.index[key]; !ok {
			findings.Error("unknownTask", at+finding.At("after", j), fmt.Sprintf("The task %q waits for %q, which is not there.", t.Name, key), "Take it out.")
		}
	}
	for j, key := range t.Slice {
		if !s.Question(key) {
			findings.Error("unknownQuestion", at+finding.At("slice", j), fmt.Sprintf("The task %q shows the answer to %q, which is no question.", t.Name, key), "Take it out.")
		}
	}
	c.when = s.Env.Condition(t.When, at+"/when", findings)
	text := func(source, place string) *rule.Placeholder {
		compiled, err := s.Env.CompileText(source)
		if err != nil {
			findings.Error("placeholder", at+place, "A placeholder cannot be read: "+err.Error()+".", "")
		}
		return compiled
	}
	c.instructions = text(t.Instructions, "/instructions")
	if c.instructions != nil {
		for _, key := range c.instructions.Reads("answers") {
			if !slices.Contains(t.Slice, key) {
				findings.Error("outsideSlice", at+"/instructions", fmt.Sprintf("The instructions of %q show the answer to %q, which its team does not see.", t.Name, key), "Add the question to what the team sees.")
			}
		}
	}
	switch t.Kind {
	case Manual:
		if t.Action != nil {
			findings.Error("action", at+"/action", fmt.Sprintf("The task %q is done by hand, yet has an action.", t.Name), "Make it automatic or take the action away.")
		}
	case Automatic:
		c.checkAction(at, s, text, findings)
	default:
		findings.Error("badKind", at+"/kind", fmt.Sprintf("%q is no kind of task.", t.Kind), "")
	}
	return c
}

func (c *compiled) checkAction(at string, s Surroundings, text func(source, place string) *rule.Placeholder, findings *finding.List) {
	if c.Action == nil {
		findings.Error("noAction", at+"/action", fmt.Sprintf("The task %q is automatic, but nothing says what it does.", c.Name), "Choose a connector and an action.")
		return
	}
	action, ok := FindAction(s.Connectors, *c.Action)
	if s.Company == nil && !ok {
		for _, key := range slices.Sorted(maps.Keys(c.Action.Inputs)) {
			c.inputs[key] = text(c.Action.Inputs[key], "/action/inputs/"+key)
		}
		return
	}
	if !ok {
		findings.Error("unknownAction", at+"/action", fmt.Sprintf("No connector %q can do %q.", c.Action.Connector, c.Action.Do), "Choose an action that is there.")
		return
	}
	known := map[string]bool{}
	for _, input := range action.Inputs {
		known[input.Key] = true
		if strings.TrimSpace(c.Action.Inputs[input.Key]) == "" {
			findings.Error("noInput", at+"/action/inputs", fmt.Sprintf("The action of %q needs %s.", c.Name, input.Name), "Fill it in, with a placeholder such as {{ asker.name }}.")
		}
	}
	for _, key := range slices.Sorted(maps.Keys(c.Action.Inputs)) {
		if !known[key] {
			findings.Error("unknownInput", at+"/action/inputs/"+key, fmt.Sprintf("The action of %q takes no %q.", c.Name, key), "Take it out.")
		}
		c.inputs[key] = text(c.Action.Inputs[key], "/action/inputs/"+key)
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

// checkOrder reports a circle among the tasks with its path.
func (p *Plan) checkOrder(findings *finding.List) {
	_, circle := order.Sort(len(p.tasks), func(i int) []int {
		var after []int
		for _, key := range p.tasks[i].After {
			if j, ok := p.index[key]; ok {
				after = append(after, j)
			}
		}
		return after
	})
	if circle == nil {
		return
	}
	names := make([]string, len(circle))
	for k, i := range circle {
		names[k] = p.tasks[i].Name
	}
	findings.Error("circle", finding.At("plan", circle[0], "after"), "These tasks wait for each other in a circle: "+strings.Join(names, " → ")+".", "Take one of the waits away.")
}

// Rules lists the rules of the tasks with their places.
func (p *Plan) Rules() []rule.Placed {
	var all []rule.Placed
	for i, t := range p.tasks {
		if t.when != nil {
			all = append(all, rule.Placed{Place: finding.At("plan", i, "when"), Rule: t.when})
		}
	}
	return all
}

// Tasks lists the tasks as the offering has them.
func (p *Plan) Tasks() []Task {
	out := make([]Task, len(p.tasks))
	for i, t := range p.tasks {
		out[i] = t.Task
	}
	return out
}

// Task finds a task of the plan by its key, which must be there.
func (p *Plan) Task(key string) Task { return p.tasks[p.index[key]].Task }

// Wanted tells whether a task is done or skipped; a rule that hangs on a
// missing answer skips it.
func (p *Plan) Wanted(key string, values rule.Values) (bool, error) {
	t := p.tasks[p.index[key]]
	if t.when == nil {
		return true, nil
	}
	return t.when.Holds(values, false)
}

// Instructions of a task with its placeholders filled in.
func (p *Plan) Instructions(key string, values rule.Values, show func(root, field string) (string, bool)) (string, error) {
	return p.tasks[p.index[key]].instructions.Render(values, show)
}

// Inputs of the action of a task with its placeholders filled in.
func (p *Plan) Inputs(key string, values rule.Values, show func(root, field string) (string, bool)) (map[string]string, error) {
	out := map[string]string{}
	for name, text := range p.tasks[p.index[key]].inputs {
		value, err := text.Render(values, show)
		if err != nil {
			return nil, err
		}
		out[name] = value
	}
	return out, nil
}

// Released tells whether every forerunner of a task has ended.
func Released(after []string, state func(key string) State) bool {
	for _, key := range after {
		if !state(key).Ended() {
			return false
		}
	}
	return true
}
