package work_test

import (
	"context"
	"fmt"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// behind changes what is kept behind the program's back, as damage does.
func behind(t testing.TB, o *demotest.Office, query string, args ...any) {
	t.Helper()
	_, err := o.Store.Writer().Exec(query, args...)
	require.NoError(t, err)
}

// running runs the office in the background, as the program does.
func running(t testing.TB, o *demotest.Office) {
	t.Helper()
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() { defer close(done); o.Running.Run(ctx) }()
	t.Cleanup(func() { stop(); <-done })
}

// Each record is handled by itself: what cannot be read or done for a reason of
// its own is set aside, with its reason, and the rest go on.
func TestWhatIsSetAside(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	aside := func() map[string]string {
		b, err := o.Connecting.Background(ctx, admin)
		require.NoError(t, err)
		all := map[string]string{}
		for _, a := range b.Aside {
			all[a.Lane] = a.ID
			assert.NotEmpty(t, a.Reason)
		}
		return all
	}
	broken, whole := o.Ask("castelo", "open"), o.Ask("adebayor", "open")
	for _, id := range []string{broken.ID, whole.ID} {
		o.Must("marrec", id, request.Take{Task: "check"}, request.Complete{Task: "check"})
		o.Must("coutinho", id, request.Take{Task: "mark"}, request.Complete{Task: "mark"})
	}
	var state []byte
	require.NoError(t, o.Store.Writer().QueryRow("SELECT state FROM requests WHERE id = ?", broken.ID).Scan(&state))
	behind(t, o, "UPDATE requests SET state = packed('states', '{') WHERE id = ?", broken.ID)
	runAll(t, o, time.Hour)
	assert.Equal(t, request.Delivered, must(o.Store.Request(ctx, whole.ID))(t).Status, "the others go on")
	assert.Equal(t, broken.ID+"/barrier", aside()["effect"])
	assert.Equal(t, broken.ID, aside()["forecast"])

	behind(t, o, "UPDATE requests SET state = ? WHERE id = ?", state, broken.ID)
	for lane, id := range aside() {
		assert.ErrorIs(t, o.Running.TryAgain(ctx, demo.ID("quist"), lane, id), work.ErrNotFound)
		require.NoError(t, o.Running.TryAgain(ctx, admin, lane, id))
		assert.ErrorIs(t, o.Running.TryAgain(ctx, admin, lane, id), work.ErrNotFound, "once")
	}
	runAll(t, o, time.Hour)
	assert.Empty(t, aside())
	assert.Equal(t, request.Delivered, must(o.Store.Request(ctx, broken.ID))(t).Status)
}

// An effect that cannot be read, one whose connector panics: both are set aside,
// and a restart does not try them for ever.
func TestABrokenEffectStopsNothing(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "passes", plan.Task{
		Key: "write", Name: "Write it", Kind: plan.Automatic, Team: "keys-badges",
		Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "opens": "Gate"}},
	})
	unreadable := o.Send("castelo", "passes", form.Answers{}, offering.Beneficiary{})
	behind(t, o, "UPDATE effects SET inputs = '{' WHERE request = ?", unreadable.ID)
	good := o.Send("adebayor", "passes", form.Answers{}, offering.Beneficiary{})
	runAll(t, o, time.Hour)
	assert.Equal(t, request.Delivered, must(o.Store.Request(ctx, good.ID))(t).Status)
	all, err := o.Store.SetAsides(ctx, 10)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, unreadable.ID+"/write", all[0].ID)
	require.NoError(t, o.Store.ReleaseRunning(ctx))
	due, unread, err := o.Store.LeaseDue(ctx, "badges", o.Clock.Now().Add(time.Hour), 10)
	require.NoError(t, err)
	assert.Empty(t, due)
	assert.Empty(t, unread, "it waits until somebody has it tried again")
}

// poster is a mail server of a test.
type poster func(ctx context.Context, m connect.Mail) error

func (p poster) Post(ctx context.Context, m connect.Mail) error { return p(ctx, m) }

// However slow the mail server is, work and timers go on.
func TestMailHasALaneOfItsOwn(t *testing.T) {
	o := demotest.New(t)
	var posting atomic.Int32
	o.Mailing.Poster = poster(func(ctx context.Context, _ connect.Mail) error {
		posting.Add(1)
		<-ctx.Done() // it never answers
		return ctx.Err()
	})
	running(t, o)
	for range 10 {
		o.Ask("sarmento", "covered") // a mail to who decides
	}
	require.Eventually(t, func() bool { return posting.Load() > 0 }, 10*time.Second, 5*time.Millisecond)
	state := o.Send("sarmento", "new-second-sign-in-factor", coretest.Answers(map[string]any{"factor": "app", "lost": false}), offering.Beneficiary{})
	require.Eventually(t, func() bool { return must(o.Store.Request(ctx, state.ID))(t).Status == request.Delivered }, 10*time.Second, 10*time.Millisecond)
	assert.False(t, o.Running.StandsStill())
	assert.LessOrEqual(t, posting.Load(), int32(4), "a few at the same time")
}

// What is wrong with one mail is final for that mail alone.
func TestAMalformedAddressPutsOffNobody(t *testing.T) {
	o := demotest.New(t)
	behind(t, o, "UPDATE people SET email = 'quist@@ <nowhere' WHERE login = 'quist'")
	require.NoError(t, o.ReadCompany(ctx))
	first := o.Ask("sarmento", "covered")
	second := o.Ask("castelo", "covered")
	post(t, o)
	mail := func(id string) store.Message { return must(o.Store.MailsOf(ctx, id))(t)[0] }
	assert.Equal(t, "failed", mail(first.ID).Mail, "trying again is of no use")
	assert.NotEmpty(t, mail(first.ID).Trouble)
	assert.Equal(t, "sent", mail(second.ID).Mail)

	publish(t, o, "sewing", plan.Task{
		Key: "sew", Name: "Have it sewn", Kind: plan.Automatic, Team: "premises-crew",
		Action: &plan.Action{Connector: "mail", Do: "ask", Inputs: map[string]string{"to": "no address", "name": "The sail loft", "subject": "A sail", "text": "Please."}},
	})
	state := o.Send("adebayor", "sewing", form.Answers{}, offering.Beneficiary{})
	runAll(t, o, time.Minute)
	task := taskOf(t, o, state.ID, "sew")
	assert.Equal(t, plan.Stuck, task.State, "and so is a supplier's")
	assert.Contains(t, task.Trouble, "No mail can go to no address")
	assert.NotContains(t, task.Trouble, "Tried", "at once")
}

// When the database does not answer, the work stands still, and that is kept:
// from when to when, why, and what fell due meanwhile.
func TestStandstillsAreKept(t *testing.T) {
	o := demotest.New(t)
	behind(t, o, "ALTER TABLE pool_places RENAME TO gone")
	running(t, o)
	require.Eventually(t, o.Running.StandsStill, 10*time.Second, 5*time.Millisecond)
	o.Clock.Pass(10 * 24 * time.Hour)
	behind(t, o, "ALTER TABLE gone RENAME TO pool_places")
	var kept []store.Standstill
	require.Eventually(t, func() bool {
		kept = must(o.Store.Standstills(ctx, 10))(t)
		return len(kept) > 0
	}, 10*time.Second, 10*time.Millisecond)
	assert.Equal(t, 10*24*time.Hour, kept[0].Until.Sub(kept[0].From))
	assert.Contains(t, kept[0].Reason, "no such table")
	assert.Positive(t, kept[0].Due, "what waited to be confirmed lapsed")
	require.Eventually(t, func() bool { return !o.Running.StandsStill() }, 10*time.Second, 5*time.Millisecond)
}

// A time in which the program was not there is a standstill, too.
func TestBeingAwayIsAStandstill(t *testing.T) {
	o := demotest.New(t)
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error { return tx.Looked(o.Clock.Now().Add(-3 * time.Hour)) }))
	running(t, o)
	require.Eventually(t, func() bool { return len(must(o.Store.Standstills(ctx, 10))(t)) == 1 }, 10*time.Second, 10*time.Millisecond)
	kept := must(o.Store.Standstills(ctx, 10))(t)[0]
	assert.Equal(t, "Heptad was not running.", kept.Reason)
	assert.Equal(t, 3*time.Hour, kept.Until.Sub(kept.From))
}

// What somebody has, and where they work, is read only for those who may ask for
// them: a draft "for" a stranger knows nothing of them.
func TestADraftForAStrangerKnowsNothingOfThem(t *testing.T) {
	o := demotest.New(t)
	stranger := offering.Beneficiary{Person: demo.ID("quist")}
	f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "quay-access-badge", form.Answers{}, stranger)
	require.NoError(t, err)
	assert.NotEmpty(t, f.Evaluated.Trouble)
	assert.Empty(t, f.Belongings)
	assert.NotContains(t, fmt.Sprintf("%+v", f.Evaluated), "QB-20013", "her badge")
	assert.NotContains(t, fmt.Sprintf("%+v", f.Evaluated.Questions), "North Pier", "nor where she works")
	f, err = o.Asking.SaveDraft(ctx, demo.ID("quist"), "quay-access-badge", form.Answers{}, offering.Beneficiary{Person: demo.ID("sarmento")})
	require.NoError(t, err)
	assert.Empty(t, f.Evaluated.Trouble)
	assert.NotEmpty(t, f.Belongings, "for her own people she may ask")
}

// An owner who tries an offering as somebody sees what the directory shows of
// them, and samples in place of what they have.
func TestTryingShowsNobodysThings(t *testing.T) {
	o := demotest.New(t)
	tried, err := o.Rehearsing.Try(ctx, demo.ID("falkenau"), "quay-access-badge", script.Script{Asker: script.Who{Login: "quist"}})
	require.NoError(t, err)
	require.NotEmpty(t, tried.Belongings)
	for _, b := range tried.Belongings {
		assert.True(t, strings.HasPrefix(b.ID, "sample-"), b.ID)
	}
	for name, text := range map[string]string{"cost centre": "asker.costCentre", "grade": "asker.grade", "employment": "asker.employment"} {
		opened, err := o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "quay-access-badge")
		require.NoError(t, err)
		d := opened.Document
		d.Questions = append(d.Questions, form.Question{Key: "probe", Kind: form.Computed, Gives: form.Text, Label: "Probe", Compute: text})
		_, err = o.Designing.SaveOffering(ctx, demo.ID("falkenau"), d.Key, d, opened.Revision)
		require.NoError(t, err)
		tried, err := o.Rehearsing.Try(ctx, demo.ID("falkenau"), "quay-access-badge", script.Script{Asker: script.Who{Login: "quist"}})
		require.NoError(t, err)
		for _, q := range tried.Evaluated.Questions {
			if q.Key == "probe" {
				assert.Contains(t, []string{`null`, `""`}, q.Value.String(), name)
			}
		}
		opened, err = o.Designing.OpenDraft(ctx, demo.ID("falkenau"), "quay-access-badge")
		require.NoError(t, err)
		require.NoError(t, o.Designing.DropDraft(ctx, demo.ID("falkenau"), "quay-access-badge", opened.Revision))
	}
}

// The owner of a service hears nothing of drafts, and who was never in the
// audience of an ended offering hears nothing of its end.
func TestDraftsAndEndedOfferingsAreNobodyElsesBusiness(t *testing.T) {
	o := demotest.New(t)
	changes, end := o.Live.Listen(demo.ID("falkenau"))
	defer end()
	f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "berth-side-parking", form.Answers{}, offering.Beneficiary{})
	require.NoError(t, err)
	o.Must("sarmento", f.Draft, request.Discard{})
	select {
	case c := <-changes:
		assert.Fail(t, "she was told", "%v", c)
	default:
	}
	o.Ask("sarmento", "open")
	assert.Equal(t, "request", (<-changes).Kind, "what is sent she hears of")

	_, err = o.Designing.End(ctx, demo.ID("brandao"), "sign-on-a-crew-member", "")
	require.NoError(t, err)
	next, err := o.Asking.Successor(ctx, demo.ID("quist"), "sign-on-a-crew-member")
	require.NoError(t, err, "who could see it is told that it has ended")
	assert.Empty(t, next.Offering)
	_, err = o.Asking.Successor(ctx, demo.ID("sarmento"), "sign-on-a-crew-member")
	assert.ErrorIs(t, err, work.ErrNotFound, "to others it was never there")
}

// A secret goes to whom it is for, on asking, for a time; it stands in no event,
// message or row as it is, and each reading is kept.
func TestSecrets(t *testing.T) {
	o := demotest.New(t)
	state := o.Send("sarmento", "new-second-sign-in-factor", coretest.Answers(map[string]any{"factor": "app", "lost": false}), offering.Beneficiary{})
	runAll(t, o, time.Minute)
	state = must(o.Store.Request(ctx, state.ID))(t)
	require.Equal(t, []string{"code"}, taskOf(t, o, state.ID, "set").Secrets)
	all, err := o.Following.SecretsFor(ctx, demo.ID("sarmento"))
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, "Code for the first use", all[0].Name)
	for _, other := range []string{"mbeki-roy", "petrovan", "lindskaug", "quist"} {
		_, err := o.Following.ReadSecret(ctx, demo.ID(other), state.ID, "set", "code")
		assert.ErrorIs(t, err, work.ErrNotFound, other)
	}
	readings := func() int { return len(must(o.Store.Readings(ctx, state.ID))(t)) }
	assert.Zero(t, readings())
	code, err := o.Following.ReadSecret(ctx, demo.ID("sarmento"), state.ID, "set", "code")
	require.NoError(t, err)
	require.NotEmpty(t, code)
	assert.Equal(t, 1, readings())
	nowhere(t, o, code)

	o.Clock.Pass(7*24*time.Hour + time.Second)
	_, err = o.Following.ReadSecret(ctx, demo.ID("sarmento"), state.ID, "set", "code")
	assert.ErrorIs(t, err, work.ErrNotFound, "its time is over")
	runAll(t, o, 0)
	var left int
	require.NoError(t, o.Store.Writer().QueryRow("SELECT count(*) FROM sealed WHERE part = 'output'").Scan(&left))
	assert.Zero(t, left, "and it is forgotten")
}

// nowhere looks for a text in every table, in its mails and messages too.
func nowhere(t *testing.T, o *demotest.Office, text string) {
	t.Helper()
	rows, err := o.Store.Writer().Query("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' AND name NOT LIKE '%_data' AND name NOT LIKE '%_idx' AND name NOT LIKE '%_docsize' AND name NOT LIKE '%_config' AND name NOT LIKE '%_content'")
	require.NoError(t, err)
	var tables []string
	for rows.Next() {
		var name string
		require.NoError(t, rows.Scan(&name))
		tables = append(tables, name)
	}
	require.NoError(t, rows.Close())
	require.Greater(t, len(tables), 20)
	for _, table := range tables {
		rows, err := o.Store.Writer().Query("SELECT * FROM " + table)
		require.NoError(t, err)
		columns, err := rows.Columns()
		require.NoError(t, err)
		for rows.Next() {
			values := make([]any, len(columns))
			for i := range values {
				values[i] = new(any)
			}
			require.NoError(t, rows.Scan(values...))
			for i, v := range values {
				assert.NotContains(t, fmt.Sprintf("%s", *v.(*any)), text, "%s.%s", table, columns[i])
			}
		}
		require.NoError(t, rows.Close())
	}
	for _, letter := range o.Mail.Letters() {
		assert.NotContains(t, fmt.Sprintf("%+v", letter), text)
	}
}

// health publishes an offering with a private question and one for staff.
func health(t *testing.T, o *demotest.Office) {
	t.Helper()
	owner := demo.ID("falkenau")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "parking", Name: "Desk aid"})
	require.NoError(t, err)
	d := opened.Document
	d.Purpose.Text = "A desk that fits you."
	d.Audience.Ask = "true"
	d.Questions = []form.Question{
		{Key: "aid", Kind: form.Text, Label: "What do you need?", Require: "true"},
		{Key: "cause", Kind: form.LongText, Label: "Why?", Require: "true", Readers: form.Private},
		{Key: "class", Kind: form.Computed, Gives: form.Text, Label: "Class", Compute: `answers.aid == "chair" ? "A7-heavy" : "B1-light"`, Readers: form.ForStaff},
	}
	d.Plan = []plan.Task{
		{Key: "advise", Name: "Advise", Kind: plan.Manual, Team: "keys-badges", Slice: []string{"aid", "cause", "class"}},
		{Key: "build", Name: "Build it", Kind: plan.Manual, Team: "premises-crew", After: []string{"advise"}, Slice: []string{"aid"}},
	}
	opened, err = o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	var accepted []string
	for _, f := range opened.Findings {
		accepted = append(accepted, f.Name())
	}
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: opened.Revision, Accepted: accepted})
	require.NoError(t, err, "%v", opened.Findings)
}

// A private answer is kept apart, encrypted, while it is typed and once it is
// sent; those who may read it do so on asking, and each reading is kept.
func TestPrivateAnswers(t *testing.T) {
	o := demotest.New(t)
	health(t, o)
	const cause = "an old fall from the mast"
	answers := coretest.Answers(map[string]any{"aid": "chair", "cause": cause})
	sarmento := demo.ID("sarmento")
	f, err := o.Asking.SaveDraft(ctx, sarmento, "desk-aid", answers, offering.Beneficiary{})
	require.NoError(t, err)
	nowhere(t, o, cause)
	again, err := o.Asking.OpenForm(ctx, sarmento, "desk-aid", nil)
	require.NoError(t, err)
	assert.Equal(t, form.OfText(cause), again.Answers["cause"], "what was typed is there again")

	state, err := o.Asking.Submit(ctx, sarmento, f.Draft, request.Submit{Answers: answers})
	require.NoError(t, err)
	nowhere(t, o, cause)
	assert.Equal(t, []string{"cause"}, state.Private)
	assert.NotContains(t, state.Answers, "cause")
	assert.Equal(t, form.OfText("A7-heavy"), state.Answers["class"])
	for _, row := range []struct {
		login string
		by    work.Through
		may   bool
	}{
		{"sarmento", work.Through{}, true},
		{"marrec", work.Through{Task: "advise"}, true},
		{"marrec", work.Through{}, false},
		{"marrec", work.Through{Task: "build"}, false},
		{"coutinho", work.Through{Task: "build"}, false}, // it is not in their slice
		{"falkenau", work.Through{}, false},              // the owner, too
		{"abelsen", work.Through{}, false},
		{"falkenau", work.Through{Task: "advise"}, false},
		{"lindskaug", work.Through{}, false},
		{"quist", work.Through{}, false},
	} {
		before := len(must(o.Store.Readings(ctx, state.ID))(t))
		text, err := o.Following.ReadPrivate(ctx, demo.ID(row.login), state.ID, "cause", row.by)
		if row.may {
			require.NoError(t, err, row.login)
			assert.Equal(t, cause, text)
			assert.Len(t, must(o.Store.Readings(ctx, state.ID))(t), before+1)
			continue
		}
		assert.ErrorIs(t, err, work.ErrNotFound, "%s %v", row.login, row.by)
		assert.Len(t, must(o.Store.Readings(ctx, state.ID))(t), before)
	}
	behind(t, o, "UPDATE sealed SET request = ? WHERE request = ?", o.Ask("castelo", "open").ID, state.ID)
	_, err = o.Following.ReadPrivate(ctx, sarmento, state.ID, "cause", work.Through{})
	assert.Error(t, err, "a value opens where it belongs and nowhere else")
}

// Who sets somebody's absence decides by it at no hop, and the absent one is
// told.
func TestNobodyDecidesThroughAnAbsenceTheySet(t *testing.T) {
	o := demotest.New(t)
	absent := func(by, person, stand string) {
		_, err := o.Deciding.SetAbsence(ctx, demo.ID(by), people.Absence{Person: demo.ID(person), From: o.Clock.Now(), Until: o.Clock.Now().Add(48 * time.Hour), StandIn: demo.ID(stand)})
		require.NoError(t, err)
	}
	absent("lindskaug", "quist", "haddad-lis")      // the administrator cannot name herself ...
	absent("haddad-lis", "haddad-lis", "lindskaug") // ... nor be reached by way of another
	post(t, o)
	letters := lettersTo(o, "quist")
	require.NotEmpty(t, letters)
	assert.Contains(t, letters[len(letters)-1].Subject, "Tove Lindskaug has changed when you are absent")
	assert.Empty(t, lettersTo(o, "haddad-lis"), "who sets their own needs no telling")
	state := o.Ask("sarmento", "covered")
	rung, _ := state.OpenRung()
	for _, seat := range rung.Seats {
		assert.NotContains(t, seat.Everybody(), demo.ID("lindskaug"))
	}
	_, err := o.Do(ctx, demo.ID("lindskaug"), state.ID, request.Decide{Rung: rung.Key, Decision: request.Approve})
	assert.ErrorIs(t, err, work.ErrNotFound)

	all, err := o.Deciding.Absences(ctx, demo.ID("lindskaug"), demo.ID("quist"))
	require.NoError(t, err)
	o.Clock.Pass(time.Minute)
	require.NoError(t, o.Deciding.EndAbsence(ctx, demo.ID("lindskaug"), all[0].ID))
	post(t, o)
	assert.Len(t, lettersTo(o, "quist"), 2, "that it ended as well")
}

// The link of a supplier can be answered by for ninety days.
func TestASuppliersLinkExpires(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "sewing", plan.Task{
		Key: "sew", Name: "Have it sewn", Kind: plan.Automatic, Team: "premises-crew",
		Action: &plan.Action{Connector: "mail", Do: "ask", Inputs: map[string]string{"to": "loft@sails.example", "name": "The sail loft", "subject": "A sail", "text": "Please."}},
	})
	state := o.Send("adebayor", "sewing", form.Answers{}, offering.Beneficiary{})
	runAll(t, o, time.Minute)
	link := work.SupplierLink("", o.Mailing.Secret)(state.ID + "/sew")
	token := strings.TrimPrefix(link, "/supplier/")
	refused(t, o.Connecting.AnswerSupplier(ctx, token, work.SupplierAnswer{State: "begun", Number: "L-1\nBcc: all"}), refusal.OneLine)
	o.Clock.Pass(89 * 24 * time.Hour)
	seen, err := o.Connecting.OpenSupplier(ctx, token)
	require.NoError(t, err)
	assert.Empty(t, seen.Trouble)
	o.Clock.Pass(2 * 24 * time.Hour)
	seen, err = o.Connecting.OpenSupplier(ctx, token)
	require.NoError(t, err)
	assert.Contains(t, seen.Trouble, "expired")
	refused(t, o.Connecting.AnswerSupplier(ctx, token, work.SupplierAnswer{State: "done"}), refusal.Expired)
}

// Files get the ending of what they are, and what could run in a page is none
// when it is served.
func TestFilesAreWhatTheyAre(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("sarmento", "open").ID
	png := "\x89PNG\r\n\x1a\n" + strings.Repeat("x", 80_000)
	for _, c := range []struct{ name, content, kept, media string }{
		{"a.html", "Only words.", "a.txt", "text/plain"},
		{"notes.md", "# Words", "notes.md", "text/plain"},
		{"photo.png.exe", png, "photo.png", "image/png"},
		{"photo", png, "photo.png", "image/png"},
		{"photo.JPG", png, "photo.png", "image/png"},
		{"a.txt", "words <ScRiPt>alert(1)</script>", "a.txt", "application/octet-stream"},
		{"photo.png", png + "<sCript>alert(1)</script>", "photo.png", "application/octet-stream"},
		{"line\r\nbreak.txt", "Only words.", "linebreak.txt", "text/plain"},
	} {
		upload, err := o.Following.Attach(ctx, demo.ID("sarmento"), id, work.Addressed{}, work.IncomingFile{Name: c.name, Content: strings.NewReader(c.content)})
		require.NoError(t, err, c.name)
		assert.Equal(t, c.kept, upload.Name)
		served, content, err := o.Following.File(ctx, demo.ID("sarmento"), id, upload.ID)
		require.NoError(t, err)
		require.NoError(t, content.Close())
		assert.Equal(t, c.media, served.Type, c.name)
	}
}

// What a sudden end left of files is swept away, and what is new stays.
func TestOrphanedFilesAreSwept(t *testing.T) {
	o := demotest.New(t)
	state := o.Ask("sarmento", "open")
	kept, err := o.Following.Attach(ctx, demo.ID("sarmento"), state.ID, work.Addressed{}, work.IncomingFile{Name: "a.txt", Content: strings.NewReader("words")})
	require.NoError(t, err)
	orphan, _, err := o.Store.KeepContent(strings.NewReader("lost"), 100)
	require.NoError(t, err)
	young := must(o.Store.Orphans(ctx, time.Now().Add(-time.Hour)))(t)
	assert.Empty(t, young, "it may be on its way")
	assert.Equal(t, []string{orphan}, must(o.Store.Orphans(ctx, time.Now().Add(time.Hour)))(t))
	running(t, o) // the clock of the test is months ahead of the disk's
	require.Eventually(t, func() bool { _, err := o.Store.Content(orphan); return err != nil }, 10*time.Second, 10*time.Millisecond)
	content, err := o.Store.Content(kept.ID)
	require.NoError(t, err)
	require.NoError(t, content.Close())
}
