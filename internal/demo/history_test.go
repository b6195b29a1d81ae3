package demo_test

import (
	"context"
	"encoding/json"
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/foresee"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// The two years are lived through; then what is simulated is held against them, and each
// change of a season does what one would work out by hand.
func TestHistory(t *testing.T) {
	ctx := context.Background()
	o := demotest.New(t)
	h, err := demo.NewHistory(ctx, o.Office, demotest.Start)
	require.NoError(t, err)
	require.NoError(t, h.Write())
	t.Log(h.Done.Load(), "requests")

	t.Run("October is what it was", func(t *testing.T) {
		share := func(month time.Month) float64 {
			from := time.Date(2026, month, 1, 0, 0, 0, 0, time.UTC)
			all, err := o.Store.KeptIn(ctx, from, from.AddDate(0, 1, 0))
			require.NoError(t, err)
			var of, kept int
			for _, k := range all {
				of, kept = of+k.Of, kept+k.Kept
			}
			return float64(kept) / float64(of)
		}
		for _, month := range []time.Month{time.June, time.July, time.August, time.September, time.November, time.December} {
			assert.Less(t, share(time.October)+0.02, share(month), month)
		}
	})

	owner, badge := demo.ID("falkenau"), "quay-access-badge"
	ask := func(t *testing.T, asked work.SeasonAsked) work.Foresight {
		t.Helper()
		asked.From, asked.Until = "2027-06-01", "2027-08-31"
		id, err := o.Rehearsing.Foresee(ctx, owner, badge, asked)
		require.NoError(t, err)
		var s work.Studied
		require.Eventually(t, func() bool {
			s, err = o.Rehearsing.Study(ctx, owner, badge, id)
			return err != nil || s.State != store.StudyRunning
		}, 5*time.Minute, 50*time.Millisecond)
		require.NoError(t, err)
		require.Equal(t, store.StudyDone, s.State, s.Trouble)
		var f work.Foresight
		require.NoError(t, json.Unmarshal(s.Result, &f))
		return f
	}
	var everybody foresee.Levers // all teams are told
	for _, team := range o.Company().Teams() {
		everybody.People = append(everybody.People, foresee.More{Team: team.Key})
	}
	as := ask(t, work.SeasonAsked{Changes: everybody})
	require.Greater(t, as.Past, 1000)
	assert.Zero(t, as.Failed)
	assert.Equal(t, as.Before, as.After, "nothing is changed, and each draw is the same")

	t.Run("the last quarter", func(t *testing.T) {
		require.NotNil(t, as.Check)
		require.Equal(t, "2026-10-01 2026-12-31", as.Check.From+" "+as.Check.Until)
		require.Len(t, as.Check.Measured.Teams, len(o.Company().Teams()))
		for i, measured := range as.Check.Measured.Teams {
			simulated := as.Check.Simulated.Teams[i]
			require.Equal(t, measured.Key, simulated.Key)
			assert.InEpsilon(t, measured.Load.Mean, simulated.Load.Mean, 0.1, "load of "+measured.Key)
			assert.InDelta(t, measured.Late.Mean, simulated.Late.Mean, 0.05, "late at "+measured.Key)
		}
		for i, measured := range as.Check.Measured.Promises {
			if measured.Of >= 50 { // of fewer one is more than two points
				assert.InDelta(t, measured.Kept.Mean, as.Check.Simulated.Promises[i].Kept.Mean, 0.05, measured.Offering)
			}
		}
	})

	team := func(t *testing.T, o foresee.Outlook) foresee.TeamOutlook {
		t.Helper()
		for _, team := range o.Teams {
			if team.Key == "keys-badges" {
				return team
			}
		}
		t.Fatal("Keys & Badges are not told")
		return foresee.TeamOutlook{}
	}
	kept := func(o foresee.Outlook) float64 {
		for _, p := range o.Promises {
			if p.Offering == badge {
				return p.Kept.Mean
			}
		}
		return math.NaN()
	}
	for _, c := range []struct {
		name string
		work.SeasonAsked
		check func(t *testing.T, f work.Foresight)
	}{
		{"one person more", work.SeasonAsked{Changes: foresee.Levers{People: []foresee.More{{Team: "keys-badges", More: 1}}}}, func(t *testing.T, f work.Foresight) {
			before, after := team(t, f.Before), team(t, f.After)
			assert.InEpsilon(t, before.Load.Mean*4/5, after.Load.Mean, 0.08, "five share what four had, and do more of what lay at the end")
			assert.Less(t, after.Late.Mean, before.Late.Mean)
			assert.Less(t, after.Waited.Mean, before.Waited.Mean)
			assert.Greater(t, kept(f.After), kept(f.Before))
			assert.Less(t, len(after.Behind), len(before.Behind))
		}},
		{"one person fewer", work.SeasonAsked{Changes: foresee.Levers{People: []foresee.More{{Team: "keys-badges", More: -1}}}}, func(t *testing.T, f work.Foresight) {
			assert.Greater(t, team(t, f.After).Late.Mean, team(t, f.Before).Late.Mean)
			assert.Less(t, kept(f.After), kept(f.Before))
		}},
		{"a fifth more of all", work.SeasonAsked{Demand: []work.Demand{{Percent: 20}}}, func(t *testing.T, f work.Foresight) {
			assert.InEpsilon(t, float64(as.Before.Sent)*1.2, f.Before.Sent, 0.03)
			assert.InEpsilon(t, min(1, team(t, as.Before).Load.Mean*1.2), team(t, f.Before).Load.Mean, 0.12)
			assert.Greater(t, team(t, f.Before).Late.Mean, team(t, as.Before).Late.Mean)
			assert.Equal(t, f.Before, f.After, "what is asked for is no change of the draft")
		}},
		{"a system takes the picture", work.SeasonAsked{Changes: foresee.Levers{Automatic: []foresee.Part{{Offering: badge, Key: "photo"}}}}, func(t *testing.T, f work.Foresight) {
			assert.Less(t, team(t, f.After).Done, team(t, f.Before).Done)
			assert.Less(t, team(t, f.After).Load.Mean, team(t, f.Before).Load.Mean)
			assert.Greater(t, kept(f.After), kept(f.Before))
		}},
		{"more time is promised", work.SeasonAsked{Changes: foresee.Levers{Promises: []foresee.Promising{{Offering: badge, Fulfilment: "20d"}}}}, func(t *testing.T, f work.Foresight) {
			assert.Greater(t, kept(f.After), kept(f.Before))
		}},
		{"nobody decides", work.SeasonAsked{Changes: foresee.Levers{Rungs: []foresee.Part{{Offering: badge, Key: "safety"}}}}, func(t *testing.T, f work.Foresight) {
			assert.Greater(t, kept(f.After), kept(f.Before))
		}},
	} {
		t.Run(c.name, func(t *testing.T) { c.check(t, ask(t, c.SeasonAsked)) })
	}
}
