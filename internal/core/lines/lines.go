package lines

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/search"
)

// Side is a side of an offering that can be written in lines.
type Side string

// The sides.
const (
	Questions Side = "questions"
	Items     Side = "items"
	Ladder    Side = "ladder"
	Plan      Side = "plan"
)

// maxLines is how many lines are read at once.
const maxLines = 200

// Around is what lines are read with.
type Around struct {
	Document   offering.Document // they are added to
	Company    *people.Directory
	Connectors []plan.Connector
	Unit       string       // of a price of an item
	Period     price.Period // of a price that says none; once when it is empty
}

// Line is one line as it was understood: exactly one part, unless there are
// problems.
type Line struct {
	Line     int       `json:"line" doc:"Its number among the lines that were written, from 1"`
	Text     string    `json:"text"`
	Words    string    `json:"words" doc:"How it was understood"`
	Problems []Problem `json:"problems" nullable:"false"`

	Section  *form.Section  `json:"section,omitempty"`
	Question *form.Question `json:"question,omitempty"`
	Item     *price.Item    `json:"item,omitempty"`
	Extra    *price.Extra   `json:"extra,omitempty"`
	Rung     *ladder.Rung   `json:"rung,omitempty"`
	Task     *plan.Task     `json:"task,omitempty"`
}

// Problem is something of a line that was not understood.
type Problem struct {
	Part     string `json:"part" doc:"The words of the line"`
	Sentence string `json:"sentence"`
}

// Read reads lines for a side. Empty lines count for nothing; each line can name
// what those before it make.
func Read(side Side, text string, a Around) []Line {
	r := &reader{Around: a}
	d := &r.Document // its lists grow apart from those that were given
	d.Sections, d.Questions, d.Ladder, d.Plan = slices.Clip(d.Sections), slices.Clip(d.Questions), slices.Clip(d.Ladder), slices.Clip(d.Plan)
	d.Items.List, d.Items.Extras = slices.Clip(d.Items.List), slices.Clip(d.Items.Extras)
	read := map[Side]func(string){Questions: r.question, Items: r.item, Ladder: r.rung, Plan: r.task}[side]
	out := []Line{}
	for i, written := range strings.Split(strings.ToValidUTF8(text, ""), "\n") {
		line := strings.TrimSpace(bullet.ReplaceAllString(written, ""))
		if line == "" {
			continue
		}
		r.line = Line{Line: i + 1, Text: strings.TrimSpace(written), Problems: []Problem{}}
		if len(out) == maxLines {
			r.wrong(line, fmt.Sprintf("At most %d lines are read at once.", maxLines))
			return append(out, r.line)
		}
		read(line)
		if len(r.line.Problems) > 0 {
			r.line = Line{Line: r.line.Line, Text: r.line.Text, Problems: r.line.Problems}
		} else {
			r.keep()
		}
		out = append(out, r.line)
	}
	return out
}

var bullet = regexp.MustCompile(`^\s*(?:[-•·]\s+|\d{1,3}[.)]\s+)?`)

// reader reads one line after the other; the document grows with them.
type reader struct {
	Around
	line    Line
	section string // key of the one that was begun last
}

func (r *reader) wrong(part, sentence string) {
	r.line.Problems = append(r.line.Problems, Problem{part, sentence})
}

// short takes words that may have so many characters.
func (r *reader) short(words string, most int) string {
	if utf8.RuneCountInString(words) > most {
		r.wrong(words, fmt.Sprintf("At most %d characters.", most))
	}
	return words
}

// keep lets later lines name what this one makes.
func (r *reader) keep() {
	switch {
	case r.line.Question != nil:
		r.Document.Questions = append(r.Document.Questions, *r.line.Question)
	case r.line.Section != nil:
		r.Document.Sections = append(r.Document.Sections, *r.line.Section)
		r.section = r.line.Section.Key
	case r.line.Item != nil:
		r.Document.Items.List = append(r.Document.Items.List, *r.line.Item)
	case r.line.Extra != nil:
		r.Document.Items.Extras = append(r.Document.Items.Extras, *r.line.Extra)
	case r.line.Rung != nil:
		r.Document.Ladder = append(r.Document.Ladder, *r.line.Rung)
	case r.line.Task != nil:
		r.Document.Plan = append(r.Document.Plan, *r.line.Task)
	}
}

// when cuts the condition off a line: all behind its last ", when".
func (r *reader) when(line string) (rest, rule, words string) {
	at := conditional.FindAllStringIndex(line, -1)
	if at == nil {
		return line, "", ""
	}
	last := at[len(at)-1]
	condition := strings.TrimSpace(line[last[1]:])
	rule = r.condition(condition)
	return strings.TrimSpace(line[:last[0]]), rule, "when " + condition
}

var conditional = regexp.MustCompile(`(?i),\s*when\s`)

// pieces are the parts of a line between commas.
func pieces(line string) []string {
	var out []string
	for _, piece := range strings.FieldsFunc(line, func(c rune) bool { return c == ',' || c == '\t' }) {
		if piece = strings.TrimSpace(piece); piece != "" {
			out = append(out, piece)
		}
	}
	return out
}

// after gives what stands behind one of some words at the beginning of a piece.
func after(piece string, begins ...string) (string, bool) {
	for _, word := range begins {
		if len(piece) > len(word) && strings.EqualFold(piece[:len(word)], word) && piece[len(word)] == ' ' {
			return strings.TrimSpace(piece[len(word):]), true
		}
	}
	return "", false
}

// each finds what "A and B" or "A or B" name, unless all of it is the name of one,
// and tells what is not found.
func each[T any](text string, find func(name string) (T, bool), missing func(name string)) []T {
	if one, ok := find(text); ok {
		return []T{one}
	}
	var all []T
	for _, name := range joined.Split(text, -1) {
		if one, ok := find(name); ok {
			all = append(all, one)
		} else {
			missing(name)
		}
	}
	return all
}

var joined = regexp.MustCompile(`(?i)\s+(?:and|or)\s+|\s*[|;]\s*`)

// same compares names as people write them: without case, accents and a last
// mark.
func same(a, b string) bool { return plain(a) == plain(b) }

func plain(name string) string {
	return strings.Join(strings.Fields(strings.TrimRight(search.Plain(name), " ?.!:*")), " ")
}

// named finds what goes by a name: exactly, or the only one that begins so.
func named[T any](all []T, name string, of func(T) string) (found T, ok bool) {
	wanted := plain(name)
	if wanted == "" {
		return found, false
	}
	begins := 0
	for _, one := range all {
		switch has := plain(of(one)); {
		case has == wanted:
			return one, true
		case strings.HasPrefix(has, wanted):
			found, begins = one, begins+1
		}
	}
	return found, begins == 1
}

func (r *reader) team(name string) (people.Team, bool) {
	if t, ok := r.Company.Team(name); ok {
		return t, true
	}
	return named(r.Company.Teams(), name, func(t people.Team) string { return t.Name })
}

var unkeyed = regexp.MustCompile(`[^a-z0-9 ]`)

// key makes a key from words, unlike those that are taken: the first four words,
// the second and later with a capital.
func key(words string, taken []string, otherwise string) string {
	parts := strings.Fields(unkeyed.ReplaceAllString(search.Plain(words), ""))
	parts = parts[:min(len(parts), 4)]
	for i := 1; i < len(parts); i++ {
		parts[i] = strings.ToUpper(parts[i][:1]) + parts[i][1:]
	}
	base := strings.Join(parts, "")
	if base == "" || base[0] < 'a' || base[0] > 'z' {
		base = otherwise
	}
	base = base[:min(len(base), 40)]
	out := base
	for n := 2; slices.Contains(taken, out); n++ {
		out = fmt.Sprintf("%s%d", base, n)
	}
	return out
}

func (r *reader) questionOf(name string) (form.Question, bool) {
	return named(r.Document.Questions, name, func(q form.Question) string { return q.Label })
}

// texts gives a text of each, such as its key.
func texts[T any](all []T, of func(T) string) []string {
	out := make([]string, len(all))
	for i, one := range all {
		out[i] = of(one)
	}
	return out
}

// sentence joins words with commas, without those that are empty.
func sentence(words ...string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), ", ")
}

// said gives words when something is so.
func said(is bool, words string) string {
	if is {
		return words
	}
	return ""
}

// capital makes the first letter a capital one.
func capital(words string) string {
	first, size := utf8.DecodeRuneInString(words)
	return string(unicode.ToUpper(first)) + words[size:]
}
