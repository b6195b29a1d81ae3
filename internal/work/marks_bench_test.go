package work_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/message"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
)

// BenchmarkMarks has the clocks of 100,000 requests run. A look that finds nothing due is the
// start of the runner; then 600 marks are due in one minute, and 5,000 at one instant. Each is
// told to a team, in a transaction of its own; the aims are a second, and thirty.
func BenchmarkMarks(b *testing.B) {
	const running = 100_000
	o := demotest.New(b)
	now := o.Clock.Now()
	for _, person := range append(o.Company().Members("keys-badges"), demo.ID("falkenau")) { // mails go out at a rate of their own
		require.NoError(b, o.Messaging.SetWay(ctx, person, message.Way{Kind: message.Missed, List: true, Mail: message.Never}))
	}
	overdue := promise.Promised{Name: "Usual", Fulfilment: "1h", From: now.AddDate(0, 0, -7)} // what is missed is told when its timer goes off
	i := 0
	require.NoError(b, demotest.AddPromised(ctx, o.Store, now, running, overdue, func(id string) []request.Effect {
		i++
		at := now.AddDate(1, 0, 0)
		switch {
		case i <= 600:
			at = now.Add(time.Hour + time.Duration(i)*100*time.Millisecond)
		case i <= 5_600:
			at = now.Add(2 * time.Hour)
		}
		return []request.Effect{{Kind: request.TickTimer, Key: id + "/tick", At: at}}
	}))
	timed := func(pass time.Duration, want int) time.Duration {
		o.Clock.Pass(pass)
		began, fired := time.Now(), 0
		for {
			n, err := o.Running.RunDue(ctx)
			require.NoError(b, err)
			if n == 0 {
				break
			}
			fired += n
		}
		require.GreaterOrEqual(b, fired, want)
		return time.Since(began)
	}
	for range b.N {
		_, err := o.Running.RunDue(ctx) // what the demo left
		require.NoError(b, err)
		start := timed(0, 0)
		minute, instant := timed(time.Hour+time.Minute, 600), timed(time.Hour, 5_000)
		b.ReportMetric(float64(start.Milliseconds()), "ms/start")
		b.ReportMetric(float64(minute.Milliseconds())/600, "ms/mark-of-600")
		b.ReportMetric(instant.Seconds(), "s/5000-at-once")
		fmt.Printf("100,000 running clocks: start %d ms, 600 marks of a minute %d ms, 5,000 at one instant %.1f s\n", start.Milliseconds(), minute.Milliseconds(), instant.Seconds())
		break
	}
}
