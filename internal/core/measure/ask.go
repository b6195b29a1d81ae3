package measure

import (
	"fmt"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"
)

// Question asks for figures of all that it lets through.
type Question struct {
	Wanted []Wanted
	Period Period
	Only   map[Side][]string // values that count; of each side one at least
}

// Wanted is a figure, told apart by at most two sides.
type Wanted struct {
	Figure string
	By     []Side
}

// Circumstances are what a question is answered by, beside the facts.
type Circumstances struct {
	Now    time.Time
	Zone   *time.Location
	Area   func(service string) string
	Sight  Sight
	Effort func(offering, task string) time.Duration // that is planned for a task; nil for none
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
	By     []Side
	Keys   [][]string // of each side; of time all that lie in the period
	Cells  []Value    // of the first key of the first side all of the second, and so on
	Total  Value
	Others int // values of the first side that were left out
}

// asking is a question, made ready to go through the columns.
type asking struct {
	*View
	q      Question
	c      Circumstances
	from   uint32
	until  uint32
	asOf   uint32    // for how things stand
	pass   [6][]bool // by the places below; nil for all
	okJob  []bool    // for tasks
	okTeam []bool
	okRung []bool
	okSet  []bool // of teams, for how things stand
	okStat []bool
	often  []recurring // sides that come again and again, as far as they are narrowed
	inWhat []bool      // as far as somebody may see requests; nil for all
	inTeam []bool      // and tasks
	saves  []int64     // by job, in seconds
}

// Places in pass.
const (
	passWhat = iota
	passWho
	passHow
	passTeam // by the work of a request
	passTask
	passOutcome
)

type recurring struct {
	*slots
	ok []bool
}

// Ask answers a question, in the order in which figures are wanted. It is an error when it
// names what there is not.
func (v *View) Ask(q Question, c Circumstances) ([]Series, error) {
	a, err := v.asking(q, c)
	if err != nil {
		return nil, err
	}
	counted := make([]*counting, len(q.Wanted))
	for i, w := range q.Wanted {
		if counted[i], err = a.counting(w); err != nil {
			return nil, err
		}
	}
	share(counted)
	a.through(together(counted))
	out := make([]Series, len(counted))
	tell(counted)
	for i, n := range counted {
		out[i] = n.series()
	}
	return out, nil
}

// together puts those that look for the same behind the first of them, so that it is found once.
func together(all []*counting) []*counting {
	first := map[sought]int{}
	for i, n := range all {
		if _, known := first[n.f.sought(n.at)]; !known {
			first[n.f.sought(n.at)] = i
		}
	}
	return slices.SortedStableFunc(slices.Values(all), func(a, b *counting) int {
		return first[a.f.sought(a.at)] - first[b.f.sought(b.at)]
	})
}

func (v *View) asking(q Question, c Circumstances) (*asking, error) {
	from, until := q.Period.instants(c.Zone)
	a := &asking{View: v, q: q, c: c, from: small(from), until: small(until), asOf: min(small(until), small(c.Now.Unix()+1))}
	d := &v.dicts
	if !c.Sight.All {
		a.inWhat = table(d.what.values, func(w what) bool { return c.Sight.Services[w.Service] })
		a.inTeam = table(d.team.values, func(t string) bool { return c.Sight.Teams[t] })
	}
	for side, keys := range q.Only {
		if side.Name() == "" {
			return nil, fmt.Errorf("there is no side %q", side)
		}
		if len(keys) == 0 || side.Timely() {
			return nil, fmt.Errorf("nothing is left by %s: choose what counts", side.Name())
		}
		a.narrow(side, func(key string) bool { return slices.Contains(keys, key) })
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

// both is true where two tables are; a table that is nil is true everywhere.
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
	let := func(place int, ok []bool) { a.pass[place] = both(a.pass[place], ok) }
	byWork := func(place int, is func(taskOfTeam) bool) {
		let(place, table(d.done, func(all []taskOfTeam) bool { return slices.ContainsFunc(all, is) }))
	}
	switch {
	case a.ofWhat(side) != nil:
		of := a.ofWhat(side)
		let(passWhat, table(d.what.values, func(w what) bool { return has(of(w)) }))
	case ofWho(side) != nil:
		of := ofWho(side)
		let(passWho, table(d.who.values, func(w who) bool { return has(of(w)) }))
	case ofHow(side) != nil:
		of := ofHow(side)
		let(passHow, table(d.how.values, func(h how) bool { return has(of(h)) }))
	case side == ByOutcome:
		let(passOutcome, table(outcomes, has))
	case side == ByStatus:
		a.okStat = table(statuses, has)
	case side.Recurring():
		s := slotsOf(side, a.q.Period, a.c.Zone)
		a.often = append(a.often, recurring{s, table(s.keys, has)})
	case side == ByTeam:
		team := table(d.team.values, has)
		a.okTeam = team
		a.okSet = table(d.set.values, func(set string) bool { return slices.ContainsFunc(teamsOf(set), has) })
		byWork(passTeam, func(t taskOfTeam) bool { return team[t.Team] })
	case side == ByRung:
		a.okRung = table(d.rung.values, func(r rungOf) bool { return has(r.Offering + "/" + r.Rung) })
	default:
		of := ofJob(side)
		job := table(d.job.values, func(j job) bool { return has(of(j)) })
		a.okJob = both(a.okJob, slices.Clone(job))
		byWork(passTask, func(t taskOfTeam) bool { return job[t.Job] })
	}
}

// through counts in all chunks.
func (a *asking) through(all []*counting) {
	a.chunksAtOnce(func(s *scratch, _ placed) {
		for _, n := range all {
			n.chunk(s, s.worker)
		}
	})
}

// chunksAtOnce goes through all chunks once, in parallel.
func (a *asking) chunksAtOnce(visit func(*scratch, placed)) {
	var next atomic.Int64
	var workers sync.WaitGroup
	for worker := range atOnce() {
		workers.Go(func() {
			s := scratches.Get().(*scratch)
			defer scratches.Put(s)
			s.worker = worker
			for at := int(next.Add(1)) - 1; at < len(a.chunks); at = int(next.Add(1)) - 1 {
				s.of(a, a.chunks[at].chunk)
				visit(s, a.chunks[at])
			}
		})
	}
	workers.Wait()
}

// atOnce is how many go through the columns at once.
func atOnce() int { return max(1, min(8, runtime.GOMAXPROCS(0))) }
