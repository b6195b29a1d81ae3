package web

import (
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"strings"
	"sync"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/klauspost/compress/gzip"

	"heptad/internal/work"
)

// Settings are what the interface is served with.
type Settings struct {
	Office   *work.Office
	Sessions scs.Store
	Page     fs.FS        // the built page
	Door     []DoorEntry  // who can be chosen to sign in as; empty outside the demo
	Proxies  []*net.IPNet // whose word is believed on who asks
	Public   string       // URL under which people reach it; empty when only this computer does
	Limits   Limits
	Log      *slog.Logger
}

// Server is the HTTP interface.
type Server struct {
	Settings
	http.Handler
	API      huma.API
	Routes   chi.Routes // all that it answers
	sessions *scs.SessionManager
	public   *url.URL
	meters   *meters
	ending   chan struct{} // closed when streams are to end
	end      sync.Once
}

// New puts the interface together.
func New(s Settings) (*Server, error) {
	server := &Server{Settings: s, meters: newMeters(s.Limits), ending: make(chan struct{})}
	if err := server.openSessions(); err != nil {
		return nil, err
	}
	page, err := newPage(s.Page)
	if err != nil {
		return nil, err
	}
	router := chi.NewRouter()
	router.Use(middleware.Recoverer, server.forwarded, server.meters.cutStalled, server.secure(page.policy), compressed())
	router.Get("/healthz", server.health)
	router.Get("/readyz", server.ready)
	router.Group(func(r chi.Router) {
		r.Use(server.withSession)
		server.API = humachi.New(r, server.description())
		server.operations(r)
	})
	router.Handle("/api", http.HandlerFunc(unknownPath))
	router.Handle("/api/*", http.HandlerFunc(unknownPath))
	router.Get("/*", page.withAnswers(router, server.cookieName()))
	router.Head("/*", page.ServeHTTP)
	server.Routes = router
	server.Handler = http.NewCrossOriginProtection().Handler(router)
	return server, nil
}

// compressed makes what is sent smaller, as far as that costs little.
func compressed() func(http.Handler) http.Handler {
	const level = 3
	c := middleware.NewCompressor(level)
	c.SetEncoder("gzip", func(w io.Writer, level int) io.Writer {
		z, err := gzip.NewWriterLevel(w, level)
		if err != nil {
			panic(err) // only a level that there is not is an error
		}
		return z
	})
	return c.Handler
}

// EndStreams ends the live streams, which otherwise never end by themselves.
func (s *Server) EndStreams() { s.end.Do(func() { close(s.ending) }) }

// secure sets the headers that keep a page to itself.
func (s *Server) secure(policy string) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			h := w.Header()
			h.Set("Content-Security-Policy", policy)
			h.Set("X-Content-Type-Options", "nosniff")
			h.Set("Referrer-Policy", "same-origin")
			h.Set("X-Frame-Options", "DENY")
			h.Set("Cross-Origin-Opener-Policy", "same-origin")
			h.Set("Cross-Origin-Resource-Policy", "same-origin")
			if s.tls() || r.TLS != nil {
				h.Set("Strict-Transport-Security", "max-age=31536000")
			}
			if strings.HasPrefix(r.URL.Path, "/api") {
				h.Set("Cache-Control", "no-store")
			}
			if !s.ours(r) {
				writeProblem(w, r, http.StatusMisdirectedRequest, "This is not the address of Heptad.")
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

func (s *Server) health(w http.ResponseWriter, r *http.Request) {
	if err := s.Office.Answers(r.Context()); err != nil {
		s.Log.Error("the database does not answer", "error", err)
		writeProblem(w, r, http.StatusServiceUnavailable, "The database does not answer.")
		return
	}
	if s.Office.Running.StandsStill() {
		writeProblem(w, r, http.StatusServiceUnavailable, "The work that goes on by itself stands still.")
		return
	}
	w.Header().Set("Content-Type", "text/plain")
	_, _ = w.Write([]byte("ok\n")) // whoever asked and left needs no answer
}

// ready reports whether work can be taken: it is alive, and there is room to keep
// something.
func (s *Server) ready(w http.ResponseWriter, r *http.Request) {
	if s.Office.Full() {
		writeProblem(w, r, http.StatusServiceUnavailable, "The disk is full: nothing new can be taken.")
		return
	}
	s.health(w, r)
}

func unknownPath(w http.ResponseWriter, r *http.Request) {
	writeProblem(w, r, http.StatusNotFound, "There is nothing here.")
}
