package measure

import "sync"

// tally is what one worker has counted of one figure, by cell.
type tally struct {
	records []int64
	part    []int64
	sum     []int64
	largest []int64
	values  []uint32
	like    *tally  // whose values are the same, in the same order; nil for its own
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
	persons := s.c.persons(f)
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

// kept are the values of a tally.
func (t *tally) kept() []uint32 {
	if t.like != nil {
		return t.like.values
	}
	return t.values
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
		kept := t.kept()
		if t.like == nil {
			kept = t.keep(f, s)
		}
		for i, value := range kept[len(kept)-len(s.hits):] {
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
	p := []float64{0.5, 0.8, 0.95}
	if sides == 2 { // a table of two sides shows no more
		p = p[:2]
	}
	lists, all := t.lists()
	var cells sync.WaitGroup
	next := make(chan int, len(lists))
	for i := range lists {
		if t.records[i] > 0 {
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
	numbers.back(all)
}

// lists are the values of each cell, where there is one cell those of each worker; and the
// one list that they were put into, if any.
func (t *tally) lists() (lists [][][]uint32, all []uint32) {
	of := append([]*tally{t}, t.others...)
	if len(t.records) == 1 {
		var each [][]uint32
		for _, o := range of {
			each = append(each, o.kept())
		}
		return [][][]uint32{each}, nil
	}
	at := make([]int32, len(t.records))
	lists = make([][][]uint32, len(t.records))
	var sum int32
	for i, n := range t.records {
		at[i] = sum
		sum += int32(n)
	}
	all = numbers.lent(int(sum))[:sum]
	for i, n := range t.records {
		lists[i] = [][]uint32{all[at[i] : int(at[i])+int(n)]}
	}
	for _, o := range of {
		values := o.kept()
		for i, cell := range o.cells {
			all[at[cell]] = values[i]
			at[cell]++
		}
	}
	return lists, all
}
