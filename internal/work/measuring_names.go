package work

import (
	"context"

	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
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
	of, rest := offeringAnd(key)
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
		return n.Offering(of) + ", version " + rest
	case side == measure.ByTask:
		return n.Task(of, rest) + " – " + n.Offering(of)
	case side == measure.ByRung:
		return n.Rung(of, rest) + " – " + n.Offering(of)
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

// Task is what the newest version of an offering that has a task calls it.
func (n Names) Task(key, task string) string {
	if task == "" {
		return nameless(measure.ByTask)
	}
	return n.newest(key, task, func(c *offering.Compiled) (string, bool) {
		t, there := c.Plan.Task(task)
		return t.Name, there
	})
}

// Rung is what the newest version of an offering that has a decision calls it.
func (n Names) Rung(key, rung string) string {
	return n.newest(key, rung, func(c *offering.Compiled) (string, bool) {
		for _, r := range c.Document.Ladder {
			if r.Key == rung {
				return r.Name, true
			}
		}
		return "", false
	})
}

// newest is what the newest version of an offering that has a part of it calls that; where
// none has, it is the part's key.
func (n Names) newest(key, part string, name func(*offering.Compiled) (string, bool)) string {
	number, err := n.w.Store.CurrentNumber(n.ctx, key)
	if err != nil {
		return part
	}
	for ; number > 0; number-- {
		if c, err := n.w.numbered(n.ctx, n.w.Store, key, number); err == nil {
			if name, there := name(c); there {
				return name
			}
		}
	}
	return part
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
