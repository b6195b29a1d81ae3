package demo

import (
	"cmp"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// job is a task that lies with a team, or that somebody has in hand.
type job struct {
	life *life
	task string
	due  time.Time // of the request; zero for never
}

// beside is how much longer a task is in somebody's hand than its effort says, in the middle:
// the people of a team have other work beside what is asked for here.
var beside = map[string]float64{
	"service-bench": 1, "identity-access": 1, "bridge-systems": 3, "purchasing": 1.2, "people-desk": 1.7, "payroll": 1.5, "crewing": 6.5, "premises-crew": 2.4, "keys-badges": 3.5,
}

// lies puts a task where its team takes it from: what is due first lies on top.
func (h *History) lies(l *life, t *request.Task) {
	if l.set["lies "+t.Key] {
		return
	}
	l.set["lies "+t.Key] = true
	due := l.state.DueAt
	if !t.Due.IsZero() {
		due = t.Due
	}
	all := h.lying[t.Team]
	at, _ := slices.BinarySearchFunc(all, due, func(j job, due time.Time) int {
		return cmp.Or(whenDue(j.due).Compare(whenDue(due)), -1)
	})
	h.lying[t.Team] = slices.Insert(all, at, job{l, t.Key, due})
	h.handOut(t.Team, l.hours(t.Team))
}

// whenDue sorts what is never due last.
func whenDue(due time.Time) time.Time {
	if due.IsZero() {
		return time.Unix(1<<40, 0)
	}
	return due
}

func (l *life) hours(team string) *calendar.Calendar {
	return l.h.company.TeamHours(team, l.offering.Promise.Calendar())
}

// handOut lets those of a team who are there and have nothing in hand take what lies on top,
// each one task. When something is left it goes on as somebody gets free, and in the morning.
func (h *History) handOut(team string, hours *calendar.Calendar) {
	if hours.IsOpen(h.clock) {
		for _, person := range h.company.Members(team) {
			if h.isFree(person) {
				h.next(team, person)
			}
		}
	}
	if len(h.lying[team]) == 0 || h.awaited[team] {
		return
	}
	opening, err := hours.NextOpen(h.clock)
	if err == nil && !opening.After(h.clock) { // it is open, and nobody is free: tomorrow
		opening, err = hours.NextOpen(calendar.DateOf(h.clock.In(hours.Zone())).AddDays(1).In(hours.Zone()))
	}
	if err != nil {
		return
	}
	h.awaited[team] = true
	h.at(opening, func() {
		h.awaited[team] = false
		h.handOut(team, hours)
	})
}

// isFree reports whether somebody is there and has nothing in hand.
func (h *History) isFree(person string) bool {
	_, busy := h.inHand[person]
	_, away := h.company.Absence(person, h.clock)
	return !busy && !away
}

// someoneFree is a member of a team, beside one, who has nothing in hand; empty for nobody.
func (h *History) someoneFree(team, beside string) string {
	for _, person := range h.company.Members(team) {
		if person != beside && h.isFree(person) {
			return person
		}
	}
	return ""
}

// has reports whether somebody has this task in hand, and not another.
func (h *History) has(person string, l *life, task string) bool {
	j := h.inHand[person]
	return j.life == l && j.task == task
}

// next lets somebody take the first task that lies with a team.
func (h *History) next(team, person string) {
	for len(h.lying[team]) > 0 {
		j := h.lying[team][0]
		h.lying[team] = h.lying[team][1:]
		delete(j.life.set, "lies "+j.task)
		if t, ok := j.life.state.Task(j.task); !ok || t.State != plan.Ready || !j.life.do(person, request.Take{Task: j.task}) {
			continue
		}
		h.inHand[person] = j
		j.life.goOn()
		return
	}
}

// free lets somebody who had a task in hand take another.
func (h *History) free(l *life, task, person string) {
	if !h.has(person, l, task) {
		return
	}
	delete(h.inHand, person)
	p, _ := h.company.Person(person)
	for _, team := range p.Teams {
		h.handOut(team, l.hours(team))
	}
}
