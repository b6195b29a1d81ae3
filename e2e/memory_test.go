package e2e

import (
	"context"
	"fmt"
	"os"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
)

// How much memory the program takes with 100,000 requests under way, after its
// desks were opened; the aim is 200 MB. Part of make bench.
func TestMemoryWithManyRequests(t *testing.T) {
	if os.Getenv("HEPTAD_BENCH") == "" {
		t.Skip("make bench measures it")
	}
	const many = 100_000
	s := &server{t: t, dir: t.TempDir()}
	s.start("127.0.0.1:0")
	require.NoError(t, s.stop(syscall.SIGTERM))
	kept, err := store.Open(context.Background(), s.dir)
	require.NoError(t, err)
	sarmento, now := demo.ID("sarmento"), time.Now()
	for from := 0; from < many; from += 1000 {
		require.NoError(t, kept.Write(context.Background(), func(tx *store.Tx) error {
			var forecasts []store.Forecast
			for i := from; i < from+1000; i++ {
				at := now.Add(time.Duration(i-many) * time.Minute / 10)
				var state request.State
				id := fmt.Sprintf("many-%d", i)
				events := []request.Event{
					{Seq: 1, At: at, Actor: sarmento, Body: request.DraftBegun{ID: id, Offering: "berth-side-parking", Title: "Berth-side parking", Service: "parking"}},
					{Seq: 2, At: at, Actor: sarmento, Body: request.Submitted{
						Reference: fmt.Sprintf("QB-%d-X", i), Version: 1, Title: fmt.Sprintf("Place %d", i), Service: "parking", Rungs: []request.Rung{},
						Answers: form.Answers{"port": "maravel", "plate": "MV-01-QS", "from": "2099-01-05", "place": []any{map[string]any{"item": "open", "quantity": 1.0}}},
						Price:   price.Price{Lines: []price.Line{}, Shares: []price.Share{}},
					}},
					{Seq: 3, At: at, Body: request.Planned{Tasks: []request.Task{{Key: "check", Of: "check", Name: "Check the badge", Kind: plan.Manual, Team: "keys-badges", After: []string{}, Slice: []string{}, State: plan.Blocked}}}},
					{Seq: 4, At: at, Body: request.TaskReady{Task: "check", Team: "keys-badges"}},
				}
				for _, e := range events {
					state.Apply(e)
				}
				if err := tx.SaveRequest(state, events, nil); err != nil {
					return err
				}
				forecasts = append(forecasts, store.Forecast{Request: id, Seq: state.Seq, Due: at.AddDate(0, 0, 3), Likely: at.AddDate(0, 0, 2), Latest: map[string]time.Time{"check": at.AddDate(0, 0, 2)}})
			}
			return tx.SaveForecasts(forecasts)
		}))
	}
	require.NoError(t, kept.Close())

	s.start("127.0.0.1:0")
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
