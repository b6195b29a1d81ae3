package measure

import (
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"
)

// Question asks for figures of all that it lets through, told apart by at most two sides.
type Question struct {
	Figures []string
	Period  Period
	Only    map[Side][]string // values that count; of each side one at least
	By      []Side
}

// Circumstances are what a question is answered by, beside the facts.
type Circumstances struct {
	Now   time.Time
	Zone  *time.Location
	Area  func(service string) string
	Sight Sight
	Saves func(offering, task string) time.Duration // what people would need for a task that a system did; nil for nothing
}

// Sight is what somebody may measure.
type Sight struct {
	All      bool
	Services map[string]bool // all of their requests, by key
	Teams    map[string]bool // all of their tasks, by key
}

// Value is what a figure comes to.
type Value struct {
	Records int64    `json:"records" doc:"How many it counts"`
	Part    int64    `json:"part" doc:"Of a share: how many of them are in the part"`
	Number  *float64 `json:"number,omitempty" doc:"In its unit: of times the middle one; left out when there is nothing to count, or too little to show"`
	Few     bool     `json:"few,omitempty" doc:"It tells of one to four persons, or would tell of them by what is left: it is not shown"`
	Mean    *float64 `json:"mean,omitempty" doc:"Of times"`
	P80     *float64 `json:"p80,omitempty" doc:"Four of five are at most so long"`
	P95     *float64 `json:"p95,omitempty" doc:"Nineteen of twenty are at most so long"`
}

// Series is a figure, told apart by sides.
type Series struct {
	Figure string
	Keys   [][]string // of each side; of time all that lie in the period
	Cells  []Value    // of the first key of the first side all of the second, and so on
	Total  Value
}

// asking is a question, made ready to go through the columns.
type asking struct {
	*View
	q      Question
	c      Circumstances
	from   uint32
	until  uint32
	asOf   uint32   // for how it stands
	at     []uint32 // the ends at which it is looked how things stand
	okWhat []bool
	okWho  []bool
	okHow  []bool
	okWork []bool // for requests
	okJob  []bool // for tasks
	okTeam []bool
	okSet  []bool // of teams, for how it stands
	okEnd  [8]bool
	okStat [16]bool
	onDay  []*slots // recurring sides that are narrowed
	onKeys [][]bool
	inWhat []bool // as far as somebody may see requests
	inTeam []bool // and tasks
	isWork []bool // by job
	saved  []int64
}

// Ask answers a question. It is an error when it names what there is not.
func (v *View) Ask(q Question, c Circumstances) ([]Series, error) {
	a, err := v.asking(q, c)
	if err != nil {
		return nil, err
	}
	out := make([]Series, len(q.Figures))
	for i, key := range q.Figures {
		f, known := FigureOf(key)
		if !known {
			return nil, fmt.Errorf("there is no figure %q", key)
		}
		for _, side := range q.By {
			if !f.Takes(side) {
				return nil, fmt.Errorf("%q cannot be told apart by %s", f.Name, side.Name())
			}
		}
		out[i] = a.series(f)
	}
	return out, nil
}

// mostCells is how many cells one answer has at most.
const mostCells = 250_000

func (v *View) asking(q Question, c Circumstances) (*asking, error) {
	if len(q.By) > 2 {
		return nil, fmt.Errorf("things can be told apart by two sides at most")
	}
	from, until := q.Period.instants(c.Zone)
	a := &asking{View: v, q: q, c: c, from: small(from), until: small(until), asOf: min(small(until), small(c.Now.Unix()+1))}
	d := &v.dicts
	a.inWhat = table(d.what.values, func(w what) bool { return c.Sight.All || c.Sight.Services[w.Service] })
	a.inTeam = table(d.team.values, func(t string) bool { return c.Sight.All || c.Sight.Teams[t] })
	a.isWork = table(d.job.values, func(j job) bool { return j.Kind == "manual" || j.Kind == "automatic" })
	a.okEnd, a.okStat = [8]bool{}, [16]bool{}
	for i := range a.okEnd {
		a.okEnd[i] = true
	}
	for i := range a.okStat {
		a.okStat[i] = true
	}
	for _, side := range ByMonth.All() {
		keys, narrowed := q.Only[side]
		if !narrowed {
			continue
		}
		if len(keys) == 0 || side.Timely() {
			return nil, fmt.Errorf("nothing is left by %s: choose what counts", side.Name())
		}
		a.narrow(side, func(key string) bool { return slices.Contains(keys, key) })
	}
	for side := range q.Only {
		if side.Name() == "" {
			return nil, fmt.Errorf("there is no side %q", side)
		}
	}
	if c.Saves != nil {
		a.saved = make([]int64, len(d.job.values))
		for i := range a.saved {
			a.saved[i] = -1
		}
	}
	return a, nil
}

// table tells of each value of a dict whether something is true of it.
func table[T any](values []T, is func(T) bool) []bool {
	all := make([]bool, len(values))
	for i, value := range values {
		all[i] = is(value)
	}
	return all
}

// both is true where two tables are; of one that is nil everywhere.
func both(a, b []bool) []bool {
	if a == nil {
		return b
	}
	for i := range a {
		a[i] = a[i] && b[i]
	}
	return a
}

// narrow lets only those through that have one of some values of a side.
func (a *asking) narrow(side Side, has func(string) bool) {
	d := &a.dicts
	if of := a.ofWhat(side); of != nil {
		a.okWhat = both(a.okWhat, table(d.what.values, func(w what) bool { return has(of(w)) }))
		return
	}
	if of := ofWho(side); of != nil {
		a.okWho = both(a.okWho, table(d.who.values, func(w who) bool { return has(of(w)) }))
		return
	}
	if of := ofHow(side); of != nil {
		a.okHow = both(a.okHow, table(d.how.values, func(h how) bool { return has(of(h)) }))
		return
	}
	switch {
	case side == ByOutcome:
		for i := range a.okEnd {
			a.okEnd[i] = has(outcomeKey(i))
		}
	case side == ByStatus:
		for i := range a.okStat {
			a.okStat[i] = has(statusKey(i))
		}
	case side.Recurring():
		s := slotsOf(side, a.q.Period, a.c.Zone)
		a.onDay, a.onKeys = append(a.onDay, s), append(a.onKeys, table(s.keys, has))
	case side == ByTeam:
		a.okTeam = both(a.okTeam, table(d.team.values, has))
		a.okSet = both(a.okSet, table(d.set.values, func(set string) bool { return slices.ContainsFunc(teamsOf(set), has) }))
		team := table(d.team.values, has)
		a.okWork = both(a.okWork, table(d.done, func(all []taskOfTeam) bool {
			return slices.ContainsFunc(all, func(t taskOfTeam) bool { return team[t.Team] })
		}))
	default:
		of := ofJob(side)
		job := table(d.job.values, func(j job) bool { return has(of(j)) })
		a.okJob = both(a.okJob, slices.Clone(job))
		a.okWork = both(a.okWork, table(d.done, func(all []taskOfTeam) bool {
			return slices.ContainsFunc(all, func(t taskOfTeam) bool { return job[t.Job] })
		}))
	}
}

// passing tells which rows of a chunk are let through, as far as their requests go.
func (a *asking) passing(c *chunk, subject Subject, into []bool) []bool {
	into = into[:len(c.number)]
	var what, work []bool
	what = a.inWhat
	if subject == OfTasks {
		what = nil // of those somebody may see tasks without seeing the request
	} else if subject != OfStanding {
		work = a.okWork
	} else if a.okJob != nil {
		work = a.okWork
	}
	for i := range into {
		ok := what == nil || what[c.c32[cWhat][i]]
		ok = ok && (a.okWhat == nil || a.okWhat[c.c32[cWhat][i]])
		ok = ok && (a.okWho == nil || a.okWho[c.c32[cWho][i]])
		ok = ok && (a.okHow == nil || a.okHow[c.c32[cHow][i]])
		ok = ok && (work == nil || work[c.c32[cWork][i]])
		into[i] = ok && a.okEnd[c.c8[cOutcome][i]]
	}
	return into
}

// late reports whether what a row stands as was late at the instant that is looked at.
func (r *row) late() bool {
	late := r.spell[sLate][r.j]
	return late != 0 && late < r.q.asOf
}

// overdueNow reports whether a request is under way and late now.
func (r *row) overdueNow() bool {
	if r.c32[cClosed][r.i] != 0 {
		return false
	}
	last, _ := slices.BinarySearch(r.spellRow, uint16(r.i)+1)
	if last == 0 || int(r.spellRow[last-1]) != r.i {
		return false
	}
	late := r.spell[sLate][last-1]
	return late != 0 && int64(late) <= r.q.c.Now.Unix()
}

// isRated reports whether somebody has rated a request.
func (r *row) isRated() bool {
	_, found := slices.BinarySearch(r.ratingRow, uint16(r.i))
	return found
}

// saves is what a task saves when a system does it, in seconds.
func (a *asking) saves(code uint32) int64 {
	if a.c.Saves == nil {
		return 0
	}
	if saved := atomic.LoadInt64(&a.saved[code]); saved >= 0 {
		return saved
	}
	j := a.dicts.job.values[code]
	saved := int64(a.c.Saves(j.Offering, j.Of) / time.Second)
	atomic.StoreInt64(&a.saved[code], saved)
	return saved
}

// each goes through all that a figure counts, in parallel: visit is called for the rows of a
// chunk by one worker at a time, with the date of each.
func (a *asking) each(f *Figure, workers int, visit func(worker int, r *row, date uint32)) {
	var next atomic.Int64
	var all sync.WaitGroup
	for worker := range workers {
		all.Go(func() {
			buffer := make([]bool, chunkSize)
			for {
				at := int(next.Add(1)) - 1
				if at >= len(a.chunks) {
					return
				}
				c := a.chunks[at].chunk
				if c.first >= a.until || !c.open && c.last < a.from && f.Subject != OfStanding {
					continue
				}
				a.visit(f, c, a.passing(c, f.Subject, buffer), func(r *row, date uint32) { visit(worker, r, date) })
			}
		})
	}
	all.Wait()
}

func workers() int { return max(1, min(8, runtime.GOMAXPROCS(0))) }

// visit goes through what a figure counts in a chunk, of the rows that are let through.
func (a *asking) visit(f *Figure, c *chunk, ok []bool, visit func(r *row, date uint32)) {
	r := row{chunk: c, q: a}
	in := func(date uint32) bool {
		if date < a.from || date >= a.until || date == 0 {
			return false
		}
		for i, s := range a.onDay {
			if !a.onKeys[i][s.at(date)] {
				return false
			}
		}
		return f.where == nil || f.where(&r)
	}
	switch f.Subject {
	case OfRequests:
		dates := c.c32[map[Date]int{Sent: cSent, Delivered: cDelivered, Closed: cClosed, DueOn: cDue}[f.Date]]
		for i, date := range dates {
			if r.i = i; ok[i] && in(date) {
				visit(&r, date)
			}
		}
	case OfTasks:
		for j, date := range c.task[tEnded] {
			r.i, r.j = int(c.taskRow[j]), j
			if ok[r.i] && (a.inWhat[c.c32[cWhat][r.i]] || a.inTeam[c.taskTeam[j]]) && (a.okTeam == nil || a.okTeam[c.taskTeam[j]]) &&
				(a.okJob == nil || a.okJob[c.task[tJob][j]]) && in(date) {
				visit(&r, date)
			}
		}
	case OfRungs:
		for j, date := range c.rung[gEnded] {
			r.i, r.j = int(c.rungRow[j]), j
			if ok[r.i] && in(date) {
				visit(&r, date)
			}
		}
	case OfRatings:
		for j := range c.ratingRow {
			r.i, r.j = int(c.ratingRow[j]), j
			if date := c.c32[cClosed][r.i]; ok[r.i] && in(date) {
				visit(&r, date)
			}
		}
	case OfStanding:
		at := *a // of which the instant is another for each end
		r.q = &at
		for j, from := range c.spell[sFrom] {
			r.i, r.j = int(c.spellRow[j]), j
			if !a.stands(c, j) || !ok[r.i] {
				continue
			}
			until := c.spellUntil(j)
			for end, _ := slices.BinarySearch(a.at, from+1); end < len(a.at) && a.at[end] <= until; end++ {
				if at.asOf = a.at[end]; f.where == nil || f.where(&r) {
					visit(&r, uint32(end))
				}
			}
		}
	}
}

// stands reports whether a spell is one that is let through.
func (a *asking) stands(c *chunk, j int) bool {
	status := c.spellStatus[j] &^ spellPaused
	return !over[status] && a.okStat[status] && (a.okSet == nil || a.okSet[c.spellTeams[j]])
}

// spellUntil is when a spell ends; the end of all time while it lasts.
func (c *chunk) spellUntil(j int) uint32 {
	if j+1 < len(c.spellRow) && c.spellRow[j+1] == c.spellRow[j] {
		return c.spell[sFrom][j+1]
	}
	return math.MaxUint32
}
