package request_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// Staff start an action that the plan leaves to them: it runs with what they type, its outcome
// is on the record, and a task of theirs ends in the same act.
func TestRunNow(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder = nil
		d.Plan = []plan.Task{
			{Key: "look", Name: "Look at it", Kind: plan.Manual, Team: "keys"},
			{Key: "reset", Name: "Write it anew", Kind: plan.Automatic, Team: "keys", OnDemand: true, Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}"}}},
		}
	})
	r.must("p-ilse", begin(), submit())
	require.Len(t, r.state.Tasks, 1, "it is no step of the plan")
	run := func(who string, c request.RunNow) string {
		why, refused := request.AsRefusal(r.do(who, c))
		if !refused {
			return ""
		}
		return why.Code + " " + why.Place
	}
	zones := map[string]string{"zones": "fuel"}
	assert.Equal(t, refusal.NotYours+" ", run("p-caro", request.RunNow{Action: "reset", Inputs: zones}), "of another team")
	assert.Equal(t, refusal.NotYours+" ", run("p-ilse", request.RunNow{Action: "reset", Inputs: zones}))
	assert.Equal(t, refusal.NoTask+" ", run("p-kira", request.RunNow{Action: "look"}), "a step is no action")
	assert.Equal(t, refusal.ReasonNeeded+" /inputs/zones", run("p-kira", request.RunNow{Action: "reset"}), "what the offering leaves empty")
	assert.Equal(t, refusal.NotTaken+" ", run("p-kira", request.RunNow{Action: "reset", Inputs: zones, Then: "look"}), "all of it, or nothing")
	require.Len(t, r.state.Tasks, 1)

	r.must("p-kira", request.Take{Task: "look"})
	assert.Empty(t, run("p-kira", request.RunNow{Action: "reset", Inputs: map[string]string{"zones": "fuel", "holder": "somebody else"}, Then: "look", Word: "Try it again."}))
	call := r.effects["r1/reset-run-1"]
	assert.Equal(t, map[string]string{"holder": "Ilse Brandvik", "zones": "fuel"}, call.Inputs, "what the offering fills in stays")
	look, _ := r.state.Task("look")
	assert.Equal(t, plan.Done, look.State)
	assert.Equal(t, request.Delivering, r.state.Status, "it is not delivered before that has ended")
	assert.Equal(t, refusal.Calling+" ", run("p-kira", request.RunNow{Action: "reset", Inputs: zones}), "not twice at a time")
	r.must(request.Program, request.Succeed{Task: "reset-run-1", Outputs: map[string]string{"number": "QB-9"}})
	assert.Equal(t, request.Delivered, r.state.Status)
	assert.Contains(t, r.told(), "Kira Matsuda: Write it anew: started by hand")
	assert.Equal(t, refusal.NotNow+" ", run("p-kira", request.RunNow{Action: "reset", Inputs: zones}))
}

func TestFindingsOfWhatIsStartedByHand(t *testing.T) {
	call := &plan.Action{Connector: "badges", Do: "write"}
	for want, tasks := range map[string][]plan.Task{
		"/plan/0/onDemand onDemand": {{Key: "a", Name: "A", Kind: plan.Manual, Team: "keys", OnDemand: true}},
		"/plan/1/after/0 onDemand":  {{Key: "a", Name: "A", Kind: plan.Automatic, Team: "keys", OnDemand: true, Action: call}, {Key: "b", Name: "B", Kind: plan.Manual, Team: "keys", After: []string{"a"}}},
	} {
		company, d := coretest.Company(), coretest.Badge()
		d.Plan = tasks
		_, findings := offering.Compile(d, 1, company)
		require.NotEmpty(t, findings, want)
		assert.Equal(t, want, findings[0].Place+" "+findings[0].Code)
	}
}
