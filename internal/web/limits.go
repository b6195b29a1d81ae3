package web

import (
	"context"
	"net"
	"net/http"
	"runtime"
	"sync"
	"time"

	"golang.org/x/time/rate"
)

// Limits say how much one person, or one stranger, may ask for. What is over a
// limit is answered with 429 and when to try again. Zero means the default.
type Limits struct {
	Writes        float64       `default:"10" help:"Writes of one person a second."`
	WritesBurst   int           `default:"60" help:"Writes of one person at once."`
	Lookups       float64       `default:"20" help:"Previews and searches of one person a second."`
	LookupsBurst  int           `default:"100" help:"Previews and searches of one person at once."`
	AtOnce        int           `default:"6" help:"Operations of one person at the same time; more wait for their turn."`
	Streams       int           `default:"10" help:"Live streams of one session."`
	Uploads       int           `default:"200" help:"Files that one person may put on requests in a day."`
	UploadBytes   int64         `default:"500000000" help:"Bytes of files that one person may put on requests in a day."`
	Strangers     float64       `default:"5" help:"Failed sign-ins, links and forged reports of one address a second."`
	StrangerBurst int           `default:"30" help:"Failed sign-ins, links and forged reports of one address at once."`
	Guesses       float64       `default:"0.1" help:"Wrong passwords and codes of one account a second."`
	GuessBurst    int           `default:"8" help:"Wrong passwords and codes of one account at once."`
	Long          int           `default:"0" help:"Long computations at the same time, of everybody; 0 is half the processors, so that the other half is there for short ones."`
	Stalled       time.Duration `default:"30s" help:"How long a reader may take nothing of an answer before the connection is cut."`
}

// DefaultLimits are those that hold when nobody says otherwise; the tags of
// Limits tell the same to the command line, and 0 for Long.
var DefaultLimits = Limits{
	Writes: 10, WritesBurst: 60, Lookups: 20, LookupsBurst: 100, AtOnce: 6, Streams: 10, Uploads: 200, UploadBytes: 500_000_000,
	Strangers: 5, StrangerBurst: 30, Guesses: 0.1, GuessBurst: 8, Long: max(1, runtime.NumCPU()/2), Stalled: 30 * time.Second,
}

// orDefault fills in the defaults of what is zero.
func (l Limits) orDefault() Limits {
	d := DefaultLimits
	for _, pair := range []struct{ have, otherwise *float64 }{{&l.Writes, &d.Writes}, {&l.Lookups, &d.Lookups}, {&l.Strangers, &d.Strangers}, {&l.Guesses, &d.Guesses}} {
		if *pair.have == 0 {
			*pair.have = *pair.otherwise
		}
	}
	for _, pair := range []struct{ have, otherwise *int }{
		{&l.WritesBurst, &d.WritesBurst}, {&l.LookupsBurst, &d.LookupsBurst}, {&l.AtOnce, &d.AtOnce}, {&l.Streams, &d.Streams}, {&l.Uploads, &d.Uploads}, {&l.StrangerBurst, &d.StrangerBurst}, {&l.GuessBurst, &d.GuessBurst}, {&l.Long, &d.Long},
	} {
		if *pair.have == 0 {
			*pair.have = *pair.otherwise
		}
	}
	if l.UploadBytes == 0 {
		l.UploadBytes = d.UploadBytes
	}
	if l.Stalled == 0 {
		l.Stalled = d.Stalled
	}
	return l
}

// meters are the counters behind the limits. They are in memory: a restart
// forgives.
type meters struct {
	limits    Limits
	writes    rates
	lookups   rates
	strangers rates
	guesses   rates
	turns     turns
	streams   counts
	uploads   days
	long      chan struct{}
}

func newMeters(l Limits) *meters {
	l = l.orDefault()
	return &meters{
		limits: l, writes: newRates(l.Writes, l.WritesBurst), lookups: newRates(l.Lookups, l.LookupsBurst), strangers: newRates(l.Strangers, l.StrangerBurst), guesses: newRates(l.Guesses, l.GuessBurst),
		turns: turns{most: l.AtOnce, of: map[string]*turnsOf{}}, streams: counts{open: map[string]int{}}, uploads: days{of: map[string]*dayOf{}}, long: make(chan struct{}, l.Long),
	}
}

// mostKeys is how many people or addresses are remembered before those that
// have not been seen for a while are forgotten.
const mostKeys = 10_000

// rates slow many callers, each by itself: a token bucket for each.
type rates struct {
	mu    *sync.Mutex
	limit rate.Limit
	burst int
	of    map[string]*rate.Limiter
}

func newRates(perSecond float64, burst int) rates {
	return rates{&sync.Mutex{}, rate.Limit(perSecond), burst, map[string]*rate.Limiter{}}
}

// take counts one call, and tells how long to wait when it is one too many.
func (r rates) take(key string) (wait time.Duration) { return r.spend(key, 1) }

// look tells how long to wait before a call would be let through; it counts
// nothing.
func (r rates) look(key string) (wait time.Duration) { return r.spend(key, 0) }

func (r rates) spend(key string, n int) time.Duration {
	r.mu.Lock()
	defer r.mu.Unlock()
	l := r.of[key]
	if l == nil {
		r.forget()
		l = rate.NewLimiter(r.limit, r.burst)
		r.of[key] = l
	}
	if missing := 1 - l.Tokens(); missing > 0 {
		return time.Duration(missing / float64(r.limit) * float64(time.Second))
	}
	l.AllowN(time.Now(), n)
	return 0
}

// forget drops those who could do as much as if they had never come.
func (r rates) forget() {
	if len(r.of) < mostKeys {
		return
	}
	for key, l := range r.of {
		if l.Tokens() >= float64(r.burst) {
			delete(r.of, key)
		}
	}
}

// turns let many callers do some things at the same time, each by itself; what
// is more waits.
type turns struct {
	mu   sync.Mutex
	most int
	of   map[string]*turnsOf
}

type turnsOf struct {
	taken chan struct{}
	users int // those who have a turn or wait for one
}

// begin waits for a turn; done ends it.
func (t *turns) begin(ctx context.Context, key string) (done func(), err error) {
	t.mu.Lock()
	of := t.of[key]
	if of == nil {
		of = &turnsOf{taken: make(chan struct{}, t.most)}
		t.of[key] = of
	}
	of.users++
	t.mu.Unlock()
	leave := func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		if of.users--; of.users == 0 {
			delete(t.of, key)
		}
	}
	select {
	case of.taken <- struct{}{}:
		return func() { <-of.taken; leave() }, nil
	case <-ctx.Done():
		leave()
		return nil, ctx.Err()
	}
}

// counts are how many of something each has open.
type counts struct {
	mu   sync.Mutex
	open map[string]int
}

// begin opens one more, unless there are as many as may be.
func (c *counts) begin(key string, most int) bool {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.open[key] >= most {
		return false
	}
	c.open[key]++
	return true
}

func (c *counts) end(key string) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.open[key]--; c.open[key] <= 0 {
		delete(c.open, key)
	}
}

// days are what people have sent since a day began, in UTC.
type days struct {
	mu  sync.Mutex
	day string
	of  map[string]*dayOf
}

type dayOf struct {
	files int
	bytes int64
}

// begin counts one more file, unless the day's are used up.
func (d *days) begin(person string, now time.Time, l Limits) bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	if day := now.UTC().Format(time.DateOnly); day != d.day {
		d.day, d.of = day, map[string]*dayOf{}
	}
	if d.of[person] == nil {
		d.of[person] = &dayOf{}
	}
	of := d.of[person]
	if of.files >= l.Uploads || of.bytes >= l.UploadBytes {
		return false
	}
	of.files++
	return true
}

func (d *days) add(person string, n int) {
	d.mu.Lock()
	defer d.mu.Unlock()
	if of := d.of[person]; of != nil {
		of.bytes += int64(n)
	}
}

// slowDown is the problem of what is over a limit.
func slowDown(wait time.Duration, sentence string) error {
	p := newProblem(http.StatusTooManyRequests, sentence)
	p.Code, p.wait = "tooMany", wait
	return p
}

const tooFast = "That was too much at once. Nothing was changed; wait a moment and try again."

// lookups are the operations that search, or work something out and keep
// nothing.
var lookups = map[string]bool{
	"find-offerings": true, "find": true, "look-up": true, "find-people": true, "survey": true, "compare": true,
	"try-offering": true, "check-rule": true, "read-lines": true, "write-rule": true, "sample-text": true, "import-items": true, "merge-offering": true,
	"try-calendar": true, "read-holidays": true,
}

// pace counts an operation of a person against their limits.
func (m *meters) pace(person, method, operation string) error {
	var wait time.Duration
	switch {
	case lookups[operation]:
		wait = m.lookups.take(person)
	case method != http.MethodGet && method != http.MethodHead:
		wait = m.writes.take(person)
	}
	if wait > 0 {
		return slowDown(wait, tooFast)
	}
	return nil
}

// heavy are the operations that may compute for seconds. Only so many of them
// run at the same time, and each waits for its turn until its caller leaves.
var heavy = map[string]bool{"import-catalog": true, "export-catalog": true, "survey": true, "merge-offering": true, "read-holidays": true, "try-calendar": true, "save-calendar": true, "import-items": true, "sheet": true, "edit-sheet": true, "do-sheet": true, "verify-audit": true}

// admit waits until a long computation may begin; done ends it.
func (m *meters) admit(ctx context.Context) (done func(), err error) {
	select {
	case m.long <- struct{}{}:
		return func() { <-m.long }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// address is where a request comes from, without its port.
func address(remote string) string {
	host, _, err := net.SplitHostPort(remote)
	if err != nil {
		return remote
	}
	return host
}

// patient writes an answer piece by piece; a reader that takes nothing of a
// piece for too long is cut off.
type patient struct {
	http.ResponseWriter
	control *http.ResponseController
	stalled time.Duration
	begun   bool
}

// piece is how much has to be taken before the time begins anew, in bytes.
const piece = 64 << 10

func (p *patient) Write(data []byte) (int, error) {
	p.begun = true
	written := 0
	for {
		next := data[written:min(len(data), written+piece)]
		_ = p.control.SetWriteDeadline(time.Now().Add(p.stalled)) // not there in tests without a connection
		n, err := p.ResponseWriter.Write(next)
		if written += n; err != nil || written == len(data) {
			return written, err
		}
	}
}

// WriteHeader writes one status: another, for a reader who left in the middle,
// has nowhere to go.
func (p *patient) WriteHeader(status int) {
	if !p.begun {
		p.begun = status >= 200
		p.ResponseWriter.WriteHeader(status)
	}
}

// Unwrap is asked by http.ResponseController.
func (p *patient) Unwrap() http.ResponseWriter { return p.ResponseWriter }

// Flush is asked by what compresses an answer.
func (p *patient) Flush() { _ = p.FlushError() } // the next Write fails, too

// FlushError is asked by http.ResponseController.
func (p *patient) FlushError() error {
	_ = p.control.SetWriteDeadline(time.Now().Add(p.stalled)) // see Write
	return p.control.Flush()
}

// cutStalled ends connections that do not read.
func (m *meters) cutStalled(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		next.ServeHTTP(&patient{ResponseWriter: w, control: http.NewResponseController(w), stalled: m.limits.Stalled}, r)
	})
}
