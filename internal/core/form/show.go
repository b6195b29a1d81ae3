package form

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/money"
)

// Show gives an answer in words, with the labels of choices and items and the
// names of people and belongings. Instants are in the given zone.
func (f *Form) Show(key string, answer Answer, facts Facts, zone *time.Location) string {
	i, ok := f.index[key]
	if !ok {
		return ""
	}
	return f.show(&f.questions[i], answer, showing{facts, zone})
}

// showing is what answers are shown with.
type showing struct {
	Facts
	zone *time.Location
}

func (f *Form) show(q *question, answer Answer, in showing) string {
	if show := q.AnswerKind().info().show; show != nil {
		return show(f, q, answer, in)
	}
	if yes, ok := answer.YesNo(); ok {
		return map[bool]string{true: "Yes", false: "No"}[yes]
	}
	if n, ok := answer.Number(); ok {
		return strconv.FormatFloat(n, 'f', -1, 64)
	}
	text, _ := answer.Text()
	return text
}

// ofShown shows an answer that is a text in JSON; one that cannot be shown so, as it
// is.
func ofShown(show func(f *Form, q *question, text string, in showing) string) func(*Form, *question, Answer, showing) string {
	return func(f *Form, q *question, answer Answer, in showing) string {
		text, _ := answer.Text()
		return cmp.Or(show(f, q, text, in), text)
	}
}

func showChoice(_ *Form, q *question, key string, _ showing) string { return q.label(key) }

func showPerson(_ *Form, _ *question, login string, in showing) string {
	p, _ := in.Company.ByLogin(login)
	return p.Name
}

func showBelonging(_ *Form, _ *question, id string, in showing) string {
	for _, b := range in.Belongings {
		if b.ID == id {
			return b.Words()
		}
	}
	return ""
}

func showTeam(_ *Form, _ *question, key string, in showing) string { return in.Company.TeamName(key) }

func showCentre(_ *Form, _ *question, key string, in showing) string {
	return in.Company.CentreName(key)
}

func showMoney(f *Form, _ *question, sum string, _ showing) string {
	if a, err := money.Parse(sum, f.currency); err == nil {
		return a.String()
	}
	return ""
}

func showDate(_ *Form, _ *question, day string, _ showing) string {
	if t, err := time.Parse(time.DateOnly, day); err == nil {
		return t.Format(dayWords)
	}
	return ""
}

func showDateTime(_ *Form, _ *question, at string, in showing) string {
	if t, err := time.Parse(time.RFC3339, at); err == nil {
		return t.In(in.zone).Format(dayWords + ", 15:04 MST")
	}
	return ""
}

func showChoices(_ *Form, q *question, answer Answer, _ showing) string {
	list, _ := answer.Texts()
	return each(list, q.label)
}

func showItems(f *Form, _ *question, answer Answer, _ showing) string {
	picks, _ := answer.Picks()
	return each(picks, f.catalog.Words)
}

func showFiles(_ *Form, _ *question, answer Answer, _ showing) string {
	uploads, _ := answer.Files()
	return each(uploads, func(u Upload) string { return u.Name })
}

// dayWords is how a date reads in a text.
const dayWords = "2 January 2006"

func (q *question) label(key string) string {
	if label := q.labels[key]; label != "" {
		return label
	}
	return key
}

// Rows gives the answer to a table in words: the headings of the columns that have
// an answer, and the cells of each row; nothing for other kinds.
func (f *Form) Rows(key string, answer Answer, facts Facts, zone *time.Location) (headings []string, cells [][]string) {
	i, ok := f.index[key]
	if !ok || f.questions[i].Kind != Table {
		return nil, nil
	}
	q := &f.questions[i]
	in := showing{facts, zone}
	rows, _ := answer.Rows()
	cells = make([][]string, len(rows))
	for i := range q.columns {
		column := &q.columns[i]
		words := make([]string, len(rows))
		for n, row := range rows {
			words[n] = f.show(column, row[column.Key], in)
		}
		if !slices.ContainsFunc(words, func(w string) bool { return w != "" }) {
			continue
		}
		headings = append(headings, column.ForStaff())
		for n, w := range words {
			cells[n] = append(cells[n], w)
		}
	}
	return headings, cells
}

// showTable gives a row a line: "Number 12, Valid until 2027-04-01".
func showTable(f *Form, q *question, answer Answer, in showing) string {
	rows, _ := answer.Rows()
	lines := make([]string, len(rows))
	for n, row := range rows {
		var cells []string
		for i := range q.columns {
			column := &q.columns[i]
			if words := f.show(column, row[column.Key], in); words != "" {
				cells = append(cells, column.ForStaff()+" "+words)
			}
		}
		lines[n] = strings.Join(cells, ", ")
	}
	return strings.Join(lines, "; ")
}

// Line is one thing of an answer that is a list: a picked item, a row, or a
// choice.
type Line struct {
	Key      string // of the item or choice
	Name     string
	Quantity int // of a picked item
}

// Lines lists the things of an answer; none of a question that asks for no
// list.
func (f *Form) Lines(key string, answer Answer, facts Facts, zone *time.Location) []Line {
	i, ok := f.index[key]
	if !ok {
		return nil
	}
	q, lines := &f.questions[i], []Line{}
	switch q.Kind {
	case Items:
		picks, _ := answer.Picks()
		for _, p := range picks {
			name := p.Item
			if item, ok := f.catalog.Item(p.Item); ok {
				name = item.Name
			}
			lines = append(lines, Line{p.Item, name, p.Quantity})
		}
	case Table:
		rows, _ := answer.Rows()
		for n, row := range rows {
			name := fmt.Sprintf("row %d", n+1)
			for i := range q.columns {
				if words := f.show(&q.columns[i], row[q.columns[i].Key], showing{facts, zone}); words != "" {
					name = words
					break
				}
			}
			lines = append(lines, Line{Name: name})
		}
	case Choices:
		list, _ := answer.Texts()
		for _, key := range list {
			lines = append(lines, Line{Key: key, Name: q.label(key)})
		}
	}
	return lines
}

// FilesIn lists the files in the answer to a question, those in the rows of a
// table too.
func FilesIn(q Question, answer Answer) []Upload {
	var all []Upload
	switch q.Kind {
	case File:
		all, _ = answer.Files()
	case Table:
		rows, _ := answer.Rows()
		for _, row := range rows {
			for _, column := range q.Columns {
				all = append(all, FilesIn(column, row[column.Key])...)
			}
		}
	}
	return all
}

func each[T any](list []T, words func(T) string) string {
	out := make([]string, len(list))
	for i, element := range list {
		out[i] = words(element)
	}
	return strings.Join(out, ", ")
}
