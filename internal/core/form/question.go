package form

import (
	"regexp"

	"heptad/internal/core/rule"
)

// Kind says what sort of answer a question takes.
type Kind string

// The kinds of question.
const (
	Text      Kind = "text"
	LongText  Kind = "longText"
	Number    Kind = "number"
	Money     Kind = "money"
	Date      Kind = "date"
	DateTime  Kind = "dateTime"
	YesNo     Kind = "yesNo"
	Choice    Kind = "choice"
	Choices   Kind = "choices"
	Person    Kind = "person"
	Team      Kind = "team"
	Location  Kind = "location"
	Centre    Kind = "costCentre"
	Belonging Kind = "belonging"
	Items     Kind = "items"
	Table     Kind = "table"
	File      Kind = "file"
	Computed  Kind = "computed"
	Statement Kind = "statement"
)

// Limits of a form (rules.md 2) and of texts without a limit of their own, in
// characters.
const (
	MaxQuestions   = 500
	MaxChoices     = 10_000
	MaxRows        = 500
	MaxFiles       = 20
	MaxFileSize    = 25 << 20 // bytes
	maxText        = 200
	maxLongText    = 4000
	maxNumberWidth = 1e15
)

// Section groups questions under a heading, and may begin a new page.
type Section struct {
	Key  string `json:"key" maxLength:"60"`
	Name string `json:"name" maxLength:"200"`
	Text string `json:"text,omitempty" maxLength:"2000"`
	Page bool   `json:"page,omitempty" doc:"Begins a new page"`
	Show string `json:"show,omitempty" maxLength:"4000" doc:"CEL; its questions are shown when it holds"`
}

// Question is one field of a form. Its rules are CEL; an empty show always
// shows, an empty require never requires, an empty lock never locks.
type Question struct {
	Key       string     `json:"key" maxLength:"60" doc:"Small letter first; letters, digits and _ follow"`
	Kind      Kind       `json:"kind"`
	Label     string     `json:"label" maxLength:"300"`
	Short     string     `json:"short,omitempty" maxLength:"100" doc:"Label for those who decide and work; the label when left out"`
	Help      string     `json:"help,omitempty" maxLength:"4000"`
	Picture   string     `json:"picture,omitempty" maxLength:"80000" doc:"data: URI of a PNG, JPEG, WebP or SVG of plain shapes, shown with the help"`
	Section   string     `json:"section,omitempty" maxLength:"60" doc:"Key of the section; before all sections when left out"`
	Width     string     `json:"width,omitempty" enum:"third,half,twoThirds,full" doc:"Of its row; full when left out"`
	Shared    string     `json:"shared,omitempty" maxLength:"60" doc:"Key of the shared question it was taken from"`
	Readers   Readers    `json:"readers,omitempty" enum:"private,staff" doc:"Who reads the answer: whoever sees the request when left out; private is for the asker and what names it, on asking; staff is not for the asker's side"`
	Words     bool       `json:"words,omitempty" doc:"Of a text: what was typed in the search goes in here"`
	Choices   []Option   `json:"choices,omitempty" maxItems:"10000" nullable:"false"`
	Items     []string   `json:"items,omitempty" maxItems:"10000" nullable:"false" doc:"Keys of the items that can be picked"`
	Columns   []Question `json:"columns,omitempty" maxItems:"30" nullable:"false" doc:"Of a table"`
	Gives     Kind       `json:"gives,omitempty" enum:"text,number,money,date,dateTime,yesNo" doc:"What kind of answer is computed"`
	Pattern   string     `json:"pattern,omitempty" maxLength:"300" doc:"Regular expression (RE2) that a whole text must match"`
	Example   string     `json:"example,omitempty" maxLength:"100" doc:"An answer that is good, shown when the pattern is not met"`
	MinLength int        `json:"minLength,omitempty" minimum:"0" maximum:"20000" doc:"Characters of a text"`
	MaxLength int        `json:"maxLength,omitempty" minimum:"0" maximum:"20000" doc:"Characters of a text; the usual limit when left out"`
	Min       string     `json:"min,omitempty" maxLength:"30" doc:"Smallest number, sum or date; of a date also today, today+14 or today-30"`
	Max       string     `json:"max,omitempty" maxLength:"30" doc:"Largest number, sum or date; of a date also today, today+14 or today-30"`
	Step      string     `json:"step,omitempty" maxLength:"30" doc:"Numbers go in steps of this, from the smallest on"`
	MinCount  int        `json:"minCount,omitempty" minimum:"0" maximum:"1000" doc:"Fewest choices, rows or files"`
	MaxCount  int        `json:"maxCount,omitempty" minimum:"0" maximum:"1000" doc:"Most choices, rows or files"`
	FileTypes []string   `json:"fileTypes,omitempty" maxItems:"30" nullable:"false" doc:"Media types such as image/png; the usual ones when left out"`
	MaxSize   int        `json:"maxSize,omitempty" minimum:"0" maximum:"25600" doc:"Of one file, in kB; 10000 when left out"`
	Show      string     `json:"show,omitempty" maxLength:"4000" doc:"CEL; shown when it holds"`
	Require   string     `json:"require,omitempty" maxLength:"4000" doc:"CEL; required when it holds"`
	Lock      string     `json:"lock,omitempty" maxLength:"4000" doc:"CEL; when it holds the answer is the preset"`
	Preset    string     `json:"preset,omitempty" maxLength:"4000" doc:"CEL; the answer until the asker touches the question"`
	Offer     string     `json:"offer,omitempty" maxLength:"4000" doc:"CEL over choice; what it holds for can be chosen"`
	Compute   string     `json:"compute,omitempty" maxLength:"4000" doc:"CEL; the answer of a computed question"`
	Check     []Check    `json:"check,omitempty" maxItems:"20" nullable:"false"`
	Present   string     `json:"present,omitempty" maxLength:"1000" doc:"Text with {{ CEL }}: how it is now, shown beside what is wanted"`
}

// Option is one entry of a fixed list.
type Option struct {
	Key   string `json:"key" maxLength:"60"`
	Label string `json:"label" maxLength:"200"`
	Text  string `json:"text,omitempty" maxLength:"1000" doc:"Explains it, once it is chosen"`
	Group string `json:"group,omitempty" maxLength:"100"`
}

// Check is a rule that an answer must meet.
type Check struct {
	Rule    string `json:"rule" maxLength:"4000" doc:"CEL; the answer is good when it holds. In a column it may read row"`
	Message string `json:"message" maxLength:"300" doc:"What the asker reads when it does not"`
}

// usualTypes are the media types of files that a question takes when it names
// none.
var usualTypes = []string{
	"application/pdf", "image/png", "image/jpeg", "image/webp", "text/plain", "text/csv",
	"application/vnd.openxmlformats-officedocument.wordprocessingml.document",
	"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
	"application/vnd.oasis.opendocument.text", "application/vnd.oasis.opendocument.spreadsheet",
}

const usualSize = 10_000 // kB

// AnswerKind is the kind of the answer: of what is computed, what it gives.
func (q Question) AnswerKind() Kind {
	if q.Kind == Computed {
		return q.Gives
	}
	return q.Kind
}

// Types lists the media types of files that the question takes.
func (q Question) Types() []string {
	if len(q.FileTypes) > 0 {
		return q.FileTypes
	}
	return usualTypes
}

// Most is how many files or rows the question takes.
func (q Question) Most() int {
	most := MaxRows
	if q.Kind == File {
		most = MaxFiles
	}
	if q.MaxCount > 0 {
		return min(q.MaxCount, most)
	}
	return most
}

// SizeLimit is the largest file the question takes, in bytes.
func (q Question) SizeLimit() int64 {
	if q.MaxSize > 0 {
		return int64(q.MaxSize) * 1000
	}
	return usualSize * 1000
}

// ForStaff is the label for those who decide and work.
func (q Question) ForStaff() string {
	if q.Short != "" {
		return q.Short
	}
	return q.Label
}

// HasOptions reports whether the kind takes entries of a fixed list.
func (k Kind) HasOptions() bool { return k == Choice || k == Choices }

// list reports whether an empty answer is an empty list rather than absent.
func (k Kind) list() bool { return k == Choices || k == Table }

var keyShape = regexp.MustCompile(`^[a-z][a-zA-Z0-9_]{0,59}$`)

// reserved words of CEL that cannot follow a dot.
var reserved = map[string]bool{"in": true, "as": true, "break": true, "const": true, "continue": true, "else": true, "false": true, "for": true, "function": true, "if": true, "import": true, "let": true, "loop": true, "namespace": true, "null": true, "package": true, "return": true, "true": true, "var": true, "void": true, "while": true}

func keyIsGood(key string) bool { return keyShape.MatchString(key) && !reserved[key] }

// typeOf gives the type of the answers to a question in rules.
func typeOf(q Question) (rule.Type, bool) {
	switch q.Kind {
	case Computed:
		gives := q.Gives.info()
		return gives.answer, gives.Gives
	case Table:
		return rule.Records(rowName(q.Key)), true
	}
	t := q.Kind.info().answer
	return t, t != nil
}

// rowName is the name of the records that are rows of a table.
func rowName(table string) string { return "row_" + table }

// fields are what rules can read of the answers to some questions.
func fields(questions []Question) rule.Fields {
	out := rule.Fields{}
	for _, q := range questions {
		if t, ok := typeOf(q); ok && keyIsGood(q.Key) {
			out[q.Key] = t
		}
	}
	return out
}

// Columns are what the rules of a row read of it.
func Columns(table Question) rule.Fields { return fields(table.Columns) }

// ChoiceFields are what the rule that offers choices reads of each.
func ChoiceFields(k Kind) rule.Fields { return k.info().choice }

// RuleType is what a rule of a question must give, by the name of its field.
func RuleType(q Question, field string) rule.Type {
	switch field {
	case "preset":
		if t, ok := presetType(q.Kind); ok {
			return t
		}
	case "compute":
		if t, ok := typeOf(q); ok {
			return t
		}
	}
	return rule.YesNo
}

// Scope says what the rules of an offering with these questions may read.
func Scope(questions []Question, currency string) rule.Scope {
	s := rule.Scope{
		Roots: map[string]rule.Fields{
			"answers":     fields(questions),
			"asker":       rule.PersonFields,
			"beneficiary": rule.PersonFields,
			"cost":        {"once": rule.MoneyT, "monthly": rule.MoneyT, "yearly": rule.MoneyT, "firstYear": rule.MoneyT, "term": rule.MoneyT, "shares": rule.Records("share")},
		},
		Elements: map[string]rule.Fields{
			"pick":      {"item": rule.Text, "quantity": rule.Count, "options": rule.Texts, "extras": rule.Texts},
			"share":     {"centre": rule.Text, "percent": rule.Number, "once": rule.MoneyT, "monthly": rule.MoneyT, "yearly": rule.MoneyT},
			"file":      {"name": rule.Text, "type": rule.Text, "size": rule.Count},
			"person":    rule.PersonFields,
			"belonging": belongingFields,
		},
		Currency: currency,
	}
	for _, q := range questions {
		if q.Kind == Table && keyIsGood(q.Key) {
			s.Elements[rowName(q.Key)] = fields(q.Columns)
		}
	}
	return s
}
