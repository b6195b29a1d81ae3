package rehearse

import (
	"cmp"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// requestID is the ID of the request of a rehearsal, and number that of its reference.
const (
	requestID = "rehearsed"
	number    = 10_000
)

// driver lives through one request. At one instant it does first what is due by itself, in
// the order in which it fell due, as the runner does live; then the cast; then the script.
type driver struct {
	*Life
	now        time.Time
	belongings []people.Belonging
	gone       map[string]people.Belonging // what has ended, by ID
	lessons    map[lesson][]time.Duration  // learned by itself

	due      map[string]request.Effect // what happens by itself, by key
	stale    time.Time                 // when the forecast is to be worked out anew; zero for never
	fresh    bool                      // the forecast is that of the state
	absent   time.Time                 // until when absences have been looked at
	free     map[string]int            // places of pools
	hands    map[string]request.Hands
	acts     []act // of the cast and of other systems, in order
	acted    int   // how many there were so far
	set      map[string]bool
	line     int       // of the script, the next one
	lineAt   time.Time // when the one before was
	offTill  time.Time // until when Heptad is off
	tried    map[string]int
	refusals map[string]int // how many calls a system has refused
}

// act is something that somebody of the cast is about to do.
type act struct {
	at   time.Time
	said int
	do   func()
}

func newDriver(l *Life) *driver {
	return &driver{
		Life: l, now: l.Script.Send.UTC().Truncate(time.Millisecond), absent: l.Script.Send,
		gone: map[string]people.Belonging{}, lessons: map[lesson][]time.Duration{}, due: map[string]request.Effect{}, hands: map[string]request.Hands{},
		set: map[string]bool{}, tried: map[string]int{}, refusals: map[string]int{},
	}
}

// live goes on until the end.
func (d *driver) live() {
	d.lineAt = d.now
	if !d.send() {
		d.End, d.Until = Unsent, d.now
		return
	}
	until := d.Script.Until.At
	for {
		d.settle()
		d.react()
		if d.State.Status == request.Closed && until.IsZero() && d.line >= len(d.Script.Script) {
			d.End, d.Until = Closed, d.now
			return
		}
		next, is := d.next()
		switch {
		case !until.IsZero() && (!is || next.After(until)):
			d.End, d.Until = Reached, until.UTC()
			return
		case !is:
			d.End, d.Until, d.Why = Quiet, d.now, d.waits()
			return
		case next.Sub(d.Script.Send) > mostTime || len(d.Events) > mostEvents:
			d.End, d.Until, d.Why = TooLong, d.now, "It was stopped after two years of its clock, or 10,000 events: "+d.waits()
			return
		}
		d.now = next
		d.happen()
	}
}

// send begins the draft and sends it.
func (d *driver) send() bool {
	prefix := cmp.Or(d.ground.Prefix, "R")
	for _, c := range []request.Command{request.Begin{ID: requestID}, request.Submit{Answers: d.Script.Answers, For: d.whom, Prefix: prefix, Number: number}} {
		if err := d.do(d.asker.ID, c); err != nil {
			d.refuse(-1, err)
			return false
		}
	}
	return true
}

// facts are what the core decides on now.
func (d *driver) facts(actor string) request.Facts {
	f := request.Facts{
		Actor: actor, Company: d.Company, Offering: d.Offering, Service: d.Service, Now: d.now, Measures: d.learned(), Belongings: d.belongings,
		Hands: func(person string) request.Hands { return d.hands[person] }, Known: d.ground.Known,
		Holding: func(id string) (request.Holding, bool) {
			i := slices.IndexFunc(d.belongings, func(b people.Belonging) bool { return b.ID == id })
			if i < 0 {
				return request.Holding{}, false
			}
			return request.Holding{Belonging: d.belongings[i], Person: d.whom.Person}, true
		},
		Request: func(string) (request.State, bool) { return request.State{}, false },
		Files:   filesIn(d.Offering, d.Script.Answers),
	}
	if len(d.Offering.Pools) > 0 {
		f.Pools = maps.Clone(d.free)
	}
	return f
}

// do gives a command. The error is a refusal.
func (d *driver) do(actor string, c request.Command) error {
	facts := d.facts(actor)
	if _, advances := c.(request.Advance); !advances {
		for i := range d.State.Tasks { // whoever waits already comes first
			if t := &d.State.Tasks[i]; t.Place == request.Queued && facts.Pools != nil {
				facts.Pools[t.Pool] = 0
			}
		}
	}
	before := d.State.InHand()
	events, effects, err := request.Handle(d.State, c, facts)
	if err != nil {
		return err
	}
	for _, e := range events {
		d.State.Apply(e)
		d.keep(e)
	}
	d.Events = append(d.Events, events...)
	for person, hands := range d.State.Regrip(before, facts.Hands, d.Company) {
		d.hands[person] = hands
	}
	for _, e := range effects {
		if e.Kind != request.Seal { // what is secret is never made
			d.due[e.Key] = e
		}
	}
	for _, l := range d.State.Learned(events, facts) {
		key := lesson{l.Part, l.Key}
		d.lessons[key] = append(d.lessons[key], l.Took)
	}
	d.tell(events, facts)
	d.Steps = append(d.Steps, Step{d.now, actor, len(d.Events), c})
	d.fresh = false
	return nil
}

// tell writes what people are told.
func (d *driver) tell(events []request.Event, facts request.Facts) {
	by := message.NewWriter(facts.Offering.Messages, d.ground.Texts)
	for _, n := range notice.Of(d.State, events, d.Company, d.Service) {
		subject, text, _ := n.Write(d.State, facts, by)
		d.Messages = append(d.Messages, Message{d.now, n.Person, n.Kind, subject, text, n.Rung, n.Task, n.Seq})
	}
}

// refuse notes what the core did not let happen.
func (d *driver) refuse(line int, err error) {
	out := Refused{Line: line, At: d.now, Sentence: err.Error()}
	if r, is := request.AsRefusal(err); is {
		out.Code = r.Code
		for _, detail := range r.Details {
			out.Places = append(out.Places, detail.Place+": "+detail.Sentence)
		}
	}
	d.Refused = append(d.Refused, out)
}

// settle does what is due by itself at this instant, one after the other, and works out the
// forecast after each.
func (d *driver) settle() {
	if d.now.Before(d.offTill) {
		return
	}
	for range mostEvents {
		d.relieve()
		d.advance()
		d.foresee()
		e, is := d.nextDue()
		if !is || e.At.After(d.now) || len(d.Events) > mostEvents {
			return
		}
		delete(d.due, e.Key)
		d.perform(e)
	}
}

// nextDue is what falls due next by itself.
func (d *driver) nextDue() (request.Effect, bool) {
	var next request.Effect
	for _, e := range d.due {
		if next.Key == "" || cmp.Or(e.At.Compare(next.At), strings.Compare(e.Key, next.Key)) < 0 {
			next = e
		}
	}
	return next, next.Key != ""
}

// perform does what has fallen due.
func (d *driver) perform(e request.Effect) {
	switch e.Kind {
	case request.Call:
		d.call(e)
	case request.TickTimer:
		_ = d.do(request.Program, request.Tick{}) // that it comes late is no failure, as live
	case request.LapseTimer:
		_ = d.do(request.Program, request.Lapse{})
	}
}

// relieve asks others where somebody has become absent, or is back.
func (d *driver) relieve() {
	turns, is := d.Company.NextAbsenceChange(d.absent)
	if !is || turns.After(d.now) {
		return
	}
	d.absent = d.now
	_ = d.do(request.Program, request.Relieve{}) // mostly there is nobody to be asked
}

// advance gives free places to tasks that wait for them.
func (d *driver) advance() {
	for i := range d.State.Tasks {
		if t := &d.State.Tasks[i]; t.Place == request.Queued && d.free[t.Pool] > 0 {
			_ = d.do(request.Program, request.Advance{Task: t.Key}) // somebody else may have been first
		}
	}
}

// foresee works out the forecast when something has happened, or its next step has passed,
// and has the asker's side told when it slips.
func (d *driver) foresee() {
	for range 2 {
		stale := !d.stale.IsZero() && !d.stale.After(d.now)
		if d.fresh && !stale || d.State.Reference == "" {
			return
		}
		d.fresh, d.stale = true, time.Time{}
		if d.State.Status == request.Closed || d.State.Status == request.Delivered {
			return
		}
		facts := d.facts(request.Program)
		f := d.State.Forecast(facts, d.learned())
		d.stale = f.Next(d.State.At, d.now)
		for i, step := range f.Steps {
			if t, there := d.State.Task(step.Task); there && step.Rung == "" && (t.State == plan.Blocked || t.State == plan.Ready) {
				d.Latest[step.Task] = f.Slots[i].LatestStart
			}
		}
		if f.Unknown || !d.State.Status.Promising() {
			return
		}
		if last := len(d.Forecasts) - 1; last < 0 || !d.Forecasts[last].Likely.Equal(f.Finish) || !d.Forecasts[last].Sure.Equal(f.Sure) {
			d.Forecasts = append(d.Forecasts, Foretold{d.now, f.Finish, f.Sure})
		}
		if !d.State.Slips(d.Offering, f.Finish, d.now) || d.do(request.Program, request.Foresee{Likely: f.Finish}) != nil {
			return
		}
	}
}

// next is the next instant at which something happens.
func (d *driver) next() (time.Time, bool) {
	var next time.Time
	soonest := func(at time.Time, by bool) {
		if by && at.Before(d.offTill) {
			at = d.offTill
		}
		if at.Before(d.now) {
			at = d.now
		}
		if next.IsZero() || at.Before(next) {
			next = at
		}
	}
	closed := d.State.Status == request.Closed
	if e, is := d.nextDue(); is {
		soonest(e.At, true)
	}
	if len(d.acts) > 0 {
		soonest(d.acts[0].at, true)
	}
	if at, is := d.lineDue(); is {
		soonest(at, false)
	}
	if next.IsZero() && d.Script.Until.IsZero() { // a forecast alone moves nothing
		return next, false
	}
	if !d.stale.IsZero() && !closed {
		soonest(d.stale, true)
	}
	if turns, is := d.Company.NextAbsenceChange(d.now); is && !closed {
		soonest(turns, true)
	}
	return next, !next.IsZero()
}

// happen lets happen what the cast is about to do, if it is time for it, else the next line of
// the script: a line sees all that has happened by its instant. What is due by itself comes
// before, with settle.
func (d *driver) happen() {
	d.settle()
	if len(d.acts) > 0 && !d.acts[0].at.After(d.now) && !d.now.Before(d.offTill) {
		a := d.acts[0]
		d.acts = d.acts[1:]
		a.do()
		return
	}
	if at, is := d.lineDue(); is && !at.After(d.now) {
		d.lineAt = d.now
		d.perfLine(d.line)
		d.line++
	}
}

// at has something done at an instant by the cast, or another system.
func (d *driver) at(at time.Time, do func()) {
	if at = at.UTC().Truncate(time.Millisecond); at.Before(d.now) {
		at = d.now
	}
	d.acted++
	a := act{at, d.acted, do}
	i, _ := slices.BinarySearchFunc(d.acts, a, func(o, a act) int { return cmp.Or(o.at.Compare(a.at), cmp.Compare(o.said, a.said)) })
	d.acts = slices.Insert(d.acts, i, a)
}

// learned are the measures as they are by now.
func (d *driver) learned() request.Measures { return learning{d.measures, d.lessons} }
