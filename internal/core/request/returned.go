package request

import (
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rule"
)

// resubmit takes the asker's answer to a question. What was decided on facts
// that stayed is kept.
func (t *transition) resubmit(c Resubmit) error {
	s := &t.state
	switch {
	case s.Asker != t.facts.Actor && (c.Answers != nil || !t.side()):
		return notYours("Only %s can change this.", t.facts.Company.Name(s.Asker))
	case s.Status != Returned:
		return conflict(refusal.NotReturned, "Nobody waits for an answer of yours.")
	}
	return t.answered(c, nil)
}

// answered takes in what the asker's side answers, itself or by staff who heard it.
func (t *transition) answered(c Resubmit, heard *Heard) error {
	s, o := &t.state, t.facts.Offering
	if c.Answers == nil {
		c.Answers = maps.Clone(s.Answers)
		maps.Copy(c.Answers, t.facts.Private)
	}
	t.base = nil
	parties := t.parties(s.For)
	result, refused := t.evaluate(c.Answers, c.Slip, parties)
	if refused != nil {
		return refused
	}
	kept := result.Kept()
	before := maps.Clone(s.Answers)
	maps.Copy(before, t.facts.Private)
	a := t.compared(before, kept, result.Price, o.LadderFacts(parties, kept, result.Price, t.facts.Service, t.facts.Now))
	reply := strings.TrimSpace(c.Reply)
	if reply == "" && len(a.changed) == 0 {
		return missing("/reply", "Answer the question, or change what you asked for.")
	}
	rungs, err := t.rungs(result, parties)
	if err != nil {
		return &Refusal{Kind: Invalid, Code: refusal.NobodyDecides, Sentence: "This cannot be sent yet: " + err.Error() + "."}
	}
	for i := range rungs {
		for _, old := range s.Rungs {
			if old.Key == rungs[i].Key {
				t.keep(&rungs[i], old, a)
			}
		}
	}
	kept, private := t.privately(kept)
	t.emit(Resubmitted{
		Private: private, Reply: reply, Title: o.Title(result.Values, o.Show(kept, parties.Facts())), Answers: kept, Price: result.Price,
		Rungs: rungs, Promise: t.promisedAgain(result.Values), Named: named(kept, t.belongings()), Present: result.Presents(), Changed: a.changed, Heard: heard,
	})
	t.climb()
	return nil
}

// hear takes an answer that staff enter in the words of who said it.
func (t *transition) hear(c Hear) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	task, ok := t.state.Task(c.Task)
	theirs := t.state.Question != nil && t.state.Question.By == t.facts.Actor
	if ok {
		theirs = t.facts.Company.InTeam(t.facts.Actor, task.Team)
	}
	switch {
	case !theirs && !v.Owner && !v.HomeLead:
		return notYours("Only who asked, their team, or who leads the service can enter an answer.")
	case ok && task.State != plan.Asking, !ok && t.state.Status != Returned:
		return conflict(refusal.NotAsked, "No question waits for an answer.")
	case c.From != t.state.Asker && c.From != t.state.Beneficiary() || c.From == "":
		return &Refusal{Kind: Invalid, Code: refusal.WhoSaid, Sentence: "Say who answered: who asks, or who it is for.", Place: "/from"}
	case c.At.IsZero() || c.At.After(t.facts.Now) || c.At.Before(t.state.Stages["submitted"].Truncate(time.Minute)):
		return &Refusal{Kind: Invalid, Code: refusal.WhenSaid, Sentence: "Say when it was answered: after it was sent, and not later than now.", Place: "/at"}
	}
	text, err := reason(c.Text, "/text", "Write what was answered.")
	if err != nil {
		return err
	}
	how := strings.TrimSpace(c.How)
	if how == "" {
		how = "phone"
	}
	heard := &Heard{c.From, c.At.UTC().Truncate(time.Second), how}
	if ok {
		t.emit(AskerAnswered{Task: c.Task, Text: text, Heard: heard})
		return nil
	}
	return t.answered(Resubmit{Reply: text}, heard)
}

// promisedAgain is the promise for changed answers; a clock that has started
// goes on.
func (t *transition) promisedAgain(values rule.Values) *promise.Promised {
	next := t.facts.Offering.Promise.Promised(values, t.state.Stages["submitted"])
	if old := t.state.Promise; next != nil && old != nil && next.From.IsZero() {
		next.From = old.From
	}
	return next
}

// answered are the answers before and after a question back, as far as they say
// what is asked again.
type answered struct {
	changed []string // keys of the questions answered differently
	more    []string // of these the picks to which something was added, or made dearer
	price   price.Price
	facts   ladder.Facts
}

// compared says what changed between two sets of answers. Picks count as the
// price does, and the table that shares the price only through the shares.
func (t *transition) compared(before, after form.Answers, next price.Price, facts ladder.Facts) answered {
	o := t.facts.Offering
	a := answered{changed: before.Changed(after), price: next, facts: facts}
	for _, key := range a.changed {
		if o.Form.PicksMore(key, before[key], after[key]) {
			a.more = append(a.more, key)
		}
	}
	return a
}

// asksAgain reports whether the change of an answer asks those again who saw it.
func (t *transition) asksAgain(key string, a answered) bool {
	q, ok := t.facts.Offering.Form.Question(key)
	switch {
	case ok && q.Kind == form.Items:
		return slices.Contains(a.more, key)
	case key == t.facts.Offering.Form.CostCentres():
		return false
	}
	return true
}

// keep takes over what was said on a rung before, as far as the facts it was
// said on have stayed.
func (t *transition) keep(r *Rung, old Rung, a answered) {
	if len(old.Seats) == 0 {
		return
	}
	again := func(key string) bool {
		return (len(old.Facts) == 0 || slices.Contains(old.Facts, key)) && t.asksAgain(key, a)
	}
	if slices.ContainsFunc(a.changed, again) {
		return
	}
	seats, err := ladder.Seats(t.rungOf(r.Key), a.facts)
	if err != nil {
		return
	}
	for i, seat := range seats {
		if at := slices.IndexFunc(old.Seats, seat.Is); at >= 0 {
			seats[i] = old.Seats[at] // with whoever joined it
		}
	}
	r.Seats, r.Note = seats, ladder.Reduced(r.Quorum, seats)
	for _, seat := range seats {
		vote, filled := old.VoteFor(seat)
		if filled && (old.NoPrice || !rises(t.state.Price, a.price, seat.Part)) {
			vote.Part = seat.Part
			r.Votes = append(r.Votes, vote)
		}
	}
	if old.Outcome == ladder.Passed && r.stand() == ladder.Passed {
		r.Outcome, r.Opened, r.Times = ladder.Passed, old.Opened, old.Times
	}
}

// rises reports whether a price, or the part of it that a cost centre bears, is
// higher than before: once, monthly, yearly, or over the term. Shares that move
// without the whole rising are no rise of the whole.
func rises(old, next price.Price, part string) bool {
	a, b := old.Part(part), next.Part(part)
	if b.Once.Minor() > a.Once.Minor() || b.Monthly.Minor() > a.Monthly.Minor() || b.Yearly.Minor() > a.Yearly.Minor() {
		return true
	}
	before, after := a.Over(old.Months), b.Over(next.Months)
	return next.Months > 0 && after.Minor() > before.Minor()
}

func (t *transition) askBack(c AskBack) error {
	r, _, refused := t.seats(c.Rung)
	if refused != nil {
		return refused
	}
	text := strings.TrimSpace(c.Text)
	switch {
	case t.state.Urging != nil:
		return conflict(refusal.Urged, "Say yes or no to more urgency: the work goes on meanwhile.")
	case text == "":
		return missing("/text", "Write what you want to know.")
	}
	t.returnWith(AskedBack{Rung: c.Rung, Text: text, Open: t.meter().open(r.Opened)})
	return nil
}

func (t *transition) returnWith(back AskedBack) {
	back.Until = t.facts.Offering.Promise.AnswerBy(t.facts.Now)
	back.Remind = t.facts.Offering.Promise.Reminders(t.facts.Now, back.Until)
	t.emit(back)
}
