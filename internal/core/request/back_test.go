package request_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// photo is a request of one task, delivered.
func photo(t *testing.T, change ...func(*offering.Document)) *run {
	return start(t, append(change, func(d *offering.Document) { d.Ladder, d.Plan = nil, d.Plan[1:2] })...).
		must("p-ilse", begin(), submit()).must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"})
}

func TestSentBackAndPutRight(t *testing.T) {
	r := photo(t)
	first := r.state.Stages["delivered"]
	_, timer := r.effects["r1/lapse"]
	require.True(t, timer)
	r.must("p-ilse", request.SendBack{Text: "The eyes are shut."})
	assert.Equal(t, request.Delivering, r.state.Status)
	assert.NotContains(t, r.state.Stages, request.Stage("delivered"), "it is lost until it is reached again")
	require.Len(t, r.state.Backs, 1)
	assert.Equal(t, first, r.state.Backs[0].Delivered, "and kept")
	right, _ := r.state.Task("right-1")
	assert.Equal(t, plan.Ready, right.State)
	assert.Equal(t, r.facts.Service.Home, right.Team)
	assert.Contains(t, right.Instructions, "The eyes are shut.")

	// Twice in the same second: there is nothing to send back any more.
	why, refused := request.AsRefusal(r.do("p-ilse", request.SendBack{Text: "Again."}))
	require.True(t, refused)
	assert.Equal(t, refusal.NotDelivered, why.Code)

	member := r.facts.Company.Members(right.Team)[0]
	r.must(member, request.Take{Task: "right-1"}, request.Complete{Task: "right-1"})
	assert.Equal(t, request.Delivered, r.state.Status)
	assert.Contains(t, r.effects, "r1/lapse/2", "a timer of its own")

	// The timer of the first delivery comes too early for the second one.
	why, refused = request.AsRefusal(r.do(request.Program, request.Lapse{}))
	require.True(t, refused)
	assert.Equal(t, refusal.NotDue, why.Code)
	r.later(aWeek).must(request.Program, request.Lapse{})
	assert.Equal(t, request.Fulfilled, r.state.Outcome)

	// Closed, it can be sent back for ten working days, and not after.
	assert.Contains(t, r.state.Allowed("p-ilse"), request.OfferSendBack)
	closed := r.state
	r.must("p-ilse", request.SendBack{Text: "It fades."})
	assert.Equal(t, request.Outcome(""), r.state.Outcome)
	assert.Equal(t, 2, len(r.state.Backs))
	r.state, r.facts.Now = closed, closed.BackBy.Add(-2*time.Minute)
	require.NoError(t, r.do("p-ilse", request.SendBack{Text: "It fades."}))
	r.state, r.facts.Now = closed, closed.BackBy.Add(-time.Minute)
	why, refused = request.AsRefusal(r.do("p-ilse", request.SendBack{Text: "It fades."}))
	require.True(t, refused)
	assert.Equal(t, refusal.BackOver, why.Code)
}

func TestWhoSendsBackAndWhen(t *testing.T) {
	none := 0
	for name, c := range map[string]struct {
		change func(*offering.Document)
		before func(*run)
		actor  string
		c      request.SendBack
		code   string
	}{
		"without words":             {nil, nil, "p-ilse", request.SendBack{Text: "  "}, refusal.ReasonNeeded},
		"by somebody else":          {nil, nil, "p-tomas", request.SendBack{Text: "No."}, refusal.NotYours},
		"a line that is none":       {nil, nil, "p-ilse", request.SendBack{Text: "No.", Lines: []string{"Moon"}}, refusal.Line},
		"where it cannot be":        {func(d *offering.Document) { d.Promise.BackWithin = &none }, func(r *run) { r.must("p-ilse", request.Confirm{}) }, "p-ilse", request.SendBack{Text: "No."}, refusal.BackOver},
		"delivered, where it never": {func(d *offering.Document) { d.Promise.BackWithin = &none }, nil, "p-ilse", request.SendBack{Text: "No."}, ""},
		"an item":                   {nil, nil, "p-ilse", request.SendBack{Text: "No.", Lines: []string{"Card"}}, ""},
	} {
		change := c.change
		if change == nil {
			change = func(*offering.Document) {}
		}
		r := photo(t, change)
		if c.before != nil {
			c.before(r)
		}
		why, refused := request.AsRefusal(r.do(c.actor, c.c))
		assert.Equal(t, c.code != "", refused, name)
		if refused {
			assert.Equal(t, c.code, why.Code, name)
		}
	}
}

// Tasks that the offering names are done again under new keys, in their order; what comes
// out of them counts in place of what came out before.
func TestTasksAreDoneAgain(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder, d.Plan[2].After, d.Plan = nil, []string{"photo"}, d.Plan[1:]
		d.Promise.Right = &promise.Right{Tasks: []string{"photo", "write"}}
	}).must("p-ilse", begin(), submit()).must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"}).
		must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-1"}})
	r.must("p-ilse", request.SendBack{Text: "The wrong gate."})
	again, _ := r.state.Task("photo-again-1")
	write, _ := r.state.Task("write-again-1")
	assert.Equal(t, []plan.State{plan.Ready, plan.Blocked}, []plan.State{again.State, write.State})
	assert.Equal(t, []string{"photo-again-1"}, write.After)
	_, right := r.state.Task("right-1")
	assert.False(t, right, "in place of it")
	r.must("p-kira", request.Take{Task: "photo-again-1"}, request.Complete{Task: "photo-again-1"})
	var keys []string
	for key, e := range r.effects {
		if e.Task == "write-again-1" {
			keys = append(keys, key)
		}
	}
	assert.NotEmpty(t, keys, "its call is one of its own")
	r.must(request.Program, request.Succeed{Task: "write-again-1", Outputs: map[string]string{"number": "QB-2"}})
	assert.Equal(t, request.Delivered, r.state.Status)
}

// The clock stands still between delivery and sending back, goes on from there, and shows
// what it showed before that: it never gets shorter.
func TestTheClockGoesOn(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) { d.Ladder, d.Promise.Pauses, d.Plan = nil, nil, d.Plan[1:2] })
	member := r.facts.Company.Members("keys")[0]
	r.at("12 09:00", "p-ilse", begin(), submit()).at("12 10:00", member, request.Take{Task: "check"}, request.Complete{Task: "check"})
	_, kept := r.reads("12 12:00")
	assert.Equal(t, time.Hour, kept.Used)
	assert.Equal(t, promise.Kept, kept.State)
	r.at("12 12:00", "p-ilse", request.SendBack{Text: "The eyes are shut."})
	_, back := r.reads("12 12:00")
	assert.Equal(t, promise.Running, back.State)
	assert.Equal(t, kept.Used, back.Used)
	_, later := r.reads("12 13:45") // closed from 12:30 to 13:30
	assert.Equal(t, kept.Used+45*time.Minute, later.Used)
	r.at("12 14:00", member, request.Take{Task: "right-1"}, request.Complete{Task: "right-1"})
	_, end := r.reads("12 15:00")
	assert.Equal(t, promise.Kept, end.State)
	assert.Equal(t, 2*time.Hour, end.Used, "9 to 10, 12 to 12:30 and 13:30 to 14")
	assert.NotNil(t, r.state.Ends[request.FulfilmentClock])
}

// A rating is one a person, from when the offering says; it can be changed for fourteen days,
// and where ratings are pooled nobody of staff sees whose it is.
func TestRating(t *testing.T) {
	at := func(when string, pooled bool) func(*offering.Document) {
		return func(d *offering.Document) { d.Promise.Rating = &promise.Rating{At: when, Pooled: pooled} }
	}
	code := func(r *run, actor string, c request.Rate) string {
		why, refused := request.AsRefusal(r.do(actor, c))
		if !refused {
			return ""
		}
		return why.Code
	}
	confirmed := func(r *run) *run { return r.must("p-ilse", request.Confirm{}) }
	four := request.Rate{Stars: 4, Text: "Quick."}
	for name, c := range map[string]struct {
		run   *run
		actor string
		give  request.Rate
		code  string
	}{
		"before it is closed":         {photo(t), "p-ilse", four, refusal.NotDelivered},
		"closed":                      {confirmed(photo(t)), "p-ilse", four, ""},
		"delivered, where it says so": {photo(t, at(promise.RateDelivered, false)), "p-ilse", four, ""},
		"where nobody is asked":       {confirmed(photo(t, at(promise.RateNever, false))), "p-ilse", four, refusal.NotDelivered},
		"by somebody else":            {confirmed(photo(t)), "p-tomas", four, refusal.NotYours},
		"none of five":                {confirmed(photo(t)), "p-ilse", request.Rate{Stars: 0}, refusal.Rating},
		"six of five":                 {confirmed(photo(t)), "p-ilse", request.Rate{Stars: 6}, refusal.Rating},
	} {
		assert.Equal(t, c.code, code(c.run, c.actor, c.give), name)
	}

	r := confirmed(photo(t)).must("p-ilse", four)
	first := r.facts.Now
	assert.Equal(t, refusal.Rated, code(r, "p-ilse", four), "the same again")
	r.facts.Now = first.Add(request.RatingOpen - 2*time.Minute)
	r.must("p-ilse", request.Rate{Stars: 1, Text: "It has faded."})
	require.Len(t, r.state.Ratings, 1, "one a person")
	mine, _ := r.state.RatingOf("p-ilse")
	assert.Equal(t, []any{1, "It has faded.", first}, []any{mine.Stars, mine.Text, mine.At})
	r.facts.Now = first.Add(request.RatingOpen)
	assert.Equal(t, refusal.Rated, code(r, "p-ilse", four))

	pooled := confirmed(photo(t, at(promise.RateClosed, true))).must("p-ilse", request.Rate{Stars: 1, Text: "Nobody came."})
	for person, sees := range map[string]bool{"p-ilse": true, "p-kira": false, pooled.facts.Service.Owner: false} {
		v := pooled.state.ViewerOf(person, pooled.facts.Company, pooled.facts.Service)
		told := request.History(pooled.events, pooled.facts.Company, v)
		seen := false
		for _, e := range told {
			seen = seen || e.Remark == "Nobody came."
		}
		assert.Equal(t, sees, seen, person)
		assert.Equal(t, sees, v.SeesRating(pooled.state.Ratings[0]), person)
		open := r.state.ViewerOf(person, r.facts.Company, r.facts.Service)
		assert.True(t, open.SeesRating(r.state.Ratings[0]), "not pooled: "+person)
	}
}

// Who is to say that it is right, or to answer, is reminded at the shares of the time that
// the offering says; after an outage once.
func TestTheAskersSideIsReminded(t *testing.T) {
	shares := func(all ...int) func(*offering.Document) {
		return func(d *offering.Document) { d.Promise.Remind = all }
	}
	r := photo(t, shares(50, 90))
	require.Len(t, r.state.Remind, 2)
	assert.Equal(t, r.state.Remind[0], r.effects["r1/tick"].At)
	r.facts.Now = r.state.Remind[0].Add(-2 * time.Minute)
	before := r.state.Seq
	r.must(request.Program, request.Tick{})
	assert.Equal(t, before, r.state.Seq, "nothing is due")
	assert.Equal(t, r.state.Remind[0], r.effects["r1/tick"].At, "and the timer stays")
	r.facts.Now = r.state.Remind[0]
	r.must(request.Program, request.Tick{})
	assert.Equal(t, 1, r.state.Reminded)
	assert.Equal(t, r.state.Remind[1], r.effects["r1/tick"].At)

	late := photo(t, shares(50, 90))
	late.facts.Now = late.state.Remind[1]
	late.must(request.Program, request.Tick{})
	assert.Equal(t, 2, late.state.Reminded, "once for both")

	usual := photo(t)
	assert.Len(t, usual.state.Remind, 1)
	usual.must("p-ilse", request.Confirm{})
	_, refused := request.AsRefusal(usual.do(request.Program, request.Tick{}))
	assert.True(t, refused, "who has spoken is not reminded")

	asked := start(t, shares(50)).must("p-ilse", begin(), submit()).must("p-tomas", request.AskBack{Rung: "manager", Text: "Which gate?"})
	asked.facts.Now = asked.state.Remind[0]
	asked.must(request.Program, request.Tick{})
	assert.Equal(t, request.Returned, asked.state.Status)
	asked.facts.Now = asked.state.Question.Until
	asked.must(request.Program, request.Tick{})
	assert.Equal(t, request.Expired, asked.state.Outcome)
}

// Where the offering gives reasons, staff choose one of them, and free words may follow.
func TestReasonsToCancel(t *testing.T) {
	given := func(d *offering.Document) { d.Promise.Reasons = []string{"Asked twice", "Not possible here"} }
	sent := func(change ...func(*offering.Document)) *run {
		return start(t, append(change, func(d *offering.Document) { d.Ladder = nil })...).must("p-ilse", begin(), submit())
	}
	for name, c := range map[string]struct {
		change func(*offering.Document)
		c      request.Cancel
		why    string // empty when it is refused
	}{
		"of those given":          {given, request.Cancel{Chosen: "Asked twice"}, "Asked twice"},
		"with words":              {given, request.Cancel{Chosen: "Not possible here", Reason: "No dock."}, "Not possible here. No dock."},
		"of none":                 {given, request.Cancel{Reason: "No dock."}, ""},
		"of others":               {given, request.Cancel{Chosen: "Rain"}, ""},
		"in words, where none is": {func(*offering.Document) {}, request.Cancel{Reason: "No dock.", Chosen: "Rain"}, "No dock."},
	} {
		r := sent(c.change)
		why, refused := request.AsRefusal(r.do("p-keks", c.c))
		if c.why == "" {
			require.True(t, refused, name)
			assert.Equal(t, refusal.ReasonNeeded, why.Code, name)
			continue
		}
		require.False(t, refused, name)
		assert.Equal(t, []any{request.Closed, request.Cancelled, c.why}, []any{r.state.Status, r.state.Outcome, r.state.Why}, name)
		last := r.events[len(r.events)-1].Body.(request.RequestClosed)
		assert.Equal(t, c.change != nil && c.c.Chosen != "" && c.c.Chosen != "Rain", last.Chosen != "", name)
	}
}

// Where the offering wants it, what is done again is taken back first: the last done first,
// and nothing begins anew before that.
func TestWhatIsDoneAgainIsTakenBackFirst(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		write := d.Plan[2]
		write.After, write.Undo = nil, &plan.Undo{Action: write.Action}
		photo := d.Plan[1]
		photo.Undo = &plan.Undo{Text: "Tear it up."}
		d.Ladder, d.Plan = nil, []plan.Task{photo, write, {Key: "hand", Name: "Hand out", Kind: plan.Manual, Team: "keys", After: []string{"photo", "write"}}}
		d.Promise.Right = &promise.Right{Tasks: []string{"photo", "write", "hand"}, Undo: true}
	})
	r.must("p-ilse", begin(), submit()).must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"}).
		must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-1"}}).
		must("p-kira", request.Take{Task: "hand"}, request.Complete{Task: "hand"})
	states := func() string {
		words := ""
		for _, task := range r.state.Tasks {
			words += task.Key + " " + string(task.State)
			if task.Undo != nil {
				words += " (undo)"
			}
			words += ", "
		}
		return words
	}
	r.must("p-ilse", request.SendBack{Text: "The wrong gate."})
	assert.Equal(t, "photo done, write done (undo), hand done, photo-again-1 blocked, write-again-1 blocked, hand-again-1 blocked, ", states(), "what nothing takes back stays")
	r.must(request.Program, request.Succeed{Task: "write", Undo: true})
	assert.Equal(t, "photo done (undo), write undone, hand done, photo-again-1 blocked, write-again-1 blocked, hand-again-1 blocked, ", states())
	r.must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"})
	assert.Equal(t, "photo undone, write undone, hand done, photo-again-1 ready, write-again-1 ready, hand-again-1 blocked, ", states())
	r.must("p-kira", request.Take{Task: "photo-again-1"}, request.Complete{Task: "photo-again-1"}).
		must(request.Program, request.Succeed{Task: "write-again-1", Outputs: map[string]string{"number": "QB-2"}}).
		must("p-kira", request.Take{Task: "hand-again-1"}, request.Complete{Task: "hand-again-1"})
	assert.Equal(t, request.Delivered, r.state.Status)

	// What is to be done again is left out meanwhile: it is not delivered before all is taken back.
	r.must("p-ilse", request.SendBack{Text: "Still the wrong gate."}).
		must("p-keks", request.Skip{Task: "photo-again-2", Reason: "Not needed."}, request.Skip{Task: "write-again-2", Reason: "Not needed."}, request.Skip{Task: "hand-again-2", Reason: "Not needed."})
	assert.Equal(t, request.Delivering, r.state.Status)
	r.must(request.Program, request.Succeed{Task: "write-again-1", Undo: true})
	assert.Equal(t, request.Delivering, r.state.Status)
	r.must("p-kira", request.Take{Task: "photo-again-1"}, request.Complete{Task: "photo-again-1"})
	assert.Equal(t, request.Delivered, r.state.Status)

	// Taken back in the middle, all that was done is taken back.
	r.must("p-ilse", request.SendBack{Text: "Still."}).must("p-ilse", request.Withdraw{})
	assert.Equal(t, request.Undoing, r.state.Status)
}
