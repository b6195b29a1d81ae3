package work

import (
	"context"
	"crypto/rand"
	"errors"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/signin"
	"heptad/internal/store"
)

// Service is the sign-in service of the company, and what becomes of who comes from it.
type Service struct {
	*signin.Provider
	Name  string            // as it stands at the door
	Make  bool              // somebody unknown is made; else they are refused
	Roles map[string]string // role by group; such a role comes and goes with its group
}

// EnterFrom signs in whom the sign-in service names: the first time by a mail address it
// knows to be theirs, then by its subject, whatever address they have.
func (w *Entering) EnterFrom(ctx context.Context, id signin.Identity) (string, error) {
	var p people.Person
	changed := false
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if p, err = w.tied(ctx, tx, id); err != nil {
			return err
		}
		before, known := w.Company().Person(p.ID)
		if err := w.rolesBy(ctx, tx, &p, id.Groups); err != nil {
			return err
		}
		changed = !known || !slices.Equal(before.Roles, p.Roles)
		return nil
	})
	if err != nil {
		if isRefusal(err) {
			return "", errors.Join(err, w.noteAlone(ctx, "", audit.SignInFailed, p.ID, id.Name, audit.Change{Field: "why", After: err.Error()}))
		}
		return "", err
	}
	if !changed {
		return p.ID, nil
	}
	return p.ID, w.companyChanged(ctx, p.ID)
}

// tied finds, or makes, the person that an identity is of.
func (w *Entering) tied(ctx context.Context, tx *store.Tx, id signin.Identity) (people.Person, error) {
	person, err := tx.Subject(ctx, id.Issuer, id.Subject)
	if err == nil {
		p, _ := w.Company().Person(person)
		if p.Former {
			return p, conflict(refusal.NotHere, "You are not with the company any more.")
		}
		return p, nil
	}
	if !errors.Is(err, ErrNotFound) {
		return people.Person{}, err
	}
	if id.Email == "" || !id.Verified {
		return people.Person{}, conflict(refusal.NotHere, "The sign-in service tells no mail address that it knows to be yours, so nobody can tell who you are here. Tell an administrator.")
	}
	p, ok := w.Company().ByEmail(id.Email)
	if !ok {
		if !w.Service.Make {
			return p, conflict(refusal.NotHere, "Nobody here has the mail address %s. Tell an administrator.", id.Email)
		}
		if p, err = w.made(ctx, tx, id); err != nil {
			return p, err
		}
	}
	if err := tx.TieSubject(id.Issuer, id.Subject, p.ID, w.Clock()); err != nil {
		return p, err
	}
	return p, w.note(ctx, tx, p.ID, audit.AddressTied, p.ID, p.Name, audit.Change{Field: "service", After: id.Issuer})
}

// made makes somebody of whom the sign-in service tells first.
func (w *Entering) made(ctx context.Context, tx *store.Tx, id signin.Identity) (people.Person, error) {
	p := people.Person{ID: rand.Text(), Login: id.Login, Name: id.Name, Email: id.Email}
	if p.Login == "" {
		p.Login, _, _ = strings.Cut(id.Email, "@")
	}
	if _, taken := w.Company().ByLogin(p.Login); taken {
		return p, conflict(refusal.NotHere, "Somebody else here has the login %q. Tell an administrator.", p.Login)
	}
	for _, problem := range people.CheckPerson(p) {
		return p, conflict(refusal.NotHere, "What the sign-in service tells of you cannot be kept: %s Tell an administrator.", problem.Sentence)
	}
	if err := tx.AddCompany(people.Records{Persons: []people.Person{p}}); err != nil {
		return p, err
	}
	return p, w.note(ctx, tx, "", audit.PersonAdded, p.ID, p.Name, audit.Change{Field: "by", After: id.Issuer})
}

// rolesBy gives the roles of somebody's groups, and takes those whose group they are not
// in. Nobody is left without an administrator by it.
func (w *Entering) rolesBy(ctx context.Context, tx *store.Tx, p *people.Person, groups []string) error {
	roles := slices.Clone(p.Roles)
	wanted := map[string]bool{} // roles that a group gives
	for group, role := range w.Service.Roles {
		wanted[role] = wanted[role] || slices.Contains(groups, group)
	}
	for _, role := range people.Roles {
		gives, managed := wanted[role]
		has := slices.Contains(roles, role)
		switch {
		case !managed || gives == has:
		case gives:
			roles = append(roles, role)
			if err := w.note(ctx, tx, "", audit.RoleGiven, p.ID, p.Name, audit.Change{Field: "role", After: role}, audit.Change{Field: "by", After: "the groups of the sign-in service"}); err != nil {
				return err
			}
		case role != people.Administrator || w.staysAdministered([]people.Person{*p}) == nil:
			roles = slices.DeleteFunc(roles, func(r string) bool { return r == role })
			if err := w.note(ctx, tx, "", audit.RoleTaken, p.ID, p.Name, audit.Change{Field: "role", Before: role}, audit.Change{Field: "by", After: "the groups of the sign-in service"}); err != nil {
				return err
			}
		}
	}
	if slices.Equal(roles, p.Roles) {
		return nil
	}
	p.Roles = roles
	return tx.SetRoles(p.ID, roles)
}
