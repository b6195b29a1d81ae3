package request_test

import (
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// timed promises a first word within two hours and the delivery within two
// working days of Maravel, whose clock stands still during the task "hand".
func timed(change ...func(*offering.Document)) func(*offering.Document) {
	return func(d *offering.Document) {
		d.Promise.Calendar, d.Promise.Pauses = "maravel", []string{"hand"}
		d.Promise.Targets = []promise.Target{{Name: "Usual", Response: "2h", Fulfilment: "16h"}}
		d.Plan = []plan.Task{
			{Key: "write", Name: "Write", Kind: plan.Automatic, Team: "keys", Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "x", "zones": "y"}}},
			{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys"},
			{Key: "hand", Name: "Hand out", Kind: plan.Manual, Team: "keys", After: []string{"check"}},
		}
		for _, c := range change {
			c(d)
		}
	}
}

// startTimed begins on Monday, 8 March 2027, at 9:00 in Maravel.
func startTimed(t *testing.T, change ...func(*offering.Document)) *run {
	t.Helper()
	company := coretest.Company()
	company.Directory = people.NewDirectory(people.Records{
		Persons: company.Directory.Persons(), Teams: company.Directory.Teams(), Services: company.Directory.Services(),
		Calendars: map[string]*calendar.Calendar{"maravel": coretest.Week("Europe/Lisbon", calendar.Weekdays[:5], "08:30-12:30", "13:30-17:30")},
	})
	d := coretest.Badge()
	timed(change...)(&d)
	compiled, findings := offering.Compile(d, 1, company)
	require.Empty(t, findings)
	service, _ := company.Directory.Service("access")
	return &run{t: t, effects: map[string]request.Effect{}, facts: request.Facts{Company: company.Directory, Offering: compiled, Service: service}}
}

// at does something at a clock time.
func (r *run) at(clock, actor string, commands ...request.Command) *run {
	for _, c := range commands {
		r.facts.Now = coretest.At(r.t, "2027-03-"+clock).Add(-time.Minute) // do adds it again
		require.NoError(r.t, r.do(actor, c), "%s %T", clock, c)
	}
	return r
}

// reads gives the state and the due instant of both clocks.
func (r *run) reads(clock string) (word, delivery promise.Reading) {
	now := coretest.At(r.t, "2027-03-"+clock)
	first, ok := r.state.Response(r.facts.Offering)
	require.True(r.t, ok)
	whole, ok := r.state.Fulfilment(r.facts.Offering)
	require.True(r.t, ok)
	return first.Read(now), whole.Read(now)
}

var (
	approved     = request.Decide{Rung: "manager", Decision: request.Approve}
	badgeWritten = request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-7"}}
)

// What counts as the first word of staff, and what does not. It is due at
// 11:00.
func TestTheFirstWord(t *testing.T) {
	for name, c := range map[string]struct {
		do   func(r *run)
		want promise.State
	}{
		"nothing yet":                    {func(*run) {}, promise.Running},
		"a decision":                     {func(r *run) { r.at("08 10:00", "p-tomas", approved) }, promise.Kept},
		"a decision too late":            {func(r *run) { r.at("08 11:30", "p-tomas", approved) }, promise.Missed},
		"a question back":                {func(r *run) { r.at("08 10:00", "p-tomas", request.AskBack{Rung: "manager", Text: "Why?"}) }, promise.Kept},
		"a word of the approver":         {func(r *run) { r.at("08 10:00", "p-tomas", request.Comment{Text: "I look at it."}) }, promise.Kept},
		"a word of the asker is none":    {func(r *run) { r.at("08 10:00", "p-ilse", request.Comment{Text: "Hello?"}) }, promise.Running},
		"taken back before there is one": {func(r *run) { r.at("08 10:00", "p-ilse", request.Withdraw{}) }, promise.Over},
	} {
		t.Run(name, func(t *testing.T) {
			r := startTimed(t).at("08 09:00", "p-ilse", begin(), submit())
			c.do(r)
			word, _ := r.reads("08 12:00")
			assert.Equal(t, c.want, word.State)
			assert.Equal(t, coretest.At(t, "2027-03-08 11:00"), word.Due)
		})
	}
	noRung := func(d *offering.Document) { d.Ladder = nil }
	for name, c := range map[string]struct {
		do   func(r *run)
		want promise.State
	}{
		"a call that goes well by itself": {func(r *run) { r.at("08 10:00", request.Program, badgeWritten) }, promise.Running},
		"a take":                          {func(r *run) { r.at("08 10:00", "p-kira", request.Take{Task: "check"}) }, promise.Kept},
		"handed out by the lead":          {func(r *run) { r.at("08 10:00", "p-keks", request.HandOver{Task: "check", Person: "p-kira"}) }, promise.Kept},
		"a note among staff is none":      {func(r *run) { r.at("08 10:00", "p-kira", request.Note{Text: "Odd.", Task: "check"}) }, promise.Running},
		"a word to the asker":             {func(r *run) { r.at("08 10:00", "p-kira", request.Comment{Text: "We begin.", Task: "check"}) }, promise.Kept},
	} {
		t.Run(name, func(t *testing.T) {
			r := startTimed(t, noRung).at("08 09:00", "p-ilse", begin(), submit())
			c.do(r)
			word, _ := r.reads("08 12:00")
			assert.Equal(t, c.want, word.State)
		})
	}
}

// A life worked out by hand: sixteen working hours from Monday 9:00 are Wednesday
// 9:00. It is returned from Monday 10:00 to Tuesday 10:00 (a day of eight
// hours: Thursday 9:00), waits for the asker from Tuesday 14:00 to 16:00
// (Thursday 11:00), and stands still during "hand" from Tuesday 17:00 to
// Wednesday 11:30, which are three and a half hours (Thursday 15:30).
func TestTheClockOfTheDelivery(t *testing.T) {
	r := startTimed(t).at("08 09:00", "p-ilse", begin(), submit())
	due := func(clock, want string, state promise.State) {
		t.Helper()
		_, delivery := r.reads(clock)
		assert.Equal(t, coretest.At(t, "2027-03-"+want), delivery.Due)
		assert.Equal(t, state, delivery.State)
	}
	due("08 09:30", "10 09:00", promise.Running)
	r.at("08 10:00", "p-tomas", request.AskBack{Rung: "manager", Text: "Why?"})
	due("08 17:30", "10 16:30", promise.Paused) // if it went on at the close
	r.at("09 10:00", "p-ilse", request.Resubmit{Answers: r.state.Answers, Reply: "Because."}).at("09 10:30", "p-tomas", approved)
	due("09 10:30", "11 09:00", promise.Running)
	r.at("09 11:00", request.Program, badgeWritten).at("09 12:00", "p-kira", request.Take{Task: "check"})
	r.at("09 14:00", "p-kira", request.AskAsker{Task: "check", Text: "Which gate?"})
	due("09 15:00", "11 10:00", promise.Paused)
	r.at("09 16:00", "p-ilse", request.Answer{Task: "check", Text: "The north one."})
	due("09 16:30", "11 11:00", promise.Running)
	r.at("09 17:00", "p-kira", request.Complete{Task: "check"})
	due("09 17:15", "11 11:15", promise.Paused)
	r.at("10 11:00", "p-kira", request.Take{Task: "hand"}).at("10 11:30", "p-kira", request.Complete{Task: "hand"})
	assert.Equal(t, request.Delivered, r.state.Status)
	_, delivery := r.reads("20 09:00")
	assert.Equal(t, promise.Kept, delivery.State)
	assert.Equal(t, coretest.At(t, "2027-03-11 15:30"), delivery.Due)
	assert.Len(t, delivery.Pauses, 3)
}

// A promise that runs until some tasks have ended stops with the last of them,
// whatever else is still to be done.
func TestAPromiseUntilSomeTasks(t *testing.T) {
	until := func(d *offering.Document) {
		d.Ladder, d.Promise.Pauses, d.Promise.Targets[0].Until = nil, nil, []string{"write", refusal.Check}
	}
	r := startTimed(t, until).at("08 09:00", "p-ilse", begin(), submit()).at("08 10:00", "p-kira", request.Take{Task: "check"}, request.Complete{Task: "check"})
	_, delivery := r.reads("08 11:00")
	assert.Equal(t, promise.Running, delivery.State, "one of the two is still open")
	r.at("08 12:00", request.Program, badgeWritten)
	_, delivery = r.reads("20 09:00")
	assert.Equal(t, promise.Kept, delivery.State)
	assert.Equal(t, 3*time.Hour, delivery.Used)
	assert.Equal(t, request.Delivering, r.state.Status)

	r = startTimed(t, until).at("08 09:00", "p-ilse", begin(), submit()).at("08 10:00", "p-ilse", request.Withdraw{})
	_, delivery = r.reads("08 11:00")
	assert.Equal(t, promise.Running, delivery.State, "a call is under way, and may still be done")
	r.at("08 12:00", request.Program, request.Fail{Task: "write", Trouble: "No.", Final: true})
	_, delivery = r.reads("20 09:00")
	assert.Equal(t, promise.Over, delivery.State)
	_, ok := startTimed(t, func(d *offering.Document) { d.Promise.Targets = nil }).state.Fulfilment(r.facts.Offering)
	assert.False(t, ok, "nothing is promised")
}

// The forecast of a request in work: what is done is past, what is under way
// takes what is left of it, and an answer that is waited for holds it up.
func TestTheForecastOfARequest(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) {
		d.Plan[1].Effort, d.Plan[2].Effort = "3h", "1h"
	}).at("08 09:00", "p-ilse", begin(), submit())
	likely := func(clock string) request.Forecast {
		r.facts.Now = coretest.At(t, "2027-03-"+clock)
		return r.state.Forecast(r.facts, unmeasured{})
	}
	f := likely("08 09:00")
	require.Len(t, f.Steps, 4, "the decision and three tasks")
	assert.Equal(t, coretest.At(t, "2027-03-10 14:00"), f.Finish, "two working days to decide, three hours over the break, one more")
	assert.Negative(t, f.Slack)
	r.at("08 10:00", "p-tomas", approved)
	assert.Equal(t, coretest.At(t, "2027-03-08 15:00"), likely("08 10:00").Finish)
	r.at("08 10:00", request.Program, badgeWritten).at("08 10:30", "p-kira", request.Take{Task: "check"})
	f = likely("08 11:30")
	assert.Equal(t, coretest.At(t, "2027-03-08 15:30"), f.Finish, "three hours from 10:30 without the break, and one")
	slot, step, ok := f.Step("check")
	require.True(t, ok)
	assert.True(t, slot.Critical)
	assert.Equal(t, plan.Taken, step.State)
	assert.Equal(t, f.Finish, f.Sure, "nothing is measured")
	assert.Equal(t, 10*time.Hour+30*time.Minute, f.Slack, "until Wednesday 9:00")
	_, _, ok = f.Step("nothing")
	assert.False(t, ok)
	r.at("08 12:00", "p-kira", request.Complete{Task: "check"})
	assert.Equal(t, coretest.At(t, "2027-03-08 14:00"), likely("08 12:00").Finish, "half an hour before the break, half an hour after it")
}

// The plan backward from a day: what must come before it is pressed by it long
// before it can begin, and a wait for so many days after a task takes its days.
func TestTheForecastBackwardFromADay(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) {
		d.Ladder, d.Promise.Targets, d.Promise.Pauses = nil, nil, nil
		d.Plan[1].Effort, d.Plan[2].Effort = "2h", "1h"
		d.Plan[2].Due = &plan.Due{Moment: plan.Moment{Of: "answers.start", Days: -3}} // Wednesday before Saturday, 20 March
		d.Plan = append(d.Plan,
			plan.Task{Key: "dry", Name: "Dry", Kind: plan.Wait, After: []string{"hand"}, Wait: &plan.Until{Moment: plan.Moment{Task: "hand", Days: 2}}},
			plan.Task{Key: "look", Name: "Look", Kind: plan.Manual, Team: "keys", Effort: "1h", After: []string{"dry"}})
	}).at("08 09:00", "p-ilse", begin(), submit())
	r.facts.Now = coretest.At(t, "2027-03-08 09:00")
	f := r.state.Forecast(r.facts, unmeasured{})
	hand, _, _ := f.Step("hand")
	assert.Equal(t, coretest.At(t, "2027-03-17 17:30"), hand.LatestFinish)
	check, _, _ := f.Step("check")
	assert.Equal(t, coretest.At(t, "2027-03-17 16:30"), check.LatestFinish, "an hour before that")
	assert.Equal(t, coretest.At(t, "2027-03-17 14:30"), check.LatestStart)
	assert.Equal(t, coretest.At(t, "2027-03-08 12:00"), hand.Finish)
	dry, _, _ := f.Step("dry")
	assert.Equal(t, coretest.At(t, "2027-03-10 12:00"), dry.Finish, "two working days later")
	assert.Equal(t, coretest.At(t, "2027-03-10 14:00"), f.Finish, "half an hour before the break, half an hour after it")
}

type unmeasured struct{}

func (unmeasured) Task(string) []time.Duration   { return nil }
func (unmeasured) Rung(string) []time.Duration   { return nil }
func (unmeasured) Rescue(string) []time.Duration { return nil }

// A draft is forecast from what would be sent.
func TestTheForecastOfADraft(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) { d.Ladder = nil })
	o := r.facts.Offering
	ilse, _ := r.facts.Company.Person("p-ilse")
	parties := offering.Parties{Asker: ilse, Beneficiary: offering.Beneficiary{Person: ilse.ID}, Company: r.facts.Company}
	now := coretest.At(t, "2027-03-08 09:00")
	result := o.Form.Evaluate(form.Answers(full()), o.Values(parties, now), parties.Facts())
	promised := o.Promise.Promised(result.Values, now)
	f := request.ForecastDraft(o, parties, result.Kept(), result.Values, nil, promised, unmeasured{}, now)
	assert.Equal(t, coretest.At(t, "2027-03-09 09:00"), f.Finish, "two tasks of the usual four hours")
	assert.Equal(t, coretest.At(t, "2027-03-10 09:00"), f.Due)
	assert.Equal(t, 8*time.Hour, f.Slack)
}
