package store

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/plan"
)

// Grant lets the offerings of a service use an action of a connector.
type Grant struct {
	Service string // key
	plan.Grant
	By string // ID of who granted it; empty for the program
	At time.Time
}

// SaveGrant keeps a grant, in place of the one of the same action and service.
func (t *Tx) SaveGrant(g Grant) error {
	terms, err := json.Marshal(g.Grant)
	if err != nil {
		return err
	}
	return t.exec(`INSERT INTO grants (service, connector, action, terms, granted_by, granted_at) VALUES (?,?,?,?,?,?)
		ON CONFLICT DO UPDATE SET terms = excluded.terms, granted_by = excluded.granted_by, granted_at = excluded.granted_at`, g.Service, g.Connector, g.Action, string(terms), g.By, millis(g.At))
}

// DropGrant takes a grant away; ErrNotFound when it is not there.
func (t *Tx) DropGrant(service, connector, action string) error {
	done, err := t.tx.ExecContext(t.ctx, "DELETE FROM grants WHERE service = ? AND connector = ? AND action = ?", service, connector, action)
	if err != nil {
		return err
	}
	if n, err := done.RowsAffected(); err != nil || n == 0 {
		return ErrNotFound
	}
	return nil
}

// Grants lists all of them, by service, connector and action.
func (r ofCompany) Grants(ctx context.Context) ([]Grant, error) {
	var rows []struct {
		Service, Terms string
		GrantedBy      string `db:"granted_by"`
		GrantedAt      int64  `db:"granted_at"`
	}
	if err := r.all(ctx, &rows, "SELECT service, terms, granted_by, granted_at FROM grants ORDER BY service, connector, action"); err != nil {
		return nil, err
	}
	all := make([]Grant, len(rows))
	for i, row := range rows {
		all[i] = Grant{Service: row.Service, By: row.GrantedBy, At: instant(row.GrantedAt)}
		if err := json.Unmarshal([]byte(row.Terms), &all[i].Grant); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// SensitiveValues are the values that need more care, by key of the connector.
func (r ofCompany) SensitiveValues(ctx context.Context) (map[string]string, error) {
	var rows []struct{ Key, Sensitive string }
	if err := r.all(ctx, &rows, "SELECT key, sensitive FROM connectors WHERE sensitive <> ''"); err != nil {
		return nil, err
	}
	all := map[string]string{}
	for _, row := range rows {
		all[row.Key] = row.Sensitive
	}
	return all, nil
}
