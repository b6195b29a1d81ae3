package ladder

import (
	"fmt"

	"heptad/internal/core/people"
)

// Facts are what approvers are found from.
type Facts struct {
	Company     *people.Directory
	Asker       string // ID of a person
	Beneficiary string // ID of a person; empty for somebody not yet in the directory
	Service     people.Service
}

// Seat is one place on a rung, filled once.
type Seat struct {
	Person string `json:"person" doc:"ID of who decides"`
	Reason string `json:"reason" doc:"Why it is they"`
}

// ErrNobody says that nobody of the company may decide; it is never passed
// over in silence.
type ErrNobody struct{ Rung string }

func (e ErrNobody) Error() string {
	return fmt.Sprintf("nobody can be found who may decide %q; ask the owner of the service to name someone", e.Rung)
}

// Seats finds the approvers of a rung, each once, with the reason.
func Seats(r Rung, f Facts) ([]Seat, error) {
	var seats []Seat
	var reasons []string // why somebody named is not there
	add := func(person, reason string) {
		for _, s := range seats {
			if s.Person == person {
				return
			}
		}
		seats = append(seats, Seat{person, reason})
	}
	for _, source := range r.Approvers {
		person, reason := f.find(source)
		switch {
		case !f.present(person):
			reasons = append(reasons, reason+" is not there")
		case person == f.Asker:
			reasons = append(reasons, reason+" is the asker")
		case person == f.Beneficiary:
			reasons = append(reasons, reason+" is who it is for")
		default:
			add(person, reason)
		}
	}
	if len(seats) > 0 {
		return seats, nil
	}
	why := ""
	if len(reasons) > 0 {
		why = ", as " + reasons[0]
	}
	for _, stand := range f.fallback() {
		if f.present(stand.Person) && stand.Person != f.Asker && stand.Person != f.Beneficiary {
			add(stand.Person, stand.Reason+why)
			return seats, nil
		}
	}
	return nil, ErrNobody{r.Name}
}

// find gives the person a source names and what they are to the request.
func (f Facts) find(s Source) (string, string) {
	asker, _ := f.Company.Person(f.Asker)
	switch s.Source {
	case LineManager:
		return asker.Manager, "line manager of " + asker.Name
	case ServiceOwner:
		return f.Service.Owner, "owner of " + f.Service.Name
	case TeamLead:
		team, _ := f.Company.Team(s.Team)
		return team.Lead, "lead of " + team.Name
	case NamedPerson:
		p, _ := f.Company.ByLogin(s.Person)
		return p.ID, "named by the offering"
	}
	return "", "somebody"
}

// fallback lists who stands in when a rung has nobody, the first first.
func (f Facts) fallback() []Seat {
	asker, _ := f.Company.Person(f.Asker)
	owner, _ := f.Company.Person(f.Service.Owner)
	home, _ := f.Company.Team(f.Service.Home)
	return []Seat{
		{asker.Manager, "manager of " + asker.Name},
		{f.Service.Owner, "owner of " + f.Service.Name},
		{owner.Manager, "manager of the owner of " + f.Service.Name},
		{home.Lead, "lead of " + home.Name},
	}
}

func (f Facts) present(person string) bool {
	p, ok := f.Company.Person(person)
	return ok && !p.Away
}

// Outcome says how a rung stands.
type Outcome string

// The outcomes of a rung.
const (
	Open     Outcome = "open"
	Passed   Outcome = "passed"
	Declined Outcome = "declined"
)

// Stand counts the votes of a rung: passed as soon as the quorum is reached,
// declined as soon as it no longer can be.
func Stand(quorum string, seats, approvals, declines int) Outcome {
	n, err := needed(quorum, seats)
	if err != nil {
		n = seats // a quorum that cannot be read wants everybody
	}
	switch {
	case approvals >= n && seats > 0:
		return Passed
	case seats-declines < n:
		return Declined
	}
	return Open
}
