package web

import (
	"maps"
	"net/http"
	"path"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"heptad/internal/core/money"
	"heptad/internal/core/offering"
)

func (s *Server) description() huma.Config {
	c := huma.DefaultConfig("Heptad", "1")
	c.Info.Description = "Everything the page does, it does through these operations."
	c.DocsPath, c.SchemasPath, c.CreateHooks = "", "", nil
	c.Components.SecuritySchemes = map[string]*huma.SecurityScheme{"session": {Type: "apiKey", In: "cookie", Name: "heptad", Description: "Named __Host-heptad where it is served with TLS"}}
	registry := huma.NewMapRegistry("#/components/schemas/", SchemaName)
	Enumerate(registry)
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
func (s *Server) operations(r chi.Router) {
	shared := handlers{s.Office}
	ask, follow, decide, deliver := asking{shared}, following{shared}, deciding{shared}, delivering{shared}
	design, arrange, tell, manage := designing{shared}, arranging{shared}, messaging{shared}, managing{shared}
	keep, audits, measures, rehearse := keeping{shared}, auditing{shared}, measuring{shared}, rehearsing{shared}

	open(s, http.MethodGet, "/api/session", "session", s.session)
	if len(s.Door) > 0 {
		open(s, http.MethodGet, "/api/door", "door", s.door)
		open(s, http.MethodPost, "/api/session", "sign-in", s.signIn, s.failures)
	}
	open(s, http.MethodDelete, "/api/session", "sign-out", s.signOut)
	signed(s, http.MethodPost, "/api/session/as", "act-as", everyone, trying{s}.actAs)
	signed(s, http.MethodGet, "/api/trial/mails", "trial-mails", everyone, trying{s}.trialMails)

	open(s, http.MethodPost, "/api/session/password", "enter", s.enter, s.failures)
	open(s, http.MethodPost, "/api/forgotten", "forgot", s.forgot, s.strangers)
	open(s, http.MethodGet, "/api/new-password/{token}", "open-password-link", s.openPasswordLink, s.strangers)
	open(s, http.MethodPost, "/api/new-password/{token}", "set-password-by-link", s.passwordByLink, s.strangers)
	open(s, http.MethodGet, "/api/entry/{token}", "open-entry", s.openEntry, s.strangers)
	open(s, http.MethodPost, "/api/entry/{token}", "move-in", s.moveIn, s.strangers)
	signed(s, http.MethodPost, "/api/session/proof", "prove-again", everyone, s.proveAgain)
	signed(s, http.MethodGet, "/api/me/safety", "safety", everyone, s.safety)
	signed(s, http.MethodGet, "/api/me/profile", "profile", everyone, s.profile)
	signed(s, http.MethodPut, "/api/me/profile", "set-profile", everyone, s.setProfile)
	signed(s, http.MethodPut, "/api/me/password", "set-password", everyone, s.setPassword)
	signed(s, http.MethodPost, "/api/me/factor", "new-factor", everyone, s.newFactor)
	signed(s, http.MethodPut, "/api/me/factor", "set-factor", everyone, s.setFactor)
	signed(s, http.MethodDelete, "/api/me/factor", "drop-factor", everyone, s.dropFactor)
	signed(s, http.MethodPost, "/api/me/codes", "new-codes", everyone, s.newCodes)
	signed(s, http.MethodDelete, "/api/me/sessions", "end-sessions", everyone, s.endSessions)

	signed(s, http.MethodGet, "/api/offerings", "catalog", everyone, ask.catalog)
	signed(s, http.MethodGet, "/api/search", "search", everyone, ask.search)
	signed(s, http.MethodPost, "/api/searches", "remember-search", everyone, ask.rememberSearch)
	signed(s, http.MethodGet, "/api/picks", "picks", everyone, ask.picks)
	signed(s, http.MethodGet, "/api/cost-centres", "cost-centres", everyone, ask.costCentres)
	signed(s, http.MethodGet, "/api/offerings/{offering}/people", "look-up", everyone, ask.lookUp)
	signed(s, http.MethodGet, "/api/offerings/{offering}/form", "open-form", everyone, ask.openForm)
	signed(s, http.MethodPut, "/api/offerings/{offering}/draft", "save-draft", everyone, ask.saveDraft)
	signed(s, http.MethodPost, "/api/requests/{request}/discard", "discard-draft", concerned, ask.discard)
	signed(s, http.MethodPost, "/api/requests/{request}/submit", "submit", concerned, ask.submit)

	signed(s, http.MethodGet, "/api/offerings/{offering}/patterns", "patterns", everyone, ask.patterns)
	signed(s, http.MethodGet, "/api/slip", "slip", everyone, ask.slip)
	signed(s, http.MethodPost, "/api/slip", "send-slip", everyone, ask.sendSlip)
	signed(s, http.MethodPut, "/api/slip/{offering}", "put-on-slip", everyone, ask.putOnSlip)
	signed(s, http.MethodDelete, "/api/slip/drafts/{draft}", "take-off-slip", everyone, ask.takeOffSlip)

	signed(s, http.MethodGet, "/api/requests", "my-requests", everyone, follow.myRequests)
	signed(s, http.MethodGet, "/api/requests/{request}", "request", everyone, follow.request)
	signed(s, http.MethodGet, "/api/requests/{request}/export", "export-request", everyone, follow.exportRequest)
	signed(s, http.MethodPost, "/api/requests/{request}/confirm", "confirm", concerned, follow.confirm)
	signed(s, http.MethodPut, "/api/requests/{request}/rating", "rate", concerned, follow.rate)
	signed(s, http.MethodGet, "/api/requests/{request}/speeds", "speeds", everyone, follow.speeds)
	signed(s, http.MethodPost, "/api/requests/{request}/urge", "urge", concerned, follow.urge)
	signed(s, http.MethodPost, "/api/requests/{request}/back", "send-back", concerned, follow.sendBack)
	signed(s, http.MethodGet, "/api/requests/{request}/ties", "ties", everyone, follow.ties)
	signed(s, http.MethodGet, "/api/requests/{request}/suggested", "suggested-ties", everyone, follow.suggested)
	signed(s, http.MethodPost, "/api/requests/{request}/ties", "tie", concerned, follow.tie)
	signed(s, http.MethodDelete, "/api/requests/{request}/ties/{kind}/{other}", "untie", concerned, follow.untie)
	signed(s, http.MethodPut, "/api/requests/{request}/fault", "open-to-all", concerned, follow.openToAll)
	signed(s, http.MethodGet, "/api/requests/{request}/around", "around", everyone, follow.around)
	signed(s, http.MethodGet, "/api/offerings/{offering}/faults", "open-faults", everyone, follow.openFaults)
	signed(s, http.MethodPost, "/api/faults/{request}/join", "join", everyone, follow.join)
	signed(s, http.MethodGet, "/api/joined", "joined", everyone, follow.joined)
	signed(s, http.MethodPut, "/api/requests/{request}/draft", "save-returned", concerned, ask.saveReturned)
	signed(s, http.MethodPost, "/api/requests/{request}/answer", "resubmit", concerned, follow.resubmit)
	signed(s, http.MethodPost, "/api/requests/{request}/withdraw", "withdraw", concerned, follow.withdraw)
	signed(s, http.MethodPost, "/api/requests/{request}/words", "comment", concerned, follow.comment)
	signed(s, http.MethodPost, "/api/requests/{request}/followers", "follow", concerned, follow.follow)
	signed(s, http.MethodDelete, "/api/requests/{request}/followers/{person}", "unfollow", concerned, follow.unfollow)

	signed(s, http.MethodGet, "/api/decisions", "my-decisions", everyone, decide.myDecisions)
	signed(s, http.MethodGet, "/api/decisions/{request}/{rung}", "decision", everyone, decide.decision)
	signed(s, http.MethodPost, "/api/decisions", "decide-several", everyone, decide.decideSeveral)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}", "decide", concerned, decide.decide)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/question", "ask-back", concerned, decide.askBack)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/pass", "pass-on", concerned, decide.passOn)

	signed(s, http.MethodGet, "/api/messages", "messages", everyone, tell.messages)
	signed(s, http.MethodGet, "/api/messages/{message}", "message", everyone, tell.oneMessage)
	signed(s, http.MethodPost, "/api/messages/read", "read-messages", everyone, tell.readMessages)
	signed(s, http.MethodGet, "/api/ways", "ways", everyone, tell.ways)
	signed(s, http.MethodPut, "/api/ways", "set-way", everyone, tell.setWay)
	signed(s, http.MethodGet, "/api/texts", "texts", writers, tell.texts)
	signed(s, http.MethodPut, "/api/texts", "set-text", administrators, tell.setText)
	signed(s, http.MethodPost, "/api/texts/sample", "sample-text", writers, tell.sampleText)
	open(s, http.MethodGet, "/api/rate/{token}", "open-rating", follow.openRating, s.strangers)
	open(s, http.MethodPost, "/api/rate/{token}", "rate-by-link", follow.rateByLink, s.strangers)
	open(s, http.MethodGet, "/api/mail/{token}", "open-link", decide.openLink, s.strangers)
	open(s, http.MethodPost, "/api/mail/{token}", "decide-by-link", decide.decideByLink, s.strangers)

	signed(s, http.MethodGet, "/api/people", "find-people", everyone, decide.findPeople)
	signed(s, http.MethodGet, "/api/absences", "absences", everyone, decide.absences)
	signed(s, http.MethodPost, "/api/absences", "set-absence", everyone, decide.setAbsence)
	signed(s, http.MethodDelete, "/api/absences/{absence}", "end-absence", everyone, decide.endAbsence)

	signed(s, http.MethodGet, "/api/tasks", "my-tasks", everyone, deliver.myTasks)
	signed(s, http.MethodGet, "/api/tasks/{request}/{task}", "task", everyone, deliver.task)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/take", "take", concerned, deliver.take)
	for _, deed := range []struct {
		path, id string
		on       handlerOf[TextInput, body[none]]
	}{
		{"ask", "ask-asker", deliver.askAsker}, {"words", "say", deliver.say}, {"notes", "note", deliver.note}, {"stuck", "get-stuck", deliver.getStuck}, {"skip", "skip-task", deliver.skip},
	} {
		signed(s, http.MethodPost, "/api/tasks/{request}/{task}/"+deed.path, deed.id, concerned, deed.on)
	}
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/complete", "complete", concerned, deliver.complete)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/retry", "retry", concerned, deliver.retry)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/unask", "unask-asker", concerned, deliver.unaskAsker)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/doubt", "doubt", concerned, deliver.doubt)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/unask", "unask", concerned, decide.unask)
	signed(s, http.MethodPost, "/api/decisions/{request}/{rung}/take-back", "take-back-passed", concerned, decide.takeBackPassed)
	signed(s, http.MethodPost, "/api/requests/{request}/heard", "hear", concerned, follow.hear)
	signed(s, http.MethodPut, "/api/requests/{request}/silence", "silence", concerned, follow.silence)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/correct", "correct", concerned, deliver.correct)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/hand-over", "hand-over", concerned, deliver.handOver)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/points", "check-point", concerned, deliver.check)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/lines", "count-line", concerned, deliver.count)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/waive", "waive", concerned, deliver.waive)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/answer", "answer-task", concerned, deliver.answerTask)
	signed(s, http.MethodPost, "/api/tasks/{request}/{task}/confirm", "confirm-part", concerned, deliver.confirmPart)
	signed(s, http.MethodPost, "/api/tasks", "several-tasks", everyone, deliver.severalTasks)
	signed(s, http.MethodPost, "/api/requests/{request}/tasks", "add-task", concerned, deliver.addTask)
	signed(s, http.MethodPost, "/api/requests/{request}/run", "run-now", concerned, deliver.runNow)
	signed(s, http.MethodPost, "/api/requests/{request}/close", "close", concerned, deliver.close)
	signed(s, http.MethodPost, "/api/requests/{request}/cancel", "cancel", concerned, deliver.cancel)
	signed(s, http.MethodGet, "/api/desk", "desk", everyone, deliver.desk)
	signed(s, http.MethodGet, "/api/teams/{team}/load", "team-load", everyone, deliver.load)
	signed(s, http.MethodPut, "/api/views", "save-view", everyone, deliver.saveView)
	signed(s, http.MethodDelete, "/api/views/{view}", "drop-view", everyone, deliver.dropView)
	signed(s, http.MethodGet, "/api/own-list", "own-list", everyone, deliver.ownList)
	signed(s, http.MethodPut, "/api/own-list", "put-on-list", everyone, deliver.putOnList)
	signed(s, http.MethodDelete, "/api/own-list/{request}", "take-off-list", everyone, deliver.takeOffList)
	signed(s, http.MethodGet, "/api/tasks/{request}/{task}/entry", "calendar-entry", everyone, deliver.calendarEntry)
	signed(s, http.MethodGet, "/api/replies", "replies", everyone, deliver.replies)
	signed(s, http.MethodPut, "/api/replies", "save-reply", everyone, deliver.saveReply)
	signed(s, http.MethodDelete, "/api/replies/{reply}", "drop-reply", everyone, deliver.dropReply)
	signed(s, http.MethodGet, "/api/find", "find", everyone, follow.find)
	signed(s, http.MethodGet, "/api/overview", "overview", everyone, follow.overview)
	signed(s, http.MethodGet, "/api/belongings", "belongings", everyone, follow.have)
	signed(s, http.MethodGet, "/api/parts", "parts", everyone, deliver.toConfirm)
	signed(s, http.MethodPost, "/api/requests/{request}/private/{question}/read", "read-private", concerned, follow.readPrivate)
	signed(s, http.MethodPost, "/api/requests/{request}/secrets/{task}/{output}/read", "read-secret", everyone, follow.readSecret)
	signed(s, http.MethodGet, "/api/secrets", "secrets", everyone, follow.secrets)

	signed(s, http.MethodGet, "/api/organisation", "organisation", administrators, keep.organisation)
	signed(s, http.MethodPut, "/api/organisation", "organise", administrators, keep.organise)
	signed(s, http.MethodGet, "/api/moving-in", "moving-in", administrators, keep.moving)
	signed(s, http.MethodPost, "/api/moving-in/end", "end-moving-in", administrators, keep.endMoving)
	signed(s, http.MethodPost, "/api/moving-in/offerings", "take-starter", administrators, keep.takeStarter)
	signed(s, http.MethodPost, "/api/moving-in/mail", "try-mail", administrators, keep.tryMail)
	signed(s, http.MethodGet, "/api/company/{kind}", "records", administrators, keep.records)
	signed(s, http.MethodGet, "/api/company/{kind}/one", "record", administrators, keep.record)
	signed(s, http.MethodPut, "/api/company/{kind}/one", "save-record", administrators, keep.saveRecord)
	signed(s, http.MethodGet, "/api/care", "care", administrators, keep.care)
	signed(s, http.MethodPost, "/api/care/leaving", "answer-leaving", administrators, keep.answerLeaving)
	signed(s, http.MethodGet, "/api/people/{person}/safety", "safety-of", administrators, keep.safety)
	signed(s, http.MethodDelete, "/api/people/{person}/factor", "drop-factor-of", administrators, keep.dropFactor)
	signed(s, http.MethodDelete, "/api/people/{person}/sessions", "end-sessions-of", administrators, keep.endSessions)
	signed(s, http.MethodGet, "/api/people/{person}/double", "doubled", administrators, keep.doubled)
	signed(s, http.MethodPost, "/api/people/{person}/double", "merge-people", administrators, keep.merge)
	signed(s, http.MethodGet, "/api/backups", "backups", administrators, keep.backups)
	signed(s, http.MethodGet, "/api/held", "held-back", administrators, keep.heldBack)
	signed(s, http.MethodPost, "/api/held", "let-go", administrators, keep.letGo)
	signed(s, http.MethodGet, "/api/roles", "roles", auditors, keep.roles)
	signed(s, http.MethodPost, "/api/roles", "give-role", administrators, keep.giveRole)
	signed(s, http.MethodPost, "/api/roles/answer", "answer-role", administrators, keep.answerRole)
	signed(s, http.MethodDelete, "/api/roles/{person}/{role}", "take-role", administrators, keep.takeRole)
	signed(s, http.MethodGet, "/api/sheets/{sheet}", "sheet", administrators, keep.sheet)
	signed(s, http.MethodPut, "/api/sheets/{sheet}", "edit-sheet", administrators, keep.editSheet)
	signed(s, http.MethodPost, "/api/sheets/{sheet}", "do-sheet", administrators, keep.doSheet)
	signed(s, http.MethodDelete, "/api/sheets/{sheet}", "drop-sheet", administrators, keep.dropSheet)
	signed(s, http.MethodGet, "/api/audit", "acts", auditors, audits.acts)
	signed(s, http.MethodPost, "/api/audit/verify", "verify-audit", auditors, audits.verify)

	signed(s, http.MethodGet, "/api/background", "background", administrators, manage.background)
	signed(s, http.MethodPost, "/api/background/look", "look-now", administrators, manage.lookNow)
	signed(s, http.MethodPost, "/api/background/aside", "try-again", administrators, manage.tryAgain)
	signed(s, http.MethodPut, "/api/connectors/{connector}", "set-connector", administrators, manage.setConnector)
	signed(s, http.MethodPost, "/api/connectors/{connector}/retry", "retry-all", administrators, manage.retryAll)
	signed(s, http.MethodGet, "/api/grants", "grants", administrators, manage.grants)
	signed(s, http.MethodPut, "/api/grants", "grant", administrators, manage.grant)
	signed(s, http.MethodDelete, "/api/grants/{service}/{connector}/{action}", "revoke", administrators, manage.revoke)
	signed(s, http.MethodGet, "/api/calendars", "calendars", everyone, design.calendars)
	signed(s, http.MethodGet, "/api/calendars/{calendar}", "calendar", everyone, design.oneCalendar)
	signed(s, http.MethodPut, "/api/calendars/{calendar}", "save-calendar", keepers, design.saveCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/try", "try-calendar", keepers, design.tryCalendar)
	signed(s, http.MethodPost, "/api/calendars/{calendar}/holidays", "read-holidays", keepers, design.readHolidays)
	open(s, http.MethodGet, "/api/supplier/{token}", "open-supplier", manage.openSupplier, s.strangers)
	open(s, http.MethodPost, "/api/supplier/{token}", "answer-supplier", manage.answerSupplier, s.strangers)

	signed(s, http.MethodGet, "/api/portfolio", "portfolio", owners, design.portfolio)
	signed(s, http.MethodGet, "/api/portfolio/offerings", "portfolio-offerings", owners, design.offerings)
	signed(s, http.MethodGet, "/api/design", "materials", owners, design.materials)
	signed(s, http.MethodPost, "/api/design", "create-offering", owners, design.createOffering)
	signed(s, http.MethodGet, "/api/design/{offering}", "open-offering", everyone, design.openOffering)
	signed(s, http.MethodPut, "/api/design/{offering}", "save-offering", ofOffering, design.saveOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}", "drop-draft", ofOffering, design.dropDraft)
	signed(s, http.MethodPost, "/api/design/{offering}/merge", "merge-offering", ofOffering, design.mergeOffering)
	signed(s, http.MethodPost, "/api/design/{offering}/publish", "publish", ofOffering, design.publish)
	signed(s, http.MethodPost, "/api/design/{offering}/publish/second", "second-yes", ofOffering, design.secondYes)
	signed(s, http.MethodPost, "/api/services", "make-service", owners, arrange.makeService)
	signed(s, http.MethodPut, "/api/services/{service}", "save-service", ofService, arrange.saveService)
	signed(s, http.MethodPost, "/api/design/{offering}/supplied", "take-news", ofOffering, design.takeNews)
	signed(s, http.MethodPut, "/api/areas/{area}", "save-area", ofArea, arrange.saveArea)
	signed(s, http.MethodDelete, "/api/areas/{area}", "drop-area", ofArea, arrange.dropArea)
	signed(s, http.MethodGet, "/api/hanging", "hanging", writers, arrange.hanging)
	signed(s, http.MethodGet, "/api/bundles", "bundles", writers, arrange.bundles)
	signed(s, http.MethodPost, "/api/bundles", "make-bundle", administrators, arrange.makeBundle)
	signed(s, http.MethodPost, "/api/bundle-changes", "turn-bundle", administrators, arrange.turnBundle)
	signed(s, http.MethodGet, "/api/bundles/{bundle}", "bundle", writers, arrange.bundle)
	signed(s, http.MethodPut, "/api/bundles/{bundle}", "save-bundle", administrators, arrange.saveBundle)
	signed(s, http.MethodDelete, "/api/bundles/{bundle}", "drop-bundle", administrators, arrange.dropBundle)
	signed(s, http.MethodGet, "/api/people/{person}/offerings", "reached-by", administrators, arrange.reachedBy)
	signed(s, http.MethodDelete, "/api/design/{offering}/publish", "unschedule", ofOffering, design.unschedule)
	signed(s, http.MethodPost, "/api/design/{offering}/end", "end-offering", ofOffering, design.endOffering)
	signed(s, http.MethodDelete, "/api/design/{offering}/end", "revive-offering", ofOffering, design.reviveOffering)
	signed(s, http.MethodGet, "/api/design/{offering}/versions", "versions", everyone, design.versions)
	signed(s, http.MethodGet, "/api/design/{offering}/changes", "compare", everyone, design.compare)
	signed(s, http.MethodGet, "/api/design/{offering}/audience", "survey", ofOffering, design.survey)
	signed(s, http.MethodPost, "/api/design/{offering}/try", "try-offering", ofOffering, rehearse.tryOffering)
	signed(s, http.MethodPost, "/api/design/{offering}/rehearse", "rehearse", ofOffering, rehearse.rehearse)
	signed(s, http.MethodPost, "/api/design/{offering}/rehearse/moment", "rehearsed-moment", ofOffering, rehearse.moment)
	signed(s, http.MethodPost, "/api/design/{offering}/rehearse/keep", "keep-case", ofOffering, rehearse.keep)
	signed(s, http.MethodGet, "/api/design/{offering}/replays", "replays", ofOffering, rehearse.replays)
	signed(s, http.MethodPost, "/api/design/{offering}/replays", "begin-replay", ofOffering, rehearse.beginReplay)
	signed(s, http.MethodGet, "/api/design/{offering}/replays/{study}", "replay", ofOffering, rehearse.replay)
	signed(s, http.MethodGet, "/api/design/{offering}/foresights", "foresights", ofOffering, rehearse.foresights)
	signed(s, http.MethodPost, "/api/design/{offering}/foresights", "begin-foresight", ofOffering, rehearse.beginForesight)
	signed(s, http.MethodGet, "/api/design/{offering}/foresights/{study}", "foresight", ofOffering, rehearse.foresight)
	signed(s, http.MethodDelete, "/api/design/{offering}/studies/{study}", "stop-study", ofOffering, rehearse.stopStudy)
	signed(s, http.MethodGet, "/api/design/{offering}/cases", "run-cases", ofOffering, rehearse.cases)
	signed(s, http.MethodPost, "/api/design/{offering}/cases/propose", "propose-cases", ofOffering, rehearse.propose)
	signed(s, http.MethodPost, "/api/design/{offering}/cases/{case}/right", "right-case", ofOffering, rehearse.right)
	signed(s, http.MethodPost, "/api/design/{offering}/cases/{case}/supply", "supply-case", ofOffering, rehearse.supply)
	signed(s, http.MethodGet, "/api/design/{offering}/cases/{case}/today", "case-today", ofOffering, rehearse.today)
	signed(s, http.MethodPut, "/api/services/{service}/place", "set-place", ofService, arrange.setPlace)
	signed(s, http.MethodGet, "/api/shared-questions", "shared-questions", owners, design.sharedQuestions)
	signed(s, http.MethodPut, "/api/shared-questions", "share-question", owners, design.shareQuestion)
	signed(s, http.MethodGet, "/api/catalog", "export-catalog", owners, design.exportCatalog)
	signed(s, http.MethodPost, "/api/catalog", "import-catalog", owners, design.importCatalog)
	signed(s, http.MethodPost, "/api/sentences", "write-rule", writers, design.writeRule)
	signed(s, http.MethodPost, "/api/rules", "check-rule", writers, design.checkRule)
	signed(s, http.MethodPost, "/api/lines", "read-lines", owners, design.readLines)
	signed(s, http.MethodPost, "/api/items", "import-items", owners, design.importItems)

	signed(s, http.MethodGet, "/api/measure", "measure", measurers, measures.desk)
	signed(s, http.MethodPost, "/api/measure/screen", "measure-screen", measurers, measures.screen)
	signed(s, http.MethodPost, "/api/measure/records", "measured-records", measurers, measures.records)
	signed(s, http.MethodPost, "/api/measure/values", "measured-values", measurers, measures.values)
	signed(s, http.MethodGet, "/api/boards", "boards", everyone, measures.boards)
	signed(s, http.MethodPost, "/api/boards", "add-board", measurers, measures.addBoard)
	signed(s, http.MethodGet, "/api/boards/{board}", "board", everyone, measures.board)
	signed(s, http.MethodPut, "/api/boards/{board}", "save-board", measurers, measures.saveBoard)
	signed(s, http.MethodDelete, "/api/boards/{board}", "drop-board", everyone, measures.dropBoard)
	signed(s, http.MethodPost, "/api/boards/{board}/wall", "put-on-wall", measurers, measures.putOnWall)
	signed(s, http.MethodDelete, "/api/boards/{board}/wall", "take-off-wall", everyone, measures.takeOffWall)
	signed(s, http.MethodGet, "/api/boards/{board}/copies", "board-copies", everyone, measures.copies)
	signed(s, http.MethodPost, "/api/boards/{board}/copies", "keep-board-copy", measurers, measures.keepCopy)
	signed(s, http.MethodGet, "/api/boards/{board}/copies/{copy}", "board-copy", everyone, measures.copy)
	signed(s, http.MethodDelete, "/api/boards/{board}/copies/{copy}", "drop-board-copy", everyone, measures.dropCopy)
	signed(s, http.MethodGet, "/api/boards/{board}/records/{page}", "board-records", everyone, measures.boardRecords)
	signed(s, http.MethodGet, "/api/targets", "targets", measurers, measures.targets)
	signed(s, http.MethodPost, "/api/targets", "add-target", measurers, measures.addTarget)
	signed(s, http.MethodDelete, "/api/targets/{target}", "drop-target", everyone, measures.dropTarget)
	open(s, http.MethodGet, "/api/wall/{token}", "wall", measures.wall, s.strangers)
	signed(s, http.MethodGet, "/api/measure/goes", "measure-goes", measurers, measures.goesChoices)
	signed(s, http.MethodGet, "/api/measure/goes/{offering}", "where-time-goes", measurers, measures.goes)
	signed(s, http.MethodGet, "/api/measure/next", "what-next", measurers, measures.next)

	plain(s, r, http.MethodGet, "/api/service", "begin-service", s.beginService, beginningService)
	plain(s, r, http.MethodGet, "/api/service/back", "back-from-service", s.backFromService, backService)
	plain(s, r, http.MethodPost, "/api/sheets", "add-sheet", s.addSheet, s.addingSheet())
	plain(s, r, http.MethodGet, "/api/company/{kind}/template", "sheet-template", s.companySheet(true), givingSheet("A sheet with all columns and an example, to be filled in."))
	plain(s, r, http.MethodGet, "/api/company/{kind}/sheet", "export-company", s.companySheet(false), givingSheet("All that is kept of a kind, as a sheet."))
	plain(s, r, http.MethodGet, "/api/audit/rows", "export-audit", s.exportAudit, givingAudit)
	plain(s, r, http.MethodGet, "/api/measure/export", "export-measured", s.exportMeasure, givingMeasured)
	plain(s, r, http.MethodGet, "/api/live", "live", s.live, listening)
	plain(s, r, http.MethodPost, "/api/offerings/{offering}/files", "upload", s.upload, s.uploading("Puts a file on the reader's draft. What it is, is found from its content.", "The file", named("offering", "question", "name")...))
	plain(s, r, http.MethodPost, "/api/requests/{request}/files", "upload-returned", s.upload, s.uploading("Puts a file on a returned request of the reader.", "The file", named("request", "question", "name")...))
	plain(s, r, http.MethodPost, "/api/requests/{request}/added", "attach", s.attach, s.uploading("Adds a file to a request that was sent, with the task it is about, if any.", "The file, as it is kept", append(named("request", "name"), attaching...)...))
	plain(s, r, http.MethodGet, "/api/requests/{request}/files/{file}", "download", s.download, downloading)
	reporters := s.Office.Reporters()
	for _, key := range slices.Sorted(maps.Keys(reporters)) {
		plain(s, r, http.MethodPost, "/api/reports/"+key, "report-"+key, s.report(key), s.reporting(reporters[key]))
	}
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
	"make-service": 128 << 10, "save-service": 128 << 10, "organise": 128 << 10, "save-record": 128 << 10,
	"share-question": 256 << 10, "import-items": 2 << 20, "import-catalog": offering.MaxCatalog + 1,
	"save-calendar": 512 << 10, "try-calendar": 512 << 10, "read-holidays": 2 << 20, "sample-text": 64 << 10, "set-text": 64 << 10,
}

var needsSession = []map[string][]string{{"session": {}}}

// open registers an operation that needs no sign-in.
func open[I, O any](s *Server, method, path, id string, handler handlerOf[I, O], slowed ...func(huma.Context, func(huma.Context))) {
	op := operation(method, path, id)
	op.Middlewares = slowed
	huma.Register(s.API, op, withProblems(s, handler))
}

// signed registers an operation for people who have signed in and whom the
// gate lets.
func signed[I, O any](s *Server, method, path, id string, let gate, handler handlerOf[I, O]) {
	op := operation(method, path, id)
	op.Security, op.Middlewares = needsSession, huma.Middlewares{s.guarded(let)}
	huma.Register(s.API, op, withProblems(s, handler))
}

// plain registers what takes or gives another thing than JSON, and itself asks
// who sends it before it reads what they sent.
func plain(s *Server, r chi.Router, method, path, id string, handler http.HandlerFunc, described huma.Operation) {
	described.Method, described.Path, described.OperationID = method, path, id
	r.Method(method, path, s.unlessBound(id, handler))
	s.API.OpenAPI().AddOperation(&described)
}

func operation(method, path, id string) huma.Operation {
	most := int64(usualBody)
	if large, ok := bodies[id]; ok {
		most = large
	}
	return huma.Operation{Method: method, Path: path, OperationID: id, DefaultStatus: http.StatusOK, MaxBodyBytes: most, BodyReadTimeout: 20 * time.Second}
}
