package form

import (
	"fmt"
	"strings"

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
	rows, ok := rowsOf(c.raw)
	switch {
	case c.result.Locked:
		rows = nil
	case !ok:
		c.problem("invalid", c.q.says("a list of rows is needed."))
		return
	case len(rows) > MaxRows:
		c.problem("invalid", c.q.says(fmt.Sprintf("at most %d rows; there are %d.", MaxRows, len(rows))))
		return
	}
	kept := []map[string]any{}
	records := make([]rule.Record, len(rows))
	for n, raw := range rows {
		records[n] = rule.Record{}
		cells, plain := e.row(c, records[n], raw, n+1)
		r.Rows = append(r.Rows, cells)
		kept = append(kept, plain)
	}
	c.into[c.q.Key] = rule.OfRecords(rowName(c.q.Key), records)
	if len(kept) > 0 {
		c.result.Value = kept
		if problem := c.q.counted(len(kept), "rows"); problem != "" {
			c.problem("invalid", problem)
		}
	}
	e.needed(c)
	e.checkTable(c, records)
}

// row works out one row, in the order its columns need.
func (e *evaluation) row(c *cell, record rule.Record, raw map[string]any, number int) ([]FieldResult, map[string]any) {
	cells := make([]FieldResult, len(c.q.columns))
	plain := map[string]any{}
	values := c.values.With("row", record)
	for _, j := range c.q.order {
		column := &c.q.columns[j]
		answer, touched := raw[column.Key]
		inner := cell{q: column, values: values, into: record, raw: answer, touched: touched}
		e.field(&inner)
		cells[j] = inner.result
		if inner.result.Value != nil {
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
	if c.result.Value != nil {
		c.problems = append(c.problems, failing(c.q, c.values, 0)...)
	}
}

// Rows are those of the answer to a table, however it came: from JSON or just
// worked out.
func (a Answers) Rows(table string) []map[string]any {
	rows, _ := rowsOf(a[table])
	return rows
}

// Texts are the texts in an answer: the one of a question, the keys of several
// choices, or those in the column of a table, given as table.column.
func (a Answers) Texts(key string) []string {
	if table, column, inTable := strings.Cut(key, "."); inTable {
		var all []string
		for _, row := range a.Rows(table) {
			all = append(all, Answers(row).Texts(column)...)
		}
		return all
	}
	if one, ok := a[key].(string); ok {
		return []string{one}
	}
	list, _ := texts(a[key])
	return list
}

// rowsOf reads the rows of a table, from JSON or from Go; nothing is no rows.
func rowsOf(raw any) ([]map[string]any, bool) {
	switch list := raw.(type) {
	case nil:
		return nil, true
	case []map[string]any:
		return list, true
	case []any:
		rows := make([]map[string]any, len(list))
		for i, element := range list {
			row, ok := element.(map[string]any)
			if !ok {
				return nil, false
			}
			rows[i] = row
		}
		return rows, true
	}
	return nil, false
}
