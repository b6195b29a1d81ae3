package work

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"heptad/internal/core/audience"
	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Export gives the offerings of a person's services, drafts before current
// versions, with the services and the shared questions they use.
func (w *Designing) Export(ctx context.Context, person string) (offering.Catalog, error) {
	owned := w.Designed(person)
	if len(owned) == 0 {
		return offering.Catalog{}, ErrNotFound
	}
	if err := w.noteAlone(ctx, person, audit.CatalogGiven, "", "", audit.Change{Field: "services", After: itoa(len(owned))}); err != nil {
		return offering.Catalog{}, err
	}
	return w.export(ctx, func(s people.Service) bool { return w.Company().Designs(person, s) })
}

// ExportAll gives the whole catalog of the installation.
func (w *Designing) ExportAll(ctx context.Context) (offering.Catalog, error) {
	return w.export(ctx, func(people.Service) bool { return true })
}

func (w *Designing) export(ctx context.Context, wanted func(people.Service) bool) (offering.Catalog, error) {
	c := offering.Catalog{Format: offering.CatalogFormat, Services: []offering.Service{}, Shared: []form.Question{}, Offerings: []offering.Document{}}
	for _, s := range w.Company().Services() {
		if wanted(s) {
			owner, _ := w.Company().Person(s.Owner)
			c.Services = append(c.Services, offering.Service{Key: s.Key, Name: s.Name, Area: s.Area, Text: s.Text, Owner: owner.Login, Home: s.Home, Place: string(s.Place)})
		}
	}
	keys, err := w.Store.AllOfferings(ctx)
	if err != nil {
		return c, err
	}
	used := map[string]bool{}
	for _, key := range keys {
		v, err := w.Store.VersionIn(ctx, key, store.Draft)
		if errors.Is(err, ErrNotFound) {
			v, err = w.Store.VersionIn(ctx, key, store.Current)
		}
		if err != nil {
			return c, err
		}
		if s, _ := w.Company().Service(v.Document.Purpose.Service); !wanted(s) {
			continue
		}
		v.Document.Audience.Bundles = audience.Carried(v.Document.Audience.Bundles, w.Company())
		c.Offerings = append(c.Offerings, v.Document)
		switch ended, err := w.Store.Ended(ctx, key); {
		case err == nil:
			c.Ended = append(c.Ended, offering.Ended{Key: key, Successor: ended.Successor})
		case !errors.Is(err, ErrNotFound):
			return c, err
		}
		for _, q := range v.Document.Questions {
			used[q.Shared] = true
		}
	}
	shared, err := w.Store.SharedQuestions(ctx)
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
	Ends     bool // it is offered here, and ended where it comes from
	Draft    bool // it comes as a draft that is not published by itself: it is new here and ended there
	document offering.Document
	revision int
	ended    offering.Ended
}

// Importing says how a catalog is brought in.
type Importing struct {
	Preview bool // nothing is kept
	Publish bool // what has neither errors nor warnings
	// Of services that are new here, by key: the team that is home to them, by key,
	// and who owns them, by login; who brings them in when left out.
	Homes, Owners map[string]string
}

// fresh lists the services of a catalog that are new here and have a home team.
func (w *Designing) fresh(person string, c offering.Catalog, how Importing) (map[string]people.Service, error) {
	out := map[string]people.Service{}
	for _, s := range w.NewServices(c) {
		home := how.Homes[s.Key]
		if home == "" {
			continue
		}
		if _, ok := w.Company().Team(home); !ok {
			return nil, invalid(refusal.UnknownTeam, "/home", "There is no team %q.", home)
		}
		owner := person
		if login := how.Owners[s.Key]; login != "" {
			p, ok := w.Company().ByLogin(login)
			if !ok || p.Former {
				return nil, invalid(refusal.UnknownPerson, "/owner", "There is nobody with the login %q.", login)
			}
			owner = p.ID
		}
		out[s.Key] = people.Service{Key: s.Key, Name: s.Name, Area: s.Area, Text: s.Text, Owner: owner, Home: home, Place: people.Place(s.Place)}
	}
	return out, nil
}

// NewServices lists the services of a catalog that are not here, with their home
// team and owner as far as these are known here.
func (w *Designing) NewServices(c offering.Catalog) []offering.Service {
	var all []offering.Service
	for _, s := range c.Services {
		if _, here := w.Company().Service(s.Key); here {
			continue
		}
		if _, known := w.Company().Team(s.Home); !known {
			s.Home = ""
		}
		if p, known := w.Company().ByLogin(s.Owner); !known || p.Former {
			s.Owner = ""
		}
		all = append(all, s)
	}
	return all
}

// Import brings a catalog in. Every offering that is new or different becomes a
// draft; those without errors and warnings are published as well, when asked
// to. What has ended there ends here; what is new here and ended there comes as a
// draft. Services that are new here are made when it is said which team is home to
// them; without that their offerings are refused. Only services of the person, and
// new ones, are touched.
func (w *Designing) Import(ctx context.Context, person string, c offering.Catalog, how Importing) ([]Incoming, error) {
	if !w.DesignsAny(person) {
		return nil, ErrNotFound
	}
	fresh, err := w.fresh(person, c, how)
	if err != nil {
		return nil, err
	}
	incoming := make([]Incoming, len(c.Offerings))
	for i, d := range c.Offerings {
		_, isNew := fresh[d.Purpose.Service]
		if incoming[i], err = w.weigh(ctx, person, d, isNew); err != nil {
			return nil, err
		}
		if err = w.weighEnd(ctx, &incoming[i], c.Ended); err != nil {
			return nil, err
		}
	}
	if how.Preview {
		return incoming, nil
	}
	for _, q := range c.Shared {
		if err := w.ShareQuestion(ctx, person, q); err != nil {
			return nil, err
		}
	}
	err = w.Store.WriteAlone(ctx, func(tx *store.Tx) error {
		for _, s := range fresh {
			if err := tx.AddService(s); err != nil {
				return err
			}
		}
		for _, in := range incoming {
			if in.Does != "new" && in.Does != "changed" || in.Ends && len(in.Changes) == 0 {
				continue
			}
			seen, err := tx.VersionIn(ctx, in.Key, store.Draft)
			switch {
			case errors.Is(err, ErrNotFound):
				err = tx.AddDraft(in.document, person, w.Clock())
			case err == nil && seen.Revision != in.revision:
				err = conflict(refusal.DraftChanged, "%q was changed meanwhile. Nothing was imported.", in.Name)
			case err == nil:
				err = tx.SaveDraft(in.document, person, w.Clock())
			}
			if err != nil {
				return err
			}
		}
		if err := w.note(ctx, tx, person, audit.CatalogRead, "", "", audit.Change{Field: "offerings", After: itoa(len(incoming))}, audit.Change{Field: "new services", After: itoa(len(fresh))}); err != nil {
			return err
		}
		return w.endIncoming(ctx, tx, person, incoming)
	})
	if err == nil && slices.ContainsFunc(incoming, func(in Incoming) bool { return in.Ends }) {
		w.catalogChanged()
	}
	if err == nil && len(fresh) > 0 {
		err = w.companyChanged(ctx)
	}
	if err != nil || !how.Publish {
		return incoming, err
	}
	return incoming, w.publishClean(ctx, person, incoming)
}

// publishClean publishes what was imported without errors and warnings.
func (w *Designing) publishClean(ctx context.Context, person string, incoming []Incoming) error {
	for _, in := range incoming {
		if in.Does != "new" && in.Does != "changed" || in.Draft || in.Ends {
			continue
		}
		opened, err := w.latest(ctx, w.Store, person, in.Key)
		if err == nil {
			_, err = w.Publish(ctx, person, in.Key, Publishing{Revision: opened.Revision})
		}
		if _, refused := request.AsRefusal(err); err != nil && !refused {
			return err
		}
	}
	return nil
}

// weighEnd says what becomes of an offering that has ended where it comes from.
func (w *Designing) weighEnd(ctx context.Context, in *Incoming, ended []offering.Ended) error {
	at := slices.IndexFunc(ended, func(e offering.Ended) bool { return e.Key == in.Key })
	if at < 0 || in.Does == "refused" {
		return nil
	}
	in.ended = ended[at]
	if _, err := w.Store.Ended(ctx, in.Key); !errors.Is(err, ErrNotFound) {
		return err // it has ended here, too
	}
	_, err := w.Store.CurrentNumber(ctx, in.Key)
	if in.Draft = errors.Is(err, ErrNotFound); in.Draft {
		return nil
	}
	in.Ends, in.Does = true, "changed"
	return err
}

// endIncoming ends what has ended where it comes from. What took its place counts
// when it is offered here.
func (w *Designing) endIncoming(ctx context.Context, tx *store.Tx, person string, incoming []Incoming) error {
	for _, in := range incoming {
		if !in.Ends {
			continue
		}
		successor := in.ended.Successor
		if _, err := tx.CurrentNumber(ctx, successor); errors.Is(err, ErrNotFound) || successor == in.Key {
			successor = ""
		} else if err != nil {
			return err
		}
		if err := w.end(ctx, tx, person, in.Key, successor); err != nil {
			return err
		}
	}
	return nil
}

// weigh says what would become of an offering.
func (w *Designing) weigh(ctx context.Context, person string, d offering.Document, isNew bool) (Incoming, error) {
	d.Audience = d.Audience.Settled(w.Company())
	in := Incoming{Key: d.Key, Name: d.Purpose.Name, Changes: []offering.Change{}, Findings: finding.List{}, document: d}
	if _, here := w.Company().Service(d.Purpose.Service); !here && !isNew {
		in.Does, in.Why = "refused", fmt.Sprintf("The service %q is new here: say first which team is home to it.", d.Purpose.Service)
		return in, nil
	}
	if !isNew && !w.designs(person, d.Purpose.Service) {
		in.Does, in.Why = "refused", fmt.Sprintf("The service %q is not yours.", d.Purpose.Service)
		return in, nil
	}
	versions, err := w.Store.Versions(ctx, d.Key)
	if err != nil {
		return in, err
	}
	_, in.Findings = offering.Examine(d, 1, w.checked(person))
	if isNew { // it comes with the offering
		in.Findings = slices.DeleteFunc(in.Findings, func(f finding.Finding) bool { return f.Place == "/purpose/service" })
	}
	if len(versions) == 0 {
		in.Does = "new"
		return in, nil
	}
	kept, err := w.latest(ctx, w.Store, person, d.Key)
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
