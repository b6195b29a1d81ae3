package work

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// SharedQuestions lists the questions that offerings share, to those who own a
// service.
func (w *Designing) SharedQuestions(ctx context.Context, person string) ([]store.SharedQuestion, error) {
	if !w.DesignsAny(person) {
		return nil, ErrNotFound
	}
	return w.Store.SharedQuestions(ctx)
}

// ShareQuestion keeps a question for all offerings to use, under its key. Who
// shared it first may change it, and administrators.
func (w *Designing) ShareQuestion(ctx context.Context, person string, q form.Question) error {
	administrator := w.Administers(person)
	if !w.DesignsAny(person) && !administrator {
		return ErrNotFound
	}
	q.Shared, q.Section = q.Key, ""
	if strings.TrimSpace(q.Key) == "" || strings.TrimSpace(q.Label) == "" {
		return invalid(refusal.NoLabel, "/label", "A shared question needs a key and a label.")
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		keeper, err := tx.KeeperOf(ctx, q.Key)
		switch {
		case errors.Is(err, ErrNotFound):
			keeper = person
		case err != nil:
			return err
		case keeper != person && !administrator:
			by := "an administrator"
			if keeper != "" {
				by = w.Company().Name(keeper) + " or an administrator"
			}
			return &request.Refusal{Kind: request.NotYours, Code: refusal.NotYours, Sentence: fmt.Sprintf("%q is shared already, and only %s can change it. Share yours under another key.", q.Key, by), Place: "/key"}
		}
		return tx.SaveSharedQuestion(q, keeper, person, w.Clock())
	})
}
