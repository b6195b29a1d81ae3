package work

import (
	"context"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

// Auditing reads the acts that are no part of a request's history.
type Auditing struct{ *kernel }

// Audits reports whether a person may read the audit.
func (k *kernel) Audits(person string) bool {
	return k.Has(person, people.Auditor) || k.Administers(person)
}

// WantedActs says which rows of the audit are read.
type WantedActs = store.WantedActs

// Acts reads the audit, the newest row first, to auditors and administrators.
func (w *Auditing) Acts(ctx context.Context, person string, wanted WantedActs) ([]audit.Row, error) {
	if !w.Audits(person) {
		return nil, ErrNotFound
	}
	return w.Store.Acts(ctx, wanted)
}

// Give reads the audit to be taken out, as Acts does; that it was taken out is a row of
// its own.
func (w *Auditing) Give(ctx context.Context, person string, wanted WantedActs) ([]audit.Row, error) {
	if !w.Audits(person) {
		return nil, ErrNotFound
	}
	if err := w.noteAlone(ctx, person, audit.AuditGiven, "", ""); err != nil {
		return nil, err
	}
	return w.Store.Acts(ctx, wanted)
}

// Verify follows the chains of the audit and of history, to auditors and
// administrators. It gives what is wrong with the first broken row of each.
func (w *Auditing) Verify(ctx context.Context, person string) (rows int64, wrong []string, err error) {
	if !w.Audits(person) {
		return 0, nil, ErrNotFound
	}
	return w.Store.VerifyChains(ctx)
}

// Taken notes that somebody took a request out of the house.
func (w *Auditing) Taken(ctx context.Context, person, request, title string) error {
	return w.noteAlone(ctx, person, audit.RequestGiven, request, title)
}

// ThingName names what an act was done to, as far as it is known.
func (w *Auditing) ThingName(a audit.Row) string {
	if a.Body.Name != "" || a.Act.Kind() != audit.Person {
		return a.Body.Name
	}
	p, _ := w.Company().Person(a.Thing)
	return p.Name
}
