package request

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rule"
)

// Handle decides what a command leads to: events and effects, or a *Refusal.
// The given state is not changed.
func Handle(s State, c Command, f Facts) ([]Event, []Effect, error) {
	f.Now = f.Now.UTC().Truncate(time.Millisecond)
	f.Pools = maps.Clone(f.Pools)
	t := &transition{state: s.clone(), facts: f}
	before := t.tasks().nextTick()
	if err := c.do(t); err != nil {
		return nil, nil, err
	}
	t.tasks().look()
	t.meter().setDue()
	if next := t.tasks().nextTick(); !next.IsZero() && (!next.Equal(before) || retimes(c, next, f.Now)) {
		t.effects = append(t.effects, Effect{Kind: TickTimer, Key: s.ID + "/tick", At: next})
	}
	return t.events, t.effects, nil
}

// retimes reports whether a command sets the timer anew even where nothing has happened: a
// calendar may have moved what it is for. A tick that has not done what is due would not do
// it the next time.
func retimes(c Command, next, now time.Time) bool {
	switch c.(type) {
	case Tick:
		return next.After(now)
	case Settle:
		return true
	}
	return false
}

// transition is one command on its way.
type transition struct {
	state   State
	facts   Facts
	events  []Event
	effects []Effect
	base    *rule.Values // of the answers as they are
}

// tasks is a turn as far as it works on tasks.
type tasks struct{ *transition }

func (t *transition) tasks() tasks { return tasks{t} }

// emit adds an event and takes it into the state, so that what follows sees it.
// History never runs backwards: when the clock was set back, an event takes the
// instant of the last one, and only timers go by the clock (rules.md 8).
func (t *transition) emit(body Body) {
	at := t.facts.Now
	if at.Before(t.state.At) {
		at = t.state.At
	}
	if b, is := body.(stands); is {
		body = t.meter().timed(b, at)
	}
	e := Event{Seq: t.state.Seq + 1, At: at, Actor: t.facts.Actor, Body: body}
	t.state.Apply(e)
	t.events = append(t.events, e)
	if _, is := body.(ClockEnded); !is && t.state.Promise != nil && t.facts.Offering != nil {
		t.endClocks()
	}
}

// settle keeps what clocks showed that ended before that was kept.
func (t *transition) settle() error {
	if t.state.Promise != nil {
		t.endClocks()
	}
	t.meter().setDue()
	if len(t.events) == 0 && t.tasks().nextTick().IsZero() {
		return conflict(refusal.Settled, "Nothing is to be said of its clocks.")
	}
	return nil
}

// endClocks keeps what the clocks of the promise show that have just ended.
func (t *transition) endClocks() {
	t.state.eachClock(t.facts.Offering, func(kind ClockKind, clock promise.Clock) {
		if _, kept := t.state.Ends[kind]; kept {
			return
		}
		if end, ended := clock.End(); ended {
			t.emit(t.state.endOf(t.facts.Offering, kind, clock, end))
		}
	})
}

func conflict(code, format string, args ...any) *Refusal {
	return &Refusal{Kind: Conflict, Code: code, Sentence: fmt.Sprintf(format, args...)}
}

func notYours(format string, args ...any) *Refusal {
	return &Refusal{Kind: NotYours, Code: refusal.NotYours, Sentence: fmt.Sprintf(format, args...)}
}

func (t *transition) begin(c Begin) error {
	if t.state.ID != "" {
		return conflict(refusal.Begun, "This draft is there already.")
	}
	asker, _ := t.facts.Company.Person(t.facts.Actor)
	if ok, why := t.facts.Offering.Audience.MayAsk(audience.Of(asker, t.facts.Company)); !ok || t.facts.Offering.Audience.Inner {
		return notYours("You cannot ask for this: %s", why)
	}
	purpose := t.facts.Offering.Document.Purpose
	t.emit(DraftBegun{c.ID, t.facts.Offering.Document.Key, purpose.Name, purpose.Service})
	return nil
}

func (t *transition) discard() error {
	switch {
	case t.state.Asker != t.facts.Actor:
		return notYours("Only %s can discard this draft.", t.facts.Company.Name(t.state.Asker))
	case t.state.Status != Draft:
		return conflict(refusal.NotDraft, "This is no draft any more.")
	}
	t.emit(RequestClosed{Outcome: Withdrawn})
	return nil
}

func (t *transition) submit(c Submit) error {
	s, o := &t.state, t.facts.Offering
	switch {
	case s.Asker != t.facts.Actor:
		return notYours("Only %s can send this draft.", t.facts.Company.Name(s.Asker))
	case s.Status != Draft:
		return conflict(refusal.AlreadySent, "This has been sent already, as %s.", s.Reference)
	}
	parties := t.parties(c.For)
	if ok, why := o.Audience.MayAsk(audience.Of(parties.Asker, t.facts.Company)); !ok {
		return notYours("You cannot ask for this: %s", why)
	}
	if ok, why := o.MayAsk(parties); !ok {
		return &Refusal{Kind: Invalid, Code: refusal.NotFor, Sentence: "You cannot ask for this: " + why, Place: "/for"}
	}
	if n := parties.Beneficiary.Newcomer; n != nil {
		for _, field := range []struct{ text, place string }{{n.Name, "name"}, {n.Email, "email"}, {n.Title, "title"}, {n.Department, "department"}, {n.Location, "location"}, {n.CostCentre, "costCentre"}} {
			if !form.OneLine(field.text) {
				return &Refusal{Kind: Invalid, Code: refusal.OneLine, Sentence: "What is said of a newcomer stands on one line each, without line breaks and control characters.", Place: "/for/newcomer/" + field.place}
			}
		}
	}
	if on := c.Together; on != nil && !form.OneLine(on.Title) {
		return &Refusal{Kind: Invalid, Code: refusal.OneLine, Sentence: "What holds them together stands on one line.", Place: "/title"}
	}
	result, refused := t.evaluate(c.Answers, c.Slip, parties)
	if refused != nil {
		return refused
	}
	rungs, err := t.rungs(result, parties)
	if err != nil {
		return &Refusal{Kind: Invalid, Code: refusal.NobodyDecides, Sentence: "This cannot be sent yet: " + err.Error() + "."}
	}
	kept, private := t.privately(result.Kept())
	promised := o.Promise.Promised(result.Values, t.facts.Now)
	show := o.Show(result.Kept(), parties.Facts())
	f := ForecastDraft(o, parties, result.Kept(), result.Values, o.Ladder.Needed(result.Values), promised, t.facts.measures(), t.facts.Now)
	t.emit(Submitted{
		AskerWas: standing(parties.Asker), BeneficiaryWas: t.beneficiaryWas(parties), Foreseen: foreseen(f), Likely: f.Finish, Sure: f.Sure,
		Channel: c.Channel.or(), Door: o.Document.Purpose.Door, Impact: t.classed(impactQuestion, kept, show), Urgency: t.classed(urgencyQuestion, kept, show),
		Together: c.Together, Private: private, Reference: Reference(c.Prefix, c.Number), Version: o.Version, Title: o.Title(result.Values, show),
		Service: o.Document.Purpose.Service, For: parties.Beneficiary, Shared: o.Document.Audience.Shared, Answers: kept, Price: result.Price, Rungs: rungs, Promise: promised, Named: named(kept, t.facts.Belongings), Present: result.Presents(),
	})
	t.climb()
	return nil
}

// foreseen are the teams that will have a task, as far as one can tell.
func foreseen(f Forecast) []string {
	var teams []string
	for _, step := range f.Steps {
		if step.Rung == "" && step.Needed && step.Team != "" && !slices.Contains(teams, step.Team) {
			teams = append(teams, step.Team)
		}
	}
	slices.Sort(teams)
	return teams
}

// standing is where a person stands in the company now.
func standing(p people.Person) Standing {
	return Standing{p.Department, p.Location, p.CostCentre, p.Employment}
}

func (t *transition) beneficiaryWas(parties offering.Parties) Standing {
	if n := parties.Beneficiary.Newcomer; n != nil {
		return standing(n.Person())
	}
	p, _ := t.facts.Company.Person(parties.Beneficiary.Person)
	return standing(p)
}

// evaluate works out answers that are sent, and refuses those that are not
// complete, or whose slip is another than the asker saw.
func (t *transition) evaluate(answers form.Answers, slip string, parties offering.Parties) (form.Result, *Refusal) {
	o, facts := t.facts.Offering, parties.Facts()
	facts.Files = t.facts.Files
	result := o.Form.Evaluate(answers, o.Values(parties, t.facts.Now), facts)
	if slip != "" && slip != Slip(o, result) {
		return result, conflict(refusal.SlipChanged, "What this asks for has changed while you were writing. Look through it and send again.")
	}
	if !result.Complete {
		refused := &Refusal{Kind: Invalid, Code: refusal.Incomplete, Sentence: "Some answers are missing or not right."}
		for _, q := range result.Questions {
			for _, p := range q.Problems {
				refused.Details = append(refused.Details, Refusal{Kind: Invalid, Code: p.Code, Sentence: p.Sentence, Place: place(q.Key, p)})
			}
		}
		return result, refused
	}
	return result, nil
}

// place of a problem in the command.
func place(question string, p form.Problem) string {
	if p.Row == 0 {
		return "/answers/" + question
	}
	return fmt.Sprintf("/answers/%s/%d/%s", question, p.Row-1, p.Column)
}

// parties are who asks and for whom; nobody named is the asker.
func (t *transition) parties(b offering.Beneficiary) offering.Parties {
	asker, _ := t.facts.Company.Person(t.state.Asker)
	return offering.Parties{Asker: asker, Beneficiary: b.Or(asker.ID), Belongings: t.belongings(), Pools: t.facts.Pools, Company: t.facts.Company, Known: t.facts.Known}
}

// belongings are what the beneficiary has, with what the answers named as it
// was on sending.
func (t *transition) belongings() []people.Belonging {
	all := slices.Clone(t.state.Named)
	for _, b := range t.facts.Belongings {
		if !slices.ContainsFunc(all, func(o people.Belonging) bool { return o.ID == b.ID }) {
			all = append(all, b)
		}
	}
	return all
}

// named are the belongings that answers name.
func named(answers form.Answers, all []people.Belonging) []people.Belonging {
	var out []people.Belonging
	for _, b := range all {
		for _, answer := range answers {
			if id, _ := answer.Text(); id == b.ID {
				out = append(out, b)
				break
			}
		}
	}
	return out
}

// Slip is a fingerprint of what an asker sees before sending: the questions
// shown, the price and the decisions needed.
func Slip(o *offering.Compiled, result form.Result) string {
	hash := sha256.New()
	for _, q := range result.Questions {
		if question, ok := o.Form.Question(q.Key); ok && q.Shown {
			_, _ = fmt.Fprintf(hash, "%s %q %v\n", q.Key, question.Label, q.Required) // a hash never fails
		}
	}
	for _, l := range result.Price.Lines {
		_, _ = fmt.Fprintf(hash, "%q %d %s %s\n", l.Name, l.Quantity, l.Per, l.Sum)
	}
	for _, r := range o.Ladder.Needed(result.Values) {
		_, _ = fmt.Fprintf(hash, "%s %q\n", r.Key, r.Name)
	}
	return hex.EncodeToString(hash.Sum(nil)[:12])
}

func (t *transition) confirm(c Confirm) error {
	switch {
	case !t.side():
		return notYours("Only %s can confirm this.", t.sideNames())
	case t.state.Status == Closed:
		return conflict(refusal.Closed, "This request is closed already.")
	case t.state.Status != Delivered:
		return conflict(refusal.NotDelivered, "There is still work to be done before you can confirm.")
	}
	t.emit(Confirmed{Remark: strings.TrimSpace(c.Remark)})
	t.close(RequestClosed{Outcome: Fulfilled})
	return nil
}

// side reports whether the actor is of the asker's side: they may confirm and answer
// (rules.md 9).
func (t *transition) side() bool { return t.state.isSide(t.facts.Actor) }

// sideNames name those.
func (t *transition) sideNames() string {
	names := t.facts.Company.Name(t.state.Asker)
	if b := t.state.Beneficiary(); t.state.Shared && b != "" && b != t.state.Asker {
		names += " or " + t.facts.Company.Name(b)
	}
	return names
}

func (t *transition) lapse() error {
	if t.state.Status != Delivered {
		return conflict(refusal.NotDelivered, "This request does not wait for a confirmation.")
	}
	if t.facts.Now.Before(t.state.ConfirmBy) { // the timer is of a delivery that was sent back
		return conflict(refusal.NotDue, "There is still time to confirm.")
	}
	t.close(RequestClosed{Outcome: Fulfilled, Silent: true})
	return nil
}

// AsRefusal gives the refusal in an error, if it is one.
func AsRefusal(err error) (*Refusal, bool) {
	var r *Refusal
	return r, errors.As(err, &r)
}
