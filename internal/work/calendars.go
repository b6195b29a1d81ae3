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

// Calendars lists the working calendars by key, to those who may edit them.
func (o *Office) Calendars(ctx context.Context, person string) (map[string]calendar.Document, error) {
	if !o.writes(person) {
		return nil, ErrNotFound
	}
	return o.Store.Calendars(ctx)
}
