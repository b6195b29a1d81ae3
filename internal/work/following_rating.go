package work

import (
	"context"
	"time"

	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// ratingLinkOpen is for how long a link of a mail rates.
const ratingLinkOpen = 30 * 24 * time.Hour

// RatingLink is what a link of a mail that rates leads to.
type RatingLink struct {
	Message store.Message
	State   request.State
	Asks    []string
	Trouble string // why nothing can be rated by it any more; empty when it can
}

// OpenRatingLink shows what a link leads to. It changes nothing, however often and by whom
// it is followed.
func (w *Following) OpenRatingLink(ctx context.Context, token string) (RatingLink, error) {
	id, right := w.Mailing.idOf(toRate, token)
	if !right {
		return RatingLink{}, ErrNotFound
	}
	m, err := w.Store.Message(ctx, id)
	if err != nil {
		return RatingLink{}, err
	}
	state, err := w.Store.Request(ctx, m.Request)
	if err != nil {
		return RatingLink{}, err
	}
	c, err := w.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return RatingLink{}, err
	}
	link := RatingLink{Message: m, State: state, Asks: c.Promise.RatingAsks()}
	p, ok := w.Company().Person(m.Person)
	mine, rated := state.RatingOf(m.Person)
	switch now := w.Clock(); {
	case !ok || p.Former:
		link.Trouble = "Who this link was for is not with the company any more."
	case !now.Before(m.At.Add(ratingLinkOpen)):
		link.Trouble = "This link has expired. Sign in to say how it went."
	case !state.Rates:
		link.Trouble = "There is nothing to rate any more."
	case rated && !now.Before(mine.At.Add(request.RatingOpen)):
		link.Trouble = "You have said how it went: after fourteen days it stays."
	}
	return link, nil
}

// RateByLink rates by a link of a mail.
func (w *Following) RateByLink(ctx context.Context, token string, c request.Rate) (RatingLink, error) {
	link, err := w.OpenRatingLink(ctx, token)
	if err != nil {
		return link, err
	}
	if link.Trouble != "" {
		return link, conflict(refusal.StaleLink, "%s", link.Trouble)
	}
	link.State, err = w.Do(ctx, link.Message.Person, link.Message.Request, c)
	return link, err
}
