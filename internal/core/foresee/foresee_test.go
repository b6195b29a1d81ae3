package foresee_test

import (
	"context"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/foresee"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
)

// office is a calendar with a break, whose clock is put on and back.
var office = calendar.MustCompile(calendar.Document{Zone: "Europe/Lisbon", Week: map[string][]string{
	"mon": {"08:30-12:30", "13:30-17:30"}, "tue": {"08:30-12:30", "13:30-17:30"}, "wed": {"08:30-12:30", "13:30-17:30"}, "thu": {"08:30-12:30", "13:30-17:30"}, "fri": {"08:30-12:30", "13:30-17:30"},
}})

// The hours of somebody without absences are those of the calendar.
func TestHoursAreThoseOfTheCalendar(t *testing.T) {
	until := start.AddDate(1, 0, 0)
	h := foresee.HoursOf(office, start, until)
	rapid.Check(t, func(t *rapid.T) {
		at := start.Add(time.Duration(rapid.IntRange(0, 300*24*3600).Draw(t, "at")) * time.Second)
		open := time.Duration(rapid.IntRange(1, 30*8*3600).Draw(t, "open")) * time.Second
		want, err := office.Add(at, open)
		require.NoError(t, err)
		if want.Before(until) {
			require.Equal(t, want, h.After(at, open))
			require.Equal(t, open, h.Between(at, want))
		}
		next, err := office.NextOpen(at)
		require.NoError(t, err)
		require.Equal(t, next, h.Next(at))
	})
}

func TestHoursLessAbsences(t *testing.T) {
	day := func(d, hour int) time.Time { return time.Date(2027, 1, d, hour, 0, 0, 0, time.UTC) }
	h := foresee.HoursOf(office, start, start.AddDate(0, 0, 30),
		people.Absence{Person: "a", From: day(4, 10), Until: day(4, 16)}, people.Absence{Person: "a", From: day(6, 0), Until: day(8, 0)})
	assert.Equal(t, 3*time.Hour, h.Between(day(4, 0), day(5, 0)), "half past eight to ten, four to half past five")
	assert.Equal(t, day(4, 16), h.Next(day(4, 11)))
	assert.Equal(t, day(8, 9), h.After(day(5, 8), 8*time.Hour+30*time.Minute), "what is left of a day goes on after two days away")
}

// one is a request of one task of so many hours for a team, sent so many hours after the
// start.
func one(team string, hours, sent float64, change ...func(*foresee.Form)) foresee.Form {
	f := foresee.Form{Offering: "x", Sent: start.Add(time.Duration(sent * float64(time.Hour))).Unix(), Steps: []foresee.Step{{Key: "do", Team: team, Effort: calendar.Length{Open: time.Duration(hours * float64(time.Hour))}}}}
	for _, c := range change {
		c(&f)
	}
	return f
}

func latest(hours float64) func(*foresee.Form) {
	return func(f *foresee.Form) {
		f.Steps[0].Latest = start.Add(time.Duration(hours * float64(time.Hour))).Unix()
	}
}

func due(hours float64) func(*foresee.Form) {
	return func(f *foresee.Form) {
		f.Steps[0].Due = start.Add(time.Duration(hours * float64(time.Hour))).Unix()
	}
}

func exactly(forms []foresee.Form, teams ...foresee.Team) foresee.Season {
	return foresee.Season{From: start, Until: start.AddDate(0, 0, 14), Exact: true, Runs: 3, Forms: forms, Teams: teams}
}

// Each of these is worked out by hand.
func TestQueuesByHand(t *testing.T) {
	other := foresee.Team{Key: "u", Name: "The others", Work: always, Members: []string{"a"}}
	for _, c := range []struct {
		name   string
		season foresee.Season
		away   []people.Absence
		waited float64 // minutes, in the mean
		late   float64
		done   float64
	}{
		{"one after the other", exactly([]foresee.Form{one("t", 2, 0), one("t", 2, 0), one("t", 2, 1)}, team("a")), nil, (0 + 120 + 180) / 3.0, 0, 3},
		{"two do two at once", exactly([]foresee.Form{one("t", 2, 0), one("t", 2, 0), one("t", 2, 1)}, team("a", "b")), nil, (0 + 0 + 60) / 3.0, 0, 3},
		{"who must begin first goes first", exactly([]foresee.Form{one("t", 2, 0), one("t", 5, 0.5, latest(9)), one("t", 1, 1, latest(4), due(3.5))}, team("a")), nil, (0 + 60 + 150) / 3.0, 0, 3},
		{"the other way round it is late", exactly([]foresee.Form{one("t", 2, 0), one("t", 5, 0.5, latest(3)), one("t", 1, 1, latest(4), due(3.5))}, team("a")), nil, (0 + 90 + 360) / 3.0, 1 / 3.0, 3},
		{"who is absent takes nothing", exactly([]foresee.Form{one("t", 2, 1), one("t", 2, 1)}, team("a")), []people.Absence{{Person: "a", From: start, Until: start.Add(4 * time.Hour)}}, (180 + 300) / 2.0, 0, 2},
		{"what is in hand is finished before one is absent", exactly([]foresee.Form{one("t", 3, 1)}, team("a")), []people.Absence{{Person: "a", From: start.Add(2 * time.Hour), Until: start.AddDate(0, 0, 9)}}, 0, 0, 1},
		{"one person of two teams does one task at a time", exactly([]foresee.Form{one("u", 3, 0), one("t", 2, 1)}, team("a"), other), nil, 120, 0, 1},
		{"what ends after the season is not counted", exactly([]foresee.Form{one("t", 2, 14*24-3), one("t", 2, 14*24-2.5)}, team("a")), nil, 0, 0, 1},
	} {
		t.Run(c.name, func(t *testing.T) {
			out := simulate(t, c.season, c.away...)
			require.NotEmpty(t, out.Teams)
			got := out.Teams[0]
			assert.InDelta(t, c.waited, got.Waited.Mean, 0.001)
			assert.InDelta(t, c.late, got.Late.Mean, 0.001)
			assert.InDelta(t, c.done, got.Done, 0.001)
			assert.Equal(t, got.Waited.Low, got.Waited.High, "nothing is drawn")
			assert.Equal(t, out, simulate(t, c.season, c.away...), "the same again")
		})
	}
}

// A team of nobody does nothing; what is due and never done is not kept.
func TestPromisesByHand(t *testing.T) {
	findings := finding.List{}
	compiled := promise.Compile(promise.Promise{Zone: "UTC"}, people.NewDirectory(people.Records{}), &findings)
	require.Empty(t, findings)
	promised := func(length string) func(*foresee.Form) {
		return func(f *foresee.Form) {
			p := promise.Promised{Name: "Usual", Fulfilment: length, From: time.Unix(f.Sent, 0)}
			f.Promise = &foresee.Promise{Promised: p, With: compiled, Due: compiled.Fulfilment(p, nil, promise.Stop{}).Read(p.From).Due.Unix()}
		}
	}
	declined := func(f *foresee.Form) { f.Stops = true }
	for _, c := range []struct {
		name     string
		forms    []foresee.Form
		members  []string
		of, kept float64
	}{
		{"in time", []foresee.Form{one("t", 2, 0, promised("2h"))}, []string{"a"}, 1, 1},
		{"the second is late", []foresee.Form{one("t", 2, 0, promised("3h")), one("t", 2, 0, promised("3h"))}, []string{"a"}, 2, 0.5},
		{"two do it", []foresee.Form{one("t", 2, 0, promised("3h")), one("t", 2, 0, promised("3h"))}, []string{"a", "b"}, 2, 1},
		{"nobody does it", []foresee.Form{one("t", 2, 0, promised("3h"))}, nil, 1, 0},
		{"what was declined is promised nothing", []foresee.Form{one("t", 2, 0, promised("3h")), one("t", 2, 0, promised("1h"), declined)}, []string{"a"}, 1, 1},
		{"nobody's takes its time", []foresee.Form{one("", 2, 0, promised("3h")), one("", 4, 0, promised("3h"))}, []string{"a"}, 2, 0.5},
	} {
		t.Run(c.name, func(t *testing.T) {
			s := exactly(c.forms, team(c.members...))
			s.Own = map[string]bool{"x": true}
			out := simulate(t, s)
			require.Len(t, out.Promises, 1)
			assert.Equal(t, "x", out.Promises[0].Offering)
			assert.InDelta(t, c.of, out.Promises[0].Of, 0.001)
			assert.InDelta(t, c.kept, out.Promises[0].Kept.Mean, 0.001)
			s.Own = nil
			assert.Empty(t, simulate(t, s).Promises[0].Offering, "those of others are told together")
		})
	}
}

func TestDemandIsDrawnByItsFactor(t *testing.T) {
	forms := poisson(20, 60, one("", 1, 0).Steps[0])
	s := foresee.Season{From: start, Until: start.AddDate(0, 0, 60), Forms: forms, Runs: 30}
	as := simulate(t, s)
	s.Factors = map[string]float64{"x": 1.5, "": 9}
	assert.InEpsilon(t, float64(as.Sent)*1.5, simulate(t, s).Sent, 0.03, "its own factor goes before that of all else")
	s.Factors = map[string]float64{"": 0.5}
	assert.InEpsilon(t, float64(as.Sent)*0.5, simulate(t, s).Sent, 0.05)
	rapid.Check(t, func(t *rapid.T) {
		mean := rapid.Float64Range(0.1, 5).Draw(t, "mean")
		sum := 0
		for i := range 2000 {
			sum += foresee.Poisson(mean, (float64(i)+0.5)/2000)
		}
		require.InEpsilon(t, mean, float64(sum)/2000, 0.02)
	})
}

func TestASeasonIsStopped(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	s := foresee.Season{From: start, Until: start.AddDate(0, 0, 60), Forms: poisson(20, 60, one("t", 1, 0).Steps[0]), Teams: []foresee.Team{team("a")}, Runs: 1000}
	var runs atomic.Int64
	_, err := s.Simulate(ctx, func() {
		if runs.Add(1) == 3 {
			stop()
		}
	})
	assert.ErrorIs(t, err, context.Canceled)
}

func TestWeeksInWords(t *testing.T) {
	for want, weeks := range map[string][]string{
		"week 7":                 {"2027-W07"},
		"weeks 26–29":            {"2027-W26", "2027-W27", "2027-W28", "2027-W29"},
		"weeks 26, 28–29 and 31": {"2027-W26", "2027-W28", "2027-W29", "2027-W31"},
		"weeks 52–1":             {"2027-W52", "2028-W01"},
		"weeks 53–1":             {"2026-W53", "2027-W01"},
		"weeks 26 and 26":        {"2026-W26", "2027-W26"},
		"weeks 9–10":             {"2027-W09", "2027-W10"},
	} {
		assert.Equal(t, want, foresee.WeeksInWords(weeks...))
	}
}
