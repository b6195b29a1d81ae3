package measure

import (
	"math"
	"strconv"
	"strings"
)

// Safe is a text as a cell of a sheet that nobody takes for a formula: what could begin one
// has an apostrophe before it.
func Safe(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r\n", rune(text[0])) {
		return "'" + text
	}
	return text
}

// Plainly writes a number of a figure for a sheet, in its unit: a share from 0 to 1, lengths
// in hours, money in minor units; empty where there is none, or too little to show.
func (f *Figure) Plainly(n *float64) string {
	if n == nil {
		return ""
	}
	value := *n
	if f.Unit == Open || f.Unit == Clock {
		value /= 3600
	}
	return strconv.FormatFloat(math.Round(value*1e6)/1e6, 'f', -1, 64)
}

// Rows writes a series as the lines of a sheet: its head, a line for each cell, and the whole.
func (s Series) Rows(sides []Side, name func(side Side, key string) string) [][]string {
	f, known := FigureOf(s.Figure)
	if !known {
		return nil
	}
	var head []string
	for _, side := range sides {
		head = append(head, side.Name())
	}
	rows := [][]string{append(head, f.Name, "unit", "counted", "of them", "mean", "80 %", "95 %", "too few to show")}
	add := func(v Value, names ...string) {
		few, part := "", ""
		if v.Few {
			few = "yes"
		}
		if f.Unit == Share {
			part = strconv.FormatInt(v.Part, 10)
		}
		rows = append(rows, append(names, f.Plainly(v.Number), f.unitOfSheet(), strconv.FormatInt(v.Records, 10), part, f.Plainly(v.Mean), f.Plainly(v.P80), f.Plainly(v.P95), few))
	}
	label := func(i int, key string) string { return Safe(name(sides[i], key)) }
	switch len(s.Keys) {
	case 1:
		for i, key := range s.Keys[0] {
			add(s.Cells[i], label(0, key))
		}
	case 2:
		for i, key := range s.Keys[0] {
			for j, other := range s.Keys[1] {
				add(s.Cells[i*len(s.Keys[1])+j], label(0, key), label(1, other))
			}
		}
	}
	whole := make([]string, len(sides))
	if len(whole) > 0 {
		whole[0] = "in all"
	}
	add(s.Total, whole...)
	return rows
}

// unitOfSheet is what the numbers of a sheet are of.
func (f *Figure) unitOfSheet() string {
	switch f.Unit {
	case Open:
		return "open hours"
	case Clock:
		return "hours"
	case Money:
		return "minor units"
	}
	return string(f.Unit)
}
