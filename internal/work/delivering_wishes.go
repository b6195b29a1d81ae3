package work

import (
	"context"
	"slices"

	"heptad/internal/core/request"
)

// Wish is what somebody of a request wants known by those who work for them.
type Wish struct {
	Name string
	Profile
}

// Wishes are what who asks, and whom it is for, want known: told to the members of the
// team of a task that is open, and to nobody else.
func (w *Delivering) Wishes(ctx context.Context, reader string, s request.State, t *request.Task) ([]Wish, error) {
	if t.State.Ended() && t.Undo == nil || !w.Company().InTeam(reader, t.Team) {
		return nil, nil
	}
	var wishes []Wish
	for _, person := range slices.Compact([]string{s.Asker, s.Beneficiary()}) {
		p, err := w.Store.Profile(ctx, person)
		if err != nil {
			return nil, err
		}
		p.Zone = ""
		if p != (Profile{}) {
			wishes = append(wishes, Wish{w.Company().Name(person), p})
		}
	}
	return wishes, nil
}
