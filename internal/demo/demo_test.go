package demo_test

import (
	"context"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/measure"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

func TestTheCompany(t *testing.T) {
	company, err := demo.Company()
	require.NoError(t, err)
	assert.Len(t, company.Persons, 240)
	assert.Len(t, company.Teams, 9)
	assert.Len(t, company.Services, 11)
	door, err := demo.Door()
	require.NoError(t, err)
	assert.Len(t, door, 7)
	known := map[string]bool{}
	for _, p := range company.Persons {
		known[p.ID] = true
	}
	for _, p := range company.Persons {
		assert.True(t, p.Manager == "" || known[p.Manager], p.Login)
	}
	for _, e := range door {
		assert.True(t, known[e.Person])
	}
}

func asJSON(t *testing.T, what any) string {
	t.Helper()
	data, err := json.Marshal(what)
	require.NoError(t, err)
	return string(data)
}

// replayed goes through all requests of an office, whose events must replay to
// the stored state; it gives the states.
func replayed(t *testing.T, office *demotest.Office) (all []request.State) {
	t.Helper()
	ctx := context.Background()
	for _, p := range office.Company().Persons() {
		entries, err := office.Store.RequestsOf(ctx, p.ID, store.Mine{Page: store.Page{Limit: 100}})
		require.NoError(t, err)
		for _, e := range entries {
			events, err := office.Store.Events(ctx, e.State.ID)
			require.NoError(t, err)
			state, err := office.Store.Request(ctx, e.State.ID)
			require.NoError(t, err)
			line := state.Brief()
			assert.Equal(t, asJSON(t, line), asJSON(t, e.State), "a list says what the state says")
			stored, err := json.Marshal(state)
			require.NoError(t, err)
			replayed, err := json.Marshal(request.Replay(events))
			require.NoError(t, err)
			assert.JSONEq(t, string(stored), string(replayed))
			for _, event := range events {
				assert.False(t, event.At.After(demotest.Start), "nothing lies in the future")
			}
			if facts, sent := measure.Of(events); sent {
				kept, there, err := office.Store.FactsOf(ctx, facts.Request.Number)
				require.NoError(t, err)
				require.True(t, there)
				assert.Equal(t, facts, kept, "what was measured event by event is what the history says")
			}
			all = append(all, state)
		}
	}
	return all
}

func TestAQuietWeek(t *testing.T) {
	seen := map[string]int{}
	for _, s := range replayed(t, demotest.New(t)) {
		seen[string(s.Status)+string(s.Outcome)]++
	}
	assert.Equal(t, map[string]int{"draft": 1, "deciding": 3, "returned": 1, "delivering": 5, "waiting": 1, "delivered": 2, "closeddeclined": 1, "closedfulfilled": 5}, seen)
}

// A season has some hundred requests in all stages; of each thing that can go
// wrong at least one, and nothing that was refused on sending.
func TestASeason(t *testing.T) {
	office := demotest.Season(t)
	seen := map[string]int{}
	for _, s := range replayed(t, office) {
		seen[string(s.Status)+string(s.Outcome)]++
		for i := range s.Tasks {
			if task := &s.Tasks[i]; task.State == plan.Stuck {
				seen["stuck "+string(task.Kind)]++
			}
		}
		for _, m := range s.Marks {
			seen["mark"]++
			if m.Share == promise.Whole {
				seen["told that it is missed"]++
			}
		}
		if c, err := office.Version(context.Background(), s.Offering, s.Version); err == nil {
			if clock, ok := s.Fulfilment(c); ok {
				reading := clock.Read(demotest.Start)
				seen[string(reading.State)]++
				if reading.Late && reading.State == promise.Running {
					seen["late"]++
				}
			}
		}
	}
	assert.Greater(t, seen["kept"]+seen["missed"]+seen["running"], 100)
	for _, what := range []string{"deciding", "returned", "delivering", "delivered", "closeddeclined", "closedfulfilled", "stuck manual", "stuck automatic", "kept", "missed", "late", "mark", "told that it is missed"} {
		assert.Positive(t, seen[what], what)
	}
	assert.Zero(t, seen["closedwithdrawn"])
}

func TestTheCompanyIsTheSameEachTime(t *testing.T) {
	assert.Equal(t, demo.ID("quist"), demo.ID("quist"))
	assert.NotEqual(t, demo.ID("quist"), demo.ID("sarmento"))
}
