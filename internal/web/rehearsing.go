package web

import (
	"context"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// triedForm is what the form of a draft would be like for the asker.
type triedForm struct {
	OpenedForm
	As    PersonView `json:"as" doc:"As whom it was tried"`
	Chart *chartView `json:"chart,omitempty" doc:"The plan as it would go, if it can be computed"`

	Findings finding.List `json:"findings" nullable:"false" doc:"Of what is tried, beside those of the offering"`
}

// scriptBody is a script that is sent.
type scriptBody struct {
	Script script.Script `json:"script"`
}

func (h rehearsing) tryOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Asker   string       `json:"asker,omitempty" maxLength:"60" doc:"Login; somebody who may ask for it when left out"`
		For     *script.Who  `json:"for,omitempty"`
		Send    time.Time    `json:"send,omitzero" required:"false" doc:"Now when left out"`
		Answers form.Answers `json:"answers" maxProperties:"500"`
	}
}) (*body[triedForm], error) {
	b := in.Body
	t, err := h.Office.Rehearsing.Try(ctx, me(ctx), in.Offering, script.Script{Asker: script.Who{Login: b.Asker}, For: b.For, Send: b.Send, Answers: b.Answers})
	if err != nil {
		return nil, err
	}
	out := triedForm{OpenedForm: h.formBody(t.Form), As: personView(t.As), Findings: t.Findings}
	out.Chart = chartOf(h.Office.Company(), t.Evaluated.Forecast, t.Offering.Promise.Calendar(), t.At)
	return answer(out, nil)
}

// rehearsedBody is what happened in a rehearsal, and when, for drawing it.
type rehearsedBody struct {
	Result rehearse.Rehearsed `json:"result"`
	Frames []rehearse.Frame   `json:"frames" nullable:"false" doc:"The instants at which something happened"`
}

func (h rehearsing) rehearse(ctx context.Context, in *struct {
	OfferingInput
	Body scriptBody
}) (*body[rehearsedBody], error) {
	life, err := h.Office.Rehearsing.Rehearse(ctx, me(ctx), in.Offering, in.Body.Script)
	if err != nil {
		return nil, err
	}
	return answer(rehearsedBody{life.Result(), life.Frames()}, nil)
}

// momentView is a rehearsal at an instant: how it stands, and what each would see.
type momentView struct {
	At        time.Time            `json:"at"`
	Reference string               `json:"reference"`
	Title     string               `json:"title"`
	Status    request.Status       `json:"status"`
	Outcome   request.Outcome      `json:"outcome,omitempty"`
	Stages    []stage              `json:"stages" nullable:"false"`
	Holders   []holder             `json:"holders" nullable:"false"`
	Promise   *request.PromiseLine `json:"promise,omitempty"`
	Forecast  *forecastView        `json:"forecast,omitempty"`
	Chart     *chartView           `json:"chart,omitempty"`
	Rungs     []rungView           `json:"rungs" nullable:"false"`
	Answers   []answered           `json:"answers" nullable:"false"`
	History   []request.Entry      `json:"history" nullable:"false" doc:"As the asker reads it"`
	Question  string               `json:"question,omitempty" doc:"What the asker is asked now"`
	Decision  *momentDecision      `json:"decision,omitempty" doc:"What is to be decided now, as who decides sees it"`
	Tasks     []momentTask         `json:"tasks" nullable:"false" doc:"What is to be done now, as its team sees it"`
}

// momentDecision is an open decision as who decides sees it.
type momentDecision struct {
	Rung    string     `json:"rung" doc:"Key"`
	Name    string     `json:"name"`
	Say     string     `json:"say,omitempty"`
	Price   string     `json:"price,omitempty" doc:"In words"`
	Answers []answered `json:"answers" nullable:"false"`
	Waiting []Named    `json:"waiting" nullable:"false" doc:"With whom it lies, by login"`
	Until   *time.Time `json:"until,omitempty"`
}

// momentTask is an open task as its team sees it.
type momentTask struct {
	Key          string        `json:"key"`
	Name         string        `json:"name"`
	Kind         plan.Kind     `json:"kind"`
	Team         string        `json:"team" doc:"Name"`
	State        plan.State    `json:"state"`
	Holder       *Named        `json:"holder,omitempty" doc:"By login"`
	Members      []Named       `json:"members" nullable:"false" doc:"Who could take it, by login"`
	Instructions string        `json:"instructions,omitempty"`
	MustDos      []string      `json:"mustDos" nullable:"false"`
	Answers      []answered    `json:"answers" nullable:"false" doc:"Its slice"`
	Due          *time.Time    `json:"due,omitempty"`
	LatestStart  *time.Time    `json:"latestStart,omitempty"`
	Trouble      string        `json:"trouble,omitempty"`
	Question     string        `json:"question,omitempty" doc:"What the asker was asked about it"`
	Outputs      []plan.Output `json:"outputs" nullable:"false" doc:"What comes out of it"`
}

// mostMembers is how many of a team are named.
const mostMembers = 20

func (h rehearsing) moment(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Script script.Script `json:"script"`
		At     time.Time     `json:"at"`
		Events int           `json:"events" minimum:"0" maximum:"20000" doc:"How many of its events have happened by then"`
	}
}) (*body[momentView], error) {
	life, err := h.Office.Rehearsing.Rehearse(ctx, me(ctx), in.Offering, in.Body.Script)
	if err != nil {
		return nil, err
	}
	m := life.Moment(in.Body.Events, in.Body.At)
	s, c, company := &m.State, life.Offering, life.Company
	out := momentView{
		At: m.At, Reference: s.Reference, Title: s.Title, Status: s.Status, Outcome: s.Outcome, Stages: stages(m.State), Holders: []holder{}, Rungs: []rungView{}, Answers: []answered{},
		History: []request.Entry{}, Tasks: []momentTask{},
	}
	if s.Reference == "" {
		return answer(out, nil)
	}
	for _, by := range s.Holders(life.Service.Home) {
		what, until := s.HasToDo(by)
		out.Holders = append(out.Holders, holder{Name: by.Name(company, h.connectorName), What: what, Until: reached(until)})
	}
	var ahead *request.Forecast
	if s.Status.Promising() {
		ahead, out.Forecast = &m.Forecast, forecastOf(m.Forecast.Outlook())
	}
	out.Promise, out.Chart = s.PromiseLine(c, ahead, m.At), chartOf(company, m.Forecast, c.Promise.Calendar(), m.At)
	for _, r := range s.Rungs {
		out.Rungs = append(out.Rungs, rungOf(company, r))
	}
	viewer := s.ViewerOf(s.Asker, company, life.Service)
	out.Answers, out.History = s.InWords(c, company, viewer.Whole()), request.History(m.Events, company, viewer)
	if s.Question != nil {
		out.Question = s.Question.Text
	}
	out.Decision = decisionAt(life, s)
	for i := range s.Tasks {
		if t := &s.Tasks[i]; t.ForPeople() || len(t.Confirmers) > 0 && t.State == plan.Ready || t.Kind == plan.Automatic && t.State == plan.Ready {
			out.Tasks = append(out.Tasks, taskAt(life, m, t))
		}
	}
	return answer(out, nil)
}

func decisionAt(life *rehearse.Life, s *request.State) *momentDecision {
	r, open := s.OpenRung()
	if !open {
		return nil
	}
	out := &momentDecision{Rung: r.Key, Name: r.Name, Say: r.Say, Answers: s.InWords(life.Offering, life.Company, r.Sight()), Waiting: []Named{}, Until: reached(r.DueAt())}
	if !r.NoPrice && s.Price.FirstYear.Minor() > 0 {
		out.Price = s.Price.FirstYear.String() + " in the first year"
	}
	for _, id := range r.Waiting() {
		out.Waiting = append(out.Waiting, byLogin(life.Company, id))
	}
	return out
}

func taskAt(life *rehearse.Life, m rehearse.Moment, t *request.Task) momentTask {
	company := life.Company
	out := momentTask{
		Key: t.Key, Name: t.Name, Kind: t.Kind, Team: company.TeamName(t.Team), State: t.State, Members: []Named{}, Instructions: t.Instructions, MustDos: []string{},
		Answers: m.State.InWords(life.Offering, company, t.Sight()), Due: reached(t.Due), Trouble: t.Trouble, Outputs: []plan.Output{},
	}
	if slot, _, there := m.Forecast.Step(t.Key); there {
		out.LatestStart = reached(slot.LatestStart)
	}
	if t.Holder != "" {
		holder := byLogin(company, t.Holder)
		out.Holder = &holder
	}
	members := company.Members(t.Team)
	if len(t.Confirmers) > 0 {
		members = t.Confirmers
	}
	for i, id := range members {
		if i < mostMembers {
			out.Members = append(out.Members, byLogin(company, id))
		}
	}
	for _, point := range t.MustDos {
		out.MustDos = append(out.MustDos, point.Text)
	}
	if t.Question != nil {
		out.Question = t.Question.Text
	}
	if t.Of != "" {
		out.Outputs = list(life.Offering.Plan.Outputs(t.Of))
	}
	if t.Undo != nil {
		out.State, out.Instructions, out.Trouble = t.Undo.State, t.Undo.Text, t.Undo.Trouble
	}
	return out
}

// byLogin names somebody, by login.
func byLogin(company *people.Directory, id string) Named {
	p, _ := company.Person(id)
	return Named{Key: p.Login, Name: p.Name}
}
