package badges

import (
	"context"
	"errors"
	"net/http"
	"net/url"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector writes, changes and ends badges through the HTTP interface of the
// badge system.
type Connector struct{ connect.API }

// New speaks to the badge system.
func New(reach connect.Reach) *Connector {
	return &Connector{connect.NewAPI("The badge system", reach)}
}

// Describe tells what the badge system can do.
func (b *Connector) Describe() plan.Connector {
	return plan.Connector{Key: "badges", Name: "Badge system", Actions: []plan.ActionType{
		{
			Key: "write", Name: "Write a badge", Undo: "end",
			Inputs:  []plan.Field{{Key: "holder", Name: "Name on the badge", Person: true}, connect.Text("opens", "What it opens")},
			Outputs: []plan.Field{connect.Text("number", "Badge number")},
		},
		{
			Key: "change", Name: "Change what a badge opens",
			Inputs:  []plan.Field{connect.Text("number", "Badge number"), connect.Text("opens", "What it opens")},
			Outputs: []plan.Field{connect.Text("number", "Badge number"), connect.Text("before", "What it opened before")},
		},
		{Key: "end", Name: "End a badge", Inputs: []plan.Field{connect.Text("number", "Badge number")}, Outputs: []plan.Field{}},
	}}
}

type badge struct {
	Number string `json:"number,omitempty"`
	Holder string `json:"holder,omitempty"`
	Opens  string `json:"opens,omitempty"`
	Before string `json:"before,omitempty"`
}

// Do makes one call, with its Idempotency-Key.
func (b *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	var out badge
	switch c.Do {
	case "write":
		if err := b.Ask(ctx, http.MethodPost, "/badges", c.Key, badge{Holder: c.Input("holder"), Opens: c.Input("opens")}, &out); err != nil {
			return connect.Reply{}, b.Gone(err, "The badge system does not know how to write a badge.")
		}
		if out.Number == "" {
			return connect.Reply{}, connect.Trouble{Sentence: "The badge system gave an answer without a number."}
		}
		return connect.Reply{Outputs: map[string]string{"number": out.Number}}, nil
	case "change":
		if err := b.Ask(ctx, http.MethodPatch, "/badges/"+url.PathEscape(c.Input("number")), c.Key, badge{Opens: c.Input("opens")}, &out); err != nil {
			return connect.Reply{}, b.Gone(err, "The badge system knows no badge %s.", c.Input("number"))
		}
		return connect.Reply{Outputs: connect.Filled(map[string]string{"number": out.Number, "before": out.Before})}, nil
	case "end":
		path := "/badges/" + url.PathEscape(c.Input("number"))
		if c.Undoes != "" {
			path = "/badges?key=" + url.QueryEscape(c.Undoes)
		}
		if err := b.Ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, connect.ErrGone) {
			return connect.Reply{}, err
		}
		return connect.Reply{}, nil
	}
	return connect.Reply{}, connect.Refused("The badge system cannot do %q.", c.Do)
}
