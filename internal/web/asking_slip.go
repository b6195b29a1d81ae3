package web

import (
	"context"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/work"
)

// slipWishView is a draft on the reader's slip.
type slipWishView struct {
	Draft     string      `json:"draft" doc:"ID"`
	Offering  string      `json:"offering" doc:"Key"`
	Name      string      `json:"name"`
	For       string      `json:"for,omitempty" doc:"Name of who it is for, when that is not the reader"`
	Price     price.Price `json:"price"`
	Decisions []string    `json:"decisions" nullable:"false" doc:"Who would decide, in order"`
	Trouble   string      `json:"trouble,omitempty" doc:"Why it cannot be sent as it is"`
}

func (h asking) wish(ctx context.Context, w work.SlipWish) slipWishView {
	out := slipWishView{Draft: w.Draft, Offering: w.Offering, Name: w.Name, Price: shown(w.Form.Evaluated.Price), Decisions: []string{}, Trouble: w.Trouble}
	if whom := w.Form.For; whom.Newcomer != nil || whom.Person != "" && whom.Person != me(ctx) {
		out.For = offering.Parties{Beneficiary: whom, Company: h.Office.Company()}.Name()
	}
	for _, d := range w.Form.Evaluated.Decisions {
		for _, seat := range d.Seats {
			for _, person := range seat.DecidingNow() {
				out.Decisions = append(out.Decisions, h.Office.Company().Name(person))
			}
		}
	}
	return out
}

func (h asking) slip(ctx context.Context, _ *none) (*body[listOf[slipWishView]], error) {
	wishes, err := h.Office.Asking.SlipOf(ctx, me(ctx))
	out := listOf[slipWishView]{Entries: make([]slipWishView, len(wishes))}
	for i, w := range wishes {
		out.Entries[i] = h.wish(ctx, w)
	}
	return answer(out, err)
}

func (h asking) putOnSlip(ctx context.Context, in *OfferingInput) (*body[none], error) {
	return answer(none{}, h.Office.Asking.PutOnSlip(ctx, me(ctx), in.Offering))
}

func (h asking) takeOffSlip(ctx context.Context, in *struct {
	Draft string `path:"draft" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Asking.TakeOffSlip(ctx, me(ctx), in.Draft))
}

// sentWish is what became of a wish that was on a slip.
type sentWish struct {
	Name      string `json:"name"`
	Offering  string `json:"offering" doc:"Key"`
	Request   string `json:"request,omitempty" doc:"ID, of what was sent"`
	Reference string `json:"reference,omitempty"`
	Trouble   string `json:"trouble,omitempty" doc:"Why it stays on the slip"`
}

func (h asking) sendSlip(ctx context.Context, in *struct {
	Body struct {
		Title string `json:"title" maxLength:"120" doc:"What holds them together"`
	}
}) (*body[listOf[sentWish]], error) {
	sent, err := h.Office.Asking.SendSlip(ctx, me(ctx), in.Body.Title)
	out := listOf[sentWish]{Entries: make([]sentWish, len(sent))}
	for i, s := range sent {
		out.Entries[i] = sentWish{Name: s.Name, Offering: s.Offering, Reference: s.State.Reference, Trouble: s.Trouble}
		if s.Trouble == "" {
			out.Entries[i].Request = s.State.ID
		}
	}
	return answer(out, err)
}

// patternView is an earlier request whose answers can fill a form.
type patternView struct {
	Request string       `json:"request" doc:"ID"`
	Title   string       `json:"title"`
	For     string       `json:"for" doc:"Name of who it was for"`
	Same    bool         `json:"same,omitempty" doc:"It was for the same person"`
	Sent    time.Time    `json:"sent"`
	Answers form.Answers `json:"answers" doc:"That the form can take"`
}

func (h asking) patterns(ctx context.Context, in *struct {
	OfferingInput
	For string `query:"for" maxLength:"60" required:"true" doc:"ID of who it is for"`
}) (*body[listOf[patternView]], error) {
	all, err := h.Office.Asking.Patterns(ctx, me(ctx), in.Offering, in.For)
	out := listOf[patternView]{Entries: make([]patternView, len(all))}
	for i, p := range all {
		whom := p.State.Beneficiary()
		out.Entries[i] = patternView{p.State.ID, p.State.Title, h.beneficiary(p.State), whom == in.For, p.State.Stages["submitted"], p.Answers}
	}
	return answer(out, err)
}
