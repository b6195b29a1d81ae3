package signin_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/signin"
	"heptad/internal/simulate/provider"
)

var ctx = context.Background()

var client = provider.Client{ID: "heptad", Secret: "a-secret"}

// service is a sign-in service with one person, and Heptad as its client.
func service(t *testing.T) (*provider.Provider, *httptest.Server, *signin.Provider) {
	t.Helper()
	p, err := provider.New(client, []provider.Account{{Subject: "s-1", Login: "signe", Name: "Signe Halvorsen", Email: "signe@halvorsenito.example", Verified: true, Groups: []string{"growers"}}})
	require.NoError(t, err)
	s := httptest.NewServer(p.Handler())
	t.Cleanup(s.Close)
	return p, s, signin.New(signin.Settings{Issuer: s.URL, ClientID: client.ID, ClientSecret: client.Secret, Back: "http://heptad.example/back", Leave: "http://heptad.example/", Groups: "groups", Clock: time.Now})
}

// choose signs somebody in at the service, and gives what it sends back.
func choose(t *testing.T, address, subject string) url.Values {
	t.Helper()
	browser := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	answer, err := browser.PostForm(address, url.Values{"subject": {subject}})
	require.NoError(t, err)
	defer func() { require.NoError(t, answer.Body.Close()) }()
	require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	to, err := answer.Location()
	require.NoError(t, err)
	return to.Query()
}

// why is the code of what went wrong; empty when nothing did.
func why(t *testing.T, err error) string {
	t.Helper()
	if err == nil {
		return ""
	}
	var trouble *signin.Trouble
	require.ErrorAs(t, err, &trouble)
	assert.NotEmpty(t, trouble.Sentence)
	return trouble.Code
}

func TestSigningIn(t *testing.T) {
	p, s, c := service(t)
	address, attempt, err := c.Begin(ctx, false)
	require.NoError(t, err)
	for _, part := range []string{"code_challenge_method=S256", "response_type=code", "nonce=" + attempt.Nonce, "state=" + attempt.State} {
		assert.Contains(t, address, part)
	}
	assert.NotContains(t, address, attempt.Verifier)
	id, err := c.Finish(ctx, attempt, choose(t, address, "s-1"))
	require.NoError(t, err)
	assert.NotEmpty(t, id.Token)
	id.Token = ""
	assert.Equal(t, signin.Identity{Issuer: s.URL, Subject: "s-1", Login: "signe", Name: "Signe Halvorsen", Email: "signe@halvorsenito.example", Verified: true, Groups: []string{"growers"}}, id)

	require.NoError(t, p.Rotate(), "a new key is found")
	address, attempt, err = c.Begin(ctx, true)
	require.NoError(t, err)
	assert.Contains(t, address, "prompt=login")
	_, err = c.Finish(ctx, attempt, choose(t, address, "s-1"))
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(c.SignOut(ctx, "t"), s.URL+"/end?"))
}

// Whatever is wrong with the service, or with what comes back, nobody is signed in, and
// is told why.
func TestFaults(t *testing.T) {
	for name, c := range map[string]struct {
		faults provider.Faults
		alter  func(a *signin.Attempt, q url.Values)
		want   string
	}{
		"wrong issuer":          {faults: provider.Faults{Issuer: "https://elsewhere.example"}, want: signin.Invalid},
		"alg none":              {faults: provider.Faults{Unsigned: true}, want: signin.Invalid},
		"a key of another":      {faults: provider.Faults{Foreign: true}, want: signin.Invalid},
		"for another client":    {faults: provider.Faults{OtherClient: true}, want: signin.Invalid},
		"another nonce":         {faults: provider.Faults{OtherNonce: true}, want: signin.Altered},
		"clock 10 minutes slow": {faults: provider.Faults{ClockOff: -10 * time.Minute}, want: signin.Clocks},
		"clock 10 minutes fast": {faults: provider.Faults{ClockOff: 10 * time.Minute}, want: signin.Clocks},
		"clock a minute off":    {faults: provider.Faults{ClockOff: -time.Minute}, want: ""},
		"down":                  {faults: provider.Faults{Down: true}, want: signin.Down},
		"turned back":           {alter: func(_ *signin.Attempt, q url.Values) { q.Del("code"); q.Set("error", "access_denied") }, want: signin.Refused},
		"another state":         {alter: func(_ *signin.Attempt, q url.Values) { q.Set("state", "mine") }, want: signin.Altered},
		"no attempt":            {alter: func(a *signin.Attempt, q url.Values) { *a = signin.Attempt{}; q.Set("state", "") }, want: signin.Altered},
		"another code":          {alter: func(_ *signin.Attempt, q url.Values) { q.Set("code", "mine") }, want: signin.Altered},
		"another verifier":      {alter: func(a *signin.Attempt, _ url.Values) { a.Verifier = strings.Repeat("x", 43) }, want: signin.Altered},
	} {
		p, _, heptad := service(t)
		address, attempt, err := heptad.Begin(ctx, false)
		require.NoError(t, err, name)
		query := choose(t, address, "s-1")
		p.Break(c.faults)
		if c.alter != nil {
			c.alter(&attempt, query)
		}
		_, err = heptad.Finish(ctx, attempt, query)
		assert.Equal(t, c.want, why(t, err), "%s: %v", name, err)
	}

	// A code opens once.
	_, _, heptad := service(t)
	address, attempt, err := heptad.Begin(ctx, false)
	require.NoError(t, err)
	query := choose(t, address, "s-1")
	_, err = heptad.Finish(ctx, attempt, query)
	require.NoError(t, err)
	_, err = heptad.Finish(ctx, attempt, query)
	assert.Equal(t, signin.Altered, why(t, err))

	// A service that is away when somebody comes is found when it is back.
	p, _, heptad := service(t)
	p.Break(provider.Faults{Down: true})
	_, _, err = heptad.Begin(ctx, false)
	assert.Equal(t, signin.Down, why(t, err))
	assert.Empty(t, heptad.SignOut(ctx, "t"))
	p.Break(provider.Faults{})
	_, _, err = heptad.Begin(ctx, false)
	assert.NoError(t, err)

	refused := signin.New(signin.Settings{Issuer: heptad.Issuer, ClientID: client.ID, ClientSecret: "wrong", Back: heptad.Back, Clock: time.Now})
	address, attempt, err = refused.Begin(ctx, false)
	require.NoError(t, err)
	_, err = refused.Finish(ctx, attempt, choose(t, address, "s-1"))
	assert.Error(t, err)
}
