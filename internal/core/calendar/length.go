package calendar

import (
	"fmt"
	"strconv"
	"strings"
	"time"
)

// Length is a stretch of working time: open time, or working days. The zero
// Length is none.
type Length struct {
	Open time.Duration
	Days int
}

// maxDays are the working days, forward or back, that one length can span.
const maxDays = 10_000

// ParseLength reads a length such as "8h", "90m", "1h30m" or, in working days,
// "10d". It may be negative.
func ParseLength(text string) (Length, error) {
	wrong := fmt.Errorf("%q is no length of working time: write it like 8h, 90m or 10d", text)
	if days, ok := strings.CutSuffix(text, "d"); ok {
		n, err := strconv.Atoi(days)
		if err != nil || n < -maxDays || n > maxDays {
			return Length{}, wrong
		}
		return Length{Days: n}, nil
	}
	open, err := time.ParseDuration(text)
	if err != nil || open.Abs() > maxDays*24*time.Hour {
		return Length{}, wrong
	}
	return Length{Open: open}, nil
}

// IsZero reports whether it is none.
func (l Length) IsZero() bool { return l == Length{} }

// String is the length as ParseLength reads it.
func (l Length) String() string {
	if l.Days != 0 {
		return fmt.Sprintf("%dd", l.Days)
	}
	text := l.Open.String()
	if l.Open == 0 {
		return "0m"
	}
	if strings.HasSuffix(text, "m0s") {
		text = strings.TrimSuffix(text, "0s")
	}
	if strings.HasSuffix(text, "h0m") {
		text = strings.TrimSuffix(text, "0m")
	}
	return text
}

// Words are the length as people say it, such as "2 working days".
func (l Length) Words() string {
	plural := func(n int64, thing string) string {
		if n == 1 {
			return "1 " + thing
		}
		return fmt.Sprintf("%d %ss", n, thing)
	}
	if l.Days != 0 {
		return plural(int64(l.Days), "working day")
	}
	hours, minutes := int64(l.Open/time.Hour), int64(l.Open%time.Hour/time.Minute)
	switch {
	case minutes == 0:
		return plural(hours, "working hour")
	case hours == 0:
		return plural(minutes, "working minute")
	}
	return plural(hours, "working hour") + " and " + plural(minutes, "minute")
}

// AddLength goes on from an instant by a length of working time: Add or
// AddDays.
func (c *Calendar) AddLength(t time.Time, l Length) (time.Time, error) {
	if l.Days != 0 {
		return c.AddDays(t, l.Days)
	}
	return c.Add(t, l.Open)
}

// After is AddLength for where there must be a result: beyond the last year that
// calendars know, time and days count as they come.
func (c *Calendar) After(t time.Time, l Length) time.Time {
	at, err := c.AddLength(t, l)
	if err != nil {
		return t.Add(l.Open).AddDate(0, 0, l.Days)
	}
	return at
}
