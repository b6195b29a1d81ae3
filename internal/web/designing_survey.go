package web

import (
	"context"
	"net/http"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/lines"
	"heptad/internal/core/offering"
	"heptad/internal/core/rule"
)

// SurveyInput says which people of a survey are listed.
type SurveyInput struct {
	Words string `query:"words" maxLength:"100" doc:"Of names, departments and places; those who are in and out"`
	Out   bool   `query:"out" doc:"Those who are out, not those who are in"`
	After int    `query:"after" minimum:"0" maximum:"1000000" doc:"How many of them were listed before"`
}

// surveyShown is how many people of a survey are listed.
const surveyShown = 30

func (in SurveyInput) wanted() audience.Wanted {
	return audience.Wanted{Words: in.Words, Out: in.Out, From: in.After, Most: surveyShown}
}

type surveyBody struct {
	In      int       `json:"in" doc:"How many of the company are in"`
	Of      int       `json:"of"`
	More    int       `json:"more" doc:"How many fit beyond those listed"`
	Entries []verdict `json:"entries" nullable:"false"`
}

func (h *handlers) surveyed(s audience.Surveyed) surveyBody {
	out := surveyBody{s.In, s.Of, s.More, make([]verdict, len(s.Verdicts))}
	for i, v := range s.Verdicts {
		p, _ := h.Office.Company().Person(v.Person)
		out.Entries[i] = verdict{v.Person, p.Name, p.Department + ", " + p.Location, v.In, v.Reason}
	}
	return out
}

// verdict says whether one person is in an audience.
type verdict struct {
	Person string `json:"person" doc:"ID"`
	Name   string `json:"name"`
	Where  string `json:"where" doc:"Department and place"`
	In     bool   `json:"in"`
	Reason string `json:"reason"`
}

func (h designing) survey(ctx context.Context, in *struct {
	OfferingInput
	Which string `query:"which" enum:"see,ask,for"`
	Asker string `query:"asker" maxLength:"60" doc:"ID of who asks, for 'for'"`
	SurveyInput
}) (*body[surveyBody], error) {
	s, err := h.Office.Designing.Survey(ctx, me(ctx), in.Offering, in.Which, in.Asker, in.wanted())
	return answer(h.surveyed(s), err)
}

func (h designing) sharedQuestions(ctx context.Context, _ *none) (*body[listOf[form.Question]], error) {
	all, err := h.Office.Designing.SharedQuestions(ctx, me(ctx))
	out := listOf[form.Question]{Entries: make([]form.Question, len(all))}
	for i, q := range all {
		out.Entries[i] = q.Question
	}
	return answer(out, err)
}

func (h designing) shareQuestion(ctx context.Context, in *struct{ Body form.Question }) (*body[none], error) {
	return answer(none{}, h.Office.Designing.ShareQuestion(ctx, me(ctx), in.Body))
}

type ruleBody struct {
	Rule string `json:"rule" doc:"CEL"`
}

func (h designing) writeRule(_ context.Context, in *struct{ Body rule.Sentence }) (*body[ruleBody], error) {
	source, err := in.Body.CEL()
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, finding.Sentence(err.Error()))
	}
	return answer(ruleBody{source}, nil)
}

func (h designing) checkRule(_ context.Context, in *struct {
	Body struct {
		Document offering.Document `json:"document"`
		Place    string            `json:"place" maxLength:"200" doc:"JSON Pointer of the rule, or of the text with placeholders"`
		Source   string            `json:"source" maxLength:"8000"`
	}
}) (*body[offering.RuleCheck], error) {
	return answer(offering.CheckRule(in.Body.Document, in.Body.Place, in.Body.Source, h.Office.Connectors()), nil)
}

func (h designing) readLines(_ context.Context, in *struct {
	Body struct {
		Document offering.Document `json:"document" doc:"The lines are added to it"`
		Side     lines.Side        `json:"side" enum:"questions,items,ladder,plan"`
		Text     string            `json:"text" maxLength:"20000"`
	}
}) (*body[listOf[lines.Line]], error) {
	around := lines.Around{Document: in.Body.Document, Company: h.Office.Company(), Connectors: h.Office.Connectors(), Period: h.Office.Organisation().Period, Unit: h.Office.Organisation().Unit}
	return answer(listOf[lines.Line]{Entries: lines.Read(in.Body.Side, in.Body.Text, around)}, nil)
}
