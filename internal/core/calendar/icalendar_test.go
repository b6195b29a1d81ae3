package calendar_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
)

func ical(lines ...string) string {
	return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VCALENDAR\r\n"
}

func event(lines ...string) string {
	return "BEGIN:VEVENT\r\nUID:" + lines[0] + "\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT"
}

func TestReadICalendar(t *testing.T) {
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	closed := []string{}
	for name, c := range map[string]struct {
		event string
		want  []calendar.Exception
	}{
		"one date":            {event("DTSTART;VALUE=DATE:20271225", "SUMMARY:Yule"), []calendar.Exception{{Date: "2027-12-25", Open: closed, Name: "Yule"}}},
		"two dates":           {event("DTSTART;VALUE=DATE:20271225", "DTEND;VALUE=DATE:20271227"), []calendar.Exception{{Date: "2027-12-25", Open: closed}, {Date: "2027-12-26", Open: closed}}},
		"every year":          {event("DTSTART;VALUE=DATE:20270501", "RRULE:FREQ=YEARLY"), []calendar.Exception{{Date: "2027-05-01", Open: closed, Repeat: "FREQ=YEARLY"}}},
		"two, for two years":  {event("DTSTART;VALUE=DATE:20271231", "DTEND;VALUE=DATE:20280102", "RRULE:FREQ=YEARLY;COUNT=2"), []calendar.Exception{{Date: "2027-12-31", Open: closed}, {Date: "2028-01-01", Open: closed}, {Date: "2028-12-31", Open: closed}, {Date: "2029-01-01", Open: closed}}},
		"but for one":         {event("DTSTART;VALUE=DATE:20270501", "RRULE:FREQ=YEARLY;UNTIL=20290601", "EXDATE;VALUE=DATE:20280501"), []calendar.Exception{{Date: "2027-05-01", Open: closed}, {Date: "2029-05-01", Open: closed}}},
		"weekly, three times": {event("DTSTART;VALUE=DATE:20270501", "RRULE:FREQ=WEEKLY;COUNT=2"), []calendar.Exception{{Date: "2027-05-01", Open: closed}, {Date: "2027-05-08", Open: closed}}},
		"hours here":          {event("DTSTART:20271224T083000", "DTEND:20271224T123000"), []calendar.Exception{{Date: "2027-12-24", Open: []string{"08:30-12:30"}}}},
		"hours in UTC":        {event("DTSTART:20270624T083000Z", "DTEND:20270624T230000Z"), []calendar.Exception{{Date: "2027-06-24", Open: []string{"09:30-24:00"}}}},
		"hours elsewhere":     {event("DTSTART;TZID=Europe/Oslo:20271224T083000", "DTEND;TZID=Europe/Oslo:20271224T123000"), []calendar.Exception{{Date: "2027-12-24", Open: []string{"07:30-11:30"}}}},
		"taken back":          {event("DTSTART;VALUE=DATE:20271225", "STATUS:CANCELLED"), nil},
	} {
		t.Run(name, func(t *testing.T) {
			got, err := calendar.ReadICalendar(strings.NewReader(ical(c.event)), lisbon)
			require.NoError(t, err)
			assert.Equal(t, c.want, got)
		})
	}
	both, err := calendar.ReadICalendar(strings.NewReader(ical(
		event("DTSTART:20271224T083000", "DTEND:20271224T123000"), event("DTSTART:20271224T133000", "DTEND:20271224T150000"))), lisbon)
	require.NoError(t, err)
	assert.Equal(t, []calendar.Exception{{Date: "2027-12-24", Open: []string{"08:30-12:30", "13:30-15:00"}}}, both)
}

func TestReadICalendarRefuses(t *testing.T) {
	for text, want := range map[string]string{
		"":                                     "this is no iCalendar file",
		ical(event("SUMMARY:Yule")):            "event 1 (Yule): it does not say when it begins",
		ical(event("DTSTART:20271224T083000")): "it does not say when it ends",
		ical(event("DTSTART:24 December")):     `"24 December" is no time`,
		ical(event("DTSTART;VALUE=DATE:20271225", "DTEND;VALUE=DATE:20271225")):                                "it ends before it begins",
		ical(event("DTSTART;VALUE=DATE:20271225", "DTEND;VALUE=DATE:20290101")):                                "more than a year",
		ical(event("DTSTART:20271224T083000", "DTEND:20271226T083000")):                                        "end within a day",
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=DAILY")):                                         `"FREQ=DAILY" never ends`,
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=DAILY;COUNT=5000")):                              "more than 2000",
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:OFTEN")):                                              `"OFTEN" is no recurrence`,
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=SECONDLY;UNTIL=21480101")):                       "repeats within a day",
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=HOURLY;COUNT=3")):                                "repeats within a day",
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=DAILY;UNTIL=21480101;BYSECOND=1,2")):             "repeats within a day",
		ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=DAILY;COUNT=5;BYEASTER=400")):                    "is no recurrence",
		ical(event("DTSTART;VALUE=DATE:20270101", "DTEND;VALUE=DATE:20280101", "RRULE:FREQ=DAILY;COUNT=1999")): "more than 2000 dates",
		ical(event("DTSTART;TZID=Ilha/Serena:20271224T083000")):                                                `"Ilha/Serena" is no time zone`,
	} {
		_, err := calendar.ReadICalendar(strings.NewReader(text), time.UTC)
		assert.ErrorContains(t, err, want)
	}
}

// However many events repeat, the work they make is bounded.
func TestRecurrencesAreCounted(t *testing.T) {
	var events []string
	d := calendar.Document{Zone: "UTC"}
	for i := range 101 {
		events = append(events, event("DTSTART;VALUE=DATE:20270101", "RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30"))
		d.Exceptions = append(d.Exceptions, calendar.Exception{Date: fmt.Sprintf("2027-%02d-%02d", 1+i/28, 1+i%28), Open: []string{}, Repeat: "FREQ=YEARLY"})
	}
	_, err := calendar.ReadICalendar(strings.NewReader(ical(events...)), time.UTC)
	assert.ErrorContains(t, err, "more than 100 recurrences")
	findings := finding.List{}
	calendar.Compile(d, &findings)
	require.Len(t, findings, 1)
	assert.Equal(t, "/exceptions/100/repeat", findings[0].Place)
}

func TestICalendarThereAndBack(t *testing.T) {
	d := calendar.Document{Name: "Tower Quay", Zone: "Europe/Lisbon", Exceptions: []calendar.Exception{
		{Date: "2027-12-24", Open: []string{"08:30-12:30", "22:00-24:00"}, Name: "Eve, and night"},
		{Date: "2027-12-25", Open: []string{}, Name: "Yule; closed, all"},
		{Date: "2027-05-01", Open: []string{}, Repeat: "FREQ=YEARLY"},
		{Date: "2027-11-25", Open: []string{"10:00-12:00"}, Repeat: "FREQ=YEARLY;BYDAY=4TH;BYMONTH=11"},
	}}
	lisbon, err := time.LoadLocation(d.Zone)
	require.NoError(t, err)
	var file bytes.Buffer
	require.NoError(t, calendar.WriteICalendar(&file, d, time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)))
	got, err := calendar.ReadICalendar(&file, lisbon)
	require.NoError(t, err)
	assert.Equal(t, d.Exceptions, got)
}

func FuzzReadICalendar(f *testing.F) {
	f.Add(ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=YEARLY;COUNT=2", "EXDATE:20271225")))
	f.Add(ical(event("DTSTART:20271224T083000", "DTEND:20271224T123000")))
	f.Add(ical(event("DTSTART;VALUE=DATE:00000101")))
	f.Add(ical(event("DTSTART;VALUE=DATE:99991231", "DTEND;VALUE=DATE:99991231")))
	f.Add(ical(event("DTSTART;VALUE=DATE:20271225", "RRULE:FREQ=SECONDLY;UNTIL=21480101")))
	f.Fuzz(func(t *testing.T, text string) {
		var all []calendar.Exception
		var err error
		coretest.Bounded(t, 100, func() { all, err = calendar.ReadICalendar(strings.NewReader(text), time.UTC) })
		if err != nil {
			return
		}
		for _, e := range all {
			_, err := calendar.ParseDate(e.Date)
			assert.NoError(t, err)
		}
	})
}

func FuzzDocument(f *testing.F) {
	f.Add(`{"format":"heptad/calendar/1","zone":"UTC","week":{"mon":["09:00-17:00"]},"exceptions":[{"date":"2027-01-01","open":[],"repeat":"FREQ=YEARLY;BYDAY=1MO"}]}`)
	f.Fuzz(func(t *testing.T, text string) {
		coretest.Bounded(t, 100, func() {
			if d, err := calendar.Parse([]byte(text)); err == nil {
				calendar.Compile(d, &finding.List{})
			}
		})
	})
}

// A few bytes cannot make a calendar fill the memory.
func TestCalendarsThatWouldFillTheMemory(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes ten seconds")
	}
	coretest.Child(t, 150, func(t *testing.T) {
		for _, rule := range []string{
			"FREQ=SECONDLY;UNTIL=21480101", "FREQ=MINUTELY;COUNT=100000000", "FREQ=HOURLY;UNTIL=21480101", "FREQ=DAILY;COUNT=2000000000", "FREQ=DAILY;UNTIL=99991231",
			"FREQ=DAILY;UNTIL=21480101;BYSECOND=0,1,2,3", "FREQ=WEEKLY;UNTIL=21480101;BYDAY=MO,TU,WE,TH,FR,SA,SU", "FREQ=YEARLY;BYYEARDAY=1,2,3,4,5,6,7;UNTIL=99991231",
		} {
			_, err := calendar.ReadICalendar(strings.NewReader(ical(event("DTSTART;VALUE=DATE:19800101", "DTEND;VALUE=DATE:19810101", "RRULE:"+rule))), time.UTC)
			assert.Error(t, err, rule)
			findings := finding.List{}
			calendar.Compile(calendar.Document{Zone: "UTC", Exceptions: []calendar.Exception{{Date: "1980-01-01", Open: []string{}, Repeat: rule}}}, &findings)
		}
		long := ical(event("DTSTART;VALUE=DATE:19800101", "EXDATE:"+strings.Repeat("19800101,", 100_000)+"19800101", "RRULE:FREQ=DAILY;COUNT=3"))
		_, _ = calendar.ReadICalendar(strings.NewReader(long), time.UTC)
		many := make([]string, 20_000)
		for i := range many {
			many[i] = event("DTSTART;VALUE=DATE:19800101", "DTEND;VALUE=DATE:19801231")
		}
		_, _ = calendar.ReadICalendar(strings.NewReader(ical(many...)), time.UTC)
	})
}
