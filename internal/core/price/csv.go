package price

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/money"
)

// LineProblem is something wrong with one line of a file.
type LineProblem struct {
	Line     int    `json:"line" doc:"From 1, the header being 1"`
	Column   string `json:"column,omitempty"`
	Sentence string `json:"sentence"`
}

// Imported is what a file of items comes to: all of its items, or what is wrong
// with it.
type Imported struct {
	Items    []Item        `json:"items" nullable:"false"`
	Lines    int           `json:"lines" doc:"That were read, without the header"`
	Problems []LineProblem `json:"problems" nullable:"false" doc:"The first hundred"`
	More     int           `json:"more,omitempty" doc:"Problems beyond those"`
}

// Limits of a file of items.
const (
	maxItems    = 10_000
	maxProblems = 100
)

// columns of a file of items; the first three must be there.
var csvColumns = []string{"key", "name", "amount", "per", "text", "group", "min", "max", "currency", "unit", "tax"}

// ImportItems reads items from a CSV file (RFC 4180) with a header: key, name
// and amount, and as one likes per, text, group, min, max, currency, unit and tax.
// Separators may be commas, semicolons or tabs. With any problem there are no
// items: nothing is half done.
func ImportItems(file io.Reader, currency string) Imported {
	out := Imported{Items: []Item{}, Problems: []LineProblem{}}
	text, err := io.ReadAll(file)
	if err != nil {
		out.problem(1, "", "The file cannot be read: "+err.Error()+".")
		return out
	}
	content := strings.TrimPrefix(string(text), "\uFEFF")
	reader := csv.NewReader(strings.NewReader(content))
	reader.FieldsPerRecord = -1
	reader.Comma = separator(content)
	header, err := reader.Read()
	if err != nil {
		out.broken(err)
		return out
	}
	at, ok := out.header(header)
	if !ok {
		return out
	}
	out.rows(reader, at, len(header), currency)
	if len(out.Problems) > 0 {
		out.Items = []Item{}
	}
	return out
}

// separator is what stands most often in the first line.
func separator(content string) rune {
	first, _, _ := strings.Cut(content, "\n")
	best := ','
	for _, r := range ";\t" {
		if strings.Count(first, string(r)) > strings.Count(first, string(best)) {
			best = r
		}
	}
	return best
}

func (m *Imported) problem(line int, column, sentence string) {
	if len(m.Problems) == maxProblems {
		m.More++
		return
	}
	m.Problems = append(m.Problems, LineProblem{line, column, sentence})
}

func (m *Imported) broken(err error) {
	var bad *csv.ParseError
	switch {
	case errors.Is(err, io.EOF):
		m.problem(1, "", "The file is empty.")
	case errors.As(err, &bad) && (errors.Is(bad.Err, csv.ErrQuote) || errors.Is(bad.Err, csv.ErrBareQuote)):
		m.problem(bad.StartLine, "", "A quotation mark opens and does not close, or stands in the middle. What follows could not be read.")
	default:
		m.problem(1, "", "This is no CSV file: "+err.Error()+".")
	}
}

// header finds the columns by their names.
func (m *Imported) header(names []string) (map[string]int, bool) {
	at := map[string]int{}
	for i, name := range names {
		name = strings.ToLower(strings.TrimSpace(name))
		if !slices.Contains(csvColumns, name) {
			m.problem(1, name, fmt.Sprintf("There is no column %q. There can be %s.", name, strings.Join(csvColumns, ", ")))
			continue
		}
		if _, twice := at[name]; twice {
			m.problem(1, name, fmt.Sprintf("The column %q stands twice.", name))
		}
		at[name] = i
	}
	for _, name := range csvColumns[:3] {
		if _, ok := at[name]; !ok {
			m.problem(1, name, fmt.Sprintf("The column %q is missing.", name))
		}
	}
	return at, len(m.Problems) == 0
}

func (m *Imported) rows(reader *csv.Reader, at map[string]int, width int, currency string) {
	seen := map[string]int{}
	for {
		record, err := reader.Read()
		if errors.Is(err, io.EOF) {
			return
		}
		if err != nil {
			m.broken(err)
			return
		}
		line, _ := reader.FieldPos(0)
		m.Lines++
		if len(record) != width {
			m.problem(line, "", fmt.Sprintf("There are %d columns; %d are needed.", len(record), width))
			continue
		}
		if m.Lines == maxItems+1 {
			m.problem(line, "", fmt.Sprintf("There are more than %d items.", maxItems))
		}
		item := m.item(line, currency, func(name string) string {
			if i, ok := at[name]; ok {
				return strings.TrimSpace(record[i])
			}
			return ""
		})
		if before, twice := seen[item.Key]; twice {
			m.problem(line, "key", fmt.Sprintf("The key %q stands in line %d, too.", item.Key, before))
		}
		seen[item.Key] = line
		if len(m.Problems) == 0 {
			m.Items = append(m.Items, item)
		}
	}
}

func (m *Imported) item(line int, currency string, field func(string) string) Item {
	item := Item{
		Key: field("key"), Name: field("name"), Text: field("text"), Group: field("group"), Tax: field("tax"),
		Price: Charge{Amount: field("amount"), Per: Period(field("per")), Currency: field("currency"), Unit: field("unit")},
	}
	if item.Price.Per == "" {
		item.Price.Per = Once
	}
	if item.Key == "" {
		m.problem(line, "key", "The key is empty.")
	}
	if item.Name == "" {
		m.problem(line, "name", "The name is empty.")
	}
	if !slices.Contains(Periods, item.Price.Per) {
		m.problem(line, "per", fmt.Sprintf("%q is no period: write once, month or year.", item.Price.Per))
	}
	code := item.Price.Currency
	if code == "" {
		code = currency
	}
	if a, err := money.Parse(item.Price.Amount, code); err != nil {
		m.problem(line, "amount", err.Error()+".")
	} else if a.Minor() < 0 {
		m.problem(line, "amount", fmt.Sprintf("%q is less than nothing.", item.Price.Amount))
	}
	if item.Tax != "" {
		if _, err := money.Percent(item.Tax); err != nil {
			m.problem(line, "tax", err.Error()+".")
		}
	}
	item.Min, item.Max = m.quantity(line, "min", field("min")), m.quantity(line, "max", field("max"))
	return item
}

func (m *Imported) quantity(line int, column, text string) int {
	if text == "" {
		return 0
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 0 || n > MaxQuantity {
		m.problem(line, column, fmt.Sprintf("%q is no quantity from 0 to %d.", text, MaxQuantity))
	}
	return n
}
