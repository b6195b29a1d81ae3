package work

import (
	"context"
	"errors"
	"fmt"

	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Origin says where an offering comes from.
type Origin string

// The origins.
const (
	Own        Origin = "own"
	AsSupplied Origin = "supplied" // one of the starter set, as it came
	Changed    Origin = "changed"  // one of the starter set, and changed since
)

// All lists them in their order.
func (Origin) All() []Origin { return []Origin{Own, AsSupplied, Changed} }

// Origins gives the origin of those of some offerings that came with the program, by key, and
// whether the program has another of it since; all others are one's own.
func (w *Designing) Origins(ctx context.Context, offerings []string) (map[string]Origin, map[string]bool, error) {
	all, err := w.Store.Origins(ctx, offerings)
	origins, newer := map[string]Origin{}, map[string]bool{}
	for _, o := range all {
		origins[o.Offering] = Changed
		if o.Same {
			origins[o.Offering] = AsSupplied
		}
		newer[o.Offering] = o.Newer
	}
	return origins, newer, err
}

// supply notes that an offering begins as one of the starter set.
func supply(tx *store.Tx, starter string, d offering.Document) error {
	return tx.Supply(store.Supplied{Offering: d.Key, Starter: starter, Document: d, Newest: d})
}

// Renew brings offerings that are as they came with the program to what this program
// brings, and tells their owners; of those that were changed it tells what is other now,
// and leaves them. It is done when the program starts. One that cannot be brought along
// stops no other.
func (w *Designing) Renew(ctx context.Context) error {
	all, err := w.Store.AllSupplied(ctx)
	if err != nil {
		return err
	}
	var trouble []error
	renewed := false
	for _, s := range all {
		starter, ok := w.starter(s.Starter)
		if !ok {
			continue // this program has none of it any more: what was taken stays
		}
		service, _ := w.Company().Service(s.Document.Purpose.Service)
		newest := offering.Refit(starter, s.Document, service.Home)
		if len(offering.Compare(s.Newest, newest)) == 0 {
			continue
		}
		if err := w.renew(ctx, s, newest); err != nil {
			trouble = append(trouble, fmt.Errorf("%s: %w", s.Offering, err))
			continue
		}
		renewed = true
	}
	if renewed {
		w.catalogChanged()
		w.rouseMail()
	}
	return errors.Join(trouble...)
}

// renew brings one along, or tells that there is something to bring along.
func (w *Designing) renew(ctx context.Context, s store.Supplied, newest offering.Document) error {
	return w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		latest, current, err := w.both(ctx, tx, s.Offering)
		if err != nil {
			return ignoreMissing(err)
		}
		service, _ := w.Company().Service(latest.Document.Purpose.Service)
		name := latest.Document.Purpose.Name
		var d duties
		if len(offering.Compare(s.Document, latest.Document)) > 0 {
			s.Newest = newest
			d.add(service.Owner, "%s came with Heptad, which brings another one now. Yours is changed, so it stays as it is: look at the difference on Design.", name)
			return errors.Join(tx.Supply(s), d.tell(ctx, w.kernel, tx, ""))
		}
		if current {
			if err := tx.AddDraft(newest, service.Owner, w.Clock()); err != nil {
				return err
			}
		} else if err := tx.SaveDraft(newest, service.Owner, w.Clock()); err != nil {
			return err
		}
		s.Document, s.Newest = newest, newest
		if err := tx.Supply(s); err != nil {
			return err
		}
		published := false
		if current && !w.Company().NeedsSecond(service) {
			if published, err = w.publishRenewed(ctx, tx, s.Offering, service.Owner); err != nil {
				return err
			}
		}
		switch {
		case published:
			d.add(service.Owner, "%s is as it came with Heptad, which brings another one now: that one is offered from now on. What was asked for before goes on as it was.", name)
		case current:
			d.add(service.Owner, "%s is as it came with Heptad, which brings another one now: it waits as a draft for you to publish it.", name)
		}
		return d.tell(ctx, w.kernel, tx, "")
	})
}

// both gives the newest version of an offering, and whether it is the current one.
func (w *Designing) both(ctx context.Context, tx *store.Tx, key string) (store.Version, bool, error) {
	v, err := tx.VersionIn(ctx, key, store.Draft)
	if !errors.Is(err, ErrNotFound) {
		return v, false, err
	}
	v, err = tx.VersionIn(ctx, key, store.Current)
	return v, true, err
}

// publishRenewed publishes a draft that the program brings, in the name of who owns it,
// when nothing hinders it. The audit says that it was the program.
func (w *Designing) publishRenewed(ctx context.Context, tx *store.Tx, key, owner string) (bool, error) {
	draft, err := tx.VersionIn(ctx, key, store.Draft)
	if err != nil {
		return false, err
	}
	_, findings := offering.Examine(draft.Document, draft.Number, w.checked(draft.Editors...))
	for _, f := range findings {
		if f.Severity == finding.Error {
			return false, nil
		}
	}
	if err := tx.Publish(draft, nil, owner, w.Clock()); err != nil {
		return false, err
	}
	return true, w.note(ctx, tx, "", audit.Published, key, draft.Document.Purpose.Name, audit.Change{Field: "version", After: itoa(draft.Number)}, audit.Change{Field: "came with", After: "the program"})
}

// News is what the program brings of an offering that was changed here.
type News struct {
	Origin  Origin
	Changes []offering.Change // from what was taken to what the program has now
}

// news tells how what is written of an offering compares with what came with the program.
func (w *Designing) news(ctx context.Context, d offering.Document) (News, error) {
	s, err := w.Store.Supplied(ctx, d.Key)
	switch {
	case errors.Is(err, ErrNotFound):
		return News{Origin: Own}, nil
	case err != nil:
		return News{}, err
	case len(offering.Compare(s.Document, d)) == 0:
		return News{Origin: AsSupplied}, nil
	}
	return News{Changed, offering.Compare(s.Document, s.Newest)}, nil
}

// TakeNews brings what the program has new of an offering into its draft, or leaves it.
// Where both changed the same thing, what is written here counts; the places are given.
func (w *Designing) TakeNews(ctx context.Context, person, key string, revision int, take bool) (conflicts []string, err error) {
	err = w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		seen, err := w.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		s, err := tx.Supplied(ctx, key)
		if err != nil {
			return err
		}
		base := s.Document
		s.Document = s.Newest
		if err := tx.Supply(s); err != nil || !take {
			return err
		}
		var merged offering.Document
		if merged, conflicts, err = offering.Merge(base, seen.Document, s.Newest); err != nil {
			return invalid(refusal.CannotMerge, "", "The two cannot be brought together: %s", err.Error())
		}
		if seen.State == store.Current {
			return tx.AddDraft(merged, person, w.Clock())
		}
		return tx.SaveDraft(merged, person, w.Clock())
	})
	return conflicts, err
}
