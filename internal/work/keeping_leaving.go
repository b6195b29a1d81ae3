package work

import (
	"context"
	"fmt"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// How many people become inactive in a day before it waits for a yes: more than so many,
// and more than so large a part of the company.
const (
	manyLeave  = 20
	partLeaves = 100 // a hundredth
)

// leave makes people inactive; when there are many of them in a day, they wait for an
// administrator's yes. It tells how many wait.
func (w *Keeping) leave(ctx context.Context, tx *store.Tx, actor string, leavers []people.Person) (waiting int, err error) {
	if len(leavers) == 0 {
		return 0, nil
	}
	left, err := tx.LeftSince(ctx, w.Clock().Add(-24*time.Hour))
	if err != nil {
		return 0, err
	}
	active := left
	for _, p := range w.Company().Persons() {
		if !p.Former {
			active++
		}
	}
	if n := left + len(leavers); n > manyLeave && n*partLeaves > active {
		for _, p := range leavers {
			if err := tx.AddLeaving(p.ID, actor, w.Clock()); err != nil {
				return 0, err
			}
		}
		return len(leavers), w.note(ctx, tx, actor, audit.LeavingWaits, "", fmt.Sprintf("%d people", len(leavers)))
	}
	return 0, w.gone(ctx, tx, actor, leavers)
}

// gone makes people inactive. Their sessions end, their tasks go back to the team and
// their decisions to who stands in as the runner sees it; what they have raises the
// sign-off.
func (w *Keeping) gone(ctx context.Context, tx *store.Tx, actor string, leavers []people.Person) error {
	if err := w.signOff(ctx, tx, actor, leavers); err != nil {
		return err
	}
	for _, p := range leavers {
		p.Former = true
		if err := tx.AddCompany(people.Records{Persons: []people.Person{p}}); err != nil {
			return err
		}
		if err := tx.SetLeft(p.ID, w.Clock()); err != nil {
			return err
		}
		if err := w.note(ctx, tx, actor, audit.PersonLeft, p.ID, p.Name); err != nil {
			return err
		}
	}
	return nil
}

// Leaver is somebody who waits to become inactive.
type Leaver struct {
	Person people.Person
	By     string // name of who said so
	Since  time.Time
}

// Leaving lists who waits to become inactive, to administrators.
func (w *Keeping) Leaving(ctx context.Context, person string) ([]Leaver, error) {
	if !w.Administers(person) {
		return nil, ErrNotFound
	}
	rows, err := w.Store.Leaving(ctx)
	all := make([]Leaver, len(rows))
	for i, row := range rows {
		p, _ := w.Company().Person(row.Person)
		all[i] = Leaver{p, w.Company().Name(row.AskedBy), row.Since()}
	}
	return all, err
}

// AnswerLeaving lets all who wait become inactive, or keeps them, by an administrator.
func (w *Keeping) AnswerLeaving(ctx context.Context, person string, yes bool) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	var persons []string
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		rows, err := tx.Leaving(ctx)
		if err != nil {
			return err
		}
		if len(rows) == 0 {
			return conflict(refusal.NobodyWaits, "Nobody waits any more: another administrator has answered.")
		}
		act, leavers := audit.LeavingRefused, make([]people.Person, 0, len(rows))
		for _, row := range rows {
			if p, ok := w.Company().Person(row.Person); ok && !p.Former {
				persons = append(persons, p.ID)
				leavers = append(leavers, p)
			}
		}
		if yes {
			act = audit.LeavingAllowed
			if err := w.staysAdministered(leavers); err != nil {
				return err
			}
			if err := w.gone(ctx, tx, person, leavers); err != nil {
				return err
			}
		}
		if err := tx.DropLeaving(); err != nil {
			return err
		}
		return w.note(ctx, tx, person, act, "", fmt.Sprintf("%d people", len(rows)))
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx, append(persons, person)...)
}

// staysAdministered refuses to let the last administrator go.
func (k *kernel) staysAdministered(leavers []people.Person) error {
	going := map[string]bool{}
	for _, p := range leavers {
		going[p.ID] = true
	}
	for _, p := range k.administrators() {
		if !going[p.ID] {
			return nil
		}
	}
	return conflict(refusal.LastAdministrator, "Nobody would be an administrator any more: make somebody else one first.")
}
