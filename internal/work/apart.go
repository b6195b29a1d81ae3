package work

import (
	"context"
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// secretLife is for how long a secret that came out of a task can be read.
const secretLife = 7 * 24 * time.Hour

// bound names what a sealed value is, so that it opens nowhere else.
func bound(s store.Sealed) []byte {
	return []byte(strings.Join([]string{"heptad/sealed", s.Request, string(s.Part), s.Task, s.Key}, "\x00"))
}

// keepApart keeps the values that are to stand in no event, encrypted, and gives
// the effects that are left to be done.
func (o *Office) keepApart(tx *store.Tx, id string, effects []request.Effect) ([]request.Effect, error) {
	var left []request.Effect
	for _, e := range effects {
		if e.Kind != request.Seal {
			left = append(left, e)
			continue
		}
		s := store.Sealed{Request: id, Part: store.AnswerPart, Task: e.Seals.Task, Key: e.Seals.Key, Person: e.Seals.For}
		if e.Seals.For != "" {
			s.Part, s.Until = store.OutputPart, o.Clock().Add(secretLife)
		}
		if err := o.sealValue(tx, s, e.Seals.Value); err != nil {
			return nil, err
		}
	}
	return left, nil
}

// sealValue keeps one value apart; nil takes it away.
func (o *Office) sealValue(tx *store.Tx, s store.Sealed, value form.Answer) error {
	if value.None() {
		return tx.DropSealed(s)
	}
	plain, err := json.Marshal(value)
	if err != nil {
		return err
	}
	s.At = o.Clock()
	if s.Value, err = seal(o.Sealed, string(plain), bound(s)); err != nil {
		return err
	}
	return tx.KeepSealed(s)
}

func (o *Office) unsealValue(s store.Sealed) (value form.Answer, err error) {
	plain, err := unseal(o.Sealed, s.Value, bound(s))
	if err != nil {
		return value, err
	}
	err = json.Unmarshal([]byte(plain), &value)
	return value, err
}

// apart are the parts of the store that values kept apart are read from.
type apart interface {
	SealedAnswers(ctx context.Context, request, task string) ([]store.Sealed, error)
}

// privateAnswers reads the private answers of a request: those sent, or those
// typed and not sent.
func (o *Office) privateAnswers(ctx context.Context, from apart, id, task string) (form.Answers, error) {
	all, err := from.SealedAnswers(ctx, id, task)
	if err != nil {
		return nil, err
	}
	answers := form.Answers{}
	for _, s := range all {
		if answers[s.Key], err = o.unsealValue(s); err != nil {
			return nil, err
		}
	}
	return answers, nil
}

// saveTyped keeps what is typed into a form, the private answers apart.
func (o *Office) saveTyped(tx *store.Tx, c *offering.Compiled, id string, typed store.Typed) error {
	open, private := c.Form.Apart(typed.Answers)
	typed.Answers = open
	if len(c.Form.Private()) > 0 {
		if err := tx.DropTyped(id); err != nil {
			return err
		}
	}
	for key, value := range private {
		if err := o.sealValue(tx, store.Sealed{Request: id, Part: store.AnswerPart, Task: store.TypedTask, Key: key}, value); err != nil {
			return err
		}
	}
	return tx.SaveTyped(id, typed)
}

// typed reads what was typed into a form, for who typed it.
func (o *Office) typed(ctx context.Context, id string) (store.Typed, error) {
	typed, err := o.Store.Typed(ctx, id)
	if err != nil {
		return typed, err
	}
	private, err := o.privateAnswers(ctx, o.Store, id, store.TypedTask)
	if len(private) > 0 {
		if typed.Answers == nil {
			typed.Answers = form.Answers{}
		}
		maps.Copy(typed.Answers, private)
	}
	return typed, err
}

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
func (o *Office) ReadPrivate(ctx context.Context, person, id, question string, by Through) (string, error) {
	state, c, err := o.readable(ctx, person, id)
	if err != nil {
		return "", err
	}
	q, asked := c.Form.Question(question)
	viewer := o.Viewer(person, state)
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
	if !asked || sight.Of(q) != request.Asking {
		return "", ErrNotFound
	}
	value, err := o.reading(ctx, person, store.Sealed{Request: id, Part: store.AnswerPart, Key: question}, by.String())
	if err != nil {
		return "", err
	}
	return c.Form.Show(question, value, form.Facts{Company: o.Company()}, c.Promise.Zone()), nil
}

// ReadSecret gives a secret that came out of a task to whom it is for, while it
// can be read, and keeps that they did.
func (o *Office) ReadSecret(ctx context.Context, person, id, task, output string) (string, error) {
	s, err := o.Store.OneSealed(ctx, store.Sealed{Request: id, Part: store.OutputPart, Task: task, Key: output})
	if err != nil {
		return "", err
	}
	if s.Person != person || !o.Clock().Before(s.Until) {
		return "", ErrNotFound
	}
	value, err := o.reading(ctx, person, s, "whom it is for")
	text, _ := value.Text()
	return text, err
}

// reading opens a value and keeps who read it, both or neither.
func (o *Office) reading(ctx context.Context, person string, s store.Sealed, as string) (value form.Answer, err error) {
	err = o.Store.Write(ctx, func(tx *store.Tx) error {
		kept, err := tx.OneSealed(ctx, s)
		if err != nil {
			return err
		}
		if value, err = o.unsealValue(kept); err != nil {
			return err
		}
		return tx.AddReading(store.Reading{Request: s.Request, Part: s.Part, Task: s.Task, Key: s.Key, Person: person, As: as, At: o.Clock()})
	})
	return value, err
}

// readable opens a request that is somebody's business, with its offering.
func (o *Office) readable(ctx context.Context, person, id string) (request.State, *offering.Compiled, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil {
		return state, nil, err
	}
	if state.Status == request.Draft || !o.Viewer(person, state).Any() {
		return state, nil, ErrNotFound
	}
	c, err := o.numbered(ctx, o.Store, state.Offering, state.Version)
	return state, c, err
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
func (o *Office) SecretsFor(ctx context.Context, person string) ([]Secret, error) {
	all, err := o.Store.SecretsFor(ctx, person, o.Clock())
	if err != nil {
		return nil, err
	}
	var out []Secret
	for _, s := range all {
		state, err := o.Store.Request(ctx, s.Request)
		if err != nil {
			if store.OfAll(err) {
				return nil, err
			}
			o.Log.Error("the request of a secret cannot be read", "request", s.Request, "error", err)
			continue
		}
		secret := Secret{Request: s.Request, Reference: state.Reference, Title: state.Title, Task: s.Task, Output: s.Key, Name: s.Key, At: s.At, Until: s.Until}
		c, err := o.numbered(ctx, o.Store, state.Offering, state.Version)
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

// forgetSecrets takes away the secrets whose time is over.
func (o *Office) forgetSecrets(ctx context.Context) error {
	return o.Store.ForgetSecrets(ctx, o.Clock())
}

// withPrivate adds to the facts of an answer to a question the private answers
// that the state does not hold.
func (o *Office) withPrivate(ctx context.Context, tx *store.Tx, state request.State, facts *request.Facts) error {
	if len(state.Private) == 0 {
		return nil
	}
	var err error
	facts.Private, err = o.privateAnswers(ctx, tx, state.ID, "")
	return err
}
