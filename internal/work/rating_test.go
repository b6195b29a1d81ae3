package work_test

import (
	"regexp"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/intake"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

var rateLink = regexp.MustCompile(`http://heptad\.example/rate/([^?\s]+)\?stars=([1-5])`)

// ended is an errand of Davi that was done and confirmed, with the token by which its mail
// rates it.
func ended(t *testing.T, o *demotest.Office) (id, token string) {
	t.Helper()
	publish(t, o, "errands", plan.Task{Key: "run", Name: "Run the errand", Kind: plan.Manual, Team: "keys-badges"})
	id = o.Send("sarmento", "errands", form.Answers{}, offering.Beneficiary{}).ID
	o.Must("marrec", id, request.Take{Task: "run"}, request.Complete{Task: "run"})
	o.Must("sarmento", id, request.Confirm{})
	post(t, o)
	for _, l := range lettersTo(o, "sarmento") {
		if all := rateLink.FindAllStringSubmatch(l.Text, -1); len(all) > 0 {
			assert.Len(t, all, 5, "one link for each of five")
			token = all[0][1]
		}
	}
	require.NotEmpty(t, token, "no mail asks how it went")
	return id, token
}

// A link of a mail rates without sign-in: it shows first, rates once and changes for two
// weeks, and is nobody else's.
func TestRatingByALink(t *testing.T) {
	o := demotest.New(t)
	id, token := ended(t, o)
	_, err := o.Following.OpenRatingLink(ctx, "x"+token)
	require.ErrorIs(t, err, work.ErrNotFound)
	for range 2 {
		link, err := o.Following.OpenRatingLink(ctx, token)
		require.NoError(t, err)
		assert.Empty(t, link.Trouble)
		_, rated := link.State.RatingOf(demo.ID("sarmento"))
		assert.False(t, rated, "looking rates nothing")
	}
	_, err = o.Following.RateByLink(ctx, token, request.Rate{Stars: 9})
	assert.Error(t, err)
	link, err := o.Following.RateByLink(ctx, token, request.Rate{Stars: 2, Text: "It was late."})
	require.NoError(t, err)
	mine, rated := link.State.RatingOf(demo.ID("sarmento"))
	require.True(t, rated)
	assert.Equal(t, []any{2, "It was late."}, []any{mine.Stars, mine.Text})
	o.Clock.Pass(13 * 24 * time.Hour)
	_, err = o.Following.RateByLink(ctx, token, request.Rate{Stars: 4})
	require.NoError(t, err)
	rating, err := o.Designing.Pooled(ctx, []string{"errands"})
	require.NoError(t, err)
	assert.Empty(t, rating, "of one nobody is told")

	o.Clock.Pass(2 * 24 * time.Hour)
	link, err = o.Following.OpenRatingLink(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, "You have said how it went: after fourteen days it stays.", link.Trouble)
	_, err = o.Following.RateByLink(ctx, token, request.Rate{Stars: 1})
	refused(t, err, refusal.StaleLink)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	mine, _ = state.RatingOf(demo.ID("sarmento"))
	assert.Equal(t, 4, mine.Stars)
}

// A link rates no more once it is old, or who it was for has left.
func TestALinkThatRatesNoMore(t *testing.T) {
	for name, c := range map[string]struct {
		happens func(t *testing.T, o *demotest.Office)
		says    string
	}{
		"it is old": {func(_ *testing.T, o *demotest.Office) { o.Clock.Pass(31 * 24 * time.Hour) }, "This link has expired. Sign in to say how it went."},
		"they have left": {func(t *testing.T, o *demotest.Office) {
			does(t, o, intake.People, "login,name,active\nsarmento,Davi Sarmento,no\n", false)
		}, "Who this link was for is not with the company any more."},
	} {
		t.Run(name, func(t *testing.T) {
			o := demotest.New(t)
			_, token := ended(t, o)
			c.happens(t, o)
			link, err := o.Following.OpenRatingLink(ctx, token)
			require.NoError(t, err)
			assert.Equal(t, c.says, link.Trouble)
			_, err = o.Following.RateByLink(ctx, token, request.Rate{Stars: 5})
			refused(t, err, refusal.StaleLink)
		})
	}
}

// Five ratings are told together, and what is changed counts as it is now.
func TestRatingsAreTold(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "errands", plan.Task{Key: "run", Name: "Run the errand", Kind: plan.Manual, Team: "keys-badges"})
	askers := []string{"sarmento", "castelo", "quist", "brandao", "okonjo"}
	for i, login := range askers {
		pooled, err := o.Designing.Pooled(ctx, []string{"errands"})
		require.NoError(t, err)
		assert.Empty(t, pooled, "%d are too few", i)
		id := o.Send(login, "errands", form.Answers{}, offering.Beneficiary{}).ID
		o.Must("marrec", id, request.Take{Task: "run"}, request.Complete{Task: "run"})
		o.Must(login, id, request.Confirm{}, request.Rate{Stars: 1 + i})
		if i == 4 {
			o.Must(login, id, request.Rate{Stars: 2})
		}
	}
	pooled, err := o.Designing.Pooled(ctx, []string{"errands", "quay-access-badge", "nothing"})
	require.NoError(t, err)
	require.Contains(t, pooled, "errands")
	assert.Equal(t, 5, pooled["errands"].Count)
	assert.InDelta(t, 2.4, pooled["errands"].Mean, 1e-9, "1, 2, 3, 4 and 2")
	assert.NotContains(t, pooled, "nothing")
}

// What more urgency would come to is told before it is asked for, choice by choice: when it is
// due then, who decides first, what it costs, and why it cannot be.
func TestWhatMoreUrgencyComesTo(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "parking", Name: "Tow away"})
	require.NoError(t, err)
	d := opened.Document
	d.Purpose.Text, d.Audience.Ask = "Somebody stands on your place.", "true"
	d.Questions = []form.Question{{Key: "speed", Kind: form.Choice, Label: "How soon?", Preset: `"usual"`, Choices: []form.Option{{Key: "usual", Label: "As usual"}, {Key: "soon", Label: "Within a day"}, {Key: "now", Label: "At once"}, {Key: "later", Label: "Some day"}}}}
	d.Questions = append(d.Questions, form.Question{Key: "with", Kind: form.Items, Label: "With what?", Items: []string{"truck"}})
	d.Items.List = []price.Item{{Key: "truck", Name: "Tow truck", Price: price.Charge{Amount: "10.00", Per: price.Once}}}
	d.Items.Surcharges = []price.Surcharge{{Key: "now", Name: "At once", When: `answers.speed == "now"`, Fixed: &price.Charge{Amount: "40.00", Per: price.Once}}}
	d.Ladder = []ladder.Rung{{Key: "manager", Name: "Line manager", When: `answers.speed == "now"`, Quorum: "any", Approvers: []ladder.Source{{Source: ladder.LineManager}}}}
	d.Plan = []plan.Task{{Key: "tow", Name: "Tow it", Kind: plan.Manual, Team: "premises-crew"}}
	d.Promise.Targets = []promise.Target{
		{Name: "At once", When: `answers.speed == "now"`, Fulfilment: "2h"}, {Name: "Soon", When: `answers.speed == "soon"`, Fulfilment: "1d"}, {Name: "Usual", Fulfilment: "5d"},
	}
	d.Promise.Urge = &promise.Urge{Question: "speed", Choices: []string{"usual", "soon", "now"}}
	opened, err = o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	require.False(t, opened.Findings.HasErrors(), "%v", opened.Findings)
	var accepted []string
	for _, f := range opened.Findings {
		accepted = append(accepted, f.Name())
	}
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: opened.Revision, Accepted: accepted})
	require.NoError(t, err)

	state := o.Send("sarmento", d.Key, form.Answers{"speed": form.OfText("usual"), "with": form.OfPicks([]price.Pick{{Item: "truck", Quantity: 1}})}, offering.Beneficiary{})
	speeds, err := o.Following.Speeds(ctx, demo.ID("sarmento"), state)
	require.NoError(t, err)
	require.Len(t, speeds, 2, "not what it is, nor what they cannot change to")
	soon, now := speeds[0], speeds[1]
	assert.Equal(t, []string{"soon", "now"}, []string{soon.Choice.Key, now.Choice.Key})
	assert.False(t, soon.Due.IsZero(), "it is granted at once, and due then")
	assert.Empty(t, soon.Decided)
	assert.True(t, now.Due.IsZero(), "that hangs on the decision")
	manager, _ := o.Company().Person(demo.ID("sarmento"))
	assert.Equal(t, []string{manager.Manager}, now.Decided)
	assert.Equal(t, "50.00", now.Price.Once.Decimal())

	after, err := o.Store.Request(ctx, state.ID)
	require.NoError(t, err)
	assert.Equal(t, state.Seq, after.Seq, "nothing is kept")
	state = o.Must("sarmento", state.ID, request.Urge{Choice: "soon", Reason: "It blocks the gate."})
	speeds, err = o.Following.Speeds(ctx, demo.ID("sarmento"), state)
	require.NoError(t, err)
	require.Len(t, speeds, 2)
	assert.Equal(t, "usual", speeds[0].Choice.Key)
	assert.NotEmpty(t, speeds[0].Trouble, "that is no sooner")
	assert.Empty(t, speeds[1].Trouble)

	parking := o.Ask("sarmento", "open")
	speeds, err = o.Following.Speeds(ctx, demo.ID("sarmento"), parking)
	require.NoError(t, err)
	assert.Empty(t, speeds, "its offering lets nobody ask")
}
