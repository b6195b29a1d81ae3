package lines

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
)

// written are the kinds that lines can ask for, by what people call them, the longer
// before the shorter.
var written = func() (all []calledKind) {
	for _, k := range form.Kinds() {
		if k.Kind == form.Computed || k.Kind == form.Statement {
			continue
		}
		for _, name := range k.Called() {
			all = append(all, calledKind{strings.ToLower(name), k.Kind})
		}
	}
	slices.SortStableFunc(all, func(a, b calledKind) int { return cmp.Compare(len(b.words), len(a.words)) })
	return all
}()

// plainKinds names the kinds that a name alone asks for.
var plainKinds = func() string {
	var names []string
	for _, k := range form.Kinds() {
		if k.Written {
			names = append(names, strings.ToLower(k.Name))
		}
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}()

type calledKind struct {
	words string
	kind  form.Kind
}

// guesses tell the kind from the words of a question that says none.
var guesses = []struct {
	words *regexp.Regexp
	kind  form.Kind
}{
	{regexp.MustCompile(`(?i)^(is|are|do|does|did|has|have|can|will|shall|should|may|must)\b.*\?$`), form.YesNo},
	{regexp.MustCompile(`(?i)\b(why|reason|describe|description|what happened|anything else|remarks?)\b`), form.LongText},
	{regexp.MustCompile(`(?i)\b(how many|number of|how long)\b`), form.Number},
	{regexp.MustCompile(`(?i)\b(how much|budget|amount)\b`), form.Money},
	{regexp.MustCompile(`(?i)\b(date|which day|first day|last day|from when|until when)\b`), form.Date},
	{regexp.MustCompile(`(?i)^(who|whom|for whom)\b`), form.Person},
	{regexp.MustCompile(`(?i)\bcost centre\b`), form.Centre},
}

var (
	aside    = regexp.MustCompile(`^(.*\S)\s+\(([^()]+)\)$`)
	between  = regexp.MustCompile(`(?i)^(?:from |at least )?(\S+?)(?: (?:to|–) (\S+))?$`)
	several  = regexp.MustCompile(`(?i)^(?:several|any|some) of\s+`)
	oneOf    = regexp.MustCompile(`(?i)^one of\s+`)
	mostText = regexp.MustCompile(`(?i)^(?:up to|at most) (\S+)$`)
)

// question reads "Port *: Maravel | Sankt Orm", "Start *: date from today" or
// "# A section".
func (r *reader) question(line string) {
	if heading, ok := strings.CutPrefix(line, "#"); ok {
		page := strings.HasPrefix(heading, "#")
		name := strings.TrimSpace(strings.TrimLeft(heading, "#"))
		if name == "" {
			r.wrong(line, "A section needs a heading.")
			return
		}
		r.line.Section = &form.Section{Key: key(name, texts(r.Document.Sections, func(s form.Section) string { return s.Key }), "section"), Name: r.short(name, 200), Page: page}
		r.line.Words = "A section" + said(page, " that begins a page")
		return
	}
	rest, show, when := r.when(strings.Replace(line, "\t", ": ", 1))
	q, words := r.questionIn(rest, texts(r.Document.Questions, func(q form.Question) string { return q.Key }), "question")
	q.Show, q.Section = show, r.section
	if n := len(r.Document.Questions); r.section == "" && n > 0 {
		q.Section = r.Document.Questions[n-1].Section
	}
	r.line.Question, r.line.Words = &q, sentence(words, when)
}

// questionIn reads a question, or the column of a table.
func (r *reader) questionIn(text string, taken []string, otherwise string) (form.Question, string) {
	q := form.Question{}
	if m := aside.FindStringSubmatch(text); m != nil {
		text, q.Help = m[1], r.short(strings.TrimSpace(m[2]), 4000)
	}
	label, how, _ := strings.Cut(text, ":")
	label, how = strings.TrimSpace(label), strings.TrimSpace(how)
	needed := strings.HasSuffix(label, "*") || strings.HasSuffix(how, "*")
	label, how = strings.TrimSpace(strings.TrimRight(label, "* ")), strings.TrimSpace(strings.TrimRight(how, "* "))
	if label == "" {
		r.wrong(text, "A question needs words before the colon.")
		return q, ""
	}
	q.Label, q.Key = r.short(label, 300), key(label, taken, otherwise)
	if needed {
		q.Require = "true"
	}
	words := r.kind(&q, how)
	return q, sentence(q.Kind.Info().Name, said(needed, "needed"), words, said(q.Help != "", "help: "+q.Help))
}

// kind sets what kind of answer is meant, and says what there is to say of it.
func (r *reader) kind(q *form.Question, how string) string {
	lower := strings.ToLower(how)
	switch {
	case how == "":
		q.Kind = form.Text
		for _, guess := range guesses {
			if guess.words.MatchString(q.Label) {
				q.Kind = guess.kind
				break
			}
		}
		return ""
	case strings.HasPrefix(lower, "table of "):
		return r.table(q, how[len("table of "):])
	case strings.Contains(how, "|"):
		q.Kind = form.Choice
		if several.MatchString(how) {
			q.Kind = form.Choices
		}
		return r.choices(q, oneOf.ReplaceAllString(several.ReplaceAllString(how, ""), ""))
	}
	for _, k := range written {
		if lower != k.words && !strings.HasPrefix(lower, k.words+" ") && lower != k.words+"s" {
			continue
		}
		q.Kind = k.kind
		if k.kind == form.Items {
			q.Items = texts(r.Document.Items.List, func(i price.Item) string { return i.Key })
			if len(q.Items) == 0 {
				r.wrong(how, "There are no items yet: write them on the items side first.")
			}
		}
		if k.kind == form.Choice || k.kind == form.Choices || k.kind == form.Table {
			r.wrong(how, "Say what can be chosen, with | between: Maravel | Sankt Orm. A table is written as: table of Number | Valid until: date.")
		}
		limits := ""
		if len(how) > len(k.words) {
			limits = strings.TrimSpace(strings.TrimPrefix(how[len(k.words):], "s"))
		}
		return r.limits(q, limits)
	}
	r.wrong(how, fmt.Sprintf("%q is no kind of answer. Write choices with | between, or %s.", how, plainKinds))
	return ""
}

func (r *reader) choices(q *form.Question, text string) string {
	var labels []string
	for _, label := range strings.Split(text, "|") {
		if label = strings.TrimSpace(label); label == "" {
			continue
		}
		q.Choices = append(q.Choices, form.Option{Key: key(label, texts(q.Choices, func(o form.Option) string { return o.Key }), "choice"), Label: r.short(label, 200)})
		labels = append(labels, label)
	}
	return strings.Join(labels, " | ")
}

func (r *reader) table(q *form.Question, columns string) string {
	q.Kind = form.Table
	var words []string
	for _, column := range strings.Split(columns, "|") {
		if strings.TrimSpace(column) == "" {
			continue
		}
		c, said := r.questionIn(column, texts(q.Columns, func(c form.Question) string { return c.Key }), "column")
		if info := c.Kind.Info(); info.Kind != "" && !info.Column {
			r.wrong(column, "This cannot be the column of a table.")
		}
		q.Columns = append(q.Columns, c)
		words = append(words, fmt.Sprintf("%s (%s)", c.Label, strings.ToLower(said)))
	}
	if len(q.Columns) > 30 {
		r.wrong(columns, "A table has at most 30 columns.")
	}
	return strings.Join(words, " | ")
}

// limits reads "1 to 10", "from today", "up to 500".
func (r *reader) limits(q *form.Question, text string) string {
	if text == "" {
		return ""
	}
	switch q.Kind {
	case form.Number, form.Money, form.Date:
	default:
		r.wrong(text, "Only numbers, money and dates have such limits.")
		return ""
	}
	if m := mostText.FindStringSubmatch(text); m != nil {
		q.Max = m[1]
		return "up to " + q.Max
	}
	m := between.FindStringSubmatch(text)
	if m == nil {
		r.wrong(text, "Write limits as “1 to 10”, “from today” or “up to 500”.")
		return ""
	}
	if q.Min = m[1]; m[2] == "" {
		return "from " + q.Min
	}
	q.Max = m[2]
	return q.Min + " to " + q.Max
}
