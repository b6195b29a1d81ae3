package store

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/organisation"
)

// Organisation is what the installation is told of the company; ErrNotFound when nobody
// has said.
func (r ofCompany) Organisation(ctx context.Context) (o organisation.Organisation, err error) {
	var document string
	if err := r.get(ctx, &document, "SELECT document FROM organisation"); err != nil {
		return o, err
	}
	return o, json.Unmarshal([]byte(document), &o)
}

// SaveOrganisation keeps what the installation is told of the company.
func (t companyTx) SaveOrganisation(o organisation.Organisation) error {
	document, err := json.Marshal(o)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO organisation (id, document) VALUES (1, ?) ON CONFLICT (id) DO UPDATE SET document = excluded.document", string(document))
}

// MovedIn is when moving in was ended; zero while it goes on.
func (r ofCompany) MovedIn(ctx context.Context) (time.Time, error) {
	var at int64
	err := r.get(ctx, &at, "SELECT coalesce((SELECT moved_in_at FROM organisation), 0)")
	if at == 0 {
		return time.Time{}, err
	}
	return instant(at), err
}

// MoveIn notes that moving in has ended.
func (t companyTx) MoveIn(at time.Time) error {
	return t.exec("UPDATE organisation SET moved_in_at = ?", millis(at))
}

// Sent reports whether any request was ever sent.
func (r ofCompany) Sent(ctx context.Context) (bool, error) {
	var any bool
	err := r.get(ctx, &any, "SELECT EXISTS (SELECT 1 FROM requests WHERE number IS NOT NULL)")
	return any, err
}
