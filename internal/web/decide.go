package web

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/store"
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
	Since     time.Time        `json:"since" doc:"When it came to them"`
	Decision  request.Decision `json:"decision,omitempty" enum:"approve,decline" doc:"What the reader said"`
	Outcome   request.Outcome  `json:"outcome,omitempty" enum:"fulfilled,declined,withdrawn,expired"`
}

// decisionSheet is all that bears on one decision.
type decisionSheet struct {
	DecisionLine
	RungName   string     `json:"rungName"`
	Say        string     `json:"say,omitempty" doc:"What there is to decide"`
	For        string     `json:"for" doc:"Name of who it is for"`
	AskerTitle string     `json:"askerTitle"`
	AskerPlace string     `json:"askerPlace" doc:"Department and location"`
	Why        string     `json:"why" doc:"Why it is the reader who decides; empty when it is not"`
	Answers    []answered `json:"answers" nullable:"false"`
	Rungs      []rungView `json:"rungs" nullable:"false"`
	Follows    []follows  `json:"follows" nullable:"false" doc:"Tasks that begin once every decision is a yes"`
	Allowed    []string   `json:"allowed" nullable:"false"`
}

type follows struct {
	Task  string   `json:"task"`
	Team  string   `json:"team"`
	After []string `json:"after" nullable:"false"`
}

type decisionsInput struct {
	PageInput
	State string `query:"state" enum:"waiting,decided" default:"waiting"`
}

func (s *Server) myDecisions(ctx context.Context, in *decisionsInput) (*body[listOf[DecisionLine]], error) {
	entries, err := s.Office.Store.DecisionsOf(ctx, me(ctx), in.State == "waiting", in.page())
	return answer(listing(entries, in.Limit, func(e store.Entry) DecisionLine { return s.decisionLine(ctx, e.State, e.Key) }), err)
}

func (s *Server) decisionLine(ctx context.Context, state request.State, rung string) DecisionLine {
	out := DecisionLine{
		Request: state.ID, Rung: rung, Reference: state.Reference, Title: state.Title,
		Asker: s.Office.Company().Name(state.Asker), Price: shown(state.Price), Outcome: state.Outcome,
	}
	for _, r := range state.Rungs {
		if r.Key != rung {
			continue
		}
		out.Since = r.Opened
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

func (s *Server) decision(ctx context.Context, in *DecisionInput) (*body[decisionSheet], error) {
	state, err := s.Office.Store.Request(ctx, in.Request)
	if err != nil {
		return nil, err
	}
	return s.decisionSheet(ctx, state, in.Rung)
}

func (s *Server) decisionSheet(ctx context.Context, state request.State, rung string) (*body[decisionSheet], error) {
	here := slices.IndexFunc(state.Rungs, func(r request.Rung) bool { return r.Key == rung })
	if here < 0 || !s.Office.Viewer(me(ctx), state).SeesDecision() {
		return nil, work.ErrNotFound
	}
	c, err := s.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	var shows []string // nil for all
	if facts := state.Rungs[here].Facts; len(facts) > 0 {
		shows = facts
	}
	answers, err := s.answers(ctx, state, shows)
	if err != nil {
		return nil, err
	}
	asker, _ := s.Office.Company().Person(state.Asker)
	out := decisionSheet{
		DecisionLine: s.decisionLine(ctx, state, rung), RungName: state.Rungs[here].Name, Say: state.Rungs[here].Say, For: s.beneficiary(state),
		AskerTitle: asker.Title, AskerPlace: asker.Department + ", " + asker.Location,
		Answers: answers, Rungs: []rungView{}, Follows: []follows{}, Allowed: list(state.Allowed(me(ctx))),
	}
	for _, seat := range state.Rungs[here].Seats {
		if seat.Person == me(ctx) {
			out.Why = seat.Reason
		}
	}
	for _, r := range state.Rungs {
		out.Rungs = append(out.Rungs, s.rung(r))
	}
	names := map[string]string{}
	for _, t := range c.Plan.Tasks() {
		names[t.Key] = t.Name
	}
	for _, t := range c.Plan.Tasks() {
		entry := follows{Task: t.Name, Team: s.Office.Company().TeamName(t.Team), After: []string{}}
		for _, key := range t.After {
			entry.After = append(entry.After, names[key])
		}
		out.Follows = append(out.Follows, entry)
	}
	return answer(out, nil)
}

func (s *Server) decide(ctx context.Context, in *struct {
	DecisionInput
	Body struct {
		Decision request.Decision `json:"decision" enum:"approve,decline"`
		Reason   string           `json:"reason,omitempty" maxLength:"2000" doc:"Needed to decline"`
	}
}) (*body[decisionSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Decide{Rung: in.Rung, Decision: in.Body.Decision, Reason: in.Body.Reason})
	if err != nil {
		return nil, err
	}
	return s.decisionSheet(ctx, state, in.Rung)
}
