package web

import (
	"context"
	"time"

	"heptad/internal/work"
)

// trying are the operations of an installation for trying.
type trying struct{ *Server }

// trialView says that this is an installation for trying.
type trialView struct {
	Tests  bool   `json:"tests" doc:"The person, or who acts as them, may act as anybody"`
	Tester string `json:"tester,omitempty" doc:"Name of who acts as the person; nobody when left out"`
	Login  string `json:"login,omitempty" doc:"Of the tester"`
}

// trial is what a session has of an installation for trying; nil in a real one.
func (s trying) trial(ctx context.Context) *trialView {
	if !s.Office.Trial {
		return nil
	}
	out := &trialView{}
	if tester := s.sessions.GetString(ctx, testerKey); tester != "" {
		p, _ := s.Office.Company().Person(tester)
		out.Tester, out.Login = p.Name, p.Login
	}
	out.Tests = s.Office.Trying.Tests(s.tester(ctx))
	return out
}

// tester is who is really there: who acts as the person of the session, or that person.
func (s trying) tester(ctx context.Context) string {
	if tester := s.sessions.GetString(ctx, testerKey); tester != "" {
		return tester
	}
	return me(ctx)
}

func (s trying) actAs(ctx context.Context, in *struct {
	UserAgent string `header:"User-Agent"`
	Body      struct {
		Login string `json:"login" maxLength:"60" doc:"Of whom; of oneself, to be that again"`
	}
}) (*signedIn, error) {
	tester := s.tester(ctx)
	p, err := s.Office.Trying.ActAs(ctx, tester, in.Body.Login)
	if err != nil {
		return nil, err
	}
	if err := s.Office.Entering.LeaveSession(ctx, me(ctx), s.sessions.GetString(ctx, idKey)); err != nil {
		return nil, err
	}
	cookie, err := s.beginSession(ctx, p.ID, in.UserAgent)
	if err != nil || p.ID == tester {
		return &signedIn{SetCookie: cookie}, err
	}
	s.sessions.Put(ctx, testerKey, tester)
	s.sessions.Put(ctx, boundKey, false) // a factor is the tester's own
	token, expiry, err := s.sessions.Commit(ctx)
	return &signedIn{SetCookie: s.cookie(token, expiry)}, work.Explain(err)
}

// trialMailView is a mail that would have gone out.
type trialMailView struct {
	ID      int64     `json:"id"`
	At      time.Time `json:"at"`
	Name    string    `json:"name" doc:"Of the reader"`
	Address string    `json:"address"`
	Subject string    `json:"subject"`
	Body    string    `json:"body"`
}

func (s trying) trialMails(ctx context.Context, in *struct {
	Before int64 `query:"before" doc:"ID; from the last one when left out"`
}) (*body[listOf[trialMailView]], error) {
	all, err := s.Office.Trying.Mails(ctx, s.tester(ctx), in.Before)
	out := listOf[trialMailView]{Entries: []trialMailView{}}
	for _, m := range all {
		out.Entries = append(out.Entries, trialMailView{m.ID, time.UnixMilli(m.At).UTC(), m.Name, m.Address, m.Subject, m.Body})
	}
	return answer(out, err)
}
