package rehearse

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/script"
)

// What the asker and a beneficiary of a script may be called, beside their logins.
const (
	asAsker       = "asker"
	asBeneficiary = "beneficiary"
)

// Within is the company that a script takes place in: the given one, which may be nil, with
// the changes of the script, and with who asks when they are made up. The error is a
// *script.Wrong.
func Within(base *people.Directory, s script.Script) (*people.Directory, error) {
	c := s.Company
	if c == nil {
		if s.Asker.Made == nil && base != nil {
			return base, nil
		}
		c = &script.Company{}
	}
	r := people.Records{Calendars: map[string]*calendar.Calendar{}}
	if base != nil && !c.Alone {
		r = base.Records()
	}
	w := &joining{Records: r, persons: map[string]int{}}
	for i, p := range w.Persons {
		w.persons[p.Login] = i
	}
	err := w.join(s, c)
	if err != nil {
		return nil, &script.Wrong{Line: -1, Field: "company", Sentence: finding.Sentence(err.Error())}
	}
	return people.NewDirectory(w.Records), nil
}

// joining puts a company together.
type joining struct {
	people.Records
	persons map[string]int // place of a person by login
}

func (w *joining) join(s script.Script, c *script.Company) error {
	everybody := slices.Clone(c.People)
	if made := s.Asker.Made; made != nil {
		asker := *made
		if asker.Login == "" {
			asker.Login = asAsker
		}
		everybody = append(everybody, asker)
	}
	for _, p := range everybody {
		if p.Login == "" {
			return errors.New("a person of the company has no login")
		}
		if _, there := w.persons[p.Login]; !there {
			w.persons[p.Login] = len(w.Persons)
			w.Persons = append(w.Persons, people.Person{ID: p.Login, Login: p.Login, Name: p.Login})
		}
	}
	for _, p := range everybody {
		if err := w.person(&w.Persons[w.persons[p.Login]], p); err != nil {
			return err
		}
	}
	for key, document := range c.Calendars {
		findings := finding.List{}
		compiled := calendar.Compile(document, &findings)
		if findings.HasErrors() || document.Format != calendar.Format {
			return fmt.Errorf("the calendar %q cannot be used: %s", key, strings.TrimSuffix(first(findings, "its format is another"), "."))
		}
		w.Calendars[key] = compiled
	}
	for _, l := range c.Locations {
		w.Locations = append(w.Locations, people.Location{Name: l.Name, Calendar: l.Calendar})
	}
	for _, b := range c.Bundles {
		w.Bundles = append(w.Bundles, people.Bundle{Key: b.Key, Name: b.Name, Rule: b.Rule})
	}
	for _, key := range slices.Sorted(maps.Keys(c.Pools)) {
		if !slices.ContainsFunc(w.Pools, func(p people.Pool) bool { return p.Key == key }) {
			w.Pools = append(w.Pools, people.Pool{Key: key, Name: key, Size: c.Pools[key]})
		}
	}
	return w.organised(c)
}

func first(findings finding.List, otherwise string) string {
	for _, f := range findings {
		if f.Severity == finding.Error {
			return f.Sentence
		}
	}
	return otherwise
}

// person takes over what is said of somebody.
func (w *joining) person(p *people.Person, said script.Person) error {
	for _, field := range []struct {
		to   *string
		from string
	}{
		{&p.Name, said.Name}, {&p.Title, said.Title}, {&p.Email, said.Email}, {&p.Department, said.Department}, {&p.CostCentre, said.CostCentre},
		{&p.Location, said.Location}, {&p.Employment, said.Employment}, {&p.Grade, said.Grade}, {&p.Language, said.Language},
	} {
		if field.from != "" {
			*field.to = field.from
		}
	}
	p.Teams = append(slices.Clip(p.Teams), said.Teams...)
	if said.Manager == "" {
		return nil
	}
	manager, err := w.id(said.Manager)
	p.Manager = manager
	return err
}

// id finds somebody by login.
func (w *joining) id(login string) (string, error) {
	if login == "" {
		return "", nil
	}
	i, there := w.persons[login]
	if !there {
		return "", fmt.Errorf("the company has nobody with the login %q", login)
	}
	return w.Persons[i].ID, nil
}

// ids finds several.
func (w *joining) ids(logins ...string) ([]string, error) {
	out := make([]string, len(logins))
	var err error
	for i, login := range logins {
		if out[i], err = w.id(login); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// organised takes over teams, services, cost centres and absences.
func (w *joining) organised(c *script.Company) error {
	for _, t := range c.Teams {
		ids, err := w.ids(append([]string{t.Lead}, t.Members...)...)
		if err != nil {
			return err
		}
		team := people.Team{Key: t.Key, Name: t.Name, Lead: ids[0], Calendar: t.Calendar, Upward: t.Upward}
		if team.Name == "" {
			team.Name = t.Key
		}
		w.Teams = append(w.Teams, team)
		if t.Members == nil {
			continue
		}
		for i := range w.Persons {
			p := &w.Persons[i]
			in := slices.Contains(ids[1:], p.ID) || p.ID != "" && p.ID == ids[0]
			p.Teams = slices.DeleteFunc(slices.Clone(p.Teams), func(key string) bool { return key == t.Key })
			if in {
				p.Teams = append(p.Teams, t.Key)
			}
		}
	}
	for _, s := range c.Services {
		ids, err := w.ids(append([]string{s.Owner}, s.Editors...)...)
		if err != nil {
			return err
		}
		w.Services = append(w.Services, people.Service{Key: s.Key, Name: s.Name, Area: s.Area, Owner: ids[0], Home: s.Home, Editors: ids[1:], Place: people.Offered})
	}
	for _, centre := range c.CostCentres {
		owner, err := w.id(centre.Owner)
		if err != nil {
			return err
		}
		w.CostCentres = append(w.CostCentres, people.CostCentre{Key: centre.Key, Name: centre.Name, Owner: owner})
	}
	said := map[string]bool{}
	for _, a := range c.Absences {
		id, err := w.id(a.Person)
		if err != nil {
			return err
		}
		said[id] = true
	}
	w.Absences = slices.DeleteFunc(w.Absences, func(a people.Absence) bool { return said[a.Person] })
	for _, a := range c.Absences {
		ids, err := w.ids(a.Person, a.StandIn)
		if err != nil {
			return err
		}
		w.Absences = append(w.Absences, people.Absence{Person: ids[0], StandIn: ids[1], From: a.From.UTC(), Until: a.Until.UTC()})
	}
	return nil
}

// Samples are belongings to try an offering with: one of each kind it speaks of. What
// somebody really has is their own business.
func Samples(c *offering.Compiled) []people.Belonging {
	var kinds []string
	add := func(kind string) {
		if kind != "" && !slices.Contains(kinds, kind) {
			kinds = append(kinds, kind)
		}
	}
	for _, fit := range c.Document.Purpose.Fits {
		add(fit.Kind)
	}
	for _, task := range c.Document.Plan {
		if task.Belonging != nil {
			add(task.Belonging.Kind)
		}
	}
	if len(kinds) == 0 {
		add("thing")
	}
	all := make([]people.Belonging, len(kinds))
	for i, kind := range kinds {
		all[i] = people.Belonging{ID: "sample-" + kind, Kind: kind, Name: "Sample " + kind, Detail: "S-1000"}
	}
	return all
}
