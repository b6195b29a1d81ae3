package offering

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"heptad/internal/core/finding"
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
