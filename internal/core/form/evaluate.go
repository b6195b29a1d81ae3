package form

import (
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
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
		r.Problems = append(r.Problems, Problem{Code: refusal.Shares, Sentence: q.says("the shares must make 100 %.")})
	}
	if !r.Value.None() && q.Kind != Table {
		r.Problems = append(r.Problems, failing(q, e.values, 0)...)
	}
	e.results[i] = r
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
