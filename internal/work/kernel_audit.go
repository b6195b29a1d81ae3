package work

import (
	"context"

	"heptad/internal/core/audit"
	"heptad/internal/store"
)

type sessionKey struct{}

// WithSession says in which session what follows is done; the audit names it.
func WithSession(ctx context.Context, id string) context.Context {
	return context.WithValue(ctx, sessionKey{}, id)
}

func sessionOf(ctx context.Context) string {
	id, _ := ctx.Value(sessionKey{}).(string)
	return id
}

// act is a row of the audit, as of now.
func (k *kernel) act(ctx context.Context, actor string, act audit.Act, thing, name string, changes ...audit.Change) audit.Row {
	return audit.Row{At: k.Clock(), Actor: actor, Session: sessionOf(ctx), Act: act, Thing: thing, Body: audit.Body{Name: name, Changes: changes}}
}

// note adds a row to the audit, in the transaction of what was done.
func (k *kernel) note(ctx context.Context, tx *store.Tx, actor string, act audit.Act, thing, name string, changes ...audit.Change) error {
	return tx.AddAct(k.act(ctx, actor, act, thing, name, changes...))
}

// noteAlone adds a row to the audit of what was done without a transaction, or was not
// done at all.
func (k *kernel) noteAlone(ctx context.Context, actor string, act audit.Act, thing, name string, changes ...audit.Change) error {
	return k.Store.Write(ctx, func(tx *store.Tx) error { return k.note(ctx, tx, actor, act, thing, name, changes...) })
}
