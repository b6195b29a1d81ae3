package work

import (
	"context"
	"slices"

	"heptad/internal/core/people"
	"heptad/internal/core/request"
)

// Has reports whether a person has a role.
func (k *kernel) Has(person, role string) bool {
	p, _ := k.Company().Person(person)
	return p.Is(role)
}

// Administers reports whether a person is an administrator.
func (k *kernel) Administers(person string) bool { return k.Has(person, people.Administrator) }

// Writes reports whether a person has a say in what all offerings share: owners of
// services and administrators do.
func (k *kernel) Writes(person string) bool {
	return k.Administers(person) || k.DesignsAny(person)
}

// Roles that follow from the company.
const (
	ownerRole = "owner"
	leadRole  = "lead"

	editorRole = "editor"
)

// RolesOf lists the roles of a person: those given to them, and that they own a
// service or lead a team.
func (k *kernel) RolesOf(person string) []string {
	p, _ := k.Company().Person(person)
	roles := slices.Clone(p.Roles)
	if len(k.Owned(person)) > 0 {
		roles = append(roles, ownerRole)
	} else if k.DesignsAny(person) {
		roles = append(roles, editorRole)
	}
	if k.Company().LeadsAny(person) {
		roles = append(roles, leadRole)
	}
	return roles
}

// Designed lists the services whose offerings a person designs: as their owner, or as
// one of their editors.
func (k *kernel) Designed(person string) []people.Service {
	return k.Company().Designed(person)
}

// DesignsAny reports whether a person has a place on Design: they design a service, or own
// an area, in which they make the first one.
func (k *kernel) DesignsAny(person string) bool {
	return len(k.Designed(person)) > 0 || k.Company().OwnsArea(person)
}

func (k *kernel) designs(person, service string) bool {
	s, ok := k.Company().Service(service)
	return ok && k.Company().Designs(person, s)
}

// Owned lists the services a person owns.
func (k *kernel) Owned(person string) []people.Service {
	return k.Company().Owned(person)
}

// serviceName is the name of a service, or its key when it is unknown.
func (k *kernel) serviceName(key string) string {
	if s, ok := k.Company().Service(key); ok {
		return s.Name
	}
	return key
}

func (k *kernel) owns(person, service string) bool {
	s, ok := k.Company().Service(service)
	return ok && s.Owner == person
}

// leads reports whether a person is the lead of a team.
func (k *kernel) leads(person, team string) bool {
	t, ok := k.Company().Team(team)
	return ok && t.Lead == person
}

// TeamsOf lists the teams that a person is in, whose tasks they may see.
func (k *kernel) TeamsOf(person string) []string {
	p, _ := k.Company().Person(person)
	return p.Teams
}

// Viewer tells what a person is to a request.
func (k *kernel) Viewer(person string, s request.State) request.Viewer {
	service, _ := k.Company().Service(s.Service)
	return s.ViewerOf(person, k.Company(), service)
}

// MayDesign is ErrNotFound for those who do not design the service of an offering.
func (k *kernel) MayDesign(ctx context.Context, person, key string) error {
	service, err := k.Store.ServiceOf(ctx, key)
	if err == nil && !k.designs(person, service) {
		err = ErrNotFound
	}
	return err
}

// Concerns is ErrNotFound for those to whom a request is no business at all.
func (k *kernel) Concerns(ctx context.Context, person, id string) error {
	if brief, err := k.Store.Glance(ctx, id); err == nil && k.Viewer(person, brief).Any() { // else the whole state tells
		return nil
	}
	state, err := k.Store.Request(ctx, id)
	if err == nil && !k.Viewer(person, state).Any() {
		err = ErrNotFound
	}
	return err
}
