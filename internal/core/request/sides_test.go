package request_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// Who it is for, once they see it, confirms and answers as the asker does, but
// neither takes it back nor changes it.
func TestWhoItIsForAnswersAndConfirms(t *testing.T) {
	sent := func(told bool) *run {
		r := start(t, forOthers, func(d *offering.Document) {
			d.Audience.Shared = told
			d.Ladder, d.Plan = d.Ladder[:1], d.Plan[:1]
		})
		return r.must("p-tomas", begin(), submitFor(offering.Beneficiary{Person: "p-ilse"}))
	}
	r := sent(true)
	r.must("p-noor", request.AskBack{Rung: "manager", Text: "Why?"})
	assert.Contains(t, r.state.Allowed("p-ilse"), request.OfferResubmit)
	assert.True(t, r.state.WaitsFor("p-ilse"))
	assert.NotContains(t, r.state.Allowed("p-ilse"), request.OfferWithdraw)
	_, refused := request.AsRefusal(r.do("p-ilse", request.Resubmit{Answers: full()}))
	assert.True(t, refused, "only the asker changes what is asked for")
	r.must("p-ilse", request.Resubmit{Reply: "I bunker now."}).must("p-noor", approve())
	r.must("p-caro", take("safety"), request.AskAsker{Task: "safety", Text: "When?"}).must("p-ilse", request.Answer{Task: "safety", Text: "At noon."})
	r.must("p-caro", request.Complete{Task: "safety"})
	assert.Contains(t, r.state.Allowed("p-ilse"), request.OfferConfirm)
	r.must("p-ilse", request.Confirm{Remark: "It fits."})
	assert.Equal(t, request.Fulfilled, r.state.Outcome)

	hidden := sent(false)
	hidden.must("p-noor", approve()).must("p-caro", take("safety"), request.Complete{Task: "safety"})
	why, refused := request.AsRefusal(hidden.do("p-ilse", request.Confirm{}))
	require.True(t, refused, "who does not see it does not confirm it")
	assert.Equal(t, "Only Tomas Lindqvist can confirm this.", why.Sentence)
}

// An answer that staff enter names who said it, how and when.
func TestAnAnswerThatStaffHeard(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit())
	r.must("p-tomas", request.AskBack{Rung: "manager", Text: "Why?"})
	at := r.state.Stages["submitted"].Truncate(time.Minute) // as people enter it
	for _, row := range []struct {
		field string
		c     request.Hear
	}{
		{"/text", request.Hear{From: "p-ilse", At: at}},
		{"/from", request.Hear{Text: "So.", From: "p-kira", At: at}},
		{"/at", request.Hear{Text: "So.", From: "p-ilse", At: r.facts.Now.Add(time.Hour)}},
		{"/at", request.Hear{Text: "So.", From: "p-ilse", At: at.Add(-time.Minute)}},
	} {
		why, refused := request.AsRefusal(r.do("p-tomas", row.c))
		require.True(t, refused, row.field)
		assert.Equal(t, row.field, why.Place)
	}
	_, refused := request.AsRefusal(r.do("p-kira", request.Hear{Text: "So.", From: "p-ilse", At: at}))
	assert.True(t, refused, "not by whom it does not concern")
	r.must("p-tomas", request.Hear{Text: "I bunker now.", From: "p-ilse", At: at, How: "phone"})
	assert.Equal(t, request.Deciding, r.state.Status)
	assert.Contains(t, r.told(), "Tomas Lindqvist: Answered. I bunker now. (as Ilse Brandvik said by phone on "+at.Format("2 January 2006, 15:04 MST)"))
}

// Teams that will have a task see that there is a request, before it is decided.
func TestTeamsThatThePlanForesees(t *testing.T) {
	r := start(t, func(d *offering.Document) { d.Plan[0].When = `answers.port == "maravel"` }).must("p-ilse", begin(), submit())
	viewer := func(person string) request.Viewer { return r.state.ViewerOf(person, r.facts.Company, r.facts.Service) }
	assert.Equal(t, []string{"keys"}, r.state.Foreseen)
	assert.True(t, viewer("p-kira").Any())
	assert.False(t, viewer("p-kira").SeesRequest(), "its head, not its answers")
	assert.False(t, viewer("p-caro").Any(), "her team's task is not needed")
}

// A task's own question can be taken back by who asked.
func TestAQuestionAboutATaskIsTakenBack(t *testing.T) {
	r := start(t, func(d *offering.Document) { d.Ladder = nil }).must("p-ilse", begin(), submit()).must("p-kira", take("photo"), request.AskAsker{Task: "photo", Text: "When?"})
	_, refused := request.AsRefusal(r.do("p-keks", request.UnaskAsker{Task: "photo"}))
	assert.True(t, refused)
	r.must("p-kira", request.UnaskAsker{Task: "photo"})
	assert.Equal(t, request.Delivering, r.state.Status)
	assert.Contains(t, r.allowed("p-kira", "photo"), request.OfferComplete)
}

// The asker's side is told of a slip of more than a working day, at most once in
// three working days, and of none that comes of their own act.
func TestSlips(t *testing.T) {
	r := start(t, func(d *offering.Document) { d.Ladder = nil }).must("p-ilse", begin(), submit())
	known := r.state.Likely
	require.False(t, known.IsZero(), "it is known from sending")
	slips := func(days int) bool { return r.state.Slips(r.facts.Offering, known.AddDate(0, 0, days), r.facts.Now) }
	assert.False(t, slips(0))
	assert.False(t, slips(-3), "earlier is no slip")
	r.must(request.Program, request.Foresee{Likely: known.AddDate(0, 0, 7)})
	told, known := r.facts.Now, r.state.Likely
	assert.False(t, r.state.Slips(r.facts.Offering, known.AddDate(0, 0, 7), told.Add(24*time.Hour)), "the next day it rests")
	assert.True(t, r.state.Slips(r.facts.Offering, known.AddDate(0, 0, 7), told.AddDate(0, 0, 7)))
	r.must("p-kira", take("photo"), request.AskAsker{Task: "photo", Text: "When?"})
	r.must("p-ilse", request.Answer{Task: "photo", Text: "Next month."}).must(request.Program, request.Foresee{Likely: known.AddDate(0, 0, 30)})
	foretold, _ := r.events[len(r.events)-1].Body.(request.Foretold)
	assert.False(t, foretold.Slips, "it slips by their own answer")
}

// What a clock showed when it ended no later calendar changes; and sending keeps
// who the asker was and what was foreseen.
func TestWhatMustNotChangeLaterIsInTheHistory(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) { d.Ladder, d.Promise.Pauses, d.Plan = nil, nil, d.Plan[1:2] })
	r.at("08 09:00", "p-ilse", begin(), submit()).at("11 10:00", "p-kira", take("check"), request.Complete{Task: "check"})
	sent, _ := r.events[1].Body.(request.Submitted)
	assert.Equal(t, request.Standing{Department: "Fleet", Location: "MV Grey Heron"}, sent.AskerWas)
	assert.False(t, sent.Likely.IsZero())
	_, delivery := r.reads("20 09:00")
	assert.Equal(t, "missed", string(delivery.State))
	used := delivery.Used

	// The company closes all of that week afterwards.
	closed := startTimed(t, func(d *offering.Document) {
		d.Ladder, d.Promise.Pauses, d.Plan = nil, nil, d.Plan[1:2]
		d.Promise.Calendar = ""
	})
	clock, ok := r.state.Fulfilment(closed.facts.Offering)
	require.True(t, ok)
	now := clock.Read(r.facts.Now)
	assert.Equal(t, "missed", string(now.State))
	assert.Equal(t, used, now.Used)

	// A request of before keeps nothing, and is settled once.
	before := r.state
	before.Ends = nil
	facts := r.facts
	facts.Actor, facts.Now = request.Program, before.At
	events, _, err := request.Handle(before, request.Settle{}, facts)
	require.NoError(t, err)
	require.Len(t, events, 2)
	for _, e := range events {
		before.Apply(e)
	}
	assert.Equal(t, r.state.Ends, before.Ends)
	events, _, err = request.Handle(before, request.Settle{}, facts)
	require.NoError(t, err)
	assert.Empty(t, events)
}

// Following and adding files are offered to whom Handle lets do it.
func TestWhatReadersMayDo(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit())
	for person, want := range map[string][]request.Offer{
		"p-ilse":  {"follow", "attach"},                 // asks
		"p-olga":  {"followMyself", "follow", "attach"}, // owns the service
		"p-keks":  {"followMyself", "attach"},           // leads its home team
		"p-tomas": nil,                                  // only decides
	} {
		viewer := r.state.ViewerOf(person, r.facts.Company, r.facts.Service)
		assert.Equal(t, want, r.state.AllowedToReader(viewer), person)
		for command, c := range map[request.Offer]request.Command{
			"follow": request.Follow{Person: "p-caro"}, "attach": request.Attach{File: form.Upload{ID: "u-" + person, Name: "a.txt", Type: "text/plain"}},
		} {
			allowed := slices.Contains(want, command)
			fresh := *r
			err := fresh.do(person, c)
			assert.Equal(t, allowed, err == nil, "%s %s: %v", person, command, err)
		}
	}
}
