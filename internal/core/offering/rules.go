package offering

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// Name is something a rule can read at a place.
type Name struct {
	Name  string `json:"name" doc:"As it is written in a rule, such as answers.port"`
	Label string `json:"label" doc:"What it is"`
	Type  string `json:"type" doc:"In words, such as a date"`
}

// RuleCheck is what can be said of a rule while it is typed.
type RuleCheck struct {
	Problem  string         `json:"problem,omitempty" doc:"Why it cannot be read, in words"`
	Words    string         `json:"words,omitempty" doc:"The rule as a sentence"`
	Sentence *rule.Sentence `json:"sentence,omitempty" doc:"When the rule has that shape"`
	Names    []Name         `json:"names" nullable:"false" doc:"What a rule can read here"`
}

// CheckRule looks at a rule, or a text with placeholders, as it would stand at
// a place of a document.
func CheckRule(d Document, place, source string, connectors []plan.Connector) RuleCheck {
	promised := promise.Compile(d.Promise, nil, &finding.List{})
	scope := form.Scope(d.Questions, d.Items.Currency)
	scope.Calendar = promised.Calendar()
	steps := strings.Split(strings.TrimPrefix(place, "/"), "/")
	last := steps[len(steps)-1]
	var q form.Question
	if steps[0] == "audience" {
		scope = rule.Scope{Roots: map[string]rule.Fields{"asker": rule.PersonFields}}
		if last == "for" {
			scope.Roots["beneficiary"] = rule.PersonFields
		}
	}
	if i := index(place + "/0"); steps[0] == "questions" && len(steps) > 2 && i >= 0 && i < len(d.Questions) {
		q = d.Questions[i]
		if steps[2] == "columns" && len(steps) > 4 {
			scope = scope.With("row", form.Columns(q))
			var j int
			_, _ = fmt.Sscan(steps[3], &j)
			if j >= 0 && j < len(q.Columns) {
				q = q.Columns[j]
			}
		}
		if last == "offer" {
			scope = scope.With("choice", form.ChoiceFields(q.Kind))
		}
	}
	if outer := steps[0] != "questions" && steps[0] != "sections" && steps[0] != "audience"; outer || slices.Contains([]string{"preset", "compute", "present"}, last) && q.Readers != form.Private {
		scope = form.Outer(scope, d.Questions, form.Private)
	}
	env, err := rule.NewEnv(scope)
	if i := index(place + "/0"); err == nil && steps[0] == "plan" && len(steps) > 2 && i >= 0 && i < len(d.Plan) {
		scope = plan.Scope(d.Plan, i, plan.Surroundings{
			Env: env, Connectors: connectors,
			Thing:  func(source string) plan.Thing { return thing(d.Questions, source) },
			Fields: func(source string) rule.Fields { return columns(d.Questions, source) },
		})
		env = env.Within(scope)
	}
	out := RuleCheck{Names: names(d, scope)}
	if err != nil {
		out.Problem = err.Error()
		return out
	}
	switch {
	case isText(steps):
		_, err = env.CompileText(source)
	case strings.TrimSpace(source) == "":
	case steps[0] == "plan" && last == "of", steps[0] == "promise" && last == "from":
		_, err = env.CompileMoment(source)
	case steps[0] == "items" && last == "count":
		_, err = env.Compile(source, rule.Number)
	case steps[0] == "plan" && last == "until":
		_, err = env.Compile(source, rule.DateT)
	default:
		_, err = env.Compile(source, form.RuleType(q, last))
	}
	if err != nil {
		out.Problem = err.Error() + "."
		return out
	}
	c := &comparing{old: d, next: d}
	if s, ok := rule.ParseSentence(source); ok {
		s = s.Typed(c.comparedAs)
		out.Sentence, out.Words = &s, c.sentence(s)
	}
	return out
}

// ReadRule is a rule that reads as a sentence, and how it reads.
type ReadRule struct {
	rule.Sentence
	Words string `json:"words"`
}

// Sentences finds the rules that read as a sentence, by their places.
func Sentences(d Document) map[string]ReadRule {
	out := map[string]ReadRule{}
	c := &comparing{old: d, next: d}
	add := func(source string, steps ...any) {
		if sentence, ok := rule.ParseSentence(source); ok {
			sentence = sentence.Typed(c.comparedAs)
			out[finding.At(steps...)] = ReadRule{sentence, c.sentence(sentence)}
		}
	}
	add(d.Audience.See, "audience", "see")
	add(d.Audience.Ask, "audience", "ask")
	add(d.Audience.For, "audience", "for")
	for i, section := range d.Sections {
		add(section.Show, "sections", i, "show")
	}
	for i, q := range d.Questions {
		ofQuestion(q, add, "questions", i)
		for j, column := range q.Columns {
			ofQuestion(column, add, "questions", i, "columns", j)
		}
	}
	for i, item := range d.Items.List {
		add(item.When, "items", "list", i, "when")
		for j, g := range item.Options {
			for k, o := range g.Choices {
				add(o.When, "items", "list", i, "options", j, "choices", k, "when")
			}
		}
	}
	for i, x := range d.Items.Extras {
		add(x.When, "items", "extras", i, "when")
	}
	for i, x := range d.Items.Surcharges {
		add(x.When, "items", "surcharges", i, "when")
	}
	for i, r := range d.Ladder {
		add(r.When, "ladder", i, "when")
	}
	for i, t := range d.Plan {
		add(t.When, "plan", i, "when")
		for j, r := range t.Routes {
			add(r.When, "plan", i, "routes", j, "when")
		}
		if t.Wait != nil {
			add(t.Wait.Holds, "plan", i, "wait", "holds")
		}
	}
	for i, t := range d.Promise.Targets {
		add(t.When, "promise", "targets", i, "when")
	}
	return out
}

func ofQuestion(q form.Question, add func(source string, steps ...any), at ...any) {
	place := func(steps ...any) []any { return append(append([]any{}, at...), steps...) }
	add(q.Show, place("show")...)
	add(q.Require, place("require")...)
	add(q.Lock, place("lock")...)
	add(q.Offer, place("offer")...)
	for j, c := range q.Check {
		add(c.Rule, place("check", j, "rule")...)
	}
}

// isText reports whether at a place stands a text with placeholders.
func isText(steps []string) bool {
	last := steps[len(steps)-1]
	if steps[0] == "plan" && slices.Contains([]string{"name", "detail", "which", "text", "subject"}, last) {
		return true
	}
	return slices.Contains([]string{"title", "say", "instructions", "present", "next"}, last) || slices.Contains(steps, "inputs")
}

// names lists what a scope lets rules read, with labels.
func names(d Document, scope rule.Scope) []Name {
	out := []Name{}
	labels := map[string]string{"answers": "Answer", "row": "This row", "asker": "Who asks", "beneficiary": "Who it is for", "cost": "Cost", "choice": "Each choice", "each": "What it is made for"}
	for _, q := range d.Questions {
		if t, ok := scope.Roots["answers"][q.Key]; ok {
			out = append(out, Name{"answers." + q.Key, q.Label, rule.InWords(t)})
		}
	}
	for _, root := range []string{"each", "row", "choice", "asker", "beneficiary", "cost"} {
		fields := scope.Roots[root]
		keys := make([]string, 0, len(fields))
		for key := range fields {
			keys = append(keys, key)
		}
		slices.Sort(keys)
		for _, key := range keys {
			out = append(out, Name{root + "." + key, labels[root], rule.InWords(fields[key])})
		}
	}
	for _, task := range d.Plan {
		record := "out_" + strings.ReplaceAll(task.Key, "-", "_")
		for _, key := range slices.Sorted(maps.Keys(scope.Elements[record])) {
			out = append(out, Name{"outputs." + strings.TrimPrefix(record, "out_") + "." + key, "What comes out of " + task.Name, rule.InWords(scope.Elements[record][key])})
		}
	}
	out = append(out, Name{"today", "The day it is", "a date"}, Name{"now", "The instant it is", "an instant"})
	for _, f := range rule.Functions {
		out = append(out, Name{f.Name, f.Words, rule.InWords(f.Gives)})
	}
	return out
}
