package starter_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/starter"
)

// A starter lacks nothing but its service and its teams.
func TestEveryStarterIsWhole(t *testing.T) {
	require.GreaterOrEqual(t, len(starter.All()), 12)
	for _, d := range starter.All() {
		for i := range d.Plan {
			assert.Empty(t, d.Plan[i].Team, "the home team of the service does it")
			d.Plan[i].Team = "some-team"
		}
		_, findings := offering.Examine(d, 1, offering.Company{})
		for _, f := range findings {
			assert.Equal(t, finding.Hint, f.Severity, "%s: %+v", d.Key, f)
		}
		assert.Equal(t, d.Key, offering.KeyOf(d.Purpose.Name), "it is found again by its key")
		assert.NotEmpty(t, starter.Area(d.Key), d.Key)
		found, ok := starter.Find(d.Key)
		assert.True(t, ok)
		assert.Equal(t, d.Purpose.Name, found.Purpose.Name)
	}
	_, ok := starter.Find("nothing")
	assert.False(t, ok)
}
