package measure

import (
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// Of are the facts of a request from all its events; false while it was not sent. They are
// the same as those that were kept event by event, and in the order of the store.
func Of(events []request.Event) (Facts, bool) {
	var s request.State
	p := Begin(&s)
	for _, e := range events {
		s.Apply(e)
		p.Next(&s, e)
	}
	made := p.Facts(&s)
	if made.Sending == nil {
		return Facts{}, false
	}
	slices.SortFunc(made.Tasks, func(a, b Task) int { return strings.Compare(a.Key, b.Key) })
	slices.SortFunc(made.Ratings, func(a, b Rating) int { return strings.Compare(a.Person, b.Person) })
	f := Facts{Request: Request{made.Number, *made.Sending, made.Going}, Tasks: made.Tasks, Votes: made.Votes, Rungs: made.Rungs, Ratings: made.Ratings}
	for i, spell := range made.Spells {
		if i+1 < len(made.Spells) {
			spell.Until = made.Spells[i+1].From
		}
		if spell.Status == request.Closed {
			continue
		}
		f.Spells = append(f.Spells, spell)
	}
	return f, true
}

// Made is what some events made of the facts of a request.
type Made struct {
	Number  int64
	Sending *Sending // nil unless it was sent by them
	Going   Going
	Went    bool   // Going has changed
	Tasks   []Task // those that have changed
	Votes   []Vote
	Rungs   []Rung
	Ratings []Rating
	Spells  []Spell // those that begin with them; each ends the one before. A closed one ends the last
}

// Projection follows some events of a request.
type Projection struct {
	made  Made
	stood Spell // without instants
	tasks []Task
	going Going
	sent  bool
}

// Begin follows the events that come after a state.
func Begin(s *request.State) *Projection {
	p := &Projection{sent: s.Reference != ""}
	if p.sent {
		p.stood, p.going, p.tasks = stands(s), going(s), tasksOf(s)
	}
	return p
}

// Next takes in an event, after which the request is in a state.
func (p *Projection) Next(s *request.State, e request.Event) {
	switch b := e.Body.(type) {
	case request.Submitted:
		p.sent, p.made.Sending = true, sending(s, b, e)
	case request.Voted:
		if !b.Carried {
			p.vote(s, e, b.Rung, b.Person, string(b.Decision), b.Open)
		}
	case request.AskedBack:
		outcome := "return"
		if b.Declined {
			outcome = string(request.Decline)
		}
		p.vote(s, e, b.Rung, e.Actor, outcome, b.Open)
	case request.RungEnded:
		for i := range s.Rungs {
			if r := &s.Rungs[i]; r.Key == b.Rung {
				p.made.Rungs = append(p.made.Rungs, Rung{Seq: e.Seq, Rung: b.Rung, Opened: second(r.Opened), Ended: second(e.At), Open: seconds(b.Open), Outcome: string(b.Outcome), Silent: b.Reason != ""})
			}
		}
	case request.Rated:
		p.made.Ratings = slices.DeleteFunc(p.made.Ratings, func(r Rating) bool { return r.Person == e.Actor })
		p.made.Ratings = append(p.made.Ratings, Rating{Person: e.Actor, At: second(e.At), Stars: b.Stars})
	}
	if p.sent {
		p.spell(s, second(e.At))
	}
}

// vote adds what somebody said on a rung.
func (p *Projection) vote(s *request.State, e request.Event, rung, person, outcome string, open int64) {
	v := Vote{Seq: e.Seq, Rung: rung, Person: person, Answered: second(e.At), Open: seconds(open), As: "approver", Outcome: outcome}
	for i := range s.Rungs {
		r := &s.Rungs[i]
		if r.Key != rung {
			continue
		}
		v.Asked = second(r.Opened)
		for _, seat := range r.Seats {
			for _, other := range seat.Others {
				if other.Person == person && seat.Person != person {
					v.As = string(other.As)
				}
			}
		}
	}
	p.made.Votes = append(p.made.Votes, v)
}

// spell begins another spell when the request stands otherwise now.
func (p *Projection) spell(s *request.State, at int64) {
	now := stands(s)
	if now == p.stood {
		return
	}
	p.stood = now
	now.From = at
	if n := len(p.made.Spells); n > 0 && p.made.Spells[n-1].From == at {
		p.made.Spells[n-1] = now
		return
	}
	p.made.Spells = append(p.made.Spells, now)
}

// Facts are what the events made, with the state after the last of them.
func (p *Projection) Facts(s *request.State) Made {
	m := p.made
	if !p.sent {
		return Made{}
	}
	m.Number, m.Going = request.Number(s.Reference), going(s)
	m.Went = m.Sending != nil || m.Going != p.going
	for i, t := range tasksOf(s) {
		if i >= len(p.tasks) || t != p.tasks[i] {
			m.Tasks = append(m.Tasks, t)
		}
	}
	for i := range m.Votes {
		m.Votes[i].Number = m.Number
	}
	for i := range m.Rungs {
		m.Rungs[i].Number = m.Number
	}
	for i := range m.Ratings {
		m.Ratings[i].Number = m.Number
	}
	for i := range m.Spells {
		m.Spells[i].Number = m.Number
	}
	return m
}

// stands is how a request stands, as a spell without instants.
func stands(s *request.State) Spell {
	spell := Spell{Status: s.Status}
	if s.Status == request.Closed {
		return spell
	}
	n := len(s.Pauses)
	spell.Paused = n > 0 && s.Pauses[n-1].Until.IsZero()
	_, ended := s.Ends[request.FulfilmentClock]
	if s.Status.Promising() && !ended {
		spell.Due, spell.Late = second(s.DueAt), second(s.LateAt)
		if spell.Paused && (spell.Late == 0 || !s.LateAt.Before(s.Pauses[n-1].From)) {
			spell.Due, spell.Late = 0, 0 // while the clock stands still nothing falls due
		}
	}
	var teams []string
	for i := range s.Tasks {
		switch t := &s.Tasks[i]; t.State {
		case plan.Ready, plan.Taken, plan.Asking, plan.Stuck:
			if t.Team != "" && !slices.Contains(teams, t.Team) {
				teams = append(teams, t.Team)
			}
		}
	}
	slices.Sort(teams)
	spell.Teams = strings.Join(teams, " ")
	return spell
}

func sending(s *request.State, b request.Submitted, e request.Event) *Sending {
	out := &Sending{
		Offering: s.Offering, Version: b.Version, Service: b.Service, Asker: s.Asker,
		Department: b.AskerWas.Department, Location: b.AskerWas.Location, CostCentre: b.AskerWas.CostCentre, Employment: b.AskerWas.Employment,
		Channel: b.Channel, Door: b.Door, Impact: b.Impact, Urgency: b.Urgency,
		Sent: second(e.At), Likely: second(b.Likely), Sure: second(b.Sure),
	}
	if out.Channel == "" { // of a program that did not say it
		out.Channel = request.ByPage
	}
	if out.Door == "" {
		out.Door = offering.Wanted
	}
	return out
}

func going(s *request.State) Going {
	g := Going{
		Status: s.Status, Outcome: s.Outcome,
		Decided: second(s.Stages["decided"]), Planned: second(s.Stages["planned"]), Delivered: second(s.Stages["delivered"]),
		Confirmed: second(s.Stages["confirmed"]), Closed: second(s.Stages["closed"]),
		Due: second(s.DueAt), Backs: len(s.Backs),
	}
	if s.Status != request.Closed { // it was sent back after it was closed
		g.Closed, g.Outcome = 0, ""
	}
	if s.Promise != nil {
		g.Speed = s.Promise.Name
	}
	if end, ended := s.Ends[request.FulfilmentClock]; ended {
		g.Due, g.Used, g.Target = second(end.Due), seconds(end.Used), seconds(max(0, end.Used+end.Left))
		if went := s.Went; went != nil {
			g.Deciding, g.Working, g.Asking, g.Waiting = seconds(went.Deciding), seconds(went.Working), seconds(went.Asker), seconds(went.Set)
		}
		switch end.Verdict {
		case promise.Kept:
			g.Kept = KeptInTime
		case promise.Missed:
			g.Kept = KeptLate
		case promise.Over:
			g.Kept = KeptOver
		}
	}
	if end, ended := s.Ends[request.ResponseClock]; ended && (end.Verdict == promise.Kept || end.Verdict == promise.Missed) {
		g.ResponseUsed, g.ResponseTarget = seconds(end.Used), seconds(max(0, end.Used+end.Left))
	}
	if cost := s.Price.FirstYear; !cost.IsZero() {
		g.Currency, g.Cost = cost.Currency(), cost.Minor()
	}
	if real, known := s.RealCost(); known {
		g.RealKnown, g.Real = true, real.Minor()
		if g.Currency == "" {
			g.Currency = real.Currency()
		}
	}
	for _, p := range s.Pauses {
		if p.Why == promise.ForAsker {
			g.Asked++
		}
	}
	var hand int64
	for i := range s.Tasks {
		t := &s.Tasks[i]
		hand += t.Spent.Hand
		g.Stuck = g.Stuck || !t.StuckAt.IsZero()
		switch {
		case t.State != plan.Done && t.State != plan.Undone:
		case t.Kind == plan.Manual, t.Holder != "":
			g.ByPeople++
		case t.Kind == plan.Automatic:
			g.BySystems++
		}
	}
	g.Hand = seconds(hand)
	var came []string
	for _, l := range s.Links {
		if l.Kind == request.ComesFrom {
			came = append(came, strconv.FormatInt(request.Number(l.Reference), 10))
		}
	}
	g.Came = strings.Join(came, " ")
	return g
}

// tasksOf are the facts of the tasks that became ready, in an order that stays.
func tasksOf(s *request.State) []Task {
	number := request.Number(s.Reference)
	var all []Task
	for i := range s.Tasks {
		if t := &s.Tasks[i]; !t.ReadyAt.IsZero() {
			all = append(all, task(number, t))
		}
	}
	return all
}

func task(number int64, t *request.Task) Task {
	out := Task{
		Number: number, Key: t.Key, Of: t.Of, Kind: string(t.Kind), Team: t.Team, Connector: t.Connector, Person: t.Holder,
		Ready: second(t.ReadyAt), Taken: second(t.TakenAt), Ended: second(t.EndedAt), How: string(t.State),
		Waited: seconds(t.Spent.Waited), Worked: seconds(t.Spent.Worked), Paused: seconds(t.Spent.Paused), Hand: seconds(t.Spent.Hand),
		Handed: t.Spent.Handed, First: t.Spent.First, Late: seconds(t.Spent.Late), Due: second(t.Due), Tries: t.Attempts + 1, Stuck: !t.StuckAt.IsZero(),
	}
	if t.Kind != plan.Automatic {
		out.Tries = 0
	}
	return out
}
