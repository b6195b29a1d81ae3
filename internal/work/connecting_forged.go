package work

import (
	"context"
	"sync"
	"time"

	"heptad/internal/store"
)

// forgeries counts the reports whose signature was wrong. They are counted in
// memory, so that whoever sends them takes nothing from those who write, and
// kept by the runner when it looks.
type forgeries struct {
	mu    sync.Mutex
	fresh map[string]store.Forgery // by key of the connector, since they were last kept
}

func (f *forgeries) add(connector string, at time.Time) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.fresh == nil {
		f.fresh = map[string]store.Forgery{}
	}
	f.fresh[connector] = store.Forgery{Connector: connector, Count: f.fresh[connector].Count + 1, Last: at}
}

func (f *forgeries) take() []store.Forgery {
	f.mu.Lock()
	defer f.mu.Unlock()
	var all []store.Forgery
	for _, one := range f.fresh {
		all = append(all, one)
	}
	f.fresh = nil
	return all
}

// keepForgeries adds what was counted to what is kept.
func (w *Connecting) keepForgeries(ctx context.Context) error {
	all := w.forged.take()
	if len(all) == 0 {
		return nil
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddForgeries(all) })
}

// forgeriesSoFar tells how many reports had a wrong signature, by connector.
func (w *Connecting) forgeriesSoFar(ctx context.Context) ([]store.Forgery, error) {
	if err := w.keepForgeries(ctx); err != nil {
		return nil, err
	}
	return w.Store.Forgeries(ctx)
}
