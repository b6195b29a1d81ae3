package work

import (
	"cmp"
	"slices"

	"heptad/internal/core/measure"
	"heptad/internal/store"
)

// Aim is what a figure on the screen should be.
type Aim struct {
	Goal    float64          `json:"goal" doc:"In the unit of the figure"`
	AtLeast bool             `json:"atLeast" doc:"It should be at least so much; else at most"`
	Stands  measure.Standing `json:"stands"`
}

// stretches are the sides along which the periods of targets lie.
var stretches = map[string]measure.Side{"today": measure.ByDay, "week": measure.ByWeek, "month": measure.ByMonth}

// aim puts those of some targets beside the figures of the screen that are of the same
// things. What grows as its period goes on can only be compared in a period of the same
// length; with so much of the open time of the screen's gone.
func (s *Screen) aim(targets []store.Target, gone float64) {
	targets = slices.DeleteFunc(slices.Clone(targets), func(t store.Target) bool { return !slices.EqualFunc(sorted(t.Only), sorted(s.Sentence.Only), same) })
	slices.SortStableFunc(targets, func(a, b store.Target) int { // the one of this very period before others
		return cmp.Compare(bit(a.Period != s.Sentence.Period), bit(b.Period != s.Sentence.Period))
	})
	for i := range s.Row {
		told := &s.Row[i]
		for _, t := range targets {
			if f, known := measure.FigureOf(t.Figure); !known || t.Figure != told.Figure || f.Additive() && t.Period != s.Sentence.Period || told.Aim != nil {
				continue
			}
			stands, _ := t.Stands(told.Total, gone)
			told.Aim = &Aim{t.Goal, t.AtLeast, stands}
		}
	}
	for _, t := range targets {
		if f, known := measure.FigureOf(t.Figure); known && t.Figure == s.Sentence.Figure && (!f.Additive() || stretches[t.Period] == s.Sentence.Along) {
			s.Goal = &t.Goal
			return
		}
	}
}

func bit(is bool) int {
	if is {
		return 1
	}
	return 0
}

// sorted are sides that something is narrowed to, in one order.
func sorted(only []measure.Narrowed) []measure.Narrowed {
	return slices.SortedFunc(slices.Values(only), func(a, b measure.Narrowed) int { return cmp.Compare(a.Side, b.Side) })
}

func same(a, b measure.Narrowed) bool {
	return a.Side == b.Side && slices.Equal(slices.Sorted(slices.Values(a.Keys)), slices.Sorted(slices.Values(b.Keys)))
}
