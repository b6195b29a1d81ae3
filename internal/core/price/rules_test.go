package price_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/money"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// form is an environment with the questions that prices read here.
func form(t require.TestingT) *rule.Env {
	env, err := rule.NewEnv(rule.Scope{
		Roots: map[string]rule.Fields{
			"answers":     {"fast": rule.YesNo, "from": rule.DateT, "months": rule.Number, "split": rule.Records("row_split"), "port": rule.Text},
			"asker":       rule.PersonFields,
			"beneficiary": rule.PersonFields,
			"cost":        {"once": rule.MoneyT},
		},
		Elements: map[string]rule.Fields{"row_split": {"centre": rule.Text, "percent": rule.Number}},
		Currency: "EUR",
	})
	require.NoError(t, err)
	return env
}

func answers(record rule.Record) rule.Values {
	return rule.Values{Roots: map[string]rule.Record{"answers": record, "asker": {}, "beneficiary": {"costCentre": rule.OfText("CC-4100")}}}
}

func day(text string) rule.Value {
	d, err := calendar.ParseDate(text)
	if err != nil {
		panic(err)
	}
	return rule.OfDate(d)
}

func split(parts ...any) rule.Value {
	var rows []rule.Record
	for i := 0; i < len(parts); i += 2 {
		row := rule.Record{"centre": rule.OfText(parts[i].(string))}
		if percent, ok := parts[i+1].(float64); ok {
			row["percent"] = rule.OfNumber(percent)
		}
		rows = append(rows, row)
	}
	return rule.OfRecords("row_split", rows)
}

// tablet has everything: options, extras, discounts and a price by days.
func tablet() price.List {
	return price.List{
		Currency: "EUR",
		Rates:    map[string]string{"NOK": "0.0861"},
		List: []price.Item{
			{Key: "tablet", Name: "Tablet", Price: price.Charge{Amount: "400.00", Per: price.Once}, Max: 50,
				Options: []price.OptionGroup{
					{Key: "size", Name: "Size", Require: true, Choices: []price.Option{{Key: "s", Name: "small"}, {Key: "l", Name: "large", Amount: "99.50"}}},
					{Key: "case", Name: "Case", Choices: []price.Option{{Key: "sea", Name: "sea case", Amount: "20.00", When: `answers.port == "orm"`}}},
				},
				Discounts: []price.Discount{{From: 5, Percent: "5"}, {From: 10, Percent: "12.5"}}},
			{Key: "plan", Name: "Data plan", Price: price.Charge{Amount: "31.00", Per: price.Month, ByDays: true}, Tax: "6"},
			{Key: "chart", Name: "Charts", Price: price.Charge{Amount: "1200.00", Per: price.Year, Currency: "NOK"}, Min: 2, Max: 3},
		},
		Extras: []price.Extra{
			{Key: "mount", Name: "Mount", Price: price.Charge{Amount: "35.00", Per: price.Once}, Fits: []string{"tablet"}, Max: 2},
			{Key: "care", Name: "Care", Price: price.Charge{Amount: "2.10", Per: price.Month}},
		},
		From: "from",
	}
}

func lines(p price.Price) string {
	var out []string
	for _, l := range p.Lines {
		text := fmt.Sprintf("%s %s %s/%s", l.Kind, l.Name, l.Sum.Decimal(), l.Per)
		if l.Note != "" {
			text += " (" + l.Note + ")"
		}
		out = append(out, text)
	}
	return strings.Join(out, "; ")
}

// together takes off what two items have in common.
func together(l *price.List) {
	both := []string{"tablet", "plan"}
	l.Discounts = []price.Together{{Name: "Set", Items: both, From: 6, Percent: "10"}, {Name: "Many", Items: both, From: 10, Percent: "20"}}
}

// Worked by hand, line by line.
func TestLines(t *testing.T) {
	pick := func(item string, n int, options map[string]string, extras ...price.PickedExtra) price.Pick {
		return price.Pick{Item: item, Quantity: n, Options: options, Extras: extras}
	}
	for name, c := range map[string]struct {
		change func(*price.List)
		picks  []price.Pick
		given  rule.Record
		want   string
	}{
		"an option":                     {nil, []price.Pick{pick("tablet", 2, map[string]string{"size": "l"})}, nil, "item Tablet (large) 999.00/once"},
		"two options and an extra":      {nil, []price.Pick{pick("tablet", 1, map[string]string{"size": "l", "case": "sea"}, price.PickedExtra{Extra: "mount", Quantity: 2})}, nil, "item Tablet (large, sea case) 519.50/once; extra Mount 70.00/once"},
		"below the discount":            {nil, []price.Pick{pick("tablet", 4, nil)}, nil, "item Tablet 1600.00/once"},
		"first discount":                {nil, []price.Pick{pick("tablet", 5, nil)}, nil, "item Tablet 2000.00/once; discount Discount -100.00/once (5 % from 5 on)"},
		"the larger discount":           {nil, []price.Pick{pick("tablet", 11, nil)}, nil, "item Tablet 4400.00/once; discount Discount -550.00/once (12.5 % from 10 on)"},
		"another currency":              {nil, []price.Pick{pick("chart", 2, nil)}, nil, "item Charts 206.64/year (NOK 1200.00 at 0.0861)"},
		"part of a month":               {nil, []price.Pick{pick("plan", 1, nil)}, rule.Record{"from": day("2027-03-15")}, "item Data plan 31.00/month; part Data plan in March 17.00/once (17 of 31 days)"},
		"from the first":                {nil, []price.Pick{pick("plan", 1, nil)}, rule.Record{"from": day("2027-03-01")}, "item Data plan 31.00/month"},
		"the last day of leap February": {nil, []price.Pick{pick("plan", 2, nil)}, rule.Record{"from": day("2028-02-29")}, "item Data plan 62.00/month; part Data plan in February 2.14/once (1 of 29 days)"},
		"no day yet":                    {nil, []price.Pick{pick("plan", 1, nil)}, nil, "item Data plan 31.00/month"},
		"an extra each month":           {nil, []price.Pick{pick("plan", 1, nil, price.PickedExtra{Extra: "care", Quantity: 3})}, nil, "item Data plan 31.00/month; extra Care 6.30/month"},
		"a surcharge of each sort": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Key: "f", Name: "In two days", When: "answers.fast", Percent: "15"}, {Key: "h", Name: "Handling", Percent: "1"}}
		}, []price.Pick{pick("tablet", 1, nil), pick("plan", 1, nil)}, rule.Record{"fast": rule.OfYesNo(true)},
			"item Tablet 400.00/once; item Data plan 31.00/month; surcharge In two days 60.00/once (15 %); surcharge In two days 4.65/month (15 %); surcharge Handling 4.00/once (1 %); surcharge Handling 0.31/month (1 %)"},
		"options count together": {nil, []price.Pick{pick("tablet", 3, map[string]string{"size": "s"}), pick("tablet", 2, map[string]string{"size": "l"})}, nil,
			"item Tablet (small) 1200.00/once; discount Discount -60.00/once (5 % from 5 on); item Tablet (large) 999.00/once; discount Discount -49.95/once (5 % from 5 on)"},
		"from six of two items together": {together, []price.Pick{pick("tablet", 4, nil), pick("plan", 2, nil)}, nil,
			"item Tablet 1600.00/once; discount Set -160.00/once (10 % from 6 on); item Data plan 62.00/month; discount Set -6.20/month (10 % from 6 on)"},
		"five together are too few": {together, []price.Pick{pick("tablet", 3, nil), pick("plan", 2, nil), pick("chart", 3, nil)}, nil,
			"item Tablet 1200.00/once; item Data plan 62.00/month; item Charts 309.96/year (NOK 1200.00 at 0.0861)"},
		"after their own discount, the largest set": {together, []price.Pick{pick("tablet", 10, nil)}, nil,
			"item Tablet 4000.00/once; discount Discount -500.00/once (12.5 % from 10 on); discount Many -700.00/once (20 % from 10 on)"},
		"a part of a month after a discount": {together, []price.Pick{pick("plan", 6, nil)}, rule.Record{"from": day("2027-04-16")},
			"item Data plan 186.00/month; discount Set -18.60/month (10 % from 6 on); part Data plan in April 83.70/once (15 of 30 days)"},
		"a surcharge on named items": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Key: "i", Name: "Insurance", Percent: "10", Items: []string{"tablet"}}}
		}, []price.Pick{pick("tablet", 5, nil, price.PickedExtra{Extra: "mount", Quantity: 1}), pick("plan", 1, nil)}, nil,
			"item Tablet 2000.00/once; discount Discount -100.00/once (5 % from 5 on); extra Mount 35.00/once; item Data plan 31.00/month; surcharge Insurance 193.50/once (10 %)"},
		"a fixed one": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Key: "b", Name: "Boat", Fixed: &price.Charge{Amount: "100.00", Per: price.Once, Currency: "NOK"}}}
		}, []price.Pick{pick("tablet", 2, nil)}, nil, "item Tablet 800.00/once; surcharge Boat 8.61/once (NOK 100.00 at 0.0861)"},
		"a fixed one for items that are not picked": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Key: "b", Name: "Boat", Fixed: &price.Charge{Amount: "100.00", Per: price.Once}, Items: []string{"chart"}}}
		}, []price.Pick{pick("tablet", 2, nil)}, nil, "item Tablet 800.00/once"},
		"a surcharge not asked for": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Key: "f", Name: "In two days", When: "answers.fast", Percent: "15"}}
		}, []price.Pick{pick("tablet", 1, nil)}, nil, "item Tablet 400.00/once"},
		"tax, and another rate": {func(l *price.List) { l.Tax = &price.Tax{Name: "VAT", Percent: "23"} },
			[]price.Pick{pick("tablet", 1, nil), pick("plan", 1, nil, price.PickedExtra{Extra: "care", Quantity: 1})}, nil,
			"item Tablet 400.00/once; item Data plan 31.00/month; extra Care 2.10/month; tax VAT 92.00/once (23 %); tax VAT 0.48/month (23 %); tax VAT 1.86/month (6 %)"},
		"tax on a discount": {func(l *price.List) { l.Tax = &price.Tax{Name: "VAT", Percent: "23"} }, []price.Pick{pick("tablet", 5, nil)}, nil,
			"item Tablet 2000.00/once; discount Discount -100.00/once (5 % from 5 on); tax VAT 437.00/once (23 %)"},
		"tax on a surcharge": {func(l *price.List) {
			l.Tax = &price.Tax{Name: "VAT", Percent: "23"}
			l.Surcharges = []price.Surcharge{{Key: "h", Name: "Handling", Percent: "10"}}
		}, []price.Pick{pick("tablet", 1, nil)}, nil, "item Tablet 400.00/once; surcharge Handling 40.00/once (10 %); tax VAT 101.20/once (23 %)"},
		"unknown ones cost nothing": {nil, []price.Pick{pick("moon", 1, nil), pick("tablet", 1, map[string]string{"size": "xxl"}, price.PickedExtra{Extra: "moon", Quantity: 1})}, nil, "item Tablet 400.00/once"},
	} {
		t.Run(name, func(t *testing.T) {
			list := tablet()
			if c.change != nil {
				c.change(&list)
			}
			findings := finding.List{}
			catalog := price.Compile(list, form(t), &findings)
			require.Empty(t, findings)
			p, err := catalog.Of(c.picks, answers(c.given))
			require.NoError(t, err)
			assert.Equal(t, c.want, lines(p))
		})
	}
}

// Worked by hand: a term, what it costs, and who pays.
func TestTermAndShares(t *testing.T) {
	picks := []price.Pick{{Item: "tablet", Quantity: 1}, {Item: "plan", Quantity: 1}, {Item: "chart", Quantity: 2}}
	for name, c := range map[string]struct {
		change func(*price.List)
		given  rule.Record
		term   string
		shares string // payer name percent once monthly yearly
	}{
		"their own centre": {func(*price.List) {}, nil, "", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"fixed term":       {func(l *price.List) { l.Term = &price.Term{Months: 13} }, nil, "1216.28", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"a term answered":  {func(l *price.List) { l.Term = &price.Term{Question: "months"} }, rule.Record{"months": rule.OfNumber(12)}, "978.64", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"half a month":     {func(l *price.List) { l.Term = &price.Term{Question: "months"} }, rule.Record{"months": rule.OfNumber(1.5)}, "", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"too many months":  {func(l *price.List) { l.Term = &price.Term{Question: "months"} }, rule.Record{"months": rule.OfNumber(601)}, "", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"two centres": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		},
			rule.Record{"split": split("CC-1", 33.3, "CC-2", 66.7)}, "", "costCentre CC-1 33.3 133.20 10.32 68.81; costCentre CC-2 66.7 266.80 20.68 137.83"},
		"shares not full": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		},
			rule.Record{"split": split("CC-1", 33.0, "CC-2", 66.0)}, "", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"equal shares, as none is filled in": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		}, rule.Record{"split": split("CC-1", nil, "CC-2", nil, "CC-3", nil)}, "", "costCentre CC-1 33.3333 133.34 10.34 68.88; costCentre CC-2 33.3333 133.33 10.33 68.88; costCentre CC-3 33.3333 133.33 10.33 68.88"},
		"equal shares, always": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre"}
		}, rule.Record{"split": split("CC-1", nil, "CC-2", nil)}, "", "costCentre CC-1 50 200.00 15.50 103.32; costCentre CC-2 50 200.00 15.50 103.32"},
		"one centre twice": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		}, rule.Record{"split": split("CC-1", 25.0, "CC-2", 50.0, "CC-1", 25.0)}, "", "costCentre CC-1 50 200.00 15.50 103.32; costCentre CC-2 50 200.00 15.50 103.32"},
		"one centre, chosen": {func(l *price.List) { l.CostCentres = &price.CostCentres{Question: "port"} },
			rule.Record{"port": rule.OfText("CC-9")}, "", "costCentre CC-9 100 400.00 31.00 206.64"},
		"no rows yet": {func(l *price.List) {
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		},
			rule.Record{"split": split()}, "", "costCentre CC-4100 100 400.00 31.00 206.64"},
		"up to a limit": {func(l *price.List) { l.Company = &price.Company{Percent: "100", Once: "250.00"} }, nil, "", "costCentre CC-4100 100 250.00 31.00 206.64; own   150.00 0.00 0.00"},
		"half of all":   {func(l *price.List) { l.Company = &price.Company{Percent: "50"} }, nil, "", "costCentre CC-4100 100 200.00 15.50 103.32; own   200.00 15.50 103.32"},
		"half, shared": {func(l *price.List) {
			l.Company = &price.Company{Percent: "50", Monthly: "10"}
			l.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
		}, rule.Record{"split": split("CC-1", 50.0, "CC-2", 50.0)}, "", "costCentre CC-1 50 100.00 5.00 51.66; costCentre CC-2 50 100.00 5.00 51.66; own   200.00 21.00 103.32"},
	} {
		t.Run(name, func(t *testing.T) {
			list := tablet()
			c.change(&list)
			findings := finding.List{}
			catalog := price.Compile(list, form(t), &findings)
			require.Empty(t, findings)
			p, err := catalog.Of(picks, answers(c.given))
			require.NoError(t, err)
			term := ""
			if p.Term != nil {
				term = p.Term.Decimal()
			}
			assert.Equal(t, c.term, term)
			var shares []string
			for _, s := range p.Shares {
				shares = append(shares, fmt.Sprintf("%s %s %s %s %s %s", s.Payer, s.Name, s.Percent, s.Once.Decimal(), s.Monthly.Decimal(), s.Yearly.Decimal()))
			}
			assert.Equal(t, c.shares, strings.Join(shares, "; "))
			assert.Equal(t, name != "shares not full", catalog.SharesMake100(answers(c.given)))
		})
	}
}

// What may be picked together, and what is said when it may not.
func TestCheck(t *testing.T) {
	catalog := price.Compile(tablet(), form(t), &finding.List{})
	size := map[string]string{"size": "s"}
	for _, c := range []struct {
		pick price.Pick
		want string
	}{
		{price.Pick{Item: "tablet", Quantity: 1, Options: size}, ""},
		{price.Pick{Item: "moon", Quantity: 1}, "not offered"},
		{price.Pick{Item: "tablet", Quantity: 1}, "choose Size"},
		{price.Pick{Item: "tablet", Quantity: 51, Options: size}, "from 1 to 50"},
		{price.Pick{Item: "tablet", Quantity: 0, Options: size}, "from 1 to 50"},
		{price.Pick{Item: "chart", Quantity: 1}, "from 2 to 3"},
		{price.Pick{Item: "tablet", Quantity: 1, Options: map[string]string{"size": "xl"}}, "Size is not offered"},
		{price.Pick{Item: "tablet", Quantity: 1, Options: map[string]string{"size": "s", "colour": "red"}}, "not offered"},
		{price.Pick{Item: "tablet", Quantity: 1, Options: map[string]string{"size": "s", "case": "sea"}}, "sea case cannot be chosen"},
		{price.Pick{Item: "tablet", Quantity: 1, Options: size, Extras: []price.PickedExtra{{Extra: "mount", Quantity: 2}}}, ""},
		{price.Pick{Item: "tablet", Quantity: 1, Options: size, Extras: []price.PickedExtra{{Extra: "mount", Quantity: 3}}}, "Mount: from 1 to 2"},
		{price.Pick{Item: "plan", Quantity: 1, Extras: []price.PickedExtra{{Extra: "mount", Quantity: 1}}}, "Mount does not fit Data plan"},
		{price.Pick{Item: "plan", Quantity: 1, Extras: []price.PickedExtra{{Extra: "care", Quantity: 1}, {Extra: "care", Quantity: 1}}}, "extras is not offered"},
		{price.Pick{Item: "plan", Quantity: 1, Extras: []price.PickedExtra{{Extra: "moon", Quantity: 1}}}, "extras is not offered"},
	} {
		got, err := catalog.Check(c.pick, answers(rule.Record{"port": rule.OfText("maravel")}))
		require.NoError(t, err)
		if c.want == "" {
			assert.Empty(t, got, "%+v", c.pick)
		} else {
			assert.Contains(t, got, c.want, "%+v", c.pick)
		}
	}
	assert.Equal(t, "2 × Tablet (large) with 2 × Mount and Care", catalog.Words(price.Pick{Item: "tablet", Quantity: 2, Options: map[string]string{"size": "l"}, Extras: []price.PickedExtra{{Extra: "mount", Quantity: 2}, {Extra: "care", Quantity: 1}}}))
}

func TestTheListIsExamined(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*price.List)
		code   string
		place  string
	}{
		"no rate":             {func(l *price.List) { l.Rates = nil }, "noRate", "/items/list/2/price/currency"},
		"a rate of nothing":   {func(l *price.List) { l.Rates["SEK"] = "0" }, "rate", "/items/rates/SEK"},
		"rate of no currency": {func(l *price.List) { l.Rates["KRONE"] = "1" }, "currency", "/items/rates/KRONE"},
		"no day for parts":    {func(l *price.List) { l.From = "" }, "byDays", "/items/list/1/price/byDays"},
		"from no date":        {func(l *price.List) { l.From = "fast" }, "unknownQuestion", "/items/from"},
		"days of a year":      {func(l *price.List) { l.List[2].Price.ByDays = true }, "byDays", "/items/list/2/price/byDays"},
		"term of no number":   {func(l *price.List) { l.Term = &price.Term{Question: "from"} }, "unknownQuestion", "/items/term/question"},
		"shares of no table":  {func(l *price.List) { l.CostCentres = &price.CostCentres{Question: "from", Centre: "a", Percent: "b"} }, "costCentres", "/items/costCentres"},
		"quantities crossed":  {func(l *price.List) { l.List[2].Max = 1 }, "quantity", "/items/list/2/max"},
		"hangs on the cost":   {func(l *price.List) { l.List[0].When = `cost.once > money("1")` }, "costOfCost", "/items/list/0/when"},
		"fits nothing":        {func(l *price.List) { l.Extras[0].Fits = []string{"moon"} }, "unknownItem", "/items/extras/0/fits/0"},
		"extra twice":         {func(l *price.List) { l.Extras[1].Key = "mount" }, "duplicateKey", "/items/extras/1/key"},
		"option twice":        {func(l *price.List) { l.List[0].Options[0].Choices[1].Key = "s" }, "duplicateKey", "/items/list/0/options/0/choices/1/key"},
		"no options":          {func(l *price.List) { l.List[0].Options[0].Choices = nil }, "noChoices", "/items/list/0/options/0/choices"},
		"a strange percent":   {func(l *price.List) { l.List[0].Discounts[0].Percent = "101" }, "percent", "/items/list/0/discounts/0/percent"},
		"a strange tax":       {func(l *price.List) { l.Tax = &price.Tax{Percent: "a lot"} }, "percent", "/items/tax/percent"},
		"nameless surcharge":  {func(l *price.List) { l.Surcharges = []price.Surcharge{{Percent: "1"}} }, "noName", "/items/surcharges/0/name"},
		"two prices": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Name: "X", Percent: "1", Fixed: &price.Charge{Amount: "1", Per: price.Once}}}
		}, "twoPrices", "/items/surcharges/0/percent"},
		"surcharge on nothing": {func(l *price.List) {
			l.Surcharges = []price.Surcharge{{Name: "X", Percent: "1", Items: []string{"moon"}}}
		}, "unknownItem", "/items/surcharges/0/items/0"},
		"together of none": {func(l *price.List) { l.Discounts = []price.Together{{Name: "X", From: 2, Percent: "1"}} }, "noItems", "/items/discounts/0/items"},
		"counted by cost":  {func(l *price.List) { l.List[0].Count = `cost.once == money("1") ? 1 : 2` }, "costOfCost", "/items/list/0/count"},
		"a strange limit":  {func(l *price.List) { l.Company = &price.Company{Percent: "1", Once: "some"} }, "amount", "/items/company/once"},
		"a drawn script":   {func(l *price.List) { l.List[0].Picture = "data:image/svg+xml;base64,AA" }, "picture", "/items/list/0/picture"},
	} {
		t.Run(name, func(t *testing.T) {
			list := tablet()
			c.change(&list)
			findings := finding.List{}
			price.Compile(list, form(t), &findings)
			require.Len(t, findings, 1, "%+v", findings)
			assert.Equal(t, c.code, findings[0].Code)
			assert.Equal(t, c.place, findings[0].Place)
		})
	}
}

// Totals are the sums of lines, and shares are the sums of totals, whatever is
// picked.
func TestTotalsAndSharesAddUp(t *testing.T) {
	list := tablet()
	list.Tax = &price.Tax{Name: "VAT", Percent: "23"}
	list.Surcharges = []price.Surcharge{{Key: "f", Name: "Fast", When: "answers.fast", Percent: "7.77"}}
	list.Company = &price.Company{Percent: "66.6667", Once: "300.00"}
	list.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
	catalog := price.Compile(list, form(t), &finding.List{})
	rapid.Check(t, func(t *rapid.T) {
		picks := rapid.SliceOf(rapid.Custom(func(t *rapid.T) price.Pick {
			return price.Pick{
				Item: rapid.SampledFrom([]string{"tablet", "plan", "chart"}).Draw(t, "item"), Quantity: rapid.IntRange(1, 60).Draw(t, "quantity"),
				Options: map[string]string{"size": rapid.SampledFrom([]string{"", "s", "l"}).Draw(t, "size")},
				Extras:  []price.PickedExtra{{Extra: rapid.SampledFrom([]string{"mount", "care", "moon"}).Draw(t, "extra"), Quantity: rapid.IntRange(1, 5).Draw(t, "extras")}},
			}
		})).Draw(t, "picks")
		first := rapid.IntRange(0, 100).Draw(t, "share")
		p, err := catalog.Of(picks, answers(rule.Record{
			"fast": rule.OfYesNo(rapid.Bool().Draw(t, "fast")), "from": day(fmt.Sprintf("2027-02-%02d", rapid.IntRange(1, 28).Draw(t, "day"))),
			"split": split("CC-1", float64(first), "CC-2", float64(100-first)),
		}))
		require.NoError(t, err)
		totals := map[price.Period]int64{}
		for _, l := range p.Lines {
			totals[l.Per] += l.Sum.Minor()
		}
		shared := map[price.Period]int64{}
		for _, s := range p.Shares {
			for per, a := range map[price.Period]money.Amount{price.Once: s.Once, price.Month: s.Monthly, price.Year: s.Yearly} {
				shared[per] += a.Minor()
			}
		}
		for per, total := range map[price.Period]money.Amount{price.Once: p.Once, price.Month: p.Monthly, price.Year: p.Yearly} {
			assert.Equal(t, totals[per], total.Minor(), "%s lines", per)
			assert.Equal(t, shared[per], total.Minor(), "%s shares", per)
		}
		assert.Equal(t, p.Once.Minor()+12*p.Monthly.Minor()+p.Yearly.Minor(), p.FirstYear.Minor())
	})
}

// Worked by hand: what some of the cost centres bear, over a year and over a term of 13 months,
// in which a yearly price falls due twice.
func TestWhatSomeCentresBear(t *testing.T) {
	list := tablet()
	list.Term = &price.Term{Months: 13}
	list.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
	list.Company = &price.Company{Percent: "100", Once: "300.00"} // 100.00 of 400.00 are their own
	catalog := price.Compile(list, form(t), &finding.List{})
	whole, err := catalog.Of([]price.Pick{{Item: "tablet", Quantity: 1}, {Item: "plan", Quantity: 1}, {Item: "chart", Quantity: 2}}, answers(rule.Record{"split": split("CC-1", 25.0, "CC-2", 75.0)}))
	require.NoError(t, err)
	for _, c := range []struct {
		centres                               []string
		once, monthly, yearly, firstYear, all string
		shares                                int
	}{
		{[]string{"CC-1"}, "75.00", "7.75", "51.66", "219.66", "279.07", 1},
		{[]string{"CC-2", "CC-9"}, "225.00", "23.25", "154.98", "658.98", "837.21", 1},
		{[]string{"CC-1", "CC-2"}, "300.00", "31.00", "206.64", "878.64", "1116.28", 2},
		{[]string{"CC-9"}, "0.00", "0.00", "0.00", "0.00", "0.00", 0},
		{nil, "0.00", "0.00", "0.00", "0.00", "0.00", 0},
	} {
		p := whole.OfParts(c.centres)
		require.NotNil(t, p.Term, c.centres)
		assert.Equal(t, []string{c.once, c.monthly, c.yearly, c.firstYear, c.all}, []string{p.Once.Decimal(), p.Monthly.Decimal(), p.Yearly.Decimal(), p.FirstYear.Decimal(), p.Term.Decimal()}, c.centres)
		assert.Len(t, p.Shares, c.shares)
		assert.Empty(t, p.Lines, "whose lines they are nobody can tell")
		for _, s := range p.Shares {
			assert.Contains(t, c.centres, s.Name)
			assert.Equal(t, s, p.Part(s.Name))
		}
	}
	assert.Zero(t, whole.Part("CC-9"))
	assert.Equal(t, whole.Once, whole.Part("").Once)
}
