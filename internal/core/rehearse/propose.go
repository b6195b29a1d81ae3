package rehearse

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/script"
)

// Limits of a search for cases.
const (
	mostForms     = 6_000 // that are worked out
	mostLives     = 160
	mostAskers    = 6
	mostProposals = 40
)

// Proposal is a case that is proposed, before anything is expected of it.
type Proposal struct {
	Name    string        `json:"name"`
	Script  script.Script `json:"script"`
	Reaches []string      `json:"reaches" nullable:"false" doc:"What it reaches that those before it do not, in words"`

	Life *Life `json:"-"`
}

// Proposed is what a search for cases found.
type Proposed struct {
	Proposals []Proposal
	Points    []Point // with what they reach, and of the rest why not
	Had       []Point // as they were reached before
}

// Propose searches for a small set of cases that reaches what can be reached of an offering
// beside what some lives reach already. The same offering in the same company gives the same
// proposals.
func Propose(g Ground, have []*Life) (Proposed, error) {
	c, findings := g.Compile(g.Company)
	if c == nil || findings.HasErrors() {
		return Proposed{}, &script.Wrong{Line: -1, Sentence: "Cases can be proposed once its errors are mended: " + first(findings, "")}
	}
	left := mostForms
	before := reachedBy(have)
	p := &proposing{g: g, c: c, left: &left, at: someDay(c.Promise.Calendar()), points: cover(c, before), reached: maps.Clone(before), ran: map[string]*Life{}}
	p.cast()
	p.begin()
	for i := range p.points {
		p.point(&p.points[i])
	}
	p.moods()
	return p.result(before), nil
}

// found is a life that was found, with what sets it apart.
type found struct {
	life    *Life
	reaches map[string]bool
	name    string
}

type proposing struct {
	g       Ground
	c       *offering.Compiled
	at      time.Time
	left    *int
	fillers []*filler // who asks, and for whom
	points  []Point
	reached map[string]bool // by lives that were found, or were there
	lives   []found
	ran     map[string]*Life // by their scripts; nil for those that could not be run
}

// cast chooses who asks, and for whom: of those who may, as different ones as there are.
func (p *proposing) cast() {
	seen := map[string]bool{}
	belongings, places := Samples(p.c), p.g.places(p.g.Company)
	for _, asker := range p.g.Company.Persons() {
		if asker.Former || len(p.fillers) >= mostAskers {
			continue
		}
		kind := strings.Join([]string{asker.Department, asker.Location, asker.Employment, asker.Grade}, "\x00")
		if p.g.Known != nil {
			kind = strings.Join([]string{asker.Department, asker.Location}, "\x00")
		}
		if seen[kind] {
			continue
		}
		for _, whom := range p.whom(asker) {
			parties := offering.Parties{Asker: asker, Beneficiary: whom, Belongings: belongings, Pools: places, Company: p.g.Company, Known: p.g.Known}
			if may, _ := p.c.MayAsk(parties); !may {
				continue
			}
			seen[kind] = true
			p.fillers = append(p.fillers, &filler{c: p.c, parties: parties, at: p.at, tries: p.left})
		}
	}
}

// whom are those for whom somebody may ask: themselves, a newcomer, a colleague.
func (p *proposing) whom(asker people.Person) []offering.Beneficiary {
	all := []offering.Beneficiary{{Person: asker.ID}}
	if p.c.Document.Audience.Newcomers {
		all = append(all, offering.Beneficiary{Newcomer: &people.Newcomer{Name: "New Colleague", Department: asker.Department}})
	}
	if p.c.Document.Audience.For == "" {
		return all
	}
	for i, other := range p.g.Company.Persons() {
		if i > 400 {
			break
		}
		whom := offering.Beneficiary{Person: other.ID}
		if may, _ := p.c.MayAsk(offering.Parties{Asker: asker, Beneficiary: whom, Company: p.g.Company}); may && other.ID != asker.ID && !other.Former {
			return append(all, whom)
		}
	}
	return all
}

// someDay is a working morning on which proposals are sent: a Monday, so that they are the
// same whenever they are made.
func someDay(work *calendar.Calendar) time.Time {
	from := time.Date(2027, 3, 8, 0, 0, 0, 0, time.UTC)
	at, err := work.NextOpen(from)
	if err != nil {
		return from
	}
	return at.Add(30 * time.Minute).UTC()
}

// begin runs the plainest of all forms.
func (p *proposing) begin() {
	for _, f := range p.fillers {
		if answers, _, ok := f.complete(nil); ok {
			p.run(f, answers, script.Cast{}, nil, "As usual")
			return
		}
	}
}

// run rehearses answers, once, and keeps the life when it reaches something new; nil when it
// cannot be run, or too many were.
func (p *proposing) run(f *filler, answers form.Answers, cast script.Cast, lines []script.Line, name string) *Life {
	s := script.Script{Format: script.Format, Asker: script.Who{Login: f.parties.Asker.Login}, Send: p.at, Answers: answers, Cast: cast, Script: lines}
	switch whom := f.parties.Beneficiary; {
	case whom.Newcomer != nil:
		s.For = &script.Who{Made: &script.Person{Name: whom.Newcomer.Name, Department: whom.Newcomer.Department}}
	case whom.Person != f.parties.Asker.ID:
		other, _ := p.g.Company.Person(whom.Person)
		s.For = &script.Who{Login: other.Login}
	}
	key := fmt.Sprintf("%v %v %v %v", s.Asker.Login, answers, cast, lines)
	if life, ran := p.ran[key]; ran || len(p.ran) >= mostLives {
		return life
	}
	life, err := Run(p.g, s)
	if err != nil {
		p.ran[key] = nil
		return nil
	}
	p.ran[key] = life
	reaches := life.Reaches()
	fresh := false
	for id, is := range reaches {
		if is && !p.reached[id] {
			p.reached[id], fresh = true, true
		}
	}
	if fresh {
		p.lives = append(p.lives, found{life, reaches, name})
	}
	return life
}

// point looks for a life that reaches a point.
func (p *proposing) point(to *Point) {
	if p.reached[to.ID] || to.Cannot {
		return
	}
	parts := strings.Split(to.ID, "/")
	for _, f := range p.fillers {
		if *f.tries <= 0 {
			return
		}
		var answers form.Answers
		ok := false
		switch parts[0] {
		case "choice":
			q, _ := f.c.Form.Question(parts[1])
			fixed := f.shownWith(q, nil, 2)
			value := form.OfText(parts[2])
			if q.Kind == form.Choices {
				value = form.OfTexts([]string{parts[2]})
			}
			if answers, ok = f.with(fixed, q.Key, value); !ok {
				answers, ok = f.offering(q, fixed, value)
			}
		case "item":
			answers, ok = f.picking(parts[1])
		default:
			if to.rule == nil {
				if answers, _, ok = f.complete(nil); !ok {
					continue
				}
				break
			}
			answers, ok = f.want(to.rule, to.holds, parts[0] == "rung", nil, 2)
		}
		if !ok {
			continue
		}
		p.reach(f, answers, to, parts)
		if p.reached[to.ID] {
			return
		}
	}
}

// reach runs answers so that what is wanted happens in it.
func (p *proposing) reach(f *filler, answers form.Answers, to *Point, parts []string) {
	life := p.run(f, answers, script.Cast{}, nil, to.Sentence)
	last := parts[len(parts)-1]
	if life == nil || p.reached[to.ID] {
		return
	}
	switch {
	case parts[0] == "rung" && last == "declined":
		for _, r := range life.State.Rungs {
			if r.Key != parts[1] || len(r.Seats) == 0 {
				continue
			}
			who := r.Seats[0].DecidingNow()
			if len(who) == 0 {
				return
			}
			decider, _ := life.Company.Person(who[0])
			p.run(f, answers, script.Cast{}, []script.Line{{At: r.Opened, Who: decider.Login, Do: script.Decline, Rung: r.Key, Reason: "Not now."}}, to.Sentence)
		}
	case parts[0] == "task" && last == "stuck":
		t, _ := p.c.Plan.Task(parts[1])
		if t.Action != nil {
			p.run(f, answers, script.Cast{Systems: map[string]script.System{t.Action.Connector: {Refuse: 1000}}}, nil, to.Sentence)
		}
	case parts[0] == "task" && last == "undone":
		p.undoing(f, answers, life, parts[1], to)
	}
}

// undoing has a request taken back once a task of it is done.
func (p *proposing) undoing(f *filler, answers form.Answers, life *Life, task string, to *Point) {
	owner, _ := life.Company.Person(life.Service.Owner)
	for i := range life.State.Tasks {
		t := &life.State.Tasks[i]
		if t.Of != task || t.State != plan.Done {
			continue
		}
		line := script.Line{At: t.EndedAt, Who: asAsker, Do: script.Withdraw, Reason: "It is not needed any more."}
		if delivered := life.State.Stages["delivered"]; delivered.Equal(t.EndedAt) && owner.Login != "" {
			line.Who, line.Do = owner.Login, script.Cancel
			if reasons := p.c.Document.Promise.Reasons; len(reasons) > 0 {
				line.Chosen = reasons[0]
			}
		}
		p.run(f, answers, script.Cast{Asker: script.Answers}, []script.Line{line}, to.Sentence)
		return
	}
}

// moods runs what was found first with people who dawdle, are silent, or send back: that is
// how messages are reached that are seldom read.
func (p *proposing) moods() {
	if len(p.lives) == 0 || len(p.fillers) == 0 {
		return
	}
	base := p.lives[0].life
	f := p.fillers[0]
	for _, o := range p.fillers {
		if o.parties.Asker.ID == base.asker.ID && fmt.Sprint(o.parties.Beneficiary) == fmt.Sprint(base.whom) {
			f = o
		}
	}
	answers := base.Script.Answers
	p.run(f, answers, script.Cast{Approvers: script.Approvers{None: true}}, nil, "Nobody decides")
	p.run(f, answers, script.Cast{Asker: script.Silent}, nil, "The asker is silent")
	p.run(f, answers, script.Cast{Tasks: script.Tasks{Factor: 30}}, nil, "The work takes far too long")
	if at := base.State.Stages["delivered"]; !at.IsZero() {
		p.run(f, answers, script.Cast{Asker: script.Answers}, []script.Line{{At: at, Who: asAsker, Do: script.SendBack, Text: "It is not what was asked for."}}, "Sent back")
	}
	for _, r := range base.State.Rungs {
		if len(r.Seats) > 0 {
			decider, _ := base.Company.Person(r.Seats[0].Person)
			p.run(f, answers, script.Cast{}, []script.Line{{At: r.Opened, Who: decider.Login, Do: script.AskBack, Rung: r.Key, Text: "What is it for?"}}, "A question back")
			break
		}
	}
	for i := range base.State.Tasks {
		t := &base.State.Tasks[i]
		if t.Kind != plan.Manual || t.Holder == "" {
			continue
		}
		holder, _ := base.Company.Person(t.Holder)
		p.run(f, answers, script.Cast{}, []script.Line{{At: t.TakenAt, Who: holder.Login, Do: script.Ask, Task: t.Key, Text: "Is this still how you want it?"}}, t.Name+": a question to the asker")
		p.run(f, answers, script.Cast{}, []script.Line{{At: t.TakenAt, Who: holder.Login, Do: script.Stuck, Task: t.Key, Reason: "Something is missing."}}, t.Name+" is stuck")
		break
	}
}

// result takes the lives that reach the most, one after the other, until nothing is left that
// any of them adds.
func (p *proposing) result(reached map[string]bool) Proposed {
	out := Proposed{Proposals: []Proposal{}, Had: p.points}
	known := map[string]string{}
	for _, point := range p.points {
		known[point.ID] = point.Sentence
	}
	rest := slices.Clone(p.lives)
	names := map[string]int{}
	for len(rest) > 0 && len(out.Proposals) < mostProposals {
		best, most := -1, 0
		for i, l := range rest {
			adds := 0
			for id, is := range l.reaches {
				if is && !reached[id] && known[id] != "" {
					adds++
				}
			}
			if adds > most {
				best, most = i, adds
			}
		}
		if best < 0 {
			break
		}
		one := rest[best]
		proposal := Proposal{Name: one.name, Script: one.life.Script, Life: one.life, Reaches: []string{}}
		for _, point := range p.points {
			if one.reaches[point.ID] && !reached[point.ID] {
				proposal.Reaches = append(proposal.Reaches, point.Sentence)
			}
		}
		if names[one.name]++; names[one.name] > 1 {
			proposal.Name = fmt.Sprintf("%s, %d", one.name, names[one.name])
		}
		add(reached, one.reaches)
		out.Proposals = append(out.Proposals, proposal)
		rest = slices.Delete(rest, best, best+1)
	}
	for _, point := range p.points {
		if point.Reached = reached[point.ID]; point.Reached {
			point.Cannot, point.Why = false, ""
		} else if !point.Cannot {
			point.Why = fmt.Sprintf("Not found: %d forms were tried, as %d who may ask, and %d rehearsals.", mostForms-*p.left, len(p.fillers), len(p.ran))
		}
		out.Points = append(out.Points, point)
	}
	return out
}
