package form_test

import (
	"fmt"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

func formOf(questions ...form.Question) *form.Form {
	env, err := rule.NewEnv(form.Scope(questions, "EUR"))
	if err != nil {
		panic(err)
	}
	return form.Compile(form.Source{Questions: questions}, price.Compile(price.List{Currency: "EUR"}, env, &finding.List{}), env, &finding.List{})
}

// What is asked hangs on what is answered.
func ExampleForm_Evaluate() {
	f := formOf(
		form.Question{Key: "night", Kind: form.YesNo, Label: "Do you work at night?"},
		form.Question{Key: "why", Kind: form.Text, Label: "Why?", Show: "answers.night", Require: "true"},
	)
	for _, night := range []bool{false, true} {
		r := f.Evaluate(coretest.Answers(map[string]any{"night": night}), values(), facts)
		fmt.Println(r.Questions[1].Shown, r.Complete, r.Missing)
	}
	// Output:
	// false true []
	// true false [why]
}

// A problem stands at its question, in a sentence.
func ExampleForm_Evaluate_problem() {
	f := formOf(form.Question{Key: "crew", Kind: form.Number, Label: "How many come?", Min: "1", Max: "12"})
	r := f.Evaluate(form.Answers{"crew": form.OfNumber(13)}, values(), facts)
	fmt.Println(r.Questions[0].Problems[0].Sentence)
	// Output: How many come? 12 is the most.
}
