package rehearse

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// How long a rehearsal may go on before it is stopped: by its own clock, and by events.
const (
	mostTime   = 2 * 365 * 24 * time.Hour
	mostEvents = 10_000
)

// Ground is what a rehearsal stands on.
type Ground struct {
	// Compile makes the offering ready in a company; nil with findings when it cannot be.
	Compile    func(*people.Directory) (*offering.Compiled, finding.List)
	Company    *people.Directory // nil: only what the script carries
	Prefix     string            // of references
	Texts      *message.Texts    // general ones; nil for the usual ones
	Connectors []plan.Connector
	Grants     func(service string) plan.Grants            // nil: any action may be used
	Measures   request.Measures                            // nil when nothing was measured
	Pools      map[string]int                              // free places; of those left out as many as there are
	Known      func(people.Person) people.Person           // as much of a person as rules may know; nil for all of it
	Belongings func(*offering.Compiled) []people.Belonging // of whom it is for; nil for Samples
}

// Life is what happened in a rehearsal.
type Life struct {
	Script   script.Script
	Offering *offering.Compiled
	Company  *people.Directory
	Service  people.Service

	Events    []request.Event
	State     request.State // after them
	Steps     []Step
	Calls     []Call
	Messages  []Message
	Refused   []Refused
	Forecasts []Foretold
	Lengths   map[string]time.Duration // that were measured and used, by rung or task
	End       End
	Until     time.Time // of its clock, as it ended
	Why       string    // it ended so

	Latest map[string]time.Time // latest start of each task, as it was before it began

	ground   Ground
	asker    people.Person
	whom     offering.Beneficiary
	had      []people.Belonging // of whom it is for, on sending
	pools    map[string]int     // free places, on sending
	measures request.Measures
}

// Step is one command that was done, with how many events there were after it.
type Step struct {
	At     time.Time
	Actor  string
	Events int
	Did    request.Command
}

// Call is one call of another system.
type Call struct {
	At      time.Time
	Task    string
	Of      plan.Action
	Key     string
	Inputs  map[string]string
	Undoes  string // key of the call that it takes back
	Outputs map[string]string
	Outcome string
	Reply   request.Command // what was reported of it
}

// Message is a message as it would read.
type Message struct {
	At            time.Time
	To            string // ID
	Kind          message.Kind
	Subject, Text string
	Rung, Task    string
	Event         int // number of what it tells
}

// Refused is what the core did not let somebody do.
type Refused struct {
	Line     int // of the script, from 0; -1 for sending
	At       time.Time
	Code     string
	Sentence string
	Places   []string // of what it says in detail
}

// Foretold is a forecast that differs from the one before.
type Foretold struct {
	At, Likely, Sure time.Time
}

// End says how a rehearsal ended.
type End string

// How a rehearsal ends.
const (
	Closed  End = "closed"  // the request is
	Reached End = "until"   // the instant that was asked for
	Quiet   End = "quiet"   // nothing more would ever happen
	TooLong End = "tooLong" // two years have passed, or 10,000 events
	Unsent  End = "unsent"  // it could not be sent
)

// All lists them in their order.
func (End) All() []End { return []End{Closed, Reached, Quiet, TooLong, Unsent} }

// Run rehearses a script. The error is a *script.Wrong: the script names what is not there.
// What the core refuses stands in the life.
func Run(g Ground, s script.Script) (*Life, error) {
	if wrong := s.Check(); wrong != nil {
		return nil, wrong
	}
	company, err := Within(g.Company, s)
	if err != nil {
		return nil, err
	}
	c, findings := g.Compile(company)
	if c == nil {
		return nil, &script.Wrong{Line: -1, Sentence: "The offering cannot be run before its errors are mended: " + first(findings, "its questions cannot be worked out.")}
	}
	for _, f := range findings {
		if f.Severity == finding.Error && broken(f.Place) {
			return nil, &script.Wrong{Line: -1, Sentence: "The offering cannot be run before its errors are mended: " + f.Sentence}
		}
	}
	l := &Life{Script: s, Offering: c, Company: company, Lengths: map[string]time.Duration{}, Latest: map[string]time.Time{}, ground: g}
	l.Service, _ = company.Service(c.Document.Purpose.Service)
	d := newDriver(l)
	if err := d.prepare(); err != nil {
		return nil, err
	}
	d.live()
	return l, nil
}

// broken reports whether an error at a place keeps an offering from running.
func broken(place string) bool {
	return strings.HasPrefix(place, "/plan") || strings.HasPrefix(place, "/ladder")
}

// prepare finds whom and what the script names.
func (d *driver) prepare() error {
	wrong := func(line int, field, format string, args ...any) error {
		return &script.Wrong{Line: line, Field: field, Sentence: fmt.Sprintf(format, args...)}
	}
	login := d.Script.Asker.Login
	if made := d.Script.Asker.Made; made != nil {
		if login = made.Login; login == "" {
			login = asAsker
		}
	}
	asker, there := d.Company.ByLogin(login)
	if !there {
		return wrong(-1, "asker", "Nobody has the login %q.", login)
	}
	d.asker = asker
	d.whom = offering.Beneficiary{Person: asker.ID}
	if whom := d.Script.For; whom != nil && whom.Login != "" && whom.Login != asAsker {
		p, there := d.Company.ByLogin(whom.Login)
		if !there {
			return wrong(-1, "for", "Nobody has the login %q.", whom.Login)
		}
		d.whom = offering.Beneficiary{Person: p.ID}
	} else if whom != nil && whom.Made != nil {
		d.whom = offering.Beneficiary{Newcomer: whom.Newcomer()}
	}
	for i, line := range d.Script.Script {
		if err := d.checkLine(line); err != nil {
			return wrong(i, "script", "%s", finding.Sentence(err.Error()))
		}
	}
	for key := range d.Script.Cast.Systems {
		if !slices.ContainsFunc(d.ground.Connectors, func(c plan.Connector) bool { return c.Key == key }) {
			return wrong(-1, "cast", "There is no connector %q.", key)
		}
	}
	for key := range d.Script.Cast.Tasks.Each {
		if _, there := d.Offering.Plan.Task(key); !there {
			return wrong(-1, "cast", "The plan has no task %q.", key)
		}
	}
	d.furnish()
	d.had, d.pools = d.belongings, d.facts("").Pools
	return nil
}

// places are the free places of the pools of a company, by key.
func (g Ground) places(company *people.Directory) map[string]int {
	free := map[string]int{}
	for _, pool := range company.Pools() {
		free[pool.Key] = pool.Size
		if of, known := g.Pools[pool.Key]; known {
			free[pool.Key] = of
		}
	}
	return free
}

// furnish sets out what whom it is for has, what is free, and what was measured.
func (d *driver) furnish() {
	d.belongings = Samples(d.Offering)
	if d.ground.Belongings != nil {
		d.belongings = d.ground.Belongings(d.Offering)
	}
	d.free = d.ground.places(d.Company)
	d.measures = d.ground.Measures
	if d.measures == nil {
		d.measures = carried{}
	}
	c := d.Script.Company
	if c == nil {
		return
	}
	for key, free := range c.Pools {
		d.free[key] = free
	}
	if c.Belongings != nil {
		d.belongings = nil
		for _, b := range c.Belongings {
			d.belongings = append(d.belongings, people.Belonging{ID: b.ID, Kind: b.Kind, Name: b.Name, Detail: b.Detail, Until: b.Until})
		}
	}
	if c.Alone || c.Measured != nil {
		d.measures = carried{c.Measured}
	}
}
