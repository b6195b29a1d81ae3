package work

import (
	"context"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/refusal"
)

// Survey tells who of the company is in the audience of an offering of the
// person: who may ask, or who finds it, or for whom a given person may ask.
func (w *Designing) Survey(ctx context.Context, person, key, which, asker string, wanted audience.Wanted) (audience.Surveyed, error) {
	opened, err := w.latest(ctx, w.Store, person, key)
	if err != nil {
		return audience.Surveyed{}, err
	}
	findings := finding.List{}
	compiled := audience.Compile(opened.Document.Audience, &findings)
	if findings.HasErrors() {
		return audience.Surveyed{}, invalid(refusal.Unusable, "/"+which, "%s", findings[0].Sentence)
	}
	switch which {
	case "see":
		return audience.Survey(w.Company(), wanted, compiled.Sees), nil
	case "for":
		by := w.audiencePerson(asker)
		if by.ID == "" {
			return audience.Surveyed{}, invalid(refusal.UnknownPerson, "/asker", "There is no such person.")
		}
		return audience.Survey(w.Company(), wanted, func(p audience.Person) (bool, string) { return compiled.MayAskFor(by, p) }), nil
	}
	return audience.Survey(w.Company(), wanted, compiled.MayAsk), nil
}
