package work_test

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

var ctx = context.Background()

func refused(t *testing.T, err error, code string) {
	t.Helper()
	r, ok := request.AsRefusal(err)
	if assert.True(t, ok, "%v", err) {
		assert.Equal(t, code, r.Code)
	}
}

func done(o *demotest.Office, id string) {
	o.Must("coutinho", id, request.Take{Task: "mark"}, request.Complete{Task: "mark"})
	o.Must("marrec", id, request.Take{Task: "check"}, request.Complete{Task: "check"})
}

// runAll lets everything happen that falls due within a time.
func runAll(t *testing.T, o *demotest.Office, within time.Duration) {
	t.Helper()
	for range 100 {
		n, err := o.Running.RunDue(ctx)
		require.NoError(t, err)
		due, err := o.Store.NextDue(ctx)
		if errors.Is(err, store.ErrNotFound) || due.After(o.Clock.Now().Add(within)) {
			return
		}
		require.NoError(t, err)
		if n == 0 {
			o.Clock.Pass(due.Sub(o.Clock.Now()))
		}
	}
	require.Fail(t, "there is no end of it")
}

func TestAnAutomaticTaskIsRefusedTriedAgainAndDoneOnce(t *testing.T) {
	o := demotest.New(t)
	before := len(o.Badges.List())
	id := o.Ask("castelo", "open").ID
	done(o, id)
	n, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	task, _ := state.Task("barrier")
	assert.Equal(t, plan.Ready, task.State)
	assert.Contains(t, task.Trouble, "warming up")
	n, err = o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "not before its time")

	runAll(t, o, time.Hour)
	state, err = o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Delivered, state.Status)
	task, _ = state.Task("barrier")
	assert.Equal(t, o.Badges.List()[id+"/barrier"].Number, task.Outputs["number"])
	assert.Len(t, o.Badges.List(), before+1)
}

// The process dies after the badge system did the work and before that was
// reported: at the next start the work is found done, not done twice.
func TestACrashBeforeTheReportDoublesNothing(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("castelo", "open").ID
	done(o, id)
	_, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	o.Clock.Pass(time.Minute)
	before := len(o.Badges.List())
	dying, kill := context.WithCancel(ctx)
	leased, _, err := o.Store.LeaseDue(dying, "badges", o.Clock.Now(), 8)
	require.NoError(t, err)
	require.Len(t, leased, 1)
	kill() // nothing is reported

	n, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, n, "what runs is not run again beside it")
	require.NoError(t, o.Store.ReleaseRunning(ctx))
	runAll(t, o, time.Hour)
	assert.Len(t, o.Badges.List(), before+1)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Delivered, state.Status)
}

func TestSilenceClosesAtItsTime(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("castelo", "open").ID
	done(o, id)
	runAll(t, o, time.Hour)
	o.Clock.Pass(6 * 24 * time.Hour)
	runAll(t, o, time.Hour)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Delivered, state.Status, "five working days from Thursday are not over on Wednesday")
	o.Clock.Pass(26 * time.Hour)
	runAll(t, o, time.Hour)
	state, err = o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Closed, state.Status)
	assert.Equal(t, request.Fulfilled, state.Outcome)
}

func TestTwoTakeATaskAtTheSameMoment(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("castelo", "open").ID
	var all sync.WaitGroup
	errs := make([]error, 2)
	for i, login := range []string{"marrec", "ekvall"} {
		all.Go(func() { _, errs[i] = o.Do(ctx, demo.ID(login), id, request.Take{Task: "check"}) })
	}
	all.Wait()
	if errs[0] == nil {
		errs[0], errs[1] = errs[1], errs[0]
	}
	refused(t, errs[0], refusal.Taken)
	assert.NoError(t, errs[1])
}

func TestADoubleClickSendsOnce(t *testing.T) {
	o := demotest.New(t)
	f, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	var all sync.WaitGroup
	errs := make([]error, 4)
	for i := range errs {
		all.Go(func() {
			_, errs[i] = o.Asking.Submit(ctx, demo.ID("castelo"), f.Draft, request.Submit{Answers: f.Answers})
		})
	}
	all.Wait()
	sent := 0
	for _, err := range errs {
		if err == nil {
			sent++
		} else {
			refused(t, err, refusal.AlreadySent)
		}
	}
	assert.Equal(t, 1, sent)
}

func TestReferencesHaveNoGaps(t *testing.T) {
	o := demotest.New(t)
	first := o.Ask("castelo", "open").Reference
	f, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", form.Answers{}, offering.Beneficiary{})
	require.NoError(t, err)
	_, err = o.Asking.Submit(ctx, demo.ID("castelo"), f.Draft, request.Submit{Answers: form.Answers{}})
	refused(t, err, refusal.Incomplete)
	assert.Equal(t, "QS-10419-A", first)
	assert.Equal(t, "QS-10420-B", o.Ask("castelo", "open").Reference)
}

func TestADraftIsKeptAndItsOwnersAlone(t *testing.T) {
	o := demotest.New(t)
	typed := coretest.Answers(map[string]any{"plate": "half a pl", "nonsense": []any{1.0}})
	f, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", typed, offering.Beneficiary{})
	require.NoError(t, err)
	again, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", typed, offering.Beneficiary{})
	require.NoError(t, err)
	assert.Equal(t, f.Draft, again.Draft, "one draft for a person and an offering")
	opened, err := o.Asking.OpenForm(ctx, demo.ID("castelo"), "berth-side-parking", nil)
	require.NoError(t, err)
	assert.Equal(t, typed, opened.Answers, "as it was typed, however wrong")
	_, err = o.Do(ctx, demo.ID("falkenau"), f.Draft, request.Discard{})
	assert.ErrorIs(t, err, work.ErrNotFound, "not even the owner of the service sees it")
	o.Must("castelo", f.Draft, request.Discard{})
	opened, err = o.Asking.OpenForm(ctx, demo.ID("castelo"), "berth-side-parking", nil)
	require.NoError(t, err)
	assert.Empty(t, opened.Draft)
	assert.Empty(t, opened.Answers)
}

func TestTheFormForeseesWhoDecides(t *testing.T) {
	o := demotest.New(t)
	for place, want := range map[string]int{"open": 0, "covered": 1} {
		f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "berth-side-parking", demotest.Parking(place), offering.Beneficiary{})
		require.NoError(t, err)
		require.Len(t, f.Evaluated.Decisions, want)
		if want == 1 {
			assert.Equal(t, demo.ID("quist"), f.Evaluated.Decisions[0].Seats[0].Person)
		}
	}
}

func TestDesigning(t *testing.T) {
	o := demotest.New(t)
	owner, other := demo.ID("falkenau"), demo.ID("brandao")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "access", Name: "Übergabe der Schlüssel!"})
	require.NoError(t, err)
	assert.Equal(t, "ubergabe-der-schlussel", opened.Document.Key)
	second, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "access", Name: "übergabe der schlüssel"})
	require.NoError(t, err)
	assert.Equal(t, "ubergabe-der-schlussel-2", second.Document.Key)
	_, err = o.Designing.Create(ctx, owner, work.Beginning{Service: "access", Name: "!!"})
	refused(t, err, refusal.NoName)
	_, err = o.Designing.Create(ctx, other, work.Beginning{Service: "access", Name: "Mine"})
	assert.ErrorIs(t, err, work.ErrNotFound)

	key, d := opened.Document.Key, opened.Document
	_, err = o.Designing.OpenDraft(ctx, other, key)
	assert.ErrorIs(t, err, work.ErrNotFound)
	_, err = o.Designing.Publish(ctx, owner, key, work.Publishing{Revision: opened.Revision})
	refused(t, err, refusal.Unready)

	d.Purpose.Text = "The keys of a flat."
	*d.Audience.Everyone = true
	d.Plan = []plan.Task{{Key: "hand", Name: "Hand over", Kind: plan.Manual, Team: "keys-badges"}}
	d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "5d"}}
	saved, err := o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	require.NoError(t, err)
	_, err = o.Designing.SaveOffering(ctx, owner, key, d, opened.Revision)
	refused(t, err, refusal.DraftChanged)
	d.Purpose.Service = "papers"
	_, err = o.Designing.SaveOffering(ctx, owner, key, d, saved.Revision)
	refused(t, err, refusal.NotYourService)
	d.Purpose.Service, d.Key = "access", "other"
	_, err = o.Designing.SaveOffering(ctx, owner, key, d, saved.Revision)
	refused(t, err, refusal.KeyChanged)

	found := func() int {
		looked, err := o.Asking.Search(ctx, demo.ID("sarmento"), "schlüs")
		require.NoError(t, err)
		return len(looked.Results)
	}
	assert.Zero(t, found(), "nobody sees a draft")
	_, err = o.Designing.Publish(ctx, owner, key, work.Publishing{Revision: saved.Revision})
	refused(t, err, refusal.Unready) // the warning that it has no keywords is not accepted
	published, err := o.Designing.Publish(ctx, owner, key, work.Publishing{Revision: saved.Revision, Accepted: []string{"noKeywords /purpose/keywords"}})
	require.NoError(t, err)
	assert.Equal(t, []store.Accepted{{Name: "noKeywords /purpose/keywords", Person: owner, At: o.Clock.Now().UTC()}}, published.Accepted)
	assert.Equal(t, store.Current, published.State)
	assert.Equal(t, 1, found())
	_, err = o.Designing.Publish(ctx, owner, key, work.Publishing{Revision: published.Revision})
	refused(t, err, refusal.NoDraft)
}

// A request keeps the version it was sent with; a draft takes the new one, but
// not without its asker seeing it.
func TestANewVersion(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	running := o.Ask("castelo", "open").ID
	f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	opened, err := o.Designing.OpenDraft(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Plan, d.Cases = d.Plan[:1], nil
	d.Items.List[0].Price.Amount = "19.00"
	saved, err := o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	assert.Equal(t, 2, saved.Number)
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: saved.Revision})
	require.NoError(t, err)

	done(o, running)
	_, err = o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: f.Answers, Slip: f.Evaluated.Slip})
	refused(t, err, refusal.SlipChanged)
	again, err := o.Asking.OpenForm(ctx, demo.ID("sarmento"), d.Key, nil)
	require.NoError(t, err)
	assert.Equal(t, "19.00", again.Evaluated.Price.Monthly.Decimal())
	state, err := o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: f.Answers, Slip: again.Evaluated.Slip})
	require.NoError(t, err)
	assert.Len(t, state.Tasks, 1)
}

func must[T any](v T, err error) func(*testing.T) T {
	return func(t *testing.T) T {
		require.NoError(t, err)
		return v
	}
}

// Ended offerings name what takes their place, drafts publish themselves at
// their time, and one that is not ready any more says why.
func TestEndingAndPublishingAtATime(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "parking", Name: "Parking by the hour", Copy: "berth-side-parking"})
	require.NoError(t, err)
	d := opened.Document
	assert.Equal(t, "parking-by-the-hour", d.Key)
	d.Purpose.Replaces = []string{"berth-side-parking"}
	saved, err := o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	at := o.Clock.Now().Add(48 * time.Hour)
	waiting, err := o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: saved.Revision, At: at})
	require.NoError(t, err)
	assert.Equal(t, store.Draft, waiting.State)
	assert.Equal(t, at.UTC(), waiting.PublishAt)
	next, err := o.Store.NextDue(ctx)
	require.NoError(t, err)
	assert.False(t, next.After(at))

	o.Clock.Pass(49 * time.Hour)
	_, err = o.Running.RunDue(ctx)
	require.NoError(t, err)
	_, err = o.Asking.OpenForm(ctx, demo.ID("sarmento"), d.Key, nil)
	require.NoError(t, err)
	_, err = o.Asking.OpenForm(ctx, demo.ID("sarmento"), "berth-side-parking", nil)
	assert.ErrorIs(t, err, work.ErrNotFound)
	successor, err := o.Asking.Successor(ctx, demo.ID("sarmento"), "berth-side-parking")
	require.NoError(t, err)
	assert.Equal(t, d.Key, successor.Offering)

	_, err = o.Designing.Revive(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	_, err = o.Asking.OpenForm(ctx, demo.ID("sarmento"), "berth-side-parking", nil)
	require.NoError(t, err)
	_, err = o.Designing.End(ctx, owner, "berth-side-parking", "nothing")
	refused(t, err, refusal.NoSuccessor)
	_, err = o.Designing.End(ctx, owner, "berth-side-parking", "")
	require.NoError(t, err)
	_, err = o.Designing.End(ctx, owner, "berth-side-parking", "")
	refused(t, err, refusal.NotOffered)
}

// What a person has, what fits whom: asking for others and for newcomers.
func TestForWhom(t *testing.T) {
	o := demotest.New(t)
	answers := coretest.Answers(map[string]any{"port": "maravel", "from": "2099-01-05", "zones": []string{"offices"}})
	f, err := o.Asking.SaveDraft(ctx, demo.ID("quist"), "quay-access-badge", answers, offering.Beneficiary{Person: demo.ID("sarmento")})
	require.NoError(t, err)
	assert.Empty(t, f.Evaluated.Trouble)
	assert.Equal(t, "own-1001", f.Belongings[0].ID, "what the beneficiary has")
	state, err := o.Asking.Submit(ctx, demo.ID("quist"), f.Draft, request.Submit{Answers: answers, For: f.For, Slip: f.Evaluated.Slip})
	require.NoError(t, err)
	assert.Equal(t, "Quay badge for Davi Sarmento, Maravel", state.Title)
	assert.Equal(t, demo.ID("vidigal"), state.Rungs[0].Seats[0].Person, "the asker's manager, as the asker's own")

	f, err = o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "quay-access-badge", answers, offering.Beneficiary{Person: demo.ID("quist")})
	require.NoError(t, err)
	assert.Contains(t, f.Evaluated.Trouble, "does not fit")
	_, err = o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: answers, For: f.For})
	refused(t, err, refusal.NotFor)
	_, err = o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: answers, For: offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Nobody Yet"}}})
	refused(t, err, refusal.NotFor)
}

// Files: by content and size, only on one's own draft, and only to those who
// may see the answer.
func TestFiles(t *testing.T) {
	o := demotest.New(t)
	png := "\x89PNG\r\n\x1a\n" + strings.Repeat("x", 100)
	put := func(login, name, content string) (form.Upload, error) {
		return o.Asking.Upload(ctx, demo.ID(login), "something-is-broken", "photos", work.IncomingFile{Name: name, Content: strings.NewReader(content)})
	}
	_, err := put("castelo", "harmless.png", "#!/bin/sh\necho no")
	refused(t, err, refusal.FileType)
	_, err = put("castelo", "empty.png", "")
	refused(t, err, refusal.EmptyFile)
	_, err = put("castelo", "large.png", png+strings.Repeat("x", 11_000_000))
	refused(t, err, refusal.FileTooLarge)
	_, err = o.Asking.Upload(ctx, demo.ID("castelo"), "something-is-broken", "what", work.IncomingFile{Name: "a.png", Content: strings.NewReader(png)})
	assert.ErrorIs(t, err, work.ErrNotFound, "no file question")
	kept, err := put("castelo", `..\\..\<b>deck.png`, png)
	require.NoError(t, err)
	assert.Equal(t, "bdeck.png", kept.Name)
	assert.Equal(t, "image/png", kept.Type)
	entries, err := os.ReadDir(filepath.Join(o.Dir, "uploads"))
	require.NoError(t, err)
	assert.Len(t, entries, 1, "what was refused left nothing behind")

	spare, err := put("castelo", "spare.png", png)
	require.NoError(t, err)
	answers := coretest.Answers(map[string]any{"what": "The winch", "area": "building", "impact": "me", "urgency": "week", "photos": []any{map[string]any{"id": kept.ID, "name": "other", "type": "text/plain", "size": 1.0}}})
	f, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "something-is-broken", answers, offering.Beneficiary{})
	require.NoError(t, err)
	_, _, err = o.Following.File(ctx, demo.ID("abelsen"), f.Draft, kept.ID)
	assert.ErrorIs(t, err, work.ErrNotFound, "a draft is nobody else's business")
	state, err := o.Asking.Submit(ctx, demo.ID("castelo"), f.Draft, request.Submit{Answers: answers})
	require.NoError(t, err)
	_, err = o.Store.Content(spare.ID)
	assert.ErrorIs(t, err, work.ErrNotFound, "what no answer names goes on sending")
	for login, sees := range map[string]bool{"castelo": true, "abelsen": true, "coutinho": true, "mbeki-roy": true, "nakagome": true, "yilmazer": false, "quist": false} {
		upload, content, err := o.Following.File(ctx, demo.ID(login), state.ID, kept.ID)
		assert.Equal(t, sees, err == nil, login)
		if err == nil {
			data, err := io.ReadAll(content)
			require.NoError(t, err)
			assert.Equal(t, png, string(data))
			assert.Equal(t, "bdeck.png", upload.Name)
			require.NoError(t, content.Close())
		}
	}

	// Another's file on one's own draft is not there.
	f, err = o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "something-is-broken", answers, offering.Beneficiary{})
	require.NoError(t, err)
	_, err = o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: answers})
	refused(t, err, refusal.Incomplete)
}

func TestAskAgain(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	id := o.Ask("castelo", "open").ID
	opened, err := o.Designing.OpenDraft(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Items.List[0].Price.Amount, d.Cases = "21.00", nil
	d.Questions[0].Choices = d.Questions[0].Choices[1:]
	d.Questions = append(d.Questions, form.Question{Key: "colour", Kind: form.Text, Label: "Colour"})
	saved, err := o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: saved.Revision, Accepted: []string{"breaksDrafts /questions/0/choices"}})
	require.NoError(t, err)
	f, err := o.Asking.AskAgain(ctx, demo.ID("castelo"), id)
	require.NoError(t, err)
	assert.Equal(t, form.OfText("MV-01-QS"), f.Answers["plate"])
	assert.Equal(t, []string{
		"“At which port?”: your answer of then is not possible any more.", "“Colour” is a new question.",
		"It cost EUR 216.00 in the first year then; now it is EUR 252.00.",
	}, f.Notices)
	_, err = o.Asking.AskAgain(ctx, demo.ID("sarmento"), id)
	assert.ErrorIs(t, err, work.ErrNotFound, "another's request")
}

// A change that breaks drafts people hold is told before it is published.
func TestBreakingDrafts(t *testing.T) {
	o := demotest.New(t)
	_, err := o.Asking.SaveDraft(ctx, demo.ID("castelo"), "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	opened, err := o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Questions = d.Questions[1:]
	saved, err := o.Designing.SaveOffering(ctx, demo.ID("falkenau"), d.Key, d, opened.Revision)
	require.NoError(t, err)
	found := false
	for _, f := range saved.Findings {
		found = found || f.Code == finding.BreaksDrafts
	}
	assert.True(t, found)
}

// A catalog moves from one installation to another, with a preview first.
func TestExportAndImport(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	whole, err := o.Designing.Export(ctx, owner)
	require.NoError(t, err)
	data, err := json.Marshal(whole)
	require.NoError(t, err)
	back, err := offering.ParseCatalog(data)
	require.NoError(t, err)
	assert.Equal(t, whole, back, "what is exported reads back the same")
	does := func(preview, publish bool) map[string]string {
		incoming, err := o.Designing.Import(ctx, owner, back, work.Importing{Preview: preview, Publish: publish})
		require.NoError(t, err)
		out := map[string]string{}
		for _, in := range incoming {
			out[in.Key] = in.Does
		}
		return out
	}
	for key, what := range does(true, false) {
		assert.Equal(t, "same", what, key)
	}
	back.Offerings[0].Purpose.Name = "Parking beside the berth"
	fresh := back.Offerings[1]
	fresh.Key, fresh.Purpose.Name = "brand-new", "Brand new"
	foreign := fresh
	foreign.Key, foreign.Purpose.Service = "foreign", "papers"
	back.Offerings = append(back.Offerings, fresh, foreign)
	changed := back.Offerings[0].Key
	for range 2 { // a preview keeps nothing
		got := does(true, false)
		assert.Equal(t, []string{"changed", "new", "refused"}, []string{got[changed], got["brand-new"], got["foreign"]})
	}
	does(false, true)
	list, err := o.Asking.Catalog(ctx, demo.ID("vidigal"))
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(list, func(l work.Listed) bool { return l.Offering == "brand-new" }))
	_, err = o.Designing.Export(ctx, demo.ID("sarmento"))
	assert.ErrorIs(t, err, work.ErrNotFound)
}

// What has ended moves as ended, with what took its place; where it is new it
// comes as a draft that is not published.
func TestTheEndOfAnOfferingMoves(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	_, err := o.Designing.End(ctx, owner, "berth-side-parking", "cabin-refit")
	require.NoError(t, err)
	moved, err := o.Designing.Export(ctx, owner)
	require.NoError(t, err)
	assert.Equal(t, []offering.Ended{{Key: "berth-side-parking", Successor: "cabin-refit"}}, moved.Ended)
	data, err := json.Marshal(moved)
	require.NoError(t, err)
	moved, err = offering.ParseCatalog(data)
	require.NoError(t, err)

	_, err = o.Designing.Revive(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	at := slices.IndexFunc(moved.Offerings, func(d offering.Document) bool { return d.Key == "berth-side-parking" })
	fresh := moved.Offerings[at]
	fresh.Key, fresh.Purpose.Name = "hall-parking", "Hall parking"
	moved.Offerings, moved.Ended = append(moved.Offerings, fresh), append(moved.Ended, offering.Ended{Key: "hall-parking"})
	for _, preview := range []bool{true, false} {
		incoming, err := o.Designing.Import(ctx, owner, moved, work.Importing{Preview: preview, Publish: true})
		require.NoError(t, err)
		for _, in := range incoming {
			assert.Equal(t, in.Key == "berth-side-parking", in.Ends, in.Key)
			assert.Equal(t, in.Key == "hall-parking", in.Draft, in.Key)
		}
	}
	ended, err := o.Designing.OpenDraft(ctx, owner, "berth-side-parking")
	require.NoError(t, err)
	assert.True(t, ended.Ended)
	assert.Equal(t, "cabin-refit", ended.Successor)
	assert.Equal(t, store.Current, ended.State, "no draft comes of an end")
	draft, err := o.Designing.OpenDraft(ctx, owner, "hall-parking")
	require.NoError(t, err)
	assert.Zero(t, draft.Current, "nobody can ask for it")
}

// A service that is new here is made with the team that is home to it; until that
// is said its offerings are left out, with the reason, and nothing else is.
func TestANewServiceMoves(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	moved, err := o.Designing.Export(ctx, owner)
	require.NoError(t, err)
	fresh := moved.Offerings[0]
	fresh.Key, fresh.Purpose.Name, fresh.Purpose.Service = "boat-hire", "Boat hire", "boats"
	moved.Offerings = append(moved.Offerings, fresh)
	moved.Services = append(moved.Services, offering.Service{Key: "boats", Name: "Boats", Area: "Facilities", Owner: "nobody-here", Home: "no-team", Place: "offered"})
	bring := func(how work.Importing) work.Incoming {
		t.Helper()
		all, err := o.Designing.Import(ctx, owner, moved, how)
		require.NoError(t, err)
		return all[len(all)-1]
	}
	left := bring(work.Importing{})
	assert.Equal(t, "refused", left.Does)
	assert.Contains(t, left.Why, "say first which team is home to it")
	homes := map[string]string{"boats": "premises-crew"}
	assert.Equal(t, "new", bring(work.Importing{Preview: true, Homes: homes}).Does)
	_, made := o.Company().Service("boats")
	assert.False(t, made, "a preview makes nothing")
	_, err = o.Designing.Import(ctx, owner, moved, work.Importing{Homes: map[string]string{"boats": "moon"}})
	refused(t, err, refusal.UnknownTeam)
	_, err = o.Designing.Import(ctx, owner, moved, work.Importing{Homes: homes, Owners: map[string]string{"boats": "moon"}})
	refused(t, err, refusal.UnknownPerson)
	assert.Equal(t, "new", bring(work.Importing{Homes: homes}).Does)
	s, made := o.Company().Service("boats")
	require.True(t, made)
	assert.Equal(t, []string{owner, "premises-crew"}, []string{s.Owner, s.Home})
	opened, err := o.Designing.OpenDraft(ctx, owner, "boat-hire")
	require.NoError(t, err)
	assert.Equal(t, "Boat hire", opened.Document.Purpose.Name)
}

func TestLiveTellsThoseItConcerns(t *testing.T) {
	o := demotest.New(t)
	asker, end := o.Live.Listen(demo.ID("castelo"))
	defer end()
	stranger, end2 := o.Live.Listen(demo.ID("yilmazer"))
	defer end2()
	before := o.LastEvent()
	id := o.Ask("castelo", "open").ID
	told := <-asker
	assert.Equal(t, work.Change{Kind: "request", ID: id, Event: told.Event}, told)
	assert.Greater(t, told.Event, before)
	assert.Empty(t, stranger)
	assert.True(t, o.Live.Missed(demo.ID("castelo"), before), "who comes back is told what they have not heard")
	assert.False(t, o.Live.Missed(demo.ID("castelo"), o.LastEvent()))
	assert.False(t, o.Live.Missed(demo.ID("yilmazer"), before), "and nobody else")
}

// A system that stays down is tried less and less, then people are asked; once
// they start it again the work is done.
func TestASystemThatIsDownHandsItsWorkToPeople(t *testing.T) {
	o := demotest.New(t)
	o.Badges.Down(true)
	id := o.Ask("castelo", "open").ID
	done(o, id)
	runAll(t, o, time.Hour)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	task, _ := state.Task("barrier")
	assert.Equal(t, plan.Stuck, task.State)
	assert.Equal(t, "Tried 6 times. The badge system refused: The badge system refuses everything just now.", task.Trouble)
	counts, err := o.Store.CountsFor(ctx, demo.ID("ekvall"))
	require.NoError(t, err)
	before := counts.Deliver

	o.Badges.Down(false)
	_, err = o.Do(ctx, demo.ID("castelo"), id, request.Retry{Task: "barrier"})
	refused(t, err, refusal.NotYours)
	o.Must("ekvall", id, request.Retry{Task: "barrier"})
	runAll(t, o, time.Hour)
	state, err = o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Delivered, state.Status)
	counts, err = o.Store.CountsFor(ctx, demo.ID("ekvall"))
	require.NoError(t, err)
	assert.Equal(t, before-1, counts.Deliver)
}

// What waits on the desks follows a request on its way.
func TestCountsFollowARequest(t *testing.T) {
	o := demotest.New(t)
	counts := func(login string) store.Counts {
		c, err := o.Store.CountsFor(ctx, demo.ID(login))
		require.NoError(t, err)
		return c
	}
	asker, manager, team := counts("sarmento"), counts("quist"), counts("marrec")
	_, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "berth-side-parking", form.Answers{}, offering.Beneficiary{})
	require.NoError(t, err)
	assert.Equal(t, asker.Follow+1, counts("sarmento").Follow, "a draft waits for its asker")
	id := o.Ask("sarmento", "covered").ID
	assert.Equal(t, asker.Follow, counts("sarmento").Follow)
	assert.Equal(t, manager.Decide+1, counts("quist").Decide)
	assert.Equal(t, team.Deliver, counts("marrec").Deliver, "no task before the yes")
	o.Must("quist", id, request.Decide{Rung: "manager", Decision: request.Approve})
	assert.Equal(t, manager.Decide, counts("quist").Decide)
	assert.Equal(t, team.Deliver+1, counts("marrec").Deliver)
	o.Must("ekvall", id, request.Take{Task: "check"})
	assert.Equal(t, team.Deliver, counts("marrec").Deliver, "what another has taken waits for nobody else")
	o.Must("ekvall", id, request.Complete{Task: "check"})
	o.Must("coutinho", id, request.Take{Task: "mark"}, request.Complete{Task: "mark"})
	runAll(t, o, time.Hour)
	assert.Equal(t, asker.Follow+1, counts("sarmento").Follow, "it waits for a confirmation")
	o.Must("sarmento", id, request.Confirm{})
	assert.Equal(t, asker.Follow, counts("sarmento").Follow)
	o.Clock.Pass(30 * 24 * time.Hour)
	effects, _, err := o.Store.LeaseDue(ctx, "badges", o.Clock.Now(), 100)
	require.NoError(t, err)
	for _, e := range effects {
		assert.NotEqual(t, id, e.Request, "nothing is left to run for a closed request")
	}
}

// Whoever an offering is not meant for cannot tell that it is there.
func TestAnAudienceIsKept(t *testing.T) {
	o := demotest.New(t)
	opened, err := o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Audience.Ask, d.Cases = `asker.department == "Fleet"`, nil
	saved, err := o.Designing.SaveOffering(ctx, demo.ID("falkenau"), d.Key, d, opened.Revision)
	require.NoError(t, err)
	f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), d.Key, demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	_, err = o.Designing.Publish(ctx, demo.ID("falkenau"), d.Key, work.Publishing{Revision: saved.Revision})
	require.NoError(t, err)

	for login, want := range map[string]bool{"castelo": true, "sarmento": false} {
		looked, err := o.Asking.Search(ctx, demo.ID(login), "parking")
		require.NoError(t, err)
		assert.Equal(t, want, slices.Contains(offerings(looked), d.Key), login)
	}
	_, err = o.Asking.OpenForm(ctx, demo.ID("sarmento"), d.Key, nil)
	assert.ErrorIs(t, err, work.ErrNotFound)
	_, err = o.Asking.SaveDraft(ctx, demo.ID("sarmento"), d.Key, f.Answers, offering.Beneficiary{})
	assert.ErrorIs(t, err, work.ErrNotFound)
	_, err = o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: f.Answers})
	refused(t, err, refusal.NotYours)
}

func TestTryingKeepsNothing(t *testing.T) {
	o := demotest.New(t)
	tried, err := o.Rehearsing.Try(ctx, demo.ID("falkenau"), "berth-side-parking", script.Script{Asker: script.Who{Login: "sarmento"}, Answers: demotest.Parking("covered")})
	require.NoError(t, err)
	assert.True(t, tried.Evaluated.Complete)
	require.Len(t, tried.Evaluated.Decisions, 1)
	assert.Equal(t, demo.ID("quist"), tried.Evaluated.Decisions[0].Seats[0].Person, "as it would be for him")
	_, err = o.Store.DraftOf(ctx, demo.ID("sarmento"), "berth-side-parking")
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = o.Rehearsing.Try(ctx, demo.ID("falkenau"), "berth-side-parking", script.Script{Asker: script.Who{Login: "nobody"}})
	refused(t, err, refusal.UnknownPerson)
	opened, err := o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "berth-side-parking")
	require.NoError(t, err)
	d := opened.Document
	d.Questions[0].Show, d.Questions[1].Show = `has(answers.plate)`, `has(answers.port)`
	_, err = o.Designing.SaveOffering(ctx, demo.ID("falkenau"), d.Key, d, opened.Revision)
	require.NoError(t, err)
	_, err = o.Rehearsing.Try(ctx, demo.ID("falkenau"), d.Key, script.Script{Asker: script.Who{Login: "sarmento"}})
	refused(t, err, refusal.Unusable)
}

// The runner takes up what was left running, waits for what is to come, wakes
// for what becomes due, and ends when told.
func TestTheRunnerRuns(t *testing.T) {
	o := demotest.New(t)
	first := o.Ask("castelo", "open").ID
	done(o, first)
	leased, _, err := o.Store.LeaseDue(ctx, "badges", o.Clock.Now(), 8) // by a process that then died
	require.NoError(t, err)
	require.NotEmpty(t, leased)

	running, stop := context.WithCancel(ctx)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		o.Running.Run(running)
	}()
	delivered := func(id string) func() bool {
		return func() bool {
			o.Clock.Pass(time.Second)
			o.Ask("adebayor", "open") // whatever happens wakes the runner
			state, err := o.Store.Request(ctx, id)
			return err == nil && state.Status == request.Delivered
		}
	}
	require.Eventually(t, delivered(first), 10*time.Second, 5*time.Millisecond)
	second := o.Ask("castelo", "open").ID
	done(o, second)
	require.Eventually(t, delivered(second), 10*time.Second, 5*time.Millisecond)
	stop()
	select {
	case <-ended:
	case <-time.After(5 * time.Second):
		assert.Fail(t, "the runner does not end")
	}
}

// Only administrators see how the work goes on that goes on by itself, and may
// have it look at once. When it does not look any more, that is told.
func TestThePulseOfTheRunner(t *testing.T) {
	o := demotest.New(t)
	assert.False(t, o.Running.StandsStill(), "it has not begun")
	running, stop := context.WithCancel(ctx)
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		o.Running.Run(running)
	}()
	admin := demo.ID("lindskaug")
	looked := func() time.Time {
		b, err := o.Connecting.Background(ctx, admin)
		require.NoError(t, err)
		if b.Pulse == nil || b.Pulse.Failed {
			return time.Time{}
		}
		return b.Pulse.Looked
	}
	require.Eventually(t, func() bool { return looked().Equal(o.Clock.Now()) }, 5*time.Second, 5*time.Millisecond)
	o.Clock.Pass(10 * time.Second)
	require.NoError(t, o.Connecting.LookNow(admin))
	require.Eventually(t, func() bool { return looked().Equal(o.Clock.Now()) }, 5*time.Second, 5*time.Millisecond)
	require.ErrorIs(t, o.Connecting.LookNow(demo.ID("marrec")), work.ErrNotFound)
	stop()
	<-ended
	assert.False(t, o.Running.StandsStill())
	o.Clock.Pass(3 * time.Minute)
	assert.True(t, o.Running.StandsStill(), "nobody looks any more")
}

// Four people send, decide and work at the same time on the same few requests:
// nothing is doubled, and each history replays to its state.
func TestManyAtOnce(t *testing.T) {
	o := demotest.New(t)
	var ids []string
	for range 5 {
		ids = append(ids, o.Ask("sarmento", "covered").ID)
	}
	var all sync.WaitGroup
	for _, login := range []string{"quist", "marrec", "ekvall", "coutinho", "abelsen", "sarmento"} {
		all.Go(func() {
			for range 4 {
				for _, id := range ids {
					for _, c := range []request.Command{
						request.Decide{Rung: "manager", Decision: request.Approve}, request.Take{Task: "check"}, request.Take{Task: "mark"},
						request.Complete{Task: "check"}, request.Complete{Task: "mark"}, request.Confirm{},
					} {
						if _, err := o.Do(ctx, demo.ID(login), id, c); err != nil {
							_, refused := request.AsRefusal(err)
							assert.True(t, refused || errors.Is(err, work.ErrNotFound), "%v", err)
						}
					}
				}
			}
		})
	}
	all.Wait()
	for _, id := range ids {
		state, err := o.Store.Request(ctx, id)
		require.NoError(t, err)
		events, err := o.Store.Events(ctx, id)
		require.NoError(t, err)
		replayed := request.Replay(events)
		assert.Equal(t, state.Seq, replayed.Seq)
		assert.Equal(t, state.Status, replayed.Status)
		seen := map[string]int{}
		for _, e := range events {
			if d, ok := e.Body.(request.TaskDone); ok {
				seen[d.Task]++
			}
			if _, ok := e.Body.(request.Voted); ok {
				seen["vote"]++
			}
		}
		assert.Equal(t, map[string]int{"vote": 1, "check": 1, "mark": 1}, seen)
	}
}
