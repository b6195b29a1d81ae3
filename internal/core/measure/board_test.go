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

func TestRhythm(t *testing.T) {
	work := coretest.Week("Europe/Lisbon", calendar.Weekdays[:5], "09:00-17:00")
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	for _, c := range []struct{ rule, at, after, want string }{
		{"FREQ=MONTHLY;BYMONTHDAY=1", "08:00", "2026-10-20 12:00", "2026-11-02 08:00"}, // the first is a Sunday
		{"FREQ=MONTHLY;BYMONTHDAY=1", "08:00", "2026-11-02 07:59", "2026-11-02 08:00"},
		{"FREQ=MONTHLY;BYMONTHDAY=1", "08:00", "2026-11-02 08:00", "2026-12-01 08:00"},
		{"FREQ=WEEKLY;BYDAY=MO", "07:30", "2026-07-01 12:00", "2026-07-06 06:30"}, // summer time
		{"FREQ=WEEKLY;BYDAY=SA", "07:30", "2026-01-02 12:00", "2026-01-05 07:30"},
		{"FREQ=DAILY", "23:00", "2026-01-09 23:30", "2026-01-12 23:00"},
		{"FREQ=MONTHLY;BYMONTHDAY=31", "08:00", "2026-02-01 00:00", "2026-02-02 08:00"}, // that of January, which was a Saturday
		{"", "", "2026-02-01 00:00", ""},
	} {
		got, err := measure.Rhythm{Rule: c.rule, At: c.at}.Next(coretest.At(t, c.after), work, zone)
		require.NoError(t, err)
		assert.True(t, coretest.At(t, c.want).Equal(got), "%s after %s: %s", c.rule, c.after, got)
	}
	for _, bad := range []measure.Rhythm{{Rule: "FREQ=HOURLY", At: "08:00"}, {Rule: "every Monday", At: "08:00"}, {Rule: "FREQ=DAILY", At: "8 in the morning"}} {
		_, err := bad.Next(time.Now(), work, zone)
		assert.Error(t, err, bad)
	}
}

func TestSightCovers(t *testing.T) {
	some := measure.Sight{Services: map[string]bool{"it": true}, Teams: map[string]bool{"keys": true}}
	more := measure.Sight{Services: map[string]bool{"it": true, "hr": true}, Teams: map[string]bool{"keys": true}}
	all := measure.Sight{All: true}
	for _, c := range []struct {
		a, b measure.Sight
		want bool
	}{{all, some, true}, {more, some, true}, {some, more, false}, {some, all, false}, {some, some, true}, {measure.Sight{}, some, false}} {
		assert.Equal(t, c.want, c.a.Covers(c.b))
	}
}
