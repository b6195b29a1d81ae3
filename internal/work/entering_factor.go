package work

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/hex"
	"image/png"
	"slices"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// step is how long a code of the second factor counts (RFC 6238), in seconds; the one
// before and the one after are taken, too, as clocks differ.
const step = 30

// factorOf names whose second factor it is, so that it opens nowhere else.
func factorOf(person string) []byte { return []byte("heptad/factor\x00" + person) }

// second asks for the second factor of who has one. A code is taken once.
func (w *Entering) second(ctx context.Context, p people.Person, code string) error {
	kept, err := w.Store.Credentials(ctx, p.ID)
	if ignoreMissing(err) != nil {
		return err
	}
	if kept.Factor == nil {
		return nil
	}
	if code = plainCode(code); code == "" {
		return invalid(refusal.CodeNeeded, "/code", "Now the six digits of your second factor, or one of your recovery codes.")
	}
	used := false
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.Credentials(ctx, p.ID) // of two at once, one
		if err != nil || kept.Factor == nil {
			return err
		}
		if at := slices.Index(kept.Recovery, codeHash(code)); at >= 0 {
			kept.Recovery = slices.Delete(kept.Recovery, at, at+1)
			used = true
			return tx.SaveCredentials(kept)
		}
		secret, err := unseal(w.Sealed, kept.Factor, factorOf(p.ID))
		if err != nil {
			return err
		}
		if kept.Step, used = stepOf(secret, code, kept.Step, w.Clock()); !used {
			return w.note(ctx, tx, "", audit.SignInFailed, p.ID, p.Name, audit.Change{Field: "why", After: "wrong code"})
		}
		return tx.SaveCredentials(kept)
	})
	if err == nil && !used {
		err = invalid(refusal.WrongCode, "/code", "This code does not fit, or was used. Take the next one.")
	}
	return err
}

// stepOf finds the step of a code, later than the last one used.
func stepOf(secret, code string, last int64, now time.Time) (int64, bool) {
	at := now.Unix() / step
	for _, n := range []int64{at - 1, at, at + 1} {
		want, err := totp.GenerateCode(secret, time.Unix(n*step, 0))
		if err == nil && n > last && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return n, true
		}
	}
	return last, false
}

// plainCode is a code without what people put between its letters.
func plainCode(code string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "-", "").Replace(strings.TrimSpace(code)))
}

// codeHash is how a recovery code is kept: it is long and random, so that a plain hash
// does.
func codeHash(code string) string {
	sum := sha256.Sum256([]byte("heptad/recovery\x00" + plainCode(code)))
	return hex.EncodeToString(sum[:])
}

// Factor is a second factor that is offered and not kept yet.
type Factor struct {
	Secret string // base32, to be typed where the picture cannot be read
	URI    string // as authenticators read it
	QR     string // data: URI of a picture of it
}

// NewFactor makes a second factor for somebody. It is kept once they have shown that
// they can use it.
func (w *Entering) NewFactor(person string) (Factor, error) {
	p, ok := w.Company().Person(person)
	if !ok {
		return Factor{}, ErrNotFound
	}
	issuer := w.Organisation().Name
	if issuer == "" {
		issuer = "Heptad"
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: issuer, AccountName: p.Login, Period: step, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
	if err != nil {
		return Factor{}, err
	}
	picture, err := key.Image(220, 220)
	if err != nil {
		return Factor{}, err
	}
	var b bytes.Buffer
	if err := png.Encode(&b, picture); err != nil {
		return Factor{}, err
	}
	return Factor{key.Secret(), key.URL(), "data:image/png;base64," + base64.StdEncoding.EncodeToString(b.Bytes())}, nil
}

// How many recovery codes somebody has, and how long they are, in letters.
const (
	recoveryCodes = 10
	recoveryLong  = 10
)

// SetFactor keeps a second factor, of which somebody shows a code. It gives the recovery
// codes, which are shown once.
func (w *Entering) SetFactor(ctx context.Context, person, secret, code string) ([]string, error) {
	p, ok := w.Company().Person(person)
	if !ok {
		return nil, ErrNotFound
	}
	last, fits := stepOf(strings.TrimSpace(secret), plainCode(code), 0, w.Clock())
	if !fits {
		return nil, invalid(refusal.WrongCode, "/code", "This code does not fit. Look whether the clock of your device is right.")
	}
	sealed, err := seal(w.Sealed, strings.TrimSpace(secret), factorOf(person))
	if err != nil {
		return nil, err
	}
	codes, hashes := newCodes()
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.Credentials(ctx, person)
		if ignoreMissing(err) != nil {
			return err
		}
		kept.Person, kept.Factor, kept.Step, kept.Recovery, kept.ChangedAt = person, sealed, last, hashes, w.Clock()
		if err := tx.SaveCredentials(kept); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.FactorSet, person, p.Name)
	})
	return codes, err
}

func newCodes() (codes, hashes []string) {
	for range recoveryCodes {
		code := rand.Text()[:recoveryLong]
		codes = append(codes, code[:recoveryLong/2]+"-"+code[recoveryLong/2:])
		hashes = append(hashes, codeHash(code))
	}
	return codes, hashes
}

// NewCodes makes new recovery codes in place of those that are left.
func (w *Entering) NewCodes(ctx context.Context, person string) ([]string, error) {
	codes, hashes := newCodes()
	return codes, w.credentials(ctx, person, person, audit.CodesMade, func(kept *store.Credentials) error {
		if kept.Factor == nil {
			return conflict(refusal.NoFactor, "There is no second factor.")
		}
		kept.Recovery = hashes
		return nil
	})
}

// DropFactor takes a second factor away: one's own, or by an administrator that of
// somebody who has lost it.
func (w *Entering) DropFactor(ctx context.Context, actor, person string) error {
	if actor != person && !w.Administers(actor) {
		return ErrNotFound
	}
	if w.needsFactor(person) && actor == person {
		return conflict(refusal.FactorNeeded, "Your role needs a second factor: set another in its place.")
	}
	return w.credentials(ctx, actor, person, audit.FactorRemoved, func(kept *store.Credentials) error {
		if kept.Factor == nil {
			return conflict(refusal.NoFactor, "There is no second factor.")
		}
		kept.Factor, kept.Step, kept.Recovery = nil, 0, nil
		return nil
	})
}

// credentials changes how somebody signs in.
func (w *Entering) credentials(ctx context.Context, actor, person string, act audit.Act, change func(*store.Credentials) error) error {
	p, ok := w.Company().Person(person)
	if !ok {
		return ErrNotFound
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.Credentials(ctx, person)
		if err != nil {
			return err
		}
		if err := change(&kept); err != nil {
			return err
		}
		kept.ChangedAt = w.Clock()
		if err := tx.SaveCredentials(kept); err != nil {
			return err
		}
		if err := w.note(ctx, tx, actor, act, person, p.Name); err != nil || actor == person {
			return err
		}
		var d duties
		d.add(person, "Your second factor is taken away: %s has done it. Set another one in your profile, and if you did not ask for this, say so.", w.Company().Name(actor))
		return d.tell(ctx, w.kernel, tx, "")
	})
}

// needsFactor reports whether somebody has a role that needs a second factor.
func (w *Entering) needsFactor(person string) bool {
	return slices.ContainsFunc(w.RolesOf(person), func(role string) bool { return slices.Contains(w.Organisation().FactorRoles, role) })
}

// MissesFactor reports whether somebody has to set a second factor before they do
// anything else.
func (w *Entering) MissesFactor(ctx context.Context, person string) (bool, error) {
	if !w.needsFactor(person) {
		return false, nil
	}
	kept, err := w.Store.Credentials(ctx, person)
	return kept.Factor == nil, ignoreMissing(err)
}

// Safety is how somebody proves who they are.
type Safety struct {
	Password, Factor, Needed bool
	Codes                    int // recovery codes that are left
}

// Safety tells somebody, and administrators, how they prove who they are.
func (w *Entering) Safety(ctx context.Context, actor, person string) (Safety, error) {
	if actor != person && !w.Administers(actor) {
		return Safety{}, ErrNotFound
	}
	kept, err := w.Store.Credentials(ctx, person)
	return Safety{kept.Password != "", kept.Factor != nil, w.needsFactor(person), len(kept.Recovery)}, ignoreMissing(err)
}
