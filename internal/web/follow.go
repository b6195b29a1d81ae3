package web

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/store"
	"heptad/internal/work"
)

// RequestLine is a request in a list.
type RequestLine struct {
	ID        string          `json:"id"`
	Reference string          `json:"reference" doc:"Empty for a draft"`
	Offering  string          `json:"offering" doc:"Key"`
	Title     string          `json:"title"`
	Asker     string          `json:"asker"`
	Status    request.Status  `json:"status" enum:"draft,deciding,returned,delivering,delivered,closed"`
	Outcome   request.Outcome `json:"outcome,omitempty" enum:"fulfilled,declined,withdrawn,expired"`
	Stages    []stage         `json:"stages" nullable:"false" doc:"All seven, in order"`
	Holders   []holder        `json:"holders" nullable:"false" doc:"With whom it lies now"`
	Yours     bool            `json:"yours" doc:"Whether it waits for the person who reads"`
	ChangedAt time.Time       `json:"changedAt"`
}

type stage struct {
	Key request.Stage `json:"key" enum:"drafted,submitted,decided,planned,delivered,confirmed,closed"`
	At  *time.Time    `json:"at,omitempty" doc:"When it was reached"`
}

type holder struct {
	Name string `json:"name"`
	What string `json:"what" doc:"What they have to do"`
}

type PageInput struct {
	After string `query:"after" maxLength:"120" doc:"What the page before gave as next"`
	Limit int    `query:"limit" minimum:"1" maximum:"100" default:"50"`
}

func (p PageInput) page() store.Page { return store.Page{Cursor: p.After, Limit: p.Limit} }

// listOf is one page of a list.
type listOf[T any] struct {
	Entries []T    `json:"entries" nullable:"false"`
	Next    string `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
}

// listing makes a page of a list from its entries.
func listing[T any](entries []store.Entry, limit int, line func(store.Entry) T) listOf[T] {
	out := listOf[T]{Entries: make([]T, len(entries))}
	for i, e := range entries {
		out.Entries[i] = line(e)
	}
	if len(entries) == limit {
		out.Next = entries[limit-1].Next
	}
	return out
}

func (s *Server) myRequests(ctx context.Context, in *PageInput) (*body[listOf[RequestLine]], error) {
	entries, err := s.Office.Store.RequestsOf(ctx, me(ctx), in.page())
	return answer(listing(entries, in.Limit, func(e store.Entry) RequestLine { return s.line(ctx, e.State) }), err)
}

func (s *Server) line(ctx context.Context, state request.State) RequestLine {
	out := RequestLine{
		ID: state.ID, Reference: state.Reference, Offering: state.Offering, Title: state.Title, Asker: s.Office.Company().Name(state.Asker),
		Status: state.Status, Outcome: state.Outcome, Stages: stages(state), Holders: s.holders(state),
		Yours: len(state.Allowed(me(ctx))) > 0,
	}
	for _, at := range state.Stages {
		if at.After(out.ChangedAt) {
			out.ChangedAt = at
		}
	}
	return out
}

func stages(state request.State) []stage {
	out := make([]stage, len(request.Stages))
	for i, key := range request.Stages {
		out[i].Key = key
		if at, ok := state.Stages[key]; ok {
			out[i].At = &at
		}
	}
	return out
}

// home is the key of the home team of a request's service.
func (s *Server) home(state request.State) string {
	service, _ := s.Office.Company().Service(state.Service)
	return service.Home
}

// holders says with whom a request lies, in words.
func (s *Server) holders(state request.State) []holder {
	out := []holder{}
	for _, h := range state.Holders(s.home(state)) {
		entry := holder{Name: s.Office.Company().Name(h.Person)}
		task, isTask := state.Task(h.Task)
		switch {
		case h.System != "":
			entry.Name = s.connectorName(h.System) + ", by itself"
		case h.Person == "":
			entry.Name = s.Office.Company().TeamName(h.Team)
		}
		switch {
		case isTask && task.State == plan.Stuck:
			entry.What = task.Name + " (stuck)"
		case isTask:
			entry.What = task.Name
		default:
			entry.What = map[request.Status]string{request.Draft: "finish and send", request.Deciding: "decide", request.Returned: "answer a question", request.Delivered: "confirm that it is done"}[state.Status]
		}
		out = append(out, entry)
	}
	return out
}

func (s *Server) connectorName(key string) string {
	for _, c := range s.Office.Connectors() {
		if c.Key == key {
			return c.Name
		}
	}
	return key
}

// requestSheet is a whole request, for those it is open to.
type requestSheet struct {
	RequestLine
	AskerID   string          `json:"askerId"`
	For       string          `json:"for" doc:"Name of who it is for"`
	Answers   []answered      `json:"answers" nullable:"false"`
	Price     price.Price     `json:"price"`
	Rungs     []rungView      `json:"rungs" nullable:"false"`
	Tasks     []TaskView      `json:"tasks" nullable:"false"`
	History   []request.Entry `json:"history" nullable:"false"`
	ConfirmBy *time.Time      `json:"confirmBy,omitempty" doc:"When it closes by itself"`
	Allowed   []string        `json:"allowed" nullable:"false" doc:"Commands the reader may give now"`
	Promised  *promisedView   `json:"promised,omitempty" doc:"The time promised from sending on, if any"`
	Question  *question       `json:"question,omitempty" doc:"What was asked back, while nobody has answered"`
	Followers []Named         `json:"followers" nullable:"false"`
	Mails     []mailView      `json:"mails" nullable:"false" doc:"What went out by mail, for the owner of the service"`
	Via       string          `json:"via,omitempty" doc:"How whom it is for asked, such as by phone"`
}

type answered struct {
	Key   string        `json:"key"`
	Label string        `json:"label"`
	Text  string        `json:"text"`
	Files []form.Upload `json:"files,omitempty" nullable:"false" doc:"To be opened"`
}

type rungView struct {
	Key     string         `json:"key"`
	Name    string         `json:"name"`
	Outcome ladder.Outcome `json:"outcome" enum:"open,passed,declined"`
	Needs   string         `json:"needs" doc:"How many must say yes, such as 2 of 3 yes votes"`
	Note    string         `json:"note,omitempty"`
	Limit   *time.Time     `json:"limit,omitempty" doc:"Until when it is to be decided"`
	Opened  *time.Time     `json:"opened,omitempty"`
	Seats   []seatView     `json:"seats" nullable:"false"`
}

type seatView struct {
	Name     string           `json:"name"`
	Reason   string           `json:"reason" doc:"Why it is they"`
	Part     string           `json:"part,omitempty" doc:"The cost centre whose share they decide on"`
	Absent   bool             `json:"absent,omitempty" doc:"They were absent when it was asked"`
	Others   []otherView      `json:"others" nullable:"false" doc:"Who is asked beside them, or instead"`
	Decision request.Decision `json:"decision,omitempty" enum:"approve,decline"`
	By       string           `json:"by,omitempty" doc:"Name of who decided, when it is somebody else"`
	Carried  bool             `json:"carried,omitempty" doc:"They approved on an earlier rung"`
	Said     string           `json:"said,omitempty"`
	At       *time.Time       `json:"at,omitempty"`
}

// mailView is what became of a message by mail.
type mailView struct {
	To      string    `json:"to" doc:"Name"`
	Subject string    `json:"subject"`
	At      time.Time `json:"at"`
	State   string    `json:"state" enum:"waiting,sending,sent,failed"`
	Trouble string    `json:"trouble,omitempty" doc:"Of the last try"`
}

type otherView struct {
	Name   string      `json:"name"`
	As     ladder.Role `json:"as" enum:"standIn,escalated,passedOn"`
	Reason string      `json:"reason"`
}

type TaskView struct {
	Key       string     `json:"key"`
	Name      string     `json:"name"`
	Kind      plan.Kind  `json:"kind" enum:"manual,automatic"`
	Team      string     `json:"team" doc:"Name"`
	State     plan.State `json:"state" enum:"blocked,ready,taken,stuck,done,skipped"`
	Holder    string     `json:"holder,omitempty" doc:"Name of who took it"`
	After     []string   `json:"after" nullable:"false" doc:"Names of the tasks it waits for"`
	Trouble   string     `json:"trouble,omitempty"`
	RetryAt   *time.Time `json:"retryAt,omitempty" doc:"When it is tried again by itself"`
	ReadyAt   *time.Time `json:"readyAt,omitempty"`
	EndedAt   *time.Time `json:"endedAt,omitempty"`
	Outputs   []answered `json:"outputs" nullable:"false"`
	Automatic string     `json:"automatic,omitempty" doc:"Name of the system that does it"`
}

func (s *Server) request(ctx context.Context, in *RequestInput) (*body[requestSheet], error) {
	state, err := s.Office.Store.Request(ctx, in.Request)
	if err != nil {
		return nil, err
	}
	if !s.Office.Viewer(me(ctx), state).SeesRequest() {
		return nil, work.ErrNotFound
	}
	return s.sheet(ctx, state)
}

func (s *Server) confirm(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Remark string `json:"remark,omitempty" maxLength:"2000"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Confirm{Remark: in.Body.Remark})
	if err != nil {
		return nil, err
	}
	return s.sheet(ctx, state)
}

func (s *Server) sheet(ctx context.Context, state request.State) (*body[requestSheet], error) {
	events, err := s.Office.Store.Events(ctx, state.ID)
	if err != nil {
		return nil, err
	}
	answers, err := s.answers(ctx, state, nil)
	if err != nil {
		return nil, err
	}
	if !s.Office.Viewer(me(ctx), state).SeesFiles() {
		for i := range answers {
			answers[i].Files = nil
		}
	}
	out := requestSheet{
		RequestLine: s.line(ctx, state), AskerID: state.Asker, For: s.beneficiary(state), Answers: answers, Price: shown(state.Price), Rungs: []rungView{}, Tasks: []TaskView{},
		History: request.History(events, s.Office.Company()), Allowed: list(state.Allowed(me(ctx))),
	}
	if v := s.Office.Viewer(me(ctx), state); (v.Asker || v.Receiver || v.Owner) && state.Status != request.Draft && state.Status != request.Closed {
		out.Allowed = append(out.Allowed, "follow")
	}
	out.Question, out.Followers = s.question(state), []Named{}
	for _, person := range state.Followers {
		out.Followers = append(out.Followers, Named{ID: person, Name: s.Office.Company().Name(person)})
	}
	mails, err := s.Office.MailsOf(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	out.Mails = []mailView{}
	for _, m := range mails {
		out.Mails = append(out.Mails, mailView{s.Office.Company().Name(m.Person), m.Subject, m.At, m.Mail, m.Trouble})
	}
	out.Promised, out.Via = promisedOf(state.Promise, time.Time{}), state.For.Via.Words()
	if state.Status == request.Delivered {
		out.ConfirmBy = &state.ConfirmBy
	}
	for _, r := range state.Rungs {
		out.Rungs = append(out.Rungs, s.rung(r))
	}
	for _, t := range state.Tasks {
		out.Tasks = append(out.Tasks, s.taskView(state, t))
	}
	return answer(out, nil)
}

// beneficiary is the name of who a request is for.
func (s *Server) beneficiary(state request.State) string {
	if n := state.For.Newcomer; n != nil {
		return n.Name
	}
	return s.Office.Company().Name(state.Beneficiary())
}

// shown makes the lines of a price a list even when there are none.
func shown(p price.Price) price.Price {
	p.Lines, p.Shares = list(p.Lines), list(p.Shares)
	return p
}

func list[T any](l []T) []T {
	if l == nil {
		return []T{}
	}
	return l
}

// answers gives the answers of a request in words: all of them, or only those
// of the given questions.
func (s *Server) answers(ctx context.Context, state request.State, only []string) ([]answered, error) {
	out := []answered{}
	if state.Status == request.Draft {
		return out, nil
	}
	c, err := s.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	return s.inWords(c, state.Answers, only), nil
}

// inWords gives answers in words: all of them, or only those of the given
// questions.
func (s *Server) inWords(c *offering.Compiled, answers form.Answers, only []string) []answered {
	out := []answered{}
	for _, q := range c.Document.Questions {
		value, ok := answers[q.Key]
		if !ok || value == nil || (only != nil && !slices.Contains(only, q.Key)) {
			continue
		}
		entry := answered{Key: q.Key, Label: q.ForStaff(), Text: c.Form.Show(q.Key, value, s.Office.Company(), c.Promise.Zone())}
		entry.Files = form.FilesIn(q, value)
		out = append(out, entry)
	}
	return out
}

func (s *Server) rung(r request.Rung) rungView {
	company := s.Office.Company()
	out := rungView{
		Key: r.Key, Name: r.Name, Outcome: r.Outcome, Opened: reached(r.Opened), Limit: reached(r.Times.Limit), Note: r.Note,
		Needs: needs(r.Quorum, len(r.Seats)), Seats: []seatView{},
	}
	for _, seat := range r.Seats {
		view := seatView{Name: company.Name(seat.Person), Reason: seat.Reason, Part: seat.Part, Absent: seat.Absent, Others: []otherView{}}
		for _, o := range seat.Others {
			view.Others = append(view.Others, otherView{company.Name(o.Person), o.As, o.Reason})
		}
		if vote, filled := r.VoteFor(seat.Person); filled {
			view.Decision, view.Said, view.At, view.Carried = vote.Decision, vote.Reason, &vote.At, vote.Carried
			if vote.Person != seat.Person {
				view.By = company.Name(vote.Person)
			}
		}
		out.Seats = append(out.Seats, view)
	}
	return out
}

// needs says in words how many of so many seats must say yes; empty where one
// alone decides.
func needs(quorum string, seats int) string {
	if seats < 2 {
		return ""
	}
	switch n := ladder.Needs(quorum, seats); n {
	case 1:
		return fmt.Sprintf("any one of %d", seats)
	case seats:
		return fmt.Sprintf("all %d", seats)
	default:
		return fmt.Sprintf("%d of %d yes votes", n, seats)
	}
}

func reached(at time.Time) *time.Time {
	if at.IsZero() {
		return nil
	}
	return &at
}

func (s *Server) taskView(state request.State, t request.Task) TaskView {
	out := TaskView{
		Key: t.Key, Name: t.Name, Kind: t.Kind, Team: s.Office.Company().TeamName(t.Team), State: t.State, After: []string{},
		Trouble: t.Trouble, ReadyAt: reached(t.ReadyAt), EndedAt: reached(t.EndedAt), Outputs: []answered{},
	}
	if t.Holder != "" {
		out.Holder = s.Office.Company().Name(t.Holder)
	}
	if t.State == plan.Ready && t.Trouble != "" {
		out.RetryAt = reached(t.RetryAt)
	}
	for _, key := range t.After {
		if before, ok := state.Task(key); ok {
			out.After = append(out.After, before.Name)
		}
	}
	if t.Connector != "" {
		out.Automatic = s.connectorName(t.Connector)
	}
	for _, key := range slices.Sorted(maps.Keys(t.Outputs)) {
		out.Outputs = append(out.Outputs, answered{Key: key, Label: s.outputName(t.Connector, key), Text: t.Outputs[key]})
	}
	return out
}

func (s *Server) outputName(connector, key string) string {
	for _, c := range s.Office.Connectors() {
		for _, a := range c.Actions {
			for _, output := range a.Outputs {
				if c.Key == connector && output.Key == key {
					return output.Name
				}
			}
		}
	}
	return key
}
