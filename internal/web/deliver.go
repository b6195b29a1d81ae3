package web

import (
	"context"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/money"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// TaskLine is a task in a list.
type TaskLine struct {
	TaskView
	Request   string     `json:"request" doc:"ID"`
	Reference string     `json:"reference"`
	Title     string     `json:"title"`
	Asker     string     `json:"asker"`
	For       string     `json:"for" doc:"Name of who it is for"`
	TeamKey   string     `json:"teamKey"`
	Since     time.Time  `json:"since" doc:"When it became ready"`
	Yours     bool       `json:"yours" doc:"Whether the reader has taken it"`
	Allowed   []string   `json:"allowed" nullable:"false"`
	Latest    *time.Time `json:"latest,omitempty" doc:"When it must begin so that the promise is kept, or end once it has begun; lists are ordered by it"`
	Slack     *int       `json:"slack,omitempty" doc:"Open minutes of the team's calendar until then; negative when that is over"`
	Due       *time.Time `json:"due,omitempty" doc:"When it must end"`
	Late      bool       `json:"late,omitempty" doc:"Its request is late, or will likely be"`
}

// taskSheet is one task with only the answers it needs.
type taskSheet struct {
	TaskLine
	Status       request.Status  `json:"status" enum:"delivering,waiting,delivered,undoing,closed" doc:"Of the request"`
	Stages       []stage         `json:"stages" nullable:"false"`
	Instructions string          `json:"instructions"`
	UndoText     string          `json:"undoText,omitempty" doc:"What is to be done to take it back"`
	Answers      []answered      `json:"answers" nullable:"false" doc:"The slice of the task"`
	Calls        []answered      `json:"calls,omitempty" nullable:"false" doc:"What another system was asked for"`
	Others       []TaskView      `json:"others" nullable:"false" doc:"The other tasks of the request, without what came out of them"`
	MustDos      []mustDo        `json:"mustDos" nullable:"false"`
	Lines        []lineView      `json:"lines" nullable:"false"`
	Wanted       []wantedOutput  `json:"wanted" nullable:"false" doc:"What is to be said of it when it ends"`
	Expected     *expected       `json:"expected,omitempty" doc:"What it was expected to cost, of a task that says what it really cost"`
	Question     *taskQuestion   `json:"question,omitempty" doc:"What the asker was asked, while nobody has answered"`
	Words        []request.Entry `json:"words" nullable:"false" doc:"What was said with the asker, and notes of staff"`
	Files        []addedFile     `json:"files" nullable:"false"`
	Colleagues   []colleague     `json:"colleagues" nullable:"false" doc:"Whom in the team it can be handed to"`
	Teams        []Named         `json:"teams" nullable:"false" doc:"It can be handed to"`
	MayAnswer    []Named         `json:"mayAnswer" nullable:"false" doc:"Who can answer for the asker's side"`
	Upward       string          `json:"upward,omitempty" doc:"Name of the next team upward"`
	Waits        []Named         `json:"waits" nullable:"false" doc:"Tasks it still waits for"`
	Promise      *promiseView    `json:"promise,omitempty"`
	Forecast     *forecastView   `json:"forecast,omitempty"`
	Chart        *chartView      `json:"chart,omitempty"`
	Effort       string          `json:"effort,omitempty" doc:"Working time it takes, in words"`
	Whole        bool            `json:"whole" doc:"The whole request is open to the reader"`
}

// wantedOutput is what is to be said of a task, with what is known already.
type wantedOutput struct {
	plan.Output
	Value string `json:"value,omitempty" doc:"As it is typed; the ID of a file"`
}

// expected is what was expected to be paid once.
type expected struct {
	Lines []price.Line `json:"lines" nullable:"false"`
	Once  money.Amount `json:"once"`
}

// expectedOf is what the picks of a task were expected to cost: those of what it
// is made for, else all.
func expectedOf(state request.State, t request.Task) *expected {
	if !slices.ContainsFunc(t.Comes, func(c request.Coming) bool { return c.Real }) {
		return nil
	}
	out := &expected{Lines: []price.Line{}, Once: state.Price.Once}
	total := money.Zero(state.Price.Once.Currency())
	for _, line := range state.Price.Lines {
		if t.Each != nil && t.Each.Key != "" && line.Item != t.Each.Key {
			continue
		}
		out.Lines = append(out.Lines, line)
		if sum, err := total.Plus(line.Sum); err == nil && line.Per == price.Once {
			total = sum
		}
	}
	if t.Each != nil && t.Each.Key != "" {
		out.Once = total
	}
	return out
}

type mustDo struct {
	Text string `json:"text"`
	Done bool   `json:"done"`
}

type lineView struct {
	Name string `json:"name"`
	Of   int    `json:"of"`
	Done int    `json:"done"`
}

type colleague struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Absent bool   `json:"absent"`
}

// TasksInput says which tasks are listed, and how.
type TasksInput struct {
	PageInput
	Team     string `query:"team" maxLength:"60" doc:"Key of one of the reader's teams"`
	Who      string `query:"who" enum:",mine,free,others"`
	State    string `query:"state" enum:",ready,taken,asking,stuck,undoing"`
	Service  string `query:"service" maxLength:"60"`
	Offering string `query:"offering" maxLength:"60"`
	Late     bool   `query:"late" doc:"Only those that must have begun"`
	Words    string `query:"words" maxLength:"100"`
	Sort     string `query:"sort" enum:",ready,due" doc:"By latest start when left out"`
}

func (s *Server) myTasks(ctx context.Context, in *TasksInput) (*body[listOf[TaskLine]], error) {
	q := work.Tasks{Page: in.page(), Who: in.Who, State: in.State, Service: in.Service, Offering: in.Offering, Late: in.Late, Words: in.Words, Sort: in.Sort}
	if in.Team != "" {
		q.Teams = []string{in.Team}
	}
	entries, err := s.Office.Tasks(ctx, me(ctx), q)
	if err != nil {
		return nil, err
	}
	out := listOf[TaskLine]{Entries: make([]TaskLine, len(entries))}
	for i, e := range entries {
		line := s.taskLine(ctx, e.State, e.Key)
		s.press(&line, e.Place)
		line.Late = e.Late
		out.Entries[i] = line
	}
	if len(entries) == in.Limit {
		out.Next = entries[in.Limit-1].Next
	}
	return answer(out, nil)
}

// press says until when a task must begin, or end once it has begun.
func (s *Server) press(line *TaskLine, at work.Place) {
	if at.Due.IsZero() {
		return
	}
	line.Latest, line.Due = reached(at.Latest), reached(at.Due)
	slack := int(s.Office.Slack(line.TeamKey, at.Latest).Minutes())
	line.Slack = &slack
}

func (s *Server) taskLine(ctx context.Context, state request.State, key string) TaskLine {
	t, _ := state.Task(key)
	holder := t.Holder
	if t.Undo != nil {
		holder = t.Undo.Holder
	}
	return TaskLine{
		TaskView: s.taskView(ctx, state, *t), Request: state.ID, Reference: state.Reference, Title: state.Title, TeamKey: t.Team,
		Asker: s.Office.Company().Name(state.Asker), For: s.beneficiary(state), Since: t.ReadyAt, Yours: holder == me(ctx),
		Allowed: list(state.AllowedOn(*t, me(ctx), s.Office.Viewer(me(ctx), state))),
	}
}

type TaskInput struct {
	RequestInput
	Task string `path:"task" maxLength:"80" doc:"Key"`
}

func (s *Server) task(ctx context.Context, in *TaskInput) (*body[taskSheet], error) {
	seen, err := s.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	return s.taskSheet(ctx, seen, in.Task)
}

func (s *Server) taskSheet(ctx context.Context, seen work.Seen, key string) (*body[taskSheet], error) {
	state, viewer, c := seen.State, seen.Viewer, seen.Offering
	t, ok := state.Task(key)
	if !ok || !viewer.SeesTask(key) {
		return nil, work.ErrNotFound
	}
	f, err := s.Office.Forecast(ctx, state)
	if err != nil {
		return nil, err
	}
	company, now := s.Office.Company(), s.Office.Clock()
	out := taskSheet{
		TaskLine: s.taskLine(ctx, state, key), Status: state.Status, Stages: stages(state), Instructions: t.Instructions, Others: []TaskView{},
		Answers: s.inWords(c, state, t.Sight()),
		MustDos: []mustDo{}, Lines: []lineView{}, Wanted: []wantedOutput{}, Words: []request.Entry{}, Files: []addedFile{}, Colleagues: []colleague{}, Teams: []Named{}, Waits: []Named{}, MayAnswer: s.mayAnswer(state),
		Promise: promiseLine(c, state, &f, now), Forecast: forecastOf(f), Chart: s.chart(f, c.Promise.Calendar(), now), Whole: viewer.SeesRequest(),
	}
	if !t.State.Ended() {
		place, err := s.Office.PlaceOf(ctx, state, t, f)
		if err != nil {
			return nil, err
		}
		s.press(&out.TaskLine, place)
		out.Late = f.TooLate() || out.Promise != nil && out.Promise.Late
		out.foresee(f)
	}
	if t.Undo != nil {
		out.UndoText = t.Undo.Text
	}
	if t.Kind == plan.Automatic {
		out.Calls = s.calls(ctx, state.ID, *t)
	}
	for _, m := range t.MustDos {
		out.MustDos = append(out.MustDos, mustDo(m))
	}
	for _, l := range t.Lines {
		out.Lines = append(out.Lines, lineView(l))
	}
	if t.Of != "" {
		for _, o := range c.Plan.Outputs(t.Of) {
			out.Wanted = append(out.Wanted, wantedOutput{o, t.Outputs[o.Key]})
		}
		out.Expected = expectedOf(state, *t)
		if effort := c.Plan.Effort(t.Of); !effort.IsZero() {
			out.Effort = effort.Words()
		}
	}
	if q := t.Question; q != nil {
		out.Question = &taskQuestion{t.Key, t.Name, company.Name(q.By), q.Text, q.At, q.Until}
	}
	for _, key := range t.Waits() {
		if before, ok := state.Task(key); ok && !before.State.Ended() {
			out.Waits = append(out.Waits, Named{Key: key, Name: before.Name})
		}
	}
	s.conversation(seen, key, &out)
	s.passing(*t, &out)
	for _, other := range state.Tasks {
		if other.Key != key {
			view := s.taskView(ctx, state, other).headOnly()
			view.foresee(f)
			out.Others = append(out.Others, view)
		}
	}
	return answer(out, nil)
}

// calls says what another system was asked for, so that people can do it by
// hand.
func (s *Server) calls(ctx context.Context, id string, t request.Task) []answered {
	e, err := s.Office.Called(ctx, id, t)
	if err != nil {
		return nil // it was not called yet
	}
	action, _ := plan.FindAction(s.Office.Connectors(), plan.Action{Connector: e.Connector, Do: e.Do})
	var out []answered
	for _, field := range action.Inputs {
		text := e.Inputs[field.Key]
		if text == "" {
			text = e.Outputs[field.Key]
		}
		if text != "" {
			out = append(out, answered{Key: field.Key, Label: field.Name, Text: text})
		}
	}
	return out
}

// conversation fills in what was said with the asker, the notes of staff, and
// the files that came later: those on the task, on none, and on others for this
// team, too.
func (s *Server) conversation(seen work.Seen, key string, out *taskSheet) {
	state, viewer := seen.State, seen.Viewer
	for _, e := range request.History(seen.Events, s.Office.Company(), viewer) {
		if e.Concerns(key) {
			out.Words = append(out.Words, e)
		}
	}
	for _, f := range state.Files {
		if f.Concerns(key) && f.Opens(viewer) {
			out.Files = append(out.Files, addedFile{Upload: f.Upload, By: s.Office.Company().Name(f.By), At: f.At})
		}
	}
}

// passing fills in to whom a task can be handed.
func (s *Server) passing(t request.Task, out *taskSheet) {
	company := s.Office.Company()
	for _, c := range s.Office.Colleagues(t.Team) {
		if c.ID != t.Holder {
			out.Colleagues = append(out.Colleagues, colleague{c.ID, c.Name, c.Absent})
		}
	}
	team, _ := company.Team(t.Team)
	if team.Upward != "" {
		out.Upward = company.TeamName(team.Upward)
	}
	for _, other := range company.Teams() {
		if other.Key != t.Team {
			out.Teams = append(out.Teams, Named{Key: other.Key, Name: other.Name})
		}
	}
}

func (s *Server) onTask(ctx context.Context, in TaskInput, c request.Command) (*body[taskSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, c)
	if err != nil {
		return nil, err
	}
	seen, err := s.Office.Open(ctx, me(ctx), state)
	var sheet *body[taskSheet]
	if err == nil {
		sheet, err = s.taskSheet(ctx, seen, in.Task)
	}
	if errors.Is(err, work.ErrNotFound) { // it went to a team of others
		return answer(taskSheet{
			TaskLine: TaskLine{TaskView: TaskView{After: []string{}, Outputs: []answered{}}, Allowed: []string{}}, Stages: []stage{}, Answers: []answered{}, Others: []TaskView{},
			MustDos: []mustDo{}, Lines: []lineView{}, Wanted: []wantedOutput{}, Words: []request.Entry{}, Files: []addedFile{}, Colleagues: []colleague{}, Teams: []Named{}, Waits: []Named{}, MayAnswer: []Named{},
		}, nil)
	}
	return sheet, err
}

func (s *Server) take(ctx context.Context, in *TaskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, *in, request.Take{Task: in.Task})
}

func (s *Server) retry(ctx context.Context, in *TaskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, *in, request.Retry{Task: in.Task})
}

func (s *Server) correct(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Inputs map[string]string `json:"inputs" minProperties:"1" maxProperties:"30" doc:"Those that are corrected, by key"`
		Reason string            `json:"reason" maxLength:"2000"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Retry{Task: in.Task, Inputs: in.Body.Inputs, Reason: in.Body.Reason})
}

func (s *Server) unaskAsker(ctx context.Context, in *TaskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, *in, request.UnaskAsker{Task: in.Task})
}

func (s *Server) doubt(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Text string `json:"text" maxLength:"2000" doc:"Why they are not eligible"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Doubt{Task: in.Task, Reason: in.Body.Text})
}

func (s *Server) complete(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Outputs map[string]string `json:"outputs,omitempty" maxProperties:"30" doc:"What came out of it, by key"`
		Word    string            `json:"word,omitempty" maxLength:"2000" doc:"To the asker"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Complete{Task: in.Task, Outputs: in.Body.Outputs, Word: in.Body.Word})
}

func (s *Server) handOver(ctx context.Context, in *struct {
	TaskInput
	Body handing
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, in.Body.command(in.Task))
}

// handing says to whom a task goes.
type handing struct {
	Person string `json:"person,omitempty" maxLength:"60" doc:"ID of a member of the team; nobody in particular when left out"`
	Team   string `json:"team,omitempty" maxLength:"60" doc:"Key; the same team when left out"`
	Upward bool   `json:"upward,omitempty" doc:"To the next team upward"`
	Reason string `json:"reason,omitempty" maxLength:"2000" doc:"Needed when it leaves the team"`
}

func (h handing) command(task string) request.HandOver {
	return request.HandOver{Task: task, Person: h.Person, Team: h.Team, Upward: h.Upward, Reason: h.Reason}
}

func (s *Server) check(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Point int  `json:"point" minimum:"0" maximum:"30"`
		Done  bool `json:"done"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Check{Task: in.Task, Point: in.Body.Point, Done: in.Body.Done})
}

func (s *Server) count(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Line int `json:"line" minimum:"0" maximum:"1000"`
		Done int `json:"done" minimum:"0"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Count{Task: in.Task, Line: in.Body.Line, Done: in.Body.Done})
}

// TextInput is a text on a task.
type TextInput struct {
	TaskInput
	Body struct {
		Text string     `json:"text" maxLength:"2000"`
		To   request.To `json:"to,omitempty" enum:"request,task,staff" doc:"Of a word or a note: who reads it; the team of the task, and of a word the asker's side, when left out"`
	}
}

func (s *Server) askAsker(ctx context.Context, in *TextInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.AskAsker{Task: in.Task, Text: in.Body.Text})
}

func (s *Server) say(ctx context.Context, in *TextInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Comment{Task: in.Task, Text: in.Body.Text, To: in.Body.To})
}

func (s *Server) note(ctx context.Context, in *TextInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Note{Task: in.Task, Text: in.Body.Text, To: in.Body.To})
}

func (s *Server) getStuck(ctx context.Context, in *TextInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.GetStuck{Task: in.Task, Reason: in.Body.Text})
}

func (s *Server) skip(ctx context.Context, in *TextInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Skip{Task: in.Task, Reason: in.Body.Text})
}

func (s *Server) waive(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		After  string `json:"after" maxLength:"80" doc:"Key of the task it need not wait for"`
		Reason string `json:"reason" maxLength:"2000"`
	}
}) (*body[taskSheet], error) {
	return s.onTask(ctx, in.TaskInput, request.Waive{Task: in.Task, After: in.Body.After, Reason: in.Body.Reason})
}

// answerTask is the asker's answer to a question on a task.
func (s *Server) answerTask(ctx context.Context, in *TextInput) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Answer{Task: in.Task, Text: in.Body.Text})
	return s.done(ctx, state, err)
}

func (s *Server) confirmPart(ctx context.Context, in *TaskInput) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.ConfirmPart{Task: in.Task})
	return answer(none{}, err)
}

func (s *Server) addTask(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Name         string `json:"name" maxLength:"200"`
		Team         string `json:"team" maxLength:"60" doc:"Key"`
		Instructions string `json:"instructions,omitempty" maxLength:"4000"`
		Effort       string `json:"effort,omitempty" maxLength:"20" doc:"Such as 2h"`
		Before       string `json:"before,omitempty" maxLength:"80" doc:"Key of a task that is to wait for it"`
		Reason       string `json:"reason" maxLength:"2000"`
	}
}) (*body[requestSheet], error) {
	b := in.Body
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.AddTask{Name: b.Name, Team: b.Team, Instructions: b.Instructions, Effort: b.Effort, Before: b.Before, Reason: b.Reason})
	return s.done(ctx, state, err)
}

func (s *Server) cancel(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Reason string `json:"reason" maxLength:"2000"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Cancel{Reason: in.Body.Reason})
	return s.done(ctx, state, err)
}

// oneTask names a task of a request.
type oneTask struct {
	Request string `json:"request" maxLength:"60"`
	Task    string `json:"task" maxLength:"80"`
}

// taskResult says of each task whether it was done to it.
type taskResult struct {
	Request string `json:"request"`
	Task    string `json:"task"`
	Problem string `json:"problem,omitempty" doc:"Why it was not done"`
}

func (s *Server) severalTasks(ctx context.Context, in *struct {
	Body struct {
		Deed  string    `json:"deed" enum:"take,complete,handOver,retry"`
		Word  string    `json:"word,omitempty" maxLength:"2000" doc:"To the askers, when the tasks end"`
		To    handing   `json:"to,omitempty" doc:"To whom they are handed over"`
		Tasks []oneTask `json:"tasks" minItems:"1" maxItems:"200" nullable:"false"`
	}
}) (*body[listOf[taskResult]], error) {
	out := listOf[taskResult]{Entries: []taskResult{}}
	for _, t := range in.Body.Tasks {
		command := map[string]request.Command{
			"take": request.Take{Task: t.Task}, "complete": request.Complete{Task: t.Task, Word: in.Body.Word},
			"handOver": in.Body.To.command(t.Task), "retry": request.Retry{Task: t.Task},
		}[in.Body.Deed]
		result := taskResult{Request: t.Request, Task: t.Task}
		_, err := s.Office.Do(ctx, me(ctx), t.Request, command)
		refusal, refused := request.AsRefusal(err)
		switch {
		case refused:
			result.Problem = refusal.Sentence
		case errors.Is(err, work.ErrNotFound):
			result.Problem = "This task is not there, or is not yours."
		case err != nil:
			return nil, err
		}
		out.Entries = append(out.Entries, result)
	}
	return answer(out, nil)
}
