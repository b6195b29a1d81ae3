package rehearse

import (
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/rule"
)

// want looks for answers with which a rule comes to something: those it reads are tried, one
// after the other and two together, the rest is filled in.
func (f *filler) want(r *rule.Rule, holds, whenAbsent bool, base form.Answers, deep int) (form.Answers, bool) {
	good := func(answers form.Answers) (form.Answers, bool) {
		filled, result, complete := f.complete(answers)
		if !complete {
			return nil, false
		}
		is, err := r.Holds(result.Values, whenAbsent)
		return filled, err == nil && is == holds
	}
	if filled, ok := good(base); ok {
		return filled, true
	}
	var keys []string
	domains := map[string][]form.Answer{}
	read := r.Reads("answers")
	if len(r.Reads("cost")) > 0 {
		for _, q := range f.c.Document.Questions {
			if q.Kind == form.Items {
				read = append(slices.Clip(read), q.Key)
			}
		}
	}
	for _, key := range read {
		q, there := f.c.Form.Question(key)
		if !there || q.Kind == form.Computed {
			continue
		}
		around := f.shownWith(q, base, deep)
		domains[key] = f.candidates(q, f.evaluate(around))
		keys = append(keys, key)
	}
	slices.Sort(keys)
	try := func(set form.Answers) (form.Answers, bool) {
		for key := range set {
			q, _ := f.c.Form.Question(key)
			for k, v := range f.shownWith(q, base, deep) {
				if _, there := set[k]; !there {
					set[k] = v
				}
			}
		}
		return good(set)
	}
	for _, key := range keys {
		for _, value := range append(domains[key], form.Answer{}) {
			if *f.tries <= 0 {
				return nil, false
			}
			if filled, ok := try(form.Answers{key: value}); ok {
				return filled, true
			}
		}
	}
	for i, one := range keys {
		for _, two := range keys[i+1:] {
			for a := range min(6, len(domains[one])) {
				for b := range min(6, len(domains[two])) {
					if *f.tries <= 0 {
						return nil, false
					}
					if filled, ok := try(form.Answers{one: domains[one][a], two: domains[two][b]}); ok {
						return filled, true
					}
				}
			}
		}
	}
	return nil, false
}

// shownWith are answers with which a question is shown, as far as that is found.
func (f *filler) shownWith(q form.Question, base form.Answers, deep int) form.Answers {
	show := f.c.Form.ShowRule(q.Key)
	if show == nil || deep <= 0 {
		return base
	}
	found, ok := f.want(show, true, false, base, deep-1)
	if !ok {
		return base
	}
	out := form.Answers{}
	for _, key := range show.Reads("answers") {
		if value, there := found[key]; there {
			out[key] = value
		}
	}
	return out
}

// with fixes one answer beside others.
func (f *filler) with(fixed form.Answers, key string, value form.Answer) (form.Answers, bool) {
	all := form.Answers{key: value}
	for k, v := range fixed {
		if _, there := all[k]; !there {
			all[k] = v
		}
	}
	filled, _, ok := f.complete(all)
	return filled, ok
}

// offering fixes an answer that is offered only with some other answer.
func (f *filler) offering(q form.Question, fixed form.Answers, value form.Answer) (form.Answers, bool) {
	for _, r := range f.c.Form.Rules() {
		if !strings.HasSuffix(r.Place, "/offer") || f.c.Document.Questions[indexIn(r.Place)].Key != q.Key {
			continue
		}
		for _, key := range r.Rule.Reads("answers") {
			other, _ := f.c.Form.Question(key)
			for _, first := range f.candidates(other, f.evaluate(fixed)) {
				set := maps.Clone(fixed)
				if set == nil {
					set = form.Answers{}
				}
				set[key] = first
				if answers, ok := f.with(set, q.Key, value); ok {
					return answers, true
				}
			}
		}
	}
	return nil, false
}

// picking picks an item in a question that offers it.
func (f *filler) picking(item string) (form.Answers, bool) {
	for _, q := range f.c.Document.Questions {
		if !slices.Contains(q.Items, item) {
			continue
		}
		fixed := f.shownWith(q, nil, 2)
		for _, value := range f.picks([]string{item}) {
			if answers, ok := f.with(fixed, q.Key, value); ok {
				return answers, true
			}
			for _, r := range f.c.Catalog.Rules() { // what else it hangs on
				if !strings.HasSuffix(r.Place, "/when") {
					continue
				}
				if answers, ok := f.want(r.Rule, true, true, form.Answers{q.Key: value}, 1); ok {
					return answers, true
				}
			}
		}
	}
	return nil, false
}
