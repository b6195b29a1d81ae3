package web

import (
	"context"
	"slices"

	"heptad/internal/core/money"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// taskSheet is one task with only the answers it needs.
type taskSheet struct {
	TaskLine
	Status       request.Status       `json:"status" doc:"Of the request"`
	Stages       []stage              `json:"stages" nullable:"false"`
	Instructions string               `json:"instructions"`
	UndoText     string               `json:"undoText,omitempty" doc:"What is to be done to take it back"`
	Answers      []answered           `json:"answers" nullable:"false" doc:"The slice of the task"`
	Calls        []answered           `json:"calls,omitempty" nullable:"false" doc:"What another system was asked for"`
	Others       []TaskView           `json:"others" nullable:"false" doc:"The other tasks of the request, without what came out of them"`
	MustDos      []mustDo             `json:"mustDos" nullable:"false"`
	Lines        []lineView           `json:"lines" nullable:"false"`
	Wanted       []wantedOutput       `json:"wanted" nullable:"false" doc:"What is to be said of it when it ends"`
	Expected     *expected            `json:"expected,omitempty" doc:"What it was expected to cost, of a task that says what it really cost"`
	Question     *taskQuestion        `json:"question,omitempty" doc:"What the asker was asked, while nobody has answered"`
	Words        []request.Entry      `json:"words" nullable:"false" doc:"What was said with the asker, and notes of staff"`
	Files        []addedFile          `json:"files" nullable:"false"`
	Colleagues   []colleague          `json:"colleagues" nullable:"false" doc:"Whom in the team it can be handed to"`
	Teams        []Named              `json:"teams" nullable:"false" doc:"It can be handed to"`
	MayAnswer    []Named              `json:"mayAnswer" nullable:"false" doc:"Who can answer for the asker's side"`
	Upward       string               `json:"upward,omitempty" doc:"Name of the next team upward"`
	Waits        []Named              `json:"waits" nullable:"false" doc:"Tasks it still waits for"`
	Promise      *request.PromiseLine `json:"promise,omitempty"`
	Forecast     *forecastView        `json:"forecast,omitempty"`
	Chart        *chartView           `json:"chart,omitempty"`
	Effort       string               `json:"effort,omitempty" doc:"Working time it takes, in words"`
	Runs         []runView            `json:"runs" nullable:"false" doc:"Actions that the reader may start"`
	Whole        bool                 `json:"whole" doc:"The whole request is open to the reader"`
	Wishes       []wishView           `json:"wishes,omitempty" nullable:"false" doc:"What who asks, and whom it is for, want those to know who work for them"`
}

type wishView struct {
	Name string `json:"name"`
	ProfileView
}

// ProfileView is what somebody says of themself.
type ProfileView struct {
	Address  string `json:"address,omitempty" maxLength:"120" doc:"How to address them"`
	Reach    string `json:"reach,omitempty" maxLength:"300" doc:"When they can be reached"`
	Help     string `json:"help,omitempty" maxLength:"500" doc:"What help they need"`
	Language string `json:"language,omitempty" maxLength:"35" doc:"BCP 47, to be spoken to in; that of the directory when left out"`
	Zone     string `json:"zone,omitempty" maxLength:"60" doc:"IANA, of the times they are told; that of where they are when left out"`
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

type TaskInput struct {
	RequestInput
	Task string `path:"task" maxLength:"80" doc:"Key"`
}

func (h delivering) task(ctx context.Context, in *TaskInput) (*body[taskSheet], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	key, state, viewer, c := in.Task, seen.State, seen.Viewer, seen.Offering
	t, ok := state.Task(key)
	if !ok || !viewer.SeesTask(key) {
		return nil, work.ErrNotFound
	}
	f, err := h.Office.Forecast(ctx, state)
	if err != nil {
		return nil, err
	}
	company, now := h.Office.Company(), h.Office.Clock()
	out := taskSheet{
		TaskLine: h.taskLine(ctx, state, key), Status: state.Status, Stages: stages(state), Instructions: t.Instructions, Others: []TaskView{},
		Answers: h.inWords(c, state, t.Sight()),
		MustDos: []mustDo{}, Lines: []lineView{}, Wanted: []wantedOutput{}, Words: []request.Entry{}, Files: []addedFile{}, Colleagues: []colleague{}, Teams: []Named{}, Waits: []Named{}, MayAnswer: h.mayAnswer(state), Runs: h.runs(ctx, state, viewer, c),
		Promise: state.PromiseLine(c, &f, now), Forecast: forecastOf(f.Outlook()), Chart: chartOf(h.Office.Company(), f, c.Promise.Calendar(), now), Whole: viewer.SeesRequest(),
	}
	if !t.State.Ended() {
		place, err := h.Office.Delivering.PlaceOf(ctx, state, t, f)
		if err != nil {
			return nil, err
		}
		h.press(&out.TaskLine, place)
		out.Late = f.TooLate() || out.Promise != nil && out.Promise.Late
		out.foresee(f)
	}
	wishes, err := h.Office.Delivering.Wishes(ctx, me(ctx), state, t)
	if err != nil {
		return nil, err
	}
	for _, w := range wishes {
		out.Wishes = append(out.Wishes, wishView{w.Name, ProfileView(w.Profile)})
	}
	if t.Undo != nil {
		out.UndoText = t.Undo.Text
	}
	if t.Kind == plan.Automatic {
		out.Calls = h.calls(ctx, state.ID, *t)
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
	h.conversation(seen, key, &out)
	h.passing(*t, &out)
	for _, other := range state.Tasks {
		if other.Key != key {
			view := h.taskView(ctx, state, other).headOnly()
			view.foresee(f)
			out.Others = append(out.Others, view)
		}
	}
	return answer(out, nil)
}

// calls says what another system was asked for, so that people can do it by
// hand.
func (h delivering) calls(ctx context.Context, id string, t request.Task) []answered {
	e, err := h.Office.Delivering.Called(ctx, id, t)
	if err != nil {
		return nil // it was not called yet
	}
	action, _ := plan.FindAction(h.Office.Connectors(), plan.Action{Connector: e.Connector, Do: e.Do})
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
func (h delivering) conversation(seen work.Seen, key string, out *taskSheet) {
	state, viewer := seen.State, seen.Viewer
	for _, e := range request.History(seen.Events, h.Office.Company(), viewer) {
		if e.Concerns(key) {
			out.Words = append(out.Words, e)
		}
	}
	for _, f := range state.Files {
		if f.Concerns(key) && f.Opens(viewer) {
			out.Files = append(out.Files, addedFile{Upload: f.Upload, By: h.Office.Company().Name(f.By), At: f.At})
		}
	}
}

// passing fills in to whom a task can be handed.
func (h delivering) passing(t request.Task, out *taskSheet) {
	company := h.Office.Company()
	for _, c := range h.Office.Delivering.Colleagues(t.Team) {
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
