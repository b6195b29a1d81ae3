package work_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// "For somebody else" with no name is never sent for oneself, and nothing of the
// slip is told before the name is there. It is offered only to those for whom the
// rules know somebody.
func TestForSomebodyElseNeedsAName(t *testing.T) {
	o := demotest.New(t)
	quist := demo.ID("quist")
	answers := coretest.Answers(map[string]any{"port": "maravel", "from": "2099-01-05", "zones": []any{"offices"}})
	f, err := o.Asking.SaveDraft(ctx, quist, "quay-access-badge", answers, offering.Beneficiary{Other: true})
	require.NoError(t, err)
	assert.True(t, f.ForOthers)
	assert.Equal(t, "Say for whom it is.", f.Evaluated.Trouble)
	assert.Empty(t, f.Evaluated.Decisions)
	assert.Nil(t, f.Evaluated.Promised)
	_, err = o.Asking.Submit(ctx, quist, f.Draft, request.Submit{Answers: answers, For: offering.Beneficiary{Other: true}})
	_, refused := request.AsRefusal(err)
	require.True(t, refused, "%v", err)

	f, err = o.Asking.OpenForm(ctx, quist, "quay-access-badge", nil)
	require.NoError(t, err)
	assert.True(t, f.For.Other, "it is kept that it is for somebody else")
	f, err = o.Asking.SaveDraft(ctx, quist, "quay-access-badge", answers, offering.Beneficiary{Person: demo.ID("sarmento")})
	require.NoError(t, err)
	assert.NotEmpty(t, f.Evaluated.Decisions, "the slip follows")

	f, err = o.Asking.OpenForm(ctx, demo.ID("sarmento"), "quay-access-badge", nil)
	require.NoError(t, err)
	assert.False(t, f.ForOthers, "he is nobody's manager")
}

// Opening a form begins no draft, also when a link or the search brings answers
// along; these are worked out all the same.
func TestOpeningBeginsNoDraft(t *testing.T) {
	o := demotest.New(t)
	f, err := o.Asking.OpenForm(ctx, demo.ID("castelo"), "berth-side-parking", demotest.Parking("open"))
	require.NoError(t, err)
	assert.Empty(t, f.Draft)
	assert.True(t, f.Evaluated.Complete)
	_, err = o.Store.DraftOf(ctx, demo.ID("castelo"), "berth-side-parking")
	assert.ErrorIs(t, err, work.ErrNotFound)

	saved, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", coretest.Answers(map[string]any{"plate": "MV-02-QS"}), offering.Beneficiary{})
	require.NoError(t, err)
	f, err = o.Asking.OpenForm(ctx, demo.ID("castelo"), "berth-side-parking", demotest.Parking("open"))
	require.NoError(t, err)
	assert.Equal(t, saved.Draft, f.Draft)
	assert.Equal(t, coretest.Answers(map[string]any{"plate": "MV-02-QS"}), f.Answers, "a draft goes before what a link brings")
}

// A draft tells what has changed in its offering since it was last saved.
func TestADraftSaysWhatHasChanged(t *testing.T) {
	o := demotest.New(t)
	owner, castelo := demo.ID("falkenau"), demo.ID("castelo")
	_, err := o.Asking.SaveDraft(ctx, castelo, "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	f, err := o.Asking.OpenForm(ctx, castelo, "berth-side-parking", nil)
	require.NoError(t, err)
	assert.Empty(t, f.Notices)

	opened, err := o.Designing.OpenDraft(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Questions = append(d.Questions, form.Question{Key: "colour", Kind: form.Text, Label: "Which colour is it?"})
	saved, err := o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: saved.Revision})
	require.NoError(t, err)

	f, err = o.Asking.OpenForm(ctx, castelo, "berth-side-parking", nil)
	require.NoError(t, err)
	assert.Equal(t, []string{"The offering has changed since you began.", "“Which colour is it?” is a new question."}, f.Notices)
	f, err = o.Asking.SaveDraft(ctx, castelo, "berth-side-parking", f.Answers, f.For)
	require.NoError(t, err)
	f, err = o.Asking.OpenForm(ctx, castelo, "berth-side-parking", nil)
	require.NoError(t, err)
	assert.Empty(t, f.Notices, "they have seen it")
}

// What waits for whom it is for is counted and listed as waiting for them, as for
// who asked.
func TestItWaitsForWhomItIsFor(t *testing.T) {
	o := demotest.New(t)
	castelo := demo.ID("castelo")
	manager, ok := o.Company().Manager(castelo, 1)
	require.True(t, ok)
	before, err := o.Store.CountsFor(ctx, castelo)
	require.NoError(t, err)
	state := o.Send(manager.Login, "change-of-home-port", coretest.Answers(map[string]any{"to": "North Pier", "day": "2099-01-05", "desk": "none"}), offering.Beneficiary{Person: castelo})
	rung, open := state.OpenRung()
	require.True(t, open)
	approver, _ := o.Company().Person(rung.Seats[0].Person)
	state = o.Must(approver.Login, state.ID, request.AskBack{Rung: rung.Key, Text: "Why North Pier?"})
	require.Equal(t, request.Returned, state.Status)
	for _, person := range []string{castelo, manager.ID} {
		entries, err := o.Store.RequestsOf(ctx, person, store.Mine{Page: store.Page{Limit: 50}, Group: store.ForReader})
		require.NoError(t, err)
		assert.True(t, slices.ContainsFunc(entries, func(e store.Entry) bool { return e.State.ID == state.ID }), person)
	}
	after, err := o.Store.CountsFor(ctx, castelo)
	require.NoError(t, err)
	assert.Equal(t, before.Follow+1, after.Follow)
}

// Who asks for others is offered as a pattern what they asked for before, for the same person
// or for people beside them: of what they see the whole of, and nobody else is.
func TestPatterns(t *testing.T) {
	o := demotest.New(t)
	answers := coretest.Answers(map[string]any{"port": "maravel", "zones": []any{"quay"}, "from": "2099-01-05", "badge": []any{map[string]any{"item": "fob", "quantity": 1.0}}})
	sent := o.Send("quist", "quay-access-badge", answers, offering.Beneficiary{Person: demo.ID("adebayor")})
	for whom, want := range map[string]int{"adebayor": 1, "jokela-g": 1, "sorensen-koh": 0} { // the first two are of the same pier
		all, err := o.Asking.Patterns(ctx, demo.ID("quist"), "quay-access-badge", demo.ID(whom))
		require.NoError(t, err)
		require.Len(t, all, want, whom)
		if want > 0 {
			assert.Equal(t, sent.ID, all[0].State.ID)
			assert.Equal(t, answers, all[0].Answers)
		}
	}
	_, err := o.Asking.Patterns(ctx, demo.ID("quist"), "quay-access-badge", demo.ID("quist"))
	assert.ErrorIs(t, err, work.ErrNotFound, "of oneself there is the request itself")
	_, err = o.Asking.Patterns(ctx, demo.ID("sarmento"), "quay-access-badge", demo.ID("adebayor"))
	assert.ErrorIs(t, err, work.ErrNotFound, "who asks for nobody else")
	all, err := o.Asking.Patterns(ctx, demo.ID("abelsen"), "quay-access-badge", demo.ID("adebayor"))
	if err == nil {
		assert.Empty(t, all, "what one does not see is no pattern")
	}
}

// What cannot be sent stays on the slip with its reason, and nothing is sent twice.
func TestASlipOfWishes(t *testing.T) {
	o := demotest.New(t)
	sarmento := demo.ID("sarmento")
	put := func(key string, answers form.Answers) string {
		f, err := o.Asking.SaveDraft(ctx, sarmento, key, answers, offering.Beneficiary{})
		require.NoError(t, err)
		require.NoError(t, o.Asking.PutOnSlip(ctx, sarmento, key))
		return f.Draft
	}
	assert.ErrorIs(t, o.Asking.PutOnSlip(ctx, sarmento, "berth-side-parking"), work.ErrNotFound, "nothing was begun")
	first, second := put("berth-side-parking", demotest.Parking("open")), put("berth-side-parking", demotest.Parking("covered"))
	letter := put("proof-of-employment-letter", coretest.Answers(map[string]any{"purpose": "landlord", "pay": true, "language": "pt", "copies": 1.0}))
	assert.NotEqual(t, first, second, "two of the same")
	entries, err := o.Following.RequestsOf(ctx, sarmento, work.Mine{Page: store.Page{Limit: 50}})
	require.NoError(t, err)
	for _, e := range entries {
		assert.NotContains(t, []string{first, second, letter}, e.State.ID, "what is on the slip stands there alone")
	}
	_, err = o.Asking.SendSlip(ctx, sarmento, "  ")
	assert.Equal(t, refusal.NoName, codeOf(t, err))
	_, err = o.Asking.SendSlip(ctx, demo.ID("quist"), "Theirs")
	assert.Equal(t, refusal.SlipEmpty, codeOf(t, err), "of somebody else")
	assert.ErrorIs(t, o.Asking.TakeOffSlip(ctx, demo.ID("quist"), first), work.ErrNotFound)

	// One offering is ended meanwhile.
	service, _ := o.Company().Service("parking")
	_, err = o.Designing.End(ctx, service.Owner, "berth-side-parking", "")
	require.NoError(t, err)
	sent, err := o.Asking.SendSlip(ctx, sarmento, "Moving")
	require.NoError(t, err)
	require.Len(t, sent, 3)
	assert.Equal(t, []bool{true, true, false}, []bool{sent[0].Trouble != "", sent[1].Trouble != "", sent[2].Trouble != ""})
	assert.Equal(t, "Moving", sent[2].State.Together.Title)
	sent, err = o.Asking.SendSlip(ctx, sarmento, "Moving")
	require.NoError(t, err)
	require.Len(t, sent, 2, "what was sent is not on it any more")
	assert.NotEmpty(t, sent[0].Trouble)
	require.NoError(t, o.Asking.TakeOffSlip(ctx, sarmento, first))
	assert.Equal(t, refusal.OtherDraft, codeOf(t, o.Asking.TakeOffSlip(ctx, sarmento, second)))
}

// What colleagues ask for is put forward with how often, and one's own is no part of it; it is
// counted anew after ten minutes.
func TestPicksOfColleagues(t *testing.T) {
	o := demotest.New(t)
	picks := func(login string) map[string]string {
		all, err := o.Asking.Picks(ctx, demo.ID(login))
		require.NoError(t, err)
		reasons := map[string]string{}
		for _, p := range all {
			reasons[p.Offering] = p.Reason
		}
		return reasons
	}
	department := func(login string) string {
		p, _ := o.Company().Person(demo.ID(login))
		return p.Department
	}
	require.Equal(t, department("sarmento"), department("nordbotten"))
	const before = "Passenger Care asked for it 3 times in half a year."
	require.Equal(t, before, picks("nordbotten")["berth-side-parking"])
	o.Ask("sarmento", "open")
	assert.Equal(t, "You asked for it twice.", picks("sarmento")["berth-side-parking"], "what is one's own counts at once")
	assert.Equal(t, before, picks("nordbotten")["berth-side-parking"])
	o.Clock.Pass(11 * time.Minute)
	assert.Equal(t, "Passenger Care asked for it 4 times in half a year.", picks("nordbotten")["berth-side-parking"])
	o.Ask("nordbotten", "open")
	o.Clock.Pass(11 * time.Minute)
	assert.Equal(t, "You asked for it once.", picks("nordbotten")["berth-side-parking"])
}
