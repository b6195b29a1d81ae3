package work

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
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

// catalog gives what can be asked for of services that are offered today, by area,
// service and name.
func (k *kernel) catalog(ctx context.Context) ([]entry, error) {
	today := k.today()
	return k.offered.get(k.age.ofOffered, today, func() ([]entry, error) {
		all, err := k.published(ctx)
		offered := make([]entry, 0, len(all))
		for _, e := range all {
			if s, ok := k.Company().Service(e.Service); ok && k.Company().IsOffered(s, today) {
				offered = append(offered, e)
			}
		}
		return offered, err
	})
}

// today is the date in the zone of the organisation, RFC 3339.
func (k *kernel) today() string {
	return k.Clock().In(k.Organisation().Location()).Format(time.DateOnly)
}

// published gives what is published, whether or not it is offered today. It is kept until
// something is published or ends.
func (k *kernel) published(ctx context.Context) ([]entry, error) {
	return k.listed.get(k.age.catalog.Load, struct{}{}, func() ([]entry, error) {
		rows, err := k.Store.Catalog(ctx)
		entries := make([]entry, len(rows))
		for i, row := range rows {
			entries[i] = entry{row, k.audienceOf(row.Audience)}
		}
		return entries, err
	})
}

// audienceOf compiles the audience of an offering, once: those of the same words are one.
func (k *kernel) audienceOf(of audience.Audience) *audience.Compiled {
	text, _ := json.Marshal(of) // it was read from JSON
	if kept, ok := k.audiences.Load(string(text)); ok {
		return kept.(*audience.Compiled)
	}
	compiled, _ := k.audiences.LoadOrStore(string(text), audience.Compile(of, &finding.List{})) // examined when it was published
	return compiled.(*audience.Compiled)
}

// catalogChanged makes the next reader read the catalog anew.
func (k *kernel) catalogChanged() {
	k.age.catalog.Add(1)
	k.Live.tell(Change{Kind: "catalog"}, nil)
}

func (k *kernel) audiencePerson(id string) audience.Person {
	p, _ := k.Company().Person(id)
	return audience.Of(p, k.Company())
}

// inCatalog lists those of the offerings that are meant which a person finds.
func (k *kernel) inCatalog(ctx context.Context, person string, meant func(entry) bool) ([]Listed, error) {
	entries, err := k.catalog(ctx)
	if err != nil {
		return nil, err
	}
	me := readerOf(k, person)
	list := []Listed{}
	for _, e := range entries {
		if !meant(e) {
			continue
		}
		if l, ok := me.sees(e); ok {
			list = append(list, l)
		}
	}
	return list, nil
}

// reader is a person who looks at the catalog. That offerings are for the same people is
// found out once.
type reader struct {
	person audience.Person
	known  map[*audience.Compiled]sight
}

type sight struct{ sees, mayAsk bool }

func readerOf(k *kernel, person string) reader {
	return reader{k.audiencePerson(person), map[*audience.Compiled]sight{}}
}

func (r reader) of(e entry) sight {
	s, ok := r.known[e.audience]
	if !ok {
		s.sees, _ = e.audience.Sees(r.person)
		s.mayAsk, _ = e.audience.MayAsk(r.person)
		r.known[e.audience] = s
	}
	return s
}

// sees gives an offering as the reader finds it, and whether they do.
func (r reader) sees(e entry) (Listed, bool) {
	s := r.of(e)
	return Listed{CatalogEntry: e.CatalogEntry, Ask: s.mayAsk}, s.sees
}
