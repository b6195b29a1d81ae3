package web

import (
	"context"
	"time"

	"heptad/internal/work"
)

// shownBody is a value that was kept apart, in words.
type shownBody struct {
	Text string `json:"text"`
}

func (h following) readPrivate(ctx context.Context, in *struct {
	RequestInput
	Question string `path:"question" maxLength:"60" doc:"Key"`
	Body     struct {
		Task string `json:"task,omitempty" maxLength:"80" doc:"Key of the task of the reader's team that names it"`
		Rung string `json:"rung,omitempty" maxLength:"60" doc:"Key of the decision of the reader that names it"`
	}
}) (*body[shownBody], error) {
	text, err := h.Office.Following.ReadPrivate(ctx, me(ctx), in.Request, in.Question, work.Through(in.Body))
	return answer(shownBody{text}, err)
}

func (h following) readSecret(ctx context.Context, in *struct {
	TaskInput
	Output string `path:"output" maxLength:"60" doc:"Key"`
}) (*body[shownBody], error) {
	text, err := h.Office.Following.ReadSecret(ctx, me(ctx), in.Request, in.Task, in.Output)
	return answer(shownBody{text}, err)
}

// secretView is a secret that the reader can have shown.
type secretView struct {
	Request   string    `json:"request" doc:"ID"`
	Reference string    `json:"reference"`
	Title     string    `json:"title"`
	Task      string    `json:"task" doc:"Key"`
	Output    string    `json:"output" doc:"Key"`
	Name      string    `json:"name"`
	At        time.Time `json:"at"`
	Until     time.Time `json:"until" doc:"When it is forgotten"`
}

func (h following) secrets(ctx context.Context, _ *none) (*body[listOf[secretView]], error) {
	all, err := h.Office.Following.SecretsFor(ctx, me(ctx))
	out := listOf[secretView]{Entries: []secretView{}}
	for _, one := range all {
		out.Entries = append(out.Entries, secretView(one))
	}
	return answer(out, err)
}
