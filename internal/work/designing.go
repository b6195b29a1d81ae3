package work

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Designing writes, tries, publishes and exchanges offerings, and the calendars
// they promise by.
type Designing struct{ *kernel }

// Opened is an offering on the Design desk with what its examination found.
type Opened struct {
	store.Version
	Current   int // number of the version people can ask for now, or 0
	Ended     bool
	Successor string                 // key, of an ended one
	Asked     *store.PublishingAsked // it waits for another's yes; nil when it does not
	Findings  finding.List
	News      News // of the program, since it was taken from the starter set
}

// Portfolio lists the offerings of the services that a person designs in.
func (w *Designing) Portfolio(ctx context.Context, person string, q store.Shelf) ([]store.Listed, error) {
	q.Services = []string{}
	for _, s := range w.Designed(person) {
		q.Services = append(q.Services, s.Key)
	}
	return w.Store.Portfolio(ctx, q)
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
func (w *Designing) Create(ctx context.Context, person string, b Beginning) (Opened, error) {
	if !w.designs(person, b.Service) {
		return Opened{}, ErrNotFound
	}
	stem := offering.KeyOf(b.Name)
	if stem == "" {
		return Opened{}, invalid(refusal.NoName, "/name", "Name the offering with letters or digits.")
	}
	document := offering.New(stem, strings.TrimSpace(b.Name), b.Service, w.Organisation().Currency, w.Organisation().Zone)
	document.Promise.Calendar = w.Company().CalendarOf(person)
	document.Audience.Everyone = new(bool) // it is to be said who may ask
	switch {
	case b.Copy != "":
		from, err := w.latest(ctx, w.Store, person, b.Copy)
		if err != nil {
			return Opened{}, err
		}
		document = from.Document
		document.Purpose.Replaces = nil
	case b.Starter != "":
		from, ok := w.starter(b.Starter)
		if !ok {
			return Opened{}, invalid(refusal.NoStarter, "/starter", "There is no such beginning.")
		}
		service, _ := w.Company().Service(b.Service)
		document = w.fitted(from, service)
	}
	document.Purpose.Name, document.Purpose.Service = strings.TrimSpace(b.Name), b.Service
	key := stem
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
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
		if b.Starter != "" {
			if err := supply(tx, b.Starter, document); err != nil {
				return err
			}
		}
		return tx.AddDraft(document, person, w.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return w.OpenDraft(ctx, person, key)
}

// OpenDraft opens the draft of an offering, or its current version when there
// is none.
func (w *Designing) OpenDraft(ctx context.Context, person, key string) (Opened, error) {
	opened, err := w.latest(ctx, w.Store, person, key)
	if err != nil {
		return Opened{}, err
	}
	if opened.Findings, err = w.examine(ctx, w.Store, opened.Version); err != nil {
		return opened, err
	}
	if opened.News, err = w.news(ctx, opened.Document); err != nil {
		return opened, err
	}
	asked, err := w.Store.PublishingAsked(ctx, key)
	if errors.Is(err, ErrNotFound) || err == nil && asked.Revision != opened.Revision {
		return opened, nil // or what was asked for is not what stands there any more
	}
	opened.Asked = &asked
	return opened, err
}

// mostAnswers is how many drafts of askers a change is compared with.
const mostAnswers = 200

// examine finds what is wrong with a version, and what it would break.
func (w *Designing) examine(ctx context.Context, from source, v store.Version) (finding.List, error) {
	c, findings := offering.Examine(v.Document, v.Number, w.checked(v.Editors...))
	v.Document.Promise.Lapses(calendar.DateOf(w.Clock().In(w.Organisation().Location())), &findings)
	if v.State != store.Draft {
		return findings, nil
	}
	twin, err := from.Namesake(ctx, v.Document.Purpose.Service, v.Document.Purpose.Name, v.Document.Key)
	if err != nil {
		return nil, err
	}
	if twin != "" {
		findings.Warning(finding.SameName, "/purpose/name", fmt.Sprintf("Another offering of this service has the same name (%s): people cannot tell them apart.", twin), "Name it by what is different.")
	}
	if c == nil {
		return findings, nil
	}
	current, err := from.VersionIn(ctx, v.Document.Key, store.Current)
	if errors.Is(err, ErrNotFound) {
		return findings, nil
	}
	if err != nil {
		return nil, err
	}
	answers, err := from.AnswersTo(ctx, v.Document.Key, mostAnswers)
	if err != nil || len(answers) == 0 {
		return findings, err
	}
	old, err := w.numbered(ctx, from, v.Document.Key, current.Number)
	if err != nil {
		return nil, err
	}
	return append(findings, offering.Breaks(old, c, answers)...), nil
}

func (w *Designing) latest(ctx context.Context, from versions, person, key string) (Opened, error) {
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
	if draft.Number == 0 || !w.designs(person, draft.Document.Purpose.Service) {
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
func (w *Designing) SaveOffering(ctx context.Context, person, key string, d offering.Document, revision int) (Opened, error) {
	if d.Key != key {
		return Opened{}, invalid(refusal.KeyChanged, "/document/key", "The key of an offering cannot change.")
	}
	d.Audience = d.Audience.Settled(w.Company())
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		seen, err := w.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if !w.designs(person, d.Purpose.Service) {
			return invalid(refusal.NotYourService, "/document/purpose/service", "Choose a service that you own.")
		}
		if seen.State == store.Current {
			return tx.AddDraft(d, person, w.Clock())
		}
		return tx.SaveDraft(d, person, w.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return w.OpenDraft(ctx, person, key)
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
func (w *Designing) MergeOffering(ctx context.Context, person, key string, base, mine offering.Document) (Merged, error) {
	kept, err := w.latest(ctx, w.Store, person, key)
	if err != nil {
		return Merged{}, err
	}
	document, conflicts, err := offering.Merge(base, mine, kept.Document)
	if err != nil {
		return Merged{}, invalid(refusal.CannotMerge, "/mine", "The two cannot be brought together: %s", err.Error())
	}
	return Merged{document, kept.Revision, kept.ChangedBy, offering.Compare(base, kept.Document), conflicts}, nil
}

// DropDraft throws a draft away; an offering that was never published goes
// with it.
func (w *Designing) DropDraft(ctx context.Context, person, key string, revision int) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		seen, err := w.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if seen.State != store.Draft {
			return conflict(refusal.NoDraft, "There is no draft to throw away.")
		}
		return tx.DropDraft(key)
	})
}

// seen gives what is kept of an offering, if it still is what the person saw.
func (w *Designing) seen(ctx context.Context, tx *store.Tx, person, key string, revision int) (Opened, error) {
	kept, err := w.latest(ctx, tx, person, key)
	if err != nil {
		return Opened{}, err
	}
	if kept.Revision != revision {
		return Opened{}, conflict(refusal.DraftChanged, "%s has changed this draft in the meantime. Nothing of yours is lost.", w.Company().Name(kept.ChangedBy))
	}
	return kept, nil
}

// Versions lists the versions of an offering of the person, the last first.
func (w *Designing) Versions(ctx context.Context, person, key string) ([]store.Version, error) {
	if _, err := w.latest(ctx, w.Store, person, key); err != nil {
		return nil, err
	}
	return w.Store.Versions(ctx, key)
}

// Compare tells what is different from one version of an offering to another.
func (w *Designing) Compare(ctx context.Context, person, key string, from, to int) ([]offering.Change, error) {
	if _, err := w.latest(ctx, w.Store, person, key); err != nil {
		return nil, err
	}
	old, err := w.Store.VersionNumber(ctx, key, from)
	if err != nil {
		return nil, err
	}
	next, err := w.Store.VersionNumber(ctx, key, to)
	if err != nil {
		return nil, err
	}
	return offering.Compare(old.Document, next.Document), nil
}
