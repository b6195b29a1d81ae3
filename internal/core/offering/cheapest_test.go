package offering_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

// Worked by hand: a small tablet for 100, a big one for 300 or 350 with more
// memory, a mount for 40, and a plan for 5 a month.
func TestCheapest(t *testing.T) {
	d := badge()
	d.Questions = []form.Question{
		{Key: "pick", Kind: form.Items, Label: "Pick", Items: []string{"small", "big", "boss", "plan", "pen", "ink"}},
		{Key: "one", Kind: form.Items, Label: "One", Items: []string{"red", "blue"}, MaxCount: 1},
	}
	d.Items.List = []price.Item{
		{Key: "small", Name: "Small", Group: "Tablets", Price: price.Charge{Amount: "100.00", Per: price.Once}},
		{Key: "big", Name: "Big", Group: "Tablets", Price: price.Charge{Amount: "300.00", Per: price.Once}, Instead: []string{"small", "boss"}},
		{Key: "pen", Name: "Pen", Price: price.Charge{Amount: "9.00", Per: price.Once}},
		{Key: "ink", Name: "Ink", Price: price.Charge{Amount: "1.00", Per: price.Once}},
		{Key: "red", Name: "Red", Price: price.Charge{Amount: "9.00", Per: price.Once}},
		{Key: "blue", Name: "Blue", Price: price.Charge{Amount: "2.00", Per: price.Once}},
		{Key: "boss", Name: "Gift", Group: "Tablets", Price: price.Charge{Amount: "1.00", Per: price.Once}, When: `asker.department == "Finance"`},
		{Key: "plan", Name: "Plan", Price: price.Charge{Amount: "5.00", Per: price.Month}},
	}
	d.Items.Extras = []price.Extra{{Key: "mount", Name: "Mount", Price: price.Charge{Amount: "40.00", Per: price.Once}}}
	d.Purpose.Title, d.Ladder, d.Plan = "", nil, []plan.Task{{Key: "do", Name: "Do it", Kind: plan.Manual, Team: "keys"}}
	company := coretest.Company()
	c, findings := offering.Compile(d, 1, company)
	require.Empty(t, findings)
	asker, _ := company.Directory.Person("p-ilse")
	parties := offering.Self(asker, company.Directory)
	pick := func(item string, quantity float64) map[string]any {
		return map[string]any{"item": item, "quantity": quantity}
	}
	mounted := pick("big", 1)
	mounted["extras"] = []any{map[string]any{"extra": "mount", "quantity": 1.0}}
	for name, c2 := range map[string]struct {
		picks    []any
		cheaper  bool
		first    string
		cheapest []string
	}{
		"the big one":              {[]any{pick("big", 1)}, true, "100.00", []string{"Small"}},
		"two big ones":             {[]any{pick("big", 2)}, true, "200.00", []string{"Small"}},
		"what is added goes, too":  {[]any{mounted}, true, "100.00", []string{"Small"}},
		"the small one already":    {[]any{pick("small", 1)}, false, "100.00", nil},
		"a plan has no other":      {[]any{pick("plan", 1)}, false, "60.00", nil},
		"each in its own group":    {[]any{pick("big", 1), pick("plan", 1)}, true, "160.00", []string{"Small"}},
		"not what is not for them": {[]any{pick("big", 1)}, true, "100.00", []string{"Small"}},
		"ink is no pen":            {[]any{pick("pen", 1)}, false, "9.00", nil},
		"another choice of one":    {[]any{pick("red", 1)}, true, "2.00", []string{"Blue"}},
		"nothing picked":           {nil, false, "", nil},
	} {
		t.Run(name, func(t *testing.T) {
			answers := form.Answers{}
			if c2.picks != nil {
				answers["pick"] = coretest.Answer(c2.picks)
				if c2.picks[0].(map[string]any)["item"] == "red" {
					answers = coretest.Answers(map[string]any{"one": c2.picks})
				}
			}
			result := c.Form.Evaluate(answers, c.Values(parties, time.Date(2027, 3, 1, 9, 0, 0, 0, time.UTC)), parties.Facts())
			got, cheaper := c.Cheapest(result.Kept(), result.Values)
			assert.Equal(t, c2.cheaper, cheaper)
			if c2.first != "" {
				assert.Equal(t, c2.first, got.Price.FirstYear.Decimal())
			}
			assert.Equal(t, c2.cheapest, got.Cheapest)
		})
	}
}
