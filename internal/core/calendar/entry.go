package calendar

import (
	"time"

	ics "github.com/arran4/golang-ical"
)

// Entry is an entry for people's calendars.
type Entry struct {
	UID         string // the same for the same thing, so that a calendar takes it once
	Stamp       time.Time
	From, Until time.Time // the same for an instant
	Title, Text string
	Place, URL  string
	Organizer   Guest // nobody when its address is empty
	Guest       Guest
}

// Guest is somebody who takes part.
type Guest struct{ Name, Email string }

// WriteEntry writes one entry as a calendar of RFC 5545, in UTC.
func WriteEntry(e Entry) []byte {
	c := ics.NewCalendarFor("Heptad")
	event := c.AddEvent(e.UID)
	event.SetDtStampTime(e.Stamp.UTC())
	event.SetStartAt(e.From.UTC())
	event.SetEndAt(e.Until.UTC())
	event.SetSummary(e.Title)
	event.SetDescription(e.Text)
	if e.Place != "" {
		event.SetLocation(e.Place)
	}
	if e.URL != "" {
		event.SetURL(e.URL)
	}
	if e.Organizer.Email != "" {
		event.SetOrganizer("mailto:"+e.Organizer.Email, ics.WithCN(e.Organizer.Name))
	}
	if e.Guest.Email != "" {
		event.AddAttendee("mailto:"+e.Guest.Email, ics.WithCN(e.Guest.Name), ics.WithRSVP(true))
	}
	return []byte(c.Serialize())
}
