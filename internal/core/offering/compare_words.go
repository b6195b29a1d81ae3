package offering

import (
	"fmt"
	"reflect"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/rule"
)

// ruleWords are how a rule that changed reads, by the name of its field: with a
// rule, and without.
var ruleWords = map[string][2]string{
	"show":    {"is now shown when %s", "is now always shown"},
	"require": {"is now required when %s", "is no longer required"},
	"lock":    {"is now set by the offering when %s", "can now always be changed"},
	"preset":  {"is now filled in with %s", "is no longer filled in"},
	"offer":   {"now offers only what fits %s", "now offers everything"},
	"compute": {"is now worked out as %s", "is no longer worked out"},
	"when":    {"is now needed when %s", "is now always needed"},
	"rule":    {"now wants %s", "wants nothing any more"},
	"see":     {"it is now found by those of whom %s", "it is now found by everyone who may ask"},
	"ask":     {"those may now ask of whom %s", "everyone may now ask"},
	"for":     {"it can now be asked for those of whom %s", "it can no longer be asked for others"},
}

// flagWords are how yes and no read, by the name of the field.
var flagWords = map[string][2]string{
	"pick":      {"it is now put forward on the front page", "it is no longer put forward"},
	"newcomers": {"it can now be asked for newcomers", "it can no longer be asked for newcomers"},
	"notSelf":   {"it can no longer be asked for oneself", "it can now be asked for oneself"},
	"told":      {"who it is for now sees the request", "who it is for no longer sees the request"},
	"inner":     {"only other offerings use it now", "people find it again"},
	"page":      {"now begins a page", "no longer begins a page"},
	"afresh":    {"now asks again who approved before", "no longer asks again who approved before"},
	"sendBack":  {"now returns the request when declined", "now ends the request when declined"},
	"noPrice":   {"no longer shows the price", "now shows the price"},
	"default":   {"is now picked by itself", "is no longer picked by itself"},
	"byDays":    {"is now charged by days", "is no longer charged by days"},
}

// fieldNames are the fields whose name in the format is not what people call
// them.
var fieldNames = map[string]string{
	"text": "text", "not": "note on what it is not for", "brief": "brief", "help": "help", "minLength": "smallest length", "maxLength": "largest length",
	"min": "smallest value", "max": "largest value", "minCount": "fewest", "maxCount": "most", "fileTypes": "kinds of files",
	"maxSize": "largest file", "short": "short label", "gives": "kind of result", "per": "period", "costCentres": "sharing over cost centres",
	"confirmWithin": "days to confirm", "answerWithin": "days to answer a question", "limit": "time to decide", "then": "end of the time to decide", "remind": "reminders", "response": "time to the first word", "fulfilment": "time to delivery", "from": "day from which months run", "after": "forerunners", "say": "text for the decision",
	"facts": "answers shown", "slice": "answers shown", "items": "items offered", "replaces": "offerings it replaces", "fits": "items it fits",
	"zone": "time zone", "do": "action", "when": "rule",
}

func fieldName(name string) string {
	if words, ok := fieldNames[name]; ok {
		return words
	}
	return name
}

// nouns are what entries of lists are called, by the name of the list.
var nouns = map[string]string{
	"articles": "Article", "choices": "Choice", "columns": "Column", "check": "Check", "list": "Item", "extras": "Extra",
	"surcharges": "Surcharge", "options": "Choice", "discounts": "Discount", "approvers": "Approver", "fallback": "Fallback", "targets": "Promise", "messages": "Message",
}

// plain gives a value as text, empty when there is none.
func plain(v reflect.Value) string {
	if v.Kind() == reflect.Pointer {
		if v.IsNil() {
			return ""
		}
		v = v.Elem()
	}
	switch {
	case v.Kind() == reflect.Map && v.Len() == 0, v.IsZero() && v.Kind() != reflect.Int:
		return ""
	case v.Kind() == reflect.Struct || v.Kind() == reflect.Map:
		return "set"
	}
	return fmt.Sprint(v.Interface())
}

// longText is from how many characters a text is not quoted.
const longText = 80

func quoted(text string) string {
	if text == "set" {
		return text
	}
	return "“" + text + "”"
}

func lowerFirst(text string) string {
	if text == "" {
		return ""
	}
	return strings.ToLower(text[:1]) + text[1:]
}

// named gives the words for an entry: “Rung 2 (Safety)”, “Question Reason”.
func named(noun string, i int, v reflect.Value) string {
	for _, name := range []string{"Label", "Name", "Title"} {
		if f := v.FieldByName(name); f.IsValid() && f.String() != "" {
			if noun == "Rung" {
				return fmt.Sprintf("Rung %d “%s”", i+1, f.String())
			}
			return noun + " “" + f.String() + "”"
		}
	}
	return fmt.Sprintf("%s %d", noun, i+1)
}

// about says when something new counts.
func (c *comparing) about(v reflect.Value) string {
	for _, name := range []string{"Show", "When"} {
		if f := v.FieldByName(name); f.IsValid() && f.String() != "" {
			return ", for when " + c.words(f.String())
		}
	}
	return ""
}

// words gives a rule as a sentence with the labels of the newer version.
func (c *comparing) words(source string) string {
	s, ok := rule.ParseSentence(source)
	if !ok {
		return strings.TrimSpace(source)
	}
	return c.sentence(s.Typed(c.comparedAs))
}

// sentence says a typed sentence.
func (c *comparing) sentence(s rule.Sentence) string {
	return s.Words(func(path, value string) (string, string) {
		for _, d := range []Document{c.next, c.old} {
			for _, q := range d.Questions {
				if q.Key != path {
					continue
				}
				for _, o := range q.Choices {
					if o.Key == value {
						return q.Label, o.Label
					}
				}
				return q.Label, c.label(value)
			}
		}
		return form.FactWords(path), value
	})
}

// comparedAs says as what a rule compares a fact.
func (c *comparing) comparedAs(path string) string {
	for _, d := range []Document{c.next, c.old} {
		for _, q := range d.Questions {
			if q.Key == path {
				return form.ComparedAs(path, q)
			}
		}
	}
	return form.ComparedAs(path, form.Question{})
}

// label gives what a key is called: a question, an item or a task.
func (c *comparing) label(key string) string {
	for _, d := range []Document{c.next, c.old} {
		for _, q := range d.Questions {
			if q.Key == key {
				return q.Label
			}
		}
		for _, item := range d.Items.List {
			if item.Key == key {
				return item.Name
			}
		}
		for _, t := range d.Plan {
			if t.Key == key {
				return t.Name
			}
		}
	}
	return key
}
