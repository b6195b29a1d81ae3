package web

import (
	"encoding/json"
	"io"
	"mime"
	"net/http"
	"reflect"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"heptad/internal/core/form"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// fileContent is how the content of a file travels.
var fileContent = map[string]*huma.MediaType{"application/octet-stream": {Schema: &huma.Schema{Type: "string", Format: "binary"}}}

// named are parameters that are needed, in the path or, of those that say what a
// file is, in the query.
func named(list ...string) []*huma.Param {
	var out []*huma.Param
	for _, name := range list {
		in := "path"
		if name == "question" || name == "name" {
			in = "query"
		}
		out = append(out, &huma.Param{Name: name, In: in, Required: true, Schema: &huma.Schema{Type: "string"}})
	}
	return out
}

// uploading describes an operation that takes a file.
func (s *Server) uploading(description, answer string, parameters ...*huma.Param) huma.Operation {
	upload := s.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[form.Upload](), true, "Upload")
	return huma.Operation{
		Description: description, Parameters: parameters, Security: needsSession,
		RequestBody: &huma.RequestBody{Required: true, Content: fileContent},
		Responses:   map[string]*huma.Response{"200": {Description: answer, Content: map[string]*huma.MediaType{"application/json": {Schema: upload}}}},
	}
}

// attaching are the parameters of a file that is added, beside those needed.
var attaching = []*huma.Param{
	{Name: "task", In: "query", Schema: &huma.Schema{Type: "string"}},
	{Name: "to", In: "query", Description: "Who may open it; as for words", Schema: &huma.Schema{Type: "string", Enum: []any{"request", "task", "staff"}}},
}

var downloading = huma.Operation{
	Parameters: named("request", "file"), Security: needsSession,
	Responses: map[string]*huma.Response{"200": {Description: "The file, as an attachment", Content: fileContent}},
}

// uploadTime is how long one file may take.
const uploadTime = 10 * time.Minute

// incoming tells who sends a file, and gives its content, counted against what
// they may send in a day.
func (s *Server) incoming(w http.ResponseWriter, r *http.Request) (person string, content io.Reader, err error) {
	if person = me(r.Context()); person == "" {
		return "", nil, errNotSignedIn
	}
	if err := s.meters.pace(person, r.Method, "upload"); err != nil {
		return "", nil, err
	}
	now := s.Office.Clock()
	if !s.meters.uploads.begin(person, now, s.meters.limits) {
		tomorrow := now.UTC().Truncate(24 * time.Hour).Add(24 * time.Hour)
		return "", nil, slowDown(tomorrow.Sub(now), "You have added as many files today as one person may. Nothing was changed; go on tomorrow.")
	}
	_ = http.NewResponseController(w).SetReadDeadline(time.Now().Add(uploadTime)) // slow lines take longer than other calls
	return person, counted{http.MaxBytesReader(w, r.Body, form.MaxFileSize+1), func(n int) { s.meters.uploads.add(person, n) }}, nil
}

// counted tells how much of a content was read.
type counted struct {
	io.Reader
	count func(n int)
}

func (c counted) Read(p []byte) (int, error) {
	n, err := c.Reader.Read(p)
	c.count(n)
	return n, err
}

func (s *Server) upload(w http.ResponseWriter, r *http.Request) {
	person, body, err := s.incoming(w, r)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	query := r.URL.Query()
	incoming := work.IncomingFile{Name: query.Get("name"), Content: body}
	var upload form.Upload
	if id := chi.URLParam(r, "request"); id != "" {
		upload, err = s.Office.Asking.UploadReturned(r.Context(), person, id, query.Get("question"), incoming)
	} else {
		upload, err = s.Office.Asking.Upload(r.Context(), person, chi.URLParam(r, "offering"), query.Get("question"), incoming)
	}
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(upload) // whoever asked and left needs no answer
}

func (s *Server) attach(w http.ResponseWriter, r *http.Request) {
	person, body, err := s.incoming(w, r)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	incoming := work.IncomingFile{Name: r.URL.Query().Get("name"), Content: body}
	upload, err := s.Office.Following.Attach(r.Context(), person, chi.URLParam(r, "request"), work.Addressed{Task: r.URL.Query().Get("task"), To: request.To(r.URL.Query().Get("to"))}, incoming)
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(upload) // whoever asked and left needs no answer
}

// download gives a file as an attachment, never to be shown as a page of ours.
func (s *Server) download(w http.ResponseWriter, r *http.Request) {
	person := me(r.Context())
	if person == "" {
		s.refuse(w, r, errNotSignedIn)
		return
	}
	upload, content, err := s.Office.Following.File(r.Context(), person, chi.URLParam(r, "request"), chi.URLParam(r, "file"))
	if err != nil {
		s.refuse(w, r, err)
		return
	}
	defer func() { _ = content.Close() }()
	w.Header().Set("Content-Type", upload.Type)
	w.Header().Set("Content-Length", strconv.FormatInt(upload.Size, 10))
	w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": upload.Name}))
	w.Header().Set("Content-Security-Policy", "sandbox; default-src 'none'")
	http.ServeContent(w, r, "", time.Time{}, content)
}
