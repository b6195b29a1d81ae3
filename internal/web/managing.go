package web

import (
	"context"
	"time"

	"heptad/internal/core/plan"
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

func (h managing) background(ctx context.Context, _ *none) (*body[backgroundView], error) {
	b, err := h.Office.Connecting.Background(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := backgroundView{Still: h.Office.Running.StandsStill(), Connectors: []connectorView{}, Jobs: []jobView{}, Stuck: []jobView{}, Reports: []reportView{}, Forgeries: []forgeryView{}, Aside: []asideView{}, Standstill: []standstillView{}}
	if b.Pulse != nil {
		out.Looked, out.Next = &b.Pulse.Looked, &b.Pulse.Next
	}
	now := h.Office.Clock()
	for _, c := range b.Connectors {
		view := connectorView{c.Key, c.Name, c.URL, c.HasSecret, c.AtOnce, c.Hosts, c.Sensitive, c.Waiting, c.Running, c.Stuck, reached(c.Success), c.Trouble, nil}
		if c.Paused.After(now) {
			view.Paused = &c.Paused
		}
		out.Connectors = append(out.Connectors, view)
	}
	for _, j := range b.Jobs {
		view := jobView{Connector: h.connectorName(j.Connector), State: j.State, Trouble: j.Trouble}
		due := j.Due()
		view.Due = &due
		view.Reference, view.Task = h.Office.Connecting.TaskOf(ctx, j.Request, j.Task)
		out.Jobs = append(out.Jobs, view)
	}
	for _, e := range b.Stuck {
		if t, ok := e.State.Task(e.Key); ok {
			trouble := t.Trouble
			if t.Undo != nil {
				trouble = t.Undo.Trouble
			}
			out.Stuck = append(out.Stuck, jobView{Reference: e.State.Reference, Task: t.Name, Connector: h.connectorName(t.Connector), State: "stuck", Trouble: trouble})
		}
	}
	for _, a := range b.Aside {
		out.Aside = append(out.Aside, asideView(a))
	}
	for _, st := range b.Still {
		out.Standstill = append(out.Standstill, standstillView(st))
	}
	for _, f := range b.Forgeries {
		out.Forgeries = append(out.Forgeries, forgeryView{h.connectorName(f.Connector), f.Count, f.Last})
	}
	for _, r := range b.Reports {
		out.Reports = append(out.Reports, reportView{r.At, h.connectorName(r.Connector), r.Key, r.Step, r.Verdict})
	}
	return answer(out, nil)
}

// ConnectorInput names a connector.
type ConnectorInput struct {
	Connector string `path:"connector" maxLength:"60" doc:"Key"`
}

func (h managing) setConnector(ctx context.Context, in *struct {
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
	if err := h.Office.Connecting.Connect(ctx, me(ctx), work.Connection{Key: in.Connector, URL: b.URL, Secret: b.Secret, AtOnce: b.AtOnce, Hosts: b.Hosts, Sensitive: b.Sensitive}); err != nil {
		return nil, err
	}
	return h.background(ctx, nil)
}

func (h managing) lookNow(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, h.Office.Connecting.LookNow(me(ctx)))
}

func (h managing) tryAgain(ctx context.Context, in *struct {
	Body struct {
		Lane string `json:"lane" maxLength:"60"`
		ID   string `json:"id" maxLength:"200"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Running.TryAgain(ctx, me(ctx), in.Body.Lane, in.Body.ID))
}

func (h managing) retryAll(ctx context.Context, in *ConnectorInput) (*body[retriedView], error) {
	n, err := h.Office.Connecting.RetryAll(ctx, me(ctx), in.Connector)
	return answer(retriedView{n}, err)
}

type retriedView struct {
	Started int `json:"started" doc:"How many stuck tasks were started anew"`
}

// grantView is what a service may use.
type grantView struct {
	Service string `json:"service" maxLength:"60" doc:"Key"`
	plan.Grant

	ServiceName   string    `json:"serviceName,omitempty"`
	ConnectorName string    `json:"connectorName,omitempty"`
	ActionName    string    `json:"actionName,omitempty"`
	Sensitive     bool      `json:"sensitive,omitempty" doc:"Somebody must always decide before it is done"`
	Words         []string  `json:"words,omitempty" nullable:"false" doc:"What the inputs may be"`
	By            string    `json:"by,omitempty" doc:"Name of who granted it"`
	At            time.Time `json:"at,omitzero"`
}

// grantsBody is what services may use, and what there is to grant.
type grantsBody struct {
	Entries    []grantView      `json:"entries" nullable:"false"`
	Services   []Named          `json:"services" nullable:"false"`
	Connectors []plan.Connector `json:"connectors" nullable:"false"`
}

func (h managing) grants(ctx context.Context, _ *none) (*body[grantsBody], error) {
	all, err := h.Office.Connecting.Grants(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := grantsBody{Entries: []grantView{}, Services: []Named{}, Connectors: h.Office.Connectors()}
	for _, g := range all {
		view := grantView{Service: g.Service, Grant: g.Grant, ServiceName: g.Service, ConnectorName: h.connectorName(g.Connector), ActionName: g.Action, At: g.At}
		if service, ok := h.Office.Company().Service(g.Service); ok {
			view.ServiceName = service.Name
		}
		if action, ok := plan.FindAction(h.Office.Connectors(), plan.Action{Connector: g.Connector, Do: g.Action}); ok {
			view.ActionName, view.Sensitive, view.Words = action.Name, action.Sensitive, g.Grant.Words(action)
		}
		if g.By != "" {
			view.By = h.Office.Company().Name(g.By)
		}
		out.Entries = append(out.Entries, view)
	}
	for _, service := range h.Office.Company().Services() {
		out.Services = append(out.Services, Named{Key: service.Key, Name: service.Name})
	}
	return answer(out, nil)
}

func (h managing) grant(ctx context.Context, in *struct {
	Body struct {
		Service string `json:"service" maxLength:"60" doc:"Key"`
		plan.Grant
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Connecting.Grant(ctx, me(ctx), in.Body.Service, in.Body.Grant))
}

func (h managing) revoke(ctx context.Context, in *struct {
	Service   string `path:"service" maxLength:"60"`
	Connector string `path:"connector" maxLength:"60"`
	Action    string `path:"action" maxLength:"60"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Connecting.Revoke(ctx, me(ctx), in.Service, in.Connector, in.Action))
}
