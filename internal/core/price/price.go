package price

import (
	"fmt"
	"math/big"

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
	Each     money.Amount `json:"each" doc:"Of items and extras"`
	Per      Period       `json:"per" enum:"once,month,year"`
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
}

// Of adds up picks in their order. Picks of unknown items are left out: forms
// refuse them before. The error is a fault of a rule; the price is then
// without what that rule would add.
func (c *Catalog) Of(picks []Pick, values rule.Values) (Price, error) {
	zero := money.Zero(c.list.Currency)
	a := &adding{Catalog: c, values: values, taxed: map[string]map[Period]money.Amount{}}
	a.price = Price{Lines: []Line{}, Once: zero, Monthly: zero, Yearly: zero, Shares: []Share{}}
	for _, p := range picks {
		a.pick(p)
	}
	err := a.surcharge()
	a.tax()
	a.price.FirstYear = sum(sum(a.price.Once, a.price.Monthly.Times(12)), a.price.Yearly)
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
	each := it.each
	for _, g := range it.Options {
		if o, ok := it.options[g.Key+"/"+p.Options[g.Key]]; ok {
			each = sum(each, o.more)
		}
	}
	tax := a.listTax()
	if tax != "" && it.tax != nil {
		tax = it.Tax
	}
	line := Line{Kind: "item", Item: it.Key, Name: it.named(p.Options), Note: it.note, Quantity: p.Quantity, Each: each, Per: it.Price.Per, Sum: each.Times(int64(p.Quantity))}
	a.add(line, tax)
	net := line.Sum
	for _, d := range it.discounts {
		if p.Quantity >= d.from {
			off := line.Sum.Portion(d.ratio).Times(-1)
			a.add(Line{Kind: "discount", Item: it.Key, Name: "Discount", Note: fmt.Sprintf("%s %% from %d on", d.percent, d.from), Per: line.Per, Sum: off}, tax)
			net = sum(net, off)
			break
		}
	}
	a.part(it.Key, line.Name, it.Price, net, tax)
	for _, e := range p.Extras {
		x, ok := a.extras[e.Extra]
		if !ok {
			continue
		}
		line := Line{Kind: "extra", Item: it.Key, Name: x.Name, Note: x.note, Quantity: e.Quantity, Each: x.each, Per: x.Price.Per, Sum: x.each.Times(int64(e.Quantity))}
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

// surcharge adds a part of everything so far, a line for each period.
func (a *adding) surcharge() error {
	var first error
	before := a.price
	for _, s := range a.surcharges {
		yes, err := true, error(nil)
		if s.when != nil {
			yes, err = s.when.Holds(a.values, false)
		}
		if err != nil && first == nil {
			first = err
		}
		for _, per := range Periods {
			if base := *before.total(per); yes && err == nil && !base.IsZero() {
				a.add(Line{Kind: "surcharge", Name: s.Name, Note: s.Percent + " %", Per: per, Sum: base.Portion(s.ratio)}, a.listTax())
			}
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
	total := sum(sum(a.price.Once, a.price.Monthly.Times(int64(months))), a.price.Yearly.Times(int64((months+11)/12)))
	a.price.Months, a.price.Term = months, &total
}

// share says who pays: the person what the company does not, the cost centres
// the rest.
func (a *adding) share() {
	if len(a.price.Lines) == 0 {
		return
	}
	zero := money.Zero(a.list.Currency)
	paid := Share{Payer: OfCompany, Once: a.price.Once, Monthly: a.price.Monthly, Yearly: a.price.Yearly}
	own := Share{Payer: OfPerson, Once: zero, Monthly: zero, Yearly: zero}
	if a.company != nil {
		for _, per := range Periods {
			whole := *a.price.total(per)
			part := whole.Portion(a.company.ratio)
			if limit, ok := a.company.limits[per]; ok && part.Minor() > limit.Minor() {
				part = limit
			}
			*paid.total(per), *own.total(per) = part, sum(whole, part.Times(-1))
		}
	}
	a.price.Shares = a.centres(paid)
	if a.company != nil {
		a.price.Shares = append(a.price.Shares, own)
	}
}

// centres splits what the company pays over cost centres.
func (a *adding) centres(paid Share) []Share {
	var shares []Share
	var weights []*big.Rat
	whole := new(big.Rat)
	for _, row := range a.shareRows() {
		shares = append(shares, Share{Payer: OfCostCentre, Name: row.centre, Percent: row.percent})
		weights = append(weights, row.ratio)
		whole.Add(whole, row.ratio)
	}
	if len(shares) == 0 || whole.Cmp(big.NewRat(1, 1)) != 0 {
		for _, root := range []string{"beneficiary", "asker"} {
			if centre, ok := rule.As[string](a.values.Roots[root]["costCentre"]); ok {
				paid.Payer, paid.Name, paid.Percent = OfCostCentre, centre, "100"
				break
			}
		}
		return []Share{paid}
	}
	for _, per := range Periods {
		for i, part := range (*paid.total(per)).Split(weights) {
			*shares[i].total(per) = part
		}
	}
	return shares
}

type shareRow struct {
	centre, percent string
	ratio           *big.Rat
}

// shareRows reads the table of cost centres; rows that are not filled in are
// left out.
func (a *adding) shareRows() []shareRow {
	s := a.list.CostCentres
	if s == nil {
		return nil
	}
	var rows []shareRow
	for _, record := range rule.Rows(a.values.Roots["answers"][s.Question]) {
		centre, ok := rule.As[string](record[s.Centre])
		n, ok2 := rule.As[float64](record[s.Percent])
		percent := new(big.Rat)
		if !ok || !ok2 || percent.SetFloat64(n) == nil || n < 0 || n > 100 {
			continue
		}
		// Shares are decimal numbers; take the one that is meant, to four places.
		percent, _ = new(big.Rat).SetString(percent.FloatString(4))
		rows = append(rows, shareRow{centre, decimal(percent), percent.Quo(percent, big.NewRat(100, 1))})
	}
	return rows
}

// SharesMake100 tells whether the table of cost centres, if there is one with
// rows in it, makes 100 %.
func (c *Catalog) SharesMake100(values rule.Values) bool {
	rows := (&adding{Catalog: c, values: values}).shareRows()
	whole := new(big.Rat)
	for _, row := range rows {
		whole.Add(whole, row.ratio)
	}
	return len(rows) == 0 || whole.Cmp(big.NewRat(1, 1)) == 0
}

// CostCentres is the key of the question that shares the cost, or empty.
func (c *Catalog) CostCentres() string {
	if c.list.CostCentres == nil {
		return ""
	}
	return c.list.CostCentres.Question
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
