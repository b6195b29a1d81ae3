package foresee

import (
	"slices"
	"time"
)

// Took is how long a task or a decision took: open seconds.
type Took struct {
	Offering string
	Key      string // of the plan, or of the decision
	Decision bool
	People   bool // people did it
	Waited   int64
	Worked   int64
	Paused   int64
}

// most is how many times of each are used: the last.
const most = 400

// Times are the times of an offering, for evaluating: of what people do, what they worked.
type Times struct{ tasks, rungs map[string][]time.Duration }

// TimesOf sorts times by offering, of those that are given the last ended first.
func TimesOf(all []Took) map[string]Times {
	out := map[string]Times{}
	for _, t := range all {
		times, known := out[t.Offering]
		if !known {
			times = Times{map[string][]time.Duration{}, map[string][]time.Duration{}}
			out[t.Offering] = times
		}
		of, took := times.tasks, t.Waited+t.Worked+t.Paused
		switch {
		case t.Decision:
			of = times.rungs
		case t.People:
			took = t.Worked
		}
		if len(of[t.Key]) < most {
			of[t.Key] = append(of[t.Key], time.Duration(took)*time.Second)
		}
	}
	for _, times := range out {
		for _, of := range []map[string][]time.Duration{times.tasks, times.rungs} {
			for _, took := range of {
				slices.Sort(took)
			}
		}
	}
	return out
}

// Task gives the times of a task of the plan, sorted.
func (t Times) Task(key string) []time.Duration { return t.tasks[key] }

// Rescue gives none: what is stuck is rescued within what the task took.
func (t Times) Rescue(string) []time.Duration { return nil }

// Rung gives the times of a decision, sorted.
func (t Times) Rung(key string) []time.Duration { return t.rungs[key] }

// Did is a task that somebody of a team did.
type Did struct {
	Team   string
	Ended  int64
	Waited int64 // open seconds of the team; so is the next
	Worked int64
	Late   bool
}

// Kept is how often something promised was kept.
type Kept struct {
	Offering string
	Name     string
	Of, Kept int
}

// Measured is the outlook of a season as it really went.
func (s Season) Measured(did []Did, kept []Kept, sent int) Outlook {
	w := s.lay()
	for _, k := range kept {
		w.promiseOf(k.Offering, k.Name)
	}
	t := w.blank()
	t.sent = sent
	for _, d := range did {
		i, known := w.team[d.Team]
		if !known || d.Ended < w.from || d.Ended >= w.until {
			continue
		}
		late := 0
		if d.Late {
			late = 1
		}
		t.teams[i][w.week(d.Ended)].add(sums{1, late, d.Worked, d.Waited})
	}
	for _, k := range kept {
		i := w.promiseOf(k.Offering, k.Name)
		t.of[i] += k.Of
		t.kept[i] += k.Kept
	}
	return w.outlook([]tally{t})
}
