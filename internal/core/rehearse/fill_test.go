package rehearse_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/rehearse"
)

// port is where the badge of the small company is made, with a few places and cost centres.
func port(d offering.Document) rehearse.Ground {
	company := coretest.Company()
	records := company.Directory.Records()
	records.Locations = []people.Location{{Name: "MV Grey Heron"}, {Name: "Tower Quay"}}
	records.CostCentres = []people.CostCentre{{Key: "CC-4110", Name: "MV Grey Heron", Owner: "p-noor"}}
	company.Directory = people.NewDirectory(records)
	return groundOf(d, company)
}

// Cases are proposed whatever a form asks for: each kind of question is answered with what it
// takes, within its limits.
func TestEveryKindOfQuestionIsAnswered(t *testing.T) {
	options := []form.Option{{Key: "red", Label: "Red"}, {Key: "green", Label: "Green"}, {Key: "blue", Label: "Blue"}}
	for name, c := range map[string]struct {
		q     form.Question
		items []price.Item
		want  string // of the answer, where only one will do
	}{
		"a text":                        {q: form.Question{Kind: form.Text}},
		"a text of a length":            {q: form.Question{Kind: form.Text, MinLength: 40, MaxLength: 44}},
		"a short text":                  {q: form.Question{Kind: form.Text, MaxLength: 3}},
		"a text of a pattern":           {q: form.Question{Kind: form.Text, Pattern: `QB-[0-9]{5}`, Example: "QB-20012"}, want: "QB-20012"},
		"a text that a rule names":      {q: form.Question{Kind: form.Text, Check: []form.Check{{Rule: `answers.one == "Heron"`, Message: "Only the Heron."}}}, want: "Heron"},
		"a number":                      {q: form.Question{Kind: form.Number}},
		"a number within limits":        {q: form.Question{Kind: form.Number, Min: "200", Max: "230"}},
		"a number in steps":             {q: form.Question{Kind: form.Number, Min: "5", Max: "20", Step: "5"}},
		"a small number":                {q: form.Question{Kind: form.Number, Max: "0.5", Min: "0.5"}, want: "0.5"},
		"a sum":                         {q: form.Question{Kind: form.Money}},
		"a large sum":                   {q: form.Question{Kind: form.Money, Min: "50000"}},
		"a sum within limits":           {q: form.Question{Kind: form.Money, Min: "3.20", Max: "3.25"}},
		"a date":                        {q: form.Question{Kind: form.Date}},
		"a date far off":                {q: form.Question{Kind: form.Date, Min: "today+150"}},
		"a date gone by":                {q: form.Question{Kind: form.Date, Max: "today-7"}},
		"an instant":                    {q: form.Question{Kind: form.DateTime}},
		"yes or no":                     {q: form.Question{Kind: form.YesNo}},
		"no":                            {q: form.Question{Kind: form.YesNo, Check: []form.Check{{Rule: `!answers.one`, Message: "It must not."}}}, want: "false"},
		"a choice":                      {q: form.Question{Kind: form.Choice, Choices: options}},
		"a choice of those offered":     {q: form.Question{Kind: form.Choice, Choices: options, Offer: `choice.key == "blue"`}, want: "blue"},
		"some choices":                  {q: form.Question{Kind: form.Choices, Choices: options, MinCount: 2}},
		"somebody":                      {q: form.Question{Kind: form.Person}},
		"somebody by name":              {q: form.Question{Kind: form.Person, Check: []form.Check{{Rule: `answers.one.name.startsWith("Ilse")`, Message: "Only Ilse."}}}, want: "ilse"},
		"a team":                        {q: form.Question{Kind: form.Team}},
		"a place":                       {q: form.Question{Kind: form.Location}},
		"a cost centre":                 {q: form.Question{Kind: form.Centre}, want: "CC-4110"},
		"a file":                        {q: form.Question{Kind: form.File}},
		"a file of a type":              {q: form.Question{Kind: form.File, FileTypes: []string{"image/png"}}},
		"a computed one":                {q: form.Question{Kind: form.Computed, Gives: form.Number, Compute: "3.0"}},
		"an item with what it needs":    {q: form.Question{Kind: form.Items, Items: []string{"tablet"}}, items: []price.Item{{Key: "tablet", Name: "Tablet", Min: 3, Max: 9, Price: price.Charge{Amount: "1.00", Per: price.Once}, Options: []price.OptionGroup{{Key: "case", Name: "Case", Require: true, Choices: []price.Option{{Key: "soft", Name: "Soft"}}}}}}},
		"a table":                       {q: form.Question{Kind: form.Table, Columns: []form.Question{{Key: "name", Kind: form.Text, Label: "Name", Require: "true"}, {Key: "days", Kind: form.Number, Label: "Days", Require: "true", Min: "2", Max: "4"}}}},
		"a table of some rows":          {q: form.Question{Kind: form.Table, MinCount: 3, Columns: []form.Question{{Key: "who", Kind: form.Person, Label: "Who", Require: "true"}}}},
		"a table of choices and files":  {q: form.Question{Kind: form.Table, Columns: []form.Question{{Key: "shade", Kind: form.Choice, Label: "Shade", Choices: options, Require: "true"}, {Key: "scan", Kind: form.File, Label: "Scan", Require: "true"}, {Key: "more", Kind: form.File, Label: "More"}}}},
		"a table with dates in order":   {q: form.Question{Kind: form.Table, Columns: []form.Question{{Key: "from", Kind: form.Date, Label: "From", Require: "true"}, {Key: "until", Kind: form.Date, Label: "Until", Require: "true", Check: []form.Check{{Rule: "row.until > row.from", Message: "Until: after from."}}}}}},
		"a table that something counts": {q: form.Question{Kind: form.Table, Columns: []form.Question{{Key: "days", Kind: form.Number, Label: "Days", Require: "true"}, {Key: "twice", Kind: form.Computed, Gives: form.Number, Label: "Twice", Compute: "row.days * 2.0"}}}},
	} {
		t.Run(name, func(t *testing.T) {
			d := badge()
			c.q.Key, c.q.Label = "one", "One"
			if c.q.Kind != form.Computed {
				c.q.Require = "true"
			}
			d.Questions, d.Ladder, d.Items.List = []form.Question{c.q}, nil, c.items
			d.Plan = []plan.Task{{Key: "safety", Name: "Check safety record", Kind: plan.Manual, Team: "crew"}}
			found, err := rehearse.Propose(port(d), nil)
			require.NoError(t, err)
			require.NotEmpty(t, found.Proposals, "nothing is found that can be sent")
			life := found.Proposals[0].Life
			assert.Equal(t, rehearse.Closed, life.End, "%v", life.Refused)
			if c.want != "" {
				assert.Equal(t, c.want, strings.Trim(life.State.Answers["one"].String(), `"`))
			}
		})
	}
}
