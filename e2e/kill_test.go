package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
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
	"heptad/internal/core/promise"
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

// publishQuick makes an offering with one task for Keys & Badges, two automatic
// ones after it, which can be undone, and a last one for Keys & Badges.
func (s *server) publishQuick() {
	s.t.Helper()
	require.NoError(s.t, s.as("lindskaug").send("PUT", "/api/grants", map[string]string{"service": "access", "connector": "web", "action": "call"}, nil))
	owner := s.as("falkenau")
	var opened struct {
		Document offering.Document
		Revision int
	}
	require.NoError(s.t, owner.send("POST", "/api/design", map[string]string{"name": "Quick badge", "service": "access"}, &opened))
	opened.Document.Purpose.Text, opened.Document.Purpose.Keywords = "A badge without questions.", []string{"fast"}
	opened.Document.Audience.Everyone = new(true)
	opened.Document.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "5d"}}
	opened.Document.Plan = []plan.Task{
		{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys-badges"},
		{
			Key: "write", Name: "Write", Kind: plan.Automatic, Team: "keys-badges", After: []string{"check"}, Tries: slices.Repeat([]string{"300ms"}, 20),
			Action:    &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ beneficiary.name }}", "opens": "Gate"}},
			Undo:      &plan.Undo{Action: &plan.Action{Connector: "badges", Do: "end"}},
			Belonging: &plan.Belonging{Does: plan.Make, Kind: "badge", Name: "Quick badge", Detail: "{{ outputs.write.number }}"},
		},
		{
			Key: "book", Name: "Book", Kind: plan.Automatic, Team: "keys-badges", After: []string{"check"}, Tries: slices.Repeat([]string{"300ms"}, 20),
			Action:  &plan.Action{Connector: "web", Do: "call", Inputs: map[string]string{"method": "POST", "url": "/bookings", "body": `{"what": "Handing out"}`}},
			Outputs: []plan.Output{{Key: "booking", Name: "Booking", From: "/booking/number"}},
			Undo:    &plan.Undo{Action: &plan.Action{Connector: "web", Do: "call", Inputs: map[string]string{"method": "DELETE", "url": "/bookings/{{ outputs.book.booking }}"}}},
		},
		{Key: "hand", Name: "Hand out", Kind: plan.Manual, Team: "keys-badges", After: []string{"write", "book"}},
	}
	require.NoError(s.t, owner.send("PUT", "/api/design/quick-badge", map[string]any{"document": opened.Document, "revision": opened.Revision}, &opened))
	require.NoError(s.t, owner.send("POST", "/api/design/quick-badge/publish", map[string]any{"revision": opened.Revision, "accepted": []string{}}, nil))
}

// promised remembers what the program has acknowledged.
type promised struct {
	mu   sync.Mutex
	sent map[string]string // request to reference
	done map[string]bool   // requests whose check was acknowledged as done
	back map[string]bool   // requests whose taking back was acknowledged
}

// ask sends requests, and takes some of them back a little later, until the
// program is gone.
func (p *promised) ask(a *api) {
	var mine []string
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
		if mine = append(mine, sheet.ID); len(mine)%3 != 0 {
			continue
		}
		p.mu.Lock()
		worked := slices.DeleteFunc(slices.Clone(mine), func(id string) bool { return !p.done[id] || p.back[id] })
		p.mu.Unlock()
		if len(worked) == 0 || rand.IntN(3) == 0 {
			worked = mine
		}
		if id := worked[rand.IntN(len(worked))]; a.send("POST", "/api/requests/"+id+"/withdraw", map[string]string{}, nil) == nil {
			p.mu.Lock()
			p.back[id] = true
			p.mu.Unlock()
		}
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
			if t.Key == "hand" && !untilEmpty && rand.IntN(2) == 0 {
				continue // it may be taken back meanwhile
			}
			if t.Title != "Quick badge" || (t.State == "ready" && a.send("POST", at+"/take", nil, nil) != nil) {
				continue
			}
			if a.send("POST", at+"/complete", map[string]string{}, nil) == nil {
				worked = true
				p.mu.Lock()
				p.done[t.Request] = p.done[t.Request] || t.Key == "check"
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
	return 8
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

// settled waits until no call of another system is under way any more.
func (s *server) settled() {
	s.t.Helper()
	admin := s.as("lindskaug")
	for least, last := -1, time.Now(); ; time.Sleep(100 * time.Millisecond) {
		var background struct {
			Connectors []struct{ Waiting, Running, Stuck int }
		}
		require.NoError(s.t, admin.send("GET", "/api/background", nil, &background))
		left := 0
		for _, c := range background.Connectors {
			require.Zero(s.t, c.Stuck)
			left += c.Waiting + c.Running
		}
		if left == 0 {
			return
		}
		if least < 0 || left < least {
			least, last = left, time.Now()
		}
		require.Less(s.t, time.Since(last), time.Minute, "of %d calls none ended for a minute", left)
	}
}

// done is what a simulated system did under one key.
type done struct {
	Number string
	Ended  bool
}

// afterwards is what there is once the program has ended: its own records, and
// those of the simulated systems by idempotency key.
type afterwards struct {
	*testing.T
	*store.Store
	badges, bookings map[string]done
	arrived          map[string]int // mails by ID
}

func (s *server) afterwards() afterwards {
	s.t.Helper()
	opened, err := store.Open(s.t.Context(), s.dir)
	require.NoError(s.t, err)
	s.t.Cleanup(func() { _ = opened.Close() })
	a := afterwards{s.t, opened, keptBy[struct{ Badges map[string]done }](s, "badges").Badges, keptBy[struct{ Bookings map[string]done }](s, "web").Bookings, map[string]int{}}
	for _, letter := range keptBy[[]struct{ ID string }](s, "mail") {
		a.arrived[letter.ID]++
	}
	for _, all := range []map[string]done{a.badges, a.bookings} {
		numbers := map[string]bool{}
		for key, one := range all {
			assert.False(s.t, numbers[one.Number], "%s is given twice: %s", one.Number, key)
			numbers[one.Number] = true
		}
	}
	return a
}

// request looks at one request: its events replay to its state, no task began
// before its forerunner had ended, somebody has it until it is closed, the
// systems have what its tasks did and nothing else, and so has its asker.
func (a afterwards) request(id string) request.State {
	state, err := a.Request(a.Context(), id)
	require.NoError(a, err, "an acknowledged request is there")
	events, err := a.Events(a.Context(), id)
	require.NoError(a, err)
	stored, err := json.Marshal(state)
	require.NoError(a, err)
	replayed, err := json.Marshal(request.Replay(events))
	require.NoError(a, err)
	assert.JSONEq(a, string(stored), string(replayed))
	var soFar request.State
	for _, e := range events {
		soFar.Apply(e)
		if ready, ok := e.Body.(request.TaskReady); ok {
			task, _ := soFar.Task(ready.Task)
			for _, key := range task.After {
				forerunner, _ := soFar.Task(key)
				assert.True(a, forerunner.State.Ended(), "nothing begins before its forerunners have ended")
			}
		}
	}
	if state.Status != request.Closed {
		assert.NotEmpty(a, state.Holders("keys-badges"))
	}
	for key, at := range map[string]map[string]done{"write": a.badges, "book": a.bookings} {
		task, _ := state.Task(key)
		one, there := at[id+"/"+key]
		if assert.Equal(a, task.State == plan.Done, there && !one.Ended, "%s is %s", key, task.State); task.State == plan.Done {
			assert.Contains(a, task.Outputs, map[string]string{"write": "number", "book": "booking"}[key])
			assert.Contains(a, slices.Collect(maps.Values(task.Outputs)), one.Number)
		}
	}
	write, _ := state.Task("write")
	held, err := a.Holding(a.Context(), request.HoldingID(id, "write"))
	if write.State == plan.Done {
		require.NoError(a, err)
		assert.Equal(a, a.badges[id+"/write"].Number, held.Detail)
	} else {
		assert.ErrorIs(a, err, store.ErrNotFound)
	}
	return state
}

// told looks at the mails about a request: each kind is written once, and what
// went out arrived once.
func (a afterwards) told(state request.State) {
	mails, err := a.MailsOf(a.Context(), state.ID)
	require.NoError(a, err)
	told := map[message.Kind]int{}
	for _, m := range mails {
		told[m.Kind]++
		if m.Mail == "sent" {
			assert.Equal(a, 1, a.arrived["<"+m.ID+"@quillonstraits.example>"], "what went out arrived once")
		}
	}
	if _, delivered := state.Stages["delivered"]; delivered {
		assert.Equal(a, 1, told[message.Delivered], "everybody is told once")
	}
}

// The program is killed at any instant while people ask, work and take back,
// and while the systems that it calls have faults. Whatever it has acknowledged
// is there afterwards, each effect happened once, and what was taken back is
// undone.
func TestKilledAnywhereNothingIsLostOrDoubled(t *testing.T) {
	s := &server{t: t, dir: t.TempDir()}
	s.start("127.0.0.1:0")
	s.publishQuick()
	p := &promised{sent: map[string]string{}, done: map[string]bool{}, back: map[string]bool{}}
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
	s.settled()
	require.NoError(t, s.stop(syscall.SIGTERM))

	out, code := command(t, "doctor", "--data", s.dir)
	assert.Zero(t, code, out)
	assert.Contains(t, out, "What is measured of each request is what its history says.")
	measured, _ := command(t, "measure", "export", "--data", s.dir)
	assert.GreaterOrEqual(t, strings.Count(measured, `"offering":"quick-badge"`), len(p.sent), "of each request there is a line")
	out, code = command(t, "measure", "rebuild", "--data", s.dir)
	assert.Zero(t, code, out)
	again, _ := command(t, "measure", "export", "--data", s.dir)
	assert.True(t, measured == again, "no fact is lost or doubled")

	require.NotEmpty(t, p.done)
	after, references, undone := s.afterwards(), map[string]bool{}, 0
	for id, reference := range p.sent {
		assert.False(t, references[reference], "no reference is given twice")
		references[reference] = true
		state := after.request(id)
		after.told(state)
		assert.Equal(t, reference, state.Reference)
		if check, _ := state.Task("check"); p.done[id] {
			assert.Equal(t, plan.Done, check.State, "acknowledged work is done")
		}
		if p.back[id] {
			assert.Equal(t, request.Withdrawn, state.Outcome, "what was taken back has ended, too")
		}
		if write, _ := state.Task("write"); write.State == plan.Undone {
			undone++
		}
	}
	t.Logf("%d requests, %d done, %d taken back, %d badges undone, over %d kills", len(p.sent), len(p.done), len(p.back), undone, kills())
}
