package request_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// Every way in which a request ends: each has an outcome, and says why what was not done was
// not. Worked out by hand from rules.md 8.
func TestEndings(t *testing.T) {
	none, never := 0, 0
	decided := func(r *run) { r.must("p-tomas", approve()) }
	work := func(r *run) {
		decided(r)
		r.must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo", Word: "Bring it along."})
	}
	wait := func(d time.Duration, c request.Command) func(*run) {
		return func(r *run) { r.later(d).must(request.Program, c) }
	}
	two := func(steps ...func(*run)) func(*run) {
		return func(r *run) {
			for _, step := range steps {
				step(r)
			}
		}
	}
	by := func(who string, c ...request.Command) func(*run) { return func(r *run) { r.must(who, c...) } }
	other := func(s request.State) func(*run) {
		return func(r *run) {
			r.facts.Request = func(id string) (request.State, bool) { return s, id == "r2" }
		}
	}
	open := request.State{ID: "r2", Reference: "QS-10433-Q", Status: request.Delivering}
	ended := func(outcome request.Outcome, word string) request.State {
		s := request.State{ID: "r2", Reference: "QS-10433-Q", Status: request.Closed, Outcome: outcome, Why: word}
		if outcome == request.Fulfilled && word != "" {
			s.Why, s.Closing = "", &request.Closing{Word: word}
		}
		return s
	}
	same := func(s request.State) func(*run) {
		return two(other(open), by("p-olga", request.Tie{Kind: request.SameAs, Other: "r2"}), other(s), by(request.Program, request.Heed{}))
	}
	limit := func(then ladder.Then) func(*offering.Document) {
		return func(d *offering.Document) { d.Ladder[0].Limit, d.Ladder[0].Then = "1d", then }
	}
	for name, c := range map[string]struct {
		change  func(*offering.Document)
		steps   func(*run)
		outcome request.Outcome // empty: it has not ended
		why     string          // of its end, or what staff said
	}{
		"confirmed by the asker":              {nil, two(work, by("p-ilse", request.Confirm{})), request.Fulfilled, ""},
		"confirmed with a word":               {nil, two(work, by("p-ilse", request.Confirm{Remark: "Thanks."})), request.Fulfilled, ""},
		"by silence":                          {nil, two(work, wait(aWeek, request.Lapse{})), request.Fulfilled, ""},
		"not by silence before its time":      {nil, two(work, func(r *run) { _ = r.later(time.Hour).do(request.Program, request.Lapse{}) }), "", ""},
		"on delivery":                         {func(d *offering.Document) { d.Promise.ConfirmWithin = &none }, work, request.Fulfilled, ""},
		"on delivery, at a clock time":        {func(d *offering.Document) { d.Promise.ConfirmAt, d.Promise.ConfirmWithin = "12:00", &none }, work, request.Fulfilled, ""},
		"sent back, and confirmed":            {nil, two(work, by("p-ilse", request.SendBack{Text: "No."}), by("p-kira", request.Take{Task: "right-1"}, request.Complete{Task: "right-1"}), by("p-ilse", request.Confirm{})), request.Fulfilled, ""},
		"sent back, and open again":           {nil, two(work, by("p-ilse", request.Confirm{}), by("p-ilse", request.SendBack{Text: "No."})), "", ""},
		"closed, where it never goes back":    {func(d *offering.Document) { d.Promise.BackWithin = &never }, two(work, by("p-ilse", request.Confirm{})), request.Fulfilled, ""},
		"declined":                            {nil, by("p-tomas", request.Decide{Rung: "manager", Decision: request.Decline, Reason: "No."}), request.Declined, ""},
		"declined by time":                    {limit(ladder.Decline), wait(aWeek, request.Tick{}), request.Declined, ""},
		"nobody decided":                      {nil, wait(200*24*time.Hour, request.Tick{}), request.Expired, `Nobody decided "Line manager" in time.`},
		"nobody answered the approver":        {nil, two(by("p-tomas", request.AskBack{Rung: "manager", Text: "Why?"}), wait(60*24*time.Hour, request.Tick{})), request.Expired, "Nobody answered the question in time."},
		"taken back while it is decided":      {nil, by("p-ilse", request.Withdraw{Reason: "Not needed."}), request.Withdrawn, "Not needed."},
		"taken back without a word":           {nil, by("p-ilse", request.Withdraw{}), request.Withdrawn, ""},
		"taken back for a chosen reason":      {func(d *offering.Document) { d.Promise.AskerReasons = []string{"Asked twice"} }, by("p-ilse", request.Withdraw{Chosen: "Asked twice", Reason: "Sorry."}), request.Withdrawn, "Asked twice. Sorry."},
		"taken back during the work":          {nil, two(decided, by("p-ilse", request.Withdraw{Reason: "Late."})), request.Withdrawn, "Late."},
		"a draft is discarded":                {nil, nil, "", ""},
		"cancelled while it is decided":       {nil, by("p-olga", request.Cancel{Reason: "Closed."}), request.Cancelled, "Closed."},
		"cancelled during the work":           {nil, two(decided, by("p-olga", request.Cancel{Reason: "Closed."})), request.Cancelled, "Closed."},
		"cancelled once delivered":            {nil, two(work, by("p-olga", request.Cancel{Reason: "Wrong."})), request.Cancelled, "Wrong."},
		"cancelled for a chosen reason":       {func(d *offering.Document) { d.Promise.Reasons = []string{"Not possible here"} }, by("p-olga", request.Cancel{Chosen: "Not possible here"}), request.Cancelled, "Not possible here"},
		"all that was needed was left out":    {nil, two(decided, by("p-keks", request.Skip{Task: "photo", Reason: "No camera."})), request.Cancelled, "All that was needed was left out: Take the picture (No camera)."},
		"closed by staff as done":             {nil, two(decided, by("p-olga", request.Close{Word: "Done by phone."})), request.Fulfilled, "Done by phone."},
		"closed by staff once delivered":      {nil, two(work, by("p-olga", request.Close{Word: "All is well."})), request.Fulfilled, "All is well."},
		"with its main one, as done":          {nil, two(decided, same(ended(request.Fulfilled, "It prints again."))), request.Fulfilled, "It was the same as QS-10433-Q. It prints again."},
		"with its main one, before a yes":     {nil, same(ended(request.Fulfilled, "")), request.Fulfilled, "It was the same as QS-10433-Q."},
		"with its main one, cancelled":        {nil, two(decided, same(ended(request.Cancelled, "Closed."))), request.Cancelled, "It was the same as QS-10433-Q. Closed."},
		"with its main one, expired":          {nil, same(ended(request.Expired, "")), request.Expired, "It was the same as QS-10433-Q."},
		"not before what it waits for":        {nil, two(other(open), by("p-olga", request.Tie{Kind: request.WaitsFor, Other: "r2"}), work), "", ""},
		"after what it waits for":             {func(d *offering.Document) { d.Promise.ConfirmWithin = &none }, two(other(open), by("p-olga", request.Tie{Kind: request.WaitsFor, Other: "r2"}), work, other(ended(request.Withdrawn, "")), by(request.Program, request.Heed{})), request.Fulfilled, ""},
		"once that is taken off":              {func(d *offering.Document) { d.Promise.ConfirmWithin = &none }, two(other(open), by("p-olga", request.Tie{Kind: request.WaitsFor, Other: "r2"}), work, by("p-olga", request.Untie{Kind: request.WaitsFor, Other: "r2"})), request.Fulfilled, ""},
		"taken back, whatever it waits for":   {nil, two(other(open), by("p-olga", request.Tie{Kind: request.WaitsFor, Other: "r2"}), by("p-ilse", request.Withdraw{})), request.Withdrawn, ""},
		"declined, whatever it waits for":     {nil, two(other(open), by("p-olga", request.Tie{Kind: request.WaitsFor, Other: "r2"}), by("p-tomas", request.Decide{Rung: "manager", Decision: request.Decline, Reason: "No."})), request.Declined, ""},
		"what it comes from ends nothing":     {nil, two(other(open), by("p-olga", request.Tie{Kind: request.ComesFrom, Other: "r2"}), other(ended(request.Cancelled, "")), by(request.Program, request.Heed{})), "", ""},
		"nobody answered during the work":     {nil, two(decided, by("p-kira", request.Take{Task: "photo"}, request.AskAsker{Task: "photo", Text: "When?"}), wait(60*24*time.Hour, request.Tick{})), request.Expired, `Nobody answered the question on "Take the picture" in time.`},
		"delivered, and nobody has confirmed": {nil, work, "", ""},
	} {
		t.Run(name, func(t *testing.T) {
			r := start(t, func(d *offering.Document) {
				d.Plan = []plan.Task{{Key: "photo", Name: "Take the picture", Kind: plan.Manual, Team: "keys"}}
				d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "8h"}}
				if c.change != nil {
					c.change(d)
				}
			})
			r.must("p-ilse", begin())
			if c.steps == nil {
				r.must("p-ilse", request.Discard{})
				assert.Equal(t, request.Withdrawn, r.state.Outcome)
				return
			}
			r.must("p-ilse", submit())
			c.steps(r)
			assert.Equal(t, c.outcome, r.state.Outcome)
			assert.Equal(t, c.outcome != "", r.state.Status == request.Closed)
			why := r.state.Why
			if r.state.Closing != nil && c.outcome == request.Fulfilled && (c.why != "" || r.state.Closing.By != "p-kira") {
				why = r.state.Closing.Word
			}
			if c.outcome != "" {
				assert.Equal(t, c.why, why)
				require.NotEmpty(t, r.state.Ends, "its clock has ended")
				assert.Empty(t, r.state.Awaits())
			}
		})
	}
}
