package web

import (
	"context"
	"time"

	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// linkedView is what a link of a mail leads to. It is shown without a session,
// so it holds what the mail has told, and the facts of the rung.
type linkedView struct {
	Person    string      `json:"person" doc:"Name of who decides by it"`
	Reference string      `json:"reference"`
	Title     string      `json:"title"`
	Asker     string      `json:"asker"`
	For       string      `json:"for"`
	Rung      string      `json:"rung" doc:"Name"`
	Say       string      `json:"say,omitempty"`
	Answers   []answered  `json:"answers" nullable:"false"`
	Price     price.Price `json:"price"`
	NoPrice   bool        `json:"noPrice,omitempty"`
	Due       *time.Time  `json:"due,omitempty"`
	Trouble   string      `json:"trouble,omitempty" doc:"Why nothing can be decided by it any more"`
}

type LinkInput struct {
	Token string `path:"token" maxLength:"200"`
}

func (h deciding) openLink(ctx context.Context, in *LinkInput) (*body[linkedView], error) {
	linked, err := h.Office.Deciding.OpenLink(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	if err := h.others(ctx, linked.Message); err != nil {
		return nil, err
	}
	return h.linked(ctx, linked)
}

// others refuses a link to somebody who is signed in as another person: it was
// passed on to them.
func (h handlers) others(ctx context.Context, m work.Message) error {
	if reader := me(ctx); reader != "" && reader != m.Person {
		return &request.Refusal{Kind: request.NotYours, Code: refusal.NotYours, Sentence: "This link is for " + h.Office.Company().Name(m.Person) + ", and you are signed in as somebody else."}
	}
	return nil
}

func (h deciding) linked(ctx context.Context, linked work.Linked) (*body[linkedView], error) {
	company, state := h.Office.Company(), linked.State
	out := linkedView{
		Person: company.Name(linked.Message.Person), Reference: state.Reference, Title: state.Title, Asker: company.Name(state.Asker), For: h.beneficiary(state),
		Answers: []answered{}, Price: shown(price.Price{Lines: []price.Line{}, Shares: []price.Share{}}), Trouble: linked.Trouble,
	}
	for i := range state.Rungs {
		r := &state.Rungs[i]
		if r.Key != linked.Message.Rung || linked.Trouble != "" {
			continue
		}
		var err error
		if out.Answers, err = h.answers(ctx, state, r.Sight()); err != nil {
			return nil, err
		}
		for j := range out.Answers {
			out.Answers[j].Files = nil // their content needs a session
			if out.Answers[j].Private != "" {
				out.Answers[j].Private = "sealed" // and so does what is private
			}
		}
		out.Rung, out.Say, out.NoPrice, out.Due = r.Name, r.Say, r.NoPrice, reached(r.DueAt())
		if !r.NoPrice {
			out.Price = shown(state.Price)
		}
	}
	return answer(out, nil)
}

func (h deciding) decideByLink(ctx context.Context, in *struct {
	LinkInput
	Body struct {
		Decision request.Decision `json:"decision"`
		Reason   string           `json:"reason,omitempty" maxLength:"2000" doc:"Needed to decline"`
	}
}) (*body[none], error) {
	linked, err := h.Office.Deciding.OpenLink(ctx, in.Token)
	if err == nil {
		err = h.others(ctx, linked.Message)
	}
	if err == nil {
		_, err = h.Office.Deciding.DecideByLink(ctx, in.Token, in.Body.Decision, in.Body.Reason)
	}
	return answer(none{}, err)
}
