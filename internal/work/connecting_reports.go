package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"heptad/internal/connect"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

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
func (w *Connecting) PurchasingReports(ctx context.Context, body []byte, signature, stamp string) (verdict string, err error) {
	system, err := Reach(w.Store, w.Sealed, "purchasing")(ctx)
	if err != nil {
		return "", err
	}
	var d connect.Delivery
	if !connect.Verify(system.Secret, signature, stamp, body, w.Clock()) {
		w.forged.add("purchasing", w.Clock())
		return forged, ErrForged
	}
	if err := json.Unmarshal(body, &d); err != nil || d.Key == "" || d.Step == "" {
		return "", invalid(refusal.Report, "", "This is no report.")
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
	verdict, err = w.report(ctx, d.Key, report, func(t *request.Task) map[int]int {
		if len(t.Lines) == 1 {
			return map[int]int{0: min(d.Delivered, t.Lines[0].Of)}
		}
		return nil
	})
	return verdict, errors.Join(err, w.log(ctx, "purchasing", d, verdict, body))
}

func (w *Connecting) log(ctx context.Context, connector string, d connect.Delivery, verdict string, body []byte) error {
	if len(body) > 4000 {
		body = body[:4000]
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddReport(store.Report{At: w.Clock(), Connector: connector, Key: d.Key, Step: d.Step, Verdict: verdict, Body: strings.ToValidUTF8(string(body), "?")})
	})
}

// report brings a report to the task whose call has a key.
func (w *Connecting) report(ctx context.Context, key string, r request.Report, lines func(*request.Task) map[int]int) (string, error) {
	e, err := w.Store.CallEffect(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return Unknown, nil
	}
	if err != nil {
		return "", err
	}
	_, err = w.run(ctx, turn{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) {
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
	why, refused := request.AsRefusal(err)
	switch {
	case refused && why.Code == refusal.Seen:
		return seen, nil
	case refused && why.Kind == request.Conflict:
		return late, nil
	case err != nil:
		return "", err
	}
	return taken, nil
}
