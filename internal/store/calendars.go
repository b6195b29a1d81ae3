package store

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/calendar"
)

// SaveCalendar keeps a working calendar in place of the one of its key.
func (t *Tx) SaveCalendar(key string, d calendar.Document, at time.Time) error {
	data, err := json.Marshal(d)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO calendars (key, document, changed_at) VALUES (?,?,?) ON CONFLICT (key) DO UPDATE SET document = excluded.document, changed_at = excluded.changed_at", key, string(data), millis(at))
}

// Calendars are all working calendars by key.
func (r reads) Calendars(ctx context.Context) (map[string]calendar.Document, error) {
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
