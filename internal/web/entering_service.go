package web

import (
	"errors"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/request"
	"heptad/internal/signin"
)

// What a session remembers of somebody on the way to the sign-in service.
const (
	stateKey    = "state"
	nonceKey    = "nonce"
	verifierKey = "verifier"
	backKey     = "back"
	tokenKey    = "token" // of who came from there, to sign out with
)

// beginService sends somebody to the sign-in service.
func (s *Server) beginService(w http.ResponseWriter, r *http.Request) {
	if s.Office.Service == nil {
		unknownPath(w, r)
		return
	}
	address, attempt, err := s.Office.Service.Begin(r.Context(), r.URL.Query().Has("again"))
	if err != nil {
		s.turnedBack(w, r, err)
		return
	}
	ctx := r.Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		s.refuse(w, r, err)
		return
	}
	back := r.URL.Query().Get("back")
	if !strings.HasPrefix(back, "/") || strings.HasPrefix(back, "//") || strings.HasPrefix(back, "/\\") {
		back = "/ask"
	}
	for key, value := range map[string]string{stateKey: attempt.State, nonceKey: attempt.Nonce, verifierKey: attempt.Verifier, backKey: back} {
		s.sessions.Put(ctx, key, value)
	}
	token, expiry, err := s.sessions.Commit(ctx)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	cookie := s.cookie(token, expiry)
	http.SetCookie(w, &cookie)
	http.Redirect(w, r, address, http.StatusSeeOther)
}

// backFromService takes in who comes back from the sign-in service. What was remembered
// of them is used once.
func (s *Server) backFromService(w http.ResponseWriter, r *http.Request) {
	if s.Office.Service == nil {
		unknownPath(w, r)
		return
	}
	ctx := r.Context()
	attempt := signin.Attempt{State: s.sessions.PopString(ctx, stateKey), Nonce: s.sessions.PopString(ctx, nonceKey), Verifier: s.sessions.PopString(ctx, verifierKey)}
	back := s.sessions.PopString(ctx, backKey)
	if _, _, err := s.sessions.Commit(ctx); err != nil {
		s.refuse(w, r, err)
		return
	}
	identity, err := s.Office.Service.Finish(ctx, attempt, r.URL.Query())
	if err != nil {
		s.turnedBack(w, r, err)
		return
	}
	person, err := s.Office.Entering.EnterFrom(ctx, identity)
	if err != nil {
		s.turnedBack(w, r, err)
		return
	}
	s.sessions.Put(ctx, tokenKey, identity.Token)
	cookie, err := s.beginSession(ctx, person, r.UserAgent())
	if err != nil {
		s.turnedBack(w, r, err)
		return
	}
	http.SetCookie(w, &cookie)
	http.Redirect(w, r, back, http.StatusSeeOther)
}

// turnedBack leads to the door, which says why nobody was signed in.
func (s *Server) turnedBack(w http.ResponseWriter, r *http.Request, err error) {
	why := "Something went wrong on our side. Try again in a moment."
	var trouble *signin.Trouble
	if errors.As(err, &trouble) {
		why = trouble.Sentence
		s.Log.Warn("nobody was signed in by the sign-in service", "error", err)
	} else if refused, ok := request.AsRefusal(err); ok {
		why = refused.Sentence
	} else {
		s.Log.Error("nobody was signed in by the sign-in service", "error", err)
	}
	s.sessions.Put(r.Context(), troubleKey, why)
	token, expiry, err := s.sessions.Commit(r.Context())
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	cookie := s.cookie(token, expiry)
	http.SetCookie(w, &cookie)
	http.Redirect(w, r, "/", http.StatusSeeOther)
}

// troubleKey is why somebody was turned back, in their session, until the door has said it.
const troubleKey = "trouble"

var (
	beginningService = huma.Operation{
		Description: "Leads to the sign-in service of the company.", Parameters: []*huma.Param{{Name: "back", In: "query", Description: "Where to go then", Schema: &huma.Schema{Type: "string"}}, {Name: "again", In: "query", Description: "Who they are is to be proved anew", Schema: &huma.Schema{Type: "string"}}},
		Responses: map[string]*huma.Response{"303": {Description: "To the sign-in service, or to the door when it does not answer"}},
	}
	backService = huma.Operation{
		Description: "Where the sign-in service leads back to.", Responses: map[string]*huma.Response{"303": {Description: "To where the person wanted to be, or to the door, which says why not"}},
	}
)
