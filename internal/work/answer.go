package work

import (
	"context"
	"errors"
	"fmt"
	"maps"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// returned finds a request that waits for an answer of a person, with the
// version of its offering.
func (o *Office) returned(ctx context.Context, from source, person, id string) (request.State, *offering.Compiled, error) {
	state, err := from.Request(ctx, id)
	if err != nil {
		return state, nil, err
	}
	if state.Asker != person || state.Status != request.Returned {
		return state, nil, ErrNotFound
	}
	c, err := o.numbered(ctx, from, state.Offering, state.Version)
	return state, c, err
}

// OpenReturned opens the form of a request that was returned, with its answers
// or what was typed since.
func (o *Office) OpenReturned(ctx context.Context, person, id string) (Form, error) {
	state, c, err := o.returned(ctx, o.Store, person, id)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Draft: id, Answers: maps.Clone(state.Answers), For: state.For, Returned: &state}
	private, err := o.privateAnswers(ctx, o.Store, id, "")
	if err != nil {
		return Form{}, err
	}
	maps.Copy(f.Answers, private)
	typed, err := o.typed(ctx, id)
	switch {
	case err == nil:
		f.Answers, f.SavedAt = typed.Answers, typed.SavedAt
	case !errors.Is(err, ErrNotFound):
		return Form{}, err
	}
	return f, o.fill(ctx, &f, person)
}

// SaveReturned keeps what is typed into a returned request, and works it out.
func (o *Office) SaveReturned(ctx context.Context, person, id string, answers form.Answers) (Form, error) {
	var f Form
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		state, c, err := o.returned(ctx, tx, person, id)
		if err != nil {
			return err
		}
		f = Form{Offering: c, Draft: id, Answers: answers, For: state.For, SavedAt: o.Clock().UTC(), Returned: &state}
		return o.saveTyped(tx, c, id, store.Typed{Answers: answers, For: state.For, Version: c.Version, SavedAt: f.SavedAt})
	})
	if err != nil {
		return Form{}, err
	}
	return f, o.fill(ctx, &f, person)
}

// UploadReturned puts a file on a returned request.
func (o *Office) UploadReturned(ctx context.Context, person, id, question string, file IncomingFile) (form.Upload, error) {
	_, c, err := o.returned(ctx, o.Store, person, id)
	if err != nil {
		return form.Upload{}, err
	}
	return o.upload(ctx, person, c, question, file, func(tx *store.Tx) (string, error) {
		_, _, err := o.returned(ctx, tx, person, id)
		return id, err
	})
}

// upload keeps a file for a question, on the request whose ID on gives.
func (o *Office) upload(ctx context.Context, person string, c *offering.Compiled, question string, file IncomingFile, on func(tx *store.Tx) (string, error)) (form.Upload, error) {
	q, ok := c.Form.FileQuestion(question)
	if !ok {
		return form.Upload{}, ErrNotFound
	}
	upload, err := o.keep(q, file)
	if err != nil {
		return form.Upload{}, err
	}
	err = o.Store.Write(ctx, func(tx *store.Tx) error {
		id, err := on(tx)
		if err != nil {
			return err
		}
		there, err := tx.Uploads(ctx, id)
		if err != nil {
			return err
		}
		if len(there) >= mostUploads {
			return &request.Refusal{Kind: request.Invalid, Code: "tooManyFiles", Sentence: fmt.Sprintf("At most %d files can be on one request.", mostUploads)}
		}
		return tx.AddUpload(store.Upload{Upload: upload, Request: id, Question: question}, person, o.Clock())
	})
	if err != nil {
		return form.Upload{}, errors.Join(err, o.Store.ForgetContent(upload.ID))
	}
	return upload, nil
}
