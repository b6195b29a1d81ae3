package work

import (
	"context"
	"errors"
	"net/url"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/audit"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Connecting says how other systems are reached and who may use them, and takes
// what they and suppliers report.
type Connecting struct {
	*kernel
	forged forgeries
}

// Reach tells how a system is reached, as an administrator has set it.
func Reach(kept *store.Store, sealed []byte, key string) connect.Reach {
	return func(ctx context.Context) (connect.System, error) {
		c, err := kept.Connector(ctx, key)
		if errors.Is(err, ErrNotFound) {
			return connect.System{}, nil
		}
		if err != nil {
			return connect.System{}, err
		}
		system := connect.System{URL: c.URL, Hosts: strings.Fields(c.Hosts)}
		if c.Secret != nil {
			system.Secret, err = unseal(sealed, c.Secret, nil)
		}
		return system, err
	}
}

// Connection is how another system is reached, as an administrator sets it.
type Connection struct {
	Key    string
	URL    string
	Secret string // empty leaves the one that is there
	AtOnce int
	Hosts  string // of web calls, one a line

	Sensitive string // values that need more care, such as groups, one a line
}

// Connect keeps how another system is reached.
func (w *Connecting) Connect(ctx context.Context, person string, c Connection) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	return w.setConnection(ctx, c, person)
}

// SetConnection keeps how another system is reached, as the program says that
// has started it.
func (w *Connecting) SetConnection(ctx context.Context, c Connection) error {
	return w.setConnection(ctx, c, "")
}

// setConnection keeps how another system is reached; what a person says is audited.
func (w *Connecting) setConnection(ctx context.Context, c Connection, person string) error {
	if _, ok := w.connectors[c.Key]; !ok {
		return ErrNotFound
	}
	c.URL = strings.TrimRight(strings.TrimSpace(c.URL), "/")
	if u, err := url.Parse(c.URL); c.URL != "" && (err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https") {
		return invalid(refusal.Url, "/url", "%q is no address: it begins with https:// or http://.", c.URL)
	}
	if c.AtOnce < 1 || c.AtOnce > 50 {
		return invalid(refusal.AtOnce, "/atOnce", "From 1 to 50 calls can run at the same time.")
	}
	for _, host := range strings.Fields(c.Hosts) {
		if u, err := url.Parse("https://" + host); err != nil || u.Host != host || strings.Contains(host, "@") {
			return invalid(refusal.Host, "/hosts", "%q is no host: write it like planner.example or planner.example:8443.", host)
		}
	}
	there, err := w.Store.Connector(ctx, c.Key)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	moved := there.Secret != nil && c.Secret == "" && there.URL != c.URL
	if moved && c.URL != "" {
		return invalid(refusal.SecretAnew, "/secret", "A new address needs the secret anew: the one that is kept goes nowhere else.")
	}
	row := store.Connector{Key: c.Key, URL: c.URL, AtOnce: c.AtOnce, Hosts: strings.Join(strings.Fields(c.Hosts), "\n"), Sensitive: strings.TrimSpace(c.Sensitive)}
	if c.Secret != "" {
		if row.Secret, err = seal(w.Sealed, c.Secret, nil); err != nil {
			return err
		}
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		if moved {
			if err := tx.DropConnectorSecret(c.Key); err != nil {
				return err
			}
		}
		if person != "" {
			if err := w.note(ctx, tx, person, audit.ConnectorSet, c.Key, w.connectors[c.Key].Describe().Name, reachedBy(there, row)...); err != nil {
				return err
			}
		}
		return tx.SaveConnector(row, w.Clock())
	})
	w.rouse()
	if err != nil {
		return err
	}
	return w.readGrants(ctx)
}

// reachedBy is what has changed in how a system is reached; of the secret only that it
// has.
func reachedBy(a, b store.Connector) (changes []audit.Change) {
	changes = audit.Changed(changes, "address", a.URL, b.URL)
	changes = audit.Changed(changes, "calls at once", itoa(a.AtOnce), itoa(b.AtOnce))
	changes = audit.Changed(changes, "hosts", a.Hosts, b.Hosts)
	changes = audit.Changed(changes, "sensitive", a.Sensitive, b.Sensitive)
	if b.Secret != nil {
		changes = append(changes, audit.Secret("secret"))
	}
	return changes
}

// ConnectorState is how a connector stands.
type ConnectorState struct {
	Key, Name, URL   string
	HasSecret        bool
	AtOnce           int
	Hosts, Sensitive string
	Waiting, Running int
	Stuck            int
	Success          time.Time // of the last call that went well; zero for none
	Trouble          string    // of the last call; empty when it went well
	Paused           time.Time // until when it rests because its system is down; zero when it does not
}

// Background is the work that goes on by itself.
type Background struct {
	Pulse      *Pulse // nil when it has not begun
	Connectors []ConnectorState
	Jobs       []store.Job
	Stuck      []store.Entry
	Reports    []store.Report
	Forgeries  []store.Forgery
	Aside      []store.Aside      // what could not be handled for a reason of its own
	Still      []store.Standstill // when all of it stood still
}

// jobsShown is how much of the background is shown at most.
const jobsShown = 200

// Background tells administrators what runs by itself.
func (w *Connecting) Background(ctx context.Context, person string) (Background, error) {
	if !w.Administers(person) {
		return Background{}, ErrNotFound
	}
	b := Background{Pulse: w.pulse.Load()}
	var all []error
	keep := func(err error) { all = append(all, err) }
	var err error
	b.Jobs, err = w.Store.Jobs(ctx, jobsShown)
	keep(err)
	b.Stuck, err = w.Store.StuckCalls(ctx, jobsShown)
	keep(err)
	b.Reports, err = w.Store.Reports(ctx, 50)
	keep(err)
	b.Forgeries, err = w.forgeriesSoFar(ctx)
	keep(err)
	b.Aside, err = w.Store.SetAsides(ctx, jobsShown)
	keep(err)
	b.Still, err = w.Store.Standstills(ctx, 20)
	keep(err)
	counts, err := w.Store.JobsByConnector(ctx)
	keep(err)
	for _, described := range w.described {
		c := ConnectorState{Key: described.Key, Name: described.Name, AtOnce: callsAtATime, Paused: w.lanes.pausedUntil(described.Key)}
		if reached, err := w.Store.Connector(ctx, described.Key); err == nil {
			c.URL, c.HasSecret, c.AtOnce, c.Hosts, c.Success, c.Trouble = reached.URL, reached.Secret != nil, reached.AtOnce, reached.Hosts, reached.Succeeded(), reached.Trouble
			c.Sensitive = reached.Sensitive
		} else if !errors.Is(err, ErrNotFound) {
			keep(err)
		}
		for _, n := range counts {
			if n.Connector == c.Key {
				c.Waiting, c.Running = n.Waiting, n.Running
			}
		}
		for _, e := range b.Stuck {
			if t, ok := e.State.Task(e.Key); ok && t.Connector == c.Key {
				c.Stuck++
			}
		}
		b.Connectors = append(b.Connectors, c)
	}
	return b, errors.Join(all...)
}

// LookNow has the work that goes on by itself look at once for what is due.
func (w *Connecting) LookNow(person string) error {
	if !w.Administers(person) {
		return ErrNotFound
	}
	w.rouse()
	return nil
}

// RetryAll starts every stuck call of a connector anew, and tries a system that
// rests at once; it tells how many it started.
func (w *Connecting) RetryAll(ctx context.Context, person, connector string) (int, error) {
	if !w.Administers(person) {
		return 0, ErrNotFound
	}
	w.lanes.mu.Lock()
	w.lanes.of(connector).paused = time.Time{}
	w.lanes.mu.Unlock()
	stuck, err := w.Store.StuckCalls(ctx, jobsShown)
	if err != nil {
		return 0, err
	}
	started := 0
	for _, e := range stuck {
		if t, ok := e.State.Task(e.Key); !ok || t.Connector != connector {
			continue
		}
		done, err := w.byItself(ctx, e.State.ID, request.Retry{Task: e.Key})
		if err != nil {
			return started, err
		}
		if done {
			started++
		}
	}
	w.rouse()
	return started, nil
}

// TaskOf names the request and the task that a job on another system is for; empty
// for one that is not there any more.
func (w *Connecting) TaskOf(ctx context.Context, id, task string) (reference, name string) {
	state, err := w.Store.Request(ctx, id)
	if err != nil {
		return "", ""
	}
	if t, ok := state.Task(task); ok {
		name = t.Name
	}
	return state.Reference, name
}
