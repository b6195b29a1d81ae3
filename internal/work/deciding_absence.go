package work

import (
	"context"
	"crypto/rand"
	"fmt"
	"time"

	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// mostAbsence is how long one absence may last.
const mostAbsence = 2 * 366 * 24 * time.Hour

// maySetAbsence reports whether a person sets the absence of another: themselves,
// their line manager, or an administrator.
func (w *Deciding) maySetAbsence(actor, person string) bool {
	p, ok := w.Company().Person(person)
	by, _ := w.Company().Person(actor)
	return ok && (actor == person || p.Manager == actor || by.Is(people.Administrator))
}

// SetAbsence keeps an absence of a person with who decides for them. Who sets
// another's cannot name themself.
func (w *Deciding) SetAbsence(ctx context.Context, actor string, a people.Absence) (store.Absence, error) {
	if a.Person == "" {
		a.Person = actor
	}
	if !w.maySetAbsence(actor, a.Person) {
		return store.Absence{}, ErrNotFound
	}
	now := w.Clock().UTC().Truncate(time.Millisecond)
	if a.From.Before(now) {
		a.From = now
	}
	a.From, a.Until = a.From.UTC().Truncate(time.Millisecond), a.Until.UTC().Truncate(time.Millisecond)
	refuse := func(place, format string, args ...any) (store.Absence, error) {
		return store.Absence{}, &request.Refusal{Kind: request.Invalid, Code: refusal.Absence, Sentence: fmt.Sprintf(format, args...), Place: place}
	}
	stand, known := w.Company().Person(a.StandIn)
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
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		there, err := tx.AbsencesOf(ctx, a.Person, now)
		if err != nil {
			return err
		}
		for _, other := range there {
			if a.From.Before(other.Until) && other.From.Before(a.Until) {
				_, err := refuse("/from", "%s is absent then already. End that absence first.", w.Company().Name(a.Person))
				return err
			}
		}
		if err := tx.AddAbsence(kept); err != nil {
			return err
		}
		return w.tellAbsent(ctx, tx, actor, a)
	})
	if err != nil {
		return store.Absence{}, err
	}
	return kept, w.absenceChanged(ctx, actor, a)
}

// EndAbsence ends an absence now, or takes it out when it has not begun.
func (w *Deciding) EndAbsence(ctx context.Context, actor, id string) error {
	var ended people.Absence
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		a, err := tx.Absence(ctx, id)
		if err != nil {
			return err
		}
		if !w.maySetAbsence(actor, a.Person) {
			return ErrNotFound
		}
		ended = a.Absence
		a.Until, a.StandIn = w.Clock(), ""
		if err := tx.EndAbsence(id, w.Clock()); err != nil {
			return err
		}
		return w.tellAbsent(ctx, tx, actor, a.Absence)
	})
	if err != nil {
		return err
	}
	return w.absenceChanged(ctx, actor, ended)
}

// tellAbsent tells somebody that another has set or ended their absence, and who
// stands in that they do.
func (w *Deciding) tellAbsent(ctx context.Context, tx *store.Tx, actor string, a people.Absence) error {
	p, _ := w.Company().Person(a.Person)
	if stand, ok := w.Company().Person(a.StandIn); ok {
		facts := message.Facts{By: w.Company().Name(actor), Asker: p.Name, Person: stand.Name, Due: a.Until.In(w.Company().HoursOf(stand.ID).Zone()).Format(notice.DueForm)}
		if err := w.letters.postKind(ctx, tx, w.Company(), store.Message{Person: stand.ID, Kind: message.StandsIn, At: w.Clock()}, facts); err != nil {
			return err
		}
	}
	if actor == a.Person {
		return nil
	}
	facts := message.Facts{By: w.Company().Name(actor), Person: p.Name, Holder: "nobody", Due: a.Until.In(w.Company().HoursOf(a.Person).Zone()).Format(notice.DueForm)}
	if a.StandIn != "" {
		facts.Holder = w.Company().Name(a.StandIn)
	}
	return w.letters.postKind(ctx, tx, w.Company(), store.Message{Person: a.Person, Kind: message.Absent, At: w.Clock()}, facts)
}

// Absences lists those of a person that have not ended, for those who may set
// them.
func (w *Deciding) Absences(ctx context.Context, actor, person string) ([]store.Absence, error) {
	if !w.maySetAbsence(actor, person) {
		return nil, ErrNotFound
	}
	return w.Store.AbsencesOf(ctx, person, w.Clock())
}

// absenceChanged takes in that somebody is absent, or no longer: those whom it
// concerns hear of it, and the runner sees to who decides for them. Offerings stay
// compiled, as no absence is read in them.
func (w *Deciding) absenceChanged(ctx context.Context, actor string, a people.Absence) error {
	if err := w.readAbsencesOf(ctx, a.Person); err != nil {
		return err
	}
	p, _ := w.Company().Person(a.Person)
	w.Live.tell(Change{Kind: "company"}, map[string]bool{actor: true, a.Person: true, a.StandIn: true, p.Manager: true})
	w.rouse()
	w.rouseMail()
	return nil
}

// readAbsencesOf takes in what was written of the absences of a person.
func (w *Deciding) readAbsencesOf(ctx context.Context, person string) error {
	w.reading.Lock()
	defer w.reading.Unlock()
	absences, err := w.Store.AllAbsencesOf(ctx, person)
	if err == nil {
		w.company.Store(w.Company().WithAbsencesOf(person, absences))
	}
	return err
}
