package web

import (
	"context"
	"encoding/json"

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

func (h delivering) desk(ctx context.Context, _ *none) (*body[deskView], error) {
	company := h.Office.Company()
	out := deskView{Teams: []deskTeam{}, Views: []taskQuery{}, Services: []Named{}, Offerings: []Named{}}
	for _, key := range h.Office.TeamsOf(me(ctx)) {
		team, _ := company.Team(key)
		out.Teams = append(out.Teams, deskTeam{key, team.Name, team.Lead == me(ctx)})
	}
	for _, service := range company.Services() {
		out.Services = append(out.Services, Named{Key: service.Key, Name: service.Name})
	}
	offerings, err := h.Office.Delivering.Worked(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	for _, o := range offerings {
		out.Offerings = append(out.Offerings, Named{Key: o.Offering, Name: o.Name})
	}
	views, err := h.Office.Delivering.Views(ctx, me(ctx))
	for _, v := range views {
		out.Views = append(out.Views, h.viewOf(ctx, v))
	}
	return answer(out, err)
}

func (h delivering) viewOf(ctx context.Context, v work.View) taskQuery {
	out := taskQuery{ID: v.ID, Name: v.Name, Team: v.Team, Yours: h.Office.Delivering.MayChange(me(ctx), v.Person, v.Team)}
	_ = json.Unmarshal([]byte(v.Query), &out.Query) // what cannot be read any more shows everything
	return out
}

func (h delivering) saveView(ctx context.Context, in *struct{ Body taskQuery }) (*body[taskQuery], error) {
	query, err := json.Marshal(in.Body.Query)
	if err != nil {
		return nil, err
	}
	v, err := h.Office.Delivering.SaveView(ctx, work.View{ID: in.Body.ID, Person: me(ctx), Team: in.Body.Team, Name: in.Body.Name, Query: string(query)})
	if err != nil {
		return nil, err
	}
	return answer(h.viewOf(ctx, v), nil)
}

func (h delivering) dropView(ctx context.Context, in *struct {
	View string `path:"view" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Delivering.DropView(ctx, me(ctx), in.View))
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

func (h delivering) load(ctx context.Context, in *struct {
	Team string `path:"team" maxLength:"60" doc:"Key"`
}) (*body[listOf[loadView]], error) {
	loads, err := h.Office.Delivering.Loads(ctx, me(ctx), in.Team)
	out := listOf[loadView]{Entries: []loadView{}}
	for _, l := range loads {
		view := loadView{l.Person, "Nobody yet", false, l.Open, l.Stuck, l.Late}
		if l.Person != "" {
			view.Name = h.Office.Company().Name(l.Person)
			_, view.Absent = h.Office.Company().Absence(l.Person, h.Office.Clock())
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

func (h delivering) replyOf(ctx context.Context, r work.Reply) replyView {
	return replyView{r.ID, r.Name, r.Text, r.Team, r.Offering, h.Office.Delivering.MayChange(me(ctx), r.Person, r.Team)}
}

func (h delivering) replies(ctx context.Context, in *struct {
	Request string `query:"request" maxLength:"60" doc:"ID, to have them filled in"`
	Task    string `query:"task" maxLength:"80" doc:"Key"`
}) (*body[listOf[replyView]], error) {
	var state *request.State
	if in.Request != "" {
		read, viewer, err := h.Office.Glance(ctx, me(ctx), in.Request)
		if err != nil {
			return nil, err
		}
		if !viewer.SeesTask(in.Task) {
			return nil, work.ErrNotFound
		}
		state = &read
	}
	all, err := h.Office.Delivering.Replies(ctx, me(ctx), state, in.Task)
	out := listOf[replyView]{Entries: []replyView{}}
	for _, r := range all {
		out.Entries = append(out.Entries, h.replyOf(ctx, r))
	}
	return answer(out, err)
}

func (h delivering) saveReply(ctx context.Context, in *struct{ Body replyView }) (*body[replyView], error) {
	b := in.Body
	r, err := h.Office.Delivering.SaveReply(ctx, work.Reply{ID: b.ID, Person: me(ctx), Team: b.Team, Offering: b.Offering, Name: b.Name, Text: b.Text})
	if err != nil {
		return nil, err
	}
	return answer(h.replyOf(ctx, r), nil)
}

func (h delivering) dropReply(ctx context.Context, in *struct {
	Reply string `path:"reply" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Delivering.DropReply(ctx, me(ctx), in.Reply))
}
