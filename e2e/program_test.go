package e2e

import (
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheDemoListensOnThisComputerOnly(t *testing.T) {
	for _, addr := range []string{"0.0.0.0:0", ":0", "192.0.2.1:0", "[::]:0", "nonsense"} {
		out, err := exec.Command(program, "demo", "--addr", addr, "--data", t.TempDir()).CombinedOutput()
		assert.Error(t, err, addr)
		assert.Regexp(t, "on this computer only|is no address", string(out), addr)
	}
}

func TestTheProgramStartsStopsAndKeepsItsData(t *testing.T) {
	t.Parallel()
	s := &server{t: t, dir: filepath.Join(t.TempDir(), "made", "when", "missing")}
	s.start("127.0.0.1:0")
	response := s.get("/healthz")
	assert.Equal(t, 200, response.StatusCode)

	out, err := exec.Command(program, "demo", "--addr", "127.0.0.1:0", "--data", s.dir).CombinedOutput()
	assert.Error(t, err)
	assert.Contains(t, string(out), "in use by another Heptad")

	s.design("Kept over a start")
	assert.NoError(t, s.stop(syscall.SIGTERM), "SIGTERM ends it cleanly")
	assert.FileExists(t, filepath.Join(s.dir, "heptad.db"))
	s.start("127.0.0.1:0")
	assert.Contains(t, s.portfolio(), "Kept over a start")
	assert.NoError(t, s.stop(syscall.SIGTERM))

	require.NoError(t, os.WriteFile(filepath.Join(s.dir, "mine.txt"), nil, 0o600))
	s.start("127.0.0.1:0", "--fresh")
	assert.NotContains(t, s.portfolio(), "Kept over a start")
	assert.NoError(t, s.stop(syscall.SIGTERM))
	assert.FileExists(t, filepath.Join(s.dir, "mine.txt"), "a fresh start throws away its own data alone")
}

// A process killed while it makes the company begins that anew.
func TestALoadingCutOffIsBegunAnew(t *testing.T) {
	s := &server{t: t, dir: t.TempDir()}
	s.process = exec.Command(program, "demo", "--addr", "127.0.0.1:0", "--data", s.dir)
	require.NoError(t, s.process.Start())
	for range 20_000_000 {
		if _, err := os.Stat(filepath.Join(s.dir, "heptad.db-wal")); err == nil {
			break
		}
	}
	_ = s.stop(syscall.SIGKILL)
	s.start("127.0.0.1:0")
	t.Cleanup(func() { _ = s.stop(syscall.SIGTERM) })
	assert.Contains(t, s.portfolio(), "Berth-side parking")
}

// owner is a session of the catalog owner, without a browser.
func (s *server) owner() *http.Client {
	s.t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	c := &http.Client{Jar: jar}
	response, err := c.Post(s.url+"/api/session", "application/json", strings.NewReader(`{"person":"`+ownerID+`"}`))
	require.NoError(s.t, err)
	_ = response.Body.Close()
	require.Equal(s.t, 200, response.StatusCode)
	return c
}

func (s *server) design(name string) {
	s.t.Helper()
	response, err := s.owner().Post(s.url+"/api/design", "application/json", strings.NewReader(`{"service":"parking","name":"`+name+`"}`))
	require.NoError(s.t, err)
	_ = response.Body.Close()
	require.Equal(s.t, 200, response.StatusCode)
}

func (s *server) portfolio() string {
	s.t.Helper()
	response, err := s.owner().Get(s.url + "/api/portfolio/offerings")
	require.NoError(s.t, err)
	defer response.Body.Close()
	return body(s.t, response)
}

// The scripts of the first load, as they travel (gzip), are under 180 kB.
func TestTheFirstLoadIsLight(t *testing.T) {
	b := startServer(t).openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask")
	b.see("Everything you can ask for")
	size, err := chromedp.Run(b.ctx, chromedp.Evaluate[int](`performance.getEntriesByType('resource')
		.filter((e) => e.name.endsWith('.js')).reduce((sum, e) => sum + e.encodedBodySize, 0)`))
	require.NoError(t, err)
	t.Logf("first load of Ask: %.1f kB of script, gzip", float64(size)/1000)
	assert.Positive(t, size)
	assert.Less(t, size, 180_000)
}
