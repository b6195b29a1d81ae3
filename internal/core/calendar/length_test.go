package calendar_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
)

func TestParseLength(t *testing.T) {
	for text, want := range map[string]struct {
		length calendar.Length
		again  string
		words  string
	}{
		"8h":    {calendar.Length{Open: 8 * time.Hour}, "8h", "8 working hours"},
		"90m":   {calendar.Length{Open: 90 * time.Minute}, "1h30m", "1 working hour and 30 minutes"},
		"45m":   {calendar.Length{Open: 45 * time.Minute}, "45m", "45 working minutes"},
		"10d":   {calendar.Length{Days: 10}, "10d", "10 working days"},
		"1d":    {calendar.Length{Days: 1}, "1d", "1 working day"},
		"-3d":   {calendar.Length{Days: -3}, "-3d", "-3 working days"},
		"10h":   {calendar.Length{Open: 10 * time.Hour}, "10h", "10 working hours"},
		"0m":    {calendar.Length{}, "0m", "0 working hours"},
		"1h10m": {calendar.Length{Open: 70 * time.Minute}, "1h10m", "1 working hour and 10 minutes"},
		"90s":   {calendar.Length{Open: 90 * time.Second}, "1m30s", "1 working minute"},
	} {
		got, err := calendar.ParseLength(text)
		require.NoError(t, err, text)
		assert.Equal(t, want.length, got, text)
		assert.Equal(t, want.again, got.String())
		assert.Equal(t, want.words, got.Words())
	}
	for _, text := range []string{"", "8", "d", "1.5d", "10 d", "3w", "99999d", "9999999h", "1d4h"} {
		_, err := calendar.ParseLength(text)
		assert.Error(t, err, text)
	}
}
