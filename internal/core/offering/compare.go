package offering

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/rule"
)

// Change is one difference between two versions, in words.
type Change struct {
	Side     string `json:"side" enum:"purpose,audience,questions,items,ladder,plan,promise"`
	Kind     string `json:"kind" enum:"added,removed,changed,moved"`
	Place    string `json:"place" doc:"JSON Pointer into the newer version; into the older one for what is removed"`
	Sentence string `json:"sentence"`
}

// Compare tells what is different in the newer of two versions, side by side,
// by their structure: what has the same key is the same thing.
func Compare(old, next Document) []Change {
	c := &comparing{old: old, next: next, changes: []Change{}}
	c.side = "purpose"
	c.fields("/purpose", "", reflect.ValueOf(old.Purpose), reflect.ValueOf(next.Purpose))
	c.side = "audience"
	c.fields("/audience", "", reflect.ValueOf(old.Audience), reflect.ValueOf(next.Audience))
	c.side = "questions"
	c.list("/sections", "Section", reflect.ValueOf(old.Sections), reflect.ValueOf(next.Sections))
	c.list("/questions", "Question", reflect.ValueOf(old.Questions), reflect.ValueOf(next.Questions))
	c.side = "items"
	c.fields("/items", "", reflect.ValueOf(old.Items), reflect.ValueOf(next.Items))
	c.side = "ladder"
	c.list("/ladder", "Rung", reflect.ValueOf(old.Ladder), reflect.ValueOf(next.Ladder))
	c.side = "plan"
	c.list("/plan", "Task", reflect.ValueOf(old.Plan), reflect.ValueOf(next.Plan))
	c.side = "promise"
	c.fields("/promise", "", reflect.ValueOf(old.Promise), reflect.ValueOf(next.Promise))
	return c.changes
}

type comparing struct {
	old, next Document
	side      string
	changes   []Change
}

func (c *comparing) add(kind, place, format string, args ...any) {
	sentence := strings.TrimSpace(fmt.Sprintf(format, args...))
	c.changes = append(c.changes, Change{c.side, kind, place, strings.ToUpper(sentence[:1]) + sentence[1:]})
}

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

// jsonName is the name of a field in the format; empty for the key, which says
// which thing it is.
func jsonName(f reflect.StructField) string {
	name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
	if name == "key" {
		return ""
	}
	return name
}

// fields compares two structs; subject says whose fields they are.
func (c *comparing) fields(place, subject string, old, next reflect.Value) {
	for i := range next.NumField() {
		name := jsonName(next.Type().Field(i))
		a, b := old.Field(i), next.Field(i)
		if name == "" || reflect.DeepEqual(a.Interface(), b.Interface()) || (b.Kind() == reflect.Slice && a.Len() == 0 && b.Len() == 0) {
			continue
		}
		c.field(place+"/"+name, subject, name, a, b)
	}
}

func (c *comparing) field(place, subject, name string, a, b reflect.Value) {
	rules, isRule := ruleWords[name]
	flags, isFlag := flagWords[name]
	if c.side == "promise" && name == "when" {
		rules = [2]string{"now holds when %s", "now holds for everybody"}
	}
	switch {
	case isRule && b.Kind() == reflect.String && !(name == "from"):
		if b.String() == "" {
			c.add("changed", place, "%s %s.", subject, rules[1])
			return
		}
		if b.String() == "true" && name == "require" {
			c.add("changed", place, "%s is now always required.", subject)
			return
		}
		c.add("changed", place, "%s "+rules[0]+".", subject, c.words(b.String()))
	case isFlag && b.Kind() == reflect.Bool:
		words := flags[1]
		if b.Bool() {
			words = flags[0]
		}
		c.add("changed", place, "%s %s.", subject, words)
	case b.Kind() == reflect.Slice && b.Type().Elem().Kind() == reflect.Struct:
		c.list(place, nouns[name], a, b, subject)
	case b.Kind() == reflect.Struct:
		c.fields(place, subject, a, b)
	case b.Kind() == reflect.Pointer && b.Type().Elem().Kind() == reflect.Struct && !a.IsNil() && !b.IsNil():
		c.fields(place, subject, a.Elem(), b.Elem())
	case b.Kind() == reflect.Slice:
		c.texts(place, subject, name, textsOf(a), textsOf(b))
	default:
		c.value(place, subject, name, plain(a), plain(b))
	}
}

// textsOf gives the entries of a list of texts or numbers.
func textsOf(list reflect.Value) []string {
	texts := make([]string, list.Len())
	for i := range texts {
		texts[i] = fmt.Sprint(list.Index(i).Interface())
	}
	return texts
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

func (c *comparing) value(place, subject, name, a, b string) {
	label := fieldName(name)
	if subject != "" {
		label = subject + ": the " + label
	} else {
		label = "the " + label
	}
	switch {
	case name == "picture" && b == "", a != "" && b == "":
		c.add("changed", place, "%s is taken away.", label)
	case name == "picture", len(a) > longText, len(b) > longText, a == "set":
		c.add("changed", place, "%s is another.", label)
	case a == "":
		c.add("changed", place, "%s is now %s.", label, quoted(b))
	default:
		c.add("changed", place, "%s changes from %s to %s.", label, quoted(a), quoted(b))
	}
}

func quoted(text string) string {
	if text == "set" {
		return text
	}
	return "“" + text + "”"
}

// texts compares lists of keys or words.
func (c *comparing) texts(place, subject, name string, a, b []string) {
	label := fieldName(name)
	if subject != "" {
		label = subject + ": the " + label
	} else {
		label = "the " + label
	}
	words := func(text string) string {
		if slices.Contains([]string{"items", "after", "slice", "facts", "fits"}, name) { // lists of keys
			text = c.label(text)
		}
		return quoted(text)
	}
	var more, fewer []string
	for _, text := range b {
		if !slices.Contains(a, text) {
			more = append(more, words(text))
		}
	}
	for _, text := range a {
		if !slices.Contains(b, text) {
			fewer = append(fewer, words(text))
		}
	}
	switch {
	case len(more) == 0 && len(fewer) == 0:
		c.add("moved", place, "%s stand in another order.", label)
	case len(fewer) == 0:
		c.add("changed", place, "%s gain %s.", label, strings.Join(more, ", "))
	case len(more) == 0:
		c.add("changed", place, "%s lose %s.", label, strings.Join(fewer, ", "))
	default:
		c.add("changed", place, "%s lose %s and gain %s.", label, strings.Join(fewer, ", "), strings.Join(more, ", "))
	}
}

// list compares lists of things with keys; entries without keys are the same
// when they stand at the same place.
func (c *comparing) list(place, noun string, old, next reflect.Value, in ...string) {
	of := ""
	if len(in) > 0 && in[0] != "" {
		of = " of " + lowerFirst(in[0])
	}
	oldKeys, nextKeys := keysOf(old), keysOf(next)
	for i, key := range oldKeys {
		if !slices.Contains(nextKeys, key) {
			c.add("removed", place+finding.At(i), "%s%s is gone.", named(noun, i, old.Index(i)), of)
		}
	}
	var stayed []string
	for i, key := range nextKeys {
		j := slices.Index(oldKeys, key)
		if j < 0 {
			c.add("added", place+finding.At(i), "%s%s is new%s.", named(noun, i, next.Index(i)), of, c.about(next.Index(i)))
			continue
		}
		stayed = append(stayed, key)
		c.fields(place+finding.At(i), named(noun, i, next.Index(i))+of, old.Index(j), next.Index(i))
	}
	before := slices.DeleteFunc(slices.Clone(oldKeys), func(key string) bool { return !slices.Contains(stayed, key) })
	for _, key := range movedKeys(before, stayed) {
		i := slices.Index(nextKeys, key)
		where := "to the top"
		if i > 0 {
			where = "after " + lowerFirst(named(noun, i-1, next.Index(i-1)))
		}
		c.add("moved", place+finding.At(i), "%s%s moves %s.", named(noun, i, next.Index(i)), of, where)
	}
}

func lowerFirst(text string) string {
	if text == "" {
		return ""
	}
	return strings.ToLower(text[:1]) + text[1:]
}

// keysOf lists the keys of the entries of a list; what has no key is known by
// its place.
func keysOf(list reflect.Value) []string {
	keys := make([]string, list.Len())
	for i := range keys {
		keys[i] = fmt.Sprintf("#%d", i)
		for _, name := range []string{"Key", "Title"} {
			if f := list.Index(i).FieldByName(name); f.IsValid() && f.String() != "" {
				keys[i] = f.String()
				break
			}
		}
	}
	return keys
}

// movedKeys lists the fewest keys that were moved to come from one order of the
// same keys to another: those outside a longest part in the same order.
func movedKeys(before, after []string) []string {
	n := len(after)
	longest := make([][]int, n+1)
	for i := range longest {
		longest[i] = make([]int, n+1)
	}
	for i := n - 1; i >= 0; i-- {
		for j := n - 1; j >= 0; j-- {
			if before[i] == after[j] {
				longest[i][j] = longest[i+1][j+1] + 1
			} else {
				longest[i][j] = max(longest[i+1][j], longest[i][j+1])
			}
		}
	}
	var moved []string
	for i, j := 0, 0; j < n; {
		switch {
		case i < n && before[i] == after[j]:
			i, j = i+1, j+1
		case i < n && longest[i+1][j] >= longest[i][j+1]:
			i++
		default:
			moved = append(moved, after[j])
			j++
		}
	}
	return moved
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
