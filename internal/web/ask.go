package web

import (
	"context"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// catalogEntry is one line of the catalog.
type catalogEntry struct {
	Key     string `json:"key"`
	Name    string `json:"name"`
	Text    string `json:"text"`
	Service string `json:"service" doc:"Name of the service"`
	Area    string `json:"area"`
}

type findInput struct {
	Words string `query:"words" maxLength:"200" doc:"Parts of words; everything when empty"`
}

func (s *Server) findOfferings(ctx context.Context, in *findInput) (*body[listOf[catalogEntry]], error) {
	list, err := s.Office.Catalog(ctx, me(ctx), in.Words)
	entries := make([]catalogEntry, len(list))
	for i, c := range list {
		p := c.Document.Purpose
		service, _ := s.Office.Company().Service(p.Service)
		entries[i] = catalogEntry{c.Document.Key, p.Name, p.Text, service.Name, service.Area}
	}
	return answer(listOf[catalogEntry]{Entries: entries}, err)
}

// openedForm is a form with what was typed and what it comes to.
type openedForm struct {
	Offering  string          `json:"offering"`
	Version   int             `json:"version"`
	Name      string          `json:"name"`
	Text      string          `json:"text"`
	Service   string          `json:"service" doc:"Name of the service"`
	Questions []form.Question `json:"questions" nullable:"false" doc:"Without their rules"`
	Items     []price.Item    `json:"items" nullable:"false"`
	Currency  string          `json:"currency"`
	Draft     string          `json:"draft,omitempty" doc:"ID of the request, once something is typed"`
	SavedAt   *time.Time      `json:"savedAt,omitempty"`
	Answers   form.Answers    `json:"answers" doc:"As they were typed"`
	Result    evaluation      `json:"result"`
}

// evaluation is what a form comes to.
type evaluation struct {
	Questions []form.QuestionResult `json:"questions" nullable:"false"`
	Complete  bool                  `json:"complete"`
	Price     price.Price           `json:"price"`
	Decisions []foreseen            `json:"decisions" nullable:"false" doc:"Whose decisions it will need, in order"`
	Tasks     int                   `json:"tasks" doc:"How many tasks the work has"`
}

type foreseen struct {
	Name    string    `json:"name"`
	People  []decider `json:"people" nullable:"false"`
	Trouble string    `json:"trouble,omitempty" doc:"Why nobody can be found"`
}

type decider struct {
	Name   string `json:"name"`
	Reason string `json:"reason"`
}

type OfferingInput struct {
	Offering string `path:"offering" maxLength:"60"`
}

func (s *Server) openForm(ctx context.Context, in *OfferingInput) (*body[openedForm], error) {
	f, err := s.Office.OpenForm(ctx, me(ctx), in.Offering)
	if err != nil {
		return nil, err
	}
	return answer(s.formBody(f), nil)
}

type draftInput struct {
	OfferingInput
	Body struct {
		Answers form.Answers `json:"answers" maxProperties:"500" doc:"Everything typed so far, complete or not"`
	}
}

func (s *Server) saveDraft(ctx context.Context, in *draftInput) (*body[openedForm], error) {
	f, err := s.Office.SaveDraft(ctx, me(ctx), in.Offering, in.Body.Answers)
	if err != nil {
		return nil, err
	}
	return answer(s.formBody(f), nil)
}

func (s *Server) formBody(f work.Form) openedForm {
	d := f.Offering.Document
	service, _ := s.Office.Company().Service(d.Purpose.Service)
	out := openedForm{
		Offering: d.Key, Version: f.Offering.Version, Name: d.Purpose.Name, Text: d.Purpose.Text, Service: service.Name,
		Questions: asked(d), Items: d.Items.List, Currency: d.Items.Currency, Draft: f.Draft, Answers: f.Answers,
		Result: evaluation{
			Questions: f.Evaluated.Questions, Complete: f.Evaluated.Complete, Price: f.Evaluated.Price,
			Decisions: []foreseen{}, Tasks: len(d.Plan),
		},
	}
	if !f.SavedAt.IsZero() {
		out.SavedAt = &f.SavedAt
	}
	for _, rung := range f.Evaluated.Decisions {
		entry := foreseen{Name: rung.Name, People: []decider{}, Trouble: rung.Trouble}
		for _, seat := range rung.Seats {
			entry.People = append(entry.People, decider{s.Office.Company().Name(seat.Person), seat.Reason})
		}
		out.Result.Decisions = append(out.Result.Decisions, entry)
	}
	return out
}

// asked lists the questions without their rules, which are the owner's.
func asked(d offering.Document) []form.Question {
	questions := make([]form.Question, len(d.Questions))
	for i, q := range d.Questions {
		q.Show, q.Require, q.Check = "", "", nil
		questions[i] = q
	}
	return questions
}

type RequestInput struct {
	Request string `path:"request" maxLength:"60" doc:"ID"`
}

type submitInput struct {
	RequestInput
	Body struct {
		Answers form.Answers `json:"answers" maxProperties:"500"`
		Version int          `json:"version" doc:"Of the offering, as the form had it"`
	}
}

func (s *Server) submit(ctx context.Context, in *submitInput) (*body[requestSheet], error) {
	state, err := s.Office.Submit(ctx, me(ctx), in.Request, request.Submit{Answers: in.Body.Answers, Version: in.Body.Version})
	if err != nil {
		return nil, err
	}
	return s.sheet(ctx, state)
}

func (s *Server) discard(ctx context.Context, in *RequestInput) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.Discard{})
	return answer(none{}, err)
}
