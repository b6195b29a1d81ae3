package web

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// ratingView is what somebody thinks of how it went.
type ratingView struct {
	By    string `json:"by" doc:"Name"`
	Stars int    `json:"stars" doc:"From 1 to 5, the best"`
	Text  string `json:"text,omitempty"`

	Answers map[string]int `json:"answers,omitempty" doc:"To questions of the offering, from 1 to 5, by question"`
	Until   time.Time      `json:"until" doc:"When it can be changed no more"`
}

// RatingBody is how it went, in the words of one of the asker's side.
type RatingBody struct {
	Stars   int            `json:"stars" doc:"From 1 to 5, the best"`
	Text    string         `json:"text,omitempty" maxLength:"2000"`
	Answers map[string]int `json:"answers,omitempty" maxProperties:"5" doc:"To the questions of the offering, from 1 to 5, by question"`
}

func (b RatingBody) command() request.Rate {
	return request.Rate{Stars: b.Stars, Text: b.Text, Answers: b.Answers}
}

// answersTo are the answers of a rating by question.
func answersTo(r request.Rating) map[string]int {
	out := map[string]int{}
	for _, a := range r.Answers {
		out[a.Question] = a.Stars
	}
	return out
}

// closingView is what was said as the work ended.
type closingView struct {
	Word string `json:"word,omitempty" doc:"Of staff, to the asker"`
	By   string `json:"by,omitempty" doc:"Name of who said it"`
	Next string `json:"next,omitempty" doc:"What comes next"`
}

// speedView is what more urgency would come to, by one choice.
type speedView struct {
	Choice  string      `json:"choice" doc:"Key"`
	Label   string      `json:"label"`
	Price   price.Price `json:"price" doc:"Of the whole request then"`
	Due     *time.Time  `json:"due,omitempty" doc:"Left out where that hangs on a decision"`
	Decided []string    `json:"decided" nullable:"false" doc:"Names of who would have to decide first"`
	Trouble string      `json:"trouble,omitempty" doc:"Why it cannot be asked for now"`
}

// urgingView is more urgency that was asked for and waits to be decided.
type urgingView struct {
	By     string    `json:"by" doc:"Name"`
	At     time.Time `json:"at"`
	Choice string    `json:"choice" doc:"In words"`
	Reason string    `json:"reason,omitempty"`
}

func (h handlers) urging(state request.State) *urgingView {
	u := state.Urging
	if u == nil {
		return nil
	}
	return &urgingView{h.Office.Company().Name(u.By), u.At, u.Choice, u.Reason}
}

func (h following) speeds(ctx context.Context, in *RequestInput) (*body[listOf[speedView]], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(seen.State.Allowed(me(ctx)), request.OfferUrge) {
		return nil, work.ErrNotFound
	}
	all, err := h.Office.Following.Speeds(ctx, me(ctx), seen.State)
	out := listOf[speedView]{Entries: make([]speedView, len(all))}
	for i, s := range all {
		view := speedView{Choice: s.Choice.Key, Label: s.Choice.Label, Price: shown(s.Price), Decided: []string{}, Trouble: s.Trouble}
		if !s.Due.IsZero() {
			view.Due = &s.Due
		}
		for _, person := range s.Decided {
			view.Decided = append(view.Decided, h.Office.Company().Name(person))
		}
		out.Entries[i] = view
	}
	return answer(out, err)
}

func (h following) urge(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Choice string `json:"choice" maxLength:"60" doc:"Key"`
		Reason string `json:"reason,omitempty" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Urge{Choice: in.Body.Choice, Reason: in.Body.Reason})
}

// backView is one time that a request was sent back.
type backView struct {
	At    time.Time `json:"at"`
	By    string    `json:"by" doc:"Name"`
	Text  string    `json:"text"`
	Lines []string  `json:"lines" nullable:"false" doc:"Names of what was not right"`
}

// endOf tells until when a request can be sent back and rated, and offers neither after.
func (h handlers) endOf(ctx context.Context, state request.State, out *requestSheet) {
	if open := h.Office.Clock().Before(state.BackBy); open {
		out.BackBy = &state.BackBy
	} else if state.Status == request.Closed {
		out.Allowed = slices.DeleteFunc(out.Allowed, func(o request.Offer) bool { return o == request.OfferSendBack })
	}
	if mine, rated := state.RatingOf(me(ctx)); rated && !h.Office.Clock().Before(mine.At.Add(request.RatingOpen)) {
		out.Allowed = slices.DeleteFunc(out.Allowed, func(o request.Offer) bool { return o == request.OfferRate })
	}
}

// backAndRated tells how often a request was sent back, and how it was rated, as far as the
// reader sees it.
func (h handlers) backAndRated(ctx context.Context, state request.State, viewer request.Viewer, out *requestSheet) {
	company := h.Office.Company()
	out.Lines = state.MayBeWrong()
	if c := state.Closing; c != nil {
		out.Closing = &closingView{Word: c.Word, Next: c.Next}
		if c.Word != "" && c.By != request.Program {
			out.Closing.By = company.Name(c.By)
		}
	}
	for _, r := range state.Ratings {
		view := ratingView{company.Name(r.By), r.Stars, r.Text, answersTo(r), r.At.Add(request.RatingOpen)}
		switch {
		case r.By == me(ctx):
			out.Mine = &view
		case viewer.SeesRating(r):
			out.Ratings = append(out.Ratings, view)
		}
	}
	for _, b := range state.Backs {
		out.Backs = append(out.Backs, backView{b.At, company.Name(b.By), b.Text, list(b.Lines)})
	}
}
