package web

import (
	"net"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

const strangerTooFast = "Too much comes from your address at once. Wait a moment and try again."

// failures slows an address whose calls of an operation fail; those that go well
// are not counted, so that an office behind one address works.
func (s *Server) failures(ctx huma.Context, next func(huma.Context)) {
	from := address(ctx.RemoteAddr())
	if wait := s.meters.strangers.look(from); wait > 0 {
		s.fail(ctx, slowDown(wait, strangerTooFast))
		return
	}
	next(ctx)
	if ctx.Status() >= http.StatusBadRequest {
		s.meters.strangers.take(from)
	}
}

// strangers slows an address that follows links without a session.
func (s *Server) strangers(ctx huma.Context, next func(huma.Context)) {
	if me(ctx.Context()) == "" {
		if wait := s.meters.strangers.take(address(ctx.RemoteAddr())); wait > 0 {
			s.fail(ctx, slowDown(wait, strangerTooFast))
			return
		}
	}
	next(ctx)
}

// forwarded takes the word of trusted proxies on where a request comes from: the last
// address that none of them added.
func (s *Server) forwarded(next http.Handler) http.Handler {
	trusted := func(host string) bool {
		ip := net.ParseIP(host)
		return ip != nil && slices.ContainsFunc(s.Proxies, func(n *net.IPNet) bool { return n.Contains(ip) })
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if len(s.Proxies) > 0 && trusted(address(r.RemoteAddr)) {
			hops := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
			for i := len(hops) - 1; i >= 0; i-- {
				if hop := strings.TrimSpace(hops[i]); net.ParseIP(hop) != nil && !trusted(hop) {
					r.RemoteAddr = net.JoinHostPort(hop, "0")
					break
				}
			}
		}
		next.ServeHTTP(w, r)
	})
}
