package work

import (
	"context"
	"slices"
	"strings"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/store"
)

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
	for _, a := range r.Areas {
		before, _ := company.Area(a.Name)
		d.replaced(before.Owner, a.Owner, "the owner of the area "+a.Name)
	}
	for _, s := range r.Services {
		before, _ := company.Service(s.Key)
		d.replaced(before.Owner, s.Owner, "the owner of "+s.Name)
	}
	for _, c := range r.CostCentres {
		before, _ := company.CostCentre(c.Key)
		d.replaced(before.Owner, c.Owner, "the owner of the cost centre "+strings.TrimSpace(c.Key+" "+c.Name))
	}
	return d.tell(ctx, w.kernel, tx, actor)
}

// actsOf are the rows of the audit for what a preview would change.
func (w *Keeping) actsOf(ctx context.Context, person string, p *intake.Preview) []audit.Row {
	var rows []audit.Row
	for _, l := range p.Lines { // those that are kept, in the order of their records
		if l.State != intake.New && l.State != intake.Changed {
			continue
		}
		changes := slices.DeleteFunc(slices.Clone(l.Changes), func(c audit.Change) bool { return c == leaves }) // has a row of its own
		if l.State == intake.New || len(changes) > 0 {
			rows = append(rows, w.act(ctx, person, actOf(p.Kind, l), l.ID, l.Name, changes...))
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
	case intake.Areas:
		return audit.AreaSaved
	case intake.Belongings:
		return audit.BelongingSaved
	case intake.Offerings:
		return audit.HeadRead
	}
	if l.State == intake.New {
		return audit.PersonAdded
	}
	if slices.Contains(l.Changes, back) {
		return audit.PersonBack
	}
	return audit.PersonChanged
}
