package request

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// rungs are those a request with some answers must climb, still closed. It is
// an error when nobody can be found for one of them.
func (t *turn) rungs(result form.Result, parties offering.Parties) ([]Rung, error) {
	o := t.facts.Offering
	facts := o.LadderFacts(parties, result.Kept(), result.Price, t.facts.Service, t.facts.Now)
	needed := o.Ladder.Needed(result.Values)
	rungs := make([]Rung, len(needed))
	for i, r := range needed {
		if _, err := ladder.Seats(r, facts); err != nil {
			return nil, err
		}
		say, err := o.Ladder.Say(r.Key, result.Values, o.Show(result.Kept(), parties.Facts()))
		if err != nil {
			say = r.Say // a faulty placeholder must not stop a decision
		}
		rungs[i] = Rung{
			Key: r.Key, Name: r.Name, Quorum: r.Quorum, Facts: r.Facts, NoPrice: r.NoPrice, Say: say,
			Outcome: ladder.Open, Seats: []ladder.Seat{}, Votes: []Vote{},
		}
	}
	return rungs, nil
}

// ladderFacts are what approvers are found from after sending.
func (t *turn) ladderFacts() ladder.Facts {
	return t.facts.Offering.LadderFacts(t.parties(t.state.For), t.state.Answers, t.state.Price, t.facts.Service, t.facts.Now)
}

// climb opens the next rung, or goes on with it; after the last the work is
// planned.
func (t *turn) climb() {
	for i := range t.state.Rungs {
		r := t.state.Rungs[i]
		if r.Outcome == ladder.Passed {
			continue
		}
		t.ask(r, i)
		if !t.endRung(r.Key) {
			return
		}
	}
	t.emit(Decided{From: t.facts.Offering.Promise.Decided(t.state.Promise, t.facts.Now)})
	t.plan()
}

// ask opens a rung. Seats and votes that stayed through a question back are
// kept.
func (t *turn) ask(r Rung, at int) {
	rung := t.rungOf(r.Key)
	times := rung.Times(t.facts.Now, t.facts.Offering.Promise.Calendar())
	if len(r.Seats) > 0 {
		t.emit(RungResumed{r.Key, r.Name, times})
	} else {
		seats, err := ladder.Seats(rung, t.ladderFacts())
		note := ladder.Reduced(r.Quorum, len(seats))
		if err != nil { // it waits: somebody may come, or it expires
			seats, note = []ladder.Seat{}, err.Error()
		}
		t.emit(RungOpened{Rung: r.Key, Name: r.Name, Seats: seats, Times: times, Note: note})
	}
	if rung.Afresh {
		return
	}
	for _, seat := range t.state.Rungs[at].Seats {
		if _, filled := t.state.rung(r.Key).VoteFor(seat.Person); filled {
			continue
		}
		for _, person := range seat.Deciders() {
			if _, voted := t.state.rung(r.Key).VoteOf(person); !voted && t.approvedBefore(at, person) {
				t.emit(Voted{Rung: r.Key, Seat: seat.Person, Decision: Approve, Person: person, Carried: true})
				break
			}
		}
	}
}

func (t *turn) rungOf(key string) ladder.Rung {
	for _, r := range t.facts.Offering.Document.Ladder {
		if r.Key == key {
			return r
		}
	}
	panic("the version of the request has no rung " + key)
}

// approvedBefore tells whether a person approved on an earlier rung, and not
// only a part.
func (t *turn) approvedBefore(rung int, person string) bool {
	for _, r := range t.state.Rungs[:rung] {
		v, ok := r.VoteOf(person)
		part := slices.ContainsFunc(r.Seats, func(s ladder.Seat) bool { return s.Person == v.Seat && s.Part != "" })
		if ok && v.Decision == Approve && !part {
			return true
		}
	}
	return false
}

// endRung ends a rung whose quorum is reached or cannot be; it tells whether
// the rung is passed.
func (t *turn) endRung(key string) bool {
	r := t.state.rung(key)
	if len(r.Seats) == 0 {
		return false // nobody could be asked yet; it is never passed in silence
	}
	approvals, declines := r.count()
	outcome := ladder.Stand(r.Quorum, len(r.Seats), approvals, declines)
	if outcome != ladder.Open {
		t.emit(RungEnded{Rung: key, Outcome: outcome})
	}
	return outcome == ladder.Passed
}

// goOn follows a rung that may have ended.
func (t *turn) goOn(key string) {
	switch t.state.rung(key).Outcome {
	case ladder.Passed:
		t.climb()
	case ladder.Declined:
		t.emit(RequestClosed{Outcome: Declined})
	}
}

// seat finds the open rung that a command names, and the actor's seat on it.
func (t *turn) seat(rung string) (*Rung, ladder.Seat, *Refusal) {
	r, open := t.state.OpenRung()
	switch {
	case t.state.Status == Closed && t.state.Outcome == Withdrawn:
		return nil, ladder.Seat{}, conflict("withdrawn", "This request was taken back by %s.", t.facts.Company.Name(t.state.Asker))
	case !open:
		return nil, ladder.Seat{}, conflict("decided", "There is nothing to decide on this request any more.")
	case r.Key != rung:
		return nil, ladder.Seat{}, conflict("otherRung", "The decision now open is %q.", r.Name)
	}
	seat, mine := r.SeatFor(t.facts.Actor)
	if !mine {
		for _, s := range r.Seats {
			if v, filled := r.VoteFor(s.Person); filled && s.May(t.facts.Actor) {
				return nil, s, conflict("filled", "%s has decided this already.", t.facts.Company.Name(v.Person))
			}
		}
		return nil, seat, notYours("This decision is not yours.")
	}
	if t.facts.Actor == t.state.Asker || t.facts.Actor == t.state.Beneficiary() {
		return nil, seat, notYours("Nobody decides on their own request.")
	}
	if t.state.Status == Returned {
		return nil, seat, conflict("returned", "This waits for an answer of %s.", t.facts.Company.Name(t.state.Asker))
	}
	return r, seat, nil
}

func missing(place, sentence string) *Refusal {
	return &Refusal{Kind: Invalid, Code: "reasonNeeded", Sentence: sentence, Place: place}
}

func (t *turn) decide(c Decide) error {
	r, seat, refused := t.seat(c.Rung)
	if refused != nil {
		return refused
	}
	reason := strings.TrimSpace(c.Reason)
	if c.Decision == Decline && reason == "" {
		return missing("/reason", "Say why you decline: the asker will read it.")
	}
	if before, voted := r.VoteOf(t.facts.Actor); voted && before.Decision == c.Decision && before.Reason == reason {
		return conflict("votedAlready", "You have decided so already.")
	}
	if c.Decision == Decline && t.rungOf(c.Rung).SendBack {
		t.returnWith(c.Rung, reason)
		return nil
	}
	t.emit(Voted{Rung: r.Key, Seat: seat.Person, Decision: c.Decision, Reason: reason, Person: t.facts.Actor})
	t.endRung(c.Rung)
	t.goOn(c.Rung)
	return nil
}

func (t *turn) askBack(c AskBack) error {
	_, _, refused := t.seat(c.Rung)
	if refused != nil {
		return refused
	}
	text := strings.TrimSpace(c.Text)
	if text == "" {
		return missing("/text", "Write what you want to know.")
	}
	t.returnWith(c.Rung, text)
	return nil
}

func (t *turn) returnWith(rung, text string) {
	t.emit(AskedBack{Rung: rung, Text: text, Until: t.facts.Offering.Promise.AnswerBy(t.facts.Now)})
}

func (t *turn) passOn(c PassOn) error {
	r, seat, refused := t.seat(c.Rung)
	if refused != nil {
		return refused
	}
	if _, voted := r.VoteOf(t.facts.Actor); voted {
		return conflict("votedAlready", "You have decided on this already.")
	}
	reason := strings.TrimSpace(c.Reason)
	if reason == "" {
		return missing("/reason", "Say why you pass it on.")
	}
	to, ok := t.facts.Company.Person(c.To)
	refuse := func(format string, args ...any) error {
		return &Refusal{Kind: Invalid, Code: "passTo", Sentence: fmt.Sprintf(format, args...), Place: "/to"}
	}
	_, absent := t.facts.Company.Absence(c.To, t.facts.Now)
	switch {
	case !ok || to.Away:
		return refuse("Choose a person of the company.")
	case to.ID == t.state.Asker || to.ID == t.state.Beneficiary():
		return refuse("%s cannot decide on their own request.", to.Name)
	case slices.Contains(r.deciders(), to.ID):
		return refuse("%s decides on this already.", to.Name)
	case absent:
		return refuse("%s is absent.", to.Name)
	}
	t.emit(SeatJoined{r.Key, seat.Person, ladder.Other{Person: to.ID, As: ladder.PassedOn, Reason: reason, Instead: t.facts.Actor}})
	return nil
}

func (t *turn) follow(c Follow) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	p, ok := t.facts.Company.Person(c.Person)
	switch {
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict("notNow", "Nobody can be added now.")
	case !v.Asker && !v.Receiver && !v.Owner:
		return notYours("Only %s, or the owner of the service, can add somebody.", t.facts.Company.Name(t.state.Asker))
	case !ok || p.Away:
		return &Refusal{Kind: Invalid, Code: "nobody", Sentence: "Choose a person of the company.", Place: "/person"}
	case slices.Contains(t.state.Followers, c.Person) || c.Person == t.state.Asker:
		return conflict("follows", "%s hears of it already.", p.Name)
	case len(t.state.Followers) >= mostFollowers:
		return conflict("tooMany", "At most %d people can follow one request.", mostFollowers)
	}
	t.emit(Followed(c))
	return nil
}

const mostFollowers = 50

func (t *turn) unfollow(c Unfollow) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !slices.Contains(t.state.Followers, c.Person):
		return conflict("followsNot", "They do not follow this.")
	case c.Person != t.facts.Actor && !v.Asker && !v.Receiver && !v.Owner:
		return notYours("Only they themselves, %s, or the owner of the service can end this.", t.facts.Company.Name(t.state.Asker))
	}
	t.emit(Unfollowed(c))
	return nil
}

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
		c.Answers = s.Answers
	}
	t.base = nil
	parties := t.parties(s.For)
	result, refused := t.evaluate(c.Answers, c.Slip, parties)
	if refused != nil {
		return refused
	}
	kept := result.Kept()
	changed := changes(s.Answers, kept)
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
	t.emit(Resubmitted{
		Reply: reply, Title: o.Title(result.Values, o.Show(kept, parties.Facts())), Answers: kept, Price: result.Price,
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

// rungTick is when something falls due by itself on the way to a decision; zero
// when nothing does.
func (s *State) rungTick() time.Time {
	if s.Status == Returned {
		return s.Question.Until
	}
	r, open := s.OpenRung()
	if !open {
		return time.Time{}
	}
	for _, reminder := range r.Times.Remind {
		if reminder.Share > r.Told {
			return reminder.At
		}
	}
	if r.Told < 100 && !r.Times.Limit.IsZero() {
		return r.Times.Limit
	}
	return r.Times.Expire
}

// tick does what has fallen due. Nothing that is due is no refusal: a timer
// that was put off may still come.
func (t *turn) tick() error {
	due := func(at time.Time) bool { return !at.IsZero() && !at.After(t.facts.Now) }
	if t.state.Status == Returned {
		if due(t.state.Question.Until) {
			t.emit(RequestClosed{Outcome: Expired, Reason: "Nobody answered the question in time."})
			return nil
		}
		return conflict("notDue", "Nothing is due.")
	}
	r, open := t.state.OpenRung()
	if !open {
		return t.tickTasks()
	}
	if !due(t.state.rungTick()) {
		return conflict("notDue", "Nothing is due.")
	}
	if due(r.Times.Expire) && (r.Told == 100 || r.Times.Limit.IsZero()) { // the limit comes first, after an outage too
		t.emit(RequestClosed{Outcome: Expired, Reason: fmt.Sprintf("Nobody decided %q in time.", r.Name)})
		return nil
	}
	var passed []int
	for _, reminder := range r.Times.Remind {
		if reminder.Share > r.Told && due(reminder.At) {
			passed = append(passed, reminder.Share)
		}
	}
	if due(r.Times.Limit) && r.Told < 100 {
		return t.limit(r, passed)
	}
	last := len(passed) - 1
	t.emit(RungReminded{r.Key, passed[last], passed[:last]})
	return nil
}

// limit does what happens when nobody decided within the limit of a rung.
func (t *turn) limit(r *Rung, passed []int) error {
	key, rung := r.Key, t.rungOf(r.Key)
	within := "the time set"
	if words := rung.LimitWords(); words != "" {
		within = words
	}
	switch rung.Then {
	case ladder.Approve:
		t.emit(RungEnded{key, ladder.Passed, "Nobody said no within " + within + "."})
		t.goOn(key)
		return nil
	case ladder.Decline:
		t.emit(RungEnded{key, ladder.Declined, "Nobody said yes within " + within + "."})
		t.goOn(key)
		return nil
	}
	t.emit(RungReminded{key, 100, passed})
	if rung.Then == ladder.Escalate {
		facts := t.ladderFacts()
		for _, seat := range t.state.rung(key).Seats {
			if _, filled := t.state.rung(key).VoteFor(seat.Person); filled {
				continue
			}
			if other, ok := ladder.Escalation(seat.Person, t.state.rung(key).deciders(), facts); ok {
				other.Reason += ", as nobody decided within " + within
				t.emit(SeatJoined{key, seat.Person, other})
			}
		}
	}
	return nil
}

// relieve asks somebody else where nobody who is asked can decide.
func (t *turn) relieve() error {
	r, open := t.state.OpenRung()
	if !open {
		return conflict("decided", "There is nothing to decide on this request any more.")
	}
	key, facts := r.Key, t.ladderFacts()
	before := len(t.events)
	if len(r.Seats) == 0 {
		if seats, err := ladder.Seats(t.rungOf(key), facts); err == nil {
			t.emit(RungOpened{Rung: key, Name: r.Name, Seats: seats, Times: r.Times, Note: ladder.Reduced(r.Quorum, len(seats))})
		}
	}
	for _, seat := range t.state.rung(key).Seats {
		if _, filled := t.state.rung(key).VoteFor(seat.Person); filled {
			continue
		}
		if other, ok := ladder.Relief(seat, t.state.rung(key).deciders(), facts); ok {
			t.emit(SeatJoined{key, seat.Person, other})
		}
	}
	if len(t.events) == before {
		return conflict("nothingToDo", "Everybody who is asked can decide.")
	}
	return nil
}
