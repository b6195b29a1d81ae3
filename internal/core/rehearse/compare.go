package rehearse

import (
	"encoding/json"
	"fmt"
	"maps"
	"math/big"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/script"
)

// Difference is something that is other than expected.
type Difference struct {
	Place    string `json:"place" doc:"JSON Pointer into what is expected"`
	Expected string `json:"expected"`
	Is       string `json:"is"`
	Sentence string `json:"sentence"`

	at []step
	is any // what would be expected once this is right; nil for nothing
}

// step is one step into what is expected: a field, or an element of a list.
type step struct {
	field string
	index int // of an element; the field is empty
}

// keyed are the fields by which the elements of a list are told apart.
var keyed = map[string][]string{
	"rungs": {"key"}, "tasks": {"key"}, "seats": {"person", "part"}, "marks": {"clock", "share"}, "shares": {"payer", "name"}, "slice": {"key"},
	"messages": {"to", "kind", "task", "rung"}, "calls": {"connector", "action", "task"}, "events": {"kind", "task", "rung", "by"}, "forecasts": {"at"},
	"refused": {"line", "code"}, "held": {"from"}, "pauses": {"from"}, "children": {"title"},
}

// Compare tells what of a result is other than expected, where that speaks. The company
// gives the names of those whom it expects.
func Compare(expected script.Expect, result Rehearsed, company *people.Directory) []Difference {
	data, err := json.Marshal(result)
	if err != nil {
		return []Difference{{Sentence: "The result cannot be written down: " + err.Error()}}
	}
	var is map[string]any
	if err := json.Unmarshal(data, &is); err != nil {
		return []Difference{{Sentence: "The result cannot be read: " + err.Error()}}
	}
	data, _ = json.Marshal(expected) // it came from JSON
	var want map[string]any
	_ = json.Unmarshal(data, &want)
	c := &comparing{result: result, want: want, company: company}
	c.object(want, is, nil)
	return c.all
}

type comparing struct {
	result  Rehearsed
	want    map[string]any
	company *people.Directory
	all     []Difference
}

func (c *comparing) object(want, is map[string]any, at []step) {
	for _, key := range slices.Sorted(maps.Keys(want)) {
		here := append(slices.Clip(at), step{field: key})
		value, there := is[key]
		switch wanted := want[key].(type) {
		case map[string]any:
			inner, _ := value.(map[string]any)
			if inner == nil && len(wanted) > 0 {
				c.other(here, wanted, value)
				continue
			}
			c.object(wanted, inner, here)
		case []any:
			list, _ := value.([]any)
			if key == "after" && len(at) > 0 {
				c.after(wanted, want, here)
				continue
			}
			c.list(key, wanted, list, here)
		case nil:
			if there && value != nil {
				c.other(here, nil, value)
			}
		default:
			if !same(wanted, value) {
				c.other(here, wanted, value)
			}
		}
	}
}

// list compares the elements of a list: objects by their keys, others by being there.
func (c *comparing) list(name string, want, is []any, at []step) {
	used := map[int]bool{}
	for i, element := range want {
		here := append(slices.Clip(at), step{index: i})
		wanted, object := element.(map[string]any)
		if !object {
			if !slices.ContainsFunc(is, func(o any) bool { return same(element, o) }) {
				c.missing(here, element)
			}
			continue
		}
		found := slices.IndexFunc(is, func(o any) bool {
			found, _ := o.(map[string]any)
			return found != nil && alike(name, wanted, found)
		})
		// of several alike each is expected once
		for j := found; j >= 0 && j < len(is); j++ {
			o, _ := is[j].(map[string]any)
			if o != nil && !used[j] && alike(name, wanted, o) {
				found = j
				break
			}
		}
		if found < 0 {
			c.missing(here, wanted)
			continue
		}
		used[found] = true
		inner, _ := is[found].(map[string]any)
		c.object(wanted, inner, here)
	}
}

// alike reports whether an element of a list is the one that is meant.
func alike(name string, want, is map[string]any) bool {
	for _, key := range keyed[name] {
		if wanted, says := want[key]; says && !same(wanted, is[key]) {
			return false
		}
	}
	return true
}

// same reports whether two values of JSON are the same: instants as instants, and numbers as
// numbers, however they are written.
func same(want, is any) bool {
	a, isText := want.(string)
	b, both := is.(string)
	if !isText || !both {
		return want == is
	}
	if a == b {
		return true
	}
	if at, err := time.Parse(time.RFC3339, a); err == nil {
		other, err := time.Parse(time.RFC3339, b)
		return err == nil && at.Equal(other)
	}
	x, one := new(big.Rat).SetString(a)
	y, two := new(big.Rat).SetString(b)
	return one && two && x.Cmp(y) == 0 && !strings.ContainsAny(a+b, "eE/")
}

// after looks whether a task still begins after others have ended.
func (c *comparing) after(want []any, task map[string]any, at []step) {
	key, _ := task["key"].(string)
	this, there := c.task(key)
	if !there || this.Ready == nil {
		return // that is told of the task itself
	}
	for i, element := range want {
		before, _ := element.(string)
		here := append(slices.Clip(at), step{index: i})
		first, known := c.task(before)
		switch {
		case !known:
			c.add(here, before, "", nil, fmt.Sprintf("%s no longer waits for %q, which there is no more.", this.Name, before))
		case first.Ended == nil || first.Ended.After(*this.Ready):
			c.add(here, first.Name+" first", this.Name+" first", nil, fmt.Sprintf("%s now begins before %s has ended.", this.Name, first.Name))
		case !c.waits(this, before, map[string]bool{}):
			c.add(here, "waits for "+first.Name, "does not wait for it", nil, fmt.Sprintf("%s now begins before %s has ended.", this.Name, first.Name))
		}
	}
}

// waits reports whether a task waits for another, itself or by those it waits for.
func (c *comparing) waits(t Task, before string, seen map[string]bool) bool {
	if seen[t.Key] {
		return false
	}
	seen[t.Key] = true
	return slices.ContainsFunc(t.After, func(key string) bool {
		of, there := c.task(key)
		return key == before || there && c.waits(of, before, seen)
	})
}

func (c *comparing) task(key string) (Task, bool) {
	i := slices.IndexFunc(c.result.Tasks, func(t Task) bool { return t.Key == key })
	if i < 0 {
		return Task{}, false
	}
	return c.result.Tasks[i], true
}

func (c *comparing) add(at []step, expected, is string, value any, sentence string) {
	c.all = append(c.all, Difference{pointer(at), expected, is, sentence, at, value})
}

func (c *comparing) other(at []step, want, is any) {
	c.add(at, written(want), written(is), is, c.sentence(at, want, is))
}

func (c *comparing) missing(at []step, want any) {
	c.add(at, written(want), "not there", nil, c.missed(at, want))
}

func pointer(at []step) string {
	out := ""
	for _, s := range at {
		if s.field != "" {
			out += "/" + strings.ReplaceAll(strings.ReplaceAll(s.field, "~", "~0"), "/", "~1")
		} else {
			out += fmt.Sprintf("/%d", s.index)
		}
	}
	return out
}

// written is a value as people read it.
func written(v any) string {
	switch v := v.(type) {
	case nil:
		return "nothing"
	case string:
		if at, err := time.Parse(time.RFC3339, v); err == nil {
			return at.UTC().Format("2 January 2006, 15:04 UTC")
		}
		return v
	case bool:
		return map[bool]string{true: "yes", false: "no"}[v]
	}
	data, _ := json.Marshal(v) // it came from JSON
	return string(data)
}

// Right takes over what is there now for some of the places of what was expected, as is
// said of them: they are right so.
func Right(expected script.Expect, different []Difference, places []string) script.Expect {
	data, _ := json.Marshal(expected) // it came from JSON
	var out map[string]any
	_ = json.Unmarshal(data, &out)
	for _, d := range slices.Backward(different) { // the last first, so that what is taken out moves nothing
		if slices.Contains(places, d.Place) {
			out, _ = set(out, d.at, d.is).(map[string]any)
		}
	}
	return out
}

// set puts a value where steps lead, or takes it out when it is nil.
func set(in any, at []step, value any) any {
	if len(at) == 0 {
		return value
	}
	switch in := in.(type) {
	case map[string]any:
		if next := set(in[at[0].field], at[1:], value); next != nil {
			in[at[0].field] = next
		} else {
			delete(in, at[0].field)
		}
		return in
	case []any:
		i := at[0].index
		if i >= len(in) {
			return in
		}
		if next := set(in[i], at[1:], value); next != nil {
			in[i] = next
			return in
		}
		return slices.Delete(in, i, i+1)
	}
	return in
}
