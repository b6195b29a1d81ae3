package promise

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/people"
)

// Mark is a share of a promised time at which somebody is told, before it is too late or
// after it was.
type Mark struct {
	Clock  string   `json:"clock,omitempty" enum:",fulfilment,response" doc:"Of the delivery, or of staff's first word; the delivery when left out"`
	Share  int      `json:"share" minimum:"1" maximum:"500" doc:"Per cent of the promised time that is used; at 100 it is missed"`
	Tell   []Told   `json:"tell,omitempty" maxItems:"10" nullable:"false"`
	People []string `json:"people,omitempty" maxItems:"20" nullable:"false" doc:"Logins of others who are told"`
	Text   string   `json:"text,omitempty" maxLength:"1000" doc:"What they read; how much is used and left when left out"`
	HandUp bool     `json:"handUp,omitempty" doc:"What nobody has taken goes to the next team upward"`
}

// Told says who is told at a mark.
type Told string

// Who is told at a mark.
const (
	TellHolder Told = "holder" // who has it now, a person or a team
	TellTeam   Told = "team"   // all of the teams that have it now
	TellLead   Told = "lead"   // who leads those
	TellUpward Told = "upward" // the next teams upward
	TellOwner  Told = "owner"  // of the service
	TellKeeper Told = "keeper" // who answers for the promise
	TellAsker  Told = "asker"  // and who else is of their side
)

// All lists them in their order.
func (Told) All() []Told {
	return []Told{TellHolder, TellTeam, TellLead, TellUpward, TellOwner, TellKeeper, TellAsker}
}

// Whole is the share at which a promise is missed.
const Whole = 100

// OfResponse is the clock of a mark of staff's first word.
const OfResponse = "response"

// compileMarks checks the marks, and adds those at which a promise is missed where the
// promise does not say itself what happens then.
func (c *Compiled) compileMarks(marks []Mark, company *people.Directory, findings *finding.List) {
	type place struct {
		clock string
		share int
	}
	seen := map[place]bool{}
	for i, m := range marks {
		at := finding.At("promise", "marks", i)
		if m.Clock == "fulfilment" {
			m.Clock = ""
		}
		switch {
		case m.Clock != "" && m.Clock != OfResponse:
			findings.Error(finding.Clock, at+"/clock", fmt.Sprintf("There is no clock %q.", m.Clock), "Choose fulfilment or response.")
		case m.Share < 1 || m.Share > 500:
			findings.Error(finding.Share, at+"/share", "A mark stands between 1 and 500 per cent of the promised time.", "")
		case seen[place{m.Clock, m.Share}]:
			findings.Error(finding.TwoMarks, at+"/share", fmt.Sprintf("There are two marks at %d per cent.", m.Share), "Let one of them tell all.")
		}
		seen[place{m.Clock, m.Share}] = true
		for j, told := range m.Tell {
			if !slices.Contains(told.All(), told) {
				findings.Error(finding.Kind, fmt.Sprintf("%s/tell/%d", at, j), fmt.Sprintf("%q is nobody who can be told.", told), "")
			}
		}
		for j, login := range m.People {
			if company == nil {
				break
			}
			if p, known := company.ByLogin(login); !known || p.Former {
				findings.Error(finding.UnknownPerson, fmt.Sprintf("%s/people/%d", at, j), fmt.Sprintf("There is nobody with the login %q.", login), "Choose a person of the company.")
			}
		}
		if len(m.Tell)+len(m.People) == 0 && !m.HandUp {
			findings.Warning(finding.TellsNobody, at+"/tell", fmt.Sprintf("At %d per cent nobody is told.", m.Share), "Choose who is, or take the mark out.")
		}
		c.marks = append(c.marks, m)
	}
	for _, clock := range []string{"", OfResponse} {
		if !seen[place{clock, Whole}] {
			c.marks = append(c.marks, Mark{Clock: clock, Share: Whole, Tell: []Told{TellHolder, TellKeeper}})
		}
	}
	slices.SortStableFunc(c.marks, func(a, b Mark) int { return a.Share - b.Share })
}

// Marks are those of a clock, the lowest first.
func (c *Compiled) Marks(response bool) []Mark {
	var of []Mark
	for _, m := range c.marks {
		if (m.Clock == OfResponse) == response {
			of = append(of, m)
		}
	}
	return of
}

// Keeper is the login of who answers for a promised time by its name; empty for the owner of
// the service.
func (c *Compiled) Keeper(name string) string {
	for _, t := range c.targets {
		if t.Name == name {
			return t.Owner
		}
	}
	return ""
}

// Reaches is when a share of the promised time, in per cent, is used, as far as that can be
// told at an instant: zero while the clock has not started, stands still until nobody knows
// when, or has stopped. At the whole it is the first instant at which it is late.
func (c Clock) Reaches(share int, now time.Time) time.Time {
	if c.from.IsZero() || !c.stopped.IsZero() {
		return time.Time{}
	}
	if !c.readyBy.IsZero() {
		whole := c.work.Between(c.from, c.readyBy)
		at, err := c.work.Add(c.from, whole*time.Duration(share)/Whole)
		if err != nil || share == Whole {
			return c.readyBy.Add(time.Millisecond)
		}
		return at.Truncate(time.Millisecond)
	}
	c.share = float64(share) / Whole
	at := c.Read(latest(c.from, now)).Due
	if share == Whole {
		at = c.late(at)
	}
	if n := len(c.pauses); n > 0 && c.pauses[n-1].Until.IsZero() && at.After(c.pauses[n-1].From) {
		return time.Time{}
	}
	return at
}

// late is the first instant beyond the due one in which the calendar is open and the clock
// does not stand still, as far as is known. What was used up at the close of a day is late
// with the first open instant of the next.
func (c Clock) late(due time.Time) time.Time {
	opens := func(at time.Time) time.Time {
		if open, err := c.work.NextOpen(at); err == nil {
			return open
		}
		return at
	}
	at := opens(due)
	for _, p := range c.pauses {
		if !p.From.After(at) && p.Until.After(at) {
			at = opens(p.Until)
		}
	}
	return at.Add(time.Millisecond)
}
