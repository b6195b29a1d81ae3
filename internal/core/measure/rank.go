package measure

import (
	"cmp"
	"slices"
)

// Present is a series without the values of sides of which there is nothing, and with no
// more of the first side than so many, the last ones where it is one of time.
func (s Series) Present(most int) Series {
	if len(s.Keys) == 0 || len(s.Keys[0]) <= most {
		return s
	}
	return s.pick(slices.Collect(count(len(s.Keys[0])-most, len(s.Keys[0]))), nil)
}

// Ranked is a series whose sides stand in the order of what weighs most: of what a share or a
// time is bad of, where much of it is. No more than so many of the first side are left; of
// the second, where it is not time, no more than twelve. Others says how many are left out.
func (s Series) Ranked(most int) Series {
	f, known := FigureOf(s.Figure)
	if !known || len(s.Keys) == 0 {
		return s
	}
	width := 1
	if len(s.Keys) == 2 {
		width = len(s.Keys[1])
	}
	first, second := make([]float64, len(s.Keys[0])), make([]float64, width)
	seenFirst, seenSecond := make([]bool, len(first)), make([]bool, width)
	for i := range first {
		for j := range width {
			v := s.Cells[i*width+j]
			weight := f.weight(v)
			first[i], second[j] = first[i]+weight, second[j]+weight
			seenFirst[i], seenSecond[j] = seenFirst[i] || v.Records > 0, seenSecond[j] || v.Records > 0
		}
	}
	rows := heaviest(first, seenFirst, s.inOrder(0))
	s.Others = max(0, len(rows)-most)
	if s.inOrder(0) {
		s.Others = 0
	} else {
		rows = rows[:min(len(rows), most)]
	}
	var columns []int
	if len(s.Keys) == 2 {
		columns = heaviest(second, seenSecond, s.inOrder(1))
		if !s.inOrder(1) {
			columns = columns[:min(len(columns), mostColumns)]
		}
	}
	others := s.Others
	s = s.pick(rows, columns)
	s.Others = others
	return s
}

// mostColumns is how many values of a second side a grid shows.
const mostColumns = 12

// weight is how much a cell has to do with what a figure is bad by, else how much it is.
func (f *Figure) weight(v Value) float64 {
	switch {
	case v.Records == 0:
		return 0
	case f.form == shares && f.Good == High:
		return float64(v.Records - v.Part)
	case f.form == shares:
		return float64(v.Part) + float64(v.Records)/1e6
	case f.form == times && v.Mean != nil:
		return *v.Mean * float64(v.Records)
	case f.form == means || v.Number == nil:
		return float64(v.Records)
	}
	return *v.Number
}

// inOrder reports whether the values of a side stay in their order.
func (s Series) inOrder(side int) bool { return s.By[side].Timely() || s.By[side].Recurring() }

// heaviest are the places of those that are seen, the heaviest first; of time all, in order.
func heaviest(weights []float64, seen []bool, timely bool) []int {
	var places []int
	for i := range weights {
		if seen[i] || timely {
			places = append(places, i)
		}
	}
	if !timely {
		slices.SortStableFunc(places, func(a, b int) int { return cmp.Compare(weights[b], weights[a]) })
	}
	return places
}

// pick leaves some values of the first side, and some of the second; nil for all.
func (s Series) pick(rows, columns []int) Series {
	width := 1
	if len(s.Keys) == 2 {
		width = len(s.Keys[1])
		if columns == nil {
			columns = slices.Collect(count(0, width))
		}
	} else {
		columns = []int{0}
	}
	out := Series{Figure: s.Figure, By: s.By, Total: s.Total, Keys: [][]string{{}}, Cells: []Value{}}
	if len(s.Keys) == 2 {
		out.Keys = append(out.Keys, []string{})
		for _, j := range columns {
			out.Keys[1] = append(out.Keys[1], s.Keys[1][j])
		}
	}
	for _, i := range rows {
		out.Keys[0] = append(out.Keys[0], s.Keys[0][i])
		for _, j := range columns {
			out.Cells = append(out.Cells, s.Cells[i*width+j])
		}
	}
	return out
}

// count goes through the numbers from one up to another.
func count(from, until int) func(func(int) bool) {
	return func(yield func(int) bool) {
		for i := from; i < until; i++ {
			if !yield(i) {
				return
			}
		}
	}
}
