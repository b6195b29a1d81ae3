package offering_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
)

// What the whole shows, one thing wrong at a time: the finding, its severity
// and its place. A code beginning with - must not be found.
func TestExamineFinds(t *testing.T) {
	show := func(i int, source string) func(*offering.Document) {
		return func(d *offering.Document) { d.Questions[i].Show = source }
	}
	when := func(source string) func(*offering.Document) {
		return func(d *offering.Document) { d.Ladder[0].When = source }
	}
	note := func(q form.Question) func(*offering.Document) {
		return func(d *offering.Document) { d.Questions = append(d.Questions, q) }
	}
	text := form.Question{Key: "note", Kind: form.Text, Label: "Note"}
	number := form.Question{Key: "seats", Kind: form.Number, Label: "Seats", Require: "true"}
	for name, c := range map[string]struct {
		changes  []func(*offering.Document)
		code     string
		severity finding.Severity
		place    string
	}{
		"never":                   {[]func(*offering.Document){show(3, "false")}, "neverShown", finding.Warning, "/questions/3/show"},
		"a contradiction":         {[]func(*offering.Document){show(3, `answers.port == "orm" && answers.port == "maravel"`)}, "neverShown", finding.Warning, "/questions/3/show"},
		"no contradiction":        {[]func(*offering.Document){show(3, `answers.port == "orm" || answers.port == "maravel"`)}, "-neverShown", "", ""},
		"a choice that is not":    {[]func(*offering.Document){show(3, `answers.port == "atlantis"`)}, "neverShown", finding.Warning, "/questions/3/show"},
		"all and none":            {[]func(*offering.Document){show(3, `answers.zones.exists(x, x in ["fuel"]) && answers.zones.size() == 0`)}, "neverShown", finding.Warning, "/questions/3/show"},
		"two of several":          {[]func(*offering.Document){show(3, `["fuel", "office"].all(x, x in answers.zones)`)}, "-neverShown", "", ""},
		"by one that never shows": {[]func(*offering.Document){show(2, `answers.port == "atlantis"`), show(3, `has(answers.reason)`)}, "neverShown", finding.Warning, "/questions/3/show"},
		"numbers apart":           {[]func(*offering.Document){note(number), show(3, `answers.seats > 3 && answers.seats < 3`)}, "neverShown", finding.Warning, "/questions/3/show"},
		"numbers between":         {[]func(*offering.Document){note(number), show(3, `answers.seats > 3 && answers.seats < 4`)}, "-neverShown", "", ""},
		"dates apart": {[]func(*offering.Document){func(d *offering.Document) {
			d.Questions[2].Show = `answers.start < date("2027-01-01") && answers.start > date("2027-01-01")`
		}}, "neverShown", finding.Warning, "/questions/2/show"},
		"by people, unknown":  {[]func(*offering.Document){show(3, `asker.grade == "1" && asker.grade == "2"`)}, "-neverShown", "", ""},
		"by text beginning":   {[]func(*offering.Document){note(text), show(3, `answers.note.startsWith("a") && answers.note.startsWith("b")`)}, "-neverShown", "", ""},
		"an unreachable rung": {[]func(*offering.Document){when(`answers.port == "orm" && answers.port == "maravel"`)}, "unreachable", finding.Warning, "/ladder/0/when"},
		"a rung by absence":   {[]func(*offering.Document){when(`answers.reason == "x"`)}, "-unreachable", "", ""},
		"an unreachable task": {[]func(*offering.Document){func(d *offering.Document) { d.Plan[1].When = `answers.port == "atlantis"` }}, "unreachable", finding.Warning, "/plan/1/when"},
		"an item for nobody":  {[]func(*offering.Document){func(d *offering.Document) { d.Items.List[0].When = "false" }}, "neverAvailable", finding.Warning, "/items/list/0/when"},
		"an option for nobody": {[]func(*offering.Document){func(d *offering.Document) {
			d.Items.List[0].Options = []price.OptionGroup{{Key: "s", Name: "S", Choices: []price.Option{{Key: "a", Name: "A", When: `has(answers.port) && answers.port == "atlantis"`}}}}
		}}, "neverAvailable", finding.Warning, "/items/list/0/options/0/choices/0/when"},
		"no choice left": {[]func(*offering.Document){func(d *offering.Document) {
			d.Questions[0].Offer = `choice.key == "orm"`
			d.Questions[1].Kind, d.Questions[1].Offer = form.Choice, `answers.port == "orm" && choice.key == "fuel" || answers.port == "maravel" && false`
			d.Questions[1].Require = "true"
			d.Questions[2].Show, d.Questions[2].Require = "", ""
			d.Plan[0].Instructions = ""
		}}, "noChoiceLeft", finding.Warning, "/questions/1/offer"},
		"some choice left":           {[]func(*offering.Document){func(d *offering.Document) { d.Questions[1].Offer = `answers.port == "orm" || choice.key == "fuel"` }}, "-noChoiceLeft", "", ""},
		"may be absent":              {[]func(*offering.Document){when(`answers.reason == "x"`)}, "mayBeAbsent", finding.Hint, "/ladder/0/when"},
		"always there":               {[]func(*offering.Document){when(`answers.port == "orm"`)}, "-mayBeAbsent", "", ""},
		"asked for first":            {[]func(*offering.Document){when(`has(answers.reason) && answers.reason == "x"`)}, "-mayBeAbsent", "", ""},
		"free text steers":           {[]func(*offering.Document){note(text), when(`answers.note == "urgent"`)}, "freeTextSteers", finding.Warning, "/questions/5/kind"},
		"free text that is there":    {[]func(*offering.Document){note(text), when(`has(answers.note)`)}, "-freeTextSteers", "", ""},
		"free text in its own check": {[]func(*offering.Document){note(form.Question{Key: "note", Kind: form.Text, Label: "Note", Check: []form.Check{{Rule: `answers.note != "x"`, Message: "No."}}})}, "-freeTextSteers", "", ""},
		"dear, nobody decides":       {[]func(*offering.Document){func(d *offering.Document) { d.Ladder = []ladder.Rung{}; d.Items.List[1].Price.Amount = "41.67" }}, "noDecision", finding.Warning, "/items/list/1/price"},
		"just not dear":              {[]func(*offering.Document){func(d *offering.Document) { d.Ladder = []ladder.Rung{}; d.Items.List[1].Price.Amount = "41.66" }}, "-noDecision", "", ""},
		"nobody may ask":             {[]func(*offering.Document){func(d *offering.Document) { d.Audience.Ask = `asker.department == "Moon"` }}, "nobodyAsks", finding.Error, "/audience/ask"},
		"nobody finds it":            {[]func(*offering.Document){func(d *offering.Document) { d.Audience.See = "false" }}, "nobodySees", finding.Error, "/audience/see"},
		"for nobody at all":          {[]func(*offering.Document){func(d *offering.Document) { d.Audience.NotSelf = true }}, "forNobody", finding.Error, "/audience/for"},
		"rung facts of no question":  {[]func(*offering.Document){func(d *offering.Document) { d.Ladder[0].Facts = []string{"moon"} }}, "unknownQuestion", finding.Error, "/ladder/0/facts/0"},
		"rung text beyond facts": {[]func(*offering.Document){func(d *offering.Document) {
			d.Ladder[0].Facts, d.Ladder[0].Say = []string{"port"}, "{{ answers.zones }}"
		}}, "outsideSlice", finding.Error, "/ladder/0/say"},
		"title placeholder":         {[]func(*offering.Document){func(d *offering.Document) { d.Purpose.Title = "{{ answers.moon }}" }}, "placeholder", finding.Error, "/purpose/title"},
		"an empty article":          {[]func(*offering.Document){func(d *offering.Document) { d.Purpose.Articles = []offering.Article{{Title: "T"}} }}, "emptyArticle", finding.Error, "/purpose/articles/0"},
		"replaces itself":           {[]func(*offering.Document){func(d *offering.Document) { d.Purpose.Replaces = []string{d.Key} }}, "replacesItself", finding.Error, "/purpose/replaces/0"},
		"a section without heading": {[]func(*offering.Document){func(d *offering.Document) { d.Sections = []form.Section{{Key: "a"}} }}, "noName", finding.Error, "/sections/0/name"},
	} {
		t.Run(name, func(t *testing.T) {
			d := badge()
			for _, change := range c.changes {
				change(&d)
			}
			company := coretest.Company()
			limit, err := money.Parse("500.00", "EUR")
			require.NoError(t, err)
			company.DecideAbove = limit
			_, findings := offering.Examine(d, 1, company)
			var found *finding.Finding
			for i, f := range findings {
				if f.Code == strings.TrimPrefix(c.code, "-") && (c.place == "" || f.Place == c.place) {
					found = &findings[i]
				}
			}
			if strings.HasPrefix(c.code, "-") {
				assert.Nil(t, found)
				return
			}
			if assert.NotNil(t, found, "%+v", findings) {
				assert.Equal(t, c.severity, found.Severity)
				assert.NotEmpty(t, found.Sentence)
			}
		})
	}
}

func TestAServiceThatIsNotOffered(t *testing.T) {
	company := coretest.Company()
	service, _ := company.Directory.Service("access")
	service.Place = people.Intended
	company.Directory = people.NewDirectory(people.Records{Persons: company.Directory.Persons(), Teams: company.Directory.Teams(), Services: []people.Service{service}})
	_, findings := offering.Examine(badge(), 1, company)
	require.Len(t, findings, 1)
	assert.Equal(t, finding.ServiceNotOffered, findings[0].Code)
}

// Without people, nothing of the company is checked.
func TestWithoutACompany(t *testing.T) {
	d := badge()
	d.Plan[0].Team, d.Purpose.Service = "moon", "moon"
	d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.NamedPerson, Person: "nobody"}}
	d.Plan[2].Action.Connector = "telepathy"
	_, findings := offering.Examine(d, 1, offering.Company{})
	assert.Empty(t, findings)
}

// Answers that people hold in drafts, against what a new version does to them.
func TestBreaks(t *testing.T) {
	company := coretest.Company()
	drafts := []form.Answers{coretest.Answers(map[string]any{"port": "orm", "zones": []any{"fuel"}}), coretest.Answers(map[string]any{"port": "maravel"}), {}}
	for name, c := range map[string]struct {
		change func(*offering.Document)
		want   string
	}{
		"nothing":          {func(*offering.Document) {}, ""},
		"nobody holds it":  {func(d *offering.Document) { d.Questions = append(d.Questions[:3:3], d.Questions[4:]...) }, ""},
		"taken out":        {func(d *offering.Document) { d.Questions = d.Questions[1:] }, `"Port" is taken out, but 2 drafts hold an answer to it.`},
		"another kind":     {func(d *offering.Document) { d.Questions[1].Kind = form.Choice }, `"Zones" is now of another kind, but one draft holds an answer to it.`},
		"a choice is gone": {func(d *offering.Document) { d.Questions[0].Choices = d.Questions[0].Choices[:1] }, `A choice of "Port" is taken out that one draft holds.`},
		"of several":       {func(d *offering.Document) { d.Questions[1].Choices = d.Questions[1].Choices[:1] }, `A choice of "Zones" is taken out that one draft holds.`},
	} {
		t.Run(name, func(t *testing.T) {
			old, _ := offering.Compile(badge(), 1, company)
			d := badge()
			c.change(&d)
			next, _ := offering.Compile(d, 2, company)
			findings := offering.Breaks(old, next, drafts)
			if c.want == "" {
				assert.Empty(t, findings)
				return
			}
			require.Len(t, findings, 1)
			assert.Equal(t, c.want, findings[0].Sentence)
		})
	}
}

// What is said of a rule while it is typed.
func TestCheckRule(t *testing.T) {
	d := badge()
	d.Questions = append(d.Questions, form.Question{Key: "rows", Kind: form.Table, Label: "Rows", Columns: []form.Question{{Key: "n", Kind: form.Number, Label: "N"}, {Key: "c", Kind: form.Choice, Label: "C", Choices: []form.Option{{Key: "x", Label: "X"}}}}})
	for _, c := range []struct{ place, source, problem, words string }{
		{"/questions/2/show", `answers.port == "orm"`, "", "Port is Sankt Orm"},
		{"/questions/2/show", `answers.prt == "orm"`, "is answers.port meant?", ""},
		{"/questions/2/show", ``, "", ""},
		{"/questions/3/preset", `addWorkdays(today, 3)`, "", ""},
		{"/questions/3/preset", `"soon"`, "but a date is needed", ""},
		{"/questions/0/offer", `choice.key == "orm"`, "", "its choice is orm"},
		{"/ladder/0/when", `cost.firstYear > money("300.00")`, "", "the cost in the first year is more than 300.00"},
		{"/questions/0/show", `choice.key == "orm"`, "nothing called choice", ""},
		{"/questions/5/columns/0/show", `row.c == "x"`, "", ""},
		{"/questions/5/columns/1/offer", `choice.key == "x" && row.n > 1`, "", ""},
		{"/questions/5/show", `row.c == "x"`, "nothing called row", ""},
		{"/audience/ask", `asker.grade == "5"`, "", "the asker's grade is 5"},
		{"/audience/ask", `beneficiary.grade == "5"`, "nothing called beneficiary", ""},
		{"/audience/for", `beneficiary.grade == asker.grade`, "", ""},
		{"/purpose/title", `For {{ beneficiary.name }}`, "", ""},
		{"/purpose/title", `For {{ beneficiary.nam }}`, "is asker.name meant?", ""},
		{"/plan/0/instructions", `{{ answers.zones`, "never closed", ""},
		{"/plan/2/action/inputs/holder", `{{ asker.name }}`, "", ""},
		{"/nowhere/99/show", `true`, "", ""},
		{"/questions/99/show", `true`, "", ""},
		{"/questions/5/columns/99/show", `true`, "", ""},
	} {
		got := offering.CheckRule(d, c.place, c.source, nil)
		if c.problem == "" {
			assert.Empty(t, got.Problem, "%s %s", c.place, c.source)
		} else {
			assert.Contains(t, got.Problem, c.problem, "%s %s", c.place, c.source)
		}
		if c.words != "" {
			assert.Equal(t, c.words, got.Words)
			assert.NotNil(t, got.Sentence)
		}
		assert.NotEmpty(t, got.Names)
	}
}

func TestYAMLReadsAsJSON(t *testing.T) {
	got, err := offering.Parse([]byte("format: heptad/offering/1\nkey: a\npurpose: { name: A, text: A., service: access }\n"))
	require.NoError(t, err)
	assert.Equal(t, "A", got.Purpose.Name)
	assert.NotNil(t, got.Questions)
	for _, text := range []string{"format: [", "key: a\nkey: b\nformat: heptad/offering/1", "format: heptad/offering/1\nshoe: 1", "- a"} {
		_, err := offering.Parse([]byte(text))
		assert.Error(t, err, text)
	}
}

func TestParseCatalogRefuses(t *testing.T) {
	for text, place := range map[string]string{
		`{"format":"heptad/catalog/2"}`: "/format",
		`{"format":"heptad/catalog/1","offerings":[{"format":"heptad/offering/1","key":"a"},{"format":"heptad/offering/1","key":"a"}]}`: "/offerings/1/key",
		`{"format":"heptad/catalog/1","offerings":[{"format":"x"}]}`:                                                                    "/offerings/0/format",
	} {
		_, err := offering.ParseCatalog([]byte(text))
		var bad *offering.ParseError
		require.ErrorAs(t, err, &bad)
		assert.Equal(t, place, bad.Place)
	}
}
