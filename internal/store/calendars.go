package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// KeptCalendar is a working calendar with who keeps it.
type KeptCalendar struct {
	Document  calendar.Document
	Keeper    string // ID of who keeps it beside the administrators; empty for the company's
	ChangedBy string // ID; empty for the program
	ChangedAt time.Time
}

// SaveCalendar keeps a working calendar in place of the one of its key; its
// keeper stays, and what it was before counts for the time before.
func (t *Tx) SaveCalendar(key string, c KeptCalendar) error {
	data, err := json.Marshal(c.Document)
	if err != nil {
		return err
	}
	if err := t.exec("INSERT INTO calendar_versions (key, made_at, document, made_by) VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET document = excluded.document, made_by = excluded.made_by", key, millis(c.ChangedAt), string(data), c.ChangedBy); err != nil {
		return err
	}
	return t.exec(`INSERT INTO calendars (key, document, keeper, changed_by, changed_at) VALUES (?,?,?,?,?)
		ON CONFLICT (key) DO UPDATE SET document = excluded.document, changed_by = excluded.changed_by, changed_at = excluded.changed_at`,
		key, string(data), c.Keeper, c.ChangedBy, millis(c.ChangedAt))
}

// KeptCalendar finds a working calendar by its key.
func (r ofCompany) KeptCalendar(ctx context.Context, key string) (KeptCalendar, error) {
	var row struct {
		Document, Keeper string
		ChangedBy        string `db:"changed_by"`
		ChangedAt        int64  `db:"changed_at"`
	}
	if err := r.get(ctx, &row, "SELECT document, keeper, changed_by, changed_at FROM calendars WHERE key = ?", key); err != nil {
		return KeptCalendar{}, err
	}
	d, err := calendar.Parse([]byte(row.Document))
	return KeptCalendar{d, row.Keeper, row.ChangedBy, instant(row.ChangedAt)}, err
}

// Calendars are all working calendars by key.
func (r ofCompany) Calendars(ctx context.Context) (map[string]calendar.Document, error) {
	var rows []struct{ Key, Document string }
	if err := r.all(ctx, &rows, "SELECT key, document FROM calendars"); err != nil {
		return nil, err
	}
	all := map[string]calendar.Document{}
	for _, row := range rows {
		d, err := calendar.Parse([]byte(row.Document))
		if err != nil {
			return nil, err
		}
		all[row.Key] = d
	}
	return all, nil
}

// compiledCalendars are all working calendars as clocks use them: each
// version from when it was made until the next, the first from the beginning.
func (r ofCompany) compiledCalendars(ctx context.Context) (map[string]*calendar.Calendar, error) {
	var rows []struct {
		Key, Document string
		MadeAt        int64 `db:"made_at"`
	}
	if err := r.all(ctx, &rows, "SELECT key, made_at, document FROM calendar_versions ORDER BY key, made_at"); err != nil {
		return nil, err
	}
	all, last := map[string]*calendar.Calendar{}, ""
	for _, row := range rows {
		d, err := calendar.Parse([]byte(row.Document))
		if err != nil {
			return nil, err
		}
		findings := finding.List{}
		next := calendar.Compile(d, &findings)
		switch before := all[row.Key]; {
		case next == nil:
			return nil, fmt.Errorf("the calendar %s cannot be compiled: %v", row.Key, findings)
		case before == nil:
			all[row.Key] = next
		case row.Document != last: // what was kept again without a change is no change
			all[row.Key] = calendar.Changed(before, next, instant(row.MadeAt))
		}
		last = row.Document
	}
	return all, nil
}

// OfferingsIn names the offerings on Ask whose promise is computed in a
// calendar, by name.
func (r ofCompany) OfferingsIn(ctx context.Context, calendar string) ([]string, error) {
	names := []string{}
	return names, r.all(ctx, &names, `SELECT c.name FROM catalog c JOIN offering_versions v ON v.offering = c.offering AND v.number = c.number
		WHERE json_extract(v.document, '$.promise.calendar') = ?1
		OR EXISTS (SELECT 1 FROM json_each(v.document, '$.promise.targets') t WHERE json_extract(t.value, '$.calendar') = ?1)
		ORDER BY c.name LIMIT 500`, calendar)
}
