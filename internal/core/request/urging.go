package request

import (
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
)

// Urge asks for more urgency, where the offering lets its askers: another answer to the
// question that speed hangs on, with its price and decision, from now on.
type Urge struct {
	Choice string // key
	Reason string
}

func (c Urge) do(t *transition) error { return marks{t}.urge(c) }

// Urging is more urgency that was asked for and is not decided yet. The work goes on as far
// as it has begun.
type Urging struct {
	By     string    `json:"by"` // ID of a person
	At     time.Time `json:"at"`
	Choice string    `json:"choice"` // label
	Reason string    `json:"reason,omitempty"`

	Promise *promise.Promised `json:"promise"` // once it is granted
	Was     wasBefore         `json:"was"`
}

// wasBefore is what holds on when more urgency is not granted.
type wasBefore struct {
	Answers form.Answers `json:"answers"`
	Price   price.Price  `json:"price"`
	Rungs   []Rung       `json:"rungs"`
}

// mayUrge reports whether more urgency can be asked for now, as far as the request goes.
func (s *State) mayUrge() bool {
	return (s.Status == Deciding || s.Status == Delivering) && s.Urging == nil
}

func (t marks) urge(c Urge) error {
	s, o := &t.state, t.facts.Offering
	u := o.Document.Promise.Urge
	switch {
	case !t.side():
		return notYours("Only %s can ask for more urgency.", t.sideNames())
	case u == nil:
		return conflict(refusal.NotNow, "No more urgency can be asked for here.")
	case s.Urging != nil:
		return conflict(refusal.Urged, "More urgency was asked for already, and waits to be decided.")
	case s.Status == Returned || s.Status == Waiting:
		return conflict(refusal.Returned, "A question waits for you: answer it first, the clock stands still.")
	case !s.mayUrge():
		return conflict(refusal.NotNow, "No more urgency can be asked for now.")
	}
	question, _ := o.Form.Question(u.Question)
	i := slices.IndexFunc(question.Choices, func(choice form.Option) bool { return choice.Key == c.Choice })
	if now, _ := s.Answers[u.Question].Text(); i < 0 || !slices.Contains(u.Choices, c.Choice) || now == c.Choice {
		return &Refusal{Kind: Invalid, Code: refusal.Speed, Sentence: "Choose another speed.", Place: "/choice"}
	}
	answers := maps.Clone(s.Answers)
	maps.Copy(answers, t.facts.Private)
	before := maps.Clone(answers)
	answers[u.Question] = form.OfText(c.Choice)
	parties := t.parties(s.For)
	facts := parties.Facts()
	facts.Files = t.facts.Files
	result := o.Form.Evaluate(answers, o.Values(parties, t.facts.Now), facts)
	a := t.compared(before, answers, result.Price, o.LadderFacts(parties, answers, result.Price, t.facts.Service, t.facts.Now))
	rungs, err := t.rungs(result, parties)
	if err != nil {
		return &Refusal{Kind: Invalid, Code: refusal.NobodyDecides, Sentence: "This cannot be asked for: " + err.Error() + "."}
	}
	for i := range rungs {
		for _, old := range s.Rungs {
			if old.Key == rungs[i].Key {
				t.keep(&rungs[i], old, a)
			}
		}
	}
	next := t.promisedAgain(result.Values)
	if s.Status == Delivering {
		if next = o.Promise.Promised(result.Values, t.facts.Now); next != nil {
			next.From = time.Time{}
			next.From = o.Promise.Decided(next, t.facts.Now)
		}
	}
	if !t.sooner(next) {
		return conflict(refusal.NotSooner, "It is due by then already: this would not bring it sooner.")
	}
	kept := maps.Clone(s.Answers)
	kept[u.Question] = form.OfText(c.Choice)
	t.base = nil
	t.emit(Urged{Choice: question.Choices[i].Label, Reason: strings.TrimSpace(c.Reason), Answers: kept, Price: result.Price, Rungs: rungs, Promise: next})
	t.base = nil
	t.climb()
	return nil
}

// sooner reports whether a promise would be due before the one that there is.
func (t marks) sooner(next *promise.Promised) bool {
	if next == nil || t.state.Promise == nil {
		return next != nil
	}
	o, now := t.facts.Offering.Promise, t.facts.Now
	was, _ := t.state.Fulfilment(t.facts.Offering)
	old, will := was.Read(now), o.Fulfilment(*next, nil, promise.Stop{}).Read(later(now, next.From))
	return old.Due.IsZero() || will.Due.Before(old.Due)
}

// urged goes on once more urgency is decided: granted, its clock counts from then on; else
// all is as it was.
func (t *transition) urged(granted bool) {
	var from time.Time
	if granted && t.state.Urging.Promise != nil {
		p := *t.state.Urging.Promise
		p.From = time.Time{}
		from = t.facts.Offering.Promise.Decided(&p, t.facts.Now)
	}
	t.emit(UrgeDecided{Granted: granted, From: from})
	t.base = nil
	t.tasks().release()
}

func (b Urged) apply(s *State, e Event) {
	if s.Status == Delivering {
		s.Urging = &Urging{By: e.Actor, At: e.At, Choice: b.Choice, Reason: b.Reason, Promise: b.Promise, Was: wasBefore{s.Answers, s.Price, s.Rungs}}
		s.Status = Deciding
	} else {
		s.Promise = b.Promise
	}
	s.Answers, s.Price, s.Rungs, s.Likely = b.Answers, b.Price, slices.Clone(b.Rungs), time.Time{}
}

func (b UrgeDecided) apply(s *State, _ Event) {
	u := s.Urging
	s.Status, s.Urging = Delivering, nil
	if !b.Granted {
		s.Answers, s.Price, s.Rungs = u.Was.Answers, u.Was.Price, u.Was.Rungs
		return
	}
	if u.Promise != nil {
		p := *u.Promise
		p.From = b.From
		s.Promise = &p
	}
	s.Marks = slices.DeleteFunc(slices.Clone(s.Marks), func(r Reached) bool { return r.Clock == FulfilmentClock }) // another promise has its own
}

func (b Urged) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "stage", "Asked for more urgency: "+b.Choice, b.Reason
	return true
}

func (b UrgeDecided) tell(w *telling) bool {
	w.Kind, w.Actor, w.Sentence = "stage", "", "More urgency is granted, from now on"
	if !b.Granted {
		w.Sentence = "More urgency is not granted: all is as it was"
	}
	return true
}
