package lines

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// facts are what a condition can name beside the questions.
var facts = map[string]struct{ path, as string }{
	"cost": {"cost.firstYear", "money"}, "cost once": {"cost.once", "money"}, "cost a month": {"cost.monthly", "money"}, "cost in the first year": {"cost.firstYear", "money"},
	"department": {"asker.department", "text"}, "place": {"asker.location", "text"}, "employment": {"asker.employment", "text"}, "grade": {"asker.grade", "text"},
}

// ways are the comparisons as people write them, the longer before the shorter.
var ways = []struct{ words, compare string }{
	{"is answered", "answered"}, {"is empty", "unanswered"},
	{"is more than", "more"}, {"is at least", "atLeast"}, {"is less than", "less"}, {"is at most", "atMost"},
	{"is after", "more"}, {"is not before", "atLeast"}, {"is before", "less"}, {"is not after", "atMost"},
	{"has none of", "hasNo"}, {"has no", "hasNo"}, {"has", "has"}, {"is not", "isNot"}, {"is none of", "isNot"}, {"is one of", "is"}, {"is", "is"},
}

var connected = regexp.MustCompile(`(?i)\s+and\s+`)

// condition reads "Zones has Fuel dock and cost is more than 500" as a rule in
// CEL; empty with a problem when it cannot be read.
func (r *reader) condition(text string) string {
	s := rule.Sentence{Join: "all"}
	for _, part := range connected.Split(text, -1) {
		c, problem := r.comparison(strings.TrimSpace(part))
		if problem != "" {
			r.wrong(part, problem)
			return ""
		}
		s.Parts = append(s.Parts, rule.Part{Comparison: c})
	}
	source, err := s.CEL()
	if err != nil {
		r.wrong(text, "This condition cannot be read: "+err.Error()+".")
	}
	return source
}

func (r *reader) comparison(text string) (rule.Comparison, string) {
	for _, way := range ways {
		at := strings.Index(strings.ToLower(text)+" ", " "+way.words+" ")
		if at <= 0 || at+1+len(way.words) > len(text) {
			continue
		}
		name, values := strings.TrimSpace(text[:at]), strings.TrimSpace(text[at+1+len(way.words):])
		if f, ok := facts[plain(name)]; ok {
			return compared(f.path, way.compare, f.as, values, nil)
		}
		q, ok := r.questionOf(name)
		if !ok {
			return rule.Comparison{}, fmt.Sprintf("No question goes by %q, and no fact such as cost or department.", name)
		}
		return r.ofQuestion(q, way.compare, values)
	}
	return rule.Comparison{}, "Write a condition such as “Zones has Fuel dock or Quay” or “cost is more than 500”."
}

func (r *reader) ofQuestion(q form.Question, compare, values string) (rule.Comparison, string) {
	switch kind := q.AnswerKind(); kind {
	case form.Choice, form.Choices:
		return compared(q.Key, many(compare, kind == form.Choices), "text", values, func(value string) (string, bool) {
			o, ok := named(q.Choices, value, func(o form.Option) string { return o.Label })
			return o.Key, ok
		})
	case form.Items:
		return compared(q.Key, map[string]string{"has": "picks", "is": "picks", "hasNo": "picksNone", "isNot": "picksNone"}[compare], "text", values, func(value string) (string, bool) {
			i, ok := named(r.Document.Items.List, value, func(i price.Item) string { return i.Name })
			return i.Key, ok && slices.Contains(q.Items, i.Key)
		})
	case form.YesNo:
		return compared(q.Key, compare, "yesNo", values, func(value string) (string, bool) {
			is, ok := map[string]string{"yes": "true", "no": "false"}[strings.ToLower(value)]
			return is, ok
		})
	case form.Number:
		return compared(q.Key, compare, "number", values, nil)
	case form.Money:
		return compared(q.Key, compare, "money", values, nil)
	case form.Date:
		return compared(q.Key, compare, "date", values, nil)
	case form.Team:
		return compared(q.Key, compare, "text", values, func(value string) (string, bool) {
			t, ok := r.team(value)
			return t.Key, ok
		})
	case form.Location:
		return compared(q.Key, compare, "text", values, func(value string) (string, bool) {
			l, ok := r.Company.Location(value)
			return l.Name, ok
		})
	case form.Centre:
		return compared(q.Key, compare, "text", values, func(value string) (string, bool) {
			if c, ok := r.Company.CostCentre(value); ok {
				return c.Key, true
			}
			c, ok := named(r.Company.CostCentres(), value, func(c people.CostCentre) string { return c.Name })
			return c.Key, ok
		})
	case form.Text, form.LongText:
		return compared(q.Key, compare, "text", values, nil)
	}
	if compare == "answered" || compare == "unanswered" {
		return compared(q.Key, compare, "text", values, nil)
	}
	return rule.Comparison{}, fmt.Sprintf("%q can only be answered or empty here.", q.Label)
}

// many is a comparison of one choice, or of several.
func many(compare string, several bool) string {
	switch compare {
	case "is", "has":
		return map[bool]string{false: "is", true: "anyOf"}[several]
	case "isNot", "hasNo":
		return map[bool]string{false: "isNot", true: "noneOf"}[several]
	}
	return compare
}

// compared puts a comparison together; choice gives the key of a value, when
// only certain ones can be meant.
func compared(path, compare, as, values string, choice func(string) (string, bool)) (rule.Comparison, string) {
	c := rule.Comparison{Question: path, Compare: compare, As: as, Values: []string{}}
	switch compare {
	case "answered", "unanswered":
		if values != "" {
			return c, fmt.Sprintf("%q is too much here.", values)
		}
		return c, ""
	case "", "has", "hasNo":
		return c, "These cannot be compared so."
	}
	if choice == nil {
		c.Values = joined.Split(values, -1)
	} else {
		var problem string
		c.Values = each(values, func(value string) (string, bool) { return choice(strings.Trim(value, ` "“”`)) }, func(value string) {
			problem = cmp.Or(problem, fmt.Sprintf("%q cannot be chosen there.", strings.Trim(value, ` "“”`)))
		})
		if problem != "" {
			return c, problem
		}
	}
	for i, value := range c.Values {
		c.Values[i] = strings.Trim(value, ` "“”`)
	}
	if len(c.Values) > 1 {
		switch compare {
		case "is":
			c.Compare = "oneOf"
		case "isNot":
			c.Compare = "notOneOf"
		}
	}
	if len(c.Values) == 1 && c.Values[0] == "" {
		return c, "It is not said with what to compare."
	}
	return c, ""
}
