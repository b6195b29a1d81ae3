package web_test

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/core/people"
	"heptad/internal/demo"
	"heptad/internal/web"
)

// raw sends a request and gives the whole answer, its body read.
func (c *client) raw(method, path, body string, change func(*http.Request)) (*http.Response, string) {
	c.site.t.Helper()
	r, err := http.NewRequest(method, c.site.URL+path, strings.NewReader(body))
	require.NoError(c.site.t, err)
	r.Header.Set("Content-Type", "application/json")
	if change != nil {
		change(r)
	}
	response, err := c.Do(r)
	require.NoError(c.site.t, err)
	defer response.Body.Close()
	data, err := io.ReadAll(response.Body)
	require.NoError(c.site.t, err)
	return response, string(data)
}

// untilRefused calls until it is answered with 429, and tells how often it was
// let through.
func untilRefused(t *testing.T, call func() *http.Response) (passed int) {
	t.Helper()
	for passed = range 100 {
		r := call()
		if r.StatusCode != http.StatusTooManyRequests {
			continue
		}
		seconds, err := strconv.Atoi(r.Header.Get("Retry-After"))
		assert.NoError(t, err)
		assert.Positive(t, seconds)
		return passed
	}
	t.Fatal("nothing was refused")
	return 0
}

// slow are limits that a test reaches, and that do not fill up again meanwhile.
var slow = web.Limits{Writes: 0.01, WritesBurst: 5, Lookups: 0.01, LookupsBurst: 7, Strangers: 0.01, StrangerBurst: 4}

func TestWritesAndSearchesArePacedByPerson(t *testing.T) {
	s := limited(t, slow)
	davi := s.as("sarmento")
	write := func() *http.Response {
		r, _ := davi.raw("POST", "/api/messages/read", `{}`, nil)
		return r
	}
	search := func() *http.Response {
		r, _ := davi.raw("GET", "/api/people?words=a", "", nil)
		return r
	}
	assert.Equal(t, 5, untilRefused(t, write))
	assert.Equal(t, 7, untilRefused(t, search), "searches are counted by themselves")
	p := davi.problem("POST", "/api/messages/read", `{}`)
	assert.Equal(t, refusal.TooMany, p.Code)
	status, _ := davi.send("GET", "/api/requests", "")
	assert.Equal(t, http.StatusOK, status, "reading goes on")
	status, _ = s.as("quist").send("POST", "/api/messages/read", `{}`)
	assert.Equal(t, http.StatusOK, status, "others of the same address are not slowed")
	_, p2 := s.as("sarmento").send("POST", "/api/messages/read", `{}`)
	assert.Contains(t, p2, "tooMany", "another session of the same person is")
}

// An office behind one address works: only failures are counted by address.
func TestStrangersArePacedByAddress(t *testing.T) {
	s := limited(t, slow)
	for range 10 {
		s.as("sarmento")
	}
	stranger, signed := s.as(""), s.as("quist")
	wrong := func() *http.Response {
		r, _ := stranger.raw("POST", "/api/session", `{"person":"nobody"}`, nil)
		return r
	}
	assert.Equal(t, 4, untilRefused(t, wrong))
	r, _ := stranger.raw("GET", "/api/mail/none.none", "", nil)
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode, "links are counted with them")
	r, _ = stranger.raw("GET", "/api/supplier/none", "", nil)
	assert.Equal(t, http.StatusTooManyRequests, r.StatusCode)
	status, _ := signed.send("GET", "/api/mail/none.none", "")
	assert.Equal(t, http.StatusNotFound, status, "who has signed in is no stranger")
}

// Forged reports are refused and counted; what is genuine is taken, from the
// same address too.
func TestForgedReportsPushOutNothing(t *testing.T) {
	s := limited(t, slow)
	c, administrator := s.as(""), s.as("lindskaug")
	forged := func() *http.Response {
		r, _ := c.raw("POST", "/api/reports/purchasing", `{"key":"x","step":"1"}`, nil)
		return r
	}
	assert.Equal(t, 4, untilRefused(t, forged))
	signature, stamp := connect.Sign(s.Systems.Secret(), s.Clock.Now(), []byte(`{"key":"x","step":"1"}`))
	r, body := c.raw("POST", "/api/reports/purchasing", `{"key":"x","step":"1"}`, func(r *http.Request) {
		r.Header.Set(connect.SignatureHeader, signature)
		r.Header.Set(connect.TimeHeader, stamp)
	})
	assert.Equal(t, http.StatusNotFound, r.StatusCode, body)
	reports, err := s.Store.Reports(context.Background(), 100)
	require.NoError(t, err)
	require.Len(t, reports, 1, "the forged ones are not in the log")
	_, data := administrator.send("GET", "/api/background", "")
	assert.Contains(t, data, `"forgeries":[{"connector":"Purchasing","count":5`)
}

// Whoever may not call an operation is refused before a byte of what they sent
// is read.
func TestRightsComeBeforeParsing(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	outsider := s.as("haddad-lis")
	for _, path := range []string{
		"POST /api/catalog?preview=true", "POST /api/calendars/maravel/holidays", "POST /api/calendars/maravel/try", "PUT /api/calendars/maravel", "POST /api/items",
		"POST /api/rules", "POST /api/lines", "POST /api/sentences", "POST /api/texts/sample", "PUT /api/texts", "PUT /api/design/berth-side-parking", "POST /api/design/berth-side-parking/try",
		"POST /api/design/berth-side-parking/merge", "POST /api/design/berth-side-parking/publish", "POST /api/design", "PUT /api/shared-questions", "PUT /api/services/parking/place",
		"PUT /api/connectors/directory", "POST /api/requests/" + id + "/withdraw", "POST /api/requests/" + id + "/words", "POST /api/decisions/" + id + "/manager", "POST /api/requests/" + id + "/submit",
	} {
		method, at, _ := strings.Cut(path, " ")
		r, body := outsider.raw(method, at, "{ this is no JSON: *", nil)
		assert.Equal(t, http.StatusNotFound, r.StatusCode, "%s: %s", path, body)
	}
}

func TestBodiesAreBounded(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	for path, size := range map[string]int{"POST /api/requests/" + id + "/words": 33 << 10, "PUT /api/offerings/berth-side-parking/draft": 1<<20 + 1, "POST /api/catalog": 20<<20 + 2} {
		method, at, _ := strings.Cut(path, " ")
		login := "sarmento"
		if strings.HasSuffix(at, "catalog") {
			login = "falkenau"
		}
		r, body := s.as(login).raw(method, at, `{"text":"`+strings.Repeat("x", size)+`"}`, nil)
		assert.Equal(t, http.StatusRequestEntityTooLarge, r.StatusCode, "%s: %s", path, body)
	}
}

func TestStreamsAreCounted(t *testing.T) {
	s := limited(t, web.Limits{Streams: 3})
	davi := s.as("sarmento")
	ctx, end := context.WithCancel(context.Background())
	open := func() *http.Response {
		r, err := http.NewRequestWithContext(ctx, "GET", s.URL+"/api/live", nil)
		require.NoError(t, err)
		response, err := davi.Do(r)
		require.NoError(t, err)
		t.Cleanup(func() { _ = response.Body.Close() })
		return response
	}
	for range 3 {
		assert.Equal(t, http.StatusOK, open().StatusCode)
	}
	assert.Equal(t, http.StatusTooManyRequests, open().StatusCode)
	end()
	ctx = context.Background()
	require.Eventually(t, func() bool { return open().StatusCode == http.StatusOK }, 5*time.Second, 20*time.Millisecond, "ended streams make room")
}

func TestFilesOfADayAreCounted(t *testing.T) {
	s := limited(t, web.Limits{Uploads: 2, UploadBytes: 1000})
	add := func(login string, size int) int {
		r, _ := s.as(login).raw("POST", "/api/offerings/something-is-broken/files?question=photos&name=a.png", "\x89PNG\r\n\x1a\n"+strings.Repeat("x", size), nil)
		return r.StatusCode
	}
	assert.Equal(t, 200, add("sarmento", 10))
	assert.Equal(t, 200, add("sarmento", 10))
	assert.Equal(t, 429, add("sarmento", 10), "two files are enough")
	assert.Equal(t, 200, add("quist", 2000))
	assert.Equal(t, 429, add("quist", 10), "and so are their bytes")
	s.Clock.Pass(24 * time.Hour)
	assert.Equal(t, 200, add("sarmento", 10), "a new day")
}

// A connection that reads nothing is cut, and what it held is free again.
func TestWhoDoesNotReadIsCut(t *testing.T) {
	s := limited(t, web.Limits{Stalled: 300 * time.Millisecond})
	cookie := s.cookieOf("falkenau")
	conn, err := net.Dial("tcp", s.Listener.Addr().String())
	require.NoError(t, err)
	defer conn.Close()
	require.NoError(t, conn.(*net.TCPConn).SetReadBuffer(4096))
	// Many answers are asked for on one connection, and none is read.
	request := "GET /api/design HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: " + cookie.Name + "=" + cookie.Value + "\r\n\r\n"
	require.Eventually(t, func() bool {
		_ = conn.SetWriteDeadline(time.Now().Add(time.Second))
		_, err := conn.Write(bytes.Repeat([]byte(request), 100))
		return err != nil && !isTimeout(err)
	}, 20*time.Second, 10*time.Millisecond, "the server still holds on to it")
}

func isTimeout(err error) bool {
	e, ok := err.(net.Error)
	return ok && e.Timeout()
}

// cookieOf signs somebody in and gives their session's cookie.
func (s *site) cookieOf(login string) *http.Cookie {
	s.t.Helper()
	r, _ := s.as("").raw("POST", "/api/session", `{"person":"`+demo.ID(login)+`"}`, nil)
	require.Len(s.t, r.Cookies(), 1)
	return r.Cookies()[0]
}

func TestTheSessionIsKeptSafe(t *testing.T) {
	s := serve(t)
	cookie := s.cookieOf("lindskaug")
	_, plain, err := s.sessions.Find(cookie.Value)
	require.NoError(t, err)
	assert.False(t, plain, "the token itself is not kept")
	assert.True(t, cookie.HttpOnly)

	as := func(header, value string) int {
		r, _ := s.as("").raw("GET", "/api/background", "", func(r *http.Request) {
			r.AddCookie(cookie)
			if header == "Host" {
				r.Host = value
			}
		})
		return r.StatusCode
	}
	assert.Equal(t, 200, as("", ""))
	assert.Equal(t, 421, as("Host", "elsewhere.example"), "a foreign name leads nowhere")
	assert.Equal(t, 200, as("Host", "localhost:7070"))

	s.Clock.Pass(119 * time.Minute)
	assert.Equal(t, 200, as("", ""), "it is used")
	s.Clock.Pass(119 * time.Minute)
	assert.Equal(t, 200, as("", ""), "which keeps it")
	s.Clock.Pass(121 * time.Minute)
	assert.Equal(t, 401, as("", ""), "silence ends it")
}

// A session ends when its person leaves or loses a role; a mere change of
// department signs nobody out.
func TestASessionEndsWithItsRole(t *testing.T) {
	s := serve(t)
	administrator, employee := s.as("lindskaug"), s.as("sarmento")
	change := func(sql string) {
		_, err := s.Store.Writer().Exec(sql)
		require.NoError(t, err)
		require.NoError(t, s.ReadCompany(context.Background()))
	}
	is := func(c *client, want int) {
		t.Helper()
		status, _ := c.send("GET", "/api/requests", "")
		assert.Equal(t, want, status)
	}
	change("UPDATE people SET department = 'Fleet' WHERE login IN ('lindskaug', 'sarmento')")
	is(administrator, 200)
	is(employee, 200)
	change("UPDATE people SET roles = '' WHERE login = 'lindskaug'")
	is(administrator, 401)
	is(s.as("lindskaug"), 200)
	change("UPDATE people SET roles = 'administrator' WHERE login = 'lindskaug'")
	is(s.as("lindskaug"), 200)
	change("UPDATE people SET away = 1 WHERE login = 'sarmento'")
	is(employee, 401)
	require.True(t, s.Has(demo.ID("lindskaug"), people.Administrator))
}

func TestWithTLSCookiesAndHostsAreStrict(t *testing.T) {
	s := public(t, "https://heptad.quillonstraits.example")
	c := s.as("")
	signIn := func(host string) *http.Response {
		r, _ := c.raw("POST", "/api/session", `{"person":"`+demo.ID("sarmento")+`"}`, func(r *http.Request) { r.Host = host })
		return r
	}
	assert.Equal(t, 421, signIn("localhost").StatusCode)
	r := signIn("heptad.quillonstraits.example")
	require.Equal(t, 200, r.StatusCode)
	cookie := r.Cookies()[0]
	assert.Equal(t, "__Host-heptad", cookie.Name)
	assert.True(t, cookie.Secure)
	assert.Equal(t, "/", cookie.Path)
	assert.Empty(t, cookie.Domain)
	for name, want := range map[string]string{
		"Strict-Transport-Security": "max-age=31536000", "Cross-Origin-Opener-Policy": "same-origin", "Cross-Origin-Resource-Policy": "same-origin", "Cache-Control": "no-store",
	} {
		assert.Equal(t, want, r.Header.Get(name), name)
	}
}

// A full disk refuses with one document, signing in as well, and takes nothing
// that was there.
func TestAFullDisk(t *testing.T) {
	s := limited(t, web.Limits{Long: keptInFile})
	davi := s.as("sarmento")
	s.Store.Sessions().SetMaxOpenConns(1) // what follows holds for one connection
	for _, file := range []*sql.DB{s.Store.Writer(), s.Store.Sessions()} {
		_, err := file.Exec("PRAGMA wal_checkpoint(TRUNCATE)")
		require.NoError(t, err)
		_, err = file.Exec("PRAGMA max_page_count = 1") // no more than there are
		require.NoError(t, err)
	}
	one := func(r *http.Response, body string) {
		t.Helper()
		assert.Equal(t, http.StatusInsufficientStorage, r.StatusCode, body)
		decoder := json.NewDecoder(strings.NewReader(body))
		var p web.Problem
		require.NoError(t, decoder.Decode(&p), body)
		assert.Equal(t, refusal.Full, p.Code)
		assert.False(t, decoder.More(), "one document: %s", body)
	}
	long := `{"answers":{"plate":"` + strings.Repeat("M", 60_000) + `"}}`
	one(davi.raw("PUT", "/api/offerings/berth-side-parking/draft", long, nil))
	full := false
	for range 3000 { // sessions are small, and pages have room
		r, body := s.as("").raw("POST", "/api/session", `{"person":"`+demo.ID("quist")+`"}`, nil)
		if r.StatusCode != http.StatusOK {
			one(r, body)
			full = true
			break
		}
	}
	assert.True(t, full, "signing in is refused, too")
	status, _ := davi.send("GET", "/api/requests", "")
	assert.Equal(t, http.StatusOK, status, "what is there is there")
}
