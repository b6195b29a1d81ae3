package work

import (
	"context"
	"errors"
	"sync"
	"time"

	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// dirty are things to be looked at again.
type dirty struct {
	mu  sync.Mutex
	ids map[string]bool
}

func (d *dirty) add(id string) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.ids == nil {
		d.ids = map[string]bool{}
	}
	d.ids[id] = true
}

func (d *dirty) take(limit int) []string {
	d.mu.Lock()
	defer d.mu.Unlock()
	var ids []string
	for id := range d.ids {
		if len(ids) == limit {
			break
		}
		ids = append(ids, id)
		delete(d.ids, id)
	}
	return ids
}

// forecastsAtATime is how many forecasts are kept in one transaction.
const forecastsAtATime = 100

// catchUp marks the requests whose forecast was not worked out before the
// program stopped.
func (w *Running) catchUp(ctx context.Context) error {
	ids, err := w.Store.Unforecast(ctx, 1_000_000)
	for _, id := range ids {
		w.unforecast.add(id)
	}
	return err
}

// foreseeAnew has the forecasts worked out again whose foreseen step has passed
// without anything having happened.
func (w *Running) foreseeAnew(ctx context.Context) error {
	ids, err := w.Store.Stale(ctx, w.Clock(), forecastsAtATime)
	for _, id := range ids {
		w.unforecast.add(id)
	}
	return err
}

// settledAtATime is how many requests are settled in one look of the runner.
const settledAtATime = 100

// settleClocks keeps what the clocks of requests of before showed when they ended,
// as far as that can still be known, and sets the timers of the marks anew that a
// changed calendar moves.
func (w *Running) settleClocks(ctx context.Context) error {
	ids, err := w.Store.Unsettled(ctx, settledAtATime)
	if err != nil || len(ids) == 0 {
		return err
	}
	for _, id := range ids {
		if err := w.each(ctx, clockLane, id, func() error { return w.settle(ctx, id) }); err != nil {
			return err
		}
	}
	w.rouse()
	return nil
}

func (w *Running) settle(ctx context.Context, id string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		state, err := tx.Request(ctx, id)
		if err != nil {
			return err
		}
		facts, err := w.facts(ctx, tx, request.Program, state)
		if err != nil {
			return err
		}
		if !state.Status.UnderWay() {
			facts.Now = state.At // nothing happens now: it is noted what was
		}
		if _, err = w.handle(tx, state, facts, request.Settle{}); err != nil && !isRefusal(err) {
			return err
		}
		return tx.Settled(id)
	})
}

// refreshForecasts works out the forecasts of what has changed, and keeps from
// them what lists are ordered by.
func (w *Running) refreshForecasts(ctx context.Context) error {
	for {
		ids := w.unforecast.take(forecastsAtATime)
		if len(ids) == 0 {
			return nil
		}
		var all []store.Forecast
		for _, id := range ids {
			err := w.each(ctx, forecastLane, id, func() error {
				f, err := w.foreseen(ctx, id)
				if f != nil {
					all = append(all, *f)
				}
				return err
			})
			if err != nil && !errors.Is(err, store.ErrFull) {
				w.unforecast.add(id)
				return err
			}
		}
		for _, f := range all {
			if f.Slips {
				if _, err := w.byItself(ctx, f.Request, request.Foresee{Likely: f.Likely}); err != nil {
					w.unforecast.add(f.Request)
				}
			}
		}
		if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveForecasts(all) }); err != nil {
			for _, id := range ids {
				w.unforecast.add(id)
			}
			if errors.Is(err, store.ErrFull) {
				return nil // it is no work that could be lost
			}
			return err
		}
	}
}

// foreseen works out what is kept of the forecast of a request; nil for one that
// was never sent.
func (w *Running) foreseen(ctx context.Context, id string) (*store.Forecast, error) {
	state, err := w.Store.Request(ctx, id)
	if err != nil || state.Reference == "" {
		return nil, ignoreMissing(err)
	}
	facts, err := w.facts(ctx, w.Store, request.Program, state)
	if err != nil {
		return nil, err
	}
	f := state.Forecast(facts, w.durations.of(ctx, state.Offering))
	out := kept(state, f, state.LateFrom(facts.Offering, f.Due), facts.Now)
	out.Slips = !f.Unknown && state.Slips(facts.Offering, out.Likely, facts.Now)
	return &out, nil
}

// kept is what is kept of a forecast.
func kept(s request.State, f request.Forecast, late, now time.Time) store.Forecast {
	out := store.Forecast{Request: s.ID, Seq: s.Seq, Due: f.Due, Late: late, Outlook: f.Outlook(), Places: map[string]store.Place{}}
	if s.Status == request.Closed || s.Status == request.Delivered {
		return placed(out, s, f)
	}
	if !f.Unknown {
		out.Likely = f.Finish
	}
	out.Next = f.Next(s.At, now)
	return placed(out, s, f)
}

// placed adds where the open tasks stand in lists.
func placed(out store.Forecast, s request.State, f request.Forecast) store.Forecast {
	for i, step := range f.Steps {
		task, ok := s.Task(step.Task)
		if step.Rung != "" || !ok || task.State.Ended() && task.Undo == nil {
			continue
		}
		out.Places[task.Key] = placeIn(f.Slots[i], task)
	}
	return out
}

// placeIn is where a task stands in lists: by when it must begin at the latest,
// or end once it has begun; what is stuck before all. One that nothing presses is
// placed by when it became ready, so that the longest waiting is the first, or
// else by when it is likely to begin.
func placeIn(slot plan.Slot, t *request.Task) store.Place {
	at := store.Place{Latest: slot.LatestStart, Due: slot.LatestFinish, Stuck: t.State == plan.Stuck}
	switch {
	case slot.LatestStart.IsZero() && t.ReadyAt.IsZero():
		at.Latest = slot.Start
	case slot.LatestStart.IsZero():
		at.Latest = t.ReadyAt
	case t.State == plan.Taken || t.State == plan.Asking:
		at.Latest = slot.LatestFinish
	}
	return at
}
