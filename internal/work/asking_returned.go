package work

import (
	"context"
	"errors"
	"maps"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// returned finds a request that waits for an answer of a person, with the
// version of its offering.
func (w *Asking) returned(ctx context.Context, from source, person, id string) (request.State, *offering.Compiled, error) {
	state, err := from.Request(ctx, id)
	if err != nil {
		return state, nil, err
	}
	if state.Asker != person || state.Status != request.Returned {
		return state, nil, ErrNotFound
	}
	c, err := w.numbered(ctx, from, state.Offering, state.Version)
	return state, c, err
}

// OpenReturned opens the form of a request that was returned, with its answers
// or what was typed since.
func (w *Asking) OpenReturned(ctx context.Context, person, id string) (Form, error) {
	state, c, err := w.returned(ctx, w.Store, person, id)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Draft: id, Answers: maps.Clone(state.Answers), For: state.For, Returned: &state}
	private, err := w.vault.privateAnswers(ctx, w.Store, id, "")
	if err != nil {
		return Form{}, err
	}
	maps.Copy(f.Answers, private)
	typed, err := w.typed(ctx, id)
	switch {
	case err == nil:
		f.Answers, f.SavedAt = typed.Answers, typed.SavedAt
	case !errors.Is(err, ErrNotFound):
		return Form{}, err
	}
	return f, w.fill(ctx, &f, person)
}

// SaveReturned keeps what is typed into a returned request, and works it out.
func (w *Asking) SaveReturned(ctx context.Context, person, id string, answers form.Answers) (Form, error) {
	var f Form
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		state, c, err := w.returned(ctx, tx, person, id)
		if err != nil {
			return err
		}
		f = Form{Offering: c, Draft: id, Answers: answers, For: state.For, SavedAt: w.Clock().UTC(), Returned: &state}
		return w.saveTyped(tx, c, id, store.Typed{Answers: answers, For: state.For, Version: c.Version, SavedAt: f.SavedAt})
	})
	if err != nil {
		return Form{}, err
	}
	return f, w.fill(ctx, &f, person)
}

// UploadReturned puts a file on a returned request.
func (w *Asking) UploadReturned(ctx context.Context, person, id, question string, file IncomingFile) (form.Upload, error) {
	_, c, err := w.returned(ctx, w.Store, person, id)
	if err != nil {
		return form.Upload{}, err
	}
	return w.upload(ctx, person, c, question, file, func(tx *store.Tx) (string, error) {
		_, _, err := w.returned(ctx, tx, person, id)
		return id, err
	})
}
