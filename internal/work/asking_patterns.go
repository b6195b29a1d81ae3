package work

import (
	"context"
	"slices"

	"heptad/internal/core/form"
	"heptad/internal/core/request"
)

// Pattern is an earlier request whose answers can fill a form.
type Pattern struct {
	State   request.State
	Answers form.Answers
}

// mostPatterns is how many earlier requests are offered as a pattern.
const mostPatterns = 6

// Patterns lists what was asked for before for the same person, or for people of the same
// place and department, to fill a form with, to whom may ask for others. Only what the reader
// sees the whole of is offered, and of that no private answer and no file.
func (w *Asking) Patterns(ctx context.Context, person, key, whom string) ([]Pattern, error) {
	c, err := w.askable(ctx, person, key)
	if err != nil {
		return nil, err
	}
	asker, _ := w.Company().Person(person)
	p, ok := w.Company().Person(whom)
	if !ok || whom == person || !w.mayForOthers(c, asker) {
		return nil, ErrNotFound
	}
	sight := sightOf(w.kernel, person)
	sight.Teams = nil // of a task alone nobody sees the whole
	ids, err := w.Store.PatternsOf(ctx, sight, key, whom, p.Department, p.Location, mostPatterns)
	if err != nil {
		return nil, err
	}
	var all []Pattern
	for _, id := range ids {
		s, err := w.Store.Request(ctx, id)
		if err != nil {
			return nil, err
		}
		old, err := w.numbered(ctx, w.Store, s.Offering, s.Version)
		if err != nil {
			return nil, err
		}
		v := w.Viewer(person, s)
		if !v.SeesRequest() {
			continue
		}
		pattern := Pattern{s, form.Answers{}}
		for _, q := range old.Document.Questions {
			now, still := c.Form.Question(q.Key)
			answer, given := s.Answers[q.Key]
			of := slices.Contains([]form.Kind{form.File, form.Computed, form.Belonging}, q.Kind) // theirs alone
			if still && given && now.Kind == q.Kind && !of && v.Whole().Of(q) == request.Open {
				pattern.Answers[q.Key] = answer
			}
		}
		all = append(all, pattern)
	}
	return all, nil
}
