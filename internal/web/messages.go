package web

import (
	"context"
	"errors"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// MessageView is something the reader was told.
type MessageView struct {
	ID      string       `json:"id"`
	Kind    message.Kind `json:"kind" enum:"sent,decide,remind,over,asked,answered,passed,decided,progress,heldUp,dated,slipped,delivered,finished,ended,said,following,task,stuck,due,written,expiring,absent,standsIn"`
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

func (s *Server) messages(ctx context.Context, in *struct {
	PageInput
	Unread bool `query:"unread"`
}) (*body[listOf[MessageView]], error) {
	all, err := s.Office.Messages(ctx, me(ctx), in.Unread, in.page())
	out := listOf[MessageView]{Entries: []MessageView{}}
	for _, m := range all {
		out.Entries = append(out.Entries, messageView(m))
	}
	if len(all) == in.Limit {
		last := all[len(all)-1]
		out.Next = work.Cursor(last.At.UnixMilli(), last.ID)
	}
	return answer(out, err)
}

// oneMessage gives a message of the reader, with the rung or task that it leads
// to; the whole request when it has neither.
func (s *Server) oneMessage(ctx context.Context, in *struct {
	Message string `path:"message" maxLength:"60" doc:"ID"`
}) (*body[MessageView], error) {
	m, err := s.Office.MessageOf(ctx, me(ctx), in.Message)
	if err != nil {
		return nil, err
	}
	view := messageView(m)
	if m.Request == "" {
		return answer(view, nil)
	}
	state, viewer, err := s.Office.Glance(ctx, me(ctx), m.Request)
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

func (s *Server) readMessages(ctx context.Context, in *struct {
	Body struct {
		Message string `json:"message,omitempty" maxLength:"60" doc:"ID of one; all when both are left out"`
		Request string `json:"request,omitempty" maxLength:"60" doc:"ID: all on one request"`
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.ReadMessages(ctx, me(ctx), in.Body.Message, in.Body.Request))
}

// wayView is a way with what its messages tell.
type wayView struct {
	message.Way
	Words string `json:"words" doc:"What its messages tell"`
}

func (s *Server) ways(ctx context.Context, _ *none) (*body[listOf[wayView]], error) {
	all, err := s.Office.WaysOf(ctx, me(ctx))
	out := listOf[wayView]{Entries: []wayView{}}
	for _, way := range all {
		out.Entries = append(out.Entries, wayView{way, way.Kind.Words()})
	}
	return answer(out, err)
}

func (s *Server) setWay(ctx context.Context, in *struct{ Body message.Way }) (*body[none], error) {
	return answer(none{}, s.Office.SetWay(ctx, me(ctx), in.Body))
}

// textView is a prepared text with what it is for.
type textView struct {
	message.Text
	Words string `json:"words" doc:"What messages of the kind tell"`
	Usual bool   `json:"usual" doc:"Whether it is the one that holds where nobody wrote another"`
}

// textsBody are the general texts, and what they can read.
type textsBody struct {
	Entries []textView `json:"entries" nullable:"false"`
	Names   []string   `json:"names" nullable:"false" doc:"What placeholders can read, such as request.title"`
	Yours   bool       `json:"yours,omitempty" doc:"The reader may change them"`
}

func (s *Server) texts(ctx context.Context, _ *none) (*body[textsBody], error) {
	all, err := s.Office.Texts(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := textsBody{Entries: []textView{}, Names: message.Names(), Yours: s.Office.Has(me(ctx), people.Administrator)}
	for i, usual := range message.Usual() {
		out.Entries = append(out.Entries, textView{all[i], all[i].Kind.Words(), all[i] == usual})
	}
	return answer(out, nil)
}

func (s *Server) setText(ctx context.Context, in *struct{ Body message.Text }) (*body[none], error) {
	return answer(none{}, s.Office.SetText(ctx, me(ctx), in.Body))
}

// sampled is a text filled in with made-up facts.
type sampled struct {
	Subject  string       `json:"subject"`
	Text     string       `json:"text"`
	Findings finding.List `json:"findings" nullable:"false"`
}

func (s *Server) sampleText(_ context.Context, in *struct{ Body message.Text }) (*body[sampled], error) {
	subject, text, findings := s.Office.Sample(in.Body)
	return answer(sampled{subject, text, list(findings)}, nil)
}

// linkedView is what a link of a mail leads to. It is shown without a session,
// so it holds what the mail has told, and the facts of the rung.
type linkedView struct {
	Person    string      `json:"person" doc:"Name of who decides by it"`
	Reference string      `json:"reference"`
	Title     string      `json:"title"`
	Asker     string      `json:"asker"`
	For       string      `json:"for"`
	Rung      string      `json:"rung" doc:"Name"`
	Say       string      `json:"say,omitempty"`
	Answers   []answered  `json:"answers" nullable:"false"`
	Price     price.Price `json:"price"`
	NoPrice   bool        `json:"noPrice,omitempty"`
	Due       *time.Time  `json:"due,omitempty"`
	Trouble   string      `json:"trouble,omitempty" doc:"Why nothing can be decided by it any more"`
}

type LinkInput struct {
	Token string `path:"token" maxLength:"200"`
}

func (s *Server) openLink(ctx context.Context, in *LinkInput) (*body[linkedView], error) {
	linked, err := s.Office.OpenLink(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	if err := s.others(ctx, linked.Message); err != nil {
		return nil, err
	}
	return s.linked(ctx, linked)
}

// others refuses a link to somebody who is signed in as another person: it was
// passed on to them.
func (s *Server) others(ctx context.Context, m work.Message) error {
	if reader := me(ctx); reader != "" && reader != m.Person {
		return &request.Refusal{Kind: request.NotYours, Code: "notYours", Sentence: "This link is for " + s.Office.Company().Name(m.Person) + ", and you are signed in as somebody else."}
	}
	return nil
}

func (s *Server) linked(ctx context.Context, linked work.Linked) (*body[linkedView], error) {
	company, state := s.Office.Company(), linked.State
	out := linkedView{
		Person: company.Name(linked.Message.Person), Reference: state.Reference, Title: state.Title, Asker: company.Name(state.Asker), For: s.beneficiary(state),
		Answers: []answered{}, Price: shown(price.Price{Lines: []price.Line{}, Shares: []price.Share{}}), Trouble: linked.Trouble,
	}
	for i := range state.Rungs {
		r := &state.Rungs[i]
		if r.Key != linked.Message.Rung || linked.Trouble != "" {
			continue
		}
		var err error
		if out.Answers, err = s.answers(ctx, state, r.Sight()); err != nil {
			return nil, err
		}
		for j := range out.Answers {
			out.Answers[j].Files = nil // their content needs a session
			if out.Answers[j].Private != "" {
				out.Answers[j].Private = "sealed" // and so does what is private
			}
		}
		out.Rung, out.Say, out.NoPrice, out.Due = r.Name, r.Say, r.NoPrice, reached(r.DueAt())
		if !r.NoPrice {
			out.Price = shown(state.Price)
		}
	}
	return answer(out, nil)
}

func (s *Server) decideByLink(ctx context.Context, in *struct {
	LinkInput
	Body struct {
		Decision request.Decision `json:"decision" enum:"approve,decline"`
		Reason   string           `json:"reason,omitempty" maxLength:"2000" doc:"Needed to decline"`
	}
}) (*body[none], error) {
	linked, err := s.Office.OpenLink(ctx, in.Token)
	if err == nil {
		err = s.others(ctx, linked.Message)
	}
	if err == nil {
		_, err = s.Office.DecideByLink(ctx, in.Token, in.Body.Decision, in.Body.Reason)
	}
	return answer(none{}, err)
}
