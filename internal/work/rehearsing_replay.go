package work

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/rehearse"
	"heptad/internal/store"
)

// ReplayAsked says which past requests are put through a draft.
type ReplayAsked struct {
	From     time.Time    `json:"from"`
	Until    time.Time    `json:"until"`
	Version  int          `json:"version,omitempty" doc:"They were sent with; any when left out"`
	Fill     form.Answers `json:"fill,omitempty" maxProperties:"500" doc:"Answers to questions that are new, by question"`
	LeaveOut bool         `json:"leaveOut,omitempty" doc:"A new question without an answer makes nothing invalid"`
}

// pastAtATime is how many past requests are read together, and breath how long is waited
// between: whoever works live goes first.
const (
	pastAtATime = 50
	breath      = 30 * time.Millisecond
)

// Replay begins to put past requests of an offering through its draft, in the background;
// it gives the ID of the study.
func (w *Rehearsing) Replay(ctx context.Context, person, key string, asked ReplayAsked) (string, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return "", err
	}
	c, findings := w.compile(v, w.Company())
	if c == nil || findings.HasErrors() {
		return "", unusable()
	}
	said, err := json.Marshal(asked)
	if err != nil {
		return "", err
	}
	s := store.Study{Kind: store.StudyReplay, Offering: key, Number: v.Number, Revision: v.Revision, Person: person, Asked: said}
	return w.begin(ctx, s, func(ctx context.Context, one *study) (any, error) { return w.replay(ctx, one, person, v, c, asked) })
}

func (w *Rehearsing) replay(ctx context.Context, one *study, person string, v store.Version, c *offering.Compiled, asked ReplayAsked) (any, error) {
	key := v.Document.Key
	past := store.PastAsked{Offering: key, Version: asked.Version, From: asked.From, Until: asked.Until}
	of, err := w.Store.CountPast(ctx, past)
	if err != nil {
		return nil, err
	}
	one.of.Store(int64(of))
	service, _ := w.Company().Service(v.Document.Purpose.Service)
	through := rehearse.Replaying{
		Draft: c, Company: w.Company(), Service: service, Measures: w.durations.of(ctx, key), Fill: asked.Fill, LeaveOut: asked.LeaveOut,
		Version: func(number int) (*offering.Compiled, error) { return w.Version(ctx, key, number) },
	}
	out := rehearse.Replay{}
	for after := int64(0); ; {
		all, err := w.Store.Past(ctx, past, after, pastAtATime)
		if err != nil {
			return nil, err
		}
		for _, p := range all {
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			after = p.Number
			one.done.Add(1)
			if p.Trouble != nil {
				out.Failed++
				continue
			}
			if !w.Viewer(person, p.State).SeesRequest() { // of another service by now
				continue
			}
			var replayed rehearse.Replayed
			if err := w.caught("study", p.State.ID, func() (err error) { replayed, err = through.One(p.Past); return err }); err != nil {
				out.Failed++
				continue
			}
			out.Add(replayed)
		}
		if len(all) < pastAtATime {
			break
		}
		rest(ctx, breath, nil)
	}
	out.Finish(v.Document.Items.Currency)
	return out, nil
}
