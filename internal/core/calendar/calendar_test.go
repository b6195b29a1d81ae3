package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
)

func date(t require.TestingT, text string) calendar.Date {
	d, err := calendar.ParseDate(text)
	require.NoError(t, err)
	return d
}

func TestParseDate(t *testing.T) {
	for _, text := range []string{"2027-03-12", "2028-02-29", "0001-01-01", "9999-12-31"} {
		assert.Equal(t, text, date(t, text).String())
	}
	for _, text := range []string{"", "2027-02-29", "12.03.2027", "2027-3-12", "0000-05-01", "2027-03-12T00:00:00Z"} {
		_, err := calendar.ParseDate(text)
		assert.Error(t, err, text)
	}
}

func TestWorkdays(t *testing.T) {
	for _, c := range []struct {
		from, to string
		want     int
	}{
		{"2026-11-23", "2026-11-23", 0}, // Monday to itself
		{"2026-11-23", "2026-11-24", 1},
		{"2026-11-20", "2026-11-23", 1}, // Friday to Monday
		{"2026-11-20", "2026-11-22", 0}, // Friday to Sunday
		{"2026-11-21", "2026-11-23", 1}, // Saturday to Monday
		{"2026-11-23", "2026-12-07", 10},
		{"2026-11-24", "2026-11-23", -1},
	} {
		assert.Equal(t, c.want, calendar.Workdays(date(t, c.from), date(t, c.to)), "%s to %s", c.from, c.to)
	}
}

func TestAddWorkdays(t *testing.T) {
	for _, c := range []struct {
		from string
		n    int
		want string
	}{
		{"2026-11-23", 0, "2026-11-23"},
		{"2026-11-22", 0, "2026-11-22"}, // a Sunday stays
		{"2026-11-20", 1, "2026-11-23"},
		{"2026-11-21", 1, "2026-11-23"},
		{"2026-11-21", 5, "2026-11-27"},
		{"2026-11-21", 10, "2026-12-04"},
		{"2026-11-21", 6, "2026-11-30"},
		{"2026-11-23", -1, "2026-11-20"},
		{"2026-11-22", -5, "2026-11-16"},
		{"2026-11-25", 5, "2026-12-02"},
	} {
		assert.Equal(t, c.want, date(t, c.from).AddWorkdays(c.n).String(), "%s + %d", c.from, c.n)
	}
}

func TestAddWorkdaysIsCountedByWorkdays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		from := date(t, "2020-01-01").AddDays(rapid.IntRange(0, 5000).Draw(t, "day"))
		n := rapid.IntRange(1, 400).Draw(t, "n")
		to := from.AddWorkdays(n)
		assert.True(t, to.IsWorkday())
		assert.Equal(t, n, calendar.Workdays(from, to))
		slow := from
		for left := n; left > 0; {
			slow = slow.AddDays(1)
			if slow.IsWorkday() {
				left--
			}
		}
		assert.Equal(t, slow, to)
	})
}

func TestAddWorkdaysToKeepsTheClockTime(t *testing.T) {
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	// Over the start of summer time on 28 March 2027 it is the wall clock that stays.
	from := time.Date(2027, 3, 25, 10, 30, 0, 0, lisbon)
	assert.Equal(t, time.Date(2027, 4, 1, 10, 30, 0, 0, lisbon), calendar.AddWorkdaysTo(from.UTC(), 5, lisbon))
	saturday := time.Date(2027, 4, 3, 10, 30, 0, 0, lisbon)
	assert.Equal(t, time.Date(2027, 4, 6, 0, 0, 0, 0, lisbon), calendar.AddWorkdaysTo(saturday, 1, lisbon))
}
