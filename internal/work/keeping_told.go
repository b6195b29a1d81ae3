package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

// duties gathers what people are told of what they answer for.
type duties struct {
	order []string // IDs
	lines map[string][]string
}

func (d *duties) add(person, line string, args ...any) {
	if person == "" {
		return
	}
	if d.lines == nil {
		d.lines = map[string][]string{}
	}
	if d.lines[person] == nil {
		d.order = append(d.order, person)
	}
	d.lines[person] = append(d.lines[person], fmt.Sprintf(line, args...))
}

// replaced adds what two people are told of one having taken the place of the other.
// Whoever comes first to something is not told: they know, or all of it is new.
func (d *duties) replaced(before, after, what string) {
	if before == "" || before == after {
		return
	}
	d.add(before, "You are no longer %s.", what)
	d.add(after, "You are now %s.", what)
}

// mostDuties is how many changes one message names.
const mostDuties = 20

// tell sends each of them one message.
func (w *Keeping) tellDuties(ctx context.Context, tx *store.Tx, actor string, d duties) error {
	for _, person := range d.order {
		lines := d.lines[person]
		if more := len(lines) - mostDuties; more > 0 {
			lines = append(slices.Clone(lines[:mostDuties]), fmt.Sprintf("And %d more.", more))
		}
		p, _ := w.Company().Person(person)
		if person == actor || p.Former {
			continue
		}
		by := "The program"
		if actor != "" {
			by = w.Company().Name(actor)
		}
		facts := message.Facts{By: by, Said: strings.Join(lines, "\n"), Person: p.Name}
		if err := w.letters.postKind(ctx, tx, w.Company(), store.Message{Person: person, Kind: message.Duty, At: w.Clock()}, facts); err != nil {
			return err
		}
	}
	return nil
}

// tellReplaced tells those in whose place records put others.
func (w *Keeping) tellReplaced(ctx context.Context, tx *store.Tx, actor string, r people.Records) error {
	var d duties
	company := w.Company()
	for _, p := range r.Persons {
		before, _ := company.Person(p.ID)
		d.replaced(before.Manager, p.Manager, "the line manager of "+p.Name)
	}
	for _, t := range r.Teams {
		before, _ := company.Team(t.Key)
		d.replaced(before.Lead, t.Lead, "the lead of "+t.Name)
	}
	for _, s := range r.Services {
		before, _ := company.Service(s.Key)
		d.replaced(before.Owner, s.Owner, "the owner of "+s.Name)
	}
	for _, c := range r.CostCentres {
		before, _ := company.CostCentre(c.Key)
		d.replaced(before.Owner, c.Owner, "the owner of the cost centre "+strings.TrimSpace(c.Key+" "+c.Name))
	}
	return w.tellDuties(ctx, tx, actor, d)
}

// actsOf are the rows of the audit for what a preview would change.
func (w *Keeping) actsOf(ctx context.Context, person string, p *intake.Preview) []audit.Row {
	var things []string
	r := p.Records
	for _, n := range r.Persons {
		things = append(things, n.ID)
	}
	for _, l := range r.Locations {
		things = append(things, l.Name)
	}
	for _, c := range r.CostCentres {
		things = append(things, c.Key)
	}
	for _, t := range r.Teams {
		things = append(things, t.Key)
	}
	for _, s := range r.Services {
		things = append(things, s.Key)
	}
	var rows []audit.Row
	kept := 0
	for _, l := range p.Lines { // those that are kept, in the order of their records
		if l.State != intake.New && l.State != intake.Changed {
			continue
		}
		thing := things[kept]
		kept++
		changes := slices.DeleteFunc(slices.Clone(l.Changes), func(c audit.Change) bool { return c == leaves }) // has a row of its own
		if l.State == intake.New || len(changes) > 0 {
			rows = append(rows, w.act(ctx, person, actOf(p.Kind, l), thing, l.Name, changes...))
		}
	}
	return rows
}

// How a line says that somebody leaves, or comes back.
var (
	leaves = audit.Change{Field: "active", Before: "yes", After: "no"}
	back   = audit.Change{Field: "active", Before: "no", After: "yes"}
)

func actOf(kind intake.Kind, l intake.Line) audit.Act {
	switch kind {
	case intake.Locations:
		return audit.PlaceSaved
	case intake.CostCentres:
		return audit.CentreSaved
	case intake.Teams:
		return audit.TeamSaved
	case intake.Services:
		return audit.ServiceSaved
	}
	if l.State == intake.New {
		return audit.PersonAdded
	}
	if slices.Contains(l.Changes, back) {
		return audit.PersonBack
	}
	return audit.PersonChanged
}
