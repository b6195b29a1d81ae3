package request

import (
	"slices"

	"heptad/internal/core/form"
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
	staff := v.Owner || v.HomeLead
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

// Files tells whether the files among the answers can be opened.
func (s Sight) Files() bool { return s.files }
