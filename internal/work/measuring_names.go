package work

import (
	"context"
	"strings"

	"heptad/internal/core/measure"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Names tell what people call the values of sides.
type Names struct {
	w         *Measuring
	ctx       context.Context
	company   *people.Directory
	offerings map[string]store.Named
}

// Names reads them.
func (w *Measuring) Names(ctx context.Context) (Names, error) {
	offerings, err := w.Store.NamedOfferings(ctx)
	return Names{w, ctx, w.Company(), offerings}, err
}

// Of names a value of a side; of stretches of the calendar it is the key.
func (n Names) Of(side measure.Side, key string) string {
	offering, rest, _ := strings.Cut(key, "/")
	switch {
	case key == "" || side == measure.ByTask && rest == "":
		return nameless(side)
	case side == measure.ByService:
		return n.w.serviceName(key)
	case side == measure.ByTeam:
		return n.company.TeamName(key)
	case side == measure.ByOffering:
		return n.Offering(key)
	case side == measure.ByVersion:
		return n.Offering(offering) + ", version " + rest
	case side == measure.ByTask:
		return n.Task(offering, rest) + " – " + n.Offering(offering)
	case side == measure.ByRung:
		return n.Rung(offering, rest) + " – " + n.Offering(offering)
	case side == measure.ByConnector:
		if c, there := n.w.connectors[key]; there {
			return c.Describe().Name
		}
	case side == measure.ByCostCentre:
		return n.company.CentreName(key)
	case side == measure.ByOutcome:
		if key == string(request.Withdrawn) {
			return "taken back"
		}
	case side == measure.ByStatus:
		return map[request.Status]string{
			request.Deciding: "being decided", request.Returned: "waits for an answer", request.Delivering: "being done", request.Waiting: "waits for an answer in the work",
			request.Undoing: "being taken back", request.Delivered: "delivered, to be confirmed",
		}[request.Status(key)]
	case side == measure.ByDoor:
		return map[string]string{"wanted": "something wanted", "broken": "something broken"}[key]
	case side == measure.ByChannel:
		return map[request.Channel]string{request.ByPage: "by the page", request.ByProgram: "by a rule"}[request.Channel(key)]
	}
	return key
}

// Offering is the name of the newest version of an offering.
func (n Names) Offering(key string) string {
	if named, there := n.offerings[key]; there {
		return named.Name
	}
	return key
}

// Task is what the newest version that has a task calls it.
func (n Names) Task(offering, of string) string {
	if of == "" {
		return nameless(measure.ByTask)
	}
	number, err := n.w.Store.CurrentNumber(n.ctx, offering)
	if err != nil {
		return of
	}
	for ; number > 0; number-- {
		if name := n.w.taskName(n.ctx, offering, number, of); name != of {
			return name
		}
	}
	return of
}

// Rung is what the newest version that has a decision calls it.
func (n Names) Rung(offering, key string) string {
	number, err := n.w.Store.CurrentNumber(n.ctx, offering)
	if err != nil {
		return key
	}
	for ; number > 0; number-- {
		c, err := n.w.numbered(n.ctx, n.w.Store, offering, number)
		if err != nil {
			continue
		}
		for _, r := range c.Document.Ladder {
			if r.Key == key {
				return r.Name
			}
		}
	}
	return key
}

// nameless is what is said of those that have no value of a side.
func nameless(side measure.Side) string {
	switch side {
	case measure.ByTeam:
		return "no team"
	case measure.ByTask:
		return "added by staff"
	case measure.ByOutcome:
		return "not ended"
	case measure.BySpeed:
		return "nothing promised"
	case measure.ByConnector:
		return "by people"
	}
	return "not known"
}
