package store_test

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/core/form"
	"heptad/internal/core/message"
	"heptad/internal/store"
)

// filled is a data folder with keys, a request, a file on it, and rows of the audit.
func filled(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "data")
	s := withPerson(t, dir)
	for _, name := range []string{"links", "connectors"} {
		key, err := store.Secret(dir, name, true)
		require.NoError(t, err)
		require.NoError(t, s.KnowKey(ctx, name, key))
	}
	content, size, err := s.KeepContent(strings.NewReader("a picture"), 100)
	require.NoError(t, err)
	add(t, s, "r", monday)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return errors.Join(
			tx.AddUpload(store.Upload{Upload: form.Upload{ID: content, Name: "a.png", Size: size}, Request: "r"}, "p", time.Now()),
			tx.AddAct(audit.Row{At: time.Now(), Act: audit.SignedIn, Actor: "p", Thing: "p"}, audit.Row{At: time.Now(), Act: audit.SignedOut, Actor: "p", Thing: "p", Body: audit.Body{Name: "P"}}),
		)
	}))
	_, err = s.Sessions().Exec("INSERT INTO sessions (token, data, expiry) VALUES ('t', x'00', 9999999999)")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	return dir
}

func TestBackupAndRestore(t *testing.T) {
	dir, to := filled(t), filepath.Join(t.TempDir(), "b.heptad")
	require.NoError(t, store.Backup(ctx, dir, to, dir))
	assert.ErrorContains(t, store.Backup(ctx, dir, to, ""), "there is a file")
	assert.NoDirExists(t, dir+"/backup-")
	data, err := os.ReadFile(to)
	require.NoError(t, err)

	back := filepath.Join(t.TempDir(), "back")
	r, err := store.Restore(ctx, to, back, "", time.Now())
	require.NoError(t, err)
	assert.True(t, r.Keys)
	_, err = store.Restore(ctx, to, back, "", time.Now())
	assert.ErrorContains(t, err, "is not empty")
	s, err := store.Open(ctx, back)
	require.NoError(t, err)
	held, err := s.HeldBack(ctx)
	require.NoError(t, err)
	assert.Equal(t, r.Made.UnixMilli(), held.Made.UnixMilli())
	for subject, m := range map[string]store.Message{ // what goes out before the yes is a link for a password that was asked for since
		"old": {Kind: message.Entry, At: r.Made.Add(-time.Hour)}, "told": {Kind: message.Duty, At: time.Now().Add(time.Second)}, "link": {Kind: message.Entry, At: time.Now().Add(time.Second)},
	} {
		m.Subject, m.Person, m.Mail, m.Due = subject, "p", "waiting", r.Made
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.AddMessages([]store.Message{m}) }))
	}
	mails, err := s.LeaseMails(ctx, time.Now(), 10)
	require.NoError(t, err)
	require.Len(t, mails, 1)
	assert.Equal(t, "link", mails[0].Subject)
	_, err = s.NextMail(ctx)
	require.ErrorIs(t, err, store.ErrNotFound)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.LetGo(time.Now()) }))
	mails, err = s.LeaseMails(ctx, time.Now(), 10)
	require.NoError(t, err)
	assert.Len(t, mails, 2)
	_, err = s.HeldBack(ctx)
	assert.ErrorIs(t, err, store.ErrNotFound)
	uploads, err := s.Uploads(ctx, "r")
	require.NoError(t, err)
	for id := range uploads {
		file, err := s.Content(id)
		require.NoError(t, err)
		require.NoError(t, file.Close())
	}
	assert.Len(t, uploads, 1)
	var sessions int
	require.NoError(t, s.Sessions().QueryRow("SELECT count(*) FROM sessions").Scan(&sessions))
	assert.Zero(t, sessions, "sessions are in no backup")
	acts, err := s.Acts(ctx, store.WantedActs{Limit: 10})
	require.NoError(t, err)
	assert.Equal(t, audit.Restored, acts[0].Act)
	_, wrong, err := s.VerifyChains(ctx)
	require.NoError(t, err)
	assert.Empty(t, wrong, "the chain goes on over the restore")
	require.NoError(t, s.Close())

	// Cut off anywhere, or altered anywhere, it is refused, and nothing is left behind.
	other := filepath.Join(t.TempDir(), "other")
	bad := filepath.Join(t.TempDir(), "bad.heptad")
	for at := len(data) - 1600; at > 0; at -= len(data)/7 + 1 {
		require.NoError(t, os.WriteFile(bad, data[:at], 0o600))
		_, err := store.Restore(ctx, bad, other, "", time.Now())
		assert.ErrorContains(t, err, "damaged or was cut off", at)
		altered := bytes.Clone(data)
		altered[at] ^= 1
		require.NoError(t, os.WriteFile(bad, altered, 0o600))
		_, err = store.Restore(ctx, bad, other, "", time.Now())
		if err == nil { // it was the padding between two entries, which says nothing
			require.NoError(t, os.RemoveAll(other))
		}
		assert.NoDirExists(t, other+".part")
	}
	for name, text := range map[string]string{"no backup": "a text", "nothing": ""} {
		require.NoError(t, os.WriteFile(bad, []byte(text), 0o600))
		_, err := store.Restore(ctx, bad, other, "", time.Now())
		assert.ErrorContains(t, err, "damaged", name)
	}
}

// Without its keys, a backup is restored with those that are kept apart, and with no
// others.
func TestRestoreWithKeys(t *testing.T) {
	dir, to := filled(t), filepath.Join(t.TempDir(), "b.heptad")
	require.NoError(t, store.Backup(ctx, dir, to, ""))
	wrong := t.TempDir()
	for _, name := range []string{"links", "connectors"} {
		_, err := store.Secret(wrong, name, true)
		require.NoError(t, err)
	}
	back := filepath.Join(t.TempDir(), "back")
	_, err := store.Restore(ctx, to, back, wrong, time.Now())
	assert.ErrorContains(t, err, "is not the one the data was written with")
	assert.NoDirExists(t, back)
	r, err := store.Restore(ctx, to, back, dir, time.Now())
	require.NoError(t, err)
	assert.False(t, r.Keys)
	assert.NoFileExists(t, filepath.Join(back, "links.secret"))
}

// While others write, a backup is of one instant: what is in it is whole, and nothing
// that was kept before it is missing.
func TestBackupUnderWrites(t *testing.T) {
	dir := filled(t)
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	writing, stop := context.WithCancel(ctx)
	var all sync.WaitGroup
	kept := 0
	all.Go(func() {
		for n := 2; writing.Err() == nil; n++ {
			add(t, s, fmt.Sprint("r", n), monday)
			kept = n
		}
	})
	var files []string
	for n := range 5 {
		time.Sleep(30 * time.Millisecond)
		to := filepath.Join(t.TempDir(), fmt.Sprint(n))
		require.NoError(t, store.Backup(ctx, dir, to, ""))
		files = append(files, to)
	}
	stop()
	all.Wait()
	require.NoError(t, s.Close())
	last := 0
	for n, to := range files {
		back := filepath.Join(t.TempDir(), fmt.Sprint("back", n))
		_, err := store.Restore(ctx, to, back, "", time.Now())
		require.NoError(t, err)
		in, err := store.Inspect(ctx, back)
		require.NoError(t, err)
		_, wrong, err := in.VerifyChains(ctx)
		require.NoError(t, err)
		assert.Empty(t, wrong)
		damage, err := in.Damage(ctx, 5)
		require.NoError(t, err)
		assert.Empty(t, damage)
		some, err := in.Requests(ctx, "", 1_000_000)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(some), last)
		last = len(some)
		require.NoError(t, in.Close())
	}
	assert.LessOrEqual(t, last, kept)
	assert.Greater(t, last, 1)
}

// A row of the audit that somebody alters by hand is named, and so is an event.
func TestAlteredByHand(t *testing.T) {
	for name, c := range map[string]struct{ sql, want string }{
		"an act":           {"DROP TRIGGER audit_stays; UPDATE audit SET actor = 'other' WHERE id = 1", "audit: row 1 was altered, or one before it taken out"},
		"what an act says": {"DROP TRIGGER audit_bodies_stay; UPDATE audit_bodies SET body = '{}' WHERE id = 2", "audit: row 2 was altered: what it says is not what it said"},
		"an act taken out": {"DROP TRIGGER audit_remains; DELETE FROM audit_bodies WHERE id = 1; DELETE FROM audit WHERE id = 1", "audit: row 1 is missing"},
		"the last act":     {"DROP TRIGGER audit_remains; DELETE FROM audit_bodies WHERE id = 2; DELETE FROM audit WHERE id = 2", "audit: row 2 is missing"},
		"an event":         {"DROP TRIGGER events_stay; UPDATE events SET event = packed('events', 'other')", "events: row 1 was altered, or one before it taken out"},
		"a forgotten body": {"DELETE FROM audit_bodies WHERE id = 2", ""},
		"nothing":          {"SELECT 1", ""},
	} {
		dir := filled(t)
		db, err := sql.Open("sqlite", filepath.Join(dir, "heptad.db"))
		require.NoError(t, err)
		_, err = db.Exec(c.sql)
		require.NoError(t, err, name)
		require.NoError(t, db.Close())
		in, err := store.Inspect(ctx, dir)
		require.NoError(t, err)
		_, wrong, err := in.VerifyChains(ctx)
		require.NoError(t, err)
		if c.want == "" {
			assert.Empty(t, wrong, name)
		} else {
			assert.Equal(t, []string{c.want}, wrong, name)
		}
		require.NoError(t, in.Close())
	}
	s, err := store.Open(ctx, filled(t))
	require.NoError(t, err)
	for _, attempt := range []string{"UPDATE audit SET actor = 'x'", "DELETE FROM audit", "UPDATE audit_bodies SET body = ''"} {
		_, err := s.Writer().Exec(attempt)
		assert.ErrorContains(t, err, "only ever added to", attempt)
	}
	require.NoError(t, s.Close())
}

// A file that a newer program has written is refused with a sentence, and not touched.
func TestANewerFolder(t *testing.T) {
	dir := filled(t)
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	_, err = s.Writer().Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)")
	require.NoError(t, err)
	require.NoError(t, s.Close())
	_, err = store.Open(ctx, dir)
	assert.ErrorContains(t, err, "the data is of version 99, written by a newer Heptad; this one knows ")
}

// A copy for trying holds nothing that could go out, let somebody in, or is private; it is
// whole, and of no other kind than it says.
func TestCopyForTrial(t *testing.T) {
	dir, to := filled(t), filepath.Join(t.TempDir(), "trial")
	s, err := store.Open(ctx, dir)
	require.NoError(t, err)
	now := time.Now()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return errors.Join(
			tx.AddMessages([]store.Message{{Person: "p", Kind: message.Duty, Mail: "waiting", Subject: "Told to P alone", At: now, Due: now}}),
			tx.AddEntryLink("token", now.Add(time.Hour)),
			tx.KeepSealed(store.Sealed{Request: "r", Part: "answer", Key: "pay", Value: []byte("sealed in secret"), At: now}),
		)
	}))
	require.NoError(t, s.Close())
	real, err := sql.Open("sqlite", filepath.Join(dir, "heptad.db"))
	require.NoError(t, err)
	_, err = real.Exec("UPDATE uploads SET question = 'pay'")
	require.NoError(t, errors.Join(err, real.Close()))
	require.NoError(t, store.CopyForTrial(ctx, dir, to, now))
	assert.ErrorContains(t, store.CopyForTrial(ctx, dir, to, now), "is not empty")
	assert.True(t, store.IsTrial(to))
	assert.False(t, store.IsTrial(dir))
	assert.NoDirExists(t, to+".part")
	data, err := os.ReadFile(filepath.Join(to, "heptad.db"))
	require.NoError(t, err)
	before, err := os.ReadFile(filepath.Join(dir, "heptad.db"))
	require.NoError(t, err)
	for _, gone := range []string{"Told to P alone", "sealed in secret"} {
		assert.Contains(t, string(before), gone)
		assert.NotContains(t, string(data), gone)
	}
	files, err := os.ReadDir(filepath.Join(to, "uploads"))
	require.NoError(t, err)
	assert.Empty(t, files, "the file belongs to a private answer")
	db, err := sql.Open("sqlite", filepath.Join(to, "heptad.db"))
	require.NoError(t, err)
	defer db.Close()
	for _, table := range []string{"messages", "message_words", "message_names", "entry_links", "sealed", "uploads", "key_marks"} {
		var n int
		require.NoError(t, db.QueryRow("SELECT count(*) FROM "+table).Scan(&n))
		assert.Zero(t, n, table)
	}
	copied, err := store.Open(ctx, to)
	require.NoError(t, err)
	defer copied.Close()
	_, err = copied.Request(ctx, "r")
	require.NoError(t, err, "requests are there")
	for i := range 3 {
		require.NoError(t, copied.Write(ctx, func(tx *store.Tx) error {
			return tx.AddTrialMail(store.TrialMail{At: now.UnixMilli(), Name: "P", Address: "p@x.example", Subject: fmt.Sprint(i)})
		}))
	}
	mails, err := copied.TrialMails(ctx, 0, 2)
	require.NoError(t, err)
	require.Len(t, mails, 2)
	assert.Equal(t, "2", mails[0].Subject, "the last first")
	mails, err = copied.TrialMails(ctx, mails[1].ID, 2)
	require.NoError(t, err)
	require.Len(t, mails, 1)
}
