package load

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path"
	"path/filepath"
	"runtime/pprof"
	"slices"
	"time"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/go-chi/chi/v5"
	"github.com/jmoiron/sqlx"

	"heptad/internal/connect"
	"heptad/internal/demo"
	"heptad/internal/store"
	"heptad/internal/web"
	"heptad/internal/work"
	page "heptad/web"
)

// Serve serves a folder as the program does, with a runner, until the context ends. So
// many people of it can sign in by choosing who they are, the demo's seven first.
// It says on the standard output where it listens, and how long its start took.
// Profile, unless empty, is the file that its processor's profile is written to, from when
// /profile is asked for.
func Serve(ctx context.Context, dir string, door int, profile string) error {
	work.Spare()
	began := time.Now()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	defer listener.Close()
	files, err := page.Files()
	if err != nil {
		return err
	}
	o, err := open(ctx, dir, "http://"+listener.Addr().String(), door, files)
	if err != nil {
		return err
	}
	defer o.close()
	running, stop := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { defer close(done); o.office.Running.Run(running) }()
	defer func() { stop(); <-done }()
	var serving http.Handler = o.handler
	if profile != "" {
		to, err := os.Create(profile)
		if err != nil {
			return err
		}
		defer to.Close()
		defer pprof.StopCPUProfile()
		serving = profiled(o.handler, to)
	}
	fmt.Printf("http://%s %d\n", listener.Addr(), time.Since(began).Milliseconds())
	return listen(ctx, listener, serving, o.handler.EndStreams)
}

// opened is a folder that is served.
type opened struct {
	office  *work.Office
	handler *web.Server
	closing []func()
}

func (o *opened) close() {
	for _, end := range slices.Backward(o.closing) {
		end()
	}
}

// open opens a folder under an address, with so many people at its door and a page.
func open(ctx context.Context, dir, base string, door int, files fs.FS) (_ *opened, err error) {
	o := &opened{}
	defer func() {
		if err != nil {
			o.close()
		}
	}()
	kept, err := store.Open(ctx, dir)
	if err != nil {
		return nil, err
	}
	o.closing = append(o.closing, func() { _ = kept.Close() }) // nothing is under way
	links, sealed, err := secrets(dir, false)
	if err != nil {
		return nil, err
	}
	systems, err := demo.StartSystems(dir, sealed, func(string, error) {})
	if err != nil {
		return nil, err
	}
	o.closing = append(o.closing, systems.Stop)
	mailing := &work.Mailing{Poster: posted{}, Base: base, Secret: links}
	o.office, err = work.New(ctx, work.Settings{
		Store: kept, Clock: time.Now, Sealed: sealed, Mailing: mailing, Connectors: demo.Connectors(kept, sealed, base, mailing),
		Log: slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn})),
	})
	if err != nil {
		return nil, err
	}
	if err := systems.Wire(ctx, o.office); err != nil {
		return nil, err
	}
	at, err := doorOf(o.office, door)
	if err != nil {
		return nil, err
	}
	sessions := sqlite3store.New(kept.Sessions())
	o.closing = append(o.closing, sessions.StopCleanup)
	const nobodyWaits = 1e9
	o.handler, err = web.New(web.Settings{
		Office: o.office, Sessions: sessions, Page: files, Door: at, Log: slog.New(slog.DiscardHandler),
		Limits: web.Limits{
			Writes: nobodyWaits, WritesBurst: nobodyWaits, Lookups: nobodyWaits, LookupsBurst: nobodyWaits, AtOnce: 1000, Streams: 10,
			Strangers: nobodyWaits, StrangerBurst: nobodyWaits, Guesses: nobodyWaits, GuessBurst: nobodyWaits, Stalled: time.Minute,
		},
	})
	return o, err
}

// posted stands for a mail server: what it does with a mail is not ours.
type posted struct{}

func (posted) Post(context.Context, connect.Mail) error { return nil }

// profiled has the processor's profile begin when /profile is asked for. What a call costs is
// labelled with the last word of its path.
func profiled(h http.Handler, to io.Writer) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path != "/profile" {
			pprof.Do(r.Context(), pprof.Labels("call", path.Base(r.URL.Path)), func(context.Context) { h.ServeHTTP(w, r) })
		} else if err := pprof.StartCPUProfile(to); err != nil {
			http.Error(w, err.Error(), http.StatusConflict)
		}
	})
}

// listen answers until the context ends.
func listen(ctx context.Context, on net.Listener, h http.Handler, ending func()) error {
	server := &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second}
	server.RegisterOnShutdown(ending)
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(on) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	last, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return server.Shutdown(last)
}

// doorOf lists so many people, the demo's seven first.
func doorOf(office *work.Office, n int) ([]web.DoorEntry, error) {
	entries, err := demo.Door()
	if err != nil {
		return nil, err
	}
	all := make([]web.DoorEntry, 0, n)
	there := map[string]bool{}
	add := func(id string) {
		if p, ok := office.Company().Person(id); ok && !there[id] && len(all) < n {
			there[id] = true
			all = append(all, web.DoorEntry{Person: p.ID, Name: p.Name, Title: p.Title})
		}
	}
	for _, e := range entries {
		add(e.Person)
	}
	for _, p := range office.Company().Persons() {
		add(p.ID)
	}
	return all, nil
}

// Floor serves what measures are held against: fifty lines of requests read from their
// columns, and an answer that is always the same, by a bare router, statements that were
// prepared, a pool of connections and the standard library's JSON.
func Floor(ctx context.Context, dir string) error {
	db, err := sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?mode=ro&_pragma=query_only(1)&_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(8)
	lines, err := db.PreparexContext(ctx, "SELECT id, reference, title, offering, status, outcome, sent_at FROM requests WHERE number IS NOT NULL ORDER BY number DESC LIMIT 50")
	if err != nil {
		return err
	}
	answer := func(w http.ResponseWriter, what any) {
		w.Header().Set("Content-Type", "application/json")
		_ = json.NewEncoder(w).Encode(what) // whoever asked and left needs no answer
	}
	router := chi.NewRouter()
	router.Get("/constant", func(w http.ResponseWriter, _ *http.Request) { answer(w, map[string]bool{"ok": true}) })
	router.Get("/lines", func(w http.ResponseWriter, r *http.Request) {
		var rows []struct {
			ID, Reference, Title, Offering, Status, Outcome string
			SentAt                                          int64 `db:"sent_at"`
		}
		if err := lines.SelectContext(r.Context(), &rows); err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		answer(w, rows)
	})
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	fmt.Printf("http://%s 0\n", listener.Addr())
	return listen(ctx, listener, router, func() {})
}
