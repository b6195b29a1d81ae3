package rehearse_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
)

// kept is the badge as it goes usually, kept as a case with all that can be expected.
func kept(t *testing.T) script.Case {
	t.Helper()
	life := run(t, ground(), sent)
	alone := life.Alone(nil)
	again, err := rehearse.Run(rehearse.Carried(badge(), nil, coretest.Company().Connectors), alone)
	require.NoError(t, err)
	return through(t, script.Case{Name: "As usual", Script: alone, Expect: rehearse.Expecting(again.Result().See())})
}

// through is a case as it is after it was written and read.
func through(t *testing.T, c script.Case) script.Case {
	t.Helper()
	data, err := json.Marshal(c)
	require.NoError(t, err)
	var out script.Case
	require.NoError(t, json.Unmarshal(data, &out))
	return out
}

func try(t *testing.T, c script.Case, change ...func(*offering.Document)) rehearse.Tried {
	t.Helper()
	return rehearse.Try(badge(change...), c, nil, coretest.Company().Connectors)
}

// A case that is kept holds on its own, in whatever company, and goes on holding.
func TestACaseStandsOnItsOwn(t *testing.T) {
	c := kept(t)
	tried := try(t, c)
	assert.True(t, tried.Passed, "%v %s", tried.Different, tried.Trouble)
	assert.True(t, c.Script.Company.Alone)
	logins := map[string]bool{}
	for _, p := range c.Script.Company.People {
		logins[p.Login] = true
		assert.Empty(t, p.Grade, "nobody reads it")
	}
	assert.Equal(t, map[string]bool{"ilse": true, "tomas": true, "noor": true, "keks": true, "kira": true, "caro": true, "olga": true}, logins, "who has left is not there")
}

// A table of changes, each of which must make the case fail in these words, and of those
// that must not.
func TestWhatMakesACaseFail(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*offering.Document)
		says   string // empty: it goes on holding
	}{
		"a higher price": {func(d *offering.Document) { d.Items.List[0].Price.Amount = "15.00" }, "It costs once: 15.00 now, not 12.50."},
		"a question less": {func(d *offering.Document) {
			d.Questions, d.Plan[0].Slice = append(d.Questions[:2:2], d.Questions[3:]...), []string{"zones"}
		}, `It answers "reason", which the offering no longer asks.`},
		"a question more": {func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "more", Kind: form.Text, Label: "More"})
		}, ""},
		"a needed question more": {func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "more", Kind: form.Text, Label: "More", Require: "true"})
		}, "It cannot be sent now: More: an answer is needed."},
		"a question hidden": {func(d *offering.Document) { d.Questions[2].Show, d.Questions[2].Require = "false", "" }, `The question "reason" is not shown now.`},
		"another label":     {func(d *offering.Document) { d.Questions[0].Label = "At which port?" }, ""},
		"a rung less":       {func(d *offering.Document) { d.Ladder = nil }, `The decision "manager" is not asked for now.`},
		"a rung more": {func(d *offering.Document) {
			d.Ladder = append(d.Ladder, ladder.Rung{Key: "two", Name: "Two", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.ServiceOwner}}})
		}, "The number of decisions: 2 now, not 1."},
		"another approver":    {func(d *offering.Document) { d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.ServiceOwner}} }, "Line manager no longer asks Tomas Lindqvist."},
		"a rung's other name": {func(d *offering.Document) { d.Ladder[0].Name = "Who answers for Ilse" }, ""},
		"another team":        {func(d *offering.Document) { d.Plan[0].Team = "keys" }, "Check safety record is now with Keys & Badges, not with Crewing."},
		"a task more": {func(d *offering.Document) {
			d.Plan = append(d.Plan, plan.Task{Key: "more", Name: "More", Kind: plan.Manual, Team: "keys"})
		}, "The number of tasks: 4 now, not 3."},
		"a task less": {func(d *offering.Document) {
			d.Plan = append(d.Plan[:1:1], d.Plan[2:]...)
			d.Plan[1].After = []string{"safety"}
		}, `The task "photo" is not there now.`},
		"a task not needed":        {func(d *offering.Document) { d.Plan[1].When = `answers.port == "maravel"` }, "Take photo is now skipped, not done."},
		"begins too soon":          {func(d *offering.Document) { d.Plan[2].After = []string{"photo"} }, "Write badge now begins before Check safety record has ended."},
		"another order, the same":  {func(d *offering.Document) { d.Plan[1].After, d.Plan[2].After = []string{"safety"}, []string{"photo"} }, ""},
		"instructions":             {func(d *offering.Document) { d.Plan[0].Instructions = "Look twice." }, ""},
		"less effort":              {func(d *offering.Document) { d.Plan[0].Effort = "1h" }, ""},
		"far more effort":          {func(d *offering.Document) { d.Plan[0].Effort = "20d" }, "The promise is kept: no now, not yes."},
		"another promise":          {func(d *offering.Document) { d.Promise.Targets[0].Fulfilment = "6d" }, "It is due on"},
		"a promise that is missed": {func(d *offering.Document) { d.Promise.Targets = []promise.Target{{Name: "Soon", Fulfilment: "1h"}} }, "The promise is kept: no now, not yes."},
		"nothing to confirm":       {func(d *offering.Document) { d.Promise.ConfirmWithin = new(int) }, "Ilse Brandvik is no longer told: delivered."},
		"keywords":                 {func(d *offering.Document) { d.Purpose.Keywords = []string{"gate"} }, ""},
		"a team that is not there": {func(d *offering.Document) { d.Plan[0].Team = "movers" }, ""},
	} {
		t.Run(name, func(t *testing.T) {
			tried := try(t, kept(t), c.change)
			if name == "a team that is not there" {
				assert.False(t, tried.Passed)
				assert.Contains(t, tried.Trouble, `there is no team "movers"`)
				return
			}
			var says []string
			for _, d := range tried.Different {
				says = append(says, d.Sentence)
			}
			if c.says == "" {
				assert.True(t, tried.Passed, "%v %s", says, tried.Trouble)
				return
			}
			assert.False(t, tried.Passed)
			found := false
			for _, s := range says {
				found = found || len(s) >= len(c.says) && s[:len(c.says)] == c.says
			}
			assert.True(t, found, "%v", says)
		})
	}
}

// What is said to be right now is expected from then on, and nothing else.
func TestWhatIsRightNow(t *testing.T) {
	c := kept(t)
	change := func(d *offering.Document) {
		d.Items.List[0].Price.Amount = "15.00"
		d.Plan[0].Team = "keys"
		d.Plan = append(d.Plan, plan.Task{Key: "more", Name: "More", Kind: plan.Manual, Team: "keys"})
	}
	tried := try(t, c, change)
	places := map[string]string{}
	for _, d := range tried.Different {
		places[d.Place] = d.Sentence
	}
	require.Contains(t, places, "/request/price/once")
	c.Expect = rehearse.Right(c.Expect, tried.Different, []string{"/request/price/once", "/counts/tasks"})
	after := try(t, through(t, c), change)
	assert.False(t, after.Passed, "the team is not said to be right")
	for _, d := range after.Different {
		assert.NotEqual(t, "/request/price/once", d.Place)
		assert.NotEqual(t, "/counts/tasks", d.Place)
	}
	var all []string
	for _, d := range after.Different {
		all = append(all, d.Place)
	}
	c.Expect = rehearse.Right(c.Expect, after.Different, all)
	assert.True(t, try(t, through(t, c), change).Passed)
}

// Who has left the company changes nothing for a case; a team that the draft names anew is
// taken from the company when that is wanted.
func TestACaseTakesWhatItLacks(t *testing.T) {
	c := kept(t)
	d := badge(func(d *offering.Document) { d.Plan[0].Team = "movers" })
	company := script.Company{People: []script.Person{{Login: "mo", Name: "Mo Verhoeven"}}, Teams: []script.Team{{Key: "movers", Name: "Movers", Lead: "mo", Members: []string{"mo"}}}}
	grown, err := rehearse.Within(coretest.Company().Directory, script.Script{Asker: script.Who{Login: "ilse"}, Company: &company})
	require.NoError(t, err)
	c.Script = rehearse.Supply(c.Script, d, grown, nil)
	tried := rehearse.Try(d, c, nil, coretest.Company().Connectors)
	require.Empty(t, tried.Trouble)
	var says []string
	for _, d := range tried.Different {
		says = append(says, d.Sentence)
	}
	assert.Contains(t, says, "Check safety record is now with Movers, not with Crewing.")
}
