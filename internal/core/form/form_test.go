package form_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

var now = time.Date(2027, 3, 12, 9, 0, 0, 0, time.UTC)

func compile(t require.TestingT, questions []form.Question, items price.List) (*form.Form, finding.List) {
	return compileIn(t, form.Source{Questions: questions, Currency: items.Currency}, items)
}

func compileIn(t require.TestingT, source form.Source, items price.List) (*form.Form, finding.List) {
	env, err := rule.NewEnv(form.Scope(source.Questions, items.Currency))
	require.NoError(t, err)
	findings := finding.List{}
	return form.Compile(source, price.Compile(items, env, &findings), env, &findings), findings
}

func values() rule.Values {
	ilse := rule.OfPerson(person("ilse"), directory.Managers("p-ilse"))
	return rule.Values{Roots: map[string]rule.Record{"asker": ilse, "beneficiary": ilse}, Now: now, Today: calendar.DateOf(now)}
}

var directory = coretest.Company().Directory

func person(login string) people.Person {
	p, _ := directory.ByLogin(login)
	return p
}

// facts are what answers are read with in these tests.
var facts = form.Facts{Company: directory, Belongings: []people.Belonging{{ID: "b1", Kind: "badge", Name: "Quay badge"}, {ID: "b2", Kind: "tablet", Name: "Bridge tablet"}}}

// answers reads the answers from JSON, as a client sends them.
func answers(t require.TestingT, text string) form.Answers {
	var a form.Answers
	require.NoError(t, json.Unmarshal([]byte(text), &a))
	return a
}

// The badge form, worked by hand: what is asked, what is wrong, what it costs.
func TestBadgeForm(t *testing.T) {
	doc := coretest.Badge()
	f, findings := compile(t, doc.Questions, doc.Items)
	require.Empty(t, findings)
	for name, c := range map[string]struct {
		answers  string
		shown    string // keys
		problems string // key:code
		year     string
	}{
		"empty":             {`{}`, "port zones start badge", "port:required zones:required start:required badge:required", "0.00"},
		"no restricted":     {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "", "12.50"},
		"restricted":        {`{"port":"orm","zones":["fuel","office"],"start":"2027-03-15","badge":[{"item":"fob","quantity":2}]}`, "port zones reason start badge", "reason:required", "48.00"},
		"with a reason":     {`{"port":"orm","zones":["fuel"],"reason":"Bunkering","start":"2027-03-15","badge":[{"item":"card","quantity":1},{"item":"fob","quantity":1}]}`, "port zones reason start badge", "", "36.50"},
		"blank reason":      {`{"port":"orm","zones":["fuel"],"reason":"  \n","start":"2027-03-15","badge":[{"item":"card","quantity":1}]}`, "port zones reason start badge", "reason:required", "12.50"},
		"hidden reason":     {`{"port":"orm","zones":["office"],"reason":"left over","start":"2027-03-15","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "", "12.50"},
		"yesterday":         {`{"port":"orm","zones":["office"],"start":"2027-03-11","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "start:check", "12.50"},
		"no date":           {`{"port":"orm","zones":["office"],"start":"soon","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "start:invalid", "12.50"},
		"unknown port":      {`{"port":"atlantis","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "port:invalid", "12.50"},
		"unknown zone":      {`{"port":"orm","zones":["fuel","moon"],"start":"2027-03-12","badge":[{"item":"card","quantity":1}]}`, "port zones start badge", "zones:invalid", "12.50"},
		"wrong types":       {`{"port":7,"zones":"fuel","start":true,"badge":"card"}`, "port zones start badge", "port:invalid zones:invalid start:invalid badge:invalid", "0.00"},
		"no such item":      {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"crown","quantity":1}]}`, "port zones start badge", "badge:invalid", "0.00"},
		"none of an item":   {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":0}]}`, "port zones start badge", "badge:invalid", "0.00"},
		"half an item":      {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":1.5}]}`, "port zones start badge", "badge:invalid", "0.00"},
		"item twice":        {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":1},{"item":"card","quantity":1}]}`, "port zones start badge", "badge:invalid", "0.00"},
		"unknown questions": {`{"port":"orm","zones":["office"],"start":"2027-03-12","badge":[{"item":"card","quantity":1}],"admin":true}`, "port zones start badge", "", "12.50"},
	} {
		t.Run(name, func(t *testing.T) {
			result := f.Evaluate(answers(t, c.answers), values(), facts)
			var shown, problems []string
			for _, q := range result.Questions {
				if q.Shown {
					shown = append(shown, q.Key)
				}
				for _, p := range q.Problems {
					problems = append(problems, q.Key+":"+p.Code)
				}
			}
			assert.Equal(t, c.shown, strings.Join(shown, " "))
			assert.Equal(t, c.problems, strings.Join(problems, " "))
			assert.Equal(t, c.year, result.Price.FirstYear.Decimal())
			assert.Equal(t, c.problems == "", result.Complete)
		})
	}
}

func TestProblemsNameTheirQuestion(t *testing.T) {
	for label, want := range map[string]string{"Port": "Port: an answer is needed.", "At which port?": "At which port? An answer is needed.", "Say why.": "Say why. An answer is needed."} {
		f, _ := compile(t, []form.Question{{Key: "a", Kind: form.Text, Label: label, Require: "true"}}, price.List{})
		assert.Equal(t, want, f.Evaluate(nil, values(), facts).Questions[0].Problems[0].Sentence)
	}
}

func TestReasonsAreInTheWordsOfTheForm(t *testing.T) {
	doc := coretest.Badge()
	f, _ := compile(t, doc.Questions, doc.Items)
	reason := func(a string) string { return f.Evaluate(answers(t, a), values(), facts).Questions[2].Reason }
	assert.Equal(t, "Hidden until Zones has any of Fuel dock.", reason(`{}`))
	assert.Equal(t, "Shown and needed because Zones has any of Fuel dock.", reason(`{"zones":["fuel"]}`))
}

func text(key, show, require string, checks ...string) form.Question {
	q := form.Question{Key: key, Kind: form.Text, Label: key, Show: show, Require: require}
	for _, c := range checks {
		q.Check = append(q.Check, form.Check{Rule: c, Message: "no"})
	}
	return q
}

// Chains of absence, worked by hand: what hangs on a hidden question.
func TestAbsence(t *testing.T) {
	for name, c := range map[string]struct {
		questions []form.Question
		answers   string
		shown     string
		problems  string
	}{
		"shown by nothing":       {[]form.Question{text("a", "", ""), text("b", `answers.a == "x"`, "")}, `{}`, "a", ""},
		"unlike nothing":         {[]form.Question{text("a", "", ""), text("b", `answers.a != "x"`, "")}, `{}`, "a", ""},
		"not like nothing":       {[]form.Question{text("a", "", ""), text("b", `!(answers.a == "x")`, "")}, `{}`, "a", ""},
		"asking with has":        {[]form.Question{text("a", "", ""), text("b", `!has(answers.a)`, "")}, `{}`, "a b", ""},
		"or gets by":             {[]form.Question{text("a", "", ""), text("b", `answers.a == "x" || true`, "")}, `{}`, "a b", ""},
		"hidden counts as none":  {[]form.Question{text("a", "false", ""), text("b", `has(answers.a)`, "")}, `{"a":"x"}`, "", ""},
		"three in a row":         {[]form.Question{text("a", "", ""), text("b", `answers.a == "x"`, ""), text("c", `answers.b == "y"`, "")}, `{"b":"y"}`, "a", ""},
		"three in a row, shown":  {[]form.Question{text("a", "", ""), text("b", `answers.a == "x"`, ""), text("c", `answers.b == "y"`, "")}, `{"a":"x","b":"y"}`, "a b c", ""},
		"later question first":   {[]form.Question{text("a", `answers.c == "z"`, ""), text("b", "", ""), text("c", `answers.b == "y"`, "")}, `{"b":"y","c":"z"}`, "a b c", ""},
		"required by nothing":    {[]form.Question{text("a", "", ""), text("b", "", `answers.a == "x"`)}, `{}`, "a b", ""},
		"required by something":  {[]form.Question{text("a", "", ""), text("b", "", `answers.a == "x"`)}, `{"a":"x"}`, "a b", "b:required"},
		"hidden is not required": {[]form.Question{text("a", "false", "true")}, `{}`, "", ""},
		"check on nothing":       {[]form.Question{text("a", "", "", `answers.a == "x"`)}, `{}`, "a", ""},
		"check against hidden":   {[]form.Question{text("a", "false", ""), text("b", "", "", `answers.b == answers.a`)}, `{"a":"x","b":"y"}`, "b", ""},
		"check against shown":    {[]form.Question{text("a", "", ""), text("b", "", "", `answers.b == answers.a`)}, `{"a":"x","b":"y"}`, "a b", "b:check"},
		"two checks fail":        {[]form.Question{text("a", "", "", `answers.a != "x"`, `answers.a.size() > 1`)}, `{"a":"x"}`, "a", "a:check a:check"},
		"fault in a check":       {[]form.Question{text("a", "", "", `1 / 0 == 1`)}, `{"a":"x"}`, "a", "a:fault"},
		"fault in show":          {[]form.Question{text("a", `1 / 0 == 1`, "")}, `{"a":"x"}`, "", "a:fault"},
		"asker's department":     {[]form.Question{text("a", `asker.department == "Fleet"`, "")}, `{}`, "a", ""},
		"asker's unknown grade":  {[]form.Question{text("a", `asker.grade == "7"`, "")}, `{}`, "", ""},
	} {
		t.Run(name, func(t *testing.T) {
			f, findings := compile(t, c.questions, price.List{})
			require.Empty(t, findings)
			var shown, problems []string
			for _, q := range f.Evaluate(answers(t, c.answers), values(), facts).Questions {
				if q.Shown {
					shown = append(shown, q.Key)
				}
				for _, p := range q.Problems {
					problems = append(problems, q.Key+":"+p.Code)
				}
			}
			assert.Equal(t, c.shown, strings.Join(shown, " "))
			assert.Equal(t, c.problems, strings.Join(problems, " "))
		})
	}
}

func TestCostReadsEveryPick(t *testing.T) {
	doc := coretest.Badge()
	questions := append([]form.Question{{Key: "why", Kind: form.Text, Label: "Why so dear", Show: `cost.firstYear > money("40")`, Require: "true"}}, doc.Questions[4])
	f, findings := compile(t, questions, doc.Items)
	require.Empty(t, findings)
	assert.False(t, f.Evaluate(answers(t, `{"badge":[{"item":"card","quantity":3}]}`), values(), facts).Questions[0].Shown)
	assert.True(t, f.Evaluate(answers(t, `{"badge":[{"item":"card","quantity":4}]}`), values(), facts).Questions[0].Shown)
}

func TestCompileFinds(t *testing.T) {
	long := make([]form.Option, form.MaxChoices+1)
	for i := range long {
		long[i] = form.Option{Key: fmt.Sprint(i), Label: "x"}
	}
	for name, c := range map[string]struct {
		questions []form.Question
		code      string
		place     string
		sentence  string
	}{
		"circle of two":   {[]form.Question{text("a", `answers.b == "x"`, ""), text("b", "", `answers.a == "x"`)}, "circle", "/questions/0", "a → b → a"},
		"shows itself":    {[]form.Question{text("a", `answers.a == "x"`, "")}, "circle", "/questions/0", "a → a"},
		"key twice":       {[]form.Question{text("a", "", ""), text("a", "", "")}, "duplicateKey", "/questions/1/key", `"a"`},
		"unknown name":    {[]form.Question{text("a", `answers.zone == "x"`, "")}, "rule", "/questions/0/show", "nothing called zone"},
		"not a condition": {[]form.Question{text("a", "", `asker.name`)}, "rule", "/questions/0/require", "yes or no is needed"},
		"silent check":    {[]form.Question{{Key: "a", Kind: form.Text, Label: "a", Check: []form.Check{{Rule: "true"}}}}, "noMessage", "/questions/0/check/0/message", "what is wrong"},
		"check of none":   {[]form.Question{{Key: "a", Kind: form.Text, Label: "a", Check: []form.Check{{Message: "no"}}}}, "noRule", "/questions/0/check/0/rule", "no rule"},
		"bad key":         {[]form.Question{text("in", "", "")}, "badKey", "/questions/0/key", `"in"`},
		"no label":        {[]form.Question{{Key: "a", Kind: form.Text}}, "noLabel", "/questions/0/label", "does not say"},
		"no choices":      {[]form.Question{{Key: "a", Kind: form.Choice, Label: "a"}}, "noChoices", "/questions/0/choices", "nothing to choose"},
		"too many":        {[]form.Question{{Key: "a", Kind: form.Choice, Label: "a", Choices: long}}, "tooManyChoices", "/questions/0/choices", "10000 are the most"},
		"unknown item":    {[]form.Question{{Key: "a", Kind: form.Items, Label: "a", Items: []string{"x"}}}, "unknownItem", "/questions/0/items/0", `"x"`},
		"no item":         {[]form.Question{{Key: "a", Kind: form.Items, Label: "a"}}, "noChoices", "/questions/0/items", "no item"},
		"choice twice":    {[]form.Question{{Key: "a", Kind: form.Choice, Label: "a", Choices: []form.Option{{Key: "x", Label: "X"}, {Key: "x", Label: "Y"}}}}, "duplicateKey", "/questions/0/choices/1/key", `"x"`},
		"unnamed choice":  {[]form.Question{{Key: "a", Kind: form.Choice, Label: "a", Choices: []form.Option{{Key: "x", Label: " "}}}}, "noLabel", "/questions/0/choices/0/label", "no words"},
		"too long a form": {make([]form.Question, form.MaxQuestions+1), "tooManyQuestions", "/questions", "501"},
	} {
		t.Run(name, func(t *testing.T) {
			_, findings := compile(t, c.questions, price.List{})
			require.Len(t, findings, 1)
			assert.Equal(t, c.code, findings[0].Code)
			assert.Equal(t, c.place, findings[0].Place)
			assert.Contains(t, findings[0].Sentence, c.sentence)
		})
	}
}

// drawForm makes questions that may read any of those before them, and answers.
func drawForm(t *rapid.T) ([]form.Question, form.Answers) {
	var questions []form.Question
	given := form.Answers{}
	for i := range rapid.IntRange(1, 8).Draw(t, "questions") {
		q := text(fmt.Sprintf("q%d", i), "", rapid.SampledFrom([]string{"", "true"}).Draw(t, "require"))
		if i > 0 {
			other := rapid.IntRange(0, i-1).Draw(t, "reads")
			q.Show = fmt.Sprintf(rapid.SampledFrom([]string{`answers.q%d == "x"`, `answers.q%d != "x"`, `!has(answers.q%d)`}).Draw(t, "rule"), other)
		}
		questions = append(questions, q)
		if v := rapid.SampledFrom([]string{"", "x", "y"}).Draw(t, "answer"); v != "" {
			given[q.Key] = coretest.Answer(v)
		}
	}
	return questions, given
}

func TestTheOrderOfQuestionsDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		questions, given := drawForm(t)
		forward, _ := compile(t, questions, price.List{})
		shuffled, _ := compile(t, rapid.Permutation(questions).Draw(t, "order"), price.List{})
		byKey := map[string]form.QuestionResult{}
		for _, q := range shuffled.Evaluate(given, values(), facts).Questions {
			byKey[q.Key] = q
		}
		for _, q := range forward.Evaluate(given, values(), facts).Questions {
			assert.Equal(t, q, byKey[q.Key])
		}
	})
}

func TestWhatIsKeptEvaluatesToItself(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		questions, given := drawForm(t)
		f, _ := compile(t, questions, price.List{})
		once := f.Evaluate(given, values(), facts)
		twice := f.Evaluate(once.Kept(), values(), facts)
		assert.Equal(t, once.Questions, twice.Questions)
		for _, q := range once.Questions {
			if !q.Shown {
				assert.NotContains(t, once.Kept(), q.Key)
			}
		}
	})
}

func FuzzEvaluate(f *testing.F) {
	f.Add(`{"port":"orm","zones":["fuel"],"badge":[{"item":"card","quantity":1e99}]}`)
	f.Add(`{"start":{"$date":1},"badge":[null,{}]}`)
	doc := coretest.Badge()
	compiled, _ := compile(f, doc.Questions, doc.Items)
	f.Fuzz(func(t *testing.T, text string) {
		var a form.Answers
		if json.Unmarshal([]byte(text), &a) == nil {
			kept := compiled.Evaluate(a, values(), facts).Kept()
			for key, value := range kept {
				_ = compiled.Show(key, value, form.Facts{Company: directory}, time.UTC)
			}
		}
	})
}

var yesNo = rule.YesNo

func ruleEnv(questions []form.Question) (*rule.Env, error) {
	return rule.NewEnv(form.Scope(questions, "EUR"))
}
