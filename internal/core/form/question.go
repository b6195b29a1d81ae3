package form

import (
	"regexp"

	"heptad/internal/core/rule"
)

// Kind says what sort of answer a question takes.
type Kind string

// The kinds of question.
const (
	Text     Kind = "text"
	LongText Kind = "longText"
	Number   Kind = "number"
	Date     Kind = "date"
	YesNo    Kind = "yesNo"
	Choice   Kind = "choice"
	Choices  Kind = "choices"
	Items    Kind = "items"
)

// kinds gives every kind the type its answers have in rules.
var kinds = map[Kind]rule.Type{
	Text: rule.Text, LongText: rule.Text, Number: rule.Number, Date: rule.DateT, YesNo: rule.YesNo,
	Choice: rule.Text, Choices: rule.Texts, Items: rule.Records("pick"),
}

// Limits of a form (rules.md 2) and of texts without a limit of their own, in
// characters.
const (
	MaxQuestions   = 500
	MaxChoices     = 10_000
	maxText        = 200
	maxLongText    = 4000
	maxNumberWidth = 1e15
)

// Question is one field of a form. The rules are CEL; an empty Show always
// holds, an empty Require never does.
type Question struct {
	Key       string   `json:"key" maxLength:"60"`
	Kind      Kind     `json:"kind" enum:"text,longText,number,date,yesNo,choice,choices,items"`
	Label     string   `json:"label" maxLength:"300"`
	Help      string   `json:"help,omitempty" maxLength:"2000"`
	Choices   []Option `json:"choices,omitempty" maxItems:"10000" nullable:"false"`
	Items     []string `json:"items,omitempty" maxItems:"1000" nullable:"false" doc:"Keys of the items that can be picked"`
	MaxLength int      `json:"maxLength,omitempty" minimum:"0" maximum:"20000" doc:"Characters of a text; 0 for the usual limit"`
	Show      string   `json:"show,omitempty" maxLength:"4000" doc:"CEL; shown when it holds"`
	Require   string   `json:"require,omitempty" maxLength:"4000" doc:"CEL; required when it holds"`
	Check     []Check  `json:"check,omitempty" maxItems:"20" nullable:"false"`
}

// Option is one entry of a fixed list.
type Option struct {
	Key   string `json:"key" maxLength:"60"`
	Label string `json:"label" maxLength:"200"`
}

// Check is a rule that an answer must meet.
type Check struct {
	Rule    string `json:"rule" maxLength:"4000" doc:"CEL; the answer is good when it holds"`
	Message string `json:"message" maxLength:"300" doc:"What the asker reads when it does not"`
}

var keyShape = regexp.MustCompile(`^[a-z][a-zA-Z0-9_]{0,59}$`)

// reserved words of CEL that cannot follow a dot.
var reserved = map[string]bool{"in": true, "as": true, "break": true, "const": true, "continue": true, "else": true, "false": true, "for": true, "function": true, "if": true, "import": true, "let": true, "loop": true, "namespace": true, "null": true, "package": true, "return": true, "true": true, "var": true, "void": true, "while": true}

func keyIsGood(key string) bool { return keyShape.MatchString(key) && !reserved[key] }

// Scope says what the rules of an offering with these questions may read.
func Scope(questions []Question, currency string) rule.Scope {
	answers := rule.Fields{}
	for _, q := range questions {
		if t, ok := kinds[q.Kind]; ok && keyIsGood(q.Key) {
			answers[q.Key] = t
		}
	}
	return rule.Scope{
		Roots: map[string]rule.Fields{
			"answers": answers,
			"asker":   rule.PersonFields,
			"cost":    {"once": rule.MoneyT, "monthly": rule.MoneyT, "yearly": rule.MoneyT, "firstYear": rule.MoneyT},
		},
		Elements: map[string]rule.Fields{"pick": {"item": rule.Text, "quantity": rule.Count}},
		Currency: currency,
	}
}
