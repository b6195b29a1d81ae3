package demo_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/finding"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
)

// What is left to say of the offerings of the demo, once its owners have
// accepted it by name.
var accepted = map[string]string{}

func TestTheOfferingsHaveNoErrors(t *testing.T) {
	office := demotest.New(t)
	documents, err := demo.Offerings()
	require.NoError(t, err)
	assert.Len(t, documents, 17)
	limit, err := money.Parse("500.00", "EUR")
	require.NoError(t, err)
	for _, d := range documents {
		_, findings := offering.Examine(d, 1, offering.Company{Directory: office.Company(), Connectors: office.Connectors(), DecideAbove: limit})
		for _, f := range findings {
			if f.Severity != finding.Hint {
				assert.Equal(t, accepted[d.Key], f.Name(), "%s: %s", d.Key, f.Sentence)
			}
		}
	}
}
