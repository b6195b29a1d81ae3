package plan

import (
	"math/rand/v2"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/order"
)

// Step is a task, or an open decision, as it is computed with.
type Step struct {
	After    []int              // indexes of the steps it waits for
	Work     *calendar.Calendar // of who does it; nil counts clock time
	Effort   calendar.Length
	Measured []time.Duration // open time it took before, sorted; used from EnoughMeasured on
	Begun    time.Time       // zero while it has not begun
	Until    time.Time       // it does not end before: a wait, another try; zero for none
	Due      time.Time       // of its own; zero for none
	Unknown  bool            // nobody knows when it goes on: it is stuck, and such was never measured
	Pause    bool            // the clock of the promise stands still while it is in hand
	Ended    time.Time       // zero while it is open
}

// EnoughMeasured is how many finished tasks of a kind it takes to use
// their times instead of the effort (rules.md 6).
const EnoughMeasured = 20

// Slot is when a step is likely to happen, and when it must at the latest.
type Slot struct {
	Start        time.Time
	Finish       time.Time
	LatestStart  time.Time     // so as to keep the deadline; zero when there is none
	LatestFinish time.Time     // likewise
	Float        time.Duration // working time it can slip without moving the likely finish
	Critical     bool          // on the longest way to the finish
	Unknown      bool          // nobody knows when it will end, as it is stuck or waits for what is
}

// Slack is the working time between the likely and the latest finish of a
// step; negative when it is late, false when there is no deadline.
func (s Slot) Slack(work *calendar.Calendar) (time.Duration, bool) {
	if s.LatestFinish.IsZero() {
		return 0, false
	}
	return between(work, s.Finish, s.LatestFinish), true
}

// Timetable is what a plan comes to from an instant on.
type Timetable struct {
	Slots    []Slot
	Finish   time.Time // the likely one: with measured times half of the runs are done by then
	Sure     time.Time // done by then in four of five runs; the finish when nothing is measured
	Measured bool
	Unknown  bool // nobody knows the finish: something is stuck. The instants are then the earliest possible
}

// Runs of the simulation, and its seed: the same plan has the same forecast.
const (
	runs = 100
	seed = 7
)

// Schedule computes a plan from now on: a step begins when those it waits for
// have ended and its team next opens, and takes its effort in that team's
// calendar. Nothing that is still to be done is placed in the past. By is
// the deadline; zero for none. The steps must not wait in a circle.
func Schedule(steps []Step, now, by time.Time) Timetable {
	s, lengths, measured := scheduling(steps, now)
	t := Timetable{Slots: make([]Slot, len(steps)), Measured: measured}
	t.Finish = s.forward(lengths, t.Slots)
	s.critical(t.Slots, t.Finish)
	s.backward(lengths, t.Finish, false, func(i int, _, finish time.Time) {
		t.Slots[i].Float = between(steps[i].Work, t.Slots[i].Finish, finish)
	})
	if !by.IsZero() || slices.ContainsFunc(steps, func(s Step) bool { return !s.Due.IsZero() }) {
		s.backward(lengths, by, true, func(i int, start, finish time.Time) { t.Slots[i].LatestStart, t.Slots[i].LatestFinish = start, finish })
	}
	for _, i := range s.order {
		step := &steps[i]
		if !step.Ended.IsZero() {
			continue
		}
		unknown := step.Unknown
		for _, before := range step.After {
			unknown = unknown || step.Begun.IsZero() && t.Slots[before].Unknown
		}
		t.Slots[i].Unknown = unknown
		t.Unknown = t.Unknown || unknown
	}
	t.Sure = t.Finish
	if measured {
		t.Finish, t.Sure = s.simulate(lengths)
	}
	return t
}

// Waits gives when open steps begin and end that the clock of the promise stands
// still for, of those whose end is known.
func Waits(steps []Step, now time.Time) []Slot {
	pause := func(s Step) bool { return s.Pause && s.Ended.IsZero() && !s.Until.IsZero() }
	if !slices.ContainsFunc(steps, pause) {
		return nil
	}
	s, lengths, _ := scheduling(steps, now)
	slots := make([]Slot, len(steps))
	s.forward(lengths, slots)
	var waits []Slot
	for i := range steps {
		if pause(steps[i]) {
			slots[i].Finish = latest(slots[i].Start, steps[i].Until)
			waits = append(waits, slots[i])
		}
	}
	return waits
}

type schedule struct {
	steps []Step
	order []int
	now   time.Time
}

// scheduling puts steps in order, with the likely length of each; measured tells
// whether any was measured.
func scheduling(steps []Step, now time.Time) (s *schedule, lengths []calendar.Length, measured bool) {
	s = &schedule{steps: steps, now: now}
	s.order, _ = order.Sort(len(steps), func(i int) []int { return steps[i].After })
	lengths = make([]calendar.Length, len(steps))
	for i := range steps {
		lengths[i] = steps[i].Effort
		if left := s.left(i); steps[i].Ended.IsZero() && len(steps[i].Measured) >= EnoughMeasured {
			measured = true
			lengths[i] = calendar.Length{Open: left[len(left)/2]}
		}
	}
	return s, lengths, measured
}

// left are the measured times of a step that it can still take: those longer
// than what has already gone; when it takes longer than ever, what has gone.
func (s *schedule) left(i int) []time.Duration {
	step := &s.steps[i]
	if step.Begun.IsZero() || len(step.Measured) == 0 {
		return step.Measured
	}
	gone := between(step.Work, step.Begun, s.now)
	at, _ := slices.BinarySearch(step.Measured, gone)
	if at == len(step.Measured) {
		return []time.Duration{gone}
	}
	return step.Measured[at:]
}

// forward gives each step its start and finish, and the last finish.
func (s *schedule) forward(lengths []calendar.Length, slots []Slot) time.Time {
	last := s.now
	for _, i := range s.order {
		step, slot := &s.steps[i], &slots[i]
		if !step.Ended.IsZero() {
			slot.Start, slot.Finish = step.Begun, step.Ended
			if slot.Start.IsZero() {
				slot.Start = step.Ended
			}
			continue
		}
		slot.Start = step.Begun
		if slot.Start.IsZero() {
			slot.Start = s.now
			for _, before := range step.After {
				slot.Start = latest(slot.Start, slots[before].Finish)
			}
			if !lengths[i].IsZero() {
				slot.Start = opening(step.Work, slot.Start)
			}
		}
		slot.Finish = after(step.Work, slot.Start, lengths[i])
		if slot.Finish.Before(s.now) { // it takes longer than computed: at the earliest when somebody is there
			slot.Finish = opening(step.Work, s.now)
		}
		slot.Finish = latest(slot.Finish, step.Until)
		for _, before := range step.After { // a waived forerunner may still be open
			if s.steps[before].Ended.IsZero() && step.Begun.IsZero() {
				slot.Finish = latest(slot.Finish, slots[before].Finish)
			}
		}
		last = latest(last, slot.Finish)
	}
	return last
}

// critical marks the steps that the finish hangs on.
func (s *schedule) critical(slots []Slot, finish time.Time) {
	for k := len(s.order) - 1; k >= 0; k-- {
		i := s.order[k]
		if !s.steps[i].Ended.IsZero() {
			continue
		}
		if slots[i].Finish.Equal(finish) {
			slots[i].Critical = true
		}
		if !slots[i].Critical || !s.steps[i].Begun.IsZero() {
			continue
		}
		var last time.Time
		for _, before := range s.steps[i].After {
			last = latest(last, slots[before].Finish)
		}
		for _, before := range s.steps[i].After {
			if s.steps[before].Ended.IsZero() && slots[before].Finish.Equal(last) {
				slots[before].Critical = true
			}
		}
	}
}

// backward gives each open step when it must begin and end so that all is done
// by an instant; due times of its own count where they are wanted. Steps that
// nothing presses are left out.
func (s *schedule) backward(lengths []calendar.Length, by time.Time, due bool, set func(i int, start, finish time.Time)) {
	finish := make([]time.Time, len(s.steps))
	for k := len(s.order) - 1; k >= 0; k-- {
		i := s.order[k]
		step := &s.steps[i]
		if !step.Ended.IsZero() {
			continue
		}
		finish[i] = earlier(finish[i], by)
		if due {
			finish[i] = earlier(finish[i], step.Due)
		}
		if finish[i].IsZero() {
			continue
		}
		start := before(step.Work, finish[i], lengths[i])
		set(i, start, finish[i])
		for _, b := range step.After {
			finish[b] = earlier(finish[b], start)
		}
	}
}

// simulate draws the times of measured steps at random, and gives the finish
// of half of the runs and of four of five.
func (s *schedule) simulate(lengths []calendar.Length) (likely, sure time.Time) {
	random := rand.New(rand.NewPCG(seed, seed))
	lengths = slices.Clone(lengths)
	slots := make([]Slot, len(s.steps))
	left := make([][]time.Duration, len(s.steps))
	for i := range s.steps {
		if s.steps[i].Ended.IsZero() && len(s.steps[i].Measured) >= EnoughMeasured {
			left[i] = s.left(i)
		}
	}
	finishes := make([]time.Time, runs)
	for r := range finishes {
		for i := range left {
			if n := len(left[i]); n > 0 {
				lengths[i] = calendar.Length{Open: left[i][random.IntN(n)]}
			}
		}
		finishes[r] = s.forward(lengths, slots)
	}
	slices.SortFunc(finishes, time.Time.Compare)
	return finishes[runs/2-1], finishes[runs*4/5-1]
}

func latest(a, b time.Time) time.Time {
	if b.After(a) {
		return b
	}
	return a
}

// earlier of two instants; a zero one is none.
func earlier(a, b time.Time) time.Time {
	if a.IsZero() || !b.IsZero() && b.Before(a) {
		return b
	}
	return a
}

// opening, after, before and between compute in a calendar; without one, and
// beyond its last year, in clock time.
func opening(work *calendar.Calendar, t time.Time) time.Time {
	if work != nil {
		if at, err := work.NextOpen(t); err == nil {
			return at
		}
	}
	return t
}

func after(work *calendar.Calendar, t time.Time, l calendar.Length) time.Time {
	if l.IsZero() {
		return t
	}
	if work != nil {
		return work.After(t, l)
	}
	return t.Add(l.Open).AddDate(0, 0, l.Days)
}

func before(work *calendar.Calendar, t time.Time, l calendar.Length) time.Time {
	if l.IsZero() {
		return t
	}
	if work != nil && l.Days == 0 {
		if at, err := work.Latest(t, l.Open); err == nil {
			return at
		}
	} else if work != nil {
		if at, err := work.AddDays(t, -l.Days); err == nil {
			return opening(work, at)
		}
	}
	return t.Add(-l.Open).AddDate(0, 0, -l.Days)
}

func between(work *calendar.Calendar, a, b time.Time) time.Duration {
	if work == nil {
		return b.Sub(a)
	}
	return work.Between(a, b)
}
