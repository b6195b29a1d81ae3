package form

import (
	"slices"

	"heptad/internal/core/rule"
)

// KindInfo is all that is known of a kind of question.
type KindInfo struct {
	Kind    Kind     `json:"kind"`
	Name    string   `json:"name" doc:"What people call it"`
	Sort    string   `json:"sort" enum:"choice,choices,items,yesNo,date,number,money,text,list,other" doc:"In which ways conditions compare it"`
	Column  bool     `json:"column,omitempty" doc:"The column of a table can be of it"`
	Gives   bool     `json:"gives,omitempty" doc:"Something computed can be of it"`
	Written bool     `json:"written,omitempty" doc:"A line can ask for it by its name alone"`
	Has     []string `json:"has" nullable:"false" doc:"Which of the fields it has that only some kinds have"`

	called []string    // how else people write it
	answer rule.Type   // of its answers in rules; none of a table, what is computed, and a statement
	choice rule.Fields // what the rule that offers choices reads of each

	read func(q *question, raw Answer, facts Facts) parsed            // nil: nobody answers it, or it is read row by row
	show func(f *Form, q *question, answer Answer, in showing) string // nil: as it is
}

// What several kinds have.
var (
	answers = []string{"require", "lock", "check", "present"} // all but statements
	lengths = []string{"minLength", "maxLength", "pattern", "example", "words", "preset"}
	ranges  = []string{"min", "max", "step", "preset"}
	chosen  = []string{"offer", "preset"}
)

func has(some ...[]string) []string { return slices.Concat(append([][]string{answers}, some...)...) }

// kindTable is the one list of kinds, and kindInfos finds them.
var (
	kindTable []KindInfo
	kindInfos = map[Kind]*KindInfo{}
)

func init() { // what it names looks kinds up itself
	kindTable = allKinds()
	for i := range kindTable {
		kindInfos[kindTable[i].Kind] = &kindTable[i]
	}
}

func allKinds() []KindInfo {
	return []KindInfo{
		{Kind: Text, Name: "Short text", Sort: "text", Written: true, Column: true, Gives: true, Has: has(lengths), called: []string{"text"}, answer: rule.Text, read: (*question).readText},
		{Kind: LongText, Name: "Long text", Sort: "text", Written: true, Column: true, Has: has(lengths), answer: rule.Text, read: (*question).readText},
		{Kind: Number, Name: "Number", Sort: "number", Written: true, Column: true, Gives: true, Has: has(ranges), answer: rule.Number, read: (*question).readNumber},
		{Kind: Money, Name: "Sum of money", Sort: "money", Written: true, Column: true, Gives: true, Has: has(ranges), called: []string{"money"}, answer: rule.MoneyT, read: ofText((*question).readMoney), show: ofShown(showMoney)},
		{Kind: Date, Name: "Date", Sort: "date", Written: true, Column: true, Gives: true, Has: has(ranges), answer: rule.DateT, read: ofText((*question).readDate), show: ofShown(showDate)},
		{Kind: DateTime, Name: "Date and time", Sort: "other", Written: true, Column: true, Gives: true, Has: has([]string{"preset"}), answer: rule.Instant, read: ofText((*question).readDateTime), show: ofShown(showDateTime)},
		{Kind: YesNo, Name: "Yes or no", Sort: "yesNo", Written: true, Column: true, Gives: true, Has: has([]string{"preset"}), called: []string{"yes/no"}, answer: rule.YesNo, read: (*question).readYesNo},
		{Kind: Choice, Name: "One choice", Sort: "choice", Column: true, Has: has(chosen, []string{"choices"}), called: []string{"choice"}, answer: rule.Text, choice: optionFields, read: ofText((*question).readChoice), show: ofShown(showChoice)},
		{Kind: Choices, Name: "Several choices", Sort: "choices", Column: true, Has: has(chosen, []string{"choices", "minCount", "maxCount"}), answer: rule.Texts, choice: optionFields, read: (*question).readChoices, show: showChoices},
		{Kind: Person, Name: "Person", Sort: "other", Written: true, Column: true, Has: has(chosen), answer: rule.RecordOf("person"), choice: rule.PersonFields, read: ofText((*question).readPerson), show: ofShown(showPerson)},
		{Kind: Team, Name: "Team", Sort: "choice", Written: true, Column: true, Has: has(chosen), answer: rule.Text, choice: namedFields, read: ofText((*question).readTeam), show: ofShown(showTeam)},
		{Kind: Location, Name: "Place", Sort: "choice", Written: true, Column: true, Has: has(chosen), answer: rule.Text, choice: rule.Fields{"name": rule.Text}, read: ofText((*question).readLocation)},
		{Kind: Centre, Name: "Cost centre", Sort: "choice", Written: true, Column: true, Has: has(chosen), answer: rule.Text, choice: namedFields, read: ofText((*question).readCentre), show: ofShown(showCentre)},
		{Kind: Belonging, Name: "Belonging", Sort: "other", Written: true, Column: true, Has: has(chosen), answer: rule.RecordOf("belonging"), choice: belongingFields, read: ofText((*question).readBelonging), show: ofShown(showBelonging)},
		{Kind: Items, Name: "Item pick", Sort: "items", Written: true, Has: has(chosen, []string{"items", "minCount", "maxCount"}), called: []string{"items"}, answer: rule.Records("pick"), choice: rule.Fields{"key": rule.Text, "name": rule.Text, "group": rule.Text}, show: showItems},
		{Kind: Table, Name: "Table", Sort: "list", Has: has([]string{"columns", "minCount", "maxCount"}), show: showTable},
		{Kind: File, Name: "File", Sort: "other", Written: true, Column: true, Has: has([]string{"fileTypes", "maxSize", "minCount", "maxCount"}), answer: rule.Records("file"), read: (*question).readFiles, show: showFiles},
		{Kind: Computed, Name: "Computed", Sort: "other", Column: true, Has: has([]string{"gives", "compute"})},
		{Kind: Statement, Name: "Statement", Sort: "other", Has: []string{}},
	}
}

var (
	optionFields    = rule.Fields{"key": rule.Text, "label": rule.Text, "group": rule.Text}
	namedFields     = rule.Fields{"key": rule.Text, "name": rule.Text}
	belongingFields = rule.Fields{"id": rule.Text, "kind": rule.Text, "name": rule.Text, "detail": rule.Text, "until": rule.DateT}
)

// Kinds lists what is known of every kind.
func Kinds() []KindInfo { return kindTable }

// All lists the kinds in the order of the table.
func (Kind) All() []Kind {
	all := make([]Kind, len(kindTable))
	for i, k := range kindTable {
		all[i] = k.Kind
	}
	return all
}

// Info is what is known of a kind; nothing of one that there is not.
func (k Kind) Info() KindInfo { return *k.info() }

func (k Kind) info() *KindInfo {
	if info, ok := kindInfos[k]; ok {
		return info
	}
	return &KindInfo{}
}

// Called are the names that people write for the kind, its own first.
func (k KindInfo) Called() []string { return append([]string{k.Name}, k.called...) }
