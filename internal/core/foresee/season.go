package foresee

import (
	"context"
	"fmt"
	"runtime"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
)

// Season is what is simulated.
type Season struct {
	From, Until time.Time // what is counted: ends within it
	Forms       []Form    // also of some weeks before it, so that the teams begin with what they have
	Teams       []Team
	Factors     map[string]float64 // of an offering, how many times as much is asked for; 1 where nothing is said
	Exact       bool               // the forms come as they were sent; else their number and their weeks are drawn
	Runs        int
	Own         map[string]bool // offerings whose promises are told one by one; those of others together
	Absences    []people.Absence
}

// Team is a team as it works.
type Team struct {
	Key, Name string
	Work      *calendar.Calendar
	Members   []string // IDs of people
}

// TeamsOf are the teams of a company, with so many people more or less as levers say. Who is
// taken away is the last member; who is added works in that team alone.
func TeamsOf(company *people.Directory, otherwise *calendar.Calendar, levers Levers) []Team {
	var all []Team
	for _, t := range company.Teams() {
		team := Team{Key: t.Key, Name: t.Name, Work: company.TeamHours(t.Key, otherwise), Members: slices.Clone(company.Members(t.Key))}
		for _, lever := range levers.People {
			if lever.Team != t.Key {
				continue
			}
			for n := range lever.More {
				team.Members = append(team.Members, "more "+t.Key+string(rune('a'+n)))
			}
			team.Members = team.Members[:max(0, len(team.Members)+min(0, lever.More))]
		}
		all = append(all, team)
	}
	return all
}

// beyond is how long after the season the runs go on, so that what was asked for in it ends.
const beyond = 60 * 24 * time.Hour

// Simulate runs a season so many times. After each run it tells that one more is done.
func (s Season) Simulate(ctx context.Context, done func()) (Outlook, error) {
	w := s.lay()
	runs := make([]tally, s.Runs)
	var wait sync.WaitGroup
	var broken atomic.Pointer[error]
	next := make(chan int)
	for range min(s.Runs, max(1, runtime.GOMAXPROCS(0)-1)) { // one is left for whoever works beside it
		wait.Go(func() {
			for run := range next {
				if err := w.runSafely(uint64(run), &runs[run]); err != nil {
					broken.Store(&err)
				}
				done()
			}
		})
	}
	for run := range runs {
		if ctx.Err() != nil {
			break
		}
		next <- run
	}
	close(next)
	wait.Wait()
	if ctx.Err() != nil {
		return Outlook{}, ctx.Err()
	}
	if err := broken.Load(); err != nil {
		return Outlook{}, *err
	}
	return w.outlook(runs), nil
}

// runSafely is a run whose panic is an error: it ends this season, and nothing beside it.
func (w *world) runSafely(number uint64, to *tally) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("a run of a season broke: %v", p)
		}
	}()
	*to = w.run(number)
	return nil
}

// hours are when somebody works for a team: stretches of open time, in order.
type hours struct {
	from, until []int64
	before      []int64 // open seconds before each
}

// hoursOf are the hours of a calendar between two instants, less absences.
func hoursOf(work *calendar.Calendar, from, until time.Time, away []people.Absence) hours {
	var h hours
	add := func(a, b int64) {
		if b <= a {
			return
		}
		sum := int64(0)
		if n := len(h.from); n > 0 {
			sum = h.before[n-1] + h.until[n-1] - h.from[n-1]
		}
		h.from, h.until, h.before = append(h.from, a), append(h.until, b), append(h.before, sum)
	}
	last := calendar.DateOf(until.In(work.Zone()))
	for day := calendar.DateOf(from.In(work.Zone())); day.Compare(last) <= 0; day = day.AddDays(1) {
		for _, span := range work.Open(day) {
			at, end := span.From.Unix(), span.Until.Unix()
			for _, a := range away { // in order of their beginning
				if a.Until.Unix() <= at || a.From.Unix() >= end {
					continue
				}
				add(at, a.From.Unix())
				at = max(at, a.Until.Unix())
			}
			add(at, end)
		}
	}
	return h
}

// at is the index of the first stretch that ends after an instant.
func (h *hours) at(t int64) int {
	i, _ := slices.BinarySearch(h.until, t+1)
	return i
}

// never is later than all that is looked at.
const never = int64(1) << 60

// next is an instant when it is open, else the next opening.
func (h *hours) next(t int64) int64 {
	i := h.at(t)
	if i == len(h.from) {
		return never
	}
	return max(t, h.from[i])
}

// gone are the open seconds before an instant.
func (h *hours) gone(t int64) int64 {
	i := h.at(t)
	if i == len(h.from) {
		if i == 0 {
			return 0
		}
		return h.before[i-1] + h.until[i-1] - h.from[i-1]
	}
	return h.before[i] + max(0, t-h.from[i])
}

// after is so many open seconds later.
func (h *hours) after(t, open int64) int64 {
	i := h.at(t)
	if i == len(h.from) {
		return never
	}
	at := max(t, h.from[i])
	for open > h.until[i]-at {
		open -= h.until[i] - at
		if i++; i == len(h.from) {
			return never
		}
		at = h.from[i]
	}
	return at + open
}
