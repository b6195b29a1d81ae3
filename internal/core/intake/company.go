package intake

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/people"
)

// locations reads the lines of a sheet of locations.
func (w *worker) locations() {
	w.alike("name", func(e *entry) string { return e.cell("name") }, twice)
	of := map[string]bool{}
	for _, e := range w.rows {
		l, there := w.company.Location(e.cell("name"))
		if of[l.Name] = true; e.left {
			continue
		}
		e.fresh = !there
		e.set("name", &l.Name)
		e.set("calendar", &l.Calendar)
		e.calendar(l.Calendar)
		e.check(people.CheckLocation(l))
		e.formulas()
		if e.line.ID, e.line.Name = l.Name, l.Name; e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.Locations = append(w.Records.Locations, l)
		}
	}
	for _, name := range w.company.LocationNames() {
		if !of[name] {
			w.Gone = append(w.Gone, Gone{name, name})
		}
	}
}

func twice(first int) string { return fmt.Sprintf("Line %d is about the same, too.", first) }

// costCentres reads the lines of a sheet of cost centres.
func (w *worker) costCentres() {
	w.alike("key", func(e *entry) string { return e.cell("key") }, twice)
	of := map[string]bool{}
	for _, e := range w.rows {
		c, there := w.company.CostCentre(e.cell("key"))
		if of[c.Key] = true; e.left {
			continue
		}
		e.fresh = !there
		before := c
		e.set("key", &c.Key)
		e.set("name", &c.Name)
		c.Owner = e.charge("owner", before.Owner)
		e.check(people.CheckCostCentre(c))
		e.formulas()
		if e.line.ID, e.line.Name = c.Key, strings.TrimSpace(c.Key+" "+c.Name); e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.CostCentres = append(w.Records.CostCentres, c)
		}
	}
	for _, c := range w.company.CostCentres() {
		if !of[c.Key] {
			w.Gone = append(w.Gone, Gone{c.Key, c.Name})
		}
	}
}

// keyed is the key of a line: as it stands there, else that of what has the name, else
// one made of the name.
func (e *entry) keyed(named func(name string) string) string {
	if key := e.cell("key"); key != "" {
		return key
	}
	if key := named(e.cell("name")); key != "" {
		return key
	}
	return people.KeyOf(e.cell("name"))
}

// teams reads the lines of a sheet of teams.
func (w *worker) teams() {
	key := func(e *entry) string {
		return e.keyed(func(name string) string {
			i := slices.IndexFunc(w.allTeams, func(t people.Team) bool { return strings.EqualFold(t.Name, name) })
			if i < 0 {
				return ""
			}
			return w.allTeams[i].Key
		})
	}
	w.alike("name", key, twice)
	of := map[string]bool{}
	after := make([]people.Team, len(w.rows))
	for i, e := range w.rows {
		t, there := w.company.Team(key(e))
		if of[t.Key] = true; e.left {
			continue
		}
		e.fresh, t.Key = !there, key(e)
		before := t
		e.set("name", &t.Name)
		e.set("calendar", &t.Calendar)
		e.calendar(t.Calendar)
		t.Lead = e.charge("lead", before.Lead)
		e.members(t)
		e.check(people.CheckTeam(t))
		e.formulas()
		e.line.ID, e.line.Name, after[i] = t.Key, t.Name, t
		w.Records.Teams = append(w.Records.Teams, t) // so that others find it; the good ones are kept below
	}
	for i, e := range w.rows {
		if e.left || !e.has("upward") {
			continue
		}
		up := e.team("upward", e.cell("upward"))
		if up == after[i].Key && up != "" {
			e.wrong("upward", "A team does not hand up to itself.")
		}
		e.change("upward", after[i].Upward, up)
		after[i].Upward = up
	}
	w.upCircles(after)
	w.lean("upward", func(i int) (own, on string) { return after[i].Key, after[i].Upward })
	w.Records.Teams = nil
	for i, e := range w.rows {
		if e.good() && (e.fresh || len(e.line.Changes) > 0) {
			w.Records.Teams = append(w.Records.Teams, after[i])
		} else {
			delete(w.Members, after[i].Key)
		}
	}
	for _, t := range w.allTeams {
		if !of[t.Key] {
			w.Gone = append(w.Gone, Gone{t.Key, t.Name})
		}
	}
}

// upCircles finds teams that hand up to themselves, some steps up.
func (w *worker) upCircles(after []people.Team) {
	up := map[string]string{}
	for _, t := range w.allTeams {
		up[t.Key] = t.Upward
	}
	for i, e := range w.rows {
		if !e.left {
			up[after[i].Key] = after[i].Upward
		}
	}
	for i, e := range w.rows {
		seen := map[string]bool{}
		for at := up[after[i].Key]; !e.left && at != "" && !seen[at] && at != after[i].Key; at = up[at] {
			seen[at] = true
			if up[at] == after[i].Key && e.has("upward") {
				e.wrong("upward", "The teams hand up in a circle: one of them is at the top.")
			}
		}
	}
}

// members reads who is in a team; its lead is.
func (e *entry) members(t people.Team) {
	had := slices.Clone(e.company.Members(t.Key))
	have := slices.Clone(had)
	if e.has("members") {
		have = nil
		for _, name := range list(e.cell("members")) {
			if id := e.personNamed("members", name); id != "" && !slices.Contains(have, id) {
				have = append(have, id)
			}
		}
	}
	if t.Lead != "" && !slices.Contains(have, t.Lead) {
		have = append(have, t.Lead)
	}
	named := func(ids []string) string {
		labels := make([]string, len(ids))
		for i, id := range ids {
			labels[i] = e.label(id)
		}
		slices.Sort(labels)
		return strings.Join(labels, "; ")
	}
	e.change("members", named(had), named(have))
	e.Members[t.Key] = have
}
