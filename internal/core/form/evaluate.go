package form

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Problem is something wrong with one answer.
type Problem struct {
	Code     string `json:"code"`
	Sentence string `json:"sentence"`
	Row      int    `json:"row,omitempty" doc:"Of a table, from 1"`
	Column   string `json:"column,omitempty" doc:"Key of the column of a table"`
}

// FieldResult is what evaluation says of one question, or of one cell of a
// table.
type FieldResult struct {
	Key      string   `json:"key"`
	Shown    bool     `json:"shown"`
	Required bool     `json:"required"`
	Locked   bool     `json:"locked"`
	Value    Answer   `json:"value" doc:"The answer that counts; null when there is none"`
	Choices  []string `json:"choices,omitempty" nullable:"false" doc:"Keys of what can be chosen, of kinds with a list"`
	Narrowed bool     `json:"-"` // a rule leaves some choices out
	Reason   string   `json:"reason,omitempty" doc:"Why it is as it is, when rules say so"`
}

// QuestionResult is what evaluation says of one question.
type QuestionResult struct {
	FieldResult
	Problems []Problem       `json:"problems" nullable:"false"`
	Rows     [][]FieldResult `json:"rows,omitempty" nullable:"false" doc:"Of a table: its cells"`
	Present  string          `json:"present,omitempty" doc:"How it is now, beside what is wanted"`

	private bool
}

// Result is what evaluation says of a whole form.
type Result struct {
	Questions []QuestionResult `json:"questions" nullable:"false"`
	Complete  bool             `json:"complete"`
	Missing   []string         `json:"missing" nullable:"false" doc:"Keys of required questions without an answer, in order"`
	Price     price.Price      `json:"price"`
	Values    rule.Values      `json:"-"`
}

// Evaluate works out the form. values holds the asker, the beneficiary, now
// and today; answers to hidden, locked or unknown questions are ignored.
func (f *Form) Evaluate(answers Answers, values rule.Values, facts Facts) Result {
	given := rule.Record{}
	values = values.With("answers", given)
	values.Budget = rule.NewBudget()
	e := evaluation{form: f, given: given, facts: facts, picks: map[int][]price.Pick{}, values: values, results: make([]QuestionResult, len(f.questions))}
	e.refreshCost()
	for _, i := range f.order {
		q := &f.questions[i]
		raw, touched := answers[q.Key]
		e.question(i, q, raw, touched)
	}
	result := Result{Questions: e.results, Missing: []string{}, Complete: true, Values: e.values, Price: e.price()}
	if e.fault != nil && len(f.hasItems) > 0 {
		first := &e.results[f.hasItems[0]]
		first.Problems = append(first.Problems, fault(e.fault))
	}
	e.presents()
	for _, q := range e.results {
		for _, p := range q.Problems {
			result.Complete = false
			if p.Code == "required" && !slices.Contains(result.Missing, q.Key) {
				result.Missing = append(result.Missing, q.Key)
			}
		}
	}
	return result
}

// presents says of each shown question how it is now, where that is known.
func (e *evaluation) presents() {
	for i := range e.form.questions {
		q := &e.form.questions[i]
		if q.Present == "" || q.present == nil || !e.results[i].Shown {
			continue
		}
		if text, err := q.present.Render(e.values, nil); err == nil && !strings.Contains(text, rule.Missing) {
			e.results[i].Present = text
		}
	}
}

// Presents gives how it is now of the questions that say so, by key.
func (r Result) Presents() map[string]string {
	presents := map[string]string{}
	for _, q := range r.Questions {
		if q.Present != "" && !q.private {
			presents[q.Key] = q.Present
		}
	}
	return presents
}

// Kept gives the answers that count, as they leave on sending.
func (r Result) Kept() Answers {
	kept := Answers{}
	for _, q := range r.Questions {
		if !q.Value.None() {
			kept[q.Key] = q.Value
		}
	}
	return kept
}

type evaluation struct {
	form    *Form
	facts   Facts
	given   rule.Record // answers that count, as rules read them
	picks   map[int][]price.Pick
	values  rule.Values
	results []QuestionResult
	fault   error // of a price
}

// question works out question i.
func (e *evaluation) question(i int, q *question, raw Answer, touched bool) {
	r := QuestionResult{Problems: []Problem{}, private: q.Readers == Private}
	cell := cell{q: q, values: e.values, into: e.given, raw: raw, touched: touched}
	if q.Kind == Table {
		e.table(&cell, &r)
	} else {
		e.field(&cell)
	}
	r.FieldResult = cell.result
	r.Problems = append(r.Problems, cell.problems...)
	e.picks[i] = cell.picks
	if q.Kind == Items || slices.Contains(e.form.catalog.WholeReads(), q.Key) {
		e.refreshCost()
	}
	if q.Key == e.form.catalog.CostCentres() && !r.Value.None() && !e.form.catalog.SharesMake100(e.values) {
		r.Problems = append(r.Problems, Problem{Code: "shares", Sentence: q.says("the shares must make 100 %.")})
	}
	if !r.Value.None() && q.Kind != Table {
		r.Problems = append(r.Problems, failing(q, e.values, 0)...)
	}
	e.results[i] = r
}

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
	return Problem{Code: "fault", Sentence: "This offering has a fault, and its owner has to mend it: " + err.Error() + "."}
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
		c.problem("invalid", p.problem)
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
		c.problem("required", c.q.says("an answer is needed."))
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
		c.problem("fault", p.problem)
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

// failing runs the checks of an answer that is there.
func failing(q *question, values rule.Values, row int) []Problem {
	var problems []Problem
	for _, c := range q.checks {
		good, err := c.rule.Holds(values, true)
		p := Problem{Code: "check", Sentence: c.message}
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

// refreshCost sets the cost as far as it is known; the order of evaluation
// sees to it that all picks are known to a rule that reads it.
func (e *evaluation) refreshCost() { e.values.Roots["cost"] = costRecord(e.price()) }

// costRecord is a price as rules read it.
func costRecord(p price.Price) rule.Record {
	shares := []rule.Record{}
	for _, s := range p.Shares {
		if s.Payer != price.OfCostCentre {
			continue
		}
		share := rule.Record{"centre": rule.OfText(s.Name), "once": rule.OfMoney(s.Once), "monthly": rule.OfMoney(s.Monthly), "yearly": rule.OfMoney(s.Yearly)}
		if percent, err := strconv.ParseFloat(s.Percent, 64); err == nil {
			share["percent"] = rule.OfNumber(percent)
		}
		shares = append(shares, share)
	}
	cost := rule.Record{
		"once": rule.OfMoney(p.Once), "monthly": rule.OfMoney(p.Monthly),
		"yearly": rule.OfMoney(p.Yearly), "firstYear": rule.OfMoney(p.FirstYear), "shares": rule.OfRecords("share", shares),
	}
	if p.Term != nil {
		cost["term"] = rule.OfMoney(*p.Term)
	}
	return cost
}

func (e *evaluation) price() price.Price {
	var all []price.Pick
	for _, i := range e.form.hasItems {
		all = append(all, e.picks[i]...)
	}
	p, err := e.form.catalog.Of(all, e.values)
	e.fault = err
	return p
}
