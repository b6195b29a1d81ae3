package offering_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audience"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

func TestABadgeHasNoFindings(t *testing.T) {
	_, findings := offering.Examine(badge(), 1, coretest.Company())
	assert.Empty(t, findings)
}

// One thing wrong at a time: what is found, and where.
func TestCompileFinds(t *testing.T) {
	for name, c := range map[string]struct {
		spoil func(d *offering.Document)
		code  string
		place string
	}{
		"no name":            {func(d *offering.Document) { d.Purpose.Name = " " }, "noName", "/purpose/name"},
		"no text":            {func(d *offering.Document) { d.Purpose.Text = "" }, "noText", "/purpose/text"},
		"no keywords":        {func(d *offering.Document) { d.Purpose.Keywords = nil }, "noKeywords", "/purpose/keywords"},
		"unknown service":    {func(d *offering.Document) { d.Purpose.Service = "moon" }, "unknownService", "/purpose/service"},
		"key with a space":   {func(d *offering.Document) { d.Key = "quay badge" }, "badKey", "/key"},
		"audience by answer": {func(d *offering.Document) { d.Audience.Ask = `answers.port == "orm"` }, "rule", "/audience/ask"},
		"item never offered": {func(d *offering.Document) { d.Questions[4].Items = []string{"card"} }, "neverOffered", "/items/list/1"},
		"rung of nobody":     {func(d *offering.Document) { d.Ladder[0].Approvers = nil }, "noApprovers", "/ladder/0/approvers"},
		"unknown approver": {func(d *offering.Document) {
			d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.NamedPerson, Person: "gone"}}
		}, "unknownPerson", "/ladder/0/approvers/0/person"},
		"lead of no team": {func(d *offering.Document) {
			d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.TeamLead, Team: "x"}}
		}, "unknownTeam", "/ladder/0/approvers/0/team"},
		"strange source":     {func(d *offering.Document) { d.Ladder[0].Approvers = []ladder.Source{{Source: "dice"}} }, "source", "/ladder/0/approvers/0/source"},
		"strange quorum":     {func(d *offering.Document) { d.Ladder[0].Quorum = "most" }, "quorum", "/ladder/0/quorum"},
		"rung key twice":     {func(d *offering.Document) { d.Ladder = append(d.Ladder, d.Ladder[0]) }, "duplicateKey", "/ladder/1/key"},
		"rung without name":  {func(d *offering.Document) { d.Ladder[0].Name = "" }, "noName", "/ladder/0/name"},
		"rung rule":          {func(d *offering.Document) { d.Ladder[0].When = "cost" }, "rule", "/ladder/0/when"},
		"no task":            {func(d *offering.Document) { d.Plan = nil }, "noTasks", "/plan"},
		"task lands nowhere": {func(d *offering.Document) { d.Plan[0].Team = "" }, "noTeam", "/plan/0/team"},
		"task key twice":     {func(d *offering.Document) { d.Plan[1].Key, d.Plan[2].After = "safety", []string{"safety"} }, "duplicateKey", "/plan/1/key"},
		"waits for nothing":  {func(d *offering.Document) { d.Plan[2].After = []string{"safety", "x"} }, "unknownTask", "/plan/2/after/1"},
		"plan in a circle":   {func(d *offering.Document) { d.Plan[0].After = []string{"write"} }, "circle", "/plan/0/after"},
		"slice of nothing":   {func(d *offering.Document) { d.Plan[1].Slice = []string{"x"} }, "unknownQuestion", "/plan/1/slice/0"},
		"outside the slice":  {func(d *offering.Document) { d.Plan[0].Slice = []string{"reason"} }, "outsideSlice", "/plan/0/instructions"},
		"broken placeholder": {func(d *offering.Document) { d.Plan[1].Instructions = "{{ asker.shoe }}" }, "placeholder", "/plan/1/instructions"},
		"task rule":          {func(d *offering.Document) { d.Plan[1].When = `answers.port` }, "rule", "/plan/1/when"},
		"task without name":  {func(d *offering.Document) { d.Plan[1].Name = "" }, "noName", "/plan/1/name"},
		"strange kind":       {func(d *offering.Document) { d.Plan[1].Kind = "magic" }, "badKind", "/plan/1/kind"},
		"by hand, yet calls": {func(d *offering.Document) { d.Plan[1].Action = &plan.Action{} }, "action", "/plan/1/action"},
		"automatic nothing":  {func(d *offering.Document) { d.Plan[2].Action = nil }, "noAction", "/plan/2/action"},
		"unknown action":     {func(d *offering.Document) { d.Plan[2].Action.Do = "burn" }, "unknownAction", "/plan/2/action"},
		"missing input":      {func(d *offering.Document) { delete(d.Plan[2].Action.Inputs, "holder") }, "noInput", "/plan/2/action/inputs/holder"},
		"unknown input":      {func(d *offering.Document) { d.Plan[2].Action.Inputs["colour"] = "red" }, "unknownInput", "/plan/2/action/inputs/colour"},
		"input placeholder":  {func(d *offering.Document) { d.Plan[2].Action.Inputs["zones"] = "{{" }, "placeholder", "/plan/2/action/inputs/zones"},
		"no zone":            {func(d *offering.Document) { d.Promise.Zone = "Europe/Maravel" }, "zone", "/promise/zone"},
		"endless silence":    {func(d *offering.Document) { days := 251; d.Promise.ConfirmWithin = &days }, "confirmWithin", "/promise/confirmWithin"},
	} {
		t.Run(name, func(t *testing.T) {
			d := badge()
			c.spoil(&d)
			_, findings := offering.Examine(d, 1, coretest.Company())
			require.Len(t, findings, 1, "%+v", findings)
			assert.Equal(t, c.code, findings[0].Code)
			assert.Equal(t, c.place, findings[0].Place)
			assert.Equal(t, findings[0].Severity == finding.Error, findings.HasErrors())
		})
	}
}

func TestCircleNamesItsPath(t *testing.T) {
	d := badge()
	d.Plan[0].After = []string{"write"}
	_, findings := offering.Examine(d, 1, coretest.Company())
	assert.Contains(t, findings[0].Sentence, "Check safety record → Write badge → Check safety record")
}

func TestADocumentReadsBackTheSame(t *testing.T) {
	data, err := json.Marshal(badge())
	require.NoError(t, err)
	back, err := offering.Parse(data)
	require.NoError(t, err)
	assert.Equal(t, badge(), back)
}

func TestParseRefuses(t *testing.T) {
	data, err := json.Marshal(badge())
	require.NoError(t, err)
	whole := string(data)
	for name, c := range map[string]struct{ text, place, sentence string }{
		"nothing":       {``, "", "cannot be read"},
		"no JSON":       {`{"format":`, "", "cannot be read"},
		"broken JSON":   {`{format}`, "", "not JSON"},
		"another":       {strings.Replace(whole, "heptad/offering/1", "heptad/offering/2", 1), "/format", "heptad/offering/1"},
		"unknown field": {strings.Replace(whole, `"purpose":{`, `"purpose":{"shoe":1,`, 1), "", `unknown field "shoe"`},
		"wrong type":    {strings.Replace(whole, `"quorum":"any"`, `"quorum":1`, 1), "/ladder/quorum", "number"},
		"two of them":   {whole + whole, "", "more behind the end"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := offering.Parse([]byte(c.text))
			var bad *offering.ParseError
			require.ErrorAs(t, err, &bad)
			assert.Equal(t, c.place, bad.Place)
			assert.Contains(t, bad.Sentence, c.sentence)
		})
	}
}

func TestAudience(t *testing.T) {
	company := coretest.Company()
	for source, askers := range map[string]map[string]bool{
		``:                                   {"p-ilse": true, "p-kira": true, "p-gone": false},
		`asker.department == "Fleet"`:        {"p-ilse": true, "p-kira": false},
		`asker.teams.exists(t, t == "keys")`: {"p-ilse": false, "p-kira": true},
		`asker.grade == "1"`:                 {"p-ilse": false},
		`1 / 0 == 1`:                         {"p-ilse": false},
	} {
		d := badge()
		d.Audience.Ask = source
		compiled, findings := offering.Compile(d, 1, company)
		require.Empty(t, findings)
		for id, want := range askers {
			person, _ := company.Directory.Person(id)
			got, reason := compiled.Audience.MayAsk(audience.Of(person, company.Directory))
			assert.Equal(t, want, got, "%s %s", id, source)
			assert.NotEmpty(t, reason)
		}
	}
}

// A few bytes of aliases can stand for gigabytes, so that none is read.
func TestParseRefusesAliases(t *testing.T) {
	bomb := "a: &a [x, x, x, x, x, x, x, x, x, x]\n"
	for c := 'b'; c < 'k'; c++ {
		bomb += fmt.Sprintf("%c: &%c [", c, c) + strings.Repeat(fmt.Sprintf("*%c, ", c-1), 10) + "x]\n"
	}
	_, err := offering.Parse([]byte(bomb))
	assert.ErrorContains(t, err, "refers to another place (*")
	_, err = offering.Parse([]byte("a: &a {b: c}\nd:\n  <<: *a\n"))
	assert.ErrorContains(t, err, "line 3 refers to another place (*a)")
}

func TestParseIsBounded(t *testing.T) {
	large := []byte("key: " + strings.Repeat("x", offering.MaxSize))
	_, err := offering.Parse(large)
	assert.EqualError(t, err, "This is larger than 1 MB.")
	_, err = offering.ParseCatalog([]byte(`{"offerings":[{"key":"` + strings.Repeat("x", offering.MaxSize) + `"}]}`))
	assert.EqualError(t, err, "This is larger than 1 MB.")
	_, err = offering.ParseCatalog(make([]byte, offering.MaxCatalog+1))
	assert.EqualError(t, err, "This is larger than 20 MB.")
	for text, want := range map[string]string{
		``: "it ends too early", `[]`: "There is [ where { is needed", `{"x":1}`: `unknown field "x"`, `{"offerings":{}}`: "There is { where [",
		`{"format":"heptad/catalog/1"} 1`: "more behind the end", `{"offerings":[`: "ends too early", `{"format":1}`: "another kind of value", `{"format":"other"}`: `The format is "other"`,
	} {
		_, err := offering.ParseCatalog([]byte(text))
		assert.ErrorContains(t, err, want, text)
	}
}

func FuzzParse(f *testing.F) {
	data, err := json.Marshal(badge())
	require.NoError(f, err)
	f.Add(string(data))
	f.Add(`{"format":"heptad/offering/1","plan":[{"after":["a"],"key":"a"}]}`)
	company := coretest.Company()
	f.Add("format: heptad/offering/1\nkey: &a b\nplan: [*a, *a]\n")
	f.Fuzz(func(t *testing.T, text string) {
		coretest.Bounded(t, 400, func() {
			if d, err := offering.Parse([]byte(text)); err == nil {
				_, _ = offering.Examine(d, 1, company)
			}
		})
	})
}

func FuzzParseCatalog(f *testing.F) {
	f.Add(`{"format":"heptad/catalog/1","services":[],"shared":[{"key":"a"}],"offerings":[{"format":"heptad/offering/1","key":"a"}]}`)
	f.Fuzz(func(t *testing.T, text string) {
		coretest.Bounded(t, 100, func() { _, _ = offering.ParseCatalog([]byte(text)) })
	})
}

// plain is a document of about so many bytes, in YAML.
func plain(size int) []byte {
	var b strings.Builder
	b.WriteString("format: heptad/offering/1\nkey: large\nquestions:\n")
	for i := 0; b.Len() < size-200; i++ {
		fmt.Fprintf(&b, "- key: q%d\n  kind: choice\n  label: Something to ask %d\n  choices:\n  - {key: a, label: A}\n  - {key: b, label: B}\n", i, i)
	}
	return []byte(b.String())
}

// catalogOf is a catalog of about so many bytes, in JSON.
func catalogOf(t testing.TB, size int) []byte {
	d, err := offering.Parse(plain(60 << 10))
	require.NoError(t, err)
	for i := range d.Questions { // as large as a form may be: 500 questions, each explained at length
		d.Questions[i].Help = strings.Repeat("It is asked as the work needs it. ", 50)
	}
	c := offering.Catalog{Format: offering.CatalogFormat, Services: []offering.Service{}, Shared: []form.Question{}}
	text, err := json.Marshal(d)
	require.NoError(t, err)
	for i := range (size - 1000) / len(text) {
		d.Key = fmt.Sprintf("large-%d", i)
		c.Offerings = append(c.Offerings, d)
	}
	text, err = json.Marshal(c)
	require.NoError(t, err)
	require.LessOrEqual(t, len(text), size)
	return text
}

// What is as large as it may be, and what a few bytes would make larger, is read
// or refused within bounds.
func TestDocumentsThatWouldFillTheMemory(t *testing.T) {
	coretest.Child(t, 150, func(t *testing.T) {
		var bomb strings.Builder
		bomb.WriteString("a: &a [" + strings.Repeat("x, ", 40) + "x]\n")
		for c := 'b'; c <= 'z'; c++ {
			fmt.Fprintf(&bomb, "%c: &%c [%s*%c]\n", c, c, strings.Repeat(fmt.Sprintf("*%c, ", c-1), 40), c-1)
		}
		for _, text := range []string{bomb.String(), strings.Repeat("[", offering.MaxSize-1), strings.Repeat("{\"a\":", 100_000), strings.Repeat("- ", 400_000), "a: " + strings.Repeat("!!binary ", 50_000)} {
			_, err := offering.Parse([]byte(text))
			assert.Error(t, err)
			_, err = offering.ParseCatalog([]byte(text))
			assert.Error(t, err)
		}
		_, err := offering.Parse(plain(offering.MaxSize))
		assert.NoError(t, err)
	})
}

func TestALargeCatalogIsReadWithinBounds(t *testing.T) {
	file := filepath.Join(os.TempDir(), "heptad-large-catalog.json") // the child has no folder of the test
	if !coretest.IsChild(t) {
		require.NoError(t, os.WriteFile(file, catalogOf(t, offering.MaxCatalog), 0o600))
		defer os.Remove(file)
	}
	coretest.Child(t, 150, func(t *testing.T) { // the program itself takes 30, the file 20
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		c, err := offering.ParseCatalog(text)
		require.NoError(t, err)
		assert.Greater(t, len(c.Offerings), 5)
	})
}

func BenchmarkParseTheLargestDocument(b *testing.B) {
	text := plain(offering.MaxSize)
	b.SetBytes(int64(len(text)))
	for b.Loop() {
		_, err := offering.Parse(text)
		require.NoError(b, err)
	}
}

func BenchmarkParseTheLargestCatalog(b *testing.B) {
	text := catalogOf(b, offering.MaxCatalog)
	b.SetBytes(int64(len(text)))
	for b.Loop() {
		_, err := offering.ParseCatalog(text)
		require.NoError(b, err)
	}
}

// badge is the badge of coretest with a time promised, so that nothing is found
// in it.
func badge() offering.Document {
	d := coretest.Badge()
	d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "5d"}}
	return d
}

// A promise is looked at beside the decisions, and its absence is found.
func TestPromisesAreExamined(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*offering.Document)
		want   string
	}{
		"good":                                   {func(*offering.Document) {}, ""},
		"nothing promised":                       {func(d *offering.Document) { d.Promise.Targets = nil }, "promisesNothing /promise/targets"},
		"nothing promised, not asked for":        {func(d *offering.Document) { d.Promise.Targets, d.Audience.Inner = nil, true }, ""},
		"two rungs of three days, five promised": {twoRungs, "decisionsTooLong /promise/targets/0/fulfilment"},
		"in hours":                               {func(d *offering.Document) { twoRungs(d); d.Promise.Targets[0].Fulfilment = "120h" }, "decisionsTooLong /promise/targets/0/fulfilment"},
		"the clock starts with the decision":     {func(d *offering.Document) { twoRungs(d); d.Promise.Starts = promise.OnDecision }, ""},
		"one of them only sometimes":             {func(d *offering.Document) { twoRungs(d); d.Ladder[1].When = `answers.port == "orm"` }, ""},
		"time enough":                            {func(d *offering.Document) { twoRungs(d); d.Promise.Targets[0].Fulfilment = "6d" }, ""},
	} {
		t.Run(name, func(t *testing.T) {
			d := badge()
			c.change(&d)
			_, findings := offering.Examine(d, 1, coretest.Company())
			names := ""
			for _, f := range findings {
				names += f.Name()
			}
			assert.Equal(t, c.want, names)
		})
	}
}

func twoRungs(d *offering.Document) {
	d.Ladder[0].Limit = "3d"
	second := d.Ladder[0]
	second.Key, second.Name = "second", "Second"
	d.Ladder = append(d.Ladder, second)
}
