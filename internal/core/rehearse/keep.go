package rehearse

import (
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/script"
)

// mostMembers is how many members of a team a case carries, beside its lead and those who
// acted.
const mostMembers = 6

// Alone is the script of a life with all that it stands on written in, so that it never
// reads a company again. The calendars are given as documents, by key.
func (l *Life) Alone(calendars map[string]calendar.Document) script.Script {
	k := &keeping{Life: l, logins: map[string]bool{}, teams: map[string]bool{}, calendars: map[string]bool{}}
	k.gather()
	out := l.Script
	out.Company = k.company(calendars)
	if l.Script.Asker.Made == nil {
		out.Asker = script.Who{Login: l.asker.Login}
	}
	return out
}

// keeping gathers what a life stands on.
type keeping struct {
	*Life
	logins    map[string]bool
	teams     map[string]bool
	calendars map[string]bool
}

// person takes somebody along, by ID.
func (k *keeping) person(id string) {
	if p, there := k.Company.Person(id); there {
		k.logins[p.Login] = true
	}
}

// above takes somebody along with those above them.
func (k *keeping) above(id string) {
	k.person(id)
	for _, login := range k.Company.Managers(id) {
		k.logins[login] = true
	}
}

// team takes a team along, with its lead, some of its members and the teams upward.
func (k *keeping) team(key string) {
	t, there := k.Company.Team(key)
	if !there || k.teams[key] {
		return
	}
	k.teams[key] = true
	k.calendars[t.Calendar] = true
	k.person(t.Lead)
	for i, id := range k.Company.Members(key) {
		if i < mostMembers {
			k.person(id)
		}
	}
	k.team(t.Upward)
}

func (k *keeping) gather() {
	k.above(k.asker.ID)
	k.above(k.whom.Person)
	for _, e := range k.Steps {
		k.person(e.Actor)
	}
	d := k.Offering.Document
	for _, login := range append(d.Persons(), k.Script.Names()...) {
		if p, there := k.Company.ByLogin(login); there {
			k.person(p.ID)
		}
	}
	for _, key := range teamsOf(d) {
		k.team(key)
	}
	for _, t := range k.State.Tasks {
		k.team(t.Team)
	}
	for _, r := range k.State.Rungs {
		for _, seat := range r.Seats {
			for _, id := range seat.Everybody() {
				k.above(id)
			}
		}
	}
	k.team(k.Service.Home)
	k.person(k.Service.Owner)
	for _, id := range k.Service.Editors {
		k.person(id)
	}
	k.answered()
	k.calendars[d.Promise.Calendar] = true
	for _, t := range d.Promise.Targets {
		k.calendars[t.Calendar] = true
	}
	for login := range maps.Clone(k.logins) {
		p, _ := k.Company.ByLogin(login)
		k.calendars[k.Company.CalendarOf(p.ID)] = true
		if a, away := k.Company.Absence(p.ID, k.Script.Send); away {
			k.person(a.StandIn)
		}
	}
}

// answered takes those along whom answers name.
func (k *keeping) answered() {
	for _, q := range k.Offering.Document.Questions {
		switch q.Kind {
		case form.Person:
			for _, login := range k.State.Answers.Texts(q.Key) {
				k.logins[login] = true
			}
		case form.Team:
			for _, key := range k.State.Answers.Texts(q.Key) {
				k.team(key)
			}
		}
	}
}

// company writes down what was gathered.
func (k *keeping) company(calendars map[string]calendar.Document) *script.Company {
	c := &script.Company{Alone: true, Calendars: map[string]calendar.Document{}, Pools: map[string]int{}}
	for _, login := range slices.Sorted(maps.Keys(k.logins)) {
		if p, there := k.Company.ByLogin(login); there {
			c.People = append(c.People, k.card(p))
		}
	}
	for _, key := range slices.Sorted(maps.Keys(k.teams)) {
		t, _ := k.Company.Team(key)
		team := script.Team{Key: t.Key, Name: t.Name, Lead: k.login(t.Lead), Calendar: t.Calendar, Upward: t.Upward}
		c.Teams = append(c.Teams, team)
	}
	s := k.Service
	service := script.Service{Key: s.Key, Name: s.Name, Area: s.Area, Owner: k.login(s.Owner), Home: s.Home}
	for _, id := range s.Editors {
		service.Editors = append(service.Editors, k.login(id))
	}
	c.Services = []script.Service{service}
	places := map[string]bool{}
	for _, p := range c.People {
		places[p.Location] = true
	}
	for _, name := range slices.Sorted(maps.Keys(places)) {
		if at, there := k.Company.Location(name); there && name != "" {
			c.Locations = append(c.Locations, script.Location{Name: at.Name, Calendar: at.Calendar})
		}
	}
	for key := range k.calendars {
		if document, there := calendars[key]; there {
			c.Calendars[key] = k.around(document)
		}
	}
	for _, part := range k.Offering.Document.Audience.Bundles {
		if b, there := k.Company.Bundle(part.Key); there {
			c.Bundles = append(c.Bundles, script.Bundle{Key: b.Key, Name: b.Name, Rule: b.Rule})
		}
	}
	for _, key := range k.Offering.Pools {
		c.Pools[key] = k.pools[key]
	}
	for _, b := range k.had {
		c.Belongings = append(c.Belongings, script.Belonging{ID: b.ID, Kind: b.Kind, Name: b.Name, Detail: b.Detail, Until: b.Until})
	}
	k.paying(c)
	k.away(c)
	c.Measured = k.measured()
	return c
}

// around is a calendar without the exceptions that no rehearsal of this script can come to.
func (k *keeping) around(d calendar.Document) calendar.Document {
	from, until := k.Script.Send.AddDate(0, -1, 0).Format(time.DateOnly), k.Script.Send.Add(mostTime).AddDate(0, 3, 0).Format(time.DateOnly)
	d.Exceptions = slices.DeleteFunc(slices.Clone(d.Exceptions), func(e calendar.Exception) bool {
		return e.Repeat == "" && (e.Date < from || e.Date > until)
	})
	return d
}

func (k *keeping) login(id string) string {
	p, _ := k.Company.Person(id)
	return p.Login
}

// card is what a case carries of somebody: what everybody may know of a colleague, with
// whom they answer to and where they work; of who asks, and whom it is for, also what the
// audience reads.
func (k *keeping) card(p people.Person) script.Person {
	out := script.Person{Login: p.Login, Name: p.Name, Title: p.Title, Department: p.Department, Location: p.Location, Manager: k.login(p.Manager)}
	if !k.logins[out.Manager] {
		out.Manager = ""
	}
	for _, team := range p.Teams {
		if k.teams[team] {
			out.Teams = append(out.Teams, team)
		}
	}
	if p.ID != k.asker.ID && p.ID != k.whom.Person {
		return out
	}
	out.CostCentre = p.CostCentre
	reads := k.audience()
	if strings.Contains(reads, ".employment") {
		out.Employment = p.Employment
	}
	if strings.Contains(reads, ".grade") {
		out.Grade = p.Grade
	}
	return out
}

// audience is the text of all rules that say who may ask.
func (k *keeping) audience() string {
	a := k.Offering.Document.Audience
	text := a.See + " " + a.Ask + " " + a.For
	for _, part := range a.Bundles {
		text += " " + part.Rule
		if b, there := k.Company.Bundle(part.Key); there {
			text += " " + b.Rule
		}
	}
	return text
}

// paying takes the cost centres along that have to do with it.
func (k *keeping) paying(c *script.Company) {
	keys := map[string]bool{k.asker.CostCentre: true}
	if p, there := k.Company.Person(k.whom.Person); there {
		keys[p.CostCentre] = true
	}
	if n := k.whom.Newcomer; n != nil {
		keys[n.CostCentre] = true
	}
	for _, s := range k.State.Price.Shares {
		keys[s.Name] = true
	}
	for _, q := range k.Offering.Document.Questions {
		for _, text := range k.State.Answers.Texts(q.Key) {
			keys[text] = true
		}
	}
	for _, key := range slices.Sorted(maps.Keys(keys)) {
		centre, there := k.Company.CostCentre(key)
		if !there || key == "" {
			continue
		}
		c.CostCentres = append(c.CostCentres, script.CostCentre{Key: key, Name: centre.Name, Owner: k.also(c, centre.Owner)})
	}
}

// also takes one more person along, by ID, and gives the login.
func (k *keeping) also(c *script.Company, id string) string {
	p, there := k.Company.Person(id)
	if there && !k.logins[p.Login] {
		k.logins[p.Login] = true
		c.People = append(c.People, k.card(p))
	}
	return p.Login
}

// away takes the absences along that touch the time of the rehearsal.
func (k *keeping) away(c *script.Company) {
	for _, a := range k.Company.Absences() {
		login := k.login(a.Person)
		if !k.logins[login] || !a.Until.After(k.Script.Send) || a.From.After(k.Until) {
			continue
		}
		c.Absences = append(c.Absences, script.Absence{Person: login, From: a.From, Until: a.Until, StandIn: k.also(c, a.StandIn)})
	}
}

// measured are the times that work took: twenty of each, from the shortest to the longest,
// stand for all.
func (k *keeping) measured() *script.Measured {
	m := k.ground.Measures
	if own := k.Script.Company; own != nil && (own.Alone || own.Measured != nil) {
		return own.Measured
	}
	if m == nil {
		return nil
	}
	out := &script.Measured{Tasks: map[string][]script.Length{}, Rescues: map[string][]script.Length{}, Rungs: map[string][]script.Length{}}
	take := func(into map[string][]script.Length, key string, all []time.Duration) {
		if len(all) < plan.EnoughMeasured {
			return
		}
		for i := range plan.EnoughMeasured {
			into[key] = append(into[key], script.Lasting(all[(2*i+1)*len(all)/(2*plan.EnoughMeasured)]))
		}
	}
	for _, t := range k.Offering.Document.Plan {
		take(out.Tasks, t.Key, m.Task(t.Key))
		take(out.Rescues, t.Key, m.Rescue(t.Key))
	}
	for _, r := range k.Offering.Document.Ladder {
		take(out.Rungs, r.Key, m.Rung(r.Key))
	}
	if len(out.Tasks)+len(out.Rescues)+len(out.Rungs) == 0 {
		return nil
	}
	return out
}
