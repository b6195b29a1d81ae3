package work

import (
	"context"
	"crypto/rand"
	"fmt"
	"time"

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
	kept := store.Absence{Absence: a, ID: rand.Text(), SetBy: actor, SetAt: now}
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
		return tx.AddAbsence(kept)
	})
	if err != nil {
		return store.Absence{}, err
	}
	return kept, o.companyChanged(ctx)
}

// EndAbsence ends an absence now, or takes it out when it has not begun.
func (o *Office) EndAbsence(ctx context.Context, actor, id string) error {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		a, err := tx.Absence(ctx, id)
		if err != nil {
			return err
		}
		if !o.maySetAbsence(actor, a.Person) {
			return ErrNotFound
		}
		return tx.EndAbsence(id, o.Clock())
	})
	if err != nil {
		return err
	}
	return o.companyChanged(ctx)
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
