package plan

import (
	"time"

	"heptad/internal/core/calendar"
)

// Axis is a row of working days on which instants have a place.
type Axis struct {
	Days []calendar.Date
	work *calendar.Calendar
	zero time.Time // opening of the first day
}

// MostDays is the longest axis, in working days.
const MostDays = 400

// NewAxis is the row of working days from one instant to another, at most
// MostDays.
func NewAxis(work *calendar.Calendar, from, until time.Time) Axis {
	a := Axis{work: work}
	zone := work.Zone()
	day := calendar.DateOf(from.In(zone))
	if !work.IsWorkday(day) {
		if before, err := work.AddWorkdays(day, -1); err == nil {
			day = before
		}
	}
	last := calendar.DateOf(until.In(zone))
	for len(a.Days) < MostDays {
		a.Days = append(a.Days, day)
		next, err := work.AddWorkdays(day, 1)
		if err != nil || next.Compare(last) > 0 {
			break
		}
		day = next
	}
	a.zero = from
	if open := work.Open(a.Days[0]); len(open) > 0 {
		a.zero = open[0].From
	}
	return a
}

// Place of an instant, in working days from the beginning of the axis; kept
// within it.
func (a Axis) Place(t time.Time) float64 {
	place, err := a.work.DaysBetween(a.zero, t)
	if err != nil {
		return float64(len(a.Days))
	}
	return max(0, min(place, float64(len(a.Days))))
}
