package work

import (
	"context"
	"slices"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// RoleView is a role that somebody has, or that waits for another administrator's yes.
type RoleView struct {
	Person people.Person
	Role   string
	By     string // name of who asked for it; empty for a role that is given
}

// Roles lists who has which role, and who is to have one, to administrators and
// auditors.
func (w *Keeping) Roles(ctx context.Context, person string) ([]RoleView, error) {
	if !w.Audits(person) {
		return nil, ErrNotFound
	}
	var all []RoleView
	for _, p := range w.Company().Persons() {
		for _, role := range p.Roles {
			if !p.Former {
				all = append(all, RoleView{p, role, ""})
			}
		}
	}
	asked, err := w.Store.RolesAsked(ctx)
	for _, a := range asked {
		p, _ := w.Company().Person(a.Person)
		all = append(all, RoleView{p, a.Role, w.Company().Name(a.AskedBy)})
	}
	return all, err
}

// GiveRole gives somebody a role, by an administrator who is not themself. The roles of
// administrator and auditor wait for another administrator's yes, while there is one.
func (w *Keeping) GiveRole(ctx context.Context, actor, person, role string) (waits bool, err error) {
	p, ok := w.Company().Person(person)
	switch {
	case !w.Administers(actor):
		return false, ErrNotFound
	case !slices.Contains(people.Roles, role):
		return false, invalid(refusal.UnknownRole, "/role", "There is no role %q.", role)
	case !ok || p.Former:
		return false, invalid(refusal.UnknownPerson, "/person", "There is no such person.")
	case actor == person:
		return false, conflict(refusal.OwnRole, "Nobody gives themself a role: another administrator can.")
	case p.Is(role):
		return false, conflict(refusal.HasRole, "%s has this role already.", p.Name)
	}
	waits = (role == people.Administrator || role == people.Auditor) && len(w.administrators()) > 1
	if waits {
		err = w.Store.Write(ctx, func(tx *store.Tx) error {
			if err := tx.AskRole(store.RoleAsked{Person: person, Role: role, AskedBy: actor}, w.Clock()); err != nil {
				return err
			}
			return w.note(ctx, tx, actor, audit.RoleAsked, person, p.Name, audit.Change{Field: "role", After: role})
		})
		return true, err
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error { return w.giveRole(ctx, tx, actor, p, role) })
	if err != nil {
		return false, err
	}
	return false, w.companyChanged(ctx, actor, person)
}

func (w *Keeping) giveRole(ctx context.Context, tx *store.Tx, actor string, p people.Person, role string) error {
	if err := tx.SetRoles(p.ID, append(slices.Clone(p.Roles), role)); err != nil {
		return err
	}
	var d duties
	d.add(p.ID, "You have the role of %s now.", role)
	if err := d.tell(ctx, w.kernel, tx, actor); err != nil {
		return err
	}
	return w.note(ctx, tx, actor, audit.RoleGiven, p.ID, p.Name, audit.Change{Field: "role", After: role})
}

// AnswerRole lets somebody have a role that was asked for, or not, by an administrator
// who is neither they nor who asked.
func (w *Keeping) AnswerRole(ctx context.Context, actor, person, role string, yes bool) error {
	if !w.Administers(actor) {
		return ErrNotFound
	}
	p, _ := w.Company().Person(person)
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		asked, err := tx.RolesAsked(ctx)
		if err != nil {
			return err
		}
		at := slices.IndexFunc(asked, func(a store.RoleAsked) bool { return a.Person == person && a.Role == role })
		switch {
		case at < 0 || p.Former:
			return ErrNotFound
		case yes && (actor == person || actor == asked[at].AskedBy):
			return conflict(refusal.OwnRole, "Who asked for a role, or is to have it, does not say yes to it: another administrator does.")
		}
		if err := tx.DropRoleAsked(person, role); err != nil {
			return err
		}
		if !yes {
			return w.note(ctx, tx, actor, audit.RoleRefused, person, p.Name, audit.Change{Field: "role", After: role})
		}
		return w.giveRole(ctx, tx, actor, p, role)
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx, actor, person)
}

// TakeRole takes a role away, by an administrator; nobody is left without one.
func (w *Keeping) TakeRole(ctx context.Context, actor, person, role string) error {
	p, _ := w.Company().Person(person)
	if !w.Administers(actor) || !p.Is(role) {
		return ErrNotFound
	}
	if role == people.Administrator {
		if err := w.staysAdministered([]people.Person{p}); err != nil {
			return err
		}
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.SetRoles(person, slices.DeleteFunc(slices.Clone(p.Roles), func(r string) bool { return r == role })); err != nil {
			return err
		}
		var d duties
		d.add(person, "You no longer have the role of %s.", role)
		if err := d.tell(ctx, w.kernel, tx, actor); err != nil {
			return err
		}
		return w.note(ctx, tx, actor, audit.RoleTaken, person, p.Name, audit.Change{Field: "role", Before: role})
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx, actor, person)
}
