package connect

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strconv"

	"heptad/internal/core/plan"
)

// Licences assigns and releases licences of limited pools through the HTTP
// interface of the licence server.
type Licences struct{ api }

// NewLicences speaks to the licence server.
func NewLicences(reach Reach) *Licences { return &Licences{newAPI("The licence server", reach)} }

// Describe tells what the licence server can do.
func (l *Licences) Describe() plan.Connector {
	return plan.Connector{Key: "licences", Name: "Licence server", Actions: []plan.ActionType{
		{
			Key: "assign", Name: "Assign a licence", Undo: "release",
			Inputs:  []plan.Field{text("product", "Product"), {Key: "holder", Name: "For whom", Person: true}, freeDate("until", "Until")},
			Outputs: []plan.Field{text("licence", "Licence")},
		},
		{
			Key: "extend", Name: "Extend a licence",
			Inputs:  []plan.Field{text("licence", "Licence"), freeDate("until", "Until")},
			Outputs: []plan.Field{text("licence", "Licence")},
		},
		{Key: "release", Name: "Release a licence", Inputs: []plan.Field{text("licence", "Licence")}, Outputs: []plan.Field{}},
		{
			Key: "count", Name: "Count the free ones", Inputs: []plan.Field{text("product", "Product")},
			Outputs: []plan.Field{number("free", "Free"), number("total", "In all")},
		},
		{
			Key: "buy", Name: "Add licences to a pool", Inputs: []plan.Field{text("product", "Product"), number("count", "How many")},
			Outputs: []plan.Field{number("total", "In all")},
		},
	}}
}

// Do makes one call, with its Idempotency-Key.
func (l *Licences) Do(ctx context.Context, c Call) (Reply, error) {
	switch c.Do {
	case "assign", "extend":
		var out struct{ Licence string }
		method, path := http.MethodPost, "/licences"
		in := map[string]string{"product": c.input("product"), "holder": c.input("holder"), "until": c.input("until")}
		if c.Do == "extend" {
			method, path, in = http.MethodPatch, "/licences/"+url.PathEscape(c.input("licence")), map[string]string{"until": c.input("until")}
		}
		if err := l.ask(ctx, method, path, c.Key, in, &out); err != nil {
			return Reply{}, l.gone(err, "The licence server knows nothing of that name.")
		}
		if out.Licence == "" {
			return Reply{}, Trouble{Sentence: "The licence server gave an answer without a licence."}
		}
		return Reply{Outputs: map[string]string{"licence": out.Licence}}, nil
	case "release":
		path := "/licences/" + url.PathEscape(c.input("licence"))
		if c.Undoes != "" {
			path = "/licences?key=" + url.QueryEscape(c.Undoes)
		}
		if err := l.ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, errGone) {
			return Reply{}, err
		}
		return Reply{}, nil
	case "count", "buy":
		var out struct{ Free, Total int }
		path := "/products/" + url.PathEscape(c.input("product"))
		method, in := http.MethodGet, any(nil)
		if c.Do == "buy" {
			count, err := strconv.Atoi(c.input("count"))
			if err != nil {
				return Reply{}, refused("%q is no number of licences.", c.input("count"))
			}
			method, path, in = http.MethodPost, path+"/more", map[string]int{"count": count}
		}
		if err := l.ask(ctx, method, path, c.Key, in, &out); err != nil {
			return Reply{}, l.gone(err, "The licence server knows no product %q.", c.input("product"))
		}
		outputs := map[string]string{"total": strconv.Itoa(out.Total), "free": strconv.Itoa(out.Free)}
		if c.Do == "buy" {
			delete(outputs, "free")
		}
		return Reply{Outputs: outputs}, nil
	}
	return Reply{}, refused("The licence server cannot do %q.", c.Do)
}
