package demo_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/connect/systems"
	"heptad/internal/core/rehearse"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// BenchmarkRehearse lives through the sign-on, its company read and its draft compiled anew
// each time, as a case does.
func BenchmarkRehearse(b *testing.B) {
	documents, err := demo.Offerings()
	require.NoError(b, err)
	for _, d := range documents {
		if d.Key != "sign-on-a-crew-member" {
			continue
		}
		for b.Loop() {
			for _, tried := range rehearse.TryAll(d, nil, systems.Described()) {
				require.True(b, tried.Passed)
			}
		}
		b.ReportMetric(float64(b.Elapsed().Milliseconds())/float64(b.N*len(d.Cases)), "ms/case")
	}
}

// BenchmarkStudies puts the two years through drafts, and foresees half a year.
func BenchmarkStudies(b *testing.B) {
	ctx := context.Background()
	o := demotest.New(b)
	h, err := demo.NewHistory(ctx, o.Office, demotest.Start)
	require.NoError(b, err)
	require.NoError(b, h.Write())
	for name, begin := range map[string]func() (string, error){
		"replay": func() (string, error) {
			return o.Rehearsing.Replay(ctx, demo.ID("falkenau"), "quay-access-badge", work.ReplayAsked{From: demotest.Start.AddDate(-3, 0, 0), Until: demotest.Start})
		},
		"foresee": func() (string, error) {
			return o.Rehearsing.Foresee(ctx, demo.ID("falkenau"), "quay-access-badge", work.SeasonAsked{From: "2027-05-01", Until: "2027-10-31"})
		},
	} {
		b.Run(name, func(b *testing.B) {
			requests := 0
			for b.Loop() {
				id, err := begin()
				require.NoError(b, err)
				for {
					s, err := o.Rehearsing.Study(ctx, demo.ID("falkenau"), "quay-access-badge", id)
					require.NoError(b, err)
					if s.State != store.StudyRunning {
						require.Equal(b, store.StudyDone, s.State)
						break
					}
					requests = s.Of
					time.Sleep(2 * time.Millisecond)
				}
			}
			b.ReportMetric(float64(requests), "requests")
		})
	}
}
