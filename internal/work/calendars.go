package work

import (
	"context"
	"regexp"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/store"
)

var calendarKey = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// MayEditCalendars is ErrNotFound for those who may not: only who owns a service
// and administrators may.
func (o *Office) MayEditCalendars(person string) error {
	if !o.writes(person) {
		return ErrNotFound
	}
	return nil
}

// EditCalendar keeps a working calendar, by those who own a service and
// administrators; from then on all clocks, promises and plans reckon with it.
func (o *Office) EditCalendar(ctx context.Context, person, key string, d calendar.Document) (finding.List, error) {
	if err := o.MayEditCalendars(person); err != nil {
		return nil, err
	}
	findings := finding.List{}
	if calendar.Compile(d, &findings) == nil {
		return findings, nil
	}
	if !calendarKey.MatchString(key) {
		return nil, invalid("badKey", "/key", "%q cannot be the key of a calendar: use small letters, digits and hyphens.", key)
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveCalendar(key, d, o.Clock()) })
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

// UsesOf are those whose time a calendar reckons, by name.
type UsesOf struct{ Teams, Locations, Offerings []string }

// CalendarUses tells what hangs on a calendar, to those who may edit it.
func (o *Office) CalendarUses(ctx context.Context, person, key string) (UsesOf, error) {
	u := UsesOf{Teams: []string{}}
	if err := o.MayEditCalendars(person); err != nil {
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

// Calendars lists the working calendars by key, to those who may edit them.
func (o *Office) Calendars(ctx context.Context, person string) (map[string]calendar.Document, error) {
	if err := o.MayEditCalendars(person); err != nil {
		return nil, err
	}
	return o.Store.Calendars(ctx)
}
