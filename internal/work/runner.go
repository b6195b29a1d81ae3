package work

import (
	"context"
	"errors"
	"math/rand/v2"
	"sync"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/calendar"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// timersAtATime is how many timers run side by side, and callsAtATime how many
// calls of a connector that says nothing else.
const (
	timersAtATime = 16
	callsAtATime  = 4
)

// longestNap is how long the runner rests when nothing is due.
const longestNap = time.Minute

// faultPause is how long an effect rests whose report failed.
const faultPause = time.Second

// downAfter is after how many calls in a row that found nobody a system counts
// as down. Then one call after a pause tries it, and the pauses grow.
const downAfter = 3

var downPauses = []time.Duration{5 * time.Second, 15 * time.Second, 30 * time.Second, time.Minute, 2 * time.Minute, 5 * time.Minute}

// lane is what the runner knows of one connector.
type lane struct {
	running int
	failed  int       // calls in a row that found nobody
	paused  time.Time // until when nothing is called; zero when all is well
}

type lanes struct {
	mu  sync.Mutex
	all map[string]*lane
}

// of gives the lane of a connector. The lock must be held.
func (l *lanes) of(connector string) *lane {
	if l.all[connector] == nil {
		l.all[connector] = &lane{}
	}
	return l.all[connector]
}

// room is how many calls of a connector may begin now.
func (l *lanes) room(connector string, atOnce int, now time.Time) int {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	switch {
	case now.Before(lane.paused):
		return 0
	case lane.failed >= downAfter:
		return max(0, 1-lane.running)
	}
	return max(0, atOnce-lane.running)
}

func (l *lanes) begin(connector string, n int) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.of(connector).running += n
}

// end notes how a call went: whether it found anybody.
func (l *lanes) end(connector string, down bool, now time.Time) {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	lane.running--
	if !down {
		lane.failed, lane.paused = 0, time.Time{}
		return
	}
	if lane.failed++; lane.failed >= downAfter {
		lane.pause(lane.failed-downAfter, now)
	}
}

// pause lets a lane rest, longer each time.
func (l *lane) pause(times int, now time.Time) {
	pause := downPauses[min(times, len(downPauses)-1)]
	l.paused = now.Add(pause + time.Duration(rand.Float64()*float64(pause)/4))
}

// silent notes that nobody answers at all: the lane rests at once.
func (l *lanes) silent(connector string, now time.Time) {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	if now.Before(lane.paused) {
		return // several found it out together
	}
	lane.pause(lane.failed, now)
	lane.failed++
}

// answered notes that somebody answers.
func (l *lanes) answered(connector string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	*l.of(connector) = lane{running: l.of(connector).running}
}

// pausedUntil is until when a connector rests because its system is down; zero
// when it does not.
func (l *lanes) pausedUntil(connector string) time.Time {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.of(connector).paused
}

// Run does what has fallen due, until the context ends: it calls connectors and
// lets timers go off. The report of an effect and its end are one transaction,
// so after a crash it is either done or done again under the same key. Mails go
// out on a lane of their own.
func (o *Office) Run(ctx context.Context) {
	var still standing
	failed := func(err error) bool {
		if ctx.Err() != nil {
			return false
		}
		o.stands(ctx, &still, err)
		if err == nil {
			return false
		}
		o.Log.Error("the runner cannot read its work", "error", err)
		now := o.Clock()
		o.pulse.Store(&Pulse{Looked: now, Next: now.Add(faultPause), Failed: true})
		rest(ctx, faultPause, nil)
		return true
	}
	for failed(errors.Join(o.away(ctx), o.Store.ReleaseRunning(ctx), o.Store.ReleaseMails(ctx), o.catchUp(ctx), o.sweep(ctx))) {
	}
	var running sync.WaitGroup
	defer running.Wait()
	running.Go(func() { o.runMail(ctx) })
	for ctx.Err() == nil {
		still.count(ctx, o)
		err := o.missed(ctx)
		if err == nil {
			err = o.caught("runner", "", func() error { _, err := o.beginDue(ctx, &running); return err })
		}
		if !failed(err) {
			o.nap(ctx)
		}
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
func (o *Office) StandsStill() bool {
	p := o.pulse.Load()
	return p != nil && (p.Failed || o.Clock().Sub(p.Next) > stillAfter)
}

// nap waits until something is due or may have become so.
func (o *Office) nap(ctx context.Context) {
	now, nap := o.Clock(), longestNap
	if dues, err := o.Store.NextDues(ctx); err == nil {
		for connector, due := range dues {
			if paused := o.lanes.pausedUntil(connector); paused.After(due) {
				due = paused
			}
			if !due.After(now) && o.lanes.room(connector, o.atOnce(ctx, connector), now) == 0 {
				continue // the end of a call wakes the runner
			}
			nap = min(nap, max(0, due.Sub(now)))
		}
	}
	if stale, err := o.Store.NextStale(ctx); err == nil && !stale.IsZero() {
		nap = min(nap, max(0, stale.Sub(now)))
	}
	if turns, ok := o.Company().AbsenceTurns(now); ok {
		nap = min(nap, turns.Sub(now))
	}
	o.pulse.Store(&Pulse{Looked: now, Next: now.Add(nap)})
	if now.Sub(o.noted) >= longestNap || now.Before(o.noted) {
		if err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.Looked(now) }); err == nil {
			o.noted = now
		}
	}
	rest(ctx, nap, o.wake)
}

// rest waits for so long, or until it is woken.
func rest(ctx context.Context, nap time.Duration, wake <-chan struct{}) {
	timer := time.NewTimer(nap)
	defer timer.Stop()
	select {
	case <-ctx.Done():
	case <-timer.C:
	case <-wake:
	}
}

// RunDue does everything that is due now, and tells how many effects and mails
// that were.
func (o *Office) RunDue(ctx context.Context) (int, error) {
	var running sync.WaitGroup
	n, err := o.beginDue(ctx, &running)
	running.Wait()
	mails, posted := o.postDue(ctx)
	return n + mails, errors.Join(err, posted, o.refreshForecasts(ctx))
}

// beginDue publishes what is due, gives free places to who waits for them,
// reminds of what ends, and begins what else is due now; it tells how many
// effects that were.
func (o *Office) beginDue(ctx context.Context, running *sync.WaitGroup) (int, error) {
	for _, step := range []func(context.Context) error{o.publishDue, o.relieve, o.advance, o.remindHolders, o.forgetSecrets, o.keepForgeries, o.settleClocks, o.foreseeAnew, o.refreshForecasts} {
		if err := step(ctx); err != nil {
			return 0, err
		}
	}
	now := o.Clock()
	connectors, err := o.Store.Due(ctx, now)
	if err != nil {
		return 0, err
	}
	begun := 0
	for _, connector := range connectors {
		room := o.lanes.room(connector, o.atOnce(ctx, connector), now)
		if room == 0 {
			continue
		}
		due, unreadable, err := o.Store.LeaseDue(ctx, connector, now, room)
		if err != nil {
			return begun, err
		}
		for key, why := range unreadable {
			if err := o.each(ctx, effectLane, key, func() error { return why }); err != nil {
				return begun, err
			}
		}
		begun += len(due)
		o.lanes.begin(connector, len(due))
		for _, e := range due {
			running.Go(func() {
				down := false
				err := o.each(ctx, effectLane, e.Key, func() (err error) { down, err = o.perform(ctx, e); return err })
				if err != nil && ctx.Err() == nil {
					o.Log.Error("an effect cannot be reported", "effect", e.Key, "error", err)
					if err := o.Store.ReleaseEffect(ctx, e.Key, o.Clock().Add(faultPause)); err != nil {
						o.Log.Error("an effect cannot be put off", "effect", e.Key, "error", err)
					}
				}
				o.lanes.end(connector, down, o.Clock())
				o.rouse()
			})
		}
	}
	return begun, nil
}

// atOnce is how many calls of a connector may run at the same time.
func (o *Office) atOnce(ctx context.Context, connector string) int {
	if connector == "" {
		return timersAtATime
	}
	if reached, err := o.Store.Connector(ctx, connector); err == nil && reached.AtOnce > 0 {
		return reached.AtOnce
	}
	return callsAtATime
}

// relieve asks somebody else where those who are asked have left or become
// absent since it last looked, and no longer who stood in for those who are back.
func (o *Office) relieve(ctx context.Context) error {
	now, company := o.Clock(), o.Company()
	last := o.relieved.Load()
	since := now.Add(-mostAbsence) // whoever came back while the program stood still
	if last != nil {
		since = last.at
		if turns, ok := company.AbsenceTurns(last.at); last.company == company && (!ok || turns.After(now)) {
			return nil
		}
	}
	requests, err := o.Store.Absentees(ctx, since, now)
	if err != nil {
		return err
	}
	for _, id := range requests {
		if err := o.each(ctx, relieveLane, id, func() error { _, err := o.byItself(ctx, id, request.Relieve{}); return err }); err != nil {
			return err
		}
	}
	leavers, err := o.Store.Leavers(ctx)
	if err != nil {
		return err
	}
	for _, t := range leavers {
		if err := o.each(ctx, leaverLane, t.Request+"/"+t.Task, func() error { _, err := o.byItself(ctx, t.Request, request.Free{Task: t.Task}); return err }); err != nil {
			return err
		}
	}
	o.relieved.Store(&relief{now, company})
	return nil
}

// byItself gives a command that nobody in person gives, and reports whether it was
// done. That it is refused is no failure: it comes late.
func (o *Office) byItself(ctx context.Context, id string, c request.Command) (bool, error) {
	_, err := o.run(ctx, turn{actor: request.Program, id: id, command: func(*store.Tx) (request.Command, error) { return c, nil }})
	if isRefusal(err) {
		return false, nil
	}
	return err == nil, err
}

// relief remembers when, and with what company, the runner last looked for
// somebody who cannot decide.
type relief struct {
	at      time.Time
	company *people.Directory
}

// advance gives free places to those who wait for them, the first sent first.
func (o *Office) advance(ctx context.Context) error {
	next, err := o.Store.Next(ctx)
	if err != nil {
		return err
	}
	for _, w := range next {
		if err := o.each(ctx, placeLane, w.Request+"/"+w.Task, func() error { _, err := o.byItself(ctx, w.Request, request.Advance{Task: w.Task}); return err }); err != nil {
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
func (o *Office) remindHolders(ctx context.Context) error {
	now := o.Clock()
	for {
		by := calendar.DateOf(now.UTC()).AddDays(remindBefore).String()
		ending, err := o.Store.Expiring(ctx, by, remindersAtATime)
		if err != nil || len(ending) == 0 {
			return err
		}
		for _, b := range ending {
			if err := o.each(ctx, reminderLane, b.ID, func() error { return o.remindHolder(ctx, b, now) }); err != nil {
				return err
			}
		}
	}
}

// remindHolder tells somebody that what they have ends soon.
func (o *Office) remindHolder(ctx context.Context, b store.Belonging, now time.Time) error {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		p, _ := o.Company().Person(b.Person)
		facts := message.Facts{Title: b.Words(), Due: b.Until, Person: p.Name}
		if err := o.postKind(ctx, tx, store.Message{Person: b.Person, Kind: message.Expiring, At: now}, facts); err != nil {
			return err
		}
		return tx.Reminded(b.ID)
	})
	if err == nil {
		o.Live.tell(Change{"message", ""}, map[string]bool{b.Person: true})
		o.rouseMail()
	}
	return err
}

// perform does one effect outside any transaction and reports it; it tells
// whether nobody was found at the other end.
func (o *Office) perform(ctx context.Context, e store.Effect) (down bool, err error) {
	var report request.Command
	trouble := ""
	switch e.Kind {
	case request.Call:
		report, trouble, down = o.call(ctx, e)
	case request.TickTimer:
		report = request.Tick{}
	default:
		report = request.Lapse{}
	}
	if ctx.Err() != nil {
		return false, nil // it stays running and is taken up at the next start
	}
	finish := func(tx *store.Tx) error {
		if e.Kind != request.Call {
			return tx.FinishEffect(e.Key)
		}
		return errors.Join(tx.FinishEffect(e.Key), tx.SetTrouble(e.Key, trouble), tx.Called(e.Connector, trouble, o.Clock()))
	}
	_, err = o.run(ctx, turn{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) { return report, finish(tx) }})
	if isRefusal(err) { // late or repeated: it changes nothing
		o.Log.Debug("a report came too late", "effect", e.Key, "reason", err)
		err = o.Store.Write(ctx, finish)
	}
	return down, err
}

// call makes the call of an automatic task, or of its undo.
func (o *Office) call(ctx context.Context, e store.Effect) (report request.Command, trouble string, down bool) {
	undo := e.Undoes != ""
	fail := func(sentence string, final bool) request.Command {
		return request.Fail{Task: e.Task, Undo: undo, Trouble: sentence, Final: final, Jitter: rand.Float64()}
	}
	connector, ok := o.connectors[e.Connector]
	if !ok {
		sentence := "There is no connector " + e.Connector + "."
		return fail(sentence, true), sentence, false
	}
	if refused, err := o.mayCall(ctx, e); err != nil {
		return fail("What the service may use cannot be read.", false), "", false
	} else if refused != "" {
		return fail(refused, true), "", false
	}
	c := connect.Call{Key: e.Key, Do: e.Do, Inputs: e.Inputs, Outputs: e.Outputs, Undoes: e.Undoes}
	if action, ok := plan.FindAction(o.described, plan.Action{Connector: e.Connector, Do: e.Do}); ok {
		if action.Free {
			c.Wanted, c.Currency = o.wanted(ctx, e)
		}
		if wrong := connect.Check(action, c); wrong != "" {
			return fail(wrong, true), "", false // nothing is wrong with the other system
		}
	}
	within, cancel := context.WithTimeout(ctx, e.Within)
	reply, err := connector.Do(within, c)
	cancel()
	var why connect.Trouble
	switch {
	case errors.As(err, &why):
		sentence := connect.Shortened(why.Sentence)
		return fail(sentence, why.Final), sentence, why.Down
	case err != nil:
		o.Log.Error("a connector failed", "connector", e.Connector, "error", err)
		return fail("The connector failed.", false), "The connector failed.", false
	}
	return request.Succeed{Task: e.Task, Undo: undo, Later: reply.Later, Outputs: reply.Outputs}, "", false
}

// wanted is what the task of a call wants from a reply that can be anything, and
// the currency of what is money.
func (o *Office) wanted(ctx context.Context, e store.Effect) (outputs []plan.Output, currency string) {
	if e.Undoes != "" {
		return nil, ""
	}
	state, err := o.Store.Request(ctx, e.Request)
	if err != nil {
		return nil, ""
	}
	task, ok := state.Task(e.Task)
	c, err := o.Version(ctx, state.Offering, state.Version)
	if err != nil || !ok {
		return nil, ""
	}
	of, _ := c.Plan.Task(task.Of)
	return of.Outputs, c.Plan.Currency()
}
