package lines

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/plan"
)

// taskLine is a task as it is read.
type taskLine struct {
	plan.Task
	ordered bool     // it says after what it begins
	said    []string // how its pieces were understood
	sees    string
}

// task reads "Take photo, Keys & Badges, 2h, after Check record, sees Port". It
// follows the task before it and is the work of the home team, unless it says
// otherwise.
func (r *reader) task(line string) {
	rest, when, words := r.when(line)
	parts := pieces(rest)
	if len(parts) == 0 {
		r.wrong(line, "A task needs a name.")
		return
	}
	service, _ := r.Company.Service(r.Document.Purpose.Service)
	t := taskLine{Task: plan.Task{Name: r.short(parts[0], 200), Kind: plan.Manual, When: when, Team: service.Home}, sees: "sees no answer"}
	for _, part := range parts[1:] {
		r.ofTask(&t, part)
	}
	if n := len(r.Document.Plan); !t.ordered && n > 0 {
		r.begins(&t, r.Document.Plan[n-1])
	}
	t.Key = key(t.Name, texts(r.Document.Plan, func(t plan.Task) string { return t.Key }), "task")
	who := "no team yet"
	if t.Team != "" {
		who = r.Company.TeamName(t.Team)
	}
	if t.Kind == plan.Automatic {
		who, t.sees = "By itself, "+who+" helps when it is stuck", ""
	}
	r.line.Task, r.line.Words = &t.Task, sentence(who, sentence(t.said...), t.sees, words)
}

// begins lets a task begin after others; after none of them at once.
func (r *reader) begins(t *taskLine, after ...plan.Task) {
	t.ordered, t.After = true, texts(after, func(t plan.Task) string { return t.Key })
	names := texts(after, func(t plan.Task) string { return t.Name })
	t.said = append(t.said, cmp.Or(said(len(names) > 0, "after "+strings.Join(names, " and ")), "begins at once"))
}

// ofTask reads one piece of a task.
func (r *reader) ofTask(t *taskLine, part string) {
	if names, ok := after(part, "after"); ok {
		r.begins(t, each(names, r.step, func(name string) {
			r.wrong(name, fmt.Sprintf("No task goes by %q. Write it on a line before.", name))
		})...)
	} else if strings.EqualFold(part, "at once") {
		r.begins(t)
	} else if names, ok := after(part, "sees"); ok {
		t.sees = "sees " + r.slice(&t.Task, names)
	} else if length, ok := after(part, "due within", "due"); ok {
		if _, err := calendar.ParseLength(length); err != nil {
			r.wrong(part, sentenceOf(err))
		}
		t.Due, t.said = &plan.Due{Within: length}, append(t.said, "due within "+length)
	} else if name, ok := after(part, "each of"); ok {
		q, known := r.questionOf(name)
		if !known || !slices.Contains([]form.Kind{form.Items, form.Table, form.Choices}, q.Kind) {
			r.wrong(name, fmt.Sprintf("%q is no question of several things.", name))
		}
		t.Each, t.said = q.Key, append(t.said, "one for each of "+q.Label)
	} else if action, ok := after(part, "by"); ok {
		t.said = append(t.said, r.automatic(&t.Task, action))
	} else if _, err := calendar.ParseLength(part); err == nil {
		t.Effort, t.said = part, append(t.said, part+" of work")
	} else if team, ok := r.team(part); ok {
		t.Team = team.Key
	} else {
		r.wrong(part, fmt.Sprintf("%q is neither a team, nor a working time such as 2h, nor “after” a task, “sees” answers, “due 2d”, “at once” or “by” an action.", part))
	}
}

func (r *reader) step(name string) (plan.Task, bool) {
	return named(r.Document.Plan, name, func(t plan.Task) string { return t.Name })
}

// slice sets what the team sees: answers by name, or all that are not private.
func (r *reader) slice(t *plan.Task, names string) string {
	t.Slice = nil
	if strings.EqualFold(names, "all") {
		for _, q := range r.Document.Questions {
			if q.Kind != form.Statement && q.Readers != form.Private {
				t.Slice = append(t.Slice, q.Key)
			}
		}
		return "all answers"
	}
	slice := each(names, r.questionOf, func(name string) {
		r.wrong(name, fmt.Sprintf("No question goes by %q.", name))
	})
	t.Slice = texts(slice, func(q form.Question) string { return q.Key })
	return strings.Join(texts(slice, func(q form.Question) string { return q.Label }), " and ")
}

// automatic finds an action of a connector: "by Badge system: Write a badge".
func (r *reader) automatic(t *plan.Task, text string) string {
	for _, c := range r.Connectors {
		for _, a := range c.Actions {
			if same(c.Name+": "+a.Name, text) || same(a.Name, text) {
				t.Kind, t.Action = plan.Automatic, &plan.Action{Connector: c.Key, Do: a.Key, Inputs: map[string]string{}}
				if a.Undo != "" {
					t.Undo = &plan.Undo{Action: &plan.Action{Connector: c.Key, Do: a.Undo, Inputs: map[string]string{}}}
				}
				return c.Name + ": " + a.Name
			}
		}
	}
	r.wrong(text, fmt.Sprintf("No system does %q. Write it as “by Badge system: Write a badge”.", text))
	return ""
}
