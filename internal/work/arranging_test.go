package work_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

// arranged is an office with an area that the owner of Crew owns.
func arranged(t *testing.T) (*demotest.Office, string) {
	o := demotest.New(t)
	crew, _ := o.Company().Service("crew")
	_, err := o.Arranging.SaveService(ctx, crew.Owner, people.Service{Name: "Uniforms", Area: "Aboard", Home: crew.Home, Text: "What one wears aboard."})
	require.NoError(t, err)
	return o, crew.Owner
}

// What is wrong with an area is said at its place, and changes nothing.
func TestAreas(t *testing.T) {
	o, owner := arranged(t)
	area, ok := o.Company().Area("Aboard")
	require.True(t, ok)
	assert.Equal(t, owner, area.Owner, "whoever makes its first service")
	for name, c := range map[string]struct {
		change func(a *people.Area)
		code   string
	}{
		"no name":            {func(a *people.Area) { a.Name = " " }, refusal.Needed},
		"the name of others": {func(a *people.Area) { a.Name = "facilities" }, refusal.NameTaken},
		"no such team":       {func(a *people.Area) { a.Home = "moon" }, refusal.UnknownTeam},
		"itself as editor":   {func(a *people.Area) { a.Editors = []string{owner} }, refusal.UnknownPerson},
		"no date":            {func(a *people.Area) { a.Review = "soon" }, refusal.BadDate},
		"no picture":         {func(a *people.Area) { a.Picture = "data:text/html,x" }, refusal.Emblem},
	} {
		a := area
		c.change(&a)
		assert.Equal(t, c.code, codeOf(t, o.Arranging.SaveArea(ctx, owner, "Aboard", a)), name)
	}
	for _, login := range []string{"lindskaug", "sarmento"} {
		assert.ErrorIs(t, o.Arranging.SaveArea(ctx, demo.ID(login), "Aboard", area), work.ErrNotFound, login)
	}
	kept, _ := o.Company().Area("Aboard")
	assert.Equal(t, area, kept)

	// Others who own a service make no new one in it.
	_, err := o.Arranging.SaveService(ctx, demo.ID("falkenau"), people.Service{Name: "Cabins", Area: "Aboard", Home: "premises-crew"})
	assert.Equal(t, refusal.NotYourArea, codeOf(t, err))
	area.Editors = []string{demo.ID("falkenau")}
	require.NoError(t, o.Arranging.SaveArea(ctx, owner, "Aboard", area))
	_, err = o.Arranging.SaveService(ctx, demo.ID("falkenau"), people.Service{Name: "Cabins", Area: "Aboard", Home: "premises-crew"})
	require.NoError(t, err)

	// What hangs on it moves with its name, and holds it.
	area.Name = "On board"
	require.NoError(t, o.Arranging.SaveArea(ctx, owner, "Aboard", area))
	h, err := o.Arranging.HangingOn(ctx, owner, "", "On board")
	require.NoError(t, err)
	assert.Len(t, h.Services, 2)
	assert.Equal(t, refusal.AreaUsed, codeOf(t, o.Arranging.DropArea(ctx, owner, "On board")))
	_, err = o.Arranging.HangingOn(ctx, demo.ID("sarmento"), "", "On board")
	assert.ErrorIs(t, err, work.ErrNotFound)
	assert.Equal(t, []audit.Act{audit.AreaSaved}, acts(t, o, "On board"))
}

// An area that has ended hides what stands in it; nothing of it is lost.
func TestAnAreaEnds(t *testing.T) {
	o := demotest.New(t)
	finds := func() bool {
		for _, at := range must(o.Arranging.ReachedBy(ctx, demo.ID("lindskaug"), demo.ID("sarmento")))(t) {
			if at.Offering == "berth-side-parking" {
				return at.Sees
			}
		}
		return false
	}
	require.True(t, finds())
	parking, _ := o.Company().Service("parking")
	does(t, o, intake.Areas, "name,owner,place\n"+parking.Area+",falkenau,ended\n", false)
	assert.False(t, finds())
	does(t, o, intake.Areas, "name,place\n"+parking.Area+",offered\n", false)
	assert.True(t, finds())
}

// What is wrong with a bundle is said; whom a change concerns is told.
func TestSavingABundle(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	crew, _ := o.Company().Bundle("ships-and-quays")
	for name, c := range map[string]struct {
		b    people.Bundle
		seen string
		code string
	}{
		"no letters":           {people.Bundle{Name: "?!"}, "", refusal.NoName},
		"a name that is taken": {people.Bundle{Name: "Ships and quays"}, "", refusal.NameTaken},
		"changed meanwhile":    {people.Bundle{Key: crew.Key, Name: crew.Name, Rule: `asker.grade == "5"`}, "another", refusal.BundleChanged},
		"no rule at all":       {people.Bundle{Key: crew.Key, Name: crew.Name, Rule: `asker.shoe == `}, crew.Rule, refusal.Unusable},
	} {
		_, err := o.Arranging.SaveBundle(ctx, admin, c.b, c.seen)
		assert.Equal(t, c.code, codeOf(t, err), name)
	}
	_, err := o.Arranging.SaveBundle(ctx, demo.ID("falkenau"), crew, crew.Rule)
	require.ErrorIs(t, err, work.ErrNotFound)
	assert.Equal(t, refusal.BundleUsed, codeOf(t, o.Arranging.DropBundle(ctx, admin, crew.Key)))

	post(t, o)
	before := len(o.Mail.Letters())
	crew.Text = "Another text"
	_, err = o.Arranging.SaveBundle(ctx, admin, crew, crew.Rule)
	require.NoError(t, err)
	post(t, o)
	assert.Len(t, o.Mail.Letters(), before, "nobody gains or loses by a text")
	seen := crew.Rule
	crew.Rule = `asker.department == "Fleet"`
	_, err = o.Arranging.SaveBundle(ctx, admin, crew, seen)
	require.NoError(t, err)
	post(t, o)
	letters := o.Mail.Letters()
	require.Len(t, letters, before+1)
	assert.Contains(t, letters[0].Text, "Bridge tablet: the bundle Ships and quays was changed. From now on ")
	assert.Contains(t, letters[0].To[0], "mbeki-roy@")
	assert.Equal(t, []audit.Act{audit.BundleSaved, audit.BundleSaved}, acts(t, o, crew.Key))
}

// The owner is told once when the day of review has come, and again for another day.
func TestReviews(t *testing.T) {
	o, owner := arranged(t)
	s, _ := o.Company().Service("uniforms")
	p, _ := o.Company().Person(owner)
	told := func() (n int) {
		post(t, o)
		for _, l := range lettersTo(o, p.Login) {
			n += strings.Count(l.Text, "The day has come to look at the service Uniforms again")
		}
		return n
	}
	set := func(day string) {
		s.Review = day
		_, err := o.Arranging.SaveService(ctx, owner, s)
		require.NoError(t, err)
	}
	set(o.Clock.Now().AddDate(0, 0, 2).Format(time.DateOnly))
	assert.Zero(t, told())
	o.Clock.Pass(49 * time.Hour)
	for range 3 {
		assert.Equal(t, 1, told())
	}
	s.Text = "Another text"
	set(s.Review)
	assert.Equal(t, 1, told(), "the company has changed, and the day has not")
	set(o.Clock.Now().AddDate(0, 0, -1).Format(time.DateOnly))
	assert.Equal(t, 2, told())
}

// Thirty days before the last promise of an offering ends its owner is told, once; a day of
// review is told to who answers for the promise.
func TestPromisesEnd(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	opened, err := o.Designing.OpenDraft(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	document := opened.Document
	day := func(days int) string { return o.Clock.Now().AddDate(0, 0, days).Format(time.DateOnly) }
	for i := range document.Promise.Targets {
		document.Promise.Targets[i].ValidUntil = day(40)
	}
	document.Promise.Targets[0].Review, document.Promise.Targets[0].Owner = day(5), "abelsen"
	saved, err := o.Designing.SaveOffering(ctx, owner, document.Key, document, opened.Revision)
	require.NoError(t, err)
	var accepted []string
	for _, f := range saved.Findings {
		accepted = append(accepted, f.Name())
	}
	_, err = o.Designing.Publish(ctx, owner, document.Key, work.Publishing{Revision: saved.Revision, Accepted: accepted})
	require.NoError(t, err)
	told := func(login, words string) (n int) {
		post(t, o)
		for _, l := range lettersTo(o, login) {
			n += strings.Count(l.Text, words)
		}
		return n
	}
	const ends = "Nothing is promised of Berth-side parking any more after "
	assert.Zero(t, told("falkenau", ends))
	o.Clock.Pass(6 * 24 * time.Hour)
	assert.Equal(t, 1, told("abelsen", "The day has come to look at the promise Usual of Berth-side parking again"))
	o.Clock.Pass(5 * 24 * time.Hour)
	for range 3 {
		assert.Equal(t, 1, told("falkenau", ends))
	}
}
