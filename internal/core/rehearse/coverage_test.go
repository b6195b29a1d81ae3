package rehearse_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
)

// unreachable adds to the badge a question, a choice, an item, a rung, a task, a route and a
// promise that nothing can reach.
func unreachable(d *offering.Document) {
	never := `answers.port == "north"`
	d.Questions = append(d.Questions,
		form.Question{Key: "shade", Kind: form.Choice, Label: "Shade", Offer: `choice.key != "green"`, Choices: []form.Option{{Key: "red", Label: "Red"}, {Key: "green", Label: "Green"}}},
		form.Question{Key: "hidden", Kind: form.Text, Label: "Hidden", Show: never},
	)
	d.Items.List = append(d.Items.List, price.Item{Key: "gold", Name: "Gold", Price: price.Charge{Amount: "1.00", Per: price.Once}})
	d.Ladder = append(d.Ladder, ladder.Rung{Key: "north", Name: "Head of the North", When: never, Quorum: "any", Approvers: []ladder.Source{{Source: ladder.ServiceOwner}}})
	d.Plan = append(d.Plan, plan.Task{Key: "north", Name: "Sail north", Kind: plan.Manual, Team: "crew", When: never})
	d.Plan[1].Routes = []plan.Route{{When: never, Team: "crew"}}
	d.Promise.Targets = append([]promise.Target{{Name: "North", When: never, Fulfilment: "1d"}}, d.Promise.Targets...)
}

// Exactly what nothing can reach is named so, with a proof; the rest is found.
func TestProposedCasesReachWhatCanBeReached(t *testing.T) {
	for name, change := range map[string]func(*offering.Document){"as it is": func(*offering.Document) {}, "with what cannot be": unreachable} {
		t.Run(name, func(t *testing.T) {
			found, err := rehearse.Propose(ground(change), nil)
			require.NoError(t, err)
			var cannot []string
			for _, p := range found.Points {
				if p.Cannot {
					cannot = append(cannot, p.ID)
					assert.NotEmpty(t, p.Why, p.ID)
					assert.False(t, p.Reached, p.ID)
					continue
				}
				assert.True(t, p.Reached, "%s: %s", p.ID, p.Why)
			}
			slices.Sort(cannot)
			if name == "as it is" {
				assert.Empty(t, cannot)
			} else {
				assert.Equal(t, []string{"choice/shade/green", "item/gold", "route/photo/0", "rule/questions/6/show/true", "rung/north", "rung/north/declined", "target/North", "task/north"}, cannot)
			}
			again, err := rehearse.Propose(ground(change), nil)
			require.NoError(t, err)
			for i, p := range found.Proposals {
				assert.Equal(t, p.Script, again.Proposals[i].Script, "never other from run to run")
			}
		})
	}
}

// What cases reach already is not proposed again.
func TestProposalsAddToWhatIsThere(t *testing.T) {
	first, err := rehearse.Propose(ground(), nil)
	require.NoError(t, err)
	var have []*rehearse.Life
	for _, p := range first.Proposals {
		have = append(have, p.Life)
	}
	second, err := rehearse.Propose(ground(), have)
	require.NoError(t, err)
	assert.Empty(t, second.Proposals)
	third, err := rehearse.Propose(ground(), have[:len(have)-1])
	require.NoError(t, err)
	assert.NotEmpty(t, third.Proposals)
}

// One life reaches what happened in it, and nothing else.
func TestWhatALifeReaches(t *testing.T) {
	life := run(t, ground(), sent)
	reached := []string{}
	for _, p := range rehearse.Cover(life.Offering, []*rehearse.Life{life}) {
		if p.Reached {
			reached = append(reached, p.ID)
		}
	}
	assert.Equal(t, []string{"choice/port/orm", "choice/zones/fuel", "rule/questions/2/show/true", "rule/questions/2/require/true", "item/card", "rung/manager", "task/safety", "task/photo", "task/write", "target/Usual"}, reached)
	life = run(t, ground(), sent+"cast: {systems: {badges: {refuse: 99}}}\n")
	assert.True(t, life.Reaches()["task/write/stuck"])
	life = run(t, ground(), sent+"script: [{after: PT1M, who: tomas, do: decline, reason: No}]\n")
	assert.True(t, life.Reaches()["rung/manager/declined"])
	assert.False(t, life.Reaches()["task/safety"])
}

// replayed puts the badge that Ilse sent through a changed one.
func replayed(t *testing.T, change func(*offering.Document), more func(*rehearse.Replaying)) rehearse.Replayed {
	t.Helper()
	company := coretest.Company()
	was, findings := offering.Compile(badge(), 1, company)
	require.False(t, findings.HasErrors(), "%v", findings)
	draft, _ := offering.Compile(badge(change), 2, company)
	service, _ := company.Directory.Service("access")
	through := rehearse.Replaying{Draft: draft, Company: company.Directory, Service: service, Version: func(int) (*offering.Compiled, error) { return was, nil }}
	if more != nil {
		more(&through)
	}
	out, err := through.One(rehearse.Past{State: run(t, ground(), sent).State, Was: request.Standing{Department: "Fleet"}})
	require.NoError(t, err)
	return out
}

func TestReplay(t *testing.T) {
	same := replayed(t, func(*offering.Document) {}, nil)
	assert.True(t, same.Valid)
	assert.False(t, same.Changed(), "%+v", same)

	dearer := replayed(t, func(d *offering.Document) { d.Items.List[0].Price.Amount = "15.00" }, nil)
	assert.Equal(t, []string{"12.50", "15.00"}, []string{dearer.Before, dearer.After})

	needed := func(d *offering.Document) {
		d.Questions = append(d.Questions, form.Question{Key: "ship", Kind: form.Text, Label: "Ship", Require: "true"})
	}
	invalid := replayed(t, needed, nil)
	assert.False(t, invalid.Valid)
	require.Len(t, invalid.Fails, 1)
	assert.Equal(t, []string{"ship", "Ship", "Ship: an answer is needed."}, []string{invalid.Fails[0].Key, invalid.Fails[0].Label, invalid.Fails[0].Sentence})
	assert.True(t, replayed(t, needed, func(r *rehearse.Replaying) { r.LeaveOut = true }).Valid)
	assert.True(t, replayed(t, needed, func(r *rehearse.Replaying) { r.Fill = form.Answers{"ship": form.OfText("Heron")} }).Valid)

	nobody := replayed(t, func(d *offering.Document) { d.Audience.Ask = `asker.department == "Office"` }, nil)
	assert.False(t, nobody.Valid)
	assert.Empty(t, nobody.Fails[0].Key)

	other := replayed(t, func(d *offering.Document) {
		d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.ServiceOwner}}
		d.Ladder = append(d.Ladder, ladder.Rung{Key: "two", Name: "Second yes", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.NthManager, Level: 2}}})
		d.Plan[0].Team = "keys"
		d.Plan[1].When = `answers.port == "maravel"`
		d.Plan = append(d.Plan, plan.Task{Key: "more", Name: "Laminate it", Kind: plan.Manual, Team: "keys", Effort: "2h"})
		d.Promise.Targets[0].Fulfilment = "3d"
	}, nil)
	assert.Equal(t, []string{"Line manager: Olga Ferreira, not Tomas Lindqvist", "Second yes decides, too: Noor Adeyemi"}, other.Approvers)
	assert.Equal(t, []string{"Check safety record is with Keys & Badges, not Crewing", "Take photo is not done", "Laminate it is done, too"}, other.Tasks)
	assert.Equal(t, "Usual 3d, not Usual 5d", other.Promise)
	assert.Equal(t, 1, other.Decisions)
	assert.InDelta(t, -2, other.Hours, 0.01, "four hours less, two more")
	assert.Greater(t, other.LikelyAfter, other.LikelyBefore, "one decision more")

	each := replayed(t, func(d *offering.Document) { d.Plan[1].Each = "badge" }, nil)
	assert.Equal(t, []string{"Take photo is not done", "Take photo: Card is done, too"}, each.Tasks)
	assert.InDelta(t, 0, each.Hours, 0.01, "the same work, named otherwise")

	sum := rehearse.Replay{}
	for _, r := range []rehearse.Replayed{same, dearer, invalid, other} {
		sum.Add(r)
	}
	sum.Finish("EUR")
	assert.Equal(t, []int{4, 3, 1, 1, 1, 1, 1, 1}, []int{sum.Of, sum.Changed, sum.Invalid, sum.Approvers, sum.Tasks, sum.Promises, sum.Prices, sum.Dearer})
	assert.Equal(t, "2.50", sum.Costs)
	assert.Len(t, sum.Records, 3)
}
