package work

import (
	"context"
	"slices"

	"heptad/internal/core/audit"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Doubled is what goes over when somebody who is kept twice becomes one.
type Doubled struct {
	store.HeldByOne
	Duties int      // teams, services, areas and cost centres they answer for, and people they manage
	Teams  []string // names of those they are a member of
	Roles  []string // that stay behind: they are given anew, by two
}

// Doubled tells an administrator what would go over from one record of a person to the
// other.
func (w *Keeping) Doubled(ctx context.Context, actor, from, into string) (Doubled, error) {
	double, _, err := w.doubles(ctx, actor, from, into)
	if err != nil {
		return Doubled{}, err
	}
	held, err := w.Store.HeldBy(ctx, from)
	records := w.inPlaceOf(from, into)
	d := Doubled{HeldByOne: held, Teams: []string{}, Roles: append([]string{}, double.Roles...), Duties: len(records.Teams) + len(records.Services) + len(records.Areas) + len(records.CostCentres) + len(records.Persons)}
	for _, key := range double.Teams {
		d.Teams = append(d.Teams, w.Company().TeamName(key))
	}
	return d, err
}

// doubles finds two records of one person, for an administrator who is neither: else they
// would put themself in charge.
func (w *Keeping) doubles(ctx context.Context, actor, from, into string) (double, kept people.Person, err error) {
	if !w.Administers(actor) {
		return double, kept, ErrNotFound
	}
	double, ok := w.Company().Person(from)
	if !ok {
		return double, kept, ErrNotFound
	}
	kept, ok = w.Company().Person(into)
	switch {
	case !ok || kept.Former || from == into:
		return double, kept, invalid(refusal.UnknownPerson, "/into", "Choose who it is, among those who are there.")
	case actor == from || actor == into:
		moving, err := w.Moving(ctx)
		if err != nil {
			return double, kept, err
		}
		if !moving {
			return double, kept, conflict(refusal.OwnDouble, "You are one of the two: another administrator brings them together.")
		}
	}
	return double, kept, w.staysAdministered([]people.Person{double})
}

// inPlaceOf are the records in which one person takes the place of another.
func (w *Keeping) inPlaceOf(from, into string) (r people.Records) {
	designs := func(owner *string, editors *[]string) bool { // whether the one did; then the other does
		if *owner != from && !slices.Contains(*editors, from) {
			return false
		}
		if *owner == from {
			*owner = into
		}
		var out []string
		for _, id := range *editors {
			if id == from {
				id = into
			}
			if id != *owner && !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
		*editors = out
		return true
	}
	company := w.Company()
	for _, t := range company.Teams() {
		if t.Lead == from {
			t.Lead = into
			r.Teams = append(r.Teams, t)
		}
	}
	for _, s := range company.Services() {
		if designs(&s.Owner, &s.Editors) {
			r.Services = append(r.Services, s)
		}
	}
	for _, a := range company.Areas() {
		if designs(&a.Owner, &a.Editors) {
			r.Areas = append(r.Areas, a)
		}
	}
	for _, c := range company.CostCentres() {
		if c.Owner == from {
			c.Owner = into
			r.CostCentres = append(r.CostCentres, c)
		}
	}
	double, _ := company.Person(from)
	for _, p := range company.Persons() {
		if p.Manager == from && p.ID != from {
			if p.Manager = into; p.ID == into {
				p.Manager = double.Manager
			}
			if p.Manager == p.ID {
				p.Manager = ""
			}
			r.Persons = append(r.Persons, p)
		}
	}
	return r
}

// Merge brings two records of one person together, by an administrator: what the first has
// and answers for goes over to the second, which follows what is under way for it; the
// first becomes inactive. What happened stays with who did it then.
func (w *Keeping) Merge(ctx context.Context, actor, from, into string) error {
	double, kept, err := w.doubles(ctx, actor, from, into)
	if err != nil {
		return err
	}
	if double.Former {
		return conflict(refusal.NotHere, "%s is inactive already.", double.Name)
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		under, err := tx.UnderWayOf(ctx, from)
		if err != nil {
			return err
		}
		for _, id := range under {
			state, err := w.follows(ctx, tx, id, into)
			if isRefusal(err) { // they hear of it already
				continue
			}
			if err != nil {
				return err
			}
			tx.Then(func() { w.tell(state) })
		}
		records := w.inPlaceOf(from, into)
		for _, team := range double.Teams {
			if !slices.Contains(kept.Teams, team) {
				kept.Teams = append(slices.Clip(kept.Teams), team)
			}
		}
		if i := slices.IndexFunc(records.Persons, func(p people.Person) bool { return p.ID == into }); i >= 0 {
			records.Persons[i].Teams = kept.Teams
		} else {
			records.Persons = append(records.Persons, kept)
		}
		if err := tx.AddCompany(records); err != nil {
			return err
		}
		if err := tx.MoveTo(from, into); err != nil {
			return err
		}
		if err := w.note(ctx, tx, actor, audit.PersonMerged, from, double.Name, audit.Change{Field: "into", After: kept.Name + " (" + kept.Login + ")"}); err != nil {
			return err
		}
		var d duties
		d.add(into, "You were kept twice, and are one now: what %s (%s) had and answered for is yours.", double.Name, double.Login)
		if err := d.tell(ctx, w.kernel, tx, actor); err != nil {
			return err
		}
		return w.gone(ctx, tx, actor, []people.Person{double})
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}

// follows lets somebody hear of a request.
func (w *Keeping) follows(ctx context.Context, tx *store.Tx, id, person string) (request.State, error) {
	state, err := tx.Request(ctx, id)
	if err != nil {
		return state, err
	}
	facts, err := w.facts(ctx, tx, request.Program, state)
	if err != nil {
		return state, err
	}
	return w.handle(tx, state, facts, request.Follow{Person: person})
}
