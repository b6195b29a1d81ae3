package store_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

// withServices is a store with one owner and two services.
func withServices(t *testing.T) *store.Store {
	t.Helper()
	s := open(t, t.TempDir())
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		return tx.AddCompany(people.Records{Persons: []people.Person{{ID: "p", Login: "p", Name: "P"}, {ID: "q", Login: "q", Name: "Q"}, {ID: "r", Login: "r", Name: "R"}}, Teams: []people.Team{{Key: "t", Name: "T", Lead: "p"}}, Services: []people.Service{
			{Key: "quay", Name: "Quay", Area: "Facilities", Owner: "p", Home: "t", Place: people.Offered},
			{Key: "boats", Name: "Boats", Area: "Facilities", Owner: "p", Home: "t", Place: people.Intended},
		}})
	}))
	return s
}

func document(key, service, name string, keywords ...string) offering.Document {
	d := offering.New(key, name, service, "EUR", "UTC")
	d.Purpose.Text, d.Purpose.Keywords = "For "+name+".", keywords
	return d
}

// publish makes a version current at once.
func publish(t *testing.T, s *store.Store, d offering.Document) {
	t.Helper()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
		if err := tx.AddDraft(d, "p", monday); err != nil {
			return err
		}
		v, err := tx.VersionIn(ctx, d.Key, store.Draft)
		if err != nil {
			return err
		}
		return tx.Publish(v, nil, "p", monday)
	}))
}

func catalog(t *testing.T, s *store.Store) string {
	t.Helper()
	entries, err := s.Catalog(ctx)
	require.NoError(t, err)
	keys := make([]string, len(entries))
	for i, e := range entries {
		keys[i] = e.Offering
	}
	return strings.Join(keys, " ")
}

// The catalog holds the current version of what is offered, and nothing else.
func TestTheCatalog(t *testing.T) {
	s := withServices(t)
	publish(t, s, document("badge", "quay", "Badge"))
	publish(t, s, document("boat", "boats", "Pilot boat"))
	assert.Equal(t, "boat badge", catalog(t, s), "by service")
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.AddDraft(document("badge", "quay", "Gate badge"), "p", monday) }))
	entries, err := s.Catalog(ctx)
	require.NoError(t, err)
	assert.Equal(t, "Badge", entries[1].Name, "a draft changes nothing")

	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.End("boat", "badge", "p", monday) }))
	assert.Equal(t, "badge", catalog(t, s))
	ended, err := s.Ended(ctx, "boat")
	require.NoError(t, err)
	assert.Equal(t, "badge", ended.Successor)
	_, err = s.CurrentNumber(ctx, "boat")
	assert.ErrorIs(t, err, store.ErrNotFound)
	v, err := s.VersionNumber(ctx, "boat", 1)
	require.NoError(t, err, "its requests still find their version")
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.Revive(v) }))
	assert.Equal(t, "boat badge", catalog(t, s))
}

// A draft that publishes itself does so once, and a save takes the time away.
func TestDuePublishing(t *testing.T) {
	s := withServices(t)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.AddDraft(document("badge", "quay", "Badge"), "p", monday) }))
	at := monday.Add(time.Hour)
	schedule := func() {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error {
			return tx.PublishAt("badge", at, []store.Accepted{{Name: "x /y", Person: "p", At: monday}}, "p")
		}))
	}
	due := func(now time.Time) []string {
		keys, err := s.DuePublishing(ctx, now)
		require.NoError(t, err)
		return keys
	}
	schedule()
	assert.Empty(t, due(at.Add(-time.Second)))
	assert.Equal(t, []string{"badge"}, due(at))
	next, err := s.NextDue(ctx)
	require.NoError(t, err)
	assert.Equal(t, at, next)
	v, err := s.VersionIn(ctx, "badge", store.Draft)
	require.NoError(t, err)
	assert.Equal(t, "x /y", v.Accepted[0].Name)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.SaveDraft(document("badge", "quay", "Gate badge"), "p", monday) }))
	assert.Empty(t, due(at), "a changed draft waits for its owner")
	schedule()
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.NotPublished("badge", "It lacks something.") }))
	assert.Empty(t, due(at))
	v, err = s.VersionIn(ctx, "badge", store.Draft)
	require.NoError(t, err)
	assert.Equal(t, "It lacks something.", v.Trouble)
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.DropDraft("badge") }))
	_, err = s.VersionIn(ctx, "badge", store.Draft)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// Who has written a version, or one before it, is known, whoever publishes it;
// who writes a later one is no editor of it.
func TestEditors(t *testing.T) {
	s := withServices(t)
	editors := func(state string) []string {
		v, err := s.VersionIn(ctx, "badge", state)
		require.NoError(t, err)
		return v.Editors
	}
	write := func(change func(tx *store.Tx) error) { require.NoError(t, s.Write(ctx, change)) }
	draft := document("badge", "quay", "Badge")
	write(func(tx *store.Tx) error { return tx.AddDraft(draft, "p", monday) })
	write(func(tx *store.Tx) error { return tx.SaveDraft(draft, "q", monday) })
	write(func(tx *store.Tx) error {
		v, err := tx.VersionIn(ctx, "badge", store.Draft)
		require.NoError(t, err)
		return tx.Publish(v, nil, "q", monday)
	})
	write(func(tx *store.Tx) error { return tx.AddDraft(draft, "r", monday) })
	assert.ElementsMatch(t, []string{"p", "q"}, editors(store.Current))
	assert.ElementsMatch(t, []string{"p", "q", "r"}, editors(store.Draft))
	write(func(tx *store.Tx) error { return tx.DropDraft("badge") })
	write(func(tx *store.Tx) error { return tx.AddDraft(draft, "q", monday) })
	assert.ElementsMatch(t, []string{"p", "q"}, editors(store.Draft), "what was dropped counts for nobody")
}

// The content of a file is whole or not there, and nobody reaches outside the
// folder by an ID.
func TestUploads(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer func() { require.NoError(t, s.Close()) }()
	_, _, err := s.KeepContent(strings.NewReader(strings.Repeat("x", 11)), 10)
	require.ErrorIs(t, err, store.ErrTooLarge)
	id, size, err := s.KeepContent(strings.NewReader(strings.Repeat("x", 10)), 10)
	require.NoError(t, err)
	assert.EqualValues(t, 10, size)
	add(t, s, "r", monday)
	u := store.Upload{Upload: form.Upload{ID: id, Name: "a.txt", Type: "text/plain", Size: size}, Request: "r", Question: "q"}
	require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.AddUpload(u, "p", monday) }))
	all, err := s.Uploads(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, map[string]store.Upload{id: u}, all)
	content, err := s.Content(id)
	require.NoError(t, err)
	require.NoError(t, content.Close())
	for _, bad := range []string{"../heptad.db", "/etc/passwd", "none"} {
		_, err := s.Content(bad)
		assert.ErrorIs(t, err, store.ErrNotFound, bad)
	}
	require.NoError(t, s.ForgetContent(id))
	require.NoError(t, s.ForgetContent(id), "once is enough")
	_, err = s.Content(id)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestTypedKeepsForWhom(t *testing.T) {
	s := withPerson(t, t.TempDir())
	defer func() { require.NoError(t, s.Close()) }()
	add(t, s, "r", monday)
	want := store.Typed{Answers: coretest.Answers(map[string]any{"a": nil, "b": "x"}), For: offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Ondina Farsund"}}, SavedAt: monday}
	for range 2 {
		require.NoError(t, s.Write(ctx, func(tx *store.Tx) error { return tx.SaveTyped("r", want) }))
	}
	got, err := s.Typed(ctx, "r")
	require.NoError(t, err)
	assert.Equal(t, want, got, "an emptied answer stays emptied")
}
