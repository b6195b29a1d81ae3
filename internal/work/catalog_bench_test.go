package work_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// manyOfferings adds 2,000 offerings with audience rules and texts of 20,000
// different words.
func manyOfferings(b *testing.B) *demotest.Office {
	office := demotest.New(b)
	random := rand.New(rand.NewPCG(7, 7))
	word := func() string { return fmt.Sprintf("w%05dx", random.IntN(20_000)) }
	err := office.Store.Write(ctx, func(tx *store.Tx) error {
		for i := range 2000 {
			d := offering.New(fmt.Sprintf("offering-%d", i), "Offering "+word(), "access", "EUR", "Europe/Lisbon")
			var text []string
			for range 20 {
				text = append(text, word())
			}
			d.Purpose.Text = strings.Join(text, " ")
			d.Purpose.Keywords = []string{word(), word()}
			d.Audience.Ask = fmt.Sprintf(`asker.department in ["Fleet", "Terminals"] && asker.grade != "%d"`, i%9)
			d.Plan = []plan.Task{{Key: "do", Name: "Do", Kind: plan.Manual, Team: "keys-badges"}}
			if err := tx.AddDraft(d, demo.ID("falkenau"), time.Now()); err != nil {
				return err
			}
			if err := tx.Publish(store.Version{Number: 1, Document: d}, nil, demo.ID("falkenau"), time.Now()); err != nil {
				return err
			}
		}
		return nil
	})
	if err == nil {
		_, err = office.Asking.Catalog(ctx, demo.ID("castelo")) // read once, then kept
	}
	if err != nil {
		b.Fatal(err)
	}
	return office
}

// The catalog of one person among 2,000 offerings: aim 20 ms.
func BenchmarkCatalog(b *testing.B) {
	office := manyOfferings(b)
	for b.Loop() {
		if _, err := office.Asking.Catalog(ctx, demo.ID("castelo")); err != nil {
			b.Fatal(err)
		}
	}
}

// Search among 2,000 offerings and 20,000 words: aim 10 ms. The floor is
// the same word looked for in each text.
func BenchmarkSearch(b *testing.B) {
	office := manyOfferings(b)
	for name, words := range map[string]string{"a word": "w00042x", "the beginning of one": "w000", "mistyped": "w00o42x", "a sentence": "I need w00042x for w01234x"} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := office.Asking.Search(ctx, demo.ID("castelo"), words); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
	list, err := office.Asking.Catalog(ctx, demo.ID("castelo"))
	if err != nil {
		b.Fatal(err)
	}
	b.Run("floor: read through", func(b *testing.B) {
		for b.Loop() {
			for _, l := range list {
				_ = strings.Contains(l.Text, "w00042x")
			}
		}
	})
}
