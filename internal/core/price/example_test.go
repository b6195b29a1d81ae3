package price_test

import (
	"fmt"

	"heptad/internal/core/finding"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

func catalog(list price.List) *price.Catalog {
	env, err := rule.NewEnv(rule.Scope{Currency: list.Currency})
	if err != nil {
		panic(err)
	}
	return price.Compile(list, env, &finding.List{})
}

func ExampleCatalog_Of() {
	badges := catalog(price.List{Currency: "EUR", List: []price.Item{
		{Key: "card", Name: "Card", Price: price.Charge{Amount: "12.50", Per: price.Once}},
		{Key: "place", Name: "Parking place", Price: price.Charge{Amount: "34.50", Per: price.Month}},
	}})
	p, err := badges.Of([]price.Pick{{Item: "card", Quantity: 2}, {Item: "place", Quantity: 1}}, rule.Values{})
	fmt.Println(p.Once, p.Monthly, p.FirstYear, err) // the first year has twelve months
	// Output: EUR 25.00 EUR 34.50 EUR 439.00 <nil>
}

// A tax is a line of its own, rounded once.
func ExampleCatalog_Of_tax() {
	pens := catalog(price.List{
		Currency: "EUR", Tax: &price.Tax{Name: "VAT", Percent: "23"},
		List: []price.Item{{Key: "pen", Name: "Pen", Price: price.Charge{Amount: "0.99", Per: price.Once}}},
	})
	p, err := pens.Of([]price.Pick{{Item: "pen", Quantity: 3}}, rule.Values{})
	for _, line := range p.Lines {
		fmt.Println(line.Name, line.Sum)
	}
	fmt.Println(p.Once, err)
	// Output:
	// Pen EUR 2.97
	// VAT EUR 0.68
	// EUR 3.65 <nil>
}
