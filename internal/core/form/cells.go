package form

import (
	"errors"
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rule"
)

// cell is one question, or one column of one row, as it is worked out.
type cell struct {
	q        *question
	values   rule.Values
	into     rule.Record // where its answer goes for rules
	raw      Answer
	touched  bool
	result   FieldResult
	problems []Problem
	picks    []price.Pick // that count, of items
	preset   bool         // the answer came from the preset
}

func (c *cell) problem(code, sentence string) {
	c.problems = append(c.problems, Problem{Code: code, Sentence: sentence})
}

func fault(err error) Problem {
	return Problem{Code: refusal.Fault, Sentence: "This offering has a fault, and its owner has to mend it: " + err.Error() + "."}
}

// holds runs a rule; a missing rule has the given result, absence gives no.
func (c *cell) holds(r *rule.Rule, without bool) bool {
	if r == nil {
		return without
	}
	yes, err := r.Holds(c.values, false)
	if err != nil {
		c.problems = append(c.problems, fault(err))
	}
	return yes
}

// shown works out what comes before any answer: shown, required and locked.
func (c *cell) shown() bool {
	c.result.Key = c.q.Key
	c.result.Shown = (c.q.section == nil || c.holds(c.q.section.show, true)) && c.holds(c.q.show, true)
	if c.result.Shown {
		c.result.Required = c.holds(c.q.require, false)
		c.result.Locked = c.holds(c.q.lock, false) || c.q.Readers == ForStaff
	} else if c.q.Kind == Choices {
		c.into[c.q.Key] = rule.OfTexts(nil)
	}
	return c.result.Shown
}

// field works out a question that is no table.
func (e *evaluation) field(c *cell) {
	defer func() { c.result.Reason = c.reason() }()
	if !c.shown() || c.q.Kind == Statement {
		return
	}
	if c.q.Kind == Computed {
		e.compute(c)
		return
	}
	e.choices(c)
	raw := c.raw
	if c.result.Locked || !c.touched {
		raw = e.presetOf(c)
		c.preset = !raw.None()
	}
	p := e.read(c, raw)
	if c.preset && p.problem != "" {
		p, c.preset = parsed{}, false // a preset that is no good gives nothing
	}
	if p.problem != "" {
		c.problem(refusal.Invalid, p.problem)
	}
	c.result.Value, c.picks = p.answer, p.picks
	if p.value != nil {
		c.into[c.q.Key] = p.value
	} else if c.q.Kind == Choices {
		c.into[c.q.Key] = rule.OfTexts(nil)
	}
	e.needed(c)
}

// needed adds the problem of a required question without an answer. What is
// locked cannot be answered by the asker, and so never misses.
func (e *evaluation) needed(c *cell) {
	if c.result.Value.None() && c.result.Required && !c.result.Locked && len(c.problems) == 0 {
		c.problem(refusal.Required, c.q.says("an answer is needed."))
	}
}

func (e *evaluation) compute(c *cell) {
	c.result.Locked = true
	if c.q.compute == nil {
		return
	}
	value, err := c.q.compute.Eval(c.values)
	switch {
	case errors.Is(err, rule.ErrAbsent):
		return
	case err != nil:
		c.problems = append(c.problems, fault(err))
		return
	}
	as := *c.q
	as.Kind = c.q.Gives
	p := as.parse(worked(value), e.facts)
	if p.problem != "" {
		c.problem(refusal.Fault, p.problem)
		return
	}
	c.result.Value = p.answer
	if p.value != nil {
		c.into[c.q.Key] = p.value
	}
}

// worked gives a value of a rule as an answer; none when it can be no answer.
func worked(v rule.Value) Answer {
	switch x := rule.Plain(v).(type) {
	case string:
		return OfText(x)
	case bool:
		return OfYesNo(x)
	case float64:
		return OfNumber(x)
	case int64:
		return OfNumber(float64(x))
	case calendar.Date:
		return OfText(x.String())
	case money.Amount:
		return OfText(x.Decimal())
	case []string:
		return OfTexts(x)
	case time.Time:
		return OfText(x.Format(time.RFC3339))
	}
	return Answer{}
}

// presetOf gives what a preset fills in.
func (e *evaluation) presetOf(c *cell) Answer {
	if c.q.preset == nil {
		if c.q.Kind == Items {
			return picked(e.form.catalog.Defaults(c.result.Choices))
		}
		return Answer{}
	}
	value, err := c.q.preset.Eval(c.values)
	if errors.Is(err, rule.ErrAbsent) {
		return Answer{}
	}
	if err != nil {
		c.problems = append(c.problems, fault(err))
		return Answer{}
	}
	if c.q.Kind != Items {
		return worked(value)
	}
	keys, _ := rule.As[[]string](value)
	var picks []price.Pick
	for _, key := range keys {
		if item, ok := e.form.catalog.Item(key); ok {
			picks = append(picks, price.Pick{Item: key, Quantity: max(item.Min, 1)})
		}
	}
	return picked(picks)
}

func picked(picks []price.Pick) Answer {
	if len(picks) == 0 {
		return Answer{}
	}
	return OfPicks(picks)
}

// failing runs the checks of an answer that is there.
func failing(q *question, values rule.Values, row int) []Problem {
	var problems []Problem
	for _, c := range q.checks {
		good, err := c.rule.Holds(values, true)
		p := Problem{Code: refusal.Check, Sentence: c.message}
		if err != nil {
			p = fault(err)
		} else if good {
			continue
		}
		if row > 0 {
			p.Row, p.Column, p.Sentence = row, q.Key, fmt.Sprintf("Row %d: %s", row, p.Sentence)
		}
		problems = append(problems, p)
	}
	return problems
}
