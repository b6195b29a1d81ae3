package work

import (
	"context"
	"log/slog"
	"time"

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
	for _, l := range s.Learned(events, facts) {
		part := map[request.Part]string{request.OfTask: store.MeasuredTask, request.OfRescue: store.MeasuredRescue, request.OfRung: store.MeasuredRung}[l.Part]
		tx.Then(func() { d.kept.drop(measured{s.Offering, part, l.Key}) })
		if err := tx.AddMeasure(s.Offering, part, l.Key, l.Took); err != nil {
			return err
		}
	}
	return nil
}

// Forecast computes when a request is likely to be done, as of now.
func (k *kernel) Forecast(ctx context.Context, s request.State) (request.Forecast, error) {
	facts, err := k.facts(ctx, k.Store, request.Program, s)
	if err != nil {
		return request.Forecast{}, err
	}
	return s.Forecast(facts, k.durations.of(ctx, s.Offering)), nil
}
