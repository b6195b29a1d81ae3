package work

import (
	"context"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// passwordLinkOpen is how long the link for a new password counts.
const passwordLinkOpen = time.Hour

// Forgot sends somebody a link for a new password. It says nothing of whether there is
// such a person, or whether a mail could be sent.
func (w *Entering) Forgot(ctx context.Context, name string) error {
	p, ok := w.known(name)
	if !ok || p.Email == "" || w.Mailing == nil {
		return nil
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		m := store.Message{Person: p.ID, Kind: message.Entry, At: w.Clock()}
		if err := w.letters.postKind(ctx, tx, w.Company(), m, message.Facts{Person: p.Name}); err != nil {
			return err
		}
		return w.note(ctx, tx, "", audit.LinkSent, p.ID, p.Name)
	})
	w.rouseMail()
	return err
}

// linked finds whose password a link sets. A link that is altered, used or too old opens
// nothing, and so does one from before the last change of the password.
func (w *Entering) linked(ctx context.Context, from interface {
	Message(ctx context.Context, id string) (store.Message, error)
	Credentials(ctx context.Context, person string) (store.Credentials, error)
}, token string) (store.Message, people.Person, error) {
	over := conflict(refusal.StaleLink, "This link was used, or is older than an hour. Ask for a new one.")
	id, right := w.Mailing.idOf(toSetPassword, token)
	if !right {
		return store.Message{}, people.Person{}, over
	}
	m, err := from.Message(ctx, id)
	if err != nil || m.Kind != message.Entry || m.Used || !w.Clock().Before(m.At.Add(passwordLinkOpen)) {
		return m, people.Person{}, over
	}
	kept, err := from.Credentials(ctx, m.Person)
	if ignoreMissing(err) != nil {
		return m, people.Person{}, err
	}
	p, ok := w.Company().Person(m.Person)
	if !ok || p.Former || !kept.ChangedAt.Before(m.At) && kept.Person != "" {
		return m, p, over
	}
	return m, p, nil
}

// OpenPasswordLink tells for whom a link sets a password. It changes nothing, however
// often it is followed.
func (w *Entering) OpenPasswordLink(ctx context.Context, token string) (people.Person, error) {
	_, p, err := w.linked(ctx, w.Store, token)
	return p, err
}

// PasswordByLink sets a new password by a link, once; every session of theirs ends.
func (w *Entering) PasswordByLink(ctx context.Context, token, text string) error {
	m, p, err := w.linked(ctx, w.Store, token)
	if err != nil {
		return err
	}
	return w.setPassword(ctx, p, text, "", func(tx *store.Tx) error {
		if _, _, err := w.linked(ctx, tx, token); err != nil { // of two at once, one
			return err
		}
		return tx.UseLink(m.ID, w.Clock())
	})
}
