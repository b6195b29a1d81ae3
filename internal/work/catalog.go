package work

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

// entry is an offering of the catalog with its audience, ready to be asked.
type entry struct {
	store.CatalogEntry
	audience *audience.Compiled
}

// Listed is an offering that a person finds.
type Listed struct {
	store.CatalogEntry
	Reason string // why it is picked for the person
	Ask    bool   // they may ask, not only see
}

// catalog gives what can be asked for, by area, service and name. It is kept
// until something is published or ends.
func (o *Office) catalog(ctx context.Context) ([]entry, error) {
	if kept := o.listed.Load(); kept != nil {
		return *kept, nil
	}
	rows, err := o.Store.Catalog(ctx)
	if err != nil {
		return nil, err
	}
	entries := make([]entry, len(rows))
	for i, row := range rows {
		entries[i] = entry{row, o.audienceOf(row)}
	}
	o.listed.Store(&entries)
	return entries, nil
}

// audienceOf compiles the audience of a published version, once.
func (o *Office) audienceOf(row store.CatalogEntry) *audience.Compiled {
	key := versionKey{row.Offering, row.Number}
	if kept, ok := o.audiences.Load(key); ok {
		return kept.(*audience.Compiled)
	}
	compiled := audience.Compile(row.Audience, &finding.List{}) // examined when it was published
	o.audiences.Store(key, compiled)
	return compiled
}

// catalogChanged makes the next reader read the catalog anew.
func (o *Office) catalogChanged() {
	o.listed.Store(nil)
	o.searched.Store(nil)
	o.Live.tell(Change{Kind: "catalog"}, nil)
}

func (o *Office) audiencePerson(id string) audience.Person {
	p, _ := o.Company().Person(id)
	return audience.Of(p, o.Company())
}

// Catalog lists the offerings that a person finds.
func (o *Office) Catalog(ctx context.Context, person string) ([]Listed, error) {
	return o.inCatalog(ctx, person, func(entry) bool { return true })
}

// inCatalog lists those of the offerings that are meant which a person finds.
func (o *Office) inCatalog(ctx context.Context, person string, meant func(entry) bool) ([]Listed, error) {
	entries, err := o.catalog(ctx)
	if err != nil {
		return nil, err
	}
	me := o.audiencePerson(person)
	list := []Listed{}
	for _, e := range entries {
		if !meant(e) {
			continue
		}
		if l, ok := e.seenBy(me); ok {
			list = append(list, l)
		}
	}
	return list, nil
}

func (e entry) seenBy(p audience.Person) (Listed, bool) {
	if ok, _ := e.audience.Sees(p); !ok {
		return Listed{}, false
	}
	may, _ := e.audience.MayAsk(p)
	return Listed{CatalogEntry: e.CatalogEntry, Ask: may}, true
}

// How many picks the front page shows, and how far back use counts.
const (
	picks    = 3
	usedFor  = 180 * 24 * time.Hour
	teamUses = 2 // from so many on, use by colleagues counts
)

// Picks are the few offerings put before a person: what they ask for most, what
// their department asks for, what owners put forward, each with its reason.
func (o *Office) Picks(ctx context.Context, person string) ([]Listed, error) {
	all, err := o.Catalog(ctx, person)
	if err != nil {
		return nil, err
	}
	p, _ := o.Company().Person(person)
	usage, err := o.Store.UsageOf(ctx, person, p.Department, o.Clock().Add(-usedFor).UnixMilli())
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
	for _, u := range usage {
		if u.Own > 0 {
			add(u.Offering, "You asked for it "+times(u.Own)+".")
			break
		}
	}
	for _, l := range all {
		if l.Pick && len(chosen) < picks-1 {
			add(l.Offering, "Put forward by "+o.ownerName(l.Service)+".")
		}
	}
	for _, u := range usage {
		if u.Team >= teamUses {
			add(u.Offering, p.Department+" asked for it "+times(u.Team)+" in half a year.")
		}
	}
	for _, u := range usage {
		if u.Own > 0 {
			add(u.Offering, "You asked for it "+times(u.Own)+".")
		}
	}
	for _, l := range all {
		if l.Pick {
			add(l.Offering, "Put forward by "+o.ownerName(l.Service)+".")
		}
	}
	return chosen, nil
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

func (o *Office) ownerName(service string) string {
	s, _ := o.Company().Service(service)
	return o.Company().Name(s.Owner)
}

// Successor tells what takes the place of an offering that has ended, if the
// person sees it; the name is empty when nothing does.
func (o *Office) Successor(ctx context.Context, person, key string) (store.CatalogEntry, error) {
	if saw, err := o.sawEnded(ctx, person, key); err != nil || !saw {
		return store.CatalogEntry{}, cmp.Or(err, ErrNotFound)
	}
	for range maxSuccessors {
		ended, err := o.Store.Ended(ctx, key)
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
	next, err := o.inCatalog(ctx, person, func(e entry) bool { return e.Offering == key })
	if err != nil || len(next) == 0 {
		return store.CatalogEntry{}, cmp.Or(err, ErrNotFound)
	}
	return next[0].CatalogEntry, nil
}

// sawEnded reports whether a person was in the audience of an offering that has
// ended: to others it was never there.
func (o *Office) sawEnded(ctx context.Context, person, key string) (bool, error) {
	if _, err := o.Store.Ended(ctx, key); err != nil {
		return false, err
	}
	v, err := o.Store.VersionIn(ctx, key, store.Current)
	if err != nil {
		return false, err
	}
	sees, _ := audience.Compile(v.Document.Audience, &finding.List{}).Sees(o.audiencePerson(person))
	return sees, nil
}

// maxSuccessors is how long a chain of offerings that replaced each other is
// followed.
const maxSuccessors = 20

// LookUp finds people whose name, login or department holds the words, for
// whom a test holds, by name.
func (o *Office) LookUp(words string, limit int, fits func(people.Person) bool) []people.Person {
	wanted := strings.Fields(strings.ToLower(words))
	found := []people.Person{}
	for _, p := range o.Company().Persons() {
		text := strings.ToLower(p.Name + " " + p.Login + " " + p.Department + " " + p.Title)
		if p.Former || slices.ContainsFunc(wanted, func(w string) bool { return !strings.Contains(text, w) }) || !fits(p) {
			continue
		}
		if found = append(found, p); len(found) == limit {
			break
		}
	}
	return found
}
