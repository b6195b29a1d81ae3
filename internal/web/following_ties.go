package web

import (
	"context"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/work"
)

// BriefView is a request in a line.
type BriefView struct {
	ID        string          `json:"id"`
	Reference string          `json:"reference"`
	Title     string          `json:"title,omitempty"`
	Offering  string          `json:"offering,omitempty" doc:"Key"`
	Status    request.Status  `json:"status,omitempty"`
	Outcome   request.Outcome `json:"outcome,omitempty"`
	Sent      *time.Time      `json:"sent,omitempty"`
}

func briefs(all []work.Line) []BriefView {
	out := make([]BriefView, len(all))
	for i, l := range all {
		out[i] = briefOf(l)
	}
	return out
}

func briefOf(l work.Line) BriefView {
	v := BriefView{ID: l.ID, Reference: l.Reference, Title: l.Title, Offering: l.Offering, Status: l.Status, Outcome: l.Outcome}
	if !l.Sent.IsZero() {
		v.Sent = &l.Sent
	}
	return v
}

// tieView is how a request belongs to another, as seen from one of them.
type tieView struct {
	BriefView
	Kind   request.Linking `json:"kind"`
	Holder string          `json:"holder" doc:"ID of the request that it stands on"`
	Back   bool            `json:"back,omitempty" doc:"It stands on the other, and says how that belongs to this one"`
	Seen   bool            `json:"seen,omitempty" doc:"The other can be opened by the reader"`
}

// tiesView is how a request belongs to others.
type tiesView struct {
	Ties    []tieView   `json:"ties" nullable:"false"`
	Ends    []string    `json:"ends" nullable:"false" doc:"References of those that end with it"`
	Sent    []BriefView `json:"sent" nullable:"false" doc:"What was sent with it at once, as far as the reader sees it"`
	Touches int         `json:"touches,omitempty" doc:"How many have it, with who asked, as far as staff know"`
	Fault   string      `json:"fault,omitempty" doc:"What others read who can join it"`
	May     bool        `json:"may,omitempty" doc:"The reader can tie it"`
	Opens   bool        `json:"opens,omitempty" doc:"The reader can open it to all"`
}

func (h following) ties(ctx context.Context, in *RequestInput) (*body[tiesView], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	state := seen.State
	t, err := h.Office.Following.TiesOf(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	out := tiesView{Ties: []tieView{}, Sent: briefs(t.Sent), Ends: list(t.Ends), Touches: t.Touches}
	for _, offer := range state.AllowedToLead(seen.Viewer) {
		out.May, out.Opens = out.May || offer == request.OfferTie, out.Opens || offer == request.OfferOpenToAll
	}
	if state.Fault != nil && out.Opens {
		out.Fault = state.Fault.Sentence
	}
	for _, tied := range t.Tied {
		out.Ties = append(out.Ties, tieView{briefOf(tied.Line), tied.Kind, tied.Holder, tied.Holder != state.ID, tied.Seen})
	}
	return answer(out, nil)
}

// suggestedView is which requests one may belong to.
type suggestedView struct {
	Same []BriefView `json:"same" nullable:"false" doc:"Open ones of the same person"`
	Like []BriefView `json:"like" nullable:"false" doc:"Other open ones with like words"`
}

func (h following) suggested(ctx context.Context, in *RequestInput) (*body[suggestedView], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	same, like, err := h.Office.Following.Suggested(ctx, me(ctx), seen.State)
	return answer(suggestedView{briefs(same), briefs(like)}, err)
}

func (h following) tie(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Kind      request.Linking `json:"kind"`
		Reference string          `json:"reference" maxLength:"30" doc:"Of the other"`
	}
}) (*body[tiesView], error) {
	if _, err := h.Office.Following.Tie(ctx, me(ctx), in.Request, in.Body.Kind, in.Body.Reference); err != nil {
		return nil, err
	}
	return h.ties(ctx, &in.RequestInput)
}

func (h following) untie(ctx context.Context, in *struct {
	RequestInput
	Kind  string `path:"kind" maxLength:"20"`
	Other string `path:"other" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Untie{Kind: request.Linking(in.Kind), Other: in.Other})
}

func (h following) openToAll(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Sentence string `json:"sentence" maxLength:"200" doc:"What others read; empty: nobody can join any more"`
	}
}) (*body[tiesView], error) {
	if _, err := h.Office.Do(ctx, me(ctx), in.Request, request.OpenToAll{Sentence: in.Body.Sentence}); err != nil {
		return nil, err
	}
	return h.ties(ctx, &in.RequestInput)
}

// aroundView is what else there is of the person whom a request is for.
type aroundView struct {
	Person string      `json:"person" doc:"Name; empty for a newcomer"`
	Others []BriefView `json:"others" nullable:"false" doc:"Open and recent requests, as far as the reader sees them"`
	Things []thingView `json:"things" nullable:"false" doc:"What they have"`
}

type thingView struct {
	Kind  string `json:"kind"`
	Name  string `json:"name"`
	Until string `json:"until,omitempty" doc:"RFC 3339"`
}

func (h following) around(ctx context.Context, in *RequestInput) (*body[aroundView], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	state := seen.State
	a, err := h.Office.Following.AroundOf(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	out := aroundView{Others: briefs(a.Others), Things: []thingView{}}
	if a.Person != "" {
		out.Person = h.Office.Company().Name(a.Person)
	}
	for _, b := range a.Things {
		out.Things = append(out.Things, thingView{b.Kind, b.Name, b.Until})
	}
	return answer(out, nil)
}

// faultView is a trouble that many have, in the words of staff.
type faultView struct {
	ID       string `json:"id"`
	Sentence string `json:"sentence"`
	Touches  int    `json:"touches" doc:"How many have it"`
	Mine     bool   `json:"mine,omitempty" doc:"The reader has it, as far as is known"`
}

func (h following) openFaults(ctx context.Context, in *OfferingInput) (*body[listOf[faultView]], error) {
	faults, err := h.Office.Asking.OpenFaults(ctx, me(ctx), in.Offering)
	out := listOf[faultView]{Entries: make([]faultView, len(faults))}
	for i, f := range faults {
		out.Entries[i] = faultView{f.Request, f.Sentence, f.Touches, f.Mine}
	}
	return answer(out, err)
}

func (h following) join(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Line string `json:"line,omitempty" maxLength:"500" doc:"What is so with the reader, in their words"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Following.Join(ctx, me(ctx), in.Request, in.Body.Line))
}

// joinedView is what the reader has joined: a sentence, how it stands, and their own line.
type joinedView struct {
	Sentence string    `json:"sentence"`
	Line     string    `json:"line,omitempty"`
	At       time.Time `json:"at" doc:"When they joined"`
	State    string    `json:"state" enum:"open,mended,ended"`
}

func (h following) joined(ctx context.Context, _ *struct{}) (*body[listOf[joinedView]], error) {
	all, err := h.Office.Following.JoinedBy(ctx, me(ctx))
	out := listOf[joinedView]{Entries: make([]joinedView, len(all))}
	for i, j := range all {
		state := "open"
		if j.Status == request.Closed {
			if state = "ended"; j.Outcome == request.Fulfilled {
				state = "mended"
			}
		}
		out.Entries[i] = joinedView{j.Sentence, j.Line, j.At, state}
	}
	return answer(out, err)
}
