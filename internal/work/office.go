package work

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/message"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/store"
)

// Clock tells the time.
type Clock func() time.Time

// Settings are what an Office works with.
type Settings struct {
	Store      *store.Store
	Clock      Clock
	Connectors []connect.Connector
	Organisation
	Mailing     *Mailing     // nil: nothing goes out by mail
	DecideAbove money.Amount // what costs more needs a decision; zero for no such rule
	Sealed      []byte       // key that secrets of connectors are encrypted with, 32 bytes
	Log         *slog.Logger
}

// Organisation is what an installation is told of the company it serves.
type Organisation struct {
	Name     string
	Prefix   string // of references, such as QS
	Currency string // of the prices that a new offering begins with, ISO 4217
	Zone     string // of the promises that a new offering begins with, IANA
}

// Office does the work. It is safe for concurrent use.
type Office struct {
	Settings
	Live       *Live
	connectors map[string]connect.Connector
	described  []plan.Connector
	company    atomic.Pointer[people.Directory]
	compiled   sync.Map // of versionKey to *offering.Compiled
	audiences  sync.Map // of versionKey to *audience.Compiled
	listed     atomic.Pointer[[]entry]
	others     sync.Map                 // of forOthers to bool
	searched   atomic.Pointer[searched] // the catalog, ready to be searched
	texts      atomic.Pointer[message.Texts]
	relieved   atomic.Pointer[relief]
	wake       chan struct{}
	wakeMail   chan struct{}
	noted      time.Time             // when it was last kept that the runner looked
	pulse      atomic.Pointer[Pulse] // of the runner; nil before it has looked
	lanes      lanes                 // of the runner, one for each connector
	measures   sync.Map              // of measured to []time.Duration
	unforecast dirty                 // requests whose forecast is to be worked out anew
	forged     forgeries
	granted    atomic.Pointer[granted]
}

// forOthers is a version of an offering and who asks.
type forOthers struct {
	offering string
	version  int
	asker    string
}

type versionKey struct {
	offering string
	number   int
}

// ErrNotFound says that there is no such thing, or that it is none of the
// person's business: nobody can tell which.
var ErrNotFound = store.ErrNotFound

// New makes an office and reads the company.
func New(ctx context.Context, s Settings) (*Office, error) {
	o := &Office{Settings: s, Live: newLive(), connectors: map[string]connect.Connector{}, wake: make(chan struct{}, 1), wakeMail: make(chan struct{}, 1)}
	o.lanes.all = map[string]*lane{}
	for _, c := range s.Connectors {
		o.connectors[c.Describe().Key] = c
		o.described = append(o.described, c.Describe())
	}
	return o, o.ReadCompany(ctx)
}

// ReadCompany reads people, teams and services anew.
func (o *Office) ReadCompany(ctx context.Context) error {
	company, err := o.Store.Directory(ctx)
	if err != nil {
		return err
	}
	o.company.Store(company)
	if err := o.readGrants(ctx); err != nil {
		return err
	}
	o.others.Clear()
	o.searched.Store(nil)
	o.compiled.Clear() // calendars and teams are read when an offering is compiled
	return nil
}

// Company is what is known of people, teams and services.
func (o *Office) Company() *people.Directory { return o.company.Load() }

// Connectors lists what automatic tasks can call.
func (o *Office) Connectors() []plan.Connector { return o.described }

// checked is what the offerings that somebody writes are checked against.
func (o *Office) checked(editors ...string) offering.Company {
	return offering.Company{Directory: o.Company(), Connectors: o.described, DecideAbove: o.DecideAbove, Grants: o.grantsOf, Editors: editors}
}

// versions is the part of the store that versions are read from, inside a
// transaction or outside.
type versions interface {
	CurrentNumber(ctx context.Context, key string) (int, error)
	VersionIn(ctx context.Context, key, state string) (store.Version, error)
	VersionNumber(ctx context.Context, key string, number int) (store.Version, error)
	Ended(ctx context.Context, key string) (store.Ended, error)
}

// current compiles the current version of an offering.
func (o *Office) current(ctx context.Context, from versions, key string) (*offering.Compiled, error) {
	number, err := from.CurrentNumber(ctx, key)
	if err != nil {
		return nil, err
	}
	return o.numbered(ctx, from, key, number)
}

// numbered compiles a version by its number, once: a published version never
// changes.
func (o *Office) numbered(ctx context.Context, from versions, key string, number int) (*offering.Compiled, error) {
	if c, ok := o.compiled.Load(versionKey{key, number}); ok {
		return c.(*offering.Compiled), nil
	}
	v, err := from.VersionNumber(ctx, key, number)
	if err != nil {
		return nil, err
	}
	c, _ := offering.Compile(v.Document, v.Number, o.checked(v.Editors...)) // examined when it was published
	if c.Form == nil {
		return nil, fmt.Errorf("version %d of %s cannot be compiled", v.Number, v.Document.Key)
	}
	o.compiled.Store(versionKey{key, number}, c)
	return c, nil
}

// turn is one command of an actor on a request. The command is made inside the
// transaction, and so may write there too.
type turn struct {
	actor   string
	id      string
	command func(tx *store.Tx) (request.Command, error)
}

// run does one command on a request that is there.
func (o *Office) run(ctx context.Context, t turn) (request.State, error) {
	var state request.State
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if state, err = tx.Request(ctx, t.id); err != nil {
			return err
		}
		facts, err := o.facts(ctx, tx, t.actor, state)
		if err != nil {
			return err
		}
		if t.actor != request.Program && !o.Viewer(t.actor, state).Any() {
			return ErrNotFound
		}
		command, err := t.command(tx)
		if err != nil {
			return err
		}
		switch command.(type) {
		case request.Submit, request.Resubmit:
			if facts.Files, err = o.files(ctx, tx, facts.Offering, t.id); err != nil {
				return err
			}
			if err := o.withPrivate(ctx, tx, state, &facts); err != nil {
				return err
			}
		}
		switch c := command.(type) {
		case request.Submit:
			parties, err := o.parties(ctx, tx, facts.Offering, t.actor, c.For)
			if err != nil {
				return err
			}
			facts.Belongings = parties.Belongings
		case request.Advance: // whoever is first on the waiting list has what is free
			if facts.Pools, err = o.pools(ctx, tx, facts.Offering, true); err != nil {
				return err
			}
		}
		state, err = o.handle(tx, state, command, facts)
		return err
	})
	if err != nil {
		return request.State{}, err
	}
	o.tell(state)
	return state, nil
}

// handle lets the core decide and keeps what it leads to.
func (o *Office) handle(tx *store.Tx, state request.State, command request.Command, facts request.Facts) (request.State, error) {
	events, effects, err := request.Handle(state, command, facts)
	if err != nil {
		return state, err
	}
	for _, e := range events {
		state.Apply(e)
	}
	if effects, err = o.keepApart(tx, state.ID, effects); err != nil {
		return state, err
	}
	if err := tx.SaveRequest(state, events, effects); err != nil {
		return state, err
	}
	if err := o.measure(tx, state, events, facts); err != nil {
		return state, err
	}
	return state, o.notify(tx.Context(), tx, state, events, facts)
}

// facts gathers what a decision on a request is made on.
func (o *Office) facts(ctx context.Context, from source, actor string, s request.State) (request.Facts, error) {
	var c *offering.Compiled
	var err error
	if s.Status == request.Draft {
		c, err = o.current(ctx, from, s.Offering)
	} else {
		c, err = o.numbered(ctx, from, s.Offering, s.Version)
	}
	if err != nil {
		return request.Facts{}, err
	}
	service, _ := o.Company().Service(c.Document.Purpose.Service)
	f := request.Facts{Actor: actor, Company: o.Company(), Offering: c, Service: service, Now: o.Clock(), Measures: o.measuresOf(s.Offering)}
	f.Held = func(id string) (request.Held, bool) {
		b, err := from.Holding(ctx, id)
		return b.Held, err == nil
	}
	if f.Pools, err = o.pools(ctx, from, c, false); err != nil {
		return f, err
	}
	if s.Beneficiary() != "" && c.ReadsBelongings() {
		if f.Belongings, err = from.BelongingsOf(ctx, s.Beneficiary()); err != nil {
			return f, err
		}
	}
	return f, nil
}

// pools tells how many places are free of the pools that an offering reads or
// takes from: those that nobody before waits for, or all.
func (o *Office) pools(ctx context.Context, from held, c *offering.Compiled, all bool) (map[string]int, error) {
	if len(c.Pools) == 0 {
		return nil, nil
	}
	uses, err := from.Pools(ctx)
	free := map[string]int{}
	for _, use := range uses {
		free[use.Key] = use.Free()
		if use.Queued > 0 && !all {
			free[use.Key] = 0
		}
	}
	return free, err
}

// source is what facts are read from.
type source interface {
	versions
	held
	Request(ctx context.Context, id string) (request.State, error)
	Namesake(ctx context.Context, service, name, besides string) (string, error)
}

// Viewer tells what a person is to a request.
func (o *Office) Viewer(person string, s request.State) request.Viewer {
	service, _ := o.Company().Service(s.Service)
	return s.ViewerOf(person, o.Company(), service)
}

// Do gives a command of a person on a request.
func (o *Office) Do(ctx context.Context, person, id string, c request.Command) (request.State, error) {
	state, err := o.run(ctx, turn{actor: person, id: id, command: func(*store.Tx) (request.Command, error) { return c, nil }})
	switch c.(type) {
	case request.Discard, request.Resubmit:
		if err == nil {
			o.forgetUploads(ctx, state)
		}
	}
	return state, err
}

// Submit sends a draft with its answers.
func (o *Office) Submit(ctx context.Context, person, id string, c request.Submit) (request.State, error) {
	state, err := o.run(ctx, turn{actor: person, id: id, command: func(tx *store.Tx) (request.Command, error) {
		var err error
		c.Prefix = o.Prefix
		c.Number, err = tx.NextNumber("reference", firstReference)
		return c, err
	}})
	if err == nil {
		o.forgetUploads(ctx, state)
	}
	return state, err
}

// firstReference is the number before the first reference.
const firstReference = 10400

// ignoreMissing lets it be no error that something is not there.
func ignoreMissing(err error) error {
	if errors.Is(err, ErrNotFound) {
		return nil
	}
	return err
}

// isRefusal reports whether the core refused, rather than something failed.
func isRefusal(err error) bool {
	_, ok := request.AsRefusal(err)
	return ok || errors.Is(err, ErrNotFound)
}

// SentValues are what the rules of an offering read on a request that was sent.
func (o *Office) SentValues(c *offering.Compiled, s request.State) rule.Values {
	asker, _ := o.Company().Person(s.Asker)
	parties := offering.Parties{Asker: asker, Beneficiary: s.For, Belongings: s.Held, Company: o.Company()}
	return c.Form.Sent(s.Answers, s.Price, c.Values(parties, o.Clock()), parties.Facts())
}

// Version gives a published version of an offering.
func (o *Office) Version(ctx context.Context, key string, number int) (*offering.Compiled, error) {
	return o.numbered(ctx, o.Store, key, number)
}
