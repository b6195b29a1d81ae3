package work

import (
	"context"

	"heptad/internal/core/promise"
	"heptad/internal/store"
)

// Pooled is what people thought of each of some offerings, taken together, where there are so many
// that nobody can tell who said what.
func (w *Designing) Pooled(ctx context.Context, offerings []string) (map[string]store.Pooled, error) {
	all, err := w.Store.Ratings(ctx, offerings)
	for key, p := range all {
		if p.Count < promise.LeastPooled {
			delete(all, key)
		}
	}
	return all, err
}
