package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/plan"
)

// The calendars of the tables: with a break at noon, straight through, and
// every day.
var (
	maravel = coretest.Week("Europe/Lisbon", []string{"mon", "tue", "wed", "thu", "fri"}, "08:30-12:30", "13:30-17:30")
	orm     = coretest.Week("Europe/Oslo", []string{"mon", "tue", "wed", "thu", "fri"}, "08:00-16:00")
	afloat  = coretest.Week("UTC", calendar.Weekdays, "06:00-22:00")
)

func length(t require.TestingT, text string) calendar.Length {
	if text == "" {
		return calendar.Length{}
	}
	l, err := calendar.ParseLength(text)
	require.NoError(t, err)
	return l
}

// one step of the table; times are UTC, which in winter is Lisbon's.
type one struct {
	after       []int
	work        *calendar.Calendar
	effort      string
	begun       string
	until       string
	due         string
	ended       string
	wantStart   string
	wantFinish  string
	wantLatest  string // start
	wantFloat   string // open time
	wantFollows bool   // the finish hangs on it
}

// Worked out by hand. 2027-03-08 is a Monday; clocks change on 28 March.
func TestSchedules(t *testing.T) {
	for name, c := range map[string]struct {
		now, by string
		steps   []one
		finish  string
	}{
		"one task in one morning": {"2027-03-08 09:00", "", []one{
			{work: maravel, effort: "2h", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 11:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 11:00"},
		"over the break at noon": {"2027-03-08 11:30", "", []one{
			{work: maravel, effort: "2h", wantStart: "2027-03-08 11:30", wantFinish: "2027-03-08 14:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 14:30"},
		"begun in the break": {"2027-03-08 13:00", "", []one{
			{work: maravel, effort: "1h", wantStart: "2027-03-08 13:30", wantFinish: "2027-03-08 14:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 14:30"},
		"over the weekend": {"2027-03-12 16:30", "", []one{
			{work: maravel, effort: "2h", wantStart: "2027-03-12 16:30", wantFinish: "2027-03-15 09:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-15 09:30"},
		"in the night it waits for the opening": {"2027-03-08 22:00", "", []one{
			{work: maravel, effort: "1h", wantStart: "2027-03-09 08:30", wantFinish: "2027-03-09 09:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 09:30"},
		"a working day keeps its position": {"2027-03-08 10:30", "", []one{
			{work: maravel, effort: "1d", wantStart: "2027-03-08 10:30", wantFinish: "2027-03-09 10:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 10:30"},
		"one after the other in two calendars": {"2027-03-08 12:00", "", []one{
			{work: orm, effort: "3h", wantStart: "2027-03-08 12:00", wantFinish: "2027-03-08 15:00", wantFloat: "0s", wantFollows: true}, // 15:00 UTC is the close in Oslo
			{after: []int{0}, work: maravel, effort: "2h", wantStart: "2027-03-08 15:00", wantFinish: "2027-03-08 17:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 17:00"},
		"the other way round it waits for Oslo's morning": {"2027-03-08 14:00", "", []one{
			{work: maravel, effort: "2h", wantStart: "2027-03-08 14:00", wantFinish: "2027-03-08 16:00", wantFloat: "1h30m", wantFollows: true}, // until 17:30 it can slip
			{after: []int{0}, work: orm, effort: "1h", wantStart: "2027-03-09 07:00", wantFinish: "2027-03-09 08:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 08:00"},
		"side by side the longer one counts": {"2027-03-08 08:30", "", []one{
			{work: maravel, effort: "1h", wantStart: "2027-03-08 08:30", wantFinish: "2027-03-08 09:30", wantFloat: "3h"},
			{work: maravel, effort: "4h", wantStart: "2027-03-08 08:30", wantFinish: "2027-03-08 12:30", wantFloat: "0s", wantFollows: true},
			{after: []int{0, 1}, work: maravel, effort: "1h", wantStart: "2027-03-08 13:30", wantFinish: "2027-03-08 14:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 14:30"},
		"what is automatic takes no time, even in the night": {"2027-03-08 17:30", "", []one{
			{wantStart: "2027-03-08 17:30", wantFinish: "2027-03-08 17:30", wantFloat: "15h", wantFollows: true},
			{after: []int{0}, work: maravel, effort: "1h", wantStart: "2027-03-09 08:30", wantFinish: "2027-03-09 09:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 09:30"},
		"a wait ends at its instant": {"2027-03-08 09:00", "", []one{
			{until: "2027-03-10 08:30", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-10 08:30", wantFloat: "0s", wantFollows: true},
			{after: []int{0}, work: maravel, effort: "1h", wantStart: "2027-03-10 08:30", wantFinish: "2027-03-10 09:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-10 09:30"},
		"a wait already past ends now": {"2027-03-08 09:00", "", []one{
			{until: "2027-03-01 08:30", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 09:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 09:00"},
		"what is begun goes on": {"2027-03-08 11:00", "", []one{
			{work: maravel, effort: "4h", begun: "2027-03-08 09:30", wantStart: "2027-03-08 09:30", wantFinish: "2027-03-08 14:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 14:30"},
		"what takes longer than computed ends now": {"2027-03-08 15:00", "", []one{
			{work: maravel, effort: "1h", begun: "2027-03-08 09:00", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 15:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 15:00"},
		"or, in the night, when somebody is there again": {"2027-03-08 20:00", "", []one{
			{work: maravel, effort: "1h", begun: "2027-03-08 09:00", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-09 08:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 08:30"},
		"what has ended stays": {"2027-03-09 09:30", "", []one{
			{work: maravel, effort: "4h", begun: "2027-03-08 09:00", ended: "2027-03-08 10:00", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 10:00"},
			{after: []int{0}, work: maravel, effort: "1h", wantStart: "2027-03-09 09:30", wantFinish: "2027-03-09 10:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-09 10:30"},
		"over the change of clocks": {"2027-03-26 16:30", "", []one{ // Friday; on Monday 08:30 in Lisbon is 07:30 UTC
			{work: maravel, effort: "2h", wantStart: "2027-03-26 16:30", wantFinish: "2027-03-29 08:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-29 08:30"},
		"afloat there is no weekend": {"2027-03-13 20:00", "", []one{
			{work: afloat, effort: "4h", wantStart: "2027-03-13 20:00", wantFinish: "2027-03-14 08:00", wantFloat: "0s", wantFollows: true},
		}, "2027-03-14 08:00"},
		"the latest start of a chain": {"2027-03-08 09:00", "2027-03-10 17:30", []one{
			{work: maravel, effort: "4h", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 14:00", wantLatest: "2027-03-10 10:30", wantFloat: "0s", wantFollows: true},
			{after: []int{0}, work: maravel, effort: "2h", wantStart: "2027-03-08 14:00", wantFinish: "2027-03-08 16:00", wantLatest: "2027-03-10 15:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 16:00"},
		"the latest start goes back over a weekend": {"2027-03-10 09:00", "2027-03-15 09:30", []one{
			{work: maravel, effort: "3h", wantStart: "2027-03-10 09:00", wantFinish: "2027-03-10 12:00", wantLatest: "2027-03-12 15:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-10 12:00"},
		"a latest start can be over": {"2027-03-10 09:00", "2027-03-09 10:30", []one{
			{work: maravel, effort: "4h", wantStart: "2027-03-10 09:00", wantFinish: "2027-03-10 14:00", wantLatest: "2027-03-08 15:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-10 14:00"},
		"a due time of its own presses before the promise does": {"2027-03-08 09:00", "2027-03-12 17:30", []one{
			{work: maravel, effort: "1h", due: "2027-03-08 16:30", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 10:00", wantLatest: "2027-03-08 15:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 10:00"},
		"without a promise a due time presses what comes before it": {"2027-03-08 09:00", "", []one{
			{work: maravel, effort: "2h", wantStart: "2027-03-08 09:00", wantFinish: "2027-03-08 11:00", wantLatest: "2027-03-08 14:30", wantFloat: "0s", wantFollows: true},
			{after: []int{0}, work: maravel, effort: "1h", due: "2027-03-08 17:30", wantStart: "2027-03-08 11:00", wantFinish: "2027-03-08 12:00", wantLatest: "2027-03-08 16:30", wantFloat: "0s", wantFollows: true},
		}, "2027-03-08 12:00"},
	} {
		t.Run(name, func(t *testing.T) {
			steps := make([]plan.Step, len(c.steps))
			for i, s := range c.steps {
				steps[i] = plan.Step{After: s.after, Work: s.work, Effort: length(t, s.effort), Begun: coretest.At(t, s.begun), Until: coretest.At(t, s.until), Due: coretest.At(t, s.due), Ended: coretest.At(t, s.ended)}
			}
			got := plan.Schedule(steps, coretest.At(t, c.now), coretest.At(t, c.by))
			assert.Equal(t, coretest.At(t, c.finish), got.Finish, "finish")
			assert.Equal(t, got.Finish, got.Sure, "nothing is measured")
			assert.False(t, got.Measured)
			for i, s := range c.steps {
				assert.Equal(t, coretest.At(t, s.wantStart), got.Slots[i].Start, "start of %d", i)
				assert.Equal(t, coretest.At(t, s.wantFinish), got.Slots[i].Finish, "finish of %d", i)
				if s.wantLatest != "" || c.by == "" {
					assert.Equal(t, coretest.At(t, s.wantLatest), got.Slots[i].LatestStart, "latest start of %d", i)
				}
				if s.wantFloat != "" {
					want, err := time.ParseDuration(s.wantFloat)
					require.NoError(t, err)
					if c.by == "" {
						assert.Equal(t, want, got.Slots[i].Float, "float of %d", i)
					}
				}
				assert.Equal(t, s.wantFollows, got.Slots[i].Critical, "critical %d", i)
			}
		})
	}
}

// Slack is the working time between the likely and the latest finish.
func TestSlack(t *testing.T) {
	for name, c := range map[string]struct{ now, by, effort, want string }{
		"in good time": {"2027-03-08 09:00", "2027-03-09 12:30", "2h", "9h30m"}, // 11:00 to 12:30, 4 h in the afternoon, 4 h in the morning
		"just so":      {"2027-03-08 09:00", "2027-03-08 11:00", "2h", "0s"},
		"late":         {"2027-03-08 16:30", "2027-03-08 17:30", "2h", "-1h"},
		"long late":    {"2027-03-12 16:30", "2027-03-08 17:30", "1h", "-32h"}, // four whole days
	} {
		t.Run(name, func(t *testing.T) {
			got := plan.Schedule([]plan.Step{{Work: maravel, Effort: length(t, c.effort)}}, coretest.At(t, c.now), coretest.At(t, c.by))
			slack, ok := got.Slots[0].Slack(maravel)
			require.True(t, ok)
			want, err := time.ParseDuration(c.want)
			require.NoError(t, err)
			assert.Equal(t, want, slack)
		})
	}
	_, ok := plan.Schedule([]plan.Step{{Work: maravel}}, coretest.At(t, "2027-03-08 09:00"), time.Time{}).Slots[0].Slack(maravel)
	assert.False(t, ok, "nothing presses")
}

// With twenty finished tasks their times count, not the effort: the middle one
// is the likely finish, four of five are done by the sure one.
func TestMeasured(t *testing.T) {
	hours := func(n int) []time.Duration {
		all := make([]time.Duration, n)
		for i := range all {
			all[i] = time.Duration(i+1) * time.Hour
		}
		return all
	}
	now := coretest.At(t, "2027-03-08 08:30")
	few := plan.Schedule([]plan.Step{{Work: maravel, Effort: length(t, "1h"), Measured: hours(19)}}, now, time.Time{})
	assert.Equal(t, coretest.At(t, "2027-03-08 09:30"), few.Finish, "nineteen are too few")
	got := plan.Schedule([]plan.Step{{Work: maravel, Effort: length(t, "1h"), Measured: hours(20)}}, now, time.Time{})
	assert.True(t, got.Measured)
	assert.InDelta(t, 10, maravel.Between(now, got.Finish).Hours(), 2, "half of the runs")
	assert.InDelta(t, 16, maravel.Between(now, got.Sure).Hours(), 2, "four of five")
	again := plan.Schedule([]plan.Step{{Work: maravel, Effort: length(t, "1h"), Measured: hours(20)}}, now, time.Time{})
	assert.Equal(t, got, again, "the seed is fixed")

	// What has taken 15 hours already takes one of 16 to 20.
	begun := plan.Schedule([]plan.Step{{Work: maravel, Measured: hours(20), Begun: coretest.At(t, "2027-03-08 08:30")}}, coretest.At(t, "2027-03-09 16:30"), time.Time{})
	assert.GreaterOrEqual(t, maravel.Between(now, begun.Finish).Hours(), 16.0)
	assert.LessOrEqual(t, maravel.Between(now, begun.Sure).Hours(), 20.0)
}

// Whatever the plan: nothing is placed in the past, nothing begins before what
// it waits for has ended, float is never negative, and something critical leads
// to the finish.
func TestSchedulesHold(t *testing.T) {
	works := []*calendar.Calendar{maravel, orm, afloat, nil}
	rapid.Check(t, func(t *rapid.T) {
		now := coretest.At(t, "2027-03-08 00:00").Add(time.Duration(rapid.IntRange(0, 14*24*60).Draw(t, "minutes")) * time.Minute)
		n := rapid.IntRange(1, 12).Draw(t, "steps")
		steps := make([]plan.Step, n)
		for i := range steps {
			steps[i] = plan.Step{Work: rapid.SampledFrom(works).Draw(t, "work"), Effort: calendar.Length{Open: time.Duration(rapid.IntRange(0, 1000).Draw(t, "effort")) * time.Minute}}
			for j := range i {
				if rapid.Bool().Draw(t, "waits") {
					steps[i].After = append(steps[i].After, j)
				}
			}
		}
		by := now.Add(time.Duration(rapid.IntRange(-100, 400).Draw(t, "by")) * time.Hour)
		got := plan.Schedule(steps, now, by)
		critical := false
		for i, s := range got.Slots {
			assert.False(t, s.Start.Before(now))
			assert.False(t, s.Finish.Before(s.Start))
			assert.False(t, s.Finish.After(got.Finish))
			assert.GreaterOrEqual(t, s.Float, time.Duration(0))
			assert.False(t, s.LatestStart.After(s.LatestFinish))
			for _, before := range steps[i].After {
				assert.False(t, s.Start.Before(got.Slots[before].Finish))
				assert.False(t, got.Slots[before].LatestFinish.After(s.LatestStart))
			}
			critical = critical || s.Critical && s.Finish.Equal(got.Finish)
		}
		assert.True(t, critical)
	})
}

func BenchmarkForecastOf200Tasks(b *testing.B) {
	steps := make([]plan.Step, 200)
	for i := range steps {
		steps[i] = plan.Step{Work: []*calendar.Calendar{maravel, orm, afloat}[i%3], Effort: calendar.Length{Open: time.Duration(i%7+1) * time.Hour}}
		for _, before := range []int{i - 1, i - 5, i - 9} {
			if before >= 0 && i%4 != 0 {
				steps[i].After = append(steps[i].After, before)
			}
		}
	}
	now := coretest.At(b, "2027-03-08 09:00")
	for b.Loop() {
		plan.Schedule(steps, now, now.AddDate(0, 1, 0))
	}
}
