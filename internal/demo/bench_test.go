package demo_test

import (
	"testing"

	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/demo"
)

// The check of the largest offering of the scenario, with all people.
func BenchmarkExamine(b *testing.B) {
	documents, err := demo.Offerings()
	if err != nil {
		b.Fatal(err)
	}
	records, err := demo.Company()
	if err != nil {
		b.Fatal(err)
	}
	company := offering.Company{Directory: people.NewDirectory(records)}
	largest := documents[0]
	for _, d := range documents {
		if len(d.Questions)+len(d.Plan) > len(largest.Questions)+len(largest.Plan) {
			largest = d
		}
	}
	for b.Loop() {
		offering.Examine(largest, 1, company)
	}
}
