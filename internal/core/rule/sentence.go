package rule

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/calendar"
)

// Sentence is a condition in a shape that reads as a sentence: all or any of
// some comparisons, or of groups of them one level deep. It is stored as CEL
// and found again in CEL of its shape.
type Sentence struct {
	Join  string `json:"join" enum:"all,any"`
	Parts []Part `json:"parts" minItems:"1" maxItems:"20" nullable:"false"`
}

// Part is one comparison of a sentence, or a group of them.
type Part struct {
	Comparison
	Join  string       `json:"join,omitempty" enum:"all,any" doc:"Of a group"`
	Parts []Comparison `json:"parts,omitempty" maxItems:"20" nullable:"false" doc:"Of a group"`
}

// Comparison compares the answer to one question, or another fact, with
// values.
type Comparison struct {
	Question string   `json:"question" maxLength:"120" doc:"Key of a question, or a path such as asker.department"`
	Compare  string   `json:"compare" enum:"is,isNot,oneOf,notOneOf,beginsWith,contains,anyOf,noneOf,allOf,picks,picksNone,less,atMost,more,atLeast,within,answered,unanswered,some,none,group"`
	As       string   `json:"as" enum:"text,number,money,date,yesNo" doc:"What the values are"`
	Values   []string `json:"values" maxItems:"200" nullable:"false" doc:"Keys of choices, true or false, numbers, sums, today or dates; working days for within; of another fact its key or path"`
	Fact     bool     `json:"fact,omitempty" doc:"The value is another fact of the same kind"`
}

// ofFacts are the comparisons that can compare a fact with another.
var ofFacts = map[string]bool{"is": true, "isNot": true, "less": true, "atMost": true, "more": true, "atLeast": true}

// Typed says what is compared where two facts are, which the expression alone
// does not tell: kind gives text, number, money, date or yesNo for the key or
// path of a fact.
func (s Sentence) Typed(kind func(fact string) string) Sentence {
	typed := func(c Comparison) Comparison {
		if as := kind(c.Question); c.Fact && as != "" {
			c.As = as
		}
		return c
	}
	parts := slices.Clone(s.Parts)
	for i := range parts {
		parts[i].Comparison = typed(parts[i].Comparison)
		parts[i].Parts = slices.Clone(parts[i].Parts)
		for j := range parts[i].Parts {
			parts[i].Parts[j] = typed(parts[i].Parts[j])
		}
	}
	s.Parts = parts
	return s
}

// Group is the comparison of a part that is a group.
const Group = "group"

// shape is how one sort of comparison is written as CEL and as words.
type shape struct {
	format string // %[1]s is what is compared, %[2]s the value or the list of values
	words  string
	dates  string // words when dates are compared
	values int    // how many: 0, 1, or 2 for a list of texts
}

var shapes = map[string]shape{
	"is":         {"%[1]s == %[2]s", "is", "", 1},
	"isNot":      {"%[1]s != %[2]s", "is not", "", 1},
	"oneOf":      {"%[1]s in [%[2]s]", "is one of", "", 2},
	"notOneOf":   {"!(%[1]s in [%[2]s])", "is none of", "", 2},
	"beginsWith": {"%[1]s.startsWith(%[2]s)", "begins with", "", 1},
	"contains":   {"%[1]s.contains(%[2]s)", "contains", "", 1},
	"anyOf":      {"%[1]s.exists(x, x in [%[2]s])", "has any of", "", 2},
	"noneOf":     {"!%[1]s.exists(x, x in [%[2]s])", "has none of", "", 2},
	"allOf":      {"[%[2]s].all(x, x in %[1]s)", "has all of", "", 2},
	"picks":      {"%[1]s.exists(x, x.item in [%[2]s])", "has", "", 2},
	"picksNone":  {"!%[1]s.exists(x, x.item in [%[2]s])", "has no", "", 2},
	"less":       {"%[1]s < %[2]s", "is less than", "is before", 1},
	"atMost":     {"%[1]s <= %[2]s", "is at most", "is not after", 1},
	"more":       {"%[1]s > %[2]s", "is more than", "is after", 1},
	"atLeast":    {"%[1]s >= %[2]s", "is at least", "is not before", 1},
	"within":     {"%[1]s <= addWorkdays(today, %[2]s)", "is within", "", 1},
	"answered":   {"has(%[1]s)", "is answered", "", 0},
	"unanswered": {"!has(%[1]s)", "is not answered", "", 0},
	"some":       {"%[1]s.size() > 0", "has something chosen", "", 0},
	"none":       {"%[1]s.size() == 0", "has nothing chosen", "", 0},
}

// Comparisons lists all comparisons, those of groups too.
func (s Sentence) Comparisons() []Comparison {
	var all []Comparison
	for _, p := range s.Parts {
		if p.Compare == Group {
			all = append(all, p.Parts...)
		} else {
			all = append(all, p.Comparison)
		}
	}
	return all
}

// CEL writes the sentence as an expression.
func (s Sentence) CEL() (string, error) {
	if len(s.Parts) == 0 {
		return "", errors.New("a condition needs at least one comparison")
	}
	sources := make([]string, len(s.Parts))
	for i, p := range s.Parts {
		var err error
		if p.Compare == Group {
			sources[i], err = p.group()
		} else {
			sources[i], err = p.cel()
		}
		if err != nil {
			return "", err
		}
	}
	return join(s.Join, sources), nil
}

func (p Part) group() (string, error) {
	if len(p.Parts) == 0 {
		return "", errors.New("a group needs at least one comparison")
	}
	sources := make([]string, len(p.Parts))
	for i, c := range p.Parts {
		var err error
		if sources[i], err = c.cel(); err != nil {
			return "", err
		}
	}
	return "(" + join(p.Join, sources) + ")", nil
}

func join(how string, sources []string) string {
	if how == "any" {
		return strings.Join(sources, " || ")
	}
	return strings.Join(sources, " && ")
}

func (c Comparison) cel() (string, error) {
	s, ok := shapes[c.Compare]
	switch {
	case !ok:
		return "", fmt.Errorf("%q is no comparison", c.Compare)
	case s.values == 1 && len(c.Values) != 1:
		return "", fmt.Errorf("%q needs one value", s.words)
	case s.values == 2 && len(c.Values) == 0:
		return "", fmt.Errorf("%q needs at least one value", s.words)
	}
	list := make([]string, len(c.Values))
	for i, v := range c.Values {
		var err error
		if list[i], err = c.literal(v); err != nil {
			return "", err
		}
	}
	return fmt.Sprintf(s.format, pathOf(c.Question), strings.Join(list, ", ")), nil
}

// pathOf is a fact as CEL.
func pathOf(fact string) string {
	if strings.Contains(fact, ".") {
		return fact
	}
	return "answers." + fact
}

var factShape = regexp.MustCompile(`^([a-z]+\.)?[a-zA-Z][a-zA-Z0-9_]{0,59}$`)

func (c Comparison) literal(value string) (string, error) {
	switch {
	case c.Fact && (!ofFacts[c.Compare] || !factShape.MatchString(value)):
		return "", fmt.Errorf("%q is nothing that can be compared here", value)
	case c.Fact:
		return pathOf(value), nil
	case c.Compare == "within":
		if n, err := strconv.Atoi(value); err != nil || n < 0 || n > 10_000 {
			return "", fmt.Errorf("%q is no number of working days", value)
		}
		return value, nil
	case c.As == "number":
		if f, err := strconv.ParseFloat(value, 64); err != nil || strings.ContainsAny(value, "xXpPiInN_") || f-f != 0 {
			return "", fmt.Errorf("%q is no number", value)
		}
		return strings.TrimPrefix(value, "+"), nil
	case c.As == "money":
		return "money(" + strconv.Quote(value) + ")", nil
	case c.As == "yesNo":
		if value != "true" && value != "false" {
			return "", fmt.Errorf("%q is neither yes nor no", value)
		}
		return value, nil
	case c.As == "date" && value == "today":
		return value, nil
	case c.As == "date":
		if _, err := calendar.ParseDate(value); err != nil {
			return "", err
		}
		return "date(" + strconv.Quote(value) + ")", nil
	}
	return strconv.Quote(value), nil
}

// Words gives the sentence in words; name gives the label of what is compared
// and of one of its values.
func (s Sentence) Words(name func(question, value string) (string, string)) string {
	parts := make([]string, len(s.Parts))
	for i, p := range s.Parts {
		if p.Compare != Group {
			parts[i] = p.words(name)
			continue
		}
		inner := make([]string, len(p.Parts))
		for j, c := range p.Parts {
			inner[j] = c.words(name)
		}
		parts[i] = "(" + joinWords(p.Join, inner) + ")"
	}
	return joinWords(s.Join, parts)
}

func joinWords(how string, parts []string) string {
	if how == "any" {
		return strings.Join(parts, " or ")
	}
	return strings.Join(parts, " and ")
}

func (c Comparison) words(name func(question, value string) (string, string)) string {
	label, _ := name(c.Question, "")
	values := make([]string, len(c.Values))
	for i, v := range c.Values {
		switch _, value := name(c.Question, v); {
		case c.Fact:
			values[i], _ = name(v, "")
		case c.Compare == "within":
			values[i] = v + " working days"
		case c.As == "yesNo" && v == "true":
			values[i] = "yes"
		case c.As == "yesNo":
			values[i] = "no"
		case value == "":
			values[i] = v
		default:
			values[i] = value
		}
	}
	compare := shapes[c.Compare].words
	if c.As == "date" && shapes[c.Compare].dates != "" {
		compare = shapes[c.Compare].dates
	}
	return strings.TrimSpace(label + " " + compare + " " + strings.Join(values, ", "))
}
