package offering

import (
	"slices"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Cheaper is what the cheapest choice allowed would have cost.
type Cheaper struct {
	Price    price.Price
	Picked   []string // names of the items that were picked instead of cheaper ones
	Cheapest []string // names of the cheapest items in their place, in the same order
}

// Cheapest replaces every item picked by the cheapest one that does as well and
// that the same person could have picked, in the same number and with nothing
// added: one that the owner names in its place, or another of the same group where
// one is chosen of several. False when nothing cheaper was allowed.
func (c *Compiled) Cheapest(answers form.Answers, values rule.Values) (Cheaper, bool) {
	var out Cheaper
	var picked, cheapest []price.Pick
	for _, q := range c.Document.Questions {
		if q.Kind != form.Items || answers[q.Key].None() {
			continue
		}
		picks, _ := answers[q.Key].Picks()
		for _, pick := range picks {
			best := c.cheapest(pick, q, values)
			picked, cheapest = append(picked, pick), append(cheapest, best)
			if best.Item != pick.Item {
				is, _ := c.Catalog.Item(pick.Item)
				could, _ := c.Catalog.Item(best.Item)
				out.Picked, out.Cheapest = append(out.Picked, is.Name), append(out.Cheapest, could.Name)
			}
		}
	}
	is, err := c.Catalog.Of(picked, values)
	if err != nil || len(picked) == 0 {
		return Cheaper{}, false
	}
	if out.Price, err = c.Catalog.Of(cheapest, values); err != nil {
		return Cheaper{}, false
	}
	return out, out.Price.FirstYear.Minor() < is.FirstYear.Minor()
}

// cheapest is the pick itself, or the cheapest other one that does as well.
func (c *Compiled) cheapest(pick price.Pick, q form.Question, values rule.Values) price.Pick {
	item, _ := c.Catalog.Item(pick.Item)
	best, cost := pick, c.cost(pick, values)
	for _, key := range q.Items {
		other, ok := c.Catalog.Item(key)
		candidate := price.Pick{Item: key, Quantity: pick.Quantity}
		if wrong, err := c.Catalog.Check(candidate, values); !ok || !slices.Contains(item.Instead, key) && (q.MaxCount != 1 || other.Group != item.Group) || err != nil || wrong != "" {
			continue
		}
		if sum := c.cost(candidate, values); sum >= 0 && (cost < 0 || sum < cost) {
			best, cost = candidate, sum
		}
	}
	return best
}

// cost of the first year in minor units; negative when it cannot be worked out.
func (c *Compiled) cost(pick price.Pick, values rule.Values) int64 {
	p, err := c.Catalog.Of([]price.Pick{pick}, values)
	if err != nil {
		return -1
	}
	return p.FirstYear.Minor()
}
