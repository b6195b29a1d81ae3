package calendar

import (
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/teambition/rrule-go"
)

// Exceptions travel as iCalendar (RFC 5545): an event of whole days closes
// them, an event with clock times gives the date those opening times instead
// of its usual ones.

const (
	dateForm  = "20060102"
	clockForm = "20060102T150405"
)

// With adds exceptions. One of a date that has another already takes its place.
func (d Document) With(more []Exception) Document {
	d.Exceptions = slices.DeleteFunc(slices.Clone(d.Exceptions), func(e Exception) bool {
		return slices.ContainsFunc(more, func(m Exception) bool { return m.Date == e.Date && m.Repeat == e.Repeat })
	})
	d.Exceptions = append(d.Exceptions, more...)
	return d
}

// ReadICalendar reads exceptions; clock times are turned into the zone. An
// error names the event it stands in.
func ReadICalendar(r io.Reader, zone *time.Location) ([]Exception, error) {
	file, err := ics.ParseCalendar(r)
	if err != nil {
		return nil, fmt.Errorf("this is no iCalendar file: %w", err)
	}
	if len(file.Components) == 0 {
		return nil, errors.New("this is no iCalendar file: it holds no event")
	}
	var all []Exception
	spreads := 0
	for n, event := range file.Events() {
		if status := event.GetProperty(ics.ComponentPropertyStatus); status != nil && status.Value == string(ics.ObjectStatusCancelled) {
			continue
		}
		name := valueOf(event, ics.ComponentPropertySummary)
		if valueOf(event, ics.ComponentPropertyRrule) != "" {
			if spreads++; spreads > maxRepeats {
				return nil, fmt.Errorf("the file holds more than %d recurrences", maxRepeats)
			}
		}
		found, err := readEvent(event, zone)
		if err != nil {
			return nil, fmt.Errorf("event %d (%s): %w", n+1, name, err)
		}
		for _, e := range found {
			if _, err := ParseDate(e.Date); err != nil { // a year such as 0 or 10000
				return nil, fmt.Errorf("event %d (%s): %w", n+1, name, err)
			}
			e.Name = name
			all = join(all, e)
		}
		if len(all) > maxExceptions {
			return nil, fmt.Errorf("the file holds more than %d exceptions", maxExceptions)
		}
	}
	return all, nil
}

// join adds an exception; several events with clock times on one date are its
// opening times together.
func join(all []Exception, e Exception) []Exception {
	for i := range all {
		if all[i].Date == e.Date && all[i].Repeat == e.Repeat {
			for _, open := range e.Open {
				if !slices.Contains(all[i].Open, open) {
					all[i].Open = append(all[i].Open, open)
				}
			}
			return all
		}
	}
	return append(all, e)
}

func valueOf(event *ics.VEvent, property ics.ComponentProperty) string {
	if p := event.GetProperty(property); p != nil {
		return p.Value
	}
	return ""
}

func readEvent(event *ics.VEvent, zone *time.Location) ([]Exception, error) {
	start := event.GetProperty(ics.ComponentPropertyDtStart)
	if start == nil {
		return nil, errors.New("it does not say when it begins")
	}
	from, wholeDay, err := readTime(start, zone)
	if err != nil {
		return nil, err
	}
	until := from.AddDate(0, 0, 1)
	if end := event.GetProperty(ics.ComponentPropertyDtEnd); end != nil {
		if until, _, err = readTime(end, zone); err != nil {
			return nil, err
		}
	} else if !wholeDay {
		return nil, errors.New("it does not say when it ends")
	}
	open := []string{}
	days := 1
	if wholeDay {
		days = DateOf(until).Since(DateOf(from))
	} else {
		if length := until.Sub(from); length <= 0 || length > 24*time.Hour {
			return nil, errors.New("opening times end within a day")
		}
		end := until.Format("15:04")
		if end == "00:00" {
			end = "24:00"
		}
		open = append(open, from.Format("15:04")+"-"+end)
	}
	if days < 1 || days > 366 {
		return nil, errors.New("it ends before it begins, or lasts for more than a year")
	}
	first, repeat := DateOf(from), valueOf(event, ics.ComponentPropertyRrule)
	starts := []Date{first}
	if repeat != "" {
		if exdates := event.GetProperties(ics.ComponentPropertyExdate); days == 1 && len(exdates) == 0 && strings.Contains(strings.ToUpper(repeat), "FREQ=YEARLY") {
			return []Exception{{Date: first.String(), Open: open, Repeat: repeat}}, nil
		} else if starts, err = spread(first, repeat, exdates, zone); err != nil {
			return nil, err
		}
	}
	if len(starts)*days > maxExceptions {
		return nil, fmt.Errorf("it falls on more than %d dates", maxExceptions)
	}
	var out []Exception
	for _, s := range starts {
		for d := range days {
			out = append(out, Exception{Date: s.AddDays(d).String(), Open: open})
		}
	}
	return out, nil
}

// spread lists the dates of any recurrence, without those taken out of it.
func spread(from Date, text string, exdates []*ics.IANAProperty, zone *time.Location) ([]Date, error) {
	option, err := rrule.StrToROption(text)
	if err != nil {
		return nil, fmt.Errorf("%q is no recurrence", text)
	}
	if option.Count == 0 && option.Until.IsZero() && option.Freq != rrule.YEARLY {
		return nil, fmt.Errorf("%q never ends; only a yearly recurrence may", text)
	}
	if err := wholeDays(option, text); err != nil {
		return nil, err
	}
	option.Dtstart = from.utc()
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return nil, fmt.Errorf("%q is no recurrence", text)
	}
	out := map[Date]bool{}
	for _, property := range exdates {
		for _, value := range strings.Split(property.Value, ",") {
			one := *property
			one.Value = value
			t, _, err := readTime(&one, zone)
			if err != nil {
				return nil, err
			}
			out[DateOf(t)] = true
		}
	}
	var dates []Date
	all, err := datesOf(rule, text)
	for _, d := range all {
		if !out[d] {
			dates = append(dates, d)
		}
	}
	return dates, err
}

// wholeDays refuses recurrences finer than daily, which no date needs, and
// which could go on for hours of computing.
func wholeDays(option *rrule.ROption, text string) error {
	if option.Freq > rrule.DAILY || len(option.Byhour)+len(option.Byminute)+len(option.Bysecond) > 0 {
		return fmt.Errorf("%q repeats within a day; a calendar knows whole days", text)
	}
	if len(option.Byeaster) > 0 { // not of RFC 5545
		return fmt.Errorf("%q is no recurrence", text)
	}
	return nil
}

// datesOf lists the dates of a recurrence that calendars know, and stops as
// soon as there are too many.
func datesOf(rule *rrule.RRule, text string) ([]Date, error) {
	var dates []Date
	next := rule.Iterator()
	for t, ok := next(); ok && !DateOf(t).utc().After(last.utc()); t, ok = next() {
		if DateOf(t).Compare(first) < 0 {
			continue
		}
		if len(dates) == maxExceptions {
			return nil, fmt.Errorf("%q falls on more than %d dates", text, maxExceptions)
		}
		dates = append(dates, DateOf(t))
	}
	return dates, nil
}

// readTime reads a date or an instant, which it gives in the zone.
func readTime(p *ics.IANAProperty, zone *time.Location) (t time.Time, wholeDay bool, err error) {
	wrong := fmt.Errorf("%q is no time", p.Value)
	if t, err := time.Parse(dateForm, p.Value); err == nil {
		return t, true, nil
	}
	if t, err := time.Parse(clockForm+"Z", p.Value); err == nil {
		return t.In(zone), false, nil
	}
	in := zone
	if names := p.ICalParameters["TZID"]; len(names) > 0 {
		if in, err = time.LoadLocation(names[0]); err != nil {
			return t, false, fmt.Errorf("%q is no time zone", names[0])
		}
	}
	t, err = time.ParseInLocation(clockForm, p.Value, in)
	if err != nil {
		return t, false, wrong
	}
	return t.In(zone), false, nil
}

// WriteICalendar writes the exceptions of a right document; stamp is when the
// file is made.
func WriteICalendar(w io.Writer, d Document, stamp time.Time) error {
	file := ics.NewCalendar()
	file.SetProductId("-//Heptad//calendar//EN")
	file.SetXWRCalName(d.Name)
	for i, e := range d.Exceptions {
		date, err := ParseDate(e.Date)
		if err != nil {
			return err
		}
		event := func(part int) *ics.VEvent {
			event := file.AddEvent(fmt.Sprintf("%s-%d-%d@heptad", e.Date, i, part))
			event.SetDtStampTime(stamp)
			event.SetSummary(e.Name)
			if e.Repeat != "" {
				event.AddRrule(e.Repeat)
			}
			return event
		}
		if len(e.Open) == 0 {
			closed := event(0)
			closed.SetAllDayStartAt(date.utc())
			closed.SetAllDayEndAt(date.AddDays(1).utc())
		}
		for part, text := range e.Open {
			open, err := parseInterval(text)
			if err != nil {
				return err
			}
			clock := func(minutes int) string {
				return date.utc().Add(time.Duration(minutes) * time.Minute).Format(clockForm)
			}
			hours := event(part)
			hours.SetProperty(ics.ComponentPropertyDtStart, clock(open.from), ics.WithTZID(d.Zone))
			hours.SetProperty(ics.ComponentPropertyDtEnd, clock(open.until), ics.WithTZID(d.Zone))
		}
	}
	return file.SerializeTo(w)
}
