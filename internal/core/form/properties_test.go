package form_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
)

// secret is what hidden and locked answers say; it must reach nothing.
const secret = "the secret of a hidden answer"

// drawWhole makes a form with every sort of rule, each reading only questions
// before it, and answers; those of questions that may be hidden are secret.
func drawWhole(t *rapid.T) ([]form.Question, form.Answers) {
	var questions []form.Question
	given := form.Answers{}
	for i := range rapid.IntRange(2, 9).Draw(t, "questions") {
		key := fmt.Sprintf("q%d", i)
		q := ask(key, rapid.SampledFrom([]form.Kind{form.Text, form.Choice, form.Choices, form.Computed}).Draw(t, "kind"))
		if i == 0 {
			q.Kind, q.Choices = form.YesNo, nil
			given[key] = coretest.Answer(rapid.Bool().Draw(t, "first"))
			questions = append(questions, q)
			continue
		}
		other := fmt.Sprintf("answers.q%d", rapid.IntRange(0, i-1).Draw(t, "reads"))
		condition := rapid.SampledFrom([]string{"answers.q0", "!answers.q0", "has(" + other + ")", "!has(" + other + ")", ""})
		q.Show, q.Require, q.Lock = condition.Draw(t, "show"), condition.Draw(t, "require"), condition.Draw(t, "lock")
		switch q.Kind {
		case form.Text:
			q.Preset = rapid.SampledFrom([]string{"", `"known"`, `answers.q0 ? "yes" : "no"`}).Draw(t, "preset")
			given[key] = coretest.Answer(secret)
		case form.Choice:
			q.Offer = rapid.SampledFrom([]string{"", `choice.key != "x"`, `answers.q0 || choice.group == "late"`}).Draw(t, "offer")
			given[key] = coretest.Answer(rapid.SampledFrom([]string{"x", "y", "gone"}).Draw(t, "choice"))
		case form.Choices:
			given[key] = coretest.Answer(rapid.SliceOfDistinct(rapid.SampledFrom([]string{"x", "y", "z"}), rapid.ID).Draw(t, "choices"))
		case form.Computed:
			q.Gives, q.Lock = form.YesNo, ""
			q.Compute = rapid.SampledFrom([]string{"answers.q0", "has(" + other + ")"}).Draw(t, "compute")
		}
		questions = append(questions, q)
	}
	return questions, given
}

func TestTheOrderDoesNotMatterWithEveryRule(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		questions, given := drawWhole(t)
		forward, findings := compile(t, questions, price.List{})
		require.Empty(t, findings)
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

func TestEvaluatingTwiceEqualsOnce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		questions, given := drawWhole(t)
		f, _ := compile(t, questions, price.List{})
		first, second := f.Evaluate(given, values(), facts), f.Evaluate(given, values(), facts)
		assert.Equal(t, first.Questions, second.Questions)
		assert.Equal(t, first.Complete, second.Complete)
		again := f.Evaluate(first.Kept(), values(), facts)
		if first.Complete {
			assert.Equal(t, first.Kept(), again.Kept(), "what is sent is what was seen")
		}
	})
}

// What a client sends for a hidden, locked or computed question changes
// nothing at all.
func TestHiddenAnswersNeverLeak(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		questions, given := drawWhole(t)
		f, _ := compile(t, questions, price.List{})
		result := f.Evaluate(given, values(), facts)
		without := form.Answers{}
		for _, q := range result.Questions {
			if q.Shown && !q.Locked {
				without[q.Key] = given[q.Key]
				continue
			}
			if !q.Shown {
				assert.True(t, q.Value.None())
				assert.NotContains(t, result.Kept(), q.Key)
			}
			assert.False(t, q.Value.Equal(form.OfText(secret)))
		}
		other := f.Evaluate(without, values(), facts)
		assert.Equal(t, result.Kept(), other.Kept())
		assert.Equal(t, result.Missing, other.Missing)
		sent := f.Sent(result.Kept(), result.Price, values(), facts)
		for _, q := range result.Questions {
			if question, _ := f.Question(q.Key); !q.Shown && question.Kind != form.Choices {
				assert.Nil(t, sent.Roots["answers"][q.Key])
			}
		}
	})
}
