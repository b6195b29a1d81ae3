package work

import (
	"context"
	"crypto/rand"
	"errors"
	"slices"
	"strings"

	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// mostOnSlip is how many wishes are sent at once at most.
const mostOnSlip = 20

// SlipWish is a draft on a slip, worked out as it is now.
type SlipWish struct {
	Draft    string // ID
	Offering string // key
	Name     string
	Form     Form
	Trouble  string // why it cannot be sent; empty when it can
}

// SlipOf lists what somebody has put on their slip.
func (w *Asking) SlipOf(ctx context.Context, person string) ([]SlipWish, error) {
	waiting, err := w.Store.SlipOf(ctx, person)
	if err != nil {
		return nil, err
	}
	wishes := make([]SlipWish, len(waiting))
	for i, one := range waiting {
		if wishes[i], err = w.wish(ctx, person, one); err != nil {
			return nil, err
		}
	}
	return wishes, nil
}

// OnSlip counts what somebody has put on their slip.
func (w *Asking) OnSlip(ctx context.Context, person string) (int, error) {
	return w.Store.OnSlip(ctx, person)
}

// wish works out one draft on a slip, and says what keeps it from being sent.
func (w *Asking) wish(ctx context.Context, person string, on store.Drafted) (SlipWish, error) {
	wish := SlipWish{Draft: on.ID, Offering: on.Offering, Name: on.Title}
	c, err := w.askable(ctx, person, on.Offering)
	if errors.Is(err, ErrNotFound) {
		wish.Trouble = "Nobody can ask for this any more, or you cannot."
		return wish, nil
	}
	if err != nil {
		return wish, err
	}
	typed, err := w.typed(ctx, on.ID)
	if err != nil {
		return wish, err
	}
	wish.Form = Form{Offering: c, Draft: on.ID, Answers: typed.Answers, For: typed.For, SavedAt: typed.SavedAt}
	if err := w.fill(ctx, &wish.Form, person); err != nil {
		return wish, err
	}
	wish.Name = c.Document.Purpose.Name
	if e := wish.Form.Evaluated; e.Trouble != "" {
		wish.Trouble = e.Trouble
	} else if !e.Complete {
		wish.Trouble = "Some answers are missing or not right."
		for _, q := range e.Questions {
			for _, p := range q.Problems {
				wish.Trouble = p.Sentence
				return wish, nil
			}
		}
	}
	return wish, nil
}

// PutOnSlip puts the draft that somebody has of an offering on their slip.
func (w *Asking) PutOnSlip(ctx context.Context, person, key string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		id, err := tx.DraftOf(ctx, person, key)
		if err != nil {
			return err
		}
		on, err := tx.SlipOf(ctx, person)
		if err != nil {
			return err
		}
		if len(on) >= mostOnSlip {
			return conflict(refusal.SlipFull, "At most %d wishes are sent at once: send these first.", mostOnSlip)
		}
		return tx.PutOnSlip(id)
	})
}

// TakeOffSlip makes a draft on the slip of somebody one of its own again, to be changed or
// sent alone.
func (w *Asking) TakeOffSlip(ctx context.Context, person, draft string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		on, err := tx.SlipOf(ctx, person)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(on, func(one store.Drafted) bool { return one.ID == draft })
		if i < 0 {
			return ErrNotFound
		}
		if _, err := tx.DraftOf(ctx, person, on[i].Offering); err == nil {
			return conflict(refusal.OtherDraft, "You have begun another of these: send it, discard it, or put it on the slip first.")
		} else if !errors.Is(err, ErrNotFound) {
			return err
		}
		return tx.TakeOffSlip(draft)
	})
}

// Sent is what became of a wish that was on a slip: it was sent, or stays with its trouble.
type Sent struct {
	SlipWish
	State request.State // of what was sent
}

// SendSlip sends what is on the slip of somebody, each as a request of its own, held together
// by a title. What cannot be sent stays.
func (w *Asking) SendSlip(ctx context.Context, person, title string) ([]Sent, error) {
	wishes, err := w.SlipOf(ctx, person)
	if err != nil {
		return nil, err
	}
	if len(wishes) == 0 {
		return nil, conflict(refusal.SlipEmpty, "There is nothing on your slip: it was sent already.")
	}
	if title = strings.TrimSpace(title); title == "" {
		return nil, invalid(refusal.NoName, "/title", "Say what holds them together.")
	}
	together := &request.Together{ID: rand.Text(), Title: title}
	sent := make([]Sent, len(wishes))
	for i, wish := range wishes {
		sent[i].SlipWish = wish
		if wish.Trouble != "" {
			continue
		}
		state, err := w.Submit(ctx, person, wish.Draft, request.Submit{Answers: wish.Form.Answers, For: wish.Form.For, Slip: wish.Form.Evaluated.Slip, Together: together})
		if why, refused := request.AsRefusal(err); refused {
			sent[i].Trouble = why.Sentence
		} else if err != nil {
			return sent[:i], err // what was sent is sent, and the rest stays on the slip
		}
		sent[i].State = state
	}
	return sent, nil
}
