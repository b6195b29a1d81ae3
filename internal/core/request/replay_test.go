package request_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/coretest"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// What an older program kept of the same events counts as what they say.
func TestAsKeptBefore(t *testing.T) {
	at := func(clock string) time.Time { return coretest.At(t, "2027-03-08 "+clock) }
	again := request.State{Why: "No.", Pauses: []promise.Pause{
		{From: at("09:00"), Until: at("10:00"), Why: "hand"}, {From: at("10:00"), Until: at("11:00"), Why: promise.ForAsker}, {From: at("14:00"), Why: promise.ForAsker},
	}}
	older := request.State{Pauses: []promise.Pause{{From: at("09:00"), Until: at("11:00")}, {From: at("14:00")}}}
	assert.Equal(t, older, again.AsKeptBefore(older))
	assert.Equal(t, again, again.AsKeptBefore(again), "of this program all is as it is")
	mixed := request.State{Why: "No.", Pauses: []promise.Pause{{From: at("09:00"), Until: at("11:00")}, {From: at("14:00"), Why: promise.ForAsker}}}
	assert.Equal(t, mixed, again.AsKeptBefore(mixed), "begun by the older, and gone on by this one")

	// A pause that the older program began goes on as it is, whatever happens.
	s := request.State{ID: "r1", Status: request.Returned, Pauses: []promise.Pause{{From: at("09:00")}}}
	s.Apply(request.Event{Seq: 1, At: at("10:00"), Body: request.SideReminded{Times: 1}})
	assert.Equal(t, []promise.Pause{{From: at("09:00")}}, s.Pauses)
}
