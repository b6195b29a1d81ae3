package work

import (
	"context"
	"errors"
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

// Reporters are the connectors whose systems report later, by key.
func (k *kernel) Reporters() map[string]connect.Reporter {
	all := map[string]connect.Reporter{}
	for key, c := range k.connectors {
		if r, reports := c.(connect.Reporter); reports {
			all[key] = r
		}
	}
	return all
}

// Reported takes a report of the system of a connector. One that came before, or
// too late, is kept in the log and changes nothing.
func (w *Connecting) Reported(ctx context.Context, connector string, body []byte, signature, stamp string) (verdict string, err error) {
	reporter, reports := w.Reporters()[connector]
	if !reports {
		return Unknown, nil
	}
	system, err := Reach(w.Store, w.Sealed, connector)(ctx)
	if err != nil {
		return "", err
	}
	if !connect.Verify(system.Secret, signature, stamp, body, w.Clock()) {
		w.forged.add(connector, w.Clock())
		return forged, ErrForged
	}
	r, err := reporter.ReadReport(body)
	if err != nil {
		return "", invalid(refusal.Report, "", "This is no report.")
	}
	verdict, err = w.report(ctx, r.Key, r.Report, func(t *request.Task) map[int]int {
		if len(t.Lines) == 1 {
			return map[int]int{0: min(r.Done, t.Lines[0].Of)}
		}
		return nil
	})
	return verdict, errors.Join(err, w.log(ctx, connector, r, verdict, body))
}

func (w *Connecting) log(ctx context.Context, connector string, r connect.Report, verdict string, body []byte) error {
	if len(body) > 4000 {
		body = body[:4000]
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddReport(store.Report{At: w.Clock(), Connector: connector, Key: r.Key, Step: r.Step, Verdict: verdict, Body: strings.ToValidUTF8(string(body), "?")})
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
	_, err = w.run(ctx, change{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) {
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
