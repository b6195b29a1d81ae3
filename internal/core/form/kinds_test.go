package form_test

import (
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// every is a form with one question of each kind.
func every(t *testing.T) *form.Form {
	options := []form.Option{{Key: "a", Label: "Alpha"}, {Key: "b", Label: "Beta"}, {Key: "c", Label: "Gamma"}}
	f, findings := compile(t, []form.Question{
		{Key: "text", Kind: form.Text, Label: "Text"},
		{Key: "short", Kind: form.Text, Label: "Short", MaxLength: 3},
		{Key: "long", Kind: form.LongText, Label: "Long"},
		{Key: "number", Kind: form.Number, Label: "Number"},
		{Key: "date", Kind: form.Date, Label: "Date"},
		{Key: "yesNo", Kind: form.YesNo, Label: "Yes or no"},
		{Key: "choice", Kind: form.Choice, Label: "Choice", Choices: options},
		{Key: "choices", Kind: form.Choices, Label: "Choices", Choices: options},
		{Key: "items", Kind: form.Items, Label: "Items", Items: []string{"card"}},
		{Key: "coded", Kind: form.Text, Label: "Coded", Pattern: `[A-Z]{2}-\d+`, Example: "QS-12", MinLength: 4},
		{Key: "stepped", Kind: form.Number, Label: "Stepped", Min: "0.5", Max: "3", Step: "0.1"},
		{Key: "sum", Kind: form.Money, Label: "Sum", Min: "1.00", Max: "99.50"},
		{Key: "day", Kind: form.Date, Label: "Day", Min: "2027-01-01", Max: "2027-12-31"},
		{Key: "soon", Kind: form.Date, Label: "Soon", Min: "today-1", Max: "today + 2"},
		{Key: "moment", Kind: form.DateTime, Label: "Moment"},
		{Key: "two", Kind: form.Choices, Label: "Two", Choices: options, MinCount: 2, MaxCount: 2},
		{Key: "person", Kind: form.Person, Label: "Person"},
		{Key: "team", Kind: form.Team, Label: "Team"},
		{Key: "place", Kind: form.Location, Label: "Place"},
		{Key: "thing", Kind: form.Belonging, Label: "Thing"},
		{Key: "file", Kind: form.File, Label: "File", FileTypes: []string{"image/png"}, MaxSize: 2, MaxCount: 2},
		{Key: "table", Kind: form.Table, Label: "Table", MaxCount: 2, Columns: []form.Question{
			{Key: "name", Kind: form.Text, Label: "Name", Require: "true"}, {Key: "kind", Kind: form.Choice, Label: "Kind", Short: "Sort", Choices: options},
		}},
	}, price.List{Currency: "EUR", List: []price.Item{{Key: "card", Name: "Card", Price: price.Charge{Amount: "1.00", Per: price.Once}}, {Key: "hidden", Name: "Hidden", Price: price.Charge{Amount: "1.00", Per: price.Once}}}})
	require.Empty(t, findings)
	return f
}

// What counts as an answer of each kind, what is absent, what is a problem,
// and how it reads.
func TestKinds(t *testing.T) {
	f := every(t)
	const absent, problem = "absent", "problem"
	for _, c := range []struct{ key, answer, want string }{
		{"text", `"  Berth 4 "`, "Berth 4"}, {"text", `""`, absent}, {"text", `" \t\n"`, absent}, {"text", `null`, absent},
		{"text", `7`, problem}, {"text", `["x"]`, problem}, {"text", `"` + strings.Repeat("x", 200) + `"`, strings.Repeat("x", 200)}, {"text", `"` + strings.Repeat("x", 201) + `"`, problem},
		{"short", `"abc"`, "abc"}, {"short", `"abcd"`, problem}, {"short", `"åäö"`, "åäö"}, {"short", `" abc "`, "abc"},
		{"long", `"` + strings.Repeat("x", 4000) + `"`, strings.Repeat("x", 4000)}, {"long", `"` + strings.Repeat("x", 4001) + `"`, problem}, {"long", `"two\nlines"`, "two\nlines"},
		{"number", `3`, "3"}, {"number", `-2.5`, "-2.5"}, {"number", `0`, "0"}, {"number", `1e15`, "1000000000000000"}, {"number", `1e16`, problem}, {"number", `"3"`, problem}, {"number", `null`, absent},
		{"date", `"2028-02-29"`, "29 February 2028"}, {"date", `"2027-02-29"`, problem}, {"date", `""`, absent}, {"date", `"tomorrow"`, problem}, {"date", `20270301`, problem},
		{"yesNo", `true`, "Yes"}, {"yesNo", `false`, "No"}, {"yesNo", `null`, absent}, {"yesNo", `"yes"`, problem}, {"yesNo", `1`, problem},
		{"choice", `"b"`, "Beta"}, {"choice", `""`, absent}, {"choice", `"Beta"`, problem}, {"choice", `["b"]`, problem},
		{"choices", `["c","a"]`, "Alpha, Gamma"}, {"choices", `["a","a"]`, "Alpha"}, {"choices", `[]`, absent}, {"choices", `["a","x"]`, problem}, {"choices", `"a"`, problem}, {"choices", `[1]`, problem},
		{"items", `[{"item":"card","quantity":2}]`, "2 × Card"}, {"items", `[]`, absent}, {"items", `[{"item":"hidden","quantity":1}]`, problem},
		{"items", `[{"item":"card","quantity":1000}]`, "1000 × Card"}, {"items", `[{"item":"card","quantity":1001}]`, problem}, {"items", `[{"item":"card"}]`, problem}, {"items", `{"item":"card","quantity":1}`, problem}, {"items", `["card"]`, problem},
		{"coded", `"QS-41"`, "QS-41"}, {"coded", `"xQS-41"`, problem}, {"coded", `"QS-"`, problem}, {"coded", `"qs-41"`, problem},
		{"stepped", `0.5`, "0.5"}, {"stepped", `0.8`, "0.8"}, {"stepped", `3`, "3"}, {"stepped", `0.85`, problem}, {"stepped", `0.4`, problem}, {"stepped", `3.1`, problem},
		{"sum", `"12.50"`, "EUR 12.50"}, {"sum", `"1"`, "EUR 1.00"}, {"sum", `"0.99"`, problem}, {"sum", `"99.51"`, problem}, {"sum", `"12.505"`, problem}, {"sum", `12.5`, problem}, {"sum", `""`, absent},
		{"day", `"2027-01-01"`, "1 January 2027"}, {"day", `"2026-12-31"`, problem}, {"day", `"2028-01-01"`, problem},
		{"soon", `"2027-03-11"`, "11 March 2027"}, {"soon", `"2027-03-10"`, problem}, {"soon", `"2027-03-14"`, "14 March 2027"}, {"soon", `"2027-03-15"`, problem},
		{"moment", `"2027-03-12T10:30:00+01:00"`, "12 March 2027, 09:30 UTC"}, {"moment", `"2027-03-12T10:30"`, problem}, {"moment", `"2027-03-12"`, problem}, {"moment", `""`, absent},
		{"two", `["a","b"]`, "Alpha, Beta"}, {"two", `["a"]`, problem}, {"two", `["a","b","c"]`, problem}, {"two", `[]`, absent},
		{"person", `"kira"`, "Kira Matsuda"}, {"person", `"gone"`, problem}, {"person", `"nobody"`, problem}, {"person", `{"login":"kira"}`, problem}, {"person", `""`, absent},
		{"team", `"keys"`, "Keys & Badges"}, {"team", `"moon"`, problem}, {"place", `"MV Grey Heron"`, "MV Grey Heron"}, {"place", `"Moon"`, problem},
		{"thing", `"b1"`, "b1"}, {"thing", `"b9"`, problem},
		{"file", `[{"id":"u1","name":"deck.png","type":"image/png","size":2000}]`, "deck.png"}, {"file", `[{"id":"u1","name":"deck.png","type":"image/png","size":2001}]`, problem},
		{"file", `[{"id":"u1","name":"deck.pdf","type":"application/pdf","size":20}]`, problem}, {"file", `[]`, absent}, {"file", `"deck.png"`, problem}, {"file", `[{"name":7}]`, problem},
		{"table", `[{"name":"Deck","kind":"a"},{"name":"Bridge"}]`, "Name Deck, Sort Alpha; Name Bridge"}, {"table", `[]`, absent}, {"table", `null`, absent},
		{"table", `{"name":"Deck"}`, problem}, {"table", `["Deck"]`, problem},
	} {
		result := f.Evaluate(answers(t, `{"`+c.key+`":`+c.answer+`}`), values(), facts)
		for _, q := range result.Questions {
			if q.Key != c.key {
				assert.True(t, q.Value.None(), "only %s is answered", c.key)
				continue
			}
			switch c.want {
			case absent:
				assert.True(t, q.Value.None(), "%s %s", c.key, c.answer)
				assert.Empty(t, q.Problems, "%s %s", c.key, c.answer)
			case problem:
				assert.True(t, q.Value.None(), "%s %s", c.key, c.answer)
				if assert.Len(t, q.Problems, 1, "%s %s", c.key, c.answer) {
					assert.Equal(t, refusal.Invalid, q.Problems[0].Code)
					assert.Regexp(t, `^(Text|Short|Long|Number|Date|Yes or no|Choices?|Items|Coded|Stepped|Sum|Day|Soon|Moment|Two|Person|Team|Place|Thing|File|Table): .*\.$`, q.Problems[0].Sentence, "it names its question")
				}
			default:
				assert.Empty(t, q.Problems, "%s %s", c.key, c.answer)
				assert.Equal(t, c.want, f.Show(c.key, q.Value, form.Facts{Company: directory}, time.UTC))
			}
		}
	}
}

func TestOnlyWhatIsAskedLeaves(t *testing.T) {
	kept := every(t).Evaluate(answers(t, `{"text":" x ","number":"no","choices":["b","a"],"stranger":1,"items":[]}`), values(), facts).Kept()
	assert.Equal(t, coretest.Answers(map[string]any{"text": "x", "choices": []string{"a", "b"}}), kept, "no hidden, empty or unknown ones")
}

func TestShowOfWhatIsNotThere(t *testing.T) {
	f := every(t)
	assert.Empty(t, f.Show("stranger", coretest.Answer("x"), form.Facts{Company: directory}, time.UTC))
	assert.Empty(t, f.Show("text", coretest.Answer(nil), form.Facts{Company: directory}, time.UTC))
	assert.Equal(t, "gone", f.Show("choice", coretest.Answer("gone"), form.Facts{Company: directory}, time.UTC), "what it was, when it is no longer offered")
}

// The format, the fields of questions and the page know the kinds of the one list.
func TestKindsAreOneList(t *testing.T) {
	fields := map[string]reflect.StructField{}
	for f := range reflect.TypeFor[form.Question]().Fields() {
		name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
		fields[name] = f
	}
	var gives []string
	names := map[string]bool{}
	for _, k := range form.Kinds() {
		if k.Gives {
			gives = append(gives, string(k.Kind))
		}
		for _, name := range k.Called() {
			assert.False(t, names[strings.ToLower(name)], "%s is called twice", name)
			names[strings.ToLower(name)] = true
		}
		for _, field := range k.Has {
			assert.Contains(t, fields, field, k.Kind)
		}
		assert.True(t, slices.ContainsFunc(rule.Sorts(), func(s rule.Sort) bool { return s.Key == k.Sort }), k.Kind)
		assert.Equal(t, k.Name, k.Kind.Info().Name)
	}
	assert.Equal(t, fields["gives"].Tag.Get("enum"), strings.Join(gives, ","))
	assert.Empty(t, form.Kind("moon").Info().Name)
}
