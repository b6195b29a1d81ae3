package work

import (
	"context"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// Evaluated is what a form comes to with some answers.
type Evaluated struct {
	form.Result
	Decisions []Foreseen
	Promised  *promise.Promised // nil when no time is promised
	Forecast  request.Forecast  // if it were sent now
	Slip      string            // fingerprint of what the asker sees
	Trouble   string            // why it cannot be for this person
}

// Foreseen is a rung that a request would have to climb.
type Foreseen struct {
	Rung    ladder.Rung
	Why     string // the rule that needs it, in words
	Seats   []ladder.Seat
	Trouble string // why nobody can be found
}

// evaluate works out a form and whose decisions it would need.
func (k *kernel) evaluate(ctx context.Context, c *offering.Compiled, parties offering.Parties, facts form.Facts, answers form.Answers, now time.Time) Evaluated {
	e := Evaluated{Result: c.Form.Evaluate(answers, c.Values(parties, now), facts), Decisions: []Foreseen{}}
	if ok, why := c.MayAsk(parties); !ok {
		e.Trouble = why
	}
	service, _ := k.Company().Service(c.Document.Purpose.Service)
	ladderFacts := c.LadderFacts(parties, e.Kept(), e.Price, service, now)
	needed := c.Ladder.Needed(e.Values)
	for _, rung := range needed {
		foreseen := Foreseen{Rung: rung, Why: c.Form.Words(rung.When)}
		seats, err := ladder.Seats(rung, ladderFacts)
		if err != nil {
			foreseen.Trouble = err.Error()
		}
		foreseen.Seats = seats
		e.Decisions = append(e.Decisions, foreseen)
	}
	e.Promised = c.Promise.Promised(e.Values, now)
	e.Forecast = request.ForecastDraft(c, parties, e.Kept(), e.Values, needed, e.Promised, k.durations.of(ctx, c.Document.Key), now)
	e.Slip = request.Slip(c, e.Result)
	return e
}
