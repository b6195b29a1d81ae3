// Package people describes the persons, teams and services of the company as
// the rules see them. It keeps no records: whoever calls the core hands a
// Directory in.
package people

import (
	"maps"
	"slices"
	"strings"
)

// Person is someone of the company. Empty texts mean unknown.
type Person struct {
	ID         string
	Login      string
	Name       string
	Title      string
	Email      string
	Department string
	CostCentre string
	Location   string
	Employment string
	Grade      string
	Language   string   // BCP 47, such as pt
	Manager    string   // ID of the line manager; empty at the top
	Teams      []string // keys of the teams they are a member of
	Away       bool     // has left the company
}

// Team does tasks. Its lead is a member, too.
type Team struct {
	Key  string
	Name string
	Lead string // ID of a person
}

// Service is something an area provides; it has an owner and a home team.
type Service struct {
	Key   string
	Name  string
	Area  string
	Text  string // what it is for
	Owner string // ID of a person
	Home  string // key of a team
	Place Place
}

// Place says where a service stands in the portfolio.
type Place string

// The places of the portfolio.
const (
	Intended Place = "intended"
	Offered  Place = "offered"
	Ended    Place = "ended"
)

// Newcomer is somebody who is not in the directory yet.
type Newcomer struct {
	Name       string `json:"name" maxLength:"120"`
	Email      string `json:"email,omitempty" maxLength:"200"`
	Title      string `json:"title,omitempty" maxLength:"120"`
	Department string `json:"department,omitempty" maxLength:"120"`
	Location   string `json:"location,omitempty" maxLength:"120"`
	CostCentre string `json:"costCentre,omitempty" maxLength:"60"`
}

// Person is the newcomer as rules see a person.
func (n Newcomer) Person() Person {
	return Person{Name: n.Name, Email: n.Email, Title: n.Title, Department: n.Department, Location: n.Location, CostCentre: n.CostCentre}
}

// Belonging is something a person has because a request was fulfilled.
type Belonging struct {
	ID     string `json:"id"`
	Kind   string `json:"kind" doc:"What sort of thing, such as badge"`
	Name   string `json:"name"`
	Detail string `json:"detail,omitempty" doc:"Number, size or place"`
}

// Directory is what the company knows of itself at one moment.
type Directory struct {
	persons  map[string]Person
	logins   map[string]string // to IDs
	teams    map[string]Team
	services map[string]Service
	members  map[string][]string // by team
	partial  bool
}

// NewDirectory builds a directory; later entries of one ID or key win.
func NewDirectory(persons []Person, teams []Team, services []Service) *Directory {
	d := &Directory{map[string]Person{}, map[string]string{}, map[string]Team{}, map[string]Service{}, map[string][]string{}, false}
	for _, p := range persons {
		d.persons[p.ID] = p
		d.logins[p.Login] = p.ID
		for _, team := range p.Teams {
			d.members[team] = append(d.members[team], p.ID)
		}
	}
	for _, t := range teams {
		d.teams[t.Key] = t
	}
	for _, s := range services {
		d.services[s.Key] = s
	}
	return d
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

// Service finds a service by key.
func (d *Directory) Service(key string) (Service, bool) {
	s, ok := d.services[key]
	return s, ok
}

// Members lists the IDs of the members of a team.
func (d *Directory) Members(team string) []string { return d.members[team] }

// Persons lists everybody, by name.
func (d *Directory) Persons() []Person {
	return sorted(d.persons, func(p Person) string { return p.Name })
}

// Teams lists all teams, by name.
func (d *Directory) Teams() []Team { return sorted(d.teams, func(t Team) string { return t.Name }) }

// Services lists all services, by area and name.
func (d *Directory) Services() []Service {
	return sorted(d.services, func(s Service) string { return s.Area + "\x00" + s.Name })
}

func sorted[T any](all map[string]T, by func(T) string) []T {
	return slices.SortedFunc(maps.Values(all), func(a, b T) int { return strings.Compare(by(a), by(b)) })
}

// maxChain is how many managers up a chain is followed.
const maxChain = 20

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

// InTeam tells whether a person is a member of a team.
func (d *Directory) InTeam(person, team string) bool {
	for _, t := range d.persons[person].Teams {
		if t == team {
			return true
		}
	}
	return false
}
