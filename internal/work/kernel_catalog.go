package work

import (
	"context"
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
	return k.offered.get(k.age.ofBoth, today, func() ([]entry, error) {
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
			entries[i] = entry{row, k.audienceOf(row)}
		}
		return entries, err
	})
}

// audienceOf compiles the audience of a published version, once.
func (k *kernel) audienceOf(row store.CatalogEntry) *audience.Compiled {
	key := versionKey{row.Offering, row.Number}
	if kept, ok := k.audiences.Load(key); ok {
		return kept.(*audience.Compiled)
	}
	compiled := audience.Compile(row.Audience, &finding.List{}) // examined when it was published
	k.audiences.Store(key, compiled)
	return compiled
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
	me := k.audiencePerson(person)
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
