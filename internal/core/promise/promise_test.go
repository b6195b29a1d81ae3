package promise_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/finding"
	"heptad/internal/core/promise"
)

func compiled(t *testing.T, p promise.Promise) *promise.Compiled {
	findings := finding.List{}
	c := promise.Compile(p, nil, &findings)
	require.Empty(t, findings)
	return c
}

func instant(t *testing.T, text string) time.Time {
	at, err := time.Parse(time.RFC3339, text)
	require.NoError(t, err)
	return at
}

// Today is the date where the promise is reckoned, not where the server is.
func TestToday(t *testing.T) {
	for _, c := range []struct{ zone, now, want string }{
		{"Europe/Lisbon", "2027-01-10T23:30:00Z", "2027-01-10"},
		{"Europe/Oslo", "2027-01-10T23:30:00Z", "2027-01-11"},
		{"Atlantic/Azores", "2027-01-11T00:30:00Z", "2027-01-10"},
		{"Europe/Lisbon", "2027-07-10T23:30:00Z", "2027-07-11"}, // summer time
		{"UTC", "2027-07-10T23:30:00Z", "2027-07-10"},
	} {
		got := compiled(t, promise.Promise{Zone: c.zone}).Today(instant(t, c.now))
		assert.Equal(t, c.want, got.String(), "%s at %s", c.zone, c.now)
	}
}

func TestConfirmBy(t *testing.T) {
	days := func(n int) *int { return &n }
	for name, c := range map[string]struct {
		within          *int
		delivered, want string
	}{
		"five when not said":         {nil, "2027-03-08T10:00:00Z", "2027-03-15T10:00:00Z"},
		"none":                       {days(0), "2027-03-08T10:00:00Z", "2027-03-08T10:00:00Z"},
		"one over the weekend":       {days(1), "2027-03-05T16:00:00Z", "2027-03-08T16:00:00Z"},
		"delivered on a Sunday":      {days(1), "2027-03-07T16:00:00Z", "2027-03-09T00:00:00Z"},
		"over the change of clocks":  {days(2), "2027-03-26T10:00:00Z", "2027-03-30T09:00:00Z"},
		"a long silence, four weeks": {days(20), "2027-01-04T08:30:00Z", "2027-02-01T08:30:00Z"},
	} {
		t.Run(name, func(t *testing.T) {
			got := compiled(t, promise.Promise{Zone: "Europe/Lisbon", ConfirmWithin: c.within}).ConfirmBy(instant(t, c.delivered))
			assert.Equal(t, c.want, got.Format(time.RFC3339))
		})
	}
}
