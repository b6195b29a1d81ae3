package offering

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
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
func CheckRule(d Document, place, source string) RuleCheck {
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
	out := RuleCheck{Names: names(d, scope)}
	env, err := rule.NewEnv(scope)
	if err != nil {
		out.Problem = err.Error()
		return out
	}
	if slices.Contains([]string{"title", "say", "instructions"}, last) || slices.Contains(steps, "inputs") {
		_, err = env.CompileText(source)
	} else if strings.TrimSpace(source) != "" {
		_, err = env.Compile(source, form.RuleType(q, last))
	}
	if err != nil {
		out.Problem = err.Error() + "."
		return out
	}
	c := &comparing{old: d, next: d}
	if s, ok := rule.ParseSentence(source); ok {
		out.Sentence, out.Words = &s, c.words(source)
	}
	return out
}

// names lists what a scope lets rules read, with labels.
func names(d Document, scope rule.Scope) []Name {
	out := []Name{}
	labels := map[string]string{"answers": "Answer", "row": "This row", "asker": "Who asks", "beneficiary": "Who it is for", "cost": "Cost", "choice": "Each choice"}
	for _, q := range d.Questions {
		if t, ok := scope.Roots["answers"][q.Key]; ok {
			out = append(out, Name{"answers." + q.Key, q.Label, rule.InWords(t)})
		}
	}
	for _, root := range []string{"row", "choice", "asker", "beneficiary", "cost"} {
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
	return append(out, Name{"today", "The day it is", "a date"}, Name{"now", "The instant it is", "an instant"})
}
