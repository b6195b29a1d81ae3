package calendar

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"math/bits"
	"slices"
	"sort"
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
		findings.Error("zone", "/zone", fmt.Sprintf("%q is no time zone.", d.Zone), "Name one such as Europe/Lisbon.")
	}
	var week [7][]interval // Sunday first, as time.Weekday
	for key, open := range d.Week {
		at := slices.Index(Weekdays, key)
		if at < 0 {
			findings.Error("weekday", "/week/"+key, fmt.Sprintf("%q is no day of the week.", key), "Use mon, tue, wed, thu, fri, sat and sun.")
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
		findings.Error("neverOpen", "/week", "This calendar is never open.", "Give at least one day of the week its opening times.")
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

// lay lays out the open time of all years. Between two changes of the zone's
// offset the wall clock runs evenly, so each such stretch is laid out by plain
// sums; what the clock leaves out or shows twice comes out by itself.
func (c *Calendar) lay(week [7][]interval, other hours) {
	type piece struct {
		span
		date Date
	}
	pieces := make([]piece, 0, 2*last.Since(first))
	const minute = int64(time.Minute)
	for _, s := range stretches(c.zone) {
		shift := int64(s.offset) * int64(time.Second)
		end := DateOf(s.until.In(c.zone))
		for d := DateOf(s.from.In(c.zone)).AddDays(-1); d.Compare(end) <= 0; d = d.AddDays(1) {
			open, ok := other[d]
			if !ok {
				open = week[d.Weekday()]
			}
			midnight := d.unix()*int64(time.Second) - shift
			for _, i := range open {
				a := max(midnight+int64(i.from)*minute, s.from.UnixNano())
				b := min(midnight+int64(i.until)*minute, s.until.UnixNano())
				if a < b {
					pieces = append(pieces, piece{span{open: a, close: b}, d})
				}
			}
		}
	}
	c.spans, c.dates = make([]span, 0, len(pieces)), make([]working, 0, len(pieces))
	slices.SortStableFunc(pieces, func(a, b piece) int { return cmp.Compare(a.open, b.open) })
	for _, p := range pieces {
		if p.date.Compare(first) < 0 || p.date.Compare(last) > 0 {
			continue
		}
		n := len(c.spans)
		if n > 0 {
			before := &c.spans[n-1]
			p.open = max(p.open, before.close) // what two dates share belongs to the first
			if p.open >= p.close {
				continue
			}
			p.before = before.before + before.close - before.open
			if on := c.dates[len(c.dates)-1].date; p.date.Compare(on) <= 0 {
				if p.open == before.close {
					before.close = p.close
					continue
				}
				p.date = on
			}
		}
		if len(c.dates) == 0 || c.dates[len(c.dates)-1].date != p.date {
			c.dates = append(c.dates, working{p.date, int32(n)})
		}
		c.spans = append(c.spans, p.span)
	}
}

// stretch is a time during which a zone keeps its offset from UTC, in seconds.
type stretch struct {
	from, until time.Time
	offset      int
}

var known sync.Map // stretches by the zone

// stretches lists them for all years calendars know. It looks at each day:
// time.ZoneBounds gives wrong bounds at the ends of leap years after those its
// tables hold.
func stretches(zone *time.Location) []stretch {
	if all, ok := known.Load(zone.String()); ok {
		return all.([]stretch)
	}
	at := func(t time.Time) int {
		_, offset := t.In(zone).Zone()
		return offset
	}
	all := []stretch{{from: earliest, offset: at(earliest)}}
	for t := earliest; t.Before(latest); t = t.AddDate(0, 0, 1) {
		now := &all[len(all)-1]
		tomorrow := t.AddDate(0, 0, 1)
		if at(tomorrow) == now.offset {
			continue
		}
		seconds := sort.Search(24*60*60, func(s int) bool { return at(t.Add(time.Duration(s)*time.Second)) != now.offset })
		now.until = t.Add(time.Duration(seconds) * time.Second)
		all = append(all, stretch{from: now.until, offset: at(now.until)})
	}
	all[len(all)-1].until = latest
	known.Store(zone.String(), all)
	return all
}

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
