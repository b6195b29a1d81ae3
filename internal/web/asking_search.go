package web

import (
	"context"

	"heptad/internal/core/request"
	"heptad/internal/work"
)

// searchAnswer is what a search gives: a request by its reference, or results.
type searchAnswer struct {
	Request string         `json:"request,omitempty" doc:"ID of the one whose reference was typed"`
	Results []searchResult `json:"results" nullable:"false" doc:"The best first"`
	Note    string         `json:"note,omitempty" doc:"What is wrong with a reference that was typed"`
	Instead *insteadOf     `json:"instead,omitempty" doc:"What takes what nothing else is for"`
}

type searchResult struct {
	Kind     string        `json:"kind" enum:"offering,article,request"`
	Offering *catalogEntry `json:"offering,omitempty" doc:"Also the one whose article it is"`
	Article  string        `json:"article,omitempty" doc:"Its title"`
	Text     string        `json:"text,omitempty" doc:"Of the article"`
	Request  *ownRequest   `json:"request,omitempty"`
	By       []string      `json:"by" nullable:"false" doc:"Words it was found by; none where what sounds broken led to it"`
}

type ownRequest struct {
	ID        string         `json:"id"`
	Reference string         `json:"reference"`
	Title     string         `json:"title"`
	Status    request.Status `json:"status"`
}

type insteadOf struct {
	Key  string `json:"key" doc:"Of the offering"`
	Name string `json:"name"`
	Team string `json:"team" doc:"Name of the team that reads what is sent"`
}

func (h asking) search(ctx context.Context, in *struct {
	Words string `query:"words" minLength:"1" maxLength:"200" doc:"Words, a whole sentence, or a reference"`
}) (*body[searchAnswer], error) {
	found, err := h.Office.Asking.Search(ctx, me(ctx), in.Words)
	if err != nil {
		return nil, err
	}
	out := searchAnswer{Request: found.Request, Note: found.Note, Results: []searchResult{}}
	for _, r := range found.Results {
		out.Results = append(out.Results, h.searchResult(r))
	}
	if l := found.Instead; l != nil {
		service, _ := h.Office.Company().Service(l.Service)
		out.Instead = &insteadOf{l.Offering, l.Name, h.Office.Company().TeamName(service.Home)}
	}
	return answer(out, nil)
}

func (h asking) searchResult(r work.Result) searchResult {
	out := searchResult{Kind: "offering", By: list(r.By)}
	if r.Request != nil {
		out.Kind, out.Request = "request", &ownRequest{r.Request.ID, r.Request.Reference, r.Request.Title, r.Request.Status}
		return out
	}
	entry := h.catalogEntry(*r.Offering)
	out.Offering = &entry
	if r.Article != nil {
		out.Kind, out.Article, out.Text = "article", r.Article.Title, r.Article.Text
	}
	return out
}

func (h asking) rememberSearch(ctx context.Context, in *struct {
	Body struct {
		Words  string `json:"words" minLength:"1" maxLength:"200"`
		Opened string `json:"opened,omitempty" maxLength:"60" doc:"Key of the offering that was opened"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Asking.RememberSearch(ctx, me(ctx), in.Body.Words, in.Body.Opened))
}
