package work

import (
	"context"
)

// Deciding keeps who decides for whom, and takes decisions by links of mails.
type Deciding struct{ *kernel }

// DecisionsOf lists the decisions of a person.
func (w *Deciding) DecisionsOf(ctx context.Context, person string, d Decisions) ([]Entry, error) {
	return w.Store.DecisionsOf(ctx, person, d)
}
