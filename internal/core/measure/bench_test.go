package measure_test

import (
	"runtime"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/measure"
	"heptad/internal/core/measure/measuretest"
)

// filled gives columns of so many requests, and how many megabytes they hold.
func filled(b testing.TB, count int) (*measure.View, float64) {
	before := inUse()
	columns := measure.NewColumns(measuretest.Currency)
	measuretest.Company(count, func(f measure.Facts) { columns.Put(f) })
	v := columns.View()
	require.Equal(b, count, v.Requests)
	return v, float64(inUse()-before) / (1 << 20)
}

func inUse() uint64 {
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return m.HeapAlloc
}

// screens are what the desk asks for at once.
var screens = []struct {
	name    string
	figures []string
	lead    string
	sides   [][]measure.Side
}{
	{"requests", []string{"asked", "ended", "open", "overdue", "kept", "well", "done", "rating"}, "kept", [][]measure.Side{{measure.ByMonth}, {measure.ByOffering}, {measure.ByService, measure.ByMonth}}},
	{"tasks", []string{"tasks", "taskInTime", "taskWaited", "taskWorked", "automatic", "hours", "saved"}, "taskWaited", [][]measure.Side{{measure.ByMonth}, {measure.ByTeam}, {measure.ByTeam, measure.ByWeekday}}},
}

// BenchmarkScreen answers all that the desk shows at once, of all years, at three sizes.
func BenchmarkScreen(b *testing.B) {
	for _, count := range []int{10_000, 100_000, 1_000_000} {
		v, megabytes := filled(b, count)
		now := time.Unix(measuretest.Start+measuretest.Years*365*86400, 0)
		for name, period := range map[string]string{"all": "2023-01-01/2026-12-30", "last12": "last12"} {
			for _, screen := range screens {
				b.Run(screen.name+"/"+name+"/"+size(count), func(b *testing.B) {
					p, err := measure.ParsePeriod(period, calendar.DateOf(now), time.January)
					require.NoError(b, err)
					c := measure.Circumstances{Now: now, Zone: time.UTC, Area: func(s string) string { return s[:9] }, Sight: measure.Sight{All: true}, Effort: func(string, string) time.Duration { return time.Hour }}
					began := measuretest.Spent()
					for b.Loop() {
						all := []measure.Wanted{}
						for _, key := range screen.figures {
							all = append(all, measure.Wanted{Figure: key})
						}
						_, err = v.Ask(measure.Question{Wanted: all, Period: p.Before()}, c)
						require.NoError(b, err)
						for _, by := range screen.sides {
							all = append(all, measure.Wanted{Figure: screen.lead, By: by})
						}
						_, err = v.Ask(measure.Question{Wanted: all, Period: p}, c)
						require.NoError(b, err)
					}
					b.ReportMetric(float64(measuretest.Spent()-began)/1e6/float64(b.N), "cpu-ms/op")
					b.ReportMetric(megabytes, "MB")
				})
			}
		}
	}
}

func size(n int) string {
	return map[int]string{10_000: "10k", 100_000: "100k", 1_000_000: "1M"}[n]
}
