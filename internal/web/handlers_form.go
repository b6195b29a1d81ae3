package web

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

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
	Door         offering.Door      `json:"door"`
	Picture      string             `json:"picture,omitempty"`
	Instructions string             `json:"instructions,omitempty" doc:"HTML that is safe to show"`
	Articles     []offering.Article `json:"articles" nullable:"false" doc:"Their texts as HTML that is safe to show"`
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

func (h handlers) formBody(f work.Form) OpenedForm {
	d := f.Offering.Document
	service, _ := h.Office.Company().Service(d.Purpose.Service)
	out := OpenedForm{FormHead: FormHead{
		Offering: d.Key, Name: d.Purpose.Name, Text: d.Purpose.Text, Not: d.Purpose.Not, Door: d.Purpose.Door,
		Picture: d.Purpose.Picture, Instructions: rich(d.Purpose.Instructions), Articles: []offering.Article{}, Service: service.Name,
		Sections: []form.Section{}, Questions: askedOnPage(d.Questions), Items: []price.Item{}, Extras: []price.Extra{}, Currency: d.Items.Currency,
		ForOthers: f.ForOthers, ForSelf: !d.Audience.NotSelf, Newcomers: d.Audience.Newcomers, Teams: []Named{}, Places: []string{}, FileKinds: []Named{},
	}, SavedForm: h.saved(f), Notices: list(f.Notices)}
	for _, a := range d.Purpose.Articles {
		out.Articles = append(out.Articles, offering.Article{Title: a.Title, Text: rich(a.Text)})
	}
	if out.Door == "" {
		out.Door = offering.Wanted
	}
	for _, section := range d.Sections {
		section.Show = ""
		out.Sections = append(out.Sections, section)
	}
	for _, item := range d.Items.List {
		out.Items = append(out.Items, offeredItem(item))
	}
	for _, extra := range d.Items.Extras {
		extra.When, extra.Max = "", extra.Most()
		out.Extras = append(out.Extras, extra)
	}
	if asks(d.Questions, form.Team) {
		for _, team := range h.Office.Company().Teams() {
			out.Teams = append(out.Teams, Named{Key: team.Key, Name: team.Name})
		}
	}
	out.FileKinds = fileKinds(out.FileKinds, d.Questions)
	if asks(d.Questions, form.Location) {
		out.Places = list(h.Office.Company().Locations())
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
	item.Min, item.Max = item.Bounds()
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

func (h handlers) saved(f work.Form) SavedForm {
	d := f.Offering.Document
	parties := offering.Parties{Beneficiary: f.For, Company: h.Office.Company()}
	out := SavedForm{
		Version: f.Offering.Version, Draft: f.Draft, Answers: f.Answers, For: f.For, ForName: parties.Name(), Belongings: []people.Belonging{}, Persons: []Named{},
		Result: evaluation{
			Questions: forAsker(f.Offering, f.Evaluated.Questions), Complete: f.Evaluated.Complete, Price: f.Evaluated.Price, Decisions: []foreseen{},
			Promised: promisedOf(f.Evaluated.Promised, f.Evaluated.Forecast.Due), Forecast: forecastOf(f.Evaluated.Forecast.Outlook()),
			Tasks: needed(f.Evaluated.Forecast), Confirms: f.Offering.Promise.Confirms(), Slip: f.Evaluated.Slip, Trouble: f.Evaluated.Trouble,
		},
	}
	if f.Returned != nil {
		out.Returned = h.question(*f.Returned)
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
		out.Persons = h.persons(f)
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
			one := decider{Name: h.Office.Company().Name(seat.Person), Reason: seat.Reason, Part: h.Office.Company().CentreName(seat.Part)}
			if deciding := seat.DecidingNow(); seat.Absent && len(deciding) > 0 {
				one.StandIn = h.Office.Company().Name(deciding[0])
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
func (h handlers) persons(f work.Form) []Named {
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
				if p, ok := h.Office.Company().ByLogin(login); ok && !seen[login] {
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

// askedOnPage lists the questions without their rules, which are the owner's.
func askedOnPage(questions []form.Question) []form.Question {
	out := []form.Question{}
	for _, q := range questions {
		if q.Readers == form.ForStaff {
			continue
		}
		q.Show, q.Require, q.Lock, q.Preset, q.Offer, q.Compute, q.Present, q.Check = "", "", "", "", "", "", "", nil
		q.Columns = askedOnPage(q.Columns)
		if q.Kind == form.File {
			q.FileTypes, q.MaxSize = q.Types(), int(q.SizeLimit()/1000)
		}
		if q.Kind == form.File || q.Kind == form.Table {
			q.MaxCount = q.Most()
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
