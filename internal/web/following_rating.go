package web

import (
	"context"

	"heptad/internal/work"
)

// ratedView is what a link of a mail that rates leads to. It is shown without a session, so
// it holds what the mail has told.
type ratedView struct {
	Person    string `json:"person" doc:"Name of who rates by it"`
	Reference string `json:"reference"`
	Title     string `json:"title"`
	Stars     int    `json:"stars,omitempty" doc:"As they have said before"`
	Text      string `json:"text,omitempty"`

	Asks    []string       `json:"asks" nullable:"false" doc:"What can be answered beside it"`
	Answers map[string]int `json:"answers" nullable:"false"`
	Trouble string         `json:"trouble,omitempty" doc:"Why nothing can be rated by it any more"`
}

func (h following) openRating(ctx context.Context, in *LinkInput) (*body[ratedView], error) {
	link, err := h.Office.Following.OpenRatingLink(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	return h.rated(ctx, link)
}

// rated shows a link, but to nobody who is signed in as another person.
func (h following) rated(ctx context.Context, link work.RatingLink) (*body[ratedView], error) {
	if err := h.others(ctx, link.Message); err != nil {
		return nil, err
	}
	mine, _ := link.State.RatingOf(link.Message.Person)
	return answer(ratedView{h.Office.Company().Name(link.Message.Person), link.State.Reference, link.State.Title, mine.Stars, mine.Text, list(link.Asks), answersTo(mine), link.Trouble}, nil)
}

func (h following) rateByLink(ctx context.Context, in *struct {
	LinkInput
	Body RatingBody
}) (*body[ratedView], error) {
	link, err := h.Office.Following.OpenRatingLink(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	if _, err := h.rated(ctx, link); err != nil {
		return nil, err
	}
	link, err = h.Office.Following.RateByLink(ctx, in.Token, in.Body.command())
	if err != nil {
		return nil, err
	}
	return h.rated(ctx, link)
}
