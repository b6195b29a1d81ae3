package offering

import (
	"heptad/internal/core/form"
	"heptad/internal/core/people"
)

// Beneficiary is for whom a request is: a person of the directory, or somebody
// who is not in it yet.
type Beneficiary struct {
	Person   string           `json:"person,omitempty" doc:"ID; empty for a newcomer"`
	Newcomer *people.Newcomer `json:"newcomer,omitempty"`
	Other    bool             `json:"other,omitempty" doc:"For somebody else, who is not named yet"`
	Via      Via              `json:"via,omitempty" doc:"How they asked, when staff write it down for them; empty when nobody asked"`
}

// Or is for the asker, given by ID, when nobody is named and nobody else is meant.
func (b Beneficiary) Or(asker string) Beneficiary {
	if b.Person == "" && b.Newcomer == nil && !b.Other {
		b.Person = asker
	}
	return b
}

// Via is the way by which somebody asked for what another writes down.
type Via string

// The ways to ask.
const (
	InPerson Via = "person"
	ByPhone  Via = "phone"
	ByMail   Via = "mail"
	ByChat   Via = "chat"
)

// All lists them in their order.
func (Via) All() []Via { return []Via{InPerson, ByPhone, ByMail, ByChat} }

// Parties are who asks, and for whom.
type Parties struct {
	Asker       people.Person
	Beneficiary Beneficiary
	Belongings  []people.Belonging // of the beneficiary
	Pools       map[string]int     // free places, by key; nil when unknown
	Company     *people.Directory
	Known       func(people.Person) people.Person // as much of a person as rules may know here; nil for all of it
}

// Words of a way, such as "by phone"; empty for none.
func (v Via) Words() string {
	return map[Via]string{InPerson: "in person", ByPhone: "by phone", ByMail: "by mail", ByChat: "in a chat"}[v]
}

// known is as much of a person as rules may know.
func (p Parties) known(person people.Person) people.Person {
	if p.Known == nil {
		return person
	}
	return p.Known(person)
}

// Self are the parties of somebody who asks for themselves.
func Self(asker people.Person, company *people.Directory) Parties {
	return Parties{Asker: asker, Beneficiary: Beneficiary{Person: asker.ID}, Company: company}
}

// Name of the beneficiary.
func (p Parties) Name() string {
	if n := p.Beneficiary.Newcomer; n != nil {
		return n.Name
	}
	return p.Company.Name(p.Beneficiary.Person)
}

// Facts are what answers are read with.
func (p Parties) Facts() form.Facts {
	return form.Facts{Company: p.Company, Belongings: p.Belongings}
}
