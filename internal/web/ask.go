package web

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// catalogEntry is one line of the catalog.
type catalogEntry struct {
	Key      string   `json:"key"`
	Name     string   `json:"name"`
	Text     string   `json:"text"`
	Service  string   `json:"service" doc:"Name of the service"`
	Area     string   `json:"area"`
	Door     string   `json:"door" enum:"wanted,broken"`
	Picture  string   `json:"picture,omitempty"`
	Reason   string   `json:"reason,omitempty" doc:"Why it is picked"`
	Articles []string `json:"articles" nullable:"false" doc:"Titles of its help"`
	CatchAll bool     `json:"catchAll" doc:"It takes what nothing else is for"`
	Ask      bool     `json:"ask" doc:"The reader may ask for it, not only see it"`
}

func (s *Server) catalog(ctx context.Context, _ *none) (*body[listOf[catalogEntry]], error) {
	list, err := s.Office.Catalog(ctx, me(ctx))
	return answer(listOf[catalogEntry]{Entries: s.catalogEntries(list)}, err)
}

func (s *Server) picks(ctx context.Context, _ *none) (*body[listOf[catalogEntry]], error) {
	list, err := s.Office.Picks(ctx, me(ctx))
	return answer(listOf[catalogEntry]{Entries: s.catalogEntries(list)}, err)
}

func (s *Server) catalogEntries(listed []work.Listed) []catalogEntry {
	entries := make([]catalogEntry, len(listed))
	for i, l := range listed {
		entries[i] = s.catalogEntry(l)
	}
	return entries
}

func (s *Server) catalogEntry(l work.Listed) catalogEntry {
	service, _ := s.Office.Company().Service(l.Service)
	articles := make([]string, len(l.Articles))
	for i, a := range l.Articles {
		articles[i] = a.Title
	}
	return catalogEntry{l.Offering, l.Name, l.Text, service.Name, service.Area, string(l.Door), l.Picture, l.Reason, articles, l.CatchAll, l.Ask}
}

// OpenedForm is a form with what was typed and what it comes to.
type OpenedForm struct {
	FormHead
	SavedForm
	Notices []string `json:"notices" nullable:"false" doc:"What has changed since the request it is taken from"`
}

// FormHead is the part of a form that answers do not change.
type FormHead struct {
	Offering     string             `json:"offering"`
	Name         string             `json:"name"`
	Text         string             `json:"text"`
	Not          string             `json:"not,omitempty"`
	Door         string             `json:"door" enum:"wanted,broken"`
	Picture      string             `json:"picture,omitempty"`
	Instructions string             `json:"instructions,omitempty"`
	Articles     []offering.Article `json:"articles" nullable:"false"`
	Service      string             `json:"service" doc:"Name of the service"`
	Sections     []form.Section     `json:"sections" nullable:"false" doc:"Without their rules"`
	Questions    []form.Question    `json:"questions" nullable:"false" doc:"Without their rules"`
	Items        []price.Item       `json:"items" nullable:"false" doc:"Without their rules"`
	Extras       []price.Extra      `json:"extras" nullable:"false" doc:"Without their rules"`
	Currency     string             `json:"currency"`
	ForOthers    bool               `json:"forOthers" doc:"It can be asked for somebody else"`
	ForSelf      bool               `json:"forSelf" doc:"It can be asked for oneself"`
	Newcomers    bool               `json:"newcomers" doc:"It can be asked for somebody not yet in the directory"`
	Teams        []Named            `json:"teams" nullable:"false" doc:"When a question asks for one"`
	Places       []string           `json:"places" nullable:"false" doc:"When a question asks for one"`
	CostCentres  []Named            `json:"costCentres" nullable:"false" doc:"When a question asks for one"`
	FileKinds    []Named            `json:"fileKinds" nullable:"false" doc:"Names of the media types that files may have, when a question asks for one"`
}

// SavedForm is the part of a form that answers change.
type SavedForm struct {
	Version    int                  `json:"version" doc:"Of the offering, that it was worked out with"`
	Draft      string               `json:"draft,omitempty" doc:"ID of the request, once something is typed"`
	SavedAt    *time.Time           `json:"savedAt,omitempty"`
	Answers    form.Answers         `json:"answers" doc:"As they were typed"`
	For        offering.Beneficiary `json:"for"`
	ForName    string               `json:"forName"`
	Belongings []people.Belonging   `json:"belongings" nullable:"false" doc:"Of the beneficiary, when a question asks for one"`
	Persons    []Named              `json:"persons" nullable:"false" doc:"Those named in answers; keys are logins"`
	Returned   *question            `json:"returned,omitempty" doc:"The question, when it is the form of a returned request"`
	Result     evaluation           `json:"result"`
}

// evaluation is what a form comes to.
type evaluation struct {
	Questions []form.QuestionResult `json:"questions" nullable:"false"`
	Complete  bool                  `json:"complete"`
	Price     price.Price           `json:"price"`
	Decisions []foreseen            `json:"decisions" nullable:"false" doc:"Whose decisions it will need, in order"`
	Promised  *promisedView         `json:"promised,omitempty" doc:"The time promised, if any"`
	Forecast  *forecastView         `json:"forecast,omitempty" doc:"When it would likely be done, if it were sent now"`
	Tasks     int                   `json:"tasks" doc:"How many tasks the work has"`
	Confirms  bool                  `json:"confirms" doc:"The asker is asked to confirm; else it closes on delivery"`
	Slip      string                `json:"slip" doc:"To be sent back on sending: what the asker saw"`
	Trouble   string                `json:"trouble,omitempty" doc:"Why it cannot be asked for this person"`
}

// promisedView is a promised time in words.
type promisedView struct {
	Name       string     `json:"name"`
	Response   string     `json:"response,omitempty" doc:"Such as 4 working hours"`
	Fulfilment string     `json:"fulfilment,omitempty" doc:"Such as 5 working days; left out where it is to be ready by an instant"`
	Day        string     `json:"day,omitempty" doc:"The date of the answers before which it is to be ready; RFC 3339"`
	By         *time.Time `json:"by,omitempty" doc:"When the fulfilment would be due, if it were sent now"`
}

func promisedOf(p *promise.Promised, by time.Time) *promisedView {
	if p == nil {
		return nil
	}
	words := func(text string) string {
		if l, err := calendar.ParseLength(text); err == nil && text != "" {
			return l.Words()
		}
		return text
	}
	out := &promisedView{Name: p.Name, Response: words(p.Response), Fulfilment: words(p.Fulfilment), Day: p.Day}
	if !by.IsZero() {
		out.By = &by
	}
	return out
}

type foreseen struct {
	Name    string    `json:"name"`
	Why     string    `json:"why,omitempty" doc:"The rule that needs it, in words"`
	People  []decider `json:"people" nullable:"false"`
	Needs   string    `json:"needs,omitempty" doc:"How many of several must say yes, such as 2 of 3 yes votes"`
	Within  string    `json:"within,omitempty" doc:"Working time they have to decide, such as 2 working days"`
	Note    string    `json:"note,omitempty" doc:"What is to be known of how it is asked"`
	Trouble string    `json:"trouble,omitempty" doc:"Why nobody can be found"`
}

type decider struct {
	Name    string `json:"name"`
	Reason  string `json:"reason"`
	Part    string `json:"part,omitempty" doc:"Name of the cost centre whose share they decide on"`
	StandIn string `json:"standIn,omitempty" doc:"Name of who decides for them while they are absent"`
}

type OfferingInput struct {
	Offering string `path:"offering" maxLength:"60"`
}

func (s *Server) openForm(ctx context.Context, in *struct {
	OfferingInput
	Again   string `query:"again" maxLength:"60" doc:"ID of an earlier request to ask for the same again"`
	Request string `query:"request" maxLength:"60" doc:"ID of a request that was returned, to answer"`
	Given   string `query:"given" maxLength:"8000" doc:"JSON of answers that a link brings along; what is in a draft goes before them"`
}) (*body[OpenedForm], error) {
	var f work.Form
	var err error
	switch {
	case in.Request != "":
		f, err = s.Office.OpenReturned(ctx, me(ctx), in.Request)
	case in.Again != "":
		f, err = s.Office.AskAgain(ctx, me(ctx), in.Again)
	default:
		var given form.Answers
		if in.Given != "" && json.Unmarshal([]byte(in.Given), &given) != nil {
			return nil, newProblem(http.StatusUnprocessableEntity, "These answers cannot be read.")
		}
		f, err = s.Office.OpenForm(ctx, me(ctx), in.Offering, given)
	}
	if errors.Is(err, work.ErrNotFound) {
		return nil, s.gone(ctx, in.Offering)
	}
	if err != nil {
		return nil, err
	}
	return answer(s.formBody(f), nil)
}

// gone tells what takes the place of an offering that has ended.
func (s *Server) gone(ctx context.Context, key string) error {
	next, err := s.Office.Successor(ctx, me(ctx), key)
	if err != nil || next.Offering == key {
		return work.ErrNotFound
	}
	p := newProblem(http.StatusGone, "This is not offered any more.")
	p.Code = "ended"
	if next.Offering != "" {
		p.Successor = &Named{Key: next.Offering, Name: next.Name}
	}
	return p
}

type draftInput struct {
	OfferingInput
	Body struct {
		Answers form.Answers         `json:"answers" maxProperties:"500" doc:"Everything typed so far, complete or not"`
		For     offering.Beneficiary `json:"for,omitempty"`
	}
}

func (s *Server) saveDraft(ctx context.Context, in *draftInput) (*body[SavedForm], error) {
	f, err := s.Office.SaveDraft(ctx, me(ctx), in.Offering, in.Body.Answers, in.Body.For)
	if err != nil {
		return nil, err
	}
	return answer(s.saved(f), nil)
}

func (s *Server) formBody(f work.Form) OpenedForm {
	d := f.Offering.Document
	service, _ := s.Office.Company().Service(d.Purpose.Service)
	out := OpenedForm{FormHead: FormHead{
		Offering: d.Key, Name: d.Purpose.Name, Text: d.Purpose.Text, Not: d.Purpose.Not, Door: string(d.Purpose.Door),
		Picture: d.Purpose.Picture, Instructions: d.Purpose.Instructions, Articles: list(d.Purpose.Articles), Service: service.Name,
		Sections: []form.Section{}, Questions: asked(d.Questions), Items: []price.Item{}, Extras: []price.Extra{}, Currency: d.Items.Currency,
		ForOthers: f.ForOthers, ForSelf: !d.Audience.NotSelf, Newcomers: d.Audience.Newcomers, Teams: []Named{}, Places: []string{}, CostCentres: []Named{}, FileKinds: []Named{},
	}, SavedForm: s.saved(f), Notices: list(f.Notices)}
	if out.Door == "" {
		out.Door = string(offering.Wanted)
	}
	for _, section := range d.Sections {
		section.Show = ""
		out.Sections = append(out.Sections, section)
	}
	for _, item := range d.Items.List {
		out.Items = append(out.Items, offeredItem(item))
	}
	for _, extra := range d.Items.Extras {
		extra.When = ""
		out.Extras = append(out.Extras, extra)
	}
	if asks(d.Questions, form.Team) {
		for _, team := range s.Office.Company().Teams() {
			out.Teams = append(out.Teams, Named{Key: team.Key, Name: team.Name})
		}
	}
	if asks(d.Questions, form.Centre) {
		out.CostCentres = s.centres()
	}
	out.FileKinds = fileKinds(out.FileKinds, d.Questions)
	if asks(d.Questions, form.Location) {
		out.Places = list(s.Office.Company().Locations())
	}
	return out
}

// fileKinds adds the names of the media types that questions and columns take.
func fileKinds(kinds []Named, questions []form.Question) []Named {
	for _, q := range questions {
		kinds = fileKinds(kinds, q.Columns)
		if q.Kind != form.File {
			continue
		}
		for _, media := range q.Types() {
			kind := Named{Key: media, Name: work.MediaName(media)}
			if !slices.Contains(kinds, kind) {
				kinds = append(kinds, kind)
			}
		}
	}
	return kinds
}

// offeredItem is an item without its rules, which are the owner's.
func offeredItem(item price.Item) price.Item {
	item.When = ""
	if item.Count != "" {
		item.Count = "counted" // not by the asker; how is the owner's
	}
	groups := make([]price.OptionGroup, len(item.Options))
	for i, g := range item.Options {
		choices := make([]price.Option, len(g.Choices))
		for j, o := range g.Choices {
			o.When = ""
			choices[j] = o
		}
		g.Choices = choices
		groups[i] = g
	}
	item.Options = groups
	return item
}

// asks reports whether any question, or any column, is of a kind.
func asks(questions []form.Question, kind form.Kind) bool {
	for _, q := range questions {
		if q.Kind == kind || asks(q.Columns, kind) {
			return true
		}
	}
	return false
}

func (s *Server) saved(f work.Form) SavedForm {
	d := f.Offering.Document
	parties := offering.Parties{Beneficiary: f.For, Company: s.Office.Company()}
	out := SavedForm{
		Version: f.Offering.Version, Draft: f.Draft, Answers: f.Answers, For: f.For, ForName: parties.Name(), Belongings: []people.Belonging{}, Persons: []Named{},
		Result: evaluation{
			Questions: forAsker(f.Offering, f.Evaluated.Questions), Complete: f.Evaluated.Complete, Price: f.Evaluated.Price, Decisions: []foreseen{},
			Promised: promisedOf(f.Evaluated.Promised, f.Evaluated.Forecast.Due), Forecast: forecastOf(f.Evaluated.Forecast),
			Tasks: needed(f.Evaluated.Forecast), Confirms: f.Offering.Promise.Confirms(), Slip: f.Evaluated.Slip, Trouble: f.Evaluated.Trouble,
		},
	}
	if f.Returned != nil {
		out.Returned = s.question(*f.Returned)
	}
	for i := range out.Result.Questions {
		q := &out.Result.Questions[i]
		if !q.Narrowed {
			q.Choices = nil // all of them, which the form has already
		}
	}
	if !f.SavedAt.IsZero() {
		out.SavedAt = &f.SavedAt
	}
	if asks(d.Questions, form.Belonging) {
		out.Belongings = list(f.Belongings)
	}
	if asks(d.Questions, form.Person) {
		out.Persons = s.persons(f)
	}
	for _, rung := range f.Evaluated.Decisions {
		entry := foreseen{
			Name: rung.Rung.Name, Why: rung.Why, People: []decider{}, Trouble: rung.Trouble, Needs: ladder.NeedsWords(rung.Rung.Quorum, rung.Seats),
			Within: rung.Rung.LimitWords(), Note: ladder.Reduced(rung.Rung.Quorum, rung.Seats),
		}
		if rung.Trouble != "" {
			entry.Note = ""
		}
		for _, seat := range rung.Seats {
			one := decider{Name: s.Office.Company().Name(seat.Person), Reason: seat.Reason, Part: s.Office.Company().CentreName(seat.Part)}
			if asked := seat.Asked(); seat.Absent && len(asked) > 0 {
				one.StandIn = s.Office.Company().Name(asked[0])
			}
			entry.People = append(entry.People, one)
		}
		out.Result.Decisions = append(out.Result.Decisions, entry)
	}
	return out
}

// needed counts the tasks that a forecast counts.
func needed(f request.Forecast) int {
	n := 0
	for _, step := range f.Steps {
		if step.Rung == "" && step.Needed {
			n++
		}
	}
	return n
}

// persons names the people that answers name.
func (s *Server) persons(f work.Form) []Named {
	out := []Named{}
	seen := map[string]bool{}
	var add func(questions []form.Question, values form.Answers)
	add = func(questions []form.Question, values form.Answers) {
		for _, q := range questions {
			for _, row := range values.Rows(q.Key) {
				add(q.Columns, row)
			}
			if q.Kind != form.Person {
				continue
			}
			for _, login := range values.Texts(q.Key) {
				if p, ok := s.Office.Company().ByLogin(login); ok && !seen[login] {
					seen[login] = true
					out = append(out, Named{Key: login, Name: p.Name, ID: p.ID})
				}
			}
		}
	}
	add(f.Offering.Document.Questions, f.Answers)
	add(f.Offering.Document.Questions, f.Evaluated.Kept())
	return out
}

// asked lists the questions without their rules, which are the owner's.
func asked(questions []form.Question) []form.Question {
	out := []form.Question{}
	for _, q := range questions {
		if q.Readers == form.ForStaff {
			continue
		}
		q.Show, q.Require, q.Lock, q.Preset, q.Offer, q.Compute, q.Present, q.Check = "", "", "", "", "", "", "", nil
		q.Columns = asked(q.Columns)
		if q.Kind == form.File {
			q.FileTypes, q.MaxSize = q.Types(), int(q.SizeLimit()/1000)
		}
		out = append(out, q)
	}
	return out
}

// forAsker leaves out what evaluation says of questions for staff.
func forAsker(c *offering.Compiled, results []form.QuestionResult) []form.QuestionResult {
	out := []form.QuestionResult{}
	for _, r := range results {
		if q, _ := c.Form.Question(r.Key); q.Readers != form.ForStaff {
			out = append(out, r)
		}
	}
	return out
}

// PersonView is somebody who can be chosen.
type PersonView struct {
	Login      string `json:"login"`
	ID         string `json:"id"`
	Name       string `json:"name"`
	Title      string `json:"title"`
	Department string `json:"department"`
}

func personView(p people.Person) PersonView {
	return PersonView{p.Login, p.ID, p.Name, p.Title, p.Department}
}

// mostPeople is how many people a lookup gives.
const mostPeople = 20

func (s *Server) lookUp(ctx context.Context, in *struct {
	OfferingInput
	Question string `query:"question" maxLength:"60" doc:"Key of a person question; empty: for whom it is"`
	Words    string `query:"words" maxLength:"100"`
}) (*body[listOf[PersonView]], error) {
	f, err := s.Office.OpenForm(ctx, me(ctx), in.Offering, nil)
	if err != nil {
		return nil, err
	}
	asker, _ := s.Office.Company().Person(me(ctx))
	fits := func(p people.Person) bool {
		whom := offering.Parties{Asker: asker, Beneficiary: offering.Beneficiary{Person: p.ID}, Company: s.Office.Company()}
		ok, _ := f.Offering.MayAsk(whom)
		return ok
	}
	if in.Question != "" {
		if q, ok := f.Offering.Form.Question(strings.Split(in.Question, ".")[0]); !ok || (q.Kind != form.Person && q.Kind != form.Table) {
			return nil, work.ErrNotFound
		}
		fits = func(p people.Person) bool {
			choice := rule.OfPerson(p, s.Office.Company().Managers(p.ID))
			return strings.Contains(in.Question, ".") || f.Offering.Form.Offers(in.Question, f.Evaluated.Values, choice)
		}
	}
	found := s.Office.LookUp(in.Words, mostPeople, fits)
	return answer(personViews(found), nil)
}

func personViews(found []people.Person) listOf[PersonView] {
	out := listOf[PersonView]{Entries: make([]PersonView, len(found))}
	for i, p := range found {
		out.Entries[i] = personView(p)
	}
	return out
}

type RequestInput struct {
	Request string `path:"request" maxLength:"60" doc:"ID"`
}

type submitInput struct {
	RequestInput
	Body struct {
		Answers form.Answers         `json:"answers" maxProperties:"500"`
		For     offering.Beneficiary `json:"for,omitempty"`
		Slip    string               `json:"slip" maxLength:"60" doc:"As the form last had it"`
		Words   string               `json:"words,omitempty" maxLength:"200" doc:"That the offering was found by: the search learns from them"`
	}
}

func (s *Server) submit(ctx context.Context, in *submitInput) (*body[requestSheet], error) {
	state, err := s.Office.Submit(ctx, me(ctx), in.Request, request.Submit{Answers: in.Body.Answers, For: in.Body.For, Slip: in.Body.Slip})
	if err != nil {
		return nil, err
	}
	s.Office.SentAfter(ctx, state, in.Body.Words)
	return s.done(ctx, state, nil)
}

func (s *Server) discard(ctx context.Context, in *RequestInput) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.Discard{})
	return answer(none{}, err)
}
