package web

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/work"
)

// TaskLine is a task in a list.
type TaskLine struct {
	TaskView
	Request   string          `json:"request" doc:"ID"`
	Reference string          `json:"reference"`
	Title     string          `json:"title"`
	Asker     string          `json:"asker"`
	For       string          `json:"for" doc:"Name of who it is for"`
	TeamKey   string          `json:"teamKey"`
	Since     time.Time       `json:"since" doc:"When it became ready"`
	Yours     bool            `json:"yours" doc:"Whether the reader has taken it"`
	Allowed   []request.Offer `json:"allowed" nullable:"false"`
	Latest    *time.Time      `json:"latest,omitempty" doc:"When it must begin so that the promise is kept, or end once it has begun; lists are ordered by it"`
	Slack     *int            `json:"slack,omitempty" doc:"Open minutes of the team's calendar until then; negative when that is over"`
	Due       *time.Time      `json:"due,omitempty" doc:"When it must end"`
	Late      bool            `json:"late,omitempty" doc:"Its request is late, or will likely be"`
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

func (h delivering) myTasks(ctx context.Context, in *TasksInput) (*body[deskOf[TaskLine]], error) {
	q := work.Tasks{Page: in.page(), Who: in.Who, State: in.State, Service: in.Service, Offering: in.Offering, Late: in.Late, Words: in.Words, Sort: in.Sort}
	if in.Team != "" {
		q.Teams = []string{in.Team}
	}
	entries, err := h.Office.Delivering.Tasks(ctx, me(ctx), q)
	if err != nil {
		return nil, err
	}
	out := deskOf[TaskLine]{Entries: make([]TaskLine, len(entries))}
	for i, e := range entries {
		line := h.taskLine(ctx, e.State, e.Key)
		h.press(&line, e.Place)
		line.Late = e.Late
		out.Entries[i] = line
	}
	if len(entries) == in.Limit {
		out.Next = entries[in.Limit-1].Next
	}
	if first := firstOf(out.Entries, func(t TaskLine) bool { return t.Yours }); first != nil {
		out.First = first.Request + "/" + first.Key
	}
	return answer(out, nil)
}

// press says until when a task must begin, or end once it has begun.
func (h delivering) press(line *TaskLine, at work.Place) {
	if at.Due.IsZero() {
		return
	}
	line.Latest, line.Due = reached(at.Latest), reached(at.Due)
	slack := int(h.Office.Delivering.Slack(line.TeamKey, at.Latest).Minutes())
	line.Slack = &slack
}

func (h delivering) taskLine(ctx context.Context, state request.State, key string) TaskLine {
	t, _ := state.Task(key)
	holder := t.Holder
	if t.Undo != nil {
		holder = t.Undo.Holder
	}
	return TaskLine{
		TaskView: h.taskView(ctx, state, *t), Request: state.ID, Reference: state.Reference, Title: state.Title, TeamKey: t.Team,
		Asker: h.Office.Company().Name(state.Asker), For: h.beneficiary(state), Since: t.ReadyAt, Yours: holder == me(ctx),
		Allowed: list(state.AllowedOn(*t, me(ctx), h.Office.Viewer(me(ctx), state))),
	}
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

func (h delivering) severalTasks(ctx context.Context, in *struct {
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
		_, err := h.Office.Do(ctx, me(ctx), t.Request, command)
		why, refused := request.AsRefusal(err)
		switch {
		case refused:
			result.Problem = why.Sentence
		case errors.Is(err, work.ErrNotFound):
			result.Problem = "This task is not there, or is not yours."
		case err != nil:
			return nil, err
		}
		out.Entries = append(out.Entries, result)
	}
	return answer(out, nil)
}

// partToConfirm is a task that the reader is to confirm a part of.
type partToConfirm struct {
	Request      string `json:"request"`
	Task         string `json:"task"`
	Name         string `json:"name"`
	Title        string `json:"title"`
	Asker        string `json:"asker"`
	Instructions string `json:"instructions"`
	Confirmed    string `json:"confirmed" doc:"Such as 2 of 5"`
}

func (h delivering) toConfirm(ctx context.Context, _ *none) (*body[listOf[partToConfirm]], error) {
	entries, err := h.Office.Delivering.ToConfirm(ctx, me(ctx))
	out := listOf[partToConfirm]{Entries: []partToConfirm{}}
	for _, e := range entries {
		if t, ok := e.State.Task(e.Key); ok {
			out.Entries = append(out.Entries, partToConfirm{e.State.ID, e.Key, t.Name, e.State.Title, h.Office.Company().Name(e.State.Asker), t.Instructions, confirmed(*t)})
		}
	}
	return answer(out, err)
}
