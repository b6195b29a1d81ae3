// Package signin lets people sign in at the sign-in service of their company, by OpenID
// Connect: the code flow with PKCE (RFC 7636).
package signin

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"
)

// Settings say where the sign-in service is and what it knows Heptad by.
type Settings struct {
	Issuer       string // URL
	ClientID     string
	ClientSecret string
	Back         string // URL of ours that it leads back to
	Leave        string // URL of ours that it leads back to after signing out
	Groups       string // claim that holds the groups of a person
	Clock        func() time.Time
}

// Identity is what the service says of somebody.
type Identity struct {
	Issuer, Subject string
	Login           string // preferred_username; may be empty
	Name, Email     string
	Verified        bool // whether the service knows that the address is theirs
	Groups          []string
	Token           string // the ID token, to sign out with
}

// Trouble is why nobody was signed in. Its sentence is for whoever wanted to.
type Trouble struct {
	Code     string // short, for an address
	Sentence string
	Cause    error
}

func (t *Trouble) Error() string { return fmt.Sprintf("%s (%v)", t.Sentence, t.Cause) }
func (t *Trouble) Unwrap() error { return t.Cause }

// What can go wrong.
const (
	Down    = "down"    // the service does not answer
	Refused = "refused" // it did not let the person in, or the person turned back
	Altered = "altered" // what came back is not what was asked for, or came twice
	Invalid = "invalid" // what it says cannot be trusted
	Clocks  = "clocks"  // its clock and ours differ
)

var sentences = map[string]string{
	Down:    "The sign-in service does not answer. Try again in a moment.",
	Refused: "The sign-in service did not let you in.",
	Altered: "This way in was used already, or has come apart. Begin anew.",
	Invalid: "What the sign-in service says cannot be trusted. Tell an administrator.",
	Clocks:  "The clocks of the sign-in service and of Heptad differ too much. Tell an administrator.",
}

// Sentence tells people what a code means; empty for one that is unknown.
func Sentence(code string) string { return sentences[code] }

func trouble(code string, cause error) error { return &Trouble{code, sentences[code], cause} }

// Provider is the sign-in service. It is found when somebody first signs in, so that
// Heptad starts without it.
type Provider struct {
	Settings
	client *http.Client
	mu     sync.Mutex
	found  *oidc.Provider
}

// patience is how long the service may take for an answer.
const patience = 10 * time.Second

// New makes a provider; nothing is asked yet.
func New(s Settings) *Provider {
	return &Provider{Settings: s, client: &http.Client{Timeout: patience}}
}

// discover reads what the service says of itself, once.
func (p *Provider) discover(ctx context.Context) (*oidc.Provider, *oauth2.Config, error) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.found == nil {
		found, err := oidc.NewProvider(oidc.ClientContext(context.WithoutCancel(ctx), p.client), p.Issuer)
		if err != nil {
			return nil, nil, trouble(Down, err)
		}
		p.found = found
	}
	endpoint := p.found.Endpoint()
	endpoint.AuthStyle = oauth2.AuthStyleInHeader // else a failed exchange is sent twice
	return p.found, &oauth2.Config{ClientID: p.ClientID, ClientSecret: p.ClientSecret, RedirectURL: p.Back, Endpoint: endpoint, Scopes: []string{oidc.ScopeOpenID, "profile", "email"}}, nil
}

// Attempt is what is remembered of somebody who is on the way: it is used once.
type Attempt struct{ State, Nonce, Verifier string }

// Ready reaches the service and reads what it says of itself.
func (p *Provider) Ready(ctx context.Context) error {
	_, _, err := p.discover(ctx)
	return err
}

// Begin gives the address to send somebody to; again asks the service to let them prove
// anew who they are.
func (p *Provider) Begin(ctx context.Context, again bool) (string, Attempt, error) {
	_, config, err := p.discover(ctx)
	if err != nil {
		return "", Attempt{}, err
	}
	a := Attempt{rand.Text(), rand.Text(), oauth2.GenerateVerifier()}
	options := []oauth2.AuthCodeOption{oidc.Nonce(a.Nonce), oauth2.S256ChallengeOption(a.Verifier)}
	if again {
		options = append(options, oauth2.SetAuthURLParam("prompt", "login"))
	}
	return config.AuthCodeURL(a.State, options...), a, nil
}

// skew is by how much two clocks may differ.
const skew = 2 * time.Minute

// Finish takes what the service sent back, and gives whom it says has signed in.
func (p *Provider) Finish(ctx context.Context, a Attempt, query url.Values) (Identity, error) {
	switch {
	case a.State == "" || subtle.ConstantTimeCompare([]byte(query.Get("state")), []byte(a.State)) != 1:
		return Identity{}, trouble(Altered, errors.New("another state"))
	case query.Get("error") != "":
		return Identity{}, trouble(Refused, errors.New(query.Get("error")+" "+query.Get("error_description")))
	}
	found, config, err := p.discover(ctx)
	if err != nil {
		return Identity{}, err
	}
	tokens, err := config.Exchange(oidc.ClientContext(ctx, p.client), query.Get("code"), oauth2.VerifierOption(a.Verifier))
	var said *oauth2.RetrieveError
	switch {
	case errors.As(err, &said) && said.Response.StatusCode < http.StatusInternalServerError:
		return Identity{}, trouble(Altered, err) // such as a code that was used
	case err != nil:
		return Identity{}, trouble(Down, err)
	}
	raw, ok := tokens.Extra("id_token").(string)
	if !ok {
		return Identity{}, trouble(Invalid, errors.New("no ID token"))
	}
	now := p.Clock()
	token, err := found.Verifier(&oidc.Config{ClientID: p.ClientID, Now: func() time.Time { return now.Add(-skew) }}).Verify(oidc.ClientContext(ctx, p.client), raw)
	var expired *oidc.TokenExpiredError
	switch {
	case errors.As(err, &expired):
		return Identity{}, trouble(Clocks, err)
	case err != nil:
		return Identity{}, trouble(Invalid, err)
	case token.IssuedAt.After(now.Add(skew)):
		return Identity{}, trouble(Clocks, fmt.Errorf("issued at %s", token.IssuedAt))
	case subtle.ConstantTimeCompare([]byte(token.Nonce), []byte(a.Nonce)) != 1:
		return Identity{}, trouble(Altered, errors.New("another nonce"))
	}
	return p.identity(token, raw)
}

// identity reads the claims of a token that was verified.
func (p *Provider) identity(token *oidc.IDToken, raw string) (Identity, error) {
	var claims struct {
		Login    string `json:"preferred_username"`
		Name     string `json:"name"`
		Email    string `json:"email"`
		Verified bool   `json:"email_verified"`
	}
	var all map[string]any
	if err := errors.Join(token.Claims(&claims), token.Claims(&all)); err != nil {
		return Identity{}, trouble(Invalid, err)
	}
	id := Identity{Issuer: token.Issuer, Subject: token.Subject, Login: claims.Login, Name: claims.Name, Email: claims.Email, Verified: claims.Verified, Token: raw}
	groups, _ := all[p.Groups].([]any)
	for _, g := range groups {
		if name, ok := g.(string); ok {
			id.Groups = append(id.Groups, name)
		}
	}
	return id, nil
}

// SignOut is the address that ends the session at the service, too; empty when it has
// none.
func (p *Provider) SignOut(ctx context.Context, token string) string {
	found, _, err := p.discover(ctx)
	if err != nil {
		return ""
	}
	var says struct {
		End string `json:"end_session_endpoint"`
	}
	if found.Claims(&says) != nil || says.End == "" {
		return ""
	}
	return says.End + "?" + url.Values{"id_token_hint": {token}, "client_id": {p.ClientID}, "post_logout_redirect_uri": {p.Leave}}.Encode()
}
