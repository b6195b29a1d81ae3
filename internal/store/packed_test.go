package store_test

import (
	"crypto/sha256"
	"database/sql"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/audit"
	"heptad/internal/core/message"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// What a program of before kept reads the same once it is packed: states, histories with
// their chain, messages in their order, and the links of mails that went out.
func TestWhatWasKeptBeforeIsPacked(t *testing.T) {
	dir := t.TempDir()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "heptad.db"))
	require.NoError(t, err)
	do := func(query string, args ...any) {
		_, err := db.Exec(query, args...)
		require.NoError(t, err, query)
	}
	require.NoError(t, store.UpTo(ctx, db, 16))
	for _, p := range []string{"p", "q"} {
		do("INSERT INTO people (id, login, name, title, email, department, cost_centre, location, employment, grade) VALUES (?1,?1,?1,'','','','','','','')", p)
	}
	event := request.Event{Seq: 1, At: monday, Actor: "p", Body: request.DraftBegun{ID: "r", Offering: "or", Title: "Two\nlines", Service: "s"}}
	var state request.State
	state.Apply(event)
	whole, err := json.Marshal(state)
	require.NoError(t, err)
	for id, text := range map[string]string{"r": string(whole), "broken": "{"} {
		do("INSERT INTO requests (id, offering, title, service, asker, status, outcome, seq, changed_at, state) VALUES (?1,'o' || ?1,'','s','p','draft','',1,0,?2)", id, text)
	}
	body, err := json.Marshal(event.Body)
	require.NoError(t, err)
	do("INSERT INTO events (request, seq, at, actor, kind, body, chain) VALUES ('r', 1, ?, 'p', ?, ?, ?)",
		monday.UnixMilli(), event.Kind(), string(body), audit.Next(nil, []any{int64(1), "r", 1, monday.UnixMilli(), "p", event.Kind()}, audit.Hash(body)))
	told := func(id, person string, of any, subject, mail string, at time.Time) {
		do("INSERT INTO messages (id, person, request, seq, kind, rung, task, subject, body, at, listed, mail, daily, due_at) VALUES (?,?,?,1,'sent','','',?,'Body' || char(10) || 'of two lines',?,1,?,0,?)", id, person, of, subject, at.UnixMilli(), mail, at.UnixMilli())
	}
	told("z", "p", "r", "It has come in", "sent", monday)
	told("a", "q", "r", "It has come in", "failed", monday)
	told("b", "p", nil, "Later", "off", monday.Add(time.Hour))
	told("c", "p", nil, "Later", "off", monday.Add(time.Hour))
	do("INSERT INTO set_aside (lane, id, reason, at) VALUES ('mail', 'a', 'no answer', 0), ('forecast', 'r', 'x', 0)")
	require.NoError(t, db.Close())

	s := open(t, dir)
	defer s.Close()
	kept, err := s.Request(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, state, kept)
	_, err = s.Request(ctx, "broken")
	require.Error(t, err)
	history, err := s.Events(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, []request.Event{event}, history)
	rows, wrong, err := s.VerifyChains(ctx)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	assert.Equal(t, int64(1), rows)
	mine, err := s.RequestsOf(ctx, "p", store.Mine{Page: store.Page{Limit: 9}})
	require.NoError(t, err)
	require.Len(t, mine, 1, "what cannot be read stops no list")
	assert.Equal(t, state.Title, mine[0].State.Title)

	list, err := s.MessagesOf(ctx, "p", true, store.Page{Limit: 9})
	require.NoError(t, err)
	var subjects []string
	for _, m := range list {
		subjects = append(subjects, m.Subject)
		assert.Equal(t, "Body\nof two lines", m.Body)
	}
	assert.Equal(t, []string{"Later", "Later", "It has come in"}, subjects)
	next, err := s.MessagesOf(ctx, "p", false, store.Page{Limit: 9, Cursor: list[0].ID})
	require.NoError(t, err)
	assert.Equal(t, list[1:], next)
	first, err := s.Message(ctx, "z")
	require.NoError(t, err)
	assert.Equal(t, list[2], first, "by its name of before")
	other, err := s.Message(ctx, "a")
	require.NoError(t, err)
	assert.Equal(t, "q", other.Person)
	aside, err := s.SetAsides(ctx, 9)
	require.NoError(t, err)
	var ids []string
	for _, a := range aside {
		ids = append(ids, a.Lane+" "+a.ID)
	}
	assert.ElementsMatch(t, []string{"mail " + other.ID, "forecast r"}, ids)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.MailAgain(other.ID, monday) }))
	mails, err := s.LeaseMails(ctx, monday, 9)
	require.NoError(t, err)
	require.Len(t, mails, 1)
	assert.Equal(t, other.ID, mails[0].ID)
}

// The same words to many are kept once; to each their own reading and mail.
func TestWordsAreKeptOnce(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer s.Close()
	add(t, s, "r", monday)
	tell := func(request string, seq int, subject string) {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
			return tx.AddMessages([]store.Message{{Person: "p", Request: request, Seq: seq, Kind: message.Sent, Subject: subject, Mail: "off", Listed: true, At: monday}})
		}))
	}
	tell("r", 1, "a")
	assert.ErrorIs(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.AddMessages([]store.Message{{Person: "p", Request: "r", Seq: 1, Kind: message.Sent, Subject: "a", Mail: "off", At: monday}})
	}), store.ErrExists, "nobody is told the same twice")
	tell("r", 1, "b")
	tell("r", 2, "a")
	tell("", 0, "a")
	tell("", 0, "a")
	list, err := s.MessagesOf(ctx, "p", false, store.Page{Limit: 9})
	require.NoError(t, err)
	assert.Len(t, list, 5)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.MarkRead("p", "", "r", monday) }))
	unread, err := s.Unread(ctx, "p")
	require.NoError(t, err)
	assert.Equal(t, 2, unread)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.MarkRead("p", list[0].ID, "", monday) }))
	unread, err = s.Unread(ctx, "p")
	require.NoError(t, err)
	assert.Equal(t, 1, unread)
}

// What was packed with other phrases cannot be read: new ones get a new number, beside these.
func TestPhrasesStay(t *testing.T) {
	for name, sum := range map[string]string{
		"events-1": "b299fced2fe3b09428ab9d1a450f823d77bbfe27051d4032a044b6a276643268",
		"states-1": "154961a631f76f8e0ec97085ce45810a63b6b5eb6ac65f06c1583f128642d8f2",
		"words-1":  "9387c988771d82e15f526ab638c93364ba04de8dbe75888cfd1a055fa5402364",
	} {
		text, err := os.ReadFile(filepath.Join("phrases", name))
		require.NoError(t, err)
		assert.Equal(t, sum, fmt.Sprintf("%x", sha256.Sum256(text)), name)
	}
}

// Whatever is packed is read again as it was, through SQL too; what is damaged is never
// taken for JSON by chance of a panic, nor asks for memory without end.
func TestPacked(t *testing.T) {
	db, err := sql.Open("sqlite", "")
	require.NoError(t, err)
	defer db.Close()
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.OneOf(rapid.String(), rapid.Custom(func(t *rapid.T) string {
			return strings.Repeat(`{"kind":"taskDone","at":"2027-03-08T09:00:00Z","answers":{"zone":"`+rapid.String().Draw(t, "of")+`"}}`, rapid.IntRange(0, 50).Draw(t, "times"))
		})).Draw(t, "text")
		how := rapid.SampledFrom([]string{"states", "events", "words"}).Draw(t, "how")
		var packed []byte
		var again string
		require.NoError(t, db.QueryRow("SELECT packed(?1, ?2), unpacked(packed(?1, ?2))", how, []byte(text)).Scan(&packed, &again))
		assert.Equal(t, text, again)
		assert.LessOrEqual(t, len(packed), len(text)+1)
		damaged := append([]byte{}, packed...)
		damaged[rapid.IntRange(0, len(damaged)-1).Draw(t, "at")] ^= byte(rapid.IntRange(1, 255).Draw(t, "by"))
		require.NoError(t, db.QueryRow("SELECT unpacked(?)", damaged).Scan(&again))
	})
	for _, damaged := range [][]byte{{9}, {1}, {1, 0xff, 0xff, 0xff, 0xff, 0x0f}, {2, 200, 1}} {
		var text string
		require.NoError(t, db.QueryRow("SELECT unpacked(?)", damaged).Scan(&text))
		assert.True(t, strings.HasPrefix(text, "damaged: "), fmt.Sprint(damaged, text))
	}
}
