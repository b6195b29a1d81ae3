package web

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/work"
)

// MessageView is something the reader was told.
type MessageView struct {
	ID      string       `json:"id"`
	Kind    message.Kind `json:"kind"`
	Subject string       `json:"subject"`
	Text    string       `json:"text"`
	At      time.Time    `json:"at"`
	Read    bool         `json:"read"`
	Request string       `json:"request" doc:"ID"`
	Rung    string       `json:"rung,omitempty" doc:"Key, when it is about a decision of the reader"`
	Task    string       `json:"task,omitempty" doc:"Key, when it is about a task of the reader's team"`
	Mail    string       `json:"mail" enum:"off,waiting,sending,sent,failed" doc:"What became of it by mail"`
}

func messageView(m work.Message) MessageView {
	return MessageView{m.ID, m.Kind, m.Subject, m.Body, m.At, m.Read, m.Request, m.Rung, m.Task, m.Mail}
}

func (h messaging) messages(ctx context.Context, in *struct {
	PageInput
	Unread bool `query:"unread"`
}) (*body[listOf[MessageView]], error) {
	all, err := h.Office.Messaging.Messages(ctx, me(ctx), in.Unread, in.page())
	out := listOf[MessageView]{Entries: []MessageView{}}
	for _, m := range all {
		out.Entries = append(out.Entries, messageView(m))
	}
	if len(all) == in.Limit {
		last := all[len(all)-1]
		out.Next = last.ID
	}
	return answer(out, err)
}

// oneMessage gives a message of the reader, with the rung or task that it leads
// to; the whole request when it has neither.
func (h messaging) oneMessage(ctx context.Context, in *struct {
	Message string `path:"message" maxLength:"60" doc:"ID"`
}) (*body[MessageView], error) {
	m, err := h.Office.Messaging.MessageOf(ctx, me(ctx), in.Message)
	if err != nil {
		return nil, err
	}
	view := messageView(m)
	if m.Request == "" {
		return answer(view, nil)
	}
	state, viewer, err := h.Office.Glance(ctx, me(ctx), m.Request)
	if errors.Is(err, work.ErrNotFound) { // it is no business of theirs any more, what they were told is
		view.Rung, view.Task = "", ""
		return answer(view, nil)
	}
	if err != nil {
		return nil, err
	}
	if m.Kind != message.Decide && m.Kind != message.Remind && m.Kind != message.Answered {
		view.Rung = ""
	}
	if view.Rung == "" && !viewer.SeesRequest() {
		for i := range state.Rungs { // who only decides sees the decision
			if state.Rungs[i].HasSeat(me(ctx)) {
				view.Rung = state.Rungs[i].Key
			}
		}
	}
	return answer(view, nil)
}

func (h messaging) readMessages(ctx context.Context, in *struct {
	Body struct {
		Message string `json:"message,omitempty" maxLength:"60" doc:"ID of one; all when both are left out"`
		Request string `json:"request,omitempty" maxLength:"60" doc:"ID: all on one request"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Messaging.ReadMessages(ctx, me(ctx), in.Body.Message, in.Body.Request))
}

// wayView is a way with what its messages tell.
type wayView struct {
	message.Way
	Words string `json:"words" doc:"What its messages tell"`
}

func (h messaging) ways(ctx context.Context, _ *none) (*body[listOf[wayView]], error) {
	all, err := h.Office.Messaging.WaysOf(ctx, me(ctx))
	out := listOf[wayView]{Entries: []wayView{}}
	for _, way := range all {
		out.Entries = append(out.Entries, wayView{way, way.Kind.Words()})
	}
	return answer(out, err)
}

func (h messaging) setWay(ctx context.Context, in *struct{ Body message.Way }) (*body[none], error) {
	return answer(none{}, h.Office.Messaging.SetWay(ctx, me(ctx), in.Body))
}

// textView is a prepared text with what it is for.
type textView struct {
	message.Text
	Words string `json:"words" doc:"What messages of the kind tell"`
	Usual bool   `json:"usual" doc:"Whether it is as it came with the program"`

	Supplied *message.Text `json:"supplied,omitempty" doc:"As it came with the program, where somebody wrote another"`
	Renewed  bool          `json:"renewed,omitempty" doc:"The program has changed its own since the other was written"`
}

// textsBody are the general texts, and what they can read.
type textsBody struct {
	Entries []textView `json:"entries" nullable:"false"`
	Names   []string   `json:"names" nullable:"false" doc:"What placeholders can read, such as request.title"`
	Yours   bool       `json:"yours,omitempty" doc:"The reader may change them"`
}

func (h messaging) texts(ctx context.Context, _ *none) (*body[textsBody], error) {
	all, err := h.Office.Messaging.Texts(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := textsBody{Entries: []textView{}, Names: message.Names(), Yours: h.Office.Has(me(ctx), people.Administrator)}
	supplied, renewed, err := h.Office.Messaging.SuppliedTexts(ctx)
	for i, usual := range message.Usual() {
		view := textView{Text: all[i], Words: all[i].Kind.Words(), Usual: all[i] == usual, Renewed: renewed[all[i].Kind]}
		if was, other := supplied[all[i].Kind]; other {
			view.Supplied = &was
		}
		out.Entries = append(out.Entries, view)
	}
	return answer(out, err)
}

func (h messaging) setText(ctx context.Context, in *struct{ Body message.Text }) (*body[none], error) {
	return answer(none{}, h.Office.Messaging.SetText(ctx, me(ctx), in.Body))
}

// sampled is a text filled in with made-up facts.
type sampled struct {
	Subject  string       `json:"subject"`
	Text     string       `json:"text"`
	Findings finding.List `json:"findings" nullable:"false"`
}

func (h messaging) sampleText(_ context.Context, in *struct{ Body message.Text }) (*body[sampled], error) {
	subject, text, findings := h.Office.Messaging.Sample(in.Body)
	return answer(sampled{subject, text, list(findings)}, nil)
}
