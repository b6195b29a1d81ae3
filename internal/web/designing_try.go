package web

import (
	"context"
	"maps"
	"net/http"
	"slices"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/lines"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// triedForm is what a draft would be like, for the asker and for those who
// decide and work.
type triedForm struct {
	OpenedForm
	As    PersonView  `json:"as" doc:"As whom it was tried"`
	Title string      `json:"title" doc:"Of the request"`
	Rungs []triedRung `json:"rungs" nullable:"false" doc:"What approvers would see"`
	Work  []triedTask `json:"work" nullable:"false" doc:"What the teams would see"`
	Chart *chartView  `json:"chart,omitempty" doc:"The plan as it would go, if it can be computed"`

	Findings finding.List `json:"findings" nullable:"false" doc:"Of what is tried, beside those of the offering"`
}

type triedRung struct {
	Name    string     `json:"name"`
	Say     string     `json:"say,omitempty"`
	Answers []answered `json:"answers" nullable:"false"`
}

type triedTask struct {
	Key          string     `json:"key"`
	Name         string     `json:"name"`
	Team         string     `json:"team"`
	Wanted       bool       `json:"wanted" doc:"Not skipped by its rule"`
	Automatic    bool       `json:"automatic"`
	Instructions string     `json:"instructions,omitempty"`
	Answers      []answered `json:"answers" nullable:"false" doc:"Its slice"`
}

func (h designing) tryOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		As      string               `json:"as" maxLength:"60" doc:"ID of the person to try it as; empty: somebody who may ask for it"`
		For     offering.Beneficiary `json:"for,omitempty"`
		At      *time.Time           `json:"at,omitempty" doc:"Now when left out"`
		Answers form.Answers         `json:"answers" maxProperties:"500"`
	}
}) (*body[triedForm], error) {
	trial := work.Trial{As: in.Body.As, For: in.Body.For, Answers: in.Body.Answers}
	if in.Body.At != nil {
		trial.At = *in.Body.At
	}
	t, err := h.Office.Designing.Try(ctx, me(ctx), in.Offering, trial)
	if err != nil {
		return nil, err
	}
	out := triedForm{OpenedForm: h.formBody(t.Form), As: personView(t.As), Title: t.Title, Rungs: []triedRung{}, Work: []triedTask{}, Findings: t.Findings}
	out.Chart = h.chart(t.Evaluated.Forecast, t.Offering.Promise.Calendar(), t.At)
	open, private := t.Offering.Form.Apart(t.Evaluated.Kept())
	state := request.State{Answers: open, Private: slices.Sorted(maps.Keys(private)), Present: t.Evaluated.Presents(), Named: t.Belongings}
	for _, r := range t.Rungs {
		rung := request.Rung{Facts: r.Facts}
		out.Rungs = append(out.Rungs, triedRung{r.Name, r.Say, h.inWords(t.Offering, state, rung.Sight())})
	}
	for _, task := range t.Tasks {
		out.Work = append(out.Work, triedTask{
			Key: task.Key, Name: task.Name, Team: h.Office.Company().TeamName(task.Team), Wanted: task.Wanted, Automatic: task.Kind == plan.Automatic,
			Instructions: task.Instructions, Answers: h.inWords(t.Offering, state, (&request.Task{Slice: task.Slice}).Sight()),
		})
	}
	return answer(out, nil)
}

// SurveyInput says which people of a survey are listed.
type SurveyInput struct {
	Words string `query:"words" maxLength:"100" doc:"Of names, departments and places; those who are in and out"`
	Out   bool   `query:"out" doc:"Those who are out, not those who are in"`
}

// surveyShown is how many people of a survey are listed.
const surveyShown = 30

func (in SurveyInput) wanted() audience.Wanted {
	return audience.Wanted{Words: in.Words, Out: in.Out, Most: surveyShown}
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
		return nil, newProblem(http.StatusUnprocessableEntity, sentence(err.Error()))
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
