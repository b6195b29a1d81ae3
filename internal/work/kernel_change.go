package work

import (
	"context"

	"heptad/internal/core/form"
	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// change is one command of an actor on a request. The command is made inside the
// transaction, and so may write there too.
type change struct {
	actor   string
	id      string
	command func(tx *store.Tx) (request.Command, error)
}

// run does one command on a request that is there.
func (k *kernel) run(ctx context.Context, t change) (request.State, error) {
	var state request.State
	err := k.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if state, err = tx.Request(ctx, t.id); err != nil {
			return err
		}
		facts, err := k.facts(ctx, tx, t.actor, state)
		if err != nil {
			return err
		}
		if t.actor != request.Program && !k.Viewer(t.actor, state).Any() {
			return ErrNotFound
		}
		command, err := t.command(tx)
		if err != nil {
			return err
		}
		switch command.(type) {
		case request.Submit, request.Resubmit, request.Urge:
			if facts.Files, err = k.files(ctx, tx, facts.Offering, t.id); err != nil {
				return err
			}
			if err := k.withPrivate(ctx, tx, state, &facts); err != nil {
				return err
			}
		}
		switch c := command.(type) {
		case request.Submit:
			parties, err := k.parties(ctx, tx, facts.Offering, t.actor, c.For)
			if err != nil {
				return err
			}
			facts.Belongings = parties.Belongings
		case request.Advance: // whoever is first on the waiting list has what is free
			if facts.Pools, err = k.pools(ctx, tx, facts.Offering, true); err != nil {
				return err
			}
		}
		state, err = k.handle(tx, state, facts, command)
		return err
	})
	if err != nil {
		return request.State{}, err
	}
	k.tell(state)
	return state, nil
}

// handle lets the core decide, on one command after the other, and keeps what it leads to.
func (k *kernel) handle(tx *store.Tx, state request.State, facts request.Facts, commands ...request.Command) (request.State, error) {
	var events []request.Event
	var effects []request.Effect
	measured, inHand := measure.Begin(&state), state.InHand()
	for _, command := range commands {
		happened, led, err := request.Handle(state, command, facts)
		if err != nil {
			return state, err
		}
		for _, e := range happened {
			state.Apply(e)
			measured.Next(&state, e)
		}
		events, effects = append(events, happened...), append(effects, led...)
	}
	var err error
	if effects, err = k.vault.keepApart(tx, state.ID, effects); err != nil {
		return state, err
	}
	if err := tx.SaveRequest(state, events, effects); err != nil {
		return state, err
	}
	if err := formEnded(tx, state, events); err != nil {
		return state, err
	}
	made := measured.Facts(&state)
	if err := tx.SaveFacts(made); err != nil {
		return state, err
	}
	tx.Then(func() { k.columns.touch(made.Number) })
	if err := keepHands(tx, inHand, state, facts); err != nil {
		return state, err
	}
	if err := passOn(k, tx, state, events); err != nil {
		return state, err
	}
	if err := k.durations.keep(tx, state, events, facts); err != nil {
		return state, err
	}
	return state, k.letters.notify(tx.Context(), tx, state, events, facts)
}

// formEnded notes that a form was sent, or thrown away.
func formEnded(tx *store.Tx, s request.State, events []request.Event) error {
	for _, e := range events {
		switch e.Body.(type) {
		case request.Submitted:
			return tx.EndForm(s.ID, e.At, true)
		case request.RequestClosed:
			if s.Reference == "" {
				return tx.EndForm(s.ID, e.At, false)
			}
		}
	}
	return nil
}

// keepHands keeps what people have in hand, of whom a command has changed that.
func keepHands(tx *store.Tx, before map[string]int, s request.State, facts request.Facts) error {
	for person, hands := range s.Regrip(before, facts.Hands, facts.Company) {
		if err := tx.SaveHands(person, hands); err != nil {
			return err
		}
	}
	return nil
}

// Do gives a command of a person on a request.
func (k *kernel) Do(ctx context.Context, person, id string, c request.Command) (request.State, error) {
	state, err := k.run(ctx, change{actor: person, id: id, command: func(*store.Tx) (request.Command, error) { return c, nil }})
	switch c.(type) {
	case request.Discard, request.Resubmit:
		if err == nil {
			k.forgetUploads(ctx, state)
		}
	}
	return state, err
}

// byItself gives a command that nobody in person gives, and reports whether it was
// done. That it is refused is no failure: it comes late.
func (k *kernel) byItself(ctx context.Context, id string, c request.Command) (bool, error) {
	_, err := k.run(ctx, change{actor: request.Program, id: id, command: func(*store.Tx) (request.Command, error) { return c, nil }})
	if isRefusal(err) {
		return false, nil
	}
	return err == nil, err
}

// source is what facts are read from.
type source interface {
	versions
	reading
	Request(ctx context.Context, id string) (request.State, error)
	Hands(ctx context.Context, person string) (request.Hands, error)
	Namesake(ctx context.Context, service, name, besides string) (string, error)
}

// reading is the part of the store that belongings and files are read from,
// inside a transaction or outside.
type reading interface {
	BelongingsOf(ctx context.Context, person string) ([]people.Belonging, error)
	Uploads(ctx context.Context, request string) (map[string]store.Upload, error)
	AnswersTo(ctx context.Context, key string, limit int) ([]form.Answers, error)
	Pools(ctx context.Context) ([]store.PoolUse, error)
	Holding(ctx context.Context, id string) (store.Belonging, error)
}

// facts gathers what a decision on a request is made on.
func (k *kernel) facts(ctx context.Context, from source, actor string, s request.State) (request.Facts, error) {
	var c *offering.Compiled
	var err error
	if s.Status == request.Draft {
		c, err = k.current(ctx, from, s.Offering)
	} else {
		c, err = k.numbered(ctx, from, s.Offering, s.Version)
	}
	if err != nil {
		return request.Facts{}, err
	}
	service, _ := k.Company().Service(c.Document.Purpose.Service)
	f := request.Facts{Actor: actor, Company: k.Company(), Offering: c, Service: service, Now: k.Clock(), Measures: k.durations.of(ctx, s.Offering)}
	f.Holding = func(id string) (request.Holding, bool) {
		b, err := from.Holding(ctx, id)
		return b.Holding, err == nil
	}
	hands := map[string]request.Hands{}
	f.Hands = func(person string) request.Hands {
		h, ok := hands[person]
		if ok {
			return h
		}
		h, err := from.Hands(ctx, person)
		if err != nil {
			k.Log.Error("what somebody has in hand cannot be read", "person", person, "error", err)
		}
		hands[person] = h
		return h
	}
	f.Request = func(id string) (request.State, bool) {
		other, err := from.Request(ctx, id)
		return other, err == nil
	}
	if f.Pools, err = k.pools(ctx, from, c, false); err != nil {
		return f, err
	}
	if s.Beneficiary() != "" && c.ReadsBelongings() {
		if f.Belongings, err = from.BelongingsOf(ctx, s.Beneficiary()); err != nil {
			return f, err
		}
	}
	return f, nil
}

// parties gathers who asks, and for whom, with what they have where the form
// asks for it; nobody named is the asker. Of somebody for whom they may not ask
// nothing is read.
func (k *kernel) parties(ctx context.Context, from reading, c *offering.Compiled, asker string, b offering.Beneficiary) (offering.Parties, error) {
	p, _ := k.Company().Person(asker)
	b = b.Or(asker)
	out := offering.Parties{Asker: p, Beneficiary: b, Company: k.Company()}
	var err error
	if out.Pools, err = k.pools(ctx, from, c, false); err != nil {
		return out, err
	}
	if may, _ := c.MayAsk(out); !may { // then nothing is known of whom it is for
		out.Known = func(person people.Person) people.Person {
			if person.ID == asker {
				return person
			}
			return people.Person{}
		}
		if b.Person != asker {
			return out, nil
		}
	}
	if b.Person != "" && c.ReadsBelongings() {
		out.Belongings, err = from.BelongingsOf(ctx, b.Person)
	}
	return out, err
}

// pools tells how many places are free of the pools that an offering reads or
// takes from: those that nobody before waits for, or all.
func (k *kernel) pools(ctx context.Context, from reading, c *offering.Compiled, all bool) (map[string]int, error) {
	if len(c.Pools) == 0 {
		return nil, nil
	}
	uses, err := from.Pools(ctx)
	free := map[string]int{}
	for _, use := range uses {
		free[use.Key] = use.Free()
		if use.Queued > 0 && !all {
			free[use.Key] = 0
		}
	}
	return free, err
}

// files finds the files of a draft by their ID, where the form asks for any.
func (k *kernel) files(ctx context.Context, from reading, c *offering.Compiled, draft string) (func(string) (form.Upload, bool), error) {
	uploads := map[string]store.Upload{}
	if draft != "" && c.Form.Asks(form.File) {
		var err error
		if uploads, err = from.Uploads(ctx, draft); err != nil {
			return nil, err
		}
	}
	return func(id string) (form.Upload, bool) {
		u, ok := uploads[id]
		return u.Upload, ok
	}, nil
}

// withPrivate adds to the facts of an answer to a question the private answers
// that the state does not hold.
func (k *kernel) withPrivate(ctx context.Context, tx *store.Tx, state request.State, facts *request.Facts) error {
	if len(state.Private) == 0 {
		return nil
	}
	var err error
	facts.Private, err = k.vault.privateAnswers(ctx, tx, state.ID, "")
	return err
}
