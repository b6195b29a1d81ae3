// Package calendar reckons with dates and working days. A plain week, Monday
// to Friday round the clock, stands in until working calendars with hours and
// exceptions are here (rules.md 1).
package calendar
