package work_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/starter"
	"heptad/internal/store"
	"heptad/internal/work"
)

// release has a later program bring other words for a letter, and one more task.
func release(text, task string) func(key string) (offering.Document, bool) {
	return func(key string) (offering.Document, bool) {
		d, ok := starter.Find(key)
		if key == "letter" {
			d.Purpose.Text = text
			d.Plan = append([]plan.Task{}, d.Plan...)
			more := d.Plan[0]
			more.Key, more.Name, more.Team, more.After = task, strings.ToUpper(task), "", nil
			d.Plan = append(d.Plan, more)
		}
		return d, ok
	}
}

// taken is a letter that was taken from the starter set, and published.
func taken(t *testing.T, o *demotest.Office, name string) work.Opened {
	t.Helper()
	owner := demo.ID("brandao")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "papers", Name: name, Starter: "letter"})
	require.NoError(t, err)
	var accepted []string
	for _, f := range opened.Findings {
		accepted = append(accepted, f.Name())
	}
	opened, err = o.Designing.Publish(ctx, owner, opened.Document.Key, work.Publishing{Revision: opened.Revision, Accepted: accepted})
	require.NoError(t, err)
	return opened
}

func told(t *testing.T, o *demotest.Office, login, words string) int {
	t.Helper()
	all, err := o.Messaging.Messages(ctx, demo.ID(login), false, store.Page{Limit: 100})
	require.NoError(t, err)
	n := 0
	for _, m := range all {
		if strings.Contains(m.Body, words) {
			n++
		}
	}
	return n
}

// A new release changes what is as supplied, leaves what was changed and shows the
// difference, and does either once.
func TestANewRelease(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("brandao")
	same, other := taken(t, o, "Plain letter"), taken(t, o, "Our letter")
	assert.Equal(t, work.AsSupplied, same.News.Origin)

	d := other.Document
	d.Purpose.Text = "A letter in our words."
	d.Plan[0].Team = "payroll"
	other, err := o.Designing.SaveOffering(ctx, owner, d.Key, d, other.Revision)
	require.NoError(t, err)
	assert.Equal(t, work.Changed, other.News.Origin)
	assert.Empty(t, other.News.Changes, "the program brings nothing new")
	require.NoError(t, o.Designing.Renew(ctx))
	assert.Zero(t, told(t, o, "brandao", "came with Heptad"), "the same program changes nothing")

	o.Starters = release("A letter as it is written now.", "archive")
	for range 2 {
		require.NoError(t, o.Designing.Renew(ctx))
	}
	assert.Equal(t, 1, told(t, o, "brandao", "Plain letter is as it came with Heptad"))
	assert.Equal(t, 1, told(t, o, "brandao", "Our letter came with Heptad"))
	same, err = o.Designing.OpenDraft(ctx, owner, same.Document.Key)
	require.NoError(t, err)
	assert.Equal(t, 2, same.Current)
	assert.Equal(t, "A letter as it is written now.", same.Document.Purpose.Text)
	assert.Equal(t, "Plain letter", same.Document.Purpose.Name)
	assert.Equal(t, work.AsSupplied, same.News.Origin)
	home, _ := o.Company().Service("papers")
	assert.Equal(t, home.Home, same.Document.Plan[len(same.Document.Plan)-1].Team, "a new task begins with the home team")

	other, err = o.Designing.OpenDraft(ctx, owner, other.Document.Key)
	require.NoError(t, err)
	assert.Equal(t, "A letter in our words.", other.Document.Purpose.Text)
	assert.Equal(t, work.Changed, other.News.Origin)
	assert.NotEmpty(t, other.News.Changes)
	origins, newer, err := o.Designing.Origins(ctx, []string{"plain-letter", "our-letter", "quay-access-badge"})
	require.NoError(t, err)
	assert.Equal(t, map[string]work.Origin{"plain-letter": work.AsSupplied, "our-letter": work.Changed}, origins)
	assert.Equal(t, map[string]bool{"plain-letter": false, "our-letter": true}, newer)

	_, err = o.Designing.TakeNews(ctx, demo.ID("falkenau"), "our-letter", other.Revision, true)
	require.ErrorIs(t, err, work.ErrNotFound)
	_, err = o.Designing.TakeNews(ctx, owner, "our-letter", other.Revision-1, true)
	refused(t, err, refusal.DraftChanged)
	conflicts, err := o.Designing.TakeNews(ctx, owner, "our-letter", other.Revision, true)
	require.NoError(t, err)
	assert.Equal(t, []string{"/purpose/text"}, conflicts, "both changed it: what was written here counts")
	other, err = o.Designing.OpenDraft(ctx, owner, "our-letter")
	require.NoError(t, err)
	assert.Equal(t, "A letter in our words.", other.Document.Purpose.Text)
	assert.Equal(t, "archive", other.Document.Plan[len(other.Document.Plan)-1].Key)
	assert.Equal(t, "payroll", other.Document.Plan[0].Team)
	assert.Empty(t, other.News.Changes)

	o.Starters = release("Once more.", "archive")
	require.NoError(t, o.Designing.Renew(ctx))
	other, _ = o.Designing.OpenDraft(ctx, owner, "our-letter")
	_, err = o.Designing.TakeNews(ctx, owner, "our-letter", other.Revision, false)
	require.NoError(t, err)
	after, err := o.Designing.OpenDraft(ctx, owner, "our-letter")
	require.NoError(t, err)
	assert.Equal(t, other.Document, after.Document, "it was left")
	assert.Empty(t, after.News.Changes)
}

// Where a second yes is needed the new one waits as a draft; one that nobody offers yet
// changes as it stands; one's own is never touched.
func TestANewReleaseAsksForTheSecondYes(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("brandao")
	letter := taken(t, o, "Plain letter")
	draft, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "papers", Name: "Begun letter", Starter: "letter"})
	require.NoError(t, err)
	area, _ := o.Company().Area("HR")
	area.Second, area.Editors = true, []string{demo.ID("falkenau")}
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddCompany(people.Records{Areas: []people.Area{area}}) }))
	require.NoError(t, o.ReadCompany(ctx))
	o.Starters = release("Another.", "archive")
	require.NoError(t, o.Designing.Renew(ctx))
	letter, err = o.Designing.OpenDraft(ctx, owner, letter.Document.Key)
	require.NoError(t, err)
	assert.Equal(t, 1, letter.Current)
	assert.Equal(t, store.Draft, letter.State)
	assert.Equal(t, "Another.", letter.Document.Purpose.Text)
	assert.Equal(t, 1, told(t, o, "brandao", "it waits as a draft"))
	draft, err = o.Designing.OpenDraft(ctx, owner, draft.Document.Key)
	require.NoError(t, err)
	assert.Equal(t, "Another.", draft.Document.Purpose.Text)
	assert.Equal(t, 0, draft.Current)
	own, err := o.Designing.OpenDraft(ctx, owner, "proof-of-employment-letter")
	require.NoError(t, err)
	assert.Equal(t, work.Own, own.News.Origin)
}

// A text of one's own stays, and it is told when the program has other words since.
func TestATextOfOnesOwn(t *testing.T) {
	o := demotest.New(t)
	usual := message.Usual()[0]
	require.NoError(t, o.Messaging.SetText(ctx, demo.ID("lindskaug"), message.Text{Kind: usual.Kind, Subject: "Ours", Body: "Ours."}))
	supplied, renewed, err := o.Messaging.SuppliedTexts(ctx)
	require.NoError(t, err)
	assert.Equal(t, map[message.Kind]message.Text{usual.Kind: usual}, supplied)
	assert.False(t, renewed[usual.Kind])
	before := usual
	before.Body = "As an earlier program had it."
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.SetText(message.Text{Kind: usual.Kind, Subject: "Ours", Body: "Ours."}, before, demo.ID("lindskaug"), o.Clock.Now())
	}))
	_, renewed, err = o.Messaging.SuppliedTexts(ctx)
	require.NoError(t, err)
	assert.True(t, renewed[usual.Kind])
}
