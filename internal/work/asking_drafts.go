package work

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"maps"
	"reflect"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// SaveDraft keeps what a person typed, as a draft of their own, and works it
// out.
func (w *Asking) SaveDraft(ctx context.Context, person, key string, answers form.Answers, whom offering.Beneficiary) (Form, error) {
	c, err := w.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: answers, For: whom, SavedAt: w.Clock().UTC()}
	err = w.draft(ctx, person, c, &f.Draft, func(tx *store.Tx) error {
		if err := w.touched(tx, person, c, f.Draft, answers); err != nil {
			return err
		}
		return w.saveTyped(tx, c, f.Draft, store.Typed{Answers: answers, For: whom, Version: c.Version, SavedAt: f.SavedAt})
	})
	if err != nil {
		return Form{}, err
	}
	return f, w.fill(ctx, &f, person)
}

// draft finds or begins the draft of a person and runs then in the same
// transaction.
func (w *Asking) draft(ctx context.Context, person string, c *offering.Compiled, id *string, then func(tx *store.Tx) error) error {
	var begun *request.State
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if begun, err = w.draftIn(ctx, tx, person, c, id); err != nil {
			return err
		}
		return then(tx)
	})
	if err == nil && begun != nil {
		w.tell(*begun)
	}
	return err
}

// draftIn finds the draft of a person, or begins one and gives its state.
func (w *Asking) draftIn(ctx context.Context, tx *store.Tx, person string, c *offering.Compiled, id *string) (*request.State, error) {
	var err error
	if *id, err = tx.DraftOf(ctx, person, c.Document.Key); !errors.Is(err, ErrNotFound) {
		return nil, err
	}
	*id = rand.Text()
	state, err := w.begin(ctx, tx, person, *id, c)
	if err == nil {
		err = tx.SaveTyped(*id, store.Typed{Answers: form.Answers{}, Version: c.Version, SavedAt: w.Clock().UTC()})
	}
	return &state, err
}

func (w *Asking) begin(ctx context.Context, tx *store.Tx, person, id string, c *offering.Compiled) (request.State, error) {
	facts, err := w.facts(ctx, tx, person, request.State{Status: request.Draft, Offering: c.Document.Key})
	if err != nil {
		return request.State{}, err
	}
	return w.handle(tx, request.State{}, facts, request.Begin{ID: id})
}

// saveTyped keeps what is typed into a form, the private answers apart.
func (w *Asking) saveTyped(tx *store.Tx, c *offering.Compiled, id string, typed store.Typed) error {
	open, private := c.Form.Apart(typed.Answers)
	typed.Answers = open
	if len(c.Form.Private()) > 0 {
		if err := tx.DropTyped(id); err != nil {
			return err
		}
	}
	for key, value := range private {
		if err := w.vault.sealValue(tx, store.Sealed{Request: id, Part: store.AnswerPart, Task: store.TypedTask, Key: key}, value); err != nil {
			return err
		}
	}
	return tx.SaveTyped(id, typed)
}

// touched notes at which question a form is, to find out where forms are given up. Whose it
// is stays with the draft.
func (w *Asking) touched(tx *store.Tx, person string, c *offering.Compiled, id string, answers form.Answers) error {
	before, err := tx.Typed(tx.Context(), id)
	if ignoreMissing(err) != nil {
		return err
	}
	p, _ := w.Company().Person(person)
	touched := store.FormTouched{Draft: id, Offering: c.Document.Key, Department: p.Department, At: w.Clock()}
	open, _ := c.Form.Apart(answers)
	for _, q := range c.Document.Questions {
		if !reflect.DeepEqual(before.Answers[q.Key], open[q.Key]) {
			touched.Question = q.Key
		}
	}
	return tx.TouchForm(touched)
}

// typed reads what was typed into a form, for who typed it.
func (w *Asking) typed(ctx context.Context, id string) (store.Typed, error) {
	typed, err := w.Store.Typed(ctx, id)
	if err != nil {
		return typed, err
	}
	private, err := w.vault.privateAnswers(ctx, w.Store, id, store.TypedTask)
	if len(private) > 0 {
		if typed.Answers == nil {
			typed.Answers = form.Answers{}
		}
		maps.Copy(typed.Answers, private)
	}
	return typed, err
}

// Submit sends a draft with its answers.
func (w *Asking) Submit(ctx context.Context, person, id string, c request.Submit) (request.State, error) {
	state, err := w.run(ctx, change{actor: person, id: id, command: func(tx *store.Tx) (request.Command, error) {
		var err error
		c.Prefix = w.Organisation().Prefix
		c.Number, err = tx.NextNumber("reference", firstReference)
		return c, err
	}})
	if err == nil {
		w.forgetUploads(ctx, state)
	}
	return state, err
}

// Upload puts a file on a draft, which begins with it when there is none. The
// question says what it takes; refused files leave nothing behind.
func (w *Asking) Upload(ctx context.Context, person, key, question string, file IncomingFile) (form.Upload, error) {
	c, err := w.askable(ctx, person, key)
	if err != nil {
		return form.Upload{}, err
	}
	var begun *request.State
	upload, err := w.upload(ctx, person, c, question, file, func(tx *store.Tx) (id string, err error) {
		begun, err = w.draftIn(ctx, tx, person, c, &id)
		return id, err
	})
	if err == nil && begun != nil {
		w.tell(*begun)
	}
	return upload, err
}

// upload keeps a file for a question, on the request whose ID on gives.
func (w *Asking) upload(ctx context.Context, person string, c *offering.Compiled, question string, file IncomingFile, on func(tx *store.Tx) (string, error)) (form.Upload, error) {
	q, ok := c.Form.FileQuestion(question)
	if !ok {
		return form.Upload{}, ErrNotFound
	}
	upload, err := w.keep(q, file)
	if err != nil {
		return form.Upload{}, err
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		id, err := on(tx)
		if err != nil {
			return err
		}
		there, err := tx.Uploads(ctx, id)
		if err != nil {
			return err
		}
		if len(there) >= mostUploads {
			return &request.Refusal{Kind: request.Invalid, Code: refusal.TooManyFiles, Sentence: fmt.Sprintf("At most %d files can be on one request.", mostUploads)}
		}
		return tx.AddUpload(store.Upload{Upload: upload, Request: id, Question: question}, person, w.Clock())
	})
	if err != nil {
		return form.Upload{}, errors.Join(err, w.Store.ForgetContent(upload.ID))
	}
	return upload, nil
}

// mostUploads is the most files one draft may hold, kept ones and dropped ones.
const mostUploads = 200
