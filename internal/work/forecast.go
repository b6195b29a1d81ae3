package work

import (
	"context"
	"errors"
	"sync"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// measures are the times that finished work of an offering took: the last of each
// key, read once and again when one more is there.
type measures struct {
	office   *Office
	offering string
}

// measured is what one part of an offering took.
type measured struct{ offering, part, key string }

func (m measures) Task(key string) []time.Duration {
	return m.office.tookSoFar(measured{m.offering, store.MeasuredTask, key})
}

func (m measures) Rescue(key string) []time.Duration {
	return m.office.tookSoFar(measured{m.offering, store.MeasuredRescue, key})
}

func (m measures) Rung(key string) []time.Duration {
	return m.office.tookSoFar(measured{m.offering, store.MeasuredRung, key})
}

// tookSoFar reads how long something took. When that cannot be read nothing is
// known, and efforts are used.
func (o *Office) tookSoFar(m measured) []time.Duration {
	if took, ok := o.measures.Load(m); ok {
		return took.([]time.Duration)
	}
	took, err := o.Store.Took(context.Background(), m.offering, m.part, m.key)
	if err != nil {
		o.Log.Error("the times of finished work cannot be read", "offering", m.offering, "key", m.key, "error", err)
		return nil
	}
	o.measures.Store(m, took)
	return took
}

func (o *Office) measuresOf(offering string) request.Measures { return measures{o, offering} }

// measure keeps how long what has just ended took, in the open time of who did
// it.
func (o *Office) measure(tx *store.Tx, s request.State, events []request.Event, facts request.Facts) error {
	add := func(part, key string, took time.Duration) error {
		o.measures.Delete(measured{s.Offering, part, key})
		return tx.AddMeasure(s.Offering, part, key, took)
	}
	for _, e := range events {
		var err error
		switch b := e.Body.(type) {
		case request.TaskDone:
			t, _ := s.Task(b.Task)
			of, ok := facts.Offering.Plan.Task(t.Of)
			if !ok || b.Reason != "" || of.Kind == plan.Wait {
				continue
			}
			work := facts.Company.TeamHours(t.Team, facts.Offering.Promise.Calendar())
			if t.StuckAt.IsZero() {
				err = add(store.MeasuredTask, t.Of, took(work, t.ReadyAt, e.At))
			} else {
				err = add(store.MeasuredRescue, t.Of, took(work, t.StuckAt, e.At))
			}
		case request.RungEnded:
			for _, r := range s.Rungs {
				if r.Key == b.Rung && b.Outcome == ladder.Passed {
					err = errors.Join(err, add(store.MeasuredRung, r.Key, took(facts.Offering.Promise.Calendar(), r.Opened, e.At)))
				}
			}
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func took(work *calendar.Calendar, from, until time.Time) time.Duration {
	return max(0, work.Between(from, until))
}

// Forecast computes when a request is likely to be done, as of now.
func (o *Office) Forecast(ctx context.Context, s request.State) (request.Forecast, error) {
	facts, err := o.facts(ctx, o.Store, request.Program, s)
	if err != nil {
		return request.Forecast{}, err
	}
	return s.Forecast(facts, o.measuresOf(s.Offering)), nil
}

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
func (o *Office) catchUp(ctx context.Context) error {
	ids, err := o.Store.Unforecast(ctx, 1_000_000)
	for _, id := range ids {
		o.unforecast.add(id)
	}
	return err
}

// foreseeAnew has the forecasts worked out again whose foreseen step has passed
// without anything having happened.
func (o *Office) foreseeAnew(ctx context.Context) error {
	ids, err := o.Store.Stale(ctx, o.Clock(), forecastsAtATime)
	for _, id := range ids {
		o.unforecast.add(id)
	}
	return err
}

// settledAtATime is how many requests are settled in one look of the runner.
const settledAtATime = 100

// settleClocks keeps what the clocks of requests of before showed when they ended,
// as far as that can still be known. It is done once.
func (o *Office) settleClocks(ctx context.Context) error {
	ids, err := o.Store.Unsettled(ctx, settledAtATime)
	if err != nil || len(ids) == 0 {
		return err
	}
	for _, id := range ids {
		if err := o.each(ctx, clockLane, id, func() error { return o.settle(ctx, id) }); err != nil {
			return err
		}
	}
	o.rouse()
	return nil
}

func (o *Office) settle(ctx context.Context, id string) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		state, err := tx.Request(ctx, id)
		if err != nil {
			return err
		}
		facts, err := o.facts(ctx, tx, request.Program, state)
		if err != nil {
			return err
		}
		facts.Now = state.At // nothing happens now: it is noted what was
		if _, err = o.handle(tx, state, request.Settle{}, facts); isRefusal(err) {
			return tx.Settled(id)
		}
		return err
	})
}

// refreshForecasts works out the forecasts of what has changed, and keeps from
// them what lists are ordered by.
func (o *Office) refreshForecasts(ctx context.Context) error {
	for {
		ids := o.unforecast.take(forecastsAtATime)
		if len(ids) == 0 {
			return nil
		}
		var all []store.Forecast
		for _, id := range ids {
			err := o.each(ctx, forecastLane, id, func() error {
				f, err := o.foreseen(ctx, id)
				if f != nil {
					all = append(all, *f)
				}
				return err
			})
			if err != nil && !errors.Is(err, store.ErrFull) {
				o.unforecast.add(id)
				return err
			}
		}
		for _, f := range all {
			if f.Slips {
				if _, err := o.byItself(ctx, f.Request, request.Foresee{Likely: f.Likely}); err != nil {
					o.unforecast.add(f.Request)
				}
			}
		}
		if err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveForecasts(all) }); err != nil {
			for _, id := range ids {
				o.unforecast.add(id)
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
func (o *Office) foreseen(ctx context.Context, id string) (*store.Forecast, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil || state.Reference == "" {
		return nil, ignoreMissing(err)
	}
	facts, err := o.facts(ctx, o.Store, request.Program, state)
	if err != nil {
		return nil, err
	}
	f := state.Forecast(facts, o.measuresOf(state.Offering))
	out := kept(state, f, state.LateFrom(facts.Offering, f.Due), facts.Now)
	out.Slips = !f.Unknown && state.Slips(facts.Offering, out.Likely, facts.Now)
	return &out, nil
}

// kept is what is kept of a forecast.
func kept(s request.State, f request.Forecast, late, now time.Time) store.Forecast {
	out := store.Forecast{Request: s.ID, Seq: s.Seq, Due: f.Due, Late: late, Places: map[string]store.Place{}}
	if s.Status == request.Closed || s.Status == request.Delivered {
		return placed(out, s, f)
	}
	if !f.Unknown {
		out.Likely = f.Finish
	}
	for _, slot := range f.Slots {
		for _, at := range []time.Time{slot.Start, slot.Finish} {
			if at.After(now) && (out.Next.IsZero() || at.Before(out.Next)) {
				out.Next = at
			}
		}
	}
	// What takes longer than foreseen is foreseen for now, again and again: at
	// growing intervals.
	if soonest := now.Add(max(leastInterval, now.Sub(s.At)/10)); out.Next.IsZero() || out.Next.Before(soonest) {
		out.Next = soonest
	}
	return placed(out, s, f)
}

// leastInterval is the shortest time after which a forecast is worked out anew
// though nothing has happened.
const leastInterval = time.Minute

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

// PlaceOf is where a task stands in lists, as they show it; from its forecast
// when that is not kept yet.
func (o *Office) PlaceOf(ctx context.Context, s request.State, t *request.Task, f request.Forecast) (store.Place, error) {
	at, err := o.Store.PlaceOf(ctx, s.ID, t.Key, s.Seq)
	if !errors.Is(err, ErrNotFound) {
		return at, err
	}
	slot, _, _ := f.Step(t.Key)
	return placeIn(slot, t), nil
}
