package web

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// deskView is what the Deliver desk needs beside its list.
type deskView struct {
	Teams    []deskTeam  `json:"teams" nullable:"false" doc:"The reader's"`
	Views    []taskQuery `json:"views" nullable:"false" doc:"Saved ways to look at the list"`
	Services []Named     `json:"services" nullable:"false"`

	Offerings []Named `json:"offerings" nullable:"false" doc:"Those that give tasks to the reader's teams"`
}

type deskTeam struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Lead bool   `json:"lead" doc:"The reader leads it"`
}

// taskQuery is a saved way to look at tasks.
type taskQuery struct {
	ID    string        `json:"id,omitempty"`
	Name  string        `json:"name" maxLength:"60"`
	Team  string        `json:"team,omitempty" maxLength:"60" doc:"Key of the team that has it; the reader's own when left out"`
	Yours bool          `json:"yours,omitempty" doc:"The reader can change it"`
	Query savedTaskView `json:"query"`
}

// savedTaskView are the filters and the order of a list of tasks.
type savedTaskView struct {
	Team    string `json:"team,omitempty" maxLength:"60"`
	Who     string `json:"who,omitempty" enum:",mine,free,others"`
	State   string `json:"state,omitempty" enum:",ready,taken,asking,stuck,undoing"`
	Service string `json:"service,omitempty" maxLength:"60"`
	Late    bool   `json:"late,omitempty"`
	Words   string `json:"words,omitempty" maxLength:"100"`
	Sort    string `json:"sort,omitempty" enum:",ready,due"`
}

func (s *Server) desk(ctx context.Context, _ *none) (*body[deskView], error) {
	company := s.Office.Company()
	out := deskView{Teams: []deskTeam{}, Views: []taskQuery{}, Services: []Named{}, Offerings: []Named{}}
	for _, key := range s.Office.TeamsOf(me(ctx)) {
		team, _ := company.Team(key)
		out.Teams = append(out.Teams, deskTeam{key, team.Name, team.Lead == me(ctx)})
	}
	for _, service := range company.Services() {
		out.Services = append(out.Services, Named{Key: service.Key, Name: service.Name})
	}
	offerings, err := s.Office.Worked(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	for _, o := range offerings {
		out.Offerings = append(out.Offerings, Named{Key: o.Offering, Name: o.Name})
	}
	views, err := s.Office.Views(ctx, me(ctx))
	for _, v := range views {
		out.Views = append(out.Views, s.viewOf(ctx, v))
	}
	return answer(out, err)
}

func (s *Server) viewOf(ctx context.Context, v work.View) taskQuery {
	out := taskQuery{ID: v.ID, Name: v.Name, Team: v.Team, Yours: s.Office.MayChange(me(ctx), v.Person, v.Team)}
	_ = json.Unmarshal([]byte(v.Query), &out.Query) // what cannot be read any more shows everything
	return out
}

func (s *Server) saveView(ctx context.Context, in *struct{ Body taskQuery }) (*body[taskQuery], error) {
	query, err := json.Marshal(in.Body.Query)
	if err != nil {
		return nil, err
	}
	v, err := s.Office.SaveView(ctx, work.View{ID: in.Body.ID, Person: me(ctx), Team: in.Body.Team, Name: in.Body.Name, Query: string(query)})
	if err != nil {
		return nil, err
	}
	return answer(s.viewOf(ctx, v), nil)
}

func (s *Server) dropView(ctx context.Context, in *struct {
	View string `path:"view" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return answer(none{}, s.Office.DropView(ctx, me(ctx), in.View))
}

// loadView is how much somebody of a team has in hand.
type loadView struct {
	Person string `json:"person,omitempty" doc:"ID; left out for what nobody has"`
	Name   string `json:"name"`
	Absent bool   `json:"absent"`
	Open   int    `json:"open"`
	Stuck  int    `json:"stuck"`
	Late   int    `json:"late" doc:"Must have begun, or ended, by now"`
}

func (s *Server) load(ctx context.Context, in *struct {
	Team string `path:"team" maxLength:"60" doc:"Key"`
}) (*body[listOf[loadView]], error) {
	loads, err := s.Office.Loads(ctx, me(ctx), in.Team)
	out := listOf[loadView]{Entries: []loadView{}}
	for _, l := range loads {
		view := loadView{l.Person, "Nobody yet", false, l.Open, l.Stuck, l.Late}
		if l.Person != "" {
			view.Name = s.Office.Company().Name(l.Person)
			_, view.Absent = s.Office.Company().Absence(l.Person, s.Office.Clock())
		}
		out.Entries = append(out.Entries, view)
	}
	return answer(out, err)
}

// replyView is a prepared text.
type replyView struct {
	ID       string `json:"id,omitempty"`
	Name     string `json:"name" maxLength:"120"`
	Text     string `json:"text" maxLength:"2000" doc:"With {{ CEL }} placeholders; for a task filled in"`
	Team     string `json:"team,omitempty" maxLength:"60" doc:"Key of the team that has it; the reader's own when left out"`
	Offering string `json:"offering,omitempty" maxLength:"60" doc:"Key of the offering it is for; all when left out"`
	Yours    bool   `json:"yours,omitempty" doc:"The reader can change it"`
}

func (s *Server) replyOf(ctx context.Context, r work.Reply) replyView {
	return replyView{r.ID, r.Name, r.Text, r.Team, r.Offering, s.Office.MayChange(me(ctx), r.Person, r.Team)}
}

func (s *Server) replies(ctx context.Context, in *struct {
	Request string `query:"request" maxLength:"60" doc:"ID, to have them filled in"`
	Task    string `query:"task" maxLength:"80" doc:"Key"`
}) (*body[listOf[replyView]], error) {
	var state *request.State
	if in.Request != "" {
		read, viewer, err := s.Office.Glance(ctx, me(ctx), in.Request)
		if err != nil {
			return nil, err
		}
		if !viewer.SeesTask(in.Task) {
			return nil, work.ErrNotFound
		}
		state = &read
	}
	all, err := s.Office.Replies(ctx, me(ctx), state, in.Task)
	out := listOf[replyView]{Entries: []replyView{}}
	for _, r := range all {
		out.Entries = append(out.Entries, s.replyOf(ctx, r))
	}
	return answer(out, err)
}

func (s *Server) saveReply(ctx context.Context, in *struct{ Body replyView }) (*body[replyView], error) {
	b := in.Body
	r, err := s.Office.SaveReply(ctx, work.Reply{ID: b.ID, Person: me(ctx), Team: b.Team, Offering: b.Offering, Name: b.Name, Text: b.Text})
	if err != nil {
		return nil, err
	}
	return answer(s.replyOf(ctx, r), nil)
}

func (s *Server) dropReply(ctx context.Context, in *struct {
	Reply string `path:"reply" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return answer(none{}, s.Office.DropReply(ctx, me(ctx), in.Reply))
}

// foundLine is a request that was found, with what holds it up.
type foundLine struct {
	RequestLine
	HeldUp *heldUp `json:"heldUp,omitempty" doc:"What it waits for longest"`
	Decide string  `json:"decide,omitempty" doc:"Key of the rung on which the reader decides now"`
	Tasks  []Named `json:"tasks" nullable:"false" doc:"That are to be done now, by the reader's teams"`
}

// underWayView counts the requests of a service by where they stand.
type underWayView struct {
	Service   string          `json:"service" doc:"Key"`
	Name      string          `json:"name"`
	Standings []standingCount `json:"standings" nullable:"false" doc:"In their order, those of none left out"`
	Late      int             `json:"late" doc:"Will likely miss what is promised"`
	Stuck     int             `json:"stuck"`
}

type standingCount struct {
	Standing work.Standing `json:"standing" enum:"deciding,working,confirming,undoing"`
	Count    int           `json:"count"`
}

var standings = work.Standings

func (s *Server) overview(ctx context.Context, _ *none) (*body[listOf[underWayView]], error) {
	counts, err := s.Office.Overview(ctx, me(ctx))
	out := listOf[underWayView]{Entries: []underWayView{}}
	for _, service := range s.Office.Company().Services() {
		view := underWayView{Service: service.Key, Name: service.Name, Standings: []standingCount{}}
		for _, standing := range standings {
			for _, c := range counts {
				if c.Service == service.Key && c.Standing == standing {
					view.Standings = append(view.Standings, standingCount{standing, c.Count})
					view.Late, view.Stuck = view.Late+c.Late, view.Stuck+c.Stuck
				}
			}
		}
		if len(view.Standings) > 0 {
			out.Entries = append(out.Entries, view)
		}
	}
	return answer(out, err)
}

func (s *Server) find(ctx context.Context, in *struct {
	Words    string        `query:"words" maxLength:"100" doc:"A reference, a person, or words"`
	Service  string        `query:"service" maxLength:"60" doc:"Key"`
	Standing work.Standing `query:"standing" enum:",deciding,working,confirming,undoing"`
	Late     bool          `query:"late" doc:"Only what will likely miss what is promised"`
	Stuck    bool          `query:"stuck"`
	After    string        `query:"after" maxLength:"60" doc:"What the page before gave as next"`
}) (*body[listOf[foundLine]], error) {
	found, err := s.Office.Find(ctx, me(ctx), work.Wanted{Words: in.Words, Service: in.Service, Standing: in.Standing, Late: in.Late, Stuck: in.Stuck, After: in.After})
	out := listing(found.Entries, -1, func(e work.Entry) foundLine {
		out := foundLine{RequestLine: s.head(ctx, e.State)}
		out.Decide, out.Tasks = s.toAct(ctx, e.State)
		if !underWay(e.State) {
			return out
		}
		f, err := s.Office.Forecast(ctx, e.State)
		c, also := s.Office.Version(ctx, e.State.Offering, e.State.Version)
		if err == nil && also == nil { // the list is worth more than its forecasts
			out.Forecast, out.HeldUp = forecastOf(f), s.heldUp(e.State, f, c, s.Office.Clock())
		}
		return out
	})
	out.Next = found.Next
	return answer(out, err)
}

// toAct says where the reader can act on a request now: the rung they decide on,
// and the tasks of their teams.
func (s *Server) toAct(ctx context.Context, state request.State) (rung string, tasks []Named) {
	viewer := s.Office.Viewer(me(ctx), state)
	if r, open := state.OpenRung(); open && len(r.OpenSeatsFor(me(ctx))) > 0 {
		rung = r.Key
	}
	tasks = []Named{}
	for _, t := range state.Tasks {
		if (t.State == plan.Ready || t.State == plan.Taken || t.State == plan.Stuck) && slices.Contains(viewer.Tasks, t.Key) {
			tasks = append(tasks, Named{Key: t.Key, Name: t.Name})
		}
	}
	return rung, tasks
}

// haveView is something that the reader has.
type haveView struct {
	people.Belonging
	Request string     `json:"request,omitempty" doc:"ID of the one that made it"`
	Since   *time.Time `json:"since,omitempty"`
	Fits    []fitView  `json:"fits" nullable:"false" doc:"What can be asked for it"`
}

type fitView struct {
	Offering string `json:"offering" doc:"Key"`
	Name     string `json:"name"`
	Does     string `json:"does" enum:"change,extend,handBack"`
	Question string `json:"question" doc:"Key of the question that names it"`
}

func (s *Server) have(ctx context.Context, _ *none) (*body[listOf[haveView]], error) {
	all, err := s.Office.HaveOf(ctx, me(ctx))
	out := listOf[haveView]{Entries: []haveView{}}
	for _, h := range all {
		view := haveView{Belonging: h.Belonging.Belonging, Request: h.Request, Since: reached(h.Since), Fits: []fitView{}}
		for _, fit := range h.Fits {
			view.Fits = append(view.Fits, fitView(fit))
		}
		out.Entries = append(out.Entries, view)
	}
	return answer(out, err)
}

// askedOfMe is a task that the reader is to confirm a part of.
type askedOfMe struct {
	Request      string `json:"request"`
	Task         string `json:"task"`
	Name         string `json:"name"`
	Title        string `json:"title"`
	Asker        string `json:"asker"`
	Instructions string `json:"instructions"`
	Confirmed    string `json:"confirmed" doc:"Such as 2 of 5"`
}

func (s *Server) asked(ctx context.Context, _ *none) (*body[listOf[askedOfMe]], error) {
	entries, err := s.Office.AskedOf(ctx, me(ctx))
	out := listOf[askedOfMe]{Entries: []askedOfMe{}}
	for _, e := range entries {
		if t, ok := e.State.Task(e.Key); ok {
			view := s.taskView(ctx, e.State, *t)
			out.Entries = append(out.Entries, askedOfMe{e.State.ID, e.Key, t.Name, e.State.Title, s.Office.Company().Name(e.State.Asker), t.Instructions, view.Confirmed})
		}
	}
	return answer(out, err)
}
