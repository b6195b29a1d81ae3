package work

import (
	"cmp"
	"context"
	"errors"
	"regexp"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/store"
)

var calendarKey = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// MayReadCalendars is ErrNotFound for those to whom calendars are no business:
// who neither owns a service, leads a team nor is an administrator.
func (o *Office) MayReadCalendars(person string) error {
	if len(o.RolesOf(person)) == 0 {
		return ErrNotFound
	}
	return nil
}

// MayEditCalendar is ErrNotFound for those who may not: administrators may edit
// every calendar, the lead of a team that of the team when nobody else works by
// it, and who owns a service their own, or a new one.
func (o *Office) MayEditCalendar(ctx context.Context, person, key string) error {
	if o.administers(person) || o.leadsAll(person, key) {
		return nil
	}
	if len(o.Owned(person)) == 0 {
		return ErrNotFound
	}
	kept, err := o.Store.KeptCalendar(ctx, key)
	if errors.Is(err, ErrNotFound) || err == nil && kept.Keeper == person {
		return nil
	}
	return cmp.Or(err, ErrNotFound)
}

// leadsAll reports whether a calendar is that of teams which a person leads, and
// of nobody else.
func (o *Office) leadsAll(person, calendar string) bool {
	if len(o.Company().LocationsIn(calendar)) > 0 {
		return false
	}
	leads := false
	for _, t := range o.Company().Teams() {
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
func (o *Office) EditCalendar(ctx context.Context, person, key string, d calendar.Document) (finding.List, error) {
	if err := o.MayEditCalendar(ctx, person, key); err != nil {
		return nil, err
	}
	findings := finding.List{}
	if calendar.Compile(d, &findings) == nil {
		return findings, nil
	}
	if !calendarKey.MatchString(key) {
		return nil, invalid("badKey", "/key", "%q cannot be the key of a calendar: use small letters, digits and hyphens.", key)
	}
	kept := store.KeptCalendar{Document: d, ChangedBy: person, ChangedAt: o.Clock()}
	if !o.administers(person) {
		kept.Keeper = person
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveCalendar(key, kept) })
	if err == nil {
		err = o.ReadCompany(ctx)
	}
	if err != nil {
		return nil, err
	}
	if err := o.catchUpAll(ctx); err != nil {
		return nil, err
	}
	o.Live.tell(Change{Kind: "calendar"}, nil)
	o.rouse()
	return findings, nil
}

// catchUpAll has every forecast worked out anew.
func (o *Office) catchUpAll(ctx context.Context) error {
	ids, err := o.Store.UnderWay(ctx)
	for _, id := range ids {
		o.unforecast.add(id)
	}
	return err
}

// UsesOf are those whose time a calendar keeps, by name.
type UsesOf struct{ Teams, Locations, Offerings []string }

// CalendarUses tells what hangs on a calendar, to those who may read them.
func (o *Office) CalendarUses(ctx context.Context, person, key string) (UsesOf, error) {
	u := UsesOf{Teams: []string{}}
	if err := o.MayReadCalendars(person); err != nil {
		return u, err
	}
	company := o.Company()
	for _, t := range company.Teams() {
		if t.Calendar == key {
			u.Teams = append(u.Teams, t.Name)
		}
	}
	u.Locations = company.LocationsIn(key)
	var err error
	u.Offerings, err = o.Store.OfferingsIn(ctx, key)
	return u, err
}

// Calendars lists the working calendars by key, to those who may read them.
func (o *Office) Calendars(ctx context.Context, person string) (map[string]calendar.Document, error) {
	if err := o.MayReadCalendars(person); err != nil {
		return nil, err
	}
	return o.Store.Calendars(ctx)
}

// Calendar finds a working calendar with who keeps it, for those who may read
// them.
func (o *Office) Calendar(ctx context.Context, person, key string) (store.KeptCalendar, error) {
	if err := o.MayReadCalendars(person); err != nil {
		return store.KeptCalendar{}, err
	}
	return o.Store.KeptCalendar(ctx, key)
}
