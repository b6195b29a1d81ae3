package calendar

import "time"

// IsWorkday tells whether the date is a day from Monday to Friday.
func (d Date) IsWorkday() bool {
	day := d.Weekday()
	return day != time.Saturday && day != time.Sunday
}

// Workdays counts the working dates after a, up to and including b; it is
// negative when b is before a (rules.md 1).
func Workdays(a, b Date) int {
	if b.Compare(a) < 0 {
		return -Workdays(b, a)
	}
	return workdaysUntil(b) - workdaysUntil(a)
}

// workdaysUntil counts the working dates from the Monday 0001-01-01 to d.
func workdaysUntil(d Date) int {
	weeks, rest := int(d.days)/7, int(d.days)%7
	return weeks*5 + min(rest, 5)
}

// AddWorkdays gives the n-th working date after d, or before it when n is
// negative; for n = 0 it is d itself, working or not (rules.md 1).
func (d Date) AddWorkdays(n int) Date {
	step := 1
	if n < 0 {
		step, n = -1, -n
	}
	d = d.AddDays(step * 7 * (n / 5)) // whole weeks keep the weekday and hold five working dates
	rest := n % 5
	if rest == 0 && n > 0 && !d.IsWorkday() {
		// On a weekend whole weeks end one working date too far on: go back to it.
		for !d.IsWorkday() {
			d = d.AddDays(-step)
		}
		return d
	}
	for rest > 0 {
		d = d.AddDays(step)
		if d.IsWorkday() {
			rest--
		}
	}
	return d
}

// AddWorkdaysTo gives the instant with the same clock time n working days
// later in the zone. On a closed date counting begins with the next working
// day's first instant.
func AddWorkdaysTo(t time.Time, n int, zone *time.Location) time.Time {
	local := t.In(zone)
	date := DateOf(local)
	if !date.IsWorkday() {
		return date.AddWorkdays(1).AddWorkdays(n).In(zone)
	}
	y, m, d := date.AddWorkdays(n).utc().Date()
	return time.Date(y, m, d, local.Hour(), local.Minute(), local.Second(), local.Nanosecond(), zone)
}
