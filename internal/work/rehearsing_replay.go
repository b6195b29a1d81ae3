package work

import (
	"context"
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

// Replay begins to put past requests of an offering through its draft, in the background;
// it gives the ID of the study.
func (w *Rehearsing) Replay(ctx context.Context, person, key string, asked ReplayAsked) (string, error) {
	v, c, err := w.usable(ctx, person, key)
	if err != nil {
		return "", err
	}
	return w.begin(ctx, store.StudyReplay, person, v, asked, func(ctx context.Context, one *study) (any, error) { return w.replay(ctx, one, person, v, c, asked) })
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
	out.Failed, err = w.eachPast(ctx, one, past, func(p store.PastRequest) error {
		if !w.Viewer(person, p.State).SeesRequest() { // of another service by now
			return nil
		}
		replayed, err := through.One(p.Past)
		if err == nil {
			out.Add(replayed)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	out.Finish(v.Document.Items.Currency)
	return out, nil
}
