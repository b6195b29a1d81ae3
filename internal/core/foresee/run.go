package foresee

import (
	"container/heap"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/promise"
)

// run is a season lived through once.
type run struct {
	*world
	number uint64
	now    int64
	said   int
	events events
	queues []queue // by team
	woken  []int64 // by team, when it is looked at again; 0 for not
	idle   []int64 // by member, since when; never while they work
	comes  []coming
	tally  tally
}

// coming is a form on its way through a run.
type coming struct {
	of        *laid
	shift     int64 // seconds from when the form was sent
	waits     []int32
	left      int
	untilLeft int
	from      time.Time // of the promise's clock; zero while it has not begun
	due       int64
	pauses    []promise.Pause
	over      bool
}

// tally is what a run comes to.
type tally struct {
	teams    [][]sums // by team and week
	of, kept []int    // by promise
	sent     int
}

type sums struct {
	done, late     int
	worked, waited int64
}

// run lives through the season once.
func (w *world) run(number uint64) tally {
	r := &run{world: w, number: number, queues: make([]queue, len(w.teams)), woken: make([]int64, len(w.teams)), idle: make([]int64, len(w.members))}
	r.tally = w.blank()
	r.arrivals()
	for len(r.events) > 0 {
		e := heap.Pop(&r.events).(event)
		if r.now = e.at; r.now >= w.end {
			break
		}
		switch {
		case e.coming < 0:
			r.woken[e.team] = 0
			r.serve(e.team)
		case e.step < 0:
			r.come(e.coming)
		default:
			r.ended(e)
		}
	}
	for i := range r.comes { // what was due and is not done yet
		if c := &r.comes[i]; !c.over && c.of.promise >= 0 && c.due >= w.from && c.due < w.until {
			r.tally.of[c.of.promise]++
		}
	}
	return r.tally
}

func (r *run) push(e event) {
	r.said++
	e.said = r.said
	heap.Push(&r.events, e)
}

const (
	week = int64(7 * 24 * 60 * 60)
	hour = int64(60 * 60)
)

// arrivals lets the forms come: as they were sent, or as often as is drawn for each, each
// time in another week next to its own, and within an hour of the same time.
func (r *run) arrivals() {
	for i := range r.forms {
		f := &r.forms[i]
		if r.Exact {
			r.arrive(f, 0)
			continue
		}
		of := mix(uint64(i) + 1<<40)
		first := int(draw(r.number, of+1) * 3)
		for n := range poisson(f.factor, draw(r.number, of)) {
			weeks := int64((first+n)%3 - 1)
			r.arrive(f, weeks*week+int64((draw(r.number, of+2+uint64(n))*2-1)*float64(hour)))
		}
	}
}

func (r *run) arrive(f *laid, shift int64) {
	at := f.Sent + shift
	if at >= r.until {
		return
	}
	if at >= r.from {
		r.tally.sent++
	}
	r.comes = append(r.comes, coming{of: f, shift: shift, left: len(f.steps), untilLeft: len(f.until)})
	r.push(event{at: at, coming: len(r.comes) - 1, step: -1})
}

func (r *run) come(i int) {
	c := &r.comes[i]
	c.waits = make([]int32, len(c.of.steps))
	for k := range c.of.steps {
		c.waits[k] = c.of.steps[k].waits
	}
	if p := c.of.Promise; p != nil && p.Due != 0 {
		c.due = p.Due + c.shift
		if !p.From.IsZero() {
			c.from = p.From.Add(time.Duration(c.shift) * time.Second)
		}
	}
	switch {
	case c.of.decision < 0 && c.of.Stops:
		c.over = true
	case len(c.of.steps) == 0:
		r.delivered(c)
	}
	for _, k := range c.of.first {
		if !c.over {
			r.begin(i, k)
		}
	}
}

// begin lets a step begin now: it lies with its team, or takes its time.
func (r *run) begin(i int, k int32) {
	c := &r.comes[i]
	if team := c.of.steps[k].team; team >= 0 {
		r.said++
		latest := c.of.steps[k].latest
		if latest != never {
			latest += c.shift
		}
		heap.Push(&r.queues[team], waiting{latest, r.said, i, k, r.now})
		r.serve(int(team))
		return
	}
	at := r.delay(c, k)
	if c.of.Steps[k].Pause {
		c.pauses = append(c.pauses, promise.Pause{From: time.Unix(r.now, 0), Until: time.Unix(at, 0)})
	}
	if at <= r.now {
		r.finish(i, k)
		return
	}
	r.push(event{at: at, coming: i, step: k, member: -1})
}

// delay is when a step of nobody's team ends that begins now.
func (r *run) delay(c *coming, k int32) int64 {
	s, laid := &c.of.Steps[k], &c.of.steps[k]
	length := s.Effort
	if took, measured := s.drawn(draw(r.number, laid.seed)); measured {
		length = calendar.Length{Open: took}
	}
	at := time.Unix(r.now, 0)
	switch {
	case length.IsZero():
	case s.Work != nil:
		if open, err := s.Work.NextOpen(at); err == nil {
			at = open
		}
		at = s.Work.After(at, length)
	default:
		at = at.Add(length.Open).AddDate(0, 0, length.Days)
	}
	if s.Until != 0 {
		return max(at.Unix(), s.Until+c.shift)
	}
	return at.Unix()
}

// serve lets those of a team who are there and have nothing to do take what lies with it,
// who has waited longest first.
func (r *run) serve(team int) {
	for len(r.queues[team]) > 0 {
		free, since := -1, never
		for _, m := range r.teams[team].members {
			if r.idle[m] < since && r.open(m, team) {
				free, since = m, r.idle[m]
			}
		}
		if free < 0 {
			break
		}
		r.take(free, team)
	}
	r.await(team)
}

// open reports whether somebody works for a team now.
func (r *run) open(m, team int) bool {
	h := r.hours(m, team)
	return h.next(r.now) == r.now
}

func (r *run) hours(m, team int) *hours {
	own := &r.members[m]
	return &own.hours[slices.Index(own.teams, team)]
}

// take lets somebody do what lies on top of a team. Who is about to be absent finishes it
// first.
func (r *run) take(m, team int) {
	next := heap.Pop(&r.queues[team]).(waiting)
	c := &r.comes[next.coming]
	s := &c.of.steps[next.step]
	work := s.effort
	if took, measured := c.of.Steps[next.step].drawn(draw(r.number^uint64(c.shift), s.seed)); measured {
		work = int64(took / time.Second)
	}
	r.idle[m] = never
	r.push(event{at: r.teams[team].hours.after(r.now, work), coming: next.coming, step: next.step, member: m, team: team, ready: next.ready, taken: r.now, worked: work})
}

// await looks at a team again when the first of those with nothing to do comes.
func (r *run) await(team int) {
	if len(r.queues[team]) == 0 {
		return
	}
	first := never
	for _, m := range r.teams[team].members {
		if r.idle[m] != never {
			first = min(first, r.hours(m, team).next(r.now))
		}
	}
	if first != never && (r.woken[team] == 0 || first < r.woken[team]) {
		r.woken[team] = first
		r.push(event{at: first, coming: -1, team: team})
	}
}

// ended ends a step at its time; who did it takes the next, of all their teams.
func (r *run) ended(e event) {
	if e.member >= 0 {
		r.count(e)
		r.idle[e.member] = r.now
	}
	r.finish(e.coming, e.step)
	if e.member < 0 || r.idle[e.member] == never {
		return
	}
	best := -1
	for _, team := range r.members[e.member].teams {
		q := r.queues[team]
		if len(q) > 0 && r.open(e.member, team) && (best < 0 || q[0].latest < r.queues[best][0].latest) {
			best = team
		}
	}
	if best >= 0 {
		r.take(e.member, best)
		return
	}
	for _, team := range r.members[e.member].teams {
		r.await(team)
	}
}

// count counts a task that somebody has done.
func (r *run) count(e event) {
	if r.now < r.from || r.now >= r.until {
		return
	}
	c := &r.comes[e.coming]
	s := &r.tally.teams[e.team][r.week(r.now)]
	s.done++
	s.worked += e.worked
	h := &r.teams[e.team].hours
	s.waited += h.gone(e.taken) - h.gone(e.ready)
	own := c.of.Steps[e.step].Due
	if own != 0 && r.now > own+c.shift || c.due != 0 && r.now > c.due {
		s.late++
	}
}

// finish lets what waited for a step go on.
func (r *run) finish(i int, k int32) {
	c := &r.comes[i]
	c.left--
	if k == c.of.decision {
		if c.of.Stops {
			c.over = true
			return
		}
		r.decided(c)
	}
	if slices.Contains(c.of.until, k) {
		if c.untilLeft--; c.untilLeft == 0 {
			r.delivered(c)
		}
	}
	if c.left == 0 && !c.over {
		r.delivered(c)
	}
	for _, next := range c.of.steps[k].next {
		if c.waits[next]--; c.waits[next] == 0 {
			r.begin(i, next)
		}
	}
}

// decided begins a clock that the decision begins.
func (r *run) decided(c *coming) {
	p := c.of.Promise
	if p == nil || !c.from.IsZero() || c.due != 0 {
		return
	}
	promised := p.Promised
	c.from = p.With.Decided(&promised, time.Unix(r.now, 0))
	promised.From = c.from
	c.due = p.With.Fulfilment(promised, nil, promise.Stop{}).Read(c.from).Due.Unix()
}

// delivered reads the clock of the promise.
func (r *run) delivered(c *coming) {
	c.over = true
	if c.of.promise < 0 || r.now < r.from || r.now >= r.until {
		return
	}
	p := c.of.Promise
	promised := p.Promised
	promised.From = c.from
	if !promised.ReadyBy.IsZero() {
		promised.ReadyBy = promised.ReadyBy.Add(time.Duration(c.shift) * time.Second)
	}
	switch p.With.Fulfilment(promised, c.pauses, promise.Stop{At: time.Unix(r.now, 0)}).Read(time.Unix(r.now, 0)).State {
	case promise.Kept:
		r.tally.of[c.of.promise]++
		r.tally.kept[c.of.promise]++
	case promise.Missed:
		r.tally.of[c.of.promise]++
	}
}
