package work

import (
	"context"
	"errors"

	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// opened finds the message of a link. A link that is altered is not there.
func (w *Deciding) opened(ctx context.Context, from interface {
	Message(ctx context.Context, id string) (store.Message, error)
}, token string) (store.Message, error) {
	id, right := w.Mailing.idOf(toDecide, token)
	if !right {
		return store.Message{}, ErrNotFound
	}
	m, err := from.Message(ctx, id)
	if err == nil && m.DecideBy.IsZero() {
		return m, ErrNotFound
	}
	return m, err
}

// Linked is what a link of a mail leads to.
type Linked struct {
	Message store.Message
	State   request.State
	Trouble string // why nothing can be decided by it any more; empty when it can
}

// OpenLink shows what a link of a mail leads to. It changes nothing, however
// often it is followed.
func (w *Deciding) OpenLink(ctx context.Context, token string) (Linked, error) {
	m, err := w.opened(ctx, w.Store, token)
	if err != nil {
		return Linked{}, err
	}
	state, err := w.Store.Request(ctx, m.Request)
	return Linked{m, state, w.stale(ctx, m, state)}, err
}

// decidesByMail reports whether a link in a mail decides on a request without sign-in.
func decidesByMail(ctx context.Context, k *kernel, s request.State) bool {
	if !k.Organisation().DecideByMail {
		return false
	}
	c, err := k.Version(ctx, s.Offering, s.Version)
	return err == nil && !c.Careful
}

// stale says why a link does not decide, or not any more.
func (w *Deciding) stale(ctx context.Context, m store.Message, s request.State) string {
	if !decidesByMail(ctx, w.kernel, s) {
		return "This is not decided by a link alone. Sign in to decide."
	}
	p, ok := w.Company().Person(m.Person)
	r, open := s.OpenRung()
	switch {
	case m.Used:
		return "This link has been used already. Sign in to see what became of it, or to change your mind."
	case !w.Clock().Before(m.DecideBy):
		return "This link has expired. Sign in to decide."
	case !ok || p.Former:
		return "Who this link was for is not with the company any more."
	case s.Status == request.Closed && s.Outcome == request.Withdrawn:
		return "The request was taken back. There is nothing to decide any more."
	case s.Status == request.Returned:
		return "The request waits for an answer of " + w.Company().Name(s.Asker) + "."
	case !open || r.Key != m.Rung:
		return "This is decided already. There is nothing left to do."
	}
	if len(r.SeatsFor(m.Person)) == 0 {
		return "This decision is not with you any more."
	}
	if len(r.OpenSeatsFor(m.Person)) == 0 {
		return "You have decided on this already. Sign in to change your mind."
	}
	return ""
}

// DecideByLink decides by a link of a mail, once.
func (w *Deciding) DecideByLink(ctx context.Context, token string, decision request.Decision, reason string) (Linked, error) {
	m, err := w.opened(ctx, w.Store, token)
	if err != nil {
		return Linked{}, err
	}
	state, err := w.run(ctx, change{actor: m.Person, id: m.Request, command: func(tx *store.Tx) (request.Command, error) {
		fresh, err := w.opened(ctx, tx, token)
		if err != nil {
			return nil, err
		}
		state, err := tx.Request(ctx, m.Request)
		if err != nil {
			return nil, err
		}
		if trouble := w.stale(ctx, fresh, state); trouble != "" {
			return nil, &request.Refusal{Kind: request.Conflict, Code: refusal.StaleLink, Sentence: trouble}
		}
		return request.Decide{Rung: m.Rung, Decision: decision, Reason: reason}, tx.UseLink(m.ID, w.Clock())
	}})
	if errors.Is(err, store.ErrExists) {
		err = &request.Refusal{Kind: request.Conflict, Code: refusal.StaleLink, Sentence: "This link has been used already."}
	}
	return Linked{Message: m, State: state}, err
}
