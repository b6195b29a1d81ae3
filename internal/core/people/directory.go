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
	mails    map[string]string // small, to IDs; empty for those that several have
	teams    map[string]Team
	services map[string]Service
	members  map[string][]string // by team
	managers map[string]bool     // IDs of all who are somebody's line manager
	partial  bool

	costCentres map[string]CostCentre
	locations   map[string]Location
	calendars   map[string]*calendar.Calendar
	absences    map[string][]Absence // by person
	pools       map[string]Pool
	bundles     map[string]Bundle
	areas       map[string]Area // by name
	once        *sync.Map       // what others have worked out from it
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
		persons: map[string]Person{}, logins: map[string]string{}, mails: map[string]string{}, teams: map[string]Team{}, services: map[string]Service{}, members: map[string][]string{}, managers: map[string]bool{},
		costCentres: map[string]CostCentre{}, locations: map[string]Location{}, calendars: r.Calendars, absences: map[string][]Absence{}, pools: map[string]Pool{}, bundles: map[string]Bundle{}, areas: map[string]Area{}, once: &sync.Map{}, partial: r.Partial,
	}
	for _, p := range r.Persons {
		d.persons[p.ID] = p
		d.logins[p.Login] = p.ID
		d.addMail(p)
		for _, team := range p.Teams {
			if p.Former { // comes back to it, should they come back
				continue
			}
			d.members[team] = append(d.members[team], p.ID)
		}
	}
	for _, p := range d.persons {
		d.managers[p.Manager] = true
	}
	delete(d.managers, "") // those who have none
	for _, members := range d.members {
		slices.SortFunc(members, func(a, b string) int {
			return cmp.Or(strings.Compare(d.persons[a].Name, d.persons[b].Name), strings.Compare(a, b))
		})
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
func (d *Directory) Pools() []Pool { return sorted(d.pools, func(p Pool) string { return p.Name }) }

// TeamHours is the working calendar of a team; the given one when it has none.
func (d *Directory) TeamHours(team string, otherwise *calendar.Calendar) *calendar.Calendar {
	if c, ok := d.calendars[d.teams[team].Calendar]; ok {
		return c
	}
	return otherwise
}

// CostCentres lists all cost centres by key.
func (d *Directory) CostCentres() []CostCentre {
	return slices.SortedFunc(maps.Values(d.costCentres), func(a, b CostCentre) int { return strings.Compare(a.Key, b.Key) })
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

// Person finds somebody by ID.
func (d *Directory) Person(id string) (Person, bool) {
	p, ok := d.persons[id]
	return p, ok
}

// ByLogin finds somebody by login.
func (d *Directory) ByLogin(login string) (Person, bool) {
	id, ok := d.logins[login]
	if !ok {
		return Person{}, false
	}
	return d.Person(id)
}

func (d *Directory) addMail(p Person) {
	if p.Email == "" || p.Former {
		return
	}
	address := strings.ToLower(p.Email)
	if _, several := d.mails[address]; several {
		d.mails[address] = ""
		return
	}
	d.mails[address] = p.ID
}

// ByEmail finds the one who is there with a mail address; nobody when several have it.
func (d *Directory) ByEmail(address string) (Person, bool) {
	id := d.mails[strings.ToLower(strings.TrimSpace(address))]
	if id == "" {
		return Person{}, false
	}
	return d.Person(id)
}

// Name of a person, or the words "someone unknown".
func (d *Directory) Name(id string) string {
	if p, ok := d.persons[id]; ok {
		return p.Name
	}
	return "someone unknown"
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

// Persons lists everybody, by name; who has the same by ID.
func (d *Directory) Persons() []Person {
	return slices.SortedFunc(maps.Values(d.persons), func(a, b Person) int {
		return cmp.Or(strings.Compare(a.Name, b.Name), strings.Compare(a.ID, b.ID))
	})
}

// Teams lists all teams, by name.
func (d *Directory) Teams() []Team { return sorted(d.teams, func(t Team) string { return t.Name }) }

func sorted[T any](all map[string]T, by func(T) string) []T {
	return slices.SortedFunc(maps.Values(all), func(a, b T) int { return strings.Compare(by(a), by(b)) })
}

// maxChain is how many managers up a chain is followed.
const maxChain = 20

// Manager is the n-th manager above a person, the line manager for 1; false
// when the chain is shorter or goes in a circle.
func (d *Directory) Manager(id string, n int) (Person, bool) {
	logins := d.Managers(id)
	if n < 1 || n > len(logins) {
		return Person{}, false
	}
	return d.ByLogin(logins[n-1])
}

// Manages reports whether a person is somebody's line manager.
func (d *Directory) Manages(id string) bool { return d.managers[id] }

// Managers lists the logins of a person's managers, the nearest first. A
// circle in the directory ends it.
func (d *Directory) Managers(id string) []string {
	var logins []string
	seen := map[string]bool{id: true}
	for p, ok := d.persons[d.persons[id].Manager]; ok && !seen[p.ID] && len(logins) < maxChain; p, ok = d.persons[p.Manager] {
		seen[p.ID] = true
		logins = append(logins, p.Login)
	}
	return logins
}

// Locations lists the names of all places people work at, in order.
func (d *Directory) Locations() []string {
	return d.Values(func(p Person) string { return p.Location })
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

// Values lists what people have of something, each once and in order.
func (d *Directory) Values(of func(Person) string) []string {
	seen := map[string]bool{}
	for _, p := range d.persons {
		if value := of(p); value != "" {
			seen[value] = true
		}
	}
	return slices.Sorted(maps.Keys(seen))
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
