package work

import (
	"context"
	"crypto/rand"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Replies lists the prepared texts that a person has, of their own and of their
// teams; for a request those that fit it, filled in.
func (w *Delivering) Replies(ctx context.Context, person string, s *request.State, task string) ([]store.Reply, error) {
	if s == nil {
		return w.Store.RepliesOf(ctx, person, "")
	}
	replies, err := w.Store.RepliesOf(ctx, person, s.Offering)
	if err != nil {
		return nil, err
	}
	c, err := w.Version(ctx, s.Offering, s.Version)
	if err != nil {
		return nil, err
	}
	facts := w.replyFacts(*s, c, person, task)
	for i, r := range replies {
		texts := message.Compile([]message.Text{{Kind: message.Said, Subject: r.Name, Body: r.Text}}, "", &finding.List{})
		_, replies[i].Text, _ = message.Write(message.Said, facts, texts)
	}
	return replies, nil
}

// replyFacts are what a prepared text reads of a request.
func (w *Delivering) replyFacts(s request.State, c *offering.Compiled, person, task string) message.Facts {
	p, _ := w.Company().Person(s.Asker)
	f := message.Facts{
		Reference: s.Reference, Title: s.Title, Offering: c.Document.Purpose.Name, Asker: p.Name, For: p.Name, By: w.Company().Name(person), Person: p.Name,
	}
	if s.For.Newcomer != nil || s.For.Person != "" {
		f.For = (offering.Parties{Beneficiary: s.For, Company: w.Company()}).Name()
	}
	if t, ok := s.Task(task); ok {
		f.Task = t.Name
	}
	return f
}

// SaveReply keeps a prepared text, for oneself or, by its lead, for a team; an
// empty ID makes a new one.
func (w *Delivering) SaveReply(ctx context.Context, r store.Reply) (store.Reply, error) {
	r.Name, r.Text = strings.TrimSpace(r.Name), strings.TrimSpace(r.Text)
	findings := finding.List{}
	message.Compile([]message.Text{{Kind: message.Said, Subject: r.Name, Body: r.Text}}, "", &findings)
	switch {
	case r.Name == "" || !form.OneLine(r.Name):
		return r, invalid(refusal.NoName, "/name", "Give it a name, on one line.")
	case r.Text == "":
		return r, invalid(refusal.NoText, "/text", "Write the text.")
	case len(findings) > 0:
		return r, invalid(findings[0].Code, "/text", "%s", findings[0].Sentence)
	case !w.mayKeep(r.Person, r.Team):
		return r, &request.Refusal{Kind: request.NotYours, Code: refusal.NotYours, Sentence: "Only its lead can make something for a team.", Place: "/team"}
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		if r.ID == "" {
			r.ID = rand.Text()
			return tx.SaveReply(r)
		}
		old, err := tx.Reply(ctx, r.ID)
		if err := w.mayTouch(r.Person, old.Person, old.Team, err); err != nil {
			return err
		}
		r.Person = old.Person
		return tx.SaveReply(r)
	})
	return r, err
}

// DropReply takes a prepared text away, by who made it or the lead of its team.
func (w *Delivering) DropReply(ctx context.Context, person, id string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		r, err := tx.Reply(ctx, id)
		if err := w.mayTouch(person, r.Person, r.Team, err); err != nil {
			return err
		}
		return tx.DropReply(id)
	})
}
