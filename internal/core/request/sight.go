package request

import (
	"slices"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// Seeing says how much of an answer somebody sees.
type Seeing int

// How much is seen of an answer.
const (
	Hidden Seeing = iota // not even that it was asked
	Sealed               // that it was answered, and never what
	Asking               // what was answered, on asking; the reading is kept
	Open
)

// Sight is through what somebody looks at the answers of a request. It is the
// one place that says which they see (rules.md 9).
type Sight struct {
	all   bool
	keys  []string // when not all
	staff bool
	asker bool // private answers are theirs
	side  bool // of the asker, by following: private answers are none of their business
	files bool
}

// Whole is the sight of somebody to whom the whole request is open.
func (v Viewer) Whole() Sight {
	staff := v.overall()
	return Sight{all: v.SeesRequest(), staff: staff, asker: v.Asker, side: v.Follower && !v.Asker && !staff, files: v.SeesFiles()}
}

// Sight is what a rung shows those who decide on it.
func (r *Rung) Sight() Sight {
	return Sight{all: len(r.Facts) == 0, keys: r.Facts, staff: true, files: true}
}

// Sight is what a task shows its team.
func (t *Task) Sight() Sight { return Sight{keys: t.Slice, staff: true, files: true} }

// Of tells how much of the answer to a question is seen.
func (s Sight) Of(q form.Question) Seeing {
	named := slices.Contains(s.keys, q.Key)
	switch {
	case !s.all && !named, q.Readers == form.ForStaff && !s.staff:
		return Hidden
	case q.Readers != form.Private:
		return Open
	case named || s.asker:
		return Asking
	case s.side:
		return Hidden
	}
	return Sealed
}

// Files reports whether the files among the answers can be opened.
func (s Sight) Files() bool { return s.files }

// Answered is the answer to a question in words.
type Answered struct {
	Key   string        `json:"key"`
	Label string        `json:"label"`
	Text  string        `json:"text"`
	Files []form.Upload `json:"files,omitempty" nullable:"false" doc:"To be opened"`
	Table *Table        `json:"table,omitempty" doc:"Of a question that asks for rows"`
	Was   string        `json:"was,omitempty" doc:"How it was on sending, beside what is wanted"`

	Private string `json:"private,omitempty" enum:"asking,sealed" doc:"Its answer is kept apart: the reader can have it shown, or not at all"`
}

// Table is the answer to a table in words.
type Table struct {
	Headings []string   `json:"headings" nullable:"false"`
	Rows     [][]string `json:"rows" nullable:"false" doc:"As many cells in each as there are headings"`
}

// InWords gives the answers of a request in words, as far as a sight of it goes.
// No screen, export, mail or link has them from elsewhere.
func (s State) InWords(c *offering.Compiled, company *people.Directory, sight Sight) []Answered {
	out := []Answered{}
	facts := form.Facts{Company: company, Belongings: s.Named}
	for _, q := range c.Document.Questions {
		value, ok := s.Answers[q.Key]
		private := slices.Contains(s.Private, q.Key)
		if (!ok || value.None()) && !private {
			continue
		}
		entry := Answered{Key: q.Key, Label: q.ForStaff()}
		switch seeing := sight.Of(q); {
		case seeing == Hidden:
			continue
		case private && seeing == Asking:
			entry.Private = "asking"
		case private:
			entry.Private = "sealed"
		default:
			entry.Text, entry.Was = c.Form.Show(q.Key, value, facts, c.Promise.Zone()), s.Present[q.Key]
			if headings, rows := c.Form.Rows(q.Key, value, facts, c.Promise.Zone()); headings != nil {
				entry.Table = &Table{headings, rows}
			}
			if sight.Files() {
				entry.Files = form.FilesIn(q, value)
			}
		}
		out = append(out, entry)
	}
	return out
}
