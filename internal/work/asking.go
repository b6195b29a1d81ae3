package work

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Asking opens, fills and sends forms, and finds what can be asked for.
type Asking struct {
	*kernel
	others   cache[forOthers, bool]
	searched cache[struct{}, *searched]   // the catalog, ready to be searched
	used     cache[string, []store.Usage] // by department
	learned  atomic.Uint64                // counts the words that the search has learned
}

// Form is an offering opened by somebody who may ask for it.
type Form struct {
	Offering   *offering.Compiled
	Draft      string // ID of the request, empty before anything is typed
	Answers    form.Answers
	For        offering.Beneficiary
	Belongings []people.Belonging // of the beneficiary
	SavedAt    time.Time          // of the draft
	ForOthers  bool               // there is somebody else for whom they may ask
	Notices    []string           // what has changed since the request it is taken from
	Returned   *request.State     // the request it belongs to, while that waits for an answer
	Evaluated  Evaluated
}

// askable gives the current version of an offering that a person may ask for.
func (w *Asking) askable(ctx context.Context, person, key string) (*offering.Compiled, error) {
	c, err := w.current(ctx, w.Store, key)
	if err != nil {
		return nil, err
	}
	if ok, _ := c.Audience.MayAsk(w.audiencePerson(person)); !ok || c.Audience.Inner {
		return nil, ErrNotFound
	}
	return c, nil
}

// OpenForm opens an offering for a person, with what they typed before, or else
// with answers that brought them here. It begins no draft.
func (w *Asking) OpenForm(ctx context.Context, person, key string, given form.Answers) (Form, error) {
	c, err := w.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: form.Answers{}}
	f.Draft, err = w.Store.DraftOf(ctx, person, key)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Form{}, err
	}
	if f.Draft != "" {
		typed, err := w.typed(ctx, f.Draft)
		if err != nil {
			return Form{}, err
		}
		f.Answers, f.For, f.SavedAt = typed.Answers, typed.For, typed.SavedAt
		if err := w.fill(ctx, &f, person); err != nil {
			return Form{}, err
		}
		if 0 < typed.Version && typed.Version < c.Version {
			old, err := w.Version(ctx, key, typed.Version)
			if err != nil {
				return Form{}, err
			}
			f.Notices = append([]string{"The offering has changed since you began."}, changedSince(old, c, request.State{Answers: f.Answers}, f)...)
		}
		return f, nil
	}
	if given != nil {
		f.Answers = given
	}
	return f, w.fill(ctx, &f, person)
}

// fill works out a form that was opened.
func (w *Asking) fill(ctx context.Context, f *Form, person string) error {
	parties, err := w.parties(ctx, w.Store, f.Offering, person, f.For)
	if err != nil {
		return err
	}
	facts := parties.Facts()
	if facts.Files, err = w.files(ctx, w.Store, f.Offering, f.Draft); err != nil {
		return err
	}
	f.ForOthers = w.mayForOthers(f.Offering, parties.Asker)
	f.For, f.Belongings = parties.Beneficiary, parties.Belongings
	f.Evaluated = w.evaluate(ctx, f.Offering, parties, facts, f.Answers, w.Clock())
	if e := &f.Evaluated; e.Trouble != "" { // then nobody is asked, and nothing follows
		e.Decisions, e.Promised, e.Forecast = []Foreseen{}, nil, request.Forecast{}
	}
	return nil
}

// forOthers is a version of an offering and who asks.
type forOthers struct {
	offering string
	version  int
	asker    string
}

// mayForOthers reports whether there is anybody else for whom a person may ask.
// It is found out once for each version, and again when the company changes.
func (w *Asking) mayForOthers(c *offering.Compiled, asker people.Person) bool {
	if c.Document.Audience.For == "" {
		return false
	}
	may, _ := w.others.get(w.age.company.Load, forOthers{c.Document.Key, c.Version, asker.ID}, func() (bool, error) {
		p := offering.Parties{Asker: asker, Company: w.Company()}
		return slices.ContainsFunc(p.Company.Persons(), func(other people.Person) bool {
			p.Beneficiary.Person = other.ID
			ok, _ := c.MayAsk(p)
			return ok && !other.Former && other.ID != asker.ID
		}), nil
	})
	return may
}

// AskAgain opens the current version of an offering with the answers of an
// earlier request of the person, and says what has changed since. What they
// have in a draft is put aside only once they type.
func (w *Asking) AskAgain(ctx context.Context, person, id string) (Form, error) {
	state, err := w.Store.Request(ctx, id)
	if err != nil {
		return Form{}, err
	}
	if state.Asker != person || state.Status == request.Draft {
		return Form{}, ErrNotFound
	}
	c, err := w.askable(ctx, person, state.Offering)
	if err != nil {
		return Form{}, err
	}
	old, err := w.numbered(ctx, w.Store, state.Offering, state.Version)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: form.Answers{}, For: state.For}
	for key, answer := range state.Answers {
		if q, ok := c.Form.Question(key); ok && q.Kind != form.File && q.Kind != form.Computed {
			f.Answers[key] = answer
		}
	}
	if err := w.fill(ctx, &f, person); err != nil {
		return Form{}, err
	}
	f.Notices = changedSince(old, c, state, f)
	return f, nil
}

// changedSince says what is different from an earlier request, in words for
// its asker.
func changedSince(old, now *offering.Compiled, state request.State, f Form) []string {
	var notices []string
	for _, q := range f.Evaluated.Questions {
		question, _ := now.Form.Question(q.Key)
		was, there := old.Form.Question(q.Key)
		before, answered := state.Answers[q.Key]
		switch {
		case !there && q.Shown && question.Kind != form.Statement:
			notices = append(notices, fmt.Sprintf("“%s” is a new question.", question.Label))
		case there && q.Shown && was.Label != question.Label:
			notices = append(notices, fmt.Sprintf("“%s” is now asked as “%s”.", was.Label, question.Label))
		case answered && !before.None() && was.Kind == form.File && state.Reference != "": // a draft has them still
			notices = append(notices, fmt.Sprintf("Add the files of “%s” again, if they are still right.", question.Label))
		case answered && q.Shown && q.Value.None() && len(q.Problems) > 0:
			notices = append(notices, fmt.Sprintf("“%s”: your answer of then is not possible any more.", question.Label))
		}
	}
	for _, q := range old.Document.Questions {
		if _, still := now.Form.Question(q.Key); !still && !state.Answers[q.Key].None() {
			notices = append(notices, fmt.Sprintf("“%s” is not asked any more.", q.Label))
		}
	}
	if then, today := state.Price.FirstYear, f.Evaluated.Price.FirstYear; then != today && then.Currency() != "" {
		notices = append(notices, fmt.Sprintf("It cost %s in the first year then; now it is %s.", then, today))
	}
	return notices
}

// LookUp finds people whose name, login or department holds the words, for
// whom a test holds, by name.
func (w *Asking) LookUp(words string, limit int, fits func(people.Person) bool) []people.Person {
	found := []people.Person{}
	for p := range w.Company().Called(strings.Fields(words)...) {
		if p.Former || !fits(p) {
			continue
		}
		if found = append(found, p); len(found) == limit {
			break
		}
	}
	return found
}
