package web

import (
	"context"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// DecisionLine is a decision in a list.
type DecisionLine struct {
	Request   string           `json:"request" doc:"ID"`
	Rung      string           `json:"rung" doc:"Key"`
	Reference string           `json:"reference"`
	Title     string           `json:"title"`
	Asker     string           `json:"asker"`
	Price     price.Price      `json:"price"`
	For       string           `json:"for,omitempty" doc:"Name of who it is for, when it is not the asker"`
	InsteadOf string           `json:"insteadOf,omitempty" doc:"Name of the approver in whose place the reader decides"`
	Answers   []answered       `json:"answers,omitempty" nullable:"false" doc:"What the rung shows, when asked for"`
	Offering  string           `json:"offering" doc:"Key"`
	Together  string           `json:"together,omitempty" doc:"ID of the slip on which it was sent with others"`
	Urging    *urgingView      `json:"urging,omitempty" doc:"It decides on more urgency, while the work goes on"`
	Slip      string           `json:"slip,omitempty" doc:"What holds those together"`
	RungName  string           `json:"rungName"`
	Since     time.Time        `json:"since" doc:"When it came to them"`
	Due       *time.Time       `json:"due,omitempty" doc:"Until when it is to be decided"`
	Decision  request.Decision `json:"decision,omitempty" doc:"What the reader said"`
	Outcome   request.Outcome  `json:"outcome,omitempty"`
}

// decisionSheet is all that bears on one decision.
type decisionSheet struct {
	DecisionLine
	Say        string               `json:"say,omitempty" doc:"What there is to decide"`
	For        string               `json:"for" doc:"Name of who it is for"`
	AskerTitle string               `json:"askerTitle"`
	AskerPlace string               `json:"askerPlace" doc:"Department and location"`
	Why        string               `json:"why" doc:"Why it is the reader who decides; empty when it is not"`
	Answers    []answered           `json:"answers" nullable:"false"`
	Rungs      []rungView           `json:"rungs" nullable:"false"`
	Promise    *request.PromiseLine `json:"promise,omitempty"`
	Forecast   *forecastView        `json:"forecast,omitempty"`
	Follows    []follows            `json:"follows" nullable:"false" doc:"Tasks that begin once every decision is a yes"`
	Allowed    []request.Offer      `json:"allowed" nullable:"false"`
	Parts      []string             `json:"parts,omitempty" nullable:"false" doc:"Names of the cost centres whose shares the reader decides on; none when it is the whole"`
	Cheaper    *cheaper             `json:"cheaper,omitempty" doc:"What the cheapest choice allowed would have cost, when that is less"`
	Question   *question            `json:"question,omitempty" doc:"What was asked back, while nobody has answered"`
	Status     request.Status       `json:"status"`
	Words      []request.Entry      `json:"words" nullable:"false" doc:"What was asked, answered and said so far"`
	NoPrice    bool                 `json:"noPrice,omitempty" doc:"The price is not for this decision"`
}

type cheaper struct {
	Picked   []string     `json:"picked" nullable:"false"`
	Cheapest []string     `json:"cheapest" nullable:"false" doc:"In the place of what was picked, in the same order"`
	Less     money.Amount `json:"less" doc:"In the first year"`
	Price    money.Amount `json:"price" doc:"Of the first year"`
}

type follows struct {
	Task   string     `json:"task"`
	Team   string     `json:"team"`
	After  []string   `json:"after" nullable:"false"`
	Likely *time.Time `json:"likely,omitempty" doc:"When it is likely done"`
}

type decisionsInput struct {
	PageInput
	State    string `query:"state" enum:"waiting,decided" default:"waiting"`
	Sort     string `query:"sort" enum:"waiting,due,cost" default:"waiting" doc:"Of those that wait: the longest waiting, the first due or the dearest first"`
	Words    string `query:"words" maxLength:"100" doc:"Parts of the title, the reference or the asker's name"`
	Offering string `query:"offering" maxLength:"60" doc:"Key; all when left out"`
	Answers  bool   `query:"answers" doc:"With what each rung shows, so that those alike can be compared"`
}

func (h deciding) myDecisions(ctx context.Context, in *decisionsInput) (*body[deskOf[DecisionLine]], error) {
	entries, err := h.Office.Deciding.DecisionsOf(ctx, me(ctx), work.Decisions{
		Page: in.page(), Decided: in.State == "decided", Sort: in.Sort, Words: in.Words, Offering: in.Offering,
	})
	page := listing(entries, in.Limit, func(e work.Entry) DecisionLine {
		line := h.decisionLine(ctx, e.State, e.Key)
		if here := slices.IndexFunc(e.State.Rungs, func(r request.Rung) bool { return r.Key == e.Key }); in.Answers && here >= 0 {
			if state, _, err := h.Office.Glance(ctx, me(ctx), e.State.ID); err == nil { // the list is worth more than its answers
				line.Answers, _ = h.answers(ctx, state, state.Rungs[here].Sight())
			}
		}
		return line
	})
	out := deskOf[DecisionLine]{page.Entries, page.Next, ""}
	if first := firstOf(out.Entries); first != nil {
		out.First = first.Request + "/" + first.Rung
	}
	return answer(out, err)
}

func (h deciding) decisionLine(ctx context.Context, state request.State, rung string) DecisionLine {
	out := DecisionLine{
		Request: state.ID, Rung: rung, Reference: state.Reference, Title: state.Title,
		Asker: h.Office.Company().Name(state.Asker), Price: shown(state.Price), Outcome: state.Outcome, Offering: state.Offering,
	}
	out.Urging = h.urging(state)
	if on := state.Together; on != nil {
		out.Together, out.Slip = on.ID, on.Title
	}
	if state.Beneficiary() != state.Asker {
		out.For = h.beneficiary(state)
	}
	for i := range state.Rungs {
		r := &state.Rungs[i]
		if r.Key != rung {
			continue
		}
		out.Price = shown(r.PriceFor(me(ctx), state.Price))
		for _, seat := range r.SeatsFor(me(ctx)) {
			if seat.Person != me(ctx) {
				out.InsteadOf = h.Office.Company().Name(seat.Person)
			}
		}
		out.Since, out.RungName, out.Due = r.Opened, r.Name, reached(r.DueAt())
		if vote, voted := r.VoteOf(me(ctx)); voted {
			out.Decision = vote.Decision
		}
	}
	return out
}

type DecisionInput struct {
	RequestInput
	Rung string `path:"rung" maxLength:"60" doc:"Key"`
}

func (h deciding) decision(ctx context.Context, in *DecisionInput) (*body[decisionSheet], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	rung, state, viewer, c := in.Rung, seen.State, seen.Viewer, seen.Offering
	here := slices.IndexFunc(state.Rungs, func(r request.Rung) bool { return r.Key == rung })
	if here < 0 || !viewer.SeesDecision(rung) {
		return nil, work.ErrNotFound
	}
	answers := h.inWords(c, state, state.Rungs[here].Sight())
	asker, _ := h.Office.Company().Person(state.Asker)
	out := decisionSheet{
		DecisionLine: h.decisionLine(ctx, state, rung), Say: state.Rungs[here].Say, For: h.beneficiary(state),
		AskerTitle: asker.Title, AskerPlace: asker.Department + ", " + asker.Location,
		Answers: answers, Rungs: []rungView{}, Follows: []follows{}, Allowed: list(state.AllowedOnRung(rung, me(ctx))),
	}
	out.Question, out.Status, out.NoPrice = h.question(state), state.Status, state.Rungs[here].NoPrice
	for _, part := range state.Rungs[here].Parts(me(ctx)) {
		out.Parts = append(out.Parts, h.Office.Company().CentreName(part))
	}
	if seats := state.Rungs[here].SeatsFor(me(ctx)); len(seats) > 0 {
		seat := seats[0]
		out.Why = seat.Reason
		for _, o := range seat.Others {
			if o.Person == me(ctx) {
				out.Why = o.Reason
				if o.As == ladder.PassedOn {
					out.Why = "passed on by " + h.Office.Company().Name(o.Instead) + ": " + o.Reason
				}
			}
		}
	}
	if !out.NoPrice && len(out.Parts) == 0 {
		out.Cheaper = h.cheaper(c, state)
	}
	out.Words = []request.Entry{}
	for _, e := range request.History(seen.Events, h.Office.Company(), viewer) {
		if e.Remark != "" && (e.Kind == "decision" || e.Kind == "word") {
			out.Words = append(out.Words, e)
		}
	}
	for _, r := range state.Rungs {
		out.Rungs = append(out.Rungs, rungOf(h.Office.Company(), r))
	}
	f, err := h.Office.Forecast(ctx, state)
	if err != nil {
		return nil, err
	}
	out.Follows, out.Forecast, out.Promise = h.follows(f), forecastOf(f.Outlook()), state.PromiseLine(c, &f, h.Office.Clock())
	return answer(out, nil)
}

// follows lists the tasks that a yes leads to, as far as one can tell now, with
// when they are likely done.
func (h deciding) follows(f request.Forecast) []follows {
	out, names := []follows{}, map[string]string{}
	for _, step := range f.Steps {
		if step.Rung == "" && step.Needed {
			names[step.Task] = step.Name
		}
	}
	for i, step := range f.Steps {
		if names[step.Task] == "" {
			continue
		}
		entry := follows{Task: step.Name, After: []string{}, Likely: reached(f.Slots[i].Finish)}
		if step.Team != "" {
			entry.Team = h.Office.Company().TeamName(step.Team)
		}
		for _, key := range step.After {
			if name := names[key]; name != "" {
				entry.After = append(entry.After, name)
			}
		}
		out = append(out, entry)
	}
	return out
}

// cheaper says what the cheapest choice allowed would have cost.
func (h deciding) cheaper(c *offering.Compiled, state request.State) *cheaper {
	found, ok := c.Cheapest(state.Answers, h.Office.SentValues(c, state))
	if !ok {
		return nil
	}
	less, err := state.Price.FirstYear.Plus(found.Price.FirstYear.Times(-1))
	if err != nil || less.Minor() <= 0 {
		return nil
	}
	return &cheaper{found.Picked, found.Cheapest, less, found.Price.FirstYear}
}

func (h deciding) decide(ctx context.Context, in *struct {
	DecisionInput
	Body struct {
		Decision request.Decision `json:"decision"`
		Reason   string           `json:"reason,omitempty" maxLength:"2000" doc:"Needed to decline"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Decide{Rung: in.Rung, Decision: in.Body.Decision, Reason: in.Body.Reason})
}

func (h deciding) askBack(ctx context.Context, in *struct {
	DecisionInput
	Body struct {
		Text string `json:"text" maxLength:"2000" doc:"What the asker is to answer"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.AskBack{Rung: in.Rung, Text: in.Body.Text})
}

func (h deciding) unask(ctx context.Context, in *DecisionInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Unask{Rung: in.Rung})
}

func (h deciding) takeBackPassed(ctx context.Context, in *DecisionInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.TakeBack{Rung: in.Rung})
}

func (h deciding) passOn(ctx context.Context, in *struct {
	DecisionInput
	Body struct {
		To     string `json:"to" maxLength:"60" doc:"ID of a colleague"`
		Reason string `json:"reason" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.PassOn{Rung: in.Rung, To: in.Body.To, Reason: in.Body.Reason})
}

// severalResult says of each decision whether it was taken.
type severalResult struct {
	Request string `json:"request"`
	Rung    string `json:"rung"`
	Problem string `json:"problem,omitempty" doc:"Why it was not taken"`
}

func (h deciding) decideSeveral(ctx context.Context, in *struct {
	Body struct {
		Decision  request.Decision `json:"decision"`
		Reason    string           `json:"reason,omitempty" maxLength:"2000" doc:"For all that have none of their own"`
		Decisions []struct {
			Request string `json:"request" maxLength:"60"`
			Rung    string `json:"rung" maxLength:"60"`
			Reason  string `json:"reason,omitempty" maxLength:"2000"`
		} `json:"decisions" minItems:"1" maxItems:"200" nullable:"false"`
	}
}) (*body[listOf[severalResult]], error) {
	out := listOf[severalResult]{Entries: []severalResult{}}
	for _, d := range in.Body.Decisions {
		reason := d.Reason
		if reason == "" {
			reason = in.Body.Reason
		}
		result := severalResult{Request: d.Request, Rung: d.Rung}
		_, err := h.Office.Do(ctx, me(ctx), d.Request, request.Decide{Rung: d.Rung, Decision: in.Body.Decision, Reason: reason})
		why, refused := request.AsRefusal(err)
		switch {
		case refused:
			result.Problem = why.Sentence
		case errors.Is(err, work.ErrNotFound):
			result.Problem = "This decision is not there, or is not yours."
		case err != nil:
			return nil, err
		}
		out.Entries = append(out.Entries, result)
	}
	return answer(out, nil)
}
