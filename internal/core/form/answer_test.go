package form_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
)

// What is worked out and what was read from JSON are one and the same.
func TestAnAnswerHasOneForm(t *testing.T) {
	pick := price.Pick{Item: "card", Quantity: 2, Options: map[string]string{"colour": "red"}, Extras: []price.PickedExtra{{Extra: "cord", Quantity: 2}}}
	file := form.Upload{ID: "u1", Name: "deck.png", Type: "image/png", Size: 2_000_000_000}
	for text, made := range map[string]form.Answer{
		`null`:        {},
		`"Sankt Orm"`: form.OfText("Sankt Orm"),
		`-0.25`:       form.OfNumber(-0.25),
		`false`:       form.OfYesNo(false),
		`["a","b"]`:   form.OfTexts([]string{"a", "b"}),
		`[]`:          form.OfTexts(nil),
		`[{"extras":[{"extra":"cord","quantity":2}],"item":"card","options":{"colour":"red"},"quantity":2},{"item":"fob","quantity":1}]`: form.OfPicks([]price.Pick{pick, {Item: "fob", Quantity: 1}}),
		`[{"id":"u1","name":"deck.png","size":2000000000,"type":"image/png"}]`:                                                           form.OfFiles([]form.Upload{file}),
		`[{"kind":"x","n":null},{}]`: form.OfRows([]form.Answers{{"kind": form.OfText("x"), "n": {}}, {}}),
	} {
		var read form.Answer
		require.NoError(t, json.Unmarshal([]byte(text), &read))
		assert.Equal(t, made, read, text)
		assert.True(t, made.Equal(read), text)
		assert.Equal(t, text, made.String())
		assert.Equal(t, text == "null", read.None())
	}
	picks, ok := form.OfPicks([]price.Pick{pick}).Picks()
	assert.True(t, ok)
	assert.Equal(t, []price.Pick{pick}, picks)
	files, ok := form.OfFiles([]form.Upload{file}).Files()
	assert.True(t, ok)
	assert.Equal(t, []form.Upload{file}, files)
}

// An answer is read as nothing that it is not.
func TestAnAnswerIsReadAsItIs(t *testing.T) {
	for text, is := range map[string]string{
		`null`: "rows", `"a"`: "text", `1`: "number", `true`: "yesNo", `["a"]`: "texts", `["a",1]`: "", `{"a":1}`: "",
		`[]`: "texts rows picks files", `[{"item":"a","quantity":1}]`: "rows picks files", `[{"item":"a","quantity":"x"}]`: "rows files", `[["a"]]`: "",
	} {
		a := func() (a form.Answer) {
			require.NoError(t, json.Unmarshal([]byte(text), &a))
			return a
		}()
		read := ""
		for _, as := range []struct {
			name string
			ok   func() bool
		}{
			{"text", func() bool { _, ok := a.Text(); return ok }},
			{"number", func() bool { _, ok := a.Number(); return ok }},
			{"yesNo", func() bool { _, ok := a.YesNo(); return ok }},
			{"texts", func() bool { _, ok := a.Texts(); return ok }},
			{"rows", func() bool { _, ok := a.Rows(); return ok }},
			{"picks", func() bool { _, ok := a.Picks(); return ok }},
			{"files", func() bool { _, ok := a.Files(); return ok }},
		} {
			if as.ok() && read != "" {
				read += " "
			}
			if as.ok() {
				read += as.name
			}
		}
		assert.Equal(t, is, read, text)
	}
}

// Answers read back as they were written, whatever they are; changing their texts
// changes nothing else.
func TestAnswersReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		answers := coretest.Answers(map[string]any{
			"a": drawAny(t, 3), "b": drawAny(t, 3), "c": drawAny(t, 1),
		})
		data, err := json.Marshal(answers)
		require.NoError(t, err)
		var again form.Answers
		require.NoError(t, json.Unmarshal(data, &again))
		assert.Equal(t, answers, again)
		assert.Empty(t, answers.Changed(again))
		assert.Equal(t, answers, answers.Changing(func(text string) string { return text }))
		delete(again, "b")
		again["a"] = form.OfText("\x00 unlike all others")
		assert.Equal(t, []string{"a", "b"}, answers.Changed(again))
	})
}

func drawAny(t *rapid.T, depth int) any {
	switch kind := rapid.IntRange(0, 3+2*min(depth, 1)).Draw(t, "kind"); kind {
	case 0:
		return nil
	case 1:
		return rapid.StringMatching(`[a-z<&" é]{0,8}`).Draw(t, "text")
	case 2:
		return rapid.Float64Range(-1e9, 1e9).Draw(t, "number")
	case 3:
		return rapid.Bool().Draw(t, "yes")
	case 4:
		list := make([]any, rapid.IntRange(0, 3).Draw(t, "long"))
		for i := range list {
			list[i] = drawAny(t, depth-1)
		}
		return list
	}
	fields := map[string]any{}
	for range rapid.IntRange(0, 3).Draw(t, "fields") {
		fields[rapid.StringMatching(`[a-c]`).Draw(t, "key")] = drawAny(t, depth-1)
	}
	return fields
}
