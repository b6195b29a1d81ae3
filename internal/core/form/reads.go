package form

import (
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/order"
	"heptad/internal/core/rule"
)

// rules lists the rules of a question that its answer or state hangs on;
// checks are apart, as they hang on it.
func (q *question) rules() []*rule.Rule {
	all := []*rule.Rule{q.show, q.require, q.lock, q.preset, q.offer, q.compute}
	if q.section != nil {
		all = append(all, q.section.show)
	}
	return slices.DeleteFunc(all, func(r *rule.Rule) bool { return r == nil })
}

// readsOf lists which of the indexed fields of a root the rules of a question
// read. A check may read the question itself, number own.
func (q *question) readsOf(root string, index map[string]int, own int) []int {
	var out []int
	add := func(r *rule.Rule, ownToo bool) {
		for _, key := range r.Reads(root) {
			if j, ok := index[key]; ok && (j != own || ownToo) {
				out = append(out, j)
			}
		}
	}
	for _, r := range q.rules() {
		add(r, true)
	}
	for _, c := range q.checks {
		add(c.rule, false)
	}
	return out
}

// readBy lists the questions that the rules of question i and of its columns
// read. Reading the cost is reading every item pick and what prices hang on.
func (f *Form) readBy(i int) []int {
	q := &f.questions[i]
	out := q.readsOf("answers", f.index, i)
	for j := range q.columns {
		out = append(out, q.columns[j].readsOf("answers", f.index, i)...)
	}
	if q.readsCost(false) || q.readsCost(true) {
		own := q.readsCost(false) // other than in a check
		for _, j := range append(f.indexes(f.catalog.WholeReads()), f.hasItems...) {
			if j != i || own {
				out = append(out, j)
			}
		}
	}
	if q.Kind == Items {
		out = append(out, f.indexes(f.catalog.PickReads())...)
	}
	return out
}

func (f *Form) indexes(keys []string) []int {
	var out []int
	for _, key := range keys {
		if j, ok := f.index[key]; ok {
			out = append(out, j)
		}
	}
	return out
}

// readsCost reports whether the rules, or the checks, of a question or its
// columns read the cost.
func (q *question) readsCost(checks bool) bool {
	rules := q.rules()
	if checks {
		rules = nil
		for _, c := range q.checks {
			rules = append(rules, c.rule)
		}
	}
	for _, r := range rules {
		if len(r.Reads("cost")) > 0 {
			return true
		}
	}
	return slices.ContainsFunc(q.columns, func(column question) bool { return column.readsCost(checks) })
}

// sort gives the order of evaluation: every question after those its rules
// read. A circle is an error naming its path.
func (f *Form) sort(findings *finding.List) []int {
	sorted, circle := order.Sort(len(f.questions), f.readBy)
	if circle != nil {
		findings.Error(finding.Circle, finding.At("questions", circle[0]), "These questions wait for each other in a circle: "+path(circle, f.questions)+".", "Take one of the rules away.")
	}
	return sorted
}

func path(circle []int, questions []question) string {
	names := make([]string, len(circle))
	for k, i := range circle {
		names[k] = questions[i].Label
	}
	return strings.Join(names, " → ")
}
