// Package demotest gives tests an office with the demo's company, its
// offerings and requests, a clock of their own and a simulated badge system.
package demotest

import (
	"compress/gzip"
	"context"
	"errors"
	"io"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect/badges"
	"heptad/internal/connect/directory"
	"heptad/internal/connect/licences"
	"heptad/internal/connect/purchasing"
	"heptad/internal/connect/webcall"
	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
	"heptad/internal/work"
)

// Start is when the office of a test opens: a Thursday morning.
var Start = time.Date(2027, 3, 11, 9, 0, 0, 0, time.UTC)

// Clock is a clock that tests set.
type Clock struct {
	mu sync.Mutex
	at time.Time
}

// Now is the time it stands at.
func (c *Clock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.at
}

// Pass lets time pass.
func (c *Clock) Pass(d time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.at = c.at.Add(d)
}

// Office is an office of the demo's company.
type Office struct {
	*work.Office
	*demo.Systems
	Badges     *badges.System
	Directory  *directory.System
	Licences   *licences.System
	Purchasing *purchasing.System
	Berths     *webcall.System

	Clock *Clock
	Dir   string
	t     testing.TB
}

// New loads the demo, with the requests of a quiet week, into a folder of the
// test.
func New(t testing.TB) *Office {
	t.Helper()
	return load(t, false)
}

// Season loads the demo with the requests of a whole season.
func Season(t testing.TB) *Office {
	t.Helper()
	return load(t, true)
}

func load(t testing.TB, season bool) *Office {
	t.Helper()
	return opened(t, Start, loaded(t, season))
}

// begun are the folders of a demo that has just been loaded, by whether it has a
// season: made once for all tests of a package.
var begun sync.Map

func loaded(t testing.TB, season bool) fs.FS {
	t.Helper()
	once, _ := begun.LoadOrStore(season, sync.OnceValues(func() (fs.FS, error) {
		dir, err := os.MkdirTemp("", "heptad-demotest-")
		if err != nil {
			return nil, err
		}
		defer func() { _ = os.RemoveAll(dir) }()
		o := &Office{Clock: &Clock{at: Start}, Dir: dir, t: t}
		o.start()
		loading := &demo.Clock{}
		o.open(loading.Now, false)
		err = errors.Join(demo.Load(context.Background(), o.Office, loading, Start, season), o.Store.Close())
		o.Stop()
		files := fstest.MapFS{}
		return files, errors.Join(err, filepath.WalkDir(dir, func(path string, entry fs.DirEntry, err error) error {
			if err != nil || entry.IsDir() {
				return err
			}
			name, _ := filepath.Rel(dir, path) // it is below
			data, err := os.ReadFile(path)
			files[filepath.ToSlash(name)] = &fstest.MapFile{Data: data, Mode: 0o600}
			return err
		}))
	}))
	files, err := once.(func() (fs.FS, error))()
	require.NoError(t, err)
	return files
}

// Before opens a copy of a folder that an earlier program has left, packed by
// gzip, at a time.
func Before(t testing.TB, packed string, when time.Time) *Office {
	t.Helper()
	file, err := os.Open(packed)
	require.NoError(t, err)
	defer func() { require.NoError(t, file.Close()) }()
	data, err := gzip.NewReader(file)
	require.NoError(t, err)
	kept, err := io.ReadAll(data)
	require.NoError(t, err)
	return opened(t, when, fstest.MapFS{"heptad.db": {Data: kept, Mode: 0o600}})
}

// opened is an office at a time, in a folder of the test that begins with files.
func opened(t testing.TB, when time.Time, files fs.FS) *Office {
	t.Helper()
	o := &Office{Clock: &Clock{at: when}, Dir: t.TempDir(), t: t}
	require.NoError(t, os.CopyFS(o.Dir, files))
	o.start()
	t.Cleanup(o.Stop)
	o.open(o.Clock.Now, true)
	require.NoError(t, o.Keeping.Settle(context.Background(), demo.Organisation)) // of a folder from before it was kept
	t.Cleanup(func() {
		o.knowsTheCompany()
		o.countsRight()
		assert.NoError(t, o.Store.HoldsTrue(context.Background()))
		require.NoError(t, o.Store.Close())
	})
	return o
}

// countsRight holds what is counted and indexed with each change against what is kept.
func (o *Office) countsRight() {
	db, err := sqlx.Connect("sqlite", "file:"+filepath.Join(o.Dir, "heptad.db")+"?mode=ro")
	require.NoError(o.t, err)
	defer func() { require.NoError(o.t, db.Close()) }()
	for what, same := range map[string][2]string{
		"closed requests":       {"SELECT person, count(*) FROM closed_of GROUP BY person", "SELECT person, count FROM closed_counts WHERE count > 0"},
		"ratings":               {"SELECT offering, count(*), sum(stars) FROM ratings GROUP BY offering", "SELECT offering, count, stars FROM rated WHERE count > 0"},
		"words of all":          {"SELECT number FROM requests WHERE number IS NOT NULL", "SELECT rowid FROM found"},
		"what people asked for": {"SELECT 'p' || asker, offering, count(*) FROM requests WHERE number IS NOT NULL GROUP BY 1, 2", "SELECT whose, offering, sum(count) FROM asked_weeks WHERE whose LIKE 'p%' GROUP BY 1, 2"},
	} {
		for _, from := range [][2]string{{same[0], same[1]}, {same[1], same[0]}} {
			var wrong int
			require.NoError(o.t, db.Get(&wrong, "SELECT count(*) FROM (SELECT * FROM ("+from[0]+") EXCEPT SELECT * FROM ("+from[1]+"))"))
			assert.Zero(o.t, wrong, what)
		}
	}
}

// knowsTheCompany holds what the office knows of the company, having taken in one change
// after the other, against what is kept.
func (o *Office) knowsTheCompany() {
	kept, err := o.Store.Directory(context.Background())
	require.NoError(o.t, err)
	require.NoError(o.t, o.ReadCompany(context.Background())) // some tests write by themselves
	want, has := kept.Records(), o.Company().Records()
	want.Calendars, has.Calendars = nil, nil // compiled: the same, but not equal
	assert.ElementsMatch(o.t, want.Absences, has.Absences)
	want.Absences, has.Absences = nil, nil
	assert.Equal(o.t, want, has)
	for _, team := range want.Teams {
		assert.Equal(o.t, kept.Members(team.Key), o.Company().Members(team.Key), team.Key)
	}
}

// start starts the systems of the demo.
func (o *Office) start() {
	o.t.Helper()
	var err error
	o.Systems, err = demo.StartSystems(o.Dir, secret, func(name string, err error) { o.t.Errorf("%s has stopped: %v", name, err) })
	require.NoError(o.t, err)
	o.Badges, o.Directory, o.Licences = o.All["badges"].(*badges.System), o.All["directory"].(*directory.System), o.All["licences"].(*licences.System)
	o.Purchasing, o.Berths = o.All["purchasing"].(*purchasing.System), o.All["web"].(*webcall.System)
}

// secret of links, and of connectors.
var secret = []byte("a secret of the tests, 32 bytes.")

// open opens the folder, as a program does that starts; of what happened while
// the company was made no mail goes out.
func (o *Office) open(clock work.Clock, mails bool) {
	o.t.Helper()
	kept, err := store.Open(context.Background(), o.Dir)
	require.NoError(o.t, err)
	const base = "http://heptad.example"
	settings := work.Settings{Store: kept, Clock: clock, Sealed: secret, Log: slog.New(slog.DiscardHandler)}
	if mails {
		settings.Mailing = &work.Mailing{Poster: o.SMTP, Base: base, Secret: secret}
	}
	settings.Connectors = demo.Connectors(kept, secret, base, settings.Mailing)
	o.Office, err = work.New(context.Background(), settings)
	require.NoError(o.t, err)
	require.NoError(o.t, o.Wire(context.Background(), o.Office))
}

// Parking are whole answers to the parking offering; a covered place needs the
// line manager's yes.
func Parking(place string) form.Answers {
	answers := coretest.Answers(map[string]any{"port": "maravel", "plate": "MV-01-QS", "place": []any{map[string]any{"item": place, "quantity": 1.0}}, "from": "2099-01-05"})
	if place == "covered" {
		answers["why"] = form.OfText("I work at night.")
	}
	return answers
}

// Ask sends a request for parking by a person of the demo.
func (o *Office) Ask(login, place string) request.State {
	o.t.Helper()
	return o.Send(login, "berth-side-parking", Parking(place), offering.Beneficiary{})
}

// Send sends a request with answers, by a person of the demo.
func (o *Office) Send(login, key string, answers form.Answers, whom offering.Beneficiary) request.State {
	o.t.Helper()
	ctx := context.Background()
	f, err := o.Asking.SaveDraft(ctx, demo.ID(login), key, answers, whom)
	require.NoError(o.t, err)
	state, err := o.Asking.Submit(ctx, demo.ID(login), f.Draft, request.Submit{Answers: answers, For: f.For})
	require.NoError(o.t, err)
	return state
}

// Must gives a command that is allowed.
func (o *Office) Must(login, id string, commands ...request.Command) request.State {
	o.t.Helper()
	var state request.State
	for _, c := range commands {
		var err error
		state, err = o.Do(context.Background(), demo.ID(login), id, c)
		require.NoError(o.t, err, "%T", c)
	}
	return state
}
