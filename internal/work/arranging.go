package work

import (
	"context"
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/picture"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Arranging keeps the portfolio: areas and services, and the bundles that offerings name.
type Arranging struct{ *kernel }

// SaveService keeps what a service is, by who owns it or an administrator; one without a
// key is new, and whoever makes it owns it. What hangs on it stays.
func (w *Arranging) SaveService(ctx context.Context, person string, s people.Service) (people.Service, error) {
	before, known := w.Company().Service(s.Key)
	switch {
	case s.Key == "" && len(w.Owned(person)) == 0 && !w.Administers(person) && !w.Company().OwnsArea(person), s.Key != "" && (!known || before.Owner != person && !w.Administers(person)):
		return s, ErrNotFound
	case s.Key == "" && !w.mayAdd(person, s.Area):
		return s, invalid(refusal.NotYourArea, "/area", "New services in this area are made by its owner.")
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
	changes := w.changes(before, s)
	if len(changes) == 0 {
		return s, nil
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		records := people.Records{Services: []people.Service{s}}
		if _, there := w.Company().Area(s.Area); !there { // whoever makes its first service owns a new area
			records.Areas = []people.Area{{Name: s.Area, Owner: person, Place: people.Offered}}
			if err := w.note(ctx, tx, person, audit.AreaSaved, s.Area, s.Area, audit.Change{Field: "owner", After: w.Company().Name(person)}); err != nil {
				return err
			}
		}
		if err := tx.AddCompany(records); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.ServiceSaved, s.Key, s.Name, changes...)
	})
	if err != nil {
		return s, err
	}
	return s, w.companyChanged(ctx)
}

// mayAdd reports whether somebody may make services in an area: who designs all of it, who
// owns one in it already, administrators; anybody who owns a service while nobody owns it.
func (w *Arranging) mayAdd(person, area string) bool {
	a, there := w.Company().Area(area)
	return !there || a.Owner == "" || a.Owner == person || w.Administers(person) || slices.Contains(a.Editors, person) ||
		slices.ContainsFunc(w.Owned(person), func(s people.Service) bool { return s.Area == a.Name })
}

// goodService finds what is wrong with what a service names.
func (w *Arranging) goodService(s people.Service) error {
	if _, ok := w.Company().Team(s.Home); !ok {
		return invalid(refusal.UnknownTeam, "/home", "Choose a home team.")
	}
	if s.Second && len(w.Company().Designers(s)) < 2 {
		return invalid(refusal.NoSecond, "/second", "Nobody could say the second yes: name an editor beside the owner.")
	}
	return w.goodLook(s.Owner, s.Editors, s.Starts, s.Review, s.Picture)
}

// goodLook finds what is wrong with what areas and services both have.
func (w *Arranging) goodLook(owner string, editors []string, starts, review, drawing string) error {
	for _, id := range editors {
		if p, ok := w.Company().Person(id); !ok || p.Former || id == owner {
			return invalid(refusal.UnknownPerson, "/editors", "Choose editors of the company, beside the owner.")
		}
	}
	for place, day := range map[string]string{"/starts": starts, "/review": review} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			return invalid(refusal.BadDate, place, "%q is no date.", day)
		}
	}
	if !picture.Good(drawing) {
		return invalid(refusal.Emblem, "/picture", "Choose a picture of at most 60 kB: PNG, JPEG, WebP, or an SVG of plain shapes.")
	}
	return nil
}

// changes are what is other of a service, in words.
func (w *Arranging) changes(a, b people.Service) (changes []audit.Change) {
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

func (w *Arranging) names(ids []string) []string {
	names := make([]string, len(ids))
	for i, id := range ids {
		names[i] = w.Company().Name(id)
	}
	return names
}

// SetPlace moves a service in the portfolio.
func (w *Arranging) SetPlace(ctx context.Context, person, service string, place people.Place) error {
	if !w.owns(person, service) {
		return ErrNotFound
	}
	s, _ := w.Company().Service(service)
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := w.note(ctx, tx, person, audit.PortfolioSet, service, s.Name, audit.Changed(nil, "place", string(s.Place), string(place))...); err != nil {
			return err
		}
		return tx.SetPlace(service, place)
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}
