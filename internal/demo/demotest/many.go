package demotest

import (
	"context"
	"fmt"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
)

// AddMany keeps n requests for parking, each with one task that waits for Keys &
// Badges, made of their events as the program would, one a minute up to now.
// Effects, which may be nil, gives what falls due of each.
func AddMany(ctx context.Context, kept *store.Store, now time.Time, n int, effects func(id string) []request.Effect) error {
	return addMany(ctx, kept, now, n, nil, effects)
}

// AddPromised keeps n such requests whose clocks run, all promised alike.
func AddPromised(ctx context.Context, kept *store.Store, now time.Time, n int, promised promise.Promised, effects func(id string) []request.Effect) error {
	return addMany(ctx, kept, now, n, &promised, effects)
}

func addMany(ctx context.Context, kept *store.Store, now time.Time, n int, promised *promise.Promised, effects func(id string) []request.Effect) error {
	const atOnce = 1000
	for from := 0; from < n; from += atOnce {
		err := kept.Write(ctx, func(tx *store.Tx) error {
			var forecasts []store.Forecast
			for i := from; i < min(n, from+atOnce); i++ {
				at := now.Add(time.Duration(i-n) * time.Minute)
				state, events := waiting(i, at, promised)
				var due []request.Effect
				if effects != nil {
					due = effects(state.ID)
				}
				if err := tx.SaveRequest(state, events, due); err != nil {
					return err
				}
				forecasts = append(forecasts, store.Forecast{
					Request: state.ID, Seq: state.Seq, Due: at.AddDate(0, 0, 3), Likely: at.AddDate(0, 0, 2),
					Late: at.AddDate(0, 0, 3), Places: map[string]store.Place{"check": {Latest: at.AddDate(0, 0, 2), Due: at.AddDate(0, 0, 3)}},
				})
			}
			return tx.SaveForecasts(forecasts)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

func waiting(i int, at time.Time, promised *promise.Promised) (request.State, []request.Event) {
	sarmento := demo.ID("sarmento")
	task := request.Task{Key: "check", Of: "check", Name: "Check the badge", Kind: plan.Manual, Team: "keys-badges", After: []string{}, Slice: []string{}, State: plan.Blocked}
	events := []request.Event{
		{Seq: 1, At: at, Actor: sarmento, Body: request.DraftBegun{ID: fmt.Sprintf("many-%d", i), Offering: "berth-side-parking", Title: "Berth-side parking", Service: "parking"}},
		{Seq: 2, At: at, Actor: sarmento, Body: request.Submitted{
			Promise: promised, Reference: fmt.Sprintf("QB-%d-X", i), Version: 1, Title: fmt.Sprintf("Place %d", i), Service: "parking",
			Answers: form.Answers(Parking("open")), Price: price.Price{Lines: []price.Line{}, Shares: []price.Share{}}, Rungs: []request.Rung{},
		}},
		{Seq: 3, At: at, Body: request.Planned{Tasks: []request.Task{task}}},
		{Seq: 4, At: at, Body: request.TaskReady{Task: "check", Team: "keys-badges"}},
	}
	return request.Replay(events), events
}
