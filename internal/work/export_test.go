package work

import (
	"context"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// ByItself lets tests give a command that nobody in person gives.
func (k *kernel) ByItself(ctx context.Context, id string, c request.Command) (bool, error) {
	return k.byItself(ctx, id, c)
}

// GrantsOf lets tests read what a service may use.
func (k *kernel) GrantsOf(service string) plan.Grants { return k.grantsOf(service) }

// MeasuresOf lets tests read how long the work of an offering took.
func (k *kernel) MeasuresOf(ctx context.Context, offering string) request.Measures {
	return k.durations.of(ctx, offering)
}

// FreePlaces lets tests read what is free of all pools.
func (k *kernel) FreePlaces(ctx context.Context) (map[string]int, error) {
	uses, err := k.Store.Pools(ctx)
	free := map[string]int{}
	for _, use := range uses {
		free[use.Key] = use.Free()
	}
	return free, err
}

// BelongingsOf lets tests read what somebody has.
func (k *kernel) BelongingsOf(ctx context.Context, person string) ([]people.Belonging, error) {
	return k.Store.BelongingsOf(ctx, person)
}

// RunOne does the first effect alone that is due by now, and what the runner does before
// it; false when none is. Live several run side by side, in an order that nobody knows.
func (w *Running) RunOne(ctx context.Context) (bool, error) {
	for _, step := range []func(context.Context) error{w.relieve, w.advance, w.foreseeAnew, w.refreshForecasts} {
		if err := step(ctx); err != nil {
			return false, err
		}
	}
	now := w.Clock()
	connectors, err := w.Store.Due(ctx, now)
	if err != nil || len(connectors) == 0 {
		return false, err
	}
	var due []store.Effect
	for _, connector := range connectors {
		leased, _, err := w.Store.LeaseDue(ctx, connector, now, 100)
		if err != nil {
			return false, err
		}
		due = append(due, leased...)
	}
	slices.SortFunc(due, func(a, b store.Effect) int {
		if c := a.At.Compare(b.At); c != 0 {
			return c
		}
		return strings.Compare(a.Key, b.Key)
	})
	for _, e := range due[1:] {
		if err := w.Store.ReleaseEffect(ctx, e.Key, e.At); err != nil {
			return false, err
		}
	}
	_, err = w.perform(ctx, due[0])
	return true, err
}

// NextBy is when the runner has something to do next: an effect, a forecast, or an absence
// that begins or ends.
func (w *Running) NextBy(ctx context.Context) (time.Time, bool) {
	var next time.Time
	soonest := func(at time.Time) {
		if !at.IsZero() && (next.IsZero() || at.Before(next)) {
			next = at
		}
	}
	if dues, err := w.Store.NextDues(ctx); err == nil {
		for _, due := range dues {
			soonest(due)
		}
	}
	if stale, err := w.Store.NextStale(ctx); err == nil {
		soonest(stale)
	}
	if turns, ok := w.Company().NextAbsenceChange(w.Clock()); ok {
		soonest(turns)
	}
	return next, !next.IsZero()
}
