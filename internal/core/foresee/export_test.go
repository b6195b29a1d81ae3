package foresee

import (
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
)

// Hours are when somebody works for a team, for tests.
type Hours struct{ h hours }

// HoursOf are the hours of a calendar less absences.
func HoursOf(work *calendar.Calendar, from, until time.Time, away ...people.Absence) Hours {
	return Hours{hoursOf(work, from, until, away)}
}

// After is so much open time later.
func (h Hours) After(t time.Time, open time.Duration) time.Time {
	return time.Unix(h.h.after(t.Unix(), int64(open/time.Second)), 0).UTC()
}

// Between is the open time between two instants.
func (h Hours) Between(a, b time.Time) time.Duration {
	return time.Duration(h.h.gone(b.Unix())-h.h.gone(a.Unix())) * time.Second
}

// Next is the next open instant.
func (h Hours) Next(t time.Time) time.Time { return time.Unix(h.h.next(t.Unix()), 0).UTC() }

// WeeksInWords names weeks.
func WeeksInWords(weeks ...string) string { return weeksInWords(weeks) }

// Poisson draws how often something comes.
func Poisson(mean, u float64) int { return poisson(mean, u) }
