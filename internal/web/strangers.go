package web

import (
	"net/http"

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
