package price

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

// Check says what is wrong with a pick, in words that follow the name of the
// question; it is empty for a good one.
func (c *Catalog) Check(p Pick, values rule.Values) (string, error) {
	it, ok := c.items[p.Item]
	if !ok {
		return "one of the items is not offered here, or no longer.", nil
	}
	if yes, err := holds(it.when, values); err != nil || !yes {
		return it.Name + " cannot be picked here.", err
	}
	least, most := it.Bounds()
	if p.Quantity < least || p.Quantity > most {
		return fmt.Sprintf("%s: %s can be picked.", it.Name, span(least, most)), nil
	}
	if problem, err := it.checkOptions(p.Options, values); err != nil || problem != "" {
		return problem, err
	}
	return c.checkExtras(it, p.Extras, values)
}

func span(least, most int) string {
	if least == most {
		return fmt.Sprintf("only %d", least)
	}
	return fmt.Sprintf("from %d to %d", least, most)
}

func (it *item) checkOptions(chosen map[string]string, values rule.Values) (string, error) {
	known := 0
	for _, g := range it.Options {
		key, ok := chosen[g.Key]
		if !ok || key == "" {
			if g.Require {
				return fmt.Sprintf("%s: choose %s.", it.Name, g.Name), nil
			}
			continue
		}
		known++
		o, ok := it.options[g.Key+"/"+key]
		if !ok {
			return fmt.Sprintf("%s: what is chosen for %s is not offered, or no longer.", it.Name, g.Name), nil
		}
		if yes, err := holds(o.offer, values); err != nil || !yes {
			return fmt.Sprintf("%s: %s cannot be chosen here.", it.Name, o.name), err
		}
	}
	for group, key := range chosen {
		if key != "" && !slices.ContainsFunc(it.Options, func(g OptionGroup) bool { return g.Key == group }) {
			return fmt.Sprintf("%s: something is chosen that is not offered, or no longer.", it.Name), nil
		}
	}
	return "", nil
}

func (c *Catalog) checkExtras(it *item, picked []PickedExtra, values rule.Values) (string, error) {
	seen := map[string]bool{}
	for _, p := range picked {
		x, ok := c.extras[p.Extra]
		if !ok || seen[p.Extra] {
			return fmt.Sprintf("%s: one of the extras is not offered, or no longer.", it.Name), nil
		}
		seen[p.Extra] = true
		if !x.fits(it.Key) {
			return fmt.Sprintf("%s does not fit %s.", x.Name, it.Name), nil
		}
		if yes, err := holds(x.when, values); err != nil || !yes {
			return x.Name + " cannot be picked here.", err
		}
		most := x.Most()
		if p.Quantity < 1 || p.Quantity > most {
			return fmt.Sprintf("%s: %s can be picked.", x.Name, span(1, most)), nil
		}
	}
	return "", nil
}

func (x *extra) fits(item string) bool { return len(x.Fits) == 0 || slices.Contains(x.Fits, item) }

// Same reports whether two picks are of one item with the same options, and so
// should be one.
func (p Pick) Same(q Pick) bool { return p.Item == q.Item && p.optionKeys() == q.optionKeys() }

// More reports whether picks hold anything that others do not: an item, an extra, a
// larger quantity, another option that is not cheaper (rules.md 5).
func (c *Catalog) More(before, after []Pick) bool {
	left := slices.Clone(before)
	for _, p := range slices.SortedStableFunc(slices.Values(after), func(a, b Pick) int { return exactFirst(before, a) - exactFirst(before, b) }) {
		at := slices.IndexFunc(left, func(o Pick) bool { return c.covers(o, p, false) })
		if at < 0 {
			at = slices.IndexFunc(left, func(o Pick) bool { return c.covers(o, p, true) })
		}
		if at < 0 {
			return true
		}
		left = slices.Delete(left, at, at+1)
	}
	return false
}

// exactFirst orders picks that were there before the others.
func exactFirst(before []Pick, p Pick) int {
	if slices.ContainsFunc(before, p.Same) {
		return 0
	}
	return 1
}

// covers reports whether a pick holds all of another; cheaper lets its options
// differ when one costs less with them.
func (c *Catalog) covers(old, next Pick, cheaper bool) bool {
	if old.Item != next.Item || next.Quantity > old.Quantity {
		return false
	}
	if !old.Same(next) && (!cheaper || c.each(next).Minor() >= c.each(old).Minor()) {
		return false
	}
	return !slices.ContainsFunc(next.Extras, func(x PickedExtra) bool {
		return !slices.ContainsFunc(old.Extras, func(o PickedExtra) bool { return o.Extra == x.Extra && x.Quantity <= o.Quantity })
	})
}

func (p Pick) optionKeys() string {
	var keys []string
	for group, key := range p.Options {
		if key != "" {
			keys = append(keys, group+"/"+key)
		}
	}
	slices.Sort(keys)
	return strings.Join(keys, " ")
}

// Words says what is picked, such as "2 × Tablet (large) with Mount".
func (c *Catalog) Words(p Pick) string {
	it, ok := c.items[p.Item]
	if !ok {
		return p.Item
	}
	words := fmt.Sprintf("%d × %s", p.Quantity, it.named(p.Options))
	var extras []string
	for _, e := range p.Extras {
		if x, ok := c.extras[e.Extra]; ok && e.Quantity == 1 {
			extras = append(extras, x.Name)
		} else if ok {
			extras = append(extras, fmt.Sprintf("%d × %s", e.Quantity, x.Name))
		}
	}
	if len(extras) > 0 {
		words += " with " + strings.Join(extras, " and ")
	}
	return words
}

// each is what one of a pick costs with its options.
func (c *Catalog) each(p Pick) money.Amount {
	it, ok := c.items[p.Item]
	if !ok {
		return money.Zero(c.list.Currency)
	}
	each := it.each
	for _, g := range it.Options {
		if o, ok := it.options[g.Key+"/"+p.Options[g.Key]]; ok {
			each = sum(each, o.more)
		}
	}
	return each
}

// named is the name of the item with its options in brackets.
func (it *item) named(chosen map[string]string) string {
	var options []string
	for _, g := range it.Options {
		if o, ok := it.options[g.Key+"/"+chosen[g.Key]]; ok {
			options = append(options, o.name)
		}
	}
	if len(options) == 0 {
		return it.Name
	}
	return it.Name + " (" + strings.Join(options, ", ") + ")"
}
