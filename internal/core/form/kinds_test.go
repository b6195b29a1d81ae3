package form_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
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
		{"date", `"2028-02-29"`, "2028-02-29"}, {"date", `"2027-02-29"`, problem}, {"date", `""`, absent}, {"date", `"tomorrow"`, problem}, {"date", `20270301`, problem},
		{"yesNo", `true`, "Yes"}, {"yesNo", `false`, "No"}, {"yesNo", `null`, absent}, {"yesNo", `"yes"`, problem}, {"yesNo", `1`, problem},
		{"choice", `"b"`, "Beta"}, {"choice", `""`, absent}, {"choice", `"Beta"`, problem}, {"choice", `["b"]`, problem},
		{"choices", `["c","a"]`, "Alpha, Gamma"}, {"choices", `["a","a"]`, "Alpha"}, {"choices", `[]`, absent}, {"choices", `["a","x"]`, problem}, {"choices", `"a"`, problem}, {"choices", `[1]`, problem},
		{"items", `[{"item":"card","quantity":2}]`, "2 × Card"}, {"items", `[]`, absent}, {"items", `[{"item":"hidden","quantity":1}]`, problem},
		{"items", `[{"item":"card","quantity":1000}]`, "1000 × Card"}, {"items", `[{"item":"card","quantity":1001}]`, problem}, {"items", `[{"item":"card"}]`, problem}, {"items", `{"item":"card","quantity":1}`, problem}, {"items", `["card"]`, problem},
	} {
		result := f.Evaluate(answers(t, `{"`+c.key+`":`+c.answer+`}`), values())
		for _, q := range result.Questions {
			if q.Key != c.key {
				assert.Nil(t, q.Value, "only %s is answered", c.key)
				continue
			}
			switch c.want {
			case absent:
				assert.Nil(t, q.Value, "%s %s", c.key, c.answer)
				assert.Empty(t, q.Problems, "%s %s", c.key, c.answer)
			case problem:
				assert.Nil(t, q.Value, "%s %s", c.key, c.answer)
				if assert.Len(t, q.Problems, 1, "%s %s", c.key, c.answer) {
					assert.Equal(t, "invalid", q.Problems[0].Code)
					assert.Regexp(t, `^(Text|Short|Long|Number|Date|Yes or no|Choices?|Items): .*\.$`, q.Problems[0].Sentence, "it names its question")
				}
			default:
				assert.Empty(t, q.Problems, "%s %s", c.key, c.answer)
				assert.Equal(t, c.want, f.Show(c.key, q.Value))
			}
		}
	}
}

func TestOnlyWhatIsAskedLeaves(t *testing.T) {
	kept := every(t).Evaluate(answers(t, `{"text":" x ","number":"no","choices":["b","a"],"stranger":1,"items":[]}`), values()).Kept()
	assert.Equal(t, form.Answers{"text": "x", "choices": []string{"a", "b"}}, kept)
}

func TestShowOfWhatIsNotThere(t *testing.T) {
	f := every(t)
	assert.Empty(t, f.Show("stranger", "x"))
	assert.Empty(t, f.Show("text", nil))
	assert.Empty(t, f.Show("choice", "gone"))
}
