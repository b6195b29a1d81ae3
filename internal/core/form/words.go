package form

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/money"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// reason says in words why a question is as it is, as far as rules say so.
func (c *cell) reason() string {
	w := c.q.when
	var reasons []string
	add := func(rule *rule.Rule, format, words string) {
		if rule != nil && words != "true" {
			reasons = append(reasons, fmt.Sprintf(format, words))
		}
	}
	if s := c.q.section; s != nil && s.show != nil && !c.result.Shown {
		add(s.show, "Its section is shown when %s.", s.when)
	}
	if !c.result.Shown {
		add(c.q.show, "Hidden until %s.", w.show)
		return strings.Join(reasons, " ")
	}
	switch {
	case c.result.Required && c.q.show != nil && w.show == w.require:
		add(c.q.show, "Shown and needed because %s.", w.show)
	case c.result.Required:
		add(c.q.show, "Shown because %s.", w.show)
		add(c.q.require, "Needed because %s.", w.require)
	default:
		add(c.q.show, "Shown because %s.", w.show)
	}
	if c.result.Locked && c.q.Kind != Computed {
		add(c.q.lock, "Set by the offering because %s.", w.lock)
	}
	if c.preset && !c.result.Locked && c.q.preset != nil {
		reasons = append(reasons, "Filled in from what is known; you can change it.")
	}
	if c.q.Kind == Computed {
		reasons = append(reasons, "Worked out: "+c.q.Compute+".")
	}
	if c.result.Narrowed {
		add(c.q.offer, "Offered is what fits: %s.", w.offer)
	}
	return strings.Join(reasons, " ")
}

// inWords gives a rule as a sentence when it reads as one, else as it is. row
// is the table whose rows it reads, if any.
func (f *Form) inWords(source string, row *question) string {
	s, ok := rule.ParseSentence(source)
	if !ok {
		return strings.TrimSpace(source)
	}
	s = s.Typed(func(path string) string { return f.comparedAs(path, row) })
	return s.Words(func(path, value string) (string, string) { return f.words(path, value, row) })
}

// comparedAs says as what a rule compares a fact.
func (f *Form) comparedAs(path string, row *question) string {
	root, field, dotted := strings.Cut(path, ".")
	q := question{}
	if i, ok := f.index[path]; ok {
		q = f.questions[i]
	}
	if row != nil && dotted && root == "row" {
		for i := range row.columns {
			if row.columns[i].Key == field {
				q = row.columns[i]
			}
		}
	}
	return ComparedAs(path, q.Question)
}

// ComparedAs says as what a rule compares an answer to a question, or another
// fact: text, number, money, date or yesNo.
func ComparedAs(path string, q Question) string {
	kind := q.AnswerKind()
	switch {
	case strings.HasPrefix(path, "cost."):
		return "money"
	case kind == Number, kind == Money, kind == Date, kind == YesNo:
		return string(kind)
	}
	return "text"
}

// people and sums in words, for reasons.
var rootWords = map[string]string{"asker": "the asker's ", "beneficiary": "the beneficiary's ", "choice": "its ", "cost": "the cost "}

var fieldWords = map[string]string{
	"costCentre": "cost centre", "firstYear": "in the first year", "monthly": "a month", "yearly": "a year", "term": "over the term", "key": "choice",
}

// FactWords say what a path reads that is not of an answer: "the cost a month" of
// cost.monthly.
func FactWords(path string) string {
	root, field, dotted := strings.Cut(path, ".")
	if !dotted {
		return path
	}
	if w, ok := fieldWords[field]; ok {
		field = w
	}
	return rootWords[root] + field
}

// words gives the label of a question, or of another fact, and of one of its
// values.
func (f *Form) words(path, value string, row *question) (string, string) {
	root, field, dotted := strings.Cut(path, ".")
	switch {
	case dotted && root == "row" && row != nil:
		for i := range row.columns {
			if row.columns[i].Key == field {
				return row.columns[i].Label, row.columns[i].labels[value]
			}
		}
	case dotted:
		return FactWords(path), value
	}
	i, ok := f.index[path]
	if !ok {
		return path, value
	}
	return f.questions[i].Label, f.questions[i].labels[value]
}

// Question finds a question by its key.
func (f *Form) Question(key string) (Question, bool) {
	i, ok := f.index[key]
	if !ok {
		return Question{}, false
	}
	return f.questions[i].Question, true
}

// PicksMore reports whether an answer to an item question holds anything that
// another does not.
func (f *Form) PicksMore(key string, before, after Answer) bool {
	q, ok := f.Question(key)
	if !ok || q.Kind != Items {
		return false
	}
	old, _ := before.Picks()
	next, _ := after.Picks()
	return f.catalog.More(old, next)
}

// Dearer reports whether what it really cost exceeds what was asked for it by more
// than the offering tolerates.
func (f *Form) Dearer(agreed, real money.Amount) bool { return f.catalog.Dearer(agreed, real) }

// CostCentres is the key of the question that shares the price; empty for none.
func (f *Form) CostCentres() string { return f.catalog.CostCentres() }

// Asks reports whether any question, or any column, is of a kind.
func (f *Form) Asks(kind Kind) bool { return asks(f.questions, kind) }

func asks(questions []question, kind Kind) bool {
	return slices.ContainsFunc(questions, func(q question) bool { return q.Kind == kind || asks(q.columns, kind) })
}

// FileQuestion finds a file question, or the file column of a table written as
// table.column.
func (f *Form) FileQuestion(key string) (Question, bool) {
	table, column, inTable := strings.Cut(key, ".")
	q, ok := f.Question(table)
	if inTable {
		i := slices.IndexFunc(q.Columns, func(c Question) bool { return c.Key == column })
		if i < 0 {
			return Question{}, false
		}
		q = q.Columns[i]
	}
	return q, ok && q.Kind == File
}

// Words gives a rule of the offering as a sentence, when it reads as one.
func (f *Form) Words(source string) string { return f.inWords(source, nil) }

// Sent gives what rules read once a request is sent: the answers as they were
// kept and their price. No rule of the form runs again.
func (f *Form) Sent(answers Answers, paid price.Price, values rule.Values, facts Facts) rule.Values {
	facts.Kept, facts.Files = true, nil
	given := rule.Record{}
	for i := range f.questions {
		q := &f.questions[i]
		if value := f.sent(q, answers[q.Key], facts); value != nil {
			given[q.Key] = value
		}
	}
	return values.With("answers", given).With("cost", costRecord(paid))
}

func (f *Form) sent(q *question, answer Answer, facts Facts) rule.Value {
	switch q.Kind {
	case Computed:
		as := *q
		as.Kind = q.Gives
		return as.parse(answer, facts).value
	case Items:
		picks, _ := answer.Picks()
		if len(picks) == 0 {
			return nil
		}
		records := make([]rule.Record, len(picks))
		for i, p := range picks {
			records[i] = pickRecord(p)
		}
		return rule.OfRecords("pick", records)
	case Table:
		rows, _ := answer.Rows()
		records := make([]rule.Record, len(rows))
		for n, row := range rows {
			records[n] = rule.Record{}
			for i := range q.columns {
				if value := f.sent(&q.columns[i], row[q.columns[i].Key], facts); value != nil {
					records[n][q.columns[i].Key] = value
				}
			}
		}
		return rule.OfRecords(rowName(q.Key), records)
	}
	value := q.parse(answer, facts).value
	if value == nil && q.Kind == Choices {
		return rule.OfTexts(nil)
	}
	return value
}
