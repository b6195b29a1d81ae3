package web

import (
	"context"

	"heptad/internal/core/people"
)

// ServiceInput is what a service is, as who owns it says.
type ServiceInput struct {
	Name    string       `json:"name" maxLength:"200"`
	Area    string       `json:"area" maxLength:"200"`
	Text    string       `json:"text,omitempty" maxLength:"2000"`
	Home    string       `json:"home" maxLength:"60" doc:"Key of its home team"`
	Place   people.Place `json:"place,omitempty"`
	Editors []string     `json:"editors,omitempty" nullable:"false" maxItems:"50" doc:"IDs of who design it beside its owner"`
	Second  bool         `json:"second,omitempty" doc:"Publishing needs another's yes"`
	Picture string       `json:"picture,omitempty" maxLength:"80000" doc:"data: URI"`
	Words   string       `json:"words,omitempty" maxLength:"400" doc:"It is found by, with commas between them"`
	Starts  string       `json:"starts,omitempty" maxLength:"10" doc:"First day, RFC 3339"`
	Review  string       `json:"review,omitempty" maxLength:"10" doc:"Day on which its owner looks whether it still fits, RFC 3339"`
}

func (in ServiceInput) service(key string) people.Service {
	return people.Service{
		Key: key, Name: in.Name, Area: in.Area, Text: in.Text, Home: in.Home, Place: in.Place, Editors: in.Editors, Second: in.Second,
		Picture: in.Picture, Words: in.Words, Starts: in.Starts, Review: in.Review,
	}
}

func (h arranging) makeService(ctx context.Context, in *struct{ Body ServiceInput }) (*body[Named], error) {
	s, err := h.Office.Arranging.SaveService(ctx, me(ctx), in.Body.service(""))
	return answer(Named{Key: s.Key, Name: s.Name}, err)
}

func (h arranging) saveService(ctx context.Context, in *struct {
	Service string `path:"service" maxLength:"60"`
	Body    ServiceInput
}) (*body[Named], error) {
	s, err := h.Office.Arranging.SaveService(ctx, me(ctx), in.Body.service(in.Service))
	return answer(Named{Key: s.Key, Name: s.Name}, err)
}

func (h arranging) setPlace(ctx context.Context, in *struct {
	Service string `path:"service" maxLength:"60"`
	Body    struct {
		Place people.Place `json:"place"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Arranging.SetPlace(ctx, me(ctx), in.Service, in.Body.Place))
}
