package calendar_test

import (
	"fmt"
	"testing"
	"time"

	"heptad/internal/core/calendar"
)

func towerQuay() calendar.Document {
	d := calendar.Document{Zone: "Europe/Lisbon", Week: map[string][]string{}}
	for _, weekday := range calendar.Weekdays[:5] {
		d.Week[weekday] = []string{"08:30-12:30", "13:30-17:30"}
	}
	for n := range 12 {
		d.Exceptions = append(d.Exceptions, calendar.Exception{Date: fmt.Sprintf("2027-%02d-15", n+1), Repeat: "FREQ=YEARLY"})
	}
	return d
}

// Over one year, with two opening times a day and a dozen holidays.
func BenchmarkAdd(b *testing.B) {
	c, from := calendar.MustCompile(towerQuay()), time.Date(2027, 3, 26, 10, 0, 0, 0, time.UTC)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := c.Add(from, 1900*time.Hour); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkBetween(b *testing.B) {
	c, from := calendar.MustCompile(towerQuay()), time.Date(2027, 3, 26, 10, 0, 0, 0, time.UTC)
	to := from.AddDate(1, 0, 0)
	b.ReportAllocs()
	for b.Loop() {
		if c.Between(from, to) <= 0 {
			b.Fatal("no time")
		}
	}
}

func BenchmarkAddDays(b *testing.B) {
	c, from := calendar.MustCompile(towerQuay()), time.Date(2027, 3, 26, 10, 0, 0, 0, time.UTC)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := c.AddDays(from, 240); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkCompile(b *testing.B) {
	d := towerQuay()
	for b.Loop() {
		calendar.MustCompile(d)
	}
}
