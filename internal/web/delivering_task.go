package web

import (
	"context"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

func (h delivering) take(ctx context.Context, in *TaskInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Take{Task: in.Task})
}

func (h delivering) retry(ctx context.Context, in *TaskInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Retry{Task: in.Task})
}

func (h delivering) correct(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Inputs map[string]string `json:"inputs" minProperties:"1" maxProperties:"30" doc:"Those that are corrected, by key"`
		Reason string            `json:"reason" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Retry{Task: in.Task, Inputs: in.Body.Inputs, Reason: in.Body.Reason})
}

func (h delivering) unaskAsker(ctx context.Context, in *TaskInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.UnaskAsker{Task: in.Task})
}

func (h delivering) doubt(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Text string `json:"text" maxLength:"2000" doc:"Why they are not eligible"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Doubt{Task: in.Task, Reason: in.Body.Text})
}

func (h delivering) complete(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Outputs map[string]string `json:"outputs,omitempty" maxProperties:"30" doc:"What came out of it, by key"`
		Word    string            `json:"word,omitempty" maxLength:"2000" doc:"To the asker"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Complete{Task: in.Task, Outputs: in.Body.Outputs, Word: in.Body.Word})
}

func (h delivering) handOver(ctx context.Context, in *struct {
	TaskInput
	Body handing
}) (*body[none], error) {
	return h.do(ctx, in.Request, in.Body.command(in.Task))
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

func (h delivering) check(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Point int  `json:"point" minimum:"0" maximum:"30"`
		Done  bool `json:"done"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Check{Task: in.Task, Point: in.Body.Point, Done: in.Body.Done})
}

func (h delivering) count(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		Line int `json:"line" minimum:"0" maximum:"1000"`
		Done int `json:"done" minimum:"0"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Count{Task: in.Task, Line: in.Body.Line, Done: in.Body.Done})
}

// TextInput is a text on a task.
type TextInput struct {
	TaskInput
	Body struct {
		Text string     `json:"text" maxLength:"2000"`
		To   request.To `json:"to,omitempty" doc:"Of a word or a note: who reads it; the team of the task, and of a word the asker's side, when left out"`
	}
}

func (h delivering) askAsker(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.AskAsker{Task: in.Task, Text: in.Body.Text})
}

func (h delivering) say(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Comment{Task: in.Task, Text: in.Body.Text, To: in.Body.To})
}

func (h delivering) note(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Note{Task: in.Task, Text: in.Body.Text, To: in.Body.To})
}

func (h delivering) getStuck(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.GetStuck{Task: in.Task, Reason: in.Body.Text})
}

func (h delivering) skip(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Skip{Task: in.Task, Reason: in.Body.Text})
}

func (h delivering) waive(ctx context.Context, in *struct {
	TaskInput
	Body struct {
		After  string `json:"after" maxLength:"80" doc:"Key of the task it need not wait for"`
		Reason string `json:"reason" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Waive{Task: in.Task, After: in.Body.After, Reason: in.Body.Reason})
}

// answerTask is the asker's answer to a question on a task.
func (h delivering) answerTask(ctx context.Context, in *TextInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.Answer{Task: in.Task, Text: in.Body.Text})
}

func (h delivering) confirmPart(ctx context.Context, in *TaskInput) (*body[none], error) {
	return h.do(ctx, in.Request, request.ConfirmPart{Task: in.Task})
}

func (h delivering) addTask(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Name         string `json:"name" maxLength:"200"`
		Team         string `json:"team" maxLength:"60" doc:"Key"`
		Instructions string `json:"instructions,omitempty" maxLength:"4000"`
		Effort       string `json:"effort,omitempty" maxLength:"20" doc:"Such as 2h"`
		Before       string `json:"before,omitempty" maxLength:"80" doc:"Key of a task that is to wait for it"`
		Reason       string `json:"reason" maxLength:"2000"`
	}
}) (*body[none], error) {
	b := in.Body
	return h.do(ctx, in.Request, request.AddTask{Name: b.Name, Team: b.Team, Instructions: b.Instructions, Effort: b.Effort, Before: b.Before, Reason: b.Reason})
}

func (h delivering) runNow(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Action string            `json:"action" maxLength:"60" doc:"Key, of those that the request lists"`
		Inputs map[string]string `json:"inputs,omitempty" maxProperties:"50" doc:"What the offering leaves to be typed"`
		Then   string            `json:"then,omitempty" maxLength:"80" doc:"Key of a task of the reader that ends in the same act"`
		Word   string            `json:"word,omitempty" maxLength:"2000" doc:"To the asker, with the end of that"`
	}
}) (*body[none], error) {
	b := in.Body
	return h.do(ctx, in.Request, request.RunNow{Action: b.Action, Inputs: b.Inputs, Then: b.Then, Word: b.Word})
}

// runView is an action that the reader may start from a request.
type runView struct {
	Action string  `json:"action" doc:"Key"`
	Name   string  `json:"name"`
	Text   string  `json:"text,omitempty"`
	Asks   []Named `json:"asks" nullable:"false" doc:"What is to be typed, by the key of the input"`
}

// runs lists the actions that the reader may start from a request.
func (h handlers) runs(ctx context.Context, state request.State, viewer request.Viewer, o *offering.Compiled) []runView {
	out := []runView{}
	for _, of := range state.Runs(viewer, o, func(team string) bool { return h.Office.Company().InTeam(me(ctx), team) }) {
		view := runView{of.Key, of.Name, of.Instructions, []Named{}}
		for _, asked := range o.Plan.Asks(of.Key) {
			view.Asks = append(view.Asks, Named{Key: asked.Key, Name: asked.Name})
		}
		out = append(out, view)
	}
	return out
}

func (h delivering) close(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Word string `json:"word" maxLength:"2000" doc:"How it ended, to the asker"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Close{Word: in.Body.Word})
}

func (h delivering) cancel(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Chosen string `json:"chosen,omitempty" maxLength:"200" doc:"Of the reasons that the request lists"`
		Reason string `json:"reason,omitempty" maxLength:"2000" doc:"In free words; needed where none is to be chosen"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Cancel{Chosen: in.Body.Chosen, Reason: in.Body.Reason})
}
