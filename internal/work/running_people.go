package work

import (
	"context"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// relieve asks somebody else where those who are asked have left or become
// absent since it last looked, and no longer who stood in for those who are back.
func (w *Running) relieve(ctx context.Context) error {
	now, company := w.Clock(), w.Company()
	last := w.relieved.Load()
	since := now.Add(-mostAbsence) // whoever came back while the program stood still
	if last != nil {
		since = last.at
		if turns, ok := company.NextAbsenceChange(last.at); last.company == company && (!ok || turns.After(now)) {
			return nil
		}
	}
	requests, err := w.Store.Absentees(ctx, since, now)
	if err != nil {
		return err
	}
	for _, id := range requests {
		if err := w.each(ctx, relieveLane, id, func() error { _, err := w.byItself(ctx, id, request.Relieve{}); return err }); err != nil {
			return err
		}
	}
	leavers, err := w.Store.Leavers(ctx)
	if err != nil {
		return err
	}
	for _, t := range leavers {
		if err := w.each(ctx, leaverLane, t.Request+"/"+t.Task, func() error { _, err := w.byItself(ctx, t.Request, request.Free{Task: t.Task}); return err }); err != nil {
			return err
		}
	}
	w.relieved.Store(&relief{now, company})
	return nil
}

// relief remembers when, and with what company, the runner last looked for
// somebody who cannot decide.
type relief struct {
	at      time.Time
	company *people.Directory
}

// advance gives free places to those who wait for them, the first sent first.
func (w *Running) advance(ctx context.Context) error {
	next, err := w.Store.Next(ctx)
	if err != nil {
		return err
	}
	for _, free := range next {
		if err := w.each(ctx, placeLane, free.Request+"/"+free.Task, func() error { _, err := w.byItself(ctx, free.Request, request.Advance{Task: free.Task}); return err }); err != nil {
			return err
		}
	}
	return nil
}

// remindBefore is how many days before its end somebody is reminded of what
// they have.
const remindBefore = 14

// remindersAtATime is how many are read together.
const remindersAtATime = 50

// remindHolders tells people of what they have that ends soon.
func (w *Running) remindHolders(ctx context.Context) error {
	now := w.Clock()
	for {
		by := calendar.DateOf(now.UTC()).AddDays(remindBefore).String()
		ending, err := w.Store.Expiring(ctx, by, remindersAtATime)
		if err != nil || len(ending) == 0 {
			return err
		}
		for _, b := range ending {
			if err := w.each(ctx, reminderLane, b.ID, func() error { return w.remindHolder(ctx, b, now) }); err != nil {
				return err
			}
		}
	}
}

// remindHolder tells somebody that what they have ends soon.
func (w *Running) remindHolder(ctx context.Context, b store.Belonging, now time.Time) error {
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		p, _ := w.Company().Person(b.Person)
		facts := message.Facts{Title: b.Words(), Due: b.Until, Person: p.Name}
		if err := w.letters.postKind(ctx, tx, w.Company(), store.Message{Person: b.Person, Kind: message.Expiring, At: now}, facts); err != nil {
			return err
		}
		return tx.Reminded(b.ID)
	})
	if err == nil {
		w.Live.tell(Change{Kind: "message"}, map[string]bool{b.Person: true})
		w.rouseMail()
	}
	return err
}
