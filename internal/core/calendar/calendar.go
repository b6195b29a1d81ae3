package calendar

import (
	"errors"
	"fmt"
	"slices"
	"sync"
	"time"

	"heptad/internal/core/finding"
)

// Calendars know the open time of these dates; before and after nothing is
// open.
var (
	first = DateOf(time.Date(1980, 1, 1, 0, 0, 0, 0, time.UTC))
	last  = DateOf(time.Date(2149, 12, 31, 0, 0, 0, 0, time.UTC))
)

const years = "1980 to 2149"

// ErrBeyond says that a result lies outside the years calendars know.
var ErrBeyond = errors.New("there is no open time left in the years " + years)

// Calendar tells when there is work. It is made by Compile, never changes, and
// is safe for concurrent use.
type Calendar struct {
	zone  *time.Location
	spans []span
	dates []working
}

// span is open time without a gap, of one date. Instants are nanoseconds since
// 1970 in UTC.
type span struct {
	open, close int64
	before      int64 // open time of all spans before it, in nanoseconds
}

// working is a date with any open time.
type working struct {
	date  Date
	first int32 // index of its first span
}

// Compile checks a document and compiles it. With errors among the findings
// the result is nil.
func Compile(d Document, findings *finding.List) *Calendar {
	before := len(*findings)
	zone, err := time.LoadLocation(d.Zone)
	if err != nil || d.Zone == "" || d.Zone == "Local" {
		findings.Error(finding.Zone, "/zone", fmt.Sprintf("%q is no time zone.", d.Zone), "Name one such as Europe/Lisbon.")
	}
	var week [7][]interval // Sunday first, as time.Weekday
	for key, open := range d.Week {
		at := slices.Index(Weekdays, key)
		if at < 0 {
			findings.Error(finding.Weekday, "/week/"+key, fmt.Sprintf("%q is no day of the week.", key), "Use mon, tue, wed, thu, fri, sat and sun.")
			continue
		}
		week[(at+1)%7] = parseOpen(open, "/week/"+key, findings)
	}
	other := exceptions(d.Exceptions, findings)
	if len(*findings) > before {
		return nil
	}
	c := &Calendar{zone: zone}
	c.lay(week, other)
	if len(c.spans) == 0 {
		findings.Error(finding.NeverOpen, "/week", "This calendar is never open.", "Give at least one day of the week its opening times.")
		return nil
	}
	return c
}

// MustCompile compiles a document that is known to be right.
func MustCompile(d Document) *Calendar {
	findings := finding.List{}
	c := Compile(d, &findings)
	if c == nil {
		panic(fmt.Sprintf("calendar: %v", findings))
	}
	return c
}

var plain sync.Map // zone name to *Calendar

// Plain is the calendar that stands in where none is named: Monday to Friday,
// round the clock.
func Plain(zone *time.Location) *Calendar {
	if c, ok := plain.Load(zone.String()); ok {
		return c.(*Calendar)
	}
	c := &Calendar{zone: zone}
	var week [7][]interval
	for d := time.Monday; d <= time.Friday; d++ {
		week[d] = []interval{{0, day}}
	}
	c.lay(week, nil)
	plain.Store(zone.String(), c)
	return c
}

// Zone is where the calendar's wall clock hangs.
func (c *Calendar) Zone() *time.Location { return c.zone }

// total is the open time of all years, in nanoseconds.
func (c *Calendar) total() int64 {
	s := c.spans[len(c.spans)-1]
	return s.before + s.close - s.open
}

// next is the index of the first span that ends after an instant.
func (c *Calendar) next(t int64) int {
	low, high := 0, len(c.spans)
	for low < high {
		if mid := (low + high) / 2; c.spans[mid].close > t {
			high = mid
		} else {
			low = mid + 1
		}
	}
	return low
}

// gone is the open time before an instant.
func (c *Calendar) gone(t int64) int64 {
	i := c.next(t)
	if i == len(c.spans) {
		return c.total()
	}
	s := &c.spans[i]
	return s.before + max(0, t-s.open)
}

// at is the earliest instant with so much open time before it.
func (c *Calendar) at(gone int64) (time.Time, error) {
	if gone < 0 || gone > c.total() {
		return time.Time{}, ErrBeyond
	}
	low, high := 0, len(c.spans)-1
	for low < high {
		mid := (low + high) / 2
		if s := &c.spans[mid]; s.before+s.close-s.open >= gone {
			high = mid
		} else {
			low = mid + 1
		}
	}
	s := &c.spans[low]
	return time.Unix(0, s.open+gone-s.before).UTC(), nil
}

var (
	earliest = first.utc().AddDate(0, 0, -1)
	latest   = last.utc().AddDate(0, 0, 2)
)

// nano is an instant in nanoseconds since 1970, kept within the years
// calendars know.
func nano(t time.Time) int64 {
	switch {
	case t.Before(earliest):
		return earliest.UnixNano()
	case t.After(latest):
		return latest.UnixNano()
	}
	return t.UnixNano()
}

// Between is the open time from a to b; negative when b is before a.
func (c *Calendar) Between(a, b time.Time) time.Duration {
	return time.Duration(c.gone(nano(b)) - c.gone(nano(a)))
}

// Add gives the earliest instant with open time d between t and it; d may be
// negative, and for d = 0 it is t. The result is in UTC.
func (c *Calendar) Add(t time.Time, d time.Duration) (time.Time, error) {
	if d == 0 {
		return t.UTC(), nil
	}
	return c.at(c.gone(nano(t)) + int64(d))
}

// Latest gives the latest instant with open time d left from it until t, for
// d > 0: when to begin so as to be done by t. For d = 0 it is t.
func (c *Calendar) Latest(t time.Time, d time.Duration) (time.Time, error) {
	r, err := c.Add(t, -d)
	if err != nil || d == 0 {
		return r, err
	}
	return c.NextOpen(r)
}

// IsOpen reports whether an instant is open; the closing instant is not.
func (c *Calendar) IsOpen(t time.Time) bool {
	i := c.next(nano(t))
	return i < len(c.spans) && c.spans[i].open <= nano(t)
}

// NextOpen is t when it is open, else the next opening.
func (c *Calendar) NextOpen(t time.Time) (time.Time, error) {
	i := c.next(nano(t))
	if i == len(c.spans) {
		return time.Time{}, ErrBeyond
	}
	return time.Unix(0, max(c.spans[i].open, nano(t))).UTC(), nil
}

// PrevClose is the latest closing at or before t.
func (c *Calendar) PrevClose(t time.Time) (time.Time, error) {
	i := c.next(nano(t))
	if i == 0 {
		return time.Time{}, ErrBeyond
	}
	return time.Unix(0, c.spans[i-1].close).UTC(), nil
}

// position tells on which working date an instant counts, as an index of
// dates, how much of that date's open time has passed, and how much it has.
// Outside open time it is the position of the next opening.
func (c *Calendar) position(t time.Time) (index int, passed, whole int64, err error) {
	i := c.next(nano(t))
	if i == len(c.spans) {
		return 0, 0, 0, ErrBeyond
	}
	low, high := 0, len(c.dates)-1
	for low < high {
		if mid := (low + high + 1) / 2; int(c.dates[mid].first) <= i {
			low = mid
		} else {
			high = mid - 1
		}
	}
	from := c.until(low)
	return low, c.gone(nano(t)) - from, c.until(low+1) - from, nil
}

// until is the open time before a working date.
func (c *Calendar) until(index int) int64 {
	if index == len(c.dates) {
		return c.total()
	}
	return c.spans[c.dates[index].first].before
}
