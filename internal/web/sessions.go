package web

import (
	"context"
	"crypto/rand"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"

	"heptad/internal/work"
)

// How long a session lasts from signing in, after which time of silence it
// ends, and how often that it is used is written down.
const (
	lifetime  = 12 * time.Hour
	idleAfter = 2 * time.Hour
	noteUse   = 5 * time.Minute
)

// What a session holds: the ID of the person, the roles they had on signing in, the
// Unix seconds it was last used and somebody proved who they are, the ID under which its
// holder sees it, whether a second factor has to be set before anything else, and in a trial
// the ID of the tester who acts as the person.
const (
	personKey = "person"
	rolesKey  = "roles"
	usedKey   = "used"
	provedKey = "proved"
	idKey     = "id"
	boundKey  = "bound"
	testerKey = "tester"
)

// openSessions makes the sessions. Only their tokens' hashes are kept.
func (s *Server) openSessions() error {
	var err error
	if s.public, err = url.Parse(s.Public); err != nil {
		return fmt.Errorf("the public address %q cannot be read: %w", s.Public, err)
	}
	s.sessions = scs.New()
	s.sessions.Store, s.sessions.Codec, s.sessions.Lifetime, s.sessions.HashTokenInStore = s.Sessions, inJSON{}, lifetime, true
	return nil
}

// tls reports whether people reach it with TLS.
func (s *Server) tls() bool { return s.public.Scheme == "https" }

// ours reports whether a request names a host of ours. A foreign name that leads
// here would let a foreign page speak as ours. Who watches over the program may
// use any.
func (s *Server) ours(r *http.Request) bool {
	if r.URL.Path == "/healthz" || r.URL.Path == "/readyz" {
		return true
	}
	host := r.Host
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	if s.public.Host != "" && !loopback(s.public.Hostname()) {
		return strings.EqualFold(host, s.public.Hostname())
	}
	return loopback(strings.Trim(host, "[]"))
}

func loopback(host string) bool {
	ip := net.ParseIP(host)
	return strings.EqualFold(host, "localhost") || ip != nil && ip.IsLoopback()
}

// cookieName is the name of the session's cookie. The prefix keeps other names
// and plain connections from setting it (RFC 6265bis).
func (s *Server) cookieName() string {
	name := "heptad"
	if s.Office.Trial { // it may be served beside the real one
		name = "heptad-trial"
	}
	if s.tls() {
		return "__Host-" + name
	}
	return name
}

func (s *Server) cookie(token string, expiry time.Time) http.Cookie {
	c := http.Cookie{Name: s.cookieName(), Value: token, Path: "/", Expires: expiry, HttpOnly: true, Secure: s.tls(), SameSite: http.SameSiteLaxMode}
	if token == "" {
		c.MaxAge = -1
	}
	return c
}

// withSession finds the session of a request and who it belongs to.
func (s *Server) withSession(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		token := ""
		if c, err := r.Cookie(s.cookieName()); err == nil {
			token = c.Value
		}
		ctx, err := s.sessions.Load(r.Context(), token)
		if err != nil {
			s.refuse(w, r, err)
			return
		}
		ctx = context.WithValue(ctx, contextKey{}, s.personIn(ctx))
		ctx = work.WithSession(ctx, s.sessions.GetString(ctx, idKey))
		next.ServeHTTP(w, r.WithContext(ctx))
	})
}

// beginSession signs a person in, under a new token. It is kept before the
// cookie goes out, so that a full disk refuses the sign-in and nothing else.
func (s *Server) beginSession(ctx context.Context, person, agent string) (http.Cookie, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return http.Cookie{}, work.Explain(err)
	}
	s.sessions.Remove(ctx, testerKey)
	s.sessions.Put(ctx, personKey, person)
	s.sessions.Put(ctx, rolesKey, strings.Join(s.Office.RolesOf(person), " "))
	s.sessions.Put(ctx, usedKey, s.Office.Clock().Unix())
	s.sessions.Put(ctx, provedKey, s.Office.Clock().Unix())
	bound, err := s.Office.Entering.MissesFactor(ctx, person)
	if err != nil {
		return http.Cookie{}, err
	}
	s.sessions.Put(ctx, boundKey, bound)
	id := rand.Text()
	s.sessions.Put(ctx, idKey, id)
	if err := s.Office.Entering.BeginSession(ctx, id, person, deviceOf(agent), lifetime); err != nil {
		return http.Cookie{}, err
	}
	token, expiry, err := s.sessions.Commit(ctx)
	return s.cookie(token, expiry), work.Explain(err)
}

// proved notes that somebody has proved again who they are.
func (s *Server) proved(ctx context.Context) error {
	s.sessions.Put(ctx, provedKey, s.Office.Clock().Unix())
	_, _, err := s.sessions.Commit(ctx)
	return work.Explain(err)
}

// freed notes that a second factor was set.
func (s *Server) freed(ctx context.Context) error {
	s.sessions.Put(ctx, boundKey, false)
	return s.proved(ctx)
}

// personIn is the person of the session. It ends with silence, when they leave
// the company, or when they lose a role they had on signing in.
func (s *Server) personIn(ctx context.Context) string {
	id := s.sessions.GetString(ctx, personKey)
	if id == "" {
		return ""
	}
	now := s.Office.Clock()
	idle := now.Sub(time.Unix(s.sessions.GetInt64(ctx, usedKey), 0))
	p, ok := s.Office.Company().Person(id)
	had, has := strings.Fields(s.sessions.GetString(ctx, rolesKey)), s.Office.RolesOf(id)
	lost := slices.ContainsFunc(had, func(role string) bool { return !slices.Contains(has, role) })
	held, err := s.Office.Entering.SessionHeld(ctx, s.sessions.GetString(ctx, idKey))
	if err != nil {
		if ctx.Err() == nil { // else whoever asked has left
			s.Log.Error("a session cannot be looked up", "error", err)
		}
		return "" // until it can
	}
	tester := s.sessions.GetString(ctx, testerKey)
	untried := tester != "" && !s.Office.Trying.Tests(tester)
	if !ok || p.Former || lost || untried || !held || idle > idleAfter {
		if err := s.sessions.Destroy(ctx); err != nil {
			s.Log.Error("a session that is over cannot be removed", "error", err)
		}
		return ""
	}
	if idle > noteUse {
		s.sessions.Put(ctx, usedKey, now.Unix())
		if _, _, err := s.sessions.Commit(ctx); err != nil {
			s.Log.Error("the use of a session cannot be noted", "error", err) // it may end early
		}
		if err := s.Office.Entering.UseSession(ctx, s.sessions.GetString(ctx, idKey)); err != nil {
			s.Log.Error("the use of a session cannot be noted", "error", err) // its holder sees an earlier one
		}
	}
	return id
}

// still reports whether the session of a long request goes on: it is read anew.
func (s *Server) still(r *http.Request, person string) bool {
	token := ""
	if c, err := r.Cookie(s.cookieName()); err == nil {
		token = c.Value
	}
	ctx, err := s.sessions.Load(context.WithoutCancel(r.Context()), token)
	return err == nil && s.personIn(ctx) == person
}
