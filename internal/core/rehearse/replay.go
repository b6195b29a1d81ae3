package rehearse

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// Past is a request as it was sent, to be put through a draft.
type Past struct {
	State request.State
	Was   request.Standing // of who asked, as when they sent it
}

// Replaying is what past requests are put through.
type Replaying struct {
	Draft    *offering.Compiled
	Version  func(number int) (*offering.Compiled, error) // that a request was sent with
	Company  *people.Directory
	Service  people.Service
	Measures request.Measures
	// Fill are answers to questions that are new, by question; nil where they are left out.
	Fill form.Answers
	// LeaveOut lets a new question without an answer make nothing invalid.
	LeaveOut bool
}

// Replayed is what a draft would have made of a past request.
type Replayed struct {
	Request   string    `json:"request" doc:"ID"`
	Reference string    `json:"reference"`
	Title     string    `json:"title"`
	Sent      time.Time `json:"sent"`
	Valid     bool      `json:"valid" doc:"It could still be sent"`
	Fails     []Fails   `json:"fails,omitempty" nullable:"false" doc:"Why it could not"`
	Absent    int       `json:"absent,omitempty" doc:"Private and forgotten answers, which count as absent"`

	Before       string   `json:"before" doc:"Cost in the first year, a decimal number"`
	After        string   `json:"after"`
	Approvers    []string `json:"approvers,omitempty" nullable:"false" doc:"What is other with its decisions, in words"`
	Tasks        []string `json:"tasks,omitempty" nullable:"false" doc:"What is other with its tasks, in words"`
	Promise      string   `json:"promise,omitempty" doc:"What is other with its promise, in words"`
	Hours        float64  `json:"hours" doc:"Of work, after less before, in hours of effort"`
	Decisions    int      `json:"decisions" doc:"After less before"`
	LikelyBefore int64    `json:"likelyBefore" doc:"Open minutes from sending to the likely finish, by the version it was sent with"`
	LikelyAfter  int64    `json:"likelyAfter"`

	minor int64 // cost, after less before
}

// Fails is a question whose answer would not do.
type Fails struct {
	Key      string `json:"key" doc:"Of the question; empty for who may ask"`
	Label    string `json:"label"`
	Sentence string `json:"sentence"`
}

// Changed reports whether anything would be other.
func (r Replayed) Changed() bool {
	return !r.Valid || r.minor != 0 || len(r.Approvers) > 0 || len(r.Tasks) > 0 || r.Promise != ""
}

// worked is a form worked out, with what follows from it.
type worked struct {
	result  form.Result
	rungs   []ladder.Rung
	seats   map[string][]string // names by key of the rung
	tasks   map[string]taskOf
	order   []string
	promise string
	hours   float64
	likely  int64 // open minutes from sending
	mayNot  string
}

type taskOf struct {
	name, team string
}

// One puts one past request through the draft. The error says that the version it was sent
// with cannot be read.
func (r Replaying) One(p Past) (Replayed, error) {
	s := &p.State
	out := Replayed{Request: s.ID, Reference: s.Reference, Title: s.Title, Sent: s.Stages["submitted"], Absent: len(s.Private)}
	c, err := r.Version(s.Version)
	if err != nil {
		return out, err
	}
	before, after := r.work(c, p, nil), r.work(r.Draft, p, r.Fill)
	if before.mayNot == "" && after.mayNot != "" {
		out.Fails = append(out.Fails, Fails{Sentence: after.mayNot})
	}
	r.fails(&out, before, after)
	out.Valid = len(out.Fails) == 0
	was, now := s.Price.FirstYear, after.result.Price.FirstYear
	out.Before, out.After = was.Decimal(), now.Decimal()
	if out.Valid && was.Currency() == now.Currency() {
		out.minor = now.Minor() - was.Minor()
	}
	if !out.Valid {
		return out, nil
	}
	out.compare(before, after, r.Company)
	return out, nil
}

// fails lists the answers that would not do. What would not do by the version it was sent
// with either says nothing of the draft: the company is another now.
func (r Replaying) fails(out *Replayed, before, after worked) {
	known := map[string]bool{}
	for _, q := range before.result.Questions {
		known[q.Key] = len(q.Problems) > 0
	}
	for _, q := range after.result.Questions {
		broken, there := known[q.Key]
		if len(q.Problems) == 0 || broken || !there && r.LeaveOut {
			continue
		}
		of, _ := r.Draft.Form.Question(q.Key)
		out.Fails = append(out.Fails, Fails{q.Key, of.ForStaff(), q.Problems[0].Sentence})
	}
}

// Answered is a form worked out from the answers of a past request.
type Answered struct {
	Parties  offering.Parties
	Result   form.Result
	Kept     form.Answers
	Rungs    []ladder.Rung
	Promised *promise.Promised
}

// Answered works a version out with answers, as if they were sent at an instant: people as
// they were when it was sent, as far as that is known.
func (p Past) Answered(c *offering.Compiled, answers form.Answers, company *people.Directory, at time.Time) Answered {
	s := &p.State
	asker, _ := company.Person(s.Asker)
	if was := p.Was; was.Department != "" || was.Location != "" {
		asker.Department, asker.Location, asker.CostCentre, asker.Employment = was.Department, was.Location, was.CostCentre, was.Employment
	}
	a := Answered{Parties: offering.Parties{Asker: asker, Beneficiary: s.For.Or(asker.ID), Belongings: s.Named, Company: company}}
	facts := a.Parties.Facts()
	facts.Files = filesIn(c, answers)
	a.Result = c.Form.Evaluate(answers, c.Values(a.Parties, at), facts)
	a.Kept, a.Rungs = a.Result.Kept(), c.Ladder.Needed(a.Result.Values)
	a.Promised = c.Promise.Promised(a.Result.Values, at)
	return a
}

// work works a version out for a past request, with answers for what it left open.
func (r Replaying) work(c *offering.Compiled, p Past, fill form.Answers) worked {
	at := p.State.Stages["submitted"]
	answers := form.Answers{}
	maps.Copy(answers, p.State.Answers)
	for key, value := range fill {
		if answers[key].None() {
			answers[key] = value
		}
	}
	a := p.Answered(c, answers, r.Company, at)
	w := worked{result: a.Result, rungs: a.Rungs, seats: map[string][]string{}, tasks: map[string]taskOf{}}
	if may, why := c.MayAsk(a.Parties); !may {
		w.mayNot = why
	}
	ladderFacts := c.LadderFacts(a.Parties, a.Kept, a.Result.Price, r.Service, at)
	for _, rung := range w.rungs {
		seats, err := ladder.Seats(rung, ladderFacts)
		if err != nil {
			continue
		}
		for _, seat := range seats {
			w.seats[rung.Key] = append(w.seats[rung.Key], r.Company.Name(seat.Person))
		}
		slices.Sort(w.seats[rung.Key])
	}
	if p := a.Promised; p != nil {
		w.promise = p.Name + " " + p.Fulfilment + p.Day
	}
	w.plan(c, r, a, at)
	return w
}

// plan works out which tasks it takes, and when it is likely done.
func (w *worked) plan(c *offering.Compiled, r Replaying, a Answered, at time.Time) {
	measures := r.Measures
	if measures == nil {
		measures = carried{}
	}
	f := request.ForecastDraft(c, a.Parties, a.Kept, a.Result.Values, w.rungs, a.Promised, measures, at)
	w.likely = int64(c.Promise.Calendar().Between(at, f.Finish).Minutes())
	for _, step := range f.Steps {
		if step.Rung != "" || !step.Needed {
			continue
		}
		w.tasks[step.Task] = taskOf{step.Name, step.Team}
		w.order = append(w.order, step.Task)
		if of, there := c.Plan.Of(step.Task); there {
			effort := c.Plan.Effort(of.Key)
			w.hours += effort.Open.Hours() + 8*float64(effort.Days)
		}
	}
}

// compare says what is other after than before.
func (out *Replayed) compare(before, after worked, company *people.Directory) {
	index := func(w worked, key string) int {
		return slices.IndexFunc(w.rungs, func(r ladder.Rung) bool { return r.Key == key })
	}
	for _, r := range before.rungs {
		switch i := index(after, r.Key); {
		case i < 0:
			out.Approvers = append(out.Approvers, r.Name+" no longer decides")
		case !slices.Equal(before.seats[r.Key], after.seats[r.Key]):
			out.Approvers = append(out.Approvers, fmt.Sprintf("%s: %s, not %s", after.rungs[i].Name, orNobody(after.seats[r.Key]), orNobody(before.seats[r.Key])))
		}
	}
	for _, r := range after.rungs {
		if index(before, r.Key) < 0 {
			out.Approvers = append(out.Approvers, fmt.Sprintf("%s decides, too: %s", r.Name, orNobody(after.seats[r.Key])))
		}
	}
	for _, key := range before.order {
		was := before.tasks[key]
		now, there := after.tasks[key]
		switch {
		case !there:
			out.Tasks = append(out.Tasks, was.name+" is not done")
		case now.team != was.team:
			out.Tasks = append(out.Tasks, fmt.Sprintf("%s is with %s, not %s", now.name, company.TeamName(now.team), company.TeamName(was.team)))
		}
	}
	for _, key := range after.order {
		if _, there := before.tasks[key]; !there {
			out.Tasks = append(out.Tasks, after.tasks[key].name+" is done, too")
		}
	}
	if before.promise != after.promise {
		out.Promise = fmt.Sprintf("%s, not %s", orNothing(after.promise), orNothing(before.promise))
	}
	out.Hours, out.Decisions = after.hours-before.hours, len(after.rungs)-len(before.rungs)
	out.LikelyBefore, out.LikelyAfter = before.likely, after.likely
}

func orNobody(names []string) string {
	if len(names) == 0 {
		return "nobody"
	}
	return strings.Join(names, " and ")
}

func orNothing(promise string) string {
	if strings.TrimSpace(promise) == "" {
		return "nothing is promised"
	}
	return strings.TrimSpace(promise)
}

// Replay is what a draft would have made of past requests, in sum.
type Replay struct {
	Of        int     `json:"of" doc:"Requests that were put through it"`
	Changed   int     `json:"changed"`
	Invalid   int     `json:"invalid" doc:"That could not be sent any more"`
	Approvers int     `json:"approvers" doc:"That others would decide on"`
	Tasks     int     `json:"tasks" doc:"With other tasks, or teams"`
	Promises  int     `json:"promises" doc:"That something else would be promised to"`
	Prices    int     `json:"prices" doc:"That would cost more or less"`
	Currency  string  `json:"currency,omitempty"`
	Costs     string  `json:"costs" doc:"In the first year, after less before, a decimal number"`
	Dearer    int     `json:"dearer"`
	Cheaper   int     `json:"cheaper"`
	Hours     float64 `json:"hours" doc:"Of work, after less before, in hours of effort"`
	Decisions int     `json:"decisions" doc:"After less before"`
	Sooner    int     `json:"sooner" doc:"That would likely be done more than a quarter of an hour sooner"`
	Later     int     `json:"later"`
	Absent    int     `json:"absent" doc:"With private or forgotten answers, which count as absent"`
	Failed    int     `json:"failed" doc:"That could not be worked out"`

	Records []Replayed `json:"records" nullable:"false" doc:"Those that change, the last sent first; so many as are kept"`
	minor   int64
}

// mostRecords is how many records of a replay are kept.
const mostRecords = 2_000

// Add counts one in.
func (r *Replay) Add(one Replayed) {
	r.Of++
	if one.Absent > 0 {
		r.Absent++
	}
	if !one.Changed() {
		return
	}
	r.Changed++
	count := func(is bool, n *int) {
		if is {
			*n++
		}
	}
	count(!one.Valid, &r.Invalid)
	count(len(one.Approvers) > 0, &r.Approvers)
	count(len(one.Tasks) > 0, &r.Tasks)
	count(one.Promise != "", &r.Promises)
	count(one.minor != 0, &r.Prices)
	count(one.minor > 0, &r.Dearer)
	count(one.minor < 0, &r.Cheaper)
	count(one.Valid && one.LikelyAfter < one.LikelyBefore-15, &r.Sooner)
	count(one.Valid && one.LikelyAfter > one.LikelyBefore+15, &r.Later)
	r.minor, r.Hours, r.Decisions = r.minor+one.minor, r.Hours+one.Hours, r.Decisions+one.Decisions
	if len(r.Records) < mostRecords {
		r.Records = append(r.Records, one)
	}
}

// Finish puts the sum into words, in a currency.
func (r *Replay) Finish(currency string) {
	r.Currency, r.Costs = currency, money.Of(r.minor, currency).Decimal()
	slices.SortFunc(r.Records, func(a, b Replayed) int { return b.Sent.Compare(a.Sent) })
	if r.Records == nil {
		r.Records = []Replayed{}
	}
}
