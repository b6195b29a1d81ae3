package form

import (
	"bytes"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"

	"heptad/internal/core/price"
)

// Answer is what was answered to a question: nothing, a text, a number, yes or no,
// several texts, picked items, files, or rows. However it was made, from JSON or
// worked out, the same answer has one form in memory and one in JSON (RFC 8259).
// The zero value is no answer; its JSON is null.
type Answer struct {
	_  [0]func() // two are compared by Equal
	is any       // nil, string, float64, bool, []Answer or Answers, and nothing else
}

// Answers are answers by the key of the question. In JSON there is text for text,
// dates, instants (RFC 3339), sums (decimal numbers), one choice, people (login),
// teams and cost centres (key), places (name) and belongings (ID); number; bool; a
// list of texts for several choices; a list of picks; a list of files; a list of
// rows for a table. A key with no answer is a question that was touched and
// emptied: no preset fills it again.
type Answers map[string]Answer

// OfText is a text as an answer.
func OfText(text string) Answer { return Answer{is: text} }

// OfNumber is a number as an answer.
func OfNumber(n float64) Answer { return Answer{is: n} }

// OfYesNo is yes or no as an answer.
func OfYesNo(yes bool) Answer { return Answer{is: yes} }

// OfTexts are several texts as an answer.
func OfTexts(list []string) Answer { return ofList(list, OfText) }

// OfRows are the rows of a table as an answer.
func OfRows(rows []Answers) Answer {
	return ofList(rows, func(row Answers) Answer { return Answer{is: row} })
}

// OfFiles are files as an answer.
func OfFiles(files []Upload) Answer {
	return ofList(files, func(u Upload) Answer {
		return Answer{is: Answers{"id": OfText(u.ID), "name": OfText(u.Name), "type": OfText(u.Type), "size": OfNumber(float64(u.Size))}}
	})
}

// OfPicks are picked items as an answer.
func OfPicks(picks []price.Pick) Answer {
	return ofList(picks, func(p price.Pick) Answer {
		fields := Answers{"item": OfText(p.Item), "quantity": OfNumber(float64(p.Quantity))}
		if len(p.Options) > 0 {
			options := Answers{}
			for group, key := range p.Options {
				options[group] = OfText(key)
			}
			fields["options"] = Answer{is: options}
		}
		if len(p.Extras) > 0 {
			fields["extras"] = ofList(p.Extras, func(x price.PickedExtra) Answer {
				return Answer{is: Answers{"extra": OfText(x.Extra), "quantity": OfNumber(float64(x.Quantity))}}
			})
		}
		return Answer{is: fields}
	})
}

func ofList[T any](list []T, of func(T) Answer) Answer {
	out := make([]Answer, len(list))
	for i, element := range list {
		out[i] = of(element)
	}
	return Answer{is: out}
}

// None reports whether there is no answer.
func (a Answer) None() bool { return a.is == nil }

// Equal reports whether two answers are the same.
func (a Answer) Equal(b Answer) bool { return reflect.DeepEqual(a.is, b.is) }

// Text is the answer when it is a text.
func (a Answer) Text() (text string, ok bool) {
	text, ok = a.is.(string)
	return text, ok
}

// Number is the answer when it is a number.
func (a Answer) Number() (n float64, ok bool) {
	n, ok = a.is.(float64)
	return n, ok
}

// YesNo is the answer when it is yes or no.
func (a Answer) YesNo() (yes, ok bool) {
	yes, ok = a.is.(bool)
	return yes, ok
}

// Texts are the answer when it is a list of texts.
func (a Answer) Texts() (texts []string, ok bool) { return listed(a, Answer.Text) }

// Rows are the answer when it is a list of rows; no answer is no rows.
func (a Answer) Rows() (rows []Answers, ok bool) {
	if a.None() {
		return nil, true
	}
	return listed(a, func(row Answer) (Answers, bool) {
		fields, ok := row.is.(Answers)
		return fields, ok
	})
}

// Picks are the answer when it is a list of picked items.
func (a Answer) Picks() ([]price.Pick, bool) { return listed(a, read[price.Pick]) }

// Files are the answer when it is a list of files.
func (a Answer) Files() ([]Upload, bool) { return listed(a, read[Upload]) }

// listed reads each of a list.
func listed[T any](a Answer, read func(Answer) (T, bool)) ([]T, bool) {
	list, ok := a.is.([]Answer)
	if !ok {
		return nil, false
	}
	out := make([]T, len(list))
	for i, element := range list {
		if out[i], ok = read(element); !ok {
			return nil, false
		}
	}
	return out, true
}

// read takes what is in JSON an object for a value of Go.
func read[T any](a Answer) (out T, ok bool) {
	if _, isObject := a.is.(Answers); !isObject {
		return out, false
	}
	data, err := json.Marshal(a)
	return out, err == nil && json.Unmarshal(data, &out) == nil
}

// MarshalJSON gives the answer as it travels.
func (a Answer) MarshalJSON() ([]byte, error) { return json.Marshal(a.plain()) }

// MarshalJSON gives the answers as they travel.
func (a Answers) MarshalJSON() ([]byte, error) {
	if a == nil {
		return []byte("null"), nil
	}
	return json.Marshal(Answer{is: a}.plain())
}

// plain is the answer in the types of package json.
func (a Answer) plain() any {
	switch x := a.is.(type) {
	case []Answer:
		out := make([]any, len(x))
		for i, element := range x {
			out[i] = element.plain()
		}
		return out
	case Answers:
		out := make(map[string]any, len(x))
		for key, field := range x {
			out[key] = field.plain()
		}
		return out
	}
	return a.is
}

// UnmarshalJSON reads an answer as it travels. Whether it is one to its question
// shows when a form is worked out. Package json has checked the text before; most
// answers are read by a glance at it.
func (a *Answer) UnmarshalJSON(data []byte) error {
	switch {
	case len(data) > 1 && data[0] == '"' && bytes.IndexByte(data, '\\') < 0 && utf8.Valid(data):
		a.is = string(data[1 : len(data)-1])
		return nil
	case string(data) == "true" || string(data) == "false":
		a.is = data[0] == 't'
		return nil
	}
	var plain any
	if err := json.Unmarshal(data, &plain); err != nil {
		return err
	}
	*a = answerOf(plain)
	return nil
}

// answerOf takes what package json has read.
func answerOf(plain any) Answer {
	switch x := plain.(type) {
	case []any:
		return ofList(x, answerOf)
	case map[string]any:
		return Answer{is: answersOf(x)}
	}
	return Answer{is: plain}
}

func answersOf(plain map[string]any) Answers {
	if plain == nil {
		return nil
	}
	out := make(Answers, len(plain))
	for key, value := range plain {
		out[key] = answerOf(value)
	}
	return out
}

// Changing gives the answers with every text in them changed.
func (a Answers) Changing(change func(text string) string) Answers {
	out := make(Answers, len(a))
	for key, answer := range a {
		out[key] = answer.changing(change)
	}
	return out
}

func (a Answer) changing(change func(text string) string) Answer {
	switch x := a.is.(type) {
	case string:
		return OfText(change(x))
	case []Answer:
		return ofList(x, func(element Answer) Answer { return element.changing(change) })
	case Answers:
		return Answer{is: x.Changing(change)}
	}
	return a
}

// String is the answer in JSON, for whoever examines it.
func (a Answer) String() string {
	data, err := a.MarshalJSON()
	if err != nil {
		return fmt.Sprintf("no answer: %v", err)
	}
	return string(data)
}

// Rows are those of the answer to a table.
func (a Answers) Rows(table string) []Answers {
	rows, _ := a[table].Rows()
	return rows
}

// Texts are the texts in an answer: the one of a question, the keys of several
// choices, or those in the column of a table, given as table.column.
func (a Answers) Texts(key string) []string {
	if table, column, inTable := strings.Cut(key, "."); inTable {
		var all []string
		for _, row := range a.Rows(table) {
			all = append(all, row.Texts(column)...)
		}
		return all
	}
	if one, ok := a[key].Text(); ok {
		return []string{one}
	}
	list, _ := a[key].Texts()
	return list
}

// Changed lists the keys of the questions whose answers differ from those in
// other answers, in order.
func (a Answers) Changed(next Answers) []string {
	var keys []string
	for key, value := range next {
		if !a[key].Equal(value) {
			keys = append(keys, key)
		}
	}
	for key := range a {
		if _, still := next[key]; !still {
			keys = append(keys, key)
		}
	}
	slices.Sort(keys)
	return keys
}
