package audience_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audience"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
)

var directory = coretest.Company().Directory

func person(login string) audience.Person {
	p, _ := directory.ByLogin(login)
	return audience.Of(p, directory)
}

// Worked by hand: Tomas manages Ilse, Noor manages Tomas; Gone has left.
func TestWhoSeesAndMayAsk(t *testing.T) {
	fleet := `asker.department == "Fleet"`
	for name, c := range map[string]struct {
		audience  audience.Audience
		login     string
		sees, may bool
	}{
		"everyone":                    {audience.Audience{}, "kira", true, true},
		"not who has left":            {audience.Audience{}, "gone", false, false},
		"who fits":                    {audience.Audience{Ask: fleet}, "ilse", true, true},
		"who does not":                {audience.Audience{Ask: fleet}, "kira", false, false},
		"seen by more":                {audience.Audience{Ask: fleet, See: "true"}, "kira", true, false},
		"seen by fewer":               {audience.Audience{See: fleet}, "kira", false, true},
		"by the manager chain":        {audience.Audience{Ask: `"noor" in asker.managers`}, "ilse", true, true},
		"not above oneself":           {audience.Audience{Ask: `"noor" in asker.managers`}, "noor", false, false},
		"by a team":                   {audience.Audience{Ask: `"keys" in asker.teams`}, "kira", true, true},
		"something unknown":           {audience.Audience{Ask: `asker.grade != "1"`}, "ilse", false, false},
		"a fault":                     {audience.Audience{Ask: `1 / 0 == 1`}, "ilse", false, false},
		"a rule that cannot be read":  {audience.Audience{Ask: `asker.shoe == "1"`}, "ilse", false, false},
		"only steps of others use it": {audience.Audience{Inner: true}, "ilse", false, true},
		"blank is no rule":            {audience.Audience{Ask: "  "}, "ilse", true, true},
	} {
		t.Run(name, func(t *testing.T) {
			compiled := audience.Compile(c.audience, &finding.List{})
			sees, why := compiled.Sees(person(c.login))
			assert.Equal(t, c.sees, sees, why)
			may, why := compiled.MayAsk(person(c.login))
			assert.Equal(t, c.may, may, why)
			assert.NotEmpty(t, why)
		})
	}
}

// Worked by hand: for whom one may ask.
func TestForWhom(t *testing.T) {
	mine := "asker.login in beneficiary.managers"
	for name, c := range map[string]struct {
		audience    audience.Audience
		asker, whom string
		want        bool
	}{
		"oneself":                 {audience.Audience{}, "ilse", "ilse", true},
		"another, without a rule": {audience.Audience{}, "tomas", "ilse", false},
		"one's own people":        {audience.Audience{For: mine}, "tomas", "ilse", true},
		"two levels down":         {audience.Audience{For: mine}, "noor", "ilse", true},
		"one's manager":           {audience.Audience{For: mine}, "ilse", "tomas", false},
		"oneself in spite of it":  {audience.Audience{For: mine}, "ilse", "ilse", true},
		"not oneself":             {audience.Audience{For: mine, NotSelf: true}, "tomas", "tomas", false},
		"who has left":            {audience.Audience{For: "true"}, "tomas", "gone", false},
		"the same place":          {audience.Audience{For: "asker.location == beneficiary.location"}, "ilse", "kira", false},
	} {
		t.Run(name, func(t *testing.T) {
			got, why := audience.Compile(c.audience, &finding.List{}).MayAskFor(person(c.asker), person(c.whom))
			assert.Equal(t, c.want, got, why)
			assert.NotEmpty(t, why)
		})
	}
}

func TestReasonsAreWords(t *testing.T) {
	compiled := audience.Compile(audience.Audience{Ask: `asker.department in ["Fleet", "Terminals"] && asker.costCentre == "CC-1"`}, &finding.List{})
	_, why := compiled.MayAsk(person("kira"))
	assert.Equal(t, "Kira Matsuda does not fit: department is one of Fleet, Terminals and cost centre is CC-1.", why)
	compiled = audience.Compile(audience.Audience{For: `beneficiary.department == "Fleet"`}, &finding.List{})
	_, why = compiled.MayAskFor(person("tomas"), person("ilse"))
	assert.Equal(t, "Ilse Brandvik fits: the beneficiary's department is Fleet.", why)
}

func TestSurvey(t *testing.T) {
	compiled := audience.Compile(audience.Audience{Ask: `asker.department == "Fleet"`}, &finding.List{})
	all := audience.Survey(directory, audience.Wanted{Out: true, Most: 100}, compiled.MayAsk)
	assert.Equal(t, 1, all.In)
	assert.Len(t, all.Verdicts, all.Of-1)
	for i, v := range all.Verdicts {
		assert.NotEqual(t, "p-gone", v.Person, "who has left is not counted")
		assert.False(t, v.In)
		if i > 0 {
			assert.LessOrEqual(t, directory.Name(all.Verdicts[i-1].Person), directory.Name(v.Person), "by name")
		}
	}
	few := audience.Survey(directory, audience.Wanted{Out: true, Most: 1}, compiled.MayAsk)
	assert.Len(t, few.Verdicts, 1)
	assert.Equal(t, all.Of-2, few.More)
	var paged []audience.Verdict
	for more := 1; more > 0; {
		page := audience.Survey(directory, audience.Wanted{Out: true, From: len(paged), Most: 2}, compiled.MayAsk)
		paged, more = append(paged, page.Verdicts...), page.More
		assert.Equal(t, len(all.Verdicts), len(paged)+more)
	}
	assert.Equal(t, all.Verdicts, paged, "page by page they are the same")
	one := audience.Survey(directory, audience.Wanted{Words: "kira", Most: 10}, compiled.MayAsk)
	require.Len(t, one.Verdicts, 1, "with words, whether in or out")
	assert.Equal(t, "Kira Matsuda does not fit: department is Fleet.", one.Verdicts[0].Reason)
	assert.True(t, audience.Anybody(directory, compiled.MayAsk))
	assert.False(t, audience.Anybody(directory, func(audience.Person) (bool, string) { return false, "" }))
}

func TestCompileFinds(t *testing.T) {
	for place, a := range map[string]audience.Audience{
		"/audience/ask": {Ask: "beneficiary.grade == \"1\""},
		"/audience/see": {See: "asker.name"},
		"/audience/for": {For: "answers.x"},
	} {
		findings := finding.List{}
		audience.Compile(a, &findings)
		require.Len(t, findings, 1)
		assert.Equal(t, place, findings[0].Place)
	}
}
