package calendar

import (
	"fmt"
	"math"
	"math/bits"
	"slices"
	"time"
)

// AddDays gives the earliest instant with the same position n working days
// later (rules.md 1): the same share of that date's open time has passed. At
// the very beginning of a date it is the closing before. For n = 0 it is t.
func (c *Calendar) AddDays(t time.Time, n int) (time.Time, error) {
	if n == 0 {
		return t.UTC(), nil
	}
	index, passed, whole, err := c.position(t)
	if err != nil {
		return time.Time{}, err
	}
	to := index + n
	if to < 0 || to > len(c.dates) || to == len(c.dates) && passed > 0 {
		return time.Time{}, ErrBeyond
	}
	gone := c.until(to)
	if passed > 0 {
		gone += share(passed, c.until(to+1)-gone, whole)
	}
	return c.at(gone)
}

// AddShare gives the earliest instant so many working days and parts of one
// later, computed in positions as AddDays does, to the millisecond.
func (c *Calendar) AddShare(t time.Time, days float64) (time.Time, error) {
	if days == 0 {
		return t.UTC(), nil
	}
	index, passed, whole, err := c.position(t)
	if err != nil {
		return time.Time{}, err
	}
	whole64, part := math.Modf(float64(index) + float64(passed)/float64(whole) + days)
	to := int(whole64)
	if whole64 < 0 || to >= len(c.dates) {
		return time.Time{}, ErrBeyond
	}
	from := c.until(to)
	gone := time.Duration(float64(from) + part*float64(c.until(to+1)-from)).Round(time.Millisecond)
	return c.at(int64(gone))
}

// share is passed × of ÷ whole, to the nearest nanosecond.
func share(passed, of, whole int64) int64 {
	high, low := bits.Mul64(uint64(passed), uint64(of))
	low, carry := bits.Add64(low, uint64(whole)/2, 0)
	quotient, _ := bits.Div64(high+carry, low, uint64(whole))
	return int64(quotient)
}

// DaysBetween counts working days from a to b with their fractions: the
// inverse of AddDays. It is negative when b is before a.
func (c *Calendar) DaysBetween(a, b time.Time) (float64, error) {
	from, passed, whole, err := c.position(a)
	if err != nil {
		return 0, err
	}
	to, after, all, err := c.position(b)
	if err != nil {
		return 0, err
	}
	return float64(to-from) + float64(after)/float64(all) - float64(passed)/float64(whole), nil
}

// Span is open time without a gap.
type Span struct{ From, Until time.Time }

// Open lists the open time of a date, in order; what runs over midnight
// belongs to the date it begins on.
func (c *Calendar) Open(d Date) []Span {
	at, ok := c.find(d)
	if !ok {
		return nil
	}
	end := len(c.spans)
	if at+1 < len(c.dates) {
		end = int(c.dates[at+1].first)
	}
	var out []Span
	for _, s := range c.spans[c.dates[at].first:end] {
		out = append(out, Span{time.Unix(0, s.open).UTC(), time.Unix(0, s.close).UTC()})
	}
	return out
}

// find is the index of a date among the working ones, or of the next one.
func (c *Calendar) find(d Date) (int, bool) {
	return slices.BinarySearchFunc(c.dates, d, func(w working, d Date) int { return w.date.Compare(d) })
}

// IsWorkday reports whether a date has any open time.
func (c *Calendar) IsWorkday(d Date) bool {
	_, ok := c.find(d)
	return ok
}

// Workdays counts the working dates after a, up to and including b; it is
// negative when b is before a (rules.md 1).
func (c *Calendar) Workdays(a, b Date) (int, error) {
	for _, d := range []Date{a, b} {
		if d.Compare(first) < 0 || d.Compare(last) > 0 {
			return 0, fmt.Errorf("%s is outside the years %s that calendars know", d, years)
		}
	}
	from, _ := c.find(a.AddDays(1))
	to, _ := c.find(b.AddDays(1))
	return to - from, nil
}

// AddWorkdays gives the n-th working date after d, or before it when n is
// negative; for n = 0 it is d itself, working or not (rules.md 1).
func (c *Calendar) AddWorkdays(d Date, n int) (Date, error) {
	if n == 0 {
		return d, nil
	}
	at, working := c.find(d)
	switch {
	case n > 0 && !working:
		at += n - 1
	default:
		at += n
	}
	if at < 0 || at >= len(c.dates) || d.Compare(first) < 0 || d.Compare(last) > 0 {
		return Date{}, ErrBeyond
	}
	return c.dates[at].date, nil
}
