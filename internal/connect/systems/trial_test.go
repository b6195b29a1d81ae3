package systems_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/systems"
	"heptad/internal/core/plan"
)

// In an installation for trying each action of each system succeeds at once, calls nobody,
// and gives all that comes out of it but secrets.
func TestForTrialEverythingSucceeds(t *testing.T) {
	all := systems.ForTrial(time.Now)
	require.Len(t, all, len(systems.Described()))
	for i, c := range all {
		described := systems.Described()[i]
		assert.Equal(t, described, c.Describe())
		for _, action := range described.Actions {
			reply, err := c.Do(context.Background(), connect.Call{Key: "k", Do: action.Key, Wanted: []plan.Output{{Key: "wanted"}, {Key: "hidden", Secret: true}, {Key: "paper", Kind: plan.File}}})
			require.NoError(t, err, described.Key+" "+action.Key)
			assert.False(t, reply.Later)
			assert.Equal(t, "trial-wanted", reply.Outputs["wanted"])
			assert.NotContains(t, reply.Outputs, "hidden")
			assert.NotContains(t, reply.Outputs, "paper")
			for _, out := range action.Outputs {
				assert.Equal(t, !out.Secret, reply.Outputs[out.Key] != "", out.Key)
			}
		}
		_, err := c.Do(context.Background(), connect.Call{Do: "fly"})
		assert.ErrorAs(t, err, new(connect.Trouble))
	}
}
