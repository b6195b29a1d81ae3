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
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// RequestLine is a request in a list.
type RequestLine struct {
	ID        string          `json:"id"`
	Reference string          `json:"reference" doc:"Empty for a draft"`
	Offering  string          `json:"offering" doc:"Key"`
	Title     string          `json:"title"`
	Asker     string          `json:"asker"`
	Status    request.Status  `json:"status" enum:"draft,deciding,returned,delivering,waiting,delivered,undoing,closed"`
	Outcome   request.Outcome `json:"outcome,omitempty" enum:"fulfilled,declined,withdrawn,expired,cancelled"`
	Stages    []stage         `json:"stages" nullable:"false" doc:"All seven, in order"`
	Holders   []holder        `json:"holders" nullable:"false" doc:"With whom it lies now"`
	Yours     bool            `json:"yours" doc:"Whether it waits for the person who reads"`
	ChangedAt time.Time       `json:"changedAt"`
	Forecast  *forecastView   `json:"forecast,omitempty" doc:"While it is under way"`
	Group     work.Group      `json:"group,omitempty" enum:"you,decision,work,asker,undoing,closed" doc:"What it waits for, in the reader's own list"`
}

type stage struct {
	Key request.Stage `json:"key" enum:"drafted,submitted,decided,planned,delivered,confirmed,closed"`
	At  *time.Time    `json:"at,omitempty" doc:"When it was reached"`
}

type holder struct {
	Name  string     `json:"name"`
	What  string     `json:"what" doc:"What they have to do"`
	Until *time.Time `json:"until,omitempty" doc:"Of a wait"`
}

type PageInput struct {
	After string `query:"after" maxLength:"120" doc:"What the page before gave as next"`
	Limit int    `query:"limit" minimum:"1" maximum:"100" default:"50"`
}

func (p PageInput) page() work.Page { return work.Page{Cursor: p.After, Limit: p.Limit} }

// listOf is one page of a list.
type listOf[T any] struct {
	Entries []T    `json:"entries" nullable:"false"`
	Next    string `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
}

// listing makes a page of a list from its entries.
func listing[T any](entries []work.Entry, limit int, line func(work.Entry) T) listOf[T] {
	out := listOf[T]{Entries: make([]T, len(entries))}
	for i, e := range entries {
		out.Entries[i] = line(e)
	}
	if len(entries) == limit {
		out.Next = entries[limit-1].Next
	}
	return out
}

// myRequests is one page of the reader's requests, by what they wait for.
type myRequests struct {
	Entries []RequestLine `json:"entries" nullable:"false"`
	Next    string        `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
	Counts  []groupCount  `json:"counts" nullable:"false" doc:"Of all that there are, in order"`
}

type groupCount struct {
	Group work.Group `json:"group" enum:"you,decision,work,asker,undoing,closed"`
	Count int        `json:"count"`
}

func (s *Server) myRequests(ctx context.Context, in *struct {
	PageInput
	Words string     `query:"words" maxLength:"100" doc:"Parts of the title, the reference or a name"`
	Group work.Group `query:"group" enum:"you,decision,work,asker,undoing,closed" doc:"What they wait for; all when left out"`
	Sort  string     `query:"sort" enum:"changed,likely,due,sent" doc:"Within a group; the last changed first when left out"`
}) (*body[myRequests], error) {
	entries, err := s.Office.RequestsOf(ctx, me(ctx), work.Mine{Page: in.page(), Words: in.Words, Group: in.Group, Sort: in.Sort})
	if err != nil {
		return nil, err
	}
	page := listing(entries, in.Limit, func(e work.Entry) RequestLine {
		line := s.line(ctx, e.State)
		line.Group = work.Group(e.Key)
		return line
	})
	out := myRequests{page.Entries, page.Next, []groupCount{}}
	counts, err := s.Office.GroupsOf(ctx, me(ctx))
	for _, group := range work.Groups {
		if counts[group] > 0 {
			out.Counts = append(out.Counts, groupCount{group, counts[group]})
		}
	}
	return answer(out, err)
}

func (s *Server) line(ctx context.Context, state request.State) RequestLine {
	out := s.head(ctx, state)
	if underWay(state) {
		if f, err := s.Office.Forecast(ctx, state); err == nil { // the list is worth more than its forecasts
			out.Forecast = forecastOf(f)
		}
	}
	return out
}

// underWay reports whether a request is on its way to delivery, so that it has a
// forecast.
func underWay(state request.State) bool {
	switch state.Status {
	case request.Deciding, request.Returned, request.Delivering, request.Waiting:
		return true
	}
	return false
}

// head is a line without its forecast.
func (s *Server) head(ctx context.Context, state request.State) RequestLine {
	return RequestLine{
		ID: state.ID, Reference: state.Reference, Offering: state.Offering, Title: state.Title, Asker: s.Office.Company().Name(state.Asker),
		Status: state.Status, Outcome: state.Outcome, Stages: stages(state), Holders: s.holders(state),
		Yours: state.Turn(me(ctx)), ChangedAt: state.At,
	}
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
			entry.Name = s.connectorName(h.System) + " (by itself)"
		case h.Pool != "":
			pool, _ := s.Office.Company().Pool(h.Pool)
			entry.Name = "Waiting list of " + pool.Name
		case h.Wait:
			entry.Name = "Nobody: it waits for its time"
		case h.Person == "":
			entry.Name = s.Office.Company().TeamName(h.Team)
		}
		switch {
		case isTask && task.Undo != nil:
			entry.What = "take back: " + task.Name
		case isTask && task.State == plan.Stuck:
			entry.What = task.Name + " (stuck)"
		case isTask && task.State == plan.Asking:
			entry.What = "answer a question on " + task.Name
		case isTask && task.Kind == plan.Wait && !task.Until.IsZero():
			entry.What, entry.Until = task.Name, &task.Until
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
	Question  *question       `json:"question,omitempty" doc:"What was asked back, while nobody has answered"`
	Followers []Named         `json:"followers" nullable:"false"`
	Mails     []mailView      `json:"mails" nullable:"false" doc:"What went out by mail, for the owner of the service"`
	Via       string          `json:"via,omitempty" doc:"How whom it is for asked, such as by phone"`
	Whole     bool            `json:"whole" doc:"All of it is open to the reader, not only its head and tasks"`
	Promise   *promiseView    `json:"promise,omitempty" doc:"The clock of the promised delivery"`
	Chart     *chartView      `json:"chart,omitempty" doc:"The plan as it will likely go"`
	HeldUp    *heldUp         `json:"heldUp,omitempty" doc:"What it waits for longest"`
	Asked     []taskQuestion  `json:"asked" nullable:"false" doc:"What the asker was asked during the work"`
	Files     []addedFile     `json:"files" nullable:"false" doc:"Added after sending"`
	Readings  []readingView   `json:"readings" nullable:"false" doc:"Who had private answers and secrets shown, the last first"`
	Ending    string          `json:"ending,omitempty" doc:"While it is being undone: how it will end"`
	RealCost  *realCost       `json:"realCost,omitempty" doc:"What it really cost, as far as tasks have said"`
	LeftOut   []leftOut       `json:"leftOut,omitempty" nullable:"false" doc:"Work that was needed and not done"`
	Silent    bool            `json:"silent,omitempty" doc:"The reader hears no news of it"`
	MayAnswer []Named         `json:"mayAnswer" nullable:"false" doc:"Who can answer for the asker's side, for staff who enter an answer"`
	AsStaff   []string        `json:"asStaff" nullable:"false" doc:"Commands the reader may give as a lead"`
	Teams     []Named         `json:"teams" nullable:"false" doc:"That a task can be added for, for a lead"`
}

// realCost is what something really cost, beside the price asked once.
type realCost struct {
	Sum    money.Amount `json:"sum"`
	Asked  money.Amount `json:"asked" doc:"Once"`
	Dearer bool         `json:"dearer,omitempty" doc:"By more than the offering tolerates"`
}

// leftOut is work that was needed and not done.
type leftOut struct {
	Task   string `json:"task" doc:"Name"`
	Reason string `json:"reason"`
}

// hear enters what the asker, or who it is for, has answered.
func (s *Server) hear(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Task string    `json:"task,omitempty" maxLength:"80" doc:"Key of the task that was asked about; what was asked back when left out"`
		Text string    `json:"text" maxLength:"2000" doc:"In their words"`
		From string    `json:"from" maxLength:"60" doc:"ID of who said it"`
		How  string    `json:"how" maxLength:"40" doc:"Such as phone"`
		At   time.Time `json:"at" doc:"When they said it"`
	}
}) (*body[requestSheet], error) {
	b := in.Body
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Hear{Task: b.Task, Text: b.Text, From: b.From, How: b.How, At: b.At})
	return s.done(ctx, state, err)
}

// silence lets the reader hear no more news of a request, or again. What waits for
// them is told all the same.
func (s *Server) silence(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Silent bool `json:"silent"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Silence(ctx, me(ctx), in.Request, in.Body.Silent)
	return s.done(ctx, state, err)
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

type answered = request.Answered

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
	Part     string           `json:"part,omitempty" doc:"Name of the cost centre whose share they decide on"`
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

func (s *Server) request(ctx context.Context, in *RequestInput) (*body[requestSheet], error) {
	seen, err := s.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	if v := seen.Viewer; !v.SeesRequest() && len(v.Tasks) == 0 && !v.Foreseen {
		return nil, work.ErrNotFound
	}
	return s.sheet(ctx, seen)
}

// do gives a command of the reader, and the request as they see it then.
func (s *Server) do(ctx context.Context, id string, c request.Command) (work.Seen, error) {
	state, err := s.Office.Do(ctx, me(ctx), id, c)
	if err != nil {
		return work.Seen{}, err
	}
	return s.Office.Open(ctx, me(ctx), state)
}

func (s *Server) confirm(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Remark string `json:"remark,omitempty" maxLength:"2000"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Confirm{Remark: in.Body.Remark})
	return s.done(ctx, state, err)
}

func (s *Server) sheet(ctx context.Context, seen work.Seen) (*body[requestSheet], error) {
	state, viewer, company := seen.State, seen.Viewer, s.Office.Company()
	out := requestSheet{
		RequestLine: s.head(ctx, state), AskerID: state.Asker, For: s.beneficiary(state), Answers: []answered{}, Price: shown(price.Price{}), Rungs: []rungView{}, Tasks: []TaskView{},
		History: []request.Entry{}, Allowed: list(state.Allowed(me(ctx))), Followers: []Named{}, Mails: []mailView{}, Whole: viewer.SeesRequest(), Asked: []taskQuestion{}, Files: []addedFile{},
		MayAnswer: []Named{}, Readings: []readingView{}, Ending: string(state.Ending), AsStaff: list(state.AllowedToLead(viewer)), Teams: []Named{},
	}
	if state.Status == request.Delivered {
		out.ConfirmBy = &state.ConfirmBy
	}
	if slices.Contains(out.AsStaff, "addTask") {
		for _, t := range company.Teams() {
			out.Teams = append(out.Teams, Named{Key: t.Key, Name: t.Name})
		}
	}
	if err := s.work(ctx, seen, &out); err != nil {
		return nil, err
	}
	silent, err := s.Office.Silent(ctx, me(ctx), state.ID)
	if err != nil {
		return nil, err
	}
	out.Silent = silent
	if !out.Whole {
		s.ofTeam(seen, &out)
		return answer(out, nil)
	}
	if slices.Contains(out.AsStaff, "hear") {
		out.MayAnswer = s.mayAnswer(state)
	}
	out.Allowed = append(out.Allowed, state.AllowedToReader(viewer)...)
	if seen.Offering != nil {
		out.Answers = s.inWords(seen.Offering, state, viewer.Whole())
	}
	if out.Readings, err = s.readings(ctx, state); err != nil {
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
	out.Price, out.Question, out.Via = shown(state.Price), s.question(state), state.For.Via.Words()
	for _, person := range state.Followers {
		out.Followers = append(out.Followers, Named{ID: person, Name: company.Name(person)})
	}
	mails, err := s.Office.MailsOf(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	for _, m := range mails {
		out.Mails = append(out.Mails, mailView{company.Name(m.Person), m.Subject, m.At, m.Mail, m.Trouble})
	}
	for _, r := range state.Rungs {
		out.Rungs = append(out.Rungs, s.rung(r))
	}
	return answer(out, nil)
}

// ofTeam fills in what those see who work on a request, or will, without seeing all
// of it: how the decisions stand, without their reasons, and the history of their
// own tasks.
func (s *Server) ofTeam(seen work.Seen, out *requestSheet) {
	state, viewer := seen.State, seen.Viewer
	if !viewer.Foreseen && len(viewer.Tasks) == 0 {
		return
	}
	for _, r := range state.Rungs {
		view := s.rung(r)
		view.Note = ""
		for i := range view.Seats {
			view.Seats[i].Said, view.Seats[i].Reason, view.Seats[i].Others = "", "", []otherView{}
		}
		out.Rungs = append(out.Rungs, view)
	}
	for _, e := range request.History(seen.Events, s.Office.Company(), viewer) {
		if e.Task != "" && slices.Contains(viewer.Tasks, e.Task) {
			out.History = append(out.History, e)
		}
	}
}

// mayAnswer lists who can answer for the asker's side.
func (s *Server) mayAnswer(state request.State) []Named {
	company := s.Office.Company()
	out := []Named{{ID: state.Asker, Name: company.Name(state.Asker)}}
	if b := state.Beneficiary(); b != "" && b != state.Asker {
		out = append(out, Named{ID: b, Name: company.Name(b)})
	}
	return out
}

// exportedRequest is one request as others can read it.
type exportedRequest struct {
	Format     string       `json:"format" enum:"heptad/request/1"`
	ExportedAt time.Time    `json:"exportedAt"`
	Request    requestSheet `json:"request" doc:"What the reader may see of it"`
}

func (s *Server) exportRequest(ctx context.Context, in *RequestInput) (*attachment[exportedRequest], error) {
	sheet, err := s.request(ctx, in)
	if err != nil {
		return nil, err
	}
	name := sheet.Body.Reference
	if name == "" {
		name = "draft"
	}
	return attached(name+".json", exportedRequest{"heptad/request/1", s.Office.Clock().UTC(), sheet.Body}), nil
}

// work fills in how the work on a request stands: its tasks, forecast, promise
// and what holds it up. Of the tasks of other teams who does not see the whole
// request sees no more than where they stand.
func (s *Server) work(ctx context.Context, seen work.Seen, out *requestSheet) error {
	state, viewer, c := seen.State, seen.Viewer, seen.Offering
	if c == nil {
		return nil
	}
	now := s.Office.Clock()
	f, err := s.Office.Forecast(ctx, state)
	if err != nil {
		return err
	}
	for _, t := range state.Tasks {
		view := s.taskView(ctx, state, t)
		if !out.Whole && !slices.Contains(viewer.Tasks, t.Key) {
			view = view.headOnly()
		}
		view.foresee(f)
		out.Tasks = append(out.Tasks, view)
		if q := t.Question; q != nil && out.Whole {
			out.Asked = append(out.Asked, taskQuestion{t.Key, t.Name, s.Office.Company().Name(q.By), q.Text, q.At, q.Until})
		}
	}
	var ahead *request.Forecast
	if underWay(state) {
		ahead, out.Forecast = &f, forecastOf(f)
		out.HeldUp = s.heldUp(state, f, c, now)
	}
	if len(state.Tasks) > 0 || ahead != nil {
		out.Chart = s.chart(f, c.Promise.Calendar(), now)
	}
	out.Promise = promiseLine(c, state, ahead, now)
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

// heldUp finds what a request waits for: what is stuck, else of what is in hand
// the step that the finish hangs on, else the one that has waited longest.
func (s *Server) heldUp(state request.State, f request.Forecast, c *offering.Compiled, now time.Time) *heldUp {
	company := s.Office.Company()
	if r, open := state.OpenRung(); open {
		names := []string{}
		for _, person := range r.Waiting() {
			names = append(names, company.Name(person))
		}
		if state.Status == request.Returned {
			names = []string{company.Name(state.Asker)}
		}
		return &heldUp{r.Name, strings.Join(names, ", "), reached(r.Opened), int(c.Promise.Calendar().Between(r.Opened, now).Minutes()), false}
	}
	var found *request.Task
	pressing := 0
	for i := range state.Tasks {
		t := &state.Tasks[i]
		if t.State.Ended() || t.State == plan.Blocked {
			continue
		}
		presses := 0
		if slot, _, _ := f.Step(t.Key); t.State == plan.Stuck {
			presses = 2
		} else if slot.Critical {
			presses = 1
		}
		if found == nil || presses > pressing || presses == pressing && t.ReadyAt.Before(found.ReadyAt) {
			found, pressing = t, presses
		}
	}
	if found == nil {
		return nil
	}
	out := &heldUp{What: found.Name, Since: reached(found.ReadyAt), Open: int(company.TeamHours(found.Team, c.Promise.Calendar()).Between(found.ReadyAt, now).Minutes()), Stuck: found.State == plan.Stuck}
	for _, h := range s.holders(state) {
		if strings.Contains(h.What, found.Name) {
			out.Who = h.Name
		}
	}
	return out
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

// answers gives the answers of a request in words, as far as a sight of it goes.
func (s *Server) answers(ctx context.Context, state request.State, sight request.Sight) ([]answered, error) {
	out := []answered{}
	if state.Status == request.Draft {
		return out, nil
	}
	c, err := s.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	return s.inWords(c, state, sight), nil
}

func (s *Server) inWords(c *offering.Compiled, state request.State, sight request.Sight) []answered {
	return state.InWords(c, s.Office.Company(), sight)
}

func (s *Server) rung(r request.Rung) rungView {
	company := s.Office.Company()
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

func reached(at time.Time) *time.Time {
	if at.IsZero() {
		return nil
	}
	return &at
}
