package work

import (
	"cmp"
	"context"
	"slices"
	"sync/atomic"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Following shows people their requests and finds those of others, with files
// and what is kept apart.
type Following struct {
	*kernel
	written cache[struct{}, map[int][]string] // words that requests are found by, by their letters
	known   atomic.Pointer[map[int][]string]  // as they were last read
}

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
	return store.Sight{Person: person, Services: k.Company().Overseen(person), Teams: k.TeamsOf(person), Now: k.Clock()}
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
	me := readerOf(w.kernel, person)
	all := make([]Have, len(holdings))
	for i, b := range holdings {
		all[i] = Have{b, []Fit{}}
	}
	had := map[string][]int{} // of all, by kind
	for i, h := range all {
		had[h.Kind] = append(had[h.Kind], i)
	}
	for _, e := range entries {
		fits := slices.DeleteFunc(slices.Clone(e.Fits), func(fit offering.Fit) bool { return len(had[fit.Kind]) == 0 })
		if len(fits) == 0 {
			continue
		}
		if !me.of(e).mayAsk {
			continue
		}
		for _, fit := range fits {
			for _, i := range had[fit.Kind] {
				all[i].Fits = append(all[i].Fits, Fit{e.Offering, e.Name, fit.Does, fit.Question})
			}
		}
	}
	return all, nil
}

// Silence lets a person hear no more news of a request, or again.
func (w *Following) Silence(ctx context.Context, person, id string, silent bool) error {
	state, err := w.Store.Request(ctx, id)
	if err != nil || !w.Viewer(person, state).Any() {
		return cmp.Or(err, ErrNotFound)
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.Silence(person, id, silent) })
}

// Silent reports whether a person has silenced a request.
func (w *Following) Silent(ctx context.Context, person, id string) (bool, error) {
	return w.Store.Silent(ctx, person, id)
}

// OutlookOf is what a line in a list says of when a request is likely to be done: as the
// runner has worked it out, or as of now where it has not yet, or where that has passed.
func (w *Following) OutlookOf(ctx context.Context, e Entry) (request.Outlook, error) {
	if o := e.Outlook; o != nil && (o.Unknown || !o.Finish.Before(w.Clock())) {
		return *o, nil
	}
	state, err := w.Store.Request(ctx, e.State.ID)
	if err != nil {
		return request.Outlook{}, err
	}
	f, err := w.Forecast(ctx, state)
	return f.Outlook(), err
}
