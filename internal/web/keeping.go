package web

import (
	"context"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/organisation"
	"heptad/internal/core/plan"
	"heptad/internal/starter"
	"heptad/internal/work"
)

// organisationBody is what the installation is told of the company.
type organisationBody struct {
	organisation.Organisation

	Sent      bool      `json:"sent" doc:"A request was sent, so that the prefix stays"`
	Calendars []string  `json:"calendars" nullable:"false" doc:"Keys of the working calendars"`
	SignOffs  []signOff `json:"signOffs" nullable:"false" doc:"Offerings that can be sent for somebody who leaves; for administrators"`
}

type signOff struct {
	Key  string  `json:"key"`
	Name string  `json:"name"`
	Days []Named `json:"days" nullable:"false" doc:"Its questions for a day"`
}

func (h keeping) organisation(ctx context.Context, _ *none) (*body[organisationBody], error) {
	sent, err := h.Office.Keeping.AnySent(ctx)
	if err != nil {
		return nil, err
	}
	out := organisationBody{h.Office.Organisation(), sent, append([]string{}, h.Office.Company().CalendarKeys()...), []signOff{}}
	all, err := h.Office.Keeping.SignOffs(ctx, me(ctx))
	for _, o := range all {
		one := signOff{o.Offering, o.Name, []Named{}}
		for _, q := range o.Days {
			one.Days = append(one.Days, Named{Key: q.Key, Name: q.Label})
		}
		out.SignOffs = append(out.SignOffs, one)
	}
	return answer(out, err)
}

func (h keeping) organise(ctx context.Context, in *struct{ Body organisation.Organisation }) (*body[organisationBody], error) {
	if err := h.Office.Keeping.Organise(ctx, me(ctx), in.Body); err != nil {
		return nil, err
	}
	return h.organisation(ctx, nil)
}

// movingBody is how far moving in is.
type movingBody struct {
	Steps    []movingStep  `json:"steps" nullable:"false"`
	Ended    *time.Time    `json:"ended,omitempty" doc:"When moving in was ended"`
	Starters []starterTask `json:"starters" nullable:"false" doc:"What the first offerings can be"`
	Teams    []Named       `json:"teams" nullable:"false"`
	Services []serviceHome `json:"services" nullable:"false"`
	Mail     bool          `json:"mail" doc:"A mail server is set"`
	Address  string        `json:"address,omitempty" doc:"Of the reader, for mails"`
}

type movingStep struct {
	Key   string `json:"key" enum:"organisation,you,people,teams,services,offerings,mail,request"`
	Done  bool   `json:"done"`
	Count int    `json:"count"`
	Lacks string `json:"lacks,omitempty" doc:"What is still missing, and why it matters"`
}

type starterTask struct {
	Key   string  `json:"key"`
	Name  string  `json:"name"`
	Text  string  `json:"text"`
	Area  string  `json:"area" doc:"Where it is usual"`
	Tasks []Named `json:"tasks" nullable:"false" doc:"That people do: a team is asked for each"`
	Taken bool    `json:"taken" doc:"An offering of its name is there"`
}

type serviceHome struct {
	Key   string `json:"key"`
	Name  string `json:"name"`
	Area  string `json:"area"`
	Owner string `json:"owner" doc:"Name"`
	Home  string `json:"home" doc:"Key of its home team"`
}

func (h keeping) moving(ctx context.Context, _ *none) (*body[movingBody], error) {
	steps, at, err := h.Office.Keeping.MovingIn(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	p, _ := h.Office.Company().Person(me(ctx))
	out := movingBody{Steps: []movingStep{}, Starters: []starterTask{}, Teams: []Named{}, Services: []serviceHome{}, Mail: h.Office.Mailing != nil, Address: p.Email}
	if !at.IsZero() {
		out.Ended = &at
	}
	for _, s := range steps {
		out.Steps = append(out.Steps, movingStep(s))
	}
	for _, d := range starter.All() {
		taken, err := h.Office.Keeping.Taken(ctx, d.Key)
		if err != nil {
			return nil, err
		}
		s := starterTask{Key: d.Key, Name: d.Purpose.Name, Text: d.Purpose.Text, Area: starter.Area(d.Key), Tasks: []Named{}, Taken: taken}
		for _, t := range d.Plan {
			if t.Kind == plan.Manual {
				s.Tasks = append(s.Tasks, Named{Key: t.Key, Name: t.Name})
			}
		}
		out.Starters = append(out.Starters, s)
	}
	for _, t := range h.Office.Company().Teams() {
		out.Teams = append(out.Teams, Named{Key: t.Key, Name: t.Name})
	}
	for _, s := range h.Office.Company().Services() {
		out.Services = append(out.Services, serviceHome{s.Key, s.Name, s.Area, h.Office.Company().Name(s.Owner), s.Home})
	}
	return answer(out, nil)
}

func (h keeping) endMoving(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, h.Office.Keeping.EndMovingIn(ctx, me(ctx)))
}

func (h keeping) takeStarter(ctx context.Context, in *struct {
	Body struct {
		Starter string            `json:"starter" maxLength:"60" doc:"Key"`
		Service string            `json:"service" maxLength:"60" doc:"Key"`
		Name    string            `json:"name,omitempty" maxLength:"120" doc:"Of the offering; that of the starter when left out"`
		Teams   map[string]string `json:"teams,omitempty" maxProperties:"50" doc:"Key of a team by key of a task; the home team when left out"`
	}
}) (*body[Named], error) {
	b := in.Body
	key, err := h.Office.Keeping.TakeStarter(ctx, me(ctx), work.Taking{Starter: b.Starter, Service: b.Service, Name: b.Name, Teams: b.Teams})
	return answer(Named{Key: key, Name: b.Name}, err)
}

func (h keeping) tryMail(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, h.Office.Keeping.TryMail(ctx, me(ctx)))
}

// KindInput names a kind of what is kept of the company.
type KindInput struct {
	Kind intake.Kind `path:"kind"`
}

type recordsBody struct {
	Entries []RecordView   `json:"entries" nullable:"false"`
	Total   int            `json:"total" doc:"How many there are in all"`
	Fields  []intake.Field `json:"fields" nullable:"false"`
}

type RecordView struct {
	ID    string            `json:"id"`
	Name  string            `json:"name"`
	Cells map[string]string `json:"cells" doc:"By field"`
}

func (h keeping) records(ctx context.Context, in *struct {
	KindInput
	Words string `query:"words" maxLength:"200"`
	Sort  string `query:"sort" maxLength:"60" doc:"A field"`
	Down  bool   `query:"down" doc:"The last first"`
	Skip  int    `query:"skip" minimum:"0" maximum:"1000000"`
	Limit int    `query:"limit" minimum:"1" maximum:"100" default:"50"`
}) (*body[recordsBody], error) {
	some, total, err := h.Office.Keeping.Records(ctx, me(ctx), in.Kind, work.WantedRecords{Words: in.Words, Sort: in.Sort, Down: in.Down, Skip: in.Skip, Limit: in.Limit})
	out := recordsBody{Entries: []RecordView{}, Total: total, Fields: intake.Fields(in.Kind)}
	for _, r := range some {
		out.Entries = append(out.Entries, RecordView(r))
	}
	return answer(out, err)
}

type recordBody struct {
	RecordView
	Fields  []intake.Field `json:"fields" nullable:"false"`
	History []actView      `json:"history" nullable:"false" doc:"What was done to it, the last first"`
}

func (h keeping) record(ctx context.Context, in *struct {
	KindInput
	ID string `query:"id" maxLength:"200"`
}) (*body[recordBody], error) {
	r, acts, err := h.Office.Keeping.Record(ctx, me(ctx), in.Kind, in.ID)
	out := recordBody{RecordView(r), intake.Fields(in.Kind), []actView{}}
	for _, a := range acts {
		out.History = append(out.History, h.act(a))
	}
	return answer(out, err)
}

type waitsBody struct {
	Waits bool `json:"waits" doc:"For an administrator's yes"`
}

func (h keeping) saveRecord(ctx context.Context, in *struct {
	KindInput
	Body struct {
		ID    string            `json:"id,omitempty" maxLength:"200" doc:"Left out for something new"`
		Cells map[string]string `json:"cells" maxProperties:"40" doc:"By field"`
	}
}) (*body[waitsBody], error) {
	waits, err := h.Office.Keeping.SaveRecord(ctx, me(ctx), in.Kind, in.Body.ID, in.Body.Cells)
	return answer(waitsBody{waits}, err)
}

type careBody struct {
	Leaving   []leaverView `json:"leaving" nullable:"false" doc:"Who waits to become inactive"`
	Ownerless []duty       `json:"ownerless" nullable:"false" doc:"What somebody answers for who has left"`
}

type leaverView struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	Title string    `json:"title"`
	By    string    `json:"by" doc:"Name of who said so"`
	Since time.Time `json:"since"`
}

type duty struct {
	Kind intake.Kind `json:"kind"`
	ID   string      `json:"id"`
	Name string      `json:"name"`
}

func (h keeping) care(ctx context.Context, _ *none) (*body[careBody], error) {
	leaving, err := h.Office.Keeping.Leaving(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := careBody{Leaving: []leaverView{}, Ownerless: []duty{}}
	for _, l := range leaving {
		out.Leaving = append(out.Leaving, leaverView{l.Person.ID, l.Person.Name, l.Person.Title, l.By, l.Since})
	}
	ownerless, err := h.Office.Keeping.Ownerless(me(ctx))
	for _, kind := range intake.Kind("").All() {
		for _, r := range ownerless[kind] {
			out.Ownerless = append(out.Ownerless, duty{kind, r.ID, r.Name})
		}
	}
	return answer(out, err)
}

type YesInput struct {
	Yes bool `json:"yes"`
}

func (h keeping) answerLeaving(ctx context.Context, in *struct{ Body YesInput }) (*body[careBody], error) {
	if err := h.Office.Keeping.AnswerLeaving(ctx, me(ctx), in.Body.Yes); err != nil {
		return nil, err
	}
	return h.care(ctx, nil)
}

// rolesBody is who has which role.
type rolesBody struct {
	Entries []roleView `json:"entries" nullable:"false"`
	Alone   bool       `json:"alone" doc:"There is one administrator, whose roles nobody else has to allow"`
}

type roleView struct {
	Person string `json:"person" doc:"ID"`
	Name   string `json:"name"`
	Title  string `json:"title"`
	Role   string `json:"role" enum:"administrator,auditor,analyst,executive,caller-staff,tester"`
	By     string `json:"by,omitempty" doc:"Name of who asked for it, while it waits for another administrator's yes"`
}

func (h keeping) roles(ctx context.Context, _ *none) (*body[rolesBody], error) {
	all, err := h.Office.Keeping.Roles(ctx, me(ctx))
	out, administrators := rolesBody{Entries: []roleView{}}, 0
	for _, r := range all {
		out.Entries = append(out.Entries, roleView{r.Person.ID, r.Person.Name, r.Person.Title, r.Role, r.By})
		if r.Role == "administrator" && r.By == "" {
			administrators++
		}
	}
	out.Alone = administrators == 1
	return answer(out, err)
}

type RoleInput struct {
	Person string `json:"person" maxLength:"60" doc:"ID"`
	Role   string `json:"role" maxLength:"40"`
}

func (h keeping) giveRole(ctx context.Context, in *struct{ Body RoleInput }) (*body[waitsBody], error) {
	waits, err := h.Office.Keeping.GiveRole(ctx, me(ctx), in.Body.Person, in.Body.Role)
	return answer(waitsBody{waits}, err)
}

func (h keeping) answerRole(ctx context.Context, in *struct {
	Body struct {
		RoleInput
		YesInput
	}
}) (*body[rolesBody], error) {
	if err := h.Office.Keeping.AnswerRole(ctx, me(ctx), in.Body.Person, in.Body.Role, in.Body.Yes); err != nil {
		return nil, err
	}
	return h.roles(ctx, nil)
}

func (h keeping) takeRole(ctx context.Context, in *struct {
	Person string `path:"person" maxLength:"60"`
	Role   string `path:"role" maxLength:"40"`
}) (*body[rolesBody], error) {
	if err := h.Office.Keeping.TakeRole(ctx, me(ctx), in.Person, in.Role); err != nil {
		return nil, err
	}
	return h.roles(ctx, nil)
}

// act is a row of the audit as it is shown.
func (h handlers) act(a audit.Row) actView {
	out := actView{ID: a.ID, At: a.At, Words: a.Act.Words(), Kind: a.Act.Kind(), Act: string(a.Act), Thing: a.Thing, Name: h.Office.Auditing.ThingName(a), Session: a.Session, Changes: a.Body.Changes, Who: "The program", Person: a.Actor}
	if out.Changes == nil {
		out.Changes = []audit.Change{}
	}
	if a.Actor != "" {
		out.Who = h.Office.Company().Name(a.Actor)
	} else if a.Act == audit.SignInFailed || a.Act == audit.LinkSent {
		out.Who = "Somebody"
	}
	return out
}

type ofPersonInput struct {
	Person string `path:"person" maxLength:"60" doc:"ID"`
}

func (h keeping) safety(ctx context.Context, in *ofPersonInput) (*body[safetyBody], error) {
	return safetyOf(ctx, h.Office, in.Person, "")
}

func (h keeping) dropFactor(ctx context.Context, in *ofPersonInput) (*body[none], error) {
	return answer(none{}, h.Office.Entering.DropFactor(ctx, me(ctx), in.Person))
}

func (h keeping) endSessions(ctx context.Context, in *ofPersonInput) (*body[none], error) {
	return answer(none{}, h.Office.Entering.EndSessions(ctx, me(ctx), in.Person, ""))
}

// doubledBody is what goes over from one record of a person to the other.
type doubledBody struct {
	Belongings int      `json:"belongings" doc:"That they have"`
	UnderWay   int      `json:"underWay" doc:"Requests they asked for, or that are for them"`
	Drafts     int      `json:"drafts" doc:"Requests they began and did not send; they are lost"`
	Duties     int      `json:"duties" doc:"Teams, services, areas and cost centres they answer for, and people they manage"`
	Teams      []string `json:"teams" nullable:"false" doc:"Names of those they are a member of"`
	Roles      []string `json:"roles" nullable:"false" doc:"That do not go over: they are given anew"`
}

func (h keeping) doubled(ctx context.Context, in *struct {
	Person string `path:"person" maxLength:"60" doc:"ID of the record that ends"`
	Into   string `query:"into" maxLength:"60" doc:"ID of the one that stays"`
}) (*body[doubledBody], error) {
	d, err := h.Office.Keeping.Doubled(ctx, me(ctx), in.Person, in.Into)
	return answer(doubledBody{d.Belongings, d.UnderWay, d.Drafts, d.Duties, d.Teams, d.Roles}, err)
}

func (h keeping) merge(ctx context.Context, in *struct {
	Person string `path:"person" maxLength:"60" doc:"ID of the record that ends"`
	Body   struct {
		Into string `json:"into" maxLength:"60" doc:"ID of the one that stays"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Keeping.Merge(ctx, me(ctx), in.Person, in.Body.Into))
}
