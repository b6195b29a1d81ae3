package offering

import (
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

// Usual is what holds where an offering says nothing, as its owner is told.
type Usual struct {
	ConfirmWithin int    `json:"confirmWithin" doc:"Working days until a delivered request closes by itself"`
	BackWithin    int    `json:"backWithin" doc:"Working days in which a closed request can be sent back"`
	AnswerWithin  int    `json:"answerWithin" doc:"Working days to answer a question"`
	DecideWithin  string `json:"decideWithin" doc:"After which a request expires, such as 20 working days"`
	CallWithin    int    `json:"callWithin" doc:"How long one call to another system may take, in seconds"`
	CallMost      int    `json:"callMost" doc:"The longest that can be said, in seconds"`
}

// Usually is what holds where an offering says nothing.
func Usually() Usual {
	return Usual{
		ConfirmWithin: promise.UsualConfirm, BackWithin: promise.UsualBack, AnswerWithin: promise.UsualAnswer, DecideWithin: ladder.UsualLimit.Words(),
		CallWithin: int(plan.UsualLimit.Seconds()), CallMost: int(plan.MostLimit.Seconds()),
	}
}
