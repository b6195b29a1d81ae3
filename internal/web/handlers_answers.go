package web

import (
	"context"

	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
)

type answered = request.Answered

// shown makes the lines of a price a list even when there are none.
func shown(p price.Price) price.Price {
	p.Lines, p.Shares = list(p.Lines), list(p.Shares)
	return p
}

// answers gives the answers of a request in words, as far as a sight of it goes.
func (h handlers) answers(ctx context.Context, state request.State, sight request.Sight) ([]answered, error) {
	out := []answered{}
	if state.Status == request.Draft {
		return out, nil
	}
	c, err := h.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	return h.inWords(c, state, sight), nil
}

func (h handlers) inWords(c *offering.Compiled, state request.State, sight request.Sight) []answered {
	return state.InWords(c, h.Office.Company(), sight)
}
