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

// measures are the times that finished work of an offering took.
type measures struct{ tasks, rungs map[string][]time.Duration }

func (m *measures) Task(key string) []time.Duration { return m.tasks[key] }
func (m *measures) Rung(key string) []time.Duration { return m.rungs[key] }

// measuresOf reads how long the work of an offering took so far. When that
// cannot be read nothing is known, and efforts are reckoned with.
func (o *Office) measuresOf(offering string) request.Measures {
	if m, ok := o.measures.Load(offering); ok {
		return m.(*measures)
	}
	tasks, rungs, err := o.Store.Measures(context.Background(), offering)
	if err != nil {
		o.Log.Error("the times of finished work cannot be read", "offering", offering, "error", err)
		return &measures{}
	}
	m := &measures{tasks, rungs}
	o.measures.Store(offering, m)
	return m
}

// measure keeps how long what has just ended took, in the open time of who did
// it.
func (o *Office) measure(tx *store.Tx, s request.State, events []request.Event, facts request.Facts) error {
	for _, e := range events {
		var err error
		switch b := e.Body.(type) {
		case request.TaskDone:
			t, _ := s.Task(b.Task)
			if of, ok := facts.Offering.Plan.Task(t.Of); ok && b.Reason == "" && of.Kind != plan.Wait {
				err = tx.AddMeasure(s.Offering, "task", t.Of, took(facts.Company.TeamHours(t.Team, facts.Offering.Promise.Calendar()), t.ReadyAt, e.At))
			}
		case request.RungEnded:
			for _, r := range s.Rungs {
				if r.Key == b.Rung && b.Outcome == ladder.Passed {
					err = tx.AddMeasure(s.Offering, "rung", r.Key, took(facts.Offering.Promise.Calendar(), r.Opened, e.At))
				}
			}
		default:
			continue
		}
		if err != nil {
			return err
		}
		o.measures.Delete(s.Offering)
	}
	return nil
}

func took(work *calendar.Calendar, from, until time.Time) time.Duration {
	return max(0, work.Between(from, until))
}

// Forecast reckons when a request is likely to be done, as of now.
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
				f, err := o.reckon(ctx, id)
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

// reckon works out what is kept of the forecast of a request; nil for one that
// was never sent.
func (o *Office) reckon(ctx context.Context, id string) (*store.Forecast, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil || state.Reference == "" {
		return nil, ignoreMissing(err)
	}
	f, err := o.Forecast(ctx, state)
	if err != nil {
		return nil, err
	}
	out := kept(state, f)
	return &out, nil
}

// kept is what is kept of a forecast.
func kept(s request.State, f request.Forecast) store.Forecast {
	out := store.Forecast{Request: s.ID, Seq: s.Seq, Due: f.Due, Latest: map[string]time.Time{}, Dues: map[string]time.Time{}}
	if s.Status != request.Closed && s.Status != request.Delivered {
		out.Likely = f.Finish
	}
	for i, step := range f.Steps {
		task, ok := s.Task(step.Task)
		if step.Rung != "" || !ok || task.State.Ended() && task.Undo == nil {
			continue
		}
		place := placeIn(f.Slots[i], task)
		out.Latest[task.Key], out.Dues[task.Key] = place.Latest, place.Due
	}
	return out
}

// placeIn is where a task stands in lists: by when it must begin at the latest,
// or end once it has begun. One that nothing presses is placed by when it became
// ready, so that the longest waiting is the first, or else by when it is likely
// to begin.
func placeIn(slot plan.Slot, t *request.Task) store.Place {
	at := store.Place{Latest: slot.LatestStart, Due: slot.LatestFinish}
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
