package demo

import (
	"container/heap"
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"sync/atomic"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
	"heptad/internal/work"
)

// The two years that the company has lived behind what one sees: so many requests, sent from
// the first day of a month two years ago until some days ago. What has not ended by now is
// left out: the season of Load has that.
const (
	historyRequests = 6_000
	historyYears    = 2
	historySeed     = 1931
)

// firstOfHistory is the number that the references of the season begin after: those of the
// history come before.
const firstOfHistory = 10_400 - historyRequests

// History lets the company live through the two years before an instant, by the rules of the
// core and at its own pace, and keeps what has ended. The same seed and instant give the same
// history, so that one that was cut off is gone on with.
type History struct {
	ctx     context.Context
	office  *work.Office
	company *people.Directory
	until   time.Time // nothing happens after it
	random  *rand.Rand

	clock   time.Time
	moments moments
	said    int

	habits   []pastHabit
	versions map[string][]era // of an offering, the first first
	hands    map[string]request.Hands
	took     map[string][]time.Duration
	kept     map[int64]bool // numbers that are there already
	lives    []*life        // that go on
	ended    []*life        // not yet written
	reports  []*life        // of what was broken, the last that were closed
	lying    map[string][]job
	inHand   map[string]job  // by person
	awaited  map[string]bool // teams whose next opening is awaited
	Done     atomic.Int64    // requests that are written
}

// era is a version of an offering, from when it was the current one.
type era struct {
	from time.Time
	*offering.Compiled
}

// pastHabit is a habit with those who may have it.
type pastHabit struct {
	Habit
	askers []people.Person
}

// NewHistory prepares the history before an instant.
func NewHistory(ctx context.Context, office *work.Office, until time.Time) (*History, error) {
	h := &History{
		ctx: ctx, office: office, company: office.Company(), until: until, random: rand.New(rand.NewPCG(historySeed, historySeed)),
		versions: map[string][]era{}, hands: map[string]request.Hands{}, took: map[string][]time.Duration{}, kept: map[int64]bool{},
		lying: map[string][]job{}, inHand: map[string]job{}, awaited: map[string]bool{},
	}
	var err error
	if h.kept, err = office.Store.NumbersBelow(ctx, firstOfHistory+historyRequests+1); err != nil {
		return nil, err
	}
	all, err := Habits()
	if err != nil {
		return nil, err
	}
	for _, x := range all {
		if err := h.prepare(x); err != nil {
			return nil, err
		}
	}
	return h, nil
}

// prepare reads the versions of an offering, and who may ask for it.
func (h *History) prepare(x Habit) error {
	versions, err := h.office.Store.Versions(h.ctx, x.Offering)
	if err != nil {
		return err
	}
	for _, v := range slices.Backward(versions) {
		if v.State == store.Draft {
			continue
		}
		c, err := h.office.Version(h.ctx, x.Offering, v.Number)
		if err != nil {
			return err
		}
		h.versions[x.Offering] = append(h.versions[x.Offering], era{v.ChangedAt, c})
	}
	door, err := Door()
	if err != nil {
		return err
	}
	past := pastHabit{Habit: x}
	for _, p := range h.company.Persons() {
		if p.Former || slices.ContainsFunc(door, func(e Entry) bool { return e.Person == p.ID }) {
			continue // those one signs in as keep their own stories
		}
		whom := offering.Beneficiary{Person: p.ID}
		if len(x.Newcomers) > 0 {
			whom = offering.Beneficiary{Newcomer: &people.Newcomer{Name: x.Newcomers[0], Department: "Fleet"}}
		}
		eras := h.versions[x.Offering]
		if may, _ := eras[len(eras)-1].MayAsk(offering.Parties{Asker: p, Beneficiary: whom, Company: h.company}); may {
			past.askers = append(past.askers, p)
		}
	}
	if len(past.askers) == 0 {
		return fmt.Errorf("nobody may ask for %s", x.Offering)
	}
	h.habits = append(h.habits, past)
	return nil
}

// at lets something happen at an instant.
func (h *History) at(at time.Time, do func()) {
	if at.Before(h.until) {
		h.said++
		heap.Push(&h.moments, moment{at, h.said, func() error { do(); return nil }})
	}
}

// Write lives through the history and keeps it, some requests at a time, so that whoever
// works beside it hardly waits.
func (h *History) Write() error {
	h.arrivals()
	for len(h.moments) > 0 && h.ctx.Err() == nil {
		m := heap.Pop(&h.moments).(moment)
		h.clock = m.at
		if err := m.do(); err != nil {
			return err
		}
		if len(h.ended) >= 20 {
			if err := h.write(); err != nil {
				return err
			}
		}
	}
	if h.ctx.Err() != nil {
		return h.ctx.Err()
	}
	for _, l := range slices.Clone(h.lives) { // what has ended just now
		l.finish()
	}
	if err := h.write(); err != nil {
		return err
	}
	return h.wishes()
}

// write keeps those that have ended.
func (h *History) write() error {
	defer func() { h.ended = nil }()
	return h.office.Measuring.KeepPast(h.ctx, func(keep func(request.State, []request.Event, measure.Made) error) error {
		for _, l := range h.ended {
			if h.kept[request.Number(l.state.Reference)] {
				continue
			}
			if err := keep(l.state, l.events, l.facts.Facts(&l.state)); err != nil {
				return err
			}
			h.Done.Add(1)
		}
		return nil
	})
}

// busy is how much is asked for in a month, next to the others: in summer crews change, in
// February it is quiet.
func busy(month time.Month) float64 {
	switch month {
	case time.June, time.September:
		return 1.25
	case time.July, time.August:
		return 2
	case time.February:
		return 0.55
	case time.December, time.January:
		return 0.8
	}
	return 1
}

// arrivals puts the sending of all requests among the moments: as many on a working day as
// its month is busy, in the hours of the day.
func (h *History) arrivals() {
	local := h.until.UTC()
	first := time.Date(local.Year()-historyYears, local.Month(), 1, 0, 0, 0, 0, time.UTC)
	last := h.until.AddDate(0, 0, -5)
	var days []time.Time
	var sum float64
	for day := first; day.Before(last); day = day.AddDate(0, 0, 1) {
		if wd := day.Weekday(); wd != time.Saturday && wd != time.Sunday {
			days, sum = append(days, day), sum+busy(day.Month())
		}
	}
	number, owed := int64(firstOfHistory), 0.0
	for _, day := range days {
		owed += historyRequests * busy(day.Month()) / sum * (0.7 + 0.6*h.random.Float64())
		var at []time.Time
		for ; owed >= 1 && number+int64(len(at)) < firstOfHistory+historyRequests; owed-- {
			at = append(at, day.Add(time.Duration(7.5*float64(time.Hour)+h.random.Float64()*9.5*float64(time.Hour))).Truncate(time.Millisecond))
		}
		slices.SortFunc(at, time.Time.Compare)
		for _, at := range at {
			number++
			n := number
			h.at(at, func() { h.ask(n) })
		}
	}
}

// ask lets somebody who may send a request; when it is refused, nobody does.
func (h *History) ask(number int64) {
	sum := 0
	for i := range h.habits {
		sum += h.often(&h.habits[i])
	}
	which := h.random.IntN(sum)
	var x *pastHabit
	for i := range h.habits {
		if x = &h.habits[i]; which < h.often(x) {
			break
		}
		which -= h.often(x)
	}
	eras := h.versions[x.Offering]
	c := eras[0].Compiled
	for _, e := range eras {
		if !h.clock.Before(e.from) {
			c = e.Compiled
		}
	}
	asker := x.askers[h.random.IntN(len(x.askers))]
	whom := offering.Beneficiary{Person: asker.ID}
	if len(x.Newcomers) > 0 {
		whom = offering.Beneficiary{Newcomer: &people.Newcomer{Name: h.newcomer(), Department: "Fleet"}}
	}
	answers := dated(x.Answers[h.random.IntN(len(x.Answers))], h.clock)
	h.send(number, c, asker.ID, whom, answers)
}

// often is how often a habit is followed now: crews change in summer.
func (h *History) often(x *pastHabit) int {
	if x.Offering == "sign-on-a-crew-member" && (h.clock.Month() == time.July || h.clock.Month() == time.August) {
		return 2 * x.Often
	}
	return x.Often
}

// newcomer is a name that is made of two of the company's.
func (h *History) newcomer() string {
	all := h.company.Persons()
	first, last := all[h.random.IntN(len(all))].Name, all[h.random.IntN(len(all))].Name
	return nameParts(first)[0] + " " + nameParts(last)[1]
}

func (h *History) send(number int64, c *offering.Compiled, asker string, whom offering.Beneficiary, answers form.Answers) {
	service, _ := h.company.Service(c.Document.Purpose.Service)
	l := &life{h: h, offering: c, service: service, set: map[string]bool{}}
	l.state.Status = request.Draft
	if !l.do(asker, request.Begin{ID: fmt.Sprintf("past-%d", number)}) {
		return
	}
	if l.do(asker, request.Submit{Answers: answers, For: whom, Prefix: h.office.Organisation().Prefix, Number: number}) {
		h.lives = append(h.lives, l)
		if len(h.reports) > 0 && c.Document.Key != broken && h.chance(0.05) {
			from := h.reports[h.random.IntN(len(h.reports))]
			l.do(h.company.Members(service.Home)[0], request.Tie{Kind: request.ComesFrom, Other: from.state.ID})
		}
		l.goOn()
	}
}

// broken is the offering by which people report what does not work; some of that leads to
// another request.
const broken = "something-is-broken"

// reportsKept is how many of them are remembered.
const reportsKept = 25

// report finds one of them.
func (h *History) report(id string) (request.State, bool) {
	i := slices.IndexFunc(h.reports, func(l *life) bool { return l.state.ID == id })
	if i < 0 {
		return request.State{}, false
	}
	return h.reports[i].state, true
}
