package request

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
)

// rungs are those a request with some answers must climb, still closed. It is
// an error when nobody can be found for one of them.
func (t *transition) rungs(result form.Result, parties offering.Parties) ([]Rung, error) {
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
func (t *transition) ladderFacts() ladder.Facts {
	return t.facts.Offering.LadderFacts(t.parties(t.state.For), t.state.Answers, t.state.Price, t.facts.Service, t.facts.Now)
}

// climb opens the next rung, or goes on with it; after the last the work is
// planned.
func (t *transition) climb() {
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
	if t.state.Urging != nil {
		t.urged(true)
		return
	}
	t.emit(Decided{From: t.facts.Offering.Promise.Decided(t.state.Promise, t.facts.Now)})
	t.tasks().plan()
}

// ask opens a rung. Seats and votes that stayed through a question back are
// kept.
func (t *transition) ask(r Rung, at int) {
	rung := t.rungOf(r.Key)
	times := rung.Times(t.facts.Now, t.facts.Offering.Promise.Calendar())
	if len(r.Seats) > 0 {
		t.emit(RungResumed{r.Key, r.Name, times})
	} else {
		seats, err := ladder.Seats(rung, t.ladderFacts())
		note := ladder.Reduced(r.Quorum, seats)
		if err != nil { // it waits: somebody may come, or it expires
			seats, note = []ladder.Seat{}, err.Error()
		}
		t.emit(RungOpened{Rung: r.Key, Name: r.Name, Seats: seats, Times: times, Note: note})
	}
	if rung.Afresh {
		return
	}
	for _, seat := range t.state.Rungs[at].Seats {
		if _, filled := t.state.rung(r.Key).VoteFor(seat); filled {
			continue
		}
		for _, person := range seat.Deciders() {
			_, voted := t.state.rung(r.Key).VoteOf(person)
			if (!voted || seat.Part != "") && t.approvedBefore(at, person) {
				t.emit(Voted{Rung: r.Key, Seat: seat.Person, Part: seat.Part, Decision: Approve, Person: person, Carried: true})
				break
			}
		}
	}
}

func (t *transition) rungOf(key string) ladder.Rung {
	for _, r := range t.facts.Offering.Document.Ladder {
		if r.Key == key {
			return r
		}
	}
	panic("the version of the request has no rung " + key)
}

// approvedBefore reports whether a person approved on an earlier rung, and not
// only a part.
func (t *transition) approvedBefore(rung int, person string) bool {
	for _, r := range t.state.Rungs[:rung] {
		for _, v := range r.Votes {
			if v.Person == person && v.Decision == Approve && r.hasWhole(v.Seat) && v.Part == "" {
				return true
			}
		}
	}
	return false
}

// endRung ends a rung whose quorum is reached or cannot be; it reports whether
// the rung is passed.
func (t *transition) endRung(key string) bool {
	r := t.state.rung(key)
	if len(r.Seats) == 0 {
		return false // nobody could be asked yet; it is never passed in silence
	}
	outcome := r.stand()
	if outcome != ladder.Open {
		t.emit(RungEnded{Rung: key, Outcome: outcome, Open: t.meter().open(r.Opened)})
	}
	return outcome == ladder.Passed
}

// goOn follows a rung that may have ended.
func (t *transition) goOn(key string) {
	switch t.state.rung(key).Outcome {
	case ladder.Passed:
		t.climb()
	case ladder.Declined:
		if t.state.Urging != nil {
			t.urged(false)
			return
		}
		t.close(RequestClosed{Outcome: Declined})
	}
}

// seats finds the open rung that a command names, and the actor's seats on it.
func (t *transition) seats(rung string) (*Rung, []ladder.Seat, *Refusal) {
	r, open := t.state.OpenRung()
	switch {
	case t.state.Status == Closed && t.state.Outcome == Withdrawn:
		return nil, nil, conflict(refusal.Withdrawn, "This request was taken back by %s.", t.facts.Company.Name(t.state.Asker))
	case !open:
		return nil, nil, conflict(refusal.Decided, "There is nothing to decide on this request any more.")
	case r.Key != rung:
		return nil, nil, conflict(refusal.OtherRung, "The decision now open is %q.", r.Name)
	}
	mine := r.SeatsFor(t.facts.Actor)
	if len(mine) == 0 {
		for _, s := range r.Seats {
			if v, filled := r.VoteFor(s); filled && s.May(t.facts.Actor) {
				return nil, nil, conflict(refusal.Filled, "%s has decided this already.", t.facts.Company.Name(v.Person))
			}
		}
		return nil, nil, notYours("This decision is not yours.")
	}
	if t.facts.Actor == t.state.Asker || t.facts.Actor == t.state.Beneficiary() {
		return nil, nil, notYours("Nobody decides on their own request.")
	}
	if t.state.Status == Returned {
		return nil, nil, conflict(refusal.Returned, "This waits for an answer of %s.", t.facts.Company.Name(t.state.Asker))
	}
	return r, mine, nil
}

func missing(place, sentence string) *Refusal {
	return &Refusal{Kind: Invalid, Code: refusal.ReasonNeeded, Sentence: sentence, Place: place}
}

func (t *transition) decide(c Decide) error {
	r, seats, refused := t.seats(c.Rung)
	if refused != nil {
		return refused
	}
	reason := strings.TrimSpace(c.Reason)
	if c.Decision == Decline && reason == "" {
		return missing("/reason", "Say why you decline: the asker will read it.")
	}
	again := func(s ladder.Seat) bool {
		before, voted := r.VoteFor(s)
		return voted && before.Decision == c.Decision && before.Reason == reason
	}
	seats = slices.DeleteFunc(seats, again)
	if len(seats) == 0 {
		return conflict(refusal.VotedAlready, "You have decided so already.")
	}
	if c.Decision == Decline && t.rungOf(c.Rung).SendBack && t.state.Urging == nil {
		t.returnWith(AskedBack{Rung: c.Rung, Text: reason, Declined: true, Parts: partsOf(seats), Open: t.meter().open(r.Opened)})
		return nil
	}
	for _, seat := range seats {
		t.emit(Voted{Rung: r.Key, Seat: seat.Person, Part: seat.Part, Decision: c.Decision, Reason: reason, Person: t.facts.Actor, Open: t.meter().open(r.Opened)})
	}
	t.endRung(c.Rung)
	t.goOn(c.Rung)
	return nil
}

// partsOf lists the cost centres whose shares some seats decide on.
func partsOf(seats []ladder.Seat) []string {
	var parts []string
	for _, s := range seats {
		if s.Part != "" {
			parts = append(parts, s.Part)
		}
	}
	return parts
}

func (t *transition) passOn(c PassOn) error {
	r, _, refused := t.seats(c.Rung)
	if refused != nil {
		return refused
	}
	seats := r.OpenSeatsFor(t.facts.Actor)
	if len(seats) == 0 {
		return conflict(refusal.VotedAlready, "You have decided on this already.")
	}
	reason := strings.TrimSpace(c.Reason)
	if reason == "" {
		return missing("/reason", "Say why you pass it on.")
	}
	to, ok := t.facts.Company.Person(c.To)
	refuse := func(format string, args ...any) error {
		return &Refusal{Kind: Invalid, Code: refusal.PassTo, Sentence: fmt.Sprintf(format, args...), Place: "/to"}
	}
	_, absent := t.facts.Company.Absence(c.To, t.facts.Now)
	why := t.passingTo(rungSeats{t.rungOf(c.Rung), seats}, to)
	switch {
	case !ok || to.Former:
		return refuse("Choose a person of the company.")
	case to.ID == t.state.Asker || to.ID == t.state.Beneficiary():
		return refuse("%s cannot decide on their own request.", to.Name)
	case slices.Contains(t.facts.Offering.NeverDecide(t.facts.Service), to.ID):
		return refuse("%s has designed this offering, and does not decide on what is sensitive in it.", to.Name)
	case slices.Contains(r.deciders(), to.ID):
		return refuse("%s decides on this already.", to.Name)
	case absent:
		return refuse("%s is absent.", to.Name)
	case why != "":
		return refuse("%s", why)
	}
	for _, seat := range seats {
		t.emit(SeatJoined{r.Key, seat.Person, seat.Part, ladder.Other{Person: to.ID, As: ladder.PassedOn, Reason: reason, Instead: t.facts.Actor}})
	}
	return nil
}

// rungSeats are seats of one rung.
type rungSeats struct {
	rung  ladder.Rung
	seats []ladder.Seat
}

// passingTo says why the actor cannot pass some seats on to somebody: beside or
// above whom they sit for, or themselves.
func (t *transition) passingTo(r rungSeats, to people.Person) string {
	facts := t.ladderFacts()
	actor, _ := t.facts.Company.Person(t.facts.Actor)
	for _, seat := range r.seats {
		approver, _ := t.facts.Company.Person(seat.Person)
		if slices.Contains(t.facts.Company.Managers(to.ID), approver.Login) {
			return r.rung.MayPassTo(approver, to, facts)
		}
		why := r.rung.MayPassTo(actor, to, facts)
		if why != "" && r.rung.MayPassTo(approver, to, facts) != "" {
			return why
		}
	}
	return ""
}

// PassTo says why somebody cannot pass their decision on a rung on to another;
// empty when they can.
func (s *State) PassTo(rung, to string, f Facts) string {
	r, open := s.OpenRung()
	if !open || r.Key != rung {
		return "There is nothing to pass on."
	}
	person, ok := f.Company.Person(to)
	if !ok || person.Former || to == s.Asker || to == s.Beneficiary() || slices.Contains(r.deciders(), to) {
		return "not now"
	}
	t := &transition{state: *s, facts: f}
	return t.passingTo(rungSeats{t.rungOf(rung), r.OpenSeatsFor(f.Actor)}, person)
}

// takeBackPassed takes a decision back that the actor has passed on.
func (t *transition) takeBackPassed(c TakeBack) error {
	r, open := t.state.OpenRung()
	if !open || r.Key != c.Rung {
		return conflict(refusal.Decided, "There is nothing to decide on this request any more.")
	}
	taken := false
	for _, p := range r.passed(t.facts.Actor) {
		if _, filled := r.VoteFor(p.seat); !filled {
			t.emit(SeatLeft{r.Key, p.seat.Person, p.seat.Part, p.to, true})
			taken = true
		}
	}
	if !taken {
		return conflict(refusal.NotPassed, "You have passed nothing on here, or it is decided.")
	}
	return nil
}

// passedOn is a seat that was passed on to somebody.
type passedOn struct {
	seat ladder.Seat
	to   string
}

// passed lists the seats that a person has passed on.
func (r *Rung) passed(by string) []passedOn {
	var all []passedOn
	for _, seat := range r.Seats {
		for _, o := range seat.Others {
			if o.Instead == by && !o.Left {
				all = append(all, passedOn{seat, o.Person})
			}
		}
	}
	return all
}

// unask takes back a question that the actor has asked.
func (t *transition) unask(c Unask) error {
	q := t.state.Question
	switch {
	case t.state.Status != Returned || q == nil || q.Rung != c.Rung:
		return conflict(refusal.NotReturned, "No question waits for an answer.")
	case q.By != t.facts.Actor:
		return notYours("Only %s can take this question back.", t.facts.Company.Name(q.By))
	}
	t.emit(QuestionDropped(c))
	r := t.state.rung(c.Rung)
	t.emit(RungResumed{r.Key, r.Name, t.rungOf(r.Key).Times(t.facts.Now, t.facts.Offering.Promise.Calendar())})
	return nil
}

func (t *transition) follow(c Follow) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	p, ok := t.facts.Company.Person(c.Person)
	switch {
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict(refusal.NotNow, "Nobody can be added now.")
	case t.facts.Actor != Program && !v.Asker && !v.Receiver && !v.Owner && !(c.Person == t.facts.Actor && v.SeesRequest()): // staff may follow what they see
		return notYours("Only %s, or the owner of the service, can add somebody.", t.facts.Company.Name(t.state.Asker))
	case !ok || p.Former:
		return &Refusal{Kind: Invalid, Code: refusal.Nobody, Sentence: "Choose a person of the company.", Place: "/person"}
	case slices.Contains(t.state.Followers, c.Person) || c.Person == t.state.Asker:
		return conflict(refusal.Follows, "%s hears of it already.", p.Name)
	case len(t.state.Followers) >= mostFollowers:
		return conflict(refusal.TooMany, "At most %d people can follow one request.", mostFollowers)
	}
	t.emit(Followed(c))
	return nil
}

const mostFollowers = 50

func (t *transition) unfollow(c Unfollow) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !slices.Contains(t.state.Followers, c.Person):
		return conflict(refusal.FollowsNot, "They do not follow this.")
	case c.Person != t.facts.Actor && !v.Asker && !v.Receiver && !v.Owner:
		return notYours("Only they themselves, %s, or the owner of the service can end this.", t.facts.Company.Name(t.state.Asker))
	}
	t.emit(Unfollowed(c))
	return nil
}
