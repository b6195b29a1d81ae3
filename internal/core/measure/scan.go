package measure

import (
	"slices"
	"sync"
)

// scratch is where one worker keeps what it knows of the chunk at hand.
type scratch struct {
	worker  int // its number
	a       *asking
	c       *chunk
	passing map[Subject][]bool
	made    map[Subject]bool
	hits    []int32  // places of what is counted
	dates   []uint32 // of the hits; of how things stand the number of the end
	cells   []int32
	groups  []int32
	found   sought   // what the hits are of
	ends    []uint32 // at which it was looked how things stand
}

func newScratch() *scratch {
	return &scratch{passing: map[Subject][]bool{}, made: map[Subject]bool{}}
}

// scratches are kept, as they hold much.
var scratches = sync.Pool{New: func() any { return newScratch() }}

// of turns to a chunk.
func (s *scratch) of(a *asking, c *chunk) {
	s.a, s.c, s.found = a, c, sought{}
	clear(s.made)
}

// pass tells which requests of the chunk are let through for a subject; nil for all.
func (s *scratch) pass(subject Subject) []bool {
	a, c := s.a, s.c
	tables := a.pass
	var sight []bool
	if subject != OfTasks { // of those somebody may see tasks without seeing the request
		sight = a.inWhat
	}
	switch subject { // where each says it itself
	case OfTasks:
		tables[passTeam], tables[passTask] = nil, nil
	case OfStanding:
		tables[passTeam] = nil
	}
	any := sight != nil
	for _, t := range tables {
		any = any || t != nil
	}
	if !any {
		return nil
	}
	into := s.passing[subject]
	if s.made[subject] {
		return into
	}
	if into == nil {
		into = make([]bool, chunkSize)
	}
	into = into[:len(c.number)]
	for i := range into {
		into[i] = true
	}
	narrow := func(ok []bool, codes []uint32) {
		if ok == nil {
			return
		}
		for i, code := range codes {
			into[i] = into[i] && ok[code]
		}
	}
	narrow(sight, c.c32[cWhat])
	for place, column := range [...]int{passWhat: cWhat, passWho: cWho, passHow: cHow, passTeam: cWork, passTask: cWork} {
		narrow(tables[place], c.c32[column])
	}
	if ok := tables[passOutcome]; ok != nil {
		for i, traits := range c.traits {
			into[i] = into[i] && ok[traits>>outcomeAt]
		}
	}
	s.passing[subject], s.made[subject] = into, true
	return into
}

// dateColumn is that of the date of a figure of requests.
func dateColumn(d Date) int {
	switch d {
	case Delivered:
		return cDelivered
	case Closed:
		return cClosed
	case DueOn:
		return cDue
	}
	return cSent
}

// countOnly counts the requests or tasks of a figure without keeping which they are: how many
// there are, and how many of them have the traits of its part.
func (s *scratch) countOnly(f *Figure) (records, part int64) {
	a, c := s.a, s.c
	if c.first >= a.until || c.last < a.from {
		return 0, 0
	}
	from, span := a.from, a.until-a.from
	pass := s.pass(f.Subject)
	if f.Subject == OfRequests {
		dates := c.c32[dateColumn(f.Date)]
		for i, traits := range c.traits[:len(dates)] {
			counted := bit(dates[i]-from < span) & bit(traits&f.whole == f.whole)
			if pass != nil {
				counted &= bit(pass[i])
			}
			records += int64(counted)
			part += int64(counted & bit(traits&f.part == f.part))
		}
		return records, part
	}
	dates, whole, of := c.task[tEnded], uint8(f.whole), uint8(f.part)
	for j, traits := range c.taskTraits[:len(dates)] {
		counted := bit(dates[j]-from < span) & bit(traits&whole == whole)
		if pass != nil {
			counted &= bit(pass[c.taskRow[j]])
		}
		records += int64(counted)
		part += int64(counted & bit(traits&of == of))
	}
	return records, part
}

// countable reports whether a figure needs only be counted.
func (a *asking) countable(f *Figure) bool {
	if f.form != counts && f.form != shares || f.late || len(a.often) > 0 {
		return false
	}
	return f.Subject == OfRequests || f.Subject == OfTasks && a.okTeam == nil && a.okJob == nil && a.inWhat == nil
}

// sought is what tells the hits of one figure from those of another.
type sought struct {
	subject Subject
	date    Date
	whole   uint32
	late    bool
	ends    int
}

func (f *Figure) sought(at []uint32) sought {
	return sought{f.Subject, f.Date, f.whole, f.late, len(at)}
}

// find finds what a figure counts in the chunk, unless that is what was found last.
func (s *scratch) find(f *Figure, at []uint32) {
	sought := f.sought(at)
	if s.found == sought {
		return
	}
	s.found = sought
	s.hits, s.dates, s.ends = s.hits[:0], s.dates[:0], at
	a, c := s.a, s.c
	if c.first >= a.until || f.Subject != OfStanding && c.last < a.from {
		return
	}
	pass := s.pass(f.Subject)
	switch f.Subject {
	case OfRequests:
		s.requests(f, pass)
	case OfTasks:
		s.tasks(f, pass)
	case OfRungs:
		s.rungs(pass)
	case OfRatings:
		s.ratings(pass)
	case OfStanding:
		s.standing(f, pass, at)
		return
	}
	for _, often := range a.often {
		n := 0
		for i, date := range s.dates {
			if often.ok[often.at(date)] {
				s.hits[n], s.dates[n] = s.hits[i], date
				n++
			}
		}
		s.hits, s.dates = s.hits[:n], s.dates[:n]
	}
}

// requests finds requests with all traits that a figure counts.
func (s *scratch) requests(f *Figure, pass []bool) {
	c, from, span := s.c, s.a.from, s.a.until-s.a.from
	traits := c.traits
	for i, date := range c.c32[dateColumn(f.Date)] {
		if date-from >= span || pass != nil && !pass[i] {
			continue
		}
		if traits[i]&f.whole == f.whole || f.late && traits[i]&isOpen != 0 && s.lateNow(i) {
			s.hits, s.dates = append(s.hits, int32(i)), append(s.dates, date)
		}
	}
}

// lateNow reports whether a request that is under way is late now.
func (s *scratch) lateNow(i int) bool {
	last := s.c.spellAt[i+1]
	if last == s.c.spellAt[i] {
		return false
	}
	late := s.c.spell[sLate][last-1]
	return late != 0 && int64(late) <= s.a.c.Now.Unix()
}

// tasks finds tasks with all traits that a figure counts.
func (s *scratch) tasks(f *Figure, pass []bool) {
	a, c, whole := s.a, s.c, uint8(f.whole)
	from, span := a.from, a.until-a.from
	dates := c.task[tEnded]
	if pass == nil && a.okTeam == nil && a.okJob == nil && a.inWhat == nil { // without a branch that could be guessed wrong
		s.hits, s.dates = slices.Grow(s.hits, len(dates))[:len(dates)], slices.Grow(s.dates, len(dates))[:len(dates)]
		n := 0
		for j, traits := range c.taskTraits[:len(dates)] {
			s.hits[n], s.dates[n] = int32(j), dates[j]
			n += bit(dates[j]-from < span) & bit(traits&whole == whole)
		}
		s.hits, s.dates = s.hits[:n], s.dates[:n]
		return
	}
	for j, date := range dates {
		if date-from >= span || c.taskTraits[j]&whole != whole || pass != nil && !pass[c.taskRow[j]] {
			continue
		}
		if a.okTeam != nil && !a.okTeam[c.taskTeam[j]] || a.okJob != nil && !a.okJob[c.task[tJob][j]] {
			continue
		}
		if a.inWhat != nil && !a.inWhat[c.c32[cWhat][c.taskRow[j]]] && !a.inTeam[c.taskTeam[j]] {
			continue
		}
		s.hits, s.dates = append(s.hits, int32(j)), append(s.dates, date)
	}
}

// bit is 1 where something is so.
func bit(is bool) (one int) {
	if is {
		one = 1
	}
	return one
}

// rungs finds decisions.
func (s *scratch) rungs(pass []bool) {
	rows, from, span := s.c.rungRow, s.a.from, s.a.until-s.a.from
	for j, date := range s.c.rung[gEnded] {
		if date-from < span && (pass == nil || pass[rows[j]]) && (s.a.okRung == nil || s.a.okRung[s.c.rung[gRung][j]]) {
			s.hits, s.dates = append(s.hits, int32(j)), append(s.dates, date)
		}
	}
}

// ratings finds ratings by when their request was closed.
func (s *scratch) ratings(pass []bool) {
	from, span, closed := s.a.from, s.a.until-s.a.from, s.c.c32[cClosed]
	for j, row := range s.c.ratingRow {
		if date := closed[row]; date-from < span && (pass == nil || pass[row]) {
			s.hits, s.dates = append(s.hits, int32(j)), append(s.dates, date)
		}
	}
}

// standing finds the spells that last at some instants.
func (s *scratch) standing(f *Figure, pass []bool, at []uint32) {
	c := s.c
	switch {
	case len(at) == 0:
	case c.last < at[0]: // only what is open still lasts
		for _, i := range c.open {
			if pass == nil || pass[i] {
				s.spells(f, int(i), at)
			}
		}
	default:
		closed, before := c.c32[cClosed], at[len(at)-1]
		for i, sent := range c.c32[cSent] {
			if (pass == nil || pass[i]) && sent < before && (closed[i] == 0 || closed[i] >= at[0]) {
				s.spells(f, i, at)
			}
		}
	}
}

// spells finds those of a request that last at some instants.
func (s *scratch) spells(f *Figure, i int, at []uint32) {
	a, c := s.a, s.c
	froms, lates := c.spell[sFrom], c.spell[sLate]
	end := 0
	for j, last := c.spellAt[i], c.spellAt[i+1]; j < last; j++ {
		until, lasts := uint32(0), j+1 == last
		if !lasts {
			until = froms[j+1]
		}
		for end < len(at) && at[end] <= froms[j] {
			end++
		}
		status := c.spellStatus[j] &^ spellPaused
		ok := !over[status] && (a.okStat == nil || a.okStat[status]) && (a.okSet == nil || a.okSet[c.spellTeams[j]])
		for ; end < len(at) && (lasts || at[end] <= until); end++ {
			if ok && (!f.late || lates[j] != 0 && lates[j] < at[end]) {
				s.hits, s.dates = append(s.hits, int32(j)), append(s.dates, uint32(end))
			}
		}
	}
}

// atEnd is the instant of an end.
func (s *scratch) atEnd(end uint32) uint32 { return s.ends[end] }

// rowOf is the place of the request of a hit.
func (s *scratch) rowOf(f *Figure, hit int32) int {
	switch f.Subject {
	case OfTasks:
		return int(s.c.taskRow[hit])
	case OfRungs:
		return int(s.c.rungRow[hit])
	case OfRatings:
		return int(s.c.ratingRow[hit])
	case OfStanding:
		return s.c.rowOfSpell(uint32(hit))
	}
	return int(hit)
}

// rowOfSpell is the place of the request of a spell.
func (c *chunk) rowOfSpell(j uint32) int {
	low, high := 0, len(c.number)
	for low+1 < high {
		if middle := (low + high) / 2; c.spellAt[middle] <= j {
			low = middle
		} else {
			high = middle
		}
	}
	return low
}
