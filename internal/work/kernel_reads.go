package work

import (
	"context"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Seen is a request as somebody opens it, with all that belongs to it.
type Seen struct {
	State    request.State
	Viewer   request.Viewer
	Offering *offering.Compiled // the version it was sent with; nil while it is a draft
	Events   []request.Event
}

// Glance gives the state of a request alone, and what a person is to it. It is
// ErrNotFound when no part of it is any business of theirs.
func (k *kernel) Glance(ctx context.Context, person, id string) (request.State, request.Viewer, error) {
	state, err := k.Store.Request(ctx, id)
	if err != nil {
		return request.State{}, request.Viewer{}, err
	}
	viewer := k.Viewer(person, state)
	if !viewer.Any() {
		return request.State{}, request.Viewer{}, ErrNotFound
	}
	return state, viewer, nil
}

// See opens a request for a person; how much of it they see, the viewer says.
func (k *kernel) See(ctx context.Context, person, id string) (Seen, error) {
	state, viewer, err := k.Glance(ctx, person, id)
	if err != nil {
		return Seen{}, err
	}
	seen := Seen{State: state, Viewer: viewer}
	if state.Status != request.Draft {
		if seen.Offering, err = k.Version(ctx, state.Offering, state.Version); err != nil {
			return Seen{}, err
		}
	}
	seen.Events, err = k.Store.Events(ctx, state.ID)
	return seen, err
}

// What lists are asked for with, and give, as it is kept.
type (
	Entry     = store.Entry
	Page      = store.Page
	Group     = store.Group
	Mine      = store.Mine
	Decisions = store.Decisions
	Tasks     = store.Tasks
	Wanted    = store.Wanted
	Shelf     = store.Shelf
	Standing  = store.Standing
	Place     = store.Place
	View      = store.View
	Reply     = store.Reply
	Message   = store.Message
	Absence   = store.Absence
)

// Groups are those of one's own requests, in their order.
var Groups = store.Groups

// AnswerPart is the part of what is kept apart that are answers.
const AnswerPart = store.AnswerPart

// ErrFull says that the disk has no room left.
var ErrFull = store.ErrFull

// Explain says of an error of the database whether the disk is full.
func Explain(err error) error { return store.Explain(err) }
