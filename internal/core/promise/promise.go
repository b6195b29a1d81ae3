// Package promise holds the promise side of an offering: its calendar, the
// times it promises, and how a request closes (rules.md 7 and 8).
package promise

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Promise is the promise side of an offering.
type Promise struct {
	Zone          string         `json:"zone" maxLength:"60" doc:"IANA time zone in which today is computed, where no calendar is named"`
	Calendar      string         `json:"calendar,omitempty" maxLength:"60" doc:"Key of the working calendar; Monday to Friday when left out"`
	Targets       []Target       `json:"targets,omitempty" maxItems:"20" nullable:"false" doc:"The first that fits holds"`
	Starts        string         `json:"starts,omitempty" enum:",sending,decision" doc:"What starts the clock; sending when left out"`
	CutOff        string         `json:"cutOff,omitempty" maxLength:"5" pattern:"^$|^[0-2][0-9]:[0-5][0-9]$" doc:"Clock time after which sending counts from the next working day"`
	Pauses        []string       `json:"pauses,omitempty" maxItems:"200" nullable:"false" doc:"Keys of tasks during which the clock stands still"`
	AnswerWithin  *int           `json:"answerWithin,omitempty" minimum:"1" maximum:"250" doc:"Working days the asker has to answer a question back; 20 when left out"`
	Messages      []message.Text `json:"messages,omitempty" maxItems:"20" nullable:"false" doc:"Texts of messages in place of the general ones"`
	Reasons       []string       `json:"reasons,omitempty" maxItems:"30" nullable:"false" doc:"That staff choose from who cancel a request; free words when left out"`
	AskerReasons  []string       `json:"askerReasons,omitempty" maxItems:"30" nullable:"false" doc:"That an asker can choose from who takes a request back"`
	Urge          *Urge          `json:"urge,omitempty" doc:"How askers ask for more urgency later; they cannot when left out"`
	Next          string         `json:"next,omitempty" maxLength:"1000" doc:"What comes next, read when all work is done; with {{ CEL }} placeholders"`
	Remind        []int          `json:"remind,omitempty" maxItems:"10" nullable:"false" doc:"Per cent of the time to confirm, or to answer, after which the asker is reminded; 60 when left out"`
	BackWithin    *int           `json:"backWithin,omitempty" minimum:"0" maximum:"250" doc:"Working days after closing in which it can be sent back; 0 for never; 10 when left out"`
	Right         *Right         `json:"right,omitempty" doc:"What happens when it is sent back; a task for the home team when left out"`
	Rating        *Rating        `json:"rating,omitempty" doc:"How it can be rated; once it is closed when left out"`
	Marks         []Mark         `json:"marks,omitempty" maxItems:"20" nullable:"false" doc:"Shares of the promised time at which somebody is told. Who has it and who answers for it are told that it is missed when none stands at 100"`
	ConfirmAt     string         `json:"confirmAt,omitempty" maxLength:"5" pattern:"^$|^[0-2][0-9]:[0-5][0-9]$" doc:"Clock time at which the time to confirm ends on its last day"`
	AnswerAt      string         `json:"answerAt,omitempty" maxLength:"5" pattern:"^$|^[0-2][0-9]:[0-5][0-9]$" doc:"Clock time at which the time to answer ends on its last day"`
	ConfirmWithin *int           `json:"confirmWithin,omitempty" minimum:"0" maximum:"250" doc:"Working days the asker has to confirm; 0 closes on delivery; 5 when left out"`
}

// What starts the clock.
const (
	OnSending  = "sending"
	OnDecision = "decision"
)

// Working days of silence after which a request closes by itself, where a promise
// says nothing: of an asker who was asked to confirm, and of one who was asked a
// question.
const (
	UsualConfirm = 5
	UsualAnswer  = 20
)

// usualRemind is after how many per cent of the time an asker is reminded, where a promise
// says nothing.
const usualRemind = 60

// UsualBack is how many working days after closing a request can be sent back, where a
// promise says nothing.
const UsualBack = 10

// Compiled is a checked promise.
type Compiled struct {
	calendar *calendar.Calendar
	within   int
	answer   int
	back     int
	remind   []int
	rating   Rating
	marks    []Mark // the lowest first, with those at which it is missed
	byClock  struct{ confirm, answer string }
	starts   string
	cutOff   time.Duration // since midnight; zero for none
	pauses   []string
	targets  []compiledTarget
	hours    map[string]*calendar.Calendar // of targets with one of their own, by key
}

type compiledTarget struct {
	Target
	when, from, ready    *rule.Rule
	clock                time.Duration // of ReadyBy, since midnight
	response, fulfilment calendar.Length
}

// fits reports whether a target holds for what is sent on a day; a rule that hangs on a
// missing answer does not.
func (t compiledTarget) fits(day calendar.Date, values rule.Values) bool {
	if !t.Holds(day) || t.when == nil {
		return t.Holds(day)
	}
	holds, err := t.when.Holds(values, false)
	return holds && err == nil
}

// Compile checks the promise side, but for its targets, which CompileTargets
// checks once the questions are known. Without a company no calendar is known,
// and Monday to Friday stands in.
func Compile(p Promise, company *people.Directory, findings *finding.List) *Compiled {
	c := &Compiled{calendar: calendar.Plain(time.UTC), within: UsualConfirm, answer: UsualAnswer, back: UsualBack, starts: p.Starts, pauses: p.Pauses, hours: map[string]*calendar.Calendar{}}
	zone, err := time.LoadLocation(p.Zone)
	if err != nil || p.Zone == "" || p.Zone == "Local" {
		findings.Error(finding.Zone, "/promise/zone", fmt.Sprintf("%q is no time zone.", p.Zone), "Name one such as Europe/Lisbon.")
	} else {
		c.calendar = calendar.Plain(zone)
	}
	named := func(key, at string) *calendar.Calendar {
		if key == "" || company == nil {
			return c.calendar
		}
		if named, ok := company.Calendar(key); ok {
			return named
		}
		if !company.Partial() {
			findings.Error(finding.UnknownCalendar, at, fmt.Sprintf("There is no working calendar %q.", key), "Choose one of the company's.")
		}
		return c.calendar
	}
	c.calendar = named(p.Calendar, "/promise/calendar")
	for i, t := range p.Targets {
		c.hours[t.Calendar] = named(t.Calendar, finding.At("promise", "targets", i, "calendar"))
	}
	if p.Starts != "" && p.Starts != OnSending && p.Starts != OnDecision {
		findings.Error(finding.Starts, "/promise/starts", fmt.Sprintf("%q never starts the clock.", p.Starts), "Choose sending or decision.")
	}
	c.cutOff = clockTime(p.CutOff, "/promise/cutOff", findings)
	clockTime(p.ConfirmAt, "/promise/confirmAt", findings)
	clockTime(p.AnswerAt, "/promise/answerAt", findings)
	c.byClock.confirm, c.byClock.answer = p.ConfirmAt, p.AnswerAt
	c.compileMarks(p.Marks, company, findings)
	if p.ConfirmWithin != nil {
		c.within = *p.ConfirmWithin
		if c.within < 0 || c.within > 250 {
			findings.Error(finding.ConfirmWithin, "/promise/confirmWithin", "The time to confirm is from 0 to 250 working days.", "")
		}
	}
	if p.BackWithin != nil {
		c.back = *p.BackWithin
		if c.back < 0 || c.back > 250 {
			findings.Error(finding.BackWithin, "/promise/backWithin", "The time to send it back is from 0 to 250 working days.", "")
		}
	}
	if c.remind = slices.Sorted(slices.Values(p.Remind)); len(c.remind) == 0 {
		c.remind = []int{usualRemind}
	}
	for i, share := range p.Remind {
		if share < 1 || share > 99 {
			findings.Error(finding.Share, finding.At("promise", "remind", i), "A reminder stands between 1 and 99 per cent of the limit.", "")
		}
	}
	if p.Rating != nil {
		c.rating = *p.Rating
	}
	if c.rating.At == "" {
		c.rating.At = RateClosed
	}
	if !slices.Contains([]string{RateDelivered, RateClosed, RateNever}, c.rating.At) {
		findings.Error(finding.Rating, "/promise/rating/at", fmt.Sprintf("%q is no time to rate it.", c.rating.At), "Choose delivery, closing or never.")
	}
	for i, asks := range c.rating.Asks {
		if strings.TrimSpace(asks) == "" || slices.Contains(c.rating.Asks[:i], asks) {
			findings.Error(finding.Rating, finding.At("promise", "rating", "asks", i), "A question of the rating is empty, or asked twice.", "Write it, or take it out.")
		}
	}
	for i, t := range p.Targets {
		if t.Owner == "" || company == nil {
			continue
		}
		if owner, known := company.ByLogin(t.Owner); !known || owner.Former {
			findings.Error(finding.UnknownPerson, finding.At("promise", "targets", i, "owner"), fmt.Sprintf("There is nobody with the login %q.", t.Owner), "Choose a person of the company.")
		}
	}
	if r := p.Right; r != nil && r.Team != "" && company != nil {
		if _, known := company.Team(r.Team); !known {
			findings.Error(finding.UnknownTeam, "/promise/right/team", fmt.Sprintf("There is no team %q.", r.Team), "Choose one of the company's.")
		}
	}
	if p.AnswerWithin != nil {
		c.answer = *p.AnswerWithin
		if c.answer < 1 || c.answer > 250 {
			findings.Error(finding.AnswerWithin, "/promise/answerWithin", "The time to answer is from 1 to 250 working days.", "")
		}
	}
	return c
}

// clockTime reads a clock time as time since midnight; zero for none.
func clockTime(text, place string, findings *finding.List) time.Duration {
	if text == "" {
		return 0
	}
	at, err := time.Parse("15:04", text)
	if err != nil {
		findings.Error(finding.ClockTime, place, fmt.Sprintf("%q is no clock time.", text), "Write it like 15:00.")
	}
	return time.Duration(at.Hour())*time.Hour + time.Duration(at.Minute())*time.Minute
}

// CompileTargets checks the promised times. Task reports whether there is a task
// of a key.
func (c *Compiled) CompileTargets(targets []Target, env *rule.Env, task func(key string) bool, findings *finding.List) {
	tasks := func(keys []string, at string) {
		for i, key := range keys {
			if !task(key) {
				findings.Error(finding.UnknownTask, at+finding.At(i), fmt.Sprintf("There is no task %q.", key), "Choose a task of the plan.")
			}
		}
	}
	tasks(c.pauses, "/promise/pauses")
	length := func(text, at string) calendar.Length {
		l, err := calendar.ParseLength(text)
		if err != nil || l.Open < 0 || l.Days < 0 || l.IsZero() {
			findings.Error(finding.Length, at, fmt.Sprintf("%q is no working time to promise.", text), "Write it like 8h, 90m or 10d.")
		}
		return l
	}
	for i, t := range targets {
		at := finding.At("promise", "targets", i)
		one := compiledTarget{Target: t, when: env.Condition(t.When, at+"/when", findings)}
		tasks(t.Until, at+"/until")
		one.from = env.Moment(t.From, at+"/from", findings)
		if strings.TrimSpace(t.Name) == "" {
			findings.Error(finding.NoName, at+"/name", "A promised time has no name.", "Name it as people will read it, such as Usual.")
		}
		if t.Response != "" {
			one.response = length(t.Response, at+"/response")
		}
		switch {
		case t.ReadyBy == nil:
			one.fulfilment = length(t.Fulfilment, at+"/fulfilment")
		case t.Fulfilment != "" || t.From != "":
			findings.Error(finding.TwoTimes, at+"/readyBy", fmt.Sprintf("%q is to be ready by a date, and within a time as well.", t.Name), "Leave one of them empty.")
		default:
			one.ready, one.clock = env.Value(t.ReadyBy.Of, rule.DateT, at+"/readyBy/of", findings), clockTime(t.ReadyBy.At, at+"/readyBy/at", findings)
			if strings.TrimSpace(t.ReadyBy.Of) == "" {
				findings.Error(finding.NoDate, at+"/readyBy/of", fmt.Sprintf("%q does not say by which date it is to be ready.", t.Name), "Choose a date of the form.")
			}
			if one.ready == nil {
				continue // it is found already
			}
		}
		for place, day := range map[string]string{"validFrom": t.ValidFrom, "validUntil": t.ValidUntil, "review": t.Review} {
			if _, err := calendar.ParseDate(day); day != "" && err != nil {
				findings.Error(finding.Date, at+"/"+place, fmt.Sprintf("%q is not a date: write it like 2027-03-12.", day), "")
			}
		}
		if t.ValidFrom != "" && t.ValidUntil != "" && t.ValidFrom > t.ValidUntil {
			findings.Error(finding.NeverValid, at+"/validUntil", fmt.Sprintf("%q ends before it begins, so it never holds.", t.Name), "Choose a later day.")
		}
		if t.When == "" && t.ReadyBy == nil && t.always() && i < len(targets)-1 {
			findings.Warning(finding.NeverReached, at, fmt.Sprintf("%q fits everybody, so no promise below it ever holds.", t.Name), "Move it to the end, or say when it holds.")
		}
		c.targets = append(c.targets, one)
	}
	alike(targets, findings)
	if n := len(targets); n > 0 && !slices.ContainsFunc(targets, func(t Target) bool { return !t.Off }) {
		findings.Warning(finding.PromisesNothing, finding.At("promise", "targets"), "Every promise is switched off: nothing is promised.", "Switch one on.")
	}
	if n := len(targets); n > 0 && targets[n-1].When != "" {
		findings.Warning(finding.NoDefault, finding.At("promise", "targets"), "Whom none of these promises fits is promised nothing.", "Leave the last one without a rule.")
	}
}

// Rules lists the rules of the targets with their places.
func (c *Compiled) Rules() []rule.Placed {
	var all []rule.Placed
	for i, t := range c.targets {
		if t.when != nil {
			all = append(all, rule.Placed{Place: finding.At("promise", "targets", i, "when"), Rule: t.when})
		}
	}
	return all
}

// Calendar is the one the promise is computed in.
func (c *Compiled) Calendar() *calendar.Calendar { return c.calendar }

// Zone is where the promise is computed.
func (c *Compiled) Zone() *time.Location { return c.calendar.Zone() }

// Today is the date at an instant, where the promise is computed.
func (c *Compiled) Today(now time.Time) calendar.Date { return calendar.DateOf(now.In(c.Zone())) }

// ConfirmBy is the instant at which a delivered request closes by itself. It
// is the delivery itself when no confirmation is asked for.
func (c *Compiled) ConfirmBy(delivered time.Time) time.Time {
	if c.within == 0 {
		return delivered
	}
	return c.lapses(delivered, c.within, c.byClock.confirm)
}

// Confirms reports whether the asker is asked to confirm; else a request closes on
// delivery.
func (c *Compiled) Confirms() bool { return c.within > 0 }

// Reminders are when an asker is reminded who has from an instant until another one.
func (c *Compiled) Reminders(from, until time.Time) []time.Time {
	whole := c.calendar.Between(from, until)
	var all []time.Time
	for _, share := range c.remind {
		if at, err := c.calendar.Add(from, whole*time.Duration(share)/100); err == nil && at.Before(until) && at.After(from) {
			all = append(all, at.Truncate(time.Millisecond))
		}
	}
	return all
}

// RatingAsks are the questions of its own that a rating can answer.
func (c *Compiled) RatingAsks() []string { return c.rating.Asks }

// RatesAt is from when a request can be rated.
func (c *Compiled) RatesAt() string { return c.rating.At }

// Pools reports whether staff see ratings only among others.
func (c *Compiled) Pools() bool { return c.rating.Pooled }

// BackBy is the instant until which a request can be sent back that is closed; zero when
// it never can.
func (c *Compiled) BackBy(closed time.Time) time.Time {
	if c.back == 0 {
		return time.Time{}
	}
	return c.days(closed, c.back)
}

// AnswerBy is the instant at which a request expires whose asker does not
// answer a question.
func (c *Compiled) AnswerBy(sent time.Time) time.Time {
	return c.lapses(sent, c.answer, c.byClock.answer)
}

// lapses is so many working days after an instant; with a clock time, at that time of the
// day, and a working day later where that would be before the instant.
func (c *Compiled) lapses(from time.Time, days int, clock string) time.Time {
	at := c.days(from, days)
	wall, err := time.Parse("15:04", clock)
	if err != nil {
		return at
	}
	on := func(day calendar.Date) time.Time {
		midnight := day.In(c.Zone())
		return time.Date(midnight.Year(), midnight.Month(), midnight.Day(), wall.Hour(), wall.Minute(), 0, 0, c.Zone()).UTC()
	}
	day := calendar.DateOf(at.In(c.Zone()))
	if at = on(day); at.After(from) {
		return at
	}
	next, err := c.calendar.AddWorkdays(day, 1)
	if err != nil {
		next = day.AddDays(1)
	}
	return on(next)
}

func (c *Compiled) days(from time.Time, n int) time.Time {
	return c.calendar.After(from, calendar.Length{Days: n}).Truncate(time.Millisecond)
}
