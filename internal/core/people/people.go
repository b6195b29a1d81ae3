package people

import (
	"slices"
	"time"
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
	Roles      []string // beyond what follows from teams and services, such as Administrator
	Speaks     string   // BCP 47, as they chose themself; empty for Language
	Zone       string   // IANA, as they chose themself; empty for that of where they work
	Former     bool     // has left the company
}

// Roles that are given to people. None of them opens a request.
const (
	Administrator = "administrator" // manages people, teams and calendars
	Auditor       = "auditor"       // reads the audit
	Analyst       = "analyst"       // measures, without answers
	Executive     = "executive"     // measures the whole company
	CallerStaff   = "caller-staff"  // sends requests for others
	Tester        = "tester"        // acts as anybody, in an installation for trying alone
)

// Roles lists them in their order.
var Roles = []string{Administrator, Auditor, Analyst, Executive, CallerStaff, Tester}

// Is reports whether somebody has a role.
func (p Person) Is(role string) bool { return slices.Contains(p.Roles, role) }

// Team does tasks. Its lead is a member, too.
type Team struct {
	Key      string
	Name     string
	Lead     string // ID of a person
	Calendar string // key of its working calendar; empty for none of its own
	Upward   string // key of the next team upward; empty at the top
}

// Pool is something there is only so much of.
type Pool struct {
	Key  string
	Name string
	Size int
}

// CostCentre pays; its owner answers for what it pays.
type CostCentre struct {
	Key   string
	Name  string
	Owner string // ID of a person
}

// Location is a place where people work.
type Location struct {
	Name     string
	Calendar string // key of its working calendar; empty for none of its own
}

// Bundle is a named audience that many offerings use: a rule over a person.
type Bundle struct {
	Key  string
	Name string
	Text string // whom it is meant for
	Rule string // CEL over asker; nobody is in it when it is empty
}

// Absence is a time in which somebody does not decide. It begins at From and
// ends before Until.
type Absence struct {
	Person  string // ID
	From    time.Time
	Until   time.Time
	StandIn string // ID of who decides for them; empty for nobody
	SetBy   string // ID of who set it, who never decides by it; empty for themselves
}

// Area is a department that serves employees. What it says of second yes and place holds
// for all its services.
type Area struct {
	Name    string
	Text    string   // what it is for
	Owner   string   // ID of who may make services in it; empty for administrators alone
	Editors []string // IDs of those who design in all its services
	Home    string   // key of the team that its new services begin with; empty for none
	Place   Place
	Second  bool   // publishing in any of its services needs another's yes
	Picture string // data: URI; empty for none
	Words   string // its services are found by, with commas between them
	Starts  string // first day, RFC 3339; empty for at once
	Review  string // day on which its owner looks whether it still fits, RFC 3339; empty for none
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

	Editors []string // IDs of those who design it beside its owner
	Second  bool     // publishing needs the yes of another of them
	Picture string   // data: URI; empty for none
	Words   string   // it is found by, with commas between them
	Starts  string   // first day, RFC 3339; empty for at once
	Review  string   // day on which its owner looks whether it still fits, RFC 3339; empty for none
}

// Place says where a service stands in the portfolio.
type Place string

// The places of the portfolio.
const (
	Intended Place = "intended"
	Offered  Place = "offered"
	Ended    Place = "ended"
)

// All lists them in their order.
func (Place) All() []Place { return []Place{Intended, Offered, Ended} }

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
	Until  string `json:"until,omitempty" doc:"Last day on which they have it, RFC 3339"`
}

// Words name a belonging, with its number, size or place.
func (b Belonging) Words() string {
	if b.Detail == "" {
		return b.Name
	}
	return b.Name + ", " + b.Detail
}
