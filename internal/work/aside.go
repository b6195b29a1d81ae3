package work

import (
	"context"
	"fmt"
	"runtime/debug"
	"time"

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
func (o *Office) each(ctx context.Context, lane, id string, do func() error) error {
	err := o.caught(lane, id, do)
	if err == nil || store.OfAll(err) {
		return err
	}
	o.Log.Error("a record is set aside", "lane", lane, "id", id, "error", err)
	return o.Store.SetAside(ctx, store.Aside{Lane: lane, ID: id, Reason: connect.Shortened(err.Error()), At: o.Clock()})
}

// caught does something and turns a panic into an error.
func (o *Office) caught(lane, id string, do func() error) (err error) {
	defer func() {
		if p := recover(); p != nil {
			o.Log.Error("the program has a fault", "lane", lane, "id", id, "panic", p, "stack", string(debug.Stack()))
			err = fmt.Errorf("the program has a fault: %v", p)
		}
	}()
	return do()
}

// TryAgain has something handled again that was set aside, by an administrator.
func (o *Office) TryAgain(ctx context.Context, person, lane, id string) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.TakeUp(lane, id); err != nil {
			return err
		}
		switch lane {
		case effectLane:
			return tx.WaitAgain(id, o.Clock())
		case mailLane:
			return tx.MailAgain(id, o.Clock())
		}
		return nil
	})
	if err != nil {
		return err
	}
	if lane == forecastLane {
		o.unforecast.add(id)
	}
	o.relieved.Store(nil)
	o.rouse()
	o.rouseMail()
	return nil
}

// standing remembers since when the work that goes on by itself stands still.
type standing struct {
	from   time.Time // zero while it goes on
	reason string
	due    int // how much fell due meanwhile, as far as that could be read
}

// count counts what has fallen due while it stands still, before it is caught
// up.
func (s *standing) count(ctx context.Context, o *Office) {
	if s.from.IsZero() {
		return
	}
	if n, err := o.Store.DueCount(ctx, o.Clock()); err == nil {
		s.due = n
	}
}

// stands notes that it cannot go on, or that it does again, which is kept.
func (o *Office) stands(ctx context.Context, s *standing, trouble error) {
	now := o.Clock()
	if trouble != nil {
		if s.from.IsZero() {
			s.from, s.reason = now, connect.Shortened("It could not read what is due: "+trouble.Error())
		}
		return
	}
	if s.from.IsZero() {
		return
	}
	if err := o.keepStandstill(ctx, store.Standstill{From: s.from, Until: now, Reason: s.reason, Due: s.due}); err == nil {
		*s = standing{}
	}
}

func (o *Office) keepStandstill(ctx context.Context, s store.Standstill) error {
	err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddStandstill(s) })
	if err != nil {
		o.Log.Error("a standstill cannot be kept", "from", s.From, "until", s.Until, "reason", s.Reason, "error", err)
	}
	return err
}

// missed notes when it should have looked and did not.
func (o *Office) missed(ctx context.Context) error {
	p := o.pulse.Load()
	if p == nil || p.Failed { // that is noted already
		return nil
	}
	return o.gap(ctx, p.Looked, p.Next, "Something held it up.")
}

// away notes that the program was not there, when that was for long.
func (o *Office) away(ctx context.Context) error {
	last, err := o.Store.LastLooked(ctx)
	if err != nil {
		return ignoreMissing(err)
	}
	return o.gap(ctx, last, last.Add(longestNap), "Heptad was not running.")
}

func (o *Office) gap(ctx context.Context, last, next time.Time, reason string) error {
	now := o.Clock()
	if now.Sub(next) <= stillAfter {
		return nil
	}
	due, err := o.Store.DueCount(ctx, now)
	if err != nil {
		return err
	}
	return o.keepStandstill(ctx, store.Standstill{From: last, Until: now, Reason: reason, Due: due})
}
