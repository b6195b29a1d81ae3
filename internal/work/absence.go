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

// maySetAbsence reports whether a person sets the absence of another: themselves,
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
	case !known || stand.Former:
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
	return kept, o.absenceChanged(ctx, actor, a)
}

// EndAbsence ends an absence now, or takes it out when it has not begun.
func (o *Office) EndAbsence(ctx context.Context, actor, id string) error {
	var ended people.Absence
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		a, err := tx.Absence(ctx, id)
		if err != nil {
			return err
		}
		if !o.maySetAbsence(actor, a.Person) {
			return ErrNotFound
		}
		ended = a.Absence
		a.Until, a.StandIn = o.Clock(), ""
		if err := tx.EndAbsence(id, o.Clock()); err != nil {
			return err
		}
		return o.tellAbsent(ctx, tx, actor, a.Absence)
	})
	if err != nil {
		return err
	}
	return o.absenceChanged(ctx, actor, ended)
}

// tellAbsent tells somebody that another has set or ended their absence, and who
// stands in that they do.
func (o *Office) tellAbsent(ctx context.Context, tx *store.Tx, actor string, a people.Absence) error {
	p, _ := o.Company().Person(a.Person)
	if stand, ok := o.Company().Person(a.StandIn); ok {
		facts := message.Facts{By: o.Company().Name(actor), Asker: p.Name, Person: stand.Name, Due: a.Until.In(o.Company().HoursOf(stand.ID).Zone()).Format(dueForm)}
		if err := o.postKind(ctx, tx, store.Message{Person: stand.ID, Kind: message.StandsIn, At: o.Clock()}, facts); err != nil {
			return err
		}
	}
	if actor == a.Person {
		return nil
	}
	facts := message.Facts{By: o.Company().Name(actor), Person: p.Name, Holder: "nobody", Due: a.Until.In(o.Company().HoursOf(a.Person).Zone()).Format(dueForm)}
	if a.StandIn != "" {
		facts.Holder = o.Company().Name(a.StandIn)
	}
	return o.postKind(ctx, tx, store.Message{Person: a.Person, Kind: message.Absent, At: o.Clock()}, facts)
}

// Absences lists those of a person that have not ended, for those who may set
// them.
func (o *Office) Absences(ctx context.Context, actor, person string) ([]store.Absence, error) {
	if !o.maySetAbsence(actor, person) {
		return nil, ErrNotFound
	}
	return o.Store.AbsencesOf(ctx, person, o.Clock())
}

// absenceChanged takes in that somebody is absent, or no longer: those whom it
// concerns hear of it, and the runner sees to who decides for them. Offerings stay
// compiled, as no absence is read in them.
func (o *Office) absenceChanged(ctx context.Context, actor string, a people.Absence) error {
	absences, err := o.Store.Absences(ctx)
	if err != nil {
		return err
	}
	o.company.Store(o.Company().WithAbsences(absences))
	p, _ := o.Company().Person(a.Person)
	o.Live.tell(Change{"company", ""}, map[string]bool{actor: true, a.Person: true, a.StandIn: true, p.Manager: true})
	o.rouse()
	o.rouseMail()
	return nil
}
