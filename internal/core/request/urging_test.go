package request_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// speedy promises sixteen hours, or four with speed, which Noor decides on. It was sent on
// Monday at nine and decided at ten.
func speedy(t *testing.T, change ...func(*offering.Document)) *run {
	return startTimed(t, append([]func(*offering.Document){func(d *offering.Document) {
		d.Questions = append(d.Questions, form.Question{Key: "speed", Kind: form.Choice, Label: "How fast?", Choices: []form.Option{{Key: "usual", Label: "Usual"}, {Key: "quick", Label: "Quick"}}})
		d.Promise.Targets = []promise.Target{{Name: "Quick", When: `has(answers.speed) && answers.speed == "quick"`, Fulfilment: "4h"}, {Name: "Usual", Fulfilment: "16h"}}
		d.Promise.Urge, d.Promise.Pauses = &promise.Urge{Question: "speed", Choices: []string{"quick"}}, nil
		d.Ladder[0].Facts = []string{"port"} // the speed is nothing to the manager
		d.Ladder = append(d.Ladder, ladder.Rung{Key: "speed", Name: "Speed", When: `has(answers.speed) && answers.speed == "quick"`, Quorum: "any", Approvers: []ladder.Source{{Source: ladder.NamedPerson, Person: "noor"}}})
		d.Plan = []plan.Task{{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys"}, {Key: "hand", Name: "Hand out", Kind: plan.Manual, Team: "keys", After: []string{"check"}}}
	}}, change...)...).at("08 09:00", "p-ilse", begin(), submit()).at("08 10:00", "p-tomas", approved)
}

func TestMoreUrgency(t *testing.T) {
	r := speedy(t)
	r.at("08 11:00", "p-kira", request.Take{Task: "check"})
	code := func(who string, c request.Command) string {
		why, _ := request.AsRefusal(r.do(who, c))
		if why == nil {
			return ""
		}
		return why.Code
	}
	assert.Equal(t, refusal.NotYours, code("p-tomas", request.Urge{Choice: "quick"}))
	assert.Equal(t, refusal.Speed, code("p-ilse", request.Urge{Choice: "usual"}))
	r.at("08 12:00", "p-ilse", request.Urge{Choice: "quick", Reason: "We sail on Tuesday."})
	assert.Equal(t, request.Deciding, r.state.Status)
	assert.Equal(t, []request.Holder{{Person: "p-noor"}, {Person: "p-kira", Team: "keys", Task: "check"}}, r.state.Holders("keys"), "the work goes on")
	assert.Equal(t, "Usual", r.state.Promise.Name, "until it is decided the promise is what it was")
	assert.Equal(t, refusal.Urged, code("p-ilse", request.Urge{Choice: "quick"}), "not twice")
	assert.Equal(t, refusal.Urged, code("p-noor", request.AskBack{Rung: "speed", Text: "Why?"}))

	r.at("08 13:30", "p-kira", request.Complete{Task: "check"})
	hand, _ := r.state.Task("hand")
	assert.Equal(t, plan.Blocked, hand.State, "and nothing new begins")
	r.at("08 14:30", "p-noor", request.Decide{Rung: "speed", Decision: request.Approve})
	hand, _ = r.state.Task("hand")
	assert.Equal(t, plan.Ready, hand.State)
	delivery := r.delivery("08 15:30")
	assert.Equal(t, coretest.At(t, "2027-03-09 09:30"), delivery.Due, "four hours from the yes")
	assert.Equal(t, "Quick", r.state.Promise.Name)
	assert.Equal(t, request.Delivering, r.state.Status)
	assert.Contains(t, r.told(), "Ilse Brandvik: Asked for more urgency: Quick. We sail on Tuesday.")
}

// Not granted, all is as it was: price, answers, decisions, and the clock.
func TestNoMoreUrgency(t *testing.T) {
	r := speedy(t)
	before := r.state
	clock := r.delivery("08 15:30")
	r.at("08 12:00", "p-ilse", request.Urge{Choice: "quick"}).at("08 14:30", "p-noor", request.Decide{Rung: "speed", Decision: request.Decline, Reason: "No need."})
	now := r.delivery("08 15:30")
	assert.Equal(t, request.Delivering, r.state.Status, "it is not declined")
	assert.Equal(t, []any{before.Answers, before.Price, before.Rungs, clock.Due}, []any{r.state.Answers, r.state.Price, r.state.Rungs, now.Due})
}

// Without a decision it counts at once; while a question waits, or where the time is nearly
// over, it cannot be asked for.
func TestUrgencyAtOnceAndNot(t *testing.T) {
	none := func(d *offering.Document) { d.Ladder = d.Ladder[:1] }
	r := speedy(t, none)
	r.at("08 12:00", "p-ilse", request.Urge{Choice: "quick"})
	assert.Equal(t, request.Delivering, r.state.Status)
	delivery := r.delivery("08 12:00")
	assert.Equal(t, coretest.At(t, "2027-03-08 17:00"), delivery.Due)
	why, _ := request.AsRefusal(r.do("p-ilse", request.Urge{Choice: "quick"}))
	require.NotNil(t, why)
	assert.Equal(t, refusal.Speed, why.Code, "it is so already")

	late := speedy(t, none)
	late.facts.Now = coretest.At(t, "2027-03-09 16:30")
	why, _ = request.AsRefusal(late.do("p-ilse", request.Urge{Choice: "quick"}))
	require.NotNil(t, why)
	assert.Equal(t, refusal.NotSooner, why.Code)

	paused := speedy(t, none)
	paused.at("08 11:00", "p-kira", request.Take{Task: "check"}, request.AskAsker{Task: "check", Text: "Which?"})
	why, _ = request.AsRefusal(paused.do("p-ilse", request.Urge{Choice: "quick"}))
	require.NotNil(t, why)
	assert.Equal(t, refusal.Returned, why.Code, "the clock stands still")
}

// delivery reads the clock of the delivery.
func (r *run) delivery(clock string) promise.Reading {
	whole, ok := r.state.Fulfilment(r.facts.Offering)
	require.True(r.t, ok)
	return whole.Read(coretest.At(r.t, "2027-03-"+clock))
}
