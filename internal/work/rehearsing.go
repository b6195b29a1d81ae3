package work

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/store"
)

// Rehearsing lives through drafts before anybody is touched by them, and runs the cases
// that guard them. Nothing of it reaches what is live.
type Rehearsing struct {
	*kernel
	drafts     drafts
	studies    studies
	background sync.WaitGroup
}

// drafts are the drafts that were rehearsed last, ready to be used: one of each offering.
type drafts struct {
	mu   sync.Mutex
	made map[string]draft
}

type draft struct {
	number, revision int
	company          *people.Directory
	compiled         *offering.Compiled
	findings         finding.List
}

// compile makes a version ready in a company; that of the company as it is is kept until
// the draft or the company is another.
func (w *Rehearsing) compile(v store.Version, in *people.Directory) (*offering.Compiled, finding.List) {
	checked := w.checked(v.Editors...)
	checked.Directory = in
	if in != w.Company() {
		return offering.Compile(v.Document, v.Number, checked)
	}
	w.drafts.mu.Lock()
	defer w.drafts.mu.Unlock()
	key := v.Document.Key
	if kept := w.drafts.made[key]; kept.compiled != nil && kept.number == v.Number && kept.revision == v.Revision && kept.company == in {
		return kept.compiled, kept.findings
	}
	if len(w.drafts.made) >= mostDrafts || w.drafts.made == nil {
		w.drafts.made = map[string]draft{}
	}
	c, findings := offering.Compile(v.Document, v.Number, checked)
	w.drafts.made[key] = draft{v.Number, v.Revision, in, c, findings}
	return c, findings
}

// mostDrafts is how many drafts are kept ready to be rehearsed.
const mostDrafts = 50

// opened is the draft of an offering that a person designs, or its current version when
// there is none.
func (w *Rehearsing) opened(ctx context.Context, person, key string) (store.Version, error) {
	v, err := w.Store.VersionIn(ctx, key, store.Draft)
	if errors.Is(err, ErrNotFound) {
		v, err = w.Store.VersionIn(ctx, key, store.Current)
	}
	if err != nil {
		return v, err
	}
	if !w.designs(person, v.Document.Purpose.Service) {
		return v, ErrNotFound
	}
	return v, nil
}

// ground is what a rehearsal of a version in the company as it is stands on: of people what
// the directory card shows, and sample belongings.
func (w *Rehearsing) ground(ctx context.Context, v store.Version) (rehearse.Ground, error) {
	uses, err := w.Store.Pools(ctx)
	if err != nil {
		return rehearse.Ground{}, err
	}
	texts, err := w.letters.generalTexts(ctx, w.Store)
	if err != nil {
		return rehearse.Ground{}, err
	}
	g := rehearse.Ground{
		Company: w.Company(), Prefix: w.Organisation().Prefix, Texts: texts, Connectors: w.described, Grants: w.grantsOf, Measures: w.durations.of(ctx, v.Document.Key), Known: card, Pools: map[string]int{},
		Compile: func(in *people.Directory) (*offering.Compiled, finding.List) { return w.compile(v, in) },
	}
	for _, use := range uses {
		g.Pools[use.Key] = use.Free()
	}
	return g, nil
}

// Rehearse lives through a script of the draft.
func (w *Rehearsing) Rehearse(ctx context.Context, person, key string, s script.Script) (*rehearse.Life, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return nil, err
	}
	g, err := w.ground(ctx, v)
	if err != nil {
		return nil, err
	}
	life, err := rehearse.Run(g, s)
	return life, misunderstood(err, "/script")
}

// misunderstood makes what a script does not say well a refusal, with its place.
func misunderstood(err error, place string) error {
	var wrong *script.Wrong
	switch {
	case !errors.As(err, &wrong):
		return err
	case wrong.Line >= 0:
		place += fmt.Sprintf("/script/%d", wrong.Line)
	case wrong.Field != "":
		place += "/" + wrong.Field
	}
	return invalid(refusal.Script, place, "%s", wrong.Sentence)
}

// Kept is a rehearsal as a case: standing on its own, with what can be expected of it.
type Kept struct {
	Script script.Script
	Seen   []rehearse.Seen
}

// Keep makes a case of a rehearsal: it is run again on what it carries, and that is what
// can be expected of it.
func (w *Rehearsing) Keep(ctx context.Context, person, key string, s script.Script) (Kept, error) {
	life, err := w.Rehearse(ctx, person, key, s)
	if err != nil {
		return Kept{}, err
	}
	calendars, err := w.Store.Calendars(ctx)
	if err != nil {
		return Kept{}, err
	}
	alone, result, err := life.Kept(calendars, w.described)
	if err != nil {
		return Kept{}, misunderstood(err, "/script")
	}
	return Kept{alone, result.See()}, nil
}

// Cases runs the cases of the draft.
func (w *Rehearsing) Cases(ctx context.Context, person, key string) ([]rehearse.Tried, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return nil, err
	}
	return rehearse.TryAll(v.Document, nil, w.described), nil
}

// Proposed are the cases that are proposed for the draft, beside those that it has, with
// what can be expected of each; and what no case reaches, with the reason.
type Proposed struct {
	Cases  []ProposedCase
	Points []rehearse.Point
	Kept   []rehearse.Point // as the cases that are kept reach them
}

// ProposedCase is a case that is proposed.
type ProposedCase struct {
	script.Case
	Reaches []string // what it reaches that those before it do not
}

// Propose searches for cases of the draft that reach what those that it has do not. It
// takes some seconds at most.
func (w *Rehearsing) Propose(ctx context.Context, person, key string) (Proposed, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return Proposed{}, err
	}
	g, err := w.ground(ctx, v)
	if err != nil {
		return Proposed{}, err
	}
	var have []*rehearse.Life
	for _, tried := range rehearse.TryAll(v.Document, nil, w.described) {
		if tried.Life != nil {
			have = append(have, tried.Life)
		}
	}
	found, err := rehearse.Propose(g, have)
	if err != nil {
		return Proposed{}, misunderstood(err, "")
	}
	calendars, err := w.Store.Calendars(ctx)
	if err != nil {
		return Proposed{}, err
	}
	out := Proposed{Points: found.Points, Kept: found.Had}
	for _, p := range found.Proposals {
		alone, result, err := p.Life.Kept(calendars, w.described)
		if err != nil {
			continue // it does not stand on its own
		}
		out.Cases = append(out.Cases, ProposedCase{result.Case(p.Name, alone), p.Reaches})
	}
	return out, nil
}

// one is a case of the draft, by its number from 0.
func (w *Rehearsing) one(ctx context.Context, person, key string, number int) (store.Version, script.Case, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return v, script.Case{}, err
	}
	if number < 0 || number >= len(v.Document.Cases) {
		return v, script.Case{}, ErrNotFound
	}
	return v, v.Document.Cases[number], nil
}

// Right is what is expected of a case of the draft, once what is there now is right in some
// places.
func (w *Rehearsing) Right(ctx context.Context, person, key string, number int, places []string) (script.Expect, error) {
	v, c, err := w.one(ctx, person, key, number)
	if err != nil {
		return nil, err
	}
	tried := rehearse.Try(v.Document, c, nil, w.described)
	return rehearse.Right(c.Expect, tried.Different, places), nil
}

// Supply is the script of a case of the draft, with the teams and people that the draft names
// now and the case does not carry.
func (w *Rehearsing) Supply(ctx context.Context, person, key string, number int) (script.Script, error) {
	v, c, err := w.one(ctx, person, key, number)
	if err != nil {
		return script.Script{}, err
	}
	calendars, err := w.Store.Calendars(ctx)
	return rehearse.Supply(c.Script, v.Document, w.Company(), calendars), err
}

// Today runs a case of the draft on the company as it is: what is other then are hints.
func (w *Rehearsing) Today(ctx context.Context, person, key string, number int) (rehearse.Tried, error) {
	v, c, err := w.one(ctx, person, key, number)
	if err != nil {
		return rehearse.Tried{}, err
	}
	g, err := w.ground(ctx, v)
	if err != nil {
		return rehearse.Tried{}, err
	}
	c.Script.Company = nil
	return rehearse.TryOn(g, c), nil
}

// unusable says that a draft has errors.
func unusable() error {
	return invalid(refusal.Unusable, "", "The form cannot be shown before its errors are mended.")
}

// Tried is the form of a draft as it would be for somebody, before it is sent: the first
// instant of a rehearsal.
type Tried struct {
	Form
	As       people.Person
	At       time.Time
	Findings finding.List // of what is tried, beside those of the offering
}

// Try works out the form of a draft as a script begins. Without an asker it is somebody who
// may ask for it.
func (w *Rehearsing) Try(ctx context.Context, person, key string, s script.Script) (Tried, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return Tried{}, err
	}
	c, findings := w.compile(v, w.Company())
	if c == nil {
		return Tried{}, unusable()
	}
	if s.Asker.Login == "" {
		s.Asker.Login = w.sample(c, person)
	}
	who, ok := w.Company().ByLogin(s.Asker.Login)
	if !ok {
		return Tried{}, invalid(refusal.UnknownPerson, "/asker", "There is no such person.")
	}
	var whom offering.Beneficiary
	if s.For != nil && s.For.Login != "" {
		p, ok := w.Company().ByLogin(s.For.Login)
		if !ok {
			return Tried{}, invalid(refusal.UnknownPerson, "/for", "There is no such person.")
		}
		whom.Person = p.ID
	} else if s.For != nil {
		whom.Newcomer = s.For.Newcomer()
	}
	parties, err := w.parties(ctx, w.Store, c, who.ID, whom)
	if err != nil {
		return Tried{}, err
	}
	parties.Known, parties.Belongings = card, rehearse.Samples(c)
	if s.Send.IsZero() {
		s.Send = w.Clock()
	}
	out := Tried{As: card(who), At: s.Send, Form: Form{Offering: c, Answers: s.Answers, For: parties.Beneficiary, Belongings: parties.Belongings}}
	if out.Answers == nil {
		out.Answers = form.Answers{}
	}
	out.Evaluated = w.evaluate(ctx, c, parties, parties.Facts(), out.Answers, s.Send)
	if slices.ContainsFunc(findings, func(f finding.Finding) bool {
		return f.Severity == finding.Error && strings.HasPrefix(f.Place, "/plan")
	}) {
		out.Evaluated.Forecast = request.Forecast{} // what is broken cannot be computed
	}
	out.Findings = out.Evaluated.Forecast.Examine(who.Name)
	return out, nil
}

// sample is the login of somebody who may ask for an offering, by name the first; of the one
// who tries it when there is nobody.
func (w *Rehearsing) sample(c *offering.Compiled, otherwise string) string {
	for _, p := range w.Company().Persons() {
		if p.Former || p.ID == otherwise {
			continue
		}
		if in, _ := c.Audience.MayAsk(w.audiencePerson(p.ID)); in {
			return p.Login
		}
	}
	own, _ := w.Company().Person(otherwise)
	return own.Login
}

// card is what everybody may know of a colleague.
func card(p people.Person) people.Person {
	return people.Person{ID: p.ID, Login: p.Login, Name: p.Name, Title: p.Title, Email: p.Email, Department: p.Department, Location: p.Location, Language: p.Language}
}
