package work

import (
	"context"
	"fmt"

	"heptad/internal/core/audit"
	"heptad/internal/store"
)

// Rotate seals anew, with another key, all that a folder keeps sealed: secrets of
// connectors, private answers and secrets of requests, and second factors. It is one
// transaction; what cannot be read with the old key ends it, and nothing is changed.
func Rotate(ctx context.Context, kept *store.Store, old, next []byte, now Clock) (n int, err error) {
	again := func(sealed, of []byte) ([]byte, error) {
		plain, err := unseal(old, sealed, of)
		if err != nil {
			return nil, fmt.Errorf("something is kept that the old key does not open: %w", err)
		}
		n++
		return seal(next, plain, of)
	}
	return n, kept.Write(ctx, func(tx *store.Tx) error {
		connectors, err := tx.ConnectorSecrets(ctx)
		if err != nil {
			return err
		}
		for key, secret := range connectors {
			if secret, err = again(secret, nil); err != nil {
				return err
			}
			if err := tx.SetConnectorSecret(key, secret); err != nil {
				return err
			}
		}
		values, err := tx.AllSealed(ctx)
		if err != nil {
			return err
		}
		for _, s := range values {
			if s.Value, err = again(s.Value, bound(s)); err != nil {
				return err
			}
			if err := tx.KeepSealed(s); err != nil {
				return err
			}
		}
		factors, err := tx.Factors(ctx)
		if err != nil {
			return err
		}
		for person, factor := range factors {
			if factor, err = again(factor, factorOf(person)); err != nil {
				return err
			}
			if err := tx.SetFactorSealed(person, factor); err != nil {
				return err
			}
		}
		if err := tx.MarkKey("connectors", next); err != nil {
			return err
		}
		return tx.AddAct(audit.Row{At: now(), Act: audit.KeyRotated, Body: audit.Body{Name: "connectors"}})
	})
}
