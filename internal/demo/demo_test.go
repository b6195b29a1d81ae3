package demo_test

import (
	"context"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

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

// The events of every request of the demo replay to the state that is stored.
func TestEveryRequestReplaysToItsState(t *testing.T) {
	office, ctx := demotest.New(t), context.Background()
	company, err := demo.Company()
	require.NoError(t, err)
	seen := map[string]int{}
	for _, p := range company.Persons {
		entries, err := office.Store.RequestsOf(ctx, p.ID, store.Mine{Page: store.Page{Limit: 100}})
		require.NoError(t, err)
		for _, e := range entries {
			events, err := office.Store.Events(ctx, e.State.ID)
			require.NoError(t, err)
			stored, err := json.Marshal(e.State)
			require.NoError(t, err)
			replayed, err := json.Marshal(request.Replay(events))
			require.NoError(t, err)
			assert.JSONEq(t, string(stored), string(replayed))
			seen[string(e.State.Status)+string(e.State.Outcome)]++
			for _, event := range events {
				assert.False(t, event.At.After(demotest.Start), "nothing lies in the future")
			}
		}
	}
	assert.Equal(t, map[string]int{"draft": 1, "deciding": 3, "returned": 1, "delivering": 5, "waiting": 1, "delivered": 2, "closeddeclined": 1, "closedfulfilled": 5}, seen)
}

func TestTheCompanyIsTheSameEachTime(t *testing.T) {
	assert.Equal(t, demo.ID("quist"), demo.ID("quist"))
	assert.NotEqual(t, demo.ID("quist"), demo.ID("sarmento"))
}
