package measure

import (
	"slices"
)

// dim tells things apart by one side: each row has a group, or several.
type dim struct {
	keys  []string
	slots *slots
	ends  bool                // the date of a row is the number of an end
	of    func(r *row) uint32 // the code of the row
	one   []int32             // by code; -1 for no group
	many  [][]int32           // by code, where a row has several
}

// dimOf makes a dim of the groups of codes.
func dimOf[T any](values []T, key func(T) string, of func(*row) uint32) *dim {
	d := &dim{of: of, one: make([]int32, len(values))}
	known := map[string]int32{}
	for i, value := range values {
		d.one[i] = d.group(known, key(value))
	}
	return d
}

// several makes one where each code has several groups.
func several[T any](values []T, keys func(T) []string, of func(*row) uint32) *dim {
	d := &dim{of: of, many: make([][]int32, len(values))}
	known := map[string]int32{}
	for i, value := range values {
		for _, key := range keys(value) {
			if g := d.group(known, key); !slices.Contains(d.many[i], g) {
				d.many[i] = append(d.many[i], g)
			}
		}
	}
	return d
}

func (d *dim) group(known map[string]int32, key string) int32 {
	g, is := known[key]
	if !is {
		g = int32(len(d.keys))
		known[key] = g
		d.keys = append(d.keys, key)
	}
	return g
}

// dim makes the dim of a side for a figure.
func (a *asking) dim(side Side, f *Figure) *dim {
	d := &a.dicts
	if of := a.ofWhat(side); of != nil {
		return dimOf(d.what.values, of, func(r *row) uint32 { return r.c32[cWhat][r.i] })
	}
	if of := ofWho(side); of != nil {
		return dimOf(d.who.values, of, func(r *row) uint32 { return r.c32[cWho][r.i] })
	}
	if of := ofHow(side); of != nil {
		return dimOf(d.how.values, of, func(r *row) uint32 { return r.c32[cHow][r.i] })
	}
	work := func(r *row) uint32 { return r.c32[cWork][r.i] }
	switch {
	case side.Timely() && f.Subject == OfStanding:
		ends, keys := a.ends(side)
		a.at = ends
		return &dim{keys: keys, ends: true}
	case side.Timely() || side.Recurring():
		s := slotsOf(side, a.q.Period, a.c.Zone)
		return &dim{keys: s.keys, slots: s}
	case side == ByOutcome:
		return dimOf(make([]struct{}, len(a.okEnd)), counting(outcomeKey), func(r *row) uint32 { return uint32(r.c8[cOutcome][r.i]) })
	case side == ByStatus:
		return dimOf(make([]struct{}, len(a.okStat)), counting(statusKey), func(r *row) uint32 { return uint32(r.spellStatus[r.j] &^ spellPaused) })
	case side == ByTeam && f.Subject == OfTasks:
		return dimOf(d.team.values, func(t string) string { return t }, func(r *row) uint32 { return uint32(r.taskTeam[r.j]) })
	case side == ByTeam && f.Subject == OfStanding:
		return several(d.set.values, teamsOf, func(r *row) uint32 { return uint32(r.spellTeams[r.j]) })
	case side == ByTeam:
		return several(d.done, func(all []taskOfTeam) []string {
			return mapped(all, func(t taskOfTeam) string { return d.team.values[t.Team] })
		}, work)
	case f.Subject == OfTasks:
		return dimOf(d.job.values, ofJob(side), func(r *row) uint32 { return r.task[tJob][r.j] })
	}
	of := ofJob(side)
	return several(d.done, func(all []taskOfTeam) []string {
		return mapped(all, func(t taskOfTeam) string { return of(d.job.values[t.Job]) })
	}, work)
}

// counting gives the keys of codes that follow each other, as they are asked for in turn.
func counting(key func(int) string) func(struct{}) string {
	i := -1
	return func(struct{}) string {
		i++
		return key(i)
	}
}

func mapped[T any](all []T, of func(T) string) []string {
	out := make([]string, 0, len(all))
	for _, x := range all {
		if key := of(x); key != "" {
			out = append(out, key)
		}
	}
	return out
}

// groups are those of a row.
func (d *dim) groups(r *row, date uint32, into []int32) []int32 {
	switch {
	case d.ends:
		return append(into, int32(date))
	case d.slots != nil:
		return append(into, d.slots.at(date))
	case d.many != nil:
		return append(into, d.many[d.of(r)]...)
	}
	return append(into, d.one[d.of(r)])
}

// tally is what one worker has counted of one figure.
type tally struct {
	records []int64
	part    []int64
	sum     []int64
	largest []int64
	values  []uint32
	cells   []uint32 // of the values
	persons []persons
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

// count adds a row to a cell.
func (t *tally) count(f *Figure, r *row, cell uint32) {
	t.records[cell]++
	switch f.form {
	case shares:
		if f.part(r) {
			t.part[cell]++
		}
	case sums, means:
		t.sum[cell] += f.value(r)
	case times:
		value := max(0, f.value(r))
		t.sum[cell] += value
		t.values, t.cells = append(t.values, small(value)), append(t.cells, cell)
	case oldest:
		t.largest[cell] = max(t.largest[cell], f.value(r))
	}
	if f.Few {
		t.persons[cell].add(r.person(f))
	}
}

// person is whom a row tells of.
func (r *row) person(f *Figure) uint32 {
	if f.Subject == OfRatings {
		return r.rating[rPerson][r.j]
	}
	return r.task[tPerson][r.j]
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
	t.values, t.cells = append(t.values, o.values...), append(t.cells, o.cells...)
	for i := range o.persons {
		t.persons[i].join(&o.persons[i])
	}
}

// series answers for one figure.
func (a *asking) series(f *Figure) Series {
	dims := make([]*dim, len(a.q.By))
	out, cells := Series{Figure: f.Key, Keys: [][]string{}}, 1
	for i, side := range a.q.By {
		dims[i] = a.dim(side, f)
		cells *= max(1, len(dims[i].keys))
		out.Keys = append(out.Keys, dims[i].keys)
	}
	if f.Subject == OfStanding && len(a.at) == 0 {
		a.at, _ = a.ends("")
	}
	n := workers()
	totals, tallies := make([]*tally, n), make([]*tally, n)
	for i := range tallies {
		totals[i] = newTally(f, 1)
		if len(dims) > 0 {
			tallies[i] = newTally(f, cells)
		}
	}
	manyAt := make([][3][]int32, n)
	a.each(f, n, func(worker int, r *row, date uint32) {
		if f.Subject != OfStanding || int(date) == len(a.at)-1 {
			totals[worker].count(f, r, 0)
		}
		switch len(dims) {
		case 0:
			return
		case 1:
			groups := dims[0].groups(r, date, manyAt[worker][0][:0])
			for _, g := range groups {
				tallies[worker].count(f, r, uint32(g))
			}
			manyAt[worker][0] = groups
			return
		}
		first, second := dims[0].groups(r, date, manyAt[worker][0][:0]), dims[1].groups(r, date, manyAt[worker][1][:0])
		for _, g := range first {
			for _, h := range second {
				tallies[worker].count(f, r, uint32(int(g)*len(dims[1].keys)+int(h)))
			}
		}
		manyAt[worker][0], manyAt[worker][1] = first, second
	})
	for i := 1; i < n; i++ {
		totals[0].merge(totals[i])
		if len(dims) > 0 {
			tallies[0].merge(tallies[i])
		}
	}
	out.Total = a.values(f, totals[0])[0]
	if len(dims) > 0 {
		out.Cells = a.values(f, tallies[0])
	}
	if f.Few {
		a.protect(f, &out, totals[0], tallies[0])
	}
	return out
}

// values are what a figure comes to in each cell.
func (a *asking) values(f *Figure, t *tally) []Value {
	out := make([]Value, len(t.records))
	var lists [][]uint32
	if f.form == times {
		lists = grouped(t)
	}
	for i, n := range t.records {
		v := &out[i]
		v.Records = n
		if n == 0 {
			switch f.form { // of nothing nothing is known, but that there is none
			case counts, sums:
				v.Number = number(0)
			}
			continue
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
			v.Number = number(percentile(lists[i], 0.5))
			v.P80 = number(percentile(lists[i], 0.8))
			v.P95 = number(percentile(lists[i], 0.95))
		}
	}
	return out
}

func number(x float64) *float64 { return &x }

// grouped puts the values of each cell beside each other.
func grouped(t *tally) [][]uint32 {
	lists, at := make([][]uint32, len(t.records)), make([]int64, len(t.records))
	all := make([]uint32, len(t.values))
	var sum int64
	for i, n := range t.records {
		at[i] = sum
		lists[i] = all[sum : sum+n]
		sum += n
	}
	for i, value := range t.values {
		cell := t.cells[i]
		all[at[cell]] = value
		at[cell]++
	}
	return lists
}

// ends are the instants at which it is looked how things stand: when the stretches of a side
// end that have begun, else when the period does; now at the latest. With their keys.
func (a *asking) ends(side Side) (ends []uint32, keys []string) {
	if a.from >= a.asOf {
		return nil, nil
	}
	if !side.Timely() {
		return []uint32{a.asOf}, nil
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
