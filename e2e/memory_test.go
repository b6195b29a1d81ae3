package e2e

import (
	"context"
	"os"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// serveMany serves the demo with so many requests more, each with a task for Keys & Badges.
func serveMany(t *testing.T, n int) *server {
	t.Helper()
	s := &server{t: t, dir: t.TempDir()}
	s.start("127.0.0.1:0")
	require.NoError(t, s.stop(syscall.SIGTERM))
	kept, err := store.Open(context.Background(), s.dir)
	require.NoError(t, err)
	require.NoError(t, demotest.AddMany(context.Background(), kept, time.Now(), n, nil))
	require.NoError(t, kept.Close())
	s.start("127.0.0.1:0")
	return s
}

// How much memory the program takes with 100,000 requests under way, after its
// desks were opened; the aim is 200 MB. Part of make bench.
func TestMemoryWithManyRequests(t *testing.T) {
	if os.Getenv("HEPTAD_BENCH") == "" {
		t.Skip("make bench measures it")
	}
	const many = 100_000
	s := serveMany(t, many)
	defer s.stop(syscall.SIGTERM)
	for login, paths := range map[string][]string{
		"marrec":    {"/api/tasks", "/api/tasks?sort=due", "/api/tasks?words=place+99999"},
		"sarmento":  {"/api/requests", "/api/requests?sort=likely", "/api/find?words=place+77"},
		"falkenau":  {"/api/design", "/api/find?words=place+12"},
		"lindskaug": {"/api/background"},
	} {
		a := s.as(login)
		a.Client.Timeout = time.Minute
		for _, path := range paths {
			began := time.Now()
			require.NoError(t, a.send("GET", path, nil, nil), path)
			t.Logf("%s %s: %d ms", login, path, time.Since(began).Milliseconds())
		}
	}
	status, err := os.ReadFile("/proc/" + strconv.Itoa(s.process.Process.Pid) + "/status")
	require.NoError(t, err)
	size := regexp.MustCompile(`VmRSS:\s+(\d+) kB`).FindStringSubmatch(strings.ReplaceAll(string(status), "\t", " "))
	require.NotNil(t, size)
	kB, err := strconv.Atoi(size[1])
	require.NoError(t, err)
	t.Logf("memory with %d requests: %d MB", many, kB>>10)
}
