package form

import (
	"fmt"

	"heptad/internal/core/refusal"
	"heptad/internal/core/rule"
)

// table works out a table question: its rows, each with rules of its own, and
// then what spans them.
func (e *evaluation) table(c *cell, r *QuestionResult) {
	defer func() { c.result.Reason = c.reason() }()
	c.into[c.q.Key] = rule.OfRecords(rowName(c.q.Key), nil)
	if !c.shown() {
		return
	}
	rows, ok := c.raw.Rows()
	switch {
	case c.result.Locked:
		rows = nil
	case !ok:
		c.problem(refusal.Invalid, c.q.says("a list of rows is needed."))
		return
	case len(rows) > MaxRows:
		c.problem(refusal.Invalid, c.q.says(fmt.Sprintf("at most %d rows; there are %d.", MaxRows, len(rows))))
		return
	}
	kept := []Answers{}
	records := make([]rule.Record, len(rows))
	for n, raw := range rows {
		records[n] = rule.Record{}
		cells, plain := e.row(c, records[n], raw, n+1)
		r.Rows = append(r.Rows, cells)
		kept = append(kept, plain)
	}
	c.into[c.q.Key] = rule.OfRecords(rowName(c.q.Key), records)
	if len(kept) > 0 {
		c.result.Value = OfRows(kept)
		if problem := c.q.counted(len(kept), "rows"); problem != "" {
			c.problem(refusal.Invalid, problem)
		}
	}
	e.needed(c)
	e.checkTable(c, records)
}

// row works out one row, in the order its columns need.
func (e *evaluation) row(c *cell, record rule.Record, raw Answers, number int) ([]FieldResult, Answers) {
	cells := make([]FieldResult, len(c.q.columns))
	plain := Answers{}
	values := c.values.With("row", record)
	for _, j := range c.q.order {
		column := &c.q.columns[j]
		answer, touched := raw[column.Key]
		inner := cell{q: column, values: values, into: record, raw: answer, touched: touched}
		e.field(&inner)
		cells[j] = inner.result
		if !inner.result.Value.None() {
			plain[column.Key] = inner.result.Value
		}
		for _, p := range inner.problems {
			c.problems = append(c.problems, Problem{p.Code, fmt.Sprintf("Row %d: %s", number, p.Sentence), number, column.Key})
		}
	}
	return cells, plain
}

// checkTable runs the checks of every row, and then those of the whole.
func (e *evaluation) checkTable(c *cell, records []rule.Record) {
	for n, record := range records {
		values := c.values.With("row", record)
		for j := range c.q.columns {
			if record[c.q.columns[j].Key] != nil {
				c.problems = append(c.problems, failing(&c.q.columns[j], values, n+1)...)
			}
		}
	}
	if !c.result.Value.None() {
		c.problems = append(c.problems, failing(c.q, c.values, 0)...)
	}
}
