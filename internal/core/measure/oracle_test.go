package measure_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/measure/measuretest"
	"heptad/internal/core/request"
)

// thing is what a figure counts, as the slow way sees it.
type thing struct {
	date   int64
	of     *measure.Facts
	task   *measure.Task
	rung   *measure.Rung
	spell  *measure.Spell
	part   bool
	value  int64
	person string
}

// slow counts a figure by going through the facts one by one, in the plainest way.
type slow struct {
	facts []measure.Facts
	q     measure.Question
	by    []measure.Side
	c     measure.Circumstances
}

func (s slow) span() (from, until int64) {
	return s.q.Period.From.In(s.c.Zone).Unix(), s.q.Period.Until.In(s.c.Zone).Unix()
}

// things are all that a figure counts as of an instant, before it is narrowed.
func (s slow) things(key string, asOf int64) (all []thing) {
	for i := range s.facts {
		f := &s.facts[i]
		r := &f.Request
		promised := r.Kept == measure.KeptInTime || r.Kept == measure.KeptLate
		fulfilled := r.Outcome == request.Fulfilled
		add := func(date int64, part bool, value int64) {
			if date != 0 {
				all = append(all, thing{date: date, of: f, part: part, value: value})
			}
		}
		cost, real := r.Cost, r.Real
		if r.Currency != measuretest.Currency {
			cost, real = 0, 0
		}
		late := false
		if n := len(f.Spells); n > 0 && r.Closed == 0 {
			last := f.Spells[n-1]
			late = last.Until == 0 && last.Late != 0 && last.Late <= s.c.Now.Unix()
		}
		switch key {
		case "asked":
			add(r.Sent, false, 0)
		case "ended":
			add(r.Closed, false, 0)
		case "kept":
			if fulfilled && promised {
				add(r.Delivered, r.Kept == measure.KeptInTime, 0)
			}
		case "keptOfDue":
			if fulfilled && promised || late {
				add(r.Due, fulfilled && r.Kept == measure.KeptInTime, 0)
			}
		case "well":
			add(r.Closed, fulfilled, 0)
		case "done":
			add(r.Delivered, false, r.Delivered-r.Sent)
		case "used", "deciding", "working", "asking", "waiting":
			if promised {
				add(r.Delivered, false, map[string]int64{"used": r.Used, "deciding": r.Deciding, "working": r.Working, "asking": r.Asking, "waiting": r.Waiting}[key])
			}
		case "response", "answered":
			if r.ResponseTarget > 0 {
				add(r.Sent, r.ResponseUsed <= r.ResponseTarget, r.ResponseUsed)
			}
		case "declined":
			add(r.Closed, r.Outcome == request.Declined, 0)
		case "withdrawn":
			add(r.Closed, r.Outcome == request.Withdrawn, 0)
		case "sentBack":
			add(r.Delivered, r.Backs > 0, 0)
		case "led":
			add(r.Sent, slices.ContainsFunc(s.facts, func(other measure.Facts) bool {
				return slices.Contains(strings.Fields(other.Request.Came), strconv.FormatInt(r.Number, 10))
			}), 0)
		case "askedBack":
			add(r.Sent, r.Asked > 0, 0)
		case "rated":
			if fulfilled {
				add(r.Closed, len(f.Ratings) > 0, 0)
			}
		case "touchless":
			if fulfilled {
				add(r.Closed, r.ByPeople == 0, 0)
			}
		case "likely":
			if r.Likely > 0 {
				add(r.Delivered, r.Delivered <= r.Likely, 0)
			}
		case "sure":
			if r.Likely > 0 {
				add(r.Delivered, r.Delivered <= r.Sure, 0)
			}
		case "cost", "costEach":
			add(r.Sent, false, cost)
		case "real":
			if r.RealKnown && r.Currency == measuretest.Currency {
				add(r.Closed, false, real)
			}
		case "askedOfReal":
			if r.RealKnown && r.Currency == measuretest.Currency {
				add(r.Closed, false, cost)
			}
		case "rating":
			for _, x := range f.Ratings {
				if r.Closed != 0 {
					all = append(all, thing{date: r.Closed, of: f, value: int64(x.Stars), person: x.Person})
				}
			}
		case "decisions", "decisionTime", "passed":
			for j := range f.Rungs {
				x := &f.Rungs[j]
				all = append(all, thing{date: x.Ended, of: f, rung: x, part: x.Outcome == "passed", value: x.Open})
			}
		case "open", "overdue", "oldest":
			for j := range f.Spells {
				if x := &f.Spells[j]; x.From < asOf && (x.Until == 0 || x.Until >= asOf) && (key != "overdue" || x.Late != 0 && x.Late < asOf) {
					all = append(all, thing{date: asOf - 1, of: f, spell: x, value: asOf - r.Sent})
				}
			}
		default:
			for j := range f.Tasks {
				t := &f.Tasks[j]
				system := t.Kind == "automatic" && t.Person == ""
				if t.Kind != "manual" && t.Kind != "automatic" || t.How != "done" && t.How != "undone" {
					continue
				}
				x := thing{date: t.Ended, of: f, task: t, person: t.Person}
				switch key {
				case "tasks":
				case "taskInTime":
					if t.Due == 0 {
						continue
					}
					x.part = t.Late == 0
				case "taskStuck":
					x.part = t.Stuck
				case "automatic":
					x.part = system
				case "saved":
					if !system {
						continue
					}
					x.value = s.saved(f.Request.Offering, t.Of)
				default:
					if system {
						continue
					}
					x.value = map[string]int64{"taskWaited": t.Waited, "taskWorked": t.Worked, "taskTook": t.Waited + t.Worked, "hours": t.Hand}[key]
					x.part = t.Handed > 0
				}
				all = append(all, x)
			}
		}
	}
	return all
}

// saved is what people needed for a task that is automatic, in the middle, else its effort.
func (s slow) saved(offering, task string) int64 {
	var took []float64
	for _, f := range s.facts {
		for _, t := range f.Tasks {
			if f.Request.Offering == offering && t.Of == task && task != "" && t.Kind == "manual" && (t.How == "done" || t.How == "undone") {
				took = append(took, float64(t.Hand))
			}
		}
	}
	if len(took) == 0 {
		return int64(effort(offering, task) / time.Second)
	}
	slices.Sort(took)
	half := len(took) / 2
	if len(took)%2 == 0 {
		return int64((took[half-1] + took[half]) / 2)
	}
	return int64(took[half])
}

func effort(offering, task string) time.Duration {
	return time.Duration(len(offering)+3*len(task)) * time.Minute
}

// values are those of a side that a thing has.
func (s slow) values(side measure.Side, x thing) []string {
	r, local := &x.of.Request, time.Unix(x.date, 0).In(s.c.Zone)
	ofTasks := func(of func(measure.Task) string) (all []string) {
		if x.task != nil {
			return []string{of(*x.task)}
		}
		for _, t := range x.of.Tasks {
			if key := of(t); key != "" && !slices.Contains(all, key) {
				all = append(all, key)
			}
		}
		return all
	}
	switch side {
	case measure.ByMonth:
		return []string{local.Format("2006-01")}
	case measure.ByWeek:
		y, w := local.ISOWeek()
		return []string{fmt.Sprintf("%04d-W%02d", y, w)}
	case measure.ByDay:
		return []string{local.Format("2006-01-02")}
	case measure.ByWeekday:
		return []string{strconv.Itoa((int(local.Weekday())+6)%7 + 1)}
	case measure.ByHour:
		return []string{local.Format("15")}
	case measure.ByArea:
		return []string{area(r.Service)}
	case measure.ByService:
		return []string{r.Service}
	case measure.ByOffering:
		return []string{r.Offering}
	case measure.ByVersion:
		return []string{r.Offering + "/" + strconv.Itoa(r.Version)}
	case measure.ByTeam:
		if x.spell != nil {
			return strings.Fields(x.spell.Teams)
		}
		return ofTasks(func(t measure.Task) string { return t.Team })
	case measure.ByTask:
		return ofTasks(func(t measure.Task) string { return r.Offering + "/" + t.Of })
	case measure.ByConnector:
		return ofTasks(func(t measure.Task) string { return t.Connector })
	case measure.ByRung:
		return []string{r.Offering + "/" + x.rung.Rung}
	case measure.ByDepartment:
		return []string{r.Department}
	case measure.ByLocation:
		return []string{r.Location}
	case measure.ByCostCentre:
		return []string{r.CostCentre}
	case measure.ByEmployment:
		return []string{r.Employment}
	case measure.ByChannel:
		return []string{string(r.Channel)}
	case measure.ByDoor:
		return []string{string(r.Door)}
	case measure.BySpeed:
		return []string{r.Speed}
	case measure.ByImpact:
		return []string{r.Impact}
	case measure.ByUrgency:
		return []string{r.Urgency}
	case measure.ByOutcome:
		return []string{string(r.Outcome)}
	}
	return []string{string(x.spell.Status)}
}

func area(service string) string {
	if service == "service-0" || service == "service-1" {
		return "IT"
	}
	return "Facilities"
}

// counted are the things that a figure counts as of an instant.
func (s slow) counted(f *measure.Figure, asOf int64) (out []thing) {
	from, until := s.span()
	if f.Subject == measure.OfStanding && from >= asOf {
		return nil // it has not begun
	}
	for _, x := range s.things(f.Key, asOf) {
		ok := x.date >= from && x.date < until || f.Subject == measure.OfStanding
		sight := s.c.Sight
		ok = ok && (sight.All || sight.Services[x.of.Request.Service] || x.task != nil && sight.Teams[x.task.Team])
		for side, keys := range s.q.Only {
			if f.Subject == measure.OfStanding && (side == measure.ByOutcome || side.Recurring()) || !f.Takes(side) {
				continue
			}
			ok = ok && (slices.ContainsFunc(s.values(side, x), func(v string) bool { return slices.Contains(keys, v) }) || side == measure.ByConnector && x.task == nil && slices.Contains(keys, "") &&
				slices.ContainsFunc(x.of.Tasks, func(t measure.Task) bool { return t.Connector == "" })) // a request that has a task without one
		}
		if ok {
			out = append(out, x)
		}
	}
	return out
}

// value is what some things come to, as nobody is protected from.
func value(f *measure.Figure, all []thing) measure.Value {
	v := measure.Value{Records: int64(len(all))}
	var sum, largest int64
	var values []float64
	for _, x := range all {
		if x.part {
			v.Part++
		}
		sum, largest = sum+x.value, max(largest, x.value)
		values = append(values, float64(x.value))
	}
	slices.Sort(values)
	at := func(p float64) *float64 {
		rank := float64(len(values)-1) * p
		low := int(rank)
		out := values[low]
		if low+1 < len(values) {
			out += (rank - float64(low)) * (values[low+1] - values[low])
		}
		return &out
	}
	number := func(x float64) *float64 { return &x }
	if f.Unit != measure.Share {
		v.Part = 0
	}
	switch n := float64(len(all)); {
	case f.Unit == measure.Count:
		v.Number = number(n)
	case f.Key == "cost" || f.Key == "real" || f.Key == "askedOfReal" || f.Key == "hours" || f.Key == "saved":
		v.Number = number(float64(sum))
	case n == 0:
	case f.Key == "oldest":
		v.Number = number(float64(largest))
	case f.Unit == measure.Share:
		v.Number = number(float64(v.Part) / n)
	case f.Unit == measure.Stars || f.Key == "costEach":
		v.Number = number(float64(sum) / n)
	default:
		v.Mean, v.Number, v.P80, v.P95 = number(float64(sum)/n), at(0.5), at(0.8), at(0.95)
	}
	return v
}

// same compares two values; of one that tells of few persons only how many it counts.
func same(t require.TestingT, want, got measure.Value, sides int, message string) {
	assert.Equal(t, want.Records, got.Records, message)
	if got.Few {
		return
	}
	assert.Equal(t, want.Part, got.Part, message)
	if sides == 2 { // a table of two sides shows no more
		want.P95 = nil
	}
	for _, pair := range [][2]*float64{{want.Number, got.Number}, {want.Mean, got.Mean}, {want.P80, got.P80}, {want.P95, got.P95}} {
		if pair[0] == nil || pair[1] == nil {
			assert.Equal(t, pair[0] == nil, pair[1] == nil, message)
			continue
		}
		assert.InDelta(t, *pair[0], *pair[1], 1e-6*math.Max(1, math.Abs(*pair[0])), message)
	}
}

var zones = []string{"Europe/Lisbon", "UTC", "Asia/Kathmandu", "America/St_Johns"}

// TestColumnsCountAsTheSlowWay lets random questions be answered of random facts by columns,
// which took them in piece by piece, and by going through them one by one.
func TestColumnsCountAsTheSlowWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		random := rand.New(rand.NewPCG(seed, 1))
		zone, err := time.LoadLocation(rapid.SampledFrom(zones).Draw(t, "zone"))
		require.NoError(t, err)
		start := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC).Unix()
		facts := measuretest.Random(random, 4_000, rapid.IntRange(0, 260).Draw(t, "requests"), start, start+300*86400)
		columns := measure.NewColumns(measuretest.Currency)
		for i := range facts { // some are taken in in another form first
			if random.IntN(4) == 0 {
				columns.Put(measuretest.Random(random, facts[i].Request.Number, 1, start, start+300*86400)...)
			}
			if random.IntN(40) == 0 {
				columns.View()
			}
		}
		for _, i := range random.Perm(len(facts)) {
			columns.Put(facts[i])
			if random.IntN(60) == 0 {
				columns.View()
			}
		}
		today := calendar.DateOf(time.Unix(start+250*86400, 0))
		period, err := measure.ParsePeriod(rapid.SampledFrom([]string{"last12", "month", "lastMonth", "quarter", "2026-03", "2026-10-25", "2026-W13", "2026-03-20/2026-11-02", "2027"}).Draw(t, "period"), today, 4)
		require.NoError(t, err)
		q := measure.Question{Period: period, Only: map[measure.Side][]string{}}
		c := measure.Circumstances{Now: time.Unix(start+250*86400+40_000, 0), Zone: zone, Area: area, Effort: effort, Sight: measure.Sight{All: true}}
		if rapid.Bool().Draw(t, "limited") {
			c.Sight = measure.Sight{Services: map[string]bool{"service-1": true, "service-3": true}, Teams: map[string]bool{"team-2": true}}
		}
		s := slow{facts: facts, q: q, c: c}
		f := &measure.Figures[rapid.IntRange(0, len(measure.Figures)-1).Draw(t, "figure")]
		if f.Subject == measure.OfSearches || f.Subject == measure.OfForms {
			t.Skip("they are no columns")
		}
		for range rapid.IntRange(0, 2).Draw(t, "narrowed") {
			side := rapid.SampledFrom(measure.ByMonth.All()).Draw(t, "side")
			if side.Timely() || !f.Takes(side) || len(facts) == 0 {
				continue
			}
			for range rapid.IntRange(1, 2).Draw(t, "keys") {
				if all := s.things(f.Key, c.Now.Unix()); len(all) > 0 {
					if values := s.values(side, all[random.IntN(len(all))]); len(values) > 0 {
						s.q.Only[side] = append(s.q.Only[side], values[0])
					}
				}
			}
		}
		for range rapid.IntRange(1, 3).Draw(t, "wanted") { // what is asked at once must not disturb each other
			wanted := f
			if other := &measure.Figures[rapid.IntRange(0, len(measure.Figures)-1).Draw(t, "other")]; rapid.Bool().Draw(t, "of another") && s.canAsk(other) {
				wanted = other
			}
			var by []measure.Side
			for range rapid.IntRange(0, 2).Draw(t, "sides") {
				if side := rapid.SampledFrom(measure.ByMonth.All()).Draw(t, "by"); wanted.Takes(side) && !slices.Contains(by, side) && !(len(by) == 1 && side.Timely() && by[0].Timely()) {
					by = append(by, side)
				}
			}
			s.q.Wanted = append(s.q.Wanted, measure.Wanted{Figure: wanted.Key, By: by})
		}
		got, err := columns.View().Ask(s.q, c)
		require.NoError(t, err)
		for i, w := range s.q.Wanted {
			wanted, _ := measure.FigureOf(w.Figure)
			s.by = w.By
			s.check(t, wanted, got[i])
		}
	})
}

// canAsk reports whether a figure is one of the columns and can be narrowed as the question is.
func (s slow) canAsk(f *measure.Figure) bool {
	for side := range s.q.Only {
		if !f.Takes(side) {
			return false
		}
	}
	return f.Subject != measure.OfSearches && f.Subject != measure.OfForms
}

// check compares an answer, cell by cell.
func (s slow) check(t require.TestingT, f *measure.Figure, got measure.Series) {
	_, until := s.span()
	asOf := min(until, s.c.Now.Unix()+1)
	end := func(key string) int64 { // of a stretch of the calendar
		p, err := measure.ParsePeriod(key, calendar.Date{}, 1)
		require.NoError(t, err)
		return min(p.Until.In(s.c.Zone).Unix(), asOf)
	}
	same(t, value(f, s.counted(f, asOf)), got.Total, 0, f.Key+" in all")
	if len(s.by) == 0 {
		return
	}
	width := 1
	if len(s.by) == 2 {
		width = len(got.Keys[1])
	}
	for i, key := range got.Keys[0] {
		for j := range width {
			keys := []string{key}
			if len(s.by) == 2 {
				keys = append(keys, got.Keys[1][j])
			}
			at, name := asOf, f.Key+" of "+strings.Join(keys, ", ")
			for k, side := range s.by {
				if side.Timely() && f.Subject == measure.OfStanding {
					at = end(keys[k])
				}
			}
			var of []thing
			for _, x := range s.counted(f, at) {
				is := true
				for k, side := range s.by {
					is = is && (side.Timely() && f.Subject == measure.OfStanding || slices.Contains(s.values(side, x), keys[k]))
				}
				if is {
					of = append(of, x)
				}
			}
			same(t, value(f, of), got.Cells[i*width+j], len(s.by), name)
		}
	}
	for _, x := range s.counted(f, asOf) { // no value may be forgotten
		for k, side := range s.by {
			for _, key := range s.values(side, x) {
				assert.Contains(t, got.Keys[k], key)
			}
		}
	}
}
