package offering_test

import (
	"fmt"

	"heptad/internal/core/coretest"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
)

// An offering is examined before it is published; each finding says where, what and
// how to mend it.
func ExampleExamine() {
	d := coretest.Badge()
	d.Plan[0].Team = "moon"
	_, findings := offering.Examine(d, 1, coretest.Company())
	for _, f := range findings {
		fmt.Println(f.Place, f.Sentence)
	}
	// Output:
	// /plan/0/team The task "Check safety record" would land nowhere: there is no team "moon".
	// /promise/targets No time is promised: nobody knows when it will be done, and nothing is ever late.
}

// What is different in a newer version reads as sentences.
func ExampleCompare() {
	old, next := coretest.Badge(), coretest.Badge()
	next.Ladder = append(next.Ladder, ladder.Rung{Key: "safety", Name: "Safety"})
	next.Items.List[0].Price.Amount = "13.00"
	for _, change := range offering.Compare(old, next) {
		fmt.Println(change.Sentence)
	}
	// Output:
	// Item “Card”: the amount changes from “12.50” to “13.00”.
	// Rung 2 “Safety” is new.
}
