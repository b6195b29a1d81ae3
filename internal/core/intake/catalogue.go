package intake

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/picture"
)

// services reads the lines of a sheet of services.
func (w *worker) services() {
	key := func(e *entry) string {
		return e.keyed(func(name string) string {
			i := slices.IndexFunc(w.company.Services(), func(s people.Service) bool { return strings.EqualFold(s.Name, name) })
			if i < 0 {
				return ""
			}
			return w.company.Services()[i].Key
		})
	}
	w.alike("name", key, twice)
	of := map[string]bool{}
	for _, e := range w.rows {
		s, there := w.company.Service(key(e))
		if of[s.Key] = true; e.left {
			continue
		}
		e.fresh, s.Key = !there, key(e)
		before := s
		e.set("name", &s.Name)
		e.set("area", &s.Area)
		e.set("text", &s.Text)
		s.Owner = e.charge("owner", before.Owner)
		s.Home = e.team("home", e.cell("home"))
		if a, known := e.company.Area(s.Area); known {
			s.Area = a.Name // however its letters are written
			if e.cell("home") == "" {
				s.Home = a.Home
			}
		}
		if s.Home == "" && e.cell("home") == "" {
			e.wrong("home", "Home team is missing.")
		}
		e.change("home", e.company.TeamName(before.Home), e.company.TeamName(s.Home))
		e.beside("editors", before.Editors, &s.Editors, s.Owner)
		e.truth("second", &s.Second)
		if s.Second && len(w.company.Designers(s)) < 2 {
			e.wrong("second", "Nobody could say the second yes: name an editor beside the owner.")
		}
		e.set("words", &s.Words)
		e.date("starts", &s.Starts)
		e.date("review", &s.Review)
		e.picture(&s.Picture)
		e.place(&s.Place)
		e.check(people.CheckService(s))
		e.formulas()
		if e.line.ID, e.line.Name = s.Key, s.Name; e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.Services = append(w.Records.Services, s)
		}
	}
	for _, s := range w.company.Services() {
		if !of[s.Key] {
			w.Gone = append(w.Gone, Gone{s.Key, s.Name})
		}
	}
}

// areas reads the lines of a sheet of areas.
func (w *worker) areas() {
	w.alike("name", func(e *entry) string { return e.cell("name") }, twice)
	of := map[string]bool{}
	for _, e := range w.rows {
		name := e.cell("name")
		if w.subject != "" {
			name = w.subject
		}
		a, there := w.company.Area(name)
		if of[a.Name] = true; e.left {
			continue
		}
		e.fresh = !there
		before := a
		if e.set("name", &a.Name); there && a.Name != before.Name {
			if other, taken := w.company.Area(a.Name); taken && other.Name != before.Name {
				e.wrong("name", "There is an area of this name already.")
			}
			w.Renamed[before.Name] = a.Name
		}
		e.set("text", &a.Text)
		a.Owner = e.charge("owner", before.Owner)
		a.Home = e.team("home", e.cell("home"))
		e.change("home", e.company.TeamName(before.Home), e.company.TeamName(a.Home))
		e.beside("editors", before.Editors, &a.Editors, a.Owner)
		e.truth("second", &a.Second)
		e.set("words", &a.Words)
		e.date("starts", &a.Starts)
		e.date("review", &a.Review)
		e.picture(&a.Picture)
		e.place(&a.Place)
		e.check(people.CheckArea(a))
		e.formulas()
		if e.line.ID, e.line.Name = a.Name, a.Name; e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.Areas = append(w.Records.Areas, a)
		}
	}
	for _, a := range w.company.Areas() {
		if !of[a.Name] {
			w.Gone = append(w.Gone, Gone{a.Name, a.Name})
		}
	}
}

// place reads a place in the portfolio; what is new is offered.
func (e *entry) place(into *people.Place) {
	before := *into
	if place := e.cell("place"); place != "" {
		*into = people.Place(strings.ToLower(place))
	} else if before == "" {
		*into = people.Offered
	}
	e.change("place", string(before), string(*into))
}

// beside reads who designs something beside its owner.
func (e *entry) beside(field string, before []string, into *[]string, owner string) {
	if !e.has(field) {
		return
	}
	named := func(ids []string) string {
		labels := make([]string, len(ids))
		for i, id := range ids {
			labels[i] = e.label(id)
		}
		return strings.Join(labels, "; ")
	}
	*into = nil
	for _, name := range list(e.cell(field)) {
		if id := e.personNamed(field, name); id != "" && id != owner && !slices.Contains(*into, id) {
			*into = append(*into, id)
		}
	}
	e.change(field, named(before), named(*into))
}

// truth reads a yes or no; nothing is no.
func (e *entry) truth(field string, into *bool) {
	if !e.has(field) {
		return
	}
	is, ok := truths[strings.ToLower(e.cell(field))]
	if !ok {
		e.wrong(field, fmt.Sprintf("%q is neither yes nor no.", e.cell(field)), "yes", "no")
	}
	before := *into
	*into = is && e.cell(field) != ""
	e.change(field, said(before), said(*into))
}

// picture reads a picture set by hand. What it was and is stands in no change: it is long.
func (e *entry) picture(into *string) {
	if !e.has("picture") || e.cell("picture") == *into {
		return
	}
	if *into = e.cell("picture"); !picture.Good(*into) {
		e.wrong("picture", "Choose a picture of at most 60 kB: PNG, JPEG, WebP, or an SVG of plain shapes.")
	}
	after := "another picture"
	if *into == "" {
		after = ""
	}
	e.change("picture", "a picture", after)
}

// date reads a day.
func (e *entry) date(field string, into *string) {
	e.set(field, into)
	if _, err := time.Parse(time.DateOnly, *into); *into != "" && err != nil {
		e.wrong(field, fmt.Sprintf("%q is no date: write it such as 2027-01-04.", *into))
	}
}
