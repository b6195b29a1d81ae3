package calendar

import (
	"cmp"
	"slices"
	"sort"
	"sync"
	"time"
)

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
