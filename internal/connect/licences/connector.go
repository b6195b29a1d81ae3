package licences

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strconv"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector assigns and releases licences of limited pools through the HTTP
// interface of the licence server.
type Connector struct{ connect.API }

// New speaks to the licence server.
func New(reach connect.Reach) *Connector {
	return &Connector{connect.NewAPI("The licence server", reach)}
}

// Describe tells what the licence server can do.
func (l *Connector) Describe() plan.Connector {
	return plan.Connector{Key: "licences", Name: "Licence server", Actions: []plan.ActionType{
		{
			Key: "assign", Name: "Assign a licence", Undo: "release",
			Inputs:  []plan.Field{connect.Text("product", "Product"), {Key: "holder", Name: "For whom", Person: true}, connect.FreeDate("until", "Until")},
			Outputs: []plan.Field{connect.Text("licence", "Licence")},
		},
		{
			Key: "extend", Name: "Extend a licence",
			Inputs:  []plan.Field{connect.Text("licence", "Licence"), connect.FreeDate("until", "Until")},
			Outputs: []plan.Field{connect.Text("licence", "Licence")},
		},
		{Key: "release", Name: "Release a licence", Inputs: []plan.Field{connect.Text("licence", "Licence")}, Outputs: []plan.Field{}},
		{
			Key: "count", Name: "Count the free ones", Inputs: []plan.Field{connect.Text("product", "Product")},
			Outputs: []plan.Field{connect.Number("free", "Free"), connect.Number("total", "In all")},
		},
		{
			Key: "buy", Name: "Add licences to a pool", Inputs: []plan.Field{connect.Text("product", "Product"), connect.Number("count", "How many")},
			Outputs: []plan.Field{connect.Number("total", "In all")},
		},
	}}
}

// Do makes one call, with its Idempotency-Key.
func (l *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	switch c.Do {
	case "assign", "extend":
		var out struct{ Licence string }
		method, path := http.MethodPost, "/licences"
		in := map[string]string{"product": c.Input("product"), "holder": c.Input("holder"), "until": c.Input("until")}
		if c.Do == "extend" {
			method, path, in = http.MethodPatch, "/licences/"+url.PathEscape(c.Input("licence")), map[string]string{"until": c.Input("until")}
		}
		if err := l.Ask(ctx, method, path, c.Key, in, &out); err != nil {
			return connect.Reply{}, l.Gone(err, "The licence server knows nothing of that name.")
		}
		if out.Licence == "" {
			return connect.Reply{}, connect.Trouble{Sentence: "The licence server gave an answer without a licence."}
		}
		return connect.Reply{Outputs: map[string]string{"licence": out.Licence}}, nil
	case "release":
		path := "/licences/" + url.PathEscape(c.Input("licence"))
		if c.Undoes != "" {
			path = "/licences?key=" + url.QueryEscape(c.Undoes)
		}
		if err := l.Ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, connect.ErrGone) {
			return connect.Reply{}, err
		}
		return connect.Reply{}, nil
	case "count", "buy":
		var out struct{ Free, Total int }
		path := "/products/" + url.PathEscape(c.Input("product"))
		method, in := http.MethodGet, any(nil)
		if c.Do == "buy" {
			count, err := strconv.Atoi(c.Input("count"))
			if err != nil {
				return connect.Reply{}, connect.Refused("%q is no number of licences.", c.Input("count"))
			}
			method, path, in = http.MethodPost, path+"/more", map[string]int{"count": count}
		}
		if err := l.Ask(ctx, method, path, c.Key, in, &out); err != nil {
			return connect.Reply{}, l.Gone(err, "The licence server knows no product %q.", c.Input("product"))
		}
		outputs := map[string]string{"total": strconv.Itoa(out.Total), "free": strconv.Itoa(out.Free)}
		if c.Do == "buy" {
			delete(outputs, "free")
		}
		return connect.Reply{Outputs: outputs}, nil
	}
	return connect.Reply{}, connect.Refused("The licence server cannot do %q.", c.Do)
}
