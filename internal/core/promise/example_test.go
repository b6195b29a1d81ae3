package promise_test

import (
	"fmt"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

func clockOf(pauses ...promise.Pause) promise.Clock {
	c := promise.Compile(promise.Promise{Zone: "UTC"}, nil, &finding.List{})
	c.CompileTargets([]promise.Target{{Name: "Usual", Fulfilment: "8h"}}, nil, func(string) bool { return true }, &finding.List{})
	p := c.Promised(rule.Values{}, time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC))
	return c.Fulfilment(*p, pauses, promise.Stop{})
}

// A clock is read; it is not ticked.
func ExampleClock_Read() {
	r := clockOf().Read(time.Date(2027, 3, 1, 11, 0, 0, 0, time.UTC))
	fmt.Println(r.State, r.Used, r.Left, r.Due.Format("15:04"))
	// Output: running 2h0m0s 6h0m0s 17:00
}

// While a question waits for the asker, it stands still.
func ExampleClock_Read_paused() {
	asked, answered := time.Date(2027, 3, 1, 10, 0, 0, 0, time.UTC), time.Date(2027, 3, 1, 13, 0, 0, 0, time.UTC)
	r := clockOf(promise.Pause{From: asked, Until: answered}).Read(answered)
	fmt.Println(r.State, r.Used, r.Due.Format("15:04"))
	// Output: running 1h0m0s 20:00
}
