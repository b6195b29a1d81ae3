package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/finding"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// Problem is an error as RFC 9457 wants it, with places.
type Problem struct {
	Type      string   `json:"type"`
	Title     string   `json:"title"`
	Status    int      `json:"status"`
	Detail    string   `json:"detail" doc:"What is wrong, as a sentence"`
	Code      string   `json:"code,omitempty" doc:"Stable name of what is wrong"`
	Errors    []Detail `json:"errors,omitempty" doc:"Each thing that is wrong, with its place"`
	Successor *Named   `json:"successor,omitempty" doc:"What takes the place of an offering that has ended"`

	wait time.Duration // until trying again is of use; zero when nobody knows
}

// Detail is one thing that is wrong.
type Detail struct {
	Place    string `json:"place" doc:"JSON Pointer into the body, or a parameter's name"`
	Sentence string `json:"sentence"`
	Code     string `json:"code,omitempty"`
}

func (p *Problem) Error() string { return p.Detail }

// GetStatus is asked by huma.
func (p *Problem) GetStatus() int { return p.Status }

// ContentType is asked by huma.
func (p *Problem) ContentType(string) string { return "application/problem+json" }

// GetHeaders is asked by huma. The wait is told in whole seconds (RFC 9110).
func (p *Problem) GetHeaders() http.Header {
	if p.wait <= 0 {
		return http.Header{}
	}
	return http.Header{"Retry-After": {strconv.Itoa(max(1, int(math.Ceil(p.wait.Seconds()))))}}
}

func newProblem(status int, detail string) *Problem {
	return &Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail}
}

// errNotSignedIn refuses those without a session.
var errNotSignedIn = newProblem(http.StatusUnauthorized, "You are not signed in, or not any more. Sign in again; what you typed is kept.")

func init() {
	// Errors of huma's own, such as a body that does not fit its schema.
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		p := newProblem(status, finding.Sentence(message))
		for _, err := range errs {
			d := Detail{Sentence: finding.Sentence(err.Error())}
			if e, ok := err.(*huma.ErrorDetail); ok {
				d = Detail{Place: place(e.Location), Sentence: finding.Sentence(e.Message)}
			}
			p.Errors = append(p.Errors, d)
		}
		if status == http.StatusUnprocessableEntity || status == http.StatusBadRequest {
			p.Code = refusal.Malformed
		}
		return p
	}
}

var index = regexp.MustCompile(`\[(\d+)\]`)

// place turns "body.questions[0].kind" into "/questions/0/kind".
func place(location string) string {
	inBody, ok := strings.CutPrefix(location, "body")
	if !ok {
		return location
	}
	return strings.ReplaceAll(index.ReplaceAllString(inBody, ".$1"), ".", "/")
}

// problemOf turns what went wrong into a problem. Only refusals tell why;
// anything else is logged.
func (s *Server) problemOf(err error) error {
	if refused, ok := request.AsRefusal(err); ok {
		p := newProblem(statusOf(refused), refused.Sentence)
		p.Code = refused.Code
		if refused.Place != "" {
			p.Errors = []Detail{{refused.Place, refused.Sentence, refused.Code}}
		}
		for _, d := range refused.Details {
			p.Errors = append(p.Errors, Detail{d.Place, d.Sentence, d.Code})
		}
		return p
	}
	var known huma.StatusError
	var preparing work.Preparing
	switch {
	case errors.As(err, &known):
		return known
	case errors.Is(err, work.ErrNotFound):
		return newProblem(http.StatusNotFound, "There is no such thing, or it is not yours to see.")
	case errors.Is(err, work.ErrFull):
		p := newProblem(http.StatusInsufficientStorage, "The disk of the server is full, so nothing new can be taken just now. Everything sent before is safe; what you typed stays on this page.")
		p.Code = refusal.Full
		return p
	case errors.As(err, &preparing):
		p := newProblem(http.StatusServiceUnavailable, fmt.Sprintf("What there is to measure is being prepared: %d of %d requests are read. It takes a moment.", preparing.Done, preparing.Of))
		p.Code = refusal.Preparing
		return p
	case errors.Is(err, context.Canceled):
		return newProblem(499, "The caller has left.")
	}
	s.Log.Error("an operation failed", "error", err)
	return newProblem(http.StatusInternalServerError, "Something went wrong on our side. Nothing was changed; try again.")
}

// refusedAs reports whether something was refused for one of some reasons.
func refusedAs(err error, codes ...string) bool {
	refused, ok := request.AsRefusal(err)
	return ok && slices.Contains(codes, refused.Code)
}

func statusOf(r *request.Refusal) int {
	switch r.Kind {
	case request.Invalid:
		return http.StatusUnprocessableEntity
	case request.NotYours:
		return http.StatusForbidden
	}
	return http.StatusConflict
}

// handlerOf is what an operation does.
type handlerOf[I, O any] = func(context.Context, *I) (*O, error)

// withProblems makes an operation answer its errors as problems.
func withProblems[I, O any](s *Server, handler handlerOf[I, O]) handlerOf[I, O] {
	return func(ctx context.Context, in *I) (*O, error) {
		out, err := handler(ctx, in)
		if err != nil {
			return nil, s.problemOf(err)
		}
		return out, nil
	}
}

// refuse tells an error outside of huma.
func (s *Server) refuse(w http.ResponseWriter, r *http.Request, err error) {
	var tooLarge *http.MaxBytesError
	p := newProblem(http.StatusInternalServerError, "")
	switch {
	case errors.As(err, &tooLarge):
		p = newProblem(http.StatusRequestEntityTooLarge, "The file is too large.")
	case !errors.As(s.problemOf(err), &p):
		p = newProblem(http.StatusInternalServerError, "Something went wrong on our side. Nothing was changed; try again.")
	}
	for name, values := range p.GetHeaders() {
		w.Header().Set(name, values[0])
	}
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p) // whoever asked and left needs no answer
}

// writeProblem answers outside of huma.
func writeProblem(w http.ResponseWriter, _ *http.Request, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(newProblem(status, detail)) // whoever asked and left needs no answer
}
