package work

import (
	"context"
	"time"

	"heptad/internal/connect"
	"heptad/internal/store"
)

// TryAgain has something handled again that was set aside, by an administrator.
func (w *Running) TryAgain(ctx context.Context, person, lane, id string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.TakeUp(lane, id); err != nil {
			return err
		}
		switch lane {
		case effectLane:
			return tx.WaitAgain(id, w.Clock())
		case mailLane:
			return tx.MailAgain(id, w.Clock())
		}
		return nil
	})
	if err != nil {
		return err
	}
	if lane == forecastLane {
		w.unforecast.add(id)
	}
	w.relieved.Store(nil)
	w.rouse()
	w.rouseMail()
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
func (s *standing) count(ctx context.Context, from *store.Store, now time.Time) {
	if s.from.IsZero() {
		return
	}
	if n, err := from.DueCount(ctx, now); err == nil {
		s.due = n
	}
}

// stands notes that it cannot go on, or that it does again, which is kept.
func (w *Running) stands(ctx context.Context, s *standing, trouble error) {
	now := w.Clock()
	if trouble != nil {
		if s.from.IsZero() {
			s.from, s.reason = now, connect.Shortened("It could not read what is due: "+trouble.Error())
		}
		return
	}
	if s.from.IsZero() {
		return
	}
	if err := w.keepStandstill(ctx, store.Standstill{From: s.from, Until: now, Reason: s.reason, Due: s.due}); err == nil {
		*s = standing{}
	}
}

func (w *Running) keepStandstill(ctx context.Context, s store.Standstill) error {
	err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddStandstill(s) })
	if err != nil {
		w.Log.Error("a standstill cannot be kept", "from", s.From, "until", s.Until, "reason", s.Reason, "error", err)
	}
	return err
}

// missed notes when it should have looked and did not.
func (w *Running) missed(ctx context.Context) error {
	p := w.pulse.Load()
	if p == nil || p.Failed { // that is noted already
		return nil
	}
	return w.gap(ctx, p.Looked, p.Next, "Something held it up.")
}

// away notes that the program was not there, when that was for long.
func (w *Running) away(ctx context.Context) error {
	last, err := w.Store.LastLooked(ctx)
	if err != nil {
		return ignoreMissing(err)
	}
	return w.gap(ctx, last, last.Add(longestNap), "Heptad was not running.")
}

func (w *Running) gap(ctx context.Context, last, next time.Time, reason string) error {
	now := w.Clock()
	if now.Sub(next) <= stillAfter {
		return nil
	}
	due, err := w.Store.DueCount(ctx, now)
	if err != nil {
		return err
	}
	return w.keepStandstill(ctx, store.Standstill{From: last, Until: now, Reason: reason, Due: due})
}
