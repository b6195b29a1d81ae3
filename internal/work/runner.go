package work

import (
	"context"
	"errors"
	"math/rand/v2"
	"sync"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// How the runner works: effects at a time, the longest it sleeps without
// looking, and how long an effect waits after a fault of our own.
const (
	atATime    = 8
	longestNap = time.Minute
	faultPause = 10 * time.Second
)

// Run does effects as they fall due, until the context ends. It first takes up
// what a process before it left running.
//
// An effect is waiting, running or done. Only the process that holds the data
// folder runs effects. The report of an effect and its end are one
// transaction, so after a crash it is either done or done again under the same
// key.
func (o *Office) Run(ctx context.Context) error {
	if err := errors.Join(o.Store.ReleaseRunning(ctx), o.Store.ReleaseMails(ctx)); err != nil {
		return err
	}
	for ctx.Err() == nil {
		if _, err := o.RunDue(ctx); err != nil && ctx.Err() == nil {
			o.Log.Error("the runner cannot read its work", "error", err)
		}
		o.nap(ctx)
	}
	return nil
}

// nap waits until something is due or may have become so.
func (o *Office) nap(ctx context.Context) {
	nap := longestNap
	if due, err := o.Store.NextDue(ctx); err == nil {
		nap = min(nap, max(0, due.Sub(o.Clock())))
	}
	if begins, ok := o.Company().NextAbsence(o.Clock()); ok {
		nap = min(nap, begins.Sub(o.Clock()))
	}
	timer := time.NewTimer(nap)
	defer timer.Stop()
	select {
	case <-ctx.Done():
	case <-timer.C:
	case <-o.wake:
	}
}

// RunDue publishes what is due sends the mails and does what is due now, several
// at a time, and tells how many effects and mails that were.
func (o *Office) RunDue(ctx context.Context) (int, error) {
	if err := o.publishDue(ctx); err != nil {
		return 0, err
	}
	if err := o.relieve(ctx); err != nil {
		return 0, err
	}
	due, err := o.Store.LeaseDue(ctx, o.Clock(), atATime)
	var all sync.WaitGroup
	mails, failed := 0, error(nil)
	all.Go(func() { mails, failed = o.postDue(ctx) })
	for _, e := range due {
		all.Go(func() { o.perform(ctx, e) })
	}
	all.Wait()
	return len(due) + mails, errors.Join(err, failed)
}

// relieve asks somebody else where those who are asked have left or become
// absent since it last looked.
func (o *Office) relieve(ctx context.Context) error {
	now, company := o.Clock(), o.Company()
	last := o.relieved.Load()
	if last != nil && last.company == company && !company.AbsenceBegins(last.at, now) {
		return nil
	}
	requests, err := o.Store.Absentees(ctx, now)
	if err != nil {
		return err
	}
	for _, id := range requests {
		_, err := o.run(ctx, turn{actor: request.Program, id: id, command: func(*store.Tx) (request.Command, error) { return request.Relieve{}, nil }})
		if err != nil && !isRefusal(err) {
			return err
		}
	}
	o.relieved.Store(&relief{now, company})
	return nil
}

// relief remembers when, and with what company, the runner last looked for
// somebody who cannot decide.
type relief struct {
	at      time.Time
	company *people.Directory
}

// perform does one effect outside any transaction and reports it.
func (o *Office) perform(ctx context.Context, e store.Effect) {
	var report request.Command
	switch e.Kind {
	case request.Call:
		report = o.call(ctx, e)
	case request.TickTimer:
		report = request.Tick{}
	default:
		report = request.Lapse{}
	}
	if ctx.Err() != nil {
		return // it stays running and is taken up at the next start
	}
	_, err := o.run(ctx, turn{
		actor:   request.Program,
		id:      e.Request,
		command: func(tx *store.Tx) (request.Command, error) { return report, tx.FinishEffect(e.Key) },
	})
	if isRefusal(err) { // late or repeated: it changes nothing
		o.Log.Info("a report came too late", "effect", e.Key, "reason", err)
		err = o.Store.Write(ctx, func(tx *store.Tx) error { return tx.FinishEffect(e.Key) })
	}
	if err != nil && ctx.Err() == nil {
		o.Log.Error("an effect cannot be reported", "effect", e.Key, "error", err)
		if err := o.Store.ReleaseEffect(ctx, e.Key, o.Clock().Add(faultPause)); err != nil {
			o.Log.Error("an effect cannot be put off", "effect", e.Key, "error", err)
		}
	}
}

// call makes the call of an automatic task.
func (o *Office) call(ctx context.Context, e store.Effect) request.Command {
	connector, ok := o.connectors[e.Connector]
	if !ok {
		return request.Fail{Task: e.Task, Trouble: "There is no connector " + e.Connector + "."}
	}
	outputs, err := connector.Do(ctx, connect.Call{Key: e.Key, Do: e.Do, Inputs: e.Inputs})
	var trouble connect.Trouble
	switch {
	case errors.As(err, &trouble):
		return request.Fail{Task: e.Task, Trouble: string(trouble), Jitter: rand.Float64()}
	case err != nil:
		o.Log.Error("a connector failed", "connector", e.Connector, "error", err)
		return request.Fail{Task: e.Task, Trouble: "The connector failed.", Jitter: rand.Float64()}
	}
	return request.Succeed{Task: e.Task, Outputs: outputs}
}
