package web

import (
	"errors"
	"io"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/connect"
	"heptad/internal/work"
)

// reporting describes how a system reports: signed, and not signed in.
func (s *Server) reporting(system connect.Reporter) huma.Operation {
	header := func(name, description string) *huma.Param {
		return &huma.Param{Name: name, In: "header", Required: true, Description: description, Schema: &huma.Schema{Type: "string"}}
	}
	shape := reflect.TypeOf(system.Reported())
	return huma.Operation{
		Description: "A report of the system of " + system.Describe().Name + ", signed with its secret. One that came before, or too late, changes nothing and is answered alike.",
		Parameters: []*huma.Param{
			header(connect.SignatureHeader, "HMAC-SHA256 of the time, a dot and the body, in hexadecimal"), header(connect.TimeHeader, "Unix second at which it was signed; at most five minutes away"),
		},
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/json": {Schema: s.API.OpenAPI().Components.Schemas.Schema(shape, true, shape.Name())}}},
		Responses:   map[string]*huma.Response{"200": {Description: "It is known now"}, "401": {Description: "The signature is wrong"}, "404": {Description: "Nothing is known of what it is about"}},
	}
}

// mostReport is the largest report taken, in bytes.
const mostReport = 64 << 10

func (s *Server) report(connector string) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		data, err := io.ReadAll(http.MaxBytesReader(w, r.Body, mostReport))
		if err != nil {
			writeProblem(w, r, http.StatusRequestEntityTooLarge, "The report is too long.")
			return
		}
		verdict, err := s.Office.Connecting.Reported(r.Context(), connector, data, r.Header.Get(connect.SignatureHeader), r.Header.Get(connect.TimeHeader))
		switch {
		case errors.Is(err, work.ErrForged):
			if wait := s.meters.strangers.take(address(r.RemoteAddr)); wait > 0 {
				s.refuse(w, r, slowDown(wait, strangerTooFast))
				return
			}
			writeProblem(w, r, http.StatusUnauthorized, "The signature is wrong.")
		case err != nil:
			s.refuse(w, r, err)
		case verdict == work.Unknown:
			writeProblem(w, r, http.StatusNotFound, "Nothing is known of what it is about.")
		default:
			w.Header().Set("Content-Type", "application/json")
			_, _ = w.Write([]byte(`{"verdict":"` + verdict + `"}`)) // whoever asked and left needs no answer
		}
	}
}
