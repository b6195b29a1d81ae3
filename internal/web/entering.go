package web

import (
	"context"
	"net/http"
	"strings"
	"time"

	"heptad/internal/core/refusal"
	"heptad/internal/work"
)

// entrance is how people sign in here.
type entrance struct {
	Password bool   `json:"password" doc:"By name and password"`
	Mail     bool   `json:"mail" doc:"A forgotten password can be set anew by a mailed link"`
	Service  string `json:"service,omitempty" doc:"Name of the sign-in service; none when left out"`
	Trouble  string `json:"trouble,omitempty" doc:"Why the sign-in service led nowhere, told once"`
}

type look struct {
	Name   string `json:"name" doc:"Of the organisation; empty before it has moved in"`
	Emblem string `json:"emblem,omitempty" doc:"data: URI of a picture"`
	Accent *inks  `json:"accent,omitempty" doc:"Colours of what can be pressed; those of Heptad when left out"`
}

// inks are a colour and its wash, on paper and where the page is dark.
type inks struct {
	Day       string `json:"day"`
	DayWash   string `json:"dayWash"`
	Night     string `json:"night"`
	NightWash string `json:"nightWash"`
}

type ProvenInput struct {
	Password string `json:"password" maxLength:"1000"`
	Code     string `json:"code,omitempty" maxLength:"40" doc:"Of the second factor, or a recovery code"`
}

func (p ProvenInput) proof() work.Proof { return work.Proof{Password: p.Password, Code: p.Code} }

const tooManyGuesses = "That was wrong too often for this name. Wait a little and try again, or have a link sent for a new password."

// guessed slows guessing at one account: what goes wrong is counted. It locks nobody
// out, as it forgets with time.
func (s *Server) guessed(account string, try func() error) error {
	if wait := s.meters.guesses.look(account); wait > 0 {
		return slowDown(wait, tooManyGuesses)
	}
	err := try()
	if refusedAs(err, refusal.WrongPassword, refusal.WrongCode) {
		s.meters.guesses.take(account)
	}
	return err
}

func (s *Server) enter(ctx context.Context, in *struct {
	UserAgent string `header:"User-Agent"`
	Body      struct {
		Name string `json:"name" maxLength:"200" doc:"Login, or mail address"`
		ProvenInput
	}
}) (*signedIn, error) {
	person := ""
	err := s.guessed(strings.ToLower(strings.TrimSpace(in.Body.Name)), func() (err error) {
		person, err = s.Office.Entering.Enter(ctx, in.Body.Name, in.Body.proof())
		return err
	})
	if err != nil {
		return nil, err
	}
	return s.enterAs(ctx, person, in.UserAgent)
}

// enterAs begins a session of somebody who has proved who they are.
func (s *Server) enterAs(ctx context.Context, person, agent string) (*signedIn, error) {
	cookie, err := s.beginSession(ctx, person, agent)
	return &signedIn{SetCookie: cookie}, err
}

func (s *Server) proveAgain(ctx context.Context, in *struct{ Body ProvenInput }) (*body[none], error) {
	err := s.guessed(me(ctx), func() error { return s.Office.Entering.ProveAgain(ctx, me(ctx), in.Body.proof()) })
	if err != nil {
		return nil, err
	}
	return answer(none{}, s.proved(ctx))
}

func (s *Server) forgot(ctx context.Context, in *struct {
	Body struct {
		Name string `json:"name" maxLength:"200" doc:"Login, or mail address"`
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.Entering.Forgot(ctx, in.Body.Name))
}

type linkBody struct {
	Name  string `json:"name" doc:"For whom it opens; empty for who moves in"`
	Login string `json:"login,omitempty"`
}

func (s *Server) openPasswordLink(ctx context.Context, in *LinkInput) (*body[linkBody], error) {
	p, err := s.Office.Entering.OpenPasswordLink(ctx, in.Token)
	return answer(linkBody{p.Name, p.Login}, err)
}

func (s *Server) passwordByLink(ctx context.Context, in *struct {
	LinkInput
	Body NewPassword
}) (*body[none], error) {
	return answer(none{}, s.Office.Entering.PasswordByLink(ctx, in.Token, in.Body.New))
}

type NewPassword struct {
	New string `json:"new" maxLength:"1000"`
}

func (s *Server) openEntry(ctx context.Context, in *LinkInput) (*body[linkBody], error) {
	return answer(linkBody{}, s.Office.Entering.OpenEntryLink(ctx, in.Token))
}

func (s *Server) moveIn(ctx context.Context, in *struct {
	LinkInput
	UserAgent string `header:"User-Agent"`
	Body      struct {
		Name  string `json:"name" maxLength:"200"`
		Login string `json:"login" maxLength:"200"`
		Email string `json:"email,omitempty" maxLength:"300"`
		NewPassword
	}
}) (*signedIn, error) {
	b := in.Body
	person, err := s.Office.Entering.MoveIn(ctx, in.Token, work.Newcomer{Name: b.Name, Login: b.Login, Email: b.Email, Password: b.New})
	if err != nil {
		return nil, err
	}
	return s.enterAs(ctx, person, in.UserAgent)
}

// safetyBody is how somebody proves who they are, and where they are signed in.
type safetyBody struct {
	Password bool       `json:"password" doc:"They have one"`
	Factor   bool       `json:"factor" doc:"They have a second factor"`
	Needed   bool       `json:"needed" doc:"Their role needs a second factor"`
	Codes    int        `json:"codes" doc:"Recovery codes that are left"`
	Sessions []heldView `json:"sessions" nullable:"false" doc:"The last used first"`
}

type heldView struct {
	ID     string    `json:"id"`
	Device string    `json:"device" doc:"What the browser says of itself"`
	Begun  time.Time `json:"begun"`
	Used   time.Time `json:"used" doc:"Within five minutes"`
	This   bool      `json:"this,omitempty" doc:"The one that asks"`
}

func (s *Server) safety(ctx context.Context, _ *none) (*body[safetyBody], error) {
	return safetyOf(ctx, s.Office, me(ctx), s.sessions.GetString(ctx, idKey))
}

// safetyOf tells how a person proves who they are; this is the session that asks.
func safetyOf(ctx context.Context, office *work.Office, person, this string) (*body[safetyBody], error) {
	safe, err := office.Entering.Safety(ctx, me(ctx), person)
	if err != nil {
		return nil, err
	}
	held, err := office.Entering.Sessions(ctx, me(ctx), person)
	out := safetyBody{safe.Password, safe.Factor, safe.Needed, safe.Codes, []heldView{}}
	for _, h := range held {
		out.Sessions = append(out.Sessions, heldView{h.ID, h.Device, h.Begun, h.Used, h.ID == this})
	}
	return answer(out, err)
}

func (s *Server) setPassword(ctx context.Context, in *struct{ Body NewPassword }) (*body[none], error) {
	return answer(none{}, s.Office.Entering.SetPassword(ctx, me(ctx), in.Body.New))
}

type factorBody struct {
	Secret string `json:"secret" doc:"Base32, to be typed where the picture cannot be read"`
	QR     string `json:"qr" doc:"data: URI of a picture for an authenticator"`
}

func (s *Server) newFactor(ctx context.Context, _ *none) (*body[factorBody], error) {
	f, err := s.Office.Entering.NewFactor(me(ctx))
	return answer(factorBody{f.Secret, f.QR}, err)
}

type codesBody struct {
	Codes []string `json:"codes" nullable:"false" doc:"Recovery codes, shown once"`
}

func (s *Server) setFactor(ctx context.Context, in *struct {
	Body struct {
		Secret string `json:"secret" maxLength:"100"`
		Code   string `json:"code" maxLength:"40" doc:"That shows it can be used"`
	}
}) (*body[codesBody], error) {
	codes, err := s.Office.Entering.SetFactor(ctx, me(ctx), in.Body.Secret, in.Body.Code)
	if err == nil {
		err = s.freed(ctx)
	}
	return answer(codesBody{codes}, err)
}

func (s *Server) newCodes(ctx context.Context, _ *none) (*body[codesBody], error) {
	codes, err := s.Office.Entering.NewCodes(ctx, me(ctx))
	return answer(codesBody{codes}, err)
}

func (s *Server) dropFactor(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, s.Office.Entering.DropFactor(ctx, me(ctx), me(ctx)))
}

func (s *Server) endSessions(ctx context.Context, in *struct {
	ID string `query:"id" maxLength:"60" doc:"Of one; all others but this when left out"`
}) (*body[none], error) {
	return answer(none{}, s.Office.Entering.EndSessions(ctx, me(ctx), me(ctx), in.ID))
}

// proofLasts is for how long nobody is asked again to prove who they are.
const proofLasts = 10 * time.Minute

// sensitive are the operations before which people prove again who they are.
var sensitive = map[string]bool{
	"set-connector": true, "grant": true, "revoke": true, "give-role": true, "answer-role": true, "take-role": true,
	"set-password": true, "drop-factor": true, "new-codes": true, "drop-factor-of": true, "end-sessions-of": true, "export-audit": true, "export-company": true, "export-catalog": true,
}

// unbound are the operations of those who still have to set a second factor.
var unbound = map[string]bool{"safety": true, "profile": true, "new-factor": true, "set-factor": true, "prove-again": true}

// careful reports whether an operation on an offering needs more care: publishing what
// does something sensitive in another system.
func (s *Server) careful(ctx context.Context, operation, key string) bool {
	return (operation == "publish" || operation == "second-yes") && s.Office.Designing.Sensitive(ctx, key)
}

// proven refuses who has to prove again who they are, or to set a second factor first.
func (s *Server) proven(ctx context.Context, operation, offering string) error {
	if s.sessions.GetBool(ctx, boundKey) && !unbound[operation] {
		p := newProblem(http.StatusForbidden, "Your role needs a second factor: set one before you go on.")
		p.Code = refusal.FactorNeeded
		return p
	}
	since := s.Office.Clock().Sub(time.Unix(s.sessions.GetInt64(ctx, provedKey), 0))
	if len(s.Door) > 0 || since < proofLasts || !sensitive[operation] && !s.careful(ctx, operation, offering) { // on the demo nobody can prove anything
		return nil
	}
	p := newProblem(http.StatusForbidden, "This needs more care: prove again that it is you.")
	p.Code = refusal.ProveAgain
	return p
}

// deviceOf names the program and the system that a browser says it is.
func deviceOf(agent string) string {
	first := func(names [][2]string, otherwise string) string {
		for _, n := range names {
			if strings.Contains(agent, n[0]) {
				return n[1]
			}
		}
		return otherwise
	}
	program := first([][2]string{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"OPR/", "Opera"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"}}, "Another program")
	system := first([][2]string{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS", "macOS"}, {"Linux", "Linux"}}, "")
	if system == "" {
		return program
	}
	return program + " on " + system
}

func (s *Server) profile(ctx context.Context, _ *none) (*body[ProfileView], error) {
	p, err := s.Office.Entering.Profile(ctx, me(ctx))
	return answer(ProfileView(p), err)
}

func (s *Server) setProfile(ctx context.Context, in *struct{ Body ProfileView }) (*body[ProfileView], error) {
	if err := s.Office.Entering.SetProfile(ctx, me(ctx), work.Profile(in.Body)); err != nil {
		return nil, err
	}
	return s.profile(ctx, nil)
}
