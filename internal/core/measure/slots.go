package measure

import (
	"fmt"
	"strconv"
	"time"
)

// quarterHour is what zones differ by at least, in seconds: each lies in one day, hour and
// month of every zone.
const quarterHour = 900

// slots tell in which stretch of the calendar an instant lies, by one look into a table.
type slots struct {
	keys   []string
	starts []int64  // instants, for stretches that follow each other
	first  int64    // instant that the table begins at
	of     []uint16 // by quarters of an hour
}

// at is the number of the stretch of an instant that lies within the period.
func (s *slots) at(t uint32) int32 { return int32(s.of[(int64(t)-s.first)/quarterHour]) }

// slotsOf makes the table of a side for a period.
func slotsOf(side Side, p Period, zone *time.Location) *slots {
	from, until := p.instants(zone)
	s := &slots{first: from - (from%quarterHour+quarterHour)%quarterHour}
	s.of = make([]uint16, (until-s.first)/quarterHour+1)
	if side.Recurring() {
		s.recurring(side, zone)
		return s
	}
	for day := p.From; day.Compare(p.Until) < 0; {
		next, key := day.AddDays(1), day.String()
		switch side {
		case ByMonth:
			next, key = months(day, 1), key[:7]
		case ByWeek:
			next, key = week(day).AddDays(7), weekKey(week(day))
		}
		s.keys, s.starts = append(s.keys, key), append(s.starts, day.In(zone).Unix())
		day = next
	}
	n := 0
	for i := range s.of {
		for t := s.first + int64(i)*quarterHour; n+1 < len(s.starts) && s.starts[n+1] <= t; {
			n++
		}
		s.of[i] = uint16(n)
	}
	return s
}

// recurring fills the table with days of the week, or hours of the day.
func (s *slots) recurring(side Side, zone *time.Location) {
	for i := range 24 {
		if side == ByHour {
			s.keys = append(s.keys, fmt.Sprintf("%02d", i))
		} else if i < 7 {
			s.keys = append(s.keys, strconv.Itoa(i+1))
		}
	}
	_, offset, end := stretch(s.first, zone)
	for i := range s.of {
		t := s.first + int64(i)*quarterHour
		if t >= end {
			_, offset, end = stretch(t, zone)
		}
		local := t + int64(offset)
		if side == ByHour {
			s.of[i] = uint16(local / 3600 % 24)
		} else {
			s.of[i] = uint16((local/86400 + 3) % 7) // 1 January 1970 was a Thursday
		}
	}
}

// stretch is the offset of a zone at an instant, in seconds, and until when it holds.
func stretch(t int64, zone *time.Location) (from int64, offset int, until int64) {
	at := time.Unix(t, 0).In(zone)
	_, offset = at.Zone()
	_, end := at.ZoneBounds()
	if end.IsZero() {
		return t, offset, 1 << 62
	}
	return t, offset, end.Unix()
}
