// Package simulate holds small stand-ins for the systems that Heptad works
// with. They speak the real protocol on a port of their own and keep what they
// have done in a file, so that a restart changes nothing.
package simulate

import (
	"bytes"
	"encoding/json"
	"errors"
	"html/template"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"sync"
	"time"
)

// Faults are what can be wrong with a system.
type Faults struct {
	Slow    bool    `json:"slow"`    // answers after some seconds
	Refuse  bool    `json:"refuse"`  // refuses everything, and does nothing
	Late    bool    `json:"late"`    // does the work, then says that it failed
	Twice   bool    `json:"twice"`   // does what it is asked, and reports, two times
	Down    bool    `json:"down"`    // does not answer at all
	Chance  float64 `json:"chance"`  // of each fault that is on; 1 when 0
	SlowFor int     `json:"slowFor"` // milliseconds; 3000 when 0
}

// Setup is what a simulator begins with.
type Setup struct {
	Path   string // of the file in which it keeps what it does
	Seed   []byte // JSON, of a shape of its own: what it has done before there is a file; nil for nothing
	Secret string // that Heptad and it know each other by
}

// Read reads the seed into a value; without one it stays as it is.
func (s Setup) Read(into any) error {
	if len(s.Seed) == 0 {
		return nil
	}
	return json.Unmarshal(s.Seed, into)
}

// Simulator is a stand-in for another system.
type Simulator interface {
	// Called is the name of the system, to begin a sentence with.
	Called() string
	Handler() http.Handler
	Guard(secret string)
	SetFaults(f Faults)
}

// System is what all simulators have: faults, and a page that shows what they
// have done and switches faults on and off.
type System struct {
	Name   string
	secret string // that a caller has to give; empty for none
	Deeds  []Deed // that its page offers on each row
	mu     sync.Mutex
	faults Faults
}

// Deed is what can be done from the page with the thing of a row: a form is
// posted to /deeds/{first cell} with the key as "state".
type Deed struct{ Key, Name string }

// Called is its name.
func (s *System) Called() string { return s.Name }

// SetFaults lets things be wrong from now on.
func (s *System) SetFaults(f Faults) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.faults = f
}

// Guard lets only callers in that give a secret.
func (s *System) Guard(secret string) { s.secret = secret }

// Wrong draws which faults happen now.
func (s *System) Wrong() Faults {
	s.mu.Lock()
	defer s.mu.Unlock()
	f := s.faults
	happens := func(on bool) bool { return on && (f.Chance == 0 || rand.Float64() < f.Chance) }
	return Faults{happens(f.Slow), happens(f.Refuse), happens(f.Late), happens(f.Twice), happens(f.Down), 0, f.SlowFor}
}

// Serve serves the interface of a system with its faults, and its page: GET /
// shows the rows, POST /faults takes new faults as JSON or from the page.
func (s *System) Serve(api http.Handler, rows func() [][]string) http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) { s.page(w, rows()) })
	mux.HandleFunc("POST /faults", func(w http.ResponseWriter, r *http.Request) {
		var f Faults
		if r.Header.Get("Content-Type") == "application/json" {
			if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 4096)).Decode(&f); err != nil {
				Fail(w, http.StatusBadRequest, "These are no faults.")
				return
			}
			s.SetFaults(f)
			Reply(w, http.StatusOK, f)
			return
		}
		on := func(name string) bool { return r.PostFormValue(name) == "on" }
		s.SetFaults(Faults{Slow: on("slow"), Refuse: on("refuse"), Late: on("late"), Twice: on("twice"), Down: on("down")})
		http.Redirect(w, r, "/", http.StatusSeeOther)
	})
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) { s.one(w, r, api) })
	return mux
}

// one answers one call, with what is wrong now.
func (s *System) one(w http.ResponseWriter, r *http.Request, api http.Handler) {
	wrong := s.Wrong()
	switch {
	case wrong.Down:
		if connection, _, err := http.NewResponseController(w).Hijack(); err == nil {
			_ = connection.Close() // as if nobody were there
			return
		}
		Fail(w, http.StatusServiceUnavailable, s.Name+" is down.")
		return
	case s.secret != "" && r.Header.Get("Authorization") != "Bearer "+s.secret:
		Fail(w, http.StatusUnauthorized, "The secret is wrong.")
		return
	case wrong.Refuse:
		Fail(w, http.StatusInternalServerError, s.Name+" refuses everything just now.")
		return
	}
	var body bytes.Buffer
	if _, err := body.ReadFrom(http.MaxBytesReader(w, r.Body, 64<<10)); err != nil {
		Fail(w, http.StatusRequestEntityTooLarge, "This is too long.")
		return
	}
	again := body.Bytes()
	r.Body = http.MaxBytesReader(w, http.NoBody, 0)
	do := func() *httptest.ResponseRecorder {
		answer := httptest.NewRecorder()
		r.Body = readAgain{bytes.NewReader(again)}
		api.ServeHTTP(answer, r)
		return answer
	}
	answer := do()
	if wrong.Twice {
		answer = do()
	}
	if wrong.Slow {
		slow := wrong.SlowFor
		if slow == 0 {
			slow = 3000
		}
		select {
		case <-r.Context().Done():
		case <-time.After(time.Duration(slow) * time.Millisecond):
		}
	}
	if wrong.Late {
		Fail(w, http.StatusInternalServerError, s.Name+" broke down after doing the work.")
		return
	}
	for name, values := range answer.Header() {
		w.Header()[name] = values
	}
	w.WriteHeader(answer.Code)
	_, _ = w.Write(answer.Body.Bytes()) // a caller that is gone needs no answer
}

type readAgain struct{ *bytes.Reader }

func (readAgain) Close() error { return nil }

// Reply answers with a value as JSON.
func Reply(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body) // a caller that is gone needs no answer
}

// Refusal is why a system does not do something.
type Refusal struct {
	Status int
	Detail string
}

func (r Refusal) Error() string { return r.Detail }

// Fail answers that something is not done, and why.
func Fail(w http.ResponseWriter, status int, detail string) {
	Reply(w, status, map[string]string{"detail": detail})
}

// Answer gives a value, or why there is none.
func Answer(w http.ResponseWriter, status int, body any, err error) {
	var refused Refusal
	switch {
	case errors.As(err, &refused):
		Fail(w, refused.Status, refused.Detail)
	case err != nil:
		Fail(w, http.StatusInternalServerError, "The file cannot be written.")
	case body == nil:
		w.WriteHeader(http.StatusNoContent)
	default:
		Reply(w, status, body)
	}
}

// Decoded reads the JSON of a call.
func Decoded[T any](r *http.Request) (out T, err error) {
	if err := json.NewDecoder(r.Body).Decode(&out); err != nil {
		return out, Refusal{http.StatusBadRequest, "This is no JSON of the right shape."}
	}
	return out, nil
}

func (s *System) page(w http.ResponseWriter, rows [][]string) {
	s.mu.Lock()
	faults := s.faults
	s.mu.Unlock()
	on := []struct {
		Key, Name string
		On        bool
	}{
		{"slow", "slow", faults.Slow}, {"refuse", "refusing", faults.Refuse}, {"late", "failing after doing the work", faults.Late},
		{"twice", "doing and answering twice", faults.Twice}, {"down", "down", faults.Down},
	}
	var page bytes.Buffer
	if err := systemPage.Execute(&page, map[string]any{"Name": s.Name, "Faults": on, "Deeds": s.Deeds, "Head": rows[0], "Rows": rows[1:]}); err != nil {
		http.Error(w, err.Error(), http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_, _ = page.WriteTo(w) // the reader has gone away
}

var systemPage = template.Must(template.New("system").Parse(`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{{.Name}}, simulated</title>
<style>body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#13262B;background:#F6F3EA}
table{border-collapse:collapse;width:100%}td:first-child{white-space:nowrap}td,th{border-top:1px solid #cfc9b8;padding:.3rem .5rem;text-align:left;vertical-align:top}label{margin-right:1rem}</style></head><body>
<h1>{{.Name}}</h1><p>A small stand-in that Heptad brings along. What it has done stays over a restart.</p>
<form method="post" action="/faults"><p>Let it be: {{range .Faults}}<label><input type="checkbox" name="{{.Key}}"{{if .On}} checked{{end}}> {{.Name}}</label>{{end}} <button>Set</button></p></form>
<table><thead><tr>{{range .Head}}<th>{{.}}</th>{{end}}{{if .Deeds}}<th>Report</th>{{end}}</tr></thead><tbody>{{range .Rows}}<tr>{{range .}}<td>{{.}}</td>{{end}}{{if $.Deeds}}<td><form method="post" action="/deeds/{{index . 0}}">{{range $.Deeds}}<button name="state" value="{{.Key}}">{{.Name}}</button> {{end}}</form></td>{{end}}</tr>{{else}}<tr><td>Nothing yet.</td></tr>{{end}}</tbody></table></body></html>`))
