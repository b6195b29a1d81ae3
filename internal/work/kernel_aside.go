package work

import (
	"context"
	"fmt"
	"runtime/debug"

	"heptad/internal/connect"
	"heptad/internal/store"
)

// The lanes of what can be set aside.
const (
	effectLane   = "effect"
	forecastLane = "forecast"
	publishLane  = "publishing"
	relieveLane  = "stand-ins"
	leaverLane   = "leavers"
	placeLane    = "waiting list"
	reminderLane = "reminder"
	mailLane     = "mail"
	clockLane    = "clocks"
)

// each handles one record by itself. One that fails for a reason of its own, or
// panics, is set aside with its ID and reason, and the rest go on; only what
// ails the whole database is an error.
func (k *kernel) each(ctx context.Context, lane, id string, do func() error) error {
	err := k.caught(lane, id, do)
	if err == nil || store.OfAll(err) {
		return err
	}
	k.Log.Error("a record is set aside", "lane", lane, "id", id, "error", err)
	return k.Store.SetAside(ctx, store.Aside{Lane: lane, ID: id, Reason: connect.Shortened(err.Error()), At: k.Clock()})
}

// caught does something and turns a panic into an error.
func (k *kernel) caught(lane, id string, do func() error) (err error) {
	defer func() {
		if p := recover(); p != nil {
			k.Log.Error("the program has a fault", "lane", lane, "id", id, "panic", p, "stack", string(debug.Stack()))
			err = fmt.Errorf("the program has a fault: %v", p)
		}
	}()
	return do()
}
