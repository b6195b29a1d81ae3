package rehearse

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/script"
)

// Seen is something that a result shows and that can be expected of it.
type Seen struct {
	ID       string        `json:"id"`
	Side     string        `json:"side" enum:"questions,items,ladder,plan,promise" doc:"Of the offering"`
	Sentence string        `json:"sentence"`
	Ticked   bool          `json:"ticked" doc:"It is usually expected"`
	Expect   script.Expect `json:"expect"`
}

// See lists what a result shows, to be ticked.
func (r Rehearsed) See() []Seen {
	var all []Seen
	add := func(side, sentence string, ticked bool, expect script.Expect) {
		all = append(all, Seen{fmt.Sprintf("%s-%d", side, len(all)+1), side, sentence, ticked, expect})
	}
	if r.End == Unsent {
		for _, refused := range r.Refused {
			add("questions", "It cannot be sent: "+refused.Sentence, true, script.Expect{"end": string(Unsent), "refused": []any{map[string]any{"code": refused.Code}}})
		}
		return all
	}
	p := r.Request.Price
	cost := map[string]any{"once": p.Once, "monthly": p.Monthly, "yearly": p.Yearly}
	add("items", fmt.Sprintf("It costs %s %s once, %s a month, %s a year", p.Currency, p.Once, p.Monthly, p.Yearly), true, script.Expect{"request": map[string]any{"price": cost}})
	if len(r.Request.Shown) > 0 {
		add("questions", fmt.Sprintf("%d questions are shown: %s", len(r.Request.Shown), strings.Join(r.Request.Shown, ", ")), false, script.Expect{"request": map[string]any{"shown": anys(r.Request.Shown)}})
	}
	if len(r.Request.Hidden) > 0 {
		add("questions", "Not shown: "+strings.Join(r.Request.Hidden, ", "), false, script.Expect{"request": map[string]any{"hidden": anys(r.Request.Hidden)}})
	}
	add("ladder", countOf(r.Counts.Rungs, "decision"), true, script.Expect{"counts": map[string]any{"rungs": float64(r.Counts.Rungs)}})
	for _, rung := range r.Rungs {
		r.seeRung(rung, add)
	}
	add("plan", countOf(r.Counts.Tasks, "task"), true, script.Expect{"counts": map[string]any{"tasks": float64(r.Counts.Tasks)}})
	for _, t := range r.Tasks {
		r.seeTask(t, add)
	}
	if o := r.Request.Outcome; o != "" {
		add("promise", "It ends as "+string(o), true, script.Expect{"request": map[string]any{"outcome": string(o)}})
	}
	if r.Promise != nil {
		if r.Promise.Kept != nil {
			word := map[bool]string{true: "kept", false: "missed"}[*r.Promise.Kept]
			add("promise", "The promise is "+word, true, script.Expect{"promise": map[string]any{"kept": *r.Promise.Kept}})
		}
		if r.Promise.Due != nil {
			add("promise", "It is due on "+written(r.Promise.Due.Format(rfc3339)), false, script.Expect{"promise": map[string]any{"due": r.Promise.Due.Format(rfc3339)}})
		}
		for _, m := range r.Promise.Marks {
			add("promise", fmt.Sprintf("The mark at %d %% is reached", m.Share), false, script.Expect{"promise": map[string]any{"marks": []any{map[string]any{"clock": string(m.Clock), "share": float64(m.Share)}}}})
		}
	}
	seen := map[string]bool{}
	for _, m := range r.Messages {
		at := m.To + string(m.Kind) + m.Task + m.Rung
		if seen[at] {
			continue
		}
		seen[at] = true
		expect := map[string]any{"to": m.To, "kind": string(m.Kind)}
		if m.Task != "" {
			expect["task"] = m.Task
		}
		if m.Rung != "" {
			expect["rung"] = m.Rung
		}
		add("promise", fmt.Sprintf("%s reads: %s", r.nameOf(m.To), m.Subject), false, script.Expect{"messages": []any{expect}})
	}
	return all
}

// Case is the case of a script that came to this, with what is usually expected.
func (r Rehearsed) Case(name string, s script.Script) script.Case {
	usual := slices.DeleteFunc(r.See(), func(s Seen) bool { return !s.Ticked })
	return script.Case{Name: name, Script: s, Expect: Expecting(usual)}
}

const rfc3339 = "2006-01-02T15:04:05.999Z07:00"

func (r Rehearsed) nameOf(login string) string {
	if name, known := r.Names[login]; known {
		return name
	}
	return login
}

func (r Rehearsed) seeRung(rung Rung, add func(side, sentence string, ticked bool, expect script.Expect)) {
	var names []string
	var seats []any
	for _, seat := range rung.Seats {
		names = append(names, r.nameOf(seat.Person))
		one := map[string]any{"person": seat.Person}
		if seat.Part != "" {
			one["part"] = seat.Part
		}
		seats = append(seats, one)
	}
	expect := map[string]any{"key": rung.Key}
	sentence := "Decision: " + rung.Name
	if len(seats) > 0 {
		expect["seats"] = seats
		sentence += ", with " + strings.Join(names, " and ")
	}
	add("ladder", sentence, true, script.Expect{"rungs": []any{expect}})
	if rung.Outcome != ladder.Open {
		add("ladder", rung.Name+" is "+string(rung.Outcome), false, script.Expect{"rungs": []any{map[string]any{"key": rung.Key, "outcome": string(rung.Outcome)}}})
	}
}

func (r Rehearsed) seeTask(t Task, add func(side, sentence string, ticked bool, expect script.Expect)) {
	expect := map[string]any{"key": t.Key, "state": string(t.State)}
	sentence := t.Name
	if t.State == plan.Skipped {
		add("plan", t.Name+" is not needed", true, script.Expect{"tasks": []any{expect}})
		return
	}
	if t.Team != "" {
		expect["team"] = t.Team
		sentence += ", by " + r.Teams[t.Team]
	}
	if len(t.After) > 0 {
		expect["after"] = anys(t.After)
		sentence += ", after " + strings.Join(r.taskNames(t.After), " and ")
	}
	add("plan", sentence+": "+string(t.State), true, script.Expect{"tasks": []any{expect}})
	if t.Due != nil {
		add("plan", t.Name+" is due on "+written(t.Due.Format(rfc3339)), false, script.Expect{"tasks": []any{map[string]any{"key": t.Key, "due": t.Due.Format(rfc3339)}}})
	}
}

func (r Rehearsed) taskNames(keys []string) []string {
	names := make([]string, len(keys))
	for i, key := range keys {
		names[i] = key
		for _, t := range r.Tasks {
			if t.Key == key {
				names[i] = t.Name
			}
		}
	}
	return names
}

func anys(all []string) []any {
	out := make([]any, len(all))
	for i, text := range all {
		out[i] = text
	}
	return out
}

func countOf(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// Expecting puts together what was ticked.
func Expecting(seen []Seen) script.Expect {
	out := map[string]any{}
	for _, s := range seen {
		join(out, s.Expect)
	}
	return out
}

// join adds to what is expected: objects field by field, elements of lists to those of the
// same key.
func join(into, more map[string]any) {
	for key, value := range more {
		switch value := value.(type) {
		case map[string]any:
			inner, _ := into[key].(map[string]any)
			if inner == nil {
				inner = map[string]any{}
			}
			join(inner, value)
			into[key] = inner
		case []any:
			list, _ := into[key].([]any)
			for _, element := range value {
				list = joined(key, list, element)
			}
			into[key] = list
		default:
			into[key] = value
		}
	}
}

func joined(name string, list []any, element any) []any {
	object, is := element.(map[string]any)
	if !is {
		return append(list, element)
	}
	for _, there := range list {
		if old, is := there.(map[string]any); is && len(keyed[name]) > 0 && alike(name, object, old) && alike(name, old, object) {
			join(old, object)
			return list
		}
	}
	fresh := map[string]any{}
	join(fresh, object)
	return append(list, fresh)
}
