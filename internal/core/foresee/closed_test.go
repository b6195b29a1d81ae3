package foresee_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/foresee"
	"heptad/internal/core/people"
)

// always is a calendar that never closes.
var always = calendar.MustCompile(calendar.Document{Zone: "UTC", Week: map[string][]string{
	"mon": {"00:00-24:00"}, "tue": {"00:00-24:00"}, "wed": {"00:00-24:00"}, "thu": {"00:00-24:00"}, "fri": {"00:00-24:00"}, "sat": {"00:00-24:00"}, "sun": {"00:00-24:00"},
}})

// start is a Monday.
var start = time.Date(2027, 1, 4, 0, 0, 0, 0, time.UTC)

// poisson are requests of one task each that come at random, so many a day in the mean.
func poisson(perDay float64, days int, one foresee.Step) []foresee.Form {
	random := rand.New(rand.NewPCG(4, 4))
	var all []foresee.Form
	for at := -14.0; at < float64(days)+7; at += random.ExpFloat64() / perDay {
		all = append(all, foresee.Form{Offering: "x", Sent: start.Add(time.Duration(at * 24 * float64(time.Hour))).Unix(), Steps: []foresee.Step{one}})
	}
	return all
}

// exponential are times whose spread is exponential, with a mean.
func exponential(mean time.Duration) []time.Duration {
	var all []time.Duration
	for i := range 4000 {
		all = append(all, time.Duration(-math.Log(1-(float64(i)+0.5)/4000)*float64(mean)))
	}
	return all
}

func team(members ...string) foresee.Team {
	return foresee.Team{Key: "t", Name: "The team", Work: always, Members: members}
}

func simulate(t *testing.T, s foresee.Season, away ...people.Absence) foresee.Outlook {
	t.Helper()
	done := make(chan struct{}, s.Runs)
	s.Absences = away
	out, err := s.Simulate(context.Background(), func() { done <- struct{}{} })
	require.NoError(t, err)
	require.Len(t, done, s.Runs, "each run is told")
	return out
}

// What a queue comes to is known for these, by the formulas of Pollaczek and Khinchine and
// of Erlang.
func TestQueuesWithAClosedForm(t *testing.T) {
	fixed := foresee.Step{Key: "do", Team: "t", Effort: calendar.Length{Open: time.Hour}}
	drawn := foresee.Step{Key: "do", Team: "t", Measured: exponential(time.Hour)}
	erlangC := func(servers int, offered float64) float64 { // the chance that one has to wait
		sum, term := 0.0, 1.0
		for k := range servers {
			sum += term
			term *= offered / float64(k+1)
		}
		rho := offered / float64(servers)
		return term / (1 - rho) / (sum + term/(1-rho))
	}
	for _, c := range []struct {
		name    string
		step    foresee.Step
		servers int
		load    float64
		wait    func(load float64) float64 // hours, in the mean
	}{
		{"one person, fixed work, half of the time", fixed, 1, 0.5, func(r float64) float64 { return r / (2 * (1 - r)) }},
		{"one person, fixed work, four fifths", fixed, 1, 0.8, func(r float64) float64 { return r / (2 * (1 - r)) }},
		{"one person, drawn work", drawn, 1, 0.7, func(r float64) float64 { return r / (1 - r) }},
		{"two people, drawn work", drawn, 2, 0.8, func(r float64) float64 { return erlangC(2, 2*r) / (2 - 2*r) }},
		{"five people, drawn work", drawn, 5, 0.85, func(r float64) float64 { return erlangC(5, 5*r) / (5 - 5*r) }},
	} {
		t.Run(c.name, func(t *testing.T) {
			var members []string
			for i := range c.servers {
				members = append(members, fmt.Sprint("m", i))
			}
			perDay := c.load * float64(c.servers) * 24
			days := int(12_000 / perDay)
			out := simulate(t, foresee.Season{
				From: start, Until: start.AddDate(0, 0, days), Runs: 40, Teams: []foresee.Team{team(members...)},
				Forms: poisson(perDay, days, c.step),
			})
			require.Len(t, out.Teams, 1)
			got := out.Teams[0]
			assert.InDelta(t, c.load, got.Load.Mean, 0.02)
			wait := c.wait(got.Load.Mean) * 60 // of so many as did come
			t.Logf("load %v, waited %v, by the formula %.1f", got.Load, got.Waited, wait)
			assert.LessOrEqual(t, got.Waited.Low, wait)
			assert.GreaterOrEqual(t, got.Waited.High, wait)
			assert.Less(t, got.Waited.High-got.Waited.Low, wait, "the spread says something")
		})
	}
}
