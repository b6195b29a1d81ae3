// Package promise holds the promise side of an offering: its time zone and
// how a request closes (rules.md 7 and 8).
package promise

import (
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// Promise is the promise side of an offering.
type Promise struct {
	Zone          string `json:"zone" maxLength:"60" doc:"IANA time zone in which today is reckoned"`
	ConfirmWithin *int   `json:"confirmWithin,omitempty" minimum:"0" maximum:"250" doc:"Working days the asker has to confirm; 0 closes on delivery; 5 when left out"`
}

const usualSilence = 5

// Compiled is a checked promise.
type Compiled struct {
	zone   *time.Location
	within int
}

// Compile checks the promise side.
func Compile(p Promise, findings *finding.List) *Compiled {
	c := &Compiled{zone: time.UTC, within: usualSilence}
	zone, err := time.LoadLocation(p.Zone)
	if err != nil || p.Zone == "" || p.Zone == "Local" {
		findings.Error("zone", "/promise/zone", fmt.Sprintf("%q is no time zone.", p.Zone), "Name one such as Europe/Lisbon.")
	} else {
		c.zone = zone
	}
	if p.ConfirmWithin != nil {
		c.within = *p.ConfirmWithin
		if c.within < 0 || c.within > 250 {
			findings.Error("confirmWithin", "/promise/confirmWithin", "The time to confirm is from 0 to 250 working days.", "")
		}
	}
	return c
}

// Zone is where the promise is reckoned.
func (c *Compiled) Zone() *time.Location { return c.zone }

// Today is the date at an instant, where the promise is reckoned.
func (c *Compiled) Today(now time.Time) calendar.Date { return calendar.DateOf(now.In(c.zone)) }

// ConfirmBy is the instant at which a delivered request closes by itself. It
// is the delivery itself when no confirmation is asked for.
func (c *Compiled) ConfirmBy(delivered time.Time) time.Time {
	if c.within == 0 {
		return delivered
	}
	return calendar.AddWorkdaysTo(delivered, c.within, c.zone).UTC()
}
