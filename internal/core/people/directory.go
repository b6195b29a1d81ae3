package people

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"heptad/internal/core/calendar"
)

// Directory is what the company knows of itself at one moment.
type Directory struct {
	persons  map[string]Person
	logins   map[string]string // to IDs
	teams    map[string]Team
	services map[string]Service
	members  map[string][]string // by team
	partial  bool

	costCentres map[string]CostCentre
	locations   map[string]Location
	calendars   map[string]*calendar.Calendar
	absences    map[string][]Absence // by person
	pools       map[string]Pool
	bundles     map[string]Bundle
	areas       map[string]Area // by name
	once        *sync.Map       // what was worked out from it
}

// Records are what a directory is built from.
type Records struct {
	Persons     []Person
	Teams       []Team
	Services    []Service
	CostCentres []CostCentre
	Locations   []Location
	Calendars   map[string]*calendar.Calendar // by key
	Absences    []Absence
	Pools       []Pool
	Bundles     []Bundle
	Areas       []Area // those that services are in are there without being named
	Partial     bool   // it is of a file of people, which tells of nothing else
}

// NewDirectory builds a directory; later entries of one ID or key win.
func NewDirectory(r Records) *Directory {
	d := &Directory{
		persons: map[string]Person{}, logins: map[string]string{}, teams: map[string]Team{}, services: map[string]Service{}, members: map[string][]string{},
		costCentres: map[string]CostCentre{}, locations: map[string]Location{}, calendars: r.Calendars, absences: map[string][]Absence{}, pools: map[string]Pool{}, bundles: map[string]Bundle{}, areas: map[string]Area{}, once: &sync.Map{}, partial: r.Partial,
	}
	for _, p := range r.Persons {
		d.persons[p.ID] = p
		d.logins[p.Login] = p.ID
		for _, team := range p.Teams {
			if p.Former { // comes back to it, should they come back
				continue
			}
			d.members[team] = append(d.members[team], p.ID)
		}
	}
	for team := range d.members {
		d.sortMembers(team)
	}
	for _, t := range r.Teams {
		d.teams[t.Key] = t
	}
	for _, s := range r.Services {
		d.services[s.Key] = s
		d.areas[s.Area] = Area{Name: s.Area, Place: Offered}
	}
	for _, a := range r.Areas {
		d.areas[a.Name] = a
	}
	for _, c := range r.CostCentres {
		d.costCentres[c.Key] = c
	}
	for _, l := range r.Locations {
		d.locations[l.Name] = l
	}
	for _, p := range r.Pools {
		d.pools[p.Key] = p
	}
	for _, b := range r.Bundles {
		d.bundles[b.Key] = b
	}
	for _, a := range r.Absences {
		d.absences[a.Person] = append(d.absences[a.Person], a)
	}
	return d
}

func (d *Directory) sortMembers(team string) {
	slices.SortFunc(d.members[team], func(a, b string) int {
		return cmp.Or(strings.Compare(d.persons[a].Name, d.persons[b].Name), strings.Compare(a, b))
	})
}

// Records are what the directory could be built from again.
func (d *Directory) Records() Records {
	r := Records{Persons: d.Persons(), Teams: d.Teams(), Services: d.Services(), CostCentres: d.CostCentres(), Calendars: maps.Clone(d.calendars), Pools: d.Pools(), Bundles: d.Bundles(), Areas: d.Areas(), Partial: d.partial}
	for _, name := range d.LocationNames() {
		r.Locations = append(r.Locations, d.locations[name])
	}
	r.Absences = d.Absences()
	return r
}

// Once keeps with a directory, which never changes, what others work out from it, so
// that it is worked out once.
func (d *Directory) Once(key any, make func() any) any {
	if kept, ok := d.once.Load(key); ok {
		return kept
	}
	kept, _ := d.once.LoadOrStore(key, make())
	return kept
}

// Pool finds a pool by key.
func (d *Directory) Pool(key string) (Pool, bool) {
	p, ok := d.pools[key]
	return p, ok
}

// Pools lists the pools by name.
func (d *Directory) Pools() []Pool { return sorted(d, d.pools, func(p Pool) string { return p.Name }) }

// TeamHours is the working calendar of a team; the given one when it has none.
func (d *Directory) TeamHours(team string, otherwise *calendar.Calendar) *calendar.Calendar {
	if c, ok := d.calendars[d.teams[team].Calendar]; ok {
		return c
	}
	return otherwise
}

// CostCentres lists all cost centres by key.
func (d *Directory) CostCentres() []CostCentre {
	return sorted(d, d.costCentres, func(c CostCentre) string { return c.Key })
}

// CentreName is the name of a cost centre, or its key when it has none.
func (d *Directory) CentreName(key string) string {
	if c, ok := d.CostCentre(key); ok && c.Name != "" {
		return c.Name
	}
	return key
}

// CostCentre finds a cost centre by key.
func (d *Directory) CostCentre(key string) (CostCentre, bool) {
	c, ok := d.costCentres[key]
	return c, ok
}

// Calendar finds a working calendar by key.
func (d *Directory) Calendar(key string) (*calendar.Calendar, bool) {
	c, ok := d.calendars[key]
	return c, ok
}

// CalendarOf is the key of the working calendar of a person's location; empty when
// it has none.
func (d *Directory) CalendarOf(person string) string {
	return d.locations[d.persons[person].Location].Calendar
}

// HoursOf is the working calendar of a person: that of their location, else
// Monday to Friday round the clock in UTC.
func (d *Directory) HoursOf(person string) *calendar.Calendar {
	if c, ok := d.calendars[d.locations[d.persons[person].Location].Calendar]; ok {
		return c
	}
	return calendar.Plain(time.UTC)
}

// ZoneOf is the zone that times are told a person in: what they chose, else that of where
// they work.
func (d *Directory) ZoneOf(person string) *time.Location {
	if zone, err := time.LoadLocation(d.persons[person].Zone); err == nil && d.persons[person].Zone != "" {
		return zone
	}
	return d.HoursOf(person).Zone()
}

// Team finds a team by key.
func (d *Directory) Team(key string) (Team, bool) {
	t, ok := d.teams[key]
	return t, ok
}

// TeamName is the name of a team, or its key when it is unknown.
func (d *Directory) TeamName(key string) string {
	if t, ok := d.teams[key]; ok {
		return t.Name
	}
	return key
}

// Members lists the IDs of the members of a team, by name.
func (d *Directory) Members(team string) []string { return d.members[team] }

// Teams lists all teams, by name.
func (d *Directory) Teams() []Team { return sorted(d, d.teams, func(t Team) string { return t.Name }) }

// listOf is the key of a list that a directory keeps of all things of a kind.
type listOf[T any] struct{}

// sorted lists all things of a kind in an order. The list is made once: nobody changes it.
func sorted[T any](d *Directory, all map[string]T, by func(T) string) []T {
	return d.Once(listOf[T]{}, func() any {
		type place struct{ by, key string }
		places := make([]place, 0, len(all))
		for key, thing := range all {
			places = append(places, place{by(thing), key})
		}
		slices.SortFunc(places, func(a, b place) int { return cmp.Or(strings.Compare(a.by, b.by), strings.Compare(a.key, b.key)) })
		list := make([]T, len(places))
		for i, p := range places {
			list[i] = all[p.key]
		}
		return list
	}).([]T)
}

// Locations lists the names of all places people work at, in order.
func (d *Directory) Locations() []string {
	return d.values("location", func(p Person) string { return p.Location })
}

// Departments lists those that people are of, in order.
func (d *Directory) Departments() []string {
	return d.values("department", func(p Person) string { return p.Department })
}

// Employments lists the kinds of contract that people have, in order.
func (d *Directory) Employments() []string {
	return d.values("employment", func(p Person) string { return p.Employment })
}

// Grades lists those that people have, in order.
func (d *Directory) Grades() []string {
	return d.values("grade", func(p Person) string { return p.Grade })
}

// Places lists the words for where people work: locations, and the keys of the
// calendars there.
func (d *Directory) Places() []string {
	names := d.Locations()
	return slices.AppendSeq(names, maps.Keys(d.calendars))
}

// LocationsIn lists the locations that work by a calendar, by name.
func (d *Directory) LocationsIn(calendar string) []string {
	names := []string{}
	for _, l := range d.locations {
		if l.Calendar == calendar {
			names = append(names, l.Name)
		}
	}
	slices.Sort(names)
	return names
}

// Location finds a location by its name, however its letters are written.
func (d *Directory) Location(name string) (Location, bool) {
	if l, ok := d.locations[name]; ok {
		return l, true
	}
	for _, l := range d.locations {
		if strings.EqualFold(l.Name, name) {
			return l, true
		}
	}
	return Location{}, false
}

// LocationNames lists the locations that are kept, by name.
func (d *Directory) LocationNames() []string { return slices.Sorted(maps.Keys(d.locations)) }

// CalendarKeys lists the working calendars, by key.
func (d *Directory) CalendarKeys() []string { return slices.Sorted(maps.Keys(d.calendars)) }

// valuesOf is the key of what people have of something.
type valuesOf string

// values lists what people have of something, each once and in order.
func (d *Directory) values(name string, of func(Person) string) []string {
	return d.Once(valuesOf(name), func() any {
		seen := map[string]bool{}
		for _, p := range d.persons {
			if value := of(p); value != "" {
				seen[value] = true
			}
		}
		return slices.Clip(slices.Sorted(maps.Keys(seen)))
	}).([]string)
}

// InTeam reports whether a person is a member of a team.
func (d *Directory) InTeam(person, team string) bool {
	for _, t := range d.persons[person].Teams {
		if t == team {
			return true
		}
	}
	return false
}
