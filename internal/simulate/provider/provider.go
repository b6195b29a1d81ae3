// Package provider is a small stand-in for the sign-in service of a company: OpenID
// Connect with the code flow and PKCE. One signs in there by choosing a person. Faults can
// be switched on that a real one would hardly have.
package provider

import (
	"crypto/rand"
	"crypto/rsa"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/json"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
)

// Account is somebody who can sign in there.
type Account struct {
	Subject, Login, Name, Email string
	Verified                    bool
	Groups                      []string
}

// Client is what Heptad is known by there.
type Client struct{ ID, Secret string }

// Faults are what is wrong with it; the zero value is nothing.
type Faults struct {
	Down        bool          // it answers nothing but errors
	Issuer      string        // another issuer stands in its tokens
	Unsigned    bool          // its tokens are signed by nobody ("alg": "none")
	Foreign     bool          // its tokens are signed by a key that it does not publish
	ClockOff    time.Duration // by which its clock is ahead
	OtherNonce  bool
	OtherClient bool
}

// Provider is the stand-in.
type Provider struct {
	client Client
	mu     sync.Mutex
	people []Account
	faults Faults
	keys   []jose.JSONWebKey // the last one signs; the others are still published
	codes  map[string]grant
}

// grant is what a code stands for; it is taken once.
type grant struct {
	account             Account
	redirect, challenge string
	nonce               string
}

// New makes one with people.
func New(client Client, people []Account) (*Provider, error) {
	p := &Provider{client: client, people: people, codes: map[string]grant{}}
	return p, p.Rotate()
}

// Rotate makes another key sign from now on.
func (p *Provider) Rotate() error {
	key, err := rsa.GenerateKey(rand.Reader, 2048)
	if err != nil {
		return err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	p.keys = append(p.keys, jose.JSONWebKey{Key: key, KeyID: rand.Text(), Algorithm: string(jose.RS256), Use: "sig"})
	return nil
}

// Break switches faults on, and all others off.
func (p *Provider) Break(f Faults) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.faults = f
}

// SetPeople says who can sign in.
func (p *Provider) SetPeople(people []Account) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.people = people
}

// Handler answers as the service.
func (p *Provider) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /.well-known/openid-configuration", p.discovery)
	mux.HandleFunc("GET /keys", p.published)
	mux.HandleFunc("GET /authorize", p.choose)
	mux.HandleFunc("POST /authorize", p.chosen)
	mux.HandleFunc("POST /token", p.token)
	mux.HandleFunc("GET /end", p.end)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p.mu.Lock()
		down := p.faults.Down
		p.mu.Unlock()
		if down {
			http.Error(w, "Out of order.", http.StatusServiceUnavailable)
			return
		}
		mux.ServeHTTP(w, r)
	})
}

func answer(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body) // whoever asked and left needs no answer
}

func base(r *http.Request) string { return "http://" + r.Host }

func (p *Provider) discovery(w http.ResponseWriter, r *http.Request) {
	b := base(r)
	answer(w, http.StatusOK, map[string]any{
		"issuer": b, "authorization_endpoint": b + "/authorize", "token_endpoint": b + "/token", "jwks_uri": b + "/keys", "end_session_endpoint": b + "/end",
		"response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"}, "id_token_signing_alg_values_supported": []string{"RS256"}, "code_challenge_methods_supported": []string{"S256"},
	})
}

func (p *Provider) published(w http.ResponseWriter, _ *http.Request) {
	p.mu.Lock()
	defer p.mu.Unlock()
	set := jose.JSONWebKeySet{}
	for _, key := range p.keys {
		set.Keys = append(set.Keys, key.Public())
	}
	answer(w, http.StatusOK, set)
}

// asked reads what a client asks for; false when it is refused.
func (p *Provider) asked(w http.ResponseWriter, r *http.Request) (url.Values, bool) {
	q := r.URL.Query()
	if q.Get("client_id") != p.client.ID || q.Get("response_type") != "code" || q.Get("code_challenge_method") != "S256" || q.Get("redirect_uri") == "" {
		http.Error(w, "This client is not known, or asks for something else.", http.StatusBadRequest)
		return nil, false
	}
	return q, true
}

var choosing = template.Must(template.New("choose").Parse(`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Company account</title></head>
<body style="font-family:sans-serif;max-width:36rem;margin:3rem auto"><h1>Company account</h1><p>This sign-in service is simulated. Who are you?</p>
<form method="post" action="/authorize?{{.Query}}">{{range .People}}<p><button name="subject" value="{{.Subject}}">{{.Name}}</button></p>{{end}}
<p><button name="subject" value="">Turn back</button></p></form></body></html>`))

func (p *Provider) choose(w http.ResponseWriter, r *http.Request) {
	if _, ok := p.asked(w, r); !ok {
		return
	}
	p.mu.Lock()
	people := slices.Clone(p.people)
	p.mu.Unlock()
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = choosing.Execute(w, map[string]any{"Query": template.URL(r.URL.RawQuery), "People": people}) // as above
}

func (p *Provider) chosen(w http.ResponseWriter, r *http.Request) {
	q, ok := p.asked(w, r)
	if !ok {
		return
	}
	back := url.Values{"state": {q.Get("state")}}
	p.mu.Lock()
	at := slices.IndexFunc(p.people, func(a Account) bool { return a.Subject == r.FormValue("subject") })
	if at < 0 {
		back.Set("error", "access_denied")
	} else {
		code := rand.Text()
		p.codes[code] = grant{p.people[at], q.Get("redirect_uri"), q.Get("code_challenge"), q.Get("nonce")}
		back.Set("code", code)
	}
	p.mu.Unlock()
	http.Redirect(w, r, q.Get("redirect_uri")+"?"+back.Encode(), http.StatusSeeOther)
}

func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	id, secret, _ := r.BasicAuth()
	if id != p.client.ID || subtle.ConstantTimeCompare([]byte(secret), []byte(p.client.Secret)) != 1 {
		answer(w, http.StatusUnauthorized, map[string]string{"error": "invalid_client"})
		return
	}
	p.mu.Lock()
	g, ok := p.codes[r.FormValue("code")]
	delete(p.codes, r.FormValue("code"))
	p.mu.Unlock()
	sum := sha256.Sum256([]byte(r.FormValue("code_verifier")))
	if !ok || g.redirect != r.FormValue("redirect_uri") || g.challenge != base64.RawURLEncoding.EncodeToString(sum[:]) {
		answer(w, http.StatusBadRequest, map[string]string{"error": "invalid_grant"})
		return
	}
	token, err := p.issue(base(r), g)
	if err != nil {
		answer(w, http.StatusInternalServerError, map[string]string{"error": err.Error()})
		return
	}
	answer(w, http.StatusOK, map[string]any{"access_token": rand.Text(), "token_type": "Bearer", "expires_in": 300, "id_token": token})
}

// issue writes the ID token, with what is wrong with it.
func (p *Provider) issue(issuer string, g grant) (string, error) {
	p.mu.Lock()
	f, key := p.faults, p.keys[len(p.keys)-1]
	p.mu.Unlock()
	now := time.Now().Add(f.ClockOff)
	claims := map[string]any{
		"iss": issuer, "aud": p.client.ID, "sub": g.account.Subject, "iat": now.Unix(), "exp": now.Add(5 * time.Minute).Unix(), "nonce": g.nonce,
		"preferred_username": g.account.Login, "name": g.account.Name, "email": g.account.Email, "email_verified": g.account.Verified, "groups": g.account.Groups,
	}
	if f.Issuer != "" {
		claims["iss"] = f.Issuer
	}
	if f.OtherNonce {
		claims["nonce"] = rand.Text()
	}
	if f.OtherClient {
		claims["aud"] = "another"
	}
	if f.Unsigned {
		body, err := json.Marshal(claims)
		return base64.RawURLEncoding.EncodeToString([]byte(`{"alg":"none"}`)) + "." + base64.RawURLEncoding.EncodeToString(body) + ".", err
	}
	if f.Foreign {
		other, err := rsa.GenerateKey(rand.Reader, 2048)
		if err != nil {
			return "", err
		}
		key.Key = other
	}
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.RS256, Key: key}, (&jose.SignerOptions{}).WithType("JWT"))
	if err != nil {
		return "", err
	}
	return jwt.Signed(signer).Claims(claims).Serialize()
}

func (p *Provider) end(w http.ResponseWriter, r *http.Request) {
	http.Redirect(w, r, r.URL.Query().Get("post_logout_redirect_uri"), http.StatusSeeOther)
}
