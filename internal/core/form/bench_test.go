package form_test

import (
	"fmt"
	"testing"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
)

// chained makes n questions with two rules each, every one reading two others.
func chained(n int) ([]form.Question, form.Answers) {
	questions := make([]form.Question, n)
	answers := form.Answers{}
	for i := range questions {
		key := fmt.Sprintf("q%d", i)
		questions[i] = ask(key, form.Text)
		if i > 1 {
			questions[i].Show = fmt.Sprintf(`answers.q%d == "x" || has(answers.q%d)`, i-1, i-2)
			questions[i].Require = fmt.Sprintf(`answers.q%d != "y" && asker.department == "Fleet"`, i-1)
		}
		answers[key] = form.OfText("x")
	}
	return questions, answers
}

// One evaluation of a form whose questions have two rules each. The rows show
// how the cost grows with questions and rules; the aim is under a millisecond
// for 200 questions.
func BenchmarkEvaluate(b *testing.B) {
	for _, n := range []int{50, 100, 200, 400, 500} {
		b.Run(fmt.Sprintf("%d questions", n), func(b *testing.B) {
			questions, answers := chained(n)
			f, findings := compile(b, questions, price.List{})
			if len(findings) > 0 {
				b.Fatal(findings)
			}
			v := values()
			for b.Loop() {
				f.Evaluate(answers, v, facts)
			}
			b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N)/float64(3*n), "ns/question+rule")
		})
	}
}
