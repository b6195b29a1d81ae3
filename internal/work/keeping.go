package work

import (
	"context"
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
		if p.Place == "/prefix" && o.Prefix == before.Prefix { // of a trial, whose references begin otherwise
			continue
		}
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
	if p := w.signsOff(ctx, o); p != nil {
		wrong = append(wrong, *p)
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
		{"name", a.Name, b.Name}, {"prefix", a.Prefix, b.Prefix}, {"currency", a.Currency, b.Currency}, {"period", string(a.Period), string(b.Period)}, {"unit", a.Unit, b.Unit},
		{"calendar", a.Calendar, b.Calendar}, {"zone", a.Zone, b.Zone}, {"year of accounts from", time.Month(max(1, a.YearStart)).String(), time.Month(max(1, b.YearStart)).String()}, {"tax", a.Tax.Name + " " + a.Tax.Percent, b.Tax.Name + " " + b.Tax.Percent}, {"accent", a.Accent, b.Accent},
		{"sign-off", a.SignOff, b.SignOff}, {"last day in it", a.LastDay, b.LastDay},
		{"deciding by mail", allowed(a.DecideByMail), allowed(b.DecideByMail)}, {"second factor for", strings.Join(a.FactorRoles, ", "), strings.Join(b.FactorRoles, ", ")},
	} {
		changes = audit.Changed(changes, f.field, f.before, f.after)
	}
	if a.Emblem != b.Emblem {
		changes = append(changes, audit.Change{Field: "emblem", After: "(another picture)"})
	}
	return changes
}

func allowed(is bool) string {
	if is {
		return "allowed"
	}
	return "needs sign-in"
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

// administrators are those who are there.
func (k *kernel) administrators() (all []people.Person) {
	for _, p := range k.Company().Persons() {
		if p.Is(people.Administrator) && !p.Former {
			all = append(all, p)
		}
	}
	return all
}
