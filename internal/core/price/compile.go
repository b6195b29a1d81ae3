package price

import (
	"fmt"
	"math/big"
	"slices"
	"strings"
	"unicode"

	"heptad/internal/core/finding"
	"heptad/internal/core/money"
	"heptad/internal/core/picture"
	"heptad/internal/core/rule"
)

// compiling is a list on its way to a catalog.
type compiling struct {
	*Catalog
	env      *rule.Env
	findings *finding.List
	rates    map[string]*big.Rat
}

// Compile checks the items; without any, the currency does not matter.
func Compile(list List, env *rule.Env, findings *finding.List) *Catalog {
	c := &compiling{
		Catalog: &Catalog{list: list, items: map[string]*item{}, extras: map[string]*extra{}},
		env:     env, findings: findings, rates: map[string]*big.Rat{},
	}
	if list.Currency == "" && len(list.List) == 0 {
		return c.Catalog
	}
	if _, err := money.Digits(list.Currency); err != nil {
		findings.Error(finding.Currency, "/items/currency", err.Error()+".", "Choose the currency of the prices.")
		return c.Catalog
	}
	c.compileRates()
	for i, it := range list.List {
		c.compileItem(it, finding.At("items", "list", i))
	}
	for i, x := range list.Extras {
		c.compileExtra(x, finding.At("items", "extras", i))
	}
	c.compileWhole()
	return c.Catalog
}

func (c *compiling) compileRates() {
	for code, text := range c.list.Rates {
		at := finding.At("items", "rates", code)
		if _, err := money.Digits(code); err != nil {
			c.findings.Error(finding.Currency, at, err.Error()+".", "")
		}
		rate, err := money.Decimal(text, 8, 1_000_000)
		if err != nil || rate.Sign() == 0 {
			c.findings.Error(finding.Rate, at, fmt.Sprintf("%q is no rate of exchange.", text), "Write what one "+code+" is worth, such as 0.0861.")
			continue
		}
		c.rates[code] = rate
	}
}

// charge reads a price and converts it.
func (c *compiling) charge(ch Charge, at string) (money.Amount, string) {
	if !slices.Contains(Periods, ch.Per) {
		c.findings.Error(finding.Period, at+"/per", fmt.Sprintf("%q is no period of a price.", ch.Per), "Choose once, month or year.")
	}
	if strings.ContainsFunc(ch.Unit, unicode.IsControl) {
		c.findings.Error(finding.OneLine, at+"/unit", "What a price is of stands on one line.", "Write a word such as metre.")
	}
	if ch.ByDays && ch.Per != Month {
		c.findings.Error(finding.ByDays, at+"/byDays", "Only monthly prices are charged by days.", "")
	}
	if ch.ByDays && c.list.From == "" {
		c.findings.Error(finding.ByDays, at+"/byDays", "Nothing says from which day parts of a month are charged.", "Choose the date question on the items side.")
	}
	code := ch.Currency
	if code == "" {
		code = c.list.Currency
	}
	own, err := c.amount(ch.Amount, code, at+"/amount")
	if err != nil || code == c.list.Currency {
		return own, ""
	}
	rate, ok := c.rates[code]
	if !ok {
		c.findings.Error(finding.NoRate, at+"/currency", fmt.Sprintf("Nothing says what %s is worth in %s.", code, c.list.Currency), "Add the rate on the items side.")
		return money.Zero(c.list.Currency), ""
	}
	each, err := own.In(c.list.Currency, rate)
	if err != nil {
		c.findings.Error(finding.Rate, at+"/currency", err.Error()+".", "")
	}
	return each, fmt.Sprintf("%s at %s", own, c.list.Rates[code])
}

func (c *compiling) amount(text, code, at string) (money.Amount, error) {
	a, err := money.Parse(text, code)
	if err == nil && a.Minor() < 0 {
		err = fmt.Errorf("%q is less than nothing", text)
	}
	if err != nil {
		c.findings.Error(finding.Amount, at, err.Error()+".", "")
		return money.Zero(c.list.Currency), err
	}
	return a, nil
}

func (c *compiling) percent(text, at string) *big.Rat {
	r, err := money.Percent(text)
	if err != nil {
		c.findings.Error(finding.Percent, at, err.Error()+".", "Write a percentage such as 7.5.")
		return new(big.Rat)
	}
	return r
}

// condition compiles a rule that must not hang on the cost, and notes which
// questions it reads.
func (c *compiling) condition(source, at string, reads *[]string) *rule.Rule {
	r := c.env.Condition(source, at, c.findings)
	if r == nil {
		return nil
	}
	if len(r.Reads("cost")) > 0 {
		c.findings.Error(finding.CostOfCost, at, "What can be picked cannot hang on what it costs.", "Compare answers or the person instead.")
		return nil
	}
	*reads = append(*reads, r.Reads("answers")...)
	return r
}

func (c *compiling) compileItem(it Item, at string) {
	if c.items[it.Key] != nil || it.Key == "" {
		c.findings.Error(finding.DuplicateKey, at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the items.", it.Key), "Give every item a key of its own.")
	}
	if strings.TrimSpace(it.Name) == "" {
		c.findings.Error(finding.NoName, at+"/name", "An item has no name.", "Name it as the asker knows it.")
	}
	if it.Max > 0 && max(it.Min, 1) > it.Max {
		c.findings.Error(finding.Quantity, at+"/max", fmt.Sprintf("%s: the smallest quantity is larger than the largest.", it.Name), "")
	}
	if !picture.Good(it.Picture) {
		c.findings.Error(finding.Picture, at+"/picture", fmt.Sprintf("%s: this is no picture.", it.Name), "Use a PNG, JPEG or WebP, or an SVG of plain shapes, of less than 60 kB.")
	}
	compiled := &item{Item: it, options: map[string]option{}, when: c.condition(it.When, at+"/when", &c.picks)}
	compiled.each, compiled.note = c.charge(it.Price, at+"/price")
	if compiled.count = c.env.Value(it.Count, rule.Number, at+"/count", c.findings); compiled.count != nil {
		if len(compiled.count.Reads("cost")) > 0 {
			c.findings.Error(finding.CostOfCost, at+"/count", "How many there are cannot hang on what they cost.", "Count answers instead.")
			compiled.count = nil
		} else {
			c.picks = append(c.picks, compiled.count.Reads("answers")...)
		}
	}
	for j, key := range it.Instead {
		if !slices.ContainsFunc(c.list.List, func(other Item) bool { return other.Key == key && key != it.Key }) {
			c.findings.Error(finding.UnknownItem, at+finding.At("instead", j), fmt.Sprintf("%s can be replaced by the item %q, which is not there.", it.Name, key), "Take it out.")
		}
	}
	for j, g := range it.Options {
		c.compileOptions(compiled, g, at+finding.At("options", j))
	}
	for j, d := range it.Discounts {
		compiled.discounts = append(compiled.discounts, discount{d.From, d.Percent, c.percent(d.Percent, at+finding.At("discounts", j, "percent"))})
	}
	slices.SortStableFunc(compiled.discounts, func(a, b discount) int { return b.from - a.from })
	if it.Tax != "" {
		compiled.tax = c.percent(it.Tax, at+"/tax")
	}
	c.items[it.Key] = compiled
}

func (c *compiling) compileOptions(to *item, g OptionGroup, at string) {
	if strings.TrimSpace(g.Name) == "" || g.Key == "" {
		c.findings.Error(finding.NoName, at+"/name", fmt.Sprintf("A choice of %s has no name.", to.Name), "Say what is chosen, such as the size.")
	}
	if len(g.Choices) == 0 {
		c.findings.Error(finding.NoChoices, at+"/choices", fmt.Sprintf("%s, %s: there is nothing to choose from.", to.Name, g.Name), "Add choices.")
	}
	for k, o := range g.Choices {
		place := at + finding.At("choices", k)
		key := g.Key + "/" + o.Key
		if _, twice := to.options[key]; twice || o.Key == "" {
			c.findings.Error(finding.DuplicateKey, place+"/key", fmt.Sprintf("%s: the key %q is empty or stands twice.", to.Name, o.Key), "Give every choice a key of its own.")
		}
		compiled := option{name: o.Name, more: money.Zero(c.list.Currency), offer: c.condition(o.When, place+"/when", &c.picks)}
		if o.Amount != "" {
			charge := to.Price
			charge.Amount = o.Amount
			compiled.more, _ = c.charge(charge, place)
		}
		to.options[key] = compiled
	}
}

func (c *compiling) compileExtra(x Extra, at string) {
	if c.extras[x.Key] != nil || x.Key == "" {
		c.findings.Error(finding.DuplicateKey, at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the extras.", x.Key), "Give every extra a key of its own.")
	}
	if strings.TrimSpace(x.Name) == "" {
		c.findings.Error(finding.NoName, at+"/name", "An extra has no name.", "Name it as the asker knows it.")
	}
	for j, key := range x.Fits {
		if c.items[key] == nil {
			c.findings.Error(finding.UnknownItem, at+finding.At("fits", j), fmt.Sprintf("%s fits the item %q, which is not there.", x.Name, key), "Take it out.")
		}
	}
	compiled := &extra{Extra: x, when: c.condition(x.When, at+"/when", &c.picks)}
	compiled.each, compiled.note = c.charge(x.Price, at+"/price")
	c.extras[x.Key] = compiled
}

// compileWhole checks what bears on everything picked.
func (c *compiling) compileWhole() {
	for i, t := range c.list.Discounts {
		at := finding.At("items", "discounts", i)
		if strings.TrimSpace(t.Name) == "" {
			c.findings.Error(finding.NoName, at+"/name", "A discount has no name.", "Say what it is for.")
		}
		if len(t.Items) == 0 {
			c.findings.Error(finding.NoItems, at+"/items", fmt.Sprintf("%s: nothing says of which items together.", t.Name), "Choose the items.")
		}
		c.known(t.Items, t.Name, at+"/items")
		c.together = append(c.together, together{t, c.percent(t.Percent, at+"/percent")})
	}
	slices.SortStableFunc(c.together, func(a, b together) int { return b.From - a.From })
	for i, s := range c.list.Surcharges {
		c.compileSurcharge(s, finding.At("items", "surcharges", i))
	}
	if t := c.list.Tax; t != nil {
		c.tax = c.percent(t.Percent, "/items/tax/percent")
	}
	if c.list.Tolerance != "" {
		c.tolerance = c.percent(c.list.Tolerance, "/items/tolerance")
	}
	if c.list.From != "" {
		c.question(c.list.From, rule.DateT, "/items/from", "a date question")
	}
	if t := c.list.Term; t != nil && t.Question != "" {
		c.question(t.Question, rule.Number, "/items/term/question", "a number question")
	}
	if p := c.list.Company; p != nil {
		c.company = &company{c.percent(p.Percent, "/items/company/percent"), map[Period]money.Amount{}}
		for period, limit := range map[Period][2]string{Once: {p.Once, "once"}, Month: {p.Monthly, "monthly"}, Year: {p.Yearly, "yearly"}} {
			if limit[0] != "" {
				c.company.limits[period], _ = c.amount(limit[0], c.list.Currency, "/items/company/"+limit[1])
			}
		}
	}
	if s := c.list.CostCentres; s != nil {
		c.whole = append(c.whole, s.Question)
		fits := "answers." + s.Question + ` == ""`
		if s.Centre != "" {
			fits = fmt.Sprintf(`answers.%s.all(r, r.%s == "")`, s.Question, s.Centre)
		}
		if s.Percent != "" {
			fits = fmt.Sprintf(`answers.%s.all(r, r.%s == "" && r.%s == 0.0)`, s.Question, s.Centre, s.Percent)
		}
		if _, err := c.env.Compile(fits, rule.YesNo); err != nil {
			c.findings.Error(finding.CostCentres, "/items/costCentres", "Who pays is said by a question for a cost centre, or by a table with a column for the cost centre and one for the share, but these are not there.", "Choose the question, or the table and its columns.")
		}
	}
}

func (c *compiling) compileSurcharge(s Surcharge, at string) {
	if strings.TrimSpace(s.Name) == "" {
		c.findings.Error(finding.NoName, at+"/name", "A surcharge has no name.", "Say what it is for.")
	}
	c.known(s.Items, s.Name, at+"/items")
	compiled := surcharge{Surcharge: s, when: c.condition(s.When, at+"/when", &c.whole)}
	switch {
	case s.Fixed == nil:
		compiled.ratio = c.percent(s.Percent, at+"/percent")
	case s.Percent != "":
		c.findings.Error(finding.TwoPrices, at+"/percent", fmt.Sprintf("%s has a percentage and a fixed amount.", s.Name), "Leave one of them empty.")
	default:
		if s.Fixed.ByDays {
			c.findings.Error(finding.ByDays, at+"/fixed/byDays", "Only items and extras are charged by days.", "")
		}
		compiled.fixed, compiled.note = c.charge(*s.Fixed, at+"/fixed")
	}
	c.surcharges = append(c.surcharges, compiled)
}

// known checks that items are there that something is for.
func (c *compiling) known(items []string, name, at string) {
	for i, key := range items {
		if c.items[key] == nil {
			c.findings.Error(finding.UnknownItem, at+finding.At(i), fmt.Sprintf("%s is for the item %q, which is not there.", name, key), "Take it out.")
		}
	}
}

// question checks that a question is there with the type the price needs.
func (c *compiling) question(key string, want rule.Type, at, words string) {
	c.whole = append(c.whole, key)
	if _, err := c.env.Compile("answers."+key, want); err != nil {
		c.findings.Error(finding.UnknownQuestion, at, fmt.Sprintf("%q is not %s of this form.", key, words), "Choose one that is there.")
	}
}
