package rule_test

import (
	"slices"
	"strings"
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
		Calendar: calendar.Plain(time.FixedZone("west", -10*3600)),
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
		{`days(today, answers.start) == 3 && addDays(today, 3) == answers.start`, true, absent},
		{`date(now) == today`, false, false}, // 23:30 on the 11th in the zone of the scope
		{`cost.once + cost.once - money("5.00") == money("85.00")`, true, true},
		{`answers.seats == 3 && 3 == answers.seats && answers.seats != 4`, true, absent},
		{`cost.once * 3 > money("134.99")`, true, true},
		{`cost.once * 1000001 > cost.once`, fault, fault},
		{`year(today) == 2027 && today.month() == 3 && day(today) == 12 && today.weekday() == 5`, true, true},
		{`answers.start.weekday() == 1`, true, absent},
		{`"from " + string(answers.start) == "from 2027-03-15"`, true, absent},
		{`string(cost.once) == "EUR 45.00"`, true, true},
		{`cost.once * 0.5 == money("22.50") && cost.once * 1.0 == cost.once`, true, true},
		{`money("0.05") * 0.5 == money("0.03") && money("-0.05") * 0.5 == money("-0.03")`, true, true}, // half away from zero
		{`money("10.00") * 0.0725 == money("0.73")`, true, true},                                       // 0.725 as it is written
		{`cost.once * 1000001.0 > cost.once`, fault, fault},
		{`cost.once * (0.0 / 0.0) > cost.once`, fault, fault},
		{`sum(answers.pick.map(p, p.quantity)) == 2`, true, absent},
		{`sum([1.5, 2.5]) == 4 && sum([money("1.00"), cost.once]) == money("46.00")`, true, true},
		{`answers.port.startsWith("mar") && answers.port.contains("ve")`, true, absent},
		{`["a", "b"].join("-") == "a-b"`, true, true},
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
		`answers.prot == "x"`:          "there is nothing called prot here; is answers.port meant?",
		`asker.nme == "x"`:             "is asker.name meant?",
		`answers.zzz == "x"`:           "there is nothing called zzz here",
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
	assert.ErrorIs(t, err, rule.ErrTooLong)
}

func TestOneEvaluationHasABudget(t *testing.T) {
	r, err := env(t).Compile(`answers.zones.all(a, answers.zones.all(b, a + b == ""))`, rule.YesNo)
	require.NoError(t, err)
	many := make([]string, 100)
	v := values(rule.Record{"zones": rule.OfTexts(many)})
	_, err = r.Eval(v)
	require.NoError(t, err, "once it is cheap enough")
	v.Budget = rule.NewBudget()
	runs := 0
	for err == nil && runs < 10_000 {
		_, err = r.Eval(v)
		runs++
	}
	assert.ErrorIs(t, err, rule.ErrTooLong)
	assert.Greater(t, runs, 5)
}

func TestUses(t *testing.T) {
	r, err := env(t).Compile(`has(answers.port) || answers.seats > 3`, rule.YesNo)
	require.NoError(t, err)
	assert.Equal(t, []string{"port", "seats"}, r.Reads("answers"))
	assert.Equal(t, []string{"seats"}, r.Uses("answers"))
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

	s, ok = rule.ParseSentence(`answers.start < answers.zones && answers.start == answers.zones`)
	require.True(t, ok)
	assert.Equal(t, "Start is less than Zones and Start is Zones", s.Words(name))
	assert.Equal(t, "Start is before Zones and Start is Zones", s.Typed(func(string) string { return "date" }).Words(name))
}

func TestOnlyItsOwnShapeIsASentence(t *testing.T) {
	for _, source := range []string{
		`answers.a == answers.b.c`, `answers.a.startsWith(answers.b)`, `answers.a == "x" && (answers.b == "y" || (answers.c == "z" && answers.d))`, `now == "x"`, `answers.a == date("soon")`,
		`!(answers.a == "x")`, `answers.a in []`, `answers.zones.exists(z, z == "x")`, `answers.a.b == "x"`, `answers.a ==`, `true`,
		`answers.a.size() > 1`, `answers.a <= addWorkdays(answers.b, 3)`, `answers.a <= addWorkdays(today, -3)`, `answers.a.startsWith(3)`, `answers.n in [1, 2]`,
	} {
		_, ok := rule.ParseSentence(source)
		assert.False(t, ok, source)
	}
}

func TestGroupsReadInBrackets(t *testing.T) {
	name := func(question, value string) (string, string) {
		return strings.ToUpper(question[:1]) + question[1:], value
	}
	for source, want := range map[string]string{
		`answers.a == "x" && (answers.b || true)`:                                  "",
		`answers.a == "x" && (answers.n > 3 || answers.start < today)`:             "A is x and (N is more than 3 or Start is before today)",
		`(has(answers.a) && !has(answers.b)) || cost.once >= money("20.00")`:       "(A is answered and B is not answered) or Cost.once is at least 20.00",
		`answers.start <= addWorkdays(today, 5)`:                                   "Start is within 5 working days",
		`asker.department in ["Fleet", "Terminals"] && answers.loud == true`:       "Asker.department is one of Fleet, Terminals and Loud is yes",
		`!answers.pick.exists(p, p.item in ["card"]) && answers.zones.size() == 0`: "Pick has no card and Zones has nothing chosen",
	} {
		s, ok := rule.ParseSentence(source)
		require.Equal(t, want != "", ok, source)
		if ok {
			assert.Equal(t, want, s.Words(name))
		}
	}
}

func TestSentenceOpensAgainFromItsCEL(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.String()
		values := map[string]*rapid.Generator[string]{
			"text": text, "number": rapid.SampledFrom([]string{"0", "-3", "2.5", "7.0"}), "money": rapid.SampledFrom([]string{"12.50", "0"}),
			"date": rapid.SampledFrom([]string{"today", "2027-03-12"}), "yesNo": rapid.SampledFrom([]string{"true", "false"}),
		}
		one := []string{"is", "isNot", "less", "atMost", "more", "atLeast"}
		texts := []string{"oneOf", "notOneOf", "anyOf", "noneOf", "allOf", "picks", "picksNone"}
		bare := []string{"answered", "unanswered", "some", "none"}
		comparison := rapid.Custom(func(t *rapid.T) rule.Comparison {
			c := rule.Comparison{Question: rapid.SampledFrom([]string{"port", "zones", "asker.grade", "cost.once"}).Draw(t, "question"), As: "text", Values: []string{}}
			c.Compare = rapid.SampledFrom(slices.Concat(one, texts, bare, []string{"beginsWith", "contains", "within"})).Draw(t, "compare")
			switch {
			case slices.Contains(one, c.Compare) && rapid.Bool().Draw(t, "fact"):
				c.Fact, c.Values = true, []string{rapid.SampledFrom([]string{"start", "beneficiary.grade", "cost.monthly"}).Draw(t, "other")}
			case slices.Contains(one, c.Compare):
				c.As = rapid.SampledFrom([]string{"text", "number", "money", "date", "yesNo"}).Draw(t, "as")
				c.Values = []string{values[c.As].Draw(t, "value")}
			case slices.Contains(texts, c.Compare):
				c.Values = rapid.SliceOfN(text, 1, 4).Draw(t, "values")
			case c.Compare == "within":
				c.As, c.Values = "date", []string{rapid.SampledFrom([]string{"0", "5", "10000"}).Draw(t, "days")}
			case !slices.Contains(bare, c.Compare):
				c.Values = []string{text.Draw(t, "value")}
			}
			return c
		})
		part := rapid.Custom(func(t *rapid.T) rule.Part {
			if rapid.Bool().Draw(t, "single") {
				return rule.Part{Comparison: comparison.Draw(t, "comparison")}
			}
			return rule.Part{
				Comparison: rule.Comparison{Compare: rule.Group, Values: []string{}},
				Parts:      rapid.SliceOfN(comparison, 2, 4).Draw(t, "group"),
			}
		})
		s := rule.Sentence{Join: rapid.SampledFrom([]string{"all", "any"}).Draw(t, "join"), Parts: rapid.SliceOfN(part, 2, 5).Draw(t, "parts")}
		for i := range s.Parts { // a group joined like the whole is no group
			if s.Parts[i].Compare == rule.Group {
				s.Parts[i].Join = map[string]string{"all": "any", "any": "all"}[s.Join]
			}
		}
		source, err := s.CEL()
		if len(source) > 4000 {
			t.Skip("too long for a rule")
		}
		require.NoError(t, err)
		back, ok := rule.ParseSentence(source)
		require.True(t, ok, source)
		assert.Equal(t, s, back)
	})
}

func TestSentencesRefuseWhatIsNoValue(t *testing.T) {
	for _, c := range []rule.Comparison{
		{Question: "n", Compare: "is", As: "number", Values: []string{"three"}}, {Question: "n", Compare: "is", As: "number", Values: []string{"Inf"}},
		{Question: "n", Compare: "is", As: "number", Values: []string{"0x10"}}, {Question: "d", Compare: "less", As: "date", Values: []string{"soon"}},
		{Question: "d", Compare: "within", As: "date", Values: []string{"-1"}}, {Question: "b", Compare: "is", As: "yesNo", Values: []string{"maybe"}},
		{Question: "t", Compare: "is", As: "text"}, {Question: "t", Compare: "is", Values: []string{"a b"}, Fact: true}, {Question: "t", Compare: "oneOf", Values: []string{"a"}, Fact: true}, {Question: "t", Compare: "oneOf", As: "text"}, {Question: "t", Compare: "resembles", As: "text"},
	} {
		_, err := rule.Sentence{Join: "all", Parts: []rule.Part{{Comparison: c}}}.CEL()
		assert.Error(t, err, c)
	}
	_, err := rule.Sentence{Join: "all"}.CEL()
	assert.Error(t, err)
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
