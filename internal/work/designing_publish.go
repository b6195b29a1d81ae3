package work

import (
	"context"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Publishing says how a draft is published.
type Publishing struct {
	Revision int
	Accepted []string  // names of the warnings that are accepted
	At       time.Time // zero: now
}

// Publish makes a draft what people can ask for, now or at a time. Errors among
// its findings stop it, and warnings that are not accepted by name.
func (w *Designing) Publish(ctx context.Context, person, key string, p Publishing) (Opened, error) {
	now := w.Clock()
	if err := w.guarded(ctx, person, key, p.Revision); err != nil {
		return Opened{}, err
	}
	err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		draft, err := w.seen(ctx, tx, person, key, p.Revision)
		if err != nil {
			return err
		}
		if draft.State != store.Draft {
			return conflict(refusal.NoDraft, "There is nothing new to publish.")
		}
		accepted, err := w.ready(ctx, tx, draft.Version, person, p.Accepted)
		if err != nil {
			return err
		}
		if service, needed, err := w.needsSecond(ctx, tx, draft); err != nil || needed {
			if err == nil {
				err = w.askSecond(ctx, tx, person, service, draft, p)
			}
			return err
		}
		if p.At.After(now) {
			if err := w.note(ctx, tx, person, audit.PublishingSet, key, draft.Document.Purpose.Name, audit.Change{Field: "at", After: p.At.UTC().Format(time.RFC3339)}); err != nil {
				return err
			}
			return tx.PublishAt(key, p.At, accepted, person)
		}
		return w.publish(ctx, tx, draft.Version, accepted, person)
	})
	if err != nil {
		return Opened{}, err
	}
	w.catalogChanged()
	w.rouse()
	return w.OpenDraft(ctx, person, key)
}

// ready reports whether a draft can be published, and gives the findings that
// were accepted for it.
func (w *Designing) ready(ctx context.Context, tx *store.Tx, draft store.Version, person string, names []string) ([]store.Accepted, error) {
	findings, err := w.examine(ctx, tx, draft)
	if err != nil {
		return nil, err
	}
	refused := invalid(refusal.Unready, "", "This cannot be published yet.")
	accepted := []store.Accepted{}
	for _, f := range findings {
		switch {
		case f.Severity == finding.Error, f.Severity == finding.Warning && !slices.Contains(names, f.Name()):
			refused.Details = append(refused.Details, request.Refusal{Kind: request.Invalid, Code: f.Code, Sentence: f.Sentence, Place: "/document" + f.Place})
		case f.Severity == finding.Warning:
			accepted = append(accepted, store.Accepted{Name: f.Name(), Person: person, At: w.Clock().UTC()})
		}
	}
	if len(refused.Details) > 0 {
		return nil, refused
	}
	return accepted, nil
}

// guarded runs the cases of a draft, in the revision that is to be published: one that fails
// stops it. It takes its time, and so is done outside of the transaction that publishes
// that revision or none.
func (w *Designing) guarded(ctx context.Context, person, key string, revision int) error {
	draft, err := w.latest(ctx, w.Store, person, key)
	if err != nil || draft.Revision != revision {
		return err // what is said of another revision comes with the transaction
	}
	if _, findings := offering.Compile(draft.Document, draft.Number, w.checked(draft.Editors...)); findings.HasErrors() {
		return nil // what is to be mended before is said first
	}
	return w.holds(draft.Document)
}

// holds is a refusal with each case of a document that fails.
func (w *Designing) holds(d offering.Document) error {
	refused := invalid(refusal.CaseFails, "", "A case fails: this cannot be published.")
	for i, tried := range rehearse.TryAll(d, nil, w.described) {
		if !tried.Passed {
			refused.Details = append(refused.Details, request.Refusal{Kind: request.Invalid, Code: refusal.CaseFails, Sentence: tried.Words(), Place: "/document" + finding.At("cases", i)})
		}
	}
	if len(refused.Details) > 0 {
		return refused
	}
	return nil
}

// publish makes a draft current, and ends what it replaces.
func (w *Designing) publish(ctx context.Context, tx *store.Tx, draft store.Version, accepted []store.Accepted, person string, more ...audit.Change) error {
	now := w.Clock()
	if err := tx.Publish(draft, accepted, person, now); err != nil {
		return err
	}
	changes := append([]audit.Change{{Field: "version", After: itoa(draft.Number)}}, more...)
	for _, a := range accepted {
		changes = append(changes, audit.Change{Field: "accepted", After: a.Name})
	}
	if err := w.note(ctx, tx, person, audit.Published, draft.Document.Key, draft.Document.Purpose.Name, changes...); err != nil {
		return err
	}
	for _, old := range draft.Document.Purpose.Replaces {
		if _, err := tx.CurrentNumber(ctx, old); errors.Is(err, ErrNotFound) {
			continue
		} else if err != nil {
			return err
		}
		if err := w.end(ctx, tx, person, old, draft.Document.Key); err != nil {
			return err
		}
	}
	return nil
}

// publishDue publishes the drafts whose time has come. One that is not ready
// any more stays a draft, with the reason.
func (w *Designing) publishDue(ctx context.Context) error {
	due, err := w.Store.DuePublishing(ctx, w.Clock())
	if err != nil || len(due) == 0 {
		return err
	}
	for _, key := range due {
		if err := w.each(ctx, publishLane, key, func() error { return w.publishNow(ctx, key) }); err != nil {
			return err
		}
	}
	w.catalogChanged()
	return nil
}

// publishNow publishes a draft whose time has come.
func (w *Designing) publishNow(ctx context.Context, key string) error {
	seen, err := w.Store.VersionIn(ctx, key, store.Draft)
	if err != nil {
		return err
	}
	fails := w.holds(seen.Document)
	return w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		draft, err := tx.VersionIn(ctx, key, store.Draft)
		if err != nil {
			return err
		}
		if draft.Revision != seen.Revision {
			return nil // it is looked at again
		}
		if refused, ok := request.AsRefusal(fails); ok {
			return tx.NotPublished(key, "It was not published at its time: "+refused.Details[0].Sentence)
		}
		names := make([]string, len(draft.Accepted))
		for i, a := range draft.Accepted {
			names[i] = a.Name
		}
		accepted, err := w.ready(ctx, tx, draft, draft.ChangedBy, names)
		if refused, ok := request.AsRefusal(err); ok {
			return tx.NotPublished(key, "It was not published at its time: "+refused.Details[0].Sentence)
		}
		if err != nil {
			return err
		}
		return w.publish(ctx, tx, draft, accepted, draft.ChangedBy)
	})
}

// Unschedule takes the time away at which a draft publishes itself.
func (w *Designing) Unschedule(ctx context.Context, person, key string, revision int) (Opened, error) {
	err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		draft, err := w.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if err := w.note(ctx, tx, person, audit.Unscheduled, key, draft.Document.Purpose.Name); err != nil {
			return err
		}
		return tx.PublishAt(key, time.Time{}, nil, person)
	})
	if err != nil {
		return Opened{}, err
	}
	return w.OpenDraft(ctx, person, key)
}

// End takes an offering off; its requests run on. The successor, which old
// links then name, may be empty.
func (w *Designing) End(ctx context.Context, person, key, successor string) (Opened, error) {
	err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		if _, err := w.latest(ctx, tx, person, key); err != nil {
			return err
		}
		if _, err := tx.CurrentNumber(ctx, key); errors.Is(err, ErrNotFound) {
			return conflict(refusal.NotOffered, "This is not offered now.")
		} else if err != nil {
			return err
		}
		if successor != "" {
			if _, err := tx.CurrentNumber(ctx, successor); errors.Is(err, ErrNotFound) || successor == key {
				return invalid(refusal.NoSuccessor, "/successor", "Choose an offering that people can ask for now.")
			} else if err != nil {
				return err
			}
		}
		return w.end(ctx, tx, person, key, successor)
	})
	if err != nil {
		return Opened{}, err
	}
	w.catalogChanged()
	return w.OpenDraft(ctx, person, key)
}

// end takes an offering off, in the transaction of what leads to it.
func (w *Designing) end(ctx context.Context, tx *store.Tx, person, key, successor string) error {
	current, err := tx.VersionIn(ctx, key, store.Current)
	if err != nil {
		return err
	}
	if err := w.note(ctx, tx, person, audit.OfferingEnded, key, current.Document.Purpose.Name, audit.Changed(nil, "successor", "", successor)...); err != nil {
		return err
	}
	return tx.End(key, successor, person, w.Clock())
}

// Revive offers an ended offering again, in its current version.
func (w *Designing) Revive(ctx context.Context, person, key string) (Opened, error) {
	err := w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		opened, err := w.latest(ctx, tx, person, key)
		if err != nil {
			return err
		}
		if !opened.Ended || opened.Current == 0 {
			return conflict(refusal.NotEnded, "This has not ended.")
		}
		current, err := tx.VersionIn(ctx, key, store.Current)
		if err != nil {
			return err
		}
		if err := w.note(ctx, tx, person, audit.OfferingBack, key, current.Document.Purpose.Name); err != nil {
			return err
		}
		return tx.Revive(current)
	})
	if err != nil {
		return Opened{}, err
	}
	w.catalogChanged()
	return w.OpenDraft(ctx, person, key)
}
