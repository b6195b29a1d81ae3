package work_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// The first page of the Decide list of a person with 2,000 waiting decisions,
// in each order, and found by words.
func BenchmarkDecideList(b *testing.B) {
	o := demotest.New(b)
	quist, sarmento := demo.ID("quist"), demo.ID("sarmento")
	require.NoError(b, o.Store.Write(context.Background(), func(tx *store.Tx) error {
		for i := range 2000 {
			at := o.Clock.Now().Add(time.Duration(i) * time.Minute)
			id := fmt.Sprintf("bench-%d", i)
			var s request.State
			events := []request.Event{
				{Seq: 1, At: at, Actor: sarmento, Body: request.DraftBegun{ID: id, Offering: "berth-side-parking", Title: "Berth-side parking", Service: "parking"}},
				{Seq: 2, At: at, Actor: sarmento, Body: request.Submitted{
					Reference: fmt.Sprintf("QB-%d-X", i), Version: 1, Title: fmt.Sprintf("Place %d", i), Service: "parking",
					Answers: form.Answers(demotest.Parking("covered")), Price: price.Price{Lines: []price.Line{}, Shares: []price.Share{}},
					Rungs: []request.Rung{{Key: "manager", Name: "Line manager", Quorum: "any", Outcome: ladder.Open}},
				}},
				{Seq: 3, At: at, Body: request.RungOpened{Rung: "manager", Name: "Line manager", Seats: []ladder.Seat{{Person: quist, Reason: "line manager"}}, Times: ladder.Times{Expire: at.AddDate(0, 1, 0)}}},
			}
			for _, e := range events {
				s.Apply(e)
			}
			if err := tx.SaveRequest(s, events, nil); err != nil {
				return err
			}
		}
		return nil
	}))
	for name, list := range map[string]store.Decisions{
		"longest waiting": {}, "due": {Sort: "due"}, "cost": {Sort: "cost"}, "found": {Words: "place 1999"},
	} {
		list.Limit = 50
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				entries, err := o.Store.DecisionsOf(context.Background(), quist, list)
				if err != nil || len(entries) == 0 {
					b.Fatal(len(entries), err)
				}
			}
		})
	}
}
