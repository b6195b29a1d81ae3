package web

import (
	"context"

	"heptad/internal/core/form"
	"heptad/internal/core/request"
)

func (s *Server) saveReturned(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Answers form.Answers `json:"answers" maxProperties:"500"`
	}
}) (*body[SavedForm], error) {
	f, err := s.Office.SaveReturned(ctx, me(ctx), in.Request, in.Body.Answers)
	if err != nil {
		return nil, err
	}
	return answer(s.saved(f), nil)
}

// done gives the sheet of a request after a command on it.
func (s *Server) done(ctx context.Context, state request.State, err error) (*body[requestSheet], error) {
	if err != nil {
		return nil, err
	}
	seen, err := s.Office.Open(ctx, me(ctx), state)
	if err != nil {
		return nil, err
	}
	return s.sheet(ctx, seen)
}

func (s *Server) resubmit(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Answers form.Answers `json:"answers,omitempty" maxProperties:"500" doc:"As they are now; those of the request when left out"`
		Reply   string       `json:"reply,omitempty" maxLength:"2000" doc:"Needed when no answer of the form changes"`
		Slip    string       `json:"slip,omitempty" maxLength:"60" doc:"As the form last had it"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Resubmit{Answers: in.Body.Answers, Reply: in.Body.Reply, Slip: in.Body.Slip})
	return s.done(ctx, state, err)
}

func (s *Server) withdraw(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Reason string `json:"reason,omitempty" maxLength:"2000"`
	}
}) (*body[requestSheet], error) {
	state, err := s.Office.Do(ctx, me(ctx), in.Request, request.Withdraw{Reason: in.Body.Reason})
	return s.done(ctx, state, err)
}

// comment answers with nothing: not all who may speak see the whole sheet.
func (s *Server) comment(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Text string `json:"text" maxLength:"2000"`
		Task string `json:"task,omitempty" maxLength:"80" doc:"Key of the task it is about"`

		To request.To `json:"to,omitempty" enum:"request,task,staff" doc:"Who reads it beside the asker's side, the service's owner and home lead: nobody, the team of the task, or all teams at work; those who have it in hand when left out"`
	}
}) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.Comment{Text: in.Body.Text, Task: in.Body.Task, To: in.Body.To})
	return answer(none{}, err)
}

func (s *Server) follow(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Person string `json:"person" maxLength:"60" doc:"ID"`
	}
}) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.Follow{Person: in.Body.Person})
	return answer(none{}, err)
}

func (s *Server) unfollow(ctx context.Context, in *struct {
	RequestInput
	Person string `path:"person" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	_, err := s.Office.Do(ctx, me(ctx), in.Request, request.Unfollow{Person: in.Person})
	return answer(none{}, err)
}
