package work

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/form"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

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

func (w *Connecting) expired(e store.Effect) bool { return w.Clock().Sub(e.At) > supplierLife }

// Supplied is what a supplier sees of the task they were asked to do.
type Supplied struct {
	Name, Reference, Subject, Text string
	Trouble                        string // why nothing can be answered any more; empty when it can
}

// supplied finds the call of a supplier's link.
func (w *Connecting) supplied(ctx context.Context, token string) (store.Effect, error) {
	encoded, _, _ := strings.Cut(token, ".")
	key, err := base64.RawURLEncoding.DecodeString(encoded)
	if err != nil || w.Mailing == nil || !hmac.Equal([]byte(token), []byte(supplierToken(w.Mailing.Secret, string(key)))) {
		return store.Effect{}, ErrNotFound
	}
	return w.Store.CallEffect(ctx, string(key))
}

// OpenSupplier shows a supplier what they were asked to do. It changes nothing.
func (w *Connecting) OpenSupplier(ctx context.Context, token string) (Supplied, error) {
	e, err := w.supplied(ctx, token)
	if err != nil {
		return Supplied{}, err
	}
	state, err := w.Store.Request(ctx, e.Request)
	if err != nil {
		return Supplied{}, err
	}
	out := Supplied{Name: e.Inputs["name"], Reference: state.Reference, Subject: e.Inputs["subject"], Text: e.Inputs["text"]}
	if task, ok := state.Task(e.Task); !ok || task.State.Ended() || task.Undo != nil || state.Status == request.Closed || state.Status == request.Undoing {
		out.Trouble = "This is over: nothing is waited for any more."
	} else if w.expired(e) {
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
func (w *Connecting) AnswerSupplier(ctx context.Context, token string, a SupplierAnswer) error {
	e, err := w.supplied(ctx, token)
	if err != nil {
		return err
	}
	if w.expired(e) {
		return &request.Refusal{Kind: request.Conflict, Code: refusal.Expired, Sentence: linkExpired}
	}
	if !form.OneLine(a.Number) {
		return invalid(refusal.OneLine, "/number", "A number stands on one line.")
	}
	if a.State == "refused" && strings.TrimSpace(a.Words) == "" {
		return invalid(refusal.ReasonNeeded, "/words", "Say why it cannot be done.")
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
	verdict, err := w.report(ctx, e.Key, request.Report{
		Step: base64.RawURLEncoding.EncodeToString(sum[:9]), Words: words, Outputs: outputs, Final: a.State == "done", Failed: a.State == "refused",
	}, nil)
	if err == nil && verdict == late {
		err = &request.Refusal{Kind: request.Conflict, Code: refusal.Late, Sentence: "This is over: nothing is waited for any more."}
	}
	return err
}
