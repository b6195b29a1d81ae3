package work

import (
	"context"
	"errors"
	"fmt"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Export gives the offerings of a person's services, drafts before current
// versions, with the services and the shared questions they use.
func (o *Office) Export(ctx context.Context, person string) (offering.Catalog, error) {
	owned := o.Owned(person)
	if len(owned) == 0 {
		return offering.Catalog{}, ErrNotFound
	}
	return o.export(ctx, func(s people.Service) bool { return s.Owner == person })
}

// ExportAll gives the whole catalog of the installation.
func (o *Office) ExportAll(ctx context.Context) (offering.Catalog, error) {
	return o.export(ctx, func(people.Service) bool { return true })
}

func (o *Office) export(ctx context.Context, wanted func(people.Service) bool) (offering.Catalog, error) {
	c := offering.Catalog{Format: offering.CatalogFormat, Services: []offering.Service{}, Shared: []form.Question{}, Offerings: []offering.Document{}}
	for _, s := range o.Company().Services() {
		if wanted(s) {
			owner, _ := o.Company().Person(s.Owner)
			c.Services = append(c.Services, offering.Service{Key: s.Key, Name: s.Name, Area: s.Area, Text: s.Text, Owner: owner.Login, Home: s.Home, Place: string(s.Place)})
		}
	}
	keys, err := o.Store.AllOfferings(ctx)
	if err != nil {
		return c, err
	}
	used := map[string]bool{}
	for _, key := range keys {
		v, err := o.Store.VersionIn(ctx, key, store.Draft)
		if errors.Is(err, ErrNotFound) {
			v, err = o.Store.VersionIn(ctx, key, store.Current)
		}
		if err != nil {
			return c, err
		}
		if s, _ := o.Company().Service(v.Document.Purpose.Service); !wanted(s) {
			continue
		}
		c.Offerings = append(c.Offerings, v.Document)
		for _, q := range v.Document.Questions {
			used[q.Shared] = true
		}
	}
	shared, err := o.Store.SharedQuestions(ctx)
	for _, s := range shared {
		if used[s.Question.Key] {
			c.Shared = append(c.Shared, s.Question)
		}
	}
	return c, err
}

// Incoming is what an import would do, or has done, with one offering.
type Incoming struct {
	Key      string
	Name     string
	Does     string            // "new", "changed", "same" or "refused"
	Why      string            // it is refused
	Changes  []offering.Change // against the draft or the current version
	Findings finding.List
	document offering.Document
	revision int
}

// Import brings a catalog in. Every offering that is new or different becomes a
// draft; those without errors and warnings are published as well, when asked
// to. A preview keeps nothing. Only services of the person are touched.
func (o *Office) Import(ctx context.Context, person string, c offering.Catalog, preview, publish bool) ([]Incoming, error) {
	if len(o.Owned(person)) == 0 {
		return nil, ErrNotFound
	}
	incoming := make([]Incoming, len(c.Offerings))
	for i, d := range c.Offerings {
		var err error
		if incoming[i], err = o.weigh(ctx, person, d); err != nil {
			return nil, err
		}
	}
	if preview {
		return incoming, nil
	}
	for _, q := range c.Shared {
		if err := o.ShareQuestion(ctx, person, q); err != nil {
			return nil, err
		}
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		for _, in := range incoming {
			if in.Does != "new" && in.Does != "changed" {
				continue
			}
			seen, err := tx.VersionIn(ctx, in.Key, store.Draft)
			switch {
			case errors.Is(err, ErrNotFound):
				err = tx.AddDraft(in.document, person, o.Clock())
			case err == nil && seen.Revision != in.revision:
				err = conflict("draftChanged", "%q was changed meanwhile. Nothing was imported.", in.Name)
			case err == nil:
				err = tx.SaveDraft(in.document, person, o.Clock())
			}
			if err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil || !publish {
		return incoming, err
	}
	return incoming, o.publishClean(ctx, person, incoming)
}

// publishClean publishes what was imported without errors and warnings.
func (o *Office) publishClean(ctx context.Context, person string, incoming []Incoming) error {
	for _, in := range incoming {
		if in.Does != "new" && in.Does != "changed" {
			continue
		}
		opened, err := o.latest(ctx, o.Store, person, in.Key)
		if err == nil {
			_, err = o.Publish(ctx, person, in.Key, Publishing{Revision: opened.Revision})
		}
		if _, refused := request.AsRefusal(err); err != nil && !refused {
			return err
		}
	}
	return nil
}

// weigh says what would become of an offering.
func (o *Office) weigh(ctx context.Context, person string, d offering.Document) (Incoming, error) {
	in := Incoming{Key: d.Key, Name: d.Purpose.Name, Changes: []offering.Change{}, Findings: finding.List{}, document: d}
	if !o.owns(person, d.Purpose.Service) {
		in.Does, in.Why = "refused", fmt.Sprintf("The service %q is not yours, or not there.", d.Purpose.Service)
		return in, nil
	}
	versions, err := o.Store.Versions(ctx, d.Key)
	if err != nil {
		return in, err
	}
	_, in.Findings = offering.Examine(d, 1, o.checked(person))
	if len(versions) == 0 {
		in.Does = "new"
		return in, nil
	}
	kept, err := o.latest(ctx, o.Store, person, d.Key)
	if errors.Is(err, ErrNotFound) {
		in.Does, in.Why = "refused", "Somebody else has an offering with this key."
		return in, nil
	}
	if err != nil {
		return in, err
	}
	in.revision = kept.Revision
	in.Changes = offering.Compare(kept.Document, d)
	if in.Does = "changed"; len(in.Changes) == 0 {
		in.Does = "same"
	}
	return in, nil
}
