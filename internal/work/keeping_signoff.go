package work

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"

	"heptad/internal/core/audit"
	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/organisation"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// SignOff is an offering that can be sent for somebody who has left.
type SignOff struct {
	Offering string // key
	Name     string
	Days     []form.Question // one of them can be answered with the last day
}

// SignOffs lists the offerings that can be sent for somebody who has left, by name, to
// administrators: those one may ask for others.
func (w *Keeping) SignOffs(ctx context.Context, person string) ([]SignOff, error) {
	if !w.Administers(person) {
		return nil, ErrNotFound
	}
	all, err := w.catalog(ctx)
	if err != nil {
		return nil, err
	}
	out := []SignOff{}
	for _, e := range all {
		if e.audience.For == "" || e.audience.Inner {
			continue
		}
		c, err := w.current(ctx, w.Store, e.Offering)
		if err != nil {
			return nil, err
		}
		days := slices.DeleteFunc(slices.Clone(c.Document.Questions), func(q form.Question) bool { return q.Kind != form.Date })
		out = append(out, SignOff{e.Offering, c.Document.Purpose.Name, days})
	}
	return out, nil
}

// signsOff tells what is wrong with the sign-off that an organisation names; nil when
// nothing is.
func (w *Keeping) signsOff(ctx context.Context, o organisation.Organisation) *request.Refusal {
	if o.SignOff == "" {
		return nil
	}
	c, err := w.current(ctx, w.Store, o.SignOff)
	if err != nil || c.Document.Audience.For == "" || c.Document.Audience.Inner {
		return invalid(refusal.SignOff, "/signOff", "Nobody can ask for this for others: choose another offering.")
	}
	day, ok := c.Form.Question(o.LastDay)
	if o.LastDay != "" && (!ok || day.Kind != form.Date) {
		return invalid(refusal.SignOff, "/lastDay", "It asks for no such day.")
	}
	for _, q := range c.Document.Questions {
		if q.Require == "true" && q.Show == "" && q.Preset == "" && q.Key != o.LastDay {
			return invalid(refusal.SignOff, "/signOff", "It needs an answer to “%s”, and nobody is there to give it: have its owner give it a preset, or not need it.", q.Label)
		}
	}
	return nil
}

// signOff sends, for each who leaves and has something still, the offering that takes it
// back, in the name of the first of their managers who may ask for it. Where nobody can,
// the owner of its service is told. Whose leaving is under way already is left alone.
func (w *Keeping) signOff(ctx context.Context, tx *store.Tx, actor string, leavers []people.Person) error {
	var c *offering.Compiled
	if key := w.Organisation().SignOff; key != "" {
		var err error
		if c, err = w.current(ctx, tx, key); err != nil && !errors.Is(err, ErrNotFound) {
			return err
		}
	}
	if c == nil {
		return nil
	}
	leaves := map[string]bool{}
	for _, p := range leavers {
		leaves[p.ID] = true
	}
	service, _ := w.Company().Service(c.Document.Purpose.Service)
	var d duties
	for _, p := range leavers {
		has, err := tx.BelongingsOf(ctx, p.ID)
		if err != nil {
			return err
		}
		under, err := tx.UnderWayFor(ctx, c.Document.Key, p.ID)
		if err != nil {
			return err
		}
		if len(has) == 0 || under {
			continue
		}
		sent, why, err := w.signOffFor(ctx, tx, c, p, leaves)
		if err != nil {
			return err
		}
		if why != "" {
			d.add(service.Owner, "%s has left and still has %s. %s could not be sent: %s", p.Name, listed(has), c.Document.Purpose.Name, why)
			continue
		}
		tx.Then(func() { w.tell(sent) })
		d.add(sent.Asker, "%s has left and still has %s. %s was sent in your name: %s.", p.Name, listed(has), c.Document.Purpose.Name, sent.Reference)
		if err := w.note(ctx, tx, actor, audit.SignedOff, p.ID, p.Name, audit.Change{Field: "request", After: sent.Reference}, audit.Change{Field: "for", After: w.Company().Name(sent.Asker)}); err != nil {
			return err
		}
	}
	return d.tell(ctx, w.kernel, tx, "")
}

// signOffFor sends a sign-off for somebody, or tells why nobody can ask for it.
func (w *Keeping) signOffFor(ctx context.Context, tx *store.Tx, c *offering.Compiled, p people.Person, leaves map[string]bool) (sent request.State, why string, err error) {
	o, answers := w.Organisation(), form.Answers{}
	if o.LastDay != "" {
		answers[o.LastDay] = form.OfText(calendar.DateOf(w.Clock().In(c.Promise.Zone())).String())
	}
	why = "none of their managers may ask for it."
	for _, login := range w.Company().Managers(p.ID) {
		asker, _ := w.Company().ByLogin(login)
		whom := offering.Beneficiary{Person: p.ID}
		if may, _ := c.MayAsk(offering.Parties{Asker: asker, Beneficiary: whom, Company: w.Company()}); !may || leaves[asker.ID] {
			continue
		}
		number, err := tx.NextNumber("reference", firstReference)
		if err != nil {
			return sent, "", err
		}
		sent, err = w.send(ctx, tx, c, asker.ID, request.Submit{Prefix: o.Prefix, Number: number, For: whom, Answers: answers, Channel: request.ByProgram})
		if refused := new(request.Refusal); errors.As(err, &refused) {
			return sent, firstOf(refused), nil
		}
		return sent, "", err
	}
	return sent, why, nil
}

// firstOf is the first thing that is wrong, in words.
func firstOf(r *request.Refusal) string {
	if len(r.Details) > 0 {
		return r.Details[0].Sentence
	}
	return r.Sentence
}

// send begins and sends a request in one go, and keeps no draft of it.
func (w *Keeping) send(ctx context.Context, tx *store.Tx, c *offering.Compiled, asker string, submit request.Submit) (request.State, error) {
	state := request.State{Status: request.Draft, Offering: c.Document.Key}
	facts, err := w.facts(ctx, tx, asker, state)
	if err != nil {
		return state, err
	}
	parties, err := w.parties(ctx, tx, c, asker, submit.For)
	if err != nil {
		return state, err
	}
	facts.Belongings = parties.Belongings
	if facts.Files, err = w.files(ctx, tx, c, ""); err != nil {
		return state, err
	}
	return w.handle(tx, request.State{}, facts, request.Begin{ID: rand.Text()}, submit)
}

// listed names at most three belongings.
func listed(all []people.Belonging) string {
	words := ""
	for i, b := range all {
		switch {
		case i == 3:
			return fmt.Sprintf("%s and %d more", words, len(all)-3)
		case i > 0:
			words += ", "
		}
		words += b.Words()
	}
	return words
}
