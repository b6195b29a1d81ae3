package rule_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
	"heptad/internal/core/rule"
)

func env(t require.TestingT) *rule.Env {
	e, err := rule.NewEnv(rule.Scope{
		Roots: map[string]rule.Fields{
			"answers": {"port": rule.Text, "zones": rule.Texts, "start": rule.DateT, "seats": rule.Number, "loud": rule.YesNo, "pick": rule.Records("pick")},
			"asker":   {"name": rule.Text},
			"cost":    {"once": rule.MoneyT},
		},
		Elements: map[string]rule.Fields{"pick": {"item": rule.Text, "quantity": rule.Count}},
		Currency: "EUR",
	})
	require.NoError(t, err)
	return e
}

func date(text string) calendar.Date {
	d, err := calendar.ParseDate(text)
	if err != nil {
		panic(err)
	}
	return d
}

func values(answers rule.Record) rule.Values {
	sum, _ := money.Parse("45.00", "EUR")
	return rule.Values{
		Roots: map[string]rule.Record{"answers": answers, "asker": {"name": rule.OfText("Ilse Brandvik")}, "cost": {"once": rule.OfMoney(sum)}},
		Now:   time.Date(2027, 3, 12, 9, 0, 0, 0, time.UTC),
		Today: date("2027-03-12"),
	}
}

// Worked by hand: what holds when, and what hangs on something absent.
func TestEval(t *testing.T) {
	full := rule.Record{
		"port": rule.OfText("maravel"), "zones": rule.OfTexts([]string{"fuel", "office"}),
		"start": rule.OfDate(date("2027-03-15")), "seats": rule.OfNumber(3), "loud": rule.OfYesNo(true),
		"pick": rule.OfRecords("pick", []rule.Record{{"item": rule.OfText("card"), "quantity": rule.OfCount(2)}}),
	}
	empty := rule.Record{"zones": rule.OfTexts(nil)}
	const absent, fault = "absent", "fault"
	for _, c := range []struct {
		source      string
		full, empty any
	}{
		{`answers.port == "maravel"`, true, absent},
		{`answers.port != "maravel"`, false, absent},
		{`!(answers.port == "maravel")`, false, absent},
		{`has(answers.port)`, true, false},
		{`!has(answers.port)`, false, true},
		{`has(answers.port) && answers.port == "maravel"`, true, false},
		{`true || answers.port == "x"`, true, true},
		{`answers.port == "x" || true`, true, true},
		{`false && answers.port == "x"`, false, false},
		{`answers.port == "maravel" && false`, false, false},
		{`answers.port == "x" || answers.seats > 2`, true, absent},
		{`answers.zones.exists(z, z in ["fuel", "deck"])`, true, false},
		{`answers.zones.size() == 0`, false, true},
		{`answers.start >= today`, true, absent},
		{`answers.start == date("2027-03-15")`, true, absent},
		{`answers.start < addWorkdays(today, 1)`, false, absent},
		{`workdays(today, answers.start) == 1`, true, absent},
		{`answers.seats > 2 && answers.seats < 3.5`, true, absent},
		{`answers.loud`, true, absent},
		{`!answers.loud || true`, true, true},
		{`cost.once > money("44.99")`, true, true},
		{`cost.once == money("45")`, true, true},
		{`answers.pick.exists(p, p.item == "card" && p.quantity >= 2)`, true, absent},
		{`answers.pick.exists(p, p.item == "fob")`, false, absent},
		{`now > timestamp("2027-03-12T08:59:59Z")`, true, true},
		{`1 / 0 == 1`, fault, fault},
		{`1 / 0 == 1 || true`, true, true},
		{`date("12 March") < today`, fault, fault},
		{`addWorkdays(today, 10001) > today`, fault, fault},
	} {
		r, err := env(t).Compile(c.source, rule.YesNo)
		require.NoError(t, err, c.source)
		for answers, want := range map[*rule.Record]any{&full: c.full, &empty: c.empty} {
			got, err := r.Eval(values(*answers))
			switch want {
			case absent:
				assert.ErrorIs(t, err, rule.ErrAbsent, c.source)
			case fault:
				assert.Error(t, err, c.source)
				assert.NotErrorIs(t, err, rule.ErrAbsent, c.source)
			default:
				if assert.NoError(t, err, c.source) {
					assert.Equal(t, want, rule.Plain(got), c.source)
				}
			}
		}
	}
}

func TestCompileRefusesWithWords(t *testing.T) {
	for source, want := range map[string]string{
		`answers.prot == "x"`:          "there is nothing called prot here",
		`port == "x"`:                  "there is nothing called port",
		`answers.port > 3`:             "> does not work with",
		`answers.port == `:             "this is not a rule",
		`answers.port`:                 "this gives a text, but yes or no is needed here",
		`answers == answers`:           "can only be read by name",
		`answers.start == "today"`:     "== does not work with",
		`answers.start > money("3.0")`: "> does not work with",
	} {
		_, err := env(t).Compile(source, rule.YesNo)
		if assert.Error(t, err, source) {
			assert.Contains(t, err.Error(), want, source)
		}
	}
}

func TestCostLimitStopsARule(t *testing.T) {
	r, err := env(t).Compile(`answers.zones.all(a, answers.zones.all(b, answers.zones.all(c, answers.zones.exists(d, d + a + b + c != ""))))`, rule.YesNo)
	require.NoError(t, err)
	many := make([]string, 200)
	for i := range many {
		many[i] = "zone"
	}
	_, err = r.Eval(values(rule.Record{"zones": rule.OfTexts(many)}))
	assert.ErrorContains(t, err, "could not be worked out")
}

func TestReads(t *testing.T) {
	r, err := env(t).Compile(`has(answers.port) && answers.zones.exists(z, z == asker.name) && cost.once > money("1")`, rule.YesNo)
	require.NoError(t, err)
	assert.Equal(t, []string{"port", "zones"}, r.Reads("answers"))
	assert.Equal(t, []string{"name"}, r.Reads("asker"))
	assert.Equal(t, []string{"once"}, r.Reads("cost"))
}

func TestText(t *testing.T) {
	answers := rule.Record{"port": rule.OfText("maravel"), "zones": rule.OfTexts([]string{"fuel", "office"})}
	label := func(root, field string) (string, bool) {
		if root == "answers" && field == "port" {
			return "Maravel", true
		}
		return "", false
	}
	for text, want := range map[string]string{
		"no placeholder": "no placeholder",
		"For {{ asker.name }} in {{answers.port}}.": "For Ilse Brandvik in Maravel.",
		"{{ answers.zones }}":                       "fuel, office",
		"from {{ answers.start }}":                  "from —",
		"{{ answers.port + \"!\" }}":                "maravel!",
		"today is {{ today }} at {{ cost.once }}":   "today is 2027-03-12 at EUR 45.00",
	} {
		compiled, err := env(t).CompileText(text)
		require.NoError(t, err, text)
		got, err := compiled.Render(values(answers), label)
		require.NoError(t, err, text)
		assert.Equal(t, want, got)
	}
	for _, text := range []string{"{{ asker.name", "{{ asker.nme }}", "{{}}"} {
		_, err := env(t).CompileText(text)
		assert.Error(t, err, text)
	}
}

func TestSentenceWords(t *testing.T) {
	name := func(question, value string) (string, string) {
		return map[string]string{"zones": "Zones", "start": "Start"}[question], map[string]string{"fuel": "Fuel dock"}[value]
	}
	s, ok := rule.ParseSentence(`answers.zones.exists(z, z in ["fuel"]) || answers.start >= today`)
	require.True(t, ok)
	assert.Equal(t, "Zones has any of Fuel dock or Start is not before today", s.Words(name))
}

func TestOnlyItsOwnShapeIsASentence(t *testing.T) {
	for _, source := range []string{
		`answers.a == answers.b`, `answers.a == "x" && answers.b == "y" || answers.c == "z"`, `asker.name == "x"`,
		`!(answers.a == "x")`, `answers.a in []`, `answers.zones.exists(z, z == "x")`, `answers.a.b == "x"`, `answers.a ==`, `true`,
	} {
		_, ok := rule.ParseSentence(source)
		assert.False(t, ok, source)
	}
}

func TestSentenceOpensAgainFromItsCEL(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		value := rapid.StringMatching(`[a-z][a-z0-9-]{0,8}`).Filter(func(s string) bool { return s != "true" && s != "false" })
		part := rapid.Custom(func(t *rapid.T) rule.Comparison {
			c := rule.Comparison{Question: rapid.SampledFrom([]string{"port", "zones"}).Draw(t, "question"), Values: []string{}}
			c.Compare = rapid.SampledFrom([]string{"is", "isNot", "oneOf", "anyOf", "noneOf", "notBefore", "before", "answered", "unanswered"}).Draw(t, "compare")
			switch c.Compare {
			case "is", "isNot":
				c.Values = []string{rapid.OneOf(value, rapid.SampledFrom([]string{"true", "false"})).Draw(t, "value")}
			case "notBefore", "before":
				c.Values = []string{rapid.SampledFrom([]string{"today", "2027-03-12"}).Draw(t, "day")}
			case "oneOf", "anyOf", "noneOf":
				c.Values = rapid.SliceOfN(value, 1, 4).Draw(t, "values")
			}
			return c
		})
		s := rule.Sentence{Join: "all", Parts: rapid.SliceOfN(part, 1, 5).Draw(t, "parts")}
		if len(s.Parts) > 1 {
			s.Join = rapid.SampledFrom([]string{"all", "any"}).Draw(t, "join")
		}
		source, err := s.CEL()
		require.NoError(t, err)
		back, ok := rule.ParseSentence(source)
		require.True(t, ok, source)
		assert.Equal(t, s, back)
	})
}

func FuzzCompile(f *testing.F) {
	f.Add(`answers.port == "x"`)
	f.Add(`has(answers.port) && {{`)
	f.Fuzz(func(t *testing.T, source string) {
		if r, err := env(t).Compile(source, rule.YesNo); err == nil {
			_, _ = r.Eval(values(rule.Record{}))
		}
		if s, ok := rule.ParseSentence(source); ok {
			_, err := s.CEL()
			require.NoError(t, err)
		}
		_, _ = env(t).CompileText(source)
	})
}
