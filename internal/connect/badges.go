package connect

import (
	"context"
	"errors"
	"net/http"
	"net/url"

	"heptad/internal/core/plan"
)

// Badges writes, changes and ends badges through the HTTP interface of the
// badge system.
type Badges struct{ api }

// NewBadges speaks to the badge system.
func NewBadges(reach Reach) *Badges { return &Badges{newAPI("The badge system", reach)} }

// Describe tells what the badge system can do.
func (b *Badges) Describe() plan.Connector {
	return plan.Connector{Key: "badges", Name: "Badge system", Actions: []plan.ActionType{
		{
			Key: "write", Name: "Write a badge", Undo: "end",
			Inputs:  []plan.Field{{Key: "holder", Name: "Name on the badge", Person: true}, text("opens", "What it opens")},
			Outputs: []plan.Field{text("number", "Badge number")},
		},
		{
			Key: "change", Name: "Change what a badge opens",
			Inputs:  []plan.Field{text("number", "Badge number"), text("opens", "What it opens")},
			Outputs: []plan.Field{text("number", "Badge number"), text("before", "What it opened before")},
		},
		{Key: "end", Name: "End a badge", Inputs: []plan.Field{text("number", "Badge number")}, Outputs: []plan.Field{}},
	}}
}

type badge struct {
	Number string `json:"number,omitempty"`
	Holder string `json:"holder,omitempty"`
	Opens  string `json:"opens,omitempty"`
	Before string `json:"before,omitempty"`
}

// Do makes one call, with its Idempotency-Key.
func (b *Badges) Do(ctx context.Context, c Call) (Reply, error) {
	var out badge
	switch c.Do {
	case "write":
		if err := b.ask(ctx, http.MethodPost, "/badges", c.Key, badge{Holder: c.input("holder"), Opens: c.input("opens")}, &out); err != nil {
			return Reply{}, b.gone(err, "The badge system does not know how to write a badge.")
		}
		if out.Number == "" {
			return Reply{}, Trouble{Sentence: "The badge system gave an answer without a number."}
		}
		return Reply{Outputs: map[string]string{"number": out.Number}}, nil
	case "change":
		if err := b.ask(ctx, http.MethodPatch, "/badges/"+url.PathEscape(c.input("number")), c.Key, badge{Opens: c.input("opens")}, &out); err != nil {
			return Reply{}, b.gone(err, "The badge system knows no badge %s.", c.input("number"))
		}
		return Reply{Outputs: filled(map[string]string{"number": out.Number, "before": out.Before})}, nil
	case "end":
		path := "/badges/" + url.PathEscape(c.input("number"))
		if c.Undoes != "" {
			path = "/badges?key=" + url.QueryEscape(c.Undoes)
		}
		if err := b.ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, errGone) {
			return Reply{}, err
		}
		return Reply{}, nil
	}
	return Reply{}, refused("The badge system cannot do %q.", c.Do)
}
