package work

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/store"
)

// Catalog lists the offerings that a person finds.
func (w *Asking) Catalog(ctx context.Context, person string) ([]Listed, error) {
	return w.inCatalog(ctx, person, func(entry) bool { return true })
}

// How many picks the front page shows, and how far back use counts.
const (
	picks    = 3
	usedFor  = 180 * 24 * time.Hour
	teamUses = 2 // from so many on, use by colleagues counts
)

// Picks are the few offerings put before a person: what they ask for most, what
// their department asks for, what owners put forward, each with its reason.
func (w *Asking) Picks(ctx context.Context, person string) ([]Listed, error) {
	all, err := w.Catalog(ctx, person)
	if err != nil {
		return nil, err
	}
	p, _ := w.Company().Person(person)
	own, err := w.Store.UsageOf(ctx, person, w.Clock().Add(-usedFor))
	if err != nil {
		return nil, err
	}
	colleagues, err := w.usedIn(ctx, p.Department, own)
	if err != nil {
		return nil, err
	}
	chosen := []Listed{}
	add := func(key, reason string) {
		i := slices.IndexFunc(all, func(l Listed) bool { return l.Offering == key && l.Ask && l.Door != offering.Broken && !l.CatchAll })
		if i < 0 || len(chosen) == picks || slices.ContainsFunc(chosen, func(l Listed) bool { return l.Offering == key }) {
			return
		}
		l := all[i]
		l.Reason = reason
		chosen = append(chosen, l)
	}
	if len(own) > 0 {
		add(own[0].Offering, "You asked for it "+times(own[0].Count)+".")
	}
	for _, l := range all {
		if l.Pick && len(chosen) < picks-1 {
			add(l.Offering, "Put forward by "+w.ownerName(l.Service)+".")
		}
	}
	for _, u := range colleagues {
		if u.Count >= teamUses {
			add(u.Offering, p.Department+" asked for it "+times(u.Count)+" in half a year.")
		}
	}
	for _, u := range own {
		add(u.Offering, "You asked for it "+times(u.Count)+".")
	}
	for _, l := range all {
		if l.Pick {
			add(l.Offering, "Put forward by "+w.ownerName(l.Service)+".")
		}
	}
	return chosen, nil
}

// usedIn is what the colleagues of a department have asked for, the most used first, counted
// anew every ten minutes: a department may have asked for everything in each week.
func (w *Asking) usedIn(ctx context.Context, department string, own []store.Usage) ([]store.Usage, error) {
	if department == "" {
		return nil, nil
	}
	now := w.Clock()
	all, err := w.used.get(func() uint64 { return uint64(now.Unix() / 600) }, department, func() ([]store.Usage, error) {
		return w.Store.UsageIn(ctx, department, now.Add(-usedFor))
	})
	all = slices.Clone(all)
	for i := range all {
		for _, o := range own {
			if o.Offering == all[i].Offering {
				all[i].Count = max(0, all[i].Count-o.Count)
			}
		}
	}
	slices.SortStableFunc(all, func(a, b store.Usage) int { return b.Count - a.Count })
	return all, err
}

func times(n int) string {
	switch n {
	case 1:
		return "once"
	case 2:
		return "twice"
	}
	return itoa(n) + " times"
}

func (w *Asking) ownerName(service string) string {
	s, _ := w.Company().Service(service)
	return w.Company().Name(s.Owner)
}

// Successor tells what takes the place of an offering that has ended, if the
// person sees it; the name is empty when nothing does.
func (w *Asking) Successor(ctx context.Context, person, key string) (store.CatalogEntry, error) {
	if saw, err := w.sawEnded(ctx, person, key); err != nil || !saw {
		return store.CatalogEntry{}, cmp.Or(err, ErrNotFound)
	}
	for range maxSuccessors {
		ended, err := w.Store.Ended(ctx, key)
		if errors.Is(err, ErrNotFound) {
			break
		}
		if err != nil {
			return store.CatalogEntry{}, err
		}
		if key = ended.Successor; key == "" {
			return store.CatalogEntry{}, nil
		}
	}
	next, err := w.inCatalog(ctx, person, func(e entry) bool { return e.Offering == key })
	if err != nil || len(next) == 0 {
		return store.CatalogEntry{}, cmp.Or(err, ErrNotFound)
	}
	return next[0].CatalogEntry, nil
}

// sawEnded reports whether a person was in the audience of an offering that has
// ended: to others it was never there.
func (w *Asking) sawEnded(ctx context.Context, person, key string) (bool, error) {
	if _, err := w.Store.Ended(ctx, key); err != nil {
		return false, err
	}
	v, err := w.Store.VersionIn(ctx, key, store.Current)
	if err != nil {
		return false, err
	}
	sees, _ := audience.Compile(v.Document.Audience, &finding.List{}).Sees(w.audiencePerson(person))
	return sees, nil
}

// maxSuccessors is how long a chain of offerings that replaced each other is
// followed.
const maxSuccessors = 20
