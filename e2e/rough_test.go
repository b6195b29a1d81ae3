package e2e

import (
	"bytes"
	"context"
	"database/sql"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
)

// roughFor is how long the rough day lasts; make soak asks for more.
func roughFor() time.Duration {
	if d, err := time.ParseDuration(os.Getenv("HEPTAD_ROUGH")); err == nil {
		return d
	}
	return 8 * time.Second
}

// ordinary asks, decides nothing and works: one request after the other, from
// the form to the task that is done, until it is over. It gives how long each
// step took.
func ordinary(t *testing.T, s *server, asker, worker *api, over <-chan struct{}) []time.Duration {
	var took []time.Duration
	step := func(a *api, method, path string, in, out any) bool {
		begun := time.Now()
		err := a.send(method, path, in, out)
		took = append(took, time.Since(begun))
		return assert.NoError(t, err, "ordinary work never fails")
	}
	for {
		select {
		case <-over:
			return took
		case <-time.After(300 * time.Millisecond): // people are slower than programs
		}
		var form, sheet struct{ Draft, ID string }
		if !step(asker, "PUT", "/api/offerings/quick-badge/draft", map[string]any{"answers": map[string]any{}}, &form) ||
			!step(asker, "POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"answers": map[string]any{}, "slip": ""}, &sheet) ||
			!step(asker, "GET", "/api/requests/"+sheet.ID, nil, nil) ||
			!step(worker, "GET", "/api/tasks", nil, nil) ||
			!step(worker, "POST", "/api/tasks/"+sheet.ID+"/check/take", nil, nil) ||
			!step(worker, "POST", "/api/tasks/"+sheet.ID+"/check/complete", map[string]string{}, nil) {
			return took
		}
	}
}

func median(took []time.Duration) time.Duration {
	slices.Sort(took)
	return took[len(took)/2]
}

// attacks are what was tried to take the program down, as anybody can send it.
// Each is called again and again until the day is over.
func attacks(s *server) map[string]func(ctx context.Context) {
	employee, lead, owner, admin := s.as("vidigal"), s.as("okonjo"), s.as("falkenau"), s.as("lindskaug")
	calendar := map[string]any{
		"document": map[string]any{"format": "heptad/calendar/1", "zone": "UTC", "week": map[string]any{}, "exceptions": []any{}},
		"file":     "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20270101\r\nRRULE:FREQ=SECONDLY;UNTIL=21480101\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n",
	}
	bomb := "a: &a [" + strings.Repeat("x, ", 40) + "x]\n"
	for c := 'b'; c <= 'z'; c++ {
		bomb += fmt.Sprintf("%c: &%c [%s*%c]\n", c, c, strings.Repeat(fmt.Sprintf("*%c, ", c-1), 40), c-1)
	}
	plain := "format: heptad/offering/1\nquestions:\n" + strings.Repeat("- {key: a, kind: text, label: A}\n", 31_000)
	post := func(a *api, path, media string, body []byte) func(context.Context) {
		return func(ctx context.Context) {
			r, err := http.NewRequestWithContext(ctx, "POST", s.url+path, bytes.NewReader(body))
			if err != nil {
				return
			}
			r.Header.Set("Content-Type", media)
			if response, err := a.Do(r); err == nil {
				_, _ = io.Copy(io.Discard, response.Body)
				_ = response.Body.Close()
			}
		}
	}
	get := func(a *api, path string) func(context.Context) {
		return func(context.Context) { _ = a.send("GET", path, nil, nil) }
	}
	stranger := &api{&http.Client{Timeout: 5 * time.Second}, s}
	return map[string]func(context.Context){
		"a calendar of seconds, by anybody":           func(context.Context) { _ = employee.send("POST", "/api/calendars/maravel/holidays", calendar, nil) },
		"a calendar of seconds, by the administrator": func(context.Context) { _ = admin.send("POST", "/api/calendars/maravel/holidays", calendar, nil) },
		"aliases, by anybody":                         post(employee, "/api/catalog?preview=true", "application/octet-stream", []byte(bomb)),
		"aliases, by an owner":                        post(owner, "/api/catalog?preview=true", "application/octet-stream", []byte(bomb)),
		"a whole megabyte, by an owner":               post(owner, "/api/catalog?preview=true", "application/octet-stream", []byte(plain)),
		"twenty megabytes of nothing, by an owner":    post(owner, "/api/catalog?preview=true", "application/octet-stream", bytes.Repeat([]byte(" "), 20<<20)),
		"writes":         func(context.Context) { _ = employee.send("POST", "/api/messages/read", map[string]string{}, nil) },
		"searches":       get(lead, "/api/offerings?words=badge+tablet+parking"),
		"rules":          post(lead, "/api/rules", "application/json", []byte(`{"document":`+strings.Repeat("[", 30_000))),
		"forged reports": post(stranger, "/api/reports/purchasing", "application/json", []byte(`{"key":"`+strings.Repeat("x", 60_000)+`"}`)),
		"links of mails": get(stranger, "/api/mail/none.none"),
		"sign-ins": func(context.Context) {
			_ = stranger.send("POST", "/api/session", map[string]string{"person": "nobody"}, nil)
		},
		"connections that do not read": func(ctx context.Context) {
			conn, err := net.Dial("tcp", strings.TrimPrefix(s.url, "http://"))
			if err != nil {
				return
			}
			defer conn.Close()
			cookie := ""
			for _, c := range owner.Jar.Cookies(must(http.NewRequest("GET", s.url, nil)).URL) {
				cookie = c.Name + "=" + c.Value
			}
			_ = conn.SetWriteDeadline(time.Now().Add(2 * time.Second))
			_, _ = conn.Write([]byte(strings.Repeat("GET /api/design HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: "+cookie+"\r\n\r\n", 200)))
			select {
			case <-ctx.Done():
			case <-time.After(3 * time.Second):
			}
		},
		"streams": func(ctx context.Context) {
			ctx, end := context.WithTimeout(ctx, 2*time.Second)
			defer end()
			r, err := http.NewRequestWithContext(ctx, "GET", s.url+"/api/live", nil)
			if err != nil {
				return
			}
			if response, err := employee.Do(r); err == nil {
				_, _ = io.Copy(io.Discard, response.Body)
				_ = response.Body.Close()
			}
		},
	}
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// damage makes one record unreadable and one address malformed, as a fault of a
// disk or a directory would.
func (s *server) damage(request string) {
	s.t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(s.dir, "heptad.db")+"?_pragma=busy_timeout(5000)")
	require.NoError(s.t, err)
	defer db.Close()
	for _, change := range []struct {
		sql  string
		args []any
	}{
		{"UPDATE requests SET state = packed('states', '{') WHERE id = ?", []any{request}},
		{"UPDATE effects SET state = 'waiting', due_at = 0 WHERE request = ?", []any{request}},
		{"UPDATE people SET email = 'no address' WHERE id = ?", []any{demo.ID("abelsen")}},
	} {
		_, err := db.Exec(change.sql, change.args...)
		require.NoError(s.t, err)
	}
}

// The program has 1 GB of memory, and everything that was ever found to take it
// down runs side by side with ordinary work, which never fails.
func TestARoughDay(t *testing.T) {
	s := &server{t: t, dir: t.TempDir(), rough: true}
	s.start("127.0.0.1:0")
	t.Cleanup(func() { _ = s.stop(syscall.SIGTERM) })
	s.publishQuick()
	asker, worker, admin := s.as("sarmento"), s.as("marrec"), s.as("lindskaug")
	calm := make(chan struct{})
	time.AfterFunc(roughFor()/4, func() { close(calm) })
	usual := ordinary(t, s, asker, worker, calm)

	var form, broken struct{ Draft, ID string }
	require.NoError(t, asker.send("PUT", "/api/offerings/quick-badge/draft", map[string]any{"answers": map[string]any{}}, &form))
	require.NoError(t, asker.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"answers": map[string]any{}, "slip": ""}, &broken))
	require.NoError(t, worker.send("POST", "/api/tasks/"+broken.ID+"/check/take", nil, nil))
	require.NoError(t, worker.send("POST", "/api/tasks/"+broken.ID+"/check/complete", map[string]string{}, nil))
	s.tell(s.mailbox+"/slow", `{}`)
	all := attacks(s)
	s.damage(broken.ID)

	ctx, end := context.WithTimeout(context.Background(), roughFor())
	defer end()
	var rough sync.WaitGroup
	var sent atomic.Int64
	for name, attack := range all {
		many := 2
		if strings.HasPrefix(name, "connections") {
			many = 30
		}
		for range many {
			rough.Go(func() {
				for ctx.Err() == nil {
					attack(ctx)
					sent.Add(1)
					time.Sleep(2 * time.Millisecond) // bounded: some hundreds a second of each
				}
			})
		}
	}
	during := ordinary(t, s, asker, worker, ctx.Done())
	rough.Wait()
	require.NotEmpty(t, during)
	assert.Equal(t, 200, s.get("/healthz").StatusCode)
	var background struct {
		Still     bool
		Aside     []struct{ Lane, ID string }
		Forgeries []struct{ Count int }
	}
	require.NoError(t, admin.send("GET", "/api/background", nil, &background))
	assert.False(t, background.Still)
	assert.NotEmpty(t, background.Aside, "what is broken is set aside")
	require.NotEmpty(t, background.Forgeries)
	assert.Positive(t, background.Forgeries[0].Count)
	most := s.memory()
	assert.Less(t, most, 1000, "megabytes")
	t.Logf("rough day: %d attacks beside %d steps of ordinary work; a step took %v, usually %v: %.1f times; %d MB at most",
		sent.Load(), len(during), median(during), median(usual), float64(median(during))/float64(median(usual)), most)
}

// memory is the most memory that the program has had in use, in MB.
func (s *server) memory() int {
	s.t.Helper()
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", s.process.Process.Pid))
	require.NoError(s.t, err)
	for line := range strings.Lines(string(status)) {
		if text, ok := strings.CutPrefix(line, "VmHWM:"); ok {
			kilobytes, err := strconv.Atoi(strings.Fields(text)[0])
			require.NoError(s.t, err)
			return kilobytes >> 10
		}
	}
	s.t.Fatal("the memory cannot be read")
	return 0
}
