package price

import (
	"math/big"

	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

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

// shareRows reads who pays; rows that are not filled in are left out, those of one
// cost centre are one. When no share is given, all are equal.
func (a *adding) shareRows() []shareRow {
	s := a.list.CostCentres
	if s == nil {
		return nil
	}
	if centre, ok := rule.As[string](a.values.Roots["answers"][s.Question]); ok && s.Centre == "" {
		return []shareRow{{centre, "100", big.NewRat(1, 1)}}
	}
	var rows, named []shareRow
	for _, record := range rule.Rows(a.values.Roots["answers"][s.Question]) {
		centre, ok := rule.As[string](record[s.Centre])
		if !ok {
			continue
		}
		n, given := rule.As[float64](record[s.Percent])
		ratio := new(big.Rat)
		if !given {
			named = join(named, centre, ratio)
		} else if ratio.SetFloat64(n) != nil && n >= 0 && n <= 100 {
			// Shares are decimal numbers; take the one that is meant, to four places.
			ratio, _ = new(big.Rat).SetString(ratio.FloatString(4))
			rows = join(rows, centre, ratio.Quo(ratio, big.NewRat(100, 1)))
		}
	}
	if len(rows) == 0 {
		rows = named
		for i := range rows {
			rows[i].ratio = big.NewRat(1, int64(len(rows)))
		}
	}
	for i := range rows {
		rows[i].percent = decimal(new(big.Rat).Mul(rows[i].ratio, big.NewRat(100, 1)))
	}
	return rows
}

// join adds a share to those of its cost centre.
func join(rows []shareRow, centre string, ratio *big.Rat) []shareRow {
	for i := range rows {
		if rows[i].centre == centre {
			rows[i].ratio.Add(rows[i].ratio, ratio)
			return rows
		}
	}
	return append(rows, shareRow{centre: centre, ratio: ratio})
}

// SharesMake100 reports whether the shares of cost centres, if there are any, make
// 100 %.
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
