package work

import (
	"context"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// granted is what all services may use, as it is now.
type granted struct {
	of        map[string][]plan.Grant // by service
	sensitive map[string][]string
}

// readGrants reads anew what services may use.
func (k *kernel) readGrants(ctx context.Context) error {
	rows, err := k.Store.Grants(ctx)
	if err != nil {
		return err
	}
	values, err := k.Store.SensitiveValues(ctx)
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
	k.granted.Store(&g)
	k.age.frame.Add(1)
	return nil
}

// grantsOf is what the offerings of a service may use.
func (k *kernel) grantsOf(service string) plan.Grants {
	g := k.granted.Load()
	return plan.Grants{All: g.of[service], Sensitive: g.sensitive}
}

// Grants lists what services may use, to administrators.
func (w *Connecting) Grants(ctx context.Context, person string) ([]store.Grant, error) {
	if !w.Administers(person) {
		return nil, ErrNotFound
	}
	return w.Store.Grants(ctx)
}

// Grant lets the offerings of a service use an action, by an administrator.
func (w *Connecting) Grant(ctx context.Context, person, service string, g plan.Grant) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	return w.SetGrant(ctx, person, service, g)
}

// SetGrant lets the offerings of a service use an action, as the program says
// that has started it.
func (w *Connecting) SetGrant(ctx context.Context, person, service string, g plan.Grant) error {
	if _, ok := w.Company().Service(service); !ok {
		return invalid(refusal.UnknownService, "/service", "There is no service %q.", service)
	}
	if trouble := plan.GoodGrant(g, w.described); trouble != "" {
		return invalid(refusal.Grant, "/action", "%s", trouble)
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := w.note(ctx, tx, person, audit.GrantGiven, service, w.serviceName(service), audit.Change{Field: "action", After: g.Connector + " " + g.Action}); err != nil {
			return err
		}
		return tx.SaveGrant(store.Grant{Service: service, Grant: g, By: person, At: w.Clock()})
	})
	if err != nil {
		return err
	}
	return w.readGrants(ctx)
}

// Revoke takes a grant away, by an administrator. What runs stops at its next
// call of the action, where it is stuck with that reason.
func (w *Connecting) Revoke(ctx context.Context, person, service, connector, action string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := w.note(ctx, tx, person, audit.GrantTaken, service, w.serviceName(service), audit.Change{Field: "action", Before: connector + " " + action}); err != nil {
			return err
		}
		return tx.DropGrant(service, connector, action)
	})
	if err != nil {
		return err
	}
	return w.readGrants(ctx)
}
