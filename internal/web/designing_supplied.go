package web

import "context"

// conflictsBody are the places where both changed the same thing.
type conflictsBody struct {
	Conflicts []string `json:"conflicts" nullable:"false" doc:"JSON Pointers; what was written here counts"`
}

func (h designing) takeNews(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Revision int  `json:"revision"`
		Take     bool `json:"take" doc:"Bring it into the draft; else what stands there stays"`
	}
}) (*body[conflictsBody], error) {
	conflicts, err := h.Office.Designing.TakeNews(ctx, me(ctx), in.Offering, in.Body.Revision, in.Body.Take)
	return answer(conflictsBody{list(conflicts)}, err)
}
