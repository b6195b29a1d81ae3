package web

import (
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
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

	"heptad/internal/core/form"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/work"
)

// Settings are what the interface is served with.
type Settings struct {
	Office   *work.Office
	Sessions scs.Store
	Page     fs.FS       // the built page
	Door     []DoorEntry // who can be chosen to sign in as; empty outside the demo
	Public   string      // URL under which people reach it; empty when only this computer does
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
	router.Use(middleware.Recoverer, server.meters.cutStalled, server.secure(page.policy), middleware.Compress(5))
	router.Get("/healthz", server.health)
	router.Get("/readyz", server.ready)
	router.Group(func(r chi.Router) {
		r.Use(server.withSession)
		server.API = humachi.New(r, server.description())
		server.operations()
		r.Get("/api/live", server.live)
		server.files(r)
		server.reports(r)
	})
	router.Handle("/api", http.HandlerFunc(unknownPath))
	router.Handle("/api/*", http.HandlerFunc(unknownPath))
	router.Get("/*", page.ServeHTTP)
	router.Head("/*", page.ServeHTTP)
	server.Routes = router
	server.Handler = http.NewCrossOriginProtection().Handler(router)
	return server, nil
}

// EndStreams ends the live streams, which otherwise never end by themselves.
func (s *Server) EndStreams() { s.end.Do(func() { close(s.ending) }) }

func (s *Server) description() huma.Config {
	c := huma.DefaultConfig("Heptad", "1")
	c.Info.Description = "Everything the page does, it does through these operations."
	c.DocsPath, c.SchemasPath, c.CreateHooks = "", "", nil
	c.Components.SecuritySchemes = map[string]*huma.SecurityScheme{"session": {Type: "apiKey", In: "cookie", Name: "heptad", Description: "Named __Host-heptad where it is served with TLS"}}
	registry := huma.NewMapRegistry("#/components/schemas/", SchemaName)
	registry.RegisterTypeAlias(reflect.TypeFor[form.Answer](), reflect.TypeFor[any]()) // any JSON: an answer is judged when a form is worked out
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
		open(s, http.MethodPost, "/api/session", "sign-in", s.signIn, s.failures)
	}
	open(s, http.MethodDelete, "/api/session", "sign-out", s.signOut)

	signed(s, http.MethodGet, "/api/offerings", "catalog", everyone, s.catalog)
	signed(s, http.MethodGet, "/api/search", "search", everyone, s.search)
	signed(s, http.MethodPost, "/api/searches", "remember-search", everyone, s.rememberSearch)
	signed(s, http.MethodGet, "/api/picks", "picks", everyone, s.picks)
	signed(s, http.MethodGet, "/api/offerings/{offering}/people", "look-up", everyone, s.lookUp)
	signed(s, http.MethodGet, "/api/offerings/{offering}/form", "open-form", everyone, s.openForm)
	signed(s, http.MethodPut, "/api/offerings/{offering}/draft", "save-draft", everyone, s.saveDraft)
	signed(s, http.MethodPost, "/api/requests/{request}/discard", "discard-draft", concerned, s.discard)
	signed(s, http.MethodPost, "/api/requests/{request}/submit", "submit", concerned, s.submit)

	signed(s, http.MethodGet, "/api/requests", "my-requests", everyone, s.myRequests)
	signed(s, http.MethodGet, "/api/requests/{request}", "request", everyone, s.request)
	signed(s, http.MethodGet, "/api/requests/{request}/export", "export-request", everyone, s.exportRequest)
	signed(s, http.MethodPost, "/api/requests/{request}/confirm", "confirm", concerned, s.confirm)
	signed(s, http.MethodPut, "/api/requests/{request}/draft", "save-returned", concerned, s.saveReturned)
	signed(s, http.MethodPost, "/api/requests/{request}/answer", "resubmit", concerned, s.resubmit)
	signed(s, http.MethodPost, "/api/requests/{request}/withdraw", "withdraw", concerned, s.withdraw)
	signed(s, http.MethodPost, "/api/requests/{request}/words", "comment", concerned, s.comment)
	signed(s, http.MethodPost, "/api/requests/{request}/followers", "follow", concerned, s.follow)
	signed(s, http.MethodDelete, "/api/requests/{request}/followers/{person}", "unfollow", concerned, s.unfollow)

	signed(s, http.MethodGet, "/api/decisions", "my-decisions", everyone, s.myDecisions)
	signed(s, http.MethodGet, "/api/decisions/{request}/{rung}", "decision", everyone, s.decision)
	signed(s, http.MethodPost, "/api/decisions", "decide-several", everyone, s.decideSeveral)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}", "decide", concerned, s.decide)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/question", "ask-back", concerned, s.askBack)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/pass", "pass-on", concerned, s.passOn)

	signed(s, http.MethodGet, "/api/messages", "messages", everyone, s.messages)
	signed(s, http.MethodGet, "/api/messages/{message}", "message", everyone, s.oneMessage)
	signed(s, http.MethodPost, "/api/messages/read", "read-messages", everyone, s.readMessages)
	signed(s, http.MethodGet, "/api/ways", "ways", everyone, s.ways)
	signed(s, http.MethodPut, "/api/ways", "set-way", everyone, s.setWay)
	signed(s, http.MethodGet, "/api/texts", "texts", writers, s.texts)
	signed(s, http.MethodPut, "/api/texts", "set-text", administrators, s.setText)
	signed(s, http.MethodPost, "/api/texts/sample", "sample-text", writers, s.sampleText)
	open(s, http.MethodGet, "/api/mail/{token}", "open-link", s.openLink, s.strangers)
	open(s, http.MethodPost, "/api/mail/{token}", "decide-by-link", s.decideByLink, s.strangers)

	signed(s, http.MethodGet, "/api/people", "find-people", everyone, s.findPeople)
	signed(s, http.MethodGet, "/api/absences", "absences", everyone, s.absences)
	signed(s, http.MethodPost, "/api/absences", "set-absence", everyone, s.setAbsence)
	signed(s, http.MethodDelete, "/api/absences/{absence}", "end-absence", everyone, s.endAbsence)

	signed(s, http.MethodGet, "/api/tasks", "my-tasks", everyone, s.myTasks)
	signed(s, http.MethodGet, "/api/tasks/{request}/{task}", "task", everyone, s.task)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/take", "take", concerned, s.take)
	for _, deed := range []struct {
		path, id string
		on       handlerOf[TextInput, body[taskSheet]]
	}{
		{"ask", "ask-asker", s.askAsker}, {"words", "say", s.say}, {"notes", "note", s.note}, {"stuck", "get-stuck", s.getStuck}, {"skip", "skip-task", s.skip},
	} {
		signed(s, http.MethodPost, "/api/tasks/{request}/{task}/"+deed.path, deed.id, concerned, deed.on)
	}
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/complete", "complete", concerned, s.complete)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/retry", "retry", concerned, s.retry)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/unask", "unask-asker", concerned, s.unaskAsker)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/doubt", "doubt", concerned, s.doubt)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/unask", "unask", concerned, s.unask)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/take-back", "take-back-passed", concerned, s.takeBackPassed)
	signed(s, http.MethodPost, "/api/requests/{request}/heard", "hear", concerned, s.hear)
	signed(s, http.MethodPut, "/api/requests/{request}/silence", "silence", concerned, s.silence)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/correct", "correct", concerned, s.correct)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/hand-over", "hand-over", concerned, s.handOver)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/points", "check-point", concerned, s.check)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/lines", "count-line", concerned, s.count)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/waive", "waive", concerned, s.waive)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/answer", "answer-task", concerned, s.answerTask)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/confirm", "confirm-part", concerned, s.confirmPart)
	signed(s, http.MethodPost, "/api/tasks", "several-tasks", everyone, s.severalTasks)
	signed(s, http.MethodPost, "/api/requests/{request}/tasks", "add-task", concerned, s.addTask)
	signed(s, http.MethodPost, "/api/requests/{request}/cancel", "cancel", concerned, s.cancel)
	signed(s, http.MethodGet, "/api/desk", "desk", everyone, s.desk)
	signed(s, http.MethodGet, "/api/teams/{team}/load", "team-load", everyone, s.load)
	signed(s, http.MethodPut, "/api/views", "save-view", everyone, s.saveView)
	signed(s, http.MethodDelete, "/api/views/{view}", "drop-view", everyone, s.dropView)
	signed(s, http.MethodGet, "/api/replies", "replies", everyone, s.replies)
	signed(s, http.MethodPut, "/api/replies", "save-reply", everyone, s.saveReply)
	signed(s, http.MethodDelete, "/api/replies/{reply}", "drop-reply", everyone, s.dropReply)
	signed(s, http.MethodGet, "/api/find", "find", everyone, s.find)
	signed(s, http.MethodGet, "/api/overview", "overview", everyone, s.overview)
	signed(s, http.MethodGet, "/api/belongings", "belongings", everyone, s.have)
	signed(s, http.MethodGet, "/api/asked", "asked", everyone, s.asked)
	signed(s, http.MethodPost, "/api/requests/{request}/private/{question}/read", "read-private", concerned, s.readPrivate)
	signed(s, http.MethodPost, "/api/requests/{request}/secrets/{task}/{output}/read", "read-secret", everyone, s.readSecret)
	signed(s, http.MethodGet, "/api/secrets", "secrets", everyone, s.secrets)

	signed(s, http.MethodGet, "/api/background", "background", administrators, s.background)
	signed(s, http.MethodPost, "/api/background/look", "look-now", administrators, s.lookNow)
	signed(s, http.MethodPost, "/api/background/aside", "try-again", administrators, s.tryAgain)
	signed(s, http.MethodPut, "/api/connectors/{connector}", "set-connector", administrators, s.setConnector)
	signed(s, http.MethodPost, "/api/connectors/{connector}/retry", "retry-all", administrators, s.retryAll)
	signed(s, http.MethodGet, "/api/grants", "grants", administrators, s.grants)
	signed(s, http.MethodPut, "/api/grants", "grant", administrators, s.grant)
	signed(s, http.MethodDelete, "/api/grants/{service}/{connector}/{action}", "revoke", administrators, s.revoke)
	signed(s, http.MethodGet, "/api/calendars", "calendars", everyone, s.calendars)
	signed(s, http.MethodGet, "/api/calendars/{calendar}", "calendar", everyone, s.oneCalendar)
	signed(s, http.MethodPut, "/api/calendars/{calendar}", "save-calendar", keepers, s.saveCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/try", "try-calendar", keepers, s.tryCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/holidays", "read-holidays", keepers, s.readHolidays)
	open(s, http.MethodGet, "/api/supplier/{token}", "open-supplier", s.openSupplier, s.strangers)
	open(s, http.MethodPost, "/api/supplier/{token}", "answer-supplier", s.answerSupplier, s.strangers)

	signed(s, http.MethodGet, "/api/design", "portfolio", owners, s.portfolio)
	signed(s, http.MethodPost, "/api/design", "create-offering", owners, s.createOffering)
	signed(s, http.MethodGet, "/api/design/{offering}", "open-offering", everyone, s.openOffering)
	signed(s, http.MethodPut, "/api/design/{offering}", "save-offering", ofOffering, s.saveOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}", "drop-draft", ofOffering, s.dropDraft)
	signed(s, http.MethodPost, "/api/design/{offering}/merge", "merge-offering", ofOffering, s.mergeOffering)
	signed(s, http.MethodPost, "/api/design/{offering}/publish", "publish", ofOffering, s.publish)
	signed(s, http.MethodDelete, "/api/design/{offering}/publish", "unschedule", ofOffering, s.unschedule)
	signed(s, http.MethodPost, "/api/design/{offering}/end", "end-offering", ofOffering, s.endOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}/end", "revive-offering", ofOffering, s.reviveOffering)
	signed(s, http.MethodGet, "/api/design/{offering}/versions", "versions", everyone, s.versions)
	signed(s, http.MethodGet, "/api/design/{offering}/changes", "compare", everyone, s.compare)
	signed(s, http.MethodGet, "/api/design/{offering}/audience", "survey", ofOffering, s.survey)
	signed(s, http.MethodPost, "/api/design/{offering}/try", "try-offering", ofOffering, s.tryOffering)
	signed(s, http.MethodPut, "/api/services/{service}/place", "set-place", ofService, s.setPlace)
	signed(s, http.MethodGet, "/api/shared-questions", "shared-questions", owners, s.sharedQuestions)
	signed(s, http.MethodPut, "/api/shared-questions", "share-question", owners, s.shareQuestion)
	signed(s, http.MethodGet, "/api/catalog", "export-catalog", owners, s.exportCatalog)
	signed(s, http.MethodPost, "/api/catalog", "import-catalog", owners, s.importCatalog)
	signed(s, http.MethodPost, "/api/sentences", "write-rule", owners, s.writeRule)
	signed(s, http.MethodPost, "/api/rules", "check-rule", owners, s.checkRule)
	signed(s, http.MethodPost, "/api/lines", "read-lines", owners, s.readLines)
	signed(s, http.MethodPost, "/api/items", "import-items", owners, s.importItems)

	s.API.OpenAPI().AddOperation(&huma.Operation{
		Method: http.MethodGet, Path: "/api/live", OperationID: "live", Security: needsSession,
		Description: "Server-sent events (text/event-stream): a 'change' with kind and id for whatever changes that concerns the person, " +
			"and 'refresh' when events were missed since Last-Event-ID or after.",
		Parameters: []*huma.Param{{Name: "after", In: "query", Schema: &huma.Schema{Type: "integer"}}},
		Responses:  map[string]*huma.Response{"200": {Description: "The stream", Content: map[string]*huma.MediaType{"text/event-stream": {}}}},
	})
}

// Sizes of bodies, in bytes: of most operations, and of those that carry more
// than a few words.
const (
	usualBody   = 32 << 10
	answersBody = 1 << 20
	largeDocs   = 64 << 10 // beside the documents of an operation
)

var bodies = map[string]int64{
	"save-draft": answersBody, "submit": answersBody, "save-returned": answersBody, "resubmit": answersBody,
	"decide-several": 512 << 10, "several-tasks": 64 << 10, "complete": 128 << 10, "publish": 256 << 10,
	"save-offering": offering.MaxSize + largeDocs, "merge-offering": 2*offering.MaxSize + largeDocs, "check-rule": offering.MaxSize + largeDocs, "read-lines": offering.MaxSize + largeDocs, "try-offering": answersBody,
	"share-question": 256 << 10, "import-items": 2 << 20, "import-catalog": offering.MaxCatalog + 1,
	"save-calendar": 512 << 10, "try-calendar": 512 << 10, "read-holidays": 2 << 20, "sample-text": 64 << 10, "set-text": 64 << 10,
}

var needsSession = []map[string][]string{{"session": {}}}

// open registers an operation that needs no sign-in.
func open[I, O any](s *Server, method, path, id string, handler handlerOf[I, O], slowed ...func(huma.Context, func(huma.Context))) {
	op := operation(method, path, id)
	op.Middlewares = slowed
	huma.Register(s.API, op, told(s, handler))
}

// signed registers an operation for people who have signed in and whom the
// gate lets.
func signed[I, O any](s *Server, method, path, id string, let gate, handler handlerOf[I, O]) {
	op := operation(method, path, id)
	op.Security, op.Middlewares = needsSession, huma.Middlewares{s.guarded(let)}
	huma.Register(s.API, op, told(s, handler))
}

func operation(method, path, id string) huma.Operation {
	most := int64(usualBody)
	if large, ok := bodies[id]; ok {
		most = large
	}
	return huma.Operation{Method: method, Path: path, OperationID: id, DefaultStatus: http.StatusOK, MaxBodyBytes: most, BodyReadTimeout: 20 * time.Second}
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
	if s.Office.StandsStill() {
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
