package web

import (
	"context"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/work"
)

// absenceView is a time in which somebody does not decide.
type absenceView struct {
	ID      string    `json:"id"`
	From    time.Time `json:"from"`
	Until   time.Time `json:"until"`
	StandIn string    `json:"standIn,omitempty" doc:"Name of who decides for them"`
	SetBy   string    `json:"setBy" doc:"Name"`
}

func (h deciding) absenceView(a work.Absence) absenceView {
	company := h.Office.Company()
	out := absenceView{ID: a.ID, From: a.From, Until: a.Until, SetBy: company.Name(a.SetBy)}
	if a.StandIn != "" {
		out.StandIn = company.Name(a.StandIn)
	}
	return out
}

type personInput struct {
	Person string `query:"person" maxLength:"60" doc:"ID; the reader when left out"`
}

// absencesBody is what is known of somebody's absences.
type absencesBody struct {
	Person  Named         `json:"person"`
	Entries []absenceView `json:"entries" nullable:"false"`
	Reports []Named       `json:"reports" nullable:"false" doc:"Those whose line manager the reader is, who may set their absence"`
	Anybody bool          `json:"anybody,omitempty" doc:"The reader may set that of anybody"`
}

func (h deciding) absences(ctx context.Context, in *personInput) (*body[absencesBody], error) {
	person := in.Person
	if person == "" {
		person = me(ctx)
	}
	all, err := h.Office.Deciding.Absences(ctx, me(ctx), person)
	if err != nil {
		return nil, err
	}
	company := h.Office.Company()
	out := absencesBody{Person: Named{ID: person, Name: company.Name(person)}, Entries: []absenceView{}, Reports: []Named{}}
	for _, a := range all {
		out.Entries = append(out.Entries, h.absenceView(a))
	}
	reader, _ := company.Person(me(ctx))
	out.Anybody = reader.Is(people.Administrator)
	for _, p := range company.Reports(me(ctx)) {
		if !p.Former && p.ID != me(ctx) {
			out.Reports = append(out.Reports, Named{Key: p.Login, Name: p.Name, ID: p.ID})
		}
	}
	return answer(out, nil)
}

func (h deciding) setAbsence(ctx context.Context, in *struct {
	Body struct {
		Person  string    `json:"person,omitempty" maxLength:"60" doc:"ID; the reader when left out"`
		From    time.Time `json:"from"`
		Until   time.Time `json:"until"`
		StandIn string    `json:"standIn,omitempty" maxLength:"60" doc:"ID of who decides for them"`
	}
}) (*body[absenceView], error) {
	kept, err := h.Office.Deciding.SetAbsence(ctx, me(ctx), people.Absence{Person: in.Body.Person, From: in.Body.From, Until: in.Body.Until, StandIn: in.Body.StandIn})
	if err != nil {
		return nil, err
	}
	return answer(h.absenceView(kept), nil)
}

func (h deciding) endAbsence(ctx context.Context, in *struct {
	Absence string `path:"absence" maxLength:"60"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Deciding.EndAbsence(ctx, me(ctx), in.Absence))
}

func (h deciding) findPeople(_ context.Context, in *struct {
	Words string `query:"words" maxLength:"100"`
}) (*body[listOf[PersonView]], error) {
	found := h.Office.Asking.LookUp(in.Words, mostPeople, func(people.Person) bool { return true })
	return answer(personViews(found), nil)
}
