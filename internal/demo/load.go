package demo

import (
	"container/heap"
	"context"
	"errors"
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
	"heptad/internal/work"
)

// Clock is a clock that stands where the loading has set it.
type Clock struct{ at time.Time }

// Now is the time it was set to.
func (c *Clock) Now() time.Time { return c.at }

// story is one request of the demo, as its file has it. Times are counted back
// from now, over working days; a date such as "+7" is so many days after the request was begun.
type story struct {
	Asker    string
	Offering string
	For      string // login of the beneficiary; the asker when left out
	Newcomer *people.Newcomer
	Begun    string
	Answers  form.Answers
	Steps    []step
}

// whom gives the beneficiary of a story.
func (s story) whom() offering.Beneficiary {
	switch {
	case s.Newcomer != nil:
		return offering.Beneficiary{Newcomer: s.Newcomer}
	case s.For != "":
		return offering.Beneficiary{Person: ID(s.For)}
	}
	return offering.Beneficiary{Person: ID(s.Asker)}
}

type step struct {
	At, Who, Do, Task, Rung, Reason, Remark, To string
}

// moment is one thing that happens at a time; of those at the same time the one
// that was said first.
type moment struct {
	at   time.Time
	said int
	do   func() error
}

// moments are what is still to happen, the next on top (container/heap).
type moments []moment

func (m moments) Len() int      { return len(m) }
func (m moments) Swap(i, j int) { m[i], m[j] = m[j], m[i] }
func (m *moments) Push(x any)   { *m = append(*m, x.(moment)) }
func (m *moments) Pop() any {
	last := len(*m) - 1
	x := (*m)[last]
	*m = (*m)[:last]
	return x
}

func (m moments) Less(i, j int) bool {
	if c := m[i].at.Compare(m[j].at); c != 0 {
		return c < 0
	}
	return m[i].said < m[j].said
}

// Load fills an empty store: the company, its offerings and its requests, with
// the office's clock set to when each thing happened, up to now. With a season
// people also ask for about a hundred things more, by their habits.
func Load(ctx context.Context, office *work.Office, clock *Clock, now time.Time, season bool) error {
	company, err := Company()
	if err != nil {
		return err
	}
	calendars, err := Calendars()
	if err != nil {
		return err
	}
	if err := office.Store.Write(ctx, func(tx *store.Tx) error {
		for key, d := range calendars {
			if err := tx.SaveCalendar(key, store.KeptCalendar{Document: d, ChangedAt: now}); err != nil {
				return err
			}
		}
		return tx.AddCompany(company)
	}); err != nil {
		return err
	}
	clock.at = now
	if err := office.Keeping.Settle(ctx, Organisation); err != nil {
		return err
	}
	if err := office.Store.Write(ctx, addBelongings); err != nil {
		return err
	}
	if err := addGrants(ctx, office, now); err != nil {
		return err
	}
	if err := addAbsences(ctx, office, clock, now); err != nil {
		return err
	}
	if err := addReplies(ctx, office); err != nil {
		return err
	}
	l := &loader{ctx: ctx, office: office, clock: clock, now: now}
	clock.at = now.AddDate(-historyYears, -1, 0)
	if err := l.publish(); err != nil {
		return err
	}
	if err := l.stories("company/requests.json"); err != nil {
		return err
	}
	if season {
		if err := l.season(); err != nil {
			return err
		}
	}
	for len(l.moments) > 0 {
		m := heap.Pop(&l.moments).(moment)
		if err := l.runUntil(m.at); err != nil {
			return err
		}
		clock.at = m.at
		if err := m.do(); err != nil {
			return err
		}
	}
	if err := l.runUntil(now); err != nil {
		return err
	}
	clock.at = now
	if _, err := office.Running.RunDue(ctx); err != nil { // works out when all is likely done
		return err
	}
	// What was told before the last two days has been read.
	return office.Store.Write(ctx, func(tx *store.Tx) error { return tx.MarkOldRead(now.AddDate(0, 0, -2), now) })
}

type loader struct {
	ctx    context.Context
	office *work.Office
	clock  *Clock
	now    time.Time

	moments moments
	said    int // how many moments were set so far
}

// at lets something happen at a time.
func (l *loader) at(at time.Time, do func() error) {
	l.said++
	heap.Push(&l.moments, moment{at, l.said, do})
}

// since is from when on an offering has the version that it has now, where it had another.
func since(key string, now time.Time) time.Time {
	switch key {
	case "quay-access-badge":
		return now.AddDate(0, -11, 0)
	case "new-second-sign-in-factor": // in spring
		spring := time.Date(now.Year(), time.April, 15, 9, 0, 0, 0, time.UTC)
		if now.Sub(spring) < 90*24*time.Hour {
			spring = spring.AddDate(-1, 0, 0)
		}
		return spring
	}
	return time.Time{}
}

// publish publishes all offerings as the company did: two years ago, and two of them in
// another version later.
func (l *loader) publish() error {
	before, err := pastOfferings()
	if err != nil {
		return err
	}
	documents, err := Offerings()
	if err != nil {
		return err
	}
	begun := l.clock.at
	had := map[string]bool{}
	for _, d := range before {
		had[d.Key] = true
		if err := l.publishOne(d, false); err != nil {
			return err
		}
	}
	for _, d := range documents {
		if !had[d.Key] {
			if err := l.publishOne(d, false); err != nil {
				return err
			}
		}
	}
	for _, d := range documents {
		if had[d.Key] {
			if l.clock.at = since(d.Key, l.now); l.clock.at.Before(begun) {
				l.clock.at = begun
			}
			if err := l.publishOne(d, true); err != nil {
				return err
			}
		}
	}
	return nil
}

// publishOne publishes an offering, or another version of one that is there.
func (l *loader) publishOne(d offering.Document, there bool) error {
	service, _ := l.office.Company().Service(d.Purpose.Service)
	var opened work.Opened
	var err error
	if there {
		opened, err = l.office.Designing.OpenDraft(l.ctx, service.Owner, d.Key)
	} else {
		opened, err = l.office.Designing.Create(l.ctx, service.Owner, work.Beginning{Service: service.Key, Name: d.Purpose.Name})
	}
	if err == nil {
		opened, err = l.office.Designing.SaveOffering(l.ctx, service.Owner, d.Key, d, opened.Revision)
	}
	if err == nil {
		_, err = l.office.Designing.Publish(l.ctx, service.Owner, d.Key, work.Publishing{Revision: opened.Revision, Accepted: warnings(opened.Findings)})
	}
	if err != nil {
		return fmt.Errorf("%s: %w", d.Key, err)
	}
	return nil
}

// warnings names those of an offering, as its owner accepts them.
func warnings(findings finding.List) []string {
	var names []string
	for _, f := range findings {
		if f.Severity == finding.Warning {
			names = append(names, f.Name())
		}
	}
	return names
}

// runUntil lets everything that runs by itself happen at its own time.
func (l *loader) runUntil(at time.Time) error {
	for {
		due, err := l.office.Store.NextDue(l.ctx)
		if errors.Is(err, store.ErrNotFound) || (err == nil && due.After(at)) {
			return nil
		}
		if err != nil {
			return err
		}
		if due.After(l.clock.at) {
			l.clock.at = due
		}
		if _, err := l.office.Running.RunDue(l.ctx); err != nil {
			return err
		}
	}
}

// stories puts what happens in all stories of a file among the moments.
func (l *loader) stories(name string) error {
	var stories []story
	if err := read(name, &stories); err != nil {
		return err
	}
	for i, s := range stories {
		if err := l.tell(s); err != nil {
			return fmt.Errorf("request %d: %w", i, err)
		}
	}
	return nil
}

func (l *loader) tell(s story) error {
	begun, err := l.before(s.Begun)
	if err != nil {
		return err
	}
	s.Answers = dated(s.Answers, begun)
	id := ""
	l.at(begun, func() error {
		f, err := l.office.Asking.SaveDraft(l.ctx, ID(s.Asker), s.Offering, s.Answers, s.whom())
		id = f.Draft
		return err
	})
	for _, step := range s.Steps {
		at, err := l.before(step.At)
		if err != nil {
			return err
		}
		l.at(at, func() error { return l.do(id, s, step) })
	}
	return nil
}

// before counts back from now, over working days only.
func (l *loader) before(text string) (time.Time, error) {
	ago, err := time.ParseDuration(text)
	at, work := l.now, calendar.Plain(time.UTC)
	for ; ago > 0; ago -= time.Hour {
		at = at.Add(-min(ago, time.Hour))
		for !work.IsWorkday(calendar.DateOf(at)) {
			at = at.Add(-24 * time.Hour)
		}
	}
	return at, err
}

func (l *loader) do(id string, s story, step step) error {
	if step.Do == "submit" {
		_, err := l.office.Asking.Submit(l.ctx, ID(s.Asker), id, request.Submit{Answers: s.Answers, For: s.whom()})
		return err
	}
	rung := step.Rung
	if rung == "" {
		rung = "manager"
	}
	command, ok := map[string]request.Command{
		"approve":  request.Decide{Rung: rung, Decision: request.Approve, Reason: step.Reason},
		"askBack":  request.AskBack{Rung: rung, Text: step.Remark},
		"answer":   request.Resubmit{Reply: step.Remark},
		"passOn":   request.PassOn{Rung: rung, To: ID(step.To), Reason: step.Reason},
		"comment":  request.Comment{Text: step.Remark},
		"follow":   request.Follow{Person: ID(step.To)},
		"decline":  request.Decide{Rung: rung, Decision: request.Decline, Reason: step.Reason},
		"take":     request.Take{Task: step.Task},
		"complete": request.Complete{Task: step.Task},
		"stuck":    request.GetStuck{Task: step.Task, Reason: step.Reason},
		"ask":      request.AskAsker{Task: step.Task, Text: step.Remark},
		"confirm":  request.Confirm{Remark: step.Remark},
	}[step.Do]
	if !ok {
		return fmt.Errorf("%q is no step", step.Do)
	}
	_, err := l.office.Do(l.ctx, ID(step.Who), id, command)
	return err
}
