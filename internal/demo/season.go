package demo

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Habit is something that people of the company ask for now and then.
type Habit struct {
	Offering  string
	Often     int            // how often, next to the others
	Newcomers []string       // names of those it is for, one after the other
	Answers   []form.Answers // one of them is sent
}

// seasonDays and seasonRequests are for how many working days before now the
// company lives by its habits, and how often somebody asks for something then.
const (
	seasonDays     = 20
	seasonRequests = 140
	seasonSeed     = 7
)

// season lets people ask, decide and work by their habits, each at their own
// pace. The same seed gives the same season.
type season struct {
	*loader
	random *rand.Rand
	hours  *calendar.Calendar
	people []people.Person
	habits []Habit
}

// season puts the beginnings of its requests among the moments; each makes the
// next of its own.
func (l *loader) season() error {
	s := &season{loader: l, random: rand.New(rand.NewPCG(seasonSeed, seasonSeed)), hours: l.office.Company().TeamHours("service-bench", nil)}
	if err := read("company/habits.json", &s.habits); err != nil {
		return err
	}
	if err := l.stories("company/season.json"); err != nil {
		return err
	}
	entries, err := Door()
	if err != nil {
		return err
	}
	atDoor := map[string]bool{}
	for _, e := range entries {
		atDoor[e.Person] = true
	}
	for _, p := range l.office.Company().Persons() {
		if !atDoor[p.ID] { // those one signs in as keep their own stories
			s.people = append(s.people, p)
		}
	}
	first, err := s.hours.AddDays(l.now, -seasonDays)
	if err != nil {
		return err
	}
	open := s.hours.Between(first, l.now)
	for range seasonRequests {
		at, err := s.hours.Add(first, time.Duration(s.random.Int64N(int64(open))))
		if err != nil {
			return err
		}
		l.at(at, s.ask)
	}
	return nil
}

// later is about so many working hours from now, but at least some minutes.
func (s *season) later(hours float64, do func() error) error {
	wait := 5*time.Minute + time.Duration(s.random.ExpFloat64()*hours*float64(time.Hour))
	at, err := s.hours.Add(s.clock.at, wait)
	if err == nil && at.Before(s.now) {
		s.at(at, do)
	}
	return err
}

// chance draws whether something happens.
func (s *season) chance(share float64) bool { return s.random.Float64() < share }

// ask lets somebody who may ask for something, at the twentieth try at most.
func (s *season) ask() error {
	sum := 0
	for _, h := range s.habits {
		sum += h.Often
	}
	which := s.random.IntN(sum)
	var h *Habit
	for i := range s.habits {
		if h = &s.habits[i]; which < h.Often {
			break
		}
		which -= h.Often
	}
	whom := offering.Beneficiary{}
	answers := dated(h.Answers[s.random.IntN(len(h.Answers))], s.clock.at)
	for range 20 {
		asker := s.people[s.random.IntN(len(s.people))]
		whom.Person = asker.ID
		if len(h.Newcomers) > 0 {
			whom = offering.Beneficiary{Newcomer: &people.Newcomer{Name: h.Newcomers[0], Department: "Fleet"}}
		}
		f, err := s.office.Asking.SaveDraft(s.ctx, asker.ID, h.Offering, answers, whom)
		if err != nil {
			continue // who may not ask for it; somebody else may
		}
		_, err = s.office.Asking.Submit(s.ctx, asker.ID, f.Draft, request.Submit{Answers: answers, For: f.For})
		if err != nil {
			_, err = s.office.Do(s.ctx, asker.ID, f.Draft, request.Discard{})
			return err
		}
		if len(h.Newcomers) > 1 {
			h.Newcomers = h.Newcomers[1:]
		}
		return s.goOn(f.Draft, 4)
	}
	return nil
}

// Habits are what people of the company have asked for in the past.
func Habits() ([]Habit, error) {
	var all []Habit
	return all, read("company/past.json", &all)
}

// Dated are answers as they are sent on a day.
func (h Habit) Dated(which int, day time.Time) form.Answers { return dated(h.Answers[which], day) }

// dated puts dates for those that are counted from a day, as "+7".
func dated(answers form.Answers, from time.Time) form.Answers {
	return answers.Changing(func(text string) string {
		count, clock, _ := strings.Cut(text, "T")
		days, err := strconv.Atoi(count)
		if !strings.HasPrefix(text, "+") || err != nil {
			return text
		}
		day := calendar.DateOf(from).AddDays(days).String()
		if clock != "" {
			day += "T" + clock
		}
		return day
	})
}

// goOn looks at a request again after some hours.
func (s *season) goOn(id string, hours float64) error {
	return s.later(hours, func() error { return s.look(id) })
}

// look lets one of those with whom a request lies do something about it.
func (s *season) look(id string) error {
	state, err := s.office.Store.Request(s.ctx, id)
	if err != nil {
		return err
	}
	switch state.Status {
	case request.Deciding:
		return s.decide(state)
	case request.Returned:
		s.give(state.Asker, id, request.Resubmit{Answers: state.Answers, Reply: "It is for the whole watch, not for me alone."})
	case request.Delivering, request.Waiting, request.Undoing:
		return s.work(state)
	case request.Delivered:
		if s.chance(0.5) {
			s.give(state.Asker, id, request.Confirm{Remark: []string{"", "Thank you, that was quick.", "All is well."}[s.random.IntN(3)]})
		}
		return nil
	default:
		return nil
	}
	return s.goOn(id, 4)
}

// give lets somebody do something; what is refused they do not do.
func (s *season) give(who, id string, c request.Command) {
	_, _ = s.office.Do(s.ctx, who, id, c)
}

func (s *season) decide(state request.State) error {
	rung, ok := state.OpenRung()
	if !ok || len(rung.Waiting()) == 0 {
		return s.goOn(state.ID, 8)
	}
	who := rung.Waiting()[s.random.IntN(len(rung.Waiting()))]
	switch n := s.random.IntN(20); {
	case n == 0:
		s.give(who, state.ID, request.Decide{Rung: rung.Key, Decision: request.Decline, Reason: "We have one that nobody uses. Please take that."})
	case n == 1:
		s.give(who, state.ID, request.AskBack{Rung: rung.Key, Text: "Is it for you alone, or for the whole watch?"})
	case n < 14:
		s.give(who, state.ID, request.Decide{Rung: rung.Key, Decision: request.Approve})
	}
	return s.goOn(state.ID, 10)
}

// troubles are what tasks get stuck on.
var troubles = []string{
	"The vessel is at sea without a signal; they answer at the next port.",
	"Two records disagree, and who knows which one holds is away until Monday.",
	"What is needed for it has not come yet; it is ordered.",
}

// work lets somebody go on with one of the tasks.
func (s *season) work(state request.State) error {
	var open []request.Task
	for _, t := range state.Tasks {
		if t.ForPeople() || t.Accepted && t.State == plan.Ready {
			open = append(open, t)
		}
	}
	if len(open) == 0 {
		return s.goOn(state.ID, 8)
	}
	t := open[s.random.IntN(len(open))]
	members := s.office.Company().Members(t.Team)
	if len(members) == 0 {
		return nil
	}
	who := members[s.random.IntN(len(members))]
	switch {
	case t.Undo != nil:
		s.give(who, state.ID, request.Take{Task: t.Key})
		s.give(who, state.ID, request.Complete{Task: t.Key})
	case t.State == plan.Ready && !t.Accepted:
		s.give(who, state.ID, request.Take{Task: t.Key})
	case t.State == plan.Asking:
		s.give(state.Asker, state.ID, request.Answer{Task: t.Key, Text: "Yes, as I wrote it. The morning suits me best."})
	case t.State == plan.Stuck:
		if s.chance(0.3) {
			s.give(who, state.ID, request.Retry{Task: t.Key})
		}
	case t.State == plan.Taken && s.chance(0.04):
		s.give(t.Holder, state.ID, request.GetStuck{Task: t.Key, Reason: troubles[s.random.IntN(len(troubles))]})
	case t.State == plan.Taken && s.chance(0.05):
		s.give(t.Holder, state.ID, request.AskAsker{Task: t.Key, Text: "Is this still how you want it, and does the morning suit you?"})
	default:
		if t.State == plan.Taken {
			who = t.Holder
		}
		s.finish(state, t, who)
	}
	return s.goOn(state.ID, 7)
}

// finish ticks every point and ends a task with what comes out of it.
func (s *season) finish(state request.State, t request.Task, who string) {
	for i := range t.MustDos {
		s.give(who, state.ID, request.Check{Task: t.Key, Point: i, Done: true})
	}
	for i, line := range t.Lines {
		s.give(who, state.ID, request.Count{Task: t.Key, Line: i, Done: line.Of})
	}
	done := request.Complete{Task: t.Key, Outputs: map[string]string{}}
	if c, err := s.office.Version(s.ctx, state.Offering, state.Version); err == nil && t.Of != "" {
		for _, o := range c.Plan.Outputs(t.Of) {
			switch {
			case t.Outputs[o.Key] != "":
			case o.Kind == plan.Date:
				done.Outputs[o.Key] = calendar.DateOf(s.clock.at).String()
			case o.Kind == plan.Money: // what it really cost is a little more or less
				done.Outputs[o.Key] = state.Price.Once.Portion(big.NewRat(int64(94+s.random.IntN(14)), 100)).Decimal()
			case o.Kind == plan.Number:
				done.Outputs[o.Key] = "1"
			default:
				done.Outputs[o.Key] = fmt.Sprintf("%d", 4000+s.random.IntN(1000))
			}
		}
	}
	if s.chance(0.25) {
		done.Word = "It is ready. Tell us when something is not right."
	}
	s.give(who, state.ID, done)
}
