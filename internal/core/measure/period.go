package measure

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
)

// Period is a stretch of whole days in the organisation's zone.
type Period struct {
	From, Until calendar.Date // Until is the first day after it
	months      int           // its length where that is whole months; else 0
	Words       string        // after "in", such as October 2026
	Running     bool          // it is not over yet
}

// Periods that are counted from today, with how they are called.
var named = []struct {
	key, words string
	of         func(today calendar.Date, yearStart time.Month) (from, until calendar.Date, months int)
}{
	{"last12", "the last twelve months and this one", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		return months(t, -12), months(t, 1), 13
	}},
	{"last24", "the last two years and this month", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		return months(t, -24), months(t, 1), 25
	}},
	{"month", "this month", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		return months(t, 0), months(t, 1), 1
	}},
	{"lastMonth", "last month", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		return months(t, -1), months(t, 0), 1
	}},
	{"quarter", "this quarter", func(t calendar.Date, s time.Month) (calendar.Date, calendar.Date, int) {
		q := quarter(t, s)
		return q, months(q, 3), 3
	}},
	{"lastQuarter", "last quarter", func(t calendar.Date, s time.Month) (calendar.Date, calendar.Date, int) {
		q := quarter(t, s)
		return months(q, -3), q, 3
	}},
	{"year", "this year", func(t calendar.Date, s time.Month) (calendar.Date, calendar.Date, int) {
		y := year(t, s)
		return y, months(y, 12), 12
	}},
	{"lastYear", "last year", func(t calendar.Date, s time.Month) (calendar.Date, calendar.Date, int) {
		y := year(t, s)
		return months(y, -12), y, 12
	}},
	{"week", "this week", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		w := week(t)
		return w, w.AddDays(7), 0
	}},
	{"lastWeek", "last week", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		w := week(t)
		return w.AddDays(-7), w, 0
	}},
	{"last30", "the last thirty days", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) {
		return t.AddDays(-29), t.AddDays(1), 0
	}},
	{"today", "today", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) { return t, t.AddDays(1), 0 }},
	{"yesterday", "yesterday", func(t calendar.Date, _ time.Month) (calendar.Date, calendar.Date, int) { return t.AddDays(-1), t, 0 }},
}

// Choice is a period that people are given to choose.
type Choice struct{ Key, Words string }

// Choices lists the periods that are counted from today.
func Choices() []Choice {
	all := make([]Choice, len(named))
	for i, n := range named {
		all[i] = Choice{n.key, n.words}
	}
	return all
}

// UsualPeriod is the one that is looked at when nothing is said.
const UsualPeriod = "last12"

// The longest period, in days, and the years that it can lie in.
const (
	mostDays  = 366 * 30
	firstYear = 1971
	lastYear  = 2099
)

var (
	isYear    = regexp.MustCompile(`^\d{4}$`)
	isMonth   = regexp.MustCompile(`^\d{4}-\d{2}$`)
	isWeek    = regexp.MustCompile(`^\d{4}-W\d{2}$`)
	isQuarter = regexp.MustCompile(`^\d{4}-Q[1-4]$`)
)

// ParsePeriod reads a period as of a day: the key of a choice; a year of accounts by the
// calendar year it begins in, its quarter, a month, a week, a day or an interval of days, such
// as 2026, 2026-Q3, 2026-10, 2026-W41, 2026-10-05 or 2026-01-01/2026-03-31 (ISO 8601 but for
// the quarter; both days of an interval belong to it). Years of accounts begin with a month.
func ParsePeriod(text string, today calendar.Date, yearStart time.Month) (Period, error) {
	p, err := parsePeriod(text, today, yearStart)
	if err != nil {
		return Period{}, err
	}
	if p.From.Year() < firstYear || p.Until.Year() > lastYear+1 || p.Until.Since(p.From) > mostDays || p.Until.Since(p.From) <= 0 {
		return Period{}, fmt.Errorf("%q is no stretch of time that can be looked at: it begins in %d at the earliest, ends by %d, and lasts one day to thirty years", text, firstYear, lastYear)
	}
	p.Running = p.Until.Compare(today) > 0
	return p, nil
}

func parsePeriod(text string, today calendar.Date, yearStart time.Month) (Period, error) {
	for _, n := range named {
		if n.key == text {
			from, until, months := n.of(today, yearStart)
			return Period{From: from, Until: until, months: months, Words: n.words}, nil
		}
	}
	wrong := fmt.Errorf("%q is no period: choose one of those that are offered, or write a month, a day or two days such as 2026-10, 2026-10-05 or 2026-01-01/2026-03-31", text)
	number := func(from, until int) int {
		n, _ := strconv.Atoi(text[from:until]) // the pattern has digits there
		return n
	}
	switch {
	case isYear.MatchString(text):
		from := dateOf(number(0, 4), yearStart, 1)
		words := text
		if yearStart != time.January {
			words = fmt.Sprintf("the year from %s %s", yearStart, text)
		}
		return Period{From: from, Until: months(from, 12), months: 12, Words: words}, nil
	case isQuarter.MatchString(text):
		from := months(dateOf(number(0, 4), yearStart, 1), 3*(number(6, 7)-1))
		return Period{From: from, Until: months(from, 3), months: 3, Words: fmt.Sprintf("the quarter from %s %d", from.Month(), from.Year())}, nil
	case isMonth.MatchString(text):
		if m := number(5, 7); m < 1 || m > 12 {
			return Period{}, wrong
		}
		from := dateOf(number(0, 4), time.Month(number(5, 7)), 1)
		return Period{From: from, Until: months(from, 1), months: 1, Words: fmt.Sprintf("%s %d", from.Month(), from.Year())}, nil
	case isWeek.MatchString(text):
		from := week(dateOf(number(0, 4), time.January, 4)).AddDays(7 * (number(6, 8) - 1))
		if weekKey(from) != text {
			return Period{}, wrong
		}
		return Period{From: from, Until: from.AddDays(7), Words: fmt.Sprintf("week %d of %s", number(6, 8), text[:4])}, nil
	}
	first, last, two := strings.Cut(text, "/")
	from, err := calendar.ParseDate(first)
	if err != nil {
		return Period{}, wrong
	}
	if !two {
		return Period{From: from, Until: from.AddDays(1), Words: dayWords(from)}, nil
	}
	until, err := calendar.ParseDate(last)
	if err != nil {
		return Period{}, wrong
	}
	return Period{From: from, Until: until.AddDays(1), Words: dayWords(from) + " to " + dayWords(until)}, nil
}

// Before is the period of the same length that ends where this one begins.
func (p Period) Before() Period {
	from := p.From.AddDays(-p.Until.Since(p.From))
	if p.months > 0 {
		from = months(p.From, -p.months)
	}
	return Period{From: from, Until: p.From, months: p.months, Words: spanWords(from, p.From)}
}

// Span names its first and its last day.
func (p Period) Span() string { return spanWords(p.From, p.Until) }

// Elapsed is the part of it before a day, as a period that is over.
func (p Period) Elapsed(today calendar.Date) Period {
	if until := today.AddDays(1); until.Compare(p.Until) < 0 {
		p.Until, p.months = until, 0
	}
	return p
}

func spanWords(from, until calendar.Date) string {
	return dayWords(from) + " to " + dayWords(until.AddDays(-1))
}

func dayWords(d calendar.Date) string {
	return fmt.Sprintf("%d %s %d", d.Day(), d.Month(), d.Year())
}

// instants are when a period begins and ends in a zone.
func (p Period) instants(zone *time.Location) (from, until int64) {
	return p.From.In(zone).Unix(), p.Until.In(zone).Unix()
}

func dateOf(year int, month time.Month, day int) calendar.Date {
	return calendar.DateOf(time.Date(year, month, day, 0, 0, 0, 0, time.UTC))
}

// months is the first day of the month so many months after that of a day.
func months(d calendar.Date, n int) calendar.Date {
	return dateOf(d.Year(), d.Month()+time.Month(n), 1)
}

// week is the Monday of the week of a day.
func week(d calendar.Date) calendar.Date { return d.AddDays(1 - d.ISOWeekday()) }

// year is the first day of the year of accounts of a day, quarter that of its quarter.
func year(d calendar.Date, start time.Month) calendar.Date {
	y := d.Year()
	if d.Month() < start {
		y--
	}
	return dateOf(y, start, 1)
}

func quarter(d calendar.Date, start time.Month) calendar.Date {
	since := (int(d.Month()) - int(start) + 12) % 12
	return months(d, -(since % 3))
}

func weekKey(monday calendar.Date) string {
	y, w := monday.In(time.UTC).ISOWeek()
	return fmt.Sprintf("%04d-W%02d", y, w)
}
