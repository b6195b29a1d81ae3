package intake

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

// Owned is a belonging of somebody of the company.
type Owned struct {
	Person string // ID
	people.Belonging
}

// Had is what somebody has or had, as it is kept.
type Had struct {
	Owned
	Ended bool // nobody has it any more
	Made  bool // a request made it: it is changed by requests
}

// Head is what a new offering begins with.
type Head struct {
	Key, Name, Text string
	Keywords        []string
	Service         string // key
	Team            string // key of who does it
}

var offeringKey = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// longDetail is how long the detail of a belonging may be, in letters.
const longDetail = 200

// belongings reads the lines of a sheet of belongings.
func (w *worker) belongings() {
	w.alike("id", func(e *entry) string { return e.cell("id") }, twice)
	for _, e := range w.rows {
		if e.left {
			continue
		}
		had, there := w.belonging(e.cell("id"))
		e.fresh = !there
		b, before := had.Owned, had.Owned
		e.set("id", &b.ID)
		b.Person = e.person("person")
		e.change("person", e.label(before.Person), e.label(b.Person))
		e.set("kind", &b.Kind)
		e.set("name", &b.Name)
		e.set("detail", &b.Detail)
		e.date("until", &b.Until)
		switch {
		case had.Ended:
			e.wrong("id", "This was handed back, or has ended: give the new one an ID of its own.")
		case had.Made && len(e.line.Changes) > 0:
			e.wrong("id", "This comes from a request: a request changes it, extends it or takes it back.")
		}
		if b.Kind != "" && people.KeyOf(b.Kind) != b.Kind {
			e.wrong("kind", fmt.Sprintf("%q is no kind: write it in small letters, such as badge.", b.Kind), people.KeyOf(b.Kind))
		}
		e.needed("id", b.ID)
		e.needed("kind", b.Kind)
		e.needed("name", b.Name)
		e.most("id", b.ID, 60)
		e.most("kind", b.Kind, 60)
		e.most("name", b.Name, longDetail)
		e.most("detail", b.Detail, longDetail)
		e.formulas()
		if e.line.ID, e.line.Name = b.ID, strings.TrimSpace(b.Name+" "+b.ID); e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Belongings = append(w.Belongings, b)
		}
	}
}

func (e *entry) needed(field, value string) {
	if value == "" {
		e.wrong(field, fieldNamed(e.Kind, field).Name+" is missing.")
	}
}

func (e *entry) most(field, value string, letters int) {
	if utf8.RuneCountInString(value) > letters {
		e.wrong(field, fmt.Sprintf("This has more than %d letters.", letters))
	}
}

func fieldNamed(kind Kind, key string) Field {
	return fields[kind][slices.IndexFunc(fields[kind], func(f Field) bool { return f.Key == key })]
}

// offerings reads the lines of a sheet of heads of offerings. One that is there stays as
// it is.
func (w *worker) offerings() {
	key := func(e *entry) string { return cmp.Or(e.cell("key"), offering.KeyOf(e.cell("name"))) }
	w.alike("name", key, twice)
	for _, e := range w.rows {
		if e.left {
			continue
		}
		h := Head{Key: key(e)}
		there, known := w.offered(h.Key)
		if e.fresh = !known; known {
			e.line.Name = there.Name
			continue
		}
		e.set("key", &h.Key)
		h.Key = key(e)
		e.set("name", &h.Name)
		e.set("text", &h.Text)
		e.change("keywords", "", e.cell("keywords"))
		for _, word := range strings.Split(e.cell("keywords"), ",") {
			if word = strings.TrimSpace(word); word != "" {
				h.Keywords = append(h.Keywords, word)
			}
		}
		s := e.service("service", e.cell("service"))
		h.Service = s.Key
		e.change("service", "", s.Name)
		if h.Team = e.team("team", e.cell("team")); e.cell("team") == "" {
			h.Team = s.Home
		}
		e.change("team", "", e.company.TeamName(h.Team))
		if h.Key != "" && !offeringKey.MatchString(h.Key) {
			e.wrong("key", fmt.Sprintf("%q cannot be the key of an offering: use small letters, digits and single hyphens.", h.Key))
		}
		if len(h.Keywords) > 50 {
			e.wrong("keywords", "There are more than 50 words.")
		}
		e.needed("name", h.Name)
		e.most("name", h.Name, 120)
		e.most("text", h.Text, 1000)
		e.formulas()
		if e.line.ID, e.line.Name = h.Key, h.Name; e.good() {
			w.Heads = append(w.Heads, h)
		}
	}
}

// service finds the service a value names.
func (e *entry) service(field, value string) people.Service {
	if value == "" {
		e.needed(field, value)
		return people.Service{}
	}
	for _, s := range e.company.Services() {
		if strings.EqualFold(s.Key, value) || strings.EqualFold(s.Name, value) {
			return s
		}
	}
	e.wrong(field, fmt.Sprintf("There is no service %q.", value), e.nearest("service", value, func(yield func(string, string)) {
		for _, s := range e.company.Services() {
			yield(s.Name, s.Name)
			yield(s.Key, s.Name)
		}
	})...)
	return people.Service{}
}
