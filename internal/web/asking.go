package web

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"strings"

	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// catalogEntry is one line of the catalog.
type catalogEntry struct {
	Key      string        `json:"key"`
	Name     string        `json:"name"`
	Text     string        `json:"text"`
	Service  string        `json:"service" doc:"Name of the service"`
	Area     string        `json:"area"`
	Door     offering.Door `json:"door"`
	Picture  string        `json:"picture,omitempty"`
	Reason   string        `json:"reason,omitempty" doc:"Why it is picked"`
	CatchAll bool          `json:"catchAll" doc:"It takes what nothing else is for"`
	Ask      bool          `json:"ask" doc:"The reader may ask for it, not only see it"`
}

type catalogBody struct {
	Entries  []catalogEntry `json:"entries" nullable:"false"`
	Next     string         `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
	Headings []heading      `json:"headings" nullable:"false" doc:"Areas and services of these with a text or a picture"`
	Beside   *catalogBeside `json:"beside,omitempty" doc:"With the first page: what does not stand among the entries"`
}

// catalogBeside is what has a place of its own beside the catalog.
type catalogBeside struct {
	Broken   []catalogEntry `json:"broken" nullable:"false" doc:"For what does not work; at most twelve"`
	CatchAll *catalogEntry  `json:"catchAll,omitempty" doc:"It takes what nothing else is for"`
	Help     []helpLine     `json:"help" nullable:"false" doc:"At most five"`
}

type helpLine struct {
	Offering string `json:"offering" doc:"Key"`
	Name     string `json:"name" doc:"Of the offering"`
	Title    string `json:"title"`
}

// How much stands beside the catalog.
const (
	brokenBeside = 12
	helpBeside   = 5
)

// heading is an area or a service as it stands over its offerings.
type heading struct {
	Area    string `json:"area" doc:"Its name, or that of the area of the service"`
	Service string `json:"service,omitempty" doc:"Name; nothing for the area itself"`
	Text    string `json:"text,omitempty"`
	Picture string `json:"picture,omitempty"`
}

// catalog lists what can be asked for, a page at a time; the cursor is the key of the last
// entry.
func (h asking) catalog(ctx context.Context, in *struct{ PageInput }) (*body[catalogBody], error) {
	list, err := h.Office.Asking.Catalog(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	wanted := slices.DeleteFunc(slices.Clone(list), func(l work.Listed) bool { return l.CatchAll || l.Door == offering.Broken })
	from := 0
	if in.After != "" {
		if from = 1 + slices.IndexFunc(wanted, func(l work.Listed) bool { return l.Offering == in.After }); from == 0 {
			from = len(wanted) // it is gone
		}
	}
	page := wanted[from:min(len(wanted), from+in.Limit)]
	out := catalogBody{Entries: h.catalogEntries(page), Headings: h.headings(page)}
	if from+in.Limit < len(wanted) {
		out.Next = page[len(page)-1].Offering
	}
	if in.After == "" {
		out.Beside = h.beside(list)
	}
	return answer(out, nil)
}

func (h asking) beside(list []work.Listed) *catalogBeside {
	b := &catalogBeside{Broken: []catalogEntry{}, Help: []helpLine{}}
	for _, l := range list {
		if l.Door == offering.Broken && len(b.Broken) < brokenBeside {
			b.Broken = append(b.Broken, h.catalogEntry(l))
		}
		if l.CatchAll && b.CatchAll == nil {
			rest := h.catalogEntry(l)
			b.CatchAll = &rest
		}
		for _, a := range l.Articles[:min(len(l.Articles), helpBeside-len(b.Help))] {
			b.Help = append(b.Help, helpLine{l.Offering, l.Name, a.Title})
		}
	}
	return b
}

// headings are those of offerings, each once.
func (h asking) headings(listed []work.Listed) []heading {
	all, seen := []heading{}, map[string]bool{}
	add := func(one heading) {
		if key := one.Area + "\x00" + one.Service; !seen[key] && one.Text+one.Picture != "" {
			seen[key] = true
			all = append(all, one)
		}
	}
	for _, l := range listed {
		s, _ := h.Office.Company().Service(l.Service)
		a, _ := h.Office.Company().Area(s.Area)
		add(heading{Area: a.Name, Text: a.Text, Picture: a.Picture})
		add(heading{Area: a.Name, Service: s.Name, Text: s.Text, Picture: s.Picture})
	}
	return all
}

func (h asking) picks(ctx context.Context, _ *none) (*body[listOf[catalogEntry]], error) {
	list, err := h.Office.Asking.Picks(ctx, me(ctx))
	return answer(listOf[catalogEntry]{Entries: h.catalogEntries(list)}, err)
}

func (h asking) catalogEntries(listed []work.Listed) []catalogEntry {
	entries := make([]catalogEntry, len(listed))
	for i, l := range listed {
		entries[i] = h.catalogEntry(l)
	}
	return entries
}

func (h asking) catalogEntry(l work.Listed) catalogEntry {
	service, _ := h.Office.Company().Service(l.Service)
	return catalogEntry{l.Offering, l.Name, l.Text, service.Name, service.Area, l.Door, l.Picture, l.Reason, l.CatchAll, l.Ask}
}

type OfferingInput struct {
	Offering string `path:"offering" maxLength:"60"`
}

func (h asking) openForm(ctx context.Context, in *struct {
	OfferingInput
	Again   string `query:"again" maxLength:"60" doc:"ID of an earlier request to ask for the same again"`
	Request string `query:"request" maxLength:"60" doc:"ID of a request that was returned, to answer"`
	Given   string `query:"given" maxLength:"8000" doc:"JSON of answers that a link brings along; what is in a draft goes before them"`
}) (*body[OpenedForm], error) {
	var f work.Form
	var err error
	switch {
	case in.Request != "":
		f, err = h.Office.Asking.OpenReturned(ctx, me(ctx), in.Request)
	case in.Again != "":
		f, err = h.Office.Asking.AskAgain(ctx, me(ctx), in.Again)
	default:
		var given form.Answers
		if in.Given != "" && json.Unmarshal([]byte(in.Given), &given) != nil {
			return nil, newProblem(http.StatusUnprocessableEntity, "These answers cannot be read.")
		}
		f, err = h.Office.Asking.OpenForm(ctx, me(ctx), in.Offering, given)
	}
	if errors.Is(err, work.ErrNotFound) {
		return nil, h.gone(ctx, in.Offering)
	}
	if err != nil {
		return nil, err
	}
	return answer(h.formBody(f), nil)
}

// gone tells what takes the place of an offering that has ended.
func (h asking) gone(ctx context.Context, key string) error {
	next, err := h.Office.Asking.Successor(ctx, me(ctx), key)
	if err != nil || next.Offering == key {
		return work.ErrNotFound
	}
	p := newProblem(http.StatusGone, "This is not offered any more.")
	p.Code = refusal.Ended
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

func (h asking) saveDraft(ctx context.Context, in *draftInput) (*body[SavedForm], error) {
	f, err := h.Office.Asking.SaveDraft(ctx, me(ctx), in.Offering, in.Body.Answers, in.Body.For)
	if err != nil {
		return nil, err
	}
	return answer(h.saved(f), nil)
}

func (h asking) saveReturned(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Answers form.Answers `json:"answers" maxProperties:"500"`
	}
}) (*body[SavedForm], error) {
	f, err := h.Office.Asking.SaveReturned(ctx, me(ctx), in.Request, in.Body.Answers)
	if err != nil {
		return nil, err
	}
	return answer(h.saved(f), nil)
}

// mostPeople is how many people a lookup gives.
const mostPeople = 20

func (h asking) lookUp(ctx context.Context, in *struct {
	OfferingInput
	Question string `query:"question" maxLength:"60" doc:"Key of a person question; empty: for whom it is"`
	Words    string `query:"words" maxLength:"100"`
}) (*body[listOf[PersonView]], error) {
	f, err := h.Office.Asking.OpenForm(ctx, me(ctx), in.Offering, nil)
	if err != nil {
		return nil, err
	}
	asker, _ := h.Office.Company().Person(me(ctx))
	fits := func(p people.Person) bool {
		whom := offering.Parties{Asker: asker, Beneficiary: offering.Beneficiary{Person: p.ID}, Company: h.Office.Company()}
		ok, _ := f.Offering.MayAsk(whom)
		return ok
	}
	if in.Question != "" {
		if q, ok := f.Offering.Form.Question(strings.Split(in.Question, ".")[0]); !ok || (q.Kind != form.Person && q.Kind != form.Table) {
			return nil, work.ErrNotFound
		}
		fits = func(p people.Person) bool {
			choice := rule.OfPerson(p, h.Office.Company().Managers(p.ID))
			return strings.Contains(in.Question, ".") || f.Offering.Form.Offers(in.Question, f.Evaluated.Values, choice)
		}
	}
	found := h.Office.Asking.LookUp(in.Words, mostPeople, fits)
	return answer(personViews(found), nil)
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

// sentBody is how a request that was sent is named from then on.
type sentBody struct {
	ID        string `json:"id"`
	Reference string `json:"reference" doc:"Such as QS-10432-P"`
}

func (h asking) submit(ctx context.Context, in *submitInput) (*body[sentBody], error) {
	state, err := h.Office.Asking.Submit(ctx, me(ctx), in.Request, request.Submit{Answers: in.Body.Answers, For: in.Body.For, Slip: in.Body.Slip})
	if err != nil {
		return nil, err
	}
	h.Office.Asking.SentAfter(ctx, state, in.Body.Words)
	return answer(sentBody{state.ID, state.Reference}, nil)
}

func (h asking) discard(ctx context.Context, in *RequestInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Discard{})
}
