package audience

import (
	"slices"
	"strings"

	"heptad/internal/core/people"
)

// Anybody reports whether somebody of the company is in an audience.
func Anybody(d *people.Directory, ask func(Person) (bool, string)) bool {
	for _, p := range d.Persons() {
		if in, _ := ask(Of(p, d)); in {
			return true
		}
	}
	return false
}

// Verdict says of one person whether they are in an audience.
type Verdict struct {
	Person string
	In     bool
	Reason string
}

// Wanted says which verdicts are wanted: those who are in or out, or, with words, all
// whose name, department or location has them.
type Wanted struct {
	Words string
	Out   bool
	From  int // so many of them were listed before
	Most  int
}

// Surveyed is how many are in an audience, of how many, and some of them.
type Surveyed struct {
	In, Of   int
	More     int       // fit what is wanted beyond those listed
	Verdicts []Verdict // by name
}

// Survey asks the same of everybody who has not left.
func Survey(d *people.Directory, wanted Wanted, ask func(Person) (bool, string)) Surveyed {
	s, before := Surveyed{Verdicts: []Verdict{}}, wanted.From
	words := strings.Fields(strings.ToLower(wanted.Words))
	for _, p := range d.Persons() {
		if p.Former {
			continue
		}
		in, why := ask(Of(p, d))
		s.Of++
		if in {
			s.In++
		}
		text := strings.ToLower(p.Name + " " + p.Login + " " + p.Department + " " + p.Location)
		switch {
		case len(words) == 0 && in == wanted.Out, slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }):
		case before > 0:
			before--
		case len(s.Verdicts) == wanted.Most:
			s.More++
		default:
			s.Verdicts = append(s.Verdicts, Verdict{p.ID, in, why})
		}
	}
	return s
}

// Turned is who comes in and who goes out by a change, by name.
type Turned struct{ In, Out []people.Person }

// Turn compares two audiences for everybody who has not left.
func Turn(d *people.Directory, before, after func(Person) (bool, string)) Turned {
	var t Turned
	for _, p := range d.Persons() {
		if p.Former {
			continue
		}
		one := Of(p, d)
		was, _ := before(one)
		is, _ := after(one)
		switch {
		case is && !was:
			t.In = append(t.In, p)
		case was && !is:
			t.Out = append(t.Out, p)
		}
	}
	return t
}
