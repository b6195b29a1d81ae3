package request_test

import (
	"encoding/json"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/request"
)

// brief looks that a line in a list, as the store gives it back, says of the state what the
// whole of it says.
func (l *life) brief() {
	line := l.state.Brief()
	var b request.State
	require.NoError(l.t, json.Unmarshal([]byte(text(l.t, line)), &b))
	s := &l.state
	require.Equal(l.t, s.Holders("keys"), b.Holders("keys"))
	for _, h := range s.Holders("keys") {
		what, until := s.HasToDo(h)
		briefly, then := b.HasToDo(h)
		require.Equal(l.t, what, briefly)
		require.True(l.t, until.Equal(then))
	}
	rung, open := s.OpenRung()
	there, opened := b.OpenRung()
	require.Equal(l.t, open, opened)
	if open {
		require.Equal(l.t, rung.Waiting(), there.Waiting())
		require.Equal(l.t, rung.DueAt().UTC(), there.DueAt().UTC())
	}
	outlook := s.Forecast(l.facts, unmeasured{}).Outlook()
	held, is := s.HeldUp(outlook, l.facts.Offering, l.facts.Company, "keys", l.facts.Now)
	briefly, still := b.HeldUp(outlook, l.facts.Offering, l.facts.Company, "keys", l.facts.Now)
	require.Equal(l.t, is, still)
	require.Equal(l.t, held.What, briefly.What)
	require.Equal(l.t, held.Open, briefly.Open)
	for _, person := range l.facts.Company.Persons() {
		person := person.ID
		require.Equal(l.t, s.WaitsFor(person), b.WaitsFor(person))
		if s.Status == request.Closed {
			continue // what can be done on it, its sheet says
		}
		viewer, seen := s.ViewerOf(person, l.facts.Company, l.facts.Service), b.ViewerOf(person, l.facts.Company, l.facts.Service)
		require.Equal(l.t, viewer, seen)
		for i := range s.Tasks {
			if t := &s.Tasks[i]; !t.State.Ended() || t.Undo != nil {
				alike, ok := b.Task(t.Key)
				require.True(l.t, ok)
				require.Equal(l.t, s.AllowedOn(*t, person, viewer), b.AllowedOn(*alike, person, seen), "%s on %s", person, t.Key)
			}
		}
	}
}
