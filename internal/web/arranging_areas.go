package web

import (
	"context"

	"heptad/internal/core/people"
)

// areaView is an area in which the reader has a say.
type areaView struct {
	Name    string       `json:"name"`
	Text    string       `json:"text,omitempty" doc:"What it is for"`
	Owner   string       `json:"owner,omitempty" doc:"Name of who makes services in it; administrators alone when left out"`
	HomeKey string       `json:"homeKey,omitempty" doc:"Key of the team its new services begin with"`
	Place   people.Place `json:"place"`
	Editors []Named      `json:"editors" nullable:"false" doc:"Who design in all its services; keys are IDs"`
	Second  bool         `json:"second,omitempty" doc:"Publishing in any of its services needs another's yes"`
	Picture string       `json:"picture,omitempty"`
	Words   string       `json:"words,omitempty" doc:"Its services are found by, with commas between them"`
	Starts  string       `json:"starts,omitempty" doc:"First day"`
	Review  string       `json:"review,omitempty" doc:"Day on which its owner looks whether it still fits"`
	Mine    bool         `json:"mine,omitempty" doc:"The reader owns it, and changes what it is"`
}

func (h *handlers) areas(ctx context.Context) []areaView {
	company, views := h.Office.Company(), []areaView{}
	for _, a := range h.Office.Arranging.AreasOf(me(ctx)) {
		v := areaView{Name: a.Name, Text: a.Text, HomeKey: a.Home, Place: a.Place, Editors: []Named{}, Second: a.Second, Picture: a.Picture, Words: a.Words, Starts: a.Starts, Review: a.Review, Mine: a.Owner == me(ctx)}
		if a.Owner != "" {
			v.Owner = company.Name(a.Owner)
		}
		for _, id := range a.Editors {
			v.Editors = append(v.Editors, Named{Key: id, Name: company.Name(id)})
		}
		views = append(views, v)
	}
	return views
}

// AreaPath names an area.
type AreaPath struct {
	Area string `path:"area" maxLength:"120"`
}

func (h arranging) saveArea(ctx context.Context, in *struct {
	AreaPath
	Body struct {
		Name    string       `json:"name" maxLength:"200" doc:"Another one moves its services along"`
		Text    string       `json:"text,omitempty" maxLength:"2000"`
		Home    string       `json:"home,omitempty" maxLength:"60" doc:"Key of the team its new services begin with"`
		Place   people.Place `json:"place"`
		Editors []string     `json:"editors,omitempty" nullable:"false" maxItems:"50" doc:"IDs of who design in all its services"`
		Second  bool         `json:"second,omitempty" doc:"Publishing in any of its services needs another's yes"`
		Picture string       `json:"picture,omitempty" maxLength:"80000" doc:"data: URI"`
		Words   string       `json:"words,omitempty" maxLength:"400" doc:"Its services are found by, with commas between them"`
		Starts  string       `json:"starts,omitempty" maxLength:"10" doc:"First day, RFC 3339"`
		Review  string       `json:"review,omitempty" maxLength:"10" doc:"Day on which its owner looks whether it still fits, RFC 3339"`
	}
}) (*body[none], error) {
	b := in.Body
	return answer(none{}, h.Office.Arranging.SaveArea(ctx, me(ctx), in.Area, people.Area{
		Name: b.Name, Text: b.Text, Home: b.Home, Place: b.Place, Editors: b.Editors, Second: b.Second, Picture: b.Picture, Words: b.Words, Starts: b.Starts, Review: b.Review,
	}))
}

func (h arranging) dropArea(ctx context.Context, in *AreaPath) (*body[none], error) {
	return answer(none{}, h.Office.Arranging.DropArea(ctx, me(ctx), in.Area))
}

// hangingBody is what moves, is renamed or ends with a service or an area.
type hangingBody struct {
	Services  []Named    `json:"services" nullable:"false" doc:"Of an area"`
	Offerings []hungView `json:"offerings" nullable:"false" doc:"The first hundred"`
	Offers    int        `json:"offers" doc:"How many offerings and drafts there are"`
	UnderWay  int        `json:"underWay" doc:"Requests that go on to their end"`
	Grants    int        `json:"grants" doc:"Actions of other systems that it may use"`
}

type hungView struct {
	Named
	Draft bool `json:"draft,omitempty"`
	Ended bool `json:"ended,omitempty"`
}

// hungShown is how many offerings are named of those that hang on something.
const hungShown = 100

func (h arranging) hanging(ctx context.Context, in *struct {
	Service string `query:"service" maxLength:"60" doc:"Key"`
	Area    string `query:"area" maxLength:"120" doc:"Name"`
}) (*body[hangingBody], error) {
	all, err := h.Office.Arranging.HangingOn(ctx, me(ctx), in.Service, in.Area)
	out := hangingBody{Services: []Named{}, Offerings: []hungView{}, Offers: len(all.Offerings), UnderWay: all.UnderWay, Grants: all.Grants}
	for _, s := range all.Services {
		if in.Area != "" {
			out.Services = append(out.Services, Named{Key: s.Key, Name: s.Name})
		}
	}
	for _, o := range all.Offerings[:min(hungShown, len(all.Offerings))] {
		out.Offerings = append(out.Offerings, hungView{Named{Key: o.Offering, Name: o.Name}, o.Draft, o.Ended})
	}
	return answer(out, err)
}
