package supplier

import (
	"context"
	"errors"
	"strings"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector sends a task by mail to somebody outside, who answers by a signed
// link.
type Connector struct {
	poster connect.Poster
	link   func(key string) string // the URL under which a call is answered
}

// New sends through a poster; link makes the URL to answer a call.
func New(poster connect.Poster, link func(key string) string) *Connector {
	return &Connector{poster, link}
}

// Describe tells what can be asked by mail.
func (s *Connector) Describe() plan.Connector {
	return plan.Connector{Key: "mail", Name: "Mail to a supplier", Actions: []plan.ActionType{
		{
			Key: "ask", Name: "Ask a supplier to do it", Undo: "cancel", Later: true,
			Inputs:  []plan.Field{connect.Text("to", "Mail address"), connect.Text("name", "Name of the supplier"), connect.Text("subject", "Subject"), connect.Text("text", "What is to be done")},
			Outputs: []plan.Field{connect.Free("number", "Supplier's number"), {Key: "day", Name: "Day it is done", Kind: plan.Date, Free: true}},
		},
		{Key: "cancel", Name: "Tell a supplier that it is cancelled", Inputs: []plan.Field{connect.Text("to", "Mail address"), connect.Text("name", "Name of the supplier"), connect.Text("subject", "Subject")}, Outputs: []plan.Field{}},
	}}
}

// Do sends one mail; the same key is the same mail.
func (s *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	if s.poster == nil {
		return connect.Reply{}, connect.Refused("No mail goes out from here.")
	}
	var part connect.Part
	switch c.Do {
	case "ask":
		part.Text = c.Input("text") + "\n\nPlease answer with the link below: nobody reads replies to this mail."
		part.Links = []connect.Link{{Words: "Answer: when it is done, or why not", URL: s.link(c.Key)}}
	case "cancel":
		part.Text = "This is no longer needed: " + c.Input("subject") + "\n\nIf you have begun, please stop."
	default:
		return connect.Reply{}, connect.Refused("A supplier cannot be asked to %q by mail.", c.Do)
	}
	m := connect.Mail{ID: strings.NewReplacer("/", "-").Replace(c.Key), To: c.Input("to"), Name: c.Input("name"), Subject: c.Input("subject"), Parts: []connect.Part{part}}
	err := s.poster.Post(ctx, m)
	var notTaken connect.NotTaken
	var bad connect.BadMail
	switch {
	case errors.As(err, &bad):
		return connect.Reply{}, connect.Trouble{Sentence: connect.Shortened("No mail can go to " + m.To + ": " + bad.Error()), Final: true}
	case errors.As(err, &notTaken):
		return connect.Reply{}, connect.Trouble{Sentence: "The mail server did not take the mail to " + m.To + "."}
	case err != nil:
		return connect.Reply{}, connect.Trouble{Sentence: "The mail server does not answer.", Down: true}
	}
	return connect.Reply{Later: c.Do == "ask"}, nil
}
