package work

import (
	"context"

	"heptad/internal/core/message"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Messaging lists what people were told, and sends it by mail.
type Messaging struct{ *kernel }

// Messages lists what a person was told.
func (w *Messaging) Messages(ctx context.Context, person string, unread bool, p store.Page) ([]store.Message, error) {
	return w.Store.MessagesOf(ctx, person, unread, p)
}

// MessageOf gives a message of a person.
func (w *Messaging) MessageOf(ctx context.Context, person, id string) (Message, error) {
	m, err := w.Store.Message(ctx, id)
	if err == nil && m.Person != person {
		err = ErrNotFound
	}
	return m, err
}

// ReadMessages marks messages of a person as read: one, those on a request, or
// all when both are empty.
func (w *Messaging) ReadMessages(ctx context.Context, person, id, request string) error {
	err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.MarkRead(person, id, request, w.Clock()) })
	if err == nil {
		w.Live.tell(Change{Kind: "message"}, map[string]bool{person: true})
	}
	return err
}

// Waiting counts the messages that a person has not read, and what waits for them
// on each desk.
func (w *Messaging) Waiting(ctx context.Context, person string) (unread int, counts store.Counts, err error) {
	if unread, err = w.Store.Unread(ctx, person); err != nil {
		return 0, counts, err
	}
	counts, err = w.Store.CountsFor(ctx, person)
	return unread, counts, err
}

// WaysOf lists how a person gets their messages, one for each kind.
func (w *Messaging) WaysOf(ctx context.Context, person string) ([]message.Way, error) {
	chosen, err := w.Store.Ways(ctx, []string{person})
	if err != nil {
		return nil, err
	}
	var ways []message.Way
	for _, kind := range message.Kinds {
		if kind.Chosen() {
			ways = append(ways, wayOf(chosen, person, kind))
		}
	}
	return ways, nil
}

// SetWay keeps how a person gets messages of a kind.
func (w *Messaging) SetWay(ctx context.Context, person string, way message.Way) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetWay(person, way) })
}

// MailsOf lists the mails on a request with what became of them, for those who
// own its service.
func (w *Messaging) MailsOf(ctx context.Context, person string, s request.State) ([]store.Message, error) {
	if v := w.Viewer(person, s); !v.Owner && !v.Editor && !v.HomeLead {
		return nil, nil
	}
	return w.Store.MailsOf(ctx, s.ID)
}
