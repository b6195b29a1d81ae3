package work

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

func itoa(n int) string { return strconv.Itoa(n) }

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

// Evaluated is what a form comes to with some answers.
type Evaluated struct {
	form.Result
	Decisions []Foreseen
	Promised  *promise.Promised // nil when no time is promised
	Forecast  request.Forecast  // if it were sent now
	Slip      string            // fingerprint of what the asker sees
	Trouble   string            // why it cannot be for this person
}

// Foreseen is a rung that a request would have to climb.
type Foreseen struct {
	Rung    ladder.Rung
	Why     string // the rule that needs it, in words
	Seats   []ladder.Seat
	Trouble string // why nobody can be found
}

// askable gives the current version of an offering that a person may ask for.
func (o *Office) askable(ctx context.Context, person, key string) (*offering.Compiled, error) {
	c, err := o.current(ctx, o.Store, key)
	if err != nil {
		return nil, err
	}
	if ok, _ := c.Audience.MayAsk(o.audiencePerson(person)); !ok || c.Audience.Inner {
		return nil, ErrNotFound
	}
	return c, nil
}

// OpenForm opens an offering for a person, with what they typed before, or else
// with answers that brought them here. It begins no draft.
func (o *Office) OpenForm(ctx context.Context, person, key string, given form.Answers) (Form, error) {
	c, err := o.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: form.Answers{}}
	f.Draft, err = o.Store.DraftOf(ctx, person, key)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Form{}, err
	}
	if f.Draft != "" {
		typed, err := o.typed(ctx, f.Draft)
		if err != nil {
			return Form{}, err
		}
		f.Answers, f.For, f.SavedAt = typed.Answers, typed.For, typed.SavedAt
		if err := o.fill(ctx, &f, person); err != nil {
			return Form{}, err
		}
		if 0 < typed.Version && typed.Version < c.Version {
			old, err := o.Version(ctx, key, typed.Version)
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
	return f, o.fill(ctx, &f, person)
}

// fill works out a form that was opened.
func (o *Office) fill(ctx context.Context, f *Form, person string) error {
	parties, err := o.parties(ctx, o.Store, f.Offering, person, f.For)
	if err != nil {
		return err
	}
	facts := parties.Facts()
	if facts.Files, err = o.files(ctx, o.Store, f.Offering, f.Draft); err != nil {
		return err
	}
	f.ForOthers = o.mayForOthers(f.Offering, parties.Asker)
	f.For, f.Belongings = parties.Beneficiary, parties.Belongings
	f.Evaluated = o.evaluate(f.Offering, parties, facts, f.Answers, o.Clock())
	if e := &f.Evaluated; e.Trouble != "" { // then nobody is asked, and nothing follows
		e.Decisions, e.Promised, e.Forecast = []Foreseen{}, nil, request.Forecast{}
	}
	return nil
}

// mayForOthers reports whether there is anybody else for whom a person may ask.
// It is found out once for each version, and again when the company changes.
func (o *Office) mayForOthers(c *offering.Compiled, asker people.Person) bool {
	if c.Document.Audience.For == "" {
		return false
	}
	key := forOthers{c.Document.Key, c.Version, asker.ID}
	if kept, ok := o.others.Load(key); ok {
		return kept.(bool)
	}
	p := offering.Parties{Asker: asker, Company: o.Company()}
	may := slices.ContainsFunc(p.Company.Persons(), func(other people.Person) bool {
		p.Beneficiary.Person = other.ID
		ok, _ := c.MayAsk(p)
		return ok && !other.Former && other.ID != asker.ID
	})
	o.others.Store(key, may)
	return may
}

// held is the part of the store that belongings and files are read from,
// inside a transaction or outside.
type held interface {
	BelongingsOf(ctx context.Context, person string) ([]people.Belonging, error)
	Uploads(ctx context.Context, request string) (map[string]store.Upload, error)
	HeldAnswers(ctx context.Context, key string, limit int) ([]form.Answers, error)
	Pools(ctx context.Context) ([]store.PoolUse, error)
	Holding(ctx context.Context, id string) (store.Belonging, error)
}

// parties gathers who asks, and for whom, with what they have where the form
// asks for it; nobody named is the asker. Of somebody for whom they may not ask
// nothing is read.
func (o *Office) parties(ctx context.Context, from held, c *offering.Compiled, asker string, b offering.Beneficiary) (offering.Parties, error) {
	p, _ := o.Company().Person(asker)
	b = b.Or(asker)
	out := offering.Parties{Asker: p, Beneficiary: b, Company: o.Company()}
	var err error
	if out.Pools, err = o.pools(ctx, from, c, false); err != nil {
		return out, err
	}
	if may, _ := c.MayAsk(out); !may { // then nothing is known of whom it is for
		out.Known = func(person people.Person) people.Person {
			if person.ID == asker {
				return person
			}
			return people.Person{}
		}
		if b.Person != asker {
			return out, nil
		}
	}
	if b.Person != "" && c.ReadsBelongings() {
		out.Belongings, err = from.BelongingsOf(ctx, b.Person)
	}
	return out, err
}

// files finds the files of a draft by their ID, where the form asks for any.
func (o *Office) files(ctx context.Context, from held, c *offering.Compiled, draft string) (func(string) (form.Upload, bool), error) {
	uploads := map[string]store.Upload{}
	if draft != "" && c.Form.Asks(form.File) {
		var err error
		if uploads, err = from.Uploads(ctx, draft); err != nil {
			return nil, err
		}
	}
	return func(id string) (form.Upload, bool) {
		u, ok := uploads[id]
		return u.Upload, ok
	}, nil
}

// evaluate works out a form and whose decisions it would need.
func (o *Office) evaluate(c *offering.Compiled, parties offering.Parties, facts form.Facts, answers form.Answers, now time.Time) Evaluated {
	e := Evaluated{Result: c.Form.Evaluate(answers, c.Values(parties, now), facts), Decisions: []Foreseen{}}
	if ok, why := c.MayAsk(parties); !ok {
		e.Trouble = why
	}
	service, _ := o.Company().Service(c.Document.Purpose.Service)
	ladderFacts := c.LadderFacts(parties, e.Kept(), e.Price, service, now)
	needed := c.Ladder.Needed(e.Values)
	for _, rung := range needed {
		foreseen := Foreseen{Rung: rung, Why: c.Form.Words(rung.When)}
		seats, err := ladder.Seats(rung, ladderFacts)
		if err != nil {
			foreseen.Trouble = err.Error()
		}
		foreseen.Seats = seats
		e.Decisions = append(e.Decisions, foreseen)
	}
	e.Promised = c.Promise.Promised(e.Values, now)
	e.Forecast = request.ForecastDraft(c, parties, e.Kept(), e.Values, needed, e.Promised, o.measuresOf(c.Document.Key), now)
	e.Slip = request.Slip(c, e.Result)
	return e
}

// SaveDraft keeps what a person typed, as a draft of their own, and works it
// out.
func (o *Office) SaveDraft(ctx context.Context, person, key string, answers form.Answers, whom offering.Beneficiary) (Form, error) {
	c, err := o.askable(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: answers, For: whom, SavedAt: o.Clock().UTC()}
	err = o.draft(ctx, person, c, &f.Draft, func(tx *store.Tx) error {
		return o.saveTyped(tx, c, f.Draft, store.Typed{Answers: answers, For: whom, Version: c.Version, SavedAt: f.SavedAt})
	})
	if err != nil {
		return Form{}, err
	}
	return f, o.fill(ctx, &f, person)
}

// draft finds or begins the draft of a person and runs then in the same
// transaction.
func (o *Office) draft(ctx context.Context, person string, c *offering.Compiled, id *string, then func(tx *store.Tx) error) error {
	var begun *request.State
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if begun, err = o.draftIn(ctx, tx, person, c, id); err != nil {
			return err
		}
		return then(tx)
	})
	if err == nil && begun != nil {
		o.tell(*begun)
	}
	return err
}

// draftIn finds the draft of a person, or begins one and gives its state.
func (o *Office) draftIn(ctx context.Context, tx *store.Tx, person string, c *offering.Compiled, id *string) (*request.State, error) {
	var err error
	if *id, err = tx.DraftOf(ctx, person, c.Document.Key); !errors.Is(err, ErrNotFound) {
		return nil, err
	}
	*id = rand.Text()
	state, err := o.begin(ctx, tx, person, *id, c)
	if err == nil {
		err = tx.SaveTyped(*id, store.Typed{Answers: form.Answers{}, Version: c.Version, SavedAt: o.Clock().UTC()})
	}
	return &state, err
}

func (o *Office) begin(ctx context.Context, tx *store.Tx, person, id string, c *offering.Compiled) (request.State, error) {
	facts, err := o.facts(ctx, tx, person, request.State{Status: request.Draft, Offering: c.Document.Key})
	if err != nil {
		return request.State{}, err
	}
	return o.handle(tx, request.State{}, request.Begin{ID: id}, facts)
}

// AskAgain opens the current version of an offering with the answers of an
// earlier request of the person, and says what has changed since. What they
// have in a draft is put aside only once they type.
func (o *Office) AskAgain(ctx context.Context, person, id string) (Form, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil {
		return Form{}, err
	}
	if state.Asker != person || state.Status == request.Draft {
		return Form{}, ErrNotFound
	}
	c, err := o.askable(ctx, person, state.Offering)
	if err != nil {
		return Form{}, err
	}
	old, err := o.numbered(ctx, o.Store, state.Offering, state.Version)
	if err != nil {
		return Form{}, err
	}
	f := Form{Offering: c, Answers: form.Answers{}, For: state.For}
	for key, answer := range state.Answers {
		if q, ok := c.Form.Question(key); ok && q.Kind != form.File && q.Kind != form.Computed {
			f.Answers[key] = answer
		}
	}
	if err := o.fill(ctx, &f, person); err != nil {
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

// Upload puts a file on a draft, which begins with it when there is none. The
// question says what it takes; refused files leave nothing behind.
func (o *Office) Upload(ctx context.Context, person, key, question string, file IncomingFile) (form.Upload, error) {
	c, err := o.askable(ctx, person, key)
	if err != nil {
		return form.Upload{}, err
	}
	var begun *request.State
	upload, err := o.upload(ctx, person, c, question, file, func(tx *store.Tx) (id string, err error) {
		begun, err = o.draftIn(ctx, tx, person, c, &id)
		return id, err
	})
	if err == nil && begun != nil {
		o.tell(*begun)
	}
	return upload, err
}

// mostUploads is the most files one draft may hold, kept ones and dropped ones.
const mostUploads = 200
