package form

import (
	"fmt"
	"strings"

	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Answers are the answers as they travel in JSON, by the key of the question:
// text for text, dates and one choice; number; bool; a list of texts for
// several choices; a list of {item, quantity} for picks.
type Answers map[string]any

// Problem is something wrong with one answer.
type Problem struct {
	Code     string `json:"code"`
	Sentence string `json:"sentence"`
}

// QuestionResult is what evaluation says of one question.
type QuestionResult struct {
	Key      string    `json:"key"`
	Shown    bool      `json:"shown"`
	Required bool      `json:"required"`
	Value    any       `json:"value" doc:"The answer that counts; null when there is none"`
	Problems []Problem `json:"problems" nullable:"false"`
	Reason   string    `json:"reason,omitempty" doc:"Why it is shown or hidden, when a rule says so"`
}

// Result is what evaluation says of a whole form.
type Result struct {
	Questions []QuestionResult `json:"questions" nullable:"false"`
	Complete  bool             `json:"complete"`
	Missing   []string         `json:"missing" nullable:"false" doc:"Keys of required questions without an answer, in order"`
	Price     price.Price      `json:"price"`
	Values    rule.Values      `json:"-"`
}

// Evaluate works out the form. values holds the asker, now and today; answers
// to hidden or unknown questions are ignored.
func (f *Form) Evaluate(answers Answers, values rule.Values) Result {
	given := rule.Record{}
	roots := map[string]rule.Record{"answers": given}
	for name, record := range values.Roots {
		roots[name] = record
	}
	values.Roots = roots
	run := evaluation{form: f, answers: answers, given: given, picks: map[int][]price.Pick{}, values: values, results: make([]QuestionResult, len(f.questions))}
	run.refreshCost()
	for _, i := range f.order {
		run.question(i)
	}
	result := Result{Questions: run.results, Missing: []string{}, Complete: true, Price: run.price(), Values: run.values}
	for _, q := range run.results {
		for _, p := range q.Problems {
			result.Complete = false
			if p.Code == "required" {
				result.Missing = append(result.Missing, q.Key)
			}
		}
	}
	return result
}

// Kept gives the answers that count, as they leave on sending.
func (r Result) Kept() Answers {
	kept := Answers{}
	for _, q := range r.Questions {
		if q.Value != nil {
			kept[q.Key] = q.Value
		}
	}
	return kept
}

type evaluation struct {
	form    *Form
	answers Answers
	given   rule.Record // answers that count, as rules read them
	picks   map[int][]price.Pick
	values  rule.Values
	results []QuestionResult
}

func (e *evaluation) question(i int) {
	q := &e.form.questions[i]
	r := QuestionResult{Key: q.Key, Problems: []Problem{}}
	defer func() { e.results[i] = r }()
	r.Shown = e.holds(&r, q.show, true)
	r.Reason = q.reason(r.Shown)
	if !r.Shown {
		if q.Kind == Choices {
			e.given[q.Key] = rule.OfTexts(nil)
		}
		return
	}
	r.Required = e.holds(&r, q.require, false)
	e.read(q, i, &r)
	if r.Value == nil {
		if r.Required && len(r.Problems) == 0 {
			r.Problems = append(r.Problems, Problem{"required", q.says("an answer is needed.")})
		}
		return
	}
	for _, c := range q.checks {
		good, err := c.rule.Holds(e.values, true)
		switch {
		case err != nil:
			r.Problems = append(r.Problems, fault(err))
		case !good:
			r.Problems = append(r.Problems, Problem{"check", c.message})
		}
	}
}

// holds runs a show or require rule; absence makes it false, a missing rule
// has the given result.
func (e *evaluation) holds(r *QuestionResult, rule *rule.Rule, without bool) bool {
	if rule == nil {
		return without
	}
	yes, err := rule.Holds(e.values, false)
	if err != nil {
		r.Problems = append(r.Problems, fault(err))
	}
	return yes
}

func fault(err error) Problem {
	return Problem{"fault", "This offering has a fault, and its owner has to mend it: " + err.Error() + "."}
}

// read takes the answer to a question in, when it is a good one.
func (e *evaluation) read(q *question, i int, r *QuestionResult) {
	value, plain, problem := q.parse(e.answers[q.Key])
	if problem != "" {
		r.Problems = append(r.Problems, Problem{"invalid", problem})
	}
	if value != nil {
		e.given[q.Key] = value
	}
	r.Value = plain
	if picks, ok := plain.([]price.Pick); ok {
		e.picks[i] = picks
		e.refreshCost()
	}
}

// refreshCost sets the cost as far as it is known; the order of evaluation
// sees to it that all picks are known to a rule that reads it.
func (e *evaluation) refreshCost() {
	e.values.Roots["cost"] = costRecord(e.price())
}

// costRecord is a price as rules read it.
func costRecord(p price.Price) rule.Record {
	return rule.Record{
		"once": rule.OfMoney(p.Once), "monthly": rule.OfMoney(p.Monthly),
		"yearly": rule.OfMoney(p.Yearly), "firstYear": rule.OfMoney(p.FirstYear),
	}
}

func (e *evaluation) price() price.Price {
	var all []price.Pick
	for i := range e.form.questions {
		all = append(all, e.picks[i]...)
	}
	return e.form.catalog.Of(all)
}

// reason says in words why a question with a show rule is shown or hidden.
func (q *question) reason(shown bool) string {
	if q.show == nil {
		return ""
	}
	if shown {
		return "Shown because " + q.when + "."
	}
	return "Hidden until " + q.when + "."
}

// inWords gives a rule as a sentence when it reads as one, else as it is.
func (f *Form) inWords(source string) string {
	if s, ok := rule.ParseSentence(source); ok {
		return s.Words(f.words)
	}
	return source
}

// words gives the label of a question and of one of its values.
func (f *Form) words(key, value string) (string, string) {
	i, ok := f.index[key]
	if !ok {
		return key, value
	}
	return f.questions[i].Label, f.questions[i].labels[value]
}

// Question finds a question by its key.
func (f *Form) Question(key string) (Question, bool) {
	i, ok := f.index[key]
	if !ok {
		return Question{}, false
	}
	return f.questions[i].Question, true
}

// Show gives an answer in words, with the labels of choices and items.
func (f *Form) Show(key string, answer any) string {
	i, ok := f.index[key]
	if !ok {
		return ""
	}
	q := &f.questions[i]
	_, plain, _ := q.parse(answer)
	switch x := plain.(type) {
	case []string:
		labels := make([]string, len(x))
		for j, v := range x {
			labels[j] = q.labels[v]
		}
		return strings.Join(labels, ", ")
	case []price.Pick:
		labels := make([]string, len(x))
		for j, p := range x {
			labels[j] = fmt.Sprintf("%d × %s", p.Quantity, q.labels[p.Item])
		}
		return strings.Join(labels, ", ")
	case string:
		if q.Kind == Choice {
			return q.labels[x]
		}
		return x
	case bool:
		if x {
			return "Yes"
		}
		return "No"
	case float64:
		return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%f", x), "0"), ".")
	}
	return ""
}

// Sent gives what rules read once a request is sent: the answers as they were
// kept and their price. No rule of the form runs again.
func (f *Form) Sent(answers Answers, paid price.Price, values rule.Values) rule.Values {
	given := rule.Record{}
	for i := range f.questions {
		q := &f.questions[i]
		if value, _, _ := q.parse(answers[q.Key]); value != nil {
			given[q.Key] = value
		}
	}
	roots := map[string]rule.Record{"answers": given, "cost": costRecord(paid)}
	for name, record := range values.Roots {
		roots[name] = record
	}
	values.Roots = roots
	return values
}
