package purchasing

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Connector sends orders to the purchasing system, which reports their
// delivery days later.
type Connector struct {
	connect.API
	reports string // URL to which it reports
}

// New speaks to the purchasing system, which reports to a URL.
func New(reach connect.Reach, reports string) *Connector {
	return &Connector{connect.NewAPI("The purchasing system", reach), reports}
}

// Describe tells what the purchasing system can do.
func (p *Connector) Describe() plan.Connector {
	return plan.Connector{Key: "purchasing", Name: "Purchasing", Actions: []plan.ActionType{
		{
			Key: "order", Name: "Order", Undo: "cancel", Later: true,
			Inputs:  []plan.Field{connect.Text("item", "What"), connect.Number("quantity", "How many"), connect.Free("costCentre", "Cost centre"), connect.Free("expected", "Expected cost"), connect.Free("place", "Deliver to")},
			Outputs: []plan.Field{connect.Text("order", "Order number"), connect.Free("supplier", "Supplier's number"), plan.Field{Key: "cost", Name: "What it cost", Kind: plan.Money, Real: true, Free: true}},
		},
		{Key: "cancel", Name: "Cancel an order", Inputs: []plan.Field{connect.Text("order", "Order number")}, Outputs: []plan.Field{}},
	}}
}

// Order is what is sent to the purchasing system.
type Order struct {
	Key        string `json:"key"` // under which it reports
	Item       string `json:"item"`
	Quantity   int    `json:"quantity"`
	CostCentre string `json:"costCentre,omitempty"`
	Expected   string `json:"expected,omitempty"`
	Place      string `json:"place,omitempty"`
	Reports    string `json:"reports"` // URL it reports to
}

// Do makes one call, with its Idempotency-Key.
func (p *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	switch c.Do {
	case "order":
		quantity, err := strconv.ParseFloat(c.Input("quantity"), 64)
		if err != nil || quantity < 1 || quantity != float64(int(quantity)) {
			return connect.Reply{}, connect.Refused("%q is no number to order.", c.Input("quantity"))
		}
		var out struct{ Order string }
		order := Order{c.Key, c.Input("item"), int(quantity), c.Input("costCentre"), c.Input("expected"), c.Input("place"), p.reports}
		if err := p.Ask(ctx, http.MethodPost, "/orders", c.Key, order, &out); err != nil {
			return connect.Reply{}, p.Gone(err, "The purchasing system takes no orders.")
		}
		if out.Order == "" {
			return connect.Reply{}, connect.Trouble{Sentence: "The purchasing system gave an answer without a number."}
		}
		return connect.Reply{Outputs: map[string]string{"order": out.Order}, Later: true}, nil
	case "cancel":
		path := "/orders/" + url.PathEscape(c.Input("order"))
		if c.Undoes != "" {
			path = "/orders?key=" + url.QueryEscape(c.Undoes)
		}
		if err := p.Ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, connect.ErrGone) {
			return connect.Reply{}, err
		}
		return connect.Reply{}, nil
	}
	return connect.Reply{}, connect.Refused("The purchasing system cannot do %q.", c.Do)
}

// Delivery is what the purchasing system reports.
type Delivery struct {
	Key       string `json:"key"`  // of the order
	Step      string `json:"step"` // differs for each report of an order
	State     string `json:"state" enum:"confirmed,partial,delivered,refused"`
	Supplier  string `json:"supplier,omitempty"` // its number there
	Delivered int    `json:"delivered"`          // how many came so far
	Cost      string `json:"cost,omitempty"`
	Words     string `json:"words,omitempty"`
}

// Reported is what the purchasing system reports.
func (p *Connector) Reported() any { return Delivery{} }

// ReadReport reads what the purchasing system says of an order.
func (p *Connector) ReadReport(body []byte) (connect.Report, error) {
	var d Delivery
	if err := json.Unmarshal(body, &d); err != nil || d.Key == "" || d.Step == "" {
		return connect.Report{}, errors.New("this is no report")
	}
	r := connect.Report{Key: d.Key, Done: d.Delivered}
	r.Report = request.Report{Step: d.Step, Words: connect.Shortened(d.Words), Outputs: map[string]string{}, Final: d.State == "delivered", Failed: d.State == "refused"}
	for key, value := range map[string]string{"supplier": d.Supplier, "cost": d.Cost} {
		if value != "" {
			r.Outputs[key] = value
		}
	}
	if d.State == "partial" && r.Words == "" {
		r.Words = fmt.Sprintf("%d came so far.", d.Delivered)
	}
	return r, nil
}
