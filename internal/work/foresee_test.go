package work_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/foresee"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// What cannot be foreseen is refused before it begins, at its place; what can is worked out
// in the background, from a company that has hardly any past, too.
func TestSeasonsOfAYoungCompany(t *testing.T) {
	o := demotest.New(t) // opens on 11 March 2027
	owner, key := demo.ID("falkenau"), "berth-side-parking"
	for _, c := range []struct {
		asked           work.SeasonAsked
		place, sentence string
	}{
		{work.SeasonAsked{From: "2027-06-10", Until: "2027-06-09"}, "/until", "The last day is before the first."},
		{work.SeasonAsked{From: "soon", Until: "2027-06-09"}, "/until", "The last day is before the first."},
		{work.SeasonAsked{From: "2027-04-01", Until: "2027-12-01"}, "/until", "A season has 186 days at most."},
		{work.SeasonAsked{From: "2027-03-10", Until: "2027-04-01"}, "/from", "That is over: a season that is foreseen begins today at the earliest."},
		{work.SeasonAsked{From: "2029-03-10", Until: "2029-06-01"}, "/until", "Nobody can look so far ahead: two years at most."},
		{work.SeasonAsked{From: "2027-04-01", Until: "2027-04-30", Changes: foresee.Levers{People: []foresee.More{{Team: "keys-badges", More: 1}, {Team: "moon", More: 1}}}}, "/changes/people/1/team", `There is no team "moon".`},
		{work.SeasonAsked{From: "2027-04-01", Until: "2027-04-30", Changes: foresee.Levers{Promises: []foresee.Promising{{Offering: key, Fulfilment: "quickly"}}}}, "/changes/promises/0/fulfilment", `"quickly" is no length of time: write it like 8h or 5d.`},
	} {
		_, err := o.Rehearsing.Foresee(ctx, owner, key, c.asked)
		var refused *request.Refusal
		require.ErrorAs(t, err, &refused)
		assert.Equal(t, []string{refusal.Season, c.place, c.sentence}, []string{refused.Code, refused.Place, refused.Sentence})
	}
	asked := work.SeasonAsked{From: "2027-03-11", Until: "2027-04-30"}
	_, err := o.Rehearsing.Foresee(ctx, demo.ID("okonjo"), key, asked)
	require.ErrorIs(t, err, store.ErrNotFound)

	id, err := o.Rehearsing.Foresee(ctx, owner, key, asked)
	require.NoError(t, err)
	var s work.Studied
	require.Eventually(t, func() bool {
		s, err = o.Rehearsing.Study(ctx, owner, key, id)
		return err == nil && s.State != store.StudyRunning
	}, time.Minute, 20*time.Millisecond)
	require.Equal(t, store.StudyDone, s.State)
	var f work.Foresight
	require.NoError(t, json.Unmarshal(s.Result, &f))
	assert.Equal(t, "2026-03-12 2026-05-01", f.PastFrom+" "+f.PastUntil, "the same days of the week a year before")
	assert.Zero(t, f.Past)
	assert.Empty(t, f.After.Teams)
	assert.NotContains(t, strings.ToLower(string(s.Result)), "castelo", "it names nobody")
}
