// Package demo holds the made-up company Quillon Straits Ferries and makes it
// live: its people, offerings and requests, all through the real core with a
// clock in the past. Nothing is written straight into tables but people.
package demo
