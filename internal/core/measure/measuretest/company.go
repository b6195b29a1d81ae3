package measuretest

import (
	"fmt"
	"math/rand/v2"

	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// Years are for how many years a company of Company has lived.
const Years = 4

// Start is when it began, in seconds: 1 January 2023 in UTC.
const Start = 1672531200

// Company gives the facts of a company of 20,000 people, 2,000 offerings and 500 teams, one
// request after the other as they were sent: each with four tasks and five spells, two of
// a hundred still under way. The same count gives the same facts.
func Company(count int, each func(measure.Facts)) {
	random := rand.New(rand.NewPCG(11, uint64(count)))
	span := int64(Years * 365 * 86400)
	for i := range count {
		each(ofCompany(random, int64(10_000+i), Start+span*int64(i)/int64(count)))
	}
}

func ofCompany(random *rand.Rand, number, sent int64) measure.Facts {
	key := int(float64(2000) * random.Float64() * random.Float64()) // some are wanted more than others
	person := random.IntN(20_000)
	r := measure.Request{Number: number, Sending: measure.Sending{
		Offering: fmt.Sprintf("offering-%d", key), Version: 1 + int((sent-Start)/40_000_000), Service: fmt.Sprintf("service-%d", key%100),
		Asker: fmt.Sprintf("p-%d", person), Department: fmt.Sprintf("department-%d", person%40), Location: fmt.Sprintf("place-%d", person%25),
		CostCentre: fmt.Sprintf("cc-%d", person%200), Employment: []string{"permanent", "seasonal"}[person%2],
		Channel: request.ByPage, Door: offering.Wanted, Sent: sent, Likely: sent + 150_000, Sure: sent + 400_000,
	}}
	decided := sent + random.Int64N(90_000)
	f := measure.Facts{}
	at := decided
	for i := range 4 {
		waited, worked := random.Int64N(30_000), random.Int64N(20_000)
		t := measure.Task{
			Number: number, Key: fmt.Sprintf("task-%d", i), Of: fmt.Sprintf("task-%d", i), Kind: "manual", Team: fmt.Sprintf("team-%d", (key*7+i)%500), Person: fmt.Sprintf("p-%d", (key*11+i*3+int(number%7))%20_000),
			Ready: at, Taken: at + waited*3, Ended: at + (waited+worked)*3, How: "done", Waited: waited, Worked: worked, Hand: worked / 2, Due: at + 100_000,
		}
		if i == 3 && key%3 == 0 {
			t.Kind, t.Connector, t.Person, t.Taken, t.Hand = "automatic", fmt.Sprintf("connector-%d", key%20), "", 0, 0
		}
		at = t.Ended
		f.Tasks = append(f.Tasks, t)
	}
	used := (at - sent) / 3
	r.Status, r.Outcome, r.Decided, r.Planned, r.Delivered, r.Closed, r.Due, r.Speed = request.Closed, request.Fulfilled, decided, decided, at, at+random.Int64N(400_000), sent+300_000, "Usual"
	if random.IntN(20) == 0 {
		r.Outcome = request.Declined
	}
	r.Used, r.Target, r.Deciding, r.Working, r.Kept = used, 100_000, (decided-sent)/3, used-(decided-sent)/3, measure.KeptInTime
	if used > 100_000 {
		r.Kept = measure.KeptLate
	}
	r.ResponseTarget, r.ResponseUsed = 14_400, random.Int64N(20_000)
	r.Currency, r.Cost, r.ByPeople = Currency, random.Int64N(200_000), 4
	cuts := []int64{sent, decided, f.Tasks[0].Ended, f.Tasks[1].Ended, f.Tasks[2].Ended, at, r.Closed}
	for i, status := range []request.Status{request.Deciding, request.Delivering, request.Delivering, request.Delivering, request.Delivering, request.Delivered} {
		s := measure.Spell{Number: number, From: cuts[i], Until: cuts[i+1], Status: status, Due: r.Due, Late: r.Due}
		if i > 0 && i < 5 {
			s.Teams = f.Tasks[i-1].Team
		}
		if i != 1 || random.IntN(2) == 0 {
			f.Spells = append(f.Spells, s)
		} else {
			f.Spells[0].Until = s.Until
		}
	}
	if random.IntN(50) == 0 { // still under way
		r.Status, r.Outcome, r.Delivered, r.Closed, r.Used, r.Kept = request.Delivering, "", 0, 0, 0, measure.NonePromised
		f.Tasks[3].Ended, f.Tasks[3].How = 0, "ready"
		f.Spells = f.Spells[:3]
		f.Spells[2].Until = 0
	}
	f.Rungs = []measure.Rung{{Number: number, Seq: 3, Rung: "manager", Opened: sent, Ended: decided, Open: r.Deciding, Outcome: "passed"}}
	if random.IntN(5) == 0 {
		f.Ratings = []measure.Rating{{Number: number, Person: r.Asker, At: at, Stars: 1 + random.IntN(5)}}
	}
	f.Request = r
	return f
}
