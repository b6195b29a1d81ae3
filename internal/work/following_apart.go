package work

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// secretLife is for how long a secret that came out of a task can be read.
const secretLife = 7 * 24 * time.Hour

// Through is by what right somebody reads a private answer: as the asker when
// both are empty.
type Through struct{ Task, Rung string }

func (t Through) String() string {
	switch {
	case t.Task != "":
		return t.Task
	case t.Rung != "":
		return "rung/" + t.Rung
	}
	return "asker"
}

// ReadPrivate gives a private answer in words to those who may read it, and
// keeps that they did.
func (w *Following) ReadPrivate(ctx context.Context, person, id, question string, by Through) (string, error) {
	state, c, err := w.readable(ctx, person, id)
	if err != nil {
		return "", err
	}
	q, known := c.Form.Question(question)
	viewer := w.Viewer(person, state)
	sight := viewer.Whole()
	switch {
	case by.Task != "":
		task, ok := state.Task(by.Task)
		if !ok || !slices.Contains(viewer.Tasks, by.Task) {
			return "", ErrNotFound
		}
		sight = task.Sight()
	case by.Rung != "":
		i := slices.IndexFunc(state.Rungs, func(r request.Rung) bool { return r.Key == by.Rung })
		if i < 0 || !state.Rungs[i].HasSeat(person) {
			return "", ErrNotFound
		}
		sight = state.Rungs[i].Sight()
	}
	if !known || sight.Of(q) != request.Asking {
		return "", ErrNotFound
	}
	value, err := w.reading(ctx, person, store.Sealed{Request: id, Part: store.AnswerPart, Key: question}, by.String())
	if err != nil {
		return "", err
	}
	return c.Form.Show(question, value, form.Facts{Company: w.Company()}, c.Promise.Zone()), nil
}

// ReadSecret gives a secret that came out of a task to whom it is for, while it
// can be read, and keeps that they did.
func (w *Following) ReadSecret(ctx context.Context, person, id, task, output string) (string, error) {
	s, err := w.Store.OneSealed(ctx, store.Sealed{Request: id, Part: store.OutputPart, Task: task, Key: output})
	if err != nil {
		return "", err
	}
	if s.Person != person || !w.Clock().Before(s.Until) {
		return "", ErrNotFound
	}
	value, err := w.reading(ctx, person, s, "whom it is for")
	text, _ := value.Text()
	return text, err
}

// reading opens a value and keeps who read it, both or neither.
func (w *Following) reading(ctx context.Context, person string, s store.Sealed, as string) (value form.Answer, err error) {
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.OneSealed(ctx, s)
		if err != nil {
			return err
		}
		if value, err = w.vault.unsealValue(kept); err != nil {
			return err
		}
		return tx.AddReading(store.Reading{Request: s.Request, Part: s.Part, Task: s.Task, Key: s.Key, Person: person, As: as, At: w.Clock()})
	})
	return value, err
}

// readable opens a request that is somebody's business, with its offering.
func (w *Following) readable(ctx context.Context, person, id string) (request.State, *offering.Compiled, error) {
	state, err := w.Store.Request(ctx, id)
	if err != nil {
		return state, nil, err
	}
	if state.Status == request.Draft || !w.Viewer(person, state).Any() {
		return state, nil, ErrNotFound
	}
	c, err := w.numbered(ctx, w.Store, state.Offering, state.Version)
	return state, c, err
}

// Readings lists who had what is private of a request shown.
func (w *Following) Readings(ctx context.Context, id string) ([]store.Reading, error) {
	return w.Store.Readings(ctx, id)
}

// Secret is one that somebody can read now.
type Secret struct {
	Request, Reference, Title string
	Task, Output              string // keys
	Name                      string // of the output
	At, Until                 time.Time
}

// SecretsFor lists the secrets that somebody can read now, without what they
// are. A request that cannot be read hides its own and no others.
func (w *Following) SecretsFor(ctx context.Context, person string) ([]Secret, error) {
	all, err := w.Store.SecretsFor(ctx, person, w.Clock())
	if err != nil {
		return nil, err
	}
	var out []Secret
	for _, s := range all {
		state, err := w.Store.Request(ctx, s.Request)
		if err != nil {
			if store.OfAll(err) {
				return nil, err
			}
			w.Log.Error("the request of a secret cannot be read", "request", s.Request, "error", err)
			continue
		}
		secret := Secret{Request: s.Request, Reference: state.Reference, Title: state.Title, Task: s.Task, Output: s.Key, Name: s.Key, At: s.At, Until: s.Until}
		c, err := w.numbered(ctx, w.Store, state.Offering, state.Version)
		if task, ok := state.Task(s.Task); ok && err == nil {
			for _, output := range c.Plan.Outputs(task.Of) {
				if output.Key == s.Key {
					secret.Name = output.Name
				}
			}
		}
		out = append(out, secret)
	}
	return out, nil
}
