package web

import (
	"cmp"
	"context"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/starter"
	"heptad/internal/work"
)

// portfolioBody is what a catalog owner has, and what a new offering can begin as. The
// offerings in it are listed apart, as there can be many.
type portfolioBody struct {
	Areas    []areaView    `json:"areas" nullable:"false" doc:"Those the reader owns, or designs in"`
	Services []serviceView `json:"services" nullable:"false" doc:"Those the reader designs in"`
	Starters []starterView `json:"starters" nullable:"false"`
}

type starterView struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Text string `json:"text"`
}

type serviceView struct {
	Named
	Area  string       `json:"area"`
	Text  string       `json:"text"`
	Owner string       `json:"owner"`
	Home  string       `json:"home" doc:"Name of its home team"`
	Place people.Place `json:"place"`

	HomeKey string  `json:"homeKey" doc:"Of its home team"`
	Editors []Named `json:"editors" nullable:"false" doc:"Who design it beside its owner; keys are IDs"`
	Second  bool    `json:"second,omitempty" doc:"Publishing needs another's yes"`
	Picture string  `json:"picture,omitempty"`
	Words   string  `json:"words,omitempty" doc:"It is found by, with commas between them"`
	Starts  string  `json:"starts,omitempty" doc:"First day"`
	Review  string  `json:"review,omitempty" doc:"Day on which its owner looks whether it still fits"`
	Mine    bool    `json:"mine,omitempty" doc:"The reader owns it, and changes what it is"`
}

type offeringLine struct {
	Key       string     `json:"key"`
	Name      string     `json:"name"`
	Service   string     `json:"service" doc:"Key"`
	Draft     int        `json:"draft,omitempty" doc:"Number of the version being written"`
	Current   int        `json:"current,omitempty" doc:"Number of the version people can ask for"`
	Ended     bool       `json:"ended,omitempty" doc:"Nobody can ask for it any more"`
	PublishAt *time.Time `json:"publishAt,omitempty" doc:"When the draft publishes itself"`
	ChangedAt time.Time  `json:"changedAt"`

	Origin work.Origin `json:"origin" doc:"Whether it came with the program"`
	Rated  int         `json:"rated,omitempty" doc:"How many have rated it, where that is enough to show"`
	Mean   float64     `json:"mean,omitempty" doc:"Of their ratings, from 1 to 5"`
	Newer  bool        `json:"newer,omitempty" doc:"It was changed, and the program brings another one since"`
}

func (h designing) servicesOf(ctx context.Context) []serviceView {
	company, views := h.Office.Company(), []serviceView{}
	for _, service := range h.Office.Designed(me(ctx)) {
		view := serviceView{
			Named: Named{Key: service.Key, Name: service.Name}, Area: service.Area, Text: service.Text, Owner: company.Name(service.Owner), Home: company.TeamName(service.Home), Place: service.Place,
			HomeKey: service.Home, Editors: []Named{}, Second: service.Second, Picture: service.Picture, Words: service.Words, Starts: service.Starts, Review: service.Review, Mine: service.Owner == me(ctx),
		}
		for _, id := range service.Editors {
			view.Editors = append(view.Editors, Named{Key: id, Name: company.Name(id)})
		}
		views = append(views, view)
	}
	return views
}

func (h designing) portfolio(ctx context.Context, _ *none) (*body[portfolioBody], error) {
	out := portfolioBody{Areas: h.areas(ctx), Services: h.servicesOf(ctx), Starters: []starterView{}}
	for _, d := range starter.All() {
		out.Starters = append(out.Starters, starterView{d.Key, d.Purpose.Name, d.Purpose.Text})
	}
	return answer(out, nil)
}

func (h designing) offerings(ctx context.Context, in *struct {
	Words string   `query:"words" maxLength:"100" doc:"Parts of a name"`
	Asked bool     `query:"asked" doc:"Only what can be asked for"`
	Keys  []string `query:"keys,explode" maxItems:"50" doc:"Only these"`
	After string   `query:"after" maxLength:"400" doc:"What the page before gave as next"`
	Limit int      `query:"limit" minimum:"1" maximum:"100" default:"50"`
}) (*body[listOf[offeringLine]], error) {
	all, err := h.Office.Designing.Portfolio(ctx, me(ctx), work.Shelf{Words: in.Words, Asked: in.Asked, Keys: in.Keys, Page: work.Page{Cursor: in.After, Limit: in.Limit}})
	if err != nil {
		return nil, err
	}
	keys := make([]string, len(all))
	for i, o := range all {
		keys[i] = o.Key
	}
	origins, newer, err := h.Office.Designing.Origins(ctx, keys)
	if err != nil {
		return nil, err
	}
	rated, err := h.Office.Designing.Pooled(ctx, keys)
	out := listOf[offeringLine]{Entries: make([]offeringLine, len(all))}
	for i, o := range all {
		line := offeringLine{Key: o.Key, Name: o.Name, Service: o.Service, Draft: o.Draft, Current: o.Current, Ended: o.Ended, ChangedAt: time.UnixMilli(o.ChangedAt).UTC(), Origin: cmp.Or(origins[o.Key], work.Own)}
		line.Newer = newer[o.Key] && line.Origin == work.Changed
		line.Rated, line.Mean = rated[o.Key].Count, rated[o.Key].Mean
		if o.Due != nil {
			due := time.UnixMilli(*o.Due).UTC()
			line.PublishAt = &due
		}
		out.Entries[i] = line
	}
	if len(all) == in.Limit {
		out.Next = all[in.Limit-1].Next
	}
	return answer(out, err)
}
