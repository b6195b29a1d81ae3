package web

import (
	"context"
	"slices"

	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
)

// keptCase is a rehearsal as a case, with what can be expected of it.
type keptCase struct {
	Script script.Script   `json:"script" doc:"With all that it stands on"`
	Seen   []rehearse.Seen `json:"seen" nullable:"false"`
	Expect script.Expect   `json:"expect" doc:"Of what was ticked"`
}

func (h rehearsing) keep(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Script script.Script `json:"script"`
		Ticked []string      `json:"ticked,omitempty" maxItems:"2000" nullable:"false" doc:"IDs of what is expected, as it was seen"`
	}
}) (*body[keptCase], error) {
	kept, err := h.Office.Rehearsing.Keep(ctx, me(ctx), in.Offering, in.Body.Script)
	if err != nil {
		return nil, err
	}
	ticked := slices.DeleteFunc(slices.Clone(kept.Seen), func(s rehearse.Seen) bool { return !slices.Contains(in.Body.Ticked, s.ID) })
	return answer(keptCase{kept.Script, list(kept.Seen), rehearse.Expecting(ticked)}, nil)
}

func (h rehearsing) cases(ctx context.Context, in *OfferingInput) (*body[listOf[rehearse.Tried]], error) {
	tried, err := h.Office.Rehearsing.Cases(ctx, me(ctx), in.Offering)
	return answer(listOf[rehearse.Tried]{Entries: list(tried)}, err)
}

// CaseInput names a case of a draft.
type CaseInput struct {
	OfferingInput
	Case int `path:"case" minimum:"0" maximum:"99" doc:"Number of the case, from 0"`
}

// expectedBody is what is expected of a case.
type expectedBody struct {
	Expect script.Expect `json:"expect"`
}

func (h rehearsing) right(ctx context.Context, in *struct {
	CaseInput
	Body struct {
		Places []string `json:"places" maxItems:"1000" nullable:"false" doc:"Of what is other and right now"`
	}
}) (*body[expectedBody], error) {
	expect, err := h.Office.Rehearsing.Right(ctx, me(ctx), in.Offering, in.Case, in.Body.Places)
	return answer(expectedBody{expect}, err)
}

func (h rehearsing) supply(ctx context.Context, in *CaseInput) (*body[scriptBody], error) {
	supplied, err := h.Office.Rehearsing.Supply(ctx, me(ctx), in.Offering, in.Case)
	return answer(scriptBody{supplied}, err)
}

func (h rehearsing) today(ctx context.Context, in *CaseInput) (*body[rehearse.Tried], error) {
	tried, err := h.Office.Rehearsing.Today(ctx, me(ctx), in.Offering, in.Case)
	return answer(tried, err)
}

// proposedBody are cases that are proposed, and what no case reaches.
type proposedBody struct {
	Cases  []proposedCase   `json:"cases" nullable:"false"`
	Points []rehearse.Point `json:"points" nullable:"false" doc:"With what is proposed"`
	Kept   []rehearse.Point `json:"kept" nullable:"false" doc:"With the cases that are kept"`
}

type proposedCase struct {
	Case    script.Case `json:"case"`
	Reaches []string    `json:"reaches" nullable:"false" doc:"What it reaches that those before it do not"`
}

func (h rehearsing) propose(ctx context.Context, in *OfferingInput) (*body[proposedBody], error) {
	found, err := h.Office.Rehearsing.Propose(ctx, me(ctx), in.Offering)
	if err != nil {
		return nil, err
	}
	out := proposedBody{Cases: []proposedCase{}, Points: found.Points, Kept: found.Kept}
	for _, c := range found.Cases {
		out.Cases = append(out.Cases, proposedCase{c.Case, list(c.Reaches)})
	}
	return answer(out, nil)
}
