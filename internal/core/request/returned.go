package request

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// resubmit takes the asker's answer to a question. What was decided on facts
// that stayed is kept.
func (t *turn) resubmit(c Resubmit) error {
	s, o := &t.state, t.facts.Offering
	switch {
	case s.Asker != t.facts.Actor:
		return notYours("Only %s can answer this.", t.facts.Company.Name(s.Asker))
	case s.Status != Returned:
		return conflict("notReturned", "Nobody waits for an answer of yours.")
	}
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
	changed := changes(before, kept)
	reply := strings.TrimSpace(c.Reply)
	if reply == "" && len(changed) == 0 {
		return missing("/reply", "Answer the question, or change what you asked for.")
	}
	rungs, err := t.rungs(result, parties)
	if err != nil {
		return &Refusal{Kind: Invalid, Code: "nobodyDecides", Sentence: "This cannot be sent yet: " + err.Error() + "."}
	}
	facts := o.LadderFacts(parties, kept, result.Price, t.facts.Service, t.facts.Now)
	for i := range rungs {
		for _, old := range s.Rungs {
			if old.Key == rungs[i].Key {
				t.keep(&rungs[i], old, changed, result.Price, facts)
			}
		}
	}
	kept, private := t.privately(kept)
	t.emit(Resubmitted{
		Private: private, Reply: reply, Title: o.Title(result.Values, o.Show(kept, parties.Facts())), Answers: kept, Price: result.Price,
		Rungs: rungs, Promise: t.promisedAgain(result.Values), Held: named(kept, t.belongings()), Present: result.Presents(), Changed: changed,
	})
	t.climb()
	return nil
}

// promisedAgain is the promise for changed answers; a clock that has started
// goes on.
func (t *turn) promisedAgain(values rule.Values) *promise.Promised {
	next := t.facts.Offering.Promise.Promised(values, t.state.Stages["submitted"])
	if old := t.state.Promise; next != nil && old != nil && next.From.IsZero() {
		next.From = old.From
	}
	return next
}

// changes lists the keys of the questions whose answers differ, in order.
func changes(old, next form.Answers) []string {
	var keys []string
	for key, value := range next {
		if plain(old[key]) != plain(value) {
			keys = append(keys, key)
		}
	}
	for key := range old {
		if _, still := next[key]; !still {
			keys = append(keys, key)
		}
	}
	slices.Sort(keys)
	return keys
}

// plain is an answer as it is stored, so that what was read back compares with
// what was just worked out.
func plain(answer any) string {
	data, err := json.Marshal(answer)
	if err != nil {
		return fmt.Sprint(answer)
	}
	var read any
	if json.Unmarshal(data, &read) != nil {
		return string(data)
	}
	return fmt.Sprint(read) // maps are printed in the order of their keys
}

// keep takes over what was said on a rung before, as far as the facts it was
// said on have stayed.
func (t *turn) keep(r *Rung, old Rung, changed []string, cost price.Price, facts ladder.Facts) {
	if len(old.Seats) == 0 {
		return
	}
	touched := func(key string) bool { return len(old.Facts) == 0 || slices.Contains(old.Facts, key) }
	if slices.ContainsFunc(changed, touched) {
		return
	}
	seats, err := ladder.Seats(t.rungOf(r.Key), facts)
	if err != nil {
		return
	}
	same := len(seats) == len(old.Seats)
	for _, seat := range seats {
		same = same && slices.ContainsFunc(old.Seats, func(s ladder.Seat) bool { return s.Person == seat.Person && s.Part == seat.Part })
	}
	if same {
		seats = old.Seats // with whoever joined them
	}
	for _, vote := range old.Votes {
		at := slices.IndexFunc(seats, func(s ladder.Seat) bool { return s.Person == vote.Seat })
		if at >= 0 && (old.NoPrice || !rises(t.state.Price, cost, seats[at].Part)) {
			r.Votes = append(r.Votes, vote)
		}
	}
	r.Seats, r.Note = seats, ladder.Reduced(r.Quorum, len(seats))
	if approvals, declines := r.count(); old.Outcome == ladder.Passed && ladder.Stand(r.Quorum, len(seats), approvals, declines) == ladder.Passed {
		r.Outcome, r.Opened, r.Times = ladder.Passed, old.Opened, old.Times
	}
}

// rises tells whether a price, or the part of it that a cost centre bears, is
// higher than before.
func rises(old, next price.Price, part string) bool {
	more := func(a, b price.Share) bool {
		return b.Once.Minor() > a.Once.Minor() || b.Monthly.Minor() > a.Monthly.Minor() || b.Yearly.Minor() > a.Yearly.Minor()
	}
	whole := func(p price.Price) price.Share {
		return price.Share{Once: p.Once, Monthly: p.Monthly, Yearly: p.Yearly}
	}
	if part == "" && more(whole(old), whole(next)) {
		return true
	}
	for _, share := range next.Shares {
		if part != "" && share.Name != part {
			continue
		}
		at := slices.IndexFunc(old.Shares, func(s price.Share) bool { return s.Payer == share.Payer && s.Name == share.Name })
		before := price.Share{}
		if at >= 0 {
			before = old.Shares[at]
		}
		if share.Payer == price.OfCostCentre && more(before, share) {
			return true
		}
	}
	return false
}
