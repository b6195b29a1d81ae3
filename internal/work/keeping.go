package work

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/organisation"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Keeping is the company as it is kept: what the installation is told of it, its people,
// teams, places and services.
type Keeping struct {
	*kernel
	previews cache[string, preview] // by ID of the sheet
	under    sync.Map               // of IDs of sheets that are being done to *progress
}

// refusedAll is a refusal with everything that is wrong; nil when nothing is.
func refusedAll(details []request.Refusal) error {
	if len(details) == 0 {
		return nil
	}
	r := details[0]
	r.Details = details[1:]
	return &r
}

// Organise keeps what the installation is told of the company, by an administrator.
func (w *Keeping) Organise(ctx context.Context, person string, o organisation.Organisation) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	sent, err := w.Store.Sent(ctx)
	if err != nil {
		return err
	}
	before := w.Organisation()
	var wrong []request.Refusal
	for _, p := range o.Check() {
		wrong = append(wrong, *invalid(p.Code, p.Place, "%s", p.Sentence))
	}
	if sent && o.Prefix != before.Prefix {
		wrong = append(wrong, *invalid(refusal.Prefix, "/prefix", "References begin with %s since the first request was sent, and go on so.", before.Prefix))
	}
	home, ok := w.Company().Calendar(o.Calendar)
	switch {
	case ok:
		o.Zone = home.Zone().String()
	case o.Calendar != "":
		wrong = append(wrong, *invalid(refusal.UnknownCalendar, "/calendar", "There is no working calendar %q.", o.Calendar))
	default:
		if _, err := time.LoadLocation(o.Zone); err != nil || o.Zone == "" || o.Zone == "Local" {
			wrong = append(wrong, *invalid(refusal.Zone, "/zone", "%q is no time zone: write it such as Europe/Copenhagen.", o.Zone))
		}
	}
	if err := refusedAll(wrong); err != nil {
		return err
	}
	changes := organised(before, o)
	if len(changes) == 0 {
		return nil
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SaveOrganisation(o); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.Organised, "", o.Name, changes...)
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}

// organised is what has changed of the organisation, in words.
func organised(a, b organisation.Organisation) (changes []audit.Change) {
	for _, f := range []struct{ field, before, after string }{
		{"name", a.Name, b.Name}, {"prefix", a.Prefix, b.Prefix}, {"currency", a.Currency, b.Currency}, {"period", string(a.Period), string(b.Period)},
		{"calendar", a.Calendar, b.Calendar}, {"zone", a.Zone, b.Zone}, {"tax", a.Tax.Name + " " + a.Tax.Percent, b.Tax.Name + " " + b.Tax.Percent}, {"accent", a.Accent, b.Accent},
		{"second factor for", strings.Join(a.FactorRoles, ", "), strings.Join(b.FactorRoles, ", ")},
	} {
		changes = audit.Changed(changes, f.field, f.before, f.after)
	}
	if a.Emblem != b.Emblem {
		changes = append(changes, audit.Change{Field: "emblem", After: "(another picture)"})
	}
	return changes
}

// Settle keeps what a company is told of that nobody has told yet, as the program says
// that has started it; such a company has moved in.
func (w *Keeping) Settle(ctx context.Context, o organisation.Organisation) error {
	if w.Organisation().Name != "" {
		return w.ReadCompany(ctx)
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SaveOrganisation(o); err != nil {
			return err
		}
		return tx.MoveIn(w.Clock())
	})
	if err != nil {
		return err
	}
	return w.ReadCompany(ctx)
}

// companyChanged takes in what was written of the company; those whom it concerns read
// their screen anew, all when nobody is named.
func (k *kernel) companyChanged(ctx context.Context, persons ...string) error {
	if err := k.ReadCompany(ctx); err != nil {
		return err
	}
	if len(persons) == 0 {
		k.catalogChanged()
	} else {
		told := map[string]bool{}
		for _, p := range persons {
			told[p] = true
		}
		k.Live.tell(Change{Kind: "company"}, told)
	}
	k.rouse()
	k.rouseMail()
	return nil
}

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
// their decisions to who stands in as the runner sees it.
func (w *Keeping) gone(ctx context.Context, tx *store.Tx, actor string, leavers []people.Person) error {
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

// administrators are those who are there.
func (k *kernel) administrators() (all []people.Person) {
	for _, p := range k.Company().Persons() {
		if p.Is(people.Administrator) && !p.Former {
			all = append(all, p)
		}
	}
	return all
}
