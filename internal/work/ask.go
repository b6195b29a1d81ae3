package work

import (
	"context"
	"crypto/rand"
	"errors"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Form is an offering opened by somebody who may ask for it.
type Form struct {
	Offering  *offering.Compiled
	Draft     string // ID of the request, empty before anything is typed
	Answers   form.Answers
	SavedAt   time.Time // of the draft
	Evaluated Evaluated
}

// Evaluated is what a form comes to with some answers.
type Evaluated struct {
	form.Result
	Decisions []Foreseen
}

// Foreseen is a rung that a request would have to climb.
type Foreseen struct {
	Name    string
	Seats   []ladder.Seat
	Trouble string // why nobody can be found
}

// Catalog lists the offerings a person may ask for: all of them, or those that
// hold the words, the best first.
func (o *Office) Catalog(ctx context.Context, person, words string) ([]*offering.Compiled, error) {
	keys, err := o.Store.CurrentOfferings(ctx)
	if words != "" {
		keys, err = o.Store.FindOfferings(ctx, words)
	}
	if err != nil {
		return nil, err
	}
	list := []*offering.Compiled{}
	for _, key := range keys {
		c, err := o.askable(ctx, person, key)
		if errors.Is(err, ErrNotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		list = append(list, c)
	}
	return list, nil
}

// askable gives the current version of an offering that a person may ask for.
func (o *Office) askable(ctx context.Context, person, key string) (*offering.Compiled, error) {
	c, err := o.current(ctx, o.Store, key)
	if err != nil {
		return nil, err
	}
	p, _ := o.Company().Person(person)
	if ok, _ := c.Audience.MayAsk(p); !ok {
		return nil, ErrNotFound
	}
	return c, nil
}

// OpenForm opens an offering for a person, with what they typed before.
func (o *Office) OpenForm(ctx context.Context, person, key string) (Form, error) {
	c, err := o.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: form.Answers{}}
	f.Draft, err = o.Store.DraftOf(ctx, person, key)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Form{}, err
	}
	if f.Draft != "" {
		if f.Answers, f.SavedAt, err = o.Store.DraftAnswers(ctx, f.Draft); err != nil {
			return Form{}, err
		}
	}
	p, _ := o.Company().Person(person)
	f.Evaluated = o.evaluate(c, p, f.Answers)
	return f, nil
}

// evaluate works out a form and whose decisions it would need.
func (o *Office) evaluate(c *offering.Compiled, asker people.Person, answers form.Answers) Evaluated {
	e := Evaluated{Result: c.Form.Evaluate(answers, c.Values(asker, o.Clock())), Decisions: []Foreseen{}}
	service, _ := o.Company().Service(c.Document.Purpose.Service)
	for _, rung := range c.Ladder.Needed(e.Values) {
		foreseen := Foreseen{Name: rung.Name}
		seats, err := ladder.Seats(rung, ladder.Facts{Company: o.Company(), Asker: asker.ID, Service: service})
		if err != nil {
			foreseen.Trouble = err.Error()
		}
		foreseen.Seats = seats
		e.Decisions = append(e.Decisions, foreseen)
	}
	return e
}

// SaveDraft keeps what a person typed, as a draft of their own, and works it
// out.
func (o *Office) SaveDraft(ctx context.Context, person, key string, answers form.Answers) (Form, error) {
	c, err := o.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: answers, SavedAt: o.Clock().UTC()}
	var begun *request.State
	err = o.Store.Write(ctx, func(tx *store.Tx) error {
		f.Draft, err = tx.DraftOf(ctx, person, key)
		if errors.Is(err, ErrNotFound) {
			f.Draft = rand.Text()
			var state request.State
			state, err = o.begin(ctx, tx, person, f.Draft, c)
			begun = &state
		}
		if err != nil {
			return err
		}
		return tx.SaveDraftAnswers(f.Draft, answers, f.SavedAt)
	})
	if err != nil {
		return Form{}, err
	}
	if begun != nil {
		o.tell(*begun)
	}
	p, _ := o.Company().Person(person)
	f.Evaluated = o.evaluate(c, p, answers)
	return f, nil
}

func (o *Office) begin(ctx context.Context, tx *store.Tx, person, id string, c *offering.Compiled) (request.State, error) {
	facts, err := o.facts(ctx, tx, person, request.State{Status: request.Draft, Offering: c.Document.Key})
	if err != nil {
		return request.State{}, err
	}
	return o.handle(tx, request.State{}, request.Begin{ID: id}, facts)
}
