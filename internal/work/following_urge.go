package work

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
)

// Speed is what more urgency would come to, by one of the choices that there are.
type Speed struct {
	Choice  form.Option
	Price   price.Price
	Due     time.Time // zero where that hangs on the decision
	Decided []string  // IDs of who would have to decide first
	Trouble string    // why it cannot be asked for; empty when it can
}

// Speeds tells what more urgency would come to, to the asker's side of a request whose
// offering lets them ask for it. Nothing is kept.
func (w *Following) Speeds(ctx context.Context, person string, s request.State) ([]Speed, error) {
	c, err := w.Version(ctx, s.Offering, s.Version)
	if err != nil || c.Document.Promise.Urge == nil {
		return nil, err
	}
	facts, err := w.facts(ctx, w.Store, person, s)
	if err != nil {
		return nil, err
	}
	question, _ := c.Form.Question(c.Document.Promise.Urge.Question)
	var all []Speed
	for _, choice := range question.Choices {
		now, _ := s.Answers[question.Key].Text()
		if choice.Key == now || !slices.Contains(c.Document.Promise.Urge.Choices, choice.Key) {
			continue
		}
		speed := Speed{Choice: choice}
		events, _, err := request.Handle(s, request.Urge{Choice: choice.Key}, facts)
		if why, refused := request.AsRefusal(err); refused {
			speed.Trouble = why.Sentence
		} else if err != nil {
			return nil, err
		}
		next := s
		for _, e := range events {
			next.Apply(e)
			switch b := e.Body.(type) {
			case request.Urged:
				speed.Price = b.Price
			case request.RungOpened:
				for _, seat := range b.Seats {
					speed.Decided = append(speed.Decided, seat.DecidingNow()...)
				}
			case request.UrgeDecided:
				if clock, ok := next.Fulfilment(c); ok && b.Granted {
					speed.Due = clock.Read(facts.Now).Due
				}
			}
		}
		all = append(all, speed)
	}
	return all, nil
}
