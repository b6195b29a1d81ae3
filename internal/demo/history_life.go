package demo

import (
	"fmt"
	"maps"
	"math/big"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/ladder"
	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// life is one request of the history on its way.
type life struct {
	h        *History
	offering *offering.Compiled
	service  people.Service
	state    request.State
	events   []request.Event
	facts    *measure.Projection
	set      map[string]bool // what somebody is about to do already
	over     bool
}

// do gives a command; it reports whether it was done.
func (l *life) do(actor string, c request.Command) bool {
	if l.over {
		return false
	}
	if l.facts == nil {
		l.facts = measure.Begin(&l.state)
	}
	h := l.h
	inHand := l.state.InHand()
	events, effects, err := request.Handle(l.state, c, request.Facts{
		Actor: actor, Company: h.company, Offering: l.offering, Service: l.service, Now: h.clock,
		Hands: func(person string) request.Hands { return h.hands[person] }, Measures: pastMeasures{h, l.offering.Document.Key},
		Holding: func(string) (request.Holding, bool) { return request.Holding{}, false }, Request: h.report,
	})
	if err != nil {
		return false
	}
	for _, e := range events {
		l.state.Apply(e)
		l.facts.Next(&l.state, e)
		l.learn(e)
	}
	l.events = append(l.events, events...)
	maps.Copy(h.hands, l.state.Regrip(inHand, func(person string) request.Hands { return h.hands[person] }, h.company))
	for _, e := range effects {
		l.effect(e)
	}
	return true
}

// effect does later what is done by itself.
func (l *life) effect(e request.Effect) {
	at := e.At
	if at.Before(l.h.clock) {
		at = l.h.clock
	}
	switch e.Kind {
	case request.Call:
		wait := 2*time.Second + time.Duration(l.h.random.Float64()*32*float64(time.Second))
		l.h.at(at.Add(wait), func() {
			if l.h.chance(0.03) {
				l.do(request.Program, request.Fail{Task: e.Task, Undo: e.Undoes != "", Trouble: "The system did not answer in time.", Jitter: 0.5})
			} else {
				l.do(request.Program, request.Succeed{Task: e.Task, Undo: e.Undoes != "", Outputs: l.outputs(e.Task, true)})
			}
			l.goOn()
		})
	case request.TickTimer:
		l.h.at(at, func() { l.do(request.Program, request.Tick{}); l.goOn() })
	case request.LapseTimer:
		l.h.at(at, func() { l.do(request.Program, request.Lapse{}); l.goOn() })
	}
}

// learn keeps how long finished work took, as forecasts read it.
func (l *life) learn(e request.Event) {
	switch b := e.Body.(type) {
	case request.TaskDone:
		if t, ok := l.state.Task(b.Task); ok && t.Kind != plan.Wait {
			l.h.keepTook(l.offering.Document.Key+"/"+t.Of, time.Duration(t.Spent.Waited+t.Spent.Worked+t.Spent.Paused)*time.Millisecond)
		}
	case request.RungEnded:
		if b.Outcome == ladder.Passed {
			l.h.keepTook(l.offering.Document.Key+"//"+b.Rung, time.Duration(b.Open)*time.Millisecond)
		}
	}
}

// remembered is how many of the last are remembered.
const remembered = 60

func (h *History) keepTook(key string, took time.Duration) {
	all := append(h.took[key], took)
	h.took[key] = all[max(0, len(all)-remembered):]
}

// pastMeasures are what forecasts of the history read.
type pastMeasures struct {
	h        *History
	offering string
}

func (m pastMeasures) sorted(key string) []time.Duration {
	return slices.Sorted(slices.Values(m.h.took[m.offering+key]))
}
func (m pastMeasures) Task(key string) []time.Duration { return m.sorted("/" + key) }
func (m pastMeasures) Rescue(string) []time.Duration   { return nil }
func (m pastMeasures) Rung(key string) []time.Duration { return m.sorted("//" + key) }

// chance draws whether something happens.
func (h *History) chance(share float64) bool { return h.random.Float64() < share }

// after is so much open time later, by a calendar.
func (h *History) after(work *calendar.Calendar, hours float64) time.Time {
	at, err := work.Add(h.clock, time.Duration(hours*float64(time.Hour)))
	if err != nil {
		return h.until
	}
	return at
}

// soon sets something that somebody is about to do, once.
func (l *life) soon(what string, at time.Time, do func()) {
	if l.set[what] {
		return
	}
	l.set[what] = true
	l.h.at(at, func() {
		delete(l.set, what)
		do()
		l.goOn()
	})
}

// goOn looks who has to do something next, and lets them do it at their pace.
func (l *life) goOn() {
	if l.over {
		return
	}
	switch l.state.Status {
	case request.Deciding:
		l.decide()
	case request.Returned:
		l.soon("answer", l.h.after(l.h.company.HoursOf(l.state.Asker), l.h.random.ExpFloat64()*7), func() {
			l.do(l.state.Asker, request.Resubmit{Answers: l.state.Answers, Reply: "It is for the whole watch, not for me alone."})
		})
	case request.Delivering, request.Waiting, request.Undoing:
		for i := range l.state.Tasks {
			l.work(&l.state.Tasks[i])
		}
	case request.Delivered:
		l.accept()
	case request.Closed:
		if l.set["closed"] {
			return
		}
		l.set["closed"] = true
		if l.offering.Document.Key == broken {
			h := l.h
			h.reports = append(h.reports[max(0, len(h.reports)-reportsKept):], l)
		}
		l.rate()
		l.h.at(l.h.clock.Add(30*24*time.Hour), l.finish)
	}
}

// finish ends a life for good, once nobody sends it back any more.
func (l *life) finish() {
	if l.state.Status != request.Closed {
		delete(l.set, "closed")
		return
	}
	if !l.over {
		l.over = true
		l.h.ended = append(l.h.ended, l)
		l.h.lives = slices.DeleteFunc(l.h.lives, func(o *life) bool { return o == l })
	}
}

// decide lets one of those with whom it lies decide. Who answers for premises is busy.
func (l *life) decide() {
	rung, open := l.state.OpenRung()
	if !open || len(rung.Waiting()) == 0 {
		return
	}
	waiting := rung.Waiting()
	who := waiting[l.h.random.IntN(len(waiting))]
	pace := 3.5
	if rung.Key == "premises" {
		pace = 18
	}
	key := rung.Key
	l.soon("decide "+key, l.h.after(l.h.company.HoursOf(who), 0.2+l.h.random.ExpFloat64()*pace), func() {
		switch n := l.h.random.IntN(100); {
		case n < 3:
			l.do(who, request.Decide{Rung: key, Decision: request.Decline, Reason: "We have one that nobody uses. Please take that."})
		case n < 7:
			l.do(who, request.AskBack{Rung: key, Text: "Is it for you alone, or for the whole watch?"})
		default:
			l.do(who, request.Decide{Rung: key, Decision: request.Approve})
		}
	})
	if l.h.chance(0.015) {
		l.soon("withdraw", l.h.after(l.h.company.HoursOf(l.state.Asker), 2), func() {
			l.do(l.state.Asker, request.Withdraw{Reason: "I do not need it any more."})
		})
	}
}

// work lets somebody go on with a task.
func (l *life) work(t *request.Task) {
	h, key := l.h, t.Key
	hours := h.company.TeamHours(t.Team, l.offering.Promise.Calendar())
	members := h.company.Members(t.Team)
	if len(members) == 0 {
		return
	}
	someone := members[h.random.IntN(len(members))]
	switch {
	case t.Undo != nil && t.ForPeople():
		l.soon("undo "+key, h.after(hours, h.random.ExpFloat64()*4), func() {
			l.do(someone, request.Take{Task: key})
			l.do(someone, request.Complete{Task: key})
		})
	case t.Undo != nil:
	case len(t.Confirmers) > 0 && t.State == plan.Ready:
		for _, person := range t.Confirmers {
			l.soon("confirm "+key+person, h.after(hours, h.random.ExpFloat64()*6), func() { l.do(person, request.ConfirmPart{Task: key}) })
		}
	case t.State == plan.Ready && t.ForPeople():
		h.lies(l, t)
	case t.State == plan.Asking:
		l.soon("answer "+key, h.after(h.company.HoursOf(l.state.Asker), h.random.ExpFloat64()*5), func() {
			l.do(l.state.Asker, request.Answer{Task: key, Text: "Yes, as I wrote it. The morning suits me best."})
		})
	case t.State == plan.Stuck:
		l.soon("retry "+key, h.after(hours, 1+h.random.ExpFloat64()*9), func() { l.do(someone, request.Retry{Task: key}) })
	case t.State == plan.Taken:
		l.hold(t, hours)
	}
}

// hold lets who has a task in hand do it, or not be able to.
func (l *life) hold(t *request.Task, hours *calendar.Calendar) {
	h, key, holder := l.h, t.Key, t.Holder
	effort := l.offering.Plan.Effort(t.Of)
	if t.Of == "" {
		effort = calendar.Length{Open: time.Hour}
	}
	needs := (effort.Open.Hours() + 8*float64(effort.Days)) * (0.4 + 1.1*h.random.Float64()) * beside[t.Team]
	if !h.has(holder, l, key) {
		needs /= 4 // it was interrupted: they finish it beside what they have in hand
	}
	l.soon("do "+key, h.after(hours, max(0.15, needs)), func() {
		defer h.free(l, key, holder)
		task, _ := l.state.Task(key)
		if task.State != plan.Taken || task.Holder != holder {
			return
		}
		switch n := h.random.IntN(100); {
		case n < 2 && !l.set["was stuck "+key]:
			l.set["was stuck "+key] = true
			l.do(holder, request.GetStuck{Task: key, Reason: troubles[h.random.IntN(len(troubles))]})
		case n < 5 && !l.set["was asked "+key]:
			l.set["was asked "+key] = true
			l.do(holder, request.AskAsker{Task: key, Text: "Is this still how you want it, and does the morning suit you?"})
		case n < 8 && !l.set["was handed "+key]:
			l.set["was handed "+key] = true
			if other := h.someoneFree(task.Team, holder); other != "" {
				l.do(holder, request.HandOver{Task: key, Person: other, Reason: "You know this one better."})
				h.inHand[other] = job{life: l, task: key}
				return
			}
			l.complete(*task, holder)
		default:
			l.complete(*task, holder)
		}
	})
}

// complete ends a task with what comes out of it.
func (l *life) complete(t request.Task, who string) {
	for i := range t.MustDos {
		l.do(who, request.Check{Task: t.Key, Point: i, Done: true})
	}
	for i, line := range t.Lines {
		l.do(who, request.Count{Task: t.Key, Line: i, Done: line.Of})
	}
	l.do(who, request.Complete{Task: t.Key, Outputs: l.outputs(t.Key, false)})
}

// outputs are values such as come out of a task.
func (l *life) outputs(key string, all bool) map[string]string {
	t, _ := l.state.Task(key)
	out := map[string]string{}
	if t == nil || t.Of == "" {
		return out
	}
	for _, o := range l.offering.Plan.Outputs(t.Of) {
		switch {
		case t.Outputs[o.Key] != "" && !all:
		case o.Kind == plan.Date:
			out[o.Key] = calendar.DateOf(l.h.clock).String()
		case o.Kind == plan.Money: // what it really cost is a little more or less
			out[o.Key] = l.state.Price.Once.Portion(big.NewRat(int64(94+l.h.random.IntN(14)), 100)).Decimal()
		case o.Kind == plan.Number:
			out[o.Key] = "1"
		default:
			out[o.Key] = fmt.Sprintf("QB-%d", 30_000+l.h.random.IntN(60_000))
		}
	}
	return out
}

// accept lets the asker look at what was delivered: they confirm it, send it back, or say
// nothing.
func (l *life) accept() {
	h := l.h
	if l.set["accepted"] || h.chance(0.4) {
		l.set["accepted"] = true
		return
	}
	l.set["accepted"] = true
	l.soon("accept", h.after(h.company.HoursOf(l.state.Asker), h.random.ExpFloat64()*5), func() {
		if h.chance(0.05) && len(l.state.Backs) == 0 {
			delete(l.set, "accepted")
			l.do(l.state.Asker, request.SendBack{Text: "It is not what I asked for: the name on it is not mine."})
			return
		}
		l.do(l.state.Asker, request.Confirm{})
	})
}

// opinions are what askers think of how it went, by offering: of the usual kind where nothing
// is said.
var opinions = map[string]struct {
	middle float64
	words  []string
}{
	"shared-mailbox": {2.2, []string{"Nobody said for days where it was.", "I had to ask three times whether anybody was on it.", "It came without a word, and I found it by chance.", "For a week I heard nothing at all."}},
	"":               {4.3, []string{"", "", "Quick and friendly.", "All as I asked for.", ""}},
}

// rate lets some say what they think.
func (l *life) rate() {
	h := l.h
	if l.state.Outcome != request.Fulfilled || !h.chance(0.35) {
		return
	}
	of, special := opinions[l.state.Offering]
	if !special {
		of = opinions[""]
	}
	stars := max(1, min(5, int(of.middle+h.random.NormFloat64()*0.8+0.5)))
	text := of.words[h.random.IntN(len(of.words))]
	l.soon("rate", h.after(h.company.HoursOf(l.state.Asker), h.random.ExpFloat64()*6), func() {
		l.do(l.state.Asker, request.Rate{Stars: stars, Text: text})
	})
}

// nameParts are the first name of somebody, and the rest.
func nameParts(name string) [2]string {
	first, rest, _ := strings.Cut(name, " ")
	return [2]string{first, rest}
}
