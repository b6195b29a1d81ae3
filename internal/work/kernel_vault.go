package work

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// bound names what a sealed value is, so that it opens nowhere else.
func bound(s store.Sealed) []byte {
	return []byte(strings.Join([]string{"heptad/sealed", s.Request, string(s.Part), s.Task, s.Key}, "\x00"))
}

// vault keeps apart what is to stand in no event, no state and no log, encrypted.
type vault struct {
	key []byte
	now Clock
}

// keepApart keeps the values that are to stand in no event, encrypted, and gives
// the effects that are left to be done.
func (v vault) keepApart(tx *store.Tx, id string, effects []request.Effect) ([]request.Effect, error) {
	var left []request.Effect
	for _, e := range effects {
		if e.Kind != request.Seal {
			left = append(left, e)
			continue
		}
		s := store.Sealed{Request: id, Part: store.AnswerPart, Task: e.Seals.Task, Key: e.Seals.Key, Person: e.Seals.For}
		if e.Seals.For != "" {
			s.Part, s.Until = store.OutputPart, v.now().Add(secretLife)
		}
		if err := v.sealValue(tx, s, e.Seals.Value); err != nil {
			return nil, err
		}
	}
	return left, nil
}

// sealValue keeps one value apart; nil takes it away.
func (v vault) sealValue(tx *store.Tx, s store.Sealed, value form.Answer) error {
	if value.None() {
		return tx.DropSealed(s)
	}
	plain, err := json.Marshal(value)
	if err != nil {
		return err
	}
	s.At = v.now()
	if s.Value, err = seal(v.key, string(plain), bound(s)); err != nil {
		return err
	}
	return tx.KeepSealed(s)
}

func (v vault) unsealValue(s store.Sealed) (value form.Answer, err error) {
	plain, err := unseal(v.key, s.Value, bound(s))
	if err != nil {
		return value, err
	}
	err = json.Unmarshal([]byte(plain), &value)
	return value, err
}

// apart are the parts of the store that values kept apart are read from.
type apart interface {
	SealedAnswers(ctx context.Context, request, task string) ([]store.Sealed, error)
}

// privateAnswers reads the private answers of a request: those sent, or those
// typed and not sent.
func (v vault) privateAnswers(ctx context.Context, from apart, id, task string) (form.Answers, error) {
	all, err := from.SealedAnswers(ctx, id, task)
	if err != nil {
		return nil, err
	}
	answers := form.Answers{}
	for _, s := range all {
		if answers[s.Key], err = v.unsealValue(s); err != nil {
			return nil, err
		}
	}
	return answers, nil
}

// seal encrypts a secret for keeping (AES-256-GCM, the nonce in front), bound to
// what it is of.
func seal(key []byte, secret string, of []byte) ([]byte, error) {
	gcm, err := sealer(key)
	if err != nil {
		return nil, err
	}
	nonce := make([]byte, gcm.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return nil, err
	}
	return gcm.Seal(nonce, nonce, []byte(secret), of), nil
}

// unseal reads a secret that was kept.
func unseal(key, sealed, of []byte) (string, error) {
	gcm, err := sealer(key)
	if err != nil {
		return "", err
	}
	if len(sealed) < gcm.NonceSize() {
		return "", errors.New("this is no secret")
	}
	secret, err := gcm.Open(nil, sealed[:gcm.NonceSize()], sealed[gcm.NonceSize():], of)
	return string(secret), err
}

func sealer(key []byte) (cipher.AEAD, error) {
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(block)
}

// signed signs a text for one purpose, so that what is signed for another does
// not pass.
func signed(secret []byte, purpose, text string) []byte {
	mac := hmac.New(sha256.New, secret)
	mac.Write([]byte(purpose + "\x00" + text))
	return mac.Sum(nil)
}
