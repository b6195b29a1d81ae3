package work

import (
	"context"
	"crypto/rand"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Views lists the ways to look at tasks that a person has, of their own and of
// their teams.
func (w *Delivering) Views(ctx context.Context, person string) ([]store.View, error) {
	return w.Store.ViewsOf(ctx, person)
}

// mayKeep reports whether a person may keep something for a team: its lead may.
func (w *Delivering) mayKeep(person, team string) bool {
	return team == "" || w.leads(person, team)
}

// MayChange reports whether a person may change or throw away what somebody made,
// perhaps for a team: who made it may, and the lead of the team.
func (w *Delivering) MayChange(person, maker, team string) bool {
	return person == maker || w.leads(person, team)
}

// mayTouch is ErrNotFound for who may not change what was read, or why it could not
// be read.
func (w *Delivering) mayTouch(person, maker, team string, read error) error {
	if read == nil && !w.MayChange(person, maker, team) {
		return ErrNotFound
	}
	return read
}

// SaveView keeps a way to look at tasks, for oneself or, by its lead, for a
// team; an empty ID makes a new one.
func (w *Delivering) SaveView(ctx context.Context, v store.View) (store.View, error) {
	v.Name = strings.TrimSpace(v.Name)
	switch {
	case v.Name == "" || !form.OneLine(v.Name):
		return v, invalid(refusal.NoName, "/name", "Give it a name, on one line.")
	case !w.mayKeep(v.Person, v.Team):
		return v, &request.Refusal{Kind: request.NotYours, Code: refusal.NotYours, Sentence: "Only its lead can make something for a team.", Place: "/team"}
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if v.ID == "" {
			v.ID = rand.Text()
			return tx.SaveView(v)
		}
		old, err := tx.View(ctx, v.ID)
		if err := w.mayTouch(v.Person, old.Person, old.Team, err); err != nil {
			return err
		}
		v.Person = old.Person
		return tx.SaveView(v)
	})
	return v, err
}

// DropView takes a view away, by who made it or the lead of its team.
func (w *Delivering) DropView(ctx context.Context, person, id string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		v, err := tx.View(ctx, id)
		if err := w.mayTouch(person, v.Person, v.Team, err); err != nil {
			return err
		}
		return tx.DropView(id)
	})
}
