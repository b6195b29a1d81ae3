package web

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"heptad/internal/connect"
	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/work"
)

// backgroundView is the work that goes on by itself.
type backgroundView struct {
	Looked     *time.Time       `json:"looked,omitempty" doc:"When it last looked for what is due; never when left out"`
	Next       *time.Time       `json:"next,omitempty" doc:"When it looks again, unless something wakes it before"`
	Still      bool             `json:"still" doc:"It should go on by itself and does not"`
	Connectors []connectorView  `json:"connectors" nullable:"false"`
	Jobs       []jobView        `json:"jobs" nullable:"false" doc:"What runs or waits, the first due first"`
	Stuck      []jobView        `json:"stuck" nullable:"false"`
	Reports    []reportView     `json:"reports" nullable:"false" doc:"From outside, the last first"`
	Aside      []asideView      `json:"aside" nullable:"false" doc:"What could not be handled for a reason of its own, the last first"`
	Standstill []standstillView `json:"standstills" nullable:"false" doc:"When nothing went on by itself, the last first"`
	Forgeries  []forgeryView    `json:"forgeries" nullable:"false" doc:"Reports whose signature was wrong: counted, not kept"`
}

type connectorView struct {
	Key       string     `json:"key"`
	Name      string     `json:"name"`
	URL       string     `json:"url"`
	HasSecret bool       `json:"hasSecret" doc:"It is kept encrypted and never shown"`
	AtOnce    int        `json:"atOnce" doc:"Calls at the same time"`
	Hosts     string     `json:"hosts" doc:"That web calls may reach, one a line"`
	Sensitive string     `json:"sensitive" doc:"Values that need more care, such as groups of the directory, one a line"`
	Waiting   int        `json:"waiting"`
	Running   int        `json:"running"`
	Stuck     int        `json:"stuck"`
	Success   *time.Time `json:"success,omitempty" doc:"Of the last call that went well"`
	Trouble   string     `json:"trouble,omitempty" doc:"Of the last call"`
	Paused    *time.Time `json:"paused,omitempty" doc:"Until when it rests because its system is down"`
}

type jobView struct {
	Reference string     `json:"reference"`
	Task      string     `json:"task" doc:"Name"`
	Connector string     `json:"connector" doc:"Name"`
	State     string     `json:"state" enum:"waiting,running,stuck"`
	Due       *time.Time `json:"due,omitempty" doc:"When it is called, or called again"`
	Trouble   string     `json:"trouble,omitempty" doc:"Of the last try"`
}

type reportView struct {
	At        time.Time `json:"at"`
	Connector string    `json:"connector"`
	Key       string    `json:"key"`
	Step      string    `json:"step"`
	Verdict   string    `json:"verdict"`
}

// asideView is a record that could not be handled, and waits.
type asideView struct {
	Lane   string    `json:"lane" doc:"What was to be done"`
	ID     string    `json:"id" doc:"Of the record"`
	Reason string    `json:"reason"`
	At     time.Time `json:"at"`
}

// standstillView is a time in which nothing went on by itself.
type standstillView struct {
	From   time.Time `json:"from"`
	Until  time.Time `json:"until"`
	Reason string    `json:"reason"`
	Due    int       `json:"due" doc:"How much fell due meanwhile, and was caught up"`
}

type forgeryView struct {
	Connector string    `json:"connector" doc:"Name"`
	Count     int       `json:"count"`
	Last      time.Time `json:"last"`
}

func (s *Server) background(ctx context.Context, _ *none) (*body[backgroundView], error) {
	b, err := s.Office.Background(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := backgroundView{Still: s.Office.StandsStill(), Connectors: []connectorView{}, Jobs: []jobView{}, Stuck: []jobView{}, Reports: []reportView{}, Forgeries: []forgeryView{}, Aside: []asideView{}, Standstill: []standstillView{}}
	if b.Pulse != nil {
		out.Looked, out.Next = &b.Pulse.Looked, &b.Pulse.Next
	}
	now := s.Office.Clock()
	for _, c := range b.Connectors {
		view := connectorView{c.Key, c.Name, c.URL, c.HasSecret, c.AtOnce, c.Hosts, c.Sensitive, c.Waiting, c.Running, c.Stuck, reached(c.Success), c.Trouble, nil}
		if c.Paused.After(now) {
			view.Paused = &c.Paused
		}
		out.Connectors = append(out.Connectors, view)
	}
	for _, j := range b.Jobs {
		view := jobView{Connector: s.connectorName(j.Connector), State: j.State, Trouble: j.Trouble}
		due := j.Due()
		view.Due = &due
		view.Reference, view.Task = s.Office.TaskOf(ctx, j.Request, j.Task)
		out.Jobs = append(out.Jobs, view)
	}
	for _, e := range b.Stuck {
		if t, ok := e.State.Task(e.Key); ok {
			trouble := t.Trouble
			if t.Undo != nil {
				trouble = t.Undo.Trouble
			}
			out.Stuck = append(out.Stuck, jobView{Reference: e.State.Reference, Task: t.Name, Connector: s.connectorName(t.Connector), State: "stuck", Trouble: trouble})
		}
	}
	for _, a := range b.Aside {
		out.Aside = append(out.Aside, asideView(a))
	}
	for _, st := range b.Still {
		out.Standstill = append(out.Standstill, standstillView(st))
	}
	for _, f := range b.Forgeries {
		out.Forgeries = append(out.Forgeries, forgeryView{s.connectorName(f.Connector), f.Count, f.Last})
	}
	for _, r := range b.Reports {
		out.Reports = append(out.Reports, reportView{r.At, s.connectorName(r.Connector), r.Key, r.Step, r.Verdict})
	}
	return answer(out, nil)
}

// ConnectorInput names a connector.
type ConnectorInput struct {
	Connector string `path:"connector" maxLength:"60" doc:"Key"`
}

func (s *Server) setConnector(ctx context.Context, in *struct {
	ConnectorInput
	Body struct {
		URL    string `json:"url" maxLength:"300"`
		Secret string `json:"secret,omitempty" maxLength:"400" doc:"The one that is there stays when left out"`
		AtOnce int    `json:"atOnce" minimum:"1" maximum:"50"`
		Hosts  string `json:"hosts,omitempty" maxLength:"4000" doc:"That web calls may reach, one a line"`

		Sensitive string `json:"sensitive,omitempty" maxLength:"4000" doc:"Values that need more care, such as groups of the directory, one a line"`
	}
}) (*body[backgroundView], error) {
	b := in.Body
	if err := s.Office.Connect(ctx, me(ctx), work.Connection{Key: in.Connector, URL: b.URL, Secret: b.Secret, AtOnce: b.AtOnce, Hosts: b.Hosts, Sensitive: b.Sensitive}); err != nil {
		return nil, err
	}
	return s.background(ctx, nil)
}

func (s *Server) lookNow(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, s.Office.LookNow(me(ctx)))
}

func (s *Server) tryAgain(ctx context.Context, in *struct {
	Body struct {
		Lane string `json:"lane" maxLength:"60"`
		ID   string `json:"id" maxLength:"200"`
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.TryAgain(ctx, me(ctx), in.Body.Lane, in.Body.ID))
}

func (s *Server) retryAll(ctx context.Context, in *ConnectorInput) (*body[retriedView], error) {
	n, err := s.Office.RetryAll(ctx, me(ctx), in.Connector)
	return answer(retriedView{n}, err)
}

type retriedView struct {
	Started int `json:"started" doc:"How many stuck tasks were started anew"`
}

// calendarView is a working calendar with a year at a glance.
type calendarView struct {
	Key      string            `json:"key"`
	Document calendar.Document `json:"document"`
	Year     int               `json:"year"`
	Days     []calendarDay     `json:"days" nullable:"false" doc:"Every day of the year"`
	Findings finding.List      `json:"findings" nullable:"false" doc:"Why it was not kept, if it was not"`
	Uses     *usesView         `json:"uses,omitempty" doc:"Of one that is kept, as it was opened"`

	Yours     bool       `json:"yours,omitempty" doc:"The reader may change it"`
	Keeper    string     `json:"keeper,omitempty" doc:"Name of who keeps it beside the administrators"`
	ChangedBy string     `json:"changedBy,omitempty" doc:"Name"`
	ChangedAt *time.Time `json:"changedAt,omitempty"`
}

// usesView names those whose time a calendar keeps.
type usesView struct {
	Teams     []string `json:"teams" nullable:"false"`
	Locations []string `json:"locations" nullable:"false"`
	Offerings []string `json:"offerings" nullable:"false"`
}

type calendarDay struct {
	Date string `json:"date"`
	Open int    `json:"open" doc:"Open minutes"`
	Name string `json:"name,omitempty" doc:"Of the exception"`
	Not  bool   `json:"not,omitempty" doc:"It is an exception: other hours than its weekday has, or none"`
}

func (s *Server) calendars(ctx context.Context, _ *none) (*body[listOf[Named]], error) {
	all, err := s.Office.Calendars(ctx, me(ctx))
	out := listOf[Named]{Entries: []Named{}}
	for key, d := range all {
		name := d.Name
		if name == "" {
			name = key
		}
		out.Entries = append(out.Entries, Named{Key: key, Name: name})
	}
	slices.SortFunc(out.Entries, func(a, b Named) int {
		if a.Name < b.Name {
			return -1
		}
		return 1
	})
	return answer(out, err)
}

// CalendarInput names a calendar, and a year.
type CalendarInput struct {
	Calendar string `path:"calendar" maxLength:"60" doc:"Key"`
	Year     int    `query:"year" minimum:"1980" maximum:"2149" doc:"This year when left out"`
}

func (s *Server) oneCalendar(ctx context.Context, in *CalendarInput) (*body[calendarView], error) {
	kept, err := s.Office.Calendar(ctx, me(ctx), in.Calendar)
	if err != nil {
		return nil, err
	}
	uses, err := s.Office.CalendarUses(ctx, me(ctx), in.Calendar)
	out := s.glance(in, kept.Document, finding.List{})
	out.Uses, out.ChangedAt = (*usesView)(&uses), reached(kept.ChangedAt)
	if kept.ChangedBy != "" {
		out.ChangedBy = s.Office.Company().Name(kept.ChangedBy)
	}
	if kept.Keeper != "" {
		out.Keeper = s.Office.Company().Name(kept.Keeper)
	}
	out.Yours = s.Office.MayEditCalendar(ctx, me(ctx), in.Calendar) == nil
	return answer(out, err)
}

func (s *Server) saveCalendar(ctx context.Context, in *struct {
	CalendarInput
	Body calendar.Document
}) (*body[calendarView], error) {
	findings, err := s.Office.EditCalendar(ctx, me(ctx), in.Calendar, in.Body)
	if err != nil {
		return nil, err
	}
	return answer(s.glance(&in.CalendarInput, in.Body, findings), nil)
}

// tryCalendar shows the year of a calendar as it is being written; nothing is
// kept.
func (s *Server) tryCalendar(_ context.Context, in *struct {
	CalendarInput
	Body calendar.Document
}) (*body[calendarView], error) {
	return s.tried(&in.CalendarInput, in.Body)
}

// readHolidays adds the exceptions of an iCalendar file to a calendar as it is
// being written; nothing is kept.
func (s *Server) readHolidays(_ context.Context, in *struct {
	CalendarInput
	Body struct {
		Document calendar.Document `json:"document"`
		File     string            `json:"file" maxLength:"1000000" doc:"iCalendar (RFC 5545)"`
	}
}) (*body[calendarView], error) {
	zone, err := time.LoadLocation(in.Body.Document.Zone)
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, fmt.Sprintf("%q is no time zone.", in.Body.Document.Zone))
	}
	more, err := calendar.ReadICalendar(strings.NewReader(in.Body.File), zone)
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, sentence(err.Error()))
	}
	return s.tried(&in.CalendarInput, in.Body.Document.With(more))
}

func (s *Server) tried(in *CalendarInput, d calendar.Document) (*body[calendarView], error) {
	findings := finding.List{}
	calendar.Compile(d, &findings)
	return answer(s.glance(in, d, findings), nil)
}

// glance draws a year of a calendar.
func (s *Server) glance(in *CalendarInput, d calendar.Document, findings finding.List) calendarView {
	year := in.Year
	if year == 0 {
		year = s.Office.Clock().Year()
	}
	out := calendarView{Key: in.Calendar, Document: d, Year: year, Days: []calendarDay{}, Findings: findings}
	out.Document.Exceptions = list(d.Exceptions)
	compiled := calendar.Compile(d, &finding.List{})
	if compiled == nil {
		return out
	}
	bare := d
	bare.Exceptions = nil
	usual := calendar.Compile(bare, &finding.List{})
	names := map[string]string{}
	for _, e := range d.Exceptions {
		for _, date := range e.In(year) {
			names[date.String()] = e.Name
		}
	}
	minutes := func(c *calendar.Calendar, day calendar.Date) int {
		var open time.Duration
		for _, span := range c.Open(day) {
			open += span.Until.Sub(span.From)
		}
		return int(open.Minutes())
	}
	day := calendar.DateOf(time.Date(year, time.January, 1, 0, 0, 0, 0, time.UTC))
	for ; day.Year() == year; day = day.AddDays(1) {
		name, named := names[day.String()]
		open := minutes(compiled, day)
		out.Days = append(out.Days, calendarDay{day.String(), open, name, named || open != minutes(usual, day)})
	}
	return out
}

// SupplierInput is the link of a supplier.
type SupplierInput struct {
	Token string `path:"token" maxLength:"400"`
}

// supplied is what a supplier sees.
type supplied struct {
	Name      string `json:"name"`
	Reference string `json:"reference"`
	Subject   string `json:"subject"`
	Text      string `json:"text"`
	Trouble   string `json:"trouble,omitempty" doc:"Why nothing can be answered any more"`
}

func (s *Server) openSupplier(ctx context.Context, in *SupplierInput) (*body[supplied], error) {
	out, err := s.Office.OpenSupplier(ctx, in.Token)
	return answer(supplied(out), err)
}

func (s *Server) answerSupplier(ctx context.Context, in *struct {
	SupplierInput
	Body struct {
		State  string `json:"state" enum:"done,begun,refused"`
		Number string `json:"number,omitempty" maxLength:"60" doc:"The supplier's own"`
		Day    string `json:"day,omitempty" maxLength:"10" doc:"RFC 3339"`
		Words  string `json:"words,omitempty" maxLength:"2000"`
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.AnswerSupplier(ctx, in.Token, work.SupplierAnswer(in.Body)))
}

// reports takes reports of other systems, which are signed and not signed in.
func (s *Server) reports(r chi.Router) {
	r.Post("/api/reports/purchasing", s.purchasingReport)
	delivery := s.API.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[connect.Delivery](), true, "Delivery")
	header := func(name, description string) *huma.Param {
		return &huma.Param{Name: name, In: "header", Required: true, Description: description, Schema: &huma.Schema{Type: "string"}}
	}
	s.API.OpenAPI().AddOperation(&huma.Operation{
		Method: http.MethodPost, Path: "/api/reports/purchasing", OperationID: "report-purchasing",
		Description: "A report of the purchasing system, signed with its secret. One that came before, or too late, changes nothing and is answered alike.",
		Parameters: []*huma.Param{
			header(connect.SignatureHeader, "HMAC-SHA256 of the time, a dot and the body, in hexadecimal"), header(connect.TimeHeader, "Unix second at which it was signed; at most five minutes away"),
		},
		RequestBody: &huma.RequestBody{Required: true, Content: map[string]*huma.MediaType{"application/json": {Schema: delivery}}},
		Responses:   map[string]*huma.Response{"200": {Description: "It is known now"}, "401": {Description: "The signature is wrong"}, "404": {Description: "There is no such order"}},
	})
}

// mostReport is the largest report taken, in bytes.
const mostReport = 64 << 10

func (s *Server) purchasingReport(w http.ResponseWriter, r *http.Request) {
	data, err := io.ReadAll(http.MaxBytesReader(w, r.Body, mostReport))
	if err != nil {
		writeProblem(w, r, http.StatusRequestEntityTooLarge, "The report is too long.")
		return
	}
	verdict, err := s.Office.PurchasingReports(r.Context(), data, r.Header.Get(connect.SignatureHeader), r.Header.Get(connect.TimeHeader))
	switch {
	case errors.Is(err, work.ErrForged):
		if wait := s.meters.strangers.take(address(r.RemoteAddr)); wait > 0 {
			s.refuse(w, r, slowDown(wait, strangerTooFast))
			return
		}
		writeProblem(w, r, http.StatusUnauthorized, "The signature is wrong.")
	case err != nil:
		s.refuse(w, r, err)
	case verdict == work.Unknown:
		writeProblem(w, r, http.StatusNotFound, "There is no such order.")
	default:
		w.Header().Set("Content-Type", "application/json")
		_, _ = w.Write([]byte(`{"verdict":"` + verdict + `"}`)) // whoever asked and left needs no answer
	}
}
