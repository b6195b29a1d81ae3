// Package connect holds the connectors: what automatic tasks can call. A
// connector speaks to one other system; it retries nothing and keeps nothing.
package connect

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strconv"
	"strings"
	"unicode"

	"heptad/internal/core/plan"
)

// Call is one call of an action. The key never changes over retries, so that
// the other system does the work once.
type Call struct {
	Key     string
	Do      string
	Inputs  map[string]string
	Outputs map[string]string // of the call that is undone, as far as they are known
	Undoes  string            // key of the call that is undone; empty for others
	Wanted  []plan.Output     // what is read from the reply of a web call

	Currency string // of what is wanted that is money; ISO 4217
}

// Input gives an input, or of an undo what came out of the call it undoes.
func (c Call) Input(key string) string { return plan.Input(key, c.Inputs, c.Outputs) }

// Reply is what came of a call.
type Reply struct {
	Outputs map[string]string
	Later   bool // it is accepted; its end is reported later
}

// Connector does the actions of one other system.
type Connector interface {
	// Describe tells what it can do.
	Describe() plan.Connector
	// Do makes one call. The error is a Trouble; a call that failed may have
	// been done all the same.
	Do(ctx context.Context, call Call) (Reply, error)
}

// Trouble is why a call failed.
type Trouble struct {
	Sentence string // that people can read
	Down     bool   // the whole system is away: others need not try now
	Final    bool   // trying again is of no use
}

func (t Trouble) Error() string { return t.Sentence }

// mostTrouble is how much is kept of what others say went wrong, in letters.
const mostTrouble = 500

// Shortened keeps the beginning of a text from outside, on one line.
func Shortened(text string) string {
	letters := []rune(strings.Join(strings.FieldsFunc(strings.ToValidUTF8(text, "?"), unicode.IsControl), " "))
	if len(letters) > mostTrouble {
		return string(letters[:mostTrouble-1]) + "…"
	}
	return string(letters)
}

func Refused(format string, args ...any) error {
	return Trouble{Sentence: fmt.Sprintf(format, args...), Final: true}
}

// System is how another system is reached.
type System struct {
	URL    string   // without a slash at its end
	Secret string   // empty for none
	Hosts  []string // that a web call may reach, as host or host:port
}

// Reach tells how a system is reached now.
type Reach func(ctx context.Context) (System, error)

// At is a system that is always reached in the same way.
func At(url, secret string) Reach {
	return func(context.Context) (System, error) { return System{URL: url, Secret: secret}, nil }
}

// maxReply is how much of a reply is read, in bytes.
const maxReply = 256 << 10

// API speaks JSON over HTTP with one system. How long a call may take its context
// says.
type API struct {
	Name   string // of the system, to begin a sentence with
	Reach  Reach
	Client *http.Client
}

func NewAPI(name string, reach Reach) API {
	return API{name, reach, &http.Client{Timeout: plan.MostLimit, CheckRedirect: noRedirects}}
}

// Ask makes one request and reads its reply into a value; nil for none. A 404
// is ErrGone.
func (a API) Ask(ctx context.Context, method, path, key string, in, out any) error {
	system, err := a.Reach(ctx)
	if err != nil {
		return err
	}
	if system.URL == "" {
		return Refused("%s is not connected: an administrator has to say where it is.", a.Name)
	}
	var body io.Reader
	if in != nil {
		data, err := json.Marshal(in)
		if err != nil {
			return err
		}
		body = bytes.NewReader(data)
	}
	request, err := http.NewRequestWithContext(ctx, method, system.URL+path, body)
	if err != nil || Climbs(request.URL) {
		return Refused("%s cannot be asked: its address is wrong.", a.Name)
	}
	if in != nil {
		request.Header.Set("Content-Type", "application/json")
	}
	if key != "" {
		request.Header.Set("Idempotency-Key", key)
	}
	if system.Secret != "" {
		request.Header.Set("Authorization", "Bearer "+system.Secret)
	}
	return a.Send(request, out)
}

// ErrGone says that there is no such thing at the other system.
var ErrGone = errors.New("gone")

func (a API) Send(request *http.Request, out any) error {
	response, err := a.Client.Do(request)
	if err != nil {
		return Trouble{Sentence: a.Name + " does not answer.", Down: true}
	}
	defer response.Body.Close()
	data, err := io.ReadAll(io.LimitReader(response.Body, maxReply))
	if err != nil {
		return Trouble{Sentence: a.Name + " broke off its answer."}
	}
	if status := response.StatusCode; status >= 300 && status < 400 {
		return Trouble{Sentence: fmt.Sprintf("%s sends the call elsewhere (status %d), where it is not followed.", a.Name, status), Final: true}
	}
	if status := response.StatusCode; status >= 300 {
		var problem struct{ Detail string }
		_ = json.Unmarshal(data, &problem) // a problem without words is told by its number
		if problem.Detail == "" {
			problem.Detail = "status " + strconv.Itoa(status) + "."
		}
		if status == http.StatusNotFound {
			return fmt.Errorf("%w: %s", ErrGone, Shortened(problem.Detail))
		}
		return Trouble{
			Sentence: Shortened(fmt.Sprintf("%s refused: %s", a.Name, problem.Detail)),
			Down:     status == http.StatusServiceUnavailable || status == http.StatusBadGateway,
			Final:    status < 500 && status != http.StatusConflict && status != http.StatusTooManyRequests && status != http.StatusRequestTimeout,
		}
	}
	if out == nil || len(data) == 0 && response.StatusCode == http.StatusNoContent {
		return nil
	}
	if err := json.Unmarshal(data, out); err != nil {
		return Trouble{Sentence: fmt.Sprintf("%s gave an answer that cannot be read (status %d).", a.Name, response.StatusCode)}
	}
	return nil
}

// Gone turns something that is not there into a refusal.
func (a API) Gone(err error, format string, args ...any) error {
	if errors.Is(err, ErrGone) {
		return Refused(format, args...)
	}
	return err
}

// Text and others describe inputs and outputs.
func Text(key, name string) plan.Field { return plan.Field{Key: key, Name: name} }
func Free(key, name string) plan.Field { return plan.Field{Key: key, Name: name, Free: true} }
func Number(key, name string) plan.Field {
	return plan.Field{Key: key, Name: name, Kind: plan.Number}
}
func FreeDate(key, name string) plan.Field {
	return plan.Field{Key: key, Name: name, Kind: plan.Date, Free: true}
}

// Filled are the outputs that are not empty.
func Filled(outputs map[string]string) map[string]string {
	for key, value := range outputs {
		if value == "" {
			delete(outputs, key)
		}
	}
	return outputs
}
