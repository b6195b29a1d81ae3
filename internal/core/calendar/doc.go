// Package calendar computes with dates, working calendars and the time they
// leave open (rules.md 1). A calendar is compiled once from its document; after
// that every operation is a binary search. It keeps no calendars: whoever
// calls the core hands them in.
package calendar
