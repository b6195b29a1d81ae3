package work

import (
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/starter"
	"heptad/internal/store"
)

// MovingStep is one thing to do on the first day.
type MovingStep struct {
	Key   string
	Done  bool
	Count int    // of what there is already, where that can be counted
	Lacks string // what is still missing; empty when nothing is
}

// The steps of moving in, in their order.
const (
	StepOrganisation = "organisation"
	StepYou          = "you"
	StepPeople       = "people"
	StepTeams        = "teams"
	StepServices     = "services"
	StepOfferings    = "offerings"
	StepMail         = "mail"
	StepRequest      = "request"
)

// MovingIn tells an administrator how far moving in is, and when it was ended; zero while
// it goes on.
func (w *Keeping) MovingIn(ctx context.Context, person string) ([]MovingStep, time.Time, error) {
	if !w.Administers(person) {
		return nil, time.Time{}, ErrNotFound
	}
	at, err := w.Store.MovedIn(ctx)
	if err != nil {
		return nil, at, err
	}
	kept, err := w.Store.Credentials(ctx, person)
	if ignoreMissing(err) != nil {
		return nil, at, err
	}
	offered, err := w.catalog(ctx)
	if err != nil {
		return nil, at, err
	}
	sent, err := w.Store.Sent(ctx)
	if err != nil {
		return nil, at, err
	}
	tried, err := w.Store.Acts(ctx, store.WantedActs{Act: audit.MailTried, Limit: 1})
	if err != nil {
		return nil, at, err
	}
	o, company := w.Organisation(), w.Company()
	step := func(key string, done bool, count int, lacks string) MovingStep {
		if done {
			lacks = ""
		}
		return MovingStep{key, done, count, lacks}
	}
	mail := "No message was tried. Without mail, people hear of things only when they look."
	if w.Mailing == nil {
		mail = "No mail server is set. It stands in the settings as mail; without it people hear of things only when they look."
	}
	return []MovingStep{
		step(StepOrganisation, o.Name != "" && o.Calendar != "", 0, missing("its name", o.Name == "", "a home calendar: promises are counted in its working time", o.Calendar == "")),
		step(StepYou, kept.Factor != nil, 0, "A second factor: who has your password alone could do all you can."),
		step(StepPeople, len(company.Persons()) > 1, len(company.Persons()), "Nobody but you is here. Without people nobody can ask."),
		step(StepTeams, len(company.Teams()) > 0, len(company.Teams()), "There is no team. Without one nobody does the work."),
		step(StepServices, len(company.Services()) > 0, len(company.Services()), "There is no service. Offerings stand in a service, and its owner answers for them."),
		step(StepOfferings, len(offered) > 0, len(offered), "Nothing is offered yet. Without an offering nobody can ask for anything."),
		step(StepMail, len(tried) > 0, 0, mail),
		step(StepRequest, sent, 0, "No request was sent. Send one as a trial, and see where it goes."),
	}, at, nil
}

// AnySent reports whether any request was ever sent.
func (w *Keeping) AnySent(ctx context.Context) (bool, error) { return w.Store.Sent(ctx) }

// Taken reports whether there is an offering with the key of one of the starter set.
func (w *Keeping) Taken(ctx context.Context, key string) (bool, error) {
	versions, err := w.Store.Versions(ctx, key)
	return len(versions) > 0, err
}

// Moving reports whether moving in goes on.
func (w *Keeping) Moving(ctx context.Context) (bool, error) {
	at, err := w.Store.MovedIn(ctx)
	return at.IsZero(), err
}

// missing says what is, of several things.
func missing(what string, is bool, also string, isToo bool) string {
	switch {
	case is && isToo:
		return "Missing: " + what + "; " + also + "."
	case is:
		return "Missing: " + what + "."
	case isToo:
		return "Missing: " + also + "."
	}
	return ""
}

// EndMovingIn ends moving in, by an administrator: from then on owners publish what is
// theirs, and nobody puts themself in charge.
func (w *Keeping) EndMovingIn(ctx context.Context, person string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	at, err := w.Store.MovedIn(ctx)
	if err != nil || !at.IsZero() {
		return err
	}
	if w.Organisation().Name == "" {
		return conflict(refusal.NotMovedIn, "Say first what the organisation is called.")
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.MoveIn(w.Clock()); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.MovedIn, "", w.Organisation().Name)
	})
}

// Taking is how one of the starter set is taken over.
type Taking struct {
	Starter string
	Service string            // key
	Name    string            // empty: that of the starter
	Teams   map[string]string // key of a team by key of a task; the home team where nothing is said
}

// TakeStarter publishes one of the starter set for the owner of a service, by an
// administrator while moving in. The owner is told.
func (w *Keeping) TakeStarter(ctx context.Context, person string, t Taking) (string, error) {
	if !w.Administers(person) {
		return "", ErrNotFound
	}
	if at, err := w.Store.MovedIn(ctx); err != nil || !at.IsZero() {
		if err == nil {
			err = conflict(refusal.MovedIn, "Moving in has ended: the owner of the service takes it, on Design.")
		}
		return "", err
	}
	from, ok := w.starter(t.Starter)
	if !ok {
		return "", invalid(refusal.NoStarter, "/starter", "There is no such beginning.")
	}
	service, ok := w.Company().Service(t.Service)
	if !ok {
		return "", invalid(refusal.UnknownService, "/service", "There is no service %q.", t.Service)
	}
	document := w.fitted(from, service)
	for i := range document.Plan {
		if team := t.Teams[document.Plan[i].Key]; team != "" {
			if _, ok := w.Company().Team(team); !ok {
				return "", invalid(refusal.UnknownTeam, "/teams/"+document.Plan[i].Key, "There is no team %q.", team)
			}
			document.Plan[i].Team = team
		}
	}
	if t.Name = strings.TrimSpace(t.Name); t.Name != "" {
		document.Purpose.Name = t.Name
	}
	if document.Key = offering.KeyOf(document.Purpose.Name); document.Key == "" {
		return "", invalid(refusal.NoName, "/name", "Name the offering with letters or digits.")
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		versions, err := tx.Versions(ctx, document.Key)
		if err != nil {
			return err
		}
		if len(versions) > 0 {
			return invalid(refusal.NameTaken, "/name", "There is an offering %q already: name this one otherwise.", document.Purpose.Name)
		}
		if err := tx.AddDraft(document, service.Owner, w.Clock()); err != nil {
			return err
		}
		if err := supply(tx, t.Starter, document); err != nil {
			return err
		}
		draft, err := tx.VersionIn(ctx, document.Key, store.Draft)
		if err != nil {
			return err
		}
		_, findings := offering.Examine(document, draft.Number, w.checked(service.Owner))
		for _, f := range findings {
			if f.Severity == finding.Error {
				return invalid(refusal.Unready, "", "This cannot be published yet. %s", f.Sentence)
			}
		}
		if err := tx.Publish(draft, nil, person, w.Clock()); err != nil {
			return err
		}
		if t.Starter == starter.SignOff && w.Organisation().SignOff == "" {
			o := w.Organisation()
			o.SignOff, o.LastDay = document.Key, starter.LastDay
			if err := tx.SaveOrganisation(o); err != nil {
				return err
			}
			if err := w.note(ctx, tx, person, audit.Organised, "", o.Name, organised(w.Organisation(), o)...); err != nil {
				return err
			}
		}
		for _, act := range []audit.Act{audit.StarterTaken, audit.Published} {
			if err := w.note(ctx, tx, person, act, document.Key, document.Purpose.Name, audit.Change{Field: "for", After: w.Company().Name(service.Owner)}); err != nil {
				return err
			}
		}
		var d duties
		d.add(service.Owner, "%s is offered in %s, of which you are the owner. Look at it on Design: change what does not fit.", document.Purpose.Name, service.Name)
		return d.tell(ctx, w.kernel, tx, person)
	})
	if err != nil {
		return "", err
	}
	return document.Key, w.companyChanged(ctx)
}

// starter finds one of the starter set.
func (s Settings) starter(key string) (offering.Document, bool) {
	if s.Starters != nil {
		return s.Starters(key)
	}
	return starter.Find(key)
}

// fitted is one of the starter set as it begins in a service here: its home team does
// the work, in the currency and the hours of the organisation.
func (k *kernel) fitted(from offering.Document, service people.Service) offering.Document {
	o := k.Organisation()
	document := from
	document.Plan = slices.Clone(from.Plan)
	for i := range document.Plan {
		if document.Plan[i].Team == "" {
			document.Plan[i].Team = service.Home
		}
	}
	document.Cases = offering.FitCases(from.Cases, service.Key, service.Home)
	document.Purpose.Service = service.Key
	document.Items.Currency = o.Currency
	document.Promise.Zone, document.Promise.Calendar = o.Zone, o.Calendar
	return document
}

// mailTrial is how long the trial of the mail may take.
const mailTrial = 20 * time.Second

// TryMail sends a message to an administrator, past all queues, and tells how it went.
func (w *Keeping) TryMail(ctx context.Context, person string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	p, _ := w.Company().Person(person)
	switch {
	case w.Mailing == nil:
		return conflict(refusal.NoMail, "No mail server is set: it stands in the settings, as mail.")
	case p.Email == "":
		return conflict(refusal.NoMail, "Nobody knows your mail address: set it among the people.")
	}
	words := fmt.Sprintf("This is the message you sent to yourself, from Heptad at %s.", w.Mailing.Base)
	mail := connect.Mail{ID: rand.Text(), To: p.Email, Name: p.Name, Subject: "Mail of Heptad works", Parts: []connect.Part{{Text: words}}}
	ctx, cancel := context.WithTimeout(ctx, mailTrial)
	defer cancel()
	if err := w.Mailing.Poster.Post(ctx, mail); err != nil {
		return conflict(refusal.NoMail, "The mail server did not take it: %s.", err)
	}
	return w.noteAlone(ctx, person, audit.MailTried, "", p.Email)
}
