package foresee

import (
	"math"
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
)

// world is a season laid out for its runs; no run changes it.
type world struct {
	Season
	from, until int64
	end         int64 // no run looks beyond
	teams       []teamLaid
	members     []member
	forms       []laid
	weeks       []int64        // when each week of the season begins
	promises    []string       // by index
	team        map[string]int // index by key
	promised    map[string]int // index by what promises holds
}

type teamLaid struct {
	Team
	hours   hours
	members []int
	open    []int64 // open seconds of its members, by week
}

type member struct {
	teams []int
	hours []hours // by place in teams
}

// laid is a form with its steps as indexes.
type laid struct {
	*Form
	factor   float64
	promise  int     // index of what is promised; -1 for nothing
	steps    []step  // in the order of the form
	first    []int32 // those that wait for nothing
	until    []int32 // those whose end delivers it
	decision int32   // the last decision; -1 for none
}

type step struct {
	team   int32 // -1 for nobody's
	waits  int32 // for so many others
	next   []int32
	latest int64
	effort int64 // seconds of work
	seed   uint64
}

// lay lays a season out.
func (s Season) lay() *world {
	w := &world{Season: s, from: s.From.Unix(), until: s.Until.Unix(), end: s.Until.Add(beyond).Unix(), team: map[string]int{}, promised: map[string]int{}}
	begin := s.From
	for _, f := range s.Forms {
		if at := time.Unix(f.Sent, 0); at.Before(begin) {
			begin = at
		}
	}
	begin = begin.AddDate(0, 0, -8)
	w.layWeeks()
	away := map[string][]people.Absence{}
	for _, a := range s.Absences {
		away[a.Person] = append(away[a.Person], a)
	}
	for _, all := range away {
		slices.SortFunc(all, func(a, b people.Absence) int { return a.From.Compare(b.From) })
	}
	whose := map[string]int{}
	for i, t := range s.Teams {
		w.team[t.Key] = i
		l := teamLaid{Team: t, hours: hoursOf(t.Work, begin, time.Unix(w.end, 0), nil), open: make([]int64, len(w.weeks))}
		for _, id := range t.Members {
			n, known := whose[id]
			if !known {
				n = len(w.members)
				whose[id] = n
				w.members = append(w.members, member{})
			}
			own := l.hours
			if len(away[id]) > 0 {
				own = hoursOf(t.Work, begin, time.Unix(w.end, 0), away[id])
			}
			w.members[n].teams, w.members[n].hours = append(w.members[n].teams, i), append(w.members[n].hours, own)
			l.members = append(l.members, n)
			for k, week := range w.weeks {
				l.open[k] += own.gone(w.weekEnd(k)) - own.gone(week)
			}
		}
		w.teams = append(w.teams, l)
	}
	for i := range s.Forms {
		w.forms = append(w.forms, w.layForm(&s.Forms[i], uint64(i)))
	}
	return w
}

// blank is the tally of a run in which nothing has happened.
func (w *world) blank() tally {
	t := tally{teams: make([][]sums, len(w.teams)), of: make([]int, len(w.promises)), kept: make([]int, len(w.promises))}
	for i := range t.teams {
		t.teams[i] = make([]sums, len(w.weeks))
	}
	return t
}

// layWeeks finds the weeks of the season: each begins on a Monday, UTC, the first perhaps
// before the season.
func (w *world) layWeeks() {
	day := time.Unix(w.from, 0).UTC().Truncate(24 * time.Hour)
	for day.Weekday() != time.Monday {
		day = day.AddDate(0, 0, -1)
	}
	for ; day.Unix() < w.until; day = day.AddDate(0, 0, 7) {
		w.weeks = append(w.weeks, max(w.from, day.Unix()))
	}
}

func (w *world) weekEnd(k int) int64 {
	if k+1 < len(w.weeks) {
		return w.weeks[k+1]
	}
	return w.until
}

// week is the index of the week of an instant of the season.
func (w *world) week(at int64) int {
	i, found := slices.BinarySearch(w.weeks, at)
	if !found {
		i--
	}
	return i
}

// promiseOf is the index of what is promised: that of others is one.
func (w *world) promiseOf(offering, name string) int {
	key := "\x00"
	if w.Own[offering] {
		key = offering + "\x00" + name
	}
	at, known := w.promised[key]
	if !known {
		at = len(w.promises)
		w.promised[key] = at
		w.promises = append(w.promises, key)
	}
	return at
}

func (w *world) layForm(f *Form, number uint64) laid {
	l := laid{Form: f, factor: 1, promise: -1, decision: -1, steps: make([]step, len(f.Steps))}
	if factor, said := w.Factors[f.Offering]; said {
		l.factor = factor
	} else if factor, said := w.Factors[""]; said {
		l.factor = factor
	}
	if f.Promise != nil && !f.Stops {
		l.promise = w.promiseOf(f.Offering, f.Promise.Name)
	}
	for i, s := range f.Steps {
		team, known := w.team[s.Team]
		if !known { // nobody's, or of a team that is no more
			team = -1
		}
		out := &l.steps[i]
		*out = step{team: int32(team), waits: int32(len(s.After)), latest: s.Latest, seed: mix(number<<16 | uint64(i))}
		if s.Latest == 0 {
			out.latest = never
		}
		out.effort = effortOf(s.Effort)
		if s.Decision {
			l.decision = int32(i)
		}
		if len(s.After) == 0 {
			l.first = append(l.first, int32(i))
		}
		for _, before := range s.After {
			l.steps[before].next = append(l.steps[before].next, int32(i))
		}
		if f.Promise != nil && slices.Contains(f.Promise.Until, s.Key) && !s.Decision {
			l.until = append(l.until, int32(i))
		}
	}
	return l
}

// effortOf are the seconds of work of an effort; a day is eight hours.
func effortOf(l calendar.Length) int64 {
	return int64((l.Open + time.Duration(l.Days)*8*time.Hour) / time.Second)
}

// mix spreads a number over all bits.
func mix(x uint64) uint64 {
	x += 0x9e3779b97f4a7c15
	x = (x ^ x>>30) * 0xbf58476d1ce4e5b9
	x = (x ^ x>>27) * 0x94d049bb133111eb
	return x ^ x>>31
}

// draw is a number of [0, 1) that hangs on a run and what it is drawn for, and on nothing
// else: so a lever changes no draw, and what it moves is its own doing.
func draw(run, of uint64) float64 { return float64(mix(mix(run)^of)>>11) / (1 << 53) }

// poisson draws how often something comes whose mean is so much.
func poisson(mean, u float64) int {
	p := math.Exp(-mean)
	n := 0
	for sum := p; u > sum && n < 1000; sum += p {
		n++
		p *= mean / float64(n)
	}
	return n
}
