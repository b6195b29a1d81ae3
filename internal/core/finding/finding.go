// Package finding holds the results of examining an offering: what is wrong,
// where, and how to mend it. It does not examine anything itself.
package finding

import "strconv"

// Severity says whether a finding stops publishing.
type Severity string

// Errors stop publishing, warnings must be accepted by name, hints are advice.
const (
	Error   Severity = "error"
	Warning Severity = "warning"
	Hint    Severity = "hint"
)

// All lists them in their order.
func (Severity) All() []Severity { return []Severity{Error, Warning, Hint} }

// Finding is one result of the examination of an offering.
type Finding struct {
	Code     string   `json:"code" doc:"Stable name of the kind of finding"`
	Severity Severity `json:"severity"`
	Place    string   `json:"place" doc:"Where in the offering: a JSON Pointer (RFC 6901)"`
	Sentence string   `json:"sentence" doc:"What is wrong, for the owner of the offering"`
	Mend     string   `json:"mend,omitempty" doc:"What to do about it"`
}

// List gathers findings in the order they are met.
type List []Finding

// Error adds an error at a place; mend may be empty.
func (l *List) Error(code, place, sentence, mend string) {
	*l = append(*l, Finding{code, Error, place, sentence, mend})
}

// Warning adds a warning at a place.
func (l *List) Warning(code, place, sentence, mend string) {
	*l = append(*l, Finding{code, Warning, place, sentence, mend})
}

// Hint adds advice about a place.
func (l *List) Hint(code, place, sentence, mend string) {
	*l = append(*l, Finding{code, Hint, place, sentence, mend})
}

// Name tells findings of one list apart, for accepting them by name.
func (f Finding) Name() string { return f.Code + " " + f.Place }

// HasErrors reports whether any finding stops publishing.
func (l List) HasErrors() bool {
	for _, f := range l {
		if f.Severity == Error {
			return true
		}
	}
	return false
}

// At builds a JSON Pointer from keys and indexes. Keys of offerings hold no
// characters that a pointer must escape.
func At(steps ...any) string {
	place := ""
	for _, step := range steps {
		switch s := step.(type) {
		case int:
			place += "/" + strconv.Itoa(s)
		case string:
			place += "/" + s
		}
	}
	return place
}
