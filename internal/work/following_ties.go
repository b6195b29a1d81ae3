package work

import (
	"context"
	"slices"
	"strings"

	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// Tied is a request that another belongs to, or that belongs to it.
type Tied struct {
	request.Link
	Holder string // ID of the request that it stands on
	Line   store.Line
	Seen   bool // it is the reader's business; else only its reference is told
}

// Ties are how a request belongs to others.
type Ties struct {
	Tied    []Tied
	Ends    []string     // references of those that end with it
	Sent    []store.Line // at once with it, as far as they see it
	Touches int          // how many have it, with who asked
}

// Line is what a line in a list says of a request.
type Line = store.Line

// suggested is how many requests are suggested to be tied.
const suggested = 8

// TiesOf tells how a request belongs to others; to staff also those that belong to it.
func (w *Following) TiesOf(ctx context.Context, person string, s request.State) (Ties, error) {
	viewer := w.Viewer(person, s)
	if !viewer.Any() {
		return Ties{}, ErrNotFound
	}
	var t Ties
	add := func(holder string, link request.Link, other string) error {
		o, err := w.Store.Request(ctx, other)
		if err != nil {
			return err
		}
		seen := w.Viewer(person, o).Any()
		link.Reference = o.Reference
		tied := Tied{Link: link, Holder: holder, Seen: seen, Line: store.Line{ID: o.ID, Reference: o.Reference}}
		if seen {
			tied.Line = store.LineOf(o)
		}
		t.Tied = append(t.Tied, tied)
		return nil
	}
	for _, link := range s.Links {
		if err := add(s.ID, link, link.Other); err != nil {
			return t, err
		}
	}
	if s.Together != nil {
		sent, err := w.Store.SentTogether(ctx, s.Asker, s.Together.ID)
		if err != nil {
			return t, err
		}
		for _, id := range sent {
			if id == s.ID {
				continue
			}
			other, err := w.Store.Request(ctx, id)
			if err != nil {
				return t, err
			}
			if w.Viewer(person, other).Any() {
				t.Sent = append(t.Sent, store.LineOf(other))
			}
		}
	}
	if !viewer.Staff() {
		return t, nil
	}
	for _, kind := range request.Linking("").All() {
		ids, err := w.Store.TiedTo(ctx, s.ID, kind, 200)
		if err != nil {
			return t, err
		}
		for _, id := range ids {
			if err := add(id, request.Link{Kind: kind, Other: s.ID}, id); err != nil {
				return t, err
			}
			if kind == request.SameAs {
				t.Ends = append(t.Ends, t.Tied[len(t.Tied)-1].Reference)
			}
		}
	}
	var err error
	t.Touches, err = w.Store.Touches(ctx, s.ID)
	return t, err
}

// Suggested lists which requests one may belong to, to staff: open ones of the same person,
// and others with like words.
func (w *Following) Suggested(ctx context.Context, person string, s request.State) (same, like []Line, err error) {
	if !w.Viewer(person, s).Staff() {
		return nil, nil, ErrNotFound
	}
	if same, err = w.others(ctx, person, s, suggested, true); err != nil {
		return nil, nil, err
	}
	words := search.Words(s.Title)
	if len(words) == 0 {
		return same, nil, nil
	}
	found, err := w.Store.Find(ctx, w.sight(person), store.Wanted{Terms: [][]string{words[:min(len(words), mostTerms)]}, Limit: suggested})
	for _, e := range found.Entries {
		known := func(l Line) bool { return l.ID == e.State.ID }
		if e.State.ID != s.ID && e.State.Status.UnderWay() && !slices.ContainsFunc(same, known) {
			like = append(like, store.LineOf(e.State))
		}
	}
	return same, like, err
}

// others lists other requests of who one is for, as far as a reader may see them.
func (w *Following) others(ctx context.Context, person string, s request.State, limit int, open bool) ([]store.Line, error) {
	whose := s.Beneficiary()
	if whose == "" {
		whose = s.Asker
	}
	return w.Store.LinesOf(ctx, w.sight(person), whose, s.ID, open, limit)
}

// Around is what stands beside a request: what else there is of the same person.
type Around struct {
	Person string // ID
	Others []store.Line
	Things []store.Belonging
}

// aroundLimit is how many other requests stand beside one.
const aroundLimit = 10

// AroundOf tells what stands beside a request, to those who work or decide on it.
func (w *Following) AroundOf(ctx context.Context, person string, s request.State) (Around, error) {
	v := w.Viewer(person, s)
	if !v.Staff() && !v.Approver {
		return Around{}, ErrNotFound
	}
	a := Around{Person: s.Beneficiary()}
	var err error
	if a.Others, err = w.others(ctx, person, s, aroundLimit, false); err != nil || a.Person == "" {
		return a, err
	}
	a.Things, err = w.Store.HoldingsOf(ctx, a.Person)
	return a, err
}

// Tie ties a request to another that is given by its reference, by staff of both.
func (w *Following) Tie(ctx context.Context, person, id string, kind request.Linking, reference string) (request.State, error) {
	reference = strings.ToUpper(strings.TrimSpace(reference))
	other, err := w.Store.ByReference(ctx, reference)
	if err != nil || !w.Viewer(person, other).Staff() {
		return request.State{}, invalid(refusal.Link, "/reference", "There is no such request.")
	}
	return w.Do(ctx, person, id, request.Tie{Kind: kind, Other: other.ID})
}

// OpenFaults lists the faults of an offering that somebody who may ask for it can join.
func (w *Asking) OpenFaults(ctx context.Context, person, offering string) ([]store.OpenFault, error) {
	if _, err := w.askable(ctx, person, offering); err != nil {
		return nil, err
	}
	return w.Store.OpenFaults(ctx, offering, person, suggested)
}

// Join says that somebody has the same trouble as a request that staff have opened to all.
func (w *Following) Join(ctx context.Context, person, id, line string) error {
	state := request.State{}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		if state, err = tx.Request(ctx, id); err != nil {
			return err
		}
		if state.Fault == nil {
			return ErrNotFound
		}
		facts, err := w.facts(ctx, tx, person, state)
		if err != nil {
			return err
		}
		before, err := tx.HasJoined(ctx, id, person)
		if err != nil {
			return err
		}
		state, err = w.handle(tx, state, facts, request.Join{Line: line, Joined: before})
		return err
	})
	if err == nil {
		w.tell(state)
	}
	return err
}

// JoinedBy lists what a person has joined.
func (w *Following) JoinedBy(ctx context.Context, person string) ([]store.JoinedBy, error) {
	return w.Store.JoinedBy(ctx, person, 50)
}
