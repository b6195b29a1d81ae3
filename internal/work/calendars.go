package work

import (
	"context"
	"regexp"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/store"
)

var calendarKey = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// EditCalendar keeps a working calendar, by those who own a service and
// administrators; from then on all clocks, promises and plans reckon with it.
func (o *Office) EditCalendar(ctx context.Context, person, key string, d calendar.Document) (finding.List, error) {
	if !o.writes(person) {
		return nil, ErrNotFound
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
	u := UsesOf{Teams: []string{}, Locations: []string{}}
	if !o.writes(person) {
		return u, ErrNotFound
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
	if !o.writes(person) {
		return nil, ErrNotFound
	}
	return o.Store.Calendars(ctx)
}
