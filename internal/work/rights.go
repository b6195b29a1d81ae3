package work

import (
	"context"
	"slices"

	"heptad/internal/core/people"
)

// Has reports whether a person has a role.
func (o *Office) Has(person, role string) bool {
	p, _ := o.Company().Person(person)
	return p.Is(role)
}

// administers reports whether a person is an administrator.
func (o *Office) administers(person string) bool { return o.Has(person, people.Administrator) }

// Writes reports whether a person has a say in what all offerings share: owners of
// services and administrators do.
func (o *Office) Writes(person string) bool { return o.administers(person) || len(o.Owned(person)) > 0 }

// Roles that follow from the company.
const (
	ownerRole = "owner"
	leadRole  = "lead"
)

// RolesOf lists the roles of a person: those given to them, and that they own a
// service or lead a team.
func (o *Office) RolesOf(person string) []string {
	p, _ := o.Company().Person(person)
	roles := slices.Clone(p.Roles)
	if len(o.Owned(person)) > 0 {
		roles = append(roles, ownerRole)
	}
	if slices.ContainsFunc(o.Company().Teams(), func(t people.Team) bool { return t.Lead == person }) {
		roles = append(roles, leadRole)
	}
	return roles
}

// MayDesign is ErrNotFound for those who do not own the service of an offering.
func (o *Office) MayDesign(ctx context.Context, person, key string) error {
	service, err := o.Store.ServiceOf(ctx, key)
	if err == nil && !o.owns(person, service) {
		err = ErrNotFound
	}
	return err
}

// Concerns is ErrNotFound for those to whom a request is no business at all.
func (o *Office) Concerns(ctx context.Context, person, id string) error {
	state, err := o.Store.Request(ctx, id)
	if err == nil && !o.Viewer(person, state).Any() {
		err = ErrNotFound
	}
	return err
}
