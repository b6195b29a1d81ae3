package rehearse

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// parties are who asks, and for whom, as rules may know them.
func (l *Life) parties() offering.Parties {
	return offering.Parties{Asker: l.asker, Beneficiary: l.whom, Belongings: l.had, Pools: l.pools, Company: l.Company, Known: l.ground.Known}
}

// Form works the form out with answers, as it was on sending.
func (l *Life) Form(answers form.Answers) form.Result {
	parties := l.parties()
	facts := parties.Facts()
	facts.Files = filesIn(l.Offering, answers)
	return l.Offering.Form.Evaluate(answers, l.Offering.Values(parties, l.Script.Send), facts)
}

// filesIn finds the files that answers name: each is as large, and of the kind, that they
// say.
func filesIn(c *offering.Compiled, answers form.Answers) func(id string) (form.Upload, bool) {
	return func(id string) (form.Upload, bool) {
		for _, q := range c.Document.Questions {
			for _, f := range form.FilesIn(q, answers[q.Key]) {
				if f.ID == id {
					return f, true
				}
			}
		}
		return form.Upload{}, false
	}
}

// shown lists the keys of the questions that were shown when it was sent, and of the others.
func (l *Life) shown() (shown, hidden []string) {
	shown, hidden = []string{}, []string{}
	for _, q := range l.Form(l.Script.Answers).Questions {
		if q.Shown {
			shown = append(shown, q.Key)
		} else {
			hidden = append(hidden, q.Key)
		}
	}
	return shown, hidden
}

// because says of an event which rule of the offering made it so, and what that was worked
// out from.
func (w *reporting) because(out *Event, e request.Event, s *request.State) {
	at := func(side string, i int, more ...any) string { return finding.At(append([]any{side, i}, more...)...) }
	switch b := e.Body.(type) {
	case request.Submitted:
		out.Place = "/questions"
	case request.RungOpened:
		out.Rung = b.Rung
		i := slices.IndexFunc(w.Offering.Document.Ladder, func(r ladder.Rung) bool { return r.Key == b.Rung })
		if i < 0 {
			return
		}
		out.Place = at("ladder", i)
		var reasons []string
		if when := strings.TrimSpace(w.Offering.Document.Ladder[i].When); when != "" {
			reasons = append(reasons, "It is needed, as this holds: "+when+".")
		}
		for _, seat := range b.Seats {
			reasons = append(reasons, w.Company.Name(seat.Person)+": "+seat.Reason+".")
		}
		out.Why = strings.Join(reasons, " ")
	case request.RungEnded:
		out.Rung, out.Why = b.Rung, b.Reason
	case request.Voted:
		out.Rung = b.Rung
	case request.AskedBack:
		out.Rung = b.Rung
	case request.TaskReady:
		out.Task = b.Task
		t, _ := s.Task(b.Task)
		i := w.indexOf(t)
		if i < 0 {
			return
		}
		out.Place = at("plan", i)
		out.Why = w.readyWhy(t, w.Offering.Document.Plan[i])
	case request.TaskSkipped:
		out.Task = b.Task
		t, _ := s.Task(b.Task)
		if i := w.indexOf(t); i >= 0 {
			out.Place = at("plan", i, "when")
			if when := w.Offering.Document.Plan[i].When; when != "" && b.Reason == "" {
				out.Why = "It is not needed, as this does not hold: " + when + "."
			}
		}
	case request.TaskStuck:
		out.Task = b.Task
		t, _ := s.Task(b.Task)
		if i := w.indexOf(t); i >= 0 {
			out.Place = at("plan", i, "rescue")
		}
	case request.MarkReached:
		out.Place = "/promise/marks"
		if i := slices.IndexFunc(w.Offering.Document.Promise.Marks, func(m promise.Mark) bool { return m.Share == b.Share }); i >= 0 {
			out.Place = finding.At("promise", "marks", i)
		}
		out.Why = fmt.Sprintf("%d %% of the promised time were used: %s, of what is left %s.", b.Share, lasting(b.Used), lasting(b.Left))
	case request.DueSet:
		out.Place = "/promise/targets"
		out.Why = "Due on " + w.clock(b.Due) + "."
		if p := s.Promise; p != nil && p.Fulfilment != "" {
			out.Why = fmt.Sprintf("%s of open time from %s: due on %s.", words(p.Fulfilment), w.clock(p.From), w.clock(b.Due))
		}
	case request.RequestClosed:
		out.Place = "/promise"
		if b.Silent {
			out.Place = "/promise/confirmWithin"
		}
	}
}

// indexOf is the place of a task in the plan; -1 when it is not of the plan.
func (w *reporting) indexOf(t *request.Task) int {
	if t == nil {
		return -1
	}
	return slices.IndexFunc(w.Offering.Document.Plan, func(of plan.Task) bool { return of.Key == t.Of })
}

// readyWhy says why a task began, with whom it is, and when it is due.
func (w *reporting) readyWhy(t *request.Task, of plan.Task) string {
	var said []string
	if waited := t.Waits(); len(waited) > 0 {
		var names []string
		for _, key := range waited {
			if before, there := w.State.Task(key); there {
				names = append(names, before.Name)
			}
		}
		said = append(said, "It waited for "+strings.Join(names, ", ")+".")
	}
	if when := strings.TrimSpace(of.When); when != "" {
		said = append(said, "It is needed, as this holds: "+when+".")
	}
	if i := routed(of, t.Team); i >= 0 {
		said = append(said, fmt.Sprintf("It goes to %s by route %d: %s.", w.Company.TeamName(t.Team), i+1, of.Routes[i].When))
	}
	if due := of.Due; due != nil && !t.Due.IsZero() {
		said = append(said, fmt.Sprintf("Due on %s: %s.", w.clock(t.Due), w.dueWords(*due, t.Team)))
	}
	return strings.Join(said, " ")
}

// routed is the number of the route by which a task of the plan came to a team; -1 for none.
func routed(of plan.Task, team string) int {
	if team == of.Team {
		return -1
	}
	return slices.IndexFunc(of.Routes, func(r plan.Route) bool { return r.Team == team })
}

// dueWords say from what a due time was worked out.
func (w *reporting) dueWords(due plan.Due, team string) string {
	from := due.Of
	if due.Task != "" {
		from = "the end of " + due.Task
		if of, there := w.Offering.Plan.Task(due.Task); there {
			from = "the end of " + of.Name
		}
	}
	switch {
	case from == "":
		return fmt.Sprintf("%s of the open time of %s from when it was ready", words(due.Within), w.Company.TeamName(team))
	case due.Days < 0:
		from = fmt.Sprintf("%d working days before %s", -due.Days, from)
	case due.Days > 0:
		from = fmt.Sprintf("%d working days after %s", due.Days, from)
	default:
		from = "on the day of " + from
	}
	if due.At != "" {
		return from + ", at " + due.At
	}
	return from + ", at the close of the day"
}

// words put a length into words.
func words(length string) string {
	l, err := calendar.ParseLength(length)
	if err != nil {
		return length
	}
	return l.Words()
}

func lasting(ms int64) string {
	return calendar.Length{Open: (time.Duration(ms) * time.Millisecond).Truncate(time.Minute)}.Words()
}

// clock tells an instant on the wall clock of the promise.
func (w *reporting) clock(at time.Time) string {
	return at.In(w.Offering.Promise.Zone()).Format("Monday 2 January 2006, 15:04")
}
