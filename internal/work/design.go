package work

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/starter"
	"heptad/internal/store"
)

// Opened is an offering on the Design desk with what its examination found.
type Opened struct {
	store.Version
	Current   int // number of the version people can ask for now, or 0
	Ended     bool
	Successor string // key, of an ended one
	Findings  finding.List
}

// Owned lists the services a person owns.
func (o *Office) Owned(person string) []people.Service {
	return slices.DeleteFunc(o.Company().Services(), func(s people.Service) bool { return s.Owner != person })
}

func (o *Office) owns(person, service string) bool {
	s, ok := o.Company().Service(service)
	return ok && s.Owner == person
}

func invalid(code, place, format string, args ...any) *request.Refusal {
	return &request.Refusal{Kind: request.Invalid, Code: code, Sentence: fmt.Sprintf(format, args...), Place: place}
}

func conflict(code, format string, args ...any) *request.Refusal {
	return &request.Refusal{Kind: request.Conflict, Code: code, Sentence: fmt.Sprintf(format, args...)}
}

// Beginning is what a new offering begins as: empty, a copy of another one of
// the person, or one of the starter set.
type Beginning struct {
	Service string
	Name    string
	Copy    string // key of an offering
	Starter string // key of a starter
}

// Create makes a draft of a new offering in a service that the person owns. Its
// key comes from the name.
func (o *Office) Create(ctx context.Context, person string, b Beginning) (Opened, error) {
	if !o.owns(person, b.Service) {
		return Opened{}, ErrNotFound
	}
	stem := offering.KeyOf(b.Name)
	if stem == "" {
		return Opened{}, invalid("noName", "/name", "Name the offering with letters or digits.")
	}
	document := offering.New(stem, strings.TrimSpace(b.Name), b.Service, o.Currency, o.Zone)
	document.Promise.Calendar = o.Company().CalendarOf(person)
	switch {
	case b.Copy != "":
		from, err := o.latest(ctx, o.Store, person, b.Copy)
		if err != nil {
			return Opened{}, err
		}
		document = from.Document
		document.Purpose.Replaces = nil
	case b.Starter != "":
		from, ok := starter.Find(b.Starter)
		if !ok {
			return Opened{}, invalid("noStarter", "/starter", "There is no such beginning.")
		}
		document = from
		service, _ := o.Company().Service(b.Service)
		for i := range document.Plan {
			document.Plan[i].Team = service.Home
		}
	}
	document.Purpose.Name, document.Purpose.Service = strings.TrimSpace(b.Name), b.Service
	key := stem
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		for n := 2; ; n++ {
			versions, err := tx.Versions(ctx, key)
			if err != nil {
				return err
			}
			if len(versions) == 0 {
				break
			}
			key = fmt.Sprintf("%s-%d", stem, n)
		}
		document.Key = key
		return tx.AddDraft(document, person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return o.OpenDraft(ctx, person, key)
}

// OpenDraft opens the draft of an offering, or its current version when there
// is none.
func (o *Office) OpenDraft(ctx context.Context, person, key string) (Opened, error) {
	opened, err := o.latest(ctx, o.Store, person, key)
	if err != nil {
		return Opened{}, err
	}
	opened.Findings, err = o.examine(ctx, o.Store, opened.Version)
	return opened, err
}

// mostHeld is how many drafts of askers a change is held against.
const mostHeld = 200

// examine finds what is wrong with a version, and what it would break.
func (o *Office) examine(ctx context.Context, from source, v store.Version) (finding.List, error) {
	c, findings := offering.Examine(v.Document, v.Number, o.checked(v.Editors...))
	if v.State != store.Draft {
		return findings, nil
	}
	twin, err := from.Namesake(ctx, v.Document.Purpose.Service, v.Document.Purpose.Name, v.Document.Key)
	if err != nil {
		return nil, err
	}
	if twin != "" {
		findings.Warning("sameName", "/purpose/name", fmt.Sprintf("Another offering of this service has the same name (%s): people cannot tell them apart.", twin), "Name it by what is different.")
	}
	if c.Form == nil {
		return findings, nil
	}
	current, err := from.VersionIn(ctx, v.Document.Key, store.Current)
	if errors.Is(err, ErrNotFound) {
		return findings, nil
	}
	if err != nil {
		return nil, err
	}
	held, err := from.HeldAnswers(ctx, v.Document.Key, mostHeld)
	if err != nil || len(held) == 0 {
		return findings, err
	}
	old, err := o.numbered(ctx, from, v.Document.Key, current.Number)
	if err != nil {
		return nil, err
	}
	return append(findings, offering.Breaks(old, c, held)...), nil
}

func (o *Office) latest(ctx context.Context, from versions, person, key string) (Opened, error) {
	current, err := from.VersionIn(ctx, key, store.Current)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Opened{}, err
	}
	draft, err := from.VersionIn(ctx, key, store.Draft)
	if errors.Is(err, ErrNotFound) {
		draft, err = current, nil
	}
	if err != nil {
		return Opened{}, err
	}
	if draft.Number == 0 || !o.owns(person, draft.Document.Purpose.Service) {
		return Opened{}, ErrNotFound
	}
	opened := Opened{Version: draft, Current: current.Number}
	ended, err := from.Ended(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return opened, nil
	}
	opened.Ended, opened.Successor = true, ended.Successor
	return opened, err
}

// SaveOffering keeps a changed draft. The revision is the one the person has
// seen; when somebody saved in between it is refused.
func (o *Office) SaveOffering(ctx context.Context, person, key string, d offering.Document, revision int) (Opened, error) {
	if d.Key != key {
		return Opened{}, invalid("keyChanged", "/document/key", "The key of an offering cannot change.")
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		seen, err := o.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if !o.owns(person, d.Purpose.Service) {
			return invalid("notYourService", "/document/purpose/service", "Choose a service that you own.")
		}
		if seen.State == store.Current {
			return tx.AddDraft(d, person, o.Clock())
		}
		return tx.SaveDraft(d, person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return o.OpenDraft(ctx, person, key)
}

// Merged is a draft brought together with what somebody else saved.
type Merged struct {
	Document  offering.Document
	Revision  int               // of what somebody else saved
	By        string            // ID of who saved it
	Theirs    []offering.Change // what they changed
	Conflicts []string          // places where both changed the same thing
}

// MergeOffering brings what a person has, changed since a base, together with
// what somebody else saved meanwhile. Nothing is kept: they look at it first.
func (o *Office) MergeOffering(ctx context.Context, person, key string, base, mine offering.Document) (Merged, error) {
	kept, err := o.latest(ctx, o.Store, person, key)
	if err != nil {
		return Merged{}, err
	}
	document, conflicts, err := offering.Merge(base, mine, kept.Document)
	if err != nil {
		return Merged{}, invalid("cannotMerge", "/mine", "The two cannot be brought together: %s", err.Error())
	}
	return Merged{document, kept.Revision, kept.ChangedBy, offering.Compare(base, kept.Document), conflicts}, nil
}

// DropDraft throws a draft away; an offering that was never published goes
// with it.
func (o *Office) DropDraft(ctx context.Context, person, key string, revision int) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		seen, err := o.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if seen.State != store.Draft {
			return conflict("noDraft", "There is no draft to throw away.")
		}
		return tx.DropDraft(key)
	})
}

// seen gives what is kept of an offering, if it still is what the person saw.
func (o *Office) seen(ctx context.Context, tx *store.Tx, person, key string, revision int) (Opened, error) {
	kept, err := o.latest(ctx, tx, person, key)
	if err != nil {
		return Opened{}, err
	}
	if kept.Revision != revision {
		return Opened{}, conflict("draftChanged", "%s has changed this draft in the meantime. Nothing of yours is lost.", o.Company().Name(kept.ChangedBy))
	}
	return kept, nil
}

// Publishing says how a draft is published.
type Publishing struct {
	Revision int
	Accepted []string  // names of the warnings that are accepted
	At       time.Time // zero: now
}

// Publish makes a draft what people can ask for, now or at a time. Errors among
// its findings stop it, and warnings that are not accepted by name.
func (o *Office) Publish(ctx context.Context, person, key string, p Publishing) (Opened, error) {
	now := o.Clock()
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		draft, err := o.seen(ctx, tx, person, key, p.Revision)
		if err != nil {
			return err
		}
		if draft.State != store.Draft {
			return conflict("noDraft", "There is nothing new to publish.")
		}
		accepted, err := o.ready(ctx, tx, draft.Version, person, p.Accepted)
		if err != nil {
			return err
		}
		if p.At.After(now) {
			return tx.PublishAt(key, p.At, accepted, person)
		}
		return o.publish(ctx, tx, draft.Version, accepted, person)
	})
	if err != nil {
		return Opened{}, err
	}
	o.catalogChanged()
	o.rouse()
	return o.OpenDraft(ctx, person, key)
}

// ready reports whether a draft can be published, and gives the findings that
// were accepted for it.
func (o *Office) ready(ctx context.Context, tx *store.Tx, draft store.Version, person string, names []string) ([]store.Accepted, error) {
	findings, err := o.examine(ctx, tx, draft)
	if err != nil {
		return nil, err
	}
	refusal := invalid("unready", "", "This cannot be published yet.")
	accepted := []store.Accepted{}
	for _, f := range findings {
		switch {
		case f.Severity == finding.Error, f.Severity == finding.Warning && !slices.Contains(names, f.Name()):
			refusal.Details = append(refusal.Details, request.Refusal{Kind: request.Invalid, Code: f.Code, Sentence: f.Sentence, Place: "/document" + f.Place})
		case f.Severity == finding.Warning:
			accepted = append(accepted, store.Accepted{Name: f.Name(), Person: person, At: o.Clock().UTC()})
		}
	}
	if len(refusal.Details) > 0 {
		return nil, refusal
	}
	return accepted, nil
}

// publish makes a draft current, and ends what it replaces.
func (o *Office) publish(ctx context.Context, tx *store.Tx, draft store.Version, accepted []store.Accepted, person string) error {
	now := o.Clock()
	if err := tx.Publish(draft, accepted, person, now); err != nil {
		return err
	}
	for _, old := range draft.Document.Purpose.Replaces {
		if _, err := tx.CurrentNumber(ctx, old); errors.Is(err, ErrNotFound) {
			continue
		} else if err != nil {
			return err
		}
		if err := tx.End(old, draft.Document.Key, person, now); err != nil {
			return err
		}
	}
	return nil
}

// publishDue publishes the drafts whose time has come. One that is not ready
// any more stays a draft, with the reason.
func (o *Office) publishDue(ctx context.Context) error {
	due, err := o.Store.DuePublishing(ctx, o.Clock())
	if err != nil || len(due) == 0 {
		return err
	}
	for _, key := range due {
		if err := o.each(ctx, publishLane, key, func() error { return o.publishNow(ctx, key) }); err != nil {
			return err
		}
	}
	o.catalogChanged()
	return nil
}

// publishNow publishes a draft whose time has come.
func (o *Office) publishNow(ctx context.Context, key string) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		draft, err := tx.VersionIn(ctx, key, store.Draft)
		if err != nil {
			return err
		}
		names := make([]string, len(draft.Accepted))
		for i, a := range draft.Accepted {
			names[i] = a.Name
		}
		accepted, err := o.ready(ctx, tx, draft, draft.ChangedBy, names)
		if refusal, ok := request.AsRefusal(err); ok {
			return tx.NotPublished(key, "It was not published at its time: "+refusal.Details[0].Sentence)
		}
		if err != nil {
			return err
		}
		return o.publish(ctx, tx, draft, accepted, draft.ChangedBy)
	})
}

// Unschedule takes the time away at which a draft publishes itself.
func (o *Office) Unschedule(ctx context.Context, person, key string, revision int) (Opened, error) {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		if _, err := o.seen(ctx, tx, person, key, revision); err != nil {
			return err
		}
		return tx.PublishAt(key, time.Time{}, nil, person)
	})
	if err != nil {
		return Opened{}, err
	}
	return o.OpenDraft(ctx, person, key)
}

// End takes an offering off; its requests run on. The successor, which old
// links then name, may be empty.
func (o *Office) End(ctx context.Context, person, key, successor string) (Opened, error) {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		if _, err := o.latest(ctx, tx, person, key); err != nil {
			return err
		}
		if _, err := tx.CurrentNumber(ctx, key); errors.Is(err, ErrNotFound) {
			return conflict("notOffered", "This is not offered now.")
		} else if err != nil {
			return err
		}
		if successor != "" {
			if _, err := tx.CurrentNumber(ctx, successor); errors.Is(err, ErrNotFound) || successor == key {
				return invalid("noSuccessor", "/successor", "Choose an offering that people can ask for now.")
			} else if err != nil {
				return err
			}
		}
		return tx.End(key, successor, person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	o.catalogChanged()
	return o.OpenDraft(ctx, person, key)
}

// Revive offers an ended offering again, in its current version.
func (o *Office) Revive(ctx context.Context, person, key string) (Opened, error) {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		opened, err := o.latest(ctx, tx, person, key)
		if err != nil {
			return err
		}
		if !opened.Ended || opened.Current == 0 {
			return conflict("notEnded", "This has not ended.")
		}
		current, err := tx.VersionIn(ctx, key, store.Current)
		if err != nil {
			return err
		}
		return tx.Revive(current)
	})
	if err != nil {
		return Opened{}, err
	}
	o.catalogChanged()
	return o.OpenDraft(ctx, person, key)
}

// SetPlace moves a service in the portfolio.
func (o *Office) SetPlace(ctx context.Context, person, service string, place people.Place) error {
	if !o.owns(person, service) {
		return ErrNotFound
	}
	if err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetPlace(service, place) }); err != nil {
		return err
	}
	o.catalogChanged()
	return o.ReadCompany(ctx)
}

// Versions lists the versions of an offering of the person, the last first.
func (o *Office) Versions(ctx context.Context, person, key string) ([]store.Version, error) {
	if _, err := o.latest(ctx, o.Store, person, key); err != nil {
		return nil, err
	}
	return o.Store.Versions(ctx, key)
}

// Compare tells what is different from one version of an offering to another.
func (o *Office) Compare(ctx context.Context, person, key string, from, to int) ([]offering.Change, error) {
	if _, err := o.latest(ctx, o.Store, person, key); err != nil {
		return nil, err
	}
	old, err := o.Store.VersionNumber(ctx, key, from)
	if err != nil {
		return nil, err
	}
	next, err := o.Store.VersionNumber(ctx, key, to)
	if err != nil {
		return nil, err
	}
	return offering.Compare(old.Document, next.Document), nil
}

// Trial is how a draft is tried: as whom, for whom, on which day, with which
// answers.
type Trial struct {
	As      string // ID of a person; empty: somebody who may ask for it
	For     offering.Beneficiary
	At      time.Time // zero: now
	Answers form.Answers
}

// Tried is what a draft would be like.
type Tried struct {
	Form
	As    people.Person
	At    time.Time
	Title string
	Tasks []TriedTask
	Rungs []TriedRung

	Findings finding.List // of what is tried, beside those of the offering
}

// TriedTask is a task as its team would see it.
type TriedTask struct {
	plan.Task
	Wanted       bool
	Instructions string
}

// TriedRung is a rung as its approvers would see it.
type TriedRung struct {
	Name  string
	Say   string
	Facts []string
}

// Try works out a draft as it would be for a person, without keeping anything.
func (o *Office) Try(ctx context.Context, person, key string, t Trial) (Tried, error) {
	opened, err := o.latest(ctx, o.Store, person, key)
	if err != nil {
		return Tried{}, err
	}
	c, findings := offering.Compile(opened.Document, opened.Number, o.checked(opened.Editors...))
	if t.As == "" {
		t.As = o.sample(c, person)
	}
	who, ok := o.Company().Person(t.As)
	if !ok {
		return Tried{}, invalid("unknownPerson", "/as", "There is no such person.")
	}
	if c.Form == nil || !c.Form.Usable() {
		return Tried{}, invalid("unusable", "", "The form cannot be shown before its errors are mended.")
	}
	parties, err := o.parties(ctx, o.Store, c, t.As, t.For)
	if err != nil {
		return Tried{}, err
	}
	parties.Known, parties.Belongings = card, samples(c)
	if t.At.IsZero() {
		t.At = o.Clock()
	}
	out := Tried{As: card(who), At: t.At, Form: Form{Offering: c, Answers: t.Answers, For: parties.Beneficiary, Belongings: parties.Belongings}}
	out.Evaluated = o.evaluate(c, parties, parties.Facts(), t.Answers, t.At)
	if slices.ContainsFunc(findings, func(f finding.Finding) bool {
		return f.Severity == finding.Error && strings.HasPrefix(f.Place, "/plan")
	}) {
		out.Evaluated.Forecast = request.Forecast{} // what is broken cannot be computed
	}
	out.Findings = out.Evaluated.Forecast.Examine(who.Name)
	out.staff(c, out.Evaluated, c.Show(out.Evaluated.Kept(), parties.Facts()))
	return out, nil
}

// sample is somebody who may ask for an offering, by name the first; the one
// who tries it when there is nobody.
func (o *Office) sample(c *offering.Compiled, otherwise string) string {
	for _, p := range o.Company().Persons() {
		if p.Former || p.ID == otherwise {
			continue
		}
		if in, _ := c.Audience.MayAsk(o.audiencePerson(p.ID)); in {
			return p.ID
		}
	}
	return otherwise
}

// card is what everybody may know of a colleague.
func card(p people.Person) people.Person {
	return people.Person{ID: p.ID, Login: p.Login, Name: p.Name, Title: p.Title, Email: p.Email, Department: p.Department, Location: p.Location, Language: p.Language}
}

// samples are belongings to try an offering with: one of each kind it speaks of.
// What somebody really has is their own business.
func samples(c *offering.Compiled) []people.Belonging {
	var kinds []string
	add := func(kind string) {
		if kind != "" && !slices.Contains(kinds, kind) {
			kinds = append(kinds, kind)
		}
	}
	for _, fit := range c.Document.Purpose.Fits {
		add(fit.Kind)
	}
	for _, task := range c.Document.Plan {
		if task.Belonging != nil {
			add(task.Belonging.Kind)
		}
	}
	if len(kinds) == 0 {
		add("thing")
	}
	all := make([]people.Belonging, len(kinds))
	for i, kind := range kinds {
		all[i] = people.Belonging{ID: "sample-" + kind, Kind: kind, Name: "Sample " + kind, Detail: "S-1000"}
	}
	return all
}

// staff works out what those who decide and work would see.
func (t *Tried) staff(c *offering.Compiled, e Evaluated, show plan.Show) {
	t.Title = c.Title(e.Values, show)
	for _, task := range c.Plan.Tasks() {
		wanted, err := c.Plan.Wanted(task.Key, e.Values)
		tried := TriedTask{Task: task, Wanted: wanted && err == nil}
		if tried.Instructions, err = c.Plan.Instructions(task.Key, e.Values, show); err != nil {
			tried.Instructions = task.Instructions
		}
		t.Tasks = append(t.Tasks, tried)
	}
	for _, rung := range c.Ladder.Needed(e.Values) {
		say, err := c.Ladder.Say(rung.Key, e.Values, show)
		if err != nil {
			say = rung.Say
		}
		t.Rungs = append(t.Rungs, TriedRung{rung.Name, say, rung.Facts})
	}
}

// Survey tells who of the company is in the audience of an offering of the
// person: who may ask, or who finds it, or for whom a given person may ask.
func (o *Office) Survey(ctx context.Context, person, key, which, asker string) ([]audience.Verdict, error) {
	opened, err := o.latest(ctx, o.Store, person, key)
	if err != nil {
		return nil, err
	}
	findings := finding.List{}
	compiled := audience.Compile(opened.Document.Audience, &findings)
	if findings.HasErrors() {
		return nil, invalid("unusable", "/"+which, "%s", findings[0].Sentence)
	}
	switch which {
	case "see":
		return audience.Survey(o.Company(), compiled.Sees), nil
	case "for":
		by := o.audiencePerson(asker)
		if by.ID == "" {
			return nil, invalid("unknownPerson", "/asker", "There is no such person.")
		}
		return audience.Survey(o.Company(), func(p audience.Person) (bool, string) { return compiled.MayAskFor(by, p) }), nil
	}
	return audience.Survey(o.Company(), compiled.MayAsk), nil
}

// SharedQuestions lists the questions that offerings share, to those who own a
// service.
func (o *Office) SharedQuestions(ctx context.Context, person string) ([]store.SharedQuestion, error) {
	if len(o.Owned(person)) == 0 {
		return nil, ErrNotFound
	}
	return o.Store.SharedQuestions(ctx)
}

// ShareQuestion keeps a question for all offerings to use, under its key. Who
// shared it first may change it, and administrators.
func (o *Office) ShareQuestion(ctx context.Context, person string, q form.Question) error {
	administrator := o.administers(person)
	if len(o.Owned(person)) == 0 && !administrator {
		return ErrNotFound
	}
	q.Shared, q.Section = q.Key, ""
	if strings.TrimSpace(q.Key) == "" || strings.TrimSpace(q.Label) == "" {
		return invalid("noLabel", "/label", "A shared question needs a key and a label.")
	}
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		keeper, err := tx.KeeperOf(ctx, q.Key)
		switch {
		case errors.Is(err, ErrNotFound):
			keeper = person
		case err != nil:
			return err
		case keeper != person && !administrator:
			by := "an administrator"
			if keeper != "" {
				by = o.Company().Name(keeper) + " or an administrator"
			}
			return &request.Refusal{Kind: request.NotYours, Code: "notYours", Sentence: fmt.Sprintf("%q is shared already, and only %s can change it. Share yours under another key.", q.Key, by), Place: "/key"}
		}
		return tx.SaveSharedQuestion(q, keeper, person, o.Clock())
	})
}
