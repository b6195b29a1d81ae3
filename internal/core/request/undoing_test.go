package request_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Who leaves while doing by hand what the other system would not take back,
// leaves it stuck, so that somebody else can go on.
func TestAnUndoOfOneWhoLeaves(t *testing.T) {
	call := &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "zones": "none"}}
	r := start(t, func(d *offering.Document) {
		d.Ladder = nil
		d.Plan = []plan.Task{
			{Key: "write", Name: "Write badge", Kind: plan.Automatic, Team: "keys", Action: call, Undo: &plan.Undo{Action: call}},
			{Key: "hand", Name: "Hand it out", Kind: plan.Manual, Team: "keys", After: []string{"write"}},
		}
	})
	r.must("p-ilse", begin(), submit()).must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-7"}})
	r.must("p-ilse", request.Withdraw{}).must(request.Program, request.Fail{Task: "write", Undo: true, Trouble: "There is no such badge.", Final: true})
	r.must("p-kira", request.Take{Task: "write"})
	assert.Equal(t, []request.Holder{{Person: "p-kira", Team: "keys", Task: "write"}}, r.state.Holders("keys"))

	r.facts.Company = companies[1]
	r.must(request.Program, request.Free{Task: "write"})
	assert.Equal(t, []request.Holder{{Team: "keys", Task: "write"}}, r.state.Holders("keys"))
	assert.Equal(t, plan.Stuck, r.state.Tasks[0].Undo.State)
	r.must("p-keks", request.Take{Task: "write"}, request.Complete{Task: "write"})
	assert.Equal(t, request.Closed, r.state.Status)
	assert.Equal(t, plan.Undone, r.state.Tasks[0].State)
}

// What ended in the same instant is taken back in the order of the history, the
// last first, whatever the order of the plan.
func TestTheLastDoneIsTakenBackFirst(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder, d.Plan = nil, nil
		for _, key := range []string{"a", "b", "c"} {
			d.Plan = append(d.Plan, plan.Task{Key: key, Name: key, Kind: plan.Manual, Team: "keys", Undo: &plan.Undo{Text: "Put it back."}})
		}
		d.Plan = append(d.Plan, plan.Task{Key: "last", Name: "last", Kind: plan.Manual, Team: "keys"})
	})
	r.must("p-ilse", begin(), submit())
	at := r.facts.Now
	for _, key := range []string{"b", "c", "a"} {
		for _, c := range []request.Command{request.Take{Task: key}, request.Complete{Task: key}} {
			r.facts.Now = at.Add(-time.Hour) // the clock was set back: all of them end in the instant of the sending
			r.must("p-kira", c)
		}
	}
	r.must("p-ilse", request.Withdraw{})
	var order []string
	for r.state.Status == request.Undoing {
		task := r.state.Holders("keys")[0].Task
		order = append(order, task)
		r.must("p-kira", request.Take{Task: task}, request.Complete{Task: task})
	}
	assert.Equal(t, []string{"a", "c", "b"}, order)
}
