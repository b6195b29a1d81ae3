package plan

import (
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

// Show gives better words for a field of a root, such as the label of a choice.
type Show func(root, field string) (string, bool)

// Tasks lists the tasks as the offering has them.
func (p *Plan) Tasks() []Task {
	out := make([]Task, len(p.tasks))
	for i := range p.tasks {
		out[i] = p.tasks[i].Task
	}
	return out
}

// Task finds a task of the plan by its key.
func (p *Plan) Task(key string) (Task, bool) {
	i, ok := p.index[key]
	if !ok {
		return Task{}, false
	}
	return p.tasks[i].Task, true
}

func (p *Plan) task(key string) *compiled { return &p.tasks[p.index[key]] }

// Wanted reports whether a task is done or skipped; a rule that hangs on a
// missing answer skips it.
func (p *Plan) Wanted(key string, values rule.Values) (bool, error) {
	t := p.task(key)
	if t.when == nil {
		return true, nil
	}
	return t.when.Holds(values, false)
}

// Foreseen reports whether a task will be done as far as one can tell before
// anything came out of other tasks: what hangs on that counts as wanted.
func (p *Plan) Foreseen(key string, values rule.Values) bool {
	t := p.task(key)
	if t.when == nil || len(t.when.Reads("outputs")) > 0 || len(t.when.Pools()) > 0 && values.Pools == nil {
		return true
	}
	wanted, err := t.when.Holds(values, false)
	return err != nil || wanted
}

// Routed gives the team of a task, and the login of the member who gets it, if
// any: the first route that fits, else its own team.
func (p *Plan) Routed(key string, values rule.Values) (team, login string) {
	t := p.task(key)
	for i, r := range t.routes {
		if r == nil {
			continue
		}
		if fits, err := r.Holds(values, false); err == nil && fits {
			return t.Routes[i].Team, t.Routes[i].Person
		}
	}
	return t.Team, ""
}

// Asks are the inputs of an action that staff type who start it.
func (p *Plan) Asks(key string) []Field { return p.task(key).asks }

// Instructions of a task with its placeholders filled in.
func (p *Plan) Instructions(key string, values rule.Values, show Show) (string, error) {
	return p.task(key).instructions.Render(values, show)
}

// UndoWords say what is to be done by hand to take a task back.
func (p *Plan) UndoWords(key string, values rule.Values, show Show) (string, error) {
	return p.task(key).undoText.Render(values, show)
}

// Message is the subject and text of a message task.
func (p *Plan) Message(key string, values rule.Values, show Show) (subject, text string, err error) {
	t := p.task(key)
	if subject, err = t.subject.Render(values, show); err != nil {
		return "", "", err
	}
	text, err = t.words.Render(values, show)
	return subject, text, err
}

// Inputs of the action of a task with its placeholders filled in.
func (p *Plan) Inputs(key string, values rule.Values, show Show) (map[string]string, error) {
	return rendered(p.task(key).inputs, values, show)
}

// UndoInputs are those of the action that takes a task back.
func (p *Plan) UndoInputs(key string, values rule.Values, show Show) (map[string]string, error) {
	return rendered(p.task(key).undoInputs, values, show)
}

func rendered(texts map[string]*rule.Placeholder, values rule.Values, show Show) (map[string]string, error) {
	out := map[string]string{}
	for name, text := range texts {
		value, err := text.Render(values, show)
		if err != nil {
			return nil, err
		}
		out[name] = value
	}
	return out, nil
}

// Delay is how long to wait after the n-th failed try; false when it is stuck
// then. The usual delays are spread by up to a quarter, as jitter from 0 to 1
// says; those that a task sets hold exactly (rules.md 6).
func (p *Plan) Delay(key string, failed int, jitter float64) (time.Duration, bool) {
	if tries := p.task(key).tries; tries != nil {
		if failed > len(tries) {
			return 0, false
		}
		return tries[failed-1], true
	}
	if failed > len(usualTries) {
		return 0, false
	}
	delay := usualTries[failed-1]
	return delay + time.Duration(jitter*float64(delay)/4), true
}

// Effort is the working time a task takes: as it says, or the usual one of
// what people do.
func (p *Plan) Effort(key string) calendar.Length {
	t := p.task(key)
	if t.effort.IsZero() && t.Kind == Manual {
		return calendar.Length{Open: UsualEffort}
	}
	return t.effort
}

// Outputs lists what comes out of a task.
func (p *Plan) Outputs(key string) []Output { return p.task(key).outputs }

// Currency is that of outputs that are money; ISO 4217.
func (p *Plan) Currency() string { return p.currency }

// Rescue is when a task that got stuck at an instant must go on, and when who has
// it is reminded: in the time for the rescue, else in that of the task, counted
// from then. False when its due time stays as it was.
func (p *Plan) Rescue(key string, stuck time.Time, work *calendar.Calendar) (time.Time, []time.Time, bool) {
	t := p.task(key)
	within := t.rescue
	if within.IsZero() && t.Due != nil && t.Due.Of == "" && t.Due.Moment.Task == "" {
		within = t.within
	}
	if within.IsZero() {
		return time.Time{}, nil, false
	}
	from, err := work.NextOpen(stuck)
	if err != nil {
		return time.Time{}, nil, false
	}
	at, err := work.AddLength(from, within)
	if err != nil {
		return time.Time{}, nil, false
	}
	at = at.Truncate(time.Millisecond)
	return at, t.reminders(at, work), true
}

// value reads an output; false for one that is empty or of another kind.
func (o Output) value(text, currency string) (rule.Value, bool) {
	switch o.Kind {
	case Money:
		a, err := money.Parse(text, currency)
		return rule.OfMoney(a), err == nil
	case Number:
		n, err := strconv.ParseFloat(text, 64)
		return rule.OfNumber(n), err == nil
	case Date:
		d, err := calendar.ParseDate(text)
		return rule.OfDate(d), err == nil
	}
	return rule.OfText(text), text != ""
}

// Check says what is wrong with a value of an output, in words; empty for a
// good one. Currency is that of the plan.
func (o Output) Check(text, currency string) string {
	text = strings.TrimSpace(text)
	if text == "" {
		if o.Free {
			return ""
		}
		return o.Name + " is needed."
	}
	if _, ok := o.value(text, currency); !ok {
		return o.Name + ": " + map[Type]string{Number: "write a number.", Date: "write a date such as 2027-03-12.", Money: "write a sum such as 12.50."}[o.Kind]
	}
	return ""
}

// Holding is what a task makes of a belonging.
type Holding struct {
	Does               Does
	Which              string // ID of what is changed or ended
	Kind, Name, Detail string
	Until              calendar.Date // zero for no end
}

// Holding works out what a task that is done makes, changes or ends; false
// when it does nothing of the kind.
func (p *Plan) Holding(key string, values rule.Values, show Show) (Holding, bool, error) {
	t := p.task(key)
	if t.Belonging == nil {
		return Holding{}, false, nil
	}
	h := Holding{Does: t.Belonging.Does, Kind: t.Belonging.Kind}
	for _, part := range []struct {
		text *rule.Placeholder
		show Show
		into *string
	}{{t.which, nil, &h.Which}, {t.named, show, &h.Name}, {t.detail, show, &h.Detail}} {
		text, err := part.text.Render(values, part.show)
		if err != nil {
			return h, true, err
		}
		*part.into = strings.TrimSpace(text)
	}
	if t.heldUntil != nil {
		value, err := t.heldUntil.Eval(values)
		if d, ok := rule.As[calendar.Date](value); ok && err == nil {
			h.Until = d
		}
	}
	return h, true, nil
}

// Released reports whether every forerunner of a task has ended.
func Released(after []string, state func(key string) State) bool {
	for _, key := range after {
		if !state(key).Ended() {
			return false
		}
	}
	return true
}
