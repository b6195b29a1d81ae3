package price_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/finding"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// bare is an environment without any questions.
var bare = func() *rule.Env {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {}}, Currency: "EUR"})
	if err != nil {
		panic(err)
	}
	return env
}()

func items(currency string, entries ...[3]string) price.List {
	list := price.List{Currency: currency}
	for _, e := range entries {
		list.List = append(list.List, price.Item{Key: e[0], Name: e[0], Price: price.Charge{Amount: e[1], Per: price.Period(e[2])}})
	}
	return list
}

// Worked by hand.
func TestOf(t *testing.T) {
	list := items("EUR", [3]string{"card", "12.50", "once"}, [3]string{"place", "38.00", "month"}, [3]string{"cover", "99.99", "year"}, [3]string{"free", "0", "once"})
	for name, c := range map[string]struct {
		picks                            []price.Pick
		once, monthly, yearly, firstYear string
	}{
		"nothing":       {nil, "0.00", "0.00", "0.00", "0.00"},
		"one":           {[]price.Pick{{Item: "card", Quantity: 1}}, "12.50", "0.00", "0.00", "12.50"},
		"three":         {[]price.Pick{{Item: "card", Quantity: 3}}, "37.50", "0.00", "0.00", "37.50"},
		"monthly":       {[]price.Pick{{Item: "place", Quantity: 2}}, "0.00", "76.00", "0.00", "912.00"},
		"yearly":        {[]price.Pick{{Item: "cover", Quantity: 1}}, "0.00", "0.00", "99.99", "99.99"},
		"all together":  {[]price.Pick{{Item: "card", Quantity: 1}, {Item: "place", Quantity: 1}, {Item: "cover", Quantity: 2}, {Item: "free", Quantity: 9}}, "12.50", "38.00", "199.98", "668.48"},
		"twice on list": {[]price.Pick{{Item: "card", Quantity: 1}, {Item: "card", Quantity: 1}}, "25.00", "0.00", "0.00", "25.00"},
	} {
		t.Run(name, func(t *testing.T) {
			var findings finding.List
			p, err := price.Compile(list, bare, &findings).Of(c.picks, rule.Values{})
			require.NoError(t, err)
			assert.Empty(t, findings)
			assert.Len(t, p.Lines, len(c.picks))
			assert.Equal(t, []string{c.once, c.monthly, c.yearly, c.firstYear},
				[]string{p.Once.Decimal(), p.Monthly.Decimal(), p.Yearly.Decimal(), p.FirstYear.Decimal()})
		})
	}
}

func TestTotalsAreTheSumOfTheLines(t *testing.T) {
	list := items("EUR", [3]string{"a", "0.07", "once"}, [3]string{"b", "1000000000", "month"}, [3]string{"c", "3.33", "year"})
	rapid.Check(t, func(t *rapid.T) {
		picks := rapid.SliceOf(rapid.Custom(func(t *rapid.T) price.Pick {
			return price.Pick{Item: rapid.SampledFrom([]string{"a", "b", "c"}).Draw(t, "item"), Quantity: rapid.IntRange(1, price.MaxQuantity).Draw(t, "quantity")}
		})).Draw(t, "picks")
		p, _ := price.Compile(list, bare, &finding.List{}).Of(picks, rule.Values{})
		var total int64
		for _, line := range p.Lines {
			factor := map[price.Period]int64{price.Once: 1, price.Month: 12, price.Year: 1}[line.Per]
			total += factor * line.Each.Minor() * int64(line.Quantity)
		}
		require.Equal(t, total, p.FirstYear.Minor())
	})
}

func TestCompileFinds(t *testing.T) {
	for name, c := range map[string]struct {
		list  price.List
		code  string
		place string
	}{
		"no currency":     {items("", [3]string{"a", "1", "once"}), "currency", "/items/currency"},
		"unknown one":     {items("EURO", [3]string{"a", "1", "once"}), "currency", "/items/currency"},
		"key twice":       {items("EUR", [3]string{"a", "1", "once"}, [3]string{"a", "2", "once"}), "duplicateKey", "/items/list/1/key"},
		"half a cent":     {items("EUR", [3]string{"a", "0.005", "once"}), "amount", "/items/list/0/price/amount"},
		"less than none":  {items("EUR", [3]string{"a", "-1", "once"}), "amount", "/items/list/0/price/amount"},
		"strange period":  {items("EUR", [3]string{"a", "1", "week"}), "period", "/items/list/0/price/per"},
		"nothing to call": {price.List{Currency: "EUR", List: []price.Item{{Key: "a", Price: price.Charge{Amount: "1", Per: price.Once}}}}, "noName", "/items/list/0/name"},
	} {
		t.Run(name, func(t *testing.T) {
			var findings finding.List
			price.Compile(c.list, bare, &findings)
			require.Len(t, findings, 1)
			assert.Equal(t, c.code, findings[0].Code)
			assert.Equal(t, c.place, findings[0].Place)
		})
	}
}
