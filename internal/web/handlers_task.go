package web

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// TaskView is a task as its request shows it.
type TaskView struct {
	Key       string     `json:"key"`
	Name      string     `json:"name"`
	Kind      plan.Kind  `json:"kind"`
	Team      string     `json:"team" doc:"Name"`
	State     plan.State `json:"state"`
	Undo      plan.State `json:"undo,omitempty" enum:"ready,taken,stuck" doc:"While it is being taken back"`
	Accepted  bool       `json:"accepted,omitempty" doc:"Another system has it in hand and will report"`
	Queued    string     `json:"queued,omitempty" doc:"Name of the pool on whose waiting list it is"`
	Until     *time.Time `json:"until,omitempty" doc:"When a wait ends"`
	Likely    *time.Time `json:"likely,omitempty" doc:"When it is likely done"`
	Unneeded  bool       `json:"unneeded,omitempty" doc:"It has not begun, and as far as one can tell it will not be needed"`
	Word      string     `json:"word,omitempty" doc:"With which it ended"`
	Confirmed string     `json:"confirmed,omitempty" doc:"Of a task that asks many, such as 2 of 5"`
	Holder    string     `json:"holder,omitempty" doc:"Name of who took it"`
	After     []string   `json:"after" nullable:"false" doc:"Names of the tasks it waits for"`
	Trouble   string     `json:"trouble,omitempty"`
	RetryAt   *time.Time `json:"retryAt,omitempty" doc:"When it is tried again by itself"`
	ReadyAt   *time.Time `json:"readyAt,omitempty"`
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	Outputs   []answered `json:"outputs" nullable:"false"`
	Secrets   []answered `json:"secrets,omitempty" nullable:"false" doc:"What came out of it for one person only, without what it is"`
	Automatic string     `json:"automatic,omitempty" doc:"Name of the system that does it"`
}

// confirmed says how many of those who were asked have confirmed.
func confirmed(t request.Task) string {
	return fmt.Sprintf("%d of %d", len(t.Confirmed), len(t.Confirmers))
}

func (h handlers) taskView(ctx context.Context, state request.State, t request.Task) TaskView {
	out := TaskView{
		Key: t.Key, Name: t.Name, Kind: t.Kind, Team: h.Office.Company().TeamName(t.Team), State: t.State, After: []string{},
		Trouble: t.Trouble, ReadyAt: reached(t.ReadyAt), EndedAt: reached(t.EndedAt), Outputs: []answered{},
	}
	if t.Holder != "" {
		out.Holder = h.Office.Company().Name(t.Holder)
	}
	out.Accepted, out.Until, out.Word = t.Accepted, reached(t.Until), t.Word
	if u := t.Undo; u != nil {
		out.Undo, out.Trouble, out.Holder = u.State, u.Trouble, ""
		if u.Holder != "" {
			out.Holder = h.Office.Company().Name(u.Holder)
		}
	}
	if t.Place == request.Queued {
		pool, _ := h.Office.Company().Pool(t.Pool)
		out.Queued = pool.Name
	}
	if len(t.Confirmers) > 0 {
		out.Confirmed = confirmed(t)
	}
	if t.State == plan.Ready && t.Trouble != "" {
		out.RetryAt = reached(t.RetryAt)
	}
	for _, key := range t.After {
		if before, ok := state.Task(key); ok {
			out.After = append(out.After, before.Name)
		}
	}
	if t.Connector != "" {
		out.Automatic = h.connectorName(t.Connector)
	}
	kinds := h.outputs(ctx, state, t)
	label := func(key string) string { return cmp.Or(kinds[key].Name, key) }
	for _, o := range state.CameOut(&t, t.Outputs) {
		if kinds[o.Key].Secret { // of before secrets were kept apart
			continue
		}
		entry := answered{Key: o.Key, Label: label(o.Key), Text: o.Text}
		for _, file := range state.Files {
			if o.File == file.ID {
				entry.Files = []form.Upload{file.Upload}
			}
		}
		out.Outputs = append(out.Outputs, entry)
	}
	for _, key := range t.Secrets {
		out.Secrets = append(out.Secrets, answered{Key: key, Label: label(key), Private: "sealed"})
	}
	return out
}

// foresee fills in when a task that has not ended is likely done, or that it will
// likely not be needed.
func (t *TaskView) foresee(f request.Forecast) {
	slot, step, ok := f.Step(t.Key)
	switch {
	case !ok || t.State.Ended():
	case t.State == plan.Blocked && !step.Needed:
		t.Unneeded = true
	default:
		if !slot.Unknown {
			t.Likely = reached(slot.Finish)
		}
	}
}

// headOnly leaves out what came out of a task, and what was said of it.
func (t TaskView) headOnly() TaskView {
	t.Outputs, t.Secrets, t.Trouble, t.Word = []answered{}, nil, "", ""
	return t
}

// outputs are what comes out of a task, by key.
func (h handlers) outputs(ctx context.Context, state request.State, t request.Task) map[string]plan.Output {
	all := map[string]plan.Output{}
	if c, err := h.Office.Version(ctx, state.Offering, state.Version); err == nil && t.Of != "" {
		for _, o := range c.Plan.Outputs(t.Of) {
			all[o.Key] = o
		}
	}
	return all
}
