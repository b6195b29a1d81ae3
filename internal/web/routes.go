package web

import (
	"io/fs"
	"log/slog"
	"net/http"
	"path"
	"reflect"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"

	"heptad/internal/core/money"
	"heptad/internal/work"
)

// Settings are what the interface is served with.
type Settings struct {
	Office   *work.Office
	Sessions scs.Store
	Page     fs.FS       // the built page
	Door     []DoorEntry // who can be chosen to sign in as; empty outside the demo
	Log      *slog.Logger
}

// Server is the HTTP interface.
type Server struct {
	Settings
	http.Handler
	API      huma.API
	sessions *scs.SessionManager
	ending   chan struct{} // closed when streams are to end
	end      sync.Once
}

// lifetime of a session, from signing in.
const lifetime = 12 * time.Hour

// New puts the interface together.
func New(s Settings) (*Server, error) {
	server := &Server{Settings: s, sessions: scs.New(), ending: make(chan struct{})}
	server.sessions.Store = s.Sessions
	server.sessions.Lifetime = lifetime
	server.sessions.Cookie.Name = "heptad"
	server.sessions.Cookie.HttpOnly = true
	server.sessions.Cookie.SameSite = http.SameSiteLaxMode
	server.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		s.Log.Error("a session cannot be kept", "error", err)
		writeProblem(w, r, http.StatusInternalServerError, "Something went wrong on our side. Nothing was changed.")
	}
	page, err := newPage(s.Page)
	if err != nil {
		return nil, err
	}
	router := chi.NewRouter()
	router.Use(middleware.Recoverer, server.secure(page.policy), middleware.Compress(5))
	router.Get("/healthz", server.health)
	router.Group(func(r chi.Router) {
		r.Use(server.sessions.LoadAndSave)
		server.API = humachi.New(r, description())
		server.API.UseMiddleware(server.signedIn)
		server.operations()
		r.Get("/api/live", server.live)
		server.files(r)
		server.reports(r)
	})
	router.Handle("/api", http.HandlerFunc(unknownPath))
	router.Handle("/api/*", http.HandlerFunc(unknownPath))
	router.Get("/*", page.ServeHTTP)
	router.Head("/*", page.ServeHTTP)
	server.Handler = http.NewCrossOriginProtection().Handler(router)
	return server, nil
}

// EndStreams ends the live streams, which otherwise never end by themselves.
func (s *Server) EndStreams() { s.end.Do(func() { close(s.ending) }) }

func description() huma.Config {
	c := huma.DefaultConfig("Heptad", "1")
	c.Info.Description = "Everything the page does, it does through these operations."
	c.DocsPath, c.SchemasPath, c.CreateHooks = "", "", nil
	c.Components.SecuritySchemes = map[string]*huma.SecurityScheme{"session": {Type: "apiKey", In: "cookie", Name: "heptad"}}
	registry := huma.NewMapRegistry("#/components/schemas/", SchemaName)
	c.Components.Schemas = registry
	registry.RegisterTypeAlias(reflect.TypeFor[money.Amount](), reflect.TypeFor[amount]())
	return c
}

// SchemaName names a type of the core after its package, too, as names are
// only clear inside of one.
func SchemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	room := path.Base(t.PkgPath())
	if room == "." || room == "web" {
		return name
	}
	return strings.ToUpper(room[:1]) + room[1:] + name
}

// amount is how money travels.
type amount struct {
	Amount   string `json:"amount" doc:"Decimal number, such as 12.50"`
	Currency string `json:"currency" doc:"ISO 4217"`
}

// operations is the whole API at a glance.
func (s *Server) operations() {
	open(s, http.MethodGet, "/api/session", "session", s.session)
	if len(s.Door) > 0 {
		open(s, http.MethodGet, "/api/door", "door", s.door)
		open(s, http.MethodPost, "/api/session", "sign-in", s.signIn)
	}
	open(s, http.MethodDelete, "/api/session", "sign-out", s.signOut)

	signed(s, http.MethodGet, "/api/offerings", "find-offerings", s.findOfferings)
	signed(s, http.MethodGet, "/api/picks", "picks", s.picks)
	signed(s, http.MethodGet, "/api/offerings/{offering}/people", "look-up", s.lookUp)
	signed(s, http.MethodGet, "/api/offerings/{offering}/form", "open-form", s.openForm)
	signed(s, http.MethodPut, "/api/offerings/{offering}/draft", "save-draft", s.saveDraft)
	signed(s, http.MethodPost, "/api/requests/{request}/discard", "discard-draft", s.discard)
	signed(s, http.MethodPost, "/api/requests/{request}/submit", "submit", s.submit)

	signed(s, http.MethodGet, "/api/requests", "my-requests", s.myRequests)
	signed(s, http.MethodGet, "/api/requests/{request}", "request", s.request)
	signed(s, http.MethodGet, "/api/requests/{request}/export", "export-request", s.exportRequest)
	signed(s, http.MethodPost, "/api/requests/{request}/confirm", "confirm", s.confirm)
	signed(s, http.MethodPut, "/api/requests/{request}/draft", "save-returned", s.saveReturned)
	signed(s, http.MethodPost, "/api/requests/{request}/answer", "resubmit", s.resubmit)
	signed(s, http.MethodPost, "/api/requests/{request}/withdraw", "withdraw", s.withdraw)
	signed(s, http.MethodPost, "/api/requests/{request}/words", "comment", s.comment)
	signed(s, http.MethodPost, "/api/requests/{request}/followers", "follow", s.follow)
	signed(s, http.MethodDelete, "/api/requests/{request}/followers/{person}", "unfollow", s.unfollow)

	signed(s, http.MethodGet, "/api/decisions", "my-decisions", s.myDecisions)
	signed(s, http.MethodGet, "/api/decisions/{request}/{rung}", "decision", s.decision)
	signed(s, http.MethodPost, "/api/decisions", "decide-several", s.decideSeveral)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}", "decide", s.decide)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/question", "ask-back", s.askBack)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/pass", "pass-on", s.passOn)

	signed(s, http.MethodGet, "/api/messages", "messages", s.messages)
	signed(s, http.MethodGet, "/api/messages/{message}", "message", s.oneMessage)
	signed(s, http.MethodPost, "/api/messages/read", "read-messages", s.readMessages)
	signed(s, http.MethodGet, "/api/ways", "ways", s.ways)
	signed(s, http.MethodPut, "/api/ways", "set-way", s.setWay)
	signed(s, http.MethodGet, "/api/texts", "texts", s.texts)
	signed(s, http.MethodPut, "/api/texts", "set-text", s.setText)
	signed(s, http.MethodPost, "/api/texts/sample", "sample-text", s.sampleText)
	open(s, http.MethodGet, "/api/mail/{token}", "open-link", s.openLink)
	open(s, http.MethodPost, "/api/mail/{token}", "decide-by-link", s.decideByLink)

	signed(s, http.MethodGet, "/api/people", "find-people", s.findPeople)
	signed(s, http.MethodGet, "/api/absences", "absences", s.absences)
	signed(s, http.MethodPost, "/api/absences", "set-absence", s.setAbsence)
	signed(s, http.MethodDelete, "/api/absences/{absence}", "end-absence", s.endAbsence)

	signed(s, http.MethodGet, "/api/tasks", "my-tasks", s.myTasks)
	signed(s, http.MethodGet, "/api/tasks/{request}/{task}", "task", s.task)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/take", "take", s.take)
	for _, deed := range []struct {
		path, id string
		on       handlerOf[TextInput, body[taskSheet]]
	}{
		{"ask", "ask-asker", s.askAsker}, {"words", "say", s.say}, {"notes", "note", s.note}, {"stuck", "get-stuck", s.getStuck}, {"skip", "skip-task", s.skip},
	} {
		signed(s, http.MethodPost, "/api/tasks/{request}/{task}/"+deed.path, deed.id, deed.on)
	}
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/complete", "complete", s.complete)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/retry", "retry", s.retry)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/hand-over", "hand-over", s.handOver)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/points", "check-point", s.check)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/lines", "count-line", s.count)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/waive", "waive", s.waive)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/answer", "answer-task", s.answerTask)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/confirm", "confirm-part", s.confirmPart)
	signed(s, http.MethodPost, "/api/tasks", "several-tasks", s.severalTasks)
	signed(s, http.MethodPost, "/api/requests/{request}/tasks", "add-task", s.addTask)
	signed(s, http.MethodPost, "/api/requests/{request}/cancel", "cancel", s.cancel)
	signed(s, http.MethodGet, "/api/desk", "desk", s.desk)
	signed(s, http.MethodGet, "/api/teams/{team}/load", "team-load", s.load)
	signed(s, http.MethodPut, "/api/views", "save-view", s.saveView)
	signed(s, http.MethodDelete, "/api/views/{view}", "drop-view", s.dropView)
	signed(s, http.MethodGet, "/api/replies", "replies", s.replies)
	signed(s, http.MethodPut, "/api/replies", "save-reply", s.saveReply)
	signed(s, http.MethodDelete, "/api/replies/{reply}", "drop-reply", s.dropReply)
	signed(s, http.MethodGet, "/api/find", "find", s.find)
	signed(s, http.MethodGet, "/api/overview", "overview", s.overview)
	signed(s, http.MethodGet, "/api/belongings", "belongings", s.have)
	signed(s, http.MethodGet, "/api/asked", "asked", s.asked)

	signed(s, http.MethodGet, "/api/background", "background", s.background)
	signed(s, http.MethodPost, "/api/background/look", "look-now", s.lookNow)
	signed(s, http.MethodPut, "/api/connectors/{connector}", "set-connector", s.setConnector)
	signed(s, http.MethodPost, "/api/connectors/{connector}/retry", "retry-all", s.retryAll)
	signed(s, http.MethodGet, "/api/calendars", "calendars", s.calendars)
	signed(s, http.MethodGet, "/api/calendars/{calendar}", "calendar", s.oneCalendar)
	signed(s, http.MethodPut, "/api/calendars/{calendar}", "save-calendar", s.saveCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/try", "try-calendar", s.tryCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/holidays", "read-holidays", s.readHolidays)
	open(s, http.MethodGet, "/api/supplier/{token}", "open-supplier", s.openSupplier)
	open(s, http.MethodPost, "/api/supplier/{token}", "answer-supplier", s.answerSupplier)

	signed(s, http.MethodGet, "/api/design", "portfolio", s.portfolio)
	signed(s, http.MethodPost, "/api/design", "create-offering", s.createOffering)
	signed(s, http.MethodGet, "/api/design/{offering}", "open-offering", s.openOffering)
	signed(s, http.MethodPut, "/api/design/{offering}", "save-offering", s.saveOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}", "drop-draft", s.dropDraft)
	signed(s, http.MethodPost, "/api/design/{offering}/merge", "merge-offering", s.mergeOffering)
	signed(s, http.MethodPost, "/api/design/{offering}/publish", "publish", s.publish)
	signed(s, http.MethodDelete, "/api/design/{offering}/publish", "unschedule", s.unschedule)
	signed(s, http.MethodPost, "/api/design/{offering}/end", "end-offering", s.endOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}/end", "revive-offering", s.reviveOffering)
	signed(s, http.MethodGet, "/api/design/{offering}/versions", "versions", s.versions)
	signed(s, http.MethodGet, "/api/design/{offering}/changes", "compare", s.compare)
	signed(s, http.MethodGet, "/api/design/{offering}/audience", "survey", s.survey)
	signed(s, http.MethodPost, "/api/design/{offering}/try", "try-offering", s.tryOffering)
	signed(s, http.MethodPut, "/api/services/{service}/place", "set-place", s.setPlace)
	signed(s, http.MethodGet, "/api/shared-questions", "shared-questions", s.sharedQuestions)
	signed(s, http.MethodPut, "/api/shared-questions", "share-question", s.shareQuestion)
	signed(s, http.MethodGet, "/api/catalog", "export-catalog", s.exportCatalog)
	signed(s, http.MethodPost, "/api/catalog", "import-catalog", s.importCatalog)
	signed(s, http.MethodPost, "/api/sentences", "write-rule", s.writeRule)
	signed(s, http.MethodPost, "/api/rules", "check-rule", s.checkRule)
	signed(s, http.MethodPost, "/api/items", "import-items", s.importItems)

	s.API.OpenAPI().AddOperation(&huma.Operation{
		Method: http.MethodGet, Path: "/api/live", OperationID: "live", Security: needsSession,
		Description: "Server-sent events (text/event-stream): a 'change' with kind and id for whatever changes that concerns the person, " +
			"and 'refresh' when events were missed since Last-Event-ID or after.",
		Parameters: []*huma.Param{{Name: "after", In: "query", Schema: &huma.Schema{Type: "integer"}}},
		Responses:  map[string]*huma.Response{"200": {Description: "The stream", Content: map[string]*huma.MediaType{"text/event-stream": {}}}},
	})
}

// Sizes of bodies, in bytes: of most operations, and of those that carry whole
// documents with their pictures.
const usualBody = 2 << 20

var largeBodies = map[string]int64{
	"save-offering": 8 << 20, "merge-offering": 16 << 20, "check-rule": 8 << 20, "import-items": 16 << 20, "import-catalog": 32 << 20,
}

var needsSession = []map[string][]string{{"session": {}}}

// open registers an operation that needs no sign-in.
func open[I, O any](s *Server, method, path, id string, handler handlerOf[I, O]) {
	huma.Register(s.API, operation(method, path, id), told(s, handler))
}

// signed registers an operation for people who have signed in.
func signed[I, O any](s *Server, method, path, id string, handler handlerOf[I, O]) {
	op := operation(method, path, id)
	op.Security = needsSession
	huma.Register(s.API, op, told(s, handler))
}

func operation(method, path, id string) huma.Operation {
	most := int64(usualBody)
	if large, ok := largeBodies[id]; ok {
		most = large
	}
	return huma.Operation{Method: method, Path: path, OperationID: id, DefaultStatus: http.StatusOK, MaxBodyBytes: most}
}

// secure sets the headers that keep a page to itself.
func (s *Server) secure(policy string) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			h := w.Header()
			h.Set("Content-Security-Policy", policy)
			h.Set("X-Content-Type-Options", "nosniff")
			h.Set("Referrer-Policy", "same-origin")
			h.Set("X-Frame-Options", "DENY")
			next.ServeHTTP(w, r)
		})
	}
}

func (s *Server) health(w http.ResponseWriter, r *http.Request) {
	if err := s.Office.Store.Ping(r.Context()); err != nil {
		s.Log.Error("the database does not answer", "error", err)
		writeProblem(w, r, http.StatusServiceUnavailable, "The database does not answer.")
		return
	}
	if s.Office.StandsStill() {
		writeProblem(w, r, http.StatusServiceUnavailable, "The work that goes on by itself stands still.")
		return
	}
	w.Header().Set("Content-Type", "text/plain")
	_, _ = w.Write([]byte("ok\n")) // whoever asked and left needs no answer
}

func unknownPath(w http.ResponseWriter, r *http.Request) {
	writeProblem(w, r, http.StatusNotFound, "There is nothing here.")
}
