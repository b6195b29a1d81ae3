package web

import (
	"context"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// requestSheet is a whole request, for those it is open to.
type requestSheet struct {
	RequestLine
	AskerID   string               `json:"askerId"`
	For       string               `json:"for" doc:"Name of who it is for"`
	Answers   []answered           `json:"answers" nullable:"false"`
	Price     price.Price          `json:"price"`
	Rungs     []rungView           `json:"rungs" nullable:"false"`
	Tasks     []TaskView           `json:"tasks" nullable:"false"`
	History   []request.Entry      `json:"history" nullable:"false"`
	ConfirmBy *time.Time           `json:"confirmBy,omitempty" doc:"When it closes by itself"`
	BackBy    *time.Time           `json:"backBy,omitempty" doc:"Until when it can be sent back, while it is closed"`
	Lines     []string             `json:"lines" nullable:"false" doc:"Names of what can be said not to be right"`
	Mine      *ratingView          `json:"mine,omitempty" doc:"How the reader has rated it"`
	Ratings   []ratingView         `json:"ratings" nullable:"false" doc:"How others have, as far as the reader sees it"`
	Asks      []string             `json:"asks" nullable:"false" doc:"What a rating can answer beside how it went"`
	Closing   *closingView         `json:"closing,omitempty" doc:"What was said as the work ended"`
	Backs     []backView           `json:"backs" nullable:"false" doc:"How often it was sent back, the first first"`
	Allowed   []request.Offer      `json:"allowed" nullable:"false" doc:"Commands the reader may give now"`
	Question  *question            `json:"question,omitempty" doc:"What was asked back, while nobody has answered"`
	Followers []Named              `json:"followers" nullable:"false"`
	Mails     []mailView           `json:"mails" nullable:"false" doc:"What went out by mail, for the owner of the service"`
	Via       string               `json:"via,omitempty" doc:"How whom it is for asked, such as by phone"`
	Whole     bool                 `json:"whole" doc:"All of it is open to the reader, not only its head and tasks"`
	Promise   *request.PromiseLine `json:"promise,omitempty" doc:"The clock of the promised delivery"`
	Chart     *chartView           `json:"chart,omitempty" doc:"The plan as it will likely go"`
	HeldUp    *heldUp              `json:"heldUp,omitempty" doc:"What it waits for longest"`
	Questions []taskQuestion       `json:"questions" nullable:"false" doc:"What the asker was asked during the work"`
	Files     []addedFile          `json:"files" nullable:"false" doc:"Added after sending"`
	Readings  []readingView        `json:"readings" nullable:"false" doc:"Who had private answers and secrets shown, the last first"`
	Ending    string               `json:"ending,omitempty" doc:"While it is being undone: how it will end"`
	RealCost  *realCost            `json:"realCost,omitempty" doc:"What it really cost, as far as tasks have said"`
	LeftOut   []leftOut            `json:"leftOut,omitempty" nullable:"false" doc:"Work that was needed and not done"`
	Silent    bool                 `json:"silent,omitempty" doc:"The reader hears no news of it"`
	MayAnswer []Named              `json:"mayAnswer" nullable:"false" doc:"Who can answer for the asker's side, for staff who enter an answer"`
	Reasons   []string             `json:"reasons" nullable:"false" doc:"That staff choose from who cancel it"`
	AsStaff   []request.Offer      `json:"asStaff" nullable:"false" doc:"Commands the reader may give as a lead"`

	Urging *urgingView `json:"urging,omitempty" doc:"More urgency that was asked for, and waits to be decided"`

	Runs []runView `json:"runs" nullable:"false" doc:"Actions that the reader may start from it"`

	AskerReasons []string `json:"askerReasons" nullable:"false" doc:"That an asker can choose from who takes it back"`

	Teams []Named `json:"teams" nullable:"false" doc:"That a task can be added for, for a lead"`
}

// realCost is what something really cost, beside the price asked once.
type realCost struct {
	Sum    money.Amount `json:"sum"`
	Once   money.Amount `json:"once" doc:"The price it was asked for at"`
	Dearer bool         `json:"dearer,omitempty" doc:"By more than the offering tolerates"`
}

// leftOut is work that was needed and not done.
type leftOut struct {
	Task   string `json:"task" doc:"Name"`
	Reason string `json:"reason"`
}

// heldUp is what a request waits for.
type heldUp struct {
	What  string     `json:"what"`
	Who   string     `json:"who"`
	Since *time.Time `json:"since,omitempty"`
	Open  int        `json:"open" doc:"Open minutes since then, in their calendar"`
	Stuck bool       `json:"stuck,omitempty" doc:"It cannot go on without people"`
}

type taskQuestion struct {
	Task  string    `json:"task" doc:"Key"`
	Name  string    `json:"name"`
	By    string    `json:"by" doc:"Name"`
	Text  string    `json:"text"`
	At    time.Time `json:"at"`
	Until time.Time `json:"until"`
}

type addedFile struct {
	form.Upload
	By   string    `json:"by" doc:"Name"`
	At   time.Time `json:"at"`
	Task string    `json:"task,omitempty" doc:"Name of the task it is about"`
}

type rungView struct {
	Key     string         `json:"key"`
	Name    string         `json:"name"`
	Outcome ladder.Outcome `json:"outcome"`
	Needs   string         `json:"needs" doc:"How many must say yes, such as 2 of 3 yes votes"`
	Note    string         `json:"note,omitempty"`
	Limit   *time.Time     `json:"limit,omitempty" doc:"Until when it is to be decided"`
	Opened  *time.Time     `json:"opened,omitempty"`
	Seats   []seatView     `json:"seats" nullable:"false"`
}

type seatView struct {
	Name     string           `json:"name"`
	Reason   string           `json:"reason" doc:"Why it is they"`
	Part     string           `json:"part,omitempty" doc:"Name of the cost centre whose share they decide on"`
	Absent   bool             `json:"absent,omitempty" doc:"They were absent when it was asked"`
	Others   []otherView      `json:"others" nullable:"false" doc:"Who is asked beside them, or instead"`
	Decision request.Decision `json:"decision,omitempty"`
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
	As     ladder.Role `json:"as"`
	Reason string      `json:"reason"`
}

func (h handlers) sheet(ctx context.Context, seen work.Seen) (*body[requestSheet], error) {
	state, viewer, company := seen.State, seen.Viewer, h.Office.Company()
	out := requestSheet{
		RequestLine: h.head(ctx, state), AskerID: state.Asker, For: h.beneficiary(state), Answers: []answered{}, Price: shown(price.Price{}), Rungs: []rungView{}, Tasks: []TaskView{},
		History: []request.Entry{}, Allowed: list(state.Allowed(me(ctx))), Followers: []Named{}, Mails: []mailView{}, Whole: viewer.SeesRequest(), Questions: []taskQuestion{}, Files: []addedFile{},
		Asks: []string{}, AskerReasons: []string{}, Lines: []string{}, Reasons: []string{}, Backs: []backView{}, Ratings: []ratingView{}, MayAnswer: []Named{}, Readings: []readingView{}, Ending: string(state.Ending), AsStaff: list(state.AllowedToLead(viewer)), Teams: []Named{},
	}
	if state.Status == request.Delivered {
		out.ConfirmBy = &state.ConfirmBy
	}
	h.endOf(ctx, state, &out)
	if slices.Contains(out.AsStaff, request.OfferCancel) && seen.Offering != nil {
		out.Reasons = list(seen.Offering.Document.Promise.Reasons)
	}
	if slices.Contains(out.AsStaff, "addTask") {
		for _, t := range company.Teams() {
			out.Teams = append(out.Teams, Named{Key: t.Key, Name: t.Name})
		}
	}
	out.Runs = h.runs(ctx, state, viewer, seen.Offering)
	if err := h.work(ctx, seen, &out); err != nil {
		return nil, err
	}
	silent, err := h.Office.Following.Silent(ctx, me(ctx), state.ID)
	if err != nil {
		return nil, err
	}
	out.Silent = silent
	if !out.Whole {
		h.ofTeam(seen, &out)
		return answer(out, nil)
	}
	if slices.Contains(out.AsStaff, "hear") {
		out.MayAnswer = h.mayAnswer(state)
	}
	out.Allowed = append(out.Allowed, state.AllowedToReader(viewer)...)
	out.Urging = h.urging(state)
	if seen.Offering == nil || seen.Offering.Document.Promise.Urge == nil {
		out.Allowed = slices.DeleteFunc(out.Allowed, func(o request.Offer) bool { return o == request.OfferUrge })
	}
	h.backAndRated(ctx, state, viewer, &out)
	if seen.Offering != nil {
		out.Asks, out.AskerReasons = list(seen.Offering.Promise.RatingAsks()), list(seen.Offering.Document.Promise.AskerReasons)
		out.Answers = h.inWords(seen.Offering, state, viewer.Whole())
	}
	if out.Readings, err = h.readings(ctx, state); err != nil {
		return nil, err
	}
	for _, f := range state.Files {
		if !f.Opens(viewer) {
			continue
		}
		task, _ := state.Task(f.Task)
		file := addedFile{Upload: f.Upload, By: company.Name(f.By), At: f.At}
		if task != nil {
			file.Task = task.Name
		}
		out.Files = append(out.Files, file)
	}
	out.History = request.History(seen.Events, company, viewer)
	out.Price, out.Question, out.Via = shown(state.Price), h.question(state), state.For.Via.Words()
	for _, person := range state.Followers {
		out.Followers = append(out.Followers, Named{ID: person, Name: company.Name(person)})
	}
	mails, err := h.Office.Messaging.MailsOf(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	for _, m := range mails {
		out.Mails = append(out.Mails, mailView{company.Name(m.Person), m.Subject, m.At, m.Mail, m.Trouble})
	}
	for _, r := range state.Rungs {
		out.Rungs = append(out.Rungs, rungOf(h.Office.Company(), r))
	}
	return answer(out, nil)
}

// ofTeam fills in what those see who work on a request, or will, without seeing all
// of it: how the decisions stand, without their reasons, and the history of their
// own tasks.
func (h handlers) ofTeam(seen work.Seen, out *requestSheet) {
	state, viewer := seen.State, seen.Viewer
	if !viewer.Foreseen && len(viewer.Tasks) == 0 {
		return
	}
	for _, r := range state.Rungs {
		view := rungOf(h.Office.Company(), r)
		view.Note = ""
		for i := range view.Seats {
			view.Seats[i].Said, view.Seats[i].Reason, view.Seats[i].Others = "", "", []otherView{}
		}
		out.Rungs = append(out.Rungs, view)
	}
	for _, e := range request.History(seen.Events, h.Office.Company(), viewer) {
		if e.Task != "" && slices.Contains(viewer.Tasks, e.Task) {
			out.History = append(out.History, e)
		}
	}
}

// mayAnswer lists who can answer for the asker's side.
func (h handlers) mayAnswer(state request.State) []Named {
	company := h.Office.Company()
	out := []Named{{ID: state.Asker, Name: company.Name(state.Asker)}}
	if b := state.Beneficiary(); b != "" && b != state.Asker {
		out = append(out, Named{ID: b, Name: company.Name(b)})
	}
	return out
}

// work fills in how the work on a request stands: its tasks, forecast, promise
// and what holds it up. Of the tasks of other teams who does not see the whole
// request sees no more than where they stand.
func (h handlers) work(ctx context.Context, seen work.Seen, out *requestSheet) error {
	state, viewer, c := seen.State, seen.Viewer, seen.Offering
	if c == nil {
		return nil
	}
	now := h.Office.Clock()
	f, err := h.Office.Forecast(ctx, state)
	if err != nil {
		return err
	}
	for _, t := range state.Tasks {
		view := h.taskView(ctx, state, t)
		if !out.Whole && !slices.Contains(viewer.Tasks, t.Key) {
			view = view.headOnly()
		}
		view.foresee(f)
		out.Tasks = append(out.Tasks, view)
		if q := t.Question; q != nil && out.Whole {
			out.Questions = append(out.Questions, taskQuestion{t.Key, t.Name, h.Office.Company().Name(q.By), q.Text, q.At, q.Until})
		}
	}
	var ahead *request.Forecast
	if state.Status.Promising() {
		ahead, out.Forecast = &f, forecastOf(f.Outlook())
		out.HeldUp = h.heldUp(state, f.Outlook(), c, now)
	}
	if len(state.Tasks) > 0 || ahead != nil {
		out.Chart = chartOf(h.Office.Company(), f, c.Promise.Calendar(), now)
	}
	out.Promise = state.PromiseLine(c, ahead, now)
	if !out.Whole {
		return nil
	}
	for _, l := range state.LeftOut() {
		out.LeftOut = append(out.LeftOut, leftOut(l))
	}
	if real, known := state.RealCost(); known {
		out.RealCost = &realCost{real, state.Price.Once, c.Form.Dearer(state.Price.Once, real)}
	}
	return nil
}

// heldUp says what a request waits for.
func (h handlers) heldUp(state request.State, o request.Outlook, c *offering.Compiled, now time.Time) *heldUp {
	company := h.Office.Company()
	by, found := state.HeldUp(o, c, company, h.home(state), now)
	if !found {
		return nil
	}
	var names []string
	for _, who := range by.Who {
		names = append(names, who.Name(company, h.connectorName))
	}
	return &heldUp{by.What, strings.Join(names, ", "), reached(by.Since), int(by.Open.Minutes()), by.Stuck}
}

func rungOf(company *people.Directory, r request.Rung) rungView {
	out := rungView{
		Key: r.Key, Name: r.Name, Outcome: r.Outcome, Opened: reached(r.Opened), Limit: reached(r.Times.Limit), Note: r.Note,
		Needs: ladder.NeedsWords(r.Quorum, r.Seats), Seats: []seatView{},
	}
	for _, seat := range r.Seats {
		view := seatView{Name: company.Name(seat.Person), Reason: seat.Reason, Part: company.CentreName(seat.Part), Absent: seat.Absent, Others: []otherView{}}
		for _, o := range seat.Others {
			view.Others = append(view.Others, otherView{company.Name(o.Person), o.As, o.Reason})
		}
		if vote, filled := r.VoteFor(seat); filled {
			view.Decision, view.Said, view.At, view.Carried = vote.Decision, vote.Reason, &vote.At, vote.Carried
			if vote.Person != seat.Person {
				view.By = company.Name(vote.Person)
			}
		}
		out.Seats = append(out.Seats, view)
	}
	return out
}

// readingView says that somebody had a value shown that is kept apart.
type readingView struct {
	Who  string    `json:"who" doc:"Name"`
	What string    `json:"what" doc:"Name of the question or the output"`
	As   string    `json:"as,omitempty" doc:"Name of the task or the decision it was for; empty for the asker, and for whom a secret is for"`
	At   time.Time `json:"at"`
}

func (h handlers) readings(ctx context.Context, state request.State) ([]readingView, error) {
	all, err := h.Office.Following.Readings(ctx, state.ID)
	if err != nil || len(all) == 0 {
		return []readingView{}, err
	}
	c, err := h.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	out := []readingView{}
	for _, r := range all {
		view := readingView{Who: h.Office.Company().Name(r.Person), What: r.Key, At: r.At}
		if r.Part == work.AnswerPart {
			if q, ok := c.Form.Question(r.Key); ok {
				view.What = q.ForStaff()
			}
		} else if t, ok := state.Task(r.Task); ok {
			view.What = h.outputs(ctx, state, *t)[r.Key].Name
		}
		if t, ok := state.Task(r.As); ok {
			view.As = t.Name
		}
		for i := range state.Rungs {
			if "rung/"+state.Rungs[i].Key == r.As {
				view.As = state.Rungs[i].Name
			}
		}
		out = append(out, view)
	}
	return out, nil
}

type question struct {
	By    string    `json:"by"`
	Rung  string    `json:"rung" doc:"Name"`
	Text  string    `json:"text"`
	At    time.Time `json:"at"`
	Until time.Time `json:"until" doc:"When the request expires without an answer"`

	Declined bool     `json:"declined,omitempty" doc:"It was declined, and can be mended"`
	Parts    []string `json:"parts,omitempty" nullable:"false" doc:"Names of the cost centres whose shares were declined"`
}

func (h handlers) question(state request.State) *question {
	q := state.Question
	if q == nil {
		return nil
	}
	out := &question{By: h.Office.Company().Name(q.By), Text: q.Text, At: q.At, Until: q.Until, Declined: q.Declined}
	for _, part := range q.Parts {
		out.Parts = append(out.Parts, h.Office.Company().CentreName(part))
	}
	for _, r := range state.Rungs {
		if r.Key == q.Rung {
			out.Rung = r.Name
		}
	}
	return out
}
