package intake

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/people"
)

// people reads the lines of a sheet of people.
func (w *worker) people() {
	w.alike("login", func(e *entry) string { return e.cell("login") }, func(first int) string {
		return fmt.Sprintf("Line %d has this login, too: one person stands in one line.", first)
	})
	w.alike("email", func(e *entry) string { return e.cell("email") }, func(first int) string {
		return fmt.Sprintf("Line %d has this mail address, too.", first)
	})
	inSheet := map[string]bool{} // small logins
	for _, e := range w.rows {
		if !e.left {
			inSheet[strings.ToLower(e.cell("login"))] = true
		}
	}
	before, after := make([]people.Person, len(w.rows)), make([]people.Person, len(w.rows))
	byLogin := map[string]people.Person{}
	for _, p := range w.company.Persons() {
		byLogin[strings.ToLower(p.Login)] = p
	}
	of := map[string]bool{} // IDs that have a line
	for i, e := range w.rows {
		p, there := byLogin[strings.ToLower(e.cell("login"))]
		if w.subject != "" {
			p, there = w.company.Person(w.subject)
		} else if !there { // whoever has the address got another login
			if p, there = w.company.ByEmail(e.cell("email")); there && inSheet[strings.ToLower(p.Login)] {
				there = false
			}
		}
		if !there {
			p, e.fresh = people.Person{ID: w.newID()}, true
		}
		before[i] = p
		if of[p.ID] = true; e.left {
			continue
		}
		e.texts(&p)
		e.active(&p)
		after[i] = p
		w.known.add(p)
	}
	for i, e := range w.rows {
		if e.left {
			continue
		}
		p := &after[i]
		if e.has("manager") {
			p.Manager = e.charge("manager", before[i].Manager)
			if p.Manager == p.ID && p.ID != "" {
				e.wrong("manager", "Nobody is their own manager: leave it empty for who is at the top.")
			}
		}
		e.teamsOf(p, before[i])
		if p.Former && !before[i].Former && !e.fresh && w.lastAdministrator(p.ID, after) {
			e.wrong("active", "Nobody else is an administrator: make somebody else one first.")
		}
		e.check(people.CheckPerson(*p))
		e.formulas()
		e.line.ID, e.line.Name = p.ID, p.Name
		if other, ok := byLogin[strings.ToLower(p.Login)]; ok && other.ID != p.ID {
			e.wrong("login", "Somebody else has this login: "+other.Name+".")
		}
	}
	w.circles(after)
	w.lean("manager", func(i int) (own, on string) { return after[i].ID, after[i].Manager })
	for i, e := range w.rows {
		if e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.Persons = append(w.Records.Persons, after[i])
		}
	}
	for _, p := range w.company.Persons() {
		if !of[p.ID] && !p.Former {
			w.Gone = append(w.Gone, Gone{p.ID, p.Name})
		}
	}
}

// texts reads what is plainly written of a person.
func (e *entry) texts(p *people.Person) {
	for _, f := range []struct {
		field string
		into  *string
	}{
		{"login", &p.Login}, {"name", &p.Name}, {"email", &p.Email}, {"title", &p.Title}, {"department", &p.Department}, {"cost_centre", &p.CostCentre},
		{"location", &p.Location}, {"employment", &p.Employment}, {"grade", &p.Grade}, {"language", &p.Language},
	} {
		e.set(f.field, f.into)
	}
	if place := e.cell("location"); place != "" && len(e.places) > 0 {
		if i := slices.IndexFunc(e.places, func(l string) bool { return strings.EqualFold(l, place) }); i >= 0 {
			p.Location = e.places[i]
		} else {
			e.wrong("location", fmt.Sprintf("There is no location %q.", place), e.nearest("location", place, func(yield func(string, string)) {
				for _, l := range e.places {
					yield(l, l)
				}
			})...)
		}
	}
	if centre := e.cell("cost_centre"); centre != "" && len(e.centres) > 0 {
		if _, ok := e.company.CostCentre(centre); !ok {
			e.wrong("cost_centre", fmt.Sprintf("There is no cost centre %q.", centre), e.nearest("centre", centre, func(yield func(string, string)) {
				for _, c := range e.centres {
					yield(c.Key, c.Key)
					yield(c.Name, c.Key)
				}
			})...)
		}
	}
}

func (e *entry) teamsOf(p *people.Person, before people.Person) {
	if !e.has("teams") {
		return
	}
	var teams, names, had []string
	for _, name := range list(e.cell("teams")) {
		if key := e.team("teams", name); key != "" && !slices.Contains(teams, key) {
			teams, names = append(teams, key), append(names, e.company.TeamName(key))
		}
	}
	for _, key := range before.Teams {
		if t, ok := e.company.Team(key); ok && t.Lead == p.ID && !slices.Contains(teams, key) { // a lead is a member
			teams, names = append(teams, key), append(names, t.Name)
		}
		had = append(had, e.company.TeamName(key))
	}
	slices.Sort(names)
	slices.Sort(had)
	e.change("teams", strings.Join(had, "; "), strings.Join(names, "; "))
	p.Teams = teams
}

// list are the parts of a cell that names several things.
func list(cell string) (parts []string) {
	for _, part := range strings.FieldsFunc(cell, func(r rune) bool { return r == ';' || r == '\n' }) {
		if part = strings.TrimSpace(part); part != "" {
			parts = append(parts, part)
		}
	}
	return parts
}

var truths = map[string]bool{
	"": true, "yes": true, "y": true, "true": true, "1": true, "active": true, "x": true, "enabled": true,
	"no": false, "n": false, "false": false, "0": false, "inactive": false, "left": false, "disabled": false,
}

// active reads whether somebody is with the company. A line of a sheet without the
// column says that they are.
func (e *entry) active(p *people.Person) {
	was := p.Former
	is, ok := truths[strings.ToLower(e.cell("active"))]
	if !ok {
		e.wrong("active", fmt.Sprintf("%q is neither yes nor no.", e.cell("active")), "yes", "no")
	}
	p.Former = !is
	e.change("active", said(!was && !e.fresh || e.fresh && is), said(is))
}

// lastAdministrator reports whether nobody else would be an administrator.
func (w *worker) lastAdministrator(id string, after []people.Person) bool {
	if p := w.known.of[id]; !p.Is(people.Administrator) {
		return false
	}
	left := map[string]bool{}
	for i, e := range w.rows {
		left[after[i].ID] = !e.left && !truths[strings.ToLower(e.cell("active"))]
	}
	for _, p := range w.company.Persons() {
		if p.ID != id && p.Is(people.Administrator) && !p.Former && !left[p.ID] {
			return false
		}
	}
	return true
}

func said(is bool) string {
	if is {
		return "yes"
	}
	return "no"
}

// circles finds managers who are, some steps up, their own.
func (w *worker) circles(after []people.Person) {
	manager := map[string]string{}
	for _, p := range w.known.of {
		manager[p.ID] = p.Manager
	}
	for i, e := range w.rows {
		if !e.left {
			manager[after[i].ID] = after[i].Manager
		}
	}
	for i, e := range w.rows {
		if e.left || !e.has("manager") {
			continue
		}
		start := after[i].ID
		chain, seen := []string{after[i].Login}, map[string]bool{}
		for at := manager[start]; at != "" && at != start && !seen[at]; at = manager[at] {
			seen[at] = true
			chain = append(chain, w.known.of[at].Login)
			if manager[at] == start {
				e.wrong("manager", "The managers go round in a circle: "+strings.Join(append(chain, after[i].Login), " → ")+". Somebody of them is at the top, or has another manager.")
			}
		}
	}
}
