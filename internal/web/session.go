package web

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"heptad/internal/core/organisation"
	"heptad/internal/core/people"
	"heptad/internal/work"
)

// DoorEntry is somebody who can be chosen to sign in as on the demo.
type DoorEntry struct {
	Person string `json:"person" doc:"ID"`
	Name   string `json:"name"`
	Title  string `json:"title"`
	Why    string `json:"why" doc:"What they show of Heptad"`
}

// body is an answer that is nothing but its body.
type body[T any] struct{ Body T }

func answer[T any](b T, err error) (*body[T], error) {
	if err != nil {
		return nil, err
	}
	return &body[T]{b}, nil
}

// attachment is an answer that is kept as a file.
type attachment[T any] struct {
	Disposition string `header:"Content-Disposition"`
	Body        T
}

func attached[T any](name string, b T) *attachment[T] {
	return &attachment[T]{fmt.Sprintf("attachment; filename=%q", name), b}
}

type none struct{}

// sessionBody says who has signed in, and what waits for them.
type sessionBody struct {
	Person  *signedPerson `json:"person,omitempty" doc:"Nobody when left out"`
	Desks   []desk        `json:"desks" nullable:"false"`
	Unread  int           `json:"unread" doc:"Messages the person has not read; counted up to 100"`
	Event   int64         `json:"event" doc:"Number of the newest stored event: what the live stream can begin after"`
	Example string        `json:"example" doc:"A reference as they look here"`
	Demo    bool          `json:"demo" doc:"Whether one signs in by choosing a person"`
	Look    look          `json:"look"`
	Roles   []string      `json:"roles" nullable:"false" doc:"Given to the person"`
	Enter   *entrance     `json:"enter,omitempty" doc:"How to sign in, for who has not"`
	Bound   bool          `json:"bound,omitempty" doc:"A second factor has to be set before anything else"`
	Moving  bool          `json:"moving,omitempty" doc:"Moving in goes on, for administrators"`
	Trial   *trialView    `json:"trial,omitempty" doc:"Nothing here is real; left out where it is"`
	Still   bool          `json:"still,omitempty" doc:"The work that should go on by itself stands still"`
}

type signedPerson struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Title    string `json:"title"`
	Location string `json:"location"`
	Zone     string `json:"zone,omitempty" doc:"That they chose for their times, IANA; that of the browser when left out"`
}

type desk struct {
	Key     string `json:"key" enum:"ask,follow,decide,deliver,design,measure,manage"`
	Waiting int    `json:"waiting" doc:"Things that wait there for the person"`
}

type contextKey struct{}

// me is the ID of the person who sent the request; empty without a session.
func me(ctx context.Context) string {
	id, _ := ctx.Value(contextKey{}).(string)
	return id
}

func (s *Server) session(ctx context.Context, _ *none) (*body[sessionBody], error) {
	out := sessionBody{Desks: []desk{}, Roles: []string{}, Example: s.Office.Example(), Demo: len(s.Door) > 0, Still: s.Office.Running.StandsStill(), Look: s.look(), Trial: trying{s}.trial(ctx)}
	p, ok := s.Office.Company().Person(me(ctx))
	if !ok {
		var err error
		out.Enter, err = s.entrance(ctx)
		return answer(out, err)
	}
	out.Roles = append(out.Roles, p.Roles...)
	out.Bound = s.sessions.GetBool(ctx, boundKey)
	out.Person = &signedPerson{p.ID, p.Name, p.Title, p.Location, p.Zone}
	out.Event = s.Office.LastEvent() // first: what is stored meanwhile is told
	waits, err := waitingFor(ctx, s.Office, p.ID)
	out.Unread = waits.Unread
	out.Desks = append(out.Desks, desk{"ask", waits.Ask}, desk{"follow", waits.Follow})
	if waits.Decide > 0 || s.decides(p) {
		out.Desks = append(out.Desks, desk{"decide", waits.Decide})
	}
	if len(p.Teams) > 0 {
		out.Desks = append(out.Desks, desk{"deliver", waits.Deliver})
	}
	if s.Office.DesignsAny(p.ID) {
		out.Desks = append(out.Desks, desk{"design", 0})
	}
	looks := false
	if err == nil {
		looks, err = s.Office.Measuring.Looks(ctx, p.ID)
	}
	if looks {
		out.Desks = append(out.Desks, desk{"measure", 0})
	}
	if s.Office.Audits(p.ID) {
		out.Desks = append(out.Desks, desk{"manage", 0})
	}
	if err == nil && p.Is(people.Administrator) {
		out.Moving, err = s.Office.Keeping.Moving(ctx)
	}
	return answer(out, err)
}

// waits counts what waits for a person on each desk, and what they have not read.
type waits struct {
	Ask     int `json:"ask"`
	Follow  int `json:"follow"`
	Decide  int `json:"decide"`
	Deliver int `json:"deliver"`
	Unread  int `json:"unread"`
}

func waitingFor(ctx context.Context, o *work.Office, person string) (waits, error) {
	unread, waiting, err := o.Messaging.Waiting(ctx, person)
	if err != nil {
		return waits{}, err
	}
	onSlip, err := o.Asking.OnSlip(ctx, person)
	return waits{onSlip, waiting.Follow, waiting.Decide, waiting.Deliver, unread}, err
}

// decides reports whether a person is somebody decisions usually come to.
func (s *Server) decides(p people.Person) bool {
	return s.Office.Company().Manages(p.ID) || len(s.Office.Owned(p.ID)) > 0 || p.Is(people.Administrator) // who sets absences
}

type doorBody struct {
	Company string      `json:"company" doc:"Name of the made-up company"`
	Entries []DoorEntry `json:"entries" nullable:"false"`
}

func (s *Server) door(context.Context, *none) (*body[doorBody], error) {
	return answer(doorBody{s.Office.Organisation().Name, s.Door}, nil)
}

type signInInput struct {
	UserAgent string `header:"User-Agent"`
	Body      struct {
		Person string `json:"person" maxLength:"60" doc:"ID of one of those at the door"`
	}
}

// signedIn is an answer that begins or ends a session.
type signedIn struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
	Body      struct {
		Away string `json:"away,omitempty" doc:"Where to go so that the session at the sign-in service ends, too"`
	}
}

// entrance is how somebody who is not signed in can be.
func (s *Server) entrance(ctx context.Context) (*entrance, error) {
	out := &entrance{Password: len(s.Door) == 0, Mail: s.Office.Mailing != nil}
	if s.Office.Service != nil {
		out.Service = s.Office.Service.Name
	}
	if out.Trouble = s.sessions.PopString(ctx, troubleKey); out.Trouble == "" {
		return out, nil
	}
	_, _, err := s.sessions.Commit(ctx)
	return out, err
}

// look is how the organisation looks.
func (s *Server) look() look {
	o := s.Office.Organisation()
	out := look{Name: o.Name, Emblem: o.Emblem}
	if day, ok := organisation.ParseColour(o.Accent); ok {
		night := day.AtNight()
		out.Accent = &inks{day.String(), day.Wash().String(), night.String(), night.NightWash().String()}
	}
	return out
}

func (s *Server) signIn(ctx context.Context, in *signInInput) (*signedIn, error) {
	for _, entry := range s.Door {
		if entry.Person == in.Body.Person {
			return s.enterAs(ctx, entry.Person, in.UserAgent)
		}
	}
	p := newProblem(http.StatusUnprocessableEntity, "Choose one of the people shown.")
	p.Errors = []Detail{{Place: "/person", Sentence: p.Detail}}
	return nil, p
}

func (s *Server) signOut(ctx context.Context, _ *none) (*signedIn, error) {
	out := &signedIn{SetCookie: s.cookie("", time.Unix(0, 0))}
	if token := s.sessions.GetString(ctx, tokenKey); token != "" && s.Office.Service != nil {
		out.Body.Away = s.Office.Service.SignOut(ctx, token)
	}
	if person := me(ctx); person != "" {
		if err := s.Office.Entering.LeaveSession(ctx, person, s.sessions.GetString(ctx, idKey)); err != nil {
			return nil, err
		}
	}
	return out, s.sessions.Destroy(ctx)
}
