package web

import (
	"context"
	"time"

	"heptad/internal/core/plan"
)

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

func (s *Server) grants(ctx context.Context, _ *none) (*body[grantsBody], error) {
	all, err := s.Office.Grants(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := grantsBody{Entries: []grantView{}, Services: []Named{}, Connectors: s.Office.Connectors()}
	for _, g := range all {
		view := grantView{Service: g.Service, Grant: g.Grant, ServiceName: g.Service, ConnectorName: s.connectorName(g.Connector), ActionName: g.Action, At: g.At}
		if service, ok := s.Office.Company().Service(g.Service); ok {
			view.ServiceName = service.Name
		}
		if action, ok := plan.FindAction(s.Office.Connectors(), plan.Action{Connector: g.Connector, Do: g.Action}); ok {
			view.ActionName, view.Sensitive, view.Words = action.Name, action.Sensitive, g.Grant.Words(action)
		}
		if g.By != "" {
			view.By = s.Office.Company().Name(g.By)
		}
		out.Entries = append(out.Entries, view)
	}
	for _, service := range s.Office.Company().Services() {
		out.Services = append(out.Services, Named{Key: service.Key, Name: service.Name})
	}
	return answer(out, nil)
}

func (s *Server) grant(ctx context.Context, in *struct {
	Body struct {
		Service string `json:"service" maxLength:"60" doc:"Key"`
		plan.Grant
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.Grant(ctx, me(ctx), in.Body.Service, in.Body.Grant))
}

func (s *Server) revoke(ctx context.Context, in *struct {
	Service   string `path:"service" maxLength:"60"`
	Connector string `path:"connector" maxLength:"60"`
	Action    string `path:"action" maxLength:"60"`
}) (*body[none], error) {
	return answer(none{}, s.Office.Revoke(ctx, me(ctx), in.Service, in.Connector, in.Action))
}
