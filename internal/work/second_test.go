package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

// An owner makes a service with a second editor; publishing needs the yes of the other, to
// one revision, and each later change needs it anew.
func TestASecondYes(t *testing.T) {
	o := demotest.New(t)
	owner, editor := demo.ID("falkenau"), demo.ID("yilmazer")
	for code, s := range map[string]people.Service{
		refusal.Needed: {Area: "Harbour", Home: "premises-crew"}, refusal.UnknownTeam: {Name: "Quays", Area: "Harbour", Home: "none"},
		refusal.NoSecond: {Name: "Quays", Area: "Harbour", Home: "premises-crew", Second: true}, refusal.UnknownPerson: {Name: "Quays", Area: "Harbour", Home: "premises-crew", Editors: []string{owner}},
		refusal.BadDate: {Name: "Quays", Area: "Harbour", Home: "premises-crew", Review: "soon"}, refusal.Emblem: {Name: "Quays", Area: "Harbour", Home: "premises-crew", Picture: "https://elsewhere.example/x.png"},
		refusal.NameTaken: {Name: "Parking", Area: "Harbour", Home: "premises-crew"},
	} {
		_, err := o.Arranging.SaveService(ctx, owner, s)
		assert.Equal(t, code, codeOf(t, err), "%+v", s)
	}
	_, err := o.Arranging.SaveService(ctx, editor, people.Service{Name: "Quays", Area: "Harbour", Home: "premises-crew"})
	assert.ErrorIs(t, err, work.ErrNotFound, "who owns nothing makes none")
	s, err := o.Arranging.SaveService(ctx, owner, people.Service{Name: "Quays", Area: "Harbour", Home: "premises-crew", Editors: []string{editor}, Second: true, Words: "berth, bollard"})
	require.NoError(t, err)
	assert.Equal(t, "quays", s.Key)
	kept, _ := o.Company().Service("quays")
	assert.Equal(t, owner, kept.Owner)
	assert.Contains(t, o.RolesOf(editor), "editor")

	opened, err := o.Designing.Create(ctx, editor, work.Beginning{Service: "quays", Name: "Bollard", Starter: "letter"})
	require.NoError(t, err)
	publish := func(who string) work.Opened {
		opened, err := o.Designing.Publish(ctx, who, "bollard", work.Publishing{Revision: opened.Revision})
		require.NoError(t, err)
		return opened
	}
	yes := func(who string, revision int, yes bool) string {
		_, err := o.Designing.SecondYes(ctx, who, "bollard", revision, yes)
		return codeOf(t, err)
	}
	assert.Equal(t, refusal.NotAsked, yes(owner, opened.Revision, true))
	asked := publish(editor)
	assert.Zero(t, asked.Current, "it waits")
	require.NotNil(t, asked.Asked)
	post(t, o)
	assert.Contains(t, lettersTo(o, "falkenau")[0].Subject, "Bollard waits for your yes")
	assert.Empty(t, lettersTo(o, "yilmazer"))
	assert.Equal(t, refusal.OwnYes, yes(editor, opened.Revision, true))
	assert.ErrorIs(t, func() error {
		_, err := o.Designing.SecondYes(ctx, demo.ID("quist"), "bollard", opened.Revision, true)
		return err
	}(), work.ErrNotFound)

	// What is changed meanwhile has to be asked for anew.
	d := opened.Document
	d.Purpose.Text = "A thing to tie a ship to."
	opened, err = o.Designing.SaveOffering(ctx, editor, "bollard", d, opened.Revision)
	require.NoError(t, err)
	assert.Nil(t, opened.Asked)
	assert.Equal(t, refusal.NotAsked, yes(owner, opened.Revision, true))
	publish(editor)
	assert.Empty(t, yes(owner, opened.Revision, false), "sent back")
	assert.Equal(t, refusal.NotAsked, yes(owner, opened.Revision, true))
	publish(editor)
	assert.Empty(t, yes(owner, opened.Revision, true))
	current, err := o.Designing.OpenDraft(ctx, owner, "bollard")
	require.NoError(t, err)
	assert.Equal(t, 1, current.Current)

	// A later change needs it anew, also when it takes the offering to a service that
	// asks for none.
	d.Purpose.Service = "parking"
	opened, err = o.Designing.SaveOffering(ctx, owner, "bollard", d, current.Revision)
	require.NoError(t, err)
	moved := publish(owner)
	assert.NotNil(t, moved.Asked)
	assert.Equal(t, 1, moved.Current)
	assert.Equal(t, []audit.Act{audit.PublishingAsked, audit.PublishingAsked, audit.PublishingRefused, audit.PublishingAsked, audit.Published, audit.PublishingAsked}, acts(t, o, "bollard"))
	assert.False(t, o.Viewer(editor, o.Ask("sarmento", "covered")).Any(), "an editor sees no request")
}
