package calendar_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

func instant(t require.TestingT, text string) time.Time {
	at, err := time.Parse(time.RFC3339, text)
	require.NoError(t, err, text)
	return at
}

// week gives Monday to Friday the same opening times.
func week(open ...string) map[string][]string {
	days := map[string][]string{}
	for _, day := range calendar.Weekdays[:5] {
		days[day] = open
	}
	return days
}

func daily(open ...string) map[string][]string {
	days := week(open...)
	days["sat"], days["sun"] = open, open
	return days
}

func compiled(t require.TestingT, d calendar.Document) *calendar.Calendar {
	d.Format = calendar.Format
	findings := finding.List{}
	c := calendar.Compile(d, &findings)
	require.Empty(t, findings)
	return c
}

// The calendars of the tables. Clocks change at 01:00 UTC on 28 March and
// 31 October 2027 in Europe, at 2:00 on 14 March and 7 November 2027 in New
// York, and at 2:00 and 3:00 on 3 October 2027 and 4 April 2027 in Sydney.
func calendars(t require.TestingT) map[string]*calendar.Calendar {
	return map[string]*calendar.Calendar{
		"office": compiled(t, calendar.Document{Zone: "Europe/Lisbon", Week: week("08:30-12:30", "13:30-17:30"), Exceptions: []calendar.Exception{
			{Date: "2027-12-24", Open: []string{"08:30-12:30"}}, {Date: "2027-12-25"}, {Date: "2027-03-26", Open: []string{}}, {Date: "2027-03-20", Open: []string{"10:00-12:00"}},
			{Date: "2020-05-01", Repeat: "FREQ=YEARLY"}, {Date: "2029-05-01", Open: []string{"09:00-10:00"}},
		}}),
		"pier":     compiled(t, calendar.Document{Zone: "Europe/Oslo", Week: week("08:00-16:00")}),
		"hall":     compiled(t, calendar.Document{Zone: "Atlantic/Azores", Week: map[string][]string{"tue": {"07:00-19:00"}, "wed": {"07:00-19:00"}, "thu": {"07:00-19:00"}, "fri": {"07:00-19:00"}, "sat": {"07:00-19:00"}, "sun": {"07:00-19:00"}}}),
		"night":    compiled(t, calendar.Document{Zone: "Europe/Lisbon", Week: daily("22:00-06:00")}),
		"newYork":  compiled(t, calendar.Document{Zone: "America/New_York", Week: daily("00:00-24:00")}),
		"sydney":   compiled(t, calendar.Document{Zone: "Australia/Sydney", Week: daily("01:30-03:30")}),
		"always":   compiled(t, calendar.Document{Zone: "UTC", Week: daily("00:00-24:00")}),
		"oneInAll": compiled(t, calendar.Document{Zone: "UTC", Exceptions: []calendar.Exception{{Date: "2027-03-10", Open: []string{"08:00-10:00"}}}}),
	}
}

func TestAdd(t *testing.T) {
	all := calendars(t)
	for _, c := range []struct{ calendar, from, d, want string }{
		{"office", "2027-03-08T10:00:00Z", "0s", "2027-03-08T10:00:00Z"},
		{"office", "2027-03-08T03:00:00Z", "0s", "2027-03-08T03:00:00Z"},
		{"office", "2027-03-08T10:00:00Z", "2h30m", "2027-03-08T12:30:00Z"}, // ends with the morning, not after the break
		{"office", "2027-03-08T10:00:00Z", "2h30m1s", "2027-03-08T13:30:01Z"},
		{"office", "2027-03-08T12:45:00Z", "30m", "2027-03-08T14:00:00Z"},
		{"office", "2027-03-08T18:00:00Z", "1h", "2027-03-09T09:30:00Z"},
		{"office", "2027-03-12T17:00:00Z", "1h", "2027-03-15T09:00:00Z"}, // over the weekend
		{"office", "2027-03-19T17:00:00Z", "1h", "2027-03-20T10:30:00Z"}, // a Saturday that is open
		{"office", "2027-03-25T17:00:00Z", "1h", "2027-03-29T08:00:00Z"}, // a closed Friday, then summer time
		{"office", "2027-03-26T10:00:00Z", "8h", "2027-03-29T16:30:00Z"},
		{"office", "2027-10-29T16:00:00Z", "1h", "2027-11-01T09:00:00Z"}, // back to winter time
		{"office", "2027-12-24T12:00:00Z", "1h", "2027-12-27T09:00:00Z"}, // a short day
		{"office", "2028-04-28T16:00:00Z", "1h", "2028-05-02T08:00:00Z"}, // every first of May
		{"office", "2029-04-30T16:00:00Z", "1h", "2029-05-01T08:30:00Z"}, // but for one
		{"office", "2027-03-08T10:00:00Z", "-1h", "2027-03-08T09:00:00Z"},
		{"office", "2027-03-08T14:30:00Z", "-1h", "2027-03-08T12:30:00Z"}, // the earliest with one hour between
		{"office", "2027-03-15T08:30:00Z", "-8h", "2027-03-11T17:30:00Z"},
		{"pier", "2027-03-26T14:00:00Z", "2h", "2027-03-29T07:00:00Z"},
		{"hall", "2027-03-27T19:00:00Z", "2h", "2027-03-28T08:00:00Z"},
		{"hall", "2027-03-28T18:00:00Z", "2h", "2027-03-30T08:00:00Z"},  // closed on Mondays
		{"night", "2027-03-27T23:00:00Z", "7h", "2027-03-28T22:00:00Z"}, // a night of seven hours
		{"night", "2027-10-30T21:00:00Z", "9h", "2027-10-31T06:00:00Z"}, // and one of nine
		{"night", "2027-03-10T12:00:00Z", "1h", "2027-03-10T23:00:00Z"},
		{"newYork", "2027-03-14T05:00:00Z", "23h", "2027-03-15T04:00:00Z"},
		{"newYork", "2027-11-07T04:00:00Z", "25h", "2027-11-08T05:00:00Z"},
		{"sydney", "2027-10-02T14:00:00Z", "1h", "2027-10-02T16:30:00Z"}, // 3 October has 1:30 to 2:00 and 3:00 to 3:30
		{"sydney", "2027-10-02T14:00:00Z", "2h", "2027-10-03T15:30:00Z"},
		{"sydney", "2027-04-03T14:00:00Z", "3h", "2027-04-03T17:30:00Z"}, // 4 April runs through the second hour twice
		{"always", "2027-03-28T00:30:00Z", "24h", "2027-03-29T00:30:00Z"},
		{"oneInAll", "2027-01-01T00:00:00Z", "2h", "2027-03-10T10:00:00Z"},
	} {
		d, err := time.ParseDuration(c.d)
		require.NoError(t, err)
		got, err := all[c.calendar].Add(instant(t, c.from), d)
		require.NoError(t, err)
		assert.Equal(t, c.want, got.Format(time.RFC3339), "%s: %s + %s", c.calendar, c.from, c.d)
		assert.Equal(t, d, all[c.calendar].Between(instant(t, c.from), got))
	}
	_, err := all["oneInAll"].Add(instant(t, "2027-01-01T00:00:00Z"), 3*time.Hour)
	assert.ErrorIs(t, err, calendar.ErrBeyond)
	_, err = all["oneInAll"].AddDays(instant(t, "2027-03-10T09:00:00Z"), 1)
	assert.ErrorIs(t, err, calendar.ErrBeyond)
	_, err = all["oneInAll"].NextOpen(instant(t, "2027-03-10T10:00:00Z"))
	assert.ErrorIs(t, err, calendar.ErrBeyond)
	_, err = all["always"].PrevClose(instant(t, "1970-03-10T10:00:00Z"))
	assert.ErrorIs(t, err, calendar.ErrBeyond)
	_, err = all["always"].AddDays(instant(t, "2200-03-10T10:00:00Z"), 1)
	assert.ErrorIs(t, err, calendar.ErrBeyond)
}

func TestBetween(t *testing.T) {
	all := calendars(t)
	for _, c := range []struct{ calendar, from, to, want string }{
		{"office", "2027-03-08T08:30:00Z", "2027-03-08T17:30:00Z", "8h"},
		{"office", "2027-03-08T12:30:00Z", "2027-03-08T13:30:00Z", "0s"},
		{"office", "2027-03-08T00:00:00Z", "2027-03-15T00:00:00Z", "40h"},
		{"office", "2027-03-15T00:00:00Z", "2027-03-08T00:00:00Z", "-40h"},
		{"office", "2027-03-22T00:00:00Z", "2027-03-28T23:00:00Z", "32h"}, // Friday closed
		{"office", "2027-12-20T00:00:00Z", "2027-12-27T00:00:00Z", "36h"},
		{"night", "2027-03-27T20:00:00Z", "2027-03-28T12:00:00Z", "7h"},
		{"night", "2027-10-30T20:00:00Z", "2027-10-31T12:00:00Z", "9h"},
		{"newYork", "2027-01-01T05:00:00Z", "2028-01-01T05:00:00Z", "8760h"},
		{"sydney", "2027-10-02T14:00:00Z", "2027-10-02T20:00:00Z", "1h"},
		{"sydney", "2027-04-03T13:00:00Z", "2027-04-03T20:00:00Z", "3h"},
		{"always", "1970-01-01T00:00:00Z", "1980-01-01T01:00:00Z", "1h"}, // calendars begin in 1980
	} {
		d, err := time.ParseDuration(c.want)
		require.NoError(t, err)
		assert.Equal(t, d, all[c.calendar].Between(instant(t, c.from), instant(t, c.to)), "%s: %s to %s", c.calendar, c.from, c.to)
	}
}

func TestAddDays(t *testing.T) {
	all := calendars(t)
	for _, c := range []struct {
		calendar, from string
		n              int
		want           string
	}{
		{"office", "2027-03-08T10:30:00Z", 0, "2027-03-08T10:30:00Z"},
		{"office", "2027-03-06T10:30:00Z", 0, "2027-03-06T10:30:00Z"},
		{"office", "2027-03-08T10:30:00Z", 1, "2027-03-09T10:30:00Z"},
		{"office", "2027-03-08T10:30:00Z", 5, "2027-03-15T10:30:00Z"},
		{"office", "2027-03-08T12:30:00Z", 1, "2027-03-09T12:30:00Z"}, // half the day has passed
		{"office", "2027-03-08T13:00:00Z", 1, "2027-03-09T12:30:00Z"}, // in the break: the same
		{"office", "2027-03-08T13:30:00Z", 1, "2027-03-09T12:30:00Z"},
		{"office", "2027-03-08T08:30:00Z", 1, "2027-03-08T17:30:00Z"}, // the beginning of the 9th is the close of the 8th
		{"office", "2027-03-08T07:00:00Z", 1, "2027-03-08T17:30:00Z"},
		{"office", "2027-03-08T18:00:00Z", 1, "2027-03-09T17:30:00Z"}, // after close: the 9th from its beginning
		{"office", "2027-03-06T12:00:00Z", 1, "2027-03-08T17:30:00Z"}, // a Saturday
		{"office", "2027-03-06T12:00:00Z", 2, "2027-03-09T17:30:00Z"},
		{"office", "2027-03-26T10:00:00Z", 10, "2027-04-09T16:30:00Z"}, // a closed Friday
		{"office", "2027-12-23T14:30:00Z", 1, "2027-12-24T11:00:00Z"},  // five of eight hours are two and a half of four
		{"office", "2027-12-24T09:30:00Z", 1, "2027-12-27T10:30:00Z"},
		{"office", "2027-03-19T10:30:00Z", 1, "2027-03-20T10:30:00Z"}, // a Saturday of two hours counts
		{"office", "2027-03-09T10:30:00Z", -1, "2027-03-08T10:30:00Z"},
		{"office", "2027-03-09T08:30:00Z", -1, "2027-03-05T17:30:00Z"},
		{"pier", "2027-03-25T11:00:00Z", 2, "2027-03-29T10:00:00Z"},  // 12:00 in Oslo, before and after the change
		{"night", "2027-03-26T23:00:00Z", 1, "2027-03-27T22:52:30Z"}, // an eighth of the night of seven hours
		{"always", "2027-03-08T10:30:00Z", 3, "2027-03-11T10:30:00Z"},
		{"newYork", "2027-03-13T17:00:00Z", 1, "2027-03-14T16:30:00Z"}, // half of a day of 23 hours
	} {
		got, err := all[c.calendar].AddDays(instant(t, c.from), c.n)
		require.NoError(t, err)
		assert.Equal(t, c.want, got.Format(time.RFC3339Nano), "%s: %s + %d days", c.calendar, c.from, c.n)
	}
}

func TestDaysBetween(t *testing.T) {
	all := calendars(t)
	for _, c := range []struct {
		calendar, from, to string
		want               float64
	}{
		{"office", "2027-03-08T08:30:00Z", "2027-03-08T17:30:00Z", 1},
		{"office", "2027-03-08T08:30:00Z", "2027-03-08T12:30:00Z", 0.5},
		{"office", "2027-03-08T12:30:00Z", "2027-03-08T13:30:00Z", 0},
		{"office", "2027-03-05T15:30:00Z", "2027-03-08T10:30:00Z", 0.5},
		{"office", "2027-03-08T10:30:00Z", "2027-03-05T15:30:00Z", -0.5},
		{"office", "2027-03-06T00:00:00Z", "2027-03-07T23:00:00Z", 0},
		{"office", "2027-12-24T08:30:00Z", "2027-12-24T10:30:00Z", 0.5},
	} {
		got, err := all[c.calendar].DaysBetween(instant(t, c.from), instant(t, c.to))
		require.NoError(t, err)
		assert.InDelta(t, c.want, got, 1e-12, "%s: %s to %s", c.calendar, c.from, c.to)
	}
}

func TestOpening(t *testing.T) {
	c := calendars(t)["office"]
	for text, want := range map[string]struct {
		open        bool
		next, close string
	}{
		"2027-03-08T08:30:00Z": {true, "2027-03-08T08:30:00Z", "2027-03-05T17:30:00Z"},
		"2027-03-08T08:29:59Z": {false, "2027-03-08T08:30:00Z", "2027-03-05T17:30:00Z"},
		"2027-03-08T12:30:00Z": {false, "2027-03-08T13:30:00Z", "2027-03-08T12:30:00Z"},
		"2027-03-08T15:00:00Z": {true, "2027-03-08T15:00:00Z", "2027-03-08T12:30:00Z"},
		"2027-03-26T10:00:00Z": {false, "2027-03-29T07:30:00Z", "2027-03-25T17:30:00Z"},
	} {
		at := instant(t, text)
		assert.Equal(t, want.open, c.IsOpen(at), text)
		next, err := c.NextOpen(at)
		require.NoError(t, err)
		assert.Equal(t, want.next, next.Format(time.RFC3339), text)
		close, err := c.PrevClose(at)
		require.NoError(t, err)
		assert.Equal(t, want.close, close.Format(time.RFC3339), text)
	}
	latest, err := c.Latest(instant(t, "2027-03-08T14:30:00Z"), time.Hour)
	require.NoError(t, err)
	assert.Equal(t, "2027-03-08T13:30:00Z", latest.Format(time.RFC3339), "not before the break")
	assert.Equal(t, []calendar.Span{{instant(t, "2027-12-24T08:30:00Z"), instant(t, "2027-12-24T12:30:00Z")}}, c.Open(date(t, "2027-12-24")))
	assert.Empty(t, c.Open(date(t, "2027-12-25")))
	assert.Len(t, c.Open(date(t, "2149-12-31")), 2)
}

func TestWorkdays(t *testing.T) {
	plain := calendar.Plain(time.UTC)
	office := calendars(t)["office"]
	for _, c := range []struct {
		calendar *calendar.Calendar
		from, to string
		want     int
	}{
		{plain, "2026-11-23", "2026-11-23", 0}, // Monday to itself
		{plain, "2026-11-23", "2026-11-24", 1},
		{plain, "2026-11-20", "2026-11-23", 1}, // Friday to Monday
		{plain, "2026-11-20", "2026-11-22", 0}, // Friday to Sunday
		{plain, "2026-11-21", "2026-11-23", 1}, // Saturday to Monday
		{plain, "2026-11-23", "2026-12-07", 10},
		{plain, "2026-11-24", "2026-11-23", -1},
		{office, "2027-03-19", "2027-03-29", 6}, // an open Saturday, a closed Friday
		{office, "2027-12-23", "2027-12-27", 2},
	} {
		got, err := c.calendar.Workdays(date(t, c.from), date(t, c.to))
		require.NoError(t, err)
		assert.Equal(t, c.want, got, "%s to %s", c.from, c.to)
	}
	_, err := plain.Workdays(date(t, "1979-12-31"), date(t, "2027-03-08"))
	assert.Error(t, err)
}

func TestAddWorkdays(t *testing.T) {
	plain := calendar.Plain(time.UTC)
	office := calendars(t)["office"]
	for _, c := range []struct {
		calendar *calendar.Calendar
		from     string
		n        int
		want     string
	}{
		{plain, "2026-11-23", 0, "2026-11-23"},
		{plain, "2026-11-22", 0, "2026-11-22"}, // a Sunday stays
		{plain, "2026-11-20", 1, "2026-11-23"},
		{plain, "2026-11-21", 1, "2026-11-23"},
		{plain, "2026-11-21", 10, "2026-12-04"},
		{plain, "2026-11-21", 6, "2026-11-30"},
		{plain, "2026-11-23", -1, "2026-11-20"},
		{plain, "2026-11-22", -5, "2026-11-16"},
		{office, "2027-03-25", 1, "2027-03-29"},
		{office, "2027-03-29", -1, "2027-03-25"},
		{office, "2027-03-19", 1, "2027-03-20"},
		{office, "2028-04-28", 1, "2028-05-02"},
	} {
		got, err := c.calendar.AddWorkdays(date(t, c.from), c.n)
		require.NoError(t, err)
		assert.Equal(t, c.want, got.String(), "%s + %d", c.from, c.n)
	}
	_, err := plain.AddWorkdays(date(t, "2149-12-31"), 1)
	assert.ErrorIs(t, err, calendar.ErrBeyond)
	_, err = plain.AddWorkdays(date(t, "1980-01-01"), -1)
	assert.ErrorIs(t, err, calendar.ErrBeyond)
}

// A calendar of any shape.
func drawCalendar(t *rapid.T) (calendar.Document, *calendar.Calendar) {
	zone := rapid.SampledFrom([]string{"Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "America/Havana", "Asia/Kolkata", "UTC", "Africa/Cairo"}).Draw(t, "zone")
	open := func(label string) []string {
		var all []string
		at := 0
		for n := rapid.IntRange(0, 3).Draw(t, label); n > 0 && at < 22*60; n-- {
			from := at + rapid.IntRange(0, 9*60).Draw(t, "from")
			if from >= 24*60 {
				break
			}
			until := min(from+rapid.IntRange(1, 12*60).Draw(t, "length"), from+24*60-1)
			if until > 24*60 && len(all) > 0 {
				until = 24 * 60 // only the first may run over midnight: it must not meet itself
			}
			clock := func(m int) string {
				if m == 24*60 {
					return "24:00"
				}
				return fmt.Sprintf("%02d:%02d", m/60%24, m%60)
			}
			all = append(all, clock(from)+"-"+clock(until))
			at = until
		}
		return all
	}
	d := calendar.Document{Format: calendar.Format, Zone: zone, Week: map[string][]string{}}
	for _, day := range calendar.Weekdays {
		d.Week[day] = open(day)
	}
	for n := rapid.IntRange(0, 4).Draw(t, "exceptions"); n > 0; n-- {
		d.Exceptions = append(d.Exceptions, calendar.Exception{Date: fmt.Sprintf("2027-03-%02d", 8+n*3), Open: open("exception")})
	}
	findings := finding.List{}
	c := calendar.Compile(d, &findings)
	if c == nil {
		t.Skip("never open")
	}
	return d, c
}

// open tells slowly whether a minute is open: it looks at the wall clock.
func open(d calendar.Document, t time.Time) bool {
	zone, _ := time.LoadLocation(d.Zone)
	wall := t.In(zone)
	for back := range 2 {
		day := wall.AddDate(0, 0, -back)
		intervals := d.Week[[]string{"sun", "mon", "tue", "wed", "thu", "fri", "sat"}[day.Weekday()]]
		for _, e := range d.Exceptions {
			if e.Date == day.Format("2006-01-02") {
				intervals = e.Open
			}
		}
		minute := wall.Hour()*60 + wall.Minute() + back*24*60
		for _, text := range intervals {
			var a, b, x, y int
			_, _ = fmt.Sscanf(text, "%d:%d-%d:%d", &a, &b, &x, &y)
			from, until := a*60+b, x*60+y
			if until <= from {
				until += 24 * 60
			}
			if minute >= from && minute < until {
				return true
			}
		}
	}
	return false
}

// Against an oracle that steps through the minutes, over days on which clocks
// change.
func TestMinuteByMinute(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d, c := drawCalendar(t)
		from := instant(t, rapid.SampledFrom([]string{"2027-03-12T00:00:00Z", "2027-03-26T12:00:00Z", "2027-04-02T20:00:00Z", "2027-10-29T07:00:00Z", "2027-11-05T00:00:00Z"}).Draw(t, "start")).
			Add(time.Duration(rapid.IntRange(0, 2000).Draw(t, "offset")) * time.Minute)
		length := rapid.IntRange(1, 3000).Draw(t, "minutes")
		minutes, reached := 0, time.Time{}
		target := rapid.IntRange(1, 1200).Draw(t, "target")
		for i := range length {
			at := from.Add(time.Duration(i) * time.Minute)
			if open(d, at) {
				minutes++
				assert.True(t, c.IsOpen(at))
			} else {
				assert.False(t, c.IsOpen(at))
			}
			if minutes == target && reached.IsZero() {
				reached = at.Add(time.Minute)
			}
		}
		assert.Equal(t, time.Duration(minutes)*time.Minute, c.Between(from, from.Add(time.Duration(length)*time.Minute)))
		if !reached.IsZero() {
			got, err := c.Add(from, time.Duration(target)*time.Minute)
			require.NoError(t, err)
			assert.Equal(t, reached, got)
		}
	})
}

func TestLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		_, c := drawCalendar(t)
		draw := func(label string) time.Time {
			return instant(t, "2026-01-01T00:00:00Z").Add(time.Duration(rapid.Int64Range(0, int64(3*365*24*time.Hour)).Draw(t, label)))
		}
		a, b, m := draw("a"), draw("b"), draw("m")
		assert.Equal(t, c.Between(a, b), c.Between(a, m)+c.Between(m, b), "additive")
		assert.Equal(t, c.Between(a, b), -c.Between(b, a))
		if a.Before(b) {
			assert.GreaterOrEqual(t, c.Between(a, b), time.Duration(0))
		}
		d := time.Duration(rapid.Int64Range(0, int64(500*time.Hour)).Draw(t, "d"))
		if to, err := c.Add(a, d); err == nil {
			assert.Equal(t, d, c.Between(a, to))
			assert.False(t, to.Before(a))
			if d > 0 {
				assert.Less(t, c.Between(a, to.Add(-1)), d, "the earliest")
			}
			further, err := c.Add(to, time.Hour)
			both, err2 := c.Add(a, d+time.Hour)
			assert.Equal(t, err == nil, err2 == nil)
			assert.Equal(t, both, further)
			back, err := c.Latest(to, d)
			require.NoError(t, err)
			assert.Equal(t, d, c.Between(back, to))
			assert.False(t, back.Before(a))
		}
		n := rapid.IntRange(-200, 200).Draw(t, "n")
		if to, err := c.AddDays(a, n); err == nil {
			days, err := c.DaysBetween(a, to)
			require.NoError(t, err)
			assert.InDelta(t, n, days, 1e-9)
		}
		day := calendar.DateOf(a)
		if to, err := c.AddWorkdays(day, n); err == nil && n > 0 {
			assert.True(t, c.IsWorkday(to))
			counted, err := c.Workdays(day, to)
			require.NoError(t, err)
			assert.Equal(t, n, counted)
		}
	})
}

func TestCompileRefuses(t *testing.T) {
	for name, c := range map[string]struct {
		document calendar.Document
		place    string
		sentence string
	}{
		"no zone":        {calendar.Document{Week: daily("08:00-09:00")}, "/zone", `"" is no time zone.`},
		"wrong zone":     {calendar.Document{Zone: "Ilha/Serena", Week: daily("08:00-09:00")}, "/zone", `"Ilha/Serena" is no time zone.`},
		"wrong day":      {calendar.Document{Zone: "UTC", Week: map[string][]string{"monday": {"08:00-09:00"}}}, "/week/monday", `"monday" is no day of the week.`},
		"wrong time":     {calendar.Document{Zone: "UTC", Week: map[string][]string{"mon": {"08:00-25:00"}}}, "/week/mon/0", `"08:00-25:00" is no opening time: write it like 08:30-12:30.`},
		"short time":     {calendar.Document{Zone: "UTC", Week: map[string][]string{"mon": {"8:00-9:00"}}}, "/week/mon/0", `"8:00-9:00" is no opening time: write it like 08:30-12:30.`},
		"empty interval": {calendar.Document{Zone: "UTC", Week: map[string][]string{"mon": {"08:00-08:00"}}}, "/week/mon/0", `"08:00-08:00" ends when it begins; the whole day is 00:00-24:00.`},
		"overlap":        {calendar.Document{Zone: "UTC", Week: map[string][]string{"mon": {"08:00-12:00", "11:00-13:00"}}}, "/week/mon", "Two opening times of this date overlap."},
		"never open":     {calendar.Document{Zone: "UTC", Week: daily(), Exceptions: []calendar.Exception{{Date: "2027-03-08"}}}, "/week", "This calendar is never open."},
		"wrong date":     {calendar.Document{Zone: "UTC", Week: daily("08:00-09:00"), Exceptions: []calendar.Exception{{Date: "8.3.2027"}}}, "/exceptions/0/date", `"8.3.2027" is not a date: write it like 2027-03-12.`},
		"far date":       {calendar.Document{Zone: "UTC", Week: daily("08:00-09:00"), Exceptions: []calendar.Exception{{Date: "2227-03-08"}}}, "/exceptions/0/date", "Calendars know the years 1980 to 2149."},
		"date twice":     {calendar.Document{Zone: "UTC", Week: daily("08:00-09:00"), Exceptions: []calendar.Exception{{Date: "2027-03-08"}, {Date: "2027-03-08"}}}, "/exceptions/1/date", "2027-03-08 stands twice among the exceptions."},
		"monthly":        {calendar.Document{Zone: "UTC", Week: daily("08:00-09:00"), Exceptions: []calendar.Exception{{Date: "2027-03-08", Repeat: "FREQ=MONTHLY"}}}, "/exceptions/0/repeat", `"FREQ=MONTHLY" does not repeat yearly.`},
		"no rule":        {calendar.Document{Zone: "UTC", Week: daily("08:00-09:00"), Exceptions: []calendar.Exception{{Date: "2027-03-08", Repeat: "each year"}}}, "/exceptions/0/repeat", `"each year" is no recurrence.`},
	} {
		t.Run(name, func(t *testing.T) {
			findings := finding.List{}
			assert.Nil(t, calendar.Compile(c.document, &findings))
			require.Len(t, findings, 1)
			assert.Equal(t, c.place, findings[0].Place)
			assert.Equal(t, c.sentence, findings[0].Sentence)
		})
	}
}

func TestParse(t *testing.T) {
	d, err := calendar.Parse([]byte(`{"format":"heptad/calendar/1","zone":"Europe/Lisbon","week":{"mon":["08:30-12:30","13:30-17:30"]},"exceptions":[{"date":"2027-12-25","open":[]}]}`))
	require.NoError(t, err)
	assert.Equal(t, "Europe/Lisbon", d.Zone)
	for text, want := range map[string]string{
		``:                               "this is no calendar",
		`{"format":"heptad/calendar/2"}`: `its format is "heptad/calendar/2"`,
		`{"format":"heptad/calendar/1","hours":{}}`:  `unknown field "hours"`,
		`{"format":"heptad/calendar/1"} {"zone":""}`: "something follows",
	} {
		_, err := calendar.Parse([]byte(text))
		assert.ErrorContains(t, err, want)
	}
}
