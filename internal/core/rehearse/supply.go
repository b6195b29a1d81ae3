package rehearse

import (
	"slices"

	"heptad/internal/core/calendar"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/script"
)

// Supply adds to what a case carries the teams and people that an offering names now and the
// case does not have, as they are in a company.
func Supply(s script.Script, d offering.Document, company *people.Directory, calendars map[string]calendar.Document) script.Script {
	if s.Company == nil {
		return s
	}
	c := *s.Company
	c.People, c.Teams = slices.Clone(c.People), slices.Clone(c.Teams)
	add := func(id string, teams ...string) string {
		p, there := company.Person(id)
		if !there {
			return ""
		}
		i := slices.IndexFunc(c.People, func(o script.Person) bool { return o.Login == p.Login })
		if i < 0 {
			i = len(c.People)
			c.People = append(c.People, script.Person{Login: p.Login, Name: p.Name, Title: p.Title, Department: p.Department, Location: p.Location})
		}
		for _, team := range teams {
			if !slices.Contains(c.People[i].Teams, team) {
				c.People[i].Teams = append(slices.Clip(c.People[i].Teams), team)
			}
		}
		return p.Login
	}
	team := func(key string) {
		t, there := company.Team(key)
		if !there || slices.ContainsFunc(c.Teams, func(o script.Team) bool { return o.Key == key }) {
			return
		}
		for i, id := range company.Members(key) {
			if i < mostMembers {
				add(id, key)
			}
		}
		out := script.Team{Key: key, Name: t.Name, Lead: add(t.Lead, key)}
		if document, there := calendars[t.Calendar]; there {
			out.Calendar = t.Calendar
			if c.Calendars == nil {
				c.Calendars = map[string]calendar.Document{}
			}
			if _, has := c.Calendars[t.Calendar]; !has {
				c.Calendars[t.Calendar] = document
			}
		}
		c.Teams = append(c.Teams, out)
	}
	for _, key := range teamsOf(d) {
		team(key)
	}
	for _, login := range d.Persons() {
		if p, there := company.ByLogin(login); there {
			add(p.ID)
		}
	}
	s.Company = &c
	return s
}

// teamsOf are the keys of all teams that an offering names.
func teamsOf(d offering.Document) []string {
	var all []string
	for _, t := range d.Plan {
		all = append(all, t.Team)
		for _, r := range t.Routes {
			all = append(all, r.Team)
		}
		if t.Rescue != nil {
			all = append(all, t.Rescue.Team)
		}
		if t.People != nil {
			all = append(all, t.People.Team)
		}
	}
	for _, r := range d.Ladder {
		for _, source := range slices.Concat(r.Approvers, r.Fallback) {
			all = append(all, source.Team)
		}
	}
	return slices.DeleteFunc(all, func(key string) bool { return key == "" })
}
