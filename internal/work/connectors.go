package work

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/form"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// seal encrypts a secret for keeping (AES-256-GCM, the nonce in front), bound to
// what it is of.
func seal(key []byte, secret string, of []byte) ([]byte, error) {
	gcm, err := sealer(key)
	if err != nil {
		return nil, err
	}
	nonce := make([]byte, gcm.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return nil, err
	}
	return gcm.Seal(nonce, nonce, []byte(secret), of), nil
}

// unseal reads a secret that was kept.
func unseal(key, sealed, of []byte) (string, error) {
	gcm, err := sealer(key)
	if err != nil {
		return "", err
	}
	if len(sealed) < gcm.NonceSize() {
		return "", errors.New("this is no secret")
	}
	secret, err := gcm.Open(nil, sealed[:gcm.NonceSize()], sealed[gcm.NonceSize():], of)
	return string(secret), err
}

func sealer(key []byte) (cipher.AEAD, error) {
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(block)
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
func (o *Office) Connect(ctx context.Context, person string, c Connection) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	return o.SetConnection(ctx, c)
}

// SetConnection keeps how another system is reached, as the program says that
// has started it.
func (o *Office) SetConnection(ctx context.Context, c Connection) error {
	if _, ok := o.connectors[c.Key]; !ok {
		return ErrNotFound
	}
	c.URL = strings.TrimRight(strings.TrimSpace(c.URL), "/")
	if u, err := url.Parse(c.URL); c.URL != "" && (err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https") {
		return invalid("url", "/url", "%q is no address: it begins with https:// or http://.", c.URL)
	}
	if c.AtOnce < 1 || c.AtOnce > 50 {
		return invalid("atOnce", "/atOnce", "From 1 to 50 calls can run at the same time.")
	}
	for _, host := range strings.Fields(c.Hosts) {
		if u, err := url.Parse("https://" + host); err != nil || u.Host != host || strings.Contains(host, "@") {
			return invalid("host", "/hosts", "%q is no host: write it like planner.example or planner.example:8443.", host)
		}
	}
	there, err := o.Store.Connector(ctx, c.Key)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	moved := there.Secret != nil && c.Secret == "" && there.URL != c.URL
	if moved && c.URL != "" {
		return invalid("secretAnew", "/secret", "A new address needs the secret anew: the one that is kept goes nowhere else.")
	}
	row := store.Connector{Key: c.Key, URL: c.URL, AtOnce: c.AtOnce, Hosts: strings.Join(strings.Fields(c.Hosts), "\n"), Sensitive: strings.TrimSpace(c.Sensitive)}
	if c.Secret != "" {
		if row.Secret, err = seal(o.Sealed, c.Secret, nil); err != nil {
			return err
		}
	}
	err = o.Store.Write(ctx, func(tx *store.Tx) error {
		if moved {
			if err := tx.DropConnectorSecret(c.Key); err != nil {
				return err
			}
		}
		return tx.SaveConnector(row, o.Clock())
	})
	o.rouse()
	if err != nil {
		return err
	}
	return o.readGrants(ctx)
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
func (o *Office) Background(ctx context.Context, person string) (Background, error) {
	if !o.administers(person) {
		return Background{}, ErrNotFound
	}
	b := Background{Pulse: o.pulse.Load()}
	var all []error
	keep := func(err error) { all = append(all, err) }
	var err error
	b.Jobs, err = o.Store.Jobs(ctx, jobsShown)
	keep(err)
	b.Stuck, err = o.Store.StuckCalls(ctx, jobsShown)
	keep(err)
	b.Reports, err = o.Store.Reports(ctx, 50)
	keep(err)
	b.Forgeries, err = o.forgeriesSoFar(ctx)
	keep(err)
	b.Aside, err = o.Store.SetAsides(ctx, jobsShown)
	keep(err)
	b.Still, err = o.Store.Standstills(ctx, 20)
	keep(err)
	counts, err := o.Store.JobsByConnector(ctx)
	keep(err)
	for _, described := range o.described {
		c := ConnectorState{Key: described.Key, Name: described.Name, AtOnce: callsAtATime, Paused: o.lanes.pausedUntil(described.Key)}
		if reached, err := o.Store.Connector(ctx, described.Key); err == nil {
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
func (o *Office) LookNow(person string) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	o.rouse()
	return nil
}

// RetryAll starts every stuck call of a connector anew, and tries a system that
// rests at once; it tells how many it started.
func (o *Office) RetryAll(ctx context.Context, person, connector string) (int, error) {
	if !o.administers(person) {
		return 0, ErrNotFound
	}
	o.lanes.mu.Lock()
	o.lanes.of(connector).paused = time.Time{}
	o.lanes.mu.Unlock()
	stuck, err := o.Store.StuckCalls(ctx, jobsShown)
	if err != nil {
		return 0, err
	}
	started := 0
	for _, e := range stuck {
		if t, ok := e.State.Task(e.Key); !ok || t.Connector != connector {
			continue
		}
		done, err := o.byItself(ctx, e.State.ID, request.Retry{Task: e.Key})
		if err != nil {
			return started, err
		}
		if done {
			started++
		}
	}
	o.rouse()
	return started, nil
}

// Verdicts on reports from outside.
const (
	taken   = "taken"
	seen    = "seen before"
	late    = "late: it changed nothing"
	forged  = "refused: the signature is wrong"
	Unknown = "refused: nothing is known of it"
)

// ErrForged says that a report is not from who it says it is.
var ErrForged = errors.New("the signature is wrong")

// PurchasingReports takes a report of the purchasing system. One that came
// before, or too late, is kept in the log and changes nothing.
func (o *Office) PurchasingReports(ctx context.Context, body []byte, signature, stamp string) (verdict string, err error) {
	system, err := Reach(o.Store, o.Sealed, "purchasing")(ctx)
	if err != nil {
		return "", err
	}
	var d connect.Delivery
	if !connect.Verify(system.Secret, signature, stamp, body, o.Clock()) {
		o.forged.add("purchasing", o.Clock())
		return forged, ErrForged
	}
	if err := json.Unmarshal(body, &d); err != nil || d.Key == "" || d.Step == "" {
		return "", invalid("report", "", "This is no report.")
	}
	report := request.Report{Step: d.Step, Words: connect.Shortened(d.Words), Outputs: map[string]string{}, Final: d.State == "delivered", Failed: d.State == "refused"}
	for key, value := range map[string]string{"supplier": d.Supplier, "cost": d.Cost} {
		if value != "" {
			report.Outputs[key] = value
		}
	}
	if d.State == "partial" && report.Words == "" {
		report.Words = fmt.Sprintf("%d came so far.", d.Delivered)
	}
	verdict, err = o.report(ctx, d.Key, report, func(t *request.Task) map[int]int {
		if len(t.Lines) == 1 {
			return map[int]int{0: min(d.Delivered, t.Lines[0].Of)}
		}
		return nil
	})
	return verdict, errors.Join(err, o.log(ctx, "purchasing", d, verdict, body))
}

func (o *Office) log(ctx context.Context, connector string, d connect.Delivery, verdict string, body []byte) error {
	if len(body) > 4000 {
		body = body[:4000]
	}
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddReport(store.Report{At: o.Clock(), Connector: connector, Key: d.Key, Step: d.Step, Verdict: verdict, Body: strings.ToValidUTF8(string(body), "?")})
	})
}

// report brings a report to the task whose call has a key.
func (o *Office) report(ctx context.Context, key string, r request.Report, lines func(*request.Task) map[int]int) (string, error) {
	e, err := o.Store.CallEffect(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return Unknown, nil
	}
	if err != nil {
		return "", err
	}
	_, err = o.run(ctx, turn{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) {
		state, err := tx.Request(ctx, e.Request)
		if err != nil {
			return nil, err
		}
		r.Task = e.Task
		if task, ok := state.Task(e.Task); ok && lines != nil {
			r.Lines = lines(task)
		}
		return r, nil
	}})
	refusal, refused := request.AsRefusal(err)
	switch {
	case refused && refusal.Code == "seen":
		return seen, nil
	case refused && refusal.Kind == request.Conflict:
		return late, nil
	case err != nil:
		return "", err
	}
	return taken, nil
}

// SupplierLink is the URL under which a supplier answers a call.
func SupplierLink(base string, secret []byte) func(key string) string {
	return func(key string) string {
		return base + "/supplier/" + supplierToken(secret, key)
	}
}

func supplierToken(secret []byte, key string) string {
	return base64.RawURLEncoding.EncodeToString([]byte(key)) + "." + base64.RawURLEncoding.EncodeToString(signed(secret, "supplier", key))
}

// supplierLife is how long a supplier's link can be answered by, from the call.
const supplierLife = 90 * 24 * time.Hour

const linkExpired = "This link has expired. Ask whoever sent it for a new one."

func (o *Office) expired(e store.Effect) bool { return o.Clock().Sub(e.At) > supplierLife }

// Supplied is what a supplier sees of the task they were asked to do.
type Supplied struct {
	Name, Reference, Subject, Text string
	Trouble                        string // why nothing can be answered any more; empty when it can
}

// supplied finds the call of a supplier's link.
func (o *Office) supplied(ctx context.Context, token string) (store.Effect, error) {
	encoded, _, _ := strings.Cut(token, ".")
	key, err := base64.RawURLEncoding.DecodeString(encoded)
	if err != nil || o.Mailing == nil || !hmac.Equal([]byte(token), []byte(supplierToken(o.Mailing.Secret, string(key)))) {
		return store.Effect{}, ErrNotFound
	}
	return o.Store.CallEffect(ctx, string(key))
}

// OpenSupplier shows a supplier what they were asked to do. It changes nothing.
func (o *Office) OpenSupplier(ctx context.Context, token string) (Supplied, error) {
	e, err := o.supplied(ctx, token)
	if err != nil {
		return Supplied{}, err
	}
	state, err := o.Store.Request(ctx, e.Request)
	if err != nil {
		return Supplied{}, err
	}
	out := Supplied{Name: e.Inputs["name"], Reference: state.Reference, Subject: e.Inputs["subject"], Text: e.Inputs["text"]}
	if task, ok := state.Task(e.Task); !ok || task.State.Ended() || task.Undo != nil || state.Status == request.Closed || state.Status == request.Undoing {
		out.Trouble = "This is over: nothing is waited for any more."
	} else if o.expired(e) {
		out.Trouble = linkExpired
	}
	return out, nil
}

// SupplierAnswer is what a supplier says.
type SupplierAnswer struct {
	State  string // done, begun or refused
	Number string
	Day    string // on which it will be, or was, done; RFC 3339
	Words  string
}

// AnswerSupplier takes what a supplier says; the same words twice are taken
// once.
func (o *Office) AnswerSupplier(ctx context.Context, token string, a SupplierAnswer) error {
	e, err := o.supplied(ctx, token)
	if err != nil {
		return err
	}
	if o.expired(e) {
		return &request.Refusal{Kind: request.Conflict, Code: "expired", Sentence: linkExpired}
	}
	if !form.OneLine(a.Number) {
		return invalid("oneLine", "/number", "A number stands on one line.")
	}
	if a.State == "refused" && strings.TrimSpace(a.Words) == "" {
		return invalid("reasonNeeded", "/words", "Say why it cannot be done.")
	}
	outputs := map[string]string{}
	for key, value := range map[string]string{"number": a.Number, "day": a.Day} {
		if value = strings.TrimSpace(value); value != "" {
			outputs[key] = value
		}
	}
	words := strings.TrimSpace(a.Words)
	if a.State == "refused" {
		words = connect.Shortened(words) // it stands where trouble does
	}
	sum := sha256.Sum256(fmt.Appendf(nil, "%q", a))
	verdict, err := o.report(ctx, e.Key, request.Report{
		Step: base64.RawURLEncoding.EncodeToString(sum[:9]), Words: words, Outputs: outputs, Final: a.State == "done", Failed: a.State == "refused",
	}, nil)
	if err == nil && verdict == late {
		err = &request.Refusal{Kind: request.Conflict, Code: "late", Sentence: "This is over: nothing is waited for any more."}
	}
	return err
}
