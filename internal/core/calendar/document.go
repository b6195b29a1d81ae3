package calendar

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/teambition/rrule-go"

	"heptad/internal/core/finding"
)

// Format is the name of the open format of calendars.
const Format = "heptad/calendar/1"

// Document is a working calendar as people write it. Intervals are wall-clock
// times of the zone such as "08:30-12:30"; one that ends at or before its
// beginning runs over midnight and belongs to the date it begins on.
type Document struct {
	Format     string              `json:"format" enum:"heptad/calendar/1"`
	Name       string              `json:"name,omitempty" maxLength:"120"`
	Zone       string              `json:"zone" maxLength:"60" doc:"IANA time zone, such as Europe/Lisbon"`
	Week       map[string][]string `json:"week" doc:"Opening intervals by mon, tue, wed, thu, fri, sat and sun; a day left out is closed"`
	Exceptions []Exception         `json:"exceptions,omitempty" maxItems:"2000" nullable:"false"`
}

// Exception is a date with other hours, or none.
type Exception struct {
	Date   string   `json:"date" maxLength:"10" doc:"RFC 3339, such as 2027-12-25"`
	Open   []string `json:"open" maxItems:"12" nullable:"false" doc:"Intervals such as 08:30-12:30; none is closed"`
	Name   string   `json:"name,omitempty" maxLength:"120"`
	Repeat string   `json:"repeat,omitempty" maxLength:"200" doc:"Yearly recurrence from the date on (RFC 5545), such as FREQ=YEARLY"`
}

// Weekdays are the keys of a week, Monday first.
var Weekdays = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}

// Limits of one calendar.
const (
	maxIntervals  = 12 // of one date
	maxExceptions = 2000
	maxRepeats    = 100 // exceptions that repeat; each may take years to look through
)

// Parse reads a calendar document, JSON.
func Parse(data []byte) (Document, error) {
	var d Document
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(&d); err != nil {
		return d, fmt.Errorf("this is no calendar: %w", err)
	}
	if decoder.More() {
		return d, errors.New("this is no calendar: something follows after it")
	}
	if d.Format != Format {
		return d, fmt.Errorf("this is no calendar: its format is %q, not %q", d.Format, Format)
	}
	return d, nil
}

// interval is a part of a date on the wall clock, in minutes from midnight;
// until is above 1440 when it runs over midnight.
type interval struct{ from, until int }

func parseInterval(text string) (interval, error) {
	wrong := fmt.Errorf("%q is no opening time: write it like 08:30-12:30", text)
	a, b, ok := strings.Cut(text, "-")
	if !ok {
		return interval{}, wrong
	}
	from, err := parseClock(strings.TrimSpace(a))
	if err != nil || from == day {
		return interval{}, wrong
	}
	until, err := parseClock(strings.TrimSpace(b))
	if err != nil {
		return interval{}, wrong
	}
	if until == from {
		return interval{}, fmt.Errorf("%q ends when it begins; the whole day is 00:00-24:00", text)
	}
	if until < from {
		until += day
	}
	return interval{from, until}, nil
}

const day = 24 * 60 // minutes on the wall clock

func parseClock(text string) (int, error) {
	if text == "24:00" {
		return day, nil
	}
	t, err := time.Parse("15:04", text)
	if err != nil || len(text) != 5 {
		return 0, fmt.Errorf("%q is no time of day", text)
	}
	return t.Hour()*60 + t.Minute(), nil
}

// parseOpen reads the intervals of one date, in order and apart.
func parseOpen(open []string, place string, findings *finding.List) []interval {
	if len(open) > maxIntervals {
		findings.Error(finding.TooMany, place, fmt.Sprintf("A date has at most %d opening times.", maxIntervals), "")
		return nil
	}
	var all []interval
	for i, text := range open {
		one, err := parseInterval(text)
		if err != nil {
			findings.Error(finding.Interval, place+finding.At(i), finding.Sentence(err.Error()), "")
			continue
		}
		all = append(all, one)
	}
	slices.SortFunc(all, func(a, b interval) int { return a.from - b.from })
	for i := 1; i < len(all); i++ {
		if all[i].from < all[i-1].until {
			findings.Error(finding.Overlap, place, "Two opening times of this date overlap.", "Join them, or part them.")
		}
	}
	return all
}

// hours are the opening intervals of every date that has other ones than its
// weekday.
type hours map[Date][]interval

// exceptions works out the dates of all exceptions, yearly ones up to the last
// year that calendars know. One for a single date goes before a yearly one.
func exceptions(list []Exception, findings *finding.List) hours {
	out := hours{}
	if len(list) > maxExceptions {
		findings.Error(finding.TooMany, "/exceptions", fmt.Sprintf("A calendar has at most %d exceptions.", maxExceptions), "")
		return out
	}
	single := map[Date]bool{}
	repeats := 0
	for i, e := range list {
		place := finding.At("exceptions", i)
		date, err := ParseDate(e.Date)
		if err != nil {
			findings.Error(finding.Date, place+"/date", finding.Sentence(err.Error()), "")
			continue
		}
		if date.Compare(first) < 0 || date.Compare(last) > 0 {
			findings.Error(finding.Date, place+"/date", fmt.Sprintf("Calendars know the years %s.", years), "")
			continue
		}
		open := parseOpen(e.Open, place+"/open", findings)
		if e.Repeat == "" {
			if single[date] {
				findings.Error(finding.DuplicateDate, place+"/date", fmt.Sprintf("%s stands twice among the exceptions.", date), "Take one out.")
			}
			single[date] = true
			out[date] = open
			continue
		}
		if repeats++; repeats > maxRepeats {
			findings.Error(finding.TooMany, place+"/repeat", fmt.Sprintf("At most %d exceptions of a calendar repeat.", maxRepeats), "")
			return out
		}
		dates, err := repeat(date, e.Repeat)
		if err != nil {
			findings.Error(finding.Repeat, place+"/repeat", finding.Sentence(err.Error()), "Use a yearly one, such as FREQ=YEARLY.")
		}
		for _, d := range dates {
			if !single[d] {
				out[d] = open
			}
		}
	}
	return out
}

// In lists the dates of a right exception that lie in a year.
func (e Exception) In(year int) []Date {
	date, err := ParseDate(e.Date)
	if err != nil {
		return nil
	}
	dates := []Date{date}
	if e.Repeat != "" {
		if dates, err = repeat(date, e.Repeat); err != nil {
			return nil
		}
	}
	return slices.DeleteFunc(dates, func(d Date) bool { return d.Year() != year })
}

// repeat lists the dates of a yearly recurrence (RFC 5545), from its first.
func repeat(from Date, text string) ([]Date, error) {
	option, err := rrule.StrToROption(text)
	if err != nil || option == nil {
		return nil, fmt.Errorf("%q is no recurrence", text)
	}
	if option.Freq != rrule.YEARLY {
		return nil, fmt.Errorf("%q does not repeat yearly", text)
	}
	if err := wholeDays(option, text); err != nil {
		return nil, err
	}
	option.Dtstart = from.utc()
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return nil, fmt.Errorf("%q is no recurrence", text)
	}
	return datesOf(rule, text)
}
