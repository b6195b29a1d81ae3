package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"
)

// asked is what the page of a desk asks first: for its list, of which the first names what
// one is led to, and for what is open of it.
type asked struct{ list, open []string }

// The addresses are the ones that the page's load functions make, to the letter; what is
// open is named by the parts of the page's address.
var askedFirst = map[string]asked{
	"follow": {
		[]string{"/api/requests?limit=50", "/api/parts"},
		[]string{"/api/requests/{1}", "/api/requests/{1}/ties", "/api/secrets"},
	},
	"decide": {
		[]string{"/api/decisions?words=&sort=waiting&state=waiting&limit=50", "/api/decisions?words=&sort=waiting&state=decided&limit=50"},
		[]string{"/api/decisions/{1}/{2}"},
	},
	"deliver": {
		[]string{"/api/tasks?limit=50", "/api/desk"},
		[]string{"/api/tasks/{1}/{2}", "/api/replies?request={1}&task={2}"},
	},
}

// withAnswers serves the page of a desk with what it would ask all first, so that it is
// there with one answer instead of four in a row. A desk without anything open leads to the
// first of its list. Who has no cookie of a session, and every other page, gets the page alone.
func (p *page) withAnswers(all http.Handler, cookie string) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
		desk, ok := askedFirst[parts[0]]
		if _, err := r.Cookie(cookie); !ok || err != nil || r.Method != http.MethodGet || r.URL.RawQuery != "" {
			p.ServeHTTP(w, r)
			return
		}
		if len(parts) == 1 {
			var led struct{ First string }
			if answer := answerOf(all, r, desk.list[0]); json.Unmarshal(answer.body.Bytes(), &led) == nil && led.First != "" {
				w.Header().Set("Cache-Control", "no-store")
				http.Redirect(w, r, "/"+parts[0]+"/"+led.First, http.StatusFound)
				return
			}
		}
		paths := append([]string{"/api/session"}, desk.list...) // the session first: the stream goes on after its event
		if len(parts) == 1+strings.Count(desk.open[0], "{") {
			names := strings.NewReplacer("{1}", url.PathEscape(parts[1]), "{2}", url.PathEscape(parts[len(parts)-1]))
			for _, path := range desk.open {
				paths = append(paths, names.Replace(path))
			}
		}
		var there bytes.Buffer
		for _, path := range paths {
			bring(&there, path, answerOf(all, r, path))
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.Header().Set("Cache-Control", "no-store")
		before, after, _ := bytes.Cut(p.start, []byte("<body>"))
		for _, part := range [][]byte{before, []byte("<body>"), there.Bytes(), after} {
			_, _ = w.Write(part) // whoever asked and left needs no answer
		}
	}
}

// answerOf is what the reader is answered by all at an address.
func answerOf(all http.Handler, reader *http.Request, address string) *unsent {
	answer := &unsent{header: http.Header{}, status: http.StatusOK}
	at, err := url.Parse(address)
	if err != nil {
		answer.status = http.StatusBadRequest // the page asks, and hears
		return answer
	}
	r := reader.Clone(context.WithValue(reader.Context(), chi.RouteCtxKey, nil))
	r.URL, r.RequestURI = at, address
	r.Header.Del("Accept-Encoding")
	all.ServeHTTP(answer, r)
	return answer
}

// bring writes an answer into a page, as the page looks for it; nothing when it was refused.
func bring(to *bytes.Buffer, address string, answer *unsent) {
	if answer.status != http.StatusOK {
		return
	}
	kept, err := json.Marshal(struct { // < and > are escaped in it
		Status     int               `json:"status"`
		StatusText string            `json:"statusText"`
		Headers    map[string]string `json:"headers"`
		Body       string            `json:"body"`
	}{answer.status, http.StatusText(answer.status), map[string]string{"content-type": answer.header.Get("Content-Type")}, answer.body.String()})
	if err == nil {
		fmt.Fprintf(to, "<script type=\"application/json\" data-sveltekit-fetched data-url=\"%s\">%s</script>\n", html.EscapeString(address), kept)
	}
}

// unsent is an answer that stays in the program.
type unsent struct {
	header http.Header
	status int
	body   bytes.Buffer
}

func (a *unsent) Header() http.Header         { return a.header }
func (a *unsent) WriteHeader(status int)      { a.status = status }
func (a *unsent) Write(p []byte) (int, error) { return a.body.Write(p) }
