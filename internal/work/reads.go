package work

import (
	"context"

	"heptad/internal/core/calendar"
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
func (o *Office) Glance(ctx context.Context, person, id string) (request.State, request.Viewer, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil {
		return request.State{}, request.Viewer{}, err
	}
	viewer := o.Viewer(person, state)
	if !viewer.Any() {
		return request.State{}, request.Viewer{}, ErrNotFound
	}
	return state, viewer, nil
}

// See opens a request for a person; how much of it they see, the viewer says.
func (o *Office) See(ctx context.Context, person, id string) (Seen, error) {
	state, viewer, err := o.Glance(ctx, person, id)
	if err != nil {
		return Seen{}, err
	}
	return o.whole(ctx, state, viewer)
}

// Open is See for a state that a command of the person has just led to.
func (o *Office) Open(ctx context.Context, person string, state request.State) (Seen, error) {
	viewer := o.Viewer(person, state)
	if !viewer.Any() {
		return Seen{}, ErrNotFound
	}
	return o.whole(ctx, state, viewer)
}

func (o *Office) whole(ctx context.Context, state request.State, viewer request.Viewer) (Seen, error) {
	seen := Seen{State: state, Viewer: viewer}
	var err error
	if state.Status != request.Draft {
		if seen.Offering, err = o.Version(ctx, state.Offering, state.Version); err != nil {
			return Seen{}, err
		}
	}
	seen.Events, err = o.Store.Events(ctx, state.ID)
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
	Standing  = store.Standing
	Place     = store.Place
	View      = store.View
	Reply     = store.Reply
	Message   = store.Message
	Absence   = store.Absence
)

// Groups are those of one's own requests, in their order.
var Groups = store.Groups

// Standings are how requests that are under way stand, in their order.
var Standings = []Standing{store.BeingDecided, store.BeingDone, store.ToBeConfirmed, store.BeingTakenBack}

// Cursor is where the page after an entry begins.
func Cursor(ms int64, id string) string { return store.Cursor(ms, id) }

// AnswerPart is the part of what is kept apart that are answers.
const AnswerPart = store.AnswerPart

// ErrFull says that the disk has no room left.
var ErrFull = store.ErrFull

// Explain says of an error of the database whether the disk is full.
func Explain(err error) error { return store.Explain(err) }

// RequestsOf lists what a person asked for, or what is for them.
func (o *Office) RequestsOf(ctx context.Context, person string, m Mine) ([]Entry, error) {
	return o.Store.RequestsOf(ctx, person, m)
}

// GroupsOf counts the requests of a person by what they wait for.
func (o *Office) GroupsOf(ctx context.Context, person string) (map[Group]int, error) {
	return o.Store.GroupsOf(ctx, person)
}

// DecisionsOf lists the decisions of a person.
func (o *Office) DecisionsOf(ctx context.Context, person string, d Decisions) ([]Entry, error) {
	return o.Store.DecisionsOf(ctx, person, d)
}

// AskedOf lists what a person is to confirm a part of.
func (o *Office) AskedOf(ctx context.Context, person string) ([]Entry, error) {
	return o.Store.AskedOf(ctx, person)
}

// OfferingsOf lists the offerings of the services that a person owns.
func (o *Office) OfferingsOf(ctx context.Context, person string) ([]store.Listed, error) {
	return o.Store.OfferingsOf(ctx, person)
}

// CalendarDocuments gives the newest document of every working calendar, by key.
func (o *Office) CalendarDocuments(ctx context.Context) (map[string]calendar.Document, error) {
	return o.Store.Calendars(ctx)
}

// MessageOf gives a message of a person.
func (o *Office) MessageOf(ctx context.Context, person, id string) (Message, error) {
	m, err := o.Store.Message(ctx, id)
	if err == nil && m.Person != person {
		err = ErrNotFound
	}
	return m, err
}

// Waiting counts the messages that a person has not read, and what waits for them
// on each desk.
func (o *Office) Waiting(ctx context.Context, person string) (unread int, counts store.Counts, err error) {
	if unread, err = o.Store.Unread(ctx, person); err != nil {
		return 0, counts, err
	}
	counts, err = o.Store.CountsFor(ctx, person)
	return unread, counts, err
}

// LastEvent is the number of the newest event that is stored.
func (o *Office) LastEvent(ctx context.Context) (int64, error) { return o.Store.LastEvent(ctx) }

// Silent reports whether a person has silenced a request.
func (o *Office) Silent(ctx context.Context, person, id string) (bool, error) {
	return o.Store.Silent(ctx, person, id)
}

// Called is what another system was asked for by a task, or to take it back.
func (o *Office) Called(ctx context.Context, id string, t request.Task) (store.Effect, error) {
	return o.Store.CallEffect(ctx, request.CallKey(id, t.Key, t.Undo != nil))
}

// Readings lists who had what is private of a request shown.
func (o *Office) Readings(ctx context.Context, id string) ([]store.Reading, error) {
	return o.Store.Readings(ctx, id)
}

// TaskOf names the request and the task that a job on another system is for; empty
// for one that is not there any more.
func (o *Office) TaskOf(ctx context.Context, id, task string) (reference, name string) {
	state, err := o.Store.Request(ctx, id)
	if err != nil {
		return "", ""
	}
	if t, ok := state.Task(task); ok {
		name = t.Name
	}
	return state.Reference, name
}

// Answers reports whether the database does.
func (o *Office) Answers(ctx context.Context) error { return o.Store.Ping(ctx) }

// Full reports whether the disk has no room left to take work.
func (o *Office) Full() bool { return o.Store.Full() }
