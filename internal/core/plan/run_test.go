package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

// where gives values of answers about a port, and of copies when there are some.
func where(port string, copies int) rule.Values {
	answers := rule.Record{"port": rule.OfText(port)}
	if copies > 0 {
		answers["copies"] = rule.OfNumber(float64(copies))
	}
	return rule.Values{Roots: map[string]rule.Record{"answers": answers}}
}

// The first route that fits wins, one that hangs on a missing answer fits not,
// and without one the task goes to its own team.
func TestRoutes(t *testing.T) {
	a := task("a")
	a.Team = "keys"
	a.Routes = []plan.Route{
		{When: `answers.port == "orm" && answers.copies > 1.0`, Team: "crew", Person: "caro"},
		{When: `answers.port == "orm"`, Team: "crew"},
		{When: `answers.copies > 5.0`, Team: "crew", Person: "caro"},
	}
	p := compile(t, a)
	for _, c := range []struct {
		port   string
		copies int
		team   string
		person string
	}{
		{"orm", 2, "crew", "caro"}, {"orm", 1, "crew", ""}, {"orm", 0, "crew", ""}, {"maravel", 0, "keys", ""}, {"maravel", 5, "keys", ""}, {"maravel", 6, "crew", "caro"},
	} {
		team, person := p.Routed("a", where(c.port, c.copies))
		assert.Equal(t, []string{c.team, c.person}, []string{team, person}, "%s %d", c.port, c.copies)
	}
}

// Those who are asked: a team, or people named in answers, each once, without
// those who have left; and how long silence may last, in open time.
func TestWhoIsAsked(t *testing.T) {
	team, named, both, nobody := task("team"), task("named"), task("both"), task("nobody")
	team.People = &plan.People{Team: "keys", Enough: "all", Silence: "2h"}
	named.People = &plan.People{Question: "who", Enough: "any"}
	both.People = &plan.People{Team: "keys", Question: "who", Enough: "50%", Silence: "1d"}
	p := compile(t, team, named, both, nobody)
	company := coretest.Company("p-keks").Directory
	logins := func(question string) []string {
		require.Equal(t, "who", question)
		return []string{"kira", "gone", "caro", "nobody", "caro"}
	}
	assert.Equal(t, []string{"p-kira"}, p.Confirmers("team", company, logins), "Keks has left")
	assert.Equal(t, []string{"p-kira", "p-caro"}, p.Confirmers("named", company, logins))
	assert.Equal(t, []string{"p-kira", "p-caro"}, p.Confirmers("both", company, logins))
	assert.Nil(t, p.Confirmers("nobody", company, logins))

	friday := coretest.At(t, "2027-03-12 16:30")
	assert.Equal(t, coretest.At(t, "2027-03-15 09:30"), p.Silence("team", friday, maravel))
	assert.Equal(t, coretest.At(t, "2027-03-15 16:30"), p.Silence("both", friday, maravel))
	assert.True(t, p.Silence("named", friday, maravel).IsZero(), "they may keep silent for ever")
	assert.True(t, p.Silence("nobody", friday, maravel).IsZero())
}

// What a task makes of somebody's things, with its placeholders filled in.
func TestHoldings(t *testing.T) {
	made, changed, odd := task("made"), task("changed"), task("odd")
	made.Outputs = []plan.Output{{Key: "number", Name: "Number"}, {Key: "last", Name: "Last day", Kind: plan.Date, Free: true}}
	made.Belonging = &plan.Belonging{Does: plan.Make, Kind: "badge", Name: " Badge {{ outputs.made.number }} ", Detail: "{{ answers.port }}", Until: "outputs.made.last"}
	changed.Belonging = &plan.Belonging{Does: plan.Change, Which: "own-{{ answers.port }}", Detail: "new"}
	odd.Belonging = &plan.Belonging{Does: plan.End, Which: "{{ answers.port.substring(90) }}"}
	p := compile(t, made, changed, odd, task("none"))
	outputs := map[string]string{"number": "QB-7"}
	label := func(_, field string) (string, bool) { return "Sankt Orm", field == "port" }
	holding := func(key string) (plan.Holding, bool, error) {
		return p.Holding(key, p.Values(key, where("orm", 0), nil, func(string) []plan.CameOut { return []plan.CameOut{{Texts: outputs}} }), label)
	}
	h, ok, err := holding("made")
	require.NoError(t, err)
	assert.True(t, ok)
	assert.Equal(t, plan.Holding{Does: plan.Make, Kind: "badge", Name: "Badge QB-7", Detail: "Sankt Orm"}, h, "it has no end that is known")
	outputs["last"] = "2027-12-31"
	h, _, err = holding("made")
	require.NoError(t, err)
	assert.Equal(t, "2027-12-31", h.Until.String())
	h, _, err = holding("changed")
	require.NoError(t, err)
	assert.Equal(t, "own-orm", h.Which, "an ID is no label")
	_, ok, err = holding("odd")
	assert.True(t, ok)
	assert.Error(t, err)
	_, ok, err = holding("none")
	assert.False(t, ok)
	assert.NoError(t, err)
}

// Outputs are read by their kinds; what cannot be read counts as absent.
func TestOutputsOfKinds(t *testing.T) {
	for _, c := range []struct {
		output plan.Output
		text   string
		says   string
	}{
		{plan.Output{Key: "a", Name: "Weight", Kind: plan.Number}, "12.5", ""},
		{plan.Output{Key: "a", Name: "Weight", Kind: plan.Number}, "heavy", "Weight: write a number."},
		{plan.Output{Key: "a", Name: "Weight", Kind: plan.Number}, " ", "Weight is needed."},
		{plan.Output{Key: "a", Name: "Weight", Kind: plan.Number, Free: true}, "", ""},
		{plan.Output{Key: "a", Name: "Day", Kind: plan.Date}, "2027-02-29", "Day: write a date such as 2027-03-12."},
		{plan.Output{Key: "a", Name: "Day", Kind: plan.Date}, "2028-02-29", ""},
		{plan.Output{Key: "a", Name: "Word"}, "x", ""},
		{plan.Output{Key: "a", Name: "Cost", Kind: plan.Money}, "12.50", ""},
		{plan.Output{Key: "a", Name: "Cost", Kind: plan.Money}, "12.505", "Cost: write a sum such as 12.50."},
	} {
		assert.Equal(t, c.says, c.output.Check(c.text, "EUR"), "%s %q", c.output.Name, c.text)
	}
	first, second := task("first"), task("second", "first")
	first.Outputs = []plan.Output{{Key: "n", Name: "N", Kind: plan.Number}}
	second.When = "outputs.first.n > 3.0"
	p := compile(t, first, second)
	for text, want := range map[string]bool{"4": true, "3": false, "many": false, "": false} {
		wanted, err := p.Wanted("second", p.Values("second", where("orm", 0), nil, func(string) []plan.CameOut { return []plan.CameOut{{Texts: map[string]string{"n": text}}} }))
		require.NoError(t, err)
		assert.Equal(t, want, wanted, text)
	}
	assert.True(t, p.Foreseen("second", where("orm", 0)), "what hangs on what comes out later counts as wanted")
}

// Places on an axis of working days: the night and the weekend take no room.
func TestAxis(t *testing.T) {
	a := plan.NewAxis(maravel, coretest.At(t, "2027-03-11 10:30"), coretest.At(t, "2027-03-16 12:00"))
	var days []string
	for _, d := range a.Days {
		days = append(days, d.String())
	}
	assert.Equal(t, []string{"2027-03-11", "2027-03-12", "2027-03-15", "2027-03-16"}, days)
	for at, want := range map[string]float64{
		"2027-03-11 08:30": 0, "2027-03-11 10:30": 0.25, "2027-03-11 12:30": 0.5, "2027-03-11 13:00": 0.5, "2027-03-11 23:00": 1, "2027-03-12 08:30": 1,
		"2027-03-12 17:30": 2, "2027-03-14 12:00": 2, "2027-03-15 15:30": 2.75, "2027-03-10 12:00": 0, "2027-03-20 12:00": 4,
	} {
		assert.InDelta(t, want, a.Place(coretest.At(t, at)), 1e-9, at)
	}
	a = plan.NewAxis(maravel, coretest.At(t, "2027-03-14 10:30"), coretest.At(t, "2027-03-14 11:30"))
	assert.Equal(t, "2027-03-12", a.Days[0].String(), "it begins with the working day before a Sunday")
	assert.LessOrEqual(t, len(plan.NewAxis(afloat, coretest.At(t, "2027-01-01 10:00"), coretest.At(t, "2035-01-01 10:00")).Days), plan.MostDays)
}

// How long to wait before another try, and when to give up.
func TestDelays(t *testing.T) {
	call := &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "x", "zones": "y"}}
	own := plan.Task{Key: "own", Name: "Own", Kind: plan.Automatic, Team: "keys", Action: call, Tries: []string{"1s", "1h"}}
	usual := plan.Task{Key: "usual", Name: "Usual", Kind: plan.Automatic, Team: "keys", Action: call}
	p := compile(t, own, usual)
	for failed, want := range []time.Duration{time.Second, time.Hour} {
		delay, again := p.Delay("own", failed+1, 1)
		assert.True(t, again)
		assert.Equal(t, want, delay)
	}
	_, again := p.Delay("own", 3, 0)
	assert.False(t, again)
	last := time.Duration(0)
	for failed := 1; ; failed++ {
		delay, again := p.Delay("usual", failed, 0)
		if !again {
			assert.Equal(t, 6, failed)
			break
		}
		assert.Greater(t, delay, last, "the delays grow")
		last = delay
	}
	spread, _ := p.Delay("usual", 4, 1)
	assert.Equal(t, 150*time.Second, spread, "two minutes and a quarter of them")
	assert.Equal(t, calendar.Length{}, p.Effort("usual"), "a system takes no time")
}
