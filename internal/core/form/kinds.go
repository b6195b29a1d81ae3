package form

import (
	"slices"

	"heptad/internal/core/rule"
)

// KindInfo is all that is known of a kind of question besides how its answers are
// read and shown.
type KindInfo struct {
	Kind   Kind     `json:"kind"`
	Name   string   `json:"name" doc:"What people call it"`
	Sort   string   `json:"sort" enum:"choice,choices,items,yesNo,date,number,money,text,list,other" doc:"In which ways conditions compare it"`
	Column bool     `json:"column,omitempty" doc:"The column of a table can be of it"`
	Gives  bool     `json:"gives,omitempty" doc:"Something computed can be of it"`
	Has    []string `json:"has" nullable:"false" doc:"Which of the fields it has that only some kinds have"`

	called []string    // how else people write it
	answer rule.Type   // of its answers in rules; none of a table, what is computed, and a statement
	choice rule.Fields // what the rule that offers choices reads of each
}

// What several kinds have.
var (
	answers = []string{"require", "lock", "check", "present"} // all but statements
	lengths = []string{"minLength", "maxLength", "pattern", "example", "words", "preset"}
	ranges  = []string{"min", "max", "step", "preset"}
	chosen  = []string{"offer", "preset"}
)

func has(some ...[]string) []string { return slices.Concat(append([][]string{answers}, some...)...) }

// kindTable is the one list of kinds.
var kindTable = []KindInfo{
	{Kind: Text, Name: "Short text", Sort: "text", Column: true, Gives: true, Has: has(lengths), called: []string{"text"}, answer: rule.Text},
	{Kind: LongText, Name: "Long text", Sort: "text", Column: true, Has: has(lengths), answer: rule.Text},
	{Kind: Number, Name: "Number", Sort: "number", Column: true, Gives: true, Has: has(ranges), answer: rule.Number},
	{Kind: Money, Name: "Sum of money", Sort: "money", Column: true, Gives: true, Has: has(ranges), called: []string{"money"}, answer: rule.MoneyT},
	{Kind: Date, Name: "Date", Sort: "date", Column: true, Gives: true, Has: has(ranges), answer: rule.DateT},
	{Kind: DateTime, Name: "Date and time", Sort: "other", Column: true, Gives: true, Has: has([]string{"preset"}), answer: rule.Instant},
	{Kind: YesNo, Name: "Yes or no", Sort: "yesNo", Column: true, Gives: true, Has: has([]string{"preset"}), called: []string{"yes/no"}, answer: rule.YesNo},
	{Kind: Choice, Name: "One choice", Sort: "choice", Column: true, Has: has(chosen, []string{"choices"}), called: []string{"choice"}, answer: rule.Text, choice: optionFields},
	{Kind: Choices, Name: "Several choices", Sort: "choices", Column: true, Has: has(chosen, []string{"choices", "minCount", "maxCount"}), answer: rule.Texts, choice: optionFields},
	{Kind: Person, Name: "Person", Sort: "other", Column: true, Has: has(chosen), answer: rule.RecordOf("person"), choice: rule.PersonFields},
	{Kind: Team, Name: "Team", Sort: "text", Column: true, Has: has(chosen), answer: rule.Text, choice: namedFields},
	{Kind: Location, Name: "Place", Sort: "text", Column: true, Has: has(chosen), answer: rule.Text, choice: rule.Fields{"name": rule.Text}},
	{Kind: Centre, Name: "Cost centre", Sort: "text", Column: true, Has: has(chosen), answer: rule.Text, choice: namedFields},
	{Kind: Belonging, Name: "Belonging", Sort: "other", Column: true, Has: has(chosen), answer: rule.RecordOf("belonging"), choice: belongingFields},
	{Kind: Items, Name: "Item pick", Sort: "items", Has: has(chosen, []string{"items", "minCount", "maxCount"}), called: []string{"items"}, answer: rule.Records("pick"), choice: rule.Fields{"key": rule.Text, "name": rule.Text, "group": rule.Text}},
	{Kind: Table, Name: "Table", Sort: "list", Has: has([]string{"columns", "minCount", "maxCount"})},
	{Kind: File, Name: "File", Sort: "other", Column: true, Has: has([]string{"fileTypes", "maxSize", "minCount", "maxCount"}), answer: rule.Records("file")},
	{Kind: Computed, Name: "Computed", Sort: "other", Column: true, Has: has([]string{"gives", "compute"})},
	{Kind: Statement, Name: "Statement", Sort: "other", Has: []string{}},
}

var (
	optionFields    = rule.Fields{"key": rule.Text, "label": rule.Text, "group": rule.Text}
	namedFields     = rule.Fields{"key": rule.Text, "name": rule.Text}
	belongingFields = rule.Fields{"id": rule.Text, "kind": rule.Text, "name": rule.Text, "detail": rule.Text, "until": rule.DateT}
)

// Kinds lists what is known of every kind.
func Kinds() []KindInfo { return kindTable }

var kindInfos = func() map[Kind]*KindInfo {
	all := map[Kind]*KindInfo{}
	for i := range kindTable {
		all[kindTable[i].Kind] = &kindTable[i]
	}
	return all
}()

// Info is what is known of a kind; nothing of one that there is not.
func (k Kind) Info() KindInfo {
	if info, ok := kindInfos[k]; ok {
		return *info
	}
	return KindInfo{}
}

// Called are the names that people write for the kind, its own first.
func (k KindInfo) Called() []string { return append([]string{k.Name}, k.called...) }
