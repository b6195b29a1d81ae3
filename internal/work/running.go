package work

import (
	"context"
	"errors"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/store"
)

// Running does what falls due: calls, timers, reminders, forecasts, and what
// other services give it to do.
type Running struct {
	*kernel
	first    []func(context.Context) error      // done before its own, at each look
	beside   []func(context.Context)            // each runs beside it until it ends
	post     func(context.Context) (int, error) // sends the mails that are due
	relieved atomic.Pointer[relief]
	reviewed reviewed
	dated    cache[struct{}, []store.Dated] // offerings with promises that end or are to be looked at
	noted    time.Time                      // when it was last kept that the runner looked
}

// longestNap is how long the runner rests when nothing is due.
const longestNap = time.Minute

// faultPause is how long an effect rests whose report failed.
const faultPause = time.Second

// Run does what has fallen due, until the context ends: it calls connectors and
// lets timers go off. The report of an effect and its end are one transaction,
// so after a crash it is either done or done again under the same key. Mails go
// out on a lane of their own.
func (w *Running) Run(ctx context.Context) {
	var still standing
	failed := func(err error) bool {
		if ctx.Err() != nil {
			return false
		}
		w.stands(ctx, &still, err)
		if err == nil {
			return false
		}
		w.Log.Error("the runner cannot read its work", "error", err)
		now := w.Clock()
		w.pulse.Store(&Pulse{Looked: now, Next: now.Add(faultPause), Failed: true})
		rest(ctx, faultPause, nil)
		return true
	}
	for failed(errors.Join(w.away(ctx), w.Store.ReleaseRunning(ctx), w.Store.ReleaseMails(ctx), w.catchUp(ctx), w.sweep(ctx))) {
	}
	var running sync.WaitGroup
	defer running.Wait()
	for _, lane := range w.beside {
		running.Go(func() { lane(ctx) })
	}
	w.heldBack(ctx)
	for ctx.Err() == nil {
		still.count(ctx, w.Store, w.Clock())
		err := w.missed(ctx)
		if err == nil {
			err = w.caught("runner", "", func() error { _, err := w.beginDue(ctx, &running); return err })
		}
		if !failed(err) {
			w.nap(ctx)
		}
	}
}

// heldBack waits while nothing goes out, after a restore, before somebody says yes.
func (w *Running) heldBack(ctx context.Context) {
	for ctx.Err() == nil {
		if _, err := w.Store.HeldBack(ctx); errors.Is(err, ErrNotFound) {
			return
		}
		now := w.Clock()
		w.pulse.Store(&Pulse{Looked: now, Next: now.Add(longestNap)})
		rest(ctx, longestNap, w.wake)
	}
}

// Pulse tells how the work that goes on by itself goes on.
type Pulse struct {
	Looked time.Time // when it last looked for what is due
	Next   time.Time // when it looks again, unless something wakes it before
	Failed bool      // it could not read what is due
}

// stillAfter is by how much a look may be late before the work that goes on by
// itself counts as standing still.
const stillAfter = time.Minute

// StandsStill reports whether the work that should go on by itself does not.
func (w *Running) StandsStill() bool {
	p := w.pulse.Load()
	return p != nil && (p.Failed || w.Clock().Sub(p.Next) > stillAfter)
}

// nap waits until something is due or may have become so.
func (w *Running) nap(ctx context.Context) {
	now, nap := w.Clock(), longestNap
	if dues, err := w.Store.NextDues(ctx); err == nil {
		for connector, due := range dues {
			if paused := w.lanes.pausedUntil(connector); paused.After(due) {
				due = paused
			}
			if !due.After(now) && w.lanes.room(connector, w.atOnce(ctx, connector), now) == 0 {
				continue // the end of a call wakes the runner
			}
			nap = min(nap, max(0, due.Sub(now)))
		}
	}
	if stale, err := w.Store.NextStale(ctx); err == nil && !stale.IsZero() {
		nap = min(nap, max(0, stale.Sub(now)))
	}
	if turns, ok := w.Company().NextAbsenceChange(now); ok {
		nap = min(nap, turns.Sub(now))
	}
	w.pulse.Store(&Pulse{Looked: now, Next: now.Add(nap)})
	if now.Sub(w.noted) >= longestNap || now.Before(w.noted) {
		if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.Looked(now) }); err == nil {
			w.noted = now
		}
	}
	rest(ctx, nap, w.wake)
}

// gathered is how long the runner waits once it was woken: whoever woke it has an answer
// first, and what else they and others do meanwhile is looked at with it.
const gathered = 50 * time.Millisecond

// rest waits for so long, or until it is woken.
func rest(ctx context.Context, nap time.Duration, wake <-chan struct{}) {
	timer := time.NewTimer(nap)
	defer timer.Stop()
	select {
	case <-ctx.Done():
	case <-timer.C:
	case <-wake:
		rest(ctx, gathered, nil)
		select {
		case <-wake:
		default:
		}
	}
}

// RunDue does everything that is due now, and tells how many effects and mails
// that were.
func (w *Running) RunDue(ctx context.Context) (int, error) {
	var running sync.WaitGroup
	n, err := w.beginDue(ctx, &running)
	running.Wait()
	mails, posted := w.post(ctx)
	return n + mails, errors.Join(err, posted, w.refreshForecasts(ctx))
}

// beginDue does what other services have for it, gives free places to who waits
// for them, reminds of what ends, and begins what else is due now; it tells how
// many effects that were.
func (w *Running) beginDue(ctx context.Context, running *sync.WaitGroup) (int, error) {
	own := []func(context.Context) error{w.relieve, w.advance, w.remindHolders, w.remindReviews, w.sweepSheets, w.forgetSecrets, w.settleClocks, w.foreseeAnew, w.refreshForecasts}
	for _, step := range slices.Concat(w.first, own) {
		if err := step(ctx); err != nil {
			return 0, err
		}
	}
	now := w.Clock()
	connectors, err := w.Store.Due(ctx, now)
	if err != nil {
		return 0, err
	}
	begun := 0
	for _, connector := range connectors {
		room := w.lanes.room(connector, w.atOnce(ctx, connector), now)
		if room == 0 {
			continue
		}
		due, unreadable, err := w.Store.LeaseDue(ctx, connector, now, room)
		if err != nil {
			return begun, err
		}
		for key, why := range unreadable {
			if err := w.each(ctx, effectLane, key, func() error { return why }); err != nil {
				return begun, err
			}
		}
		begun += len(due)
		w.lanes.begin(connector, len(due))
		for _, e := range due {
			running.Go(func() {
				down := false
				err := w.each(ctx, effectLane, e.Key, func() (err error) { down, err = w.perform(ctx, e); return err })
				if err != nil && ctx.Err() == nil {
					w.Log.Error("an effect cannot be reported", "effect", e.Key, "error", err)
					if err := w.Store.ReleaseEffect(ctx, e.Key, w.Clock().Add(faultPause)); err != nil {
						w.Log.Error("an effect cannot be put off", "effect", e.Key, "error", err)
					}
				}
				w.lanes.end(connector, down, w.Clock())
				w.rouse()
			})
		}
	}
	return begun, nil
}
