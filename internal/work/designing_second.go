package work

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Sensitive reports whether what would be published of an offering does something
// sensitive in another system.
func (w *Designing) Sensitive(ctx context.Context, key string) bool {
	draft, err := w.Store.VersionIn(ctx, key, store.Draft)
	if err != nil {
		return false // there is nothing to publish
	}
	c, _ := offering.Compile(draft.Document, draft.Number, w.checked(draft.Editors...))
	return c != nil && c.Careful
}

// needsSecond reports whether publishing a draft needs another's yes: when its service
// says so, or the one it is offered in now. It gives the one that does.
func (w *Designing) needsSecond(ctx context.Context, tx *store.Tx, draft Opened) (people.Service, bool, error) {
	service, _ := w.Company().Service(draft.Document.Purpose.Service)
	if w.Company().NeedsSecond(service) {
		return service, true, nil
	}
	current, err := tx.VersionIn(ctx, draft.Document.Key, store.Current)
	if err != nil {
		return service, false, ignoreMissing(err)
	}
	service, _ = w.Company().Service(current.Document.Purpose.Service)
	return service, w.Company().NeedsSecond(service), nil
}

// askSecond has a draft wait, in the revision it has, for the yes of another of those who
// design its service; they are told.
func (w *Designing) askSecond(ctx context.Context, tx *store.Tx, person string, service people.Service, draft Opened, p Publishing) error {
	asked := store.PublishingAsked{Offering: draft.Document.Key, Revision: draft.Revision, Accepted: p.Accepted, PublishAt: p.At, AskedBy: person, AskedAt: w.Clock()}
	if err := tx.AskPublishing(asked); err != nil {
		return err
	}
	for _, other := range w.Company().Designers(service) {
		o, ok := w.Company().Person(other)
		if other == person || !ok || o.Former {
			continue
		}
		facts := message.Facts{By: w.Company().Name(person), Offering: draft.Document.Purpose.Name, Title: draft.Document.Purpose.Name, Person: o.Name}
		if err := w.letters.postKind(ctx, tx, w.Company(), store.Message{Person: other, Kind: message.Second, At: w.Clock()}, facts); err != nil {
			return err
		}
	}
	return w.note(ctx, tx, person, audit.PublishingAsked, draft.Document.Key, draft.Document.Purpose.Name, audit.Change{Field: "revision", After: itoa(draft.Revision)})
}

// SecondYes publishes a draft that another of those who design it has asked to publish, in
// the revision they asked for; or sends it back.
func (w *Designing) SecondYes(ctx context.Context, person, key string, revision int, yes bool) (Opened, error) {
	now := w.Clock()
	if yes {
		if err := w.guarded(ctx, person, key, revision); err != nil {
			return Opened{}, err
		}
	}
	err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		draft, err := w.latest(ctx, tx, person, key)
		if err != nil {
			return err
		}
		asked, err := tx.PublishingAsked(ctx, key)
		switch {
		case errors.Is(err, ErrNotFound):
			return conflict(refusal.NotAsked, "Nobody asks for this to be published any more.")
		case err != nil:
			return err
		case draft.State != store.Draft || asked.Revision != draft.Revision || asked.Revision != revision:
			return conflict(refusal.NotAsked, "It was changed since %s asked: it has to be asked for anew.", w.Company().Name(asked.AskedBy))
		case yes && asked.AskedBy == person:
			return conflict(refusal.OwnYes, "Who asks for it does not say the second yes: another of you does.")
		}
		if err := tx.DropPublishingAsked(key); err != nil {
			return err
		}
		name := draft.Document.Purpose.Name
		if !yes {
			return w.note(ctx, tx, person, audit.PublishingRefused, key, name)
		}
		accepted, err := w.ready(ctx, tx, draft.Version, person, asked.Accepted)
		if err != nil {
			return err
		}
		by := audit.Change{Field: "asked for by", After: w.Company().Name(asked.AskedBy)}
		if asked.PublishAt.After(now) {
			if err := w.note(ctx, tx, person, audit.PublishingSet, key, name, by, audit.Change{Field: "at", After: asked.PublishAt.UTC().Format(time.RFC3339)}); err != nil {
				return err
			}
			return tx.PublishAt(key, asked.PublishAt, accepted, person)
		}
		return w.publish(ctx, tx, draft.Version, accepted, person, by)
	})
	if err != nil {
		return Opened{}, err
	}
	w.catalogChanged()
	w.rouse()
	return w.OpenDraft(ctx, person, key)
}
