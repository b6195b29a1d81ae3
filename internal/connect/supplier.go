package connect

import (
	"context"
	"errors"
	"strings"

	"heptad/internal/core/plan"
)

// Supplier sends a task by mail to somebody outside, who answers by a signed
// link.
type Supplier struct {
	poster Poster
	link   func(key string) string // the URL under which a call is answered
}

// NewSupplier sends through a poster; link makes the URL to answer a call.
func NewSupplier(poster Poster, link func(key string) string) *Supplier {
	return &Supplier{poster, link}
}

// Describe tells what can be asked by mail.
func (s *Supplier) Describe() plan.Connector {
	return plan.Connector{Key: "mail", Name: "Mail to a supplier", Actions: []plan.ActionType{
		{
			Key: "ask", Name: "Ask a supplier to do it", Undo: "cancel", Later: true,
			Inputs:  []plan.Field{text("to", "Mail address"), text("name", "Name of the supplier"), text("subject", "Subject"), text("text", "What is to be done")},
			Outputs: []plan.Field{free("number", "Supplier's number"), {Key: "day", Name: "Day it is done", Kind: plan.Date, Free: true}},
		},
		{Key: "cancel", Name: "Tell a supplier that it is cancelled", Inputs: []plan.Field{text("to", "Mail address"), text("name", "Name of the supplier"), text("subject", "Subject")}, Outputs: []plan.Field{}},
	}}
}

// Do sends one mail; the same key is the same mail.
func (s *Supplier) Do(ctx context.Context, c Call) (Reply, error) {
	if s.poster == nil {
		return Reply{}, refused("No mail goes out from here.")
	}
	var part Part
	switch c.Do {
	case "ask":
		part.Text = c.input("text") + "\n\nPlease answer with the link below: nobody reads replies to this mail."
		part.Links = []Link{{"Answer: when it is done, or why not", s.link(c.Key)}}
	case "cancel":
		part.Text = "This is no longer needed: " + c.input("subject") + "\n\nIf you have begun, please stop."
	default:
		return Reply{}, refused("A supplier cannot be asked to %q by mail.", c.Do)
	}
	m := Mail{ID: strings.NewReplacer("/", "-").Replace(c.Key), To: c.input("to"), Name: c.input("name"), Subject: c.input("subject"), Parts: []Part{part}}
	err := s.poster.Post(ctx, m)
	var notTaken NotTaken
	var bad BadMail
	switch {
	case errors.As(err, &bad):
		return Reply{}, Trouble{Sentence: Shortened("No mail can go to " + m.To + ": " + bad.Error()), Final: true}
	case errors.As(err, &notTaken):
		return Reply{}, Trouble{Sentence: "The mail server did not take the mail to " + m.To + "."}
	case err != nil:
		return Reply{}, Trouble{Sentence: "The mail server does not answer.", Down: true}
	}
	return Reply{Later: c.Do == "ask"}, nil
}
