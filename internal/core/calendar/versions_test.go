package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
)

// A day that is closed afterwards stays open up to the change; worked out by hand
// for a change on Tuesday, 9 March 2027, at 10:30.
func TestAChangeCountsFromWhenItWasMade(t *testing.T) {
	week := func(closed ...string) *calendar.Calendar {
		d := calendar.Document{Format: calendar.Format, Zone: "Europe/Lisbon", Week: map[string][]string{}}
		for _, day := range calendar.Weekdays[:5] {
			d.Week[day] = []string{"08:30-12:30", "13:30-17:30"}
		}
		for _, date := range closed {
			d.Exceptions = append(d.Exceptions, calendar.Exception{Date: date, Open: []string{}})
		}
		return calendar.MustCompile(d)
	}
	c := calendar.Changed(week(), week("2027-03-08", "2027-03-09", "2027-03-11"), coretest.At(t, "2027-03-09 10:30"))
	for between, want := range map[[2]string]time.Duration{
		{"2027-03-08 00:00", "2027-03-09 00:00"}: 8 * time.Hour, // closed afterwards: it was open
		{"2027-03-09 00:00", "2027-03-10 00:00"}: 2 * time.Hour, // until the change
		{"2027-03-10 00:00", "2027-03-11 00:00"}: 8 * time.Hour,
		{"2027-03-11 00:00", "2027-03-12 00:00"}: 0, // from then on it is closed
		{"2027-03-01 00:00", "2027-03-15 00:00"}: 66 * time.Hour,
	} {
		assert.Equal(t, want, c.Between(coretest.At(t, between[0]), coretest.At(t, between[1])), between)
	}
	opens, err := c.NextOpen(coretest.At(t, "2027-03-09 10:30"))
	assert.NoError(t, err)
	assert.Equal(t, coretest.At(t, "2027-03-10 08:30"), opens)
	day, err := c.AddDays(coretest.At(t, "2027-03-08 08:30"), 3)
	assert.NoError(t, err)
	assert.Equal(t, coretest.At(t, "2027-03-10 17:30"), day, "Tuesday still counts as a working day")
}

// Whatever changes when: before the change the one holds, from then on the other.
func TestChangedHolds(t *testing.T) {
	calendars := []*calendar.Calendar{
		coretest.Week("Europe/Lisbon", calendar.Weekdays[:5], "08:30-12:30", "13:30-17:30"), coretest.Week("Europe/Lisbon", calendar.Weekdays, "22:00-06:00"),
		coretest.Week("Asia/Tokyo", calendar.Weekdays[2:], "00:00-24:00"), coretest.Week("Atlantic/Azores", calendar.Weekdays[:1], "09:00-10:00"),
	}
	begin := coretest.At(t, "2027-03-20 00:00")
	rapid.Check(t, func(t *rapid.T) {
		instant := func(name string) time.Time {
			return begin.Add(time.Duration(rapid.IntRange(0, 30*24*60).Draw(t, name)) * time.Minute)
		}
		before, next, at := rapid.SampledFrom(calendars).Draw(t, "before"), rapid.SampledFrom(calendars).Draw(t, "next"), instant("at")
		c := calendar.Changed(before, next, at)
		a, b := instant("a"), instant("b")
		if b.Before(a) {
			a, b = b, a
		}
		want := before.Between(minTime(a, at), minTime(b, at)) + next.Between(maxTime(a, at), maxTime(b, at))
		assert.Equal(t, want, c.Between(a, b))
		if d := c.Between(a, b); d > 0 {
			to, err := c.Add(a, d)
			assert.NoError(t, err)
			assert.Equal(t, d, c.Between(a, to))
		}
		days, err := c.DaysBetween(a, b)
		assert.NoError(t, err)
		assert.GreaterOrEqual(t, days, 0.0)
	})
}

func minTime(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}

func maxTime(a, b time.Time) time.Time {
	if a.Before(b) {
		return b
	}
	return a
}
