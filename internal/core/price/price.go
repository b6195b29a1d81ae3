// Package price adds up what is picked in a form (rules.md 3). All sums are
// whole minor units of one currency.
package price

import (
	"fmt"

	"heptad/internal/core/finding"
	"heptad/internal/core/money"
)

// List is the items side of an offering.
type List struct {
	Currency string `json:"currency" maxLength:"3" doc:"ISO 4217"`
	List     []Item `json:"list" maxItems:"1000" nullable:"false"`
}

// Item is something priced that can be picked in a form.
type Item struct {
	Key   string `json:"key" maxLength:"60"`
	Name  string `json:"name" maxLength:"200"`
	Text  string `json:"text,omitempty" maxLength:"1000"`
	Price Charge `json:"price"`
}

// Charge says what one item costs.
type Charge struct {
	Amount string `json:"amount" maxLength:"20" doc:"Decimal number, such as 12.50"`
	Per    Period `json:"per" enum:"once,month,year"`
}

// Period says how often a charge falls due.
type Period string

// The periods.
const (
	Once  Period = "once"
	Month Period = "month"
	Year  Period = "year"
)

// periods lists them all.
var periods = []Period{Once, Month, Year}

// MaxQuantity is the most of one item that can be picked.
const MaxQuantity = 1000

// Pick is one picked item.
type Pick struct {
	Item     string `json:"item" maxLength:"60"`
	Quantity int    `json:"quantity" minimum:"1" maximum:"1000"`
}

// Line is one line of a slip.
type Line struct {
	Item     string       `json:"item"`
	Name     string       `json:"name"`
	Quantity int          `json:"quantity"`
	Each     money.Amount `json:"each"`
	Per      Period       `json:"per" enum:"once,month,year"`
	Sum      money.Amount `json:"sum"`
}

// Price is what all picks cost. FirstYear = Once + 12 × Monthly + Yearly.
type Price struct {
	Lines     []Line       `json:"lines" nullable:"false"`
	Once      money.Amount `json:"once"`
	Monthly   money.Amount `json:"monthly"`
	Yearly    money.Amount `json:"yearly"`
	FirstYear money.Amount `json:"firstYear"`
}

// Catalog is a compiled List.
type Catalog struct {
	currency string
	items    map[string]priced
}

type priced struct {
	Item
	each money.Amount
}

// Compile checks the items; without any, the currency does not matter.
func Compile(list List, findings *finding.List) *Catalog {
	c := &Catalog{currency: list.Currency, items: map[string]priced{}}
	if list.Currency == "" && len(list.List) == 0 {
		return c
	}
	if _, err := money.Digits(list.Currency); err != nil {
		findings.Error("currency", "/items/currency", err.Error()+".", "Choose the currency of the prices.")
		return c
	}
	for i, item := range list.List {
		at := finding.At("items", "list", i)
		if _, twice := c.items[item.Key]; twice || item.Key == "" {
			findings.Error("duplicateKey", at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the items.", item.Key), "Give every item a key of its own.")
		}
		if item.Name == "" {
			findings.Error("noName", at+"/name", "An item has no name.", "Name it as the asker knows it.")
		}
		each, err := money.Parse(item.Price.Amount, list.Currency)
		if err == nil && each.Minor() < 0 {
			err = fmt.Errorf("%q is less than nothing", item.Price.Amount)
		}
		if err != nil {
			findings.Error("amount", at+"/price/amount", err.Error()+".", "")
		}
		if !item.Price.Per.known() {
			findings.Error("period", at+"/price/per", fmt.Sprintf("%q is no period of a price.", item.Price.Per), "Choose once, month or year.")
		}
		c.items[item.Key] = priced{item, each}
	}
	return c
}

func (p Period) known() bool {
	for _, q := range periods {
		if p == q {
			return true
		}
	}
	return false
}

// Item finds an item by key.
func (c *Catalog) Item(key string) (Item, bool) {
	item, ok := c.items[key]
	return item.Item, ok
}

// Of adds up picks in their order. Picks of unknown items are left out: forms
// refuse them before.
func (c *Catalog) Of(picks []Pick) Price {
	zero := money.Zero(c.currency)
	p := Price{Lines: []Line{}, Once: zero, Monthly: zero, Yearly: zero, FirstYear: zero}
	for _, pick := range picks {
		item, ok := c.items[pick.Item]
		if !ok {
			continue
		}
		line := Line{item.Key, item.Name, pick.Quantity, item.each, item.Price.Per, item.each.Times(int64(pick.Quantity))}
		p.Lines = append(p.Lines, line)
		switch line.Per {
		case Once:
			p.Once = sum(p.Once, line.Sum)
		case Month:
			p.Monthly = sum(p.Monthly, line.Sum)
		case Year:
			p.Yearly = sum(p.Yearly, line.Sum)
		}
	}
	p.FirstYear = sum(sum(p.Once, p.Monthly.Times(12)), p.Yearly)
	return p
}

// sum adds amounts of the one currency of a catalog.
func sum(a, b money.Amount) money.Amount {
	total, err := a.Plus(b)
	if err != nil {
		panic(err) // every amount of a catalog is made with its currency
	}
	return total
}
