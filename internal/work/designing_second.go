package work

import (
	"context"
	"errors"
	"fmt"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/picture"
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
	return c != nil && len(c.Barred) > 0
}

// needsSecond reports whether publishing a draft needs another's yes: when its service
// says so, or the one it is offered in now. It gives the one that does.
func (w *Designing) needsSecond(ctx context.Context, tx *store.Tx, draft Opened) (people.Service, bool, error) {
	service, _ := w.Company().Service(draft.Document.Purpose.Service)
	if service.Second {
		return service, true, nil
	}
	current, err := tx.VersionIn(ctx, draft.Document.Key, store.Current)
	if err != nil {
		return service, false, ignoreMissing(err)
	}
	service, _ = w.Company().Service(current.Document.Purpose.Service)
	return service, service.Second, nil
}

// askSecond has a draft wait, in the revision it has, for the yes of another of those who
// design its service; they are told.
func (w *Designing) askSecond(ctx context.Context, tx *store.Tx, person string, service people.Service, draft Opened, p Publishing) error {
	asked := store.PublishingAsked{Offering: draft.Document.Key, Revision: draft.Revision, Accepted: p.Accepted, PublishAt: p.At, AskedBy: person, AskedAt: w.Clock()}
	if err := tx.AskPublishing(asked); err != nil {
		return err
	}
	for _, other := range append([]string{service.Owner}, service.Editors...) {
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
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
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

// SaveService keeps what a service is, by who owns it or an administrator; one without a
// key is new, and whoever makes it owns it. What hangs on it stays.
func (w *Designing) SaveService(ctx context.Context, person string, s people.Service) (people.Service, error) {
	before, known := w.Company().Service(s.Key)
	switch {
	case s.Key == "" && len(w.Owned(person)) == 0 && !w.Administers(person), s.Key != "" && (!known || before.Owner != person && !w.Administers(person)):
		return s, ErrNotFound
	case s.Key == "":
		s.Key, s.Owner = people.KeyOf(s.Name), person
		if s.Place == "" {
			s.Place = people.Offered
		}
		if _, taken := w.Company().Service(s.Key); taken {
			return s, invalid(refusal.NameTaken, "/name", "There is a service %q already: name this one otherwise.", s.Name)
		}
	default:
		s.Owner = before.Owner
	}
	for _, p := range people.CheckService(s) {
		return s, invalid(p.Code, "/"+p.Field, "%s", p.Sentence)
	}
	if err := w.goodService(s); err != nil {
		return s, err
	}
	changes := w.serviceChanges(before, s)
	if len(changes) == 0 {
		return s, nil
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.AddCompany(people.Records{Services: []people.Service{s}}); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.ServiceSaved, s.Key, s.Name, changes...)
	})
	if err != nil {
		return s, err
	}
	return s, w.companyChanged(ctx)
}

// goodService finds what is wrong with what a service names.
func (w *Designing) goodService(s people.Service) error {
	if _, ok := w.Company().Team(s.Home); !ok {
		return invalid(refusal.UnknownTeam, "/home", "Choose a home team.")
	}
	for _, id := range s.Editors {
		if p, ok := w.Company().Person(id); !ok || p.Former || id == s.Owner {
			return invalid(refusal.UnknownPerson, "/editors", "Choose editors of the company, beside the owner.")
		}
	}
	if s.Second && len(s.Editors) == 0 {
		return invalid(refusal.NoSecond, "/second", "Nobody could say the second yes: name an editor beside the owner.")
	}
	for place, day := range map[string]string{"/starts": s.Starts, "/review": s.Review} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			return invalid(refusal.BadDate, place, "%q is no date.", day)
		}
	}
	if !picture.Good(s.Picture) {
		return invalid(refusal.Emblem, "/picture", "Choose a picture of at most 60 kB: PNG, JPEG, WebP, or an SVG of plain shapes.")
	}
	return nil
}

func (w *Designing) serviceChanges(a, b people.Service) (changes []audit.Change) {
	for _, f := range []struct{ field, before, after string }{
		{"name", a.Name, b.Name}, {"area", a.Area, b.Area}, {"text", a.Text, b.Text}, {"home", w.Company().TeamName(a.Home), w.Company().TeamName(b.Home)},
		{"editors", fmt.Sprint(w.names(a.Editors)), fmt.Sprint(w.names(b.Editors))}, {"second", fmt.Sprint(a.Second), fmt.Sprint(b.Second)},
		{"words", a.Words, b.Words}, {"starts", a.Starts, b.Starts}, {"review", a.Review, b.Review}, {"place", string(a.Place), string(b.Place)},
	} {
		changes = audit.Changed(changes, f.field, f.before, f.after)
	}
	if a.Picture != b.Picture {
		changes = append(changes, audit.Change{Field: "picture", After: "(another picture)"})
	}
	return changes
}

func (w *Designing) names(ids []string) []string {
	names := make([]string, len(ids))
	for i, id := range ids {
		names[i] = w.Company().Name(id)
	}
	return names
}
