package store

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"os"
	"path/filepath"
)

// KeyNames are the keys of an installation.
var KeyNames = []string{"links", "connectors"}

// mark is by what a key is told from another; it opens nothing.
func mark(name string, key []byte) []byte {
	mac := hmac.New(sha256.New, key)
	mac.Write([]byte("heptad/mark\x00" + name))
	return mac.Sum(nil)
}

// KnowKey refuses a key that is another than the one the data was written with; the
// first one is the right one.
func (s *Store) KnowKey(ctx context.Context, name string, key []byte) error {
	var kept []byte
	err := s.get(ctx, &kept, "SELECT mark FROM key_marks WHERE name = ?", name)
	switch {
	case errors.Is(err, ErrNotFound):
		return s.Write(ctx, func(tx *Tx) error { return tx.MarkKey(name, key) })
	case err != nil:
		return err
	case !hmac.Equal(kept, mark(name, key)):
		return fmt.Errorf("the key %s is not the one the data was written with: what is sealed could not be read. Nothing was touched; put the right one back", name)
	}
	return nil
}

// MarkKey notes by what a key is told from another.
func (t companyTx) MarkKey(name string, key []byte) error {
	return t.exec("INSERT INTO key_marks (name, mark) VALUES (?,?) ON CONFLICT (name) DO UPDATE SET mark = excluded.mark", name, mark(name, key))
}

// nextKey is the file of a key that takes the place of another as soon as all is sealed
// with it.
func nextKey(dir, name string) string { return filepath.Join(dir, name+".secret.next") }

// NewKey makes the key that is to take the place of another, in a file beside it.
func NewKey(dir, name string) ([]byte, error) {
	key := make([]byte, secretSize)
	if _, err := rand.Read(key); err != nil {
		return nil, err
	}
	return key, os.WriteFile(nextKey(dir, name), key, 0o600)
}

// TakeKey puts the key that was made in the place of the one before.
func TakeKey(dir, name string) error {
	return os.Rename(nextKey(dir, name), filepath.Join(dir, name+".secret"))
}

// SettleKey ends what a rotation had begun that was cut off: the key that was made takes
// its place when the data was sealed with it, and is thrown away when it was not.
func (s *Store) SettleKey(ctx context.Context, dir, name string) error {
	next, err := os.ReadFile(nextKey(dir, name))
	if err != nil {
		return nil // there was none
	}
	var kept []byte
	if err := s.get(ctx, &kept, "SELECT mark FROM key_marks WHERE name = ?", name); err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	if hmac.Equal(kept, mark(name, next)) {
		return TakeKey(dir, name)
	}
	return os.Remove(nextKey(dir, name))
}

// ConnectorSecrets are the secrets of connectors, encrypted, by key.
func (r ofSystems) ConnectorSecrets(ctx context.Context) (map[string][]byte, error) {
	var rows []struct {
		Key    string
		Secret []byte
	}
	err := r.all(ctx, &rows, "SELECT key, secret FROM connectors WHERE secret IS NOT NULL")
	all := map[string][]byte{}
	for _, row := range rows {
		all[row.Key] = row.Secret
	}
	return all, err
}

// SetConnectorSecret keeps the secret of a connector, encrypted.
func (t companyTx) SetConnectorSecret(key string, secret []byte) error {
	return t.exec("UPDATE connectors SET secret = ? WHERE key = ?", secret, key)
}

// SetFactorSealed keeps the second factor of somebody, encrypted.
func (t companyTx) SetFactorSealed(person string, factor []byte) error {
	return t.exec("UPDATE credentials SET factor = ? WHERE person = ?", factor, person)
}

// AllSealed lists all values that are kept apart.
func (r ofRequests) AllSealed(ctx context.Context) ([]Sealed, error) {
	var rows []sealedRow
	err := r.all(ctx, &rows, "SELECT "+sealedColumns+" FROM sealed")
	return sealedOf(rows), err
}
