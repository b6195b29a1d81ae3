package measure

import (
	"fmt"
	"slices"
	"sync"
)

// mostCells is how many cells one figure is told apart into at most.
const mostCells = 1_000_000

// counting is a figure that is being counted.
type counting struct {
	a     *asking
	f     *Figure
	by    []Side
	dims  []*dim
	at    []uint32 // the ends at which it is looked how things stand
	whole []*tally // of each worker; none where another counts the same as a whole
	cells []*tally
	same  *counting // that other
	sum   *tally    // of the whole
	all   Value
	each  *tally // of the cells
	told  []Value
}

func (a *asking) counting(w Wanted) (*counting, error) {
	f, known := FigureOf(w.Figure)
	if !known {
		return nil, fmt.Errorf("there is no figure %q", w.Figure)
	}
	if len(w.By) > 2 {
		return nil, fmt.Errorf("things can be told apart by two sides at most")
	}
	n := &counting{a: a, f: f, by: w.By}
	var ends []string
	if f.Subject == OfStanding {
		n.at, ends = a.ends(w.By)
	}
	cells := 1
	for _, side := range w.By {
		if !f.Takes(side) {
			return nil, fmt.Errorf("%q cannot be told apart by %s", f.Name, side.Name())
		}
		d := a.dim(side, f, ends)
		n.dims = append(n.dims, d)
		cells *= len(d.keys)
	}
	if cells > mostCells {
		return nil, fmt.Errorf("that would be a table of %d cells: narrow it first, or choose other sides", cells)
	}
	if f.saved && a.saves == nil {
		a.saves = a.savings()
	}
	for range atOnce() {
		n.whole = append(n.whole, newTally(f, 1))
		if len(n.dims) > 0 {
			n.cells = append(n.cells, newTally(f, cells))
		}
	}
	return n, nil
}

// share lets those that count the same figure count the whole once.
func share(all []*counting) {
	first := map[string]*counting{}
	for _, n := range all {
		if other := first[n.f.Key]; other != nil {
			n.same, n.whole = other, nil
			continue
		}
		first[n.f.Key] = n
		if n.f.form == times {
			room := n.a.room(n.f) / len(n.whole)
			for _, t := range n.whole {
				t.values = numbers.lent(room)
			}
		}
	}
	for _, n := range all {
		if n.f.form != times {
			continue
		}
		room := n.a.room(n.f) / max(1, len(n.cells))
		for worker, t := range n.cells {
			t.cells = places.lent(room)
			if !n.repeats() {
				t.like = first[n.f.Key].whole[worker]
			}
		}
	}
}

// room is how much a figure can find at most, and a little more.
func (a *asking) room(f *Figure) int {
	n := 0
	for _, p := range a.chunks {
		switch {
		case p.first >= a.until || p.last < a.from:
		case f.Subject == OfTasks:
			n += len(p.taskRow)
		case f.Subject == OfRungs:
			n += len(p.rungRow)
		default:
			n += len(p.number)
		}
	}
	return n + n/8
}

// savings are what each task saves when a system does it, in seconds: what people needed for
// it as long as they did it, in the middle, else what is planned for it.
func (a *asking) savings() []int64 {
	needed := a.neededByHand()
	all := make([]int64, len(a.dicts.job.values))
	for i, j := range a.dicts.job.values {
		if j.Kind != automatic {
			continue
		}
		if middle, known := needed[j.task()]; known {
			all[i] = middle
		} else if a.c.Effort != nil {
			all[i] = int64(a.c.Effort(j.Offering, j.Of).Seconds())
		}
	}
	return all
}

// ends are the instants at which it is looked how things stand: when the stretches of a side
// end that have begun, else when the period does; now at the latest. With their keys.
func (a *asking) ends(by []Side) (ends []uint32, keys []string) {
	if a.from >= a.asOf {
		return nil, nil
	}
	for _, side := range by {
		if !side.Timely() {
			continue
		}
		s := slotsOf(side, a.q.Period, a.c.Zone)
		for i, key := range s.keys {
			if small(s.starts[i]) >= a.asOf {
				break
			}
			end := a.asOf
			if i+1 < len(s.starts) {
				end = min(end, small(s.starts[i+1]))
			}
			ends, keys = append(ends, end), append(keys, key)
		}
		return ends, keys
	}
	return []uint32{a.asOf}, nil
}

// chunk counts what is in the chunk at hand.
func (n *counting) chunk(s *scratch, worker int) {
	switch {
	case len(n.dims) > 0:
	case n.whole == nil: // it is asked for twice
		return
	case n.a.countable(n.f):
		records, part := s.countOnly(n.f)
		n.whole[worker].records[0] += records
		if n.f.form == shares {
			n.whole[worker].part[0] += part
		}
		return
	}
	s.find(n.f, n.at)
	if len(s.hits) == 0 {
		return
	}
	s.cells = s.cells[:0]
	switch {
	case n.whole == nil:
	case n.f.Subject == OfStanding && len(n.at) > 1: // the whole is how things stand at the last
		for _, end := range s.dates {
			s.cells = append(s.cells, min(0, int32(end)-int32(len(n.at)-1)))
		}
		n.whole[worker].count(n.f, s)
	default:
		n.whole[worker].countAll(n.f, s)
	}
	switch {
	case len(n.dims) == 0:
		return
	case n.repeats():
		hits, dates := s.hits, s.dates
		n.several(s)
		n.cells[worker].count(n.f, s)
		s.hits, s.dates = hits, dates
		return
	case len(n.dims) == 1:
		s.cells = n.dims[0].single(s, n.f, s.cells)
	default:
		s.cells = n.dims[0].single(s, n.f, s.cells)
		s.groups = n.dims[1].single(s, n.f, s.groups)
		width := int32(len(n.dims[1].keys))
		for i, g := range s.groups {
			s.cells[i] = s.cells[i]*width + g
		}
	}
	n.cells[worker].count(n.f, s)
}

// repeats reports whether a hit can be in several cells.
func (n *counting) repeats() bool {
	return slices.ContainsFunc(n.dims, func(d *dim) bool { return d.many != nil })
}

// several repeats hits for each of the cells they are in.
func (n *counting) several(s *scratch) {
	hits, dates := s.hits, s.dates
	var twice []int32
	var when []uint32
	var first, second []int32
	s.cells = s.cells[:0]
	for i := range hits {
		first = n.dims[0].groups(s, n.f, i, first[:0])
		if len(n.dims) == 1 {
			second = append(second[:0], 0)
		} else {
			second = n.dims[1].groups(s, n.f, i, second[:0])
		}
		width := int32(1)
		if len(n.dims) == 2 {
			width = int32(len(n.dims[1].keys))
		}
		for _, g := range first {
			for _, h := range second {
				twice, when, s.cells = append(twice, hits[i]), append(when, dates[i]), append(s.cells, g*width+h)
			}
		}
	}
	s.hits, s.dates = twice, when
}

// merged is what all workers have counted.
func merged(all []*tally) *tally {
	for _, other := range all[1:] {
		all[0].merge(other)
	}
	return all[0]
}

// pool holds lists that are used again, as making large ones takes long.
type pool[T any] struct{ sync.Pool }

// lent is an empty list with room for so many.
func (p *pool[T]) lent(room int) []T {
	if list, is := p.Get().(*[]T); is && cap(*list) >= room {
		return (*list)[:0]
	}
	return make([]T, 0, room)
}

// back takes a list back.
func (p *pool[T]) back(list []T) {
	if cap(list) > 0 {
		p.Put(&list)
	}
}

var (
	numbers pool[uint32]
	places  pool[int32]
)

// giveBack gives the lists of a tally back.
func (t *tally) giveBack() {
	for _, o := range append(t.others, t) {
		numbers.back(o.values)
		places.back(o.cells)
	}
}

// tell works out what the cells and the wholes come to, several at once.
func tell(all []*counting) {
	var telling sync.WaitGroup
	for _, n := range all {
		if len(n.dims) > 0 {
			telling.Go(func() {
				n.each = merged(n.cells)
				n.told = n.each.result(n.f, len(n.dims))
			})
		}
		if n.same == nil {
			telling.Go(func() {
				n.sum = merged(n.whole)
				n.all = n.sum.result(n.f, 0)[0]
			})
		}
	}
	telling.Wait()
	for _, n := range all {
		if n.same == nil {
			n.sum.giveBack()
		}
		if n.each != nil {
			n.each.giveBack()
		}
	}
}

// series is what was counted, once all of it is told.
func (n *counting) series() Series {
	whole := n
	if n.same != nil {
		whole = n.same
	}
	out := Series{Figure: n.f.Key, By: n.by, Keys: [][]string{}, Cells: n.told, Total: whole.all}
	for _, d := range n.dims {
		out.Keys = append(out.Keys, d.keys)
	}
	if n.f.Few {
		n.protect(&out, whole.sum, n.each)
	}
	return out
}
