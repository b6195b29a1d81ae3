package plan_test

import (
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
)

// Two tasks side by side, and one that waits for both: the longer of the two
// decides when it is done.
func ExampleSchedule() {
	now := time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)
	hours := func(n int64) calendar.Length { return calendar.Length{Open: time.Duration(n) * time.Hour} }
	table := plan.Schedule([]plan.Step{{Effort: hours(2)}, {Effort: hours(5)}, {Effort: hours(1), After: []int{0, 1}}}, now, time.Time{})
	for _, slot := range table.Slots {
		fmt.Println(slot.Start.Format("15:04"), slot.Finish.Format("15:04"), slot.Critical, slot.Float)
	}
	// Output:
	// 09:00 11:00 false 3h0m0s
	// 09:00 14:00 true 0s
	// 14:00 15:00 true 0s
}

// A task is ready once all that it comes after have ended, however they did.
func ExampleReleased() {
	state := map[string]plan.State{"photo": plan.Done, "check": plan.Taken}
	ready := func() bool {
		return plan.Released([]string{"photo", "check"}, func(key string) plan.State { return state[key] })
	}
	fmt.Println(ready())
	state["check"] = plan.Skipped
	fmt.Println(ready())
	// Output:
	// false
	// true
}
