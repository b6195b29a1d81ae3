package form

import (
	"fmt"
	"strings"

	"heptad/internal/core/rule"
)

// Comes is what a rule can come to, as far as all answers that matter to it could be tried.
type Comes struct {
	Known bool // all were tried; else nothing is proved
	Holds bool // with some of them
	Fails bool // with some of them
	Proof string
}

// Comes tries all answers that matter to a rule; whenAbsent is what it comes to when it
// hangs on an absent answer.
func (r *Reach) Comes(of *rule.Rule, whenAbsent bool, when When) Comes {
	return r.comes([]*rule.Rule{of}, when, func(values rule.Values) (bool, error) { return of.Holds(values, whenAbsent) })
}

// Chosen tries all answers that matter to whether a choice of a question can be chosen.
func (r *Reach) Chosen(key, choice string) Comes {
	i, ok := r.form.index[key]
	if !ok {
		return Comes{}
	}
	q := &r.form.questions[i]
	rules := q.showRules()
	if q.offer != nil {
		rules = append(rules, q.offer)
	}
	var record rule.Record
	for _, o := range q.Choices {
		if o.Key == choice {
			record = rule.Record{"key": rule.OfText(o.Key), "label": rule.OfText(o.Label), "group": rule.OfText(o.Group)}
		}
	}
	return r.comes(rules, Filling, func(values rule.Values) (bool, error) {
		if !r.shown(q, values) || q.offer == nil {
			return r.shown(q, values), nil
		}
		return q.offer.Holds(values.With("choice", record), true)
	})
}

// comes tries until both were seen, or nothing is left.
func (r *Reach) comes(rules []*rule.Rule, when When, holds func(rule.Values) (bool, error)) Comes {
	var out Comes
	tried := 0
	out.Known = r.explore(rules, when, func(values rule.Values) bool {
		tried++
		yes, err := holds(values)
		out.Holds, out.Fails = out.Holds || yes || err != nil, out.Fails || !yes || err != nil
		return out.Holds && out.Fails
	})
	if !out.Known || out.Holds && out.Fails {
		return out
	}
	involved, _, _ := r.closure(rules)
	var labels []string
	for _, i := range involved {
		labels = append(labels, r.form.questions[i].Label)
	}
	switch {
	case len(labels) == 0:
		out.Proof = "it hangs on no answer"
	case tried == 1:
		out.Proof = fmt.Sprintf("there is one answer that matters, to %s", strings.Join(labels, " and "))
	default:
		out.Proof = fmt.Sprintf("all %d answers that matter were tried, to %s", tried, strings.Join(labels, " and "))
	}
	return out
}

// ShowRule is what a question is shown by; nil when it always is, but for its section.
func (f *Form) ShowRule(key string) *rule.Rule {
	if i, ok := f.index[key]; ok {
		return f.questions[i].show
	}
	return nil
}
