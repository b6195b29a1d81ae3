package web_test

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/alexedwards/scs/v2/memstore"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/people"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/signin"
	"heptad/internal/simulate/provider"
	"heptad/internal/web"
	"heptad/internal/work"
)

const passphrase = "grey heron at the pier"

// house is the interface as a company has it: nobody is chosen at a door.
func house(t *testing.T, limits web.Limits) *site {
	t.Helper()
	office := demotest.New(t)
	sessions := memstore.New()
	server, err := web.New(web.Settings{Office: office.Office, Sessions: sessions, Limits: limits, Log: slog.New(slog.DiscardHandler), Page: fstest.MapFS{"index.html": {Data: []byte(start)}}})
	require.NoError(t, err)
	s := &site{httptest.NewServer(server), office, server, sessions, t}
	t.Cleanup(s.Close)
	return s
}

// enter signs somebody in by password, and gives the status and the code of the problem.
func (c *client) enter(name, password, code string) (int, string) {
	c.site.t.Helper()
	status, data := c.send("POST", "/api/session/password", fmt.Sprintf(`{"name":%q,"password":%q,"code":%q}`, name, password, code))
	var p web.Problem
	_ = json.Unmarshal([]byte(data), &p)
	return status, p.Code
}

func (c *client) code(method, path, body string) string {
	status, data := c.send(method, path, body)
	var p web.Problem
	_ = json.Unmarshal([]byte(data), &p)
	return strings.TrimSpace(fmt.Sprint(status, " ", p.Code))
}

func TestEnteringByPassword(t *testing.T) {
	s := house(t, web.Limits{Strangers: 1000, StrangerBurst: 1000})
	for _, login := range []string{"sarmento", "quist"} {
		require.NoError(t, s.Entering.SetPassword(context.Background(), demo.ID(login), passphrase))
	}
	c := s.as("")
	assert.Equal(t, "404", c.code("GET", "/api/door", ""), "nothing of the demo is there")
	assert.Equal(t, "404", c.code("POST", "/api/session", `{"person":"`+demo.ID("quist")+`"}`))
	_, data := c.send("GET", "/api/session", "")
	assert.Contains(t, data, `"enter":{"password":true,"mail":true}`)
	for range 8 {
		status, code := c.enter("sarmento", "wrong", "")
		assert.Equal(t, "422 wrongPassword", fmt.Sprint(status, " ", code))
	}
	status, _ := c.enter("SARMENTO ", passphrase, "")
	assert.Equal(t, http.StatusTooManyRequests, status, "guessing at an account is slowed, from wherever")
	status, _ = c.enter("quist", passphrase, "")
	assert.Equal(t, http.StatusOK, status, "and no other account is")
	assert.Equal(t, "200", c.code("GET", "/api/requests", ""))
	assert.Equal(t, "200", s.as("").code("POST", "/api/forgotten", `{"name":"sarmento"}`), "and who forgot it is not locked out")
}

// A role that needs a second factor: nothing else can be done before it is set.
func TestBound(t *testing.T) {
	s := house(t, web.Limits{})
	ctx, admin := context.Background(), demo.ID("lindskaug")
	require.NoError(t, s.Entering.SetPassword(ctx, admin, passphrase))
	org := s.Organisation()
	org.FactorRoles = []string{people.Administrator}
	require.NoError(t, s.Keeping.Organise(ctx, admin, org))
	c := s.as("")
	status, _ := c.enter("lindskaug", passphrase, "")
	require.Equal(t, http.StatusOK, status)
	_, data := c.send("GET", "/api/session", "")
	assert.Contains(t, data, `"bound":true`)
	for _, path := range []string{"/api/background", "/api/requests", "/api/company/people", "/api/company/people/template", "/api/live", "/api/audit/rows"} {
		assert.Equal(t, "403 factorNeeded", c.code("GET", path, ""), path)
	}
	assert.Equal(t, "200", c.code("GET", "/api/me/safety", ""))
	_, data = c.send("POST", "/api/me/factor", "")
	var f struct{ Secret string }
	require.NoError(t, json.Unmarshal([]byte(data), &f))
	shown, err := totp.GenerateCode(f.Secret, s.Clock.Now())
	require.NoError(t, err)
	assert.Equal(t, "200", c.code("PUT", "/api/me/factor", fmt.Sprintf(`{"secret":%q,"code":%q}`, f.Secret, shown)))
	assert.Equal(t, "200", c.code("GET", "/api/background", ""))
	assert.Equal(t, "409 factorNeeded", c.code("DELETE", "/api/me/factor", ""))
}

// What needs more care asks again after ten minutes; a wrong answer is counted.
func TestProvingAgain(t *testing.T) {
	s := house(t, web.Limits{})
	require.NoError(t, s.Entering.SetPassword(context.Background(), demo.ID("lindskaug"), passphrase))
	c := s.as("")
	status, _ := c.enter("lindskaug", passphrase, "")
	require.Equal(t, http.StatusOK, status)
	set := func() string { return c.code("PUT", "/api/connectors/mail", `{"url":"","atOnce":2}`) }
	assert.Equal(t, "200", set())
	s.Clock.Pass(10 * time.Minute)
	assert.Equal(t, "403 proveAgain", set())
	for path, method := range map[string]string{"/api/audit/rows": "GET", "/api/company/people/sheet": "GET", "/api/roles": "POST", "/api/me/password": "PUT", "/api/grants": "PUT"} {
		assert.Equal(t, "403 proveAgain", c.code(method, path, `{}`), path)
	}
	assert.Equal(t, "200", c.code("GET", "/api/background", ""), "looking needs no proof")

	// Publishing asks, too, when the offering does something sensitive.
	designs := func(key, service string) *client {
		kept, _ := s.Company().Service(service)
		owner, _ := s.Company().Person(kept.Owner)
		require.NoError(t, s.Entering.SetPassword(context.Background(), owner.ID, passphrase))
		opened, err := s.Designing.OpenDraft(context.Background(), owner.ID, key)
		require.NoError(t, err)
		opened.Document.Purpose.Text += " Truly."
		_, err = s.Designing.SaveOffering(context.Background(), owner.ID, key, opened.Document, opened.Revision)
		require.NoError(t, err)
		c := s.as("")
		status, _ := c.enter(owner.Login, passphrase, "")
		require.Equal(t, http.StatusOK, status)
		s.Clock.Pass(11 * time.Minute)
		return c
	}
	for key, want := range map[string]string{"sign-off-a-crew-member": "403 proveAgain", "berth-side-parking": "409 draftChanged"} {
		version, err := s.Store.ServiceOf(context.Background(), key)
		require.NoError(t, err)
		assert.Equal(t, want, designs(key, version).code("POST", "/api/design/"+key+"/publish", `{"revision":99999,"accepted":[]}`), key)
	}
	assert.Equal(t, "422 wrongPassword", c.code("POST", "/api/session/proof", `{"password":"wrong"}`))
	assert.Equal(t, "403 proveAgain", set())
	assert.Equal(t, "200", c.code("POST", "/api/session/proof", fmt.Sprintf(`{"password":%q}`, passphrase)))
	assert.Equal(t, "200", set())
}

func TestSessionsAreEndedFromElsewhere(t *testing.T) {
	s := house(t, web.Limits{})
	require.NoError(t, s.Entering.SetPassword(context.Background(), demo.ID("sarmento"), passphrase))
	here, there, third := s.as(""), s.as(""), s.as("")
	for _, c := range []*client{here, there, third} {
		status, _ := c.enter("sarmento", passphrase, "")
		require.Equal(t, http.StatusOK, status)
	}
	var safe struct {
		Sessions []struct {
			ID, Device string
			This       bool
		}
	}
	_, data := here.send("GET", "/api/me/safety", "")
	require.NoError(t, json.Unmarshal([]byte(data), &safe))
	require.Len(t, safe.Sessions, 3)
	others := 0
	for _, held := range safe.Sessions {
		if !held.This && others == 0 {
			others++
			assert.Equal(t, "200", here.code("DELETE", "/api/me/sessions?id="+held.ID, ""))
		}
	}
	signedIn := func() (n int) {
		for _, c := range []*client{here, there, third} {
			if status, _ := c.send("GET", "/api/requests", ""); status == http.StatusOK {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 2, signedIn())
	assert.Equal(t, "404", here.code("DELETE", "/api/me/sessions?id=none", ""))
	assert.Equal(t, "200", here.code("DELETE", "/api/me/sessions", ""))
	assert.Equal(t, 1, signedIn())
	assert.Equal(t, "200", here.code("GET", "/api/requests", ""))
	require.NoError(t, s.Entering.SetPassword(work.WithSession(context.Background(), "elsewhere"), demo.ID("sarmento"), "marsh and salt and wind"))
	assert.Zero(t, signedIn(), "another password ends them all")
}

// Signing in at the sign-in service of the company: known by mail the first time, by
// subject after; unknown ones are refused or made; groups give roles, and take them.
func TestEnteringFromAService(t *testing.T) {
	s := house(t, web.Limits{Strangers: 1000, StrangerBurst: 1000})
	yilmazer, _ := s.Company().Person(demo.ID("yilmazer"))
	account := provider.Account{Subject: "y", Login: "yilmazer", Name: yilmazer.Name, Email: strings.ToUpper(yilmazer.Email), Verified: true, Groups: []string{"checkers"}}
	there, err := provider.New(provider.Client{ID: "heptad", Secret: "secret"}, nil)
	require.NoError(t, err)
	at := httptest.NewServer(there.Handler())
	t.Cleanup(at.Close)
	s.Office.Service = &work.Service{
		Provider: signin.New(signin.Settings{Issuer: at.URL, ClientID: "heptad", ClientSecret: "secret", Back: s.URL + "/api/service/back", Leave: s.URL + "/", Groups: "groups", Clock: time.Now}),
		Name:     "the company account", Roles: map[string]string{"checkers": people.Auditor},
	}
	// enter goes there and back as a browser does, and gives the page it ends on.
	enter := func(c *client, back, subject string) string {
		t.Helper()
		answer, err := c.Get(s.URL + "/api/service?back=" + url.QueryEscape(back))
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		if answer.Request.URL.Path != "/authorize" {
			return answer.Request.URL.RequestURI()
		}
		answer, err = c.PostForm(answer.Request.URL.String(), url.Values{"subject": {subject}})
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		return answer.Request.URL.RequestURI()
	}
	why := func(c *client) string {
		var session struct{ Enter struct{ Trouble string } }
		_, data := c.send("GET", "/api/session", "")
		require.NoError(t, json.Unmarshal([]byte(data), &session))
		return session.Enter.Trouble
	}
	there.SetPeople([]provider.Account{account})
	c := s.as("")
	assert.Equal(t, "/follow?x=1", enter(c, "/follow?x=1", "y"))
	_, data := c.send("GET", "/api/session", "")
	assert.Contains(t, data, yilmazer.ID)
	assert.True(t, s.Audits(yilmazer.ID))
	status, data := c.send("DELETE", "/api/session", "")
	assert.Equal(t, http.StatusOK, status)
	assert.Contains(t, data, at.URL+"/end?", "signing out ends it there, too")
	for _, elsewhere := range []string{"//evil.example", "https://evil.example", `/\evil.example`} {
		assert.Equal(t, "/ask", enter(s.as(""), elsewhere, "y"), elsewhere)
	}

	account.Email, account.Groups = "", nil
	there.SetPeople([]provider.Account{account})
	c = s.as("")
	assert.Equal(t, "/ask", enter(c, "/ask", "y"), "by subject, whatever address they have")
	assert.False(t, s.Audits(yilmazer.ID), "the role goes with its group")
	assert.Equal(t, "/", enter(s.as(""), "/ask", ""), "who turns back")

	newcomer := provider.Account{Subject: "n", Login: "new.one", Name: "New One", Email: "new.one@quillonstraits.example", Verified: true}
	without, unverified := newcomer, newcomer
	without.Subject, without.Email = "w", ""
	unverified.Subject, unverified.Email, unverified.Verified = "u", yilmazer.Email, false
	there.SetPeople([]provider.Account{newcomer, without, unverified})
	for subject, want := range map[string]string{"n": "Nobody here has the mail address new.one@quillonstraits.example", "w": "tells no mail address", "u": "tells no mail address"} {
		c := s.as("")
		assert.Equal(t, "/", enter(c, "/ask", subject), subject)
		assert.Contains(t, why(c), want)
		assert.Empty(t, why(c), "told once")
		assert.Equal(t, "401", c.code("GET", "/api/requests", ""))
	}
	s.Office.Service.Make = true
	assert.Equal(t, "/ask", enter(s.as(""), "/ask", "n"))
	made, ok := s.Company().ByLogin("new.one")
	assert.True(t, ok)
	assert.Equal(t, "New One", made.Name)
	taken := newcomer
	taken.Subject, taken.Email, taken.Login = "t", "other@quillonstraits.example", "quist"
	there.SetPeople([]provider.Account{taken})
	c = s.as("")
	assert.Equal(t, "/", enter(c, "/ask", "t"))
	assert.Contains(t, why(c), `Somebody else here has the login "quist"`)

	there.Break(provider.Faults{Unsigned: true})
	there.SetPeople([]provider.Account{account})
	c = s.as("")
	assert.Equal(t, "/", enter(c, "/ask", "y"))
	assert.Contains(t, why(c), "cannot be trusted")
	there.Break(provider.Faults{Down: true})
	c = s.as("")
	assert.Equal(t, "/", enter(c, "/ask", "y")[:1])
	answer, err := c.Get(s.URL + "/api/service/back?code=x&state=y")
	require.NoError(t, err)
	require.NoError(t, answer.Body.Close())
	assert.Contains(t, why(c), "Begin anew", "what nobody began leads nowhere")
}

// A trusted proxy says who asks; anybody else's word on that is not taken.
func TestTrustedProxies(t *testing.T) {
	for _, c := range []struct {
		trusted string
		want    []int
	}{{"127.0.0.0/8", []int{429, 429, 200}}, {"10.0.0.0/8", []int{429, 429, 429}}} {
		office := demotest.New(t)
		require.NoError(t, office.Entering.SetPassword(context.Background(), demo.ID("quist"), passphrase))
		_, network, err := net.ParseCIDR(c.trusted)
		require.NoError(t, err)
		server, err := web.New(web.Settings{Office: office.Office, Sessions: memstore.New(), Proxies: []*net.IPNet{network}, Limits: web.Limits{Strangers: 0.001, StrangerBurst: 2, Guesses: 100, GuessBurst: 100}, Log: slog.New(slog.DiscardHandler), Page: fstest.MapFS{"index.html": {Data: []byte(start)}}})
		require.NoError(t, err)
		from := func(forwarded, password string) int {
			r := httptest.NewRequest("POST", "http://localhost/api/session/password", strings.NewReader(fmt.Sprintf(`{"name":"quist","password":%q}`, password)))
			r.RemoteAddr = "127.0.0.1:999"
			r.Header.Set("Content-Type", "application/json")
			r.Header.Set("X-Forwarded-For", forwarded)
			w := httptest.NewRecorder()
			server.ServeHTTP(w, r)
			return w.Code
		}
		for range 2 {
			assert.Equal(t, 422, from("203.0.113.7", "wrong"))
		}
		got := []int{from("203.0.113.7", passphrase), from("198.51.100.1, 203.0.113.7", passphrase), from("198.51.100.1", passphrase)}
		assert.Equal(t, c.want, got, c.trusted)
	}
}
