package web

import (
	"context"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/work"
)

// readingView says that somebody had a value shown that is kept apart.
type readingView struct {
	Who  string    `json:"who" doc:"Name"`
	What string    `json:"what" doc:"Name of the question or the output"`
	As   string    `json:"as,omitempty" doc:"Name of the task or the decision it was for; empty for the asker, and for whom a secret is for"`
	At   time.Time `json:"at"`
}

func (s *Server) readings(ctx context.Context, state request.State) ([]readingView, error) {
	all, err := s.Office.Readings(ctx, state.ID)
	if err != nil || len(all) == 0 {
		return []readingView{}, err
	}
	c, err := s.Office.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, err
	}
	out := []readingView{}
	for _, r := range all {
		view := readingView{Who: s.Office.Company().Name(r.Person), What: r.Key, At: r.At}
		if r.Part == work.AnswerPart {
			if q, ok := c.Form.Question(r.Key); ok {
				view.What = q.ForStaff()
			}
		} else if t, ok := state.Task(r.Task); ok {
			view.What = s.outputs(ctx, state, *t)[r.Key].Name
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

// shownBody is a value that was kept apart, in words.
type shownBody struct {
	Text string `json:"text"`
}

func (s *Server) readPrivate(ctx context.Context, in *struct {
	RequestInput
	Question string `path:"question" maxLength:"60" doc:"Key"`
	Body     struct {
		Task string `json:"task,omitempty" maxLength:"80" doc:"Key of the task of the reader's team that names it"`
		Rung string `json:"rung,omitempty" maxLength:"60" doc:"Key of the decision of the reader that names it"`
	}
}) (*body[shownBody], error) {
	text, err := s.Office.ReadPrivate(ctx, me(ctx), in.Request, in.Question, work.Through(in.Body))
	return answer(shownBody{text}, err)
}

func (s *Server) readSecret(ctx context.Context, in *struct {
	TaskInput
	Output string `path:"output" maxLength:"60" doc:"Key"`
}) (*body[shownBody], error) {
	text, err := s.Office.ReadSecret(ctx, me(ctx), in.Request, in.Task, in.Output)
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

func (s *Server) secrets(ctx context.Context, _ *none) (*body[listOf[secretView]], error) {
	all, err := s.Office.SecretsFor(ctx, me(ctx))
	out := listOf[secretView]{Entries: []secretView{}}
	for _, one := range all {
		out.Entries = append(out.Entries, secretView(one))
	}
	return answer(out, err)
}
