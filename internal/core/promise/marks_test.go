package promise_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/promise"
)

func compile(t require.TestingT, p promise.Promise) *promise.Compiled {
	p.Zone = "UTC"
	findings := finding.List{}
	c := promise.Compile(p, ports, &findings)
	require.Empty(t, findings)
	return c
}

// Worked out by hand, as the clocks are: a day of Maravel has eight open hours. Late begins
// a millisecond after what is promised, in open time.
func TestMarksAreReached(t *testing.T) {
	for name, c := range map[string]struct {
		calendar, target, readyBy, from string
		pauses                          []string
		stopped                         string
		share                           int
		want                            string // empty: never, as it looks now
		late                            bool
	}{
		"half of a day":                      {"maravel", "8h", "", "08 09:30", nil, "", 50, "08 14:30", false},
		"four fifths":                        {"maravel", "8h", "", "08 09:30", nil, "", 80, "08 16:54", false},
		"one per cent":                       {"maravel", "8h", "", "08 09:30", nil, "", 1, "08 09:34:48", false},
		"all of it":                          {"maravel", "8h", "", "08 09:30", nil, "", 100, "09 09:30", true},
		"all of it at the close of a day":    {"maravel", "8h", "", "08 08:30", nil, "", 100, "09 08:30", true},
		"all of it at the close of a week":   {"maravel", "4h", "", "12 13:30", nil, "", 100, "15 08:30", true},
		"half of it at the close of a day":   {"maravel", "16h", "", "08 08:30", nil, "", 50, "08 17:30", false},
		"a fifth late":                       {"maravel", "8h", "", "08 08:30", nil, "", 120, "09 10:06", false},
		"twice as long":                      {"maravel", "2h", "", "08 08:30", nil, "", 200, "08 12:30", false},
		"paused before it":                   {"maravel", "8h", "", "08 09:30", []string{"08 10:30"}, "", 80, "", false},
		"paused before all of it":            {"maravel", "8h", "", "08 09:30", []string{"08 10:30"}, "", 100, "", false},
		"reached before the pause":           {"maravel", "8h", "", "08 09:30", []string{"08 10:30"}, "", 10, "08 10:18", false},
		"in the instant of the pause":        {"maravel", "2h", "", "08 09:30", []string{"08 10:30"}, "", 50, "08 10:30", false},
		"moved by a pause":                   {"maravel", "8h", "", "08 09:30", []string{"08 10:30", "08 14:30"}, "", 80, "09 10:54", false},
		"not moved by a pause after it":      {"maravel", "8h", "", "08 09:30", []string{"08 15:30", "08 16:30"}, "", 50, "08 14:30", false},
		"moved by two pauses":                {"maravel", "8h", "", "08 08:30", []string{"08 09:30", "08 10:30", "08 11:30", "08 12:30"}, "", 50, "08 15:30", false},
		"a pause in the night moves nothing": {"maravel", "8h", "", "08 09:30", []string{"08 18:00", "09 07:00"}, "", 100, "09 09:30", true},
		"used up at a pause":                 {"maravel", "1h", "", "08 08:30", []string{"08 09:30", "08 11:30"}, "", 100, "08 11:30", true},
		"half of two days":                   {"maravel", "2d", "", "08 10:30", nil, "", 50, "09 10:30", false},
		"four fifths of three days":          {"maravel", "3d", "", "08 10:30", nil, "", 80, "10 14:42", false},
		"two days are missed":                {"maravel", "2d", "", "08 10:30", nil, "", 100, "10 10:30", true},
		"a day is missed from its opening":   {"maravel", "1d", "", "08 08:30", nil, "", 100, "09 08:30", true},
		"days paused":                        {"maravel", "2d", "", "08 10:30", []string{"09 09:30"}, "", 50, "", false},
		"days moved by a pause":              {"maravel", "2d", "", "08 10:30", []string{"08 14:30", "09 14:30"}, "", 50, "10 10:30", false},
		"over the change of clocks":          {"maravel", "8h", "", "26 15:30", nil, "", 50, "29 09:30", false},
		"clock time":                         {"always", "8h", "", "13 22:00", nil, "", 50, "14 02:00", false},
		"clock time late":                    {"always", "8h", "", "13 22:00", nil, "", 100, "14 06:00", true},
		"not started":                        {"maravel", "8h", "", "", nil, "", 50, "", false},
		"starts later":                       {"maravel", "8h", "", "09 08:30", nil, "", 50, "09 12:30", false},
		"stopped":                            {"maravel", "8h", "", "08 09:30", nil, "08 11:30", 80, "", false},
		"half of the way to a day":           {"maravel", "", "10 17:30", "08 08:30", nil, "", 50, "09 12:30", false},
		"no pause moves a day":               {"maravel", "", "10 17:30", "08 08:30", []string{"08 10:30"}, "", 50, "09 12:30", false},
		"a day is missed":                    {"maravel", "", "10 17:30", "08 08:30", nil, "", 100, "10 17:30", true},
	} {
		t.Run(name, func(t *testing.T) {
			at := func(text string) time.Time {
				if text == "" {
					return time.Time{}
				}
				if len(text) > 8 {
					at, err := time.Parse(time.DateTime, "2027-03-"+text)
					require.NoError(t, err)
					return at
				}
				return coretest.At(t, "2027-03-"+text)
			}
			var pauses []promise.Pause
			for i := 0; i < len(c.pauses); i += 2 {
				pause := promise.Pause{From: at(c.pauses[i])}
				if i+1 < len(c.pauses) {
					pause.Until = at(c.pauses[i+1])
				}
				pauses = append(pauses, pause)
			}
			clock := compile(t, promise.Promise{Calendar: c.calendar}).Fulfilment(promise.Promised{Fulfilment: c.target, ReadyBy: at(c.readyBy), From: at(c.from)}, pauses, promise.Stop{At: at(c.stopped)})
			want := at(c.want)
			if c.late {
				want = want.Add(time.Millisecond)
			}
			// Whenever one looks between the pauses and the mark it is the same.
			last := coretest.At(t, "2027-03-08 08:00")
			for _, p := range pauses {
				last = p.From
				if !p.Until.IsZero() {
					last = p.Until
				}
			}
			for _, now := range []time.Time{last, want, want.AddDate(0, 0, 3)} {
				if now.Before(last) {
					continue
				}
				assert.Equal(t, want, clock.Reaches(c.share, now), "looked at on %s", now)
			}
			if c.late {
				assert.True(t, clock.Read(want).Late)
				assert.False(t, clock.Read(want.Add(-time.Millisecond)).Late)
			}
		})
	}
}

// The higher share is never reached first, and where a mark is reached so much is used.
func TestMarksFollowTheClock(t *testing.T) {
	c := compile(t, promise.Promise{Calendar: "maravel"})
	rapid.Check(t, func(t *rapid.T) {
		from := coretest.At(t, "2027-03-08 08:30").Add(time.Duration(rapid.IntRange(0, 7*24*60).Draw(t, "minutes")) * time.Minute)
		target := rapid.SampledFrom([]string{"1h", "8h", "40h", "1d", "3d"}).Draw(t, "target")
		var pauses []promise.Pause
		at := from
		for range rapid.IntRange(0, 3).Draw(t, "pauses") {
			p := promise.Pause{From: at.Add(time.Duration(rapid.IntRange(1, 600).Draw(t, "until")) * time.Minute)}
			p.Until = p.From.Add(time.Duration(rapid.IntRange(1, 3000).Draw(t, "for")) * time.Minute)
			at, pauses = p.Until, append(pauses, p)
		}
		clock := c.Fulfilment(promise.Promised{Fulfilment: target, From: from}, pauses, promise.Stop{})
		share := rapid.IntRange(1, 99).Draw(t, "share")
		reached := clock.Reaches(share, at)
		if higher := clock.Reaches(share+1, at); higher.Before(reached) {
			t.Fatalf("%d %% at %s, %d %% at %s", share, reached, share+1, higher)
		}
		if missed := clock.Reaches(promise.Whole, at); !clock.Read(missed).Late {
			t.Fatalf("it is not late at %s", missed)
		}
		if used := clock.Read(reached).Share; used < float64(share)/100-0.001 || used > float64(share)/100+0.001 {
			t.Fatalf("%f of it is used at %d %%", used, share)
		}
	})
}

// A confirmation or an answer lapses after working days, or at a clock time of the last.
func TestLapsesAtAClockTime(t *testing.T) {
	for name, c := range map[string]struct {
		days           int
		clock          string
		delivered, end string
	}{
		"after working days":          {2, "", "2027-03-08 10:30", "2027-03-10 10:30"},
		"at a clock time":             {2, "12:00", "2027-03-08 10:30", "2027-03-10 12:00"},
		"over a weekend":              {1, "12:00", "2027-03-12 10:30", "2027-03-15 12:00"},
		"before it opens":             {1, "06:00", "2027-03-08 07:00", "2027-03-09 06:00"},
		"outside of the open hours":   {1, "23:00", "2027-03-08 10:30", "2027-03-09 23:00"},
		"over the change of clocks":   {2, "12:00", "2027-03-26 10:30", "2027-03-30 11:00"},
		"at once, whatever the clock": {0, "12:00", "2027-03-08 10:30", "2027-03-08 10:30"},
	} {
		t.Run(name, func(t *testing.T) {
			p := compile(t, promise.Promise{Calendar: "maravel", ConfirmWithin: &c.days, ConfirmAt: c.clock, AnswerAt: c.clock})
			assert.Equal(t, coretest.At(t, c.end), p.ConfirmBy(coretest.At(t, c.delivered)))
		})
	}
}

func TestFindingsOfMarks(t *testing.T) {
	for want, mark := range map[string]promise.Mark{
		"/promise/marks/0/clock clock":            {Clock: "end", Share: 50, Tell: []promise.Told{promise.TellHolder}},
		"/promise/marks/0/share share":            {Share: 501, Tell: []promise.Told{promise.TellHolder}},
		"/promise/marks/0/tell/0 kind":            {Share: 50, Tell: []promise.Told{"boss"}},
		"/promise/marks/0/people/0 unknownPerson": {Share: 50, People: []string{"nobody"}},
		"/promise/marks/0/tell tellsNobody":       {Share: 50},
	} {
		findings := finding.List{}
		promise.Compile(promise.Promise{Zone: "UTC", Marks: []promise.Mark{mark}}, ports, &findings)
		require.Len(t, findings, 1, want)
		assert.Equal(t, want, findings[0].Place+" "+findings[0].Code)
	}
	findings := finding.List{}
	twice := promise.Mark{Share: 50, Tell: []promise.Told{promise.TellHolder}}
	promise.Compile(promise.Promise{Zone: "UTC", Marks: []promise.Mark{twice, {Clock: "response", Share: 50, HandUp: true}, twice}}, ports, &findings)
	require.Len(t, findings, 1)
	assert.Equal(t, "/promise/marks/2/share twoMarks", findings[0].Place+" "+findings[0].Code)
}
