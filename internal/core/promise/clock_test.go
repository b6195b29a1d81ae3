package promise_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

// ports are the calendars of the tables. Lisbon's winter time is UTC; Oslo is an
// hour ahead.
var ports = people.NewDirectory(people.Records{Calendars: map[string]*calendar.Calendar{
	"maravel": coretest.Week("Europe/Lisbon", calendar.Weekdays[:5], "08:30-12:30", "13:30-17:30"),
	"orm":     coretest.Week("Europe/Oslo", calendar.Weekdays[:5], "08:00-16:00"),
	"always":  coretest.Week("UTC", calendar.Weekdays, "00:00-24:00"),
}})

// Worked out by hand: 2027-03-08 is a Monday, clocks change on 28 March. Pauses
// are written from, until; the last may last.
func TestClocks(t *testing.T) {
	for name, c := range map[string]struct {
		calendar, target string
		from             string
		pauses           []string
		stopped          string
		end              bool
		now              string

		state promise.State
		due   string
		used  time.Duration
		left  time.Duration
		late  bool
	}{
		"not started":                     {"maravel", "8h", "", nil, "", false, "2027-03-08 10:00", promise.Before, "", 0, 0, false},
		"starts later":                    {"maravel", "8h", "2027-03-09 08:30", nil, "", false, "2027-03-08 10:00", promise.Before, "", 0, 0, false},
		"runs in the morning":             {"maravel", "8h", "2027-03-08 09:30", nil, "", false, "2027-03-08 11:30", promise.Running, "2027-03-09 09:30", 2 * time.Hour, 6 * time.Hour, false},
		"stands still in the break":       {"maravel", "8h", "2027-03-08 09:30", nil, "", false, "2027-03-08 13:00", promise.Running, "2027-03-09 09:30", 3 * time.Hour, 5 * time.Hour, false},
		"and over night":                  {"maravel", "8h", "2027-03-08 09:30", nil, "", false, "2027-03-08 23:00", promise.Running, "2027-03-09 09:30", 7 * time.Hour, time.Hour, false},
		"and over the weekend":            {"maravel", "4h", "2027-03-12 15:30", nil, "", false, "2027-03-14 12:00", promise.Running, "2027-03-15 10:30", 2 * time.Hour, 2 * time.Hour, false},
		"late by an hour":                 {"maravel", "2h", "2027-03-08 09:30", nil, "", false, "2027-03-08 12:30", promise.Running, "2027-03-08 11:30", 3 * time.Hour, -time.Hour, true},
		"late by days":                    {"maravel", "2h", "2027-03-08 09:30", nil, "", false, "2027-03-10 11:30", promise.Running, "2027-03-08 11:30", 18 * time.Hour, -16 * time.Hour, true},
		"just in time":                    {"maravel", "2h", "2027-03-08 09:30", nil, "2027-03-08 11:30", false, "2027-03-20 09:00", promise.Kept, "2027-03-08 11:30", 2 * time.Hour, 0, false},
		"kept":                            {"maravel", "8h", "2027-03-08 09:30", nil, "2027-03-08 15:30", false, "2027-03-20 09:00", promise.Kept, "2027-03-09 09:30", 5 * time.Hour, 3 * time.Hour, false},
		"missed by a minute":              {"maravel", "2h", "2027-03-08 09:30", nil, "2027-03-08 11:31", false, "2027-03-20 09:00", promise.Missed, "2027-03-08 11:30", 2*time.Hour + time.Minute, -time.Minute, true},
		"ended over night after the due":  {"maravel", "8h", "2027-03-08 08:30", nil, "2027-03-08 22:00", false, "2027-03-20 09:00", promise.Kept, "2027-03-08 17:30", 8 * time.Hour, 0, false},
		"a minute into the next morning":  {"maravel", "8h", "2027-03-08 08:30", nil, "2027-03-09 08:31", false, "2027-03-20 09:00", promise.Missed, "2027-03-08 17:30", 8*time.Hour + time.Minute, -time.Minute, true},
		"not late over night":             {"maravel", "8h", "2027-03-08 08:30", nil, "", false, "2027-03-09 08:30", promise.Running, "2027-03-08 17:30", 8 * time.Hour, 0, false},
		"late with the first open minute": {"maravel", "8h", "2027-03-08 08:30", nil, "", false, "2027-03-09 08:31", promise.Running, "2027-03-08 17:30", 8*time.Hour + time.Minute, -time.Minute, true},
		"days ended in the weekend":       {"maravel", "1d", "2027-03-12 08:30", nil, "2027-03-13 12:00", false, "2027-03-20 09:00", promise.Kept, "2027-03-12 17:30", 8 * time.Hour, 0, false},
		"due at a pause that ends it":     {"maravel", "2h", "2027-03-08 09:30", []string{"2027-03-08 11:30", "2027-03-08 16:30"}, "2027-03-08 16:30", false, "2027-03-20 09:00", promise.Kept, "2027-03-08 11:30", 2 * time.Hour, 0, false},
		"taken back":                      {"maravel", "8h", "2027-03-08 09:30", nil, "2027-03-08 11:30", true, "2027-03-20 09:00", promise.Over, "2027-03-09 09:30", 2 * time.Hour, 6 * time.Hour, false},
		"taken back too late":             {"maravel", "1h", "2027-03-08 09:30", nil, "2027-03-08 11:30", true, "2027-03-20 09:00", promise.Over, "2027-03-08 10:30", 2 * time.Hour, -time.Hour, true},
		"paused":                          {"maravel", "8h", "2027-03-08 09:30", []string{"2027-03-08 10:30"}, "", false, "2027-03-08 12:30", promise.Paused, "2027-03-09 11:30", time.Hour, 7 * time.Hour, false},
		"paused for days":                 {"maravel", "8h", "2027-03-08 09:30", []string{"2027-03-08 10:30"}, "", false, "2027-03-11 10:30", promise.Paused, "2027-03-12 09:30", time.Hour, 7 * time.Hour, false},
		"goes on after a pause":           {"maravel", "8h", "2027-03-08 09:30", []string{"2027-03-08 10:30", "2027-03-08 14:30"}, "", false, "2027-03-08 15:30", promise.Running, "2027-03-09 12:30", 2 * time.Hour, 6 * time.Hour, false},
		"a pause in the night is none":    {"maravel", "8h", "2027-03-08 09:30", []string{"2027-03-08 18:00", "2027-03-09 07:00"}, "", false, "2027-03-09 08:30", promise.Running, "2027-03-09 09:30", 7 * time.Hour, time.Hour, false},
		"two pauses":                      {"maravel", "8h", "2027-03-08 08:30", []string{"2027-03-08 09:30", "2027-03-08 10:30", "2027-03-08 11:30", "2027-03-08 12:30"}, "", false, "2027-03-08 13:30", promise.Running, "2027-03-09 10:30", 2 * time.Hour, 6 * time.Hour, false},
		"paused from the start":           {"maravel", "2h", "2027-03-08 08:30", []string{"2027-03-08 08:30", "2027-03-09 08:30"}, "", false, "2027-03-09 09:30", promise.Running, "2027-03-09 10:30", time.Hour, time.Hour, false},
		"a pause before it started":       {"maravel", "2h", "2027-03-09 08:30", []string{"2027-03-08 08:30", "2027-03-08 12:30"}, "", false, "2027-03-09 09:30", promise.Running, "2027-03-09 10:30", time.Hour, time.Hour, false},
		"a pause over its start":          {"maravel", "2h", "2027-03-09 08:30", []string{"2027-03-08 08:30", "2027-03-09 09:30"}, "", false, "2027-03-09 10:30", promise.Running, "2027-03-09 11:30", time.Hour, time.Hour, false},
		"a pause after the due instant":   {"maravel", "2h", "2027-03-08 08:30", []string{"2027-03-08 11:30", "2027-03-08 12:30"}, "", false, "2027-03-08 14:30", promise.Running, "2027-03-08 10:30", 4 * time.Hour, -2 * time.Hour, true},
		"missed though paused later":      {"maravel", "2h", "2027-03-08 08:30", []string{"2027-03-08 11:30", "2027-03-08 12:30"}, "2027-03-08 14:30", false, "2027-03-09 08:30", promise.Missed, "2027-03-08 10:30", 4 * time.Hour, -2 * time.Hour, true},
		"stopped in a pause":              {"maravel", "8h", "2027-03-08 09:30", []string{"2027-03-08 10:30"}, "2027-03-08 12:30", true, "2027-03-09 10:30", promise.Over, "2027-03-09 11:30", time.Hour, 7 * time.Hour, false},
		"kept thanks to a pause":          {"maravel", "2h", "2027-03-08 08:30", []string{"2027-03-08 09:30", "2027-03-09 09:30"}, "2027-03-09 10:00", false, "2027-03-10 10:30", promise.Kept, "2027-03-09 10:30", 90 * time.Minute, 30 * time.Minute, false},
		"over the change of clocks":       {"maravel", "8h", "2027-03-26 15:30", nil, "", false, "2027-03-29 08:30", promise.Running, "2027-03-29 14:30", 3 * time.Hour, 5 * time.Hour, false}, // the day opens at 07:30 UTC
		"clock time":                      {"always", "8h", "2027-03-13 22:00", nil, "", false, "2027-03-14 02:00", promise.Running, "2027-03-14 06:00", 4 * time.Hour, 4 * time.Hour, false},
		"in Oslo":                         {"orm", "8h", "2027-03-08 13:00", nil, "", false, "2027-03-08 15:00", promise.Running, "2027-03-09 13:00", 2 * time.Hour, 6 * time.Hour, false},
		"working days":                    {"maravel", "3d", "2027-03-08 10:30", nil, "", false, "2027-03-09 10:30", promise.Running, "2027-03-11 10:30", 8 * time.Hour, 16 * time.Hour, false},
		"working days over a weekend":     {"maravel", "3d", "2027-03-11 10:30", nil, "", false, "2027-03-12 10:30", promise.Running, "2027-03-16 10:30", 8 * time.Hour, 16 * time.Hour, false},
		"working days from the opening":   {"maravel", "1d", "2027-03-08 08:30", nil, "", false, "2027-03-08 12:30", promise.Running, "2027-03-08 17:30", 4 * time.Hour, 4 * time.Hour, false},
		"working days sent at night":      {"maravel", "1d", "2027-03-08 22:00", nil, "", false, "2027-03-09 08:30", promise.Running, "2027-03-09 17:30", 0, 8 * time.Hour, false},
		"days kept to the minute":         {"maravel", "2d", "2027-03-08 10:30", nil, "2027-03-10 10:30", false, "2027-03-12 10:30", promise.Kept, "2027-03-10 10:30", 16 * time.Hour, 0, false},
		"days missed by a minute":         {"maravel", "2d", "2027-03-08 10:30", nil, "2027-03-10 10:31", false, "2027-03-12 10:30", promise.Missed, "2027-03-10 10:30", 16*time.Hour + time.Minute, -time.Minute, true},
		"days with a pause of a day":      {"maravel", "2d", "2027-03-08 10:30", []string{"2027-03-08 14:30", "2027-03-09 14:30"}, "", false, "2027-03-10 08:30", promise.Running, "2027-03-11 10:30", 6 * time.Hour, 10 * time.Hour, false},
		"days with a pause of a morning":  {"maravel", "1d", "2027-03-08 08:30", []string{"2027-03-08 08:30", "2027-03-08 12:30"}, "", false, "2027-03-08 13:30", promise.Running, "2027-03-09 12:30", 0, 8 * time.Hour, false},
		"days paused still":               {"maravel", "2d", "2027-03-08 10:30", []string{"2027-03-09 10:30"}, "", false, "2027-03-10 10:30", promise.Paused, "2027-03-11 10:30", 8 * time.Hour, 8 * time.Hour, false},
		"days over the change of clocks":  {"maravel", "2d", "2027-03-26 10:30", nil, "", false, "2027-03-29 09:30", promise.Running, "2027-03-30 09:30", 8 * time.Hour, 8 * time.Hour, false},
	} {
		t.Run(name, func(t *testing.T) {
			findings := finding.List{}
			p := promise.Compile(promise.Promise{Zone: "UTC", Calendar: c.calendar}, ports, &findings)
			require.Empty(t, findings)
			var pauses []promise.Pause
			for i := 0; i < len(c.pauses); i += 2 {
				pause := promise.Pause{From: coretest.At(t, c.pauses[i])}
				if i+1 < len(c.pauses) {
					pause.Until = coretest.At(t, c.pauses[i+1])
				}
				pauses = append(pauses, pause)
			}
			got := p.Fulfilment(promise.Promised{Fulfilment: c.target, From: coretest.At(t, c.from)}, pauses, promise.Stop{At: coretest.At(t, c.stopped), End: c.end}).Read(coretest.At(t, c.now))
			assert.Equal(t, c.state, got.State)
			assert.Equal(t, coretest.At(t, c.due), got.Due, "due")
			assert.Equal(t, c.used, got.Used, "used")
			assert.Equal(t, c.left, got.Left, "left")
			assert.Equal(t, c.late, got.Late)
		})
	}
}

// Pauses whose end is known count in the due instant from the start: worked out by
// hand on Maravel's hours, with a wait that is named by its start and its end.
func TestPausesAhead(t *testing.T) {
	for name, c := range map[string]struct {
		target, from string
		pauses       []string // so far
		ahead        []string
		now, due     string
	}{
		"none":                             {"8h", "2027-03-08 09:30", nil, nil, "2027-03-08 10:30", "2027-03-09 09:30"},
		"a wait of two weeks":              {"8h", "2027-03-08 09:30", nil, []string{"2027-03-08 11:30", "2027-03-22 08:30"}, "2027-03-08 10:30", "2027-03-22 15:30"},
		"working days, too":                {"2d", "2027-03-08 08:30", nil, []string{"2027-03-08 12:30", "2027-03-22 08:30"}, "2027-03-08 08:30", "2027-03-23 12:30"},
		"in it, with a known end":          {"8h", "2027-03-08 09:30", []string{"2027-03-08 11:30"}, []string{"2027-03-08 11:30", "2027-03-22 08:30"}, "2027-03-10 10:00", "2027-03-22 15:30"},
		"behind it":                        {"8h", "2027-03-08 09:30", []string{"2027-03-08 11:30", "2027-03-22 08:30"}, nil, "2027-03-22 09:30", "2027-03-22 15:30"},
		"one that begins after the due":    {"2h", "2027-03-08 09:30", nil, []string{"2027-03-08 14:30", "2027-03-22 08:30"}, "2027-03-08 10:30", "2027-03-08 11:30"},
		"two, the later one after the due": {"4h", "2027-03-08 08:30", nil, []string{"2027-03-09 16:30", "2027-03-10 16:30", "2027-03-08 09:30", "2027-03-09 09:30"}, "2027-03-08 08:30", "2027-03-09 12:30"},
		"over already":                     {"8h", "2027-03-08 09:30", nil, []string{"2027-03-08 09:30", "2027-03-08 10:00"}, "2027-03-08 10:30", "2027-03-09 09:30"},
	} {
		t.Run(name, func(t *testing.T) {
			p := promise.Compile(promise.Promise{Zone: "UTC", Calendar: "maravel"}, ports, &finding.List{})
			pauses := func(texts []string) []promise.Pause {
				var all []promise.Pause
				for i := 0; i < len(texts); i += 2 {
					pause := promise.Pause{From: coretest.At(t, texts[i])}
					if i+1 < len(texts) {
						pause.Until = coretest.At(t, texts[i+1])
					}
					all = append(all, pause)
				}
				return all
			}
			clock := p.Fulfilment(promise.Promised{Fulfilment: c.target, From: coretest.At(t, c.from)}, pauses(c.pauses), promise.Stop{}).Knowing(pauses(c.ahead))
			assert.Equal(t, coretest.At(t, c.due), clock.Read(coretest.At(t, c.now)).Due)
		})
	}
}

// Ready by a date, worked out by hand: sent on Monday 2027-03-08 at 10:00, for
// Thursday 2027-03-18, in Maravel.
func TestReadyBy(t *testing.T) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"day": rule.DateT}}})
	require.NoError(t, err)
	for name, c := range map[string]struct {
		by           promise.ReadyBy
		day          string
		stopped, now string
		due          string
		state        promise.State
		late         bool
	}{
		"at its opening":                 {promise.ReadyBy{}, "2027-03-18", "", "2027-03-09 08:30", "2027-03-18 08:30", promise.Running, false},
		"at a clock time":                {promise.ReadyBy{At: "07:00"}, "2027-03-18", "", "2027-03-09 08:30", "2027-03-18 07:00", promise.Running, false},
		"at the close of the day before": {promise.ReadyBy{Days: 1}, "2027-03-18", "", "2027-03-09 08:30", "2027-03-17 17:30", promise.Running, false},
		"three days before, at noon":     {promise.ReadyBy{Days: 3, At: "12:00"}, "2027-03-18", "", "2027-03-09 08:30", "2027-03-15 12:00", promise.Running, false},
		"over a weekend":                 {promise.ReadyBy{Days: 2}, "2027-03-16", "", "2027-03-09 08:30", "2027-03-12 17:30", promise.Running, false},
		"a Sunday":                       {promise.ReadyBy{}, "2027-03-14", "", "2027-03-09 08:30", "2027-03-12 17:30", promise.Running, false},
		"summer time":                    {promise.ReadyBy{At: "12:00"}, "2027-03-30", "", "2027-03-09 08:30", "2027-03-30 11:00", promise.Running, false},
		"ready at the instant":           {promise.ReadyBy{Days: 1}, "2027-03-18", "2027-03-17 17:30", "2027-03-20 08:30", "2027-03-17 17:30", promise.Kept, false},
		"ready in the night after it":    {promise.ReadyBy{Days: 1}, "2027-03-18", "2027-03-17 20:00", "2027-03-20 08:30", "2027-03-17 17:30", promise.Missed, true},
		"still not ready":                {promise.ReadyBy{Days: 1}, "2027-03-18", "", "2027-03-17 17:31", "2027-03-17 17:30", promise.Running, true},
		"sent too late from the start":   {promise.ReadyBy{Days: 1}, "2027-03-08", "", "2027-03-08 10:01", "2027-03-05 17:30", promise.Paused, true},
		"no date yet: the next target":   {promise.ReadyBy{Days: 1}, "", "", "2027-03-09 10:00", "2027-03-09 10:00", promise.Running, false},
	} {
		t.Run(name, func(t *testing.T) {
			c.by.Of = "answers.day"
			findings := finding.List{}
			d := promise.Promise{Zone: "UTC", Calendar: "maravel", Targets: []promise.Target{{Name: "First day", ReadyBy: &c.by}, {Name: "Usual", Fulfilment: "1d"}}}
			p := promise.Compile(d, ports, &findings)
			p.CompileTargets(d.Targets, env, func(string) bool { return true }, &findings)
			require.Empty(t, findings)
			answers := rule.Record{}
			if day, err := calendar.ParseDate(c.day); err == nil {
				answers["day"] = rule.OfDate(day)
			}
			promised := p.Promised(rule.Values{Roots: map[string]rule.Record{"answers": answers}}, coretest.At(t, "2027-03-08 10:00"))
			require.NotNil(t, promised)
			pause := []promise.Pause{{From: coretest.At(t, "2027-03-08 10:00"), Until: coretest.At(t, "2027-03-09 08:30")}}
			if c.day == "" {
				pause = nil
			}
			got := p.Fulfilment(*promised, pause, promise.Stop{At: coretest.At(t, c.stopped)}).Read(coretest.At(t, c.now))
			assert.Equal(t, coretest.At(t, c.due), got.Due, "due, which no pause moves")
			assert.Equal(t, c.state, got.State)
			assert.Equal(t, c.late, got.Late)
			assert.Len(t, got.Pauses, len(pause), "pauses are shown")
		})
	}
}

// What starts a clock: sending, the decision, a date of the answers, and the
// next day after the cut-off.
func TestStarts(t *testing.T) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"start": rule.DateT}}})
	require.NoError(t, err)
	start, err := calendar.ParseDate("2027-03-15")
	require.NoError(t, err)
	values := rule.Values{Roots: map[string]rule.Record{"answers": {"start": rule.OfDate(start)}}}
	for name, c := range map[string]struct {
		promise                   promise.Promise
		from                      string
		sent, decided, want, then string
	}{
		"on sending":           {promise.Promise{}, "", "2027-03-08 10:00", "2027-03-09 11:00", "2027-03-08 10:00", ""},
		"on the decision":      {promise.Promise{Starts: promise.OnDecision}, "", "2027-03-08 10:00", "2027-03-09 11:00", "", "2027-03-09 11:00"},
		"before the cut-off":   {promise.Promise{CutOff: "15:00"}, "", "2027-03-08 14:59", "", "2027-03-08 14:59", ""},
		"at the cut-off":       {promise.Promise{CutOff: "15:00"}, "", "2027-03-08 15:00", "", "2027-03-09 08:30", ""},
		"on Friday after it":   {promise.Promise{CutOff: "15:00"}, "", "2027-03-12 16:00", "", "2027-03-15 08:30", ""},
		"decided after it":     {promise.Promise{Starts: promise.OnDecision, CutOff: "15:00"}, "", "2027-03-08 10:00", "2027-03-08 16:00", "", "2027-03-09 08:30"},
		"from a date":          {promise.Promise{}, "answers.start", "2027-03-08 10:00", "", "2027-03-15 08:30", ""},
		"from a date, decided": {promise.Promise{Starts: promise.OnDecision}, "answers.start", "2027-03-08 10:00", "2027-03-09 10:00", "2027-03-15 08:30", ""},
	} {
		t.Run(name, func(t *testing.T) {
			findings := finding.List{}
			c.promise.Zone, c.promise.Calendar = "UTC", "maravel"
			c.promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "1d", From: c.from}}
			p := promise.Compile(c.promise, ports, &findings)
			p.CompileTargets(c.promise.Targets, env, func(string) bool { return true }, &findings)
			require.Empty(t, findings)
			promised := p.Promised(values, coretest.At(t, c.sent))
			assert.Equal(t, coretest.At(t, c.want), promised.From)
			if c.decided != "" {
				assert.Equal(t, coretest.At(t, c.then), p.Decided(promised, coretest.At(t, c.decided)))
			}
		})
	}
}

// Whatever the pauses: used and left make the target while it runs, a pause
// never moves the due instant forward, and time only ever adds to what is used.
func TestClocksHold(t *testing.T) {
	maravel, _ := ports.Calendar("maravel")
	p := promise.Compile(promise.Promise{Zone: "UTC", Calendar: "maravel"}, ports, &finding.List{})
	rapid.Check(t, func(t *rapid.T) {
		hours := rapid.IntRange(1, 60).Draw(t, "hours")
		from := coretest.At(t, "2027-03-08 00:00").Add(time.Duration(rapid.IntRange(0, 10000).Draw(t, "from")) * time.Minute)
		at, pauses := from, []promise.Pause{}
		for range rapid.IntRange(0, 4).Draw(t, "pauses") {
			begins := at.Add(time.Duration(rapid.IntRange(0, 2000).Draw(t, "after")) * time.Minute)
			at = begins.Add(time.Duration(rapid.IntRange(1, 2000).Draw(t, "for")) * time.Minute)
			pauses = append(pauses, promise.Pause{From: begins, Until: at})
		}
		now := from.Add(time.Duration(rapid.IntRange(0, 20000).Draw(t, "now")) * time.Minute)
		promised := promise.Promised{Fulfilment: calendar.Length{Open: time.Duration(hours) * time.Hour}.String(), From: from}
		got := p.Fulfilment(promised, pauses, promise.Stop{}).Read(now)
		bare := p.Fulfilment(promised, nil, promise.Stop{}).Read(now)
		assert.False(t, got.Due.Before(bare.Due))
		assert.LessOrEqual(t, got.Used, maravel.Between(from, now))
		later := p.Fulfilment(promised, pauses, promise.Stop{}).Read(now.Add(time.Hour))
		assert.GreaterOrEqual(t, later.Used, got.Used)
		if !now.Before(at) {
			assert.Equal(t, time.Duration(hours)*time.Hour, got.Used+got.Left)
		}
	})
}
