package work

import (
	"cmp"
	"context"
	"errors"
	"regexp"

	"heptad/internal/core/audit"
	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

var calendarKey = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// MayReadCalendars is ErrNotFound for those to whom calendars are no business:
// who neither owns a service, leads a team nor is an administrator.
func (w *Designing) MayReadCalendars(person string) error {
	if w.Writes(person) || w.Company().LeadsAny(person) {
		return nil
	}
	return ErrNotFound
}

// MayEditCalendar is ErrNotFound for those who may not: administrators may edit
// every calendar, the lead of a team that of the team when nobody else works by
// it, and who owns a service their own, or a new one.
func (w *Designing) MayEditCalendar(ctx context.Context, person, key string) error {
	if w.Administers(person) || w.leadsAll(person, key) {
		return nil
	}
	if !w.DesignsAny(person) {
		return ErrNotFound
	}
	kept, err := w.Store.KeptCalendar(ctx, key)
	if errors.Is(err, ErrNotFound) || err == nil && kept.Keeper == person {
		return nil
	}
	return cmp.Or(err, ErrNotFound)
}

// leadsAll reports whether a calendar is that of teams which a person leads, and
// of nobody else.
func (w *Designing) leadsAll(person, calendar string) bool {
	if len(w.Company().LocationsIn(calendar)) > 0 {
		return false
	}
	leads := false
	for _, t := range w.Company().Teams() {
		if t.Calendar == calendar {
			if t.Lead != person {
				return false
			}
			leads = true
		}
	}
	return leads
}

// EditCalendar keeps a working calendar, by those who may; from then on all
// clocks, promises and plans use it.
func (w *Designing) EditCalendar(ctx context.Context, person, key string, d calendar.Document) (finding.List, error) {
	if err := w.MayEditCalendar(ctx, person, key); err != nil {
		return nil, err
	}
	findings := finding.List{}
	if calendar.Compile(d, &findings) == nil {
		return findings, nil
	}
	if !calendarKey.MatchString(key) {
		return nil, invalid(refusal.BadKey, "/key", "%q cannot be the key of a calendar: use small letters, digits and hyphens.", key)
	}
	kept := store.KeptCalendar{Document: d, ChangedBy: person, ChangedAt: w.Clock()}
	if !w.Administers(person) {
		kept.Keeper = person
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := w.note(ctx, tx, person, audit.CalendarSaved, key, key); err != nil {
			return err
		}
		return errors.Join(tx.SaveCalendar(key, kept), tx.Unsettle())
	})
	if err == nil {
		err = w.ReadCompany(ctx)
	}
	if err == nil { // once more, for those that were looked at before it was read
		err = w.Store.WriteAlone(ctx, (*store.Tx).Unsettle)
	}
	if err == nil {
		err = w.catchUpAll(ctx)
	}
	if err != nil {
		return nil, err
	}
	w.Live.tell(Change{Kind: "calendar"}, nil)
	w.rouse()
	return findings, nil
}

// catchUpAll has every forecast worked out anew.
func (w *Designing) catchUpAll(ctx context.Context) error {
	ids, err := w.Store.UnderWay(ctx)
	for _, id := range ids {
		w.unforecast.add(id)
	}
	return err
}

// UsesOf are those whose time a calendar keeps, by name.
type UsesOf struct{ Teams, Locations, Offerings []string }

// CalendarUses tells what hangs on a calendar, to those who may read them.
func (w *Designing) CalendarUses(ctx context.Context, person, key string) (UsesOf, error) {
	u := UsesOf{Teams: []string{}}
	if err := w.MayReadCalendars(person); err != nil {
		return u, err
	}
	company := w.Company()
	for _, t := range company.Teams() {
		if t.Calendar == key {
			u.Teams = append(u.Teams, t.Name)
		}
	}
	u.Locations = company.LocationsIn(key)
	var err error
	u.Offerings, err = w.Store.OfferingsIn(ctx, key)
	return u, err
}

// Calendars lists the working calendars by key, to those who may read them.
func (w *Designing) Calendars(ctx context.Context, person string) (map[string]calendar.Document, error) {
	if err := w.MayReadCalendars(person); err != nil {
		return nil, err
	}
	return w.Store.Calendars(ctx)
}

// Calendar finds a working calendar with who keeps it, for those who may read
// them.
func (w *Designing) Calendar(ctx context.Context, person, key string) (store.KeptCalendar, error) {
	if err := w.MayReadCalendars(person); err != nil {
		return store.KeptCalendar{}, err
	}
	return w.Store.KeptCalendar(ctx, key)
}

// CalendarDocuments gives the newest document of every working calendar, by key.
func (w *Designing) CalendarDocuments(ctx context.Context) (map[string]calendar.Document, error) {
	return w.Store.Calendars(ctx)
}
