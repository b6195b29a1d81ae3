package offering_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

var noon = time.Date(2027, 3, 12, 12, 0, 0, 0, time.UTC)

func compiled(t *testing.T, change func(*offering.Document)) *offering.Compiled {
	t.Helper()
	d := badge()
	change(&d)
	c, findings := offering.Compile(d, 1, coretest.Company())
	require.Empty(t, findings)
	return c
}

func parties(login string, whom offering.Beneficiary) offering.Parties {
	directory := coretest.Company().Directory
	asker, _ := directory.ByLogin(login)
	return offering.Parties{Asker: asker, Beneficiary: whom, Company: directory}
}

// What rules read of who asks and for whom.
func TestValuesOfTheParties(t *testing.T) {
	c := compiled(t, func(*offering.Document) {})
	read := func(p offering.Parties, root, field string) any {
		return rule.Plain(c.Values(p, noon).Roots[root][field])
	}
	self := offering.Self(parties("ilse", offering.Beneficiary{}).Asker, coretest.Company().Directory)
	assert.Equal(t, "Ilse Brandvik", read(self, "beneficiary", "name"))
	assert.Equal(t, []string{"tomas", "noor"}, read(self, "beneficiary", "managers"))
	other := parties("tomas", offering.Beneficiary{Person: "p-ilse"})
	assert.Equal(t, "Tomas Lindqvist", read(other, "asker", "name"))
	assert.Equal(t, "Fleet", read(other, "beneficiary", "department"))
	assert.Equal(t, "Ilse Brandvik", other.Name())
	newcomer := parties("tomas", offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Ondina Farsund", Location: "Crew House"}})
	assert.Equal(t, "Ondina Farsund", read(newcomer, "beneficiary", "name"))
	assert.Equal(t, "Crew House", read(newcomer, "beneficiary", "location"))
	assert.Nil(t, read(newcomer, "beneficiary", "login"), "what is not known is absent")
	assert.Equal(t, "Ondina Farsund", newcomer.Name())
}

func TestMayAskOfTheParties(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*offering.Document)
		login  string
		whom   offering.Beneficiary
		want   bool
		why    string
	}{
		"for oneself":          {func(*offering.Document) {}, "ilse", offering.Beneficiary{Person: "p-ilse"}, true, "themselves"},
		"not in the audience":  {func(d *offering.Document) { d.Audience.Ask = `asker.department == "Finance"` }, "ilse", offering.Beneficiary{Person: "p-ilse"}, false, "does not fit"},
		"for nobody":           {func(*offering.Document) {}, "ilse", offering.Beneficiary{}, false, "Say for whom it is"},
		"for a newcomer":       {func(d *offering.Document) { d.Audience.Newcomers = true }, "ilse", offering.Beneficiary{Newcomer: &people.Newcomer{Name: "N"}}, true, "newcomers"},
		"not for newcomers":    {func(*offering.Document) {}, "ilse", offering.Beneficiary{Newcomer: &people.Newcomer{Name: "N"}}, false, "not in the directory"},
		"for others, no rule":  {func(*offering.Document) {}, "tomas", offering.Beneficiary{Person: "p-ilse"}, false, "only be asked for oneself"},
		"for others by a rule": {func(d *offering.Document) { d.Audience.For = `beneficiary.department == "Fleet"` }, "tomas", offering.Beneficiary{Person: "p-ilse"}, true, "fits"},
	} {
		t.Run(name, func(t *testing.T) {
			ok, why := compiled(t, c.change).MayAsk(parties(c.login, c.whom))
			assert.Equal(t, c.want, ok)
			assert.Contains(t, why, c.why)
		})
	}
}

// The title of a request: placeholders with the words of the form, and the
// name where nothing comes out.
func TestTitle(t *testing.T) {
	answers := coretest.Answers(map[string]any{"port": "orm"})
	for title, want := range map[string]string{
		"":                              "Quay access badge",
		"   ":                           "Quay access badge",
		"Badge at {{ answers.port }}":   "Badge at Sankt Orm",
		"{{ answers.start }}":           "—",
		"{{ asker.name }}'s badge":      "Ilse Brandvik's badge",
		"{{ \" \" }}":                   "Quay access badge",
		"{{ 1 / int(\"0\") }} of badge": "Quay access badge",
	} {
		c := compiled(t, func(d *offering.Document) { d.Purpose.Title = title })
		p := parties("ilse", offering.Beneficiary{Person: "p-ilse"})
		result := c.Form.Evaluate(answers, c.Values(p, noon), p.Facts())
		assert.Equal(t, want, c.Title(result.Values, c.Show(answers, p.Facts())), title)
	}
}
