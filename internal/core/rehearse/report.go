package rehearse

import (
	"cmp"
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// reporting writes a life down.
type reporting struct {
	*Life
	out Rehearsed
}

// Result writes a life down.
func (l *Life) Result() Rehearsed {
	w := &reporting{Life: l, out: Rehearsed{
		Format: Format, End: l.End, Why: l.Why, Until: l.Until.UTC(), Names: map[string]string{}, Teams: map[string]string{}, Events: []Event{}, Rungs: []Rung{}, Tasks: []Task{}, Forecasts: []Forecast{}, Held: []Held{},
		Messages: []Told{}, Calls: []Called{}, Refused: []NotDone{}, Children: []Rehearsed{},
	}}
	w.history()
	w.request()
	for i := range l.State.Rungs {
		w.out.Rungs = append(w.out.Rungs, w.rung(&l.State.Rungs[i]))
	}
	for i := range l.State.Tasks {
		w.out.Tasks = append(w.out.Tasks, w.task(&l.State.Tasks[i]))
	}
	w.promised()
	w.counts()
	for _, f := range l.Forecasts {
		w.out.Forecasts = append(w.out.Forecasts, Forecast{f.At.UTC(), f.Likely.UTC(), f.Sure.UTC()})
	}
	for _, m := range l.Messages {
		w.out.Messages = append(w.out.Messages, Told{m.At, w.login(m.To), m.Kind, m.Subject, m.Text, m.Rung, m.Task})
	}
	for _, c := range l.Calls {
		w.out.Calls = append(w.out.Calls, Called{c.At, c.Of.Connector, c.Of.Do, c.Task, c.Key, c.Inputs, c.Outputs, c.Undoes, c.Outcome})
	}
	for _, r := range l.Refused {
		done := NotDone{At: r.At, Code: r.Code, Sentence: r.Sentence, Details: r.Places}
		switch {
		case len(l.State.Reference) == 0:
			done.Line = new(int)
		case r.Line >= 0:
			line := r.Line + 1
			done.Line = &line
		}
		w.out.Refused = append(w.out.Refused, done)
	}
	for key, took := range l.Lengths {
		if w.out.Measured == nil {
			w.out.Measured = map[string]script.Length{}
		}
		w.out.Measured[key] = script.Lasting(took)
	}
	return w.out
}

// counts counts what there was.
func (w *reporting) counts() {
	w.out.Counts = Counts{Rungs: len(w.State.Rungs), Messages: len(w.Messages), Calls: len(w.Calls)}
	for _, t := range w.State.Tasks {
		if t.Team != "" {
			w.out.Teams[t.Team] = w.Company.TeamName(t.Team)
		}
		if t.State != plan.Skipped {
			w.out.Counts.Tasks++
		}
	}
}

// login gives somebody's login, and keeps their name.
func (w *reporting) login(id string) string {
	if id == "" {
		return ""
	}
	p, there := w.Company.Person(id)
	if !there {
		return id
	}
	w.out.Names[p.Login] = p.Name
	return p.Login
}

// history writes the events down, and who held it when.
func (w *reporting) history() {
	var state request.State
	steps := w.Steps
	for _, e := range w.Events {
		state.Apply(e)
		event := Event{At: e.At, By: w.login(e.Actor), Kind: e.Kind()}
		if entry, told := e.Told(&state, w.Company); told {
			event.Text, event.Said, event.Task = entry.Sentence, entry.Remark, entry.Task
		}
		w.because(&event, e, &state)
		w.out.Events = append(w.out.Events, event)
		if len(steps) > 0 && e.Seq == steps[0].Events {
			steps = steps[1:]
			w.held(&state, e.At)
		}
	}
}

// held notes with whom it lies from an instant on.
func (w *reporting) held(s *request.State, at time.Time) {
	who := holderNames(s, w.Service, w.Company)
	last := len(w.out.Held) - 1
	if last >= 0 && w.out.Held[last].From.Equal(at) { // for no time at all
		w.out.Held, last = w.out.Held[:last], last-1
	}
	if last >= 0 && w.out.Held[last].To == nil {
		w.out.Held[last].To = &at
	}
	if last >= 0 && slices.Equal(w.out.Held[last].Who, who) && w.out.Held[last].To.Equal(at) {
		w.out.Held[last].To = nil
		return
	}
	if len(who) > 0 {
		w.out.Held = append(w.out.Held, Held{From: at, Who: who})
	}
}

// holderNames are the names of those with whom a request lies, each once.
func holderNames(s *request.State, service people.Service, company *people.Directory) []string {
	var names []string
	for _, h := range s.Holders(service.Home) {
		name := company.TeamName(h.Team)
		switch {
		case h.Person != "":
			name = company.Name(h.Person)
		case h.System != "":
			name = "a system that does it by itself"
		case h.Pool != "":
			name = "the waiting list of " + h.Pool
		case h.Wait:
			name = "its time"
		}
		if name != "" && !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	return names
}

func (w *reporting) request() {
	s := &w.State
	w.out.Request = Requested{Status: s.Status, Outcome: s.Outcome, Why: s.Why, Title: s.Title, Answers: s.Answers, Price: priced(s.Price)}
	w.out.Request.Shown, w.out.Request.Hidden = w.shown()
	if s.Reference == "" {
		w.out.Request.Answers = w.Script.Answers
	}
}

func priced(p price.Price) Price {
	out := Price{Currency: p.Once.Currency(), Once: p.Once.Decimal(), Monthly: p.Monthly.Decimal(), Yearly: p.Yearly.Decimal(), Shares: []Share{}}
	if p.Term != nil {
		out.Term = p.Term.Decimal()
	}
	for _, s := range p.Shares {
		out.Shares = append(out.Shares, Share{s.Payer, s.Name, s.Once.Decimal(), s.Monthly.Decimal(), s.Yearly.Decimal()})
	}
	return out
}

func (w *reporting) rung(r *request.Rung) Rung {
	out := Rung{Key: r.Key, Name: r.Name, Outcome: r.Outcome, Opened: instant(r.Opened), Note: r.Note, Seats: []Seat{}}
	if r.Outcome != ladder.Open {
		for _, e := range w.Events {
			if b, ended := e.Body.(request.RungEnded); ended && b.Rung == r.Key {
				out.Closed = instant(e.At)
			}
		}
	}
	for _, seat := range r.Seats {
		view := Seat{Person: w.login(seat.Person), Part: seat.Part, Why: seat.Reason}
		by := ""
		if vote, filled := r.VoteFor(seat); filled {
			view.Vote, view.At, view.Reason, by = vote.Decision, instant(vote.At), vote.Reason, vote.Person
		} else if now := seat.DecidingNow(); len(now) > 0 {
			by = now[0]
		}
		if by != "" && by != seat.Person {
			view.For, view.Person = view.Person, w.login(by)
		}
		out.Seats = append(out.Seats, view)
	}
	return out
}

func (w *reporting) task(t *request.Task) Task {
	out := Task{
		Key: t.Key, Name: t.Name, Kind: t.Kind, Team: t.Team, Holder: w.login(t.Holder), State: t.State, After: t.After, Ready: instant(t.ReadyAt), Due: instant(t.Due),
		LatestStart: instant(w.Latest[t.Key]), Taken: instant(t.TakenAt), Ended: instant(t.EndedAt), Trouble: t.Trouble, Instructions: t.Instructions, Outputs: t.Outputs,
	}
	for _, a := range w.State.InWords(w.Offering, w.Company, t.Sight()) {
		out.Slice = append(out.Slice, Answer{a.Key, a.Label, cmp.Or(a.Text, map[bool]string{true: "kept apart"}[a.Private != ""])})
	}
	return out
}

// promised writes the clock of the promised delivery down, and how far the forecast at
// sending was off.
func (w *reporting) promised() {
	s := &w.State
	clock, timed := s.Fulfilment(w.Offering)
	if timed {
		r := clock.Read(w.Until)
		p := &Promise{Name: s.Promise.Name, Target: s.Promise.Fulfilment, Due: instant(r.Due), State: r.State, Used: script.Lasting(r.Used), Left: signed(r.Left), Pauses: []Pause{}, Marks: []Mark{}}
		if r.State == promise.Kept || r.State == promise.Missed {
			kept := r.State == promise.Kept
			p.Kept = &kept
		}
		if line := s.PromiseLine(w.Offering, nil, w.Until); line != nil {
			for _, pause := range line.Counted.Pauses {
				p.Pauses = append(p.Pauses, Pause{pause.From.UTC(), pause.Until, pause.Why})
			}
		}
		w.marks(p)
		w.out.Promise = p
	}
	for _, e := range w.Events {
		b, sent := e.Body.(request.Submitted)
		if !sent || b.Likely.IsZero() {
			continue
		}
		w.out.Sending = &Sending{Likely: b.Likely.UTC(), By80: b.Sure.UTC(), Was: instant(s.Stages["delivered"])}
		if at := s.Stages["delivered"]; !at.IsZero() {
			w.out.Sending.Off = signed(w.Offering.Promise.Calendar().Between(b.Likely, at))
		}
	}
}

// marks writes down whom each mark told.
func (w *reporting) marks(p *Promise) {
	for _, e := range w.Events {
		b, is := e.Body.(request.MarkReached)
		if !is {
			continue
		}
		mark := Mark{Clock: b.Clock, Share: b.Share, At: b.At.UTC(), Told: []string{}}
		for _, m := range w.Messages {
			if login := w.login(m.To); m.Event == e.Seq && !slices.Contains(mark.Told, login) {
				mark.Told = append(mark.Told, login)
			}
		}
		p.Marks = append(p.Marks, mark)
	}
}

// signed writes a length of open time that may be negative.
func signed(d time.Duration) string {
	if d < 0 {
		return "-" + script.Lasting(-d).String()
	}
	return script.Lasting(d).String()
}

// instant is nil for none.
func instant(at time.Time) *time.Time {
	if at.IsZero() {
		return nil
	}
	at = at.UTC()
	return &at
}
