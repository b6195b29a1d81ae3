package form

import (
	"fmt"
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Facts are what answers are read with.
type Facts struct {
	Company    *people.Directory
	Belongings []people.Belonging             // of the beneficiary
	Files      func(id string) (Upload, bool) // nil: take what the answer says
	Kept       bool                           // the answers were sent before: what is no longer offered stays
}

// Upload is a file that was put on a form.
type Upload struct {
	ID   string `json:"id" maxLength:"60"`
	Name string `json:"name" maxLength:"255"`
	Type string `json:"type" maxLength:"120" doc:"Media type, found from the content"`
	Size int64  `json:"size" minimum:"0" doc:"Bytes"`
}

// parsed is one answer as it was read: the value for rules and the same for
// storing, both none when absent, and a problem when there is something but it
// is no good.
type parsed struct {
	value   rule.Value
	answer  Answer
	problem string
	picks   []price.Pick // of items
}

func good(value rule.Value, answer Answer) parsed { return parsed{value: value, answer: answer} }

func (q *question) bad(what string) parsed { return parsed{problem: q.says(what)} }

// parse reads an answer. Tables are read row by row elsewhere, and picks with the
// items that are offered.
func (q *question) parse(raw Answer, facts Facts) parsed {
	if raw.None() {
		return parsed{}
	}
	read := q.Kind.info().read
	if read == nil {
		return q.bad(noAnswer)
	}
	return read(q, raw, facts)
}

const noAnswer = "this is not an answer to the question."

// ofText reads an answer that is a text in JSON; an empty one is no answer.
func ofText(read func(q *question, text string, facts Facts) parsed) func(*question, Answer, Facts) parsed {
	return func(q *question, raw Answer, facts Facts) parsed {
		text, ok := raw.Text()
		switch {
		case !ok:
			return q.bad(noAnswer)
		case text == "":
			return parsed{}
		}
		return read(q, text, facts)
	}
}

func (q *question) readYesNo(raw Answer, _ Facts) parsed {
	if yes, ok := raw.YesNo(); ok {
		return good(rule.OfYesNo(yes), raw)
	}
	return q.bad("yes or no is needed.")
}

func (q *question) readChoice(s string, _ Facts) parsed {
	if _, known := q.labels[s]; !known {
		return q.bad("this choice is not offered, or no longer.")
	}
	return good(rule.OfText(s), OfText(s))
}

func (q *question) readText(raw Answer, _ Facts) parsed {
	s, ok := raw.Text()
	if !ok {
		return q.bad("a text is needed.")
	}
	s = strings.TrimSpace(s)
	if s == "" {
		return parsed{}
	}
	limit := q.MaxLength
	if limit == 0 {
		limit = map[Kind]int{Text: maxText, LongText: maxLongText}[q.Kind]
	}
	switch n := utf8.RuneCountInString(s); {
	case !utf8.ValidString(s):
		return q.bad("there are characters in it that are no text.")
	case q.Kind == Text && !OneLine(s):
		return q.bad("it stands on one line, without line breaks and control characters.")
	case n > limit:
		return q.bad(fmt.Sprintf("at most %d characters; there are %d.", limit, n))
	case n < q.MinLength:
		return q.bad(fmt.Sprintf("at least %d characters; there are %d.", q.MinLength, n))
	case q.pattern != nil && !q.pattern.MatchString(s) && q.Example != "":
		return q.bad(fmt.Sprintf("write it like %s.", q.Example))
	case q.pattern != nil && !q.pattern.MatchString(s):
		return q.bad("this does not have the form that is needed.")
	}
	return good(rule.OfText(s), OfText(s))
}

func (q *question) readNumber(raw Answer, _ Facts) parsed {
	f, ok := raw.Number()
	if !ok || math.IsNaN(f) || math.Abs(f) > maxNumberWidth {
		return q.bad("a number is needed.")
	}
	exact, _ := new(big.Rat).SetString(strconv.FormatFloat(f, 'f', -1, 64)) // as it was typed
	b := q.bounds
	switch {
	case b.min != nil && exact.Cmp(b.min) < 0:
		return q.bad(fmt.Sprintf("%s is the least.", q.Min))
	case b.max != nil && exact.Cmp(b.max) > 0:
		return q.bad(fmt.Sprintf("%s is the most.", q.Max))
	case b.step != nil:
		from := new(big.Rat)
		if b.min != nil {
			from = b.min
		}
		if !new(big.Rat).Quo(new(big.Rat).Sub(exact, from), b.step).IsInt() {
			return q.bad(fmt.Sprintf("it goes in steps of %s.", q.Step))
		}
	}
	return good(rule.OfNumber(f), raw)
}

func (q *question) readMoney(s string, _ Facts) parsed {
	a, err := money.Parse(s, q.currency)
	b := q.bounds
	switch {
	case err != nil:
		return q.bad(err.Error() + ".")
	case b.hasLeast && a.Minor() < b.least.Minor():
		return q.bad(b.least.String() + " is the least.")
	case b.hasMost && a.Minor() > b.most.Minor():
		return q.bad(b.most.String() + " is the most.")
	}
	return good(rule.OfMoney(a), OfText(a.Decimal()))
}

func (q *question) readDate(s string, _ Facts) parsed {
	d, err := calendar.ParseDate(s)
	if err != nil {
		return q.bad(err.Error() + ".")
	}
	return good(rule.OfDate(d), OfText(s))
}

// beyond says what is wrong with a date outside the limits, as they are today.
func (q *question) beyond(p parsed, today calendar.Date) string {
	d, ok := rule.Plain(p.value).(calendar.Date)
	if q.Kind != Date || !ok {
		return ""
	}
	if least := q.bounds.earliest; least != nil && d.Compare(least.on(today)) < 0 {
		return q.says(least.on(today).In(time.UTC).Format(dayWords) + " is the earliest.")
	}
	if most := q.bounds.latest; most != nil && d.Compare(most.on(today)) > 0 {
		return q.says(most.on(today).In(time.UTC).Format(dayWords) + " is the latest.")
	}
	return ""
}

// readDateTime reads an instant of RFC 3339, from the years 1 to 9999.
func (q *question) readDateTime(s string, _ Facts) parsed {
	t, err := time.Parse(time.RFC3339, s)
	if err != nil || t.UTC().Year() < 1 || t.UTC().Year() > 9999 {
		return q.bad("a date and a time are needed.")
	}
	t = t.UTC().Truncate(time.Second)
	return good(rule.OfInstant(t), OfText(t.Format(time.RFC3339)))
}

func (q *question) readChoices(raw Answer, _ Facts) parsed {
	list, ok := raw.Texts()
	if !ok {
		return q.bad("a list of choices is needed.")
	}
	chosen := map[string]bool{}
	for _, s := range list {
		if _, known := q.labels[s]; !known {
			return q.bad("one of the choices is not offered, or no longer.")
		}
		chosen[s] = true
	}
	kept := []string{} // in the order of the question, each once
	for _, key := range q.offered {
		if chosen[key] {
			kept = append(kept, key)
		}
	}
	if len(kept) == 0 {
		return parsed{}
	}
	if problem := q.counted(len(kept), "choices"); problem != "" {
		return parsed{problem: problem}
	}
	return good(rule.OfTexts(kept), OfTexts(kept))
}

// counted says what is wrong with so many of something.
func (q *question) counted(n int, what string) string {
	switch {
	case q.MinCount > 0 && n < q.MinCount:
		return q.says(fmt.Sprintf("at least %d %s are needed; there are %d.", q.MinCount, what, n))
	case q.MaxCount > 0 && n > q.MaxCount:
		return q.says(fmt.Sprintf("at most %d %s; there are %d.", q.MaxCount, what, n))
	}
	return ""
}

// readPerson reads a person by login.
func (q *question) readPerson(s string, facts Facts) parsed {
	p, ok := facts.Company.ByLogin(s)
	if !ok || (p.Former && !facts.Kept) {
		return q.bad("there is no such person, or no longer.")
	}
	return good(rule.OfRecord("person", rule.OfPerson(p, facts.Company.Managers(p.ID))), OfText(s))
}

// readTeam reads a team by key.
func (q *question) readTeam(s string, facts Facts) parsed {
	if _, ok := facts.Company.Team(s); !ok {
		return q.bad("there is no such team, or no longer.")
	}
	return good(rule.OfText(s), OfText(s))
}

// readLocation reads a place by name.
func (q *question) readLocation(s string, facts Facts) parsed {
	if !facts.Kept && !slices.Contains(facts.Company.Locations(), s) {
		return q.bad("there is no such place, or no longer.")
	}
	return good(rule.OfText(s), OfText(s))
}

// readCentre reads a cost centre by key.
func (q *question) readCentre(s string, facts Facts) parsed {
	if _, ok := facts.Company.CostCentre(s); !ok && !facts.Kept {
		return q.bad("there is no such cost centre, or no longer.")
	}
	return good(rule.OfText(s), OfText(s))
}

// readBelonging reads a belonging by ID.
func (q *question) readBelonging(s string, facts Facts) parsed {
	for _, b := range facts.Belongings {
		if b.ID == s {
			return good(rule.OfRecord("belonging", belongingRecord(b)), OfText(s))
		}
	}
	return q.bad("this is not something the person has, or no longer.")
}

func belongingRecord(b people.Belonging) rule.Record {
	record := rule.Record{"id": rule.OfText(b.ID), "kind": rule.OfText(b.Kind), "name": rule.OfText(b.Name), "detail": rule.OfText(b.Detail)}
	if until, err := calendar.ParseDate(b.Until); err == nil {
		record["until"] = rule.OfDate(until)
	}
	return record
}

func (q *question) readFiles(raw Answer, facts Facts) parsed {
	uploads, ok := raw.Files()
	if !ok {
		return q.bad("a list of files is needed.")
	}
	records := make([]rule.Record, len(uploads))
	for i, u := range uploads {
		if facts.Files != nil {
			if u, ok = facts.Files(u.ID); !ok {
				return q.bad("one of the files is not there any more; add it again.")
			}
			uploads[i] = u
		}
		if !slices.Contains(q.Types(), u.Type) {
			return q.bad(fmt.Sprintf("%s is not a kind of file that is taken here.", u.Name))
		}
		if u.Size > q.SizeLimit() {
			return q.bad(fmt.Sprintf("%s is too large; %d MB are the most.", u.Name, q.SizeLimit()/1_000_000))
		}
		records[i] = rule.Record{"name": rule.OfText(u.Name), "type": rule.OfText(u.Type), "size": rule.OfCount(int(u.Size))}
	}
	switch {
	case len(uploads) == 0:
		return parsed{}
	case len(uploads) > MaxFiles:
		return q.bad(fmt.Sprintf("at most %d files.", MaxFiles))
	}
	if problem := q.counted(len(uploads), "files"); problem != "" {
		return parsed{problem: problem}
	}
	return good(rule.OfRecords("file", records), OfFiles(uploads))
}

// says puts the label of the question before what is wrong with its answer.
func (q *question) says(what string) string {
	if strings.HasSuffix(q.Label, "?") || strings.HasSuffix(q.Label, ".") || strings.HasSuffix(q.Label, "!") {
		return q.Label + " " + strings.ToUpper(what[:1]) + what[1:]
	}
	return q.Label + ": " + what
}
