package lamp

import (
	"context"
	"net/http"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector lights the lamp.
type Connector struct{ connect.API }

// New speaks to the lamp.
func New(reach connect.Reach) *Connector { return &Connector{connect.NewAPI("The lamp", reach)} }

// Describe tells what the lamp can do.
func (l *Connector) Describe() plan.Connector {
	return plan.Connector{Key: "lamp", Name: "Pier lamp", Actions: []plan.ActionType{
		{Key: "light", Name: "Light the lamp", Inputs: []plan.Field{connect.Text("colour", "Colour")}, Outputs: []plan.Field{}},
	}}
}

// Do makes one call, with its Idempotency-Key.
func (l *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	if c.Do != "light" {
		return connect.Reply{}, connect.Refused("The lamp cannot do %q.", c.Do)
	}
	var out struct{}
	return connect.Reply{}, l.Ask(ctx, http.MethodPut, "/lamp", c.Key, map[string]string{"colour": c.Input("colour")}, &out)
}
