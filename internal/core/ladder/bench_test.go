package ladder_test

import (
	"fmt"
	"testing"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
)

// Who decides on five rungs of twenty approvers each, a fifth of them absent.
func BenchmarkFiveRungsOfTwenty(b *testing.B) {
	now := time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)
	r := people.Records{Persons: []people.Person{{ID: "asker", Login: "asker", Manager: "p0"}}}
	for i := range 120 {
		id := fmt.Sprintf("p%d", i)
		r.Persons = append(r.Persons, people.Person{ID: id, Login: id, Name: id, Manager: fmt.Sprintf("p%d", i/3), Teams: []string{fmt.Sprintf("t%d", i%6)}})
		if i%5 == 0 {
			r.Absences = append(r.Absences, people.Absence{Person: id, StandIn: fmt.Sprintf("p%d", (i+7)%120), From: now.AddDate(0, 0, -1), Until: now.AddDate(0, 0, 1)})
		}
	}
	for i := range 6 {
		r.Teams = append(r.Teams, people.Team{Key: fmt.Sprintf("t%d", i), Name: "T"})
	}
	facts := ladder.Facts{Company: people.NewDirectory(r), Asker: "asker", Beneficiary: "asker", At: now}
	for b.Loop() {
		for i := range 5 {
			seats, err := ladder.Seats(ladder.Rung{Name: "R", Approvers: []ladder.Source{{Source: ladder.WholeTeam, Team: fmt.Sprintf("t%d", i)}}}, facts)
			if err != nil || len(seats) < 15 {
				b.Fatal(len(seats), err)
			}
		}
	}
}
