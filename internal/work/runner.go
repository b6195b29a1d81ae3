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
		pause := downPauses[min(lane.failed-downAfter, len(downPauses)-1)]
		lane.paused = now.Add(pause + time.Duration(rand.Float64()*float64(pause)/4))
	}
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
// so after a crash it is either done or done again under the same key.
func (o *Office) Run(ctx context.Context) {
	failed := func(err error) bool {
		if err == nil || ctx.Err() != nil {
			return false
		}
		o.Log.Error("the runner cannot read its work", "error", err)
		now := o.Clock()
		o.pulse.Store(&Pulse{Looked: now, Next: now.Add(faultPause), Failed: true})
		o.rest(ctx, faultPause)
		return true
	}
	for failed(errors.Join(o.Store.ReleaseRunning(ctx), o.Store.ReleaseMails(ctx), o.catchUp(ctx))) {
	}
	var running sync.WaitGroup
	defer running.Wait()
	for ctx.Err() == nil {
		if _, err := o.beginDue(ctx, &running); !failed(err) {
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

// StandsStill tells whether the work that should go on by itself does not.
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
			if !due.After(now) && o.lanes.room(connector, o.atOnce(connector), now) == 0 {
				continue // the end of a call wakes the runner
			}
			nap = min(nap, max(0, due.Sub(now)))
		}
	}
	if begins, ok := o.Company().NextAbsence(now); ok {
		nap = min(nap, begins.Sub(now))
	}
	o.pulse.Store(&Pulse{Looked: now, Next: now.Add(nap)})
	o.rest(ctx, nap)
}

func (o *Office) rest(ctx context.Context, nap time.Duration) {
	timer := time.NewTimer(nap)
	defer timer.Stop()
	select {
	case <-ctx.Done():
	case <-timer.C:
	case <-o.wake:
	}
}

// RunDue does everything that is due now, and tells how many effects and mails
// that were.
func (o *Office) RunDue(ctx context.Context) (int, error) {
	var running sync.WaitGroup
	n, err := o.beginDue(ctx, &running)
	running.Wait()
	return n, errors.Join(err, o.refreshForecasts(ctx))
}

// beginDue publishes what is due, gives free places to who waits for them, sends
// the mails, reminds of what ends, and begins what else is due now; it tells
// how many effects and mails that were.
func (o *Office) beginDue(ctx context.Context, running *sync.WaitGroup) (int, error) {
	for _, step := range []func(context.Context) error{o.publishDue, o.relieve, o.advance, o.remindHolders, o.refreshForecasts} {
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
		room := o.lanes.room(connector, o.atOnce(connector), now)
		if room == 0 {
			continue
		}
		due, err := o.Store.LeaseDue(ctx, connector, now, room)
		if err != nil {
			return begun, err
		}
		begun += len(due)
		o.lanes.begin(connector, len(due))
		for _, e := range due {
			running.Go(func() {
				down := o.perform(ctx, e)
				o.lanes.end(connector, down, o.Clock())
				o.rouse()
			})
		}
	}
	mails, err := o.postDue(ctx)
	return begun + mails, err
}

// atOnce is how many calls of a connector may run at the same time.
func (o *Office) atOnce(connector string) int {
	if connector == "" {
		return timersAtATime
	}
	if reached, err := o.Store.Connector(context.Background(), connector); err == nil && reached.AtOnce > 0 {
		return reached.AtOnce
	}
	return callsAtATime
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
		if _, err := o.byItself(ctx, id, request.Relieve{}); err != nil {
			return err
		}
	}
	leavers, err := o.Store.Leavers(ctx)
	if err != nil {
		return err
	}
	for _, task := range leavers {
		if _, err := o.byItself(ctx, task.Request, request.Free{Task: task.Task}); err != nil {
			return err
		}
	}
	o.relieved.Store(&relief{now, company})
	return nil
}

// byItself gives a command that nobody in person gives, and tells whether it was
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
		if _, err := o.byItself(ctx, w.Request, request.Advance{Task: w.Task}); err != nil {
			return err
		}
	}
	return nil
}

// remindBefore is how many days before its end somebody is reminded of what
// they have.
const remindBefore = 14

// remindersAtATime is how many are told in one transaction.
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
		persons := map[string]bool{}
		err = o.Store.Write(ctx, func(tx *store.Tx) error {
			for _, b := range ending {
				persons[b.Person] = true
				p, _ := o.Company().Person(b.Person)
				facts := message.Facts{Title: b.Words(), Due: b.Until, Person: p.Name}
				m := store.Message{Person: b.Person, Kind: message.Expiring, At: now}
				ways, err := tx.Ways(ctx, []string{b.Person})
				if err != nil {
					return err
				}
				general, err := o.generalTexts(ctx, tx)
				if err != nil {
					return err
				}
				m.Subject, m.Body = message.Write(message.Expiring, facts, general)
				if err := o.post(tx, m, wayOf(ways, b.Person, message.Expiring)); err != nil {
					return err
				}
				if err := tx.Reminded(b.ID); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
		o.Live.tell(Change{"message", ""}, persons)
	}
}

// perform does one effect outside any transaction and reports it; it tells
// whether nobody was found at the other end.
func (o *Office) perform(ctx context.Context, e store.Effect) (down bool) {
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
		return false // it stays running and is taken up at the next start
	}
	finish := func(tx *store.Tx) error {
		if e.Kind != request.Call {
			return tx.FinishEffect(e.Key)
		}
		return errors.Join(tx.FinishEffect(e.Key), tx.SetTrouble(e.Key, trouble), tx.Called(e.Connector, trouble, o.Clock()))
	}
	_, err := o.run(ctx, turn{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) { return report, finish(tx) }})
	if isRefusal(err) { // late or repeated: it changes nothing
		o.Log.Debug("a report came too late", "effect", e.Key, "reason", err)
		err = o.Store.Write(ctx, finish)
	}
	if err != nil && ctx.Err() == nil {
		o.Log.Error("an effect cannot be reported", "effect", e.Key, "error", err)
		if err := o.Store.ReleaseEffect(ctx, e.Key, o.Clock().Add(faultPause)); err != nil {
			o.Log.Error("an effect cannot be put off", "effect", e.Key, "error", err)
		}
	}
	return down
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
	c := connect.Call{Key: e.Key, Do: e.Do, Inputs: e.Inputs, Outputs: e.Outputs, Undoes: e.Undoes}
	if action, ok := plan.FindAction(o.described, plan.Action{Connector: e.Connector, Do: e.Do}); ok {
		if action.Free {
			c.Wanted = o.wanted(ctx, e)
		}
		if wrong := connect.Check(action, c); wrong != "" {
			return fail(wrong, true), "", false // nothing is wrong with the other system
		}
	}
	reply, err := connector.Do(ctx, c)
	var why connect.Trouble
	switch {
	case errors.As(err, &why):
		return fail(why.Sentence, why.Final), why.Sentence, why.Down
	case err != nil:
		o.Log.Error("a connector failed", "connector", e.Connector, "error", err)
		return fail("The connector failed.", false), "The connector failed.", false
	}
	return request.Succeed{Task: e.Task, Undo: undo, Later: reply.Later, Outputs: reply.Outputs}, "", false
}

// wanted is what the task of a call wants from a reply that can be anything.
func (o *Office) wanted(ctx context.Context, e store.Effect) []plan.Output {
	if e.Undoes != "" {
		return nil
	}
	state, err := o.Store.Request(ctx, e.Request)
	if err != nil {
		return nil
	}
	task, ok := state.Task(e.Task)
	c, err := o.Version(ctx, state.Offering, state.Version)
	if err != nil || !ok {
		return nil
	}
	of, _ := c.Plan.Task(task.Of)
	return of.Outputs
}
