package web

import (
	"context"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/store"
	"heptad/internal/work"
)

// TaskLine is a task in a list.
type TaskLine struct {
	TaskView
	Request   string    `json:"request" doc:"ID"`
	Reference string    `json:"reference"`
	Title     string    `json:"title"`
	Asker     string    `json:"asker"`
	Since     time.Time `json:"since" doc:"When it became ready"`
	Yours     bool      `json:"yours" doc:"Whether the reader has taken it"`
	Allowed   []string  `json:"allowed" nullable:"false"`
}

// taskSheet is one task with only the answers it needs.
type taskSheet struct {
	TaskLine
	Instructions string     `json:"instructions"`
	Answers      []answered `json:"answers" nullable:"false" doc:"The slice of the task"`
	Others       []TaskView `json:"others" nullable:"false" doc:"The other tasks of the request, without what came out of them"`
}

func (s *Server) myTasks(ctx context.Context, in *PageInput) (*body[listOf[TaskLine]], error) {
	entries, err := s.Office.Store.TasksOf(ctx, me(ctx), in.page())
	return answer(listing(entries, in.Limit, func(e store.Entry) TaskLine { return s.taskLine(ctx, e.State, e.Key) }), err)
}

func (s *Server) taskLine(ctx context.Context, state request.State, key string) TaskLine {
	t, _ := state.Task(key)
	return TaskLine{
		TaskView: s.taskView(state, *t), Request: state.ID, Reference: state.Reference, Title: state.Title,
		Asker: s.Office.Company().Name(state.Asker), Since: t.ReadyAt, Yours: t.Holder == me(ctx),
		Allowed: list(state.AllowedOn(*t, me(ctx), s.Office.Company())),
	}
}

type taskInput struct {
	RequestInput
	Task string `path:"task" maxLength:"60" doc:"Key"`
}

func (s *Server) task(ctx context.Context, in *taskInput) (*body[taskSheet], error) {
	state, err := s.Office.Store.Request(ctx, in.Request)
	if err != nil {
		return nil, err
	}
	return s.taskSheet(ctx, state, in.Task)
}

func (s *Server) taskSheet(ctx context.Context, state request.State, key string) (*body[taskSheet], error) {
	t, ok := state.Task(key)
	if !ok || !s.Office.Viewer(me(ctx), state).SeesTask(key) {
		return nil, work.ErrNotFound
	}
	answers, err := s.answers(ctx, state, list(t.Slice))
	if err != nil {
		return nil, err
	}
	out := taskSheet{TaskLine: s.taskLine(ctx, state, key), Instructions: t.Instructions, Answers: answers, Others: []TaskView{}}
	for _, other := range state.Tasks {
		if other.Key != key {
			view := s.taskView(state, other)
			view.Outputs, view.Trouble = []answered{}, ""
			out.Others = append(out.Others, view)
		}
	}
	return answer(out, nil)
}

func (s *Server) onTask(ctx context.Context, in *taskInput, c request.Command) (*body[taskSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, c)
	if err != nil {
		return nil, err
	}
	return s.taskSheet(ctx, state, in.Task)
}

func (s *Server) take(ctx context.Context, in *taskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in, request.Take{Task: in.Task})
}

func (s *Server) complete(ctx context.Context, in *taskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in, request.Complete{Task: in.Task})
}

func (s *Server) retry(ctx context.Context, in *taskInput) (*body[taskSheet], error) {
	return s.onTask(ctx, in, request.Retry{Task: in.Task})
}
