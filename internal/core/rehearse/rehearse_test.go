package rehearse_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// ground is that of the badge in the small company.
func ground(change ...func(*offering.Document)) rehearse.Ground {
	d := coretest.Badge()
	for _, c := range change {
		c(&d)
	}
	company := coretest.Company()
	return rehearse.Ground{
		Company: company.Directory, Connectors: company.Connectors, Prefix: "QS",
		Compile: func(in *people.Directory) (*offering.Compiled, finding.List) {
			return offering.Compile(d, 1, offering.Company{Directory: in, Connectors: company.Connectors})
		},
	}
}

const badge = `
format: heptad/rehearsal/1
asker: ilse
send: 2027-03-08T09:00:00Z
answers: {port: orm, zones: [fuel], reason: Bunkering, start: 2027-03-15, badge: [{item: card, quantity: 1}]}
`

func run(t *testing.T, g rehearse.Ground, text string) *rehearse.Life {
	t.Helper()
	s, _, err := script.Parse([]byte(text))
	require.NoError(t, err)
	life, err := rehearse.Run(g, s)
	require.NoError(t, err)
	return life
}

func TestALifeFromSendingToClosing(t *testing.T) {
	began := time.Now()
	life := run(t, ground(), badge)
	fmt.Println(time.Since(began))
	for _, e := range life.Events {
		fmt.Println(e.At, e.Actor, e.Kind())
	}
	fmt.Println(life.Refused, life.End, life.Why, life.Forecasts)
	assert.Equal(t, rehearse.Closed, life.End)
	assert.Equal(t, request.Fulfilled, life.State.Outcome)
}
