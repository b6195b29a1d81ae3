package work_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/refusal"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// parked is a rehearsal of the parking: a covered place needs the line manager's yes.
func parked() script.Script {
	return script.Script{Format: script.Format, Asker: script.Who{Login: "sarmento"}, Send: demotest.Start, Answers: demotest.Parking("covered")}
}

// A rehearsal reaches nothing that is live, and shows nothing to who does not design it.
func TestARehearsalTouchesNothing(t *testing.T) {
	o := demotest.New(t)
	before := o.Store.LastEvent()
	badges := len(o.Badges.List())
	life, err := o.Rehearsing.Rehearse(ctx, demo.ID("falkenau"), "berth-side-parking", parked())
	require.NoError(t, err)
	assert.Equal(t, rehearse.Closed, life.End)
	assert.NotEmpty(t, life.Messages)
	assert.Equal(t, before, o.Store.LastEvent())
	assert.Len(t, o.Badges.List(), badges)
	_, err = o.Rehearsing.Rehearse(ctx, demo.ID("okonjo"), "berth-side-parking", parked())
	require.ErrorIs(t, err, store.ErrNotFound)
	wrong := parked()
	wrong.Script = []script.Line{{At: demotest.Start, Who: "nobody", Do: script.Approve}}
	_, err = o.Rehearsing.Rehearse(ctx, demo.ID("falkenau"), "berth-side-parking", wrong)
	refused(t, err, refusal.Script)
	r, _ := request.AsRefusal(err)
	assert.Equal(t, "/script/script/0", r.Place)
}

// A rehearsal that is kept guards the draft: publishing runs it, before the second yes and at
// its time, and a change that breaks it stops that.
func TestCasesGuardPublishing(t *testing.T) {
	o := demotest.New(t)
	owner, key := demo.ID("falkenau"), "berth-side-parking"
	opened, err := o.Designing.OpenDraft(ctx, owner, key)
	require.NoError(t, err)
	kept, err := o.Rehearsing.Keep(ctx, owner, key, parked())
	require.NoError(t, err)
	d := opened.Document
	d.Cases = []script.Case{{Name: "Covered", Script: kept.Script, Expect: rehearse.Expecting(kept.Seen)}}
	opened, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	tried, err := o.Rehearsing.Cases(ctx, owner, key)
	require.NoError(t, err)
	require.Len(t, tried, 1)
	assert.True(t, tried[0].Passed, "%v %s", tried[0].Different, tried[0].Trouble)

	d.Items.List[1].Price.Amount = "99.00"
	d.Ladder = nil
	opened, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	publish := func(at time.Time) error {
		now, err := o.Designing.OpenDraft(ctx, owner, key)
		require.NoError(t, err)
		var names []string
		for _, f := range now.Findings {
			names = append(names, f.Name())
		}
		_, err = o.Designing.Publish(ctx, owner, key, work.Publishing{Revision: now.Revision, Accepted: names, At: at})
		return err
	}
	err = publish(time.Time{})
	refused(t, err, refusal.CaseFails)
	r, _ := request.AsRefusal(err)
	require.Len(t, r.Details, 1)
	assert.Contains(t, r.Details[0].Sentence, `The case "Covered" fails`)
	assert.Equal(t, "/document/cases/0", r.Details[0].Place)
	require.Error(t, publish(o.Clock.Now().Add(time.Hour)), "nor for later")

	tried, err = o.Rehearsing.Cases(ctx, owner, key)
	require.NoError(t, err)
	var all []string
	for _, different := range tried[0].Different {
		all = append(all, different.Place)
	}
	d.Cases[0].Expect, err = o.Rehearsing.Right(ctx, owner, key, 0, all)
	require.NoError(t, err)
	opened, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	require.NoError(t, publish(o.Clock.Now().Add(time.Hour)), "what is other is right so")
}

// Today's company gives hints only, as the case never reads it.
func TestACaseOnTodaysCompany(t *testing.T) {
	o := demotest.New(t)
	owner, key := demo.ID("falkenau"), "berth-side-parking"
	tried, err := o.Rehearsing.Today(ctx, owner, key, 0)
	require.NoError(t, err)
	assert.Empty(t, tried.Trouble)
	_, err = o.Rehearsing.Today(ctx, owner, key, 99)
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = o.Rehearsing.Today(ctx, demo.ID("okonjo"), key, 0)
	require.ErrorIs(t, err, store.ErrNotFound)
}

// Past requests are put through a draft in the background: it says of which draft, is old
// once that is another, can be stopped and forgotten, and is none of others' business.
func TestReplayInTheBackground(t *testing.T) {
	o := demotest.New(t)
	owner, key := demo.ID("falkenau"), "berth-side-parking"
	sent := o.Ask("castelo", "open")
	o.Ask("sarmento", "covered")
	opened, err := o.Designing.OpenDraft(ctx, owner, key)
	require.NoError(t, err)
	d := opened.Document
	d.Questions = append(d.Questions, form.Question{Key: "colour", Kind: form.Text, Label: "Colour", Require: "true"})
	d.Cases = nil
	opened, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	asked := work.ReplayAsked{From: o.Clock.Now().AddDate(-1, 0, 0), Until: o.Clock.Now().AddDate(0, 0, 1)}
	begin := func(asked work.ReplayAsked) work.Studied {
		id, err := o.Rehearsing.Replay(ctx, owner, key, asked)
		require.NoError(t, err)
		var s work.Studied
		require.Eventually(t, func() bool {
			s, err = o.Rehearsing.Study(ctx, owner, key, id)
			return err == nil && s.State != store.StudyRunning
		}, 30*time.Second, 10*time.Millisecond)
		return s
	}
	s := begin(asked)
	assert.Equal(t, store.StudyDone, s.State)
	assert.False(t, s.Old)
	assert.Contains(t, string(s.Result), `"Colour: an answer is needed."`)
	assert.Contains(t, string(s.Result), sent.Reference)
	asked.LeaveOut = true
	assert.Contains(t, string(begin(asked).Result), `"changed":0`)

	d.Questions[len(d.Questions)-1].Require = ""
	_, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	again, err := o.Rehearsing.Study(ctx, owner, key, s.ID)
	require.NoError(t, err)
	assert.True(t, again.Old, "the draft is another now")

	_, err = o.Rehearsing.Study(ctx, demo.ID("okonjo"), key, s.ID)
	require.ErrorIs(t, err, store.ErrNotFound)
	_, err = o.Rehearsing.Study(ctx, owner, "quay-access-badge", s.ID)
	require.ErrorIs(t, err, store.ErrNotFound)
	require.NoError(t, o.Rehearsing.StopStudy(ctx, owner, key, s.ID))
	_, err = o.Rehearsing.Study(ctx, owner, key, s.ID)
	require.ErrorIs(t, err, store.ErrNotFound, "it is forgotten")
}

// What is proposed for a draft holds as it is kept.
func TestProposedCasesHold(t *testing.T) {
	o := demotest.New(t)
	found, err := o.Rehearsing.Propose(ctx, demo.ID("falkenau"), "quay-access-badge")
	require.NoError(t, err)
	require.NotEmpty(t, found.Cases)
	opened, err := o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "quay-access-badge")
	require.NoError(t, err)
	for _, c := range found.Cases {
		tried := rehearse.Try(opened.Document, c.Case, nil, o.Connectors())
		assert.True(t, tried.Passed, "%s %v", tried.Words(), tried.Different)
		assert.NotEmpty(t, c.Reaches)
	}
}
