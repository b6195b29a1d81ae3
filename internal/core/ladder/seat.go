package ladder

import (
	"fmt"
	"slices"
	"strconv"
	"time"

	"heptad/internal/core/people"
)

// Facts are what approvers are found from.
type Facts struct {
	Company     *people.Directory
	Asker       string   // ID of a person
	Beneficiary string   // ID of a person; empty for somebody not yet in the directory
	CostCentre  string   // of the beneficiary
	Centres     []string // cost centres that bear a share of the price, in order
	Service     people.Service
	Named       func(question string) []string // logins in the answer to a question
	At          time.Time                      // absences count at this instant
	Barred      []string                       // IDs of those who never decide on it
}

// may reports whether somebody may decide at all: not on their own request, nor on
// what they have designed when that bars them.
func (f Facts) may(person string) bool {
	return person != f.Asker && person != f.Beneficiary && !slices.Contains(f.Barred, person)
}

// Seat is one place on a rung. It is filled once: by the person found, or by
// one of the others.
type Seat struct {
	Person string  `json:"person" doc:"ID of the approver"`
	Reason string  `json:"reason" doc:"Why it is they"`
	Part   string  `json:"part,omitempty" doc:"Key of the cost centre whose share they decide on"`
	Absent bool    `json:"absent,omitempty" doc:"They were absent when it was asked, and somebody stands in"`
	Others []Other `json:"others,omitempty" nullable:"false" doc:"Who may fill the seat as well"`
}

// Is reports whether two seats are one: of one approver, for the same part.
func (s Seat) Is(o Seat) bool { return s.Person == o.Person && s.Part == o.Part }

// Other is somebody who may fill a seat beside its approver.
type Other struct {
	Person  string `json:"person" doc:"ID"`
	As      Role   `json:"as"`
	Reason  string `json:"reason"`
	Instead string `json:"instead,omitempty" doc:"ID of who passed the decision on to them, and may no longer decide"`
	Left    bool   `json:"left,omitempty" doc:"It is not with them any more: the absence has ended, or it was taken back"`
}

// Role says how somebody came to a seat.
type Role string

// The roles beside the approver.
const (
	StandIn   Role = "standIn"
	Escalated Role = "escalated"
	PassedOn  Role = "passedOn"
)

// All lists them in their order.
func (Role) All() []Role { return []Role{StandIn, Escalated, PassedOn} }

// May reports whether a person may fill the seat.
func (s Seat) May(person string) bool {
	may := s.Person == person
	for _, o := range s.Others {
		if !o.Left {
			may = (may || o.Person == person) && o.Instead != person
		}
	}
	return may
}

// Everybody lists the IDs of all who were ever asked for the seat.
func (s Seat) Everybody() []string { return append([]string{s.Person}, others(s)...) }

// Deciders lists the IDs of all who may fill the seat, the approver first.
func (s Seat) Deciders() []string {
	var all []string
	for _, person := range s.Everybody() {
		if s.May(person) && !slices.Contains(all, person) {
			all = append(all, person)
		}
	}
	return all
}

func others(s Seat) []string {
	var all []string
	for _, o := range s.Others {
		all = append(all, o.Person)
	}
	return all
}

// DecidingNow lists the IDs of those with whom the decision now lies: the deciders
// but for an approver who was absent when it was asked.
func (s Seat) DecidingNow() []string {
	all := s.Deciders()
	if s.Absent && len(all) > 1 && all[0] == s.Person {
		return all[1:]
	}
	return all
}

// ErrNobody says that nobody of the company may decide; it is never passed
// over in silence.
type ErrNobody struct{ Rung string }

func (e ErrNobody) Error() string {
	return fmt.Sprintf("nobody can be found who may decide %q; ask the owner of the service to name someone", e.Rung)
}

// Seats finds the approvers of a rung, each once, with the reason. Asker and
// beneficiary are left out while others remain; for absent approvers their
// stand-ins are asked; a rung with nobody falls back, in the end to the owner
// of the service. Where several cost centres pay, each has a seat of its own.
func Seats(r Rung, f Facts) ([]Seat, error) {
	var missing []string // why somebody found does not decide
	seats, present, excluded := f.seated(f.candidates(r.Approvers, ""), &missing)
	parts, err := f.parts(r, r.Approvers)
	if err != nil {
		return nil, err
	}
	if present || len(parts) > 0 {
		return append(seats, parts...), nil
	}
	if len(r.Approvers) > 0 && len(seats)+len(missing) == 0 {
		missing = append(missing, f.nobody(r.Approvers[0]))
	}
	why := ""
	if len(missing) > 0 {
		why = ", as " + missing[0]
	}
	var next [][]Seat
	for _, person := range excluded {
		next = append(next, f.above(person))
	}
	next = append(next, f.candidates(r.Fallback, " (named for when nobody else can)"))
	next = append(next, f.last()...)
	if found, ok := f.first(next, why); ok {
		return found, nil
	}
	return nil, ErrNobody{r.Name}
}

// first seats the first candidates of whom anybody can decide. When nobody can,
// no absence counts: a decision that waits is better than none.
func (f Facts) first(candidates [][]Seat, why string) ([]Seat, bool) {
	waiting := f
	waiting.At = time.Time{}
	for _, f := range []Facts{f, waiting} {
		for _, some := range candidates {
			var ignored []string
			if seats, present, _ := f.seated(some, &ignored); present {
				for i := range seats {
					seats[i].Reason += why
				}
				return seats, true
			}
		}
	}
	return nil, false
}

// parts finds who decides on the share of each cost centre, where sources ask
// for their owners and several pay: one seat each. Without an owner who may
// decide it goes to the owner's manager, else the fallback, else the owner of the
// service (rules.md 5).
func (f Facts) parts(r Rung, sources []Source) ([]Seat, error) {
	if len(f.Centres) < 2 || !slices.ContainsFunc(sources, func(s Source) bool { return s.Source == CostCentreOwner }) {
		return nil, nil
	}
	seats := make([]Seat, 0, len(f.Centres))
	for _, key := range f.Centres {
		owner := f.owner(key)
		var missing []string
		found, present, _ := f.seated([]Seat{owner}, &missing)
		if !present {
			next := [][]Seat{f.above(owner.Person)}
			for _, candidate := range f.candidates(r.Fallback, " (named for when nobody else can)") {
				next = append(next, []Seat{candidate})
			}
			var ok bool
			if found, ok = f.first(append(next, f.last()...), ", as "+missing[0]); !ok {
				return nil, ErrNobody{r.Name}
			}
		}
		found[0].Part = key
		seats = append(seats, found[0])
	}
	return seats, nil
}

// seated turns candidates into seats.
func (f Facts) seated(candidates []Seat, missing *[]string) (seats []Seat, present bool, excluded []string) {
	seats = make([]Seat, 0, len(candidates))
	for _, c := range candidates {
		person, ok := f.Company.Person(c.Person)
		at := slices.IndexFunc(seats, func(s Seat) bool { return s.Person == c.Person })
		switch {
		case at >= 0: // one seat a person
		case !ok || person.Former:
			*missing = append(*missing, c.Reason+" is not there")
		case c.Person == f.Asker:
			*missing = append(*missing, c.Reason+" is the asker")
			excluded = append(excluded, c.Person)
		case c.Person == f.Beneficiary:
			*missing = append(*missing, c.Reason+" is who it is for")
			excluded = append(excluded, c.Person)
		case slices.Contains(f.Barred, c.Person):
			*missing = append(*missing, c.Reason+" has designed the offering")
			excluded = append(excluded, c.Person)
		default:
			seats = append(seats, c)
		}
	}
	kept := make([]Seat, 0, len(seats))
	for _, seat := range seats {
		if _, absent := f.Company.Absence(seat.Person, f.At); !absent {
			kept, present = append(kept, seat), true
			continue
		}
		stand, reason := f.StandIn(seat.Person)
		switch {
		case stand == "":
			*missing = append(*missing, seat.Reason+" is absent, and nobody stands in")
			kept = append(kept, seat)
		case slices.ContainsFunc(seats, func(s Seat) bool { return s.Person == stand }),
			slices.ContainsFunc(kept, func(s Seat) bool { return slices.Contains(others(s), stand) }):
			*missing = append(*missing, seat.Reason+" is absent, and "+f.Company.Name(stand)+", who stands in, decides already")
			continue
		default:
			seat.Absent, seat.Others = true, []Other{{Person: stand, As: StandIn, Reason: reason}}
			kept, present = append(kept, seat), true
		}
	}
	return kept, present, excluded
}

// MayPassTo says why a decision cannot be passed on from somebody to another;
// empty when it can: up the manager chain, beside (to one of the same manager, or
// of the same team with a grade as high, where grades are numbers), or to whom
// the rung names; never to a subordinate (rules.md 5).
func (r Rung) MayPassTo(from, to people.Person, f Facts) string {
	if slices.Contains(f.Company.Managers(to.ID), from.Login) {
		return to.Name + " works under " + from.Name + ", and nobody passes a decision on to a subordinate."
	}
	named := slices.ContainsFunc(slices.Concat(r.Approvers, r.Fallback), func(s Source) bool { return s.Names(to.ID, f.Company, f.Service.Owner) })
	together := slices.ContainsFunc(from.Teams, func(team string) bool { return slices.Contains(to.Teams, team) })
	if slices.Contains(f.Company.Managers(from.ID), to.Login) || from.Manager != "" && from.Manager == to.Manager || together && !lower(to.Grade, from.Grade) || named {
		return ""
	}
	return to.Name + " is neither above nor beside " + from.Name + ", nor named by this decision."
}

// lower reports whether a grade is below another, where both are numbers.
func lower(grade, than string) bool {
	a, errA := strconv.Atoi(grade)
	b, errB := strconv.Atoi(than)
	return errA == nil && errB == nil && a < b
}

// Returned finds the stand-ins of a seat whose absence has ended: its approver is
// there again and nobody decides for them any more.
func Returned(seat Seat, f Facts) []string {
	if _, absent := f.Company.Absence(seat.Person, f.At); absent {
		return nil
	}
	if p, ok := f.Company.Person(seat.Person); !ok || p.Former {
		return nil
	}
	var all []string
	for _, o := range seat.Others {
		if o.As == StandIn && !o.Left && o.Instead == "" {
			all = append(all, o.Person)
		}
	}
	return all
}

// Relief finds who is to join a seat because nobody of it can decide now: they
// have left, or are absent. False when somebody can, or nobody is found.
func Relief(seat Seat, taken []string, f Facts) (Other, bool) {
	for _, person := range seat.DecidingNow() {
		p, ok := f.Company.Person(person)
		if _, absent := f.Company.Absence(person, f.At); ok && !p.Former && !absent {
			return Other{}, false
		}
	}
	for _, person := range seat.DecidingNow() {
		if p, ok := f.Company.Person(person); ok && !p.Former {
			if stand, reason := f.StandIn(person); stand != "" && !slices.Contains(taken, stand) {
				return Other{Person: stand, As: StandIn, Reason: reason}, true
			}
			continue
		}
		if other, ok := Escalation(person, taken, f); ok {
			other.Reason += ", who has left"
			return other, true
		}
	}
	return Other{}, false
}

// Escalation finds who joins the seat of somebody: their nearest manager who
// may decide and does not do so already, else the owner of the service.
func Escalation(person string, taken []string, f Facts) (Other, bool) {
	free := func(id string) bool {
		p, ok := f.Company.Person(id)
		return ok && !p.Former && f.may(id) && !slices.Contains(taken, id)
	}
	for _, login := range f.Company.Managers(person) {
		if p, _ := f.Company.ByLogin(login); free(p.ID) {
			return Other{Person: p.ID, As: Escalated, Reason: "manager of " + f.Company.Name(person)}, true
		}
	}
	if free(f.Service.Owner) {
		return Other{Person: f.Service.Owner, As: Escalated, Reason: "owner of " + f.Service.Name + ", as no manager of " + f.Company.Name(person) + " can decide"}, true
	}
	return Other{}, false
}
