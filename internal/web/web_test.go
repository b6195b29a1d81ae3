package web_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/refusal"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2/memstore"
	"github.com/danielgtaylor/huma/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/intake"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/web"
)

const start = `<!doctype html><meta http-equiv="content-security-policy" content="script-src 'self' 'sha256-abc+/='"><body>page</body>`

// site is the interface over the demo's office, with everybody at the door.
type site struct {
	*httptest.Server
	*demotest.Office
	web      *web.Server
	sessions *memstore.MemStore
	t        *testing.T
}

func serve(t *testing.T) *site {
	return limited(t, web.Limits{Writes: 10_000, WritesBurst: 10_000, Lookups: 10_000, LookupsBurst: 10_000, Strangers: 10_000, StrangerBurst: 10_000, Guesses: 10_000, GuessBurst: 10_000})
}

// limited is a site with limits of its own.
func limited(t *testing.T, limits web.Limits) *site {
	return settled(t, web.Settings{Limits: limits})
}

// keptInFile stands in the limits of a site whose sessions are kept with the
// data, as the program keeps them.
const keptInFile = -1

// public is a site that people reach at an address.
func public(t *testing.T, address string) *site {
	return settled(t, web.Settings{Public: address})
}

func settled(t *testing.T, settings web.Settings) *site {
	t.Helper()
	office := demotest.New(t)
	var door []web.DoorEntry
	for _, p := range office.Company().Persons() {
		door = append(door, web.DoorEntry{Person: p.ID, Name: p.Name, Title: p.Title})
	}
	sessions := memstore.New()
	settings.Office, settings.Door, settings.Log = office.Office, door, slog.New(slog.DiscardHandler)
	settings.Sessions = sessions
	if settings.Limits.Long == keptInFile { // the sessions stand where the data does
		kept := sqlite3store.New(office.Store.Sessions())
		t.Cleanup(kept.StopCleanup)
		settings.Sessions, settings.Limits.Long = kept, 0
	}
	settings.Page = fstest.MapFS{"index.html": {Data: []byte(start)}, "_app/immutable/a.js": {Data: []byte("1")}, "heptagon.svg": {Data: []byte("<svg/>")}}
	server, err := web.New(settings)
	require.NoError(t, err)
	s := &site{httptest.NewServer(server), office, server, sessions, t}
	t.Cleanup(s.Close)
	return s
}

// client is one browser's session.
type client struct {
	*http.Client
	site *site
}

// as signs somebody in; an empty login signs nobody in.
func (s *site) as(login string) *client {
	s.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	c := &client{&http.Client{Jar: jar}, s}
	if login != "" {
		status, _ := c.send("POST", "/api/session", `{"person":"`+demo.ID(login)+`"}`)
		require.Equal(s.t, http.StatusOK, status)
	}
	return c
}

// send makes a request and gives the status and the body.
func (c *client) send(method, path, body string) (int, string) {
	c.site.t.Helper()
	r, err := http.NewRequest(method, c.site.URL+path, strings.NewReader(body))
	require.NoError(c.site.t, err)
	if body != "" {
		r.Header.Set("Content-Type", "application/json")
	}
	response, err := c.Do(r)
	require.NoError(c.site.t, err)
	defer response.Body.Close()
	data, err := io.ReadAll(response.Body)
	require.NoError(c.site.t, err)
	if response.StatusCode >= 400 {
		assert.Equal(c.site.t, "application/problem+json", response.Header.Get("Content-Type"), path)
		var p web.Problem
		require.NoError(c.site.t, json.Unmarshal(data, &p), path)
		assert.Equal(c.site.t, response.StatusCode, p.Status)
		assert.Regexp(c.site.t, `^["A-Z].*[.?]$`, p.Detail, "a problem is told in a sentence")
	}
	return response.StatusCode, string(data)
}

func (c *client) problem(method, path, body string) web.Problem {
	c.site.t.Helper()
	_, data := c.send(method, path, body)
	var p web.Problem
	require.NoError(c.site.t, json.Unmarshal([]byte(data), &p))
	return p
}

const parking = `{"port":"maravel","plate":"MV-01-QS","place":[{"item":"open","quantity":1}],"from":"2099-01-05"}`

const sentence = `{"figure":"asked","period":"last12","along":"month","side":"service","second":"month"}`

// rehearsal is a script that can be rehearsed.
const rehearsal = `{"format":"heptad/rehearsal/1","asker":"castelo","send":"2027-04-01T08:00:00Z","answers":{"port":"maravel","plate":"MV-01-QS","place":[{"item":"open","quantity":1}],"from":"2099-01-05"}}`

// What every operation answers to whom (rules.md 9). The roles are those on a
// request of Davi Sarmento for parking: Ragnhild Quist is his manager, Ysolde
// Marrec and Jorge Coutinho do its tasks, Sunniva Abelsen leads the home team,
// Henrike Falkenau owns the service, and Defne Yilmazer has no part in it.
// Rows are tried in the order of the roles; an operation without a row fails.
func TestRights(t *testing.T) {
	s := serve(t)
	const sarmento, quist, marrec, coutinho, abelsen, falkenau, yilmazer = "sarmento", "quist", "marrec", "coutinho", "abelsen", "falkenau", "yilmazer"
	const lindskaug, auditor = "lindskaug", "godinho" // the administrator, and the auditor
	const editor, areaOwner, analyst, callerStaff = "dahlberg", "mbeki-roy", "bielawa", "cavaco"
	roles := []string{"", yilmazer, quist, marrec, coutinho, abelsen, falkenau, sarmento, editor, areaOwner, analyst, callerStaff, auditor, lindskaug}
	outsiders := []string{lindskaug, auditor, areaOwner, analyst, callerStaff} // to every request of parking
	s.appoint(editor, areaOwner, map[string]string{analyst: people.Analyst, callerStaff: people.CallerStaff})
	type want map[string]int
	everybody := func(status int) want {
		w := want{"": 401}
		for _, role := range roles[1:] {
			w[role] = status
		}
		return w
	}
	anybody := func(status int) want {
		w := everybody(status)
		w[""] = status
		return w
	}
	only := func(refusal int, allowed ...string) want {
		w := everybody(refusal)
		if refusal == 403 {
			for _, role := range outsiders {
				w[role] = 404
			}
		}
		for _, role := range allowed {
			w[role] = 200
		}
		return w
	}
	with := func(w want, status int, who ...string) want {
		for _, role := range who {
			w[role] = status
		}
		return w
	}
	open := func() want { return with(everybody(200), 200, "") }
	board := func(revision int, shared string) string {
		return fmt.Sprintf(`{"revision":%d,"board":{"title":"Kept","parts":[{"title":"","show":"along","sentence":%s}],"shared":{%s},"mail":{}}}`, revision, sentence, shared)
	}
	keptBoard := func() string { // of the analyst, who shares it with Ysolde Marrec
		status, made := s.as(analyst).send("POST", "/api/boards", board(0, `"people":["`+demo.ID(marrec)+`"]`))
		require.Equal(t, 200, status, made)
		var b struct{ ID string }
		require.NoError(t, json.Unmarshal([]byte(made), &b))
		return b.ID
	}
	draft := func() string {
		f, err := s.Asking.SaveDraft(context.Background(), demo.ID(sarmento), "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
		require.NoError(t, err)
		return f.Draft
	}
	deciding := func() string { return s.Ask(sarmento, "covered").ID }
	returned := func() string {
		id := deciding()
		s.Must(quist, id, request.AskBack{Rung: "manager", Text: "Why?"})
		return id
	}
	followed := func() string {
		id := deciding()
		s.Must(sarmento, id, request.Follow{Person: demo.ID(yilmazer)})
		return id
	}
	ended := func(login string) { // takes out what a row before left
		all, err := s.Deciding.Absences(context.Background(), demo.ID(login), demo.ID(login))
		require.NoError(t, err)
		for _, a := range all {
			require.NoError(t, s.Deciding.EndAbsence(context.Background(), demo.ID(login), a.ID))
		}
	}
	absence := func() string {
		ended(quist)
		a, err := s.Deciding.SetAbsence(context.Background(), demo.ID(quist), people.Absence{From: s.Clock.Now().Add(time.Hour), Until: s.Clock.Now().Add(2 * time.Hour)})
		require.NoError(t, err)
		return a.ID
	}
	working := func() string {
		id := s.Ask(sarmento, "covered").ID
		s.Must(quist, id, request.Decide{Rung: "manager", Decision: request.Approve})
		return id
	}
	taken := func() string {
		id := working()
		s.Must(marrec, id, request.Take{Task: "check"})
		return id
	}
	delivered := func() string {
		id := taken()
		s.Must(marrec, id, request.Complete{Task: "check"})
		s.Must(coutinho, id, request.Take{Task: "mark"}, request.Complete{Task: "mark"})
		for range 3 {
			_, err := s.Running.RunDue(context.Background())
			require.NoError(t, err)
			s.Clock.Pass(10 * time.Second)
		}
		return id
	}
	document := func() string {
		opened, err := s.Designing.OpenDraft(context.Background(), demo.ID(falkenau), "berth-side-parking")
		require.NoError(t, err)
		data, err := json.Marshal(map[string]any{"document": opened.Document, "revision": opened.Revision})
		require.NoError(t, err)
		return string(data)
	}
	both := func() string {
		opened, err := s.Designing.OpenDraft(context.Background(), demo.ID(falkenau), "berth-side-parking")
		require.NoError(t, err)
		data, err := json.Marshal(map[string]any{"base": opened.Document, "mine": opened.Document})
		require.NoError(t, err)
		return string(data)
	}
	peopleSheet := func() string {
		id, err := s.Keeping.AddSheet(context.Background(), demo.ID(lindskaug), intake.People, "a.csv", []byte("login,name\nyilmazer,Defne Yilmazer\n"))
		require.NoError(t, err)
		return id
	}
	text := func() string { return `{"text":"A word."}` }
	hours := func() string {
		return `{"format":"heptad/calendar/1","zone":"Europe/Lisbon","week":{"mon":["09:00-17:00"]},"exceptions":[]}`
	}
	spare := func() string { // a calendar that the owner keeps
		_, err := s.Designing.EditCalendar(context.Background(), demo.ID(falkenau), "spare", calendar.Document{Format: calendar.Format, Zone: "Europe/Lisbon", Week: map[string][]string{"mon": {"09:00-17:00"}}})
		require.NoError(t, err)
		return "/api/calendars/spare"
	}
	rows := map[string]struct {
		path func() string
		body func() string
		want want
	}{
		"session":         {want: open()},
		"door":            {want: open()},
		"sign-out":        {want: open()},
		"sign-in":         {body: func() string { return `{"person":"nobody"}` }, want: with(everybody(422), 422, "")},
		"catalog":         {want: everybody(200)},
		"search":          {path: func() string { return "/api/search?words=parking" }, want: everybody(200)},
		"remember-search": {body: func() string { return `{"words":"parking"}` }, want: everybody(200)},
		"open-form":       {path: func() string { return "/api/offerings/berth-side-parking/form" }, want: everybody(200)},
		"save-draft":      {path: func() string { return "/api/offerings/berth-side-parking/draft" }, body: func() string { return `{"answers":{}}` }, want: everybody(200)},
		"discard-draft":   {path: func() string { return "/api/requests/" + draft() + "/discard" }, want: only(404, sarmento)},
		"submit":          {path: func() string { return "/api/requests/" + draft() + "/submit" }, body: func() string { return `{"slip":"","answers":` + parking + `}` }, want: only(404, sarmento)},
		"my-requests":     {want: everybody(200)},
		"export-request":  {path: func() string { return "/api/requests/" + working() + "/export" }, want: only(404, sarmento, falkenau, abelsen, marrec, coutinho, editor)},
		"request":         {path: func() string { return "/api/requests/" + working() }, want: only(404, sarmento, falkenau, abelsen, marrec, coutinho, editor)},
		"rate":            {path: func() string { return "/api/requests/" + delivered() + "/rating" }, body: func() string { return `{"stars":4}` }, want: with(with(only(403, sarmento), 404, yilmazer), 409, sarmento)}, // it is closed first
		"send-back":       {path: func() string { return "/api/requests/" + delivered() + "/back" }, body: func() string { return `{"text":" "}` }, want: with(with(only(403, sarmento), 404, yilmazer), 422, sarmento)},
		"confirm":         {path: func() string { return "/api/requests/" + delivered() + "/confirm" }, body: func() string { return `{}` }, want: with(only(403, sarmento), 404, yilmazer)},
		"my-decisions":    {want: everybody(200)},
		"decision":        {path: func() string { return "/api/decisions/" + deciding() + "/manager" }, want: only(404, quist, falkenau, abelsen, editor)},
		"decide":          {path: func() string { return "/api/decisions/" + deciding() + "/manager" }, body: func() string { return `{"decision":"approve"}` }, want: with(only(403, quist), 404, yilmazer)},
		"decide-several": {body: func() string {
			return `{"decision":"approve","decisions":[{"request":"` + deciding() + `","rung":"manager"}]}`
		}, want: everybody(200)}, // each is refused by itself: see TestDecidingSeveral
		"ask-back":        {path: func() string { return "/api/decisions/" + deciding() + "/manager/question" }, body: func() string { return `{"text":"Why?"}` }, want: with(only(403, quist), 404, yilmazer)},
		"pass-on":         {path: func() string { return "/api/decisions/" + deciding() + "/manager/pass" }, body: func() string { return `{"to":"` + demo.ID("ahlgren") + `","reason":"You know."}` }, want: with(only(403, quist), 404, yilmazer)},
		"save-returned":   {path: func() string { return "/api/requests/" + returned() + "/draft" }, body: func() string { return `{"answers":` + parking + `}` }, want: only(404, sarmento)},
		"resubmit":        {path: func() string { return "/api/requests/" + returned() + "/answer" }, body: func() string { return `{"reply":"So.","answers":` + parking + `}` }, want: with(only(404, sarmento), 403, quist, falkenau, abelsen, marrec, coutinho, editor)},
		"upload-returned": {path: func() string { return "/api/requests/" + returned() + "/files?question=photos&name=a.png" }, body: func() string { return "\x89PNG\r\n\x1a\nxx" }, want: everybody(404)}, // there is no such question
		"withdraw":        {path: func() string { return "/api/requests/" + deciding() + "/withdraw" }, body: func() string { return `{}` }, want: with(only(404, sarmento), 403, quist, falkenau, abelsen, marrec, coutinho, editor)},
		"comment":         {path: func() string { return "/api/requests/" + deciding() + "/words" }, body: func() string { return `{"text":"Thank you."}` }, want: with(with(only(404, sarmento, quist, falkenau, abelsen), 403, marrec, coutinho), 200, editor)},
		"follow":          {path: func() string { return "/api/requests/" + deciding() + "/followers" }, body: func() string { return `{"person":"` + demo.ID(yilmazer) + `"}` }, want: with(only(404, sarmento, falkenau), 403, quist, abelsen, marrec, coutinho, editor)},
		"unfollow":        {path: func() string { return "/api/requests/" + followed() + "/followers/" + demo.ID(yilmazer) }, want: with(only(404, sarmento, falkenau, yilmazer), 403, quist, abelsen, marrec, coutinho, editor)},
		"messages":        {want: everybody(200)},
		"message": {path: func() string {
			s.Clock.Pass(time.Second)
			id := deciding()
			all, err := s.Messaging.Messages(context.Background(), demo.ID(quist), false, store.Page{Limit: 1})
			require.NoError(t, err)
			require.Equal(t, id, all[0].Request)
			return "/api/messages/" + all[0].ID
		}, want: only(404, quist)},
		"read-messages":  {body: func() string { return `{}` }, want: everybody(200)},
		"ways":           {want: everybody(200)},
		"set-way":        {body: func() string { return `{"kind":"said","list":true,"mail":"off"}` }, want: everybody(200)},
		"texts":          {want: only(404, falkenau, lindskaug, editor, areaOwner)},
		"set-text":       {body: func() string { return `{"kind":"said","subject":"","body":""}` }, want: only(404, lindskaug)},
		"sample-text":    {body: func() string { return `{"kind":"said","subject":"A","body":"B"}` }, want: only(404, falkenau, lindskaug, editor, areaOwner)},
		"open-rating":    {path: func() string { return "/api/rate/none.none" }, want: anybody(404)},
		"rate-by-link":   {path: func() string { return "/api/rate/none.none" }, body: func() string { return `{"stars":4}` }, want: anybody(404)},
		"open-link":      {path: func() string { return "/api/mail/none.none" }, want: with(everybody(404), 404, "")}, // by a right one: see TestLinks
		"decide-by-link": {path: func() string { return "/api/mail/none.none" }, body: func() string { return `{"decision":"approve"}` }, want: with(everybody(404), 404, "")},
		"find-people":    {want: everybody(200)},
		"absences":       {path: func() string { return "/api/absences?person=" + demo.ID(sarmento) }, want: only(404, sarmento, quist, lindskaug)},
		"set-absence": {body: func() string {
			ended(sarmento)
			return `{"person":"` + demo.ID(sarmento) + `","from":"2027-05-03T08:00:00Z","until":"2027-05-07T16:00:00Z","standIn":"` + demo.ID(yilmazer) + `"}`
		}, want: only(404, sarmento, quist, lindskaug)},
		"end-absence":      {path: func() string { return "/api/absences/" + absence() }, want: only(404, quist, lindskaug)},
		"my-tasks":         {want: everybody(200)},
		"task":             {path: func() string { return "/api/tasks/" + working() + "/check" }, want: only(404, marrec, falkenau, abelsen, editor)},
		"take":             {path: func() string { return "/api/tasks/" + working() + "/check/take" }, want: with(only(403, marrec), 404, yilmazer)},
		"complete":         {path: func() string { return "/api/tasks/" + taken() + "/check/complete" }, body: func() string { return `{}` }, want: with(only(403, marrec), 404, yilmazer)},
		"retry":            {path: func() string { return "/api/tasks/" + delivered() + "/barrier/retry" }, want: with(with(only(403), 404, yilmazer), 409, marrec)},
		"unask-asker":      {path: func() string { return "/api/tasks/" + taken() + "/check/unask" }, want: with(only(403), 404, yilmazer)},
		"doubt":            {path: func() string { return "/api/tasks/" + taken() + "/check/doubt" }, body: func() string { return `{"text":"They have one."}` }, want: with(only(403, marrec), 404, yilmazer)},
		"unask":            {path: func() string { return "/api/decisions/" + deciding() + "/manager/unask" }, want: with(only(409), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff)},
		"take-back-passed": {path: func() string { return "/api/decisions/" + deciding() + "/manager/take-back" }, want: with(only(409), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff)},
		"hear": {path: func() string { return "/api/requests/" + deciding() + "/heard" }, body: func() string {
			return `{"text":"So.","from":"` + demo.ID(sarmento) + `","how":"phone","at":"2027-03-08T08:00:00Z"}`
		}, want: with(with(only(403), 404, yilmazer, lindskaug, auditor), 409, abelsen, falkenau)},
		"silence":             {path: func() string { return "/api/requests/" + deciding() + "/silence" }, body: func() string { return `{"silent":true}` }, want: with(everybody(200), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff)},
		"correct":             {path: func() string { return "/api/tasks/" + delivered() + "/barrier/correct" }, body: func() string { return `{"inputs":{"what":"x"},"reason":"y"}` }, want: with(with(only(403), 404, yilmazer), 409, falkenau, abelsen)},
		"portfolio":           {want: only(404, falkenau, editor, areaOwner)},
		"materials":           {want: only(404, falkenau, editor, areaOwner)},
		"cost-centres":        {want: everybody(200)},
		"portfolio-offerings": {want: only(404, falkenau, editor, areaOwner)},
		"create-offering":     {body: func() string { return `{"name":"Mine","service":"parking"}` }, want: only(404, falkenau, editor)},
		"open-offering":       {path: func() string { return "/api/design/berth-side-parking" }, want: only(404, falkenau, editor)},
		"save-offering":       {path: func() string { return "/api/design/berth-side-parking" }, body: document, want: only(404, falkenau, editor)},
		"publish":             {path: func() string { return "/api/design/proof-of-employment-letter/publish" }, body: func() string { return `{"revision":2,"accepted":[]}` }, want: everybody(404)},
		"try-offering":        {path: func() string { return "/api/design/berth-side-parking/try" }, body: func() string { return `{"asker":"quist","answers":{}}` }, want: only(404, falkenau, editor)},
		"rehearse":            {path: func() string { return "/api/design/berth-side-parking/rehearse" }, body: func() string { return `{"script":` + rehearsal + `}` }, want: only(404, falkenau, editor)},
		"rehearsed-moment": {path: func() string { return "/api/design/berth-side-parking/rehearse/moment" }, body: func() string {
			return `{"script":` + rehearsal + `,"at":"2027-04-01T09:00:00Z","events":3}`
		}, want: only(404, falkenau, editor)},
		"keep-case":     {path: func() string { return "/api/design/berth-side-parking/rehearse/keep" }, body: func() string { return `{"script":` + rehearsal + `}` }, want: only(404, falkenau, editor)},
		"run-cases":     {path: func() string { return "/api/design/berth-side-parking/cases" }, want: only(404, falkenau, editor)},
		"right-case":    {path: func() string { return "/api/design/berth-side-parking/cases/99/right" }, body: func() string { return `{"places":[]}` }, want: everybody(404)},
		"case-today":    {path: func() string { return "/api/design/berth-side-parking/cases/99/today" }, want: everybody(404)},
		"propose-cases": {path: func() string { return "/api/design/proof-of-employment-letter/cases/propose" }, want: everybody(404)},
		"supply-case":   {path: func() string { return "/api/design/berth-side-parking/cases/99/supply" }, want: everybody(404)},
		"replays":       {path: func() string { return "/api/design/berth-side-parking/replays" }, want: only(404, falkenau, editor)},
		"begin-replay": {path: func() string { return "/api/design/berth-side-parking/replays" }, body: func() string {
			return `{"from":"2026-01-01T00:00:00Z","until":"2026-01-02T00:00:00Z"}`
		}, want: only(404, falkenau, editor)},
		"replay":     {path: func() string { return "/api/design/berth-side-parking/replays/nothing" }, want: everybody(404)},
		"foresights": {path: func() string { return "/api/design/berth-side-parking/foresights" }, want: only(404, falkenau, editor)},
		"begin-foresight": {path: func() string { return "/api/design/berth-side-parking/foresights" }, body: func() string {
			return `{"from":"2027-04-01","until":"2027-04-02","changes":{}}`
		}, want: only(404, falkenau, editor)},
		"foresight":   {path: func() string { return "/api/design/berth-side-parking/foresights/nothing" }, want: everybody(404)},
		"act-as":      {body: func() string { return `{"login":"sarmento"}` }, want: everybody(404)}, // it is no trial
		"trial-mails": {want: everybody(404)},
		"stop-study":  {path: func() string { return "/api/design/berth-side-parking/studies/nothing" }, want: everybody(404)},
		"write-rule": {body: func() string {
			return `{"join":"all","parts":[{"question":"a","compare":"answered","as":"text","values":[]}]}`
		}, want: only(404, falkenau, editor, areaOwner, lindskaug)},
		"check-rule": {body: func() string {
			return strings.Replace(document(), `"revision":`, `"place":"/audience/ask","source":"true","x":`, 1)
		}, want: with(only(404), 422, falkenau, editor, areaOwner, lindskaug)},
		"read-lines": {body: func() string {
			return strings.Replace(document(), `"revision":`, `"side":"plan","text":"Print it","x":`, 1)
		}, want: with(only(404), 422, falkenau, editor, areaOwner)},
		"import-items":     {body: func() string { return "key,name,amount" }, want: only(404, falkenau, editor, areaOwner)},
		"picks":            {want: everybody(200)},
		"look-up":          {path: func() string { return "/api/offerings/berth-side-parking/people" }, want: everybody(200)},
		"upload":           {path: func() string { return "/api/offerings/something-is-broken/files?question=photos&name=a.png" }, body: func() string { return "\x89PNG\r\n\x1a\nxx" }, want: everybody(200)},
		"download":         {path: func() string { return "/api/requests/" + draft() + "/files/none" }, want: everybody(404)},
		"drop-draft":       {path: func() string { return "/api/design/quay-access-badge?revision=99" }, want: with(only(404, falkenau), 409, falkenau)},
		"merge-offering":   {path: func() string { return "/api/design/berth-side-parking/merge" }, body: both, want: only(404, falkenau, editor)},
		"unschedule":       {path: func() string { return "/api/design/quay-access-badge/publish?revision=99" }, want: with(only(404, falkenau), 409, falkenau)},
		"end-offering":     {path: func() string { return "/api/design/berth-side-parking/end" }, body: func() string { return `{"successor":"nothing"}` }, want: with(only(404, falkenau), 422, falkenau, editor)},
		"revive-offering":  {path: func() string { return "/api/design/berth-side-parking/end" }, want: with(only(404, falkenau), 409, falkenau, editor)},
		"versions":         {path: func() string { return "/api/design/quay-access-badge/versions" }, want: only(404, falkenau)},
		"compare":          {path: func() string { return "/api/design/quay-access-badge/changes?from=1&to=1" }, want: only(404, falkenau)},
		"survey":           {path: func() string { return "/api/design/quay-access-badge/audience?which=ask" }, want: only(404, falkenau)},
		"set-place":        {path: func() string { return "/api/services/parking/place" }, body: func() string { return `{"place":"offered"}` }, want: only(404, falkenau)},
		"take-news":        {path: func() string { return "/api/design/berth-side-parking/supplied" }, body: func() string { return `{"revision":99,"take":true}` }, want: with(only(404), 409, falkenau, editor)},
		"save-area":        {path: func() string { return "/api/areas/Deck" }, body: func() string { return `{"name":"Deck","place":"offered","text":"On deck."}` }, want: with(only(404, areaOwner), 404, lindskaug)}, // administrators change it on Manage
		"drop-area":        {path: func() string { return "/api/areas/Deck" }, want: with(only(404), 409, areaOwner, lindskaug)},
		"hanging":          {path: func() string { return "/api/hanging?service=parking" }, want: only(404, falkenau, lindskaug)},
		"bundles":          {want: only(404, falkenau, areaOwner, lindskaug, editor)},
		"bundle":           {path: func() string { return "/api/bundles/crew" }, want: only(404, falkenau, areaOwner, lindskaug, editor)},
		"make-bundle":      {body: func() string { return `{"name":"Divers","rule":"true"}` }, want: only(404, lindskaug)},
		"save-bundle":      {path: func() string { return "/api/bundles/crew" }, body: func() string { return `{"name":"Crew","rule":"true","seen":"false"}` }, want: with(only(404), 409, lindskaug)},
		"turn-bundle":      {body: func() string { return `{"bundle":"crew","rule":"true"}` }, want: only(404, lindskaug)},
		"drop-bundle":      {path: func() string { return "/api/bundles/own-staff" }, want: with(only(404), 409, lindskaug)},
		"doubled":          {path: func() string { return "/api/people/" + demo.ID(quist) + "/double?into=" + demo.ID("abelsen") }, want: only(404, lindskaug)},
		"merge-people":     {path: func() string { return "/api/people/" + demo.ID(quist) + "/double" }, body: func() string { return `{"into":"nobody"}` }, want: with(everybody(404), 422, lindskaug)},
		"safety-of":        {path: func() string { return "/api/people/" + demo.ID(quist) + "/safety" }, want: only(404, lindskaug)},
		"drop-factor-of":   {path: func() string { return "/api/people/" + demo.ID(quist) + "/factor" }, want: everybody(404)}, // nobody of the demo has one
		"end-sessions-of":  {path: func() string { return "/api/people/" + demo.ID(quist) + "/sessions" }, want: only(404, lindskaug)},
		"reached-by":       {path: func() string { return "/api/people/" + demo.ID(quist) + "/offerings" }, want: only(404, lindskaug)},
		"shared-questions": {want: only(404, falkenau, editor, areaOwner)},
		"share-question":   {body: func() string { return `{"key":"vessel","kind":"text","label":"Vessel"}` }, want: with(only(404, falkenau), 403, editor, areaOwner)},
		"export-catalog":   {want: only(404, falkenau, editor, areaOwner)},
		"import-catalog":   {path: func() string { return "/api/catalog?preview=true" }, body: func() string { return `{"format":"heptad/catalog/1","services":[],"shared":[],"offerings":[]}` }, want: only(404, falkenau, editor, areaOwner)},
		"ask-asker":        {path: func() string { return "/api/tasks/" + taken() + "/check/ask" }, body: text, want: with(only(403, marrec), 404, yilmazer)},
		"say":              {path: func() string { return "/api/tasks/" + working() + "/check/words" }, body: text, want: with(with(with(only(200), 404, yilmazer, lindskaug, auditor), 403, coutinho), 404, areaOwner, analyst, callerStaff)},
		"note":             {path: func() string { return "/api/tasks/" + working() + "/check/notes" }, body: text, want: with(with(only(403, marrec, coutinho, abelsen, falkenau), 404, yilmazer), 403, quist)},
		"get-stuck":        {path: func() string { return "/api/tasks/" + working() + "/check/stuck" }, body: text, want: with(only(403, marrec), 404, yilmazer)},
		"skip-task":        {path: func() string { return "/api/tasks/" + working() + "/check/skip" }, body: text, want: with(only(403, abelsen, falkenau), 404, yilmazer)},
		"hand-over":        {path: func() string { return "/api/tasks/" + working() + "/check/hand-over" }, body: func() string { return `{"person":"nobody"}` }, want: with(with(only(403), 404, yilmazer), 422, marrec, abelsen, falkenau)},
		"check-point":      {path: func() string { return "/api/tasks/" + taken() + "/check/points" }, body: func() string { return `{"point":0,"done":true}` }, want: with(with(only(403), 404, yilmazer), 409, marrec)},
		"count-line":       {path: func() string { return "/api/tasks/" + taken() + "/check/lines" }, body: func() string { return `{"line":0,"done":1}` }, want: with(with(only(403), 404, yilmazer), 409, marrec)},
		"waive":            {path: func() string { return "/api/tasks/" + working() + "/barrier/waive" }, body: func() string { return `{"after":"mark","reason":"It can."}` }, want: with(only(403, abelsen, falkenau), 404, yilmazer)},
		"answer-task":      {path: func() string { return "/api/tasks/" + working() + "/check/answer" }, body: text, want: with(with(only(403), 404, yilmazer), 409, sarmento)},
		"confirm-part":     {path: func() string { return "/api/tasks/" + working() + "/check/confirm" }, want: with(only(403), 404, yilmazer)},
		"several-tasks":    {body: func() string { return `{"deed":"take","tasks":[{"request":"` + working() + `","task":"check"}]}` }, want: everybody(200)},
		"add-task":         {path: func() string { return "/api/requests/" + working() + "/tasks" }, body: func() string { return `{"name":"More","team":"keys-badges","reason":"Needed."}` }, want: with(only(403, abelsen, falkenau), 404, yilmazer)},
		"own-list":         {want: everybody(200)},
		"put-on-list":      {body: func() string { return `{"request":"` + working() + `","task":"check","day":"2027-03-12"}` }, want: only(404, marrec, falkenau, abelsen, editor)},
		"take-off-list":    {path: func() string { return "/api/own-list/none?task=check" }, want: everybody(200)},
		"calendar-entry":   {path: func() string { return "/api/tasks/" + working() + "/check/entry?of=due" }, want: only(404, marrec, falkenau, abelsen, editor)},
		"patterns":         {path: func() string { return "/api/offerings/berth-side-parking/patterns?for=" + demo.ID(yilmazer) }, want: everybody(404)}, // nobody asks for others here
		"slip":             {want: everybody(200)},
		"send-slip":        {body: func() string { return `{"title":"Two"}` }, want: everybody(409)},
		"put-on-slip":      {path: func() string { return "/api/slip/none-there" }, want: everybody(404)},
		"take-off-slip":    {path: func() string { return "/api/slip/drafts/" + draft() }, want: everybody(404)},
		"ties":             {path: func() string { return "/api/requests/" + working() + "/ties" }, want: with(everybody(200), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff)},
		"suggested-ties":   {path: func() string { return "/api/requests/" + working() + "/suggested" }, want: only(404, marrec, coutinho, abelsen, falkenau, editor)},
		"tie":              {path: func() string { return "/api/requests/" + working() + "/ties" }, body: func() string { return `{"kind":"waitsFor","reference":"QS-1-A"}` }, want: with(with(only(422), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff), 422, falkenau)},
		"untie":            {path: func() string { return "/api/requests/" + working() + "/ties/waitsFor/none" }, want: with(with(with(only(403), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff), 409, marrec, coutinho, abelsen, falkenau), 409, editor)},
		"open-to-all":      {path: func() string { return "/api/requests/" + working() + "/fault" }, body: func() string { return `{"sentence":"The barrier stays shut."}` }, want: with(with(only(403), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff), 200, marrec, coutinho, abelsen, falkenau)},
		"around":           {path: func() string { return "/api/requests/" + working() + "/around" }, want: only(404, quist, marrec, coutinho, abelsen, falkenau, editor)},
		"open-faults":      {path: func() string { return "/api/offerings/berth-side-parking/faults" }, want: everybody(200)},
		"join":             {path: func() string { return "/api/faults/" + deciding() + "/join" }, body: func() string { return `{}` }, want: everybody(404)},
		"joined":           {want: everybody(200)},
		"speeds":           {path: func() string { return "/api/requests/" + working() + "/speeds" }, want: only(404, sarmento)},
		"urge":             {path: func() string { return "/api/requests/" + working() + "/urge" }, body: func() string { return `{"choice":"fast"}` }, want: with(with(only(403), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff), 409, sarmento)},
		"run-now":          {path: func() string { return "/api/requests/" + working() + "/run" }, body: func() string { return `{"action":"none"}` }, want: with(everybody(409), 404, yilmazer, lindskaug, auditor, areaOwner, analyst, callerStaff)},
		"close":            {path: func() string { return "/api/requests/" + working() + "/close" }, body: func() string { return `{"word":"Done by phone."}` }, want: with(only(403, abelsen, falkenau), 404, yilmazer)},
		"cancel":           {path: func() string { return "/api/requests/" + working() + "/cancel" }, body: func() string { return `{"reason":"Closed."}` }, want: with(only(403, abelsen, falkenau), 404, yilmazer)},
		"desk":             {want: everybody(200)},
		"team-load":        {path: func() string { return "/api/teams/premises-crew/load" }, want: only(404, abelsen, coutinho)},
		"save-view":        {body: func() string { return `{"name":"Late ones","query":{"late":true}}` }, want: everybody(200)},
		"drop-view":        {path: func() string { return "/api/views/none" }, want: everybody(404)},
		"replies":          {want: everybody(200)},
		"save-reply":       {body: func() string { return `{"name":"Hello","text":"Hello {{ request.asker }}"}` }, want: everybody(200)},
		"drop-reply":       {path: func() string { return "/api/replies/none" }, want: everybody(404)},
		"overview":         {want: everybody(200)},
		"find":             {path: func() string { return "/api/find?words=parking" }, want: everybody(200)},
		"belongings":       {want: everybody(200)},
		"parts":            {want: everybody(200)},
		"background":       {want: only(404, lindskaug)},
		"set-connector":    {path: func() string { return "/api/connectors/mail" }, body: func() string { return `{"url":"","atOnce":2}` }, want: only(404, lindskaug)},
		"look-now":         {want: only(404, lindskaug)},
		"try-again":        {body: func() string { return `{"lane":"effect","id":"none"}` }, want: everybody(404)},                                                           // of one that is there: see TestWhatIsSetAside
		"read-private":     {path: func() string { return "/api/requests/" + working() + "/private/plate/read" }, body: func() string { return `{}` }, want: everybody(404)}, // of a private one: see TestPrivateAnswers
		"read-secret":      {path: func() string { return "/api/requests/" + working() + "/secrets/check/code/read" }, want: everybody(404)},                                 // of a secret one: see TestSecrets
		"secrets":          {want: everybody(200)},
		"grants":           {want: only(404, lindskaug)},
		"grant":            {body: func() string { return `{"service":"parking","connector":"badges","action":"write"}` }, want: only(404, lindskaug)},
		"revoke": {path: func() string {
			require.NoError(t, s.Connecting.SetGrant(context.Background(), "", "parking", plan.Grant{Connector: "badges", Action: "change"}))
			return "/api/grants/parking/badges/change"
		}, want: only(404, lindskaug)},
		"retry-all":     {path: func() string { return "/api/connectors/mail/retry" }, want: only(404, lindskaug)},
		"calendars":     {want: only(404, falkenau, abelsen, lindskaug, yilmazer, editor, areaOwner)},
		"calendar":      {path: func() string { return "/api/calendars/maravel" }, want: only(404, falkenau, abelsen, lindskaug, yilmazer, editor, areaOwner)},
		"save-calendar": {path: spare, body: hours, want: only(404, falkenau, lindskaug)},
		"try-calendar":  {path: func() string { return spare() + "/try" }, body: hours, want: only(404, falkenau, lindskaug)},
		"read-holidays": {path: func() string { return spare() + "/holidays" }, body: func() string {
			return `{"document":` + hours() + `,"file":"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20270105\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"}`
		}, want: only(404, falkenau, lindskaug)},
		"open-supplier":     {path: func() string { return "/api/supplier/none" }, want: anybody(404)},
		"answer-supplier":   {path: func() string { return "/api/supplier/none" }, body: func() string { return `{"state":"done"}` }, want: anybody(404)},
		"report-purchasing": {path: func() string { return "/api/reports/purchasing" }, body: func() string { return `{}` }, want: everybody(401)},
		"attach":            {path: func() string { return "/api/requests/" + working() + "/added?name=a.png" }, body: func() string { return "\x89PNG\r\n\x1a\nxx" }, want: with(with(only(403), 404, yilmazer), 200, abelsen, falkenau, sarmento)},
		"live":              {want: nil}, // a stream: see TestLive

		"enter":                {path: func() string { return "/api/session/password" }, body: func() string { return `{"name":"nobody","password":"no such one"}` }, want: anybody(422)},
		"forgot":               {body: func() string { return `{"name":"nobody"}` }, want: anybody(200)}, // nobody is told who is there
		"open-password-link":   {path: func() string { return "/api/new-password/none.none" }, want: anybody(409)},
		"set-password-by-link": {path: func() string { return "/api/new-password/none.none" }, body: func() string { return `{"new":"a long enough one"}` }, want: anybody(409)},
		"second-yes":           {path: func() string { return "/api/design/berth-side-parking/publish/second" }, body: func() string { return `{"revision":1,"yes":true}` }, want: with(only(404), 409, falkenau, editor)},
		"make-service":         {path: func() string { return "/api/services" }, body: func() string { return `{"name":"Parking","area":"Facilities","home":"premises-crew"}` }, want: with(only(404), 422, falkenau, areaOwner)},
		"save-service":         {path: func() string { return "/api/services/parking" }, body: func() string { return `{"name":"Parking","area":"Facilities","home":"none"}` }, want: with(only(404), 422, falkenau)},
		"begin-service":        {path: func() string { return "/api/service" }, want: anybody(404)}, // there is none: see TestEnteringFromAService
		"back-from-service":    {path: func() string { return "/api/service/back" }, want: anybody(404)},
		"open-entry":           {path: func() string { return "/api/entry/none" }, want: anybody(409)},
		"move-in":              {path: func() string { return "/api/entry/none" }, body: func() string { return `{"name":"A","login":"a","new":"a long enough one"}` }, want: anybody(409)},
		"prove-again":          {body: func() string { return `{"password":"not it"}` }, want: everybody(422)}, // nobody of the demo has one
		"safety":               {want: everybody(200)},
		"profile":              {want: everybody(200)},
		"set-profile":          {body: func() string { return `{"reach":"in the morning"}` }, want: everybody(200)},
		"set-password":         {body: func() string { return `{"new":"short"}` }, want: everybody(422)},
		"new-factor":           {want: everybody(200)},
		"set-factor":           {body: func() string { return `{"secret":"AAAA","code":"1"}` }, want: everybody(422)},
		"drop-factor":          {want: everybody(404)},
		"new-codes":            {want: everybody(404)},
		"end-sessions":         {want: everybody(200)},
		"organisation":         {want: only(404, lindskaug)},
		"organise": {body: func() string {
			return `{"name":"Q","prefix":"QS","currency":"EUR","period":"once","calendar":"maravel","zone":"","tax":{"name":"VAT","percent":"23"}}`
		}, want: only(404, lindskaug)},
		"moving-in":        {want: only(404, lindskaug)},
		"end-moving-in":    {want: only(404, lindskaug)},
		"take-starter":     {path: func() string { return "/api/moving-in/offerings" }, body: func() string { return `{"starter":"letter","service":"parking"}` }, want: with(only(404), 409, lindskaug)}, // it has moved in
		"try-mail":         {path: func() string { return "/api/moving-in/mail" }, want: only(404, lindskaug)},
		"records":          {path: func() string { return "/api/company/people" }, want: only(404, lindskaug)},
		"record":           {path: func() string { return "/api/company/teams/one?id=keys-badges" }, want: only(404, lindskaug)},
		"save-record":      {path: func() string { return "/api/company/locations/one" }, body: func() string { return `{"id":"Tower Quay","cells":{"name":"Tower Quay","calendar":"maravel"}}` }, want: only(404, lindskaug)},
		"care":             {want: only(404, lindskaug)},
		"answer-leaving":   {path: func() string { return "/api/care/leaving" }, body: func() string { return `{"yes":false}` }, want: with(only(404), 409, lindskaug)},
		"backups":          {path: func() string { return "/api/backups" }, want: only(404, lindskaug)},
		"held-back":        {path: func() string { return "/api/held" }, want: everybody(404)}, // nothing is: see TestHeldBack
		"let-go":           {path: func() string { return "/api/held" }, want: with(everybody(404), 409, lindskaug)},
		"roles":            {want: only(404, lindskaug, auditor)},
		"give-role":        {body: func() string { return `{"person":"` + demo.ID(lindskaug) + `","role":"analyst"}` }, want: with(only(404), 409, lindskaug)}, // not to oneself
		"answer-role":      {path: func() string { return "/api/roles/answer" }, body: func() string { return `{"person":"` + demo.ID(quist) + `","role":"auditor","yes":true}` }, want: everybody(404)},
		"take-role":        {path: func() string { return "/api/roles/" + demo.ID(quist) + "/auditor" }, want: everybody(404)},
		"add-sheet":        {path: func() string { return "/api/sheets?kind=people&name=a.csv" }, body: func() string { return "login,name\na,A\n" }, want: only(404, lindskaug)},
		"sheet":            {path: func() string { return "/api/sheets/" + peopleSheet() }, want: only(404, lindskaug)},
		"edit-sheet":       {path: func() string { return "/api/sheets/" + peopleSheet() }, body: func() string { return `{"leave":2}` }, want: only(404, lindskaug)},
		"do-sheet":         {path: func() string { return "/api/sheets/" + peopleSheet() }, body: func() string { return `{}` }, want: only(404, lindskaug)},
		"drop-sheet":       {path: func() string { return "/api/sheets/" + peopleSheet() }, want: only(404, lindskaug)},
		"sheet-template":   {path: func() string { return "/api/company/people/template" }, want: only(404, lindskaug)},
		"export-company":   {path: func() string { return "/api/company/people/sheet" }, want: only(404, lindskaug)},
		"acts":             {path: func() string { return "/api/audit" }, want: only(404, lindskaug, auditor)},
		"measure":          {path: func() string { return "/api/measure" }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"measure-screen":   {path: func() string { return "/api/measure/screen" }, body: func() string { return sentence }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"measured-records": {path: func() string { return "/api/measure/records" }, body: func() string { return sentence }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"measured-values":  {path: func() string { return "/api/measure/values?side=offering" }, body: func() string { return sentence }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"measure-goes":     {path: func() string { return "/api/measure/goes" }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"where-time-goes":  {path: func() string { return "/api/measure/goes/berth-side-parking" }, want: only(404, abelsen, falkenau, editor, analyst)},
		"what-next":        {path: func() string { return "/api/measure/next" }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"boards":           {path: func() string { return "/api/boards" }, want: everybody(200)},
		"add-board":        {path: func() string { return "/api/boards" }, body: func() string { return board(0, "") }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"board":            {path: func() string { return "/api/boards/" + keptBoard() }, want: only(404, analyst, marrec)},
		"save-board":       {path: func() string { return "/api/boards/" + keptBoard() }, body: func() string { return board(1, "") }, want: only(404, analyst)},
		"drop-board":       {path: func() string { return "/api/boards/" + keptBoard() }, want: with(everybody(404), 200, analyst)},
		"put-on-wall":      {path: func() string { return "/api/boards/" + keptBoard() + "/wall" }, want: only(404, analyst)},
		"take-off-wall":    {path: func() string { return "/api/boards/" + keptBoard() + "/wall" }, want: with(everybody(404), 200, analyst)},
		"board-copies":     {path: func() string { return "/api/boards/" + keptBoard() + "/copies" }, want: only(404, analyst, marrec)},
		"keep-board-copy":  {path: func() string { return "/api/boards/" + keptBoard() + "/copies" }, body: func() string { return `{"day":"2027-03-01"}` }, want: only(404, analyst)},
		"board-copy":       {path: func() string { return "/api/boards/" + keptBoard() + "/copies/none" }, want: everybody(404)},
		"drop-board-copy":  {path: func() string { return "/api/boards/" + keptBoard() + "/copies/none" }, want: with(everybody(404), 200, analyst)},
		"board-records":    {path: func() string { return "/api/boards/" + keptBoard() + "/records/0" }, want: only(404, analyst, marrec)},
		"export-measured": {path: func() string {
			return "/api/measure/export?what=records&figure=asked&period=last12&along=month&side=service&second=month"
		}, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"targets":      {path: func() string { return "/api/targets" }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"add-target":   {path: func() string { return "/api/targets" }, body: func() string { return `{"figure":"overdue","period":"month","atLeast":false,"goal":0}` }, want: only(404, yilmazer, abelsen, falkenau, editor, areaOwner, analyst)},
		"drop-target":  {path: func() string { return "/api/targets/none" }, want: everybody(404)},
		"wall":         {path: func() string { return "/api/wall/none" }, want: anybody(404)},
		"verify-audit": {path: func() string { return "/api/audit/verify" }, want: only(404, lindskaug, auditor)},
		"export-audit": {path: func() string { return "/api/audit/rows" }, want: only(404, lindskaug, auditor)},
	}
	seen := 0
	for path, item := range s.web.API.OpenAPI().Paths {
		for method, op := range map[string]string{"GET": id(item.Get), "POST": id(item.Post), "PUT": id(item.Put), "DELETE": id(item.Delete), "PATCH": id(item.Patch)} {
			if op == "" {
				continue
			}
			row, ok := rows[op]
			if !assert.True(t, ok, "the operation %s %s (%s) has no row of rights", method, path, op) {
				continue
			}
			seen++
			for _, role := range roles {
				if row.want == nil {
					continue
				}
				at, sent := path, ""
				if row.path != nil {
					at = row.path()
				}
				if row.body != nil {
					sent = row.body()
				}
				status, data := s.as(role).send(method, at, sent)
				assert.Equal(t, row.want[role], status, "%s by %q: %s", op, role, data)
			}
		}
	}
	assert.Equal(t, len(rows), seen, "no row is left over")
}

// appoint makes somebody an editor of parking, gives the area Deck to another, and roles to
// others.
func (s *site) appoint(editor, areaOwner string, roles map[string]string) {
	s.t.Helper()
	parking, _ := s.Company().Service("parking")
	parking.Editors = []string{demo.ID(editor)}
	deck := people.Service{Key: "deck", Name: "Deck gear", Area: "Deck", Owner: demo.ID(areaOwner), Home: parking.Home, Place: people.Offered}
	records := people.Records{Services: []people.Service{parking, deck}, Areas: []people.Area{{Name: "Deck", Owner: demo.ID(areaOwner), Place: people.Offered}}}
	for login, role := range roles {
		p, ok := s.Company().ByLogin(login)
		require.True(s.t, ok, login)
		p.Roles = []string{role}
		records.Persons = append(records.Persons, p)
	}
	require.NoError(s.t, s.Store.Write(context.Background(), func(tx *store.Tx) error { return tx.AddCompany(records) }))
	require.NoError(s.t, s.ReadCompany(context.Background()))
}

func TestListsHoldOnlyOnesOwn(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	for login, paths := range map[string]map[string]bool{
		"sarmento": {"/api/requests": true, "/api/decisions": false, "/api/tasks": false},
		"quist":    {"/api/requests": false, "/api/decisions": true, "/api/tasks": false},
		"yilmazer": {"/api/requests": false, "/api/decisions": false, "/api/tasks": false},
	} {
		for path, want := range paths {
			_, data := s.as(login).send("GET", path, "")
			assert.Equal(t, want, strings.Contains(data, id), "%s %s", login, path)
		}
	}
	s.Must("quist", id, request.Decide{Rung: "manager", Decision: request.Approve})
	_, data := s.as("marrec").send("GET", "/api/tasks", "")
	assert.Contains(t, data, id)
	_, data = s.as("quist").send("GET", "/api/decisions?state=decided", "")
	assert.Contains(t, data, id)
}

func TestATeamSeesOnlyItsSlice(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	s.Must("quist", id, request.Decide{Rung: "manager", Decision: request.Approve})
	_, data := s.as("marrec").send("GET", "/api/tasks/"+id+"/check", "")
	assert.Contains(t, data, "Maravel")
	for _, secret := range []string{"MV-01-QS", "I work at night", "34.50"} {
		assert.NotContains(t, data, secret)
	}
	_, data = s.as("quist").send("GET", "/api/offerings/berth-side-parking/form", "")
	assert.NotContains(t, data, "answers.plate", "rules are the owner's")

	s.Must("marrec", id, request.Take{Task: "check"}, request.Complete{Task: "check", Word: "It runs until June."})
	s.Must("coutinho", id, request.Take{Task: "mark"}, request.AskAsker{Task: "mark", Text: "Which bay?"})
	_, data = s.as("coutinho").send("GET", "/api/requests/"+id, "")
	assert.Contains(t, data, "Check the badge", "where the tasks of other teams stand")
	assert.NotContains(t, data, "until June", "what was said of them")
	_, data = s.as("marrec").send("GET", "/api/requests/"+id, "")
	assert.Contains(t, data, "until June")
	assert.NotContains(t, data, "Which bay")
	_, data = s.as("sarmento").send("GET", "/api/requests/"+id, "")
	assert.Contains(t, data, "until June")
	assert.Contains(t, data, "Which bay")
}

// Everything that can be wrong with what is sent: the status, the place and
// the code of the problem.
func TestBadInput(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	s.Must("quist", id, request.Decide{Rung: "manager", Decision: request.Approve})
	s.Must("marrec", id, request.Take{Task: "check"})
	f, err := s.Asking.SaveDraft(context.Background(), demo.ID("sarmento"), "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	require.NoError(t, err)
	put := func(change func(document map[string]any)) string {
		opened, err := s.Designing.OpenDraft(context.Background(), demo.ID("falkenau"), "berth-side-parking")
		require.NoError(t, err)
		data, err := json.Marshal(opened.Document)
		require.NoError(t, err)
		var document map[string]any
		require.NoError(t, json.Unmarshal(data, &document))
		change(document)
		body, err := json.Marshal(map[string]any{"document": document, "revision": opened.Revision})
		require.NoError(t, err)
		return string(body)
	}
	question := func(d map[string]any, i int) map[string]any { return d["questions"].([]any)[i].(map[string]any) }
	draft, submit := "/api/offerings/berth-side-parking/draft", "/api/requests/"+f.Draft+"/submit"
	for name, c := range map[string]struct {
		who, method, path, body string
		status                  int
		place, code             string
	}{
		"malformed JSON":     {"sarmento", "PUT", draft, `{"answers":`, 400, "", "malformed"},
		"no body":            {"sarmento", "PUT", draft, "", 400, "", "malformed"},
		"unknown field":      {"sarmento", "PUT", draft, `{"answers":{},"more":1}`, 422, "/more", "malformed"},
		"wrong type":         {"sarmento", "PUT", draft, `{"answers":7}`, 422, "/answers", "malformed"},
		"missing field":      {"sarmento", "PUT", draft, `{}`, 422, "", "malformed"},
		"too much":           {"sarmento", "PUT", draft, `{"answers":{"plate":"` + strings.Repeat("x", 3<<20) + `"}}`, 413, "", ""},
		"answer too long":    {"sarmento", "POST", submit, `{"slip":"","answers":{"plate":"` + strings.Repeat("X", 300) + `"}}`, 422, "/answers/port", "incomplete"},
		"old slip":           {"sarmento", "POST", submit, `{"slip":"as it was","answers":` + parking + `}`, 409, "", "slipChanged"},
		"unknown offering":   {"sarmento", "GET", "/api/offerings/none/form", "", 404, "", ""},
		"unknown request":    {"sarmento", "GET", "/api/requests/none", "", 404, "", ""},
		"unknown rung":       {"quist", "GET", "/api/decisions/" + id + "/none", "", 404, "", ""},
		"unknown task":       {"marrec", "GET", "/api/tasks/" + id + "/none", "", 404, "", ""},
		"second decision":    {"quist", "POST", "/api/decisions/" + id + "/manager", `{"decision":"decline","reason":"no"}`, 409, "", "decided"},
		"strange decision":   {"quist", "POST", "/api/decisions/" + id + "/manager", `{"decision":"maybe"}`, 422, "/decision", "malformed"},
		"reason too long":    {"quist", "POST", "/api/decisions/" + id + "/manager", `{"decision":"decline","reason":"` + strings.Repeat("n", 2001) + `"}`, 422, "/reason", "malformed"},
		"task taken twice":   {"ekvall", "POST", "/api/tasks/" + id + "/check/take", "", 409, "", "taken"},
		"unknown path":       {"sarmento", "GET", "/api/none", "", 404, "", ""},
		"strange list state": {"quist", "GET", "/api/decisions?state=all", "", 422, "query.state", "malformed"},
		"page too long":      {"quist", "GET", "/api/decisions?limit=101", "", 422, "query.limit", "malformed"},
		"name too long":      {"falkenau", "POST", "/api/design", `{"service":"parking","name":"` + strings.Repeat("n", 121) + `"}`, 422, "/name", "malformed"},
		"strange kind": {"falkenau", "PUT", "/api/design/berth-side-parking", put(func(d map[string]any) { question(d, 0)["kind"] = "colour" }), 422,
			"/document/questions/0/kind", "malformed"},
		"unknown rule field": {"falkenau", "PUT", "/api/design/berth-side-parking", put(func(d map[string]any) { question(d, 1)["secret"] = true }), 422,
			"/document/questions/1/secret", "malformed"},
	} {
		t.Run(name, func(t *testing.T) {
			status, data := s.as(c.who).send(c.method, c.path, c.body)
			require.Equal(t, c.status, status, data)
			var p web.Problem
			require.NoError(t, json.Unmarshal([]byte(data), &p))
			assert.Equal(t, c.code, p.Code)
			if c.place != "" {
				require.NotEmpty(t, p.Errors)
				assert.Equal(t, c.place, p.Errors[0].Place)
			}
		})
	}
	t.Run("a circle stops publishing at its place", func(t *testing.T) {
		owner := s.as("falkenau")
		for place, change := range map[string]func(map[string]any){
			"/document/questions/0": func(d map[string]any) {
				question(d, 0)["show"] = `answers.plate == "A"`
				question(d, 1)["show"] = `has(answers.port)`
			},
			"/document/plan/0/after": func(d map[string]any) { d["plan"].([]any)[0].(map[string]any)["after"] = []string{"barrier"} },
		} {
			_, data := owner.send("GET", "/api/design/berth-side-parking", "")
			var whole struct{ Document map[string]any }
			require.NoError(t, json.Unmarshal([]byte(data), &whole))
			status, data := owner.send("PUT", "/api/design/berth-side-parking", put(change))
			require.Equal(t, 200, status, data)
			var saved struct{ Revision int }
			require.NoError(t, json.Unmarshal([]byte(data), &saved))
			p := owner.problem("POST", "/api/design/berth-side-parking/publish", `{"accepted":[],"revision":`+jsonText(saved.Revision)+`}`)
			assert.Equal(t, refusal.Unready, p.Code)
			require.NotEmpty(t, p.Errors)
			assert.Equal(t, place, p.Errors[0].Place)
			assert.Equal(t, finding.Circle, p.Errors[0].Code)
			back, err := json.Marshal(map[string]any{"document": whole.Document, "revision": saved.Revision})
			require.NoError(t, err)
			status, data = owner.send("PUT", "/api/design/berth-side-parking", string(back))
			require.Equal(t, 200, status, data)
		}
	})
}

func jsonText(v any) string {
	data, _ := json.Marshal(v)
	return string(data)
}

func TestAnEndedSession(t *testing.T) {
	s := serve(t)
	c := s.as("sarmento")
	status, _ := c.send("DELETE", "/api/session", "")
	require.Equal(t, 200, status)
	p := c.problem("PUT", "/api/offerings/berth-side-parking/draft", `{"answers":{}}`)
	assert.Equal(t, 401, p.Status)
	assert.Contains(t, p.Detail, "Sign in again")
}

func TestOutsideTheDemoNobodyIsAtTheDoor(t *testing.T) {
	office := demotest.New(t)
	server, err := web.New(web.Settings{Office: office.Office, Sessions: memstore.New(), Page: fstest.MapFS{"index.html": {}}, Log: slog.New(slog.DiscardHandler)})
	require.NoError(t, err)
	for _, r := range []*http.Request{httptest.NewRequest("GET", "http://localhost/api/door", nil), httptest.NewRequest("POST", "http://localhost/api/session", strings.NewReader(`{"person":"`+demo.ID("quist")+`"}`))} {
		w := httptest.NewRecorder()
		server.ServeHTTP(w, r)
		assert.Contains(t, []int{404, 405}, w.Code)
	}
}

func TestAnotherSiteCannotSend(t *testing.T) {
	s := serve(t)
	c := s.as("sarmento")
	r, err := http.NewRequest("PUT", s.URL+"/api/offerings/berth-side-parking/draft", strings.NewReader(`{"answers":{}}`))
	require.NoError(t, err)
	r.Header.Set("Origin", "https://elsewhere.example")
	r.Header.Set("Content-Type", "application/json")
	response, err := c.Do(r)
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Equal(t, 403, response.StatusCode)
}

func TestThePage(t *testing.T) {
	s := serve(t)
	get := func(method, path string) (*http.Response, string) {
		r, err := http.NewRequest(method, s.URL+path, nil)
		require.NoError(t, err)
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer response.Body.Close()
		data, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		return response, string(data)
	}
	for _, path := range []string{"/", "/ask", "/follow/x", "/index.html", "/_app"} {
		response, data := get("GET", path)
		assert.Equal(t, 200, response.StatusCode, path)
		assert.Equal(t, start, data, path)
		assert.Equal(t, "no-cache", response.Header.Get("Cache-Control"))
	}
	response, _ := get("HEAD", "/")
	assert.Equal(t, 200, response.StatusCode)
	policy := response.Header.Get("Content-Security-Policy")
	assert.Contains(t, policy, "script-src 'self' 'sha256-abc+/=';")
	assert.NotContains(t, strings.Split(policy, "style-src-attr")[0], "unsafe")
	response, data := get("GET", "/_app/immutable/a.js")
	assert.Equal(t, "1", data)
	assert.Contains(t, response.Header.Get("Cache-Control"), "immutable")
	response, _ = get("GET", "/healthz")
	assert.Equal(t, 200, response.StatusCode)
	response, data = get("GET", "/openapi.json")
	assert.Equal(t, 200, response.StatusCode)
	assert.Contains(t, data, `"openapi":"3.1.0"`)
}

// lines reads a stream line by line.
func (s *site) lines(c *client, query, lastID string) (<-chan string, func()) {
	s.t.Helper()
	ctx, end := context.WithCancel(context.Background())
	r, err := http.NewRequestWithContext(ctx, "GET", s.URL+"/api/live"+query, nil)
	require.NoError(s.t, err)
	r.Header.Set("Last-Event-ID", lastID)
	response, err := c.Do(r)
	require.NoError(s.t, err)
	require.Equal(s.t, 200, response.StatusCode)
	out := make(chan string, 100)
	go func() {
		defer close(out)
		defer response.Body.Close()
		for lines := bufio.NewScanner(response.Body); lines.Scan(); {
			out <- lines.Text()
		}
	}()
	return out, end
}

func next(t *testing.T, lines <-chan string) string {
	t.Helper()
	for {
		select {
		case line, ok := <-lines:
			require.True(t, ok, "the stream has ended")
			if strings.HasPrefix(line, "event: ") || strings.HasPrefix(line, "data: {\"") {
				return line
			}
		case <-time.After(5 * time.Second):
			require.Fail(t, "nothing comes")
		}
	}
}

func TestLive(t *testing.T) {
	s := serve(t)
	status, _ := s.as("").send("GET", "/api/live", "")
	assert.Equal(t, 401, status)
	lines, end := s.lines(s.as("quist"), "", "")
	assert.Equal(t, "event: hello", next(t, lines))
	id := s.Ask("sarmento", "covered").ID
	assert.Equal(t, "event: change", next(t, lines), "the draft becomes her business when it is sent")
	assert.Contains(t, next(t, lines), id)
	end()

	for _, after := range []string{"", "?after=1"} {
		missed, end := s.lines(s.as("quist"), after, map[string]string{"": "1"}[after])
		assert.Equal(t, "event: refresh", next(t, missed))
		end()
	}
}

func id(op *huma.Operation) string {
	if op == nil {
		return ""
	}
	return op.OperationID
}

// Which desks a person may enter.
func TestDesks(t *testing.T) {
	s := serve(t)
	for login, want := range map[string]string{
		"":          "",
		"sarmento":  "ask follow",
		"quist":     "ask follow decide",
		"marrec":    "ask follow deliver",
		"okonjo":    "ask follow decide deliver measure",
		"falkenau":  "ask follow decide design measure",
		"vidigal":   "ask follow decide measure",
		"lindskaug": "ask follow decide deliver manage",
	} {
		_, data := s.as(login).send("GET", "/api/session", "")
		var session struct{ Desks []struct{ Key string } }
		require.NoError(t, json.Unmarshal([]byte(data), &session))
		var keys []string
		for _, d := range session.Desks {
			keys = append(keys, d.Key)
		}
		assert.Equal(t, want, strings.Join(keys, " "), login)
	}
}

// A list goes on where the page before ended, whatever its order.
func TestPages(t *testing.T) {
	s := serve(t)
	for range 5 {
		s.Ask("sarmento", "covered")
		s.Clock.Pass(time.Second)
	}
	for login, path := range map[string]string{"sarmento": "/api/requests?limit=2", "quist": "/api/decisions?limit=2", "coutinho": "/api/tasks?limit=1"} {
		c := s.as(login)
		_, whole := c.send("GET", strings.Split(path, "?")[0], "")
		var all, page struct {
			Entries []json.RawMessage
			Next    string
		}
		require.NoError(t, json.Unmarshal([]byte(whole), &all))
		require.Greater(t, len(all.Entries), 1, login)
		var got []json.RawMessage
		for next := ""; ; {
			page.Entries, page.Next = nil, ""
			_, data := c.send("GET", path+"&after="+url.QueryEscape(next), "")
			require.NoError(t, json.Unmarshal([]byte(data), &page))
			got = append(got, page.Entries...)
			if next = page.Next; next == "" {
				break
			}
		}
		assert.Equal(t, all.Entries, got, login)
	}
}

func TestARuleIsWrittenFromASentence(t *testing.T) {
	c := serve(t).as("falkenau")
	for body, want := range map[string]string{
		`{"join":"any","parts":[{"question":"zones","compare":"anyOf","as":"text","values":["fuel"]},{"question":"port","compare":"is","as":"text","values":["orm"]}]}`: `answers.zones.exists(x, x in ["fuel"]) || answers.port == "orm"`,
		`{"join":"all","parts":[{"question":"start","compare":"atLeast","as":"date","values":["today"]}]}`:                                                              `answers.start >= today`,
	} {
		status, data := c.send("POST", "/api/sentences", body)
		require.Equal(t, 200, status, data)
		var written struct{ Rule string }
		require.NoError(t, json.Unmarshal([]byte(data), &written))
		assert.Equal(t, want, written.Rule)
	}
	p := c.problem("POST", "/api/sentences", `{"join":"all","parts":[{"question":"port","compare":"is","as":"text","values":[]}]}`)
	assert.Equal(t, 422, p.Status)
	assert.Contains(t, p.Detail, "needs one value")
}

// The form tells what it costs, what is missing and who decides; the sheet of
// the request tells the same once it is sent.
func TestFormAndSheet(t *testing.T) {
	s := serve(t)
	c := s.as("sarmento")
	_, data := c.send("PUT", "/api/offerings/berth-side-parking/draft", `{"answers":{"place":[{"item":"covered","quantity":1}],"plate":"x"}}`)
	var form struct {
		Draft  string
		Result struct {
			Complete bool
			Price    struct {
				FirstYear struct{ Amount, Currency string }
			}
			Decisions []struct {
				People []struct{ Name, Reason string }
			}
			Questions []struct {
				Key      string
				Problems []struct{ Code string }
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(data), &form))
	assert.False(t, form.Result.Complete)
	assert.Equal(t, "414.00", form.Result.Price.FirstYear.Amount)
	assert.Equal(t, "Ragnhild Quist", form.Result.Decisions[0].People[0].Name)
	assert.Equal(t, "line manager of Davi Sarmento", form.Result.Decisions[0].People[0].Reason)
	problems := map[string]string{}
	for _, q := range form.Result.Questions {
		for _, p := range q.Problems {
			problems[q.Key] = p.Code
		}
	}
	assert.Equal(t, map[string]string{"port": "required", "plate": "check", "why": "required", "from": "required"}, problems)

	_, data = c.send("POST", "/api/requests/"+form.Draft+"/submit", `{"slip":"","answers":{"port":"orm","plate":"SO-77-DS","place":[{"item":"covered","quantity":1}],"why":"Night.","from":"2099-01-05"}}`)
	assert.Contains(t, data, "/answers/port", "a choice that is not offered")
	status, data := c.send("POST", "/api/requests/"+form.Draft+"/submit", `{"slip":"","answers":{"port":"sankt-orm","plate":"SO-77-DS","place":[{"item":"covered","quantity":1}],"why":"Night.","from":"2099-01-05","left":"over"}}`)
	require.Equal(t, 200, status, data)
	_, data = c.send("GET", "/api/requests/"+form.Draft, "")
	var sheet struct {
		Reference string
		Holders   []struct{ Name, What string }
		Answers   []struct{ Label, Text string }
		Stages    []struct{ Key, At string }
		Allowed   []string
	}
	require.NoError(t, json.Unmarshal([]byte(data), &sheet))
	assert.True(t, request.ValidReference(sheet.Reference))
	assert.Equal(t, "Ragnhild Quist", sheet.Holders[0].Name)
	assert.Len(t, sheet.Answers, 5)
	assert.Equal(t, "Sankt Orm", sheet.Answers[0].Text)
	assert.Len(t, sheet.Stages, 7)
	assert.Equal(t, []string{"withdraw", "follow", "attach"}, sheet.Allowed)
	assert.NotContains(t, data, "over\"")
}

func TestStreamsEndWhenTold(t *testing.T) {
	s := serve(t)
	lines, end := s.lines(s.as("quist"), "", "")
	defer end()
	assert.Equal(t, "event: hello", next(t, lines))
	s.web.EndStreams()
	s.web.EndStreams() // twice does no harm
	for {
		select {
		case _, ok := <-lines:
			if !ok {
				return
			}
		case <-time.After(5 * time.Second):
			require.Fail(t, "the stream goes on")
		}
	}
}

// The cookie is out of reach of scripts, and signing in makes a new one.
func TestTheSessionCookie(t *testing.T) {
	s := serve(t)
	c := s.as("sarmento")
	at, err := url.Parse(s.URL)
	require.NoError(t, err)
	first := c.Jar.Cookies(at)[0].Value
	r, err := http.NewRequest("POST", s.URL+"/api/session", strings.NewReader(`{"person":"`+demo.ID("quist")+`"}`))
	require.NoError(t, err)
	r.Header.Set("Content-Type", "application/json")
	response, err := c.Do(r)
	require.NoError(t, err)
	defer response.Body.Close()
	cookie := response.Cookies()[0]
	assert.True(t, cookie.HttpOnly)
	assert.Equal(t, http.SameSiteLaxMode, cookie.SameSite)
	assert.NotEqual(t, first, cookie.Value, "a session that was there before is not taken over")
	_, data := c.send("GET", "/api/session", "")
	assert.Contains(t, data, "Ragnhild Quist")
}

// A stream ends with its session, at the latest with the next heartbeat; a
// signed-out person starts none.
func TestNoStreamAfterSigningOut(t *testing.T) {
	s := serve(t)
	c := s.as("quist")
	status, _ := c.send("DELETE", "/api/session", "")
	require.Equal(t, 200, status)
	status, _ = c.send("GET", "/api/live", "")
	assert.Equal(t, 401, status)
}

// Answers are found by whoever they are for, in the words of the form.
func TestTheDecisionSheet(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	_, data := s.as("quist").send("GET", "/api/decisions/"+id+"/manager", "")
	var sheet struct {
		Title, Asker, AskerTitle, AskerPlace, Why, RungName string
		Answers                                             []struct{ Label, Text string }
		Follows                                             []struct {
			Task, Team string
			After      []string
			Likely     time.Time
		}
		Allowed []string
		Price   struct{ Monthly struct{ Amount string } }
	}
	require.NoError(t, json.Unmarshal([]byte(data), &sheet))
	assert.Equal(t, "Berth-side parking", sheet.Title)
	assert.Equal(t, "Davi Sarmento", sheet.Asker)
	assert.Equal(t, "Passenger Care, MV Tern Dancer", sheet.AskerPlace)
	assert.Equal(t, "line manager of Davi Sarmento", sheet.Why)
	assert.Equal(t, "34.50", sheet.Price.Monthly.Amount)
	assert.Equal(t, []string{"decide", "askBack", "passOn"}, sheet.Allowed)
	assert.Equal(t, "1 × Covered place", sheet.Answers[2].Text)
	require.Len(t, sheet.Follows, 3)
	assert.Equal(t, "Open the barrier", sheet.Follows[2].Task)
	assert.Equal(t, []string{"Check the badge", "Mark the place"}, sheet.Follows[2].After)
	assert.False(t, sheet.Follows[2].Likely.Before(sheet.Follows[0].Likely))
	assert.True(t, sheet.Follows[0].Likely.After(demotest.Start))
	badge := s.Send("castelo", "quay-access-badge", coretest.Answers(map[string]any{"has": "own-1002", "port": "maravel", "zones": []any{"quay"}, "from": "2027-03-15"}), offering.Beneficiary{}).ID
	_, data = s.as("bjarnason").send("GET", "/api/decisions/"+badge+"/manager", "")
	sheet.Follows = nil
	require.NoError(t, json.Unmarshal([]byte(data), &sheet))
	require.Len(t, sheet.Follows, 2, "neither a picture nor a new badge is needed")
	assert.Equal(t, "Change what the badge opens", sheet.Follows[1].Task)
	assert.Contains(t, data, "QB-20012 offices and workshop", "how it is now")
	s.Must("bjarnason", badge, request.Decide{Rung: "manager", Decision: request.Approve})
	_, data = s.as("castelo").send("GET", "/api/requests/"+badge, "")
	assert.Equal(t, 1, strings.Count(data, `"unneeded":true`), "no new badge is written")

	s.Must("quist", id, request.Decide{Rung: "manager", Decision: request.Approve})
	_, data = s.as("quist").send("GET", "/api/decisions/"+id+"/manager", "")
	sheet.Allowed = nil
	require.NoError(t, json.Unmarshal([]byte(data), &sheet))
	assert.Empty(t, sheet.Allowed)
	assert.Contains(t, data, `"decision":"approve"`)
}
