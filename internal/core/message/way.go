package message

import (
	"time"

	"heptad/internal/core/calendar"
)

// Mail says whether messages of a kind come by mail.
type Mail string

// The ways by mail.
const (
	AtOnce Mail = "now"
	Daily  Mail = "daily" // with others, in one mail a day
	Never  Mail = "off"
)

// Way is how a person gets the messages of a kind.
type Way struct {
	Kind Kind `json:"kind"`
	List bool `json:"list" doc:"Whether it stands in the list of messages"`
	Mail Mail `json:"mail" enum:"now,daily,off"`
}

// UsualWay is how somebody gets the messages of a kind who has not chosen: all
// of them but for each step of the work stand in the list, and what waits for them
// comes by mail as well.
func UsualWay(kind Kind) Way {
	switch kind {
	case Task, Said, Following, Sent, Passed, HeldUp, Dated, Over, StandsIn:
		return Way{kind, true, Never}
	case Entry:
		return Way{kind, false, AtOnce}
	case Progress: // for those who want every detail
		return Way{kind, false, Never}
	}
	return Way{kind, true, AtOnce}
}

// dailyAt is when the one mail of a day goes out, on the wall clock of the
// person's working calendar.
const dailyAt = 7

// NextDaily is the instant of the next daily mail after another.
func NextDaily(after time.Time, hours *calendar.Calendar) time.Time {
	local := after.In(hours.Zone())
	y, m, d := local.Date()
	next := time.Date(y, m, d, dailyAt, 0, 0, 0, hours.Zone())
	if !next.After(after) {
		next = time.Date(y, m, d+1, dailyAt, 0, 0, 0, hours.Zone())
	}
	return next.UTC()
}

// Retries are the delays between the tries to send one mail; after the last it
// has failed.
var Retries = []time.Duration{time.Minute, 2 * time.Minute, 5 * time.Minute, 15 * time.Minute, 30 * time.Minute, time.Hour, 2 * time.Hour, 4 * time.Hour, 8 * time.Hour, 12 * time.Hour, 24 * time.Hour}
