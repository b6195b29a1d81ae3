package coretest

import (
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
)

// Week is a working calendar with the same hours on some days of the week.
func Week(zone string, days []string, open ...string) *calendar.Calendar {
	d := calendar.Document{Format: calendar.Format, Zone: zone, Week: map[string][]string{}}
	for _, day := range days {
		d.Week[day] = open
	}
	return calendar.MustCompile(d)
}

// At reads an instant such as "2027-03-08 09:00", UTC; an empty text is none.
func At(t require.TestingT, text string) time.Time {
	if text == "" {
		return time.Time{}
	}
	at, err := time.Parse("2006-01-02 15:04", text)
	require.NoError(t, err)
	return at
}
