package work

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"

	"heptad/internal/core/audit"
	"heptad/internal/core/password"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Entering is how people sign in, and what they prove who they are with.
type Entering struct {
	*kernel
	hashing chan struct{} // how many passwords are hashed at the same time
}

// hard is how much work guessing one password is: 19 MiB, twice through.
var hard = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// hash hashes a password; it waits for a processor.
func (w *Entering) hash(ctx context.Context, text string) (string, error) {
	done, err := w.processor(ctx)
	if err != nil {
		return "", err
	}
	defer done()
	return argon2id.CreateHash(text, hard)
}

// fits reports whether a password is the one of a hash. An empty hash takes as long,
// and fits nothing: nobody can tell who is there.
func (w *Entering) fits(ctx context.Context, text, hash string) (bool, error) {
	if hash == "" {
		_, err := w.hash(ctx, text)
		return false, err
	}
	done, err := w.processor(ctx)
	if err != nil {
		return false, err
	}
	defer done()
	return argon2id.ComparePasswordAndHash(text, hash)
}

func (w *Entering) processor(ctx context.Context) (done func(), err error) {
	select {
	case w.hashing <- struct{}{}:
		return func() { <-w.hashing }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// known finds somebody by what they call themselves: their login, or their mail
// address when nobody else has it.
func (w *Entering) known(name string) (people.Person, bool) {
	name = strings.TrimSpace(name)
	if p, ok := w.Company().ByLogin(name); ok {
		return p, !p.Former
	}
	p, ok := w.Company().ByEmail(name)
	return p, ok && !p.Former
}

// Proof is what somebody proves who they are with.
type Proof struct {
	Password string
	Code     string // of the second factor, or a recovery code; empty when it is not asked for yet
}

// Enter signs somebody in: it gives their ID when the proof is good.
func (w *Entering) Enter(ctx context.Context, name string, proof Proof) (string, error) {
	p, ok := w.known(name)
	var kept store.Credentials
	if ok {
		var err error
		if kept, err = w.Store.Credentials(ctx, p.ID); ignoreMissing(err) != nil {
			return "", err
		}
	}
	right, err := w.fits(ctx, password.Normal(proof.Password), kept.Password)
	if err != nil {
		return "", err
	}
	if !right {
		if ok {
			if err := w.noteAlone(ctx, "", audit.SignInFailed, p.ID, p.Name, audit.Change{Field: "why", After: "wrong password"}); err != nil {
				return "", err
			}
		}
		return "", invalid(refusal.WrongPassword, "/password", "Name and password do not fit together.")
	}
	if err := w.second(ctx, p, proof.Code); err != nil {
		return "", err
	}
	return p.ID, nil
}

// ProveAgain proves again that it is a person who has signed in.
func (w *Entering) ProveAgain(ctx context.Context, person string, proof Proof) error {
	p, _ := w.Company().Person(person)
	kept, err := w.Store.Credentials(ctx, person)
	if ignoreMissing(err) != nil {
		return err
	}
	right, err := w.fits(ctx, password.Normal(proof.Password), kept.Password)
	if err != nil {
		return err
	}
	if !right {
		return errors.Join(invalid(refusal.WrongPassword, "/password", "This is not your password."), w.noteAlone(ctx, person, audit.SignInFailed, person, p.Name, audit.Change{Field: "why", After: "wrong password, on proving again"}))
	}
	if err := w.second(ctx, p, proof.Code); err != nil {
		return err
	}
	return w.noteAlone(ctx, person, audit.ProvedAgain, person, p.Name)
}

// HasPassword reports whether a person can prove who they are by a password.
func (w *Entering) HasPassword(ctx context.Context, person string) (bool, error) {
	kept, err := w.Store.Credentials(ctx, person)
	return kept.Password != "", ignoreMissing(err)
}

// good is a new password of a person, ready to be hashed.
func good(p people.Person, text string) (string, error) {
	text = password.Normal(text)
	if problem := password.Check(text, p.Login, p.Name, p.Email); problem != nil {
		return "", &request.Refusal{Kind: request.Invalid, Code: problem.Code, Sentence: problem.Sentence, Place: "/new"}
	}
	return text, nil
}

// SetPassword sets another password of somebody who has signed in; their other sessions
// end.
func (w *Entering) SetPassword(ctx context.Context, person, text string) error {
	p, ok := w.Company().Person(person)
	if !ok {
		return ErrNotFound
	}
	return w.setPassword(ctx, p, text, sessionOf(ctx), nil)
}

// setPassword keeps a new password; also is done in the same transaction.
func (w *Entering) setPassword(ctx context.Context, p people.Person, text, session string, also func(*store.Tx) error) error {
	text, err := good(p, text)
	if err != nil {
		return err
	}
	hash, err := w.hash(ctx, text)
	if err != nil {
		return err
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.Credentials(ctx, p.ID)
		if ignoreMissing(err) != nil {
			return err
		}
		kept.Person, kept.Password, kept.ChangedAt = p.ID, hash, w.Clock()
		if also != nil {
			if err := also(tx); err != nil {
				return err
			}
		}
		if err := tx.SaveCredentials(kept); err != nil {
			return err
		}
		return w.note(ctx, tx, p.ID, audit.PasswordSet, p.ID, p.Name)
	})
	if err != nil {
		return err
	}
	_, err = w.Store.EndSessions(ctx, p.ID, session)
	return err
}

// linkOpen is how long the link to move in counts.
const linkOpen = 24 * time.Hour

// EntryLink makes the link by which the first administrator moves in; empty when there
// is somebody who can sign in as one.
func (w *Entering) EntryLink(ctx context.Context) (string, error) {
	if len(w.administrators()) > 0 {
		return "", nil
	}
	token := rand.Text()
	err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddEntryLink(token, w.Clock().Add(linkOpen)) })
	return token, err
}

// Newcomer is who moves in.
type Newcomer struct{ Name, Login, Email, Password string }

// errLinkOver refuses a link to move in.
var errLinkOver = conflict(refusal.StaleLink, "This link was used, or is older than a day. Start Heptad again: it prints a new one, unless somebody has moved in.")

// entryLink refuses a link that opens nothing.
func (w *Entering) entryLink(ctx context.Context, from interface {
	EntryLink(ctx context.Context, token string) (time.Time, error)
}, token string) error {
	until, err := from.EntryLink(ctx, token)
	if errors.Is(err, ErrNotFound) || err == nil && !w.Clock().Before(until) {
		return errLinkOver
	}
	return err
}

// OpenEntryLink reports whether a link opens the house.
func (w *Entering) OpenEntryLink(ctx context.Context, token string) error {
	return w.entryLink(ctx, w.Store, token)
}

// MoveIn makes the first administrator, by the link that was printed; the link opens
// nothing more.
func (w *Entering) MoveIn(ctx context.Context, token string, n Newcomer) (string, error) {
	if err := w.entryLink(ctx, w.Store, token); err != nil {
		return "", err
	}
	p := people.Person{ID: rand.Text(), Login: strings.TrimSpace(n.Login), Name: strings.TrimSpace(n.Name), Email: strings.TrimSpace(n.Email), Roles: []string{people.Administrator}}
	for _, problem := range people.CheckPerson(p) {
		return "", invalid(problem.Code, "/"+problem.Field, "%s", problem.Sentence)
	}
	err := w.setPassword(ctx, p, n.Password, "", func(tx *store.Tx) error {
		if err := w.entryLink(ctx, tx, token); err != nil { // of two at once, one
			return err
		}
		if err := tx.DropEntryLinks(); err != nil {
			return err
		}
		if err := tx.AddCompany(people.Records{Persons: []people.Person{p}}); err != nil {
			return err
		}
		return w.note(ctx, tx, p.ID, audit.PersonAdded, p.ID, p.Name, audit.Change{Field: "role", After: people.Administrator})
	})
	if err != nil {
		return "", err
	}
	return p.ID, w.ReadCompany(ctx)
}
