package measure

import (
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/teambition/rrule-go"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// Board is some sentences in an order, with a title, that others see, too.
type Board struct {
	Title  string `json:"title" maxLength:"120"`
	Parts  []Part `json:"parts" nullable:"false" maxItems:"24"`
	Shared Shared `json:"shared"`
	Mail   Rhythm `json:"mail" doc:"When it is sent to those it is shared with by name or team"`
	Turns  int    `json:"turns,omitempty" minimum:"0" maximum:"600" doc:"Seconds for which the wall shows a page; 20 when left out"`
}

// Part is one page of a board.
type Part struct {
	Title    string   `json:"title" maxLength:"120"`
	Show     Show     `json:"show"`
	Sentence Sentence `json:"sentence"`
}

// Show says what of a sentence is shown.
type Show string

// What can be shown.
const (
	ShowFigures Show = "figures" // the row of figures
	ShowAlong   Show = "along"   // the figure along time
	ShowSide    Show = "side"    // what it is made up of
	ShowGrid    Show = "grid"
	ShowStages  Show = "stages" // how many requests stand where now, and since when
)

// All lists them.
func (Show) All() []Show { return []Show{ShowFigures, ShowAlong, ShowSide, ShowGrid, ShowStages} }

// Shared says who sees a board beside who made it.
type Shared struct {
	Everyone bool     `json:"everyone,omitempty"`
	Teams    []string `json:"teams,omitempty" nullable:"false" maxItems:"50" doc:"Keys; their members see it"`
	People   []string `json:"people,omitempty" nullable:"false" maxItems:"200" doc:"IDs"`
}

// With reports whether somebody who is in some teams sees it.
func (s Shared) With(person string, teams []string) bool {
	return s.Everyone || slices.Contains(s.People, person) || slices.ContainsFunc(s.Teams, func(t string) bool { return slices.Contains(teams, t) })
}

// Rhythm is when something happens again and again: on the days of a rule, at a clock time;
// where the day is closed, on the next that is open.
type Rhythm struct {
	Rule string `json:"rule,omitempty" maxLength:"200" doc:"RFC 5545, such as FREQ=MONTHLY;BYMONTHDAY=1; empty for never"`
	At   string `json:"at,omitempty" maxLength:"5" doc:"Clock time in the organisation's zone, such as 08:00"`
}

// clockTime is a time of the day as people write it in a document.
const clockTime = "15:04"

// Next is the first time after an instant; zero for never.
func (r Rhythm) Next(after time.Time, work *calendar.Calendar, zone *time.Location) (time.Time, error) {
	if r.Rule == "" {
		return time.Time{}, nil
	}
	option, err := rrule.StrToROption(r.Rule)
	if err != nil {
		return time.Time{}, fmt.Errorf("%q is no rule of RFC 5545, such as FREQ=MONTHLY;BYMONTHDAY=1", r.Rule)
	}
	if option.Freq > rrule.DAILY {
		return time.Time{}, fmt.Errorf("a board is sent once a day at most")
	}
	at, err := time.Parse(clockTime, r.At)
	if err != nil {
		return time.Time{}, fmt.Errorf("%q is no time of the day, such as 08:00", r.At)
	}
	local := after.In(zone)
	day := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, time.UTC).AddDate(0, 0, -40) // what was closed may have moved from before
	option.Dtstart = day
	rule, err := rrule.NewRRule(*option)
	if err != nil {
		return time.Time{}, fmt.Errorf("%q is no rule of RFC 5545: %w", r.Rule, err)
	}
	for on := rule.After(day, true); !on.IsZero(); on = rule.After(on, false) {
		date := calendar.DateOf(on)
		for shut := 0; !work.IsWorkday(date) && shut < 60; shut++ {
			date = date.AddDays(1)
		}
		midnight := date.In(zone)
		when := time.Date(midnight.Year(), midnight.Month(), midnight.Day(), at.Hour(), at.Minute(), 0, 0, zone)
		if when.After(after) {
			return when.UTC(), nil
		}
	}
	return time.Time{}, nil
}

// Check finds what is wrong with a board, as of a day.
func (b Board) Check(today calendar.Date, yearStart time.Month, work *calendar.Calendar, zone *time.Location) []Wrong {
	var all []Wrong
	if title := strings.TrimSpace(b.Title); title == "" || utf8.RuneCountInString(title) > 120 {
		all = append(all, Wrong{"/title", "Say what the board is called, in at most 120 letters."})
	}
	if len(b.Parts) == 0 {
		all = append(all, Wrong{"/parts", "A board has one page at least."})
	}
	for i, p := range b.Parts {
		place := fmt.Sprintf("/parts/%d", i)
		if !slices.Contains(p.Show.All(), p.Show) {
			all = append(all, Wrong{place + "/show", fmt.Sprintf("%q is nothing that can be shown.", p.Show)})
		}
		if _, err := p.Sentence.Fitted().Question(today, yearStart); err != nil {
			all = append(all, Wrong{place + "/sentence", err.Error()})
		}
	}
	if _, err := b.Mail.Next(today.In(zone), work, zone); err != nil {
		all = append(all, Wrong{"/mail", finding.Sentence(err.Error())})
	}
	return all
}

// Covers reports whether who sees so much sees all that another sight saw.
func (s Sight) Covers(other Sight) bool {
	if s.All {
		return true
	}
	within := func(a, b map[string]bool) bool {
		for key := range a {
			if !b[key] {
				return false
			}
		}
		return true
	}
	return !other.All && within(other.Services, s.Services) && within(other.Teams, s.Teams)
}
