package form

import (
	"fmt"
	"maps"
	"slices"

	"heptad/internal/core/finding"
	"heptad/internal/core/rule"
)

// Readers say who reads the answer to a question, beside what slices and facts
// name (rules.md 9).
type Readers string

// The readers of an answer.
const (
	Everybody Readers = ""        // who sees the request
	Private   Readers = "private" // the asker, and tasks and rungs that name it, on asking; kept apart and encrypted
	ForStaff  Readers = "staff"   // not the asker's side; nobody is asked, it is computed or preset
)

// sealable are the kinds whose answers can be kept apart.
var sealable = map[Kind]bool{Text: true, LongText: true, Number: true, Date: true, DateTime: true, YesNo: true, Choice: true, Choices: true, Person: true, Location: true, Team: true, Centre: true}

// checkReaders finds readers that a question cannot have.
func checkReaders(q Question, at string, findings *finding.List) {
	switch {
	case q.Readers == Private && !sealable[q.Kind]:
		findings.Error(finding.PrivateKind, at+"/readers", fmt.Sprintf("The answer to %q cannot be private: it is a file, a table, has a price, is a belonging or is computed.", q.Label), "Ask for it as a text, number, date or choice.")
	case q.Readers == ForStaff && q.Kind != Computed && q.Preset == "":
		findings.Error(finding.NobodyAnswers, at+"/readers", fmt.Sprintf("Nobody can answer %q: the asker does not see it, and nothing computes or presets it.", q.Label), "Let it be computed, give it a preset, or show it to the asker.")
	case !slices.Contains([]Readers{Everybody, Private, ForStaff}, q.Readers):
		findings.Error(finding.Readers, at+"/readers", fmt.Sprintf("%q says not who reads an answer.", q.Readers), "Choose private or staff, or leave it out.")
	}
	for j, column := range q.Columns {
		if column.Readers != Everybody {
			findings.Error(finding.Readers, at+finding.At("columns", j, "readers"), "A column is read by who reads its table.", "Ask the question outside of the table.")
		}
	}
}

// Outer is what rules outside of the form may read: no private answer, and for
// what the asker's side reads no answer for staff either.
func Outer(scope rule.Scope, questions []Question, hidden ...Readers) rule.Scope {
	answers := maps.Clone(scope.Roots["answers"])
	for _, q := range questions {
		if slices.Contains(hidden, q.Readers) {
			delete(answers, q.Key)
		}
	}
	return scope.With("answers", answers)
}

// Apart parts answers into those that may stand anywhere and the private ones.
func (f *Form) Apart(answers Answers) (open, private Answers) {
	open, private = Answers{}, Answers{}
	for key, value := range answers {
		if q, ok := f.Question(key); ok && q.Readers == Private {
			private[key] = value
		} else {
			open[key] = value
		}
	}
	return open, private
}

// Private lists the keys of the private questions, in order.
func (f *Form) Private() []string {
	var keys []string
	for _, q := range f.questions {
		if q.Readers == Private {
			keys = append(keys, q.Key)
		}
	}
	return keys
}
