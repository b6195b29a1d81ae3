package work

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"sync"
	"sync/atomic"

	"heptad/internal/connect"
	"heptad/internal/core/offering"
	"heptad/internal/core/organisation"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/store"
)

// kernel is what all services stand on: the company, the clock, the offerings
// ready to be used, one command in one transaction, and who is told of it.
type kernel struct {
	Settings
	Live       *Live
	connectors map[string]connect.Connector
	described  []plan.Connector
	company    atomic.Pointer[people.Directory]
	reading    sync.Mutex // held while what was written of the company is taken in; guards readUpTo
	readUpTo   int64      // number of the last change of the company that was taken in
	age        age
	compiled   cache[versionKey, *offering.Compiled]
	audiences  sync.Map                 // of what offerings say, as JSON, to *audience.Compiled
	listed     cache[struct{}, []entry] // all that is published
	offered    cache[string, []entry]   // of that, what is offered on a day
	vault      vault
	durations  durations
	columns    columns // what is measured
	letters    letters
	wake       chan struct{}
	wakeMail   chan struct{}
	pulse      atomic.Pointer[Pulse] // of the runner; nil before it has looked
	lanes      lanes                 // of the runner, one for each connector
	unforecast dirty                 // requests whose forecast is to be worked out anew
	granted    atomic.Pointer[granted]
	told       atomic.Pointer[organisation.Organisation]
}

// mostCompiled is how many versions of offerings are kept compiled, each of some 150 kB.
const mostCompiled = 400

type versionKey struct {
	offering string
	number   int
}

// ErrNotFound says that there is no such thing, or that it is none of the
// person's business: nobody can tell which.
var ErrNotFound = store.ErrNotFound

// firstReference is the number before the first reference.
const firstReference = 10400

// Example is a reference as those of the organisation look.
func (k *kernel) Example() string {
	return request.Reference(k.Organisation().Prefix, firstReference+32)
}

// Answers reports whether the database does.
func (k *kernel) Answers(ctx context.Context) error { return k.Store.Ping(ctx) }

// Full reports whether the disk has no room left to take work.
func (k *kernel) Full() bool { return k.Store.Full() }

// LastEvent is the number of the newest event that is stored.
func (k *kernel) LastEvent() int64 { return k.Store.LastEvent() }

// ReadCompany takes in what was written of the company since it was read: a few people are
// read alone, else people, teams and services are read anew.
func (k *kernel) ReadCompany(ctx context.Context) error {
	k.reading.Lock()
	defer k.reading.Unlock()
	changes, err := k.Store.CompanyChanges(ctx, k.readUpTo)
	if err != nil {
		return err
	}
	if changes.Else || k.company.Load() == nil {
		err = k.readAll(ctx)
	} else if len(changes.People) > 0 {
		var company *people.Directory
		if company, err = k.Store.Refreshed(ctx, k.Company(), changes.People); err == nil {
			k.company.Store(company)
			k.age.company.Add(1)
		}
	}
	if err == nil {
		k.readUpTo = changes.Last
	}
	return err
}

// readAll reads all of the company anew.
func (k *kernel) readAll(ctx context.Context) error {
	company, err := k.Store.Directory(ctx)
	if err != nil {
		return err
	}
	told, err := k.Store.Organisation(ctx)
	if ignoreMissing(err) != nil {
		return err
	}
	k.told.Store(&told)
	k.company.Store(company)
	k.age.company.Add(1)
	return k.readGrants(ctx)
}

// Organisation is what the installation is told of the company; empty before anybody
// has said.
func (k *kernel) Organisation() organisation.Organisation { return *k.told.Load() }

// Company is what is known of people, teams and services.
func (k *kernel) Company() *people.Directory { return k.company.Load() }

// Connectors lists what automatic tasks can call.
func (k *kernel) Connectors() []plan.Connector { return k.described }

// checked is what the offerings that somebody writes are checked against.
func (k *kernel) checked(editors ...string) offering.Company {
	return offering.Company{Directory: k.Company(), Connectors: k.described, DecideAbove: k.DecideAbove, Grants: k.grantsOf, Editors: editors}
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
func (k *kernel) current(ctx context.Context, from versions, key string) (*offering.Compiled, error) {
	number, err := from.CurrentNumber(ctx, key)
	if err != nil {
		return nil, err
	}
	return k.numbered(ctx, from, key, number)
}

// numbered compiles a version by its number, once: a published version never
// changes.
func (k *kernel) numbered(ctx context.Context, from versions, key string, number int) (*offering.Compiled, error) {
	return k.compiled.get(k.age.frame.Load, versionKey{key, number}, func() (*offering.Compiled, error) {
		v, err := from.VersionNumber(ctx, key, number)
		if err != nil {
			return nil, err
		}
		c, _ := offering.Compile(v.Document, v.Number, k.checked(v.Editors...)) // examined when it was published
		if c == nil {
			return nil, fmt.Errorf("version %d of %s cannot be compiled", v.Number, v.Document.Key)
		}
		return c, nil
	})
}

// Version gives a published version of an offering.
func (k *kernel) Version(ctx context.Context, key string, number int) (*offering.Compiled, error) {
	return k.numbered(ctx, k.Store, key, number)
}

// SentValues are what the rules of an offering read on a request that was sent.
func (k *kernel) SentValues(c *offering.Compiled, s request.State) rule.Values {
	asker, _ := k.Company().Person(s.Asker)
	parties := offering.Parties{Asker: asker, Beneficiary: s.For, Belongings: s.Named, Company: k.Company()}
	return c.Form.Sent(s.Answers, s.Price, c.Values(parties, k.Clock()), parties.Facts())
}

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

func invalid(code, place, format string, args ...any) *request.Refusal {
	return &request.Refusal{Kind: request.Invalid, Code: code, Sentence: fmt.Sprintf(format, args...), Place: place}
}

func conflict(code, format string, args ...any) *request.Refusal {
	return &request.Refusal{Kind: request.Conflict, Code: code, Sentence: fmt.Sprintf(format, args...)}
}

func itoa(n int) string { return strconv.Itoa(n) }
