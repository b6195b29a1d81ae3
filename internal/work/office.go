package work

import (
	"context"
	"log/slog"
	"math/rand/v2"
	"runtime"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/store"
)

// Clock tells the time.
type Clock func() time.Time

// Settings are what an Office works with.
type Settings struct {
	Store       *store.Store
	Clock       Clock
	Connectors  []connect.Connector
	Service     *Service                                   // nil: nobody comes from a sign-in service
	Mailing     *Mailing                                   // nil: nothing goes out by mail
	Backups     *Backups                                   // nil: none are made at set times
	DecideAbove money.Amount                               // what costs more needs a decision; zero for no such rule
	Sealed      []byte                                     // key that secrets of connectors are encrypted with, 32 bytes
	Starters    func(key string) (offering.Document, bool) // the starter set; that of the program when nil
	Trial       bool                                       // it is an installation for trying: nothing is real
	Jitter      func() float64                             // from 0 to 1, spreads retries; by chance when nil
	Log         *slog.Logger
}

// Mailing is how messages go out by mail.
type Mailing struct {
	Poster connect.Poster
	Base   string // URL of the page, without a slash at its end
	Secret []byte // that links are signed with
}

// newest is the number of the newest event that is stored; 0 without a store.
func (s Settings) newest() int64 {
	if s.Store == nil {
		return 0
	}
	return s.Store.LastEvent()
}

// Office does the work: a kernel, and a service for each kind of it. A service
// knows the kernel and no other service. All are safe for concurrent use.
type Office struct {
	*kernel
	Asking     *Asking
	Following  *Following
	Deciding   *Deciding
	Delivering *Delivering
	Designing  *Designing
	Rehearsing *Rehearsing
	Arranging  *Arranging
	Messaging  *Messaging
	Connecting *Connecting
	Entering   *Entering
	Keeping    *Keeping
	Auditing   *Auditing
	Running    *Running
	Measuring  *Measuring
	Trying     *Trying
}

// New makes an office and reads the company.
func New(ctx context.Context, s Settings) (*Office, error) {
	o := Closed(s)
	return o, o.ReadCompany(ctx)
}

// Closed makes an office that has read nothing: it can be described, and not
// worked with.
func Closed(s Settings) *Office {
	if s.Jitter == nil {
		s.Jitter = rand.Float64
	}
	k := &kernel{Settings: s, Live: newLive(s.newest), connectors: map[string]connect.Connector{}, wake: make(chan struct{}, 1), wakeMail: make(chan struct{}, 1)}
	k.compiled.most = mostCompiled
	k.lanes.all = map[string]*lane{}
	k.vault, k.durations.store, k.durations.log, k.letters.mailing = vault{s.Sealed, s.Clock}, s.Store, s.Log, s.Mailing
	for _, c := range s.Connectors {
		k.connectors[c.Describe().Key] = c
		k.described = append(k.described, c.Describe())
	}
	o := &Office{
		kernel: k, Asking: &Asking{kernel: k}, Following: &Following{kernel: k}, Deciding: &Deciding{k}, Delivering: &Delivering{k}, Designing: &Designing{k}, Rehearsing: &Rehearsing{kernel: k}, Arranging: &Arranging{k},
		Messaging: &Messaging{k}, Connecting: &Connecting{kernel: k}, Entering: &Entering{k, make(chan struct{}, max(1, runtime.NumCPU()))}, Keeping: &Keeping{kernel: k}, Auditing: &Auditing{k}, Measuring: &Measuring{kernel: k}, Trying: &Trying{k},
	}
	o.Running = &Running{
		kernel: k, post: o.Messaging.postDue,
		first: []func(context.Context) error{o.Designing.publishDue, o.Connecting.keepForgeries, o.Measuring.sendBoards, o.Measuring.lookHourly},
	}
	o.Running.beside = []func(context.Context){o.Messaging.runMail, o.Running.runBackups, o.Measuring.runColumns, o.Rehearsing.leave, o.Following.ready}
	return o
}
