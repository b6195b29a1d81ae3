package request_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// run drives one request through commands, as the shell does.
type run struct {
	t       require.TestingT
	facts   request.Facts
	state   request.State
	events  []request.Event
	effects map[string]request.Effect
}

func start(t require.TestingT, change ...func(*offering.Document)) *run {
	company := coretest.Company()
	d := coretest.Badge()
	for _, c := range change {
		c(&d)
	}
	compiled, findings := offering.Compile(d, 3, company)
	require.Empty(t, findings)
	service, _ := company.Directory.Service("access")
	return &run{t: t, effects: map[string]request.Effect{}, facts: request.Facts{
		Company: company.Directory, Offering: compiled, Service: service, Now: time.Date(2027, 3, 12, 9, 0, 0, 0, time.UTC),
	}}
}

func (r *run) do(actor string, c request.Command) error {
	r.facts.Actor = actor
	r.facts.Now = r.facts.Now.Add(time.Minute)
	events, effects, err := request.Handle(r.state, c, r.facts)
	for _, e := range events {
		r.state.Apply(e)
	}
	r.events = append(r.events, events...)
	for _, e := range effects {
		r.effects[e.Key] = e
	}
	return err
}

// later lets time pass.
func (r *run) later(d time.Duration) *run {
	r.facts.Now = r.facts.Now.Add(d)
	return r
}

// aWeek is longer than anybody has to confirm.
const aWeek = 8 * 24 * time.Hour

func (r *run) must(actor string, commands ...request.Command) *run {
	for _, c := range commands {
		require.NoError(r.t, r.do(actor, c), "%T", c)
	}
	return r
}

// allowed are the commands that a person may give on a task.
func (r *run) allowed(person, task string) []request.Offer {
	t, ok := r.state.Task(task)
	require.True(r.t, ok)
	return r.state.AllowedOn(*t, person, r.state.ViewerOf(person, r.facts.Company, r.facts.Service))
}

func full() form.Answers {
	return coretest.Answers(map[string]any{
		"port": "orm", "zones": []any{"fuel"}, "reason": "Bunkering", "start": "2027-03-20",
		"badge": []any{map[string]any{"item": "card", "quantity": 1.0}},
	})
}

func submit() request.Submit {
	return request.Submit{Answers: full(), Prefix: "QS", Number: 10432}
}

func begin() request.Begin { return request.Begin{ID: "r1"} }

func approve() request.Decide { return request.Decide{Rung: "manager", Decision: request.Approve} }

func (r *run) kinds() string {
	kinds := make([]string, len(r.events))
	for i, e := range r.events {
		kinds[i] = e.Kind()
	}
	return strings.Join(kinds, " ")
}

func TestTheWholeStory(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit()).must("p-tomas", approve())
	assert.Equal(t, request.Delivering, r.state.Status)
	assert.NotContains(t, r.effects, "r1/write", "nothing runs by itself before its forerunners have ended")
	safety, _ := r.state.Task("safety")
	assert.Equal(t, "Check Ilse Brandvik for Fuel dock.", safety.Instructions)

	r.must("p-caro", request.Take{Task: "safety"}, request.Complete{Task: "safety"})
	assert.NotContains(t, r.effects, "r1/write")
	r.must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"})
	call := r.effects["r1/write"]
	assert.Equal(t, request.Call, call.Kind)
	assert.Equal(t, map[string]string{"holder": "Ilse Brandvik", "zones": "Fuel dock"}, call.Inputs)
	assert.Equal(t, []request.Holder{{System: "badges", Task: "write"}}, r.state.Holders("keys"))

	r.must(request.Program, request.Fail{Task: "write", Trouble: "The badge system is busy.", Jitter: 1})
	assert.Equal(t, r.facts.Now.Add(1250*time.Millisecond), r.effects["r1/write"].At, "one second and a quarter of it")
	r.must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-7"}})
	assert.Equal(t, request.Delivered, r.state.Status)
	assert.Equal(t, []request.Holder{{Person: "p-ilse"}}, r.state.Holders("keys"))
	assert.Equal(t, "2027-03-19T09:09:00Z", r.effects["r1/lapse"].At.Format(time.RFC3339), "five working days, at the same clock time")

	r.must("p-ilse", request.Confirm{Remark: "It opens the gate."})
	assert.Equal(t, request.Closed, r.state.Status)
	assert.Equal(t, request.Fulfilled, r.state.Outcome)
	assert.Len(t, r.state.Stages, 7)
	assert.Empty(t, r.state.Holders("keys"))
	assert.Equal(t, "drafted submitted rungOpened voted rungEnded decided planned taskReady taskReady taskTaken taskDone taskTaken taskDone taskReady callFailed taskDone delivered confirmed closed", r.kinds())

	history := request.History(r.events, r.facts.Company, request.Viewer{Asker: true})
	var told []string
	for _, e := range history {
		told = append(told, strings.TrimSpace(e.Actor+": "+e.Sentence+" "+e.Remark))
	}
	for _, line := range []string{
		"Ilse Brandvik: Sent as QS-10432-P", ": Line manager: asked Tomas Lindqvist", "Tomas Lindqvist: Approved", ": Planned 3 tasks",
		": Take photo: now with Keys & Badges", "Caro Vintila: Check safety record: done",
		": Write badge: try 1 failed; it is tried again by itself The badge system is busy.", ": Write badge: done Badge number: QB-7",
		"Ilse Brandvik: Confirmed that it is done It opens the gate.", ": Closed as fulfilled",
	} {
		assert.Contains(t, told, line)
	}
}

func TestDeclinedClosesWithTheReason(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit()).must("p-tomas", request.Decide{Rung: "manager", Decision: request.Decline, Reason: " Not this month. "})
	assert.Equal(t, request.Closed, r.state.Status)
	assert.Equal(t, request.Declined, r.state.Outcome)
	vote, _ := r.state.Rungs[0].VoteOf("p-tomas")
	assert.Equal(t, "Not this month.", vote.Reason)
	assert.Empty(t, r.state.Tasks)
	assert.NotContains(t, r.state.Stages, request.Stage("decided"))
}

func TestShapesOfOfferings(t *testing.T) {
	second := func(d *offering.Document) {
		d.Ladder = append(d.Ladder, ladder.Rung{Key: "again", Name: "Again", Quorum: "all", Approvers: []ladder.Source{{Source: ladder.LineManager}, {Source: ladder.ServiceOwner}}})
	}
	t.Run("no rung passes straight on", func(t *testing.T) {
		r := start(t, func(d *offering.Document) { d.Ladder = nil }).must("p-ilse", begin(), submit())
		assert.Equal(t, request.Delivering, r.state.Status)
	})
	t.Run("a yes counts on a later rung", func(t *testing.T) {
		r := start(t, second).must("p-ilse", begin(), submit()).must("p-tomas", approve())
		rung, open := r.state.OpenRung()
		require.True(t, open)
		assert.Equal(t, "again", rung.Key)
		assert.Equal(t, []string{"p-olga"}, rung.Waiting())
		r.must("p-olga", request.Decide{Rung: "again", Decision: request.Approve})
		assert.Equal(t, request.Delivering, r.state.Status)
	})
	t.Run("a rung not needed is left out", func(t *testing.T) {
		r := start(t, second, func(d *offering.Document) { d.Ladder[1].When = `cost.once > money("12.50")` }).must("p-ilse", begin(), submit()).must("p-tomas", approve())
		assert.Len(t, r.state.Rungs, 1)
		assert.Equal(t, request.Delivering, r.state.Status)
	})
	t.Run("a task not wanted is skipped and releases its followers", func(t *testing.T) {
		r := start(t, func(d *offering.Document) {
			d.Ladder, d.Plan[0].When, d.Plan[1].When = nil, `answers.port == "maravel"`, `has(answers.nothing)`
			d.Plan[1].When = "false"
		}).must("p-ilse", begin(), submit())
		assert.Contains(t, r.effects, "r1/write")
	})
	t.Run("no confirmation closes on delivery", func(t *testing.T) {
		none := 0
		r := start(t, func(d *offering.Document) {
			d.Ladder, d.Plan, d.Promise.ConfirmWithin = nil, d.Plan[1:2], &none
		}).must("p-ilse", begin(), submit()).must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"})
		assert.Equal(t, request.Fulfilled, r.state.Outcome)
		assert.NotContains(t, r.state.Stages, request.Stage("confirmed"))
		assert.Empty(t, r.effects)
	})
	t.Run("silence closes", func(t *testing.T) {
		r := start(t, func(d *offering.Document) { d.Ladder, d.Plan = nil, d.Plan[1:2] }).
			must("p-ilse", begin(), submit()).must("p-kira", request.Take{Task: "photo"}, request.Complete{Task: "photo"}).later(aWeek).must(request.Program, request.Lapse{})
		assert.Equal(t, request.Fulfilled, r.state.Outcome)
	})
}

func TestAnAutomaticTaskGetsStuckAndIsRetried(t *testing.T) {
	r := start(t, func(d *offering.Document) { d.Ladder, d.Plan[2].After, d.Plan = nil, nil, d.Plan[2:] }).must("p-ilse", begin(), submit())
	delays := []time.Duration{time.Second, 5 * time.Second, 20 * time.Second, 2 * time.Minute, 10 * time.Minute}
	for _, delay := range delays {
		r.must(request.Program, request.Fail{Task: "write", Trouble: "Down."})
		assert.Equal(t, r.facts.Now.Add(delay), r.effects["r1/write"].At)
	}
	r.must(request.Program, request.Fail{Task: "write", Trouble: "Down."})
	task, _ := r.state.Task("write")
	assert.Equal(t, plan.Stuck, task.State)
	assert.Equal(t, "Tried 6 times. Down.", task.Trouble)
	assert.Equal(t, []request.Holder{{Team: "keys", Task: "write"}}, r.state.Holders("keys"))
	assert.Equal(t, []request.Offer{"retry", "complete", "handOver", "skip", "doubt", "note", "say"}, r.allowed("p-kira", "write"))
	assert.NotContains(t, r.allowed("p-caro", "write"), request.OfferRetry, "another team's")
	r.must("p-kira", request.Retry{Task: "write"}).must(request.Program, request.Succeed{Task: "write"})
	assert.Equal(t, request.Delivered, r.state.Status)
}

// What is refused in which state, and why.
func TestRefusals(t *testing.T) {
	drafted := func(r *run) { r.must("p-ilse", begin()) }
	sent := func(r *run) { drafted(r); r.must("p-ilse", submit()) }
	work := func(r *run) { sent(r); r.must("p-tomas", approve()) }
	taken := func(r *run) { work(r); r.must("p-kira", request.Take{Task: "photo"}) }
	done := func(r *run) { taken(r); r.must("p-kira", request.Complete{Task: "photo"}) }
	delivered := func(r *run) {
		done(r)
		r.must("p-caro", request.Take{Task: "safety"}, request.Complete{Task: "safety"}).must("", request.Succeed{Task: "write"})
	}
	closed := func(r *run) { delivered(r); r.must("p-ilse", request.Confirm{}) }
	changed := submit()
	changed.Slip = "as it was"
	missing := submit()
	missing.Answers = form.Answers{}
	for name, c := range map[string]struct {
		before  func(*run)
		actor   string
		command request.Command
		kind    request.RefusalKind
		code    string
	}{
		"begin twice":             {drafted, "p-ilse", begin(), request.Conflict, refusal.Begun},
		"begin after leaving":     {func(*run) {}, "p-gone", begin(), request.NotYours, refusal.NotYours},
		"discard another's":       {drafted, "p-tomas", request.Discard{}, request.NotYours, refusal.NotYours},
		"discard what is sent":    {sent, "p-ilse", request.Discard{}, request.Conflict, refusal.NotDraft},
		"send somebody's draft":   {drafted, "p-tomas", submit(), request.NotYours, refusal.NotYours},
		"send twice":              {sent, "p-ilse", submit(), request.Conflict, refusal.AlreadySent},
		"send an old slip":        {drafted, "p-ilse", changed, request.Conflict, refusal.SlipChanged},
		"send with holes":         {drafted, "p-ilse", missing, request.Invalid, refusal.Incomplete},
		"decide on a draft":       {drafted, "p-tomas", approve(), request.Conflict, refusal.Decided},
		"decide one's own":        {sent, "p-ilse", approve(), request.NotYours, refusal.NotYours},
		"decide for another":      {sent, "p-noor", approve(), request.NotYours, refusal.NotYours},
		"decide another rung":     {sent, "p-tomas", request.Decide{Rung: "x", Decision: request.Approve}, request.Conflict, refusal.OtherRung},
		"decline without reason":  {sent, "p-tomas", request.Decide{Rung: "manager", Decision: request.Decline, Reason: " "}, request.Invalid, refusal.ReasonNeeded},
		"decide twice":            {work, "p-tomas", approve(), request.Conflict, refusal.Decided},
		"take before the yes":     {sent, "p-kira", request.Take{Task: "photo"}, request.Conflict, refusal.NoTask},
		"take another team's":     {work, "p-kira", request.Take{Task: "safety"}, request.NotYours, refusal.NotYours},
		"take nothing":            {work, "p-kira", request.Take{Task: "x"}, request.Conflict, refusal.NoTask},
		"take twice":              {taken, "p-keks", request.Take{Task: "photo"}, request.Conflict, refusal.Taken},
		"take what is blocked":    {work, "p-kira", request.Take{Task: "write"}, request.Conflict, refusal.Blocked},
		"take what is done":       {done, "p-kira", request.Take{Task: "photo"}, request.Conflict, refusal.Ended},
		"end without taking":      {work, "p-kira", request.Complete{Task: "photo"}, request.Conflict, refusal.NotTaken},
		"end another's":           {taken, "p-keks", request.Complete{Task: "photo"}, request.NotYours, refusal.NotYours},
		"end twice":               {done, "p-kira", request.Complete{Task: "photo"}, request.Conflict, refusal.Ended},
		"report twice":            {delivered, "", request.Succeed{Task: "write"}, request.Conflict, refusal.Ended},
		"failure after the end":   {delivered, "", request.Fail{Task: "write"}, request.Conflict, refusal.Ended},
		"retry what is not stuck": {work, "p-kira", request.Retry{Task: "photo"}, request.Conflict, refusal.NotStuck},
		"confirm too early":       {work, "p-ilse", request.Confirm{}, request.Conflict, refusal.NotDelivered},
		"confirm for another":     {delivered, "p-tomas", request.Confirm{}, request.NotYours, refusal.NotYours},
		"confirm twice":           {closed, "p-ilse", request.Confirm{}, request.Conflict, refusal.Closed},
		"lapse too late":          {closed, "", request.Lapse{}, request.Conflict, refusal.NotDelivered},
	} {
		t.Run(name, func(t *testing.T) {
			r := start(t)
			c.before(r)
			before := len(r.events)
			why, ok := request.AsRefusal(r.do(c.actor, c.command))
			require.True(t, ok)
			assert.Equal(t, c.kind, why.Kind)
			assert.Equal(t, c.code, why.Code)
			assert.NotEmpty(t, why.Sentence)
			assert.Len(t, r.events, before)
		})
	}
}

func TestIncompleteNamesEveryPlace(t *testing.T) {
	r := start(t).must("p-ilse", begin())
	c := submit()
	delete(c.Answers, "reason")
	c.Answers["start"] = coretest.Answer("2027-03-11")
	why, _ := request.AsRefusal(r.do("p-ilse", c))
	require.Len(t, why.Details, 2)
	assert.Equal(t, "/answers/reason", why.Details[0].Place)
	assert.Equal(t, request.Refusal{Kind: request.Invalid, Code: refusal.Check, Sentence: "Start: this day is over.", Place: "/answers/start"}, why.Details[1])
}

func TestViewers(t *testing.T) {
	r := start(t).must("p-ilse", begin())
	viewer := func(person string) request.Viewer {
		v := r.state.ViewerOf(person, r.facts.Company, r.facts.Service)
		assert.Equal(t, person, v.Person)
		v.Person = ""
		return v
	}
	assert.Equal(t, request.Viewer{}, viewer("p-olga"), "a draft is nobody else's business")
	r.must("p-ilse", submit()).must("p-tomas", approve())
	assert.Equal(t, request.Viewer{Asker: true}, viewer("p-ilse"))
	assert.Equal(t, request.Viewer{Approver: true, Rungs: []string{"manager"}}, viewer("p-tomas"))
	assert.Equal(t, request.Viewer{Owner: true}, viewer("p-olga"))
	assert.Equal(t, request.Viewer{HomeLead: true, Tasks: []string{"photo", "write"}, Leads: []string{"photo", "write"}, Foreseen: true}, viewer("p-keks"))
	assert.Equal(t, request.Viewer{Tasks: []string{"safety"}, Leads: []string{"safety"}, Foreseen: true}, viewer("p-caro"))
	assert.Equal(t, request.Viewer{}, viewer("p-noor"))
	assert.True(t, viewer("p-caro").SeesTask("safety"))
	assert.False(t, viewer("p-caro").SeesTask("photo"))
	assert.False(t, viewer("p-caro").SeesRequest())
	assert.False(t, viewer("p-tomas").SeesRequest())
}

func TestReference(t *testing.T) {
	assert.Equal(t, "QS-10432-P", request.Reference("QS", 10432))
	assert.True(t, request.ValidReference("QS-10432-P"))
	for reference, number := range map[string]int64{"QS-10432-P": 10432, "T-QS-10432-P": 10432, "T-10432-P": 10432, "T-T-10432-P": 10432, "QS-QS-10432-P": 0, "T-QS": 0, "T-": 0, "": 0} {
		assert.Equal(t, number, request.Number(reference), reference)
		assert.Equal(t, number != 0, request.ValidReference(reference), reference)
	}
	for _, wrong := range []string{"QS-10432-Q", "QS-10432", "QS-x-A", "QS--5-E", "QS-010432-P", ""} {
		assert.False(t, request.ValidReference(wrong), wrong)
	}
}

func TestTheCheckLetterCatchesWrongAndSwappedDigits(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		right := request.Reference("QS", rapid.Int64Range(1, 99_999_999).Draw(t, "number"))
		wrong := []byte(right)
		i := rapid.IntRange(3, len(right)-3).Draw(t, "place")
		if rapid.Bool().Draw(t, "swap") && i+1 < len(right)-2 {
			wrong[i], wrong[i+1] = wrong[i+1], wrong[i]
		} else {
			wrong[i] = byte('0' + rapid.IntRange(0, 9).Draw(t, "digit"))
		}
		if string(wrong) != right {
			assert.False(t, request.ValidReference(string(wrong)), "%s for %s", wrong, right)
		}
	})
}

// Whatever is tried in whatever order: the events replay to the same state,
// survive their storage, and no task exists before the yes.
func TestAnyOrderOfCommandsKeepsTheRules(t *testing.T) {
	commands := []request.Command{
		begin(), submit(), approve(), request.Discard{}, request.Decide{Rung: "manager", Decision: request.Decline, Reason: "no"},
		request.Take{Task: "safety"}, request.Take{Task: "photo"}, request.Take{Task: "write"},
		request.Complete{Task: "safety"}, request.Complete{Task: "photo"}, request.Complete{Task: "write"},
		request.Succeed{Task: "write"}, request.Fail{Task: "write"}, request.Retry{Task: "write"}, request.Confirm{}, request.Lapse{}, request.SendBack{Text: "no"}, request.Take{Task: "right-1"}, request.Complete{Task: "right-1"},
	}
	rapid.Check(t, func(t *rapid.T) {
		r := start(t)
		r.must("p-ilse", begin())
		for range rapid.IntRange(1, 60).Draw(t, "steps") {
			actor := rapid.SampledFrom([]string{"p-ilse", "p-tomas", "p-caro", "p-kira", "p-keks", ""}).Draw(t, "actor")
			_ = r.do(actor, rapid.SampledFrom(commands).Draw(t, "command"))
			assert.Equal(t, r.state.Status == request.Closed, len(r.state.Holders("keys")) == 0, "somebody holds it until it is closed")
			if len(r.state.Tasks) > 0 {
				assert.Contains(t, r.state.Stages, request.Stage("decided"))
			}
			assert.Equal(t, r.state.Status == request.Closed, r.state.Outcome != "")
		}
		want, err := json.Marshal(r.state)
		require.NoError(t, err)
		stored := make([]request.Event, len(r.events))
		for i, e := range r.events {
			assert.Equal(t, i+1, e.Seq)
			data, err := json.Marshal(e.Body)
			require.NoError(t, err)
			body, err := request.DecodeBody(e.Kind(), data)
			require.NoError(t, err)
			stored[i] = request.Event{Seq: e.Seq, At: e.At, Actor: e.Actor, Body: body}
		}
		got, err := json.Marshal(request.Replay(stored))
		require.NoError(t, err)
		assert.JSONEq(t, string(want), string(got))
	})
}
