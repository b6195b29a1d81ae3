// Package measuretest makes facts for tests: such as no life of a request leads to, but of
// every kind, and with every edge.
package measuretest

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// Currency is that of most sums.
const Currency = "EUR"

// Random makes the facts of so many requests between two instants, in seconds.
func Random(random *rand.Rand, first int64, count int, from, until int64) []measure.Facts {
	all := make([]measure.Facts, count)
	for i := range all {
		all[i] = one(random, first+int64(i), from, until)
	}
	return all
}

// pick is one of some texts.
func pick[T any](random *rand.Rand, of ...T) T { return of[random.IntN(len(of))] }

func some(random *rand.Rand, prefix string, n int) string {
	return fmt.Sprintf("%s-%d", prefix, random.IntN(n))
}

func one(random *rand.Rand, number, from, until int64) measure.Facts {
	span := until - from
	sent := from + random.Int64N(span)
	later := func() int64 { return sent + 1 + random.Int64N(span/8+1) }
	length := func() int64 { return random.Int64N(400_000) }
	r := measure.Request{Number: number, Sending: measure.Sending{
		Offering: some(random, "offering", 6), Version: 1 + random.IntN(2), Service: some(random, "service", 4), Asker: some(random, "p", 12),
		Department: some(random, "department", 3), Location: some(random, "place", 3), CostCentre: some(random, "cc", 4), Employment: pick(random, "", "permanent", "seasonal"),
		Channel: pick(random, request.ByPage, request.ByProgram), Door: pick(random, offering.Wanted, offering.Broken), Impact: pick(random, "", "Only me", "A sailing"), Urgency: pick(random, "", "Now"),
		Sent: sent,
	}}
	if random.IntN(4) > 0 {
		r.Likely = later()
		r.Sure = r.Likely + random.Int64N(90_000)
	}
	r.Speed, r.Due = pick(random, "", "Usual", "Fast"), pick(random, 0, later())
	if random.IntN(3) > 0 {
		r.Decided = later()
		r.Planned = r.Decided
	}
	r.Status = pick(random, request.Deciding, request.Delivering, request.Closed, request.Closed, request.Closed)
	if r.Status == request.Closed {
		r.Closed, r.Outcome = later(), pick(random, request.Fulfilled.All()...)
		if r.Outcome == request.Fulfilled || random.IntN(6) == 0 {
			r.Delivered = sent + random.Int64N(r.Closed-sent)
		}
		r.Kept = pick(random, measure.NonePromised, measure.KeptInTime, measure.KeptInTime, measure.KeptLate, measure.KeptOver)
		if r.Kept != measure.NonePromised {
			r.Used, r.Target = length(), length()
			r.Deciding = random.Int64N(r.Used + 1)
			r.Working, r.Asking, r.Waiting = r.Used-r.Deciding, length(), length()
		}
	}
	if random.IntN(2) == 0 {
		r.ResponseTarget, r.ResponseUsed = 1+length(), length()
	}
	if random.IntN(2) == 0 {
		r.Currency, r.Cost = pick(random, Currency, Currency, Currency, "NOK"), random.Int64N(1<<40)
		if random.IntN(2) == 0 {
			r.RealKnown, r.Real = true, random.Int64N(1<<40)
		}
	}
	r.Backs, r.Asked, r.ByPeople, r.BySystems, r.Stuck = random.IntN(3), random.IntN(3), random.IntN(3), random.IntN(3), random.IntN(9) == 0
	if random.IntN(5) == 0 {
		r.Came = fmt.Sprintf("%d %d", number-1-random.Int64N(9), number-1-random.Int64N(9))
	}
	f := measure.Facts{Request: r}
	for i := range random.IntN(4) {
		f.Tasks = append(f.Tasks, task(random, number, i, sent, later))
	}
	for i := range f.Tasks {
		f.Request.Hand += f.Tasks[i].Hand
	}
	for i := range random.IntN(3) {
		f.Rungs = append(f.Rungs, measure.Rung{Number: number, Seq: i + 2, Rung: some(random, "rung", 2), Opened: sent, Ended: later(), Open: length(), Outcome: pick(random, "passed", "passed", "declined")})
	}
	if random.IntN(3) == 0 {
		f.Ratings = append(f.Ratings, measure.Rating{Number: number, Person: r.Asker, At: later(), Stars: 1 + random.IntN(5)})
	}
	f.Spells = spells(random, f.Request)
	return f
}

func task(random *rand.Rand, number int64, i int, sent int64, later func() int64) measure.Task {
	t := measure.Task{
		Number: number, Key: fmt.Sprintf("task-%d", i), Of: pick(random, some(random, "task", 3), some(random, "task", 3), ""), Kind: pick(random, "manual", "manual", "automatic", "wait"),
		Team: some(random, "team", 3), Person: some(random, "p", 9), Ready: sent, How: pick(random, "ready", "done", "done", "done", "skipped", "stopped", "undone"),
		Waited: random.Int64N(90_000), Worked: random.Int64N(90_000), Handed: random.IntN(2), Stuck: random.IntN(5) == 0,
	}
	if t.Kind == "automatic" {
		t.Connector, t.Person, t.Tries = some(random, "connector", 2), pick(random, "", "", t.Person), 1
	}
	if t.How != "ready" {
		t.Ended = later()
	}
	t.Hand = random.Int64N(t.Worked + 1)
	if random.IntN(2) == 0 {
		t.Due, t.Late = later(), pick(random, 0, random.Int64N(9_000))
	}
	return t
}

// spells follow each other from the sending until the request was closed, sometimes with a
// gap in which it was closed for a while.
func spells(random *rand.Rand, r measure.Request) []measure.Spell {
	end := r.Closed
	if end == 0 {
		end = r.Sent + 3_000_000
	}
	cuts := []int64{r.Sent}
	for range random.IntN(4) {
		if end > r.Sent+1 {
			cuts = append(cuts, r.Sent+random.Int64N(end-r.Sent))
		}
	}
	slices.Sort(cuts)
	cuts = slices.Compact(cuts)
	var all []measure.Spell
	for i, from := range cuts {
		s := measure.Spell{Number: r.Number, From: from, Status: pick(random, request.Deciding, request.Returned, request.Delivering, request.Delivered), Paused: random.IntN(5) == 0}
		if i+1 < len(cuts) {
			s.Until = cuts[i+1]
			if random.IntN(8) == 0 && s.Until > s.From+2 {
				s.Until = s.From + 1 + (s.Until-s.From)/2
			}
		} else {
			s.Until = r.Closed
		}
		if random.IntN(2) == 0 {
			s.Late = max(1, from-50_000+random.Int64N(200_000))
			s.Due = s.Late
		}
		var teams []string
		for i := range 3 {
			if random.IntN(3) == 0 {
				teams = append(teams, fmt.Sprintf("team-%d", i))
			}
		}
		s.Teams = strings.Join(teams, " ")
		if s.Until == 0 || s.Until > s.From {
			all = append(all, s)
		}
	}
	return all
}
