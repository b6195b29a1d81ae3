package measure_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/measure"
)

func TestPeriods(t *testing.T) {
	today, err := calendar.ParseDate("2026-11-30") // a Monday
	require.NoError(t, err)
	for _, c := range []struct {
		text        string
		start       time.Month
		first, last string
		words       string
		before      string
		running     bool
	}{
		{"last12", time.January, "2025-11-01", "2026-11-30", "the last twelve months and this one", "1 October 2024 to 31 October 2025", true},
		{"month", time.January, "2026-11-01", "2026-11-30", "this month", "1 October 2026 to 31 October 2026", true},
		{"lastMonth", time.April, "2026-10-01", "2026-10-31", "last month", "1 September 2026 to 30 September 2026", false},
		{"quarter", time.January, "2026-10-01", "2026-12-31", "this quarter", "1 July 2026 to 30 September 2026", true},
		{"quarter", time.February, "2026-11-01", "2027-01-31", "this quarter", "1 August 2026 to 31 October 2026", true},
		{"lastQuarter", time.March, "2026-06-01", "2026-08-31", "last quarter", "1 March 2026 to 31 May 2026", false},
		{"year", time.January, "2026-01-01", "2026-12-31", "this year", "1 January 2025 to 31 December 2025", true},
		{"year", time.April, "2026-04-01", "2027-03-31", "this year", "1 April 2025 to 31 March 2026", true},
		{"year", time.December, "2025-12-01", "2026-11-30", "this year", "1 December 2024 to 30 November 2025", true},
		{"lastYear", time.December, "2024-12-01", "2025-11-30", "last year", "1 December 2023 to 30 November 2024", false},
		{"week", time.January, "2026-11-30", "2026-12-06", "this week", "23 November 2026 to 29 November 2026", true},
		{"last30", time.January, "2026-11-01", "2026-11-30", "the last thirty days", "2 October 2026 to 31 October 2026", true},
		{"today", time.January, "2026-11-30", "2026-11-30", "today", "29 November 2026 to 29 November 2026", true},
		{"2026", time.January, "2026-01-01", "2026-12-31", "2026", "1 January 2025 to 31 December 2025", true},
		{"2026", time.July, "2026-07-01", "2027-06-30", "the year from July 2026", "1 July 2025 to 30 June 2026", true},
		{"2026-Q1", time.July, "2026-07-01", "2026-09-30", "the quarter from July 2026", "1 April 2026 to 30 June 2026", false},
		{"2026-Q4", time.October, "2027-07-01", "2027-09-30", "the quarter from July 2027", "1 April 2027 to 30 June 2027", true},
		{"2024-02", time.January, "2024-02-01", "2024-02-29", "February 2024", "1 January 2024 to 31 January 2024", false},
		{"2026-W53", time.January, "2026-12-28", "2027-01-03", "week 53 of 2026", "21 December 2026 to 27 December 2026", true},
		{"2026-02-28/2026-03-01", time.January, "2026-02-28", "2026-03-01", "28 February 2026 to 1 March 2026", "26 February 2026 to 27 February 2026", false},
	} {
		p, err := measure.ParsePeriod(c.text, today, c.start)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.first, p.From.String(), c.text)
		assert.Equal(t, c.last, p.Until.AddDays(-1).String(), c.text)
		assert.Equal(t, c.words, p.Words, c.text)
		assert.Equal(t, c.before, p.Before().Words, c.text)
		assert.Equal(t, c.running, p.Running, "%s of %s", c.text, today)
	}
	for _, text := range []string{"", "ever", "2026-13", "2026-00", "2026-W54", "2025-W53", "2026-Q5", "2026-02-30", "2026-03-02/2026-03-01", "2026-01-01/", "1970", "2100", "1990-01-01/2026-01-01"} {
		_, err := measure.ParsePeriod(text, today, time.January)
		assert.Error(t, err, text)
	}
}

// On the day on which clocks go back an hour comes twice, and on the other one none does: days
// have 25 and 23 hours, and each instant lies in one of them.
func TestDaysOverClockChanges(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	columns := measure.NewColumns("EUR")
	for i, at := range []string{
		"2026-10-24 22:59", // Saturday 23:59, summer time
		"2026-10-24 23:00", // Sunday 00:00
		"2026-10-25 00:30", // 01:30
		"2026-10-25 01:30", // 01:30 again
		"2026-10-25 23:59", // 23:59
		"2026-10-26 00:00", // Monday
		"2026-03-29 00:59", // 00:59, and a minute later it is 02:00
		"2026-03-29 01:00", // 02:00, summer time
		"2026-03-29 22:59", // 23:59
		"2026-03-29 23:00", // Monday
	} {
		columns.Put(measure.Facts{Request: measure.Request{Number: int64(i + 1), Sending: measure.Sending{Offering: "badge", Service: "access", Sent: coretest.At(t, at).Unix()}}})
	}
	ask := func(period string, by measure.Side) map[string]int64 {
		p, err := measure.ParsePeriod(period, calendar.DateOf(time.Date(2026, 12, 1, 0, 0, 0, 0, zone)), time.January)
		require.NoError(t, err)
		got, err := columns.View().Ask(measure.Question{Period: p, Wanted: []measure.Wanted{{Figure: "asked", By: []measure.Side{by}}}},
			measure.Circumstances{Now: time.Date(2026, 12, 1, 0, 0, 0, 0, zone), Zone: zone, Area: func(s string) string { return s }, Sight: measure.Sight{All: true}})
		require.NoError(t, err)
		all := map[string]int64{}
		for i, key := range got[0].Keys[0] {
			if n := got[0].Cells[i].Records; n > 0 {
				all[key] = n
			}
		}
		return all
	}
	assert.Equal(t, map[string]int64{"2026-10-24": 1, "2026-10-25": 4, "2026-10-26": 1}, ask("2026-10", measure.ByDay))
	assert.Equal(t, map[string]int64{"00": 1, "01": 2, "23": 1}, ask("2026-10-25", measure.ByHour))
	assert.Equal(t, map[string]int64{"00": 1, "02": 1, "23": 1}, ask("2026-03-29", measure.ByHour))
	assert.Equal(t, map[string]int64{"7": 3}, ask("2026-03-29", measure.ByWeekday))
	assert.Equal(t, map[string]int64{"2026-W13": 3, "2026-W14": 1, "2026-W43": 5, "2026-W44": 1}, ask("2026", measure.ByWeek))
}
