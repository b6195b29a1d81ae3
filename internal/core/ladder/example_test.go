package ladder_test

import (
	"fmt"

	"heptad/internal/core/coretest"
	"heptad/internal/core/ladder"
)

// Whoever decides is found, with the reason, when a rung opens.
func ExampleSeats() {
	company := coretest.Company().Directory
	seats, err := ladder.Seats(
		ladder.Rung{Name: "Line manager", Approvers: []ladder.Source{{Source: ladder.LineManager}}},
		ladder.Facts{Company: company, Asker: "p-ilse", Beneficiary: "p-ilse"},
	)
	for _, seat := range seats {
		fmt.Println(company.Name(seat.Person), "-", seat.Reason)
	}
	fmt.Println(err)
	// Output:
	// Tomas Lindqvist - line manager of Ilse Brandvik
	// <nil>
}

// A rung is passed as soon as its quorum is reached, and declined as soon as it
// cannot be reached any more.
func ExampleStand() {
	fmt.Println(ladder.Stand("2", 3, 1, 0), ladder.Stand("2", 3, 2, 0), ladder.Stand("2", 3, 1, 2))
	fmt.Println(ladder.Needs("60%", 3))
	// Output:
	// open passed declined
	// 2
}
