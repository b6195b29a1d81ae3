package work

import (
	"context"
	"fmt"
	"strings"

	"heptad/internal/core/plan"
	"heptad/internal/store"
)

// granted is what all services may use, as it is now.
type granted struct {
	of        map[string][]plan.Grant // by service
	sensitive map[string][]string
}

// readGrants reads anew what services may use.
func (o *Office) readGrants(ctx context.Context) error {
	rows, err := o.Store.Grants(ctx)
	if err != nil {
		return err
	}
	values, err := o.Store.SensitiveValues(ctx)
	if err != nil {
		return err
	}
	g := granted{map[string][]plan.Grant{}, map[string][]string{}}
	for _, row := range rows {
		g.of[row.Service] = append(g.of[row.Service], row.Grant)
	}
	for key, lines := range values {
		for line := range strings.Lines(lines) {
			if line = strings.TrimSpace(line); line != "" {
				g.sensitive[key] = append(g.sensitive[key], line)
			}
		}
	}
	o.granted.Store(&g)
	return nil
}

// grantsOf is what the offerings of a service may use.
func (o *Office) grantsOf(service string) plan.Grants {
	g := o.granted.Load()
	return plan.Grants{All: g.of[service], Sensitive: g.sensitive}
}

// Grants lists what services may use, to administrators.
func (o *Office) Grants(ctx context.Context, person string) ([]store.Grant, error) {
	if !o.administers(person) {
		return nil, ErrNotFound
	}
	return o.Store.Grants(ctx)
}

// Grant lets the offerings of a service use an action, by an administrator.
func (o *Office) Grant(ctx context.Context, person, service string, g plan.Grant) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	return o.SetGrant(ctx, person, service, g)
}

// SetGrant lets the offerings of a service use an action, as the program says
// that has started it.
func (o *Office) SetGrant(ctx context.Context, person, service string, g plan.Grant) error {
	if _, ok := o.Company().Service(service); !ok {
		return invalid("unknownService", "/service", "There is no service %q.", service)
	}
	if trouble := plan.GoodGrant(g, o.described); trouble != "" {
		return invalid("grant", "/action", "%s", trouble)
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.SaveGrant(store.Grant{Service: service, Grant: g, By: person, At: o.Clock()})
	})
	if err != nil {
		return err
	}
	return o.readGrants(ctx)
}

// Revoke takes a grant away, by an administrator. What runs stops at its next
// call of the action, where it is stuck with that reason.
func (o *Office) Revoke(ctx context.Context, person, service, connector, action string) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	if err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropGrant(service, connector, action) }); err != nil {
		return err
	}
	return o.readGrants(ctx)
}

// mayCall says why the service of a request may not make a call; empty when it
// may. What was done may always be taken back.
func (o *Office) mayCall(ctx context.Context, e store.Effect) (string, error) {
	if e.Undoes != "" {
		return "", nil
	}
	state, err := o.Store.Request(ctx, e.Request)
	if err != nil {
		return "", err
	}
	if _, ok := o.grantsOf(state.Service).Of(e.Connector, e.Do); !ok {
		service, _ := o.Company().Service(state.Service)
		return fmt.Sprintf("%s may not use this action any more: an administrator has to grant it.", service.Name), nil
	}
	return "", nil
}
