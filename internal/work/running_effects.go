package work

import (
	"context"
	"errors"
	"fmt"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// timersAtATime is how many timers run side by side, and callsAtATime how many
// calls of a connector that says nothing else.
const (
	timersAtATime = 16
	callsAtATime  = 4
)

// atOnce is how many calls of a connector may run at the same time.
func (w *Running) atOnce(ctx context.Context, connector string) int {
	if connector == "" {
		return timersAtATime
	}
	if reached, err := w.Store.Connector(ctx, connector); err == nil && reached.AtOnce > 0 {
		return reached.AtOnce
	}
	return callsAtATime
}

// perform does one effect outside any transaction and reports it; it tells
// whether nobody was found at the other end.
func (w *Running) perform(ctx context.Context, e store.Effect) (down bool, err error) {
	var report request.Command
	trouble := ""
	switch e.Kind {
	case request.Call:
		report, trouble, down = w.call(ctx, e)
	case request.TickTimer:
		report = request.Tick{}
	case request.TieTimer:
		report = tiedCommand(e)
	case request.JoinedTimer:
		return false, w.tellJoined(ctx, e)
	default:
		report = request.Lapse{}
	}
	if ctx.Err() != nil {
		return false, nil // it stays running and is taken up at the next start
	}
	finish := func(tx *store.Tx) error {
		if e.Kind != request.Call {
			return tx.FinishEffect(e.Key)
		}
		return errors.Join(tx.FinishEffect(e.Key), tx.SetTrouble(e.Key, trouble), tx.Called(e.Connector, trouble, w.Clock()))
	}
	_, err = w.run(ctx, change{actor: request.Program, id: e.Request, command: func(tx *store.Tx) (request.Command, error) { return report, finish(tx) }})
	if isRefusal(err) { // late or repeated: it changes nothing
		w.Log.Debug("a report came too late", "effect", e.Key, "reason", err)
		err = w.Store.Write(ctx, finish)
	}
	return down, err
}

// call makes the call of an automatic task, or of its undo.
func (w *Running) call(ctx context.Context, e store.Effect) (report request.Command, trouble string, down bool) {
	undo := e.Undoes != ""
	fail := func(sentence string, final bool) request.Command {
		return request.Fail{Task: e.Task, Undo: undo, Trouble: sentence, Final: final, Jitter: w.Jitter()}
	}
	connector, ok := w.connectors[e.Connector]
	if !ok {
		sentence := "There is no connector " + e.Connector + "."
		return fail(sentence, true), sentence, false
	}
	if refused, err := w.mayCall(ctx, e); err != nil {
		return fail("What the service may use cannot be read.", false), "", false
	} else if refused != "" {
		return fail(refused, true), "", false
	}
	c := connect.Call{Key: e.Key, Do: e.Do, Inputs: e.Inputs, Outputs: e.Outputs, Undoes: e.Undoes}
	if action, ok := plan.FindAction(w.described, plan.Action{Connector: e.Connector, Do: e.Do}); ok {
		if action.Free {
			c.Wanted, c.Currency = w.wanted(ctx, e)
		}
		if wrong := action.Wrong(c.Input, c.Undoes != ""); wrong != "" {
			return fail(wrong, true), "", false // nothing is wrong with the other system
		}
	}
	within, cancel := context.WithTimeout(ctx, e.Within)
	reply, err := connector.Do(within, c)
	cancel()
	var why connect.Trouble
	switch {
	case errors.As(err, &why):
		sentence := connect.Shortened(why.Sentence)
		return fail(sentence, why.Final), sentence, why.Down
	case err != nil:
		w.Log.Error("a connector failed", "connector", e.Connector, "error", err)
		return fail("The connector failed.", false), "The connector failed.", false
	}
	return request.Succeed{Task: e.Task, Undo: undo, Later: reply.Later, Outputs: reply.Outputs}, "", false
}

// wanted is what the task of a call wants from a reply that can be anything, and
// the currency of what is money.
func (w *Running) wanted(ctx context.Context, e store.Effect) (outputs []plan.Output, currency string) {
	if e.Undoes != "" {
		return nil, ""
	}
	state, err := w.Store.Request(ctx, e.Request)
	if err != nil {
		return nil, ""
	}
	task, ok := state.Task(e.Task)
	c, err := w.Version(ctx, state.Offering, state.Version)
	if err != nil || !ok {
		return nil, ""
	}
	of, _ := c.Plan.Task(task.Of)
	return of.Outputs, c.Plan.Currency()
}

// mayCall says why the service of a request may not make a call; empty when it
// may. What was done may always be taken back.
func (w *Running) mayCall(ctx context.Context, e store.Effect) (string, error) {
	if e.Undoes != "" {
		return "", nil
	}
	state, err := w.Store.Request(ctx, e.Request)
	if err != nil {
		return "", err
	}
	if _, ok := w.grantsOf(state.Service).Of(e.Connector, e.Do); !ok {
		service, _ := w.Company().Service(state.Service)
		return fmt.Sprintf("%s may not use this action any more: an administrator has to grant it.", service.Name), nil
	}
	return "", nil
}
