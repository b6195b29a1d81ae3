package price

import (
	"fmt"
	"math/big"
	"slices"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

// Line is one line of a slip. The totals are the sums of the lines.
type Line struct {
	Kind     string       `json:"kind" enum:"item,extra,discount,part,surcharge,tax"`
	Item     string       `json:"item,omitempty" doc:"Key of the item it belongs to"`
	Name     string       `json:"name"`
	Note     string       `json:"note,omitempty" doc:"How the sum came about"`
	Quantity int          `json:"quantity,omitempty" doc:"Of items and extras"`
	Unit     string       `json:"unit,omitempty" doc:"What there are so many of, such as metre; pieces when left out"`
	Each     money.Amount `json:"each" doc:"Of items and extras"`
	Per      Period       `json:"per"`
	Sum      money.Amount `json:"sum"`
}

// Price is what all picks cost. FirstYear = Once + 12 × Monthly + Yearly.
type Price struct {
	Lines     []Line        `json:"lines" nullable:"false"`
	Once      money.Amount  `json:"once"`
	Monthly   money.Amount  `json:"monthly"`
	Yearly    money.Amount  `json:"yearly"`
	FirstYear money.Amount  `json:"firstYear"`
	Months    int           `json:"months,omitempty" doc:"How long it is kept"`
	Term      *money.Amount `json:"term,omitempty" doc:"What it costs over all its months"`
	Shares    []Share       `json:"shares" nullable:"false"`
}

// Share is what one payer bears.
type Share struct {
	Payer   string       `json:"payer" enum:"costCentre,company,own" doc:"Whose it is: a cost centre's, the company's when no cost centre is known, or the person's own"`
	Name    string       `json:"name,omitempty" doc:"Of the cost centre"`
	Percent string       `json:"percent,omitempty" doc:"Of what the company pays"`
	Once    money.Amount `json:"once"`
	Monthly money.Amount `json:"monthly"`
	Yearly  money.Amount `json:"yearly"`
}

// Whose a share is.
const (
	OfCostCentre = "costCentre"
	OfCompany    = "company"
	OfPerson     = "own"
)

// Part is what one cost centre bears, or the whole for an empty key.
func (p Price) Part(centre string) Share {
	if centre == "" {
		return Share{Once: p.Once, Monthly: p.Monthly, Yearly: p.Yearly}
	}
	for _, s := range p.Shares {
		if s.Payer == OfCostCentre && s.Name == centre {
			return s
		}
	}
	return Share{}
}

// OfParts is what some cost centres bear, without the lines it comes from.
func (p Price) OfParts(centres []string) Price {
	nothing := money.Zero(p.Once.Currency())
	out := Price{Lines: []Line{}, Once: nothing, Monthly: nothing, Yearly: nothing, Shares: []Share{}, Months: p.Months}
	for _, s := range p.Shares {
		if s.Payer == OfCostCentre && slices.Contains(centres, s.Name) {
			out.Once, out.Monthly, out.Yearly = sum(out.Once, s.Once), sum(out.Monthly, s.Monthly), sum(out.Yearly, s.Yearly)
			out.Shares = append(out.Shares, s)
		}
	}
	out.FirstYear = out.Part("").Over(12)
	if p.Term != nil {
		term := out.Part("").Over(p.Months)
		out.Term = &term
	}
	return out
}

// Over adds up what falls due in so many months; a yearly price at the start of
// each year.
func (s Share) Over(months int) money.Amount {
	return sum(sum(s.Once, s.Monthly.Times(int64(months))), s.Yearly.Times(int64((months+11)/12)))
}

// total gives the field of a price that a period adds up in.
func (p *Price) total(per Period) *money.Amount {
	switch per {
	case Month:
		return &p.Monthly
	case Year:
		return &p.Yearly
	}
	return &p.Once
}

func (s *Share) total(per Period) *money.Amount {
	switch per {
	case Month:
		return &s.Monthly
	case Year:
		return &s.Yearly
	}
	return &s.Once
}

// adding is a price on its way.
type adding struct {
	*Catalog
	price  Price
	values rule.Values
	taxed  map[string]map[Period]money.Amount // by percentage, as it is written
	rates  []string                           // of taxed, in the order met
	counts map[string]int                     // of each item, with whatever options
}

// Of adds up picks in their order. Picks of unknown items are left out: forms
// refuse them before. The error is a fault of a rule; the price is then
// without what that rule would add.
func (c *Catalog) Of(picks []Pick, values rule.Values) (Price, error) {
	zero := money.Zero(c.list.Currency)
	a := &adding{Catalog: c, values: values, taxed: map[string]map[Period]money.Amount{}}
	a.price = Price{Lines: []Line{}, Once: zero, Monthly: zero, Yearly: zero, Shares: []Share{}}
	a.counts = map[string]int{}
	for _, p := range picks {
		a.counts[p.Item] += p.Quantity
	}
	for _, p := range picks {
		a.pick(p)
	}
	err := a.surcharge()
	a.tax()
	a.price.FirstYear = a.price.Part("").Over(12)
	a.term()
	a.share()
	return a.price, err
}

// add puts a line on the slip. tax is the percentage it is taxed at.
func (a *adding) add(l Line, tax string) {
	a.price.Lines = append(a.price.Lines, l)
	total := a.price.total(l.Per)
	*total = sum(*total, l.Sum)
	if tax == "" || l.Kind == "tax" {
		return
	}
	if a.taxed[tax] == nil {
		a.taxed[tax] = map[Period]money.Amount{}
		a.rates = append(a.rates, tax)
	}
	base, ok := a.taxed[tax][l.Per]
	if !ok {
		base = money.Zero(a.list.Currency)
	}
	a.taxed[tax][l.Per] = sum(base, l.Sum)
}

func (a *adding) pick(p Pick) {
	it, ok := a.items[p.Item]
	if !ok {
		return
	}
	each := a.each(p)
	tax := a.listTax()
	if tax != "" && it.tax != nil {
		tax = it.Tax
	}
	line := Line{Kind: "item", Item: it.Key, Name: it.named(p.Options), Note: it.note, Quantity: p.Quantity, Unit: it.Price.Unit, Each: each, Per: it.Price.Per, Sum: each.Times(int64(p.Quantity))}
	a.add(line, tax)
	net := line.Sum
	off := func(name, percent string, from int, ratio *big.Rat) {
		off := net.Portion(ratio).Times(-1)
		a.add(Line{Kind: "discount", Item: it.Key, Name: name, Note: fmt.Sprintf("%s %% from %d on", percent, from), Per: line.Per, Sum: off}, tax)
		net = sum(net, off)
	}
	for _, d := range it.discounts {
		if a.counts[it.Key] >= d.from {
			off("Discount", d.percent, d.from, d.ratio)
			break
		}
	}
	for _, d := range a.together {
		if slices.Contains(d.Items, it.Key) && a.count(d.Items) >= d.From {
			off(d.Name, d.Percent, d.From, d.ratio)
			break
		}
	}
	a.part(it.Key, line.Name, it.Price, net, tax)
	for _, e := range p.Extras {
		x, ok := a.extras[e.Extra]
		if !ok {
			continue
		}
		line := Line{Kind: "extra", Item: it.Key, Name: x.Name, Note: x.note, Quantity: e.Quantity, Unit: x.Price.Unit, Each: x.each, Per: x.Price.Per, Sum: x.each.Times(int64(e.Quantity))}
		a.add(line, a.listTax())
		a.part(it.Key, x.Name, x.Price, line.Sum, a.listTax())
	}
}

func (a *adding) listTax() string {
	if a.list.Tax == nil {
		return ""
	}
	return a.list.Tax.Percent
}

// part charges the days that are left of the month something begins in. The
// months after it are charged whole.
func (a *adding) part(item, name string, ch Charge, monthly money.Amount, tax string) {
	from, ok := rule.As[calendar.Date](a.values.Roots["answers"][a.list.From])
	if !ch.ByDays || !ok || from.Day() == 1 {
		return
	}
	days, all := from.MonthDays()-from.Day()+1, from.MonthDays()
	a.add(Line{
		Kind: "part", Item: item, Name: fmt.Sprintf("%s in %s", name, from.Month()), Note: fmt.Sprintf("%d of %d days", days, all),
		Per: Once, Sum: monthly.Portion(big.NewRat(int64(days), int64(all))),
	}, tax)
}

// count is how many of some items are picked together.
func (a *adding) count(items []string) int {
	n := 0
	for _, key := range items {
		n += a.counts[key]
	}
	return n
}

// base adds up the lines of some items in a period, of all when none is named;
// false when there is none.
func (a *adding) base(lines []Line, items []string, per Period) (money.Amount, bool) {
	total, any := money.Zero(a.list.Currency), false
	for _, l := range lines {
		if l.Per == per && (len(items) == 0 || slices.Contains(items, l.Item)) {
			total, any = sum(total, l.Sum), true
		}
	}
	return total, any
}

// surcharge adds a part of the lines so far, a line for each period, or a fixed
// amount.
func (a *adding) surcharge() error {
	var first error
	before := a.price.Lines
	for _, s := range a.surcharges {
		yes, err := true, error(nil)
		if s.when != nil {
			yes, err = s.when.Holds(a.values, false)
		}
		if err != nil && first == nil {
			first = err
		}
		if !yes || err != nil {
			continue
		}
		picked := false
		for _, per := range Periods {
			base, there := a.base(before, s.Items, per)
			picked = picked || there
			if s.ratio != nil && !base.IsZero() {
				a.add(Line{Kind: "surcharge", Name: s.Name, Note: s.Percent + " %", Per: per, Sum: base.Portion(s.ratio)}, a.listTax())
			}
		}
		if s.Fixed != nil && picked {
			a.add(Line{Kind: "surcharge", Name: s.Name, Note: s.note, Per: s.Fixed.Per, Sum: s.fixed}, a.listTax())
		}
	}
	return first
}

// tax adds a line for each rate and period.
func (a *adding) tax() {
	for _, rate := range a.rates {
		ratio, err := money.Percent(rate)
		if err != nil || ratio.Sign() == 0 {
			continue // found when it was compiled
		}
		for _, per := range Periods {
			if base, ok := a.taxed[rate][per]; ok && !base.IsZero() {
				a.add(Line{Kind: "tax", Name: a.list.Tax.Name, Note: rate + " %", Per: per, Sum: base.Portion(ratio)}, "")
			}
		}
	}
}

// maxMonths is the longest term.
const maxMonths = 600

// term adds up all months; a yearly price falls due at the start of each year.
func (a *adding) term() {
	if a.list.Term == nil {
		return
	}
	months := a.list.Term.Months
	if key := a.list.Term.Question; key != "" {
		n, ok := rule.As[float64](a.values.Roots["answers"][key])
		if !ok || n != float64(int(n)) {
			return
		}
		months = int(n)
	}
	if months < 1 || months > maxMonths {
		return
	}
	total := a.price.Part("").Over(months)
	a.price.Months, a.price.Term = months, &total
}

func decimal(r *big.Rat) string {
	if r.IsInt() {
		return r.Num().String()
	}
	text := r.FloatString(4)
	for text[len(text)-1] == '0' {
		text = text[:len(text)-1]
	}
	return text
}

// sum adds amounts of the one currency of a catalog.
func sum(a, b money.Amount) money.Amount {
	total, err := a.Plus(b)
	if err != nil {
		panic(err) // every amount of a catalog is made with its currency
	}
	return total
}
