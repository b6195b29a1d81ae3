package work

import (
	"cmp"
	"context"

	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Following shows people their requests and finds those of others, with files
// and what is kept apart.
type Following struct{ *kernel }

// RequestsOf lists what a person asked for, or what is for them.
func (w *Following) RequestsOf(ctx context.Context, person string, m Mine) ([]Entry, error) {
	return w.Store.RequestsOf(ctx, person, m)
}

// GroupsOf counts the requests of a person by what they wait for.
func (w *Following) GroupsOf(ctx context.Context, person string) (map[Group]int, error) {
	return w.Store.GroupsOf(ctx, person)
}

// Overview counts what is under way of what a person may see, or works on.
func (w *Following) Overview(ctx context.Context, person string) ([]store.UnderWay, error) {
	return w.Store.Overview(ctx, w.sight(person))
}

// sight is what a person may see requests by: they own the service or lead its
// home team, or are in a team with a task.
func (w *Following) sight(person string) store.Sight { return sightOf(w.kernel, person) }

func sightOf(k *kernel, person string) store.Sight {
	s := store.Sight{Person: person, Teams: k.TeamsOf(person), Now: k.Clock()}
	for _, service := range k.Company().Services() {
		if k.Company().Designs(person, service) || k.leads(person, service.Home) {
			s.Services = append(s.Services, service.Key)
		}
	}
	return s
}

// Fit is an offering that fits something that somebody has.
type Fit struct {
	Offering, Name string
	Does           string
	Question       string // that names it
}

// Have is something that a person has, with what can be asked for it.
type Have struct {
	store.Belonging
	Fits []Fit
}

// HaveOf lists what a person has, with the offerings that fit each.
func (w *Following) HaveOf(ctx context.Context, person string) ([]Have, error) {
	holdings, err := w.Store.HoldingsOf(ctx, person)
	if err != nil {
		return nil, err
	}
	entries, err := w.catalog(ctx)
	if err != nil {
		return nil, err
	}
	me := w.audiencePerson(person)
	all := make([]Have, len(holdings))
	for i, b := range holdings {
		all[i] = Have{b, []Fit{}}
	}
	for _, e := range entries {
		if may, _ := e.audience.MayAsk(me); !may {
			continue
		}
		c, err := w.numbered(ctx, w.Store, e.Offering, e.Number)
		if err != nil {
			return nil, err
		}
		for _, fit := range c.Document.Purpose.Fits {
			for i := range all {
				if all[i].Kind == fit.Kind {
					all[i].Fits = append(all[i].Fits, Fit{e.Offering, e.Name, fit.Does, fit.Question})
				}
			}
		}
	}
	return all, nil
}

// Silence lets a person hear no more news of a request, or again.
func (w *Following) Silence(ctx context.Context, person, id string, silent bool) (request.State, error) {
	state, err := w.Store.Request(ctx, id)
	if err != nil || !w.Viewer(person, state).Any() {
		return state, cmp.Or(err, ErrNotFound)
	}
	return state, w.Store.Write(ctx, func(tx *store.Tx) error { return tx.Silence(person, id, silent) })
}

// Silent reports whether a person has silenced a request.
func (w *Following) Silent(ctx context.Context, person, id string) (bool, error) {
	return w.Store.Silent(ctx, person, id)
}
