package measure

import (
	"fmt"
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
	n.at, ends = a.ends(w.By)
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
				t.values = lent(room)
			}
		}
	}
	for _, n := range all {
		if n.f.form == times {
			room := n.a.room(n.f) / max(1, len(n.cells))
			for _, t := range n.cells {
				t.values, t.cells = lent(room), make([]int32, 0, room)
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
	if len(n.dims) == 0 && n.a.countable(n.f) {
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
	case n.dims[0].many != nil || len(n.dims) == 2 && n.dims[1].many != nil:
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

// tally is what one worker has counted of one figure, by cell.
type tally struct {
	records []int64
	part    []int64
	sum     []int64
	largest []int64
	values  []uint32
	cells   []int32 // of the values; none where there is one cell
	persons []persons
	others  []*tally // whose values belong to it, too
}

func newTally(f *Figure, cells int) *tally {
	t := &tally{records: make([]int64, cells)}
	switch f.form {
	case shares:
		t.part = make([]int64, cells)
	case sums, means, times:
		t.sum = make([]int64, cells)
	case oldest:
		t.largest = make([]int64, cells)
	}
	if f.Few {
		t.persons = make([]persons, cells)
	}
	return t
}

// countAll adds all hits to the one cell there is.
func (t *tally) countAll(f *Figure, s *scratch) {
	switch {
	case f.form == counts:
		t.records[0] += int64(len(s.hits))
		return
	case f.form == times:
		t.records[0] += int64(len(s.hits))
		for _, value := range t.keep(f, s) {
			t.sum[0] += int64(value)
		}
		return
	}
	for range s.hits {
		s.cells = append(s.cells, 0)
	}
	t.count(f, s)
}

// count adds the hits to their cells; those below zero are left out.
func (t *tally) count(f *Figure, s *scratch) {
	for _, cell := range s.cells {
		if cell >= 0 {
			t.records[cell]++
		}
	}
	switch f.form {
	case shares:
		t.countPart(f, s)
	case sums, means, times:
		t.add(f, s)
	case oldest:
		for i, cell := range s.cells {
			if cell >= 0 {
				end := s.atEnd(s.dates[i])
				t.largest[cell] = max(t.largest[cell], int64(end)-int64(s.c.c32[cSent][s.rowOf(f, s.hits[i])]))
			}
		}
	}
	if !f.Few {
		return
	}
	persons := s.c.task[tPerson]
	if f.Subject == OfRatings {
		persons = s.c.rating[rPerson]
	}
	if len(t.persons) == 1 && t.persons[0].n == fewest {
		return
	}
	for i, cell := range s.cells {
		t.persons[cell].add(persons[s.hits[i]])
	}
}

func (t *tally) countPart(f *Figure, s *scratch) {
	part := f.part
	switch f.Subject {
	case OfTasks:
		small, traits := uint8(part), s.c.taskTraits
		for i, cell := range s.cells {
			if traits[s.hits[i]]&small == small {
				t.part[cell]++
			}
		}
	default:
		traits := s.c.traits
		if f.Subject == OfRungs {
			traits = s.c.rung[gPassed]
		}
		for i, cell := range s.cells {
			if traits[s.hits[i]]&part == part {
				t.part[cell]++
			}
		}
	}
}

// columns are those that a figure has its values in.
func (s *scratch) columns(f *Figure) [][]uint32 {
	switch f.Subject {
	case OfTasks:
		return s.c.task[:]
	case OfRungs:
		return s.c.rung[:]
	case OfRatings:
		return s.c.rating[:]
	}
	return s.c.c32[:]
}

// keep keeps the values of the hits, to be ranked, and gives them.
func (t *tally) keep(f *Figure, s *scratch) []uint32 {
	columns, from := s.columns(f), len(t.values)
	column := columns[f.value]
	for _, hit := range s.hits {
		t.values = append(t.values, column[hit])
	}
	kept := t.values[from:]
	if f.minus {
		less := columns[f.less]
		for i, hit := range s.hits {
			kept[i] -= min(kept[i], less[hit])
		}
	}
	if f.plus {
		more := columns[f.less]
		for i, hit := range s.hits {
			kept[i] += more[hit]
		}
	}
	return kept
}

// add adds up the values of the hits, and keeps those that are ranked.
func (t *tally) add(f *Figure, s *scratch) {
	switch {
	case f.saved:
		for i, cell := range s.cells {
			t.sum[cell] += s.a.saves[s.c.task[tJob][s.hits[i]]]
		}
	case f.wide:
		low, high := s.columns(f)[f.value], s.columns(f)[f.value+1]
		for i, cell := range s.cells {
			t.sum[cell] += int64(uint64(low[s.hits[i]]) | uint64(high[s.hits[i]])<<32)
		}
	case f.form != times:
		values := s.columns(f)[f.value]
		for i, cell := range s.cells {
			t.sum[cell] += int64(values[s.hits[i]])
		}
	default:
		for i, value := range t.keep(f, s) {
			t.sum[s.cells[i]] += int64(value)
		}
		t.cells = append(t.cells, s.cells...)
	}
}

// merge adds what another worker has counted.
func (t *tally) merge(o *tally) {
	add := func(a, b []int64) {
		for i := range b {
			a[i] += b[i]
		}
	}
	add(t.records, o.records)
	add(t.part, o.part)
	add(t.sum, o.sum)
	for i, value := range o.largest {
		t.largest[i] = max(t.largest[i], value)
	}
	t.others = append(t.others, o)
	for i := range o.persons {
		t.persons[i].join(&o.persons[i])
	}
}

// merged is what all workers have counted.
func merged(all []*tally) *tally {
	for _, other := range all[1:] {
		all[0].merge(other)
	}
	return all[0]
}

// numbers are lists that are used again, as making large ones takes long.
var numbers sync.Pool

// lent is an empty list with room for so many.
func lent(room int) []uint32 {
	if list, is := numbers.Get().(*[]uint32); is && cap(*list) >= room {
		return (*list)[:0]
	}
	return make([]uint32, 0, room)
}

// giveBack gives the lists of a tally back.
func (t *tally) giveBack() {
	for _, o := range append(t.others, t) {
		if o.values != nil {
			numbers.Put(&o.values)
		}
	}
}

// total is what the whole comes to.
func (n *counting) total() {
	if n.same != nil {
		return
	}
	n.sum = merged(n.whole)
	n.all = n.sum.result(n.f, 0)[0]
	n.sum.giveBack()
}

// series is what was counted, once all totals are there.
func (n *counting) series() Series {
	whole := n
	if n.same != nil {
		whole = n.same
	}
	out := Series{Figure: n.f.Key, Keys: [][]string{}, Total: whole.all}
	for _, d := range n.dims {
		out.Keys = append(out.Keys, d.keys)
	}
	var cells *tally
	if len(n.dims) > 0 {
		cells = merged(n.cells)
		out.Cells = cells.result(n.f, len(n.dims))
		cells.giveBack()
	}
	if n.f.Few {
		n.protect(&out, whole.sum, cells)
	}
	return out
}

// result is what a figure comes to in each cell.
func (t *tally) result(f *Figure, sides int) []Value {
	out := make([]Value, len(t.records))
	if f.form == times {
		t.ranked(out, sides)
	}
	for i, n := range t.records {
		v := &out[i]
		v.Records = n
		if n == 0 && f.form != counts && f.form != sums {
			continue // of nothing nothing is known, but that there is none
		}
		switch f.form {
		case counts:
			v.Number = number(float64(n))
		case shares:
			v.Part = t.part[i]
			v.Number = number(float64(t.part[i]) / float64(n))
		case sums:
			v.Number = number(float64(t.sum[i]))
		case means:
			v.Number = number(float64(t.sum[i]) / float64(n))
		case oldest:
			v.Number = number(float64(t.largest[i]))
		case times:
			v.Mean = number(float64(t.sum[i]) / float64(n))
		}
	}
	return out
}

func number(x float64) *float64 { return &x }

// ranked works out the percentiles of each cell.
func (t *tally) ranked(out []Value, sides int) {
	lists := [][]uint32{t.joined()}
	if len(t.records) > 1 {
		lists = t.lists()
	}
	p := []float64{0.5, 0.8, 0.95}
	if sides == 2 { // a table of two sides shows no more
		p = p[:2]
	}
	var cells sync.WaitGroup
	next := make(chan int, len(lists))
	for i := range lists {
		if len(lists[i]) > 0 {
			next <- i
		}
	}
	close(next)
	for range min(atOnce(), len(lists)) {
		cells.Go(func() {
			for i := range next {
				at := percentiles(lists[i], p...)
				out[i].Number, out[i].P80 = &at[0], &at[1]
				if len(p) > 2 {
					out[i].P95 = &at[2]
				}
			}
		})
	}
	cells.Wait()
}

// joined are the values of all workers.
func (t *tally) joined() []uint32 {
	all := t.values
	for _, o := range t.others {
		all = append(all, o.values...)
	}
	return all
}

// lists puts the values of each cell beside each other.
func (t *tally) lists() [][]uint32 {
	lists, at := make([][]uint32, len(t.records)), make([]int32, len(t.records))
	var sum int32
	for i, n := range t.records {
		at[i] = sum
		sum += int32(n)
	}
	all := make([]uint32, sum)
	for i, n := range t.records {
		lists[i] = all[at[i] : int(at[i])+int(n)]
	}
	for _, o := range append([]*tally{t}, t.others...) {
		for i, value := range o.values {
			cell := o.cells[i]
			all[at[cell]] = value
			at[cell]++
		}
	}
	return lists
}
