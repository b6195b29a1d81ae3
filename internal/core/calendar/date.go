package calendar

import (
	"fmt"
	"time"
)

// Date is a day of the Gregorian calendar, without a time zone. The zero Date
// is no date.
type Date struct{ days int32 } // days since 0000-12-31, so that zero is no date

const dateLayout = "2006-01-02"

var dayZero = time.Date(0, 12, 31, 0, 0, 0, 0, time.UTC)

// ParseDate reads a date of RFC 3339, such as "2027-03-12", from the years
// 1 to 9999.
func ParseDate(text string) (Date, error) {
	t, err := time.Parse(dateLayout, text)
	if err != nil || t.Year() < 1 {
		return Date{}, fmt.Errorf("%q is not a date: write it like 2027-03-12", text)
	}
	return DateOf(t), nil
}

// DateOf is the date an instant has on the wall clock of its own location.
func DateOf(t time.Time) Date {
	y, m, d := t.Date()
	midnight := time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
	return Date{days: int32((midnight.Unix() - dayZero.Unix()) / 86400)}
}

// IsZero reports whether it is no date.
func (d Date) IsZero() bool { return d.days == 0 }

// AddDays goes n days of any kind forward, or back when n is negative.
func (d Date) AddDays(n int) Date { return Date{days: d.days + int32(n)} }

// Since counts the days from e to d, of any kind.
func (d Date) Since(e Date) int { return int(d.days - e.days) }

// MonthDays is how many days the month of the date has.
func (d Date) MonthDays() int {
	y, m, _ := d.utc().Date()
	return time.Date(y, m+1, 0, 0, 0, 0, 0, time.UTC).Day()
}

// Day is the day of the month, from 1.
func (d Date) Day() int { return d.utc().Day() }

// Year is the year of the date.
func (d Date) Year() int { return d.utc().Year() }

// Month is the month of the year.
func (d Date) Month() time.Month { return d.utc().Month() }

// Compare gives -1, 0 or 1 for before, the same day and after.
func (d Date) Compare(e Date) int {
	switch {
	case d.days < e.days:
		return -1
	case d.days > e.days:
		return 1
	}
	return 0
}

// Weekday of the date.
func (d Date) Weekday() time.Weekday { return time.Weekday(d.days % 7) } // 0001-01-01 was a Monday

// In is the first instant of the date in a zone.
func (d Date) In(zone *time.Location) time.Time {
	y, m, day := d.utc().Date()
	return time.Date(y, m, day, 0, 0, 0, 0, zone)
}

// String is the date as RFC 3339 writes it.
func (d Date) String() string { return d.utc().Format(dateLayout) }

// unix is the beginning of the date in UTC, in seconds since 1970.
func (d Date) unix() int64 { return dayZero.Unix() + int64(d.days)*86400 }

func (d Date) utc() time.Time { return time.Unix(d.unix(), 0).UTC() }

// ISOWeekday is the day of the week as ISO 8601 counts it: 1 for Monday to 7 for
// Sunday.
func (d Date) ISOWeekday() int { return (int(d.In(time.UTC).Weekday())+6)%7 + 1 }
