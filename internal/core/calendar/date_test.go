package calendar_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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
