package calendar

import (
	"time"
)

// Changed is a calendar that was changed at an instant: what was open before it
// stays so, and from then on the next one holds (rules.md 8). Dates are those of
// the next one's zone from then on.
func Changed(before, next *Calendar, at time.Time) *Calendar {
	c := &Calendar{zone: next.zone}
	c.take(before, earliest.UnixNano(), nano(at))
	c.take(next, nano(at), latest.UnixNano())
	if len(c.spans) == 0 {
		return next
	}
	return c
}

// take adds the open time of another calendar between two instants.
func (c *Calendar) take(other *Calendar, from, until int64) {
	on := 0
	for i, s := range other.spans {
		for on+1 < len(other.dates) && int(other.dates[on+1].first) <= i {
			on++
		}
		s.open, s.close = max(s.open, from), min(s.close, until)
		if s.open >= s.close {
			continue
		}
		c.add(s, other.dates[on].date)
	}
}

// add puts open time of a date after all that is there.
func (c *Calendar) add(s span, date Date) {
	n := len(c.spans)
	if n > 0 {
		last := &c.spans[n-1]
		s.before = last.before + last.close - last.open
		if on := c.dates[len(c.dates)-1].date; date.Compare(on) <= 0 { // a change within the day, or of the zone
			if last.close == s.open {
				last.close = s.close
				return
			}
			date = on
		}
	} else {
		s.before = 0
	}
	if len(c.dates) == 0 || c.dates[len(c.dates)-1].date != date {
		c.dates = append(c.dates, working{date, int32(n)})
	}
	c.spans = append(c.spans, s)
}
