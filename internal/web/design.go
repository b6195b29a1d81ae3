package web

import (
	"context"
	"net/http"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// portfolioBody is what a catalog owner has, and what offerings are made of.
type portfolioBody struct {
	Services   []serviceView    `json:"services" nullable:"false" doc:"Those the reader owns"`
	Offerings  []offeringLine   `json:"offerings" nullable:"false"`
	Teams      []Named          `json:"teams" nullable:"false"`
	People     []Named          `json:"people" nullable:"false" doc:"Keys are logins"`
	Connectors []plan.Connector `json:"connectors" nullable:"false"`
}

type serviceView struct {
	Named
	Area string `json:"area"`
}

type Named struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	ID   string `json:"id,omitempty" doc:"Of a person"`
}

type offeringLine struct {
	Key       string    `json:"key"`
	Name      string    `json:"name"`
	Service   string    `json:"service" doc:"Key"`
	Draft     int       `json:"draft,omitempty" doc:"Number of the version being written"`
	Current   int       `json:"current,omitempty" doc:"Number of the version people can ask for"`
	ChangedAt time.Time `json:"changedAt"`
}

func (s *Server) portfolio(ctx context.Context, _ *none) (*body[portfolioBody], error) {
	out := portfolioBody{Services: []serviceView{}, Offerings: []offeringLine{}, Teams: []Named{}, People: []Named{}, Connectors: s.Office.Connectors()}
	for _, service := range s.Office.Owned(me(ctx)) {
		out.Services = append(out.Services, serviceView{Named{Key: service.Key, Name: service.Name}, service.Area})
	}
	if len(out.Services) == 0 {
		return nil, work.ErrNotFound
	}
	for _, team := range s.Office.Company().Teams() {
		out.Teams = append(out.Teams, Named{Key: team.Key, Name: team.Name})
	}
	for _, p := range s.Office.Company().Persons() {
		if !p.Away {
			out.People = append(out.People, Named{Key: p.Login, Name: p.Name, ID: p.ID})
		}
	}
	offerings, err := s.Office.Store.OfferingsOf(ctx, me(ctx))
	for _, o := range offerings {
		out.Offerings = append(out.Offerings, offeringLine{o.Key, o.Name, o.Service, o.Draft, o.Current, time.UnixMilli(o.ChangedAt).UTC()})
	}
	return answer(out, err)
}

// openedOffering is an offering on the desk.
type openedOffering struct {
	Document  offering.Document        `json:"document"`
	Number    int                      `json:"number"`
	State     string                   `json:"state" enum:"draft,current"`
	Revision  int                      `json:"revision" doc:"To be sent back when saving"`
	Current   int                      `json:"current,omitempty" doc:"Number of the version people can ask for"`
	ChangedAt time.Time                `json:"changedAt"`
	ChangedBy string                   `json:"changedBy"`
	Findings  finding.List             `json:"findings" nullable:"false"`
	Sentences map[string]rule.Sentence `json:"sentences" doc:"By JSON Pointer: the rules that read as a sentence"`
}

func (s *Server) opened(o work.Opened, err error) (*body[openedOffering], error) {
	return answer(openedOffering{
		Document: o.Document, Number: o.Number, State: o.State, Revision: o.Revision, Current: o.Current,
		ChangedAt: o.ChangedAt, ChangedBy: s.Office.Company().Name(o.ChangedBy), Findings: o.Findings, Sentences: sentences(o.Document),
	}, err)
}

// sentences finds the rules that read as a sentence.
func sentences(d offering.Document) map[string]rule.Sentence {
	out := map[string]rule.Sentence{}
	add := func(source string, steps ...any) {
		if sentence, ok := rule.ParseSentence(source); ok {
			out[finding.At(steps...)] = sentence
		}
	}
	for i, q := range d.Questions {
		add(q.Show, "questions", i, "show")
		add(q.Require, "questions", i, "require")
		for j, c := range q.Check {
			add(c.Rule, "questions", i, "check", j, "rule")
		}
	}
	for i, r := range d.Ladder {
		add(r.When, "ladder", i, "when")
	}
	for i, t := range d.Plan {
		add(t.When, "plan", i, "when")
	}
	return out
}

func (s *Server) createOffering(ctx context.Context, in *struct {
	Body struct {
		Name    string `json:"name" minLength:"1" maxLength:"120"`
		Service string `json:"service" maxLength:"60" doc:"Key"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.Create(ctx, me(ctx), in.Body.Service, in.Body.Name))
}

func (s *Server) openOffering(ctx context.Context, in *OfferingInput) (*body[openedOffering], error) {
	return s.opened(s.Office.OpenDraft(ctx, me(ctx), in.Offering))
}

func (s *Server) saveOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Document offering.Document `json:"document"`
		Revision int               `json:"revision"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.SaveOffering(ctx, me(ctx), in.Offering, in.Body.Document, in.Body.Revision))
}

func (s *Server) publish(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Revision int `json:"revision"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.Publish(ctx, me(ctx), in.Offering, in.Body.Revision))
}

func (s *Server) tryOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		As      string       `json:"as" maxLength:"60" doc:"ID of the person to try it as"`
		Answers form.Answers `json:"answers" maxProperties:"500"`
	}
}) (*body[openedForm], error) {
	f, err := s.Office.Try(ctx, me(ctx), in.Offering, in.Body.As, in.Body.Answers)
	if err != nil {
		return nil, err
	}
	return answer(s.formBody(f), nil)
}

type ruleBody struct {
	Rule string `json:"rule" doc:"CEL"`
}

func (s *Server) writeRule(_ context.Context, in *struct{ Body rule.Sentence }) (*body[ruleBody], error) {
	source, err := in.Body.CEL()
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, sentence(err.Error()))
	}
	return answer(ruleBody{source}, nil)
}
