package rehearse

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
)

// filler fills forms in with answers that are good, always the same ones.
type filler struct {
	c       *offering.Compiled
	parties offering.Parties
	at      time.Time
	tries   *int // how many forms may still be worked out
}

func (f *filler) evaluate(answers form.Answers) form.Result {
	*f.tries--
	facts := f.parties.Facts()
	facts.Files = filesIn(f.c, answers)
	return f.c.Form.Evaluate(answers, f.c.Values(f.parties, f.at), facts)
}

// complete fills in what is needed beside some answers that stay as they are; false when
// that cannot be done in a few steps.
func (f *filler) complete(fixed form.Answers) (form.Answers, form.Result, bool) {
	answers := maps.Clone(fixed)
	if answers == nil {
		answers = form.Answers{}
	}
	next := map[string]int{}
	result := f.evaluate(answers)
	for range 4 * max(4, len(f.c.Document.Questions)) {
		key := wrongIn(result)
		if key == "" || *f.tries <= 0 {
			return answers, result, result.Complete
		}
		if _, stays := fixed[key]; stays {
			return answers, result, false
		}
		q, _ := f.c.Form.Question(key)
		all := f.candidates(q, result)
		if next[key] >= len(all) {
			return answers, result, false
		}
		answers[key] = all[next[key]]
		next[key]++
		result = f.evaluate(answers)
	}
	return answers, result, result.Complete
}

// wrongIn is the first question whose answer is missing, or not good; empty for none.
func wrongIn(r form.Result) string {
	for _, q := range r.Questions {
		if len(q.Problems) > 0 {
			return q.Key
		}
	}
	return ""
}

// candidates are answers to a question that are worth trying, the most usual first.
func (f *filler) candidates(q form.Question, result form.Result) []form.Answer {
	var choices []string
	for _, r := range result.Questions {
		if r.Key == q.Key {
			choices = r.Choices
		}
	}
	return f.values(q, choices)
}

func (f *filler) values(q form.Question, choices []string) []form.Answer {
	today := f.c.Promise.Today(f.at)
	texts := func(all ...string) []form.Answer {
		out := make([]form.Answer, len(all))
		for i, text := range all {
			out[i] = form.OfText(text)
		}
		return out
	}
	switch q.Kind {
	case form.Text, form.LongText:
		return texts(f.texts(q)...)
	case form.Number:
		return numbers(q)
	case form.Money:
		return texts("10.00", cmp.Or(q.Min, "0"), cmp.Or(q.Max, "1000"), "100000")
	case form.Date:
		var all []string
		for _, days := range []int{14, 30, 60, 1, 0, 7, 200, 400, -1, -30, 800} {
			all = append(all, today.AddDays(days).String())
		}
		return texts(all...)
	case form.DateTime:
		var all []string
		for _, days := range []int{14, 30, 1, 60, 7, 200} {
			all = append(all, today.AddDays(days).String()+"T10:00:00Z")
		}
		return texts(all...)
	case form.YesNo:
		return []form.Answer{form.OfYesNo(true), form.OfYesNo(false)}
	case form.Choice:
		return texts(choices...)
	case form.Choices:
		out := []form.Answer{}
		for _, key := range choices {
			out = append(out, form.OfTexts([]string{key}))
		}
		if len(choices) > 1 {
			out = append(out, form.OfTexts(choices))
		}
		return out
	case form.Person:
		return texts(f.persons()...)
	case form.Belonging:
		return texts(choices...)
	case form.Items:
		return f.picks(choices)
	case form.Table:
		return f.rows(q)
	case form.File:
		return []form.Answer{form.OfFiles([]form.Upload{{ID: "file-" + q.Key, Name: q.Key + ".pdf", Type: fileType(q), Size: 1000}})}
	}
	return texts(f.places(q.Kind)...)
}

func fileType(q form.Question) string {
	if len(q.FileTypes) > 0 {
		return q.FileTypes[0]
	}
	return "application/pdf"
}

// texts are texts that a question takes: its example, those that rules name, a plain one.
func (f *filler) texts(q form.Question) []string {
	plain := "Sample"
	for len(plain) < q.MinLength {
		plain += " and more"
	}
	if q.MaxLength > 0 && len(plain) > q.MaxLength {
		plain = plain[:q.MaxLength]
	}
	all := []string{plain}
	if q.Example != "" {
		all = []string{q.Example, plain}
	}
	for _, r := range f.c.Form.Rules() {
		if slices.Contains(r.Rule.Reads("answers"), q.Key) {
			all = append(all, r.Rule.Texts()...)
		}
	}
	return append(all, "S-1", "1000", "sample@example.org")
}

func numbers(q form.Question) []form.Answer {
	var low, high float64
	_, _ = fmt.Sscanf(cmp.Or(q.Min, "1"), "%g", &low)
	_, _ = fmt.Sscanf(cmp.Or(q.Max, "1000"), "%g", &high)
	all := []form.Answer{form.OfNumber(low), form.OfNumber(high), form.OfNumber(float64(int((low + high) / 2)))}
	for _, n := range []float64{0, 1, 2, 3, 5, 10, 50} {
		all = append(all, form.OfNumber(n))
	}
	return all
}

// mostPersons is how many people are tried as an answer.
const mostPersons = 12

func (f *filler) persons() []string {
	all := []string{}
	add := func(login string) {
		if login != "" && !slices.Contains(all, login) {
			all = append(all, login)
		}
	}
	for _, login := range f.parties.Company.Managers(f.parties.Asker.ID) {
		add(login)
	}
	seen := map[string]bool{}
	for _, p := range f.parties.Company.Persons() {
		if !p.Former && p.ID != f.parties.Asker.ID && !seen[p.Department] && len(all) < mostPersons {
			seen[p.Department] = true
			add(p.Login)
		}
	}
	add(f.parties.Asker.Login)
	return all
}

// places are teams, places and cost centres, by the kind of question.
func (f *filler) places(kind form.Kind) []string {
	company, all := f.parties.Company, []string{}
	switch kind {
	case form.Team:
		for _, t := range company.Teams() {
			all = append(all, t.Key)
		}
	case form.Location:
		all = append(company.LocationNames(), company.Locations()...)
	case form.Centre:
		for _, c := range company.CostCentres() {
			all = append(all, c.Key)
		}
	}
	return all[:min(len(all), mostPersons)]
}

// picks picks each item that is offered, with what it needs; then two of the first.
func (f *filler) picks(choices []string) []form.Answer {
	out := []form.Answer{}
	for _, key := range choices {
		item, there := f.c.Catalog.Item(key)
		if !there {
			continue
		}
		pick := price.Pick{Item: key, Quantity: max(1, item.Min), Options: map[string]string{}}
		for _, group := range item.Options {
			if group.Require && len(group.Choices) > 0 {
				pick.Options[group.Key] = group.Choices[0].Key
			}
		}
		out = append(out, form.OfPicks([]price.Pick{pick}))
		if item.Max != 1 {
			pick.Quantity = max(2, item.Min)
			out = append(out, form.OfPicks([]price.Pick{pick}))
		}
	}
	return out
}

// mostRows is how many rows of a table are tried.
const mostRows = 60

// rows are tables of one row, and of as many as are needed: the first answer to each column,
// then others.
func (f *filler) rows(q form.Question) []form.Answer {
	columns := make([][]form.Answer, len(q.Columns))
	for i, c := range q.Columns {
		var keys []string
		for _, o := range c.Choices {
			keys = append(keys, o.Key)
		}
		columns[i] = f.values(c, keys)
		if c.Kind == form.Items {
			columns[i] = f.values(c, c.Items)
		}
	}
	row := func(at []int, number int) form.Answers {
		out := form.Answers{}
		for i, c := range q.Columns {
			if len(columns[i]) == 0 || c.Kind == form.Computed || c.Kind == form.Statement {
				continue
			}
			value := columns[i][(at[i]+number)%len(columns[i])]
			if c.Kind == form.Date || c.Kind == form.DateTime {
				value = columns[i][at[i]%len(columns[i])]
			}
			if c.Kind == form.File && strings.TrimSpace(c.Require) == "" {
				continue
			}
			out[c.Key] = value
		}
		return out
	}
	table := func(at []int) form.Answer {
		var rows []form.Answers
		for n := range max(1, q.MinCount) {
			rows = append(rows, row(at, n))
		}
		return form.OfRows(rows)
	}
	out := []form.Answer{table(make([]int, len(q.Columns)))}
	for step := 1; step < 8; step++ {
		for i := range q.Columns {
			if step >= len(columns[i]) || len(out) >= mostRows {
				continue
			}
			at := make([]int, len(q.Columns))
			at[i] = step
			out = append(out, table(at))
			late := make([]int, len(q.Columns)) // dates that come after others of the form
			for j, c := range q.Columns {
				if c.Kind == form.Date {
					late[j] = 7
				}
			}
			late[i] = step
			out = append(out, table(late))
		}
	}
	return out
}
