package form

import (
	"fmt"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/order"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Form is a compiled list of questions. It never changes and is safe for
// concurrent use.
type Form struct {
	questions []question
	order     []int // of evaluation
	index     map[string]int
	catalog   *price.Catalog
}

type question struct {
	Question
	labels  map[string]string // of choices and items
	show    *rule.Rule        // nil: always
	when    string            // the show rule in words
	require *rule.Rule        // nil: never
	checks  []check
}

type check struct {
	rule    *rule.Rule
	message string
}

// Compile checks the questions and puts them in their order of evaluation.
// Whatever is wrong goes to the findings; the form must not be used when there
// are errors among them.
func Compile(questions []Question, catalog *price.Catalog, env *rule.Env, findings *finding.List) *Form {
	f := &Form{index: map[string]int{}, catalog: catalog}
	if len(questions) > MaxQuestions {
		findings.Error("tooManyQuestions", "/questions", fmt.Sprintf("There are %d questions; %d are the most.", len(questions), MaxQuestions), "Split the offering.")
		return f
	}
	for i, q := range questions {
		at := finding.At("questions", i)
		if _, twice := f.index[q.Key]; twice {
			findings.Error("duplicateKey", at+"/key", fmt.Sprintf("Two questions have the key %q.", q.Key), "Give one of them another key.")
		}
		f.index[q.Key] = i
		f.questions = append(f.questions, compileQuestion(q, at, catalog, env, findings))
	}
	for i := range f.questions { // once all labels are known
		f.questions[i].when = f.inWords(f.questions[i].Show)
	}
	f.order = f.sort(findings)
	return f
}

func compileQuestion(q Question, at string, catalog *price.Catalog, env *rule.Env, findings *finding.List) question {
	c := question{Question: q, labels: map[string]string{}}
	if !keyIsGood(q.Key) {
		findings.Error("badKey", at+"/key", fmt.Sprintf("%q cannot be the key of a question.", q.Key), "Begin with a small letter; letters, digits and _ may follow.")
	}
	if strings.TrimSpace(q.Label) == "" {
		findings.Error("noLabel", at+"/label", "A question does not say what it asks.", "Write the question as the asker reads it.")
	}
	if _, ok := kinds[q.Kind]; !ok {
		findings.Error("badKind", at+"/kind", fmt.Sprintf("%q is no kind of question.", q.Kind), "")
	}
	c.compileChoices(at, catalog, findings)
	c.show = env.Condition(q.Show, at+"/show", findings)
	c.require = env.Condition(q.Require, at+"/require", findings)
	for j, ch := range q.Check {
		place := finding.At("check", j)
		if ch.Rule == "" {
			findings.Error("noRule", at+place+"/rule", "A check has no rule.", "Write the rule or remove the check.")
		}
		if strings.TrimSpace(ch.Message) == "" {
			findings.Error("noMessage", at+place+"/message", "A check does not say what is wrong.", "Write what the asker reads when the answer is not good.")
		}
		if r := env.Condition(ch.Rule, at+place+"/rule", findings); r != nil {
			c.checks = append(c.checks, check{r, ch.Message})
		}
	}
	return c
}

func (c *question) compileChoices(at string, catalog *price.Catalog, findings *finding.List) {
	if len(c.Choices) > MaxChoices {
		findings.Error("tooManyChoices", at+"/choices", fmt.Sprintf("There are %d choices; %d are the most.", len(c.Choices), MaxChoices), "")
		return
	}
	for j, o := range c.Choices {
		if _, twice := c.labels[o.Key]; twice || o.Key == "" {
			findings.Error("duplicateKey", at+finding.At("choices", j, "key"), fmt.Sprintf("The key %q is empty or stands twice among the choices.", o.Key), "Give every choice a key of its own.")
		}
		if strings.TrimSpace(o.Label) == "" {
			findings.Error("noLabel", at+finding.At("choices", j, "label"), "A choice has no words.", "")
		}
		c.labels[o.Key] = o.Label
	}
	for j, key := range c.Items {
		item, ok := catalog.Item(key)
		if !ok {
			findings.Error("unknownItem", at+finding.At("items", j), fmt.Sprintf("There is no item %q.", key), "Add it on the items side or take it out here.")
		}
		c.labels[key] = item.Name
	}
	switch {
	case (c.Kind == Choice || c.Kind == Choices) && len(c.Choices) == 0:
		findings.Error("noChoices", at+"/choices", "There is nothing to choose from.", "Add choices.")
	case c.Kind == Items && len(c.Items) == 0:
		findings.Error("noChoices", at+"/items", "There is no item to pick.", "Choose the items that can be picked here.")
	}
}

// sort gives the order of evaluation: every question after those its rules
// read. A circle is an error naming its path.
func (f *Form) sort(findings *finding.List) []int {
	sorted, circle := order.Sort(len(f.questions), f.readBy)
	if circle != nil {
		names := make([]string, len(circle))
		for k, i := range circle {
			names[k] = f.questions[i].Label
		}
		findings.Error("circle", finding.At("questions", circle[0]), "These questions wait for each other in a circle: "+strings.Join(names, " → ")+".", "Take one of the rules away.")
	}
	return sorted
}

// readBy lists the questions that the rules of question i read. Reading the
// cost is reading every item pick; a check may read its own question.
func (f *Form) readBy(i int) []int {
	q := f.questions[i]
	var out []int
	add := func(r *rule.Rule, ownToo bool) {
		if r == nil {
			return
		}
		for _, key := range r.Reads("answers") {
			if j, ok := f.index[key]; ok && (j != i || ownToo) {
				out = append(out, j)
			}
		}
		if len(r.Reads("cost")) > 0 {
			for j, other := range f.questions {
				if other.Kind == Items && (j != i || ownToo) {
					out = append(out, j)
				}
			}
		}
	}
	add(q.show, true)
	add(q.require, true)
	for _, c := range q.checks {
		add(c.rule, false)
	}
	return out
}

// Usable tells whether the questions could be put in an order, so that the
// form can be shown, though it may have other errors.
func (f *Form) Usable() bool { return len(f.order) == len(f.questions) }
