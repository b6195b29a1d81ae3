package work_test

import (
	"context"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/intake"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/simulate"
	"heptad/internal/store"
	"heptad/internal/work"
)

// post lets everything go out that is due.
func post(t *testing.T, o *demotest.Office) {
	t.Helper()
	for range 20 {
		n, err := o.Running.RunDue(context.Background())
		require.NoError(t, err)
		if n == 0 {
			return
		}
	}
}

func lettersTo(o *demotest.Office, login string) []simulate.Letter {
	var all []simulate.Letter
	for _, l := range o.Mail.Letters() {
		if strings.HasPrefix(l.To[0], login+"@") {
			all = append(all, l)
		}
	}
	return all
}

// tokens are those of the links in a letter: approve, then decline.
func tokens(l simulate.Letter) []string {
	var all []string
	for _, line := range strings.Split(l.Text, "\n") {
		if rest, ok := strings.CutPrefix(line, "http://heptad.example/mail/"); ok {
			token, _, _ := strings.Cut(rest, "?")
			all = append(all, token)
		}
	}
	return all
}

func TestAMailForANewDecision(t *testing.T) {
	o := demotest.New(t)
	state := o.Ask("sarmento", "covered")
	post(t, o)
	post(t, o)
	letters := lettersTo(o, "quist")
	require.Len(t, letters, 1, "sent once")
	l := letters[0]
	assert.Equal(t, "Your decision: Berth-side parking", l.Subject)
	assert.Contains(t, l.Text, "Davi Sarmento asks for Berth-side parking.")
	assert.Contains(t, l.Text, "Price: EUR 414.00 in the first year")
	assert.Len(t, tokens(l), 2)
	assert.Contains(t, l.HTML, "Davi Sarmento asks for Berth-side parking.")
	assert.Equal(t, "Heptad <requests.quillonstraits.example>", l.Header["List-Id"][0])
	assert.Equal(t, "<"+state.ID+"@quillonstraits.example>", l.Header["References"][0])
	assert.Equal(t, "auto-generated", l.Header["Auto-Submitted"][0])
	assert.Contains(t, l.Calendar, "DTSTAMP:20270311T090000Z")
	assert.Contains(t, l.Calendar, "DTEND:20270408T080000Z", "twenty working days, and clocks have changed")
	assert.Contains(t, l.Text, "Please decide until: Thursday 8 April 2027, 10:00 CEST", "on her own wall clock")
	mails, err := o.Messaging.MailsOf(context.Background(), demo.ID("falkenau"), state)
	require.NoError(t, err)
	assert.Equal(t, "sent", mails[0].Mail)
	none, err := o.Messaging.MailsOf(context.Background(), demo.ID("sarmento"), state)
	require.NoError(t, err)
	assert.Empty(t, none, "whom else it went to is the owner's to see")
}

// The mail of a decision carries what was answered, as far as its reader sees it on
// the decision, with tables as tables; nothing private, and nothing once it is
// decided.
func TestTheAnswersInAMail(t *testing.T) {
	o := demotest.New(t)
	answers := coretest.Answers(map[string]any{
		"address": "berth-four", "why": "Questions <about> berth four",
		"readers": []any{map[string]any{"person": "vidigal", "may": "send"}, map[string]any{"person": "sarmento", "may": "read"}},
	})
	o.Send("sarmento", "shared-mailbox", answers, offering.Beneficiary{})
	post(t, o)
	l := lettersTo(o, "quist")[0]
	assert.Contains(t, l.Text, "The whole address: berth-four@quillonstraits.example\n")
	assert.Contains(t, l.Text, "Who reads it?\n  Person             They may\n  Amaranta Vidigal   read and answer\n  Davi Sarmento      read\nWhat is it for? Questions <about> berth four\n")
	assert.NotContains(t, l.Text, "Which address?", "the decision does not show it")
	assert.Contains(t, l.HTML, "<td style=\"padding:2px 16px 2px 0\">Davi Sarmento</td>")
	assert.Contains(t, l.HTML, "Questions &lt;about&gt; berth four")
	assert.Contains(t, l.HTML, "?answer=approve")

	answers["address"] = form.OfText("berth-five")
	state := o.Send("sarmento", "shared-mailbox", answers, offering.Beneficiary{})
	o.Must("quist", state.ID, request.Decide{Rung: "manager", Decision: request.Approve})
	post(t, o)
	for _, l := range lettersTo(o, "quist") {
		assert.NotContains(t, l.Text, "The whole address: berth-five", "it was decided before the mail went out")
	}
}

// The mail server is down for an hour: everything arrives after it, once.
func TestTheMailServerIsDownForAnHour(t *testing.T) {
	o := demotest.New(t)
	o.Mail.Down(true)
	state := o.Ask("sarmento", "covered")
	for range 60 {
		post(t, o)
		o.Clock.Pass(time.Minute)
	}
	assert.Empty(t, o.Mail.Letters())
	mails, err := o.Store.MailsOf(context.Background(), state.ID)
	require.NoError(t, err)
	assert.Equal(t, "waiting", mails[0].Mail)
	assert.Contains(t, mails[0].Trouble, "The mail server did not take it")
	assert.Equal(t, 6, mails[0].Attempts, "after 0, 1, 3, 8, 23 and 53 minutes: it is not hammered")
	o.Mail.Down(false)
	o.Clock.Pass(time.Hour)
	post(t, o)
	assert.Len(t, lettersTo(o, "quist"), 1)
}

func TestAMailThatNeverGoesOutFails(t *testing.T) {
	o := demotest.New(t)
	o.Mail.Down(true)
	state := o.Ask("sarmento", "covered")
	for range len(message.Retries) + 3 {
		post(t, o)
		o.Clock.Pass(25 * time.Hour)
	}
	mails, err := o.Store.MailsOf(context.Background(), state.ID)
	require.NoError(t, err)
	assert.Equal(t, "failed", mails[0].Mail)
}

// A process that ends between sending and writing it down sends again: the
// Message-ID stays the same, so that it arrives once.
func TestAMailSentTwiceArrivesOnce(t *testing.T) {
	o := demotest.New(t)
	o.Ask("sarmento", "covered")
	leased, err := o.Store.LeaseMails(context.Background(), o.Clock.Now(), 10)
	require.NoError(t, err)
	require.NotEmpty(t, leased)
	post(t, o)
	assert.Empty(t, lettersTo(o, "quist"), "another process has them")
	require.NoError(t, o.Store.ReleaseMails(context.Background()))
	post(t, o)
	require.NoError(t, o.Store.MailFailed(context.Background(), leased[:1], "lost", o.Clock.Now()))
	post(t, o)
	assert.Len(t, lettersTo(o, "quist"), 1)
}

func TestWaysAndTheDailyMail(t *testing.T) {
	o := demotest.New(t)
	ctx, quist := context.Background(), demo.ID("quist")
	before, err := o.Store.Unread(ctx, quist)
	require.NoError(t, err)
	require.NoError(t, o.Messaging.SetWay(ctx, quist, message.Way{Kind: message.Missed, List: true, Mail: message.Never}))
	require.NoError(t, o.Messaging.SetWay(ctx, quist, message.Way{Kind: message.Decide, List: false, Mail: message.Daily}))
	o.Ask("sarmento", "covered")
	o.Ask("sarmento", "covered")
	post(t, o)
	assert.Empty(t, lettersTo(o, "quist"))
	after, err := o.Store.Unread(ctx, quist)
	require.NoError(t, err)
	assert.Equal(t, before, after, "they chose not to see it in the list")
	o.Clock.Pass(24 * time.Hour)
	post(t, o)
	letters := lettersTo(o, "quist")
	require.Len(t, letters, 1)
	assert.Equal(t, "Your 2 messages of today", letters[0].Subject)
	assert.Len(t, tokens(letters[0]), 4)

	require.NoError(t, o.Messaging.SetWay(ctx, quist, message.Way{Kind: message.Decide, List: true, Mail: message.Never}))
	o.Ask("sarmento", "covered")
	post(t, o)
	assert.Len(t, lettersTo(o, "quist"), 1, "and now never by mail")
	ways, err := o.Messaging.WaysOf(ctx, quist)
	require.NoError(t, err)
	assert.Equal(t, message.Way{Kind: message.Decide, List: true, Mail: message.Never}, ways[1])
}

func TestTextsOfTheOwner(t *testing.T) {
	o := demotest.New(t)
	ctx := context.Background()
	require.NoError(t, o.Messaging.SetText(ctx, demo.ID("lindskaug"), message.Text{Kind: message.Decide, Subject: "Say yes to {{ request.asker }}", Body: "Please."}))
	o.Ask("sarmento", "covered")
	post(t, o)
	assert.Equal(t, "Say yes to Davi Sarmento", lettersTo(o, "quist")[0].Subject)
	var from string // the text a message was written from stays known when it changes
	require.NoError(t, o.Store.Writer().QueryRow("SELECT v.subject FROM messages m JOIN message_words w ON w.id = m.words JOIN message_versions v ON v.id = w.text WHERE m.person = ? AND w.kind = 'decide' ORDER BY w.id DESC LIMIT 1", demo.ID("quist")).Scan(&from))
	assert.Equal(t, "Say yes to {{ request.asker }}", from)
	err := o.Messaging.SetText(ctx, demo.ID("lindskaug"), message.Text{Kind: message.Decide, Subject: "{{ request.answer }}", Body: "Please."})
	why, ok := request.AsRefusal(err)
	require.True(t, ok)
	assert.Equal(t, "/subject", why.Place)
	require.NoError(t, o.Messaging.SetText(ctx, demo.ID("lindskaug"), message.Text{Kind: message.Decide}))
	assert.ErrorIs(t, o.Messaging.SetText(ctx, demo.ID("falkenau"), message.Text{Kind: message.Decide}), work.ErrNotFound, "an owner's are on the offerings")
	texts, err := o.Messaging.Texts(ctx, demo.ID("falkenau"))
	require.NoError(t, err)
	assert.Equal(t, message.Usual(), texts, "the usual words hold again")
}

// A link decides once, for its reader and its rung, until it expires; whatever
// is wrong with it changes nothing.
func TestLinks(t *testing.T) {
	ctx := context.Background()
	begin := func() (*demotest.Office, request.State, string) {
		o := demotest.New(t)
		state := o.Ask("sarmento", "covered")
		post(t, o)
		return o, state, tokens(lettersTo(o, "quist")[0])[0]
	}
	status := func(o *demotest.Office, id string) request.Status {
		state, err := o.Store.Request(ctx, id)
		require.NoError(t, err)
		return state.Status
	}
	stale := func(o *demotest.Office, id, token, why string) {
		t.Helper()
		before, err := o.Store.Events(ctx, id)
		require.NoError(t, err)
		linked, err := o.Deciding.OpenLink(ctx, token)
		require.NoError(t, err)
		assert.Contains(t, linked.Trouble, why)
		_, err = o.Deciding.DecideByLink(ctx, token, request.Decline, "No.")
		refused, ok := request.AsRefusal(err)
		require.True(t, ok, "%v", err)
		assert.Equal(t, refusal.StaleLink, refused.Code)
		after, err := o.Store.Events(ctx, id)
		require.NoError(t, err)
		assert.Equal(t, len(before), len(after))
	}

	t.Run("followed by a checker, then used, then used again", func(t *testing.T) {
		o, state, token := begin()
		for range 3 {
			linked, err := o.Deciding.OpenLink(ctx, token)
			require.NoError(t, err)
			assert.Empty(t, linked.Trouble)
		}
		assert.Equal(t, request.Deciding, status(o, state.ID), "following it changes nothing")
		_, err := o.Deciding.DecideByLink(ctx, token, request.Decline, " ")
		_, refused := request.AsRefusal(err)
		assert.True(t, refused, "a decline needs its reason by mail, too")
		_, err = o.Deciding.DecideByLink(ctx, token, request.Approve, "")
		require.NoError(t, err, "and a refused try does not use it up")
		assert.Equal(t, request.Delivering, status(o, state.ID))
		stale(o, state.ID, token, "used already")
	})
	t.Run("used twice in the same instant", func(t *testing.T) {
		o, _, token := begin()
		var wait sync.WaitGroup
		var mu sync.Mutex
		taken := 0
		for range 8 {
			wait.Go(func() {
				if _, err := o.Deciding.DecideByLink(ctx, token, request.Approve, ""); err == nil {
					mu.Lock()
					taken++
					mu.Unlock()
				}
			})
		}
		wait.Wait()
		assert.Equal(t, 1, taken)
	})
	t.Run("altered", func(t *testing.T) {
		o, state, token := begin()
		id, signature, _ := strings.Cut(token, ".")
		other := o.Ask("sarmento", "covered")
		post(t, o)
		otherID, _, _ := strings.Cut(tokens(lettersTo(o, "quist")[0])[0], ".")
		require.NotEqual(t, id, otherID)
		for _, wrong := range []string{"", ".", id, id + ".", "." + signature, otherID + "." + signature, id + "." + strings.ToUpper(signature), token + "A", token[:len(token)-2], id + "x." + signature} {
			_, err := o.Deciding.OpenLink(ctx, wrong)
			assert.ErrorIs(t, err, store.ErrNotFound, wrong)
			_, err = o.Deciding.DecideByLink(ctx, wrong, request.Approve, "")
			assert.ErrorIs(t, err, store.ErrNotFound, wrong)
		}
		assert.Equal(t, request.Deciding, status(o, state.ID))
		assert.Equal(t, request.Deciding, status(o, other.ID))
	})
	t.Run("expired", func(t *testing.T) {
		o, state, token := begin()
		o.Clock.Pass(15 * 24 * time.Hour)
		stale(o, state.ID, token, "expired")
	})
	t.Run("taken back", func(t *testing.T) {
		o, state, token := begin()
		o.Must("sarmento", state.ID, request.Withdraw{})
		stale(o, state.ID, token, "taken back")
	})
	t.Run("asked back", func(t *testing.T) {
		o, state, token := begin()
		o.Must("quist", state.ID, request.AskBack{Rung: "manager", Text: "Why?"})
		stale(o, state.ID, token, "waits for an answer of Davi Sarmento")
	})
	t.Run("decided on the page", func(t *testing.T) {
		o, state, token := begin()
		o.Must("quist", state.ID, request.Decide{Rung: "manager", Decision: request.Approve})
		stale(o, state.ID, token, "decided already")
	})
	t.Run("passed on", func(t *testing.T) {
		o, state, token := begin()
		o.Must("quist", state.ID, request.PassOn{Rung: "manager", To: demo.ID("falkenau"), Reason: "Yours."})
		stale(o, state.ID, token, "not with you any more")
	})
	t.Run("for a message that asks for no decision", func(t *testing.T) {
		o, _, _ := begin()
		_, err := o.Deciding.OpenLink(ctx, "none.none")
		assert.ErrorIs(t, err, store.ErrNotFound)
	})
}

// Absences: the stand-in is asked, also when the absence begins later, and
// whoever leaves is relieved.
func TestAbsences(t *testing.T) {
	ctx := context.Background()
	o := demotest.New(t)
	now := o.Clock.Now()
	set := func(actor, person, standIn string, from, until time.Duration) error {
		_, err := o.Deciding.SetAbsence(ctx, demo.ID(actor), people.Absence{Person: demo.ID(person), StandIn: demo.ID(standIn), From: now.Add(from), Until: now.Add(until)})
		return err
	}
	for name, err := range map[string]error{
		"backwards":             set("quist", "quist", "falkenau", 2*time.Hour, time.Hour),
		"over already":          set("quist", "quist", "falkenau", -2*time.Hour, -time.Hour),
		"for years":             set("quist", "quist", "falkenau", 0, 3*366*24*time.Hour),
		"oneself":               set("quist", "quist", "quist", 0, time.Hour),
		"nobody known":          set("quist", "quist", "stranger", 0, time.Hour),
		"manager names herself": set("quist", "sarmento", "quist", 0, time.Hour),
		"admin names herself":   set("lindskaug", "quist", "lindskaug", 0, time.Hour),
	} {
		_, refused := request.AsRefusal(err)
		assert.True(t, refused, name)
	}
	assert.ErrorIs(t, set("sarmento", "quist", "falkenau", 0, time.Hour), store.ErrNotFound, "not one's own manager's")

	state := o.Ask("sarmento", "covered")
	require.NoError(t, set("vidigal", "quist", "falkenau", 2*time.Hour, 48*time.Hour), "her manager may")
	_, refused := request.AsRefusal(set("quist", "quist", "marrec", 3*time.Hour, 4*time.Hour))
	assert.True(t, refused, "two absences at once")
	post(t, o)
	waiting := func() []string {
		s, err := o.Store.Request(ctx, state.ID)
		require.NoError(t, err)
		r, _ := s.OpenRung()
		return r.Waiting()
	}
	assert.Equal(t, []string{demo.ID("quist")}, waiting())
	o.Clock.Pass(3 * time.Hour)
	post(t, o)
	assert.Equal(t, []string{demo.ID("quist"), demo.ID("falkenau")}, waiting(), "as the absence begins the stand-in is asked")
	o.Must("falkenau", state.ID, request.Decide{Rung: "manager", Decision: request.Approve})
	events, err := o.Store.Events(ctx, state.ID)
	require.NoError(t, err)
	var said []string
	for _, e := range request.History(events, o.Company(), request.Viewer{Owner: true}) {
		said = append(said, e.Actor+": "+e.Sentence)
	}
	assert.Contains(t, said, "Henrike Falkenau: Approved, for Ragnhild Quist")

	second := o.Ask("sarmento", "covered")
	assert.Equal(t, []string{demo.ID("falkenau")}, second.Rungs[0].Waiting(), "while she is away only the stand-in is asked")
	absences, err := o.Deciding.Absences(ctx, demo.ID("quist"), demo.ID("quist"))
	require.NoError(t, err)
	require.Len(t, absences, 1)
	require.NoError(t, o.Deciding.EndAbsence(ctx, demo.ID("quist"), absences[0].ID))
	third := o.Ask("sarmento", "covered")
	assert.Equal(t, []string{demo.ID("quist")}, third.Rungs[0].Waiting())
}

// An absence is told to those it concerns and leaves offerings compiled.
func TestAnAbsenceTellsThoseItConcerns(t *testing.T) {
	ctx := context.Background()
	o := demotest.New(t)
	hears := map[string]<-chan work.Change{}
	for _, login := range []string{"quist", "falkenau", "vidigal", "sarmento", "castelo"} {
		changes, end := o.Live.Listen(demo.ID(login))
		t.Cleanup(end)
		hears[login] = changes
	}
	before, err := o.Version(ctx, "berth-side-parking", 1)
	require.NoError(t, err)
	_, err = o.Deciding.SetAbsence(ctx, demo.ID("quist"), people.Absence{StandIn: demo.ID("falkenau"), From: o.Clock.Now(), Until: o.Clock.Now().Add(48 * time.Hour)})
	require.NoError(t, err)
	after, err := o.Version(ctx, "berth-side-parking", 1)
	require.NoError(t, err)
	assert.Same(t, before, after)
	for login, told := range map[string]int{"quist": 1, "falkenau": 1, "vidigal": 1, "sarmento": 0, "castelo": 0} {
		assert.Len(t, hears[login], told, login)
	}
	_, err = o.Keeping.GiveRole(ctx, demo.ID("lindskaug"), demo.ID("castelo"), people.Analyst)
	require.NoError(t, err)
	after, err = o.Version(ctx, "berth-side-parking", 1)
	require.NoError(t, err)
	assert.Same(t, before, after, "a change of one of the people leaves them, too")
	assert.Empty(t, hears["sarmento"], "and tells those it concerns")
	assert.Len(t, hears["castelo"], 1)
}

// Whoever silences a request hears no more news of it, but what waits for them.
func TestSilence(t *testing.T) {
	ctx := context.Background()
	o := demotest.New(t)
	kinds := func(login, id string) []message.Kind {
		var all []message.Kind
		messages, err := o.Messaging.Messages(ctx, demo.ID(login), false, store.Page{Limit: 100})
		require.NoError(t, err)
		for _, m := range messages {
			if m.Request == id {
				all = append(all, m.Kind)
			}
		}
		return all
	}
	loud, quiet, again := o.Ask("sarmento", "covered"), o.Ask("sarmento", "covered"), o.Ask("sarmento", "covered")
	for id, changes := range map[string][]bool{quiet.ID: {true}, again.ID: {true, false}} {
		for _, silent := range changes {
			err := o.Following.Silence(ctx, demo.ID("sarmento"), id, silent)
			require.NoError(t, err)
		}
	}
	for _, state := range []request.State{loud, quiet, again} {
		o.Must("quist", state.ID, request.AskBack{Rung: "manager", Text: "Why?"})
		o.Must("sarmento", state.ID, request.Resubmit{Reply: "So."})
		o.Must("quist", state.ID, request.Decide{Rung: "manager", Decision: request.Approve})
	}
	assert.ElementsMatch(t, []message.Kind{message.Decided, message.AskedBack, message.Sent}, kinds("sarmento", loud.ID))
	assert.ElementsMatch(t, []message.Kind{message.AskedBack, message.Sent}, kinds("sarmento", quiet.ID), "a question waits for an answer")
	assert.ElementsMatch(t, kinds("sarmento", loud.ID), kinds("sarmento", again.ID))
	err := o.Following.Silence(ctx, demo.ID("yilmazer"), loud.ID, true)
	assert.ErrorIs(t, err, work.ErrNotFound)
}

// Reminders, limits and expiry come by themselves, at their times.
func TestDecisionsInTime(t *testing.T) {
	o := demotest.New(t)
	state := o.Ask("sarmento", "covered")
	o.Clock.Pass(19 * 24 * time.Hour) // not yet twenty working days
	post(t, o)
	s, err := o.Store.Request(context.Background(), state.ID)
	require.NoError(t, err)
	assert.Equal(t, request.Deciding, s.Status)
	o.Clock.Pass(11 * 24 * time.Hour)
	post(t, o)
	s, err = o.Store.Request(context.Background(), state.ID)
	require.NoError(t, err)
	assert.Equal(t, request.Expired, s.Outcome)
}

// A mail server that is not there at all: no mail is lost, and none loses a try.
func TestAMailServerThatIsAway(t *testing.T) {
	o := demotest.New(t)
	o.Mailing.Poster = connect.SMTP{Addr: "127.0.0.1:1", From: "heptad@quillonstraits.example", Name: "Heptad"}
	first, second := o.Ask("sarmento", "covered"), o.Ask("castelo", "covered")
	_, err := o.Running.RunDue(context.Background())
	require.NoError(t, err)
	for _, s := range []request.State{first, second} {
		mails, err := o.Store.MailsOf(context.Background(), s.ID)
		require.NoError(t, err)
		assert.Equal(t, "waiting", mails[0].Mail)
		assert.Zero(t, mails[0].Attempts)
		assert.True(t, mails[0].Due.After(o.Clock.Now()))
	}
}

// Three approvers decide in the same instant where two are enough: two votes
// count, the third is told that it is decided, and the work begins once.
func TestDecidedInTheSameInstant(t *testing.T) {
	ctx := context.Background()
	o := demotest.New(t)
	answers := coretest.Answers(map[string]any{
		"port": "maravel", "zones": []any{"fuel"}, "reason": "I bunker the Tern Dancer now.", "from": "2099-01-05",
		"badge": []any{map[string]any{"item": "card", "quantity": 1.0}},
	})
	f, err := o.Asking.SaveDraft(ctx, demo.ID("sarmento"), "quay-access-badge", answers, offering.Beneficiary{})
	require.NoError(t, err)
	state, err := o.Asking.Submit(ctx, demo.ID("sarmento"), f.Draft, request.Submit{Answers: answers})
	require.NoError(t, err)
	o.Must("quist", state.ID, request.Decide{Rung: "manager", Decision: request.Approve})
	var wait sync.WaitGroup
	refused := make(chan bool, 3)
	for _, login := range []string{"abelsen", "ekvall", "okonjo"} {
		wait.Go(func() {
			_, err := o.Do(ctx, demo.ID(login), state.ID, request.Decide{Rung: "safety", Decision: request.Approve})
			_, is := request.AsRefusal(err)
			refused <- is
			if !is {
				assert.NoError(t, err)
			}
		})
	}
	wait.Wait()
	close(refused)
	late := 0
	for is := range refused {
		if is {
			late++
		}
	}
	assert.Equal(t, 1, late)
	events, err := o.Store.Events(ctx, state.ID)
	require.NoError(t, err)
	planned := 0
	for _, e := range events {
		if _, is := e.Body.(request.Planned); is {
			planned++
		}
	}
	assert.Equal(t, 1, planned)
}

// Where an administrator has not allowed it, and on what does something sensitive, a mail
// leads to the decision, and no link decides by itself.
func TestDecidingByMailIsAllowed(t *testing.T) {
	o := demotest.New(t)
	ctx := context.Background()
	by := func(login string) simulate.Letter {
		post(t, o)
		all := lettersTo(o, login)
		require.NotEmpty(t, all, login)
		return all[0]
	}
	before := o.Ask("sarmento", "covered")
	token := tokens(by("quist"))[0]
	org := o.Organisation()
	org.DecideByMail = false
	require.NoError(t, o.Keeping.Organise(ctx, demo.ID("lindskaug"), org))
	linked, err := o.Deciding.OpenLink(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, "This is not decided by a link alone. Sign in to decide.", linked.Trouble)
	_, err = o.Deciding.DecideByLink(ctx, token, request.Approve, "")
	assert.Equal(t, refusal.StaleLink, codeOf(t, err))
	state := o.Ask("castelo", "covered")
	r, _ := state.OpenRung()
	decider, _ := o.Company().Person(r.Seats[0].Person)
	letter := by(decider.Login)
	assert.Empty(t, tokens(letter))
	assert.Contains(t, letter.Text, "Decide:\nhttp://heptad.example/decide/"+state.ID+"/manager")

	org.DecideByMail = true
	require.NoError(t, o.Keeping.Organise(ctx, demo.ID("lindskaug"), org))
	linked, err = o.Deciding.OpenLink(ctx, token)
	require.NoError(t, err)
	assert.Empty(t, linked.Trouble)
	assert.Equal(t, before.ID, linked.State.ID)

	// A leaver's account is disabled, which is sensitive.
	does(t, o, intake.People, "login,name,active\nsarmento,Davi Sarmento,no\n", false)
	desk, _ := o.Company().Team("people-desk")
	lead, _ := o.Company().Person(desk.Lead)
	letter = by(lead.Login)
	assert.Contains(t, letter.Subject, "Sign off Davi Sarmento")
	assert.Empty(t, tokens(letter))
	assert.Contains(t, letter.Text, "/decide/")
}
