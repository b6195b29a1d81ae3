package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// A folder that the program of before has left is read as it was: what stood in
// it stands, is found, gets what can still be known, and goes on to its end.
func TestAFolderOfBefore(t *testing.T) {
	o := demotest.Before(t, "testdata/before.db.gz", time.Date(2027, 4, 10, 12, 30, 0, 0, time.UTC))
	read := func(reference string) request.State {
		t.Helper()
		s, err := o.Store.ByReference(ctx, reference)
		require.NoError(t, err)
		return s
	}
	same := func() {
		t.Helper()
		for _, want := range []struct {
			reference, asker, offering string
			status                     request.Status
			outcome                    request.Outcome
		}{
			{"QS-10419-A", "sarmento", "errands", request.Delivering, ""}, {"QS-10420-B", "castelo", "errands", request.Delivering, ""},
			{"QS-10421-C", "quist", "errands", request.Delivering, ""}, {"QS-10423-E", "sarmento", "berth-side-parking", request.Deciding, ""},
			{"QS-10422-D", "castelo", "berth-side-parking", request.Closed, request.Fulfilled},
		} {
			s := read(want.reference)
			assert.Equal(t, demo.ID(want.asker), s.Asker, want.reference)
			assert.Equal(t, want.offering, s.Offering, want.reference)
			assert.Equal(t, want.status, s.Status, want.reference)
			assert.Equal(t, want.outcome, s.Outcome, want.reference)
		}
	}
	same()
	closed := read("QS-10422-D")
	assert.Empty(t, closed.Ends, "the program of before kept no ends of clocks")
	before, err := o.Store.Events(ctx, closed.ID)
	require.NoError(t, err)

	// It is found by its words, which the migration has written down.
	assert.Len(t, findAll(t, o, "castelo", store.Wanted{Words: "errands"}), 1)
	assert.Len(t, findAll(t, o, "marrec", store.Wanted{Words: "errands"}), 3, "her team has a task in each")
	assert.Len(t, findAll(t, o, "marrec", store.Wanted{Words: "castelo errands"}), 1, "by who asked")

	// The runner writes down what clocks showed when they ended; nothing else changes.
	for range 3 {
		_, err := o.Running.RunDue(ctx)
		require.NoError(t, err)
	}
	same()
	closed = read("QS-10422-D")
	end, is := closed.Ends[request.FulfilmentClock]
	require.True(t, is, "what can still be known is added")
	assert.Equal(t, promise.Missed, end.Verdict, "a month for a promise of days")
	assert.Negative(t, end.Left)
	after, err := o.Store.Events(ctx, closed.ID)
	require.NoError(t, err)
	assert.Equal(t, before, after[:len(before)], "history is only ever added to")
	for _, e := range after[len(before):] {
		assert.IsType(t, request.ClockEnded{}, e.Body)
	}

	// What it did is measured, by facts that are made of its history.
	sent, err := o.Store.CountSent(ctx, 0)
	require.NoError(t, err)
	reorganise(t, o, "UPDATE people SET roles = 'executive' WHERE id = '"+demo.ID("quist")+"'") // there was none
	assert.InDelta(t, sent, number(t, o.Measuring, "quist", sentence("asked", "last12")), 0)

	// What was open goes on to its end.
	open := read("QS-10419-A")
	o.Must("marrec", open.ID, request.Take{Task: "run"}, request.Complete{Task: "run"})
	o.Must("abelsen", open.ID, request.Take{Task: "tell"}, request.Complete{Task: "tell"})
	assert.Equal(t, request.Fulfilled, o.Must("sarmento", open.ID, request.Confirm{}).Outcome)
	deciding := read("QS-10423-E")
	o.Must("quist", deciding.ID, request.Decide{Rung: deciding.Rungs[0].Key, Decision: request.Approve})
	assert.Equal(t, request.Delivering, read("QS-10423-E").Status)
}
