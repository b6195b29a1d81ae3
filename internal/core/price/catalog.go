package price

import (
	"errors"
	"math"
	"math/big"

	"heptad/internal/core/finding"
	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

// Catalog is a compiled List. It never changes and is safe for concurrent use.
type Catalog struct {
	list       List
	items      map[string]*item
	extras     map[string]*extra
	together   []together
	surcharges []surcharge
	tax        *big.Rat // nil for none
	tolerance  *big.Rat // of the real cost; nil for none
	company    *company
	picks      []string // keys of questions that say what can be picked
	whole      []string // keys of questions that say what everything picked costs
}

type item struct {
	Item
	each      money.Amount
	note      string            // how it was converted
	options   map[string]option // by group/option
	discounts []discount        // the largest quantity first
	tax       *big.Rat
	when      *rule.Rule
	count     *rule.Rule
}

type option struct {
	name  string
	more  money.Amount
	offer *rule.Rule
}

type extra struct {
	Extra
	each money.Amount
	note string
	when *rule.Rule
}

type discount struct {
	from    int
	percent string
	ratio   *big.Rat
}

type together struct {
	Together
	ratio *big.Rat
}

type surcharge struct {
	Surcharge
	ratio *big.Rat
	fixed money.Amount
	note  string // how the fixed amount was converted
	when  *rule.Rule
}

type company struct {
	ratio  *big.Rat
	limits map[Period]money.Amount
}

// Rules lists the rules of items, options, extras and surcharges with their
// places; what could not be compiled has none.
func (c *Catalog) Rules() []rule.Placed {
	var all []rule.Placed
	add := func(r *rule.Rule, steps ...any) {
		if r != nil {
			all = append(all, rule.Placed{Place: finding.At(steps...), Rule: r})
		}
	}
	for i, it := range c.list.List {
		compiled, ok := c.items[it.Key]
		if !ok {
			continue
		}
		add(compiled.when, "items", "list", i, "when")
		add(compiled.count, "items", "list", i, "count")
		for j, g := range it.Options {
			for k, o := range g.Choices {
				add(compiled.options[g.Key+"/"+o.Key].offer, "items", "list", i, "options", j, "choices", k, "when")
			}
		}
	}
	for i, x := range c.list.Extras {
		if compiled, ok := c.extras[x.Key]; ok {
			add(compiled.when, "items", "extras", i, "when")
		}
	}
	for i, s := range c.surcharges {
		add(s.when, "items", "surcharges", i, "when")
	}
	return all
}

// PickReads lists the questions that say what can be picked.
func (c *Catalog) PickReads() []string { return c.picks }

// WholeReads lists the questions that say what everything picked costs.
func (c *Catalog) WholeReads() []string { return c.whole }

// Item finds an item by key.
func (c *Catalog) Item(key string) (Item, bool) {
	it, ok := c.items[key]
	if !ok {
		return Item{}, false
	}
	return it.Item, true
}

// Name of an item, or its key when there is none of it.
func (c *Catalog) Name(key string) string {
	if it, ok := c.items[key]; ok {
		return it.Name
	}
	return key
}

// Dearer reports whether what something really cost exceeds what was asked for it
// by more than the offering tolerates.
func (c *Catalog) Dearer(agreed, real money.Amount) bool {
	most := agreed
	if c.tolerance != nil {
		most = sum(agreed, agreed.Portion(c.tolerance))
	}
	over, err := real.Compare(most)
	return err == nil && over > 0
}

// Counted tells how many of an item there are where a rule says so; false where
// the asker does. What hangs on something absent, or is less than one, is none.
func (c *Catalog) Counted(key string, values rule.Values) (int, bool, error) {
	it, ok := c.items[key]
	if !ok || it.count == nil {
		return 0, false, nil
	}
	value, err := it.count.Eval(values)
	if errors.Is(err, rule.ErrAbsent) {
		return 0, true, nil
	}
	if err != nil {
		return 0, true, err
	}
	n := 0.0
	switch x := rule.Plain(value).(type) {
	case float64:
		n = x
	case int64:
		n = float64(x)
	}
	return int(math.Ceil(min(max(n, 0), MaxQuantity+1))), true, nil
}

// Offered reports whether an item can be picked: its rule holds, or hangs on
// something absent, which does not narrow.
func (c *Catalog) Offered(key string, values rule.Values) (bool, error) {
	it, ok := c.items[key]
	if !ok {
		return false, nil
	}
	return holds(it.when, values)
}

func holds(r *rule.Rule, values rule.Values) (bool, error) {
	if r == nil {
		return true, nil
	}
	return r.Holds(values, true)
}

// Defaults lists the items of the given keys that are picked until the asker
// touches the question.
func (c *Catalog) Defaults(keys []string) []Pick {
	var picks []Pick
	for _, key := range keys {
		if it, ok := c.items[key]; ok && it.Default {
			picks = append(picks, Pick{Item: key, Quantity: max(it.Min, 1)})
		}
	}
	return picks
}
