package work

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Delivering lists the tasks of teams, with ways to look at them and prepared
// texts.
type Delivering struct{ *kernel }

// Tasks lists the tasks of a person's teams, or of one of them.
func (w *Delivering) Tasks(ctx context.Context, person string, q store.Tasks) ([]store.TaskEntry, error) {
	teams := w.TeamsOf(person)
	if len(q.Teams) > 0 {
		teams = slices.DeleteFunc(slices.Clone(q.Teams), func(team string) bool { return !slices.Contains(teams, team) })
	}
	q.Teams, q.Person, q.Now = teams, person, w.Clock()
	return w.Store.TasksOf(ctx, q)
}

// Loads tells a member of a team how much everybody of it has in hand: first
// what nobody has.
func (w *Delivering) Loads(ctx context.Context, person, team string) ([]store.Load, error) {
	if !w.Company().InTeam(person, team) {
		return nil, ErrNotFound
	}
	counted, err := w.Store.LoadOf(ctx, team, w.Clock())
	if err != nil {
		return nil, err
	}
	of := func(id string) store.Load {
		for _, l := range counted {
			if l.Person == id {
				return l
			}
		}
		return store.Load{Person: id}
	}
	all := []store.Load{of("")}
	for _, id := range w.Company().Members(team) {
		all = append(all, of(id))
	}
	return all, nil
}

// Worked lists the published offerings whose plan gives tasks to a person's
// teams, by name.
func (w *Delivering) Worked(ctx context.Context, person string) ([]Listed, error) {
	entries, err := w.catalog(ctx)
	if err != nil {
		return nil, err
	}
	teams, list := w.TeamsOf(person), []Listed{}
	for _, e := range entries {
		if slices.ContainsFunc(e.Teams, func(team string) bool { return slices.Contains(teams, team) }) {
			list = append(list, Listed{CatalogEntry: e.CatalogEntry})
		}
	}
	slices.SortFunc(list, func(a, b Listed) int { return strings.Compare(a.Name, b.Name) })
	return list, nil
}

// ToConfirm lists what a person is to confirm a part of.
func (w *Delivering) ToConfirm(ctx context.Context, person string) ([]Entry, error) {
	return w.Store.ToConfirm(ctx, person)
}

// Called is what another system was asked for by a task, or to take it back.
func (w *Delivering) Called(ctx context.Context, id string, t request.Task) (store.Effect, error) {
	return w.Store.CallEffect(ctx, request.CallKey(id, t.Key, t.Undo != nil))
}

// Colleagues lists the members of a team who can be handed a task, with whether
// they are absent now.
func (w *Delivering) Colleagues(team string) []Colleague {
	all := []Colleague{}
	for _, id := range w.Company().Members(team) {
		p, _ := w.Company().Person(id)
		if p.Former {
			continue
		}
		_, absent := w.Company().Absence(id, w.Clock())
		all = append(all, Colleague{p, absent})
	}
	return all
}

// Colleague is a member of a team.
type Colleague struct {
	people.Person
	Absent bool
}

// Slack is the working time until a task must begin, or end, at the latest, in
// the calendar of its team; negative when that is over.
func (w *Delivering) Slack(team string, latest time.Time) time.Duration {
	now := w.Clock()
	if work := w.Company().TeamHours(team, nil); work != nil {
		return work.Between(now, latest)
	}
	return latest.Sub(now)
}

// PlaceOf is where a task stands in lists, as they show it; from its forecast
// when that is not kept yet.
func (w *Delivering) PlaceOf(ctx context.Context, s request.State, t *request.Task, f request.Forecast) (store.Place, error) {
	at, err := w.Store.PlaceOf(ctx, s.ID, t.Key, s.Seq)
	if !errors.Is(err, ErrNotFound) {
		return at, err
	}
	slot, _, _ := f.Step(t.Key)
	return placeIn(slot, t), nil
}
