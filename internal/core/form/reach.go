package form

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/rule"
)

// Reach finds out what rules can ever come to, by trying the answers that
// matter to them: of a fixed list those that rules name and one other, of
// numbers and dates those around the values rules compare with. It says nothing
// of rules that hang on people, the cost or the day, and gives up when there
// is too much to try.
type Reach struct {
	form *Form
	left int // of all tries
}

// Limits of trying: all together, and for one rule.
const (
	allTries = 20_000
	oneTry   = 3_000
)

// Reach begins to try.
func (f *Form) Reach() *Reach { return &Reach{f, allTries} }

// When says when a rule runs: while a form is filled in, or once it is sent.
type When bool

// While filling in any answer may still be missing; once sent those that are
// always required are there.
const (
	Filling When = false
	Sent    When = true
)

// Never reports whether a rule can be shown never to hold; whenAbsent is what it
// comes to when it hangs on an absent answer.
func (r *Reach) Never(of *rule.Rule, whenAbsent bool, when When) bool {
	holds := false
	known := r.explore([]*rule.Rule{of}, when, func(values rule.Values) bool {
		yes, err := of.Holds(values, whenAbsent)
		holds = yes || err != nil
		return holds
	})
	return known && !holds
}

// explore runs visit with every combination of answers that matters to the
// rules, until it says stop. known is false when not all could be tried.
func (r *Reach) explore(rules []*rule.Rule, when When, visit func(rule.Values) (stop bool)) (known bool) {
	involved, all, ok := r.closure(rules)
	if !ok {
		return false
	}
	domains := make([][]rule.Value, len(involved))
	tries := 1
	for k, i := range involved {
		q := &r.form.questions[i]
		domains[k], ok = r.domain(q, all)
		if when == Sent && q.Kind != Choices && r.form.Always(q.Key) && len(domains[k]) > 1 {
			domains[k] = domains[k][1:] // no answer is the first
		}
		tries *= max(len(domains[k]), 1)
		if !ok || tries > oneTry || tries > r.left {
			return false
		}
	}
	r.left -= tries
	r.try(involved, domains, 0, rule.Values{Roots: map[string]rule.Record{"answers": {}}}, visit)
	return true
}

// try sets the answers of the involved questions one after the other, in the
// order of evaluation; it reports whether visit said stop.
func (r *Reach) try(involved []int, domains [][]rule.Value, k int, values rule.Values, visit func(rule.Values) bool) bool {
	if k == len(involved) {
		return visit(values)
	}
	q := &r.form.questions[involved[k]]
	answers := values.Roots["answers"]
	defer delete(answers, q.Key)
	for _, value := range domains[k] {
		delete(answers, q.Key)
		if q.Kind == Choices {
			answers[q.Key] = rule.OfTexts(nil)
		}
		shown := r.shown(q, values)
		if shown && value != nil {
			answers[q.Key] = value
		}
		if r.try(involved, domains, k+1, values, visit) {
			return true
		}
		if !shown {
			return false // its answer does not matter
		}
	}
	return false
}

func (r *Reach) shown(q *question, values rule.Values) bool {
	for _, show := range q.showRules() {
		if yes, err := show.Holds(values, false); err != nil || !yes {
			return false
		}
	}
	return true
}

// showRules are the rules that a question is shown by: its own and its
// section's.
func (q *question) showRules() []*rule.Rule {
	var rules []*rule.Rule
	if q.show != nil {
		rules = append(rules, q.show)
	}
	if q.section != nil && q.section.show != nil {
		rules = append(rules, q.section.show)
	}
	return rules
}

// closure gives the questions that rules hang on, in the order of evaluation,
// with all rules they are shown by. It is not ok when a rule reads anything
// but answers.
func (r *Reach) closure(rules []*rule.Rule) ([]int, []*rule.Rule, bool) {
	seen := map[int]bool{}
	all := slices.Clone(rules)
	for n := 0; n < len(all); n++ {
		if !all[n].OnlyReads("answers", "choice") {
			return nil, nil, false
		}
		for _, i := range r.form.indexes(all[n].Reads("answers")) {
			if !seen[i] {
				seen[i] = true
				all = append(all, r.form.questions[i].showRules()...)
			}
		}
	}
	var involved []int
	for _, i := range r.form.order {
		if seen[i] {
			involved = append(involved, i)
		}
	}
	return involved, all, true
}

// domain lists the answers to a question that matter to the rules; nil among
// them is no answer.
func (r *Reach) domain(q *question, rules []*rule.Rule) ([]rule.Value, bool) {
	values := []rule.Value{nil}
	switch q.Kind {
	case YesNo:
		return append(values, rule.OfYesNo(true), rule.OfYesNo(false)), true
	case Choice:
		for _, key := range q.named(rules) {
			values = append(values, rule.OfText(key))
		}
		return values, true
	case Choices:
		named := q.named(rules)
		if len(named) > 6 {
			return nil, false
		}
		for set := 1; set < 1<<len(named); set++ {
			var keys []string
			for b, key := range named {
				if set&(1<<b) != 0 {
					keys = append(keys, key)
				}
			}
			values = append(values, rule.OfTexts(keys))
		}
		return values, true
	case Text, LongText, Number, Date:
		return q.around(rules)
	}
	return nil, false
}

// named lists the choices that rules name, and one that they do not. A rule
// that offers choices may tell groups apart, and so needs one of each.
func (q *question) named(rules []*rule.Rule) []string {
	literals := map[string]bool{}
	for _, r := range rules {
		for _, text := range r.Texts() {
			literals[text] = true
		}
	}
	var keys []string
	other := false
	for _, key := range q.offered {
		if literals[key] || !other {
			keys = append(keys, key)
		}
		other = other || !literals[key]
	}
	return keys
}

// around lists the values that sentences compare a question with, and those
// beside them.
func (q *question) around(rules []*rule.Rule) ([]rule.Value, bool) {
	var found []string
	for _, r := range rules {
		if !slices.Contains(r.Reads("answers"), q.Key) {
			continue
		}
		s, ok := rule.ParseSentence(r.Source)
		if !ok {
			return nil, false
		}
		for _, c := range s.Comparisons() {
			if c.Question != q.Key {
				continue
			}
			if c.Compare == "beginsWith" || c.Compare == "contains" || c.Compare == "within" {
				return nil, false
			}
			found = append(found, c.Values...)
		}
	}
	values := []rule.Value{nil}
	switch q.Kind {
	case Number:
		return append(values, numbersAround(found)...), true
	case Date:
		for _, text := range found {
			d, err := calendar.ParseDate(text)
			if err != nil {
				return nil, false
			}
			values = append(values, rule.OfDate(d.AddDays(-1)), rule.OfDate(d), rule.OfDate(d.AddDays(1)))
		}
	default:
		for _, text := range append(found, "\uFFFD") {
			values = append(values, rule.OfText(text))
		}
	}
	return values, true
}

func numbersAround(found []string) []rule.Value {
	numbers := []float64{}
	for _, text := range found {
		if n, err := strconv.ParseFloat(text, 64); err == nil {
			numbers = append(numbers, n)
		}
	}
	slices.SortFunc(numbers, cmp.Compare)
	var values []rule.Value
	for i, n := range numbers {
		values = append(values, rule.OfNumber(n-1), rule.OfNumber(n), rule.OfNumber(n+1))
		if i > 0 {
			values = append(values, rule.OfNumber((numbers[i-1]+n)/2))
		}
	}
	return values
}

// Examine adds what can be found out about the rules of the form: questions
// that never show, required ones that may have no choice left, rules that hang
// on answers that may be absent, and free text that steers.
func (f *Form) Examine(reach *Reach, findings *finding.List) {
	for i := range f.questions {
		q := &f.questions[i]
		at := finding.At("questions", i)
		for _, show := range q.showRules() {
			if reach.Never(show, false, Filling) {
				findings.Warning(finding.NeverShown, at+"/show", fmt.Sprintf("%q can never show: no answers make its rule hold.", q.Label), "Mend the rule, or take the question out.")
				break
			}
		}
		reach.leftChoices(q, at, findings)
	}
}

// leftChoices warns of a required question that may have no choice left.
func (r *Reach) leftChoices(q *question, at string, findings *finding.List) {
	if q.offer == nil || q.require == nil || !q.Kind.HasOptions() {
		return
	}
	var when string
	rules := append([]*rule.Rule{q.offer}, q.showRules()...)
	r.explore(rules, Filling, func(values rule.Values) bool {
		if !r.shown(q, values) {
			return false
		}
		for _, o := range q.Choices {
			choice := rule.Record{"key": rule.OfText(o.Key), "label": rule.OfText(o.Label), "group": rule.OfText(o.Group)}
			if yes, err := q.offer.Holds(values.With("choice", choice), true); yes || err != nil {
				return false
			}
		}
		when = r.form.assignment(values)
		return true
	})
	if when != "" {
		findings.Warning(finding.NoChoiceLeft, at+"/offer", fmt.Sprintf("%q is required, but nothing is left to choose when %s.", q.Label, when), "Offer something then, or do not require it.")
	}
}

// assignment says in words which answers are given.
func (f *Form) assignment(values rule.Values) string {
	var parts []string
	for i := range f.questions {
		q := &f.questions[i]
		switch x := rule.Plain(values.Roots["answers"][q.Key]).(type) {
		case nil:
		case []string:
			if len(x) > 0 {
				parts = append(parts, q.Label+" is "+each(x, q.label))
			}
		case string:
			parts = append(parts, q.Label+" is "+q.label(x))
		default:
			parts = append(parts, fmt.Sprintf("%s is %v", q.Label, x))
		}
	}
	if len(parts) == 0 {
		return "nothing is answered"
	}
	return strings.Join(parts, " and ")
}

// Rules lists the rules of the form with their places, those of columns too.
func (f *Form) Rules() []rule.Placed {
	var all []rule.Placed
	for i := range f.questions {
		all = append(all, f.questions[i].placed(finding.At("questions", i))...)
	}
	return all
}

func (q *question) placed(at string) []rule.Placed {
	var all []rule.Placed
	add := func(r *rule.Rule, place string) {
		if r != nil {
			all = append(all, rule.Placed{Place: at + place, Rule: r})
		}
	}
	add(q.show, "/show")
	add(q.require, "/require")
	add(q.lock, "/lock")
	add(q.preset, "/preset")
	add(q.offer, "/offer")
	add(q.compute, "/compute")
	for j, c := range q.checks {
		add(c.rule, finding.At("check", j, "rule"))
	}
	for j := range q.columns {
		all = append(all, q.columns[j].placed(at+finding.At("columns", j))...)
	}
	return all
}

// Always reports whether a question always has an answer once the form is
// complete: it always shows and is always required, or it is a list.
func (f *Form) Always(key string) bool {
	i, ok := f.index[key]
	if !ok {
		return false
	}
	q := &f.questions[i]
	return q.Kind.list() || (len(q.showRules()) == 0 && strings.TrimSpace(q.Require) == "true")
}
