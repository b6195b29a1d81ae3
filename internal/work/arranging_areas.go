package work

import (
	"context"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// ownsArea reports whether a person owns an area.
func (w *Arranging) ownsArea(person, area string) bool {
	a, ok := w.Company().Area(area)
	return ok && a.Owner != "" && a.Owner == person
}

// AreasOf lists the areas in which a person has a say: their own, and those with services
// they design.
func (w *Arranging) AreasOf(person string) []people.Area {
	var list []people.Area
	in := map[string]bool{}
	for _, s := range w.Designed(person) {
		in[s.Area] = true
	}
	for _, a := range w.Company().Areas() {
		if in[a.Name] || w.ownsArea(person, a.Name) {
			list = append(list, a)
		}
	}
	return list
}

// SaveArea keeps what an area is, by who owns it. Another name moves all its services
// along. Who owns it stays as it was.
func (w *Arranging) SaveArea(ctx context.Context, person, name string, a people.Area) error {
	before, _ := w.Company().Area(name)
	if !w.ownsArea(person, name) {
		return ErrNotFound
	}
	a.Name, a.Owner = strings.TrimSpace(a.Name), before.Owner
	for _, p := range people.CheckArea(a) {
		return invalid(p.Code, "/"+p.Field, "%s", p.Sentence)
	}
	if other, taken := w.Company().Area(a.Name); taken && other.Name != before.Name {
		return invalid(refusal.NameTaken, "/name", "There is an area %q already: name this one otherwise.", other.Name)
	}
	if _, ok := w.Company().Team(a.Home); a.Home != "" && !ok {
		return invalid(refusal.UnknownTeam, "/home", "Choose a home team.")
	}
	if err := w.goodLook(a.Owner, a.Editors, a.Starts, a.Review, a.Picture); err != nil {
		return err
	}
	changes := w.changes(asService(before), asService(a))
	if len(changes) == 0 {
		return nil
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if a.Name != before.Name {
			if err := tx.RenameArea(before.Name, a.Name); err != nil {
				return err
			}
		}
		if err := tx.AddCompany(people.Records{Areas: []people.Area{a}}); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.AreaSaved, a.Name, a.Name, changes...)
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}

// asService is an area as far as it is told like a service.
func asService(a people.Area) people.Service {
	return people.Service{
		Name: a.Name, Text: a.Text, Home: a.Home, Editors: a.Editors, Second: a.Second, Words: a.Words, Starts: a.Starts, Review: a.Review, Place: a.Place, Picture: a.Picture,
	}
}

// Hanging is what hangs on a service, or on all services of an area: what moves, is
// renamed or ends with it.
type Hanging struct {
	Services  []people.Service
	Offerings []store.Hung
	UnderWay  int // requests that are not closed; they go on to their end
	Grants    int // what it may use of other systems
}

// HangingOn tells what hangs on a service or an area, to those who change it.
func (w *Arranging) HangingOn(ctx context.Context, person, service, area string) (Hanging, error) {
	h := Hanging{Services: []people.Service{}, Offerings: []store.Hung{}}
	for _, s := range w.Company().Services() {
		if s.Key == service || area != "" && s.Area == area {
			h.Services = append(h.Services, s)
		}
	}
	may := w.Administers(person) || w.owns(person, service) || w.ownsArea(person, area)
	if _, known := w.Company().Area(area); !may || service != "" && len(h.Services) == 0 || area != "" && !known {
		return h, ErrNotFound
	}
	for _, s := range h.Services {
		hung, err := w.Store.HangingOn(ctx, s.Key)
		if err != nil {
			return h, err
		}
		n, err := w.Store.UnderWayIn(ctx, s.Key)
		if err != nil {
			return h, err
		}
		h.Offerings, h.UnderWay = append(h.Offerings, hung...), h.UnderWay+n
	}
	grants, err := w.Store.Grants(ctx)
	for _, g := range grants {
		if slices.ContainsFunc(h.Services, func(s people.Service) bool { return s.Key == g.Service }) {
			h.Grants++
		}
	}
	return h, err
}

// DropArea takes an area away that has no services, by an administrator or who owns it.
func (w *Arranging) DropArea(ctx context.Context, person, name string) error {
	a, ok := w.Company().Area(name)
	if !ok || !w.Administers(person) && !w.ownsArea(person, name) {
		return ErrNotFound
	}
	for _, s := range w.Company().Services() {
		if s.Area == a.Name {
			return conflict(refusal.AreaUsed, "The service %s is in it: move it to another area first, or end the area.", s.Name)
		}
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.DropArea(a.Name); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.AreaDropped, a.Name, a.Name)
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}
