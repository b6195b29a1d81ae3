package work

import (
	"context"
	"fmt"
	"slices"

	"heptad/internal/core/message"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// mostTied is how many requests follow one at most.
const mostTied = 10_000

// What is done on requests that are tied to one on which something happened.
const (
	heeds  = "heed"
	reties = "retie"
	echoes = "echo"
)

// passOn has those requests go on that are tied to one on which something happened: each in
// a transaction of its own, by a timer that is due at once.
func passOn(k *kernel, tx *store.Tx, s request.State, events []request.Event) error {
	for _, e := range events {
		var err error
		switch b := e.Body.(type) {
		case request.RequestClosed:
			err = endTied(k, tx, s, e)
		case request.Tied: // two main ones are joined
			if b.Kind == request.SameAs {
				err = queueTied(k, tx, s, e, request.SameAs, reties, map[string]string{"from": s.ID, "to": b.Other})
			}
		case request.Commented:
			if b.Readers != nil && b.Readers.Side && e.Actor != request.Program && k.Viewer(e.Actor, s).Staff() && !slices.Contains([]string{s.Asker, s.Beneficiary()}, e.Actor) {
				err = queueTied(k, tx, s, e, request.SameAs, echoes, map[string]string{"from": s.Reference, "by": e.Actor, "text": b.Text})
			}
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// queueTied has something done on the requests that are tied to one in a way.
func queueTied(k *kernel, tx *store.Tx, s request.State, e request.Event, kind request.Linking, do string, inputs map[string]string, besides ...string) error {
	ids, err := tx.TiedTo(tx.Context(), s.ID, kind, mostTied)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if slices.Contains(besides, id) {
			continue
		}
		effect := request.Effect{Kind: request.TieTimer, Key: fmt.Sprintf("%s/%s/%s/%d", id, do, s.ID, e.Seq), At: k.Clock(), Do: do, Inputs: inputs}
		if err := tx.Queue(id, effect); err != nil {
			return err
		}
	}
	return nil
}

// endTied has what waited for a request go on, and what is the same end with it. When who
// asked has taken a main one back, the others are the same as the first of them.
func endTied(k *kernel, tx *store.Tx, s request.State, e request.Event) error {
	for _, kind := range []request.Linking{request.WaitsFor, request.ComesFrom} {
		if err := queueTied(k, tx, s, e, kind, heeds, nil); err != nil {
			return err
		}
	}
	if s.Fault != nil && s.Fault.Joined > 0 {
		if err := tx.Queue(s.ID, request.Effect{Kind: request.JoinedTimer, Key: fmt.Sprintf("%s/joined/%d", s.ID, e.Seq), At: k.Clock()}); err != nil {
			return err
		}
	}
	if s.Outcome != request.Withdrawn {
		return queueTied(k, tx, s, e, request.SameAs, heeds, nil)
	}
	first, err := tx.TiedTo(tx.Context(), s.ID, request.SameAs, 1)
	if err != nil || len(first) == 0 {
		return err
	}
	return queueTied(k, tx, s, e, request.SameAs, reties, map[string]string{"from": s.ID, "to": first[0]})
}

// tiedCommand is what an effect of a tie does on its request.
func tiedCommand(e store.Effect) request.Command {
	switch e.Do {
	case reties:
		return request.Retie{From: e.Inputs["from"], To: e.Inputs["to"]}
	case echoes:
		return request.Echo{From: e.Inputs["from"], By: e.Inputs["by"], Text: e.Inputs["text"]}
	}
	return request.Heed{}
}

// joinedAtATime is how many of those who joined are told in one transaction.
const joinedAtATime = 200

// tellJoined tells the next of those who joined a request how it ended; they read the
// sentence that they joined, and nothing else of it.
func (w *Running) tellJoined(ctx context.Context, e store.Effect) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		s, err := tx.Request(ctx, e.Request)
		if err != nil {
			return err
		}
		persons, err := tx.WhoJoined(ctx, e.Request, e.Do, joinedAtATime)
		if err != nil {
			return err
		}
		if err := tx.FinishEffect(e.Key); err != nil {
			return err
		}
		for _, person := range persons {
			m := store.Message{Person: person, Kind: message.Joined, At: w.Clock()}
			p, ok := w.Company().Person(person)
			if !ok || p.Former {
				continue
			}
			said := "It is mended."
			if s.Outcome != request.Fulfilled {
				said = "It was ended without being mended."
			}
			if err := w.letters.postKind(ctx, tx, w.Company(), m, message.Facts{Title: s.Fault.Sentence, Said: said, Person: p.Name}); err != nil {
				return err
			}
		}
		if len(persons) < joinedAtATime {
			return nil
		}
		next := e.Effect
		next.Do = persons[len(persons)-1]
		next.Key, next.At = fmt.Sprintf("%s/joined/%s", e.Request, next.Do), w.Clock()
		return tx.Queue(e.Request, next)
	})
}
