package work

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/intake"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/store"
)

// keep writes what a preview would change. Whoever becomes inactive goes the same way,
// whether a line says so or they stand in none.
func (w *Keeping) keep(ctx context.Context, tx *store.Tx, person string, p *intake.Preview, gone bool, under *progress) (left, waiting int, err error) {
	records, leavers := p.Records, []people.Person(nil)
	records.Persons = slices.Clone(records.Persons)
	for i, n := range records.Persons {
		if was, ok := w.Company().Person(n.ID); ok && n.Former && !was.Former {
			records.Persons[i].Former = false
			leavers = append(leavers, n)
		}
	}
	for name, to := range p.Renamed {
		if err := tx.RenameArea(name, to); err != nil {
			return 0, 0, err
		}
	}
	if err := w.write(ctx, tx, records, under); err != nil {
		return 0, 0, err
	}
	if err := w.writeThings(ctx, tx, person, p); err != nil {
		return 0, 0, err
	}
	for team, members := range p.Members {
		if err := tx.SetMembers(team, members); err != nil {
			return 0, 0, err
		}
	}
	if err := tx.AddAct(w.actsOf(ctx, person, p)...); err != nil {
		return 0, 0, err
	}
	if err := w.tellReplaced(ctx, tx, person, records); err != nil {
		return 0, 0, err
	}
	if gone && p.Kind == intake.People {
		for _, g := range p.Gone {
			if n, ok := w.Company().Person(g.Key); ok {
				leavers = append(leavers, n)
			}
		}
	}
	if err := w.staysAdministered(leavers); err != nil {
		return 0, 0, err
	}
	waiting, err = w.leave(ctx, tx, person, leavers)
	return len(leavers) - waiting, waiting, err
}

// keptFor is how long somebody who has left gets everything back when they come again.
const keptFor = 10 * 24 * time.Hour

// comesBack is somebody who is there again: with the teams, the roles and the ways to sign
// in they had, when it is not too long ago.
func (w *Keeping) comesBack(ctx context.Context, tx *store.Tx, p people.Person) (people.Person, error) {
	left, err := tx.LeftAt(ctx, p.ID)
	if err != nil {
		return p, err
	}
	if !left.IsZero() && w.Clock().Sub(left) > keptFor {
		p.Roles, p.Teams = nil, nil
		if err := tx.ForgetEntry(p.ID); err != nil {
			return p, err
		}
	}
	return p, tx.SetLeft(p.ID, time.Time{})
}

// atATime is how many people are written before the progress is told.
const atATime = 200

// write keeps records and tells how far it is. Who comes back has not left.
func (w *Keeping) write(ctx context.Context, tx *store.Tx, r people.Records, under *progress) error {
	persons := r.Persons
	r.Persons = nil
	for some := range slices.Chunk(persons, atATime) {
		for i, p := range some {
			if was, ok := w.Company().Person(p.ID); ok && was.Former && !p.Former {
				back, err := w.comesBack(ctx, tx, p)
				if err != nil {
					return err
				}
				some[i] = back
			}
		}
		if err := tx.AddCompany(people.Records{Persons: some}); err != nil {
			return err
		}
		under.done.Add(int64(len(some)))
	}
	if err := tx.AddCompany(r); err != nil {
		return err
	}
	under.done.Store(under.of)
	return nil
}

// writeThings keeps what people have, and begins offerings as drafts, whose owners are
// told.
func (w *Keeping) writeThings(ctx context.Context, tx *store.Tx, person string, p *intake.Preview) error {
	for _, b := range p.Belongings {
		if err := tx.PutBelonging(b.Person, b.Belonging); err != nil {
			return err
		}
	}
	count := map[string]int{}
	for _, h := range p.Heads {
		service, _ := w.Company().Service(h.Service)
		if err := tx.AddDraft(w.begun(h), person, w.Clock()); err != nil {
			return err
		}
		count[service.Key]++
	}
	var d duties
	for _, s := range w.Company().Services() {
		if n := count[s.Key]; n > 0 {
			d.add(s.Owner, "%d drafts of offerings were read in for %s, of which you are the owner. Finish them on Design.", n, s.Name)
		}
	}
	return d.tell(ctx, w.kernel, tx, person)
}

// begun is a draft with a head alone: one team does it, and it is still to be said who
// may ask.
func (w *Keeping) begun(h intake.Head) offering.Document {
	o := w.Organisation()
	d := offering.New(h.Key, h.Name, h.Service, o.Currency, o.Zone)
	d.Audience.Everyone = new(bool)
	d.Purpose.Text, d.Purpose.Keywords = h.Text, h.Keywords
	d.Promise.Calendar = o.Calendar
	d.Plan = []plan.Task{{Key: "do", Name: h.Name, Kind: plan.Manual, Team: h.Team}}
	return d
}
