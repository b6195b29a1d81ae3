package calendar_test

import (
	"fmt"
	"time"

	"heptad/internal/core/calendar"
)

// An office that closes over lunch, on weekends, and on Christmas Day.
var office = calendar.MustCompile(calendar.Document{
	Format: calendar.Format, Zone: "Europe/Lisbon",
	Week: map[string][]string{
		"mon": {"08:30-12:30", "13:30-17:30"}, "tue": {"08:30-12:30", "13:30-17:30"}, "wed": {"08:30-12:30", "13:30-17:30"},
		"thu": {"08:30-12:30", "13:30-17:30"}, "fri": {"08:30-12:30", "13:30-17:30"},
	},
	Exceptions: []calendar.Exception{{Date: "2026-12-25", Open: []string{}}},
})

func ExampleCalendar_Add() {
	thursday := time.Date(2026, 12, 24, 16, 0, 0, 0, time.UTC)
	done, err := office.Add(thursday, 3*time.Hour) // until half past five, and on Monday
	fmt.Println(done, err)
	// Output: 2026-12-28 10:00:00 +0000 UTC <nil>
}

func ExampleCalendar_AddDays() {
	noon := time.Date(2026, 12, 23, 11, 30, 0, 0, time.UTC)
	done, err := office.AddDays(noon, 2) // the same point of the day: Friday is closed
	fmt.Println(done, err)
	// Output: 2026-12-28 11:30:00 +0000 UTC <nil>
}

func ExampleCalendar_Between() {
	before, after := time.Date(2026, 12, 24, 12, 0, 0, 0, time.UTC), time.Date(2026, 12, 24, 14, 0, 0, 0, time.UTC)
	fmt.Println(office.Between(before, after))
	// Output: 1h0m0s
}
