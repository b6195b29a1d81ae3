package form

import (
	"maps"
	"slices"

	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// choices works out what can be chosen.
func (e *evaluation) choices(c *cell) {
	q := c.q
	switch q.Kind {
	case Choice, Choices:
		if q.offer == nil {
			c.result.Choices = q.offered
			return
		}
		c.result.Narrowed, c.result.Choices = true, []string{}
		for _, o := range q.Choices {
			record := rule.Record{"key": rule.OfText(o.Key), "label": rule.OfText(o.Label), "group": rule.OfText(o.Group)}
			if e.offers(c, record) {
				c.result.Choices = append(c.result.Choices, o.Key)
			}
		}
	case Items:
		e.itemChoices(c)
	case Belonging:
		c.result.Narrowed, c.result.Choices = true, []string{}
		for _, b := range e.facts.Belongings {
			if e.offers(c, belongingRecord(b)) {
				c.result.Choices = append(c.result.Choices, b.ID)
			}
		}
	}
}

func (e *evaluation) itemChoices(c *cell) {
	c.result.Choices = []string{}
	for _, key := range c.q.offered {
		item, _ := e.form.catalog.Item(key)
		offered, err := e.form.catalog.Offered(key, c.values)
		if err != nil {
			c.problems = append(c.problems, fault(err))
		}
		if offered && e.offers(c, rule.Record{"key": rule.OfText(key), "name": rule.OfText(item.Name), "group": rule.OfText(item.Group)}) {
			c.result.Choices = append(c.result.Choices, key)
		}
	}
	c.result.Narrowed = len(c.result.Choices) < len(c.q.offered)
}

// offers reports whether a choice is offered; a rule that hangs on something
// absent does not narrow.
func (e *evaluation) offers(c *cell, choice rule.Record) bool {
	if c.q.offer == nil {
		return true
	}
	yes, err := c.q.offer.Holds(c.values.With("choice", c.q.whole(choice)), true)
	if err != nil && len(c.problems) == 0 {
		c.problems = append(c.problems, fault(err))
	}
	return yes
}

// Offers reports whether a person, team or place can be the answer to a
// question, for lists to look them up in.
func (f *Form) Offers(key string, values rule.Values, choice rule.Record) bool {
	i, ok := f.index[key]
	if !ok || f.questions[i].offer == nil {
		return ok
	}
	yes, err := f.questions[i].offer.Holds(values.With("choice", f.questions[i].whole(choice)), true)
	return yes && err == nil
}

// whole is a choice with empty texts for what is not known of it: that
// somebody's department is unknown must not offer them to a rule that wants
// one.
func (q *question) whole(choice rule.Record) rule.Record {
	out := maps.Clone(choice)
	for name, t := range q.Kind.info().choice {
		if out[name] == nil && t == rule.Text {
			out[name] = rule.OfText("")
		}
	}
	return out
}

// read takes an answer in, when it is a good one and still offered.
func (e *evaluation) read(c *cell, raw Answer) parsed {
	if c.q.Kind == Items {
		return e.readPicks(c, raw)
	}
	p := c.q.parse(raw, e.facts)
	if p.answer.None() || e.facts.Kept {
		return p
	}
	if problem := c.q.beyond(p, c.values.Today); problem != "" {
		return parsed{problem: problem}
	}
	gone := false
	one, _ := p.answer.Text()
	switch c.q.Kind {
	case Choice, Belonging:
		gone = c.result.Narrowed && !slices.Contains(c.result.Choices, one)
	case Person, Team, Location, Centre:
		gone = c.q.offer != nil && !e.offers(c, e.known(c.q.Kind, one))
	case Choices:
		several, _ := p.answer.Texts()
		gone = c.result.Narrowed && slices.ContainsFunc(several, func(key string) bool { return !slices.Contains(c.result.Choices, key) })
	}
	if gone {
		return c.q.bad("this choice is not offered, or no longer.")
	}
	return p
}

// known is a person, team, cost centre or place as the rule that offers choices reads it.
func (e *evaluation) known(kind Kind, key string) rule.Record {
	switch kind {
	case Person:
		p, _ := e.facts.Company.ByLogin(key)
		return rule.OfPerson(p, e.facts.Company.Managers(p.ID))
	case Team:
		return TeamChoice(people.Team{Key: key, Name: e.facts.Company.TeamName(key)})
	}
	if kind == Centre {
		return CentreChoice(key, e.facts.Company.CentreName(key))
	}
	return LocationChoice(key)
}

// CentreChoice is a cost centre as the rule that offers choices reads it.
func CentreChoice(key, name string) rule.Record {
	return rule.Record{"key": rule.OfText(key), "name": rule.OfText(name)}
}

// TeamChoice is a team as the rule that offers choices reads it.
func TeamChoice(t people.Team) rule.Record {
	return rule.Record{"key": rule.OfText(t.Key), "name": rule.OfText(t.Name)}
}

// LocationChoice is a place as the rule that offers choices reads it.
func LocationChoice(name string) rule.Record { return rule.Record{"name": rule.OfText(name)} }

func (e *evaluation) readPicks(c *cell, raw Answer) parsed {
	if raw.None() {
		return parsed{}
	}
	picks, ok := raw.Picks()
	if !ok {
		return c.q.bad("a list of items with quantities is needed.")
	}
	records := make([]rule.Record, len(picks))
	for i, p := range picks {
		if n, counted, err := e.form.catalog.Counted(p.Item, c.values); counted && !e.facts.Kept {
			if err != nil {
				c.problems = append(c.problems, fault(err))
			}
			if n == 0 {
				return c.q.bad(e.form.catalog.Name(p.Item) + " is counted from other answers, which count none yet.")
			}
			p.Quantity, picks[i].Quantity = n, n
		}
		if !e.facts.Kept && !slices.Contains(c.result.Choices, p.Item) || slices.ContainsFunc(picks[:i], p.Same) {
			return c.q.bad("one of the items is not offered here, or no longer.")
		}
		if !e.facts.Kept {
			problem, err := e.form.catalog.Check(p, c.values)
			if err != nil {
				c.problems = append(c.problems, fault(err))
			} else if problem != "" {
				return c.q.bad(problem)
			}
		}
		records[i] = pickRecord(p)
	}
	if len(picks) == 0 {
		return parsed{}
	}
	if problem := c.q.counted(len(picks), "items"); problem != "" {
		return parsed{problem: problem}
	}
	return parsed{value: rule.OfRecords("pick", records), answer: OfPicks(picks), picks: picks}
}

func pickRecord(p price.Pick) rule.Record {
	var options, extras []string
	for group, key := range p.Options {
		if key != "" {
			options = append(options, group+"/"+key)
		}
	}
	slices.Sort(options)
	for _, x := range p.Extras {
		extras = append(extras, x.Extra)
	}
	return rule.Record{"item": rule.OfText(p.Item), "quantity": rule.OfCount(p.Quantity), "options": rule.OfTexts(options), "extras": rule.OfTexts(extras)}
}
