package rehearse

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/script"
)

// Tried is how a case went.
type Tried struct {
	Name      string       `json:"name"`
	Passed    bool         `json:"passed"`
	Trouble   string       `json:"trouble,omitempty" doc:"It could not be run"`
	Different []Difference `json:"different" nullable:"false"`

	Life *Life `json:"-"` // nil when it could not be run
}

// Words say in a sentence how a case failed; empty when it passed.
func (t Tried) Words() string {
	switch {
	case t.Passed:
		return ""
	case t.Trouble != "":
		return fmt.Sprintf("The case %q cannot be run: %s", t.Name, t.Trouble)
	case len(t.Different) == 1:
		return fmt.Sprintf("The case %q fails: %s", t.Name, t.Different[0].Sentence)
	}
	return fmt.Sprintf("The case %q fails: %s And %d more.", t.Name, t.Different[0].Sentence, len(t.Different)-1)
}

// Try runs a case of a document on what the case carries. The company is only for cases
// that do not stand alone, and may be nil.
func Try(d offering.Document, c script.Case, company *people.Directory, connectors []plan.Connector) Tried {
	return TryOn(Carried(d, company, connectors), c)
}

// TryOn runs a case on a ground.
func TryOn(g Ground, c script.Case) Tried {
	out := Tried{Name: c.Name, Different: []Difference{}}
	life, err := Run(g, c.Script)
	if err != nil {
		out.Trouble = troubleOf(err)
		return out
	}
	for _, key := range slices.Sorted(maps.Keys(c.Script.Answers)) {
		if _, asked := life.Offering.Form.Question(key); !asked {
			out.Different = append(out.Different, Difference{Place: "/script/answers/" + key, Expected: "asked", Is: "not asked", Sentence: fmt.Sprintf("It answers %q, which the offering no longer asks.", key)})
		}
	}
	result := life.Result()
	out.Life = life
	if life.End == Unsent && c.Expect["end"] != string(Unsent) {
		out.Different = append(out.Different, unsent(result))
	} else {
		out.Different = append(out.Different, Compare(c.Expect, result, life.Company)...)
	}
	out.Passed = len(out.Different) == 0
	return out
}

// unsent says that what was to be sent cannot be: then nothing else is to be compared.
func unsent(r Rehearsed) Difference {
	words := ""
	for _, refused := range r.Refused {
		words = refused.Sentence
		for i, detail := range refused.Details {
			_, sentence, _ := strings.Cut(detail, ": ")
			if i == 0 {
				words = sentence
			} else {
				words += " " + sentence
			}
		}
	}
	return Difference{Place: "/end", Expected: "sent", Is: "not sent", Sentence: "It cannot be sent now: " + words, at: []step{{field: "end"}}, is: string(Unsent)}
}

func troubleOf(err error) string {
	var wrong *script.Wrong
	if errors.As(err, &wrong) && wrong.Line >= 0 {
		return fmt.Sprintf("In line %d of its script: %s", wrong.Line+1, wrong.Sentence)
	}
	return err.Error()
}

// Carried is the ground of a script that carries what it stands on.
func Carried(d offering.Document, company *people.Directory, connectors []plan.Connector) Ground {
	return Ground{
		Company: company, Connectors: connectors,
		Compile: func(in *people.Directory) (*offering.Compiled, finding.List) {
			return offering.Compile(d, 1, offering.Company{Directory: in, Connectors: connectors})
		},
	}
}

// TryAll runs all cases of a document, in order.
func TryAll(d offering.Document, company *people.Directory, connectors []plan.Connector) []Tried {
	out := make([]Tried, len(d.Cases))
	for i, c := range d.Cases {
		out[i] = Try(d, c, company, connectors)
	}
	return out
}

// Kept is the script of a life as one that stands on its own, with what came of it when it
// was run again on what it carries. The error is a *script.Wrong.
func (l *Life) Kept(calendars map[string]calendar.Document, connectors []plan.Connector) (script.Script, Rehearsed, error) {
	s := l.Alone(calendars)
	again, err := Run(Carried(l.Offering.Document, nil, connectors), s)
	if err != nil {
		return s, Rehearsed{}, err
	}
	return s, again.Result(), nil
}
