package work

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// durations are how long finished work took: the last of each key, read once and
// again when one more is there.
type durations struct {
	store *store.Store
	log   *slog.Logger
	kept  cache[measured, []time.Duration]
}

// measured is what one part of an offering took.
type measured struct{ offering, part, key string }

// measures are the durations of an offering, read while a call lasts.
type measures struct {
	ctx      context.Context
	from     *durations
	offering string
}

func (d *durations) of(ctx context.Context, offering string) request.Measures {
	return measures{ctx, d, offering}
}

func (m measures) Task(key string) []time.Duration { return m.took(store.MeasuredTask, key) }

func (m measures) Rescue(key string) []time.Duration { return m.took(store.MeasuredRescue, key) }

func (m measures) Rung(key string) []time.Duration { return m.took(store.MeasuredRung, key) }

// took reads how long something took. When that cannot be read nothing is known,
// and efforts are used.
func (m measures) took(part, key string) []time.Duration {
	of := measured{m.offering, part, key}
	took, err := m.from.kept.get(unchanging, of, func() ([]time.Duration, error) { return m.from.store.Took(m.ctx, of.offering, part, key) })
	if err != nil && m.ctx.Err() == nil {
		m.from.log.Error("the times of finished work cannot be read", "offering", of.offering, "key", key, "error", err)
	}
	return took
}

// keep keeps how long what has just ended took, in the open time of who did
// it.
func (d *durations) keep(tx *store.Tx, s request.State, events []request.Event, facts request.Facts) error {
	add := func(part, key string, took time.Duration) error {
		tx.Then(func() { d.kept.drop(measured{s.Offering, part, key}) })
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
func (k *kernel) Forecast(ctx context.Context, s request.State) (request.Forecast, error) {
	facts, err := k.facts(ctx, k.Store, request.Program, s)
	if err != nil {
		return request.Forecast{}, err
	}
	return s.Forecast(facts, k.durations.of(ctx, s.Offering)), nil
}
