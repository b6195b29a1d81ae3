package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
)

// api is somebody's session without a browser.
type api struct {
	*http.Client
	s *server
}

func (s *server) as(login string) *api {
	s.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	a := &api{&http.Client{Jar: jar, Timeout: 5 * time.Second}, s}
	require.NoError(s.t, a.send("POST", "/api/session", map[string]string{"person": demo.ID(login)}, nil))
	return a
}

// send asks the program. An error is either a status of 400 and more, or that
// the program is no longer there.
func (a *api) send(method, path string, in, out any) error {
	body, err := json.Marshal(in)
	if err != nil {
		return err
	}
	r, err := http.NewRequest(method, a.s.url+path, bytes.NewReader(body))
	if err != nil {
		return err
	}
	if in != nil {
		r.Header.Set("Content-Type", "application/json")
	} else {
		r.Body = http.NoBody
	}
	response, err := a.Do(r)
	if err != nil {
		return err
	}
	defer response.Body.Close()
	if response.StatusCode >= 400 {
		return fmt.Errorf("%s %s: %s", method, path, response.Status)
	}
	if out == nil {
		return nil
	}
	return json.NewDecoder(response.Body).Decode(out)
}

// publishQuick makes an offering with one task for Keys & Badges and one
// automatic after it.
func (s *server) publishQuick() {
	s.t.Helper()
	owner := s.as("falkenau")
	var opened struct {
		Document offering.Document
		Revision int
	}
	require.NoError(s.t, owner.send("POST", "/api/design", map[string]string{"name": "Quick badge", "service": "access"}, &opened))
	opened.Document.Purpose.Text, opened.Document.Purpose.Keywords = "A badge without questions.", []string{"fast"}
	opened.Document.Plan = []plan.Task{
		{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys-badges"},
		{Key: "write", Name: "Write", Kind: plan.Automatic, Team: "keys-badges", After: []string{"check"}, Tries: slices.Repeat([]string{"300ms"}, 20), Action: &plan.Action{
			Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "opens": "Gate"},
		}},
	}
	require.NoError(s.t, owner.send("PUT", "/api/design/quick-badge", map[string]any{"document": opened.Document, "revision": opened.Revision}, &opened))
	require.NoError(s.t, owner.send("POST", "/api/design/quick-badge/publish", map[string]any{"revision": opened.Revision, "accepted": []string{}}, nil))
}

// promised remembers what the program has acknowledged.
type promised struct {
	mu   sync.Mutex
	sent map[string]string // request to reference
	done map[string]bool   // requests whose check was acknowledged as done
}

// ask sends requests until the program is gone.
func (p *promised) ask(a *api) {
	for {
		var form, sheet struct{ Draft, ID, Reference string }
		if a.send("PUT", "/api/offerings/quick-badge/draft", map[string]any{"answers": map[string]any{}}, &form) != nil {
			return
		}
		if a.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"answers": map[string]any{}, "slip": ""}, &sheet) != nil {
			return
		}
		p.mu.Lock()
		p.sent[sheet.ID] = sheet.Reference
		p.mu.Unlock()
	}
}

// work does the tasks of Keys & Badges until the program is gone, or there is
// nothing left and it may stop.
func (p *promised) work(a *api, untilEmpty bool) {
	for {
		var tasks struct {
			Entries []struct{ Request, Title, Key, State string }
		}
		if a.send("GET", "/api/tasks", nil, &tasks) != nil {
			return
		}
		worked := false
		for _, t := range tasks.Entries {
			at := "/api/tasks/" + t.Request + "/" + t.Key
			if t.Title != "Quick badge" || (t.State == "ready" && a.send("POST", at+"/take", nil, nil) != nil) {
				continue
			}
			if a.send("POST", at+"/complete", map[string]string{}, nil) == nil {
				worked = true
				p.mu.Lock()
				p.done[t.Request] = true
				p.mu.Unlock()
			}
		}
		if untilEmpty && !worked {
			return
		}
	}
}

// kills is how often the program is killed; make soak asks for more.
func kills() int {
	if n, err := strconv.Atoi(os.Getenv("HEPTAD_KILLS")); err == nil {
		return n
	}
	return 20
}

// faulty lets the simulators be slow, refuse, fail after doing the work and do
// it twice, each now and then; or all well again.
func (s *server) faulty(chance float64) {
	s.t.Helper()
	on := chance > 0
	faults, err := json.Marshal(map[string]any{"slow": on, "refuse": on, "late": on, "twice": on, "down": on, "chance": chance, "slowFor": 300})
	require.NoError(s.t, err)
	for _, url := range s.systems {
		s.tell(url+"/faults", string(faults))
	}
}

// tell posts JSON to a simulated system, and gives its answer.
func (s *server) tell(url, text string) string {
	s.t.Helper()
	response, err := http.Post(url, "application/json", strings.NewReader(text))
	require.NoError(s.t, err)
	defer response.Body.Close()
	return body(s.t, response)
}

// The program is killed at any instant while people ask and work, and badges
// are written by a system with faults. Whatever it has acknowledged is there afterwards, the events of
// every request replay to its state, and each badge is written once.
func TestKilledAnywhereNothingIsLostOrDoubled(t *testing.T) {
	s := &server{t: t, dir: t.TempDir()}
	s.start("127.0.0.1:0")
	s.publishQuick()
	p := &promised{sent: map[string]string{}, done: map[string]bool{}}
	for range kills() {
		s.faulty(0.15)
		var busy sync.WaitGroup
		for _, login := range []string{"sarmento", "quist", "okonjo"} {
			a := s.as(login)
			busy.Go(func() { p.ask(a) })
		}
		marrec := s.as("marrec")
		busy.Go(func() { p.work(marrec, false) })
		time.Sleep(time.Duration(300+rand.IntN(700)) * time.Millisecond) // lets the kill come at any instant
		_ = s.stop(syscall.SIGKILL)
		busy.Wait()
		s.start(strings.TrimPrefix(s.url, "http://"))
	}
	s.faulty(0)
	p.work(s.as("marrec"), true)
	require.NotEmpty(t, p.sent)
	require.NotEmpty(t, p.done)
	var kept struct {
		Badges map[string]struct{ Number string }
	}
	for missing, last := len(p.done)+1, time.Now(); missing > 0; time.Sleep(100 * time.Millisecond) {
		left := []string{}
		data, err := os.ReadFile(filepath.Join(s.dir, "simulators", "badges.json"))
		if err != nil || json.Unmarshal(data, &kept) != nil {
			continue
		}
		for id := range p.done {
			if kept.Badges[id+"/write"].Number == "" {
				left = append(left, id)
			}
		}
		if len(left) < missing {
			missing, last = len(left), time.Now()
		}
		require.Less(t, time.Since(last), time.Minute, "every badge is written in the end; of %d no badge was written for a minute: %v", len(p.done), left)
	}
	require.NoError(t, s.stop(syscall.SIGTERM))

	opened, err := store.Open(t.Context(), s.dir)
	require.NoError(t, err)
	defer opened.Close()
	references := map[string]bool{}
	for id, reference := range p.sent {
		assert.False(t, references[reference], "no reference is given twice")
		references[reference] = true
		state, err := opened.Request(t.Context(), id)
		require.NoError(t, err, "an acknowledged request is there")
		assert.Equal(t, reference, state.Reference)
		events, err := opened.Events(t.Context(), id)
		require.NoError(t, err)
		stored, err := json.Marshal(state)
		require.NoError(t, err)
		replayed, err := json.Marshal(request.Replay(events))
		require.NoError(t, err)
		assert.JSONEq(t, string(stored), string(replayed))
		check, _ := state.Task("check")
		if p.done[id] {
			assert.Equal(t, plan.Done, check.State, "acknowledged work is done")
		}
		if write, _ := state.Task("write"); write.State == plan.Done {
			assert.Equal(t, kept.Badges[id+"/write"].Number, write.Outputs["number"])
		}
	}
	arrived := map[string]int{}
	for _, l := range keptBy[[]struct{ ID string }](s, "mail") {
		arrived[l.ID]++
	}
	for id := range p.done {
		mails, err := opened.MailsOf(t.Context(), id)
		require.NoError(t, err)
		told := map[message.Kind]int{}
		for _, m := range mails {
			told[m.Kind]++
			if m.Mail == "sent" {
				assert.Equal(t, 1, arrived["<"+m.ID+"@quillonstraits.example>"], "what went out arrived once")
			}
		}
		assert.Equal(t, 1, told[message.Delivered], "everybody is told once")
	}
	numbers := map[string]bool{}
	for _, badge := range kept.Badges {
		assert.False(t, numbers[badge.Number], "no badge number is given twice")
		numbers[badge.Number] = true
	}
	t.Logf("%d requests, %d done, over %d kills", len(p.sent), len(p.done), kills())
}
