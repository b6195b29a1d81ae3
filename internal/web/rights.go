package web

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/people"
	"heptad/internal/work"
)

// gate reports whether a person may call an operation at all, before anything of
// what they sent is read. Param gives a parameter of the path. What they may do
// with the thing itself is for work and core to say.
type gate func(ctx context.Context, o *work.Office, person string, param func(string) string) error

func allow(may bool) error {
	if may {
		return nil
	}
	return work.ErrNotFound
}

// The gates.
var (
	// everyone is everybody of the company.
	everyone gate = func(context.Context, *work.Office, string, func(string) string) error { return nil }

	// owners are those who own a service, or design one as its editor.
	owners gate = func(_ context.Context, o *work.Office, person string, _ func(string) string) error {
		return allow(o.DesignsAny(person))
	}

	// writers are owners and administrators.
	writers gate = func(_ context.Context, o *work.Office, person string, _ func(string) string) error {
		return allow(o.Writes(person))
	}

	administrators gate = func(_ context.Context, o *work.Office, person string, _ func(string) string) error {
		return allow(o.Has(person, people.Administrator))
	}

	// auditors are those who read the audit.
	auditors gate = func(_ context.Context, o *work.Office, person string, _ func(string) string) error {
		return allow(o.Audits(person))
	}

	// measurers are those who may measure anything.
	measurers gate = func(_ context.Context, o *work.Office, person string, _ func(string) string) error {
		return allow(o.Measuring.Measures(person))
	}

	// keepers are those who may write the calendar of the path.
	keepers gate = func(ctx context.Context, o *work.Office, person string, param func(string) string) error {
		return o.Designing.MayEditCalendar(ctx, person, param("calendar"))
	}

	// ofOffering is who designs the service of the offering of the path.
	ofOffering gate = func(ctx context.Context, o *work.Office, person string, param func(string) string) error {
		return o.MayDesign(ctx, person, param("offering"))
	}

	// ofService is who owns the service of the path.
	ofService gate = func(_ context.Context, o *work.Office, person string, param func(string) string) error {
		s, ok := o.Company().Service(param("service"))
		return allow(ok && s.Owner == person)
	}

	// ofArea is who owns the area of the path.
	ofArea gate = func(_ context.Context, o *work.Office, person string, param func(string) string) error {
		a, ok := o.Company().Area(param("area"))
		return allow(ok && (a.Owner != "" && a.Owner == person || o.Administers(person)))
	}

	// concerned are those to whom the request of the path is any business.
	concerned gate = func(ctx context.Context, o *work.Office, person string, param func(string) string) error {
		return o.Concerns(ctx, person, param("request"))
	}
)

// guarded lets nobody past who has not signed in, asks too fast or may not
// call the operation; open operations have no gate.
func (s *Server) guarded(let gate) func(ctx huma.Context, next func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		person := me(ctx.Context())
		if person == "" {
			s.fail(ctx, errNotSignedIn)
			return
		}
		operation := ctx.Operation()
		if err := s.meters.pace(person, operation.Method, operation.OperationID); err != nil {
			s.fail(ctx, err)
			return
		}
		if err := s.proven(ctx.Context(), operation.OperationID, ctx.Param("offering")); err != nil {
			s.fail(ctx, err)
			return
		}
		done, err := s.meters.turns.begin(ctx.Context(), person)
		if err != nil {
			s.fail(ctx, err)
			return
		}
		defer done()
		if err := let(ctx.Context(), s.Office, person, ctx.Param); err != nil {
			s.fail(ctx, err)
			return
		}
		if heavy[operation.OperationID] {
			done, err := s.meters.admit(ctx.Context())
			if err != nil {
				s.fail(ctx, err)
				return
			}
			defer done()
		}
		next(ctx)
	}
}

// unlessBound lets nobody past who still has to set a second factor.
func (s *Server) unlessBound(id string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if me(r.Context()) != "" {
			if err := s.proven(r.Context(), id, ""); err != nil {
				s.refuse(w, r, err)
				return
			}
		}
		next.ServeHTTP(w, r)
	})
}

// fail answers with what went wrong, before a handler was reached.
func (s *Server) fail(ctx huma.Context, err error) {
	var p *Problem
	if !errors.As(s.problemOf(err), &p) {
		p = newProblem(http.StatusInternalServerError, "Something went wrong on our side. Nothing was changed; try again.")
	}
	for name, values := range p.GetHeaders() {
		ctx.SetHeader(name, values[0])
	}
	ctx.SetHeader("Content-Type", p.ContentType(""))
	ctx.SetStatus(p.Status)
	_ = s.API.Marshal(ctx.BodyWriter(), "application/json", p) // whoever asked and left needs no answer
}
