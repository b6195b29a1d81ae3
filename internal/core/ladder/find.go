package ladder

import (
	"fmt"
)

// maxHops is how many stand-ins are followed from one to the next.
const maxHops = 3

// StandIn finds who decides for an absent person, with the reason; empty when
// nobody does. Those who are absent themselves hand on, three times at most. Who
// has set somebody else's absence on the way decides by it at no hop.
func (f Facts) StandIn(person string) (string, string) {
	seen := map[string]bool{person: true}
	at, via := person, ""
	for range maxHops {
		absence, _ := f.Company.Absence(at, f.At)
		if absence.SetBy != "" {
			seen[absence.SetBy] = true
		}
		next, ok := f.Company.Person(absence.StandIn)
		if !ok || next.Former || seen[next.ID] {
			return "", ""
		}
		seen[next.ID] = true
		if _, absent := f.Company.Absence(next.ID, f.At); absent {
			via += ", who is absent as well"
			at = next.ID
			continue
		}
		if !f.may(next.ID) {
			return "", ""
		}
		return next.ID, "stands in for " + f.Company.Name(person) + via
	}
	return "", ""
}

// candidates lists whom sources name, in order, without asking whether they
// may decide.
func (f Facts) candidates(sources []Source, note string) []Seat {
	var all []Seat
	for _, s := range sources {
		found := f.find(s)
		for i := range found {
			found[i].Reason += note
		}
		all = append(all, found...)
	}
	return all
}

// find gives the people a source names, with what they are to the request.
// Nobody is known under the empty ID.
func (f Facts) find(s Source) []Seat {
	asker, _ := f.Company.Person(f.Asker)
	one := func(person, reason string) []Seat { return []Seat{{Person: person, Reason: reason}} }
	switch s.Source {
	case LineManager:
		return one(asker.Manager, "line manager of "+asker.Name)
	case NthManager:
		manager, _ := f.Company.Manager(f.Asker, s.Level)
		return one(manager.ID, fmt.Sprintf("manager %d up from %s", s.Level, asker.Name))
	case BeneficiaryManager:
		if f.Beneficiary == "" {
			return one(asker.Manager, "line manager of "+asker.Name+", who asks for somebody new")
		}
		p, _ := f.Company.Person(f.Beneficiary)
		return one(p.Manager, "line manager of "+p.Name)
	case CostCentreOwner:
		switch len(f.Centres) {
		case 0:
			return []Seat{f.owner(f.CostCentre)}
		case 1:
			return []Seat{f.owner(f.Centres[0])}
		}
		return nil // each decides on a part; see parts
	case ServiceOwner:
		return one(f.Service.Owner, "owner of "+f.Service.Name)
	case TeamLead:
		team, _ := f.Company.Team(s.Team)
		return one(team.Lead, "lead of "+team.Name)
	case WholeTeam:
		members, reason := f.Company.Members(s.Team), "member of "+f.Company.TeamName(s.Team)
		all := make([]Seat, len(members))
		for i, person := range members {
			all[i] = Seat{Person: person, Reason: reason}
		}
		return all
	case NamedPerson:
		p, _ := f.Company.ByLogin(s.Person)
		return one(p.ID, "named by the offering")
	case InAnswer:
		var all []Seat
		for _, login := range f.Named(s.Question) {
			p, _ := f.Company.ByLogin(login)
			all = append(all, Seat{Person: p.ID, Reason: "named in the form"})
		}
		return all
	}
	return nil
}

// owner of a cost centre, as a candidate; nobody is known under the empty ID.
func (f Facts) owner(key string) Seat {
	c, _ := f.Company.CostCentre(key)
	seat := Seat{Person: c.Owner, Reason: "owner of the cost centre " + key}
	if c.Name != "" && c.Name != key {
		seat.Reason += " (" + c.Name + ")"
	}
	return seat
}

// nobody says in words that a source names nobody at all.
func (f Facts) nobody(s Source) string {
	if s.Source == WholeTeam {
		return f.Company.TeamName(s.Team) + " has no members"
	}
	return "nobody is named in the form"
}

// above lists the managers of somebody who may not decide themselves, as one
// candidate: the nearest who may.
func (f Facts) above(person string) []Seat {
	for _, login := range f.Company.Managers(person) {
		p, _ := f.Company.ByLogin(login)
		if f.may(p.ID) && !p.Former {
			return []Seat{{Person: p.ID, Reason: "manager of " + f.Company.Name(person)}}
		}
	}
	return nil
}

// last lists who decides when a rung and its fallback have nobody, the first
// first.
func (f Facts) last() [][]Seat {
	owner, _ := f.Company.Person(f.Service.Owner)
	home, _ := f.Company.Team(f.Service.Home)
	return [][]Seat{
		{{Person: f.Service.Owner, Reason: "owner of " + f.Service.Name}},
		{{Person: owner.Manager, Reason: "manager of the owner of " + f.Service.Name}},
		{{Person: home.Lead, Reason: "lead of " + home.Name}},
	}
}
