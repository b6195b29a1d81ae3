package work

import (
	"context"

	"heptad/internal/connect"
	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

// Trying is what only an installation for trying has: testers act as anybody, and mails stand
// in a list instead of going out.
type Trying struct{ *kernel }

// Tests reports whether a person acts as others here: an administrator, or whom one has made
// a tester.
func (w *Trying) Tests(person string) bool {
	return w.Trial && (w.Administers(person) || w.Has(person, people.Tester))
}

// ActAs notes that a tester acts as somebody from now on, and gives whom that is.
func (w *Trying) ActAs(ctx context.Context, tester, login string) (people.Person, error) {
	p, known := w.Company().ByLogin(login)
	if !w.Tests(tester) || !known || p.Former {
		return people.Person{}, ErrNotFound
	}
	return p, w.noteAlone(ctx, tester, audit.ActsAs, p.ID, p.Name)
}

// TrialMail is a mail that would have gone out.
type TrialMail = store.TrialMail

// trialMailsAtATime is how many are listed together.
const trialMailsAtATime = 50

// Mails lists the mails that would have gone out before one, the last first; 0 for all.
func (w *Trying) Mails(ctx context.Context, tester string, before int64) ([]TrialMail, error) {
	if !w.Tests(tester) {
		return nil, ErrNotFound
	}
	return w.Store.TrialMails(ctx, before, trialMailsAtATime)
}

// TrialPoster keeps mails instead of sending them.
type TrialPoster struct {
	Store *store.Store
	Clock Clock
}

// Post keeps a mail as it would read.
func (p TrialPoster) Post(ctx context.Context, m connect.Mail) error {
	return p.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddTrialMail(store.TrialMail{At: p.Clock().UnixMilli(), Name: m.Name, Address: m.To, Subject: m.Subject, Body: m.Plain()})
	})
}
