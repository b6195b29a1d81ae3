package request_test

import (
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// rescued makes the badge be written at once, with a rescue of two hours by the
// crew's team.
func rescued(d *offering.Document) {
	d.Ladder = nil
	d.Plan = d.Plan[2:]
	d.Plan[0].After, d.Plan[0].Tries = nil, []string{"1m"}
	d.Plan[0].Due = &plan.Due{Within: "30m", Remind: []string{"10m"}}
	d.Plan[0].Rescue = &plan.Rescue{Team: "crew", Within: "2h"}
}

// A task that gets stuck has its time from then on, and goes to whose work that is.
func TestAStuckTaskHasItsTimeFromThenOn(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*offering.Document)
		team   string
		due    string // in the week of the plain calendar, which never closes on a weekday
	}{
		"its rescue":      {func(*offering.Document) {}, "crew", "2027-03-12 11:04"},
		"as for the task": {func(d *offering.Document) { d.Plan[0].Rescue = nil }, "keys", "2027-03-12 09:34"},
		"another team, its time": {func(d *offering.Document) {
			d.Plan[0].Rescue.Within = ""
		}, "crew", "2027-03-12 09:34"},
	} {
		t.Run(name, func(t *testing.T) {
			r := start(t, rescued, c.change).must("p-ilse", begin(), submit()).must(request.Program, request.Fail{Task: "write", Trouble: "Down."}, request.Fail{Task: "write", Trouble: "Down."})
			task, _ := r.state.Task("write")
			assert.Equal(t, plan.Stuck, task.State)
			assert.Equal(t, c.team, task.Team)
			assert.Equal(t, coretest.At(t, c.due), task.Due)
			assert.Equal(t, r.facts.Now, task.StuckAt)
			assert.Equal(t, []request.Holder{{Team: c.team, Task: "write"}}, r.state.Holders("keys"))
			tick, ok := r.effects["r1/tick"]
			require.True(t, ok)
			assert.Equal(t, coretest.At(t, c.due).Add(-10*time.Minute), tick.At, "reminded before it is due")
		})
	}
}

// rescues are measured rescue times of one task.
type rescues []time.Duration

func (rescues) Task(string) []time.Duration     { return nil }
func (r rescues) Rescue(string) []time.Duration { return r }
func (rescues) Rung(string) []time.Duration     { return nil }

// What is stuck is never forecast for now: nobody knows when it goes on, unless
// enough rescues were measured.
func TestTheForecastOfWhatIsStuck(t *testing.T) {
	r := start(t, rescued, func(d *offering.Document) {
		d.Plan = append(d.Plan, plan.Task{Key: "hand", Name: "Hand it out", Kind: plan.Manual, Team: "keys", After: []string{"write"}, Effort: "1h"})
	}).must("p-ilse", begin(), submit()).must(request.Program, request.Fail{Task: "write", Trouble: "Down.", Final: true})
	f := r.state.Forecast(r.facts, unmeasured{})
	assert.True(t, f.Unknown)
	slot, step, _ := f.Step("write")
	assert.True(t, slot.Unknown && step.Stuck)
	slot, step, _ = f.Step("hand")
	assert.True(t, slot.Unknown && !step.Stuck, "nor of what waits for it")

	var measured rescues
	for range plan.EnoughMeasured {
		measured = append(measured, 3*time.Hour)
	}
	f = r.state.Forecast(r.facts, measured)
	assert.False(t, f.Unknown)
	assert.Equal(t, r.facts.Now.Add(4*time.Hour), f.Finish, "three hours of rescue, one of handing out")
}

// A report with a step before the last taken one changes nothing.
func TestALateReportUndoesNothing(t *testing.T) {
	r := start(t, rescued, func(d *offering.Document) { d.Plan[0].Lines = "badge" })
	answers := full()
	answers["badge"] = coretest.Answer([]any{map[string]any{"item": "card", "quantity": 5.0}})
	r.must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432}).must(request.Program, request.Succeed{Task: "write", Later: true},
		request.Report{Task: "write", Step: "PO-7/3", Lines: map[int]int{0: 4}})
	for step, code := range map[string]string{"PO-7/2": refusal.Overtaken, "PO-7/03": "seen or later", "PO-7/3": refusal.Seen} {
		err := r.do(request.Program, request.Report{Task: "write", Step: step, Lines: map[int]int{0: 2}})
		why, refused := request.AsRefusal(err)
		if code == "seen or later" { // the same number written otherwise is no earlier one
			assert.NoError(t, err)
			r.must(request.Program, request.Report{Task: "write", Step: "PO-7/4", Lines: map[int]int{0: 4}})
			continue
		}
		require.True(t, refused, step)
		assert.Contains(t, []string{code, refusal.Overtaken}, why.Code)
	}
	r.must(request.Program, request.Report{Task: "write", Step: "PO-7/10", Lines: map[int]int{0: 5}}) // ten is after nine
	assert.NoError(t, r.do(request.Program, request.Report{Task: "write", Step: "other words", Lines: map[int]int{0: 5}}))
	task, _ := r.state.Task("write")
	assert.Equal(t, 5, task.Lines[0].Done)
}

// What a team may not leave out it may not leave out by saying that it is stuck.
func TestStuckIsNoWayToLeaveOut(t *testing.T) {
	r := start(t, func(d *offering.Document) { d.Ladder = nil }).must("p-ilse", begin(), submit()).must("p-kira", take("photo"), request.GetStuck{Task: "photo", Reason: "The camera is broken."})
	assert.NotContains(t, r.allowed("p-kira", "photo"), request.OfferSkip)
	why, refused := request.AsRefusal(r.do("p-kira", request.Skip{Task: "photo", Reason: "Not now."}))
	require.True(t, refused)
	assert.Equal(t, "Only the lead of Keys & Badges, or of the service, can leave a task out.", why.Sentence)
	assert.Contains(t, r.allowed("p-keks", "photo"), request.OfferSkip)
	r.must("p-keks", request.Skip{Task: "photo", Reason: "A picture is there."})
}

func sentTimed(t *testing.T, change ...func(*offering.Document)) *run {
	r := startTimed(t, change...)
	r.facts.Now = coretest.At(t, "2027-03-08 09:00")
	return r.must("p-ilse", begin(), submit())
}

// Leaving out everything is no fulfilment; leaving out some is said.
func TestWhatIsLeftOutIsSaid(t *testing.T) {
	two := func(d *offering.Document) {
		d.Ladder, d.Plan, d.Promise.Pauses = nil, coretest.Badge().Plan[:2], nil
		d.Plan = append(d.Plan, plan.Task{Key: "told", Name: "Tell the asker", Kind: plan.Message, After: []string{"safety", "photo"}, Words: &plan.Words{To: "asker", Subject: "Done", Text: "It is done."}})
	}
	all := sentTimed(t, two).must("p-caro", request.Skip{Task: "safety", Reason: "Nobody is there."}).must("p-keks", request.Skip{Task: "photo", Reason: "No camera."})
	assert.Equal(t, request.Closed, all.state.Status)
	assert.Equal(t, request.Cancelled, all.state.Outcome)
	assert.Equal(t, "All that was needed was left out: Check safety record (Nobody is there), Take photo (No camera).", all.state.Why)
	assert.Equal(t, promise.Over, all.state.Ends[request.FulfilmentClock].Verdict, "nothing was kept")

	some := sentTimed(t, two).must("p-caro", take("safety"), request.Complete{Task: "safety"}).must("p-keks", request.Skip{Task: "photo", Reason: "A picture is there."})
	assert.Equal(t, request.Delivered, some.state.Status)
	assert.Equal(t, []request.LeftOut{{Task: "Take photo", Reason: "A picture is there."}}, some.state.LeftOut())
	assert.Contains(t, some.told(), "The work is done, but for what was left out: Take photo (A picture is there)")
	assert.Equal(t, promise.Kept, some.state.Ends[request.FulfilmentClock].Verdict, "kept for the work that was done")

	// What its rule does not want was not needed.
	none := sentTimed(t, two, func(d *offering.Document) { d.Plan[1].When = `answers.port == "maravel"` }).must("p-caro", take("safety"), request.Complete{Task: "safety"})
	assert.Equal(t, request.Delivered, none.state.Status)
	assert.Empty(t, none.state.LeftOut())
}

// A promise until the end of some tasks is kept by their work, not by leaving
// them out.
func TestAPromiseUntilTasksThatAreLeftOut(t *testing.T) {
	until := func(d *offering.Document) {
		d.Ladder, d.Plan, d.Promise.Pauses = nil, coretest.Badge().Plan[:2], nil
		d.Promise.Targets[0].Until = []string{"photo"}
	}
	r := sentTimed(t, until).must("p-keks", request.Skip{Task: "photo", Reason: "A picture is there."}).must("p-caro", take("safety"), request.Complete{Task: "safety"}).must("p-ilse", request.Confirm{})
	assert.Equal(t, promise.Over, r.state.Ends[request.FulfilmentClock].Verdict)
}

// A task for each of a table, done line by line, has its own line alone.
func TestATaskForEachHasItsOwnLine(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder = nil
		d.Plan = []plan.Task{{Key: "make", Name: "Make", Kind: plan.Manual, Team: "keys", Each: "badge", Lines: "badge"}}
	})
	answers := full()
	answers["badge"] = coretest.Answer([]any{map[string]any{"item": "card", "quantity": 3.0}, map[string]any{"item": "fob", "quantity": 2.0}})
	r.must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432})
	require.Len(t, r.state.Tasks, 2)
	assert.Equal(t, []request.Line{{Name: "Card", Of: 3}}, r.state.Tasks[0].Lines)
	assert.Equal(t, []request.Line{{Name: "Fob", Of: 2}}, r.state.Tasks[1].Lines)
}

// Outputs have labels wherever they are told; sums, files, and what tasks for each
// put out, as a list, can be read by what follows.
func TestWhatComesOutIsReadAndLabelled(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder = nil
		d.Plan = []plan.Task{
			{Key: "order", Name: "Order", Kind: plan.Manual, Team: "keys", Each: "badge", Outputs: []plan.Output{
				{Key: "cost", Name: "What it cost", Kind: plan.Money, Real: true}, {Key: "bill", Name: "Bill", Kind: plan.File, Free: true},
			}},
			{Key: "sum", Name: "Add up", Kind: plan.Manual, Team: "keys", After: []string{"order"},
				Instructions: `{{ outputs.order.map(o, o.name + " " + string(o.cost)).join("; ") }}, in all {{ sum(outputs.order.map(o, o.cost)) }}`},
		}
	})
	answers := full()
	answers["badge"] = coretest.Answer([]any{map[string]any{"item": "card", "quantity": 1.0}, map[string]any{"item": "fob", "quantity": 1.0}})
	r.must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432}).must("p-kira", take("order.1"), take("order.2"))
	for outputs, sentence := range map[[2]string]string{{"", ""}: "What it cost is needed.", {"12.345", ""}: "What it cost: write a sum such as 12.50.", {"12", "f-9"}: "Bill: add the file here first."} {
		why, refused := request.AsRefusal(r.do("p-kira", request.Complete{Task: "order.1", Outputs: map[string]string{"cost": outputs[0], "bill": outputs[1]}}))
		require.True(t, refused, outputs)
		assert.Equal(t, sentence, why.Sentence)
	}
	r.must("p-kira", request.Attach{Task: "order.1", File: form.Upload{ID: "f-1", Name: "bill.pdf", Type: "application/pdf", Size: 9}},
		request.Complete{Task: "order.1", Outputs: map[string]string{"cost": "14.00", "bill": "f-1"}}, request.Complete{Task: "order.2", Outputs: map[string]string{"cost": "1.50"}})
	sum, _ := r.state.Task("sum")
	assert.Equal(t, "Card EUR 14.00; Fob EUR 1.50, in all EUR 15.50", sum.Instructions)
	assert.Contains(t, r.told(), "Kira Matsuda: Order: Card: done. What it cost: EUR 14.00, Bill: bill.pdf")
	real, known := r.state.RealCost()
	assert.True(t, known)
	assert.Equal(t, "EUR 15.50", real.String())
}

// How long a task ran over stands in the history as a length.
func TestHowLongATaskRanOver(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder = nil
		d.Plan = []plan.Task{{Key: "photo", Name: "Take photo", Kind: plan.Manual, Team: "keys", Due: &plan.Due{Within: "1h"}}}
	}).must("p-ilse", begin(), submit()).must("p-kira", take("photo"))
	r.facts.Now = r.facts.Now.Add(3 * time.Hour)
	r.must("p-kira", request.Complete{Task: "photo"})
	assert.Contains(t, r.told(), "Kira Matsuda: Take photo: done, 2 working hours and 2 minutes after it was due")
}

// People named in a column are found at sending, when rows were just worked out,
// as well as afterwards, when they were read back.
func TestPeopleInATableAreFoundAtSending(t *testing.T) {
	rows := func(d *offering.Document) {
		d.Questions = append(d.Questions, form.Question{Key: "rows", Kind: form.Table, Label: "Rows", Columns: []form.Question{{Key: "who", Kind: form.Person, Label: "Who"}}})
		d.Ladder = []ladder.Rung{{Key: "named", Name: "Named", Quorum: "all", Approvers: []ladder.Source{{Source: ladder.InAnswer, Question: "rows.who"}}}}
		d.Plan = []plan.Task{{Key: "ask", Name: "Ask all", Kind: plan.Manual, Team: "keys", People: &plan.People{Question: "rows.who", Enough: "all"}}}
	}
	answers := full()
	answers["rows"] = coretest.Answer([]any{map[string]any{"who": "kira"}, map[string]any{"who": "caro"}})
	r := start(t, rows).must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432})
	assert.Equal(t, []string{"p-kira", "p-caro"}, r.state.Rungs[0].Waiting())
	yes := request.Decide{Rung: "named", Decision: request.Approve}
	r.must("p-kira", yes).must("p-caro", yes)
	task, _ := r.state.Task("ask")
	assert.Equal(t, []string{"p-kira", "p-caro"}, task.Confirmers)
	assert.Equal(t, plan.Ready, task.State)

	once := start(t, rows, func(d *offering.Document) { d.Ladder = nil }).must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432})
	task, _ = once.state.Task("ask")
	assert.Equal(t, []string{"p-kira", "p-caro"}, task.Confirmers, "in the same turn as it was sent")
}

// The lead of a team corrects what a stuck task asks for, with a reason; it is tried
// again with it, and so is every later try.
func TestALeadCorrectsWhatAStuckTaskAsksFor(t *testing.T) {
	r := start(t, rescued, func(d *offering.Document) { d.Plan[0].Rescue = nil }).must("p-ilse", begin(), submit())
	fail := request.Fail{Task: "write", Trouble: "No such zone.", Final: true}
	r.must(request.Program, fail)
	asked := r.effects["r1/write"].Inputs
	require.NotEmpty(t, asked["zones"])
	for name, c := range map[string]struct {
		person string
		retry  request.Retry
		code   string
	}{
		"a member":          {"p-kira", request.Retry{Task: "write", Inputs: map[string]string{"zones": "offices"}, Reason: "So."}, refusal.NotYours},
		"without a reason":  {"p-keks", request.Retry{Task: "write", Inputs: map[string]string{"zones": "offices"}}, refusal.ReasonNeeded},
		"what is not asked": {"p-keks", request.Retry{Task: "write", Inputs: map[string]string{"shoe": "1"}, Reason: "So."}, refusal.BadInput},
		"nothing stuck":     {"p-keks", request.Retry{Task: "photo", Inputs: map[string]string{"zones": "offices"}, Reason: "So."}, refusal.NoTask},
	} {
		why, refused := request.AsRefusal(r.do(c.person, c.retry))
		require.True(t, refused, name)
		assert.Equal(t, c.code, why.Code, name)
	}
	r.must("p-keks", request.Retry{Task: "write", Inputs: map[string]string{"zones": "offices"}, Reason: "The other zone is closed."})
	assert.Contains(t, r.told(), "Keks Oyelaran: Write badge: corrected what is asked for, and started again. The other zone is closed.")
	for range 2 {
		call := r.effects["r1/write"]
		assert.Equal(t, "offices", call.Inputs["zones"])
		assert.Equal(t, asked["holder"], call.Inputs["holder"], "the others stay")
		r.must(request.Program, fail)
		r.must("p-kira", request.Retry{Task: "write"})
	}
}
