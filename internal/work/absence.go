package work

import (
	"context"
	"crypto/rand"
	"fmt"
	"time"

	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// mostAbsence is how long one absence may last.
const mostAbsence = 2 * 366 * 24 * time.Hour

// maySetAbsence tells whether a person sets the absence of another: themselves,
// their line manager, or an administrator.
func (o *Office) maySetAbsence(actor, person string) bool {
	p, ok := o.Company().Person(person)
	by, _ := o.Company().Person(actor)
	return ok && (actor == person || p.Manager == actor || by.Is(people.Administrator))
}

// SetAbsence keeps an absence of a person with who decides for them. Who sets
// another's cannot name themself.
func (o *Office) SetAbsence(ctx context.Context, actor string, a people.Absence) (store.Absence, error) {
	if a.Person == "" {
		a.Person = actor
	}
	if !o.maySetAbsence(actor, a.Person) {
		return store.Absence{}, ErrNotFound
	}
	now := o.Clock().UTC().Truncate(time.Millisecond)
	if a.From.Before(now) {
		a.From = now
	}
	a.From, a.Until = a.From.UTC().Truncate(time.Millisecond), a.Until.UTC().Truncate(time.Millisecond)
	refuse := func(place, format string, args ...any) (store.Absence, error) {
		return store.Absence{}, &request.Refusal{Kind: request.Invalid, Code: "absence", Sentence: fmt.Sprintf(format, args...), Place: place}
	}
	stand, known := o.Company().Person(a.StandIn)
	switch {
	case !a.Until.After(a.From):
		return refuse("/until", "The absence ends before it begins.")
	case a.Until.Sub(a.From) > mostAbsence:
		return refuse("/until", "An absence lasts for two years at most.")
	case a.StandIn == "":
	case !known || stand.Away:
		return refuse("/standIn", "Choose a person of the company.")
	case a.StandIn == a.Person:
		return refuse("/standIn", "Nobody stands in for themselves.")
	case a.StandIn == actor:
		return refuse("/standIn", "Who sets somebody else's absence cannot stand in for them: name another.")
	}
	a.SetBy = actor
	kept := store.Absence{Absence: a, ID: rand.Text(), SetAt: now}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		there, err := tx.AbsencesOf(ctx, a.Person, now)
		if err != nil {
			return err
		}
		for _, other := range there {
			if a.From.Before(other.Until) && other.From.Before(a.Until) {
				_, err := refuse("/from", "%s is absent then already. End that absence first.", o.Company().Name(a.Person))
				return err
			}
		}
		if err := tx.AddAbsence(kept); err != nil {
			return err
		}
		return o.tellAbsent(ctx, tx, actor, a)
	})
	if err != nil {
		return store.Absence{}, err
	}
	o.toldAbsent(actor, a.Person)
	return kept, o.companyChanged(ctx)
}

// EndAbsence ends an absence now, or takes it out when it has not begun.
func (o *Office) EndAbsence(ctx context.Context, actor, id string) error {
	person := ""
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		a, err := tx.Absence(ctx, id)
		if err != nil {
			return err
		}
		if !o.maySetAbsence(actor, a.Person) {
			return ErrNotFound
		}
		person, a.Until, a.StandIn = a.Person, o.Clock(), ""
		if err := tx.EndAbsence(id, o.Clock()); err != nil {
			return err
		}
		return o.tellAbsent(ctx, tx, actor, a.Absence)
	})
	if err != nil {
		return err
	}
	o.toldAbsent(actor, person)
	return o.companyChanged(ctx)
}

// tellAbsent tells somebody that another has set or ended their absence.
func (o *Office) tellAbsent(ctx context.Context, tx *store.Tx, actor string, a people.Absence) error {
	if actor == a.Person {
		return nil
	}
	p, _ := o.Company().Person(a.Person)
	facts := message.Facts{By: o.Company().Name(actor), Person: p.Name, Holder: "nobody", Due: a.Until.In(o.Company().HoursOf(a.Person).Zone()).Format(dueForm)}
	if a.StandIn != "" {
		facts.Holder = o.Company().Name(a.StandIn)
	}
	return o.postKind(ctx, tx, store.Message{Person: a.Person, Kind: message.Absent, At: o.Clock()}, facts)
}

func (o *Office) toldAbsent(actor, person string) {
	if actor != person {
		o.Live.tell(Change{"message", ""}, map[string]bool{person: true})
		o.rouseMail()
	}
}

// Absences lists those of a person that have not ended, for those who may set
// them.
func (o *Office) Absences(ctx context.Context, actor, person string) ([]store.Absence, error) {
	if !o.maySetAbsence(actor, person) {
		return nil, ErrNotFound
	}
	return o.Store.AbsencesOf(ctx, person, o.Clock())
}

// companyChanged reads the company anew, and lets the runner see whom it
// concerns.
func (o *Office) companyChanged(ctx context.Context) error {
	if err := o.ReadCompany(ctx); err != nil {
		return err
	}
	o.Live.tell(Change{"company", ""}, nil)
	o.rouse()
	return nil
}
