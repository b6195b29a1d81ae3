package web

import (
	"context"

	"heptad/internal/core/measure"
	"heptad/internal/work"
)

type targetView struct {
	ID       string           `json:"id"`
	Target   measure.Target   `json:"target"`
	Narrowed []narrowedView   `json:"narrowed" nullable:"false"`
	Period   periodView       `json:"period"`
	Now      measure.Value    `json:"now"`
	Pace     *float64         `json:"pace,omitempty" doc:"Of counts and sums: what it will come to as it goes on now"`
	Stands   measure.Standing `json:"stands"`
	People   []namedKey       `json:"people" nullable:"false" doc:"Who is told beside who set it"`
}

func (h measuring) target(names work.Names, t work.Target) targetView {
	out := targetView{ID: t.ID, Target: t.Target.Target, Narrowed: narrowed(names, t.Only), Period: periodOf(t.Period), Now: t.Now, Pace: t.Pace, Stands: t.Stands, People: []namedKey{}}
	for _, id := range t.People {
		out.People = append(out.People, namedKey{id, h.Office.Company().Name(id)})
	}
	return out
}

func (h measuring) targets(ctx context.Context, _ *none) (*body[listOf[targetView]], error) {
	all, err := h.Office.Measuring.Targets(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	out := listOf[targetView]{Entries: []targetView{}}
	for _, t := range all {
		out.Entries = append(out.Entries, h.target(names, t))
	}
	return answer(out, err)
}

func (h measuring) addTarget(ctx context.Context, in *struct{ Body measure.Target }) (*body[targetView], error) {
	t, err := h.Office.Measuring.AddTarget(ctx, me(ctx), in.Body)
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	return answer(h.target(names, t), err)
}

type TargetInput struct {
	Target string `path:"target" maxLength:"60" doc:"ID"`
}

func (h measuring) dropTarget(ctx context.Context, in *TargetInput) (*none, error) {
	return nil, h.Office.Measuring.DropTarget(ctx, me(ctx), in.Target)
}
