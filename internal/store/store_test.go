package store_test

import (
	"context"
	"crypto/rand"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

var ctx = context.Background()

func open(t *testing.T, dir string) *store.Store {
	t.Helper()
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	return s
}

// add keeps one request with one event and one effect.
func add(t *testing.T, s *store.Store, id string, at time.Time) request.State {
	t.Helper()
	event := request.Event{Seq: 1, At: at, Actor: "p", Body: request.DraftBegun{ID: id, Offering: "o" + id, Title: "T", Service: "s"}}
	var state request.State
	state.Apply(event)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.SaveRequest(state, []request.Event{event}, []request.Effect{{Kind: request.LapseTimer, Key: id + "/lapse", At: at.Add(time.Hour)}})
	}))
	return state
}

func withPerson(t *testing.T, dir string) *store.Store {
	t.Helper()
	s := open(t, dir)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.AddCompany(people.Records{Persons: []people.Person{{ID: "p", Login: "p", Name: "P"}}})
	}))
	return s
}

var monday = time.Date(2027, 3, 8, 9, 0, 0, 0, time.UTC)

func TestHistoryCanOnlyBeAddedTo(t *testing.T) {
	dir := t.TempDir()
	s := withPerson(t, dir)
	add(t, s, "r", monday)
	require.NoError(t, s.Close())
	db, err := sql.Open("sqlite", "file:"+filepath.Join(dir, "heptad.db"))
	require.NoError(t, err)
	defer db.Close()
	for _, attempt := range []string{"UPDATE events SET seq = 7", "DELETE FROM events", "REPLACE INTO events (id, request, seq, at, event, chain) VALUES (1, 'r', 1, 0, x'00', x'00')"} {
		_, err = db.Exec("PRAGMA recursive_triggers = on; " + attempt)
		assert.ErrorContains(t, err, "history is only ever added to", attempt)
	}
}

func TestWhatIsWrittenIsThereAfterOpeningAgain(t *testing.T) {
	dir := t.TempDir()
	s := withPerson(t, dir)
	state := add(t, s, "r", monday)
	require.NoError(t, s.Close())
	s = open(t, dir)
	defer s.Close()
	got, err := s.Request(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, state, got)
	events, err := s.Events(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, state, request.Replay(events))
}

func TestAFailedWriteKeepsNothing(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer s.Close()
	failed := s.Write(ctx, func(tx *store.Tx) error {
		if err := tx.Looked(monday); err != nil {
			return err
		}
		return assert.AnError
	})
	require.ErrorIs(t, failed, assert.AnError)
	_, err := s.LastLooked(ctx)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestOneProcessHoldsAFolder(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	_, err := store.Open(ctx, dir)
	assert.ErrorContains(t, err, "in use by another Heptad")
	assert.ErrorContains(t, store.Remove(dir), "in use by another Heptad")
	require.NoError(t, s.Close())
	require.NoError(t, store.Remove(dir))
	s = open(t, dir)
	require.NoError(t, s.Close())
}

func TestAnEffectIsLeasedOnce(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer s.Close()
	add(t, s, "r", monday)
	due := monday.Add(time.Hour)
	lease := func(at time.Time) int {
		effects, _, err := s.LeaseDue(ctx, "", at, 10)
		require.NoError(t, err)
		return len(effects)
	}
	next, err := s.NextDue(ctx)
	require.NoError(t, err)
	assert.Equal(t, due, next)
	assert.Zero(t, lease(due.Add(-time.Millisecond)))
	assert.Equal(t, 1, lease(due))
	assert.Zero(t, lease(due))
	_, err = s.NextDue(ctx)
	assert.ErrorIs(t, err, store.ErrNotFound)
	require.NoError(t, s.ReleaseEffect(ctx, "r/lapse", due.Add(time.Minute)))
	assert.Zero(t, lease(due))
	assert.Equal(t, 1, lease(due.Add(time.Minute)))
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.FinishEffect("r/lapse") }))
	require.NoError(t, s.ReleaseRunning(ctx))
	assert.Zero(t, lease(due.Add(time.Hour)), "what is done is not done again")
}

func TestAListIsPagedByKey(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer s.Close()
	ids := []string{"a", "b", "c", "d", "e"}
	for i, id := range ids {
		add(t, s, id, monday.Add(time.Duration(i/2)*time.Minute)) // pairs share their time
	}
	var got []string
	page := store.Mine{Page: store.Page{Limit: 2}}
	for {
		entries, err := s.RequestsOf(ctx, "p", page)
		require.NoError(t, err)
		if len(entries) == 0 {
			break
		}
		for _, e := range entries {
			got = append(got, e.State.ID)
		}
		page.Cursor = entries[len(entries)-1].Next
	}
	assert.Equal(t, []string{"e", "c", "d", "a", "b"}, got, "the last changed first")
	for group, want := range map[store.Group]int{"": 5, store.ForReader: 5, store.ForNothing: 0} {
		entries, err := s.RequestsOf(ctx, "p", store.Mine{Page: store.Page{Limit: 9}, Group: group})
		require.NoError(t, err)
		assert.Len(t, entries, want, group)
	}
	none, err := s.RequestsOf(ctx, "p", store.Mine{Page: store.Page{Limit: 9}, Words: "100%", Sort: "likely"})
	require.NoError(t, err)
	assert.Empty(t, none)
	counts, err := s.GroupsOf(ctx, "p")
	require.NoError(t, err)
	assert.Equal(t, map[store.Group]int{store.ForReader: 5}, counts)
}

// When the disk is full new work is refused whole, what is there can be read,
// and once there is room again it goes on.
func TestTheDiskIsFull(t *testing.T) {
	dir := t.TempDir()
	s := withPerson(t, dir)
	add(t, s, "kept", monday)
	require.NoError(t, s.LimitPages(ctx, 0))
	var err error
	n := 0
	for ; err == nil && n < 5000; n++ {
		err = s.Write(ctx, func(tx *store.Tx) error {
			return tx.AddReport(store.Report{At: monday, Connector: "mail", Key: fmt.Sprint(n), Step: "1", Verdict: "taken", Body: strings.Repeat("x", 2000)})
		})
	}
	require.ErrorIs(t, err, store.ErrFull)
	before := n - 1
	entries, err := s.RequestsOf(ctx, "p", store.Mine{Page: store.Page{Limit: 9}})
	require.NoError(t, err)
	assert.Len(t, entries, 1, "what is there can be read")
	require.NoError(t, s.LimitPages(ctx, 1<<20))
	add(t, s, "later", monday)
	require.NoError(t, s.Close())
	again, err := store.Open(ctx, dir)
	require.NoError(t, err)
	defer again.Close()
	entries, err = again.RequestsOf(ctx, "p", store.Mine{Page: store.Page{Limit: 9}})
	require.NoError(t, err)
	assert.Len(t, entries, 2)
	reports, err := again.Reports(ctx, 5000)
	require.NoError(t, err)
	assert.Len(t, reports, before, "each is there whole or not at all")
}

// Forged reports throw each other away, and never what was taken.
func TestReportsDoNotFillTheDisk(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer s.Close()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		for i := range 3000 {
			verdict := "forged"
			if i%1000 == 0 {
				verdict = "taken"
			}
			if err := tx.AddReport(store.Report{At: monday, Connector: "purchasing", Step: fmt.Sprint(i), Verdict: verdict}); err != nil {
				return err
			}
		}
		return nil
	}))
	reports, err := s.Reports(ctx, 10_000)
	require.NoError(t, err)
	kept := map[string]int{}
	for _, r := range reports {
		kept[r.Verdict]++
	}
	assert.Equal(t, map[string]int{"taken": 3, "forged": 1000}, kept)
	assert.Equal(t, "2999", reports[0].Step)
}

// Who signs in or is looked up waits for no writer of the requests.
func TestSessionsWaitForNoWriter(t *testing.T) {
	s := open(t, t.TempDir())
	require.NoError(t, s.Write(context.Background(), func(*store.Tx) error {
		ctx, cancel := context.WithTimeout(context.Background(), time.Second)
		defer cancel()
		_, err := s.Sessions().ExecContext(ctx, "INSERT INTO sessions (token, data, expiry) VALUES ('a', x'00', 1)")
		require.NoError(t, err)
		var token string
		return s.Sessions().QueryRowContext(ctx, "SELECT token FROM sessions").Scan(&token)
	}))
}

// What is written ahead is taken into the file while people write and read.
func TestWhatIsWrittenAheadIsTakenIn(t *testing.T) {
	dir := t.TempDir()
	s := withPerson(t, dir)
	defer s.Close()
	size := func(name string) int64 {
		info, err := os.Stat(filepath.Join(dir, name))
		require.NoError(t, err)
		return info.Size()
	}
	long := func() string {
		var b strings.Builder
		for range 8000 {
			b.WriteString(rand.Text())
		}
		return b.String()
	}
	for range 40 {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
			return tx.AddMessages([]store.Message{{Person: "p", Kind: message.Sent, Subject: "s", Body: long(), Mail: "off", Listed: true, At: monday}})
		}))
	}
	require.Greater(t, size("heptad.db-wal"), int64(4<<20))
	require.Eventually(t, func() bool { return size("heptad.db") > 4<<20 }, 10*time.Second, 50*time.Millisecond)
	list, err := s.MessagesOf(ctx, "p", true, store.Page{Limit: 100})
	require.NoError(t, err)
	assert.Len(t, list, 40)
}
