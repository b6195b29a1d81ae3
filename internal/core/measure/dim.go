package measure

import "slices"

// dim tells things apart by one side: each row has a group, or several.
type dim struct {
	keys  []string
	slots *slots
	ends  bool // the date of a row is the number of an end
	of    func(s *scratch, f *Figure, hit int32) uint32
	one   []int32   // by code
	many  [][]int32 // by code, where a row has several
}

// dimOf makes a dim of the groups of codes.
func dimOf[T any](values []T, key func(T) string, of func(*scratch, *Figure, int32) uint32) *dim {
	d := &dim{of: of, one: make([]int32, len(values))}
	known := map[string]int32{}
	for i, value := range values {
		d.one[i] = d.group(known, key(value))
	}
	return d
}

// several makes one where each code has several groups.
func several[T any](values []T, keys func(T) []string, of func(*scratch, *Figure, int32) uint32) *dim {
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

// column reads the code of the request of a hit.
func column(column int) func(*scratch, *Figure, int32) uint32 {
	return func(s *scratch, f *Figure, hit int32) uint32 { return s.c.c32[column][s.rowOf(f, hit)] }
}

func itself(text string) string { return text }

// dim makes the dim of a side for a figure.
func (a *asking) dim(side Side, f *Figure, ends []string) *dim {
	d := &a.dicts
	if of := a.ofWhat(side); of != nil {
		return dimOf(d.what.values, of, column(cWhat))
	}
	if of := ofWho(side); of != nil {
		return dimOf(d.who.values, of, column(cWho))
	}
	if of := ofHow(side); of != nil {
		return dimOf(d.how.values, of, column(cHow))
	}
	switch {
	case side.Timely() && f.Subject == OfStanding:
		return &dim{keys: ends, ends: true}
	case side.Timely() || side.Recurring():
		s := slotsOf(side, a.q.Period, a.c.Zone)
		return &dim{keys: s.keys, slots: s}
	case side == ByOutcome:
		return dimOf(outcomes, itself, func(s *scratch, f *Figure, hit int32) uint32 { return s.c.traits[s.rowOf(f, hit)] >> outcomeAt })
	case side == ByStatus:
		return dimOf(statuses, itself, func(s *scratch, _ *Figure, hit int32) uint32 { return uint32(s.c.spellStatus[hit] &^ spellPaused) })
	case side == ByTeam && f.Subject == OfTasks:
		return dimOf(d.team.values, itself, func(s *scratch, _ *Figure, hit int32) uint32 { return uint32(s.c.taskTeam[hit]) })
	case side == ByTeam && f.Subject == OfStanding:
		return several(d.set.values, teamsOf, func(s *scratch, _ *Figure, hit int32) uint32 { return uint32(s.c.spellTeams[hit]) })
	case side == ByTeam:
		return several(d.done, func(all []taskOfTeam) []string {
			return mapped(all, func(t taskOfTeam) string { return d.team.values[t.Team] })
		}, column(cWork))
	case side == ByRung:
		return dimOf(d.rung.values, func(r rungOf) string { return r.Offering + "/" + r.Rung }, func(s *scratch, _ *Figure, hit int32) uint32 { return s.c.rung[gRung][hit] })
	case f.Subject == OfTasks:
		return dimOf(d.job.values, ofJob(side), func(s *scratch, _ *Figure, hit int32) uint32 { return s.c.task[tJob][hit] })
	}
	of := ofJob(side)
	return several(d.done, func(all []taskOfTeam) []string {
		return mapped(all, func(t taskOfTeam) string { return of(d.job.values[t.Job]) })
	}, column(cWork))
}

// mapped are the keys of some tasks, without those that have none.
func mapped(all []taskOfTeam, of func(taskOfTeam) string) []string {
	out := make([]string, 0, len(all))
	for _, t := range all {
		if key := of(t); key != "" {
			out = append(out, key)
		}
	}
	return out
}

// single puts the group of each hit beside it, where each has one.
func (d *dim) single(s *scratch, f *Figure, into []int32) []int32 {
	into = into[:0]
	switch {
	case d.ends:
		for _, end := range s.dates {
			into = append(into, int32(end))
		}
	case d.slots != nil:
		for _, date := range s.dates {
			into = append(into, d.slots.at(date))
		}
	default:
		for _, hit := range s.hits {
			into = append(into, d.one[d.of(s, f, hit)])
		}
	}
	return into
}

// groups are those of the hit at a place.
func (d *dim) groups(s *scratch, f *Figure, i int, into []int32) []int32 {
	switch {
	case d.ends:
		return append(into, int32(s.dates[i]))
	case d.slots != nil:
		return append(into, d.slots.at(s.dates[i]))
	case d.many != nil:
		return append(into, d.many[d.of(s, f, s.hits[i])]...)
	}
	return append(into, d.one[d.of(s, f, s.hits[i])])
}
