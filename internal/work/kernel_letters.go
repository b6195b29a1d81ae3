package work

import (
	"context"
	"slices"
	"sync/atomic"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// linkLife is how long the links of a mail can decide at most.
const linkLife = 14 * 24 * time.Hour

// letters writes what people are told, in the transaction of what has happened.
type letters struct {
	mailing *Mailing                      // nil: nothing goes out by mail
	texts   atomic.Pointer[message.Texts] // the general ones, ready to be used
}

// notify writes the messages that events lead to, in their transaction.
func (l *letters) notify(ctx context.Context, tx *store.Tx, after request.State, events []request.Event, facts request.Facts) error {
	notices := notice.Of(after, events, facts.Company, facts.Service)
	if len(notices) == 0 {
		return nil
	}
	silent, err := tx.Silenced(ctx, after.ID)
	if err != nil {
		return err
	}
	var persons []string
	for _, n := range notices {
		persons = append(persons, n.Person)
	}
	ways, err := tx.Ways(ctx, persons)
	if err != nil {
		return err
	}
	general, err := l.generalTexts(ctx, tx)
	if err != nil {
		return err
	}
	by := message.NewWriter(facts.Offering.Messages, general)
	var all []store.Message
	for _, n := range notices {
		if n.Kind.News() && slices.Contains(silent, n.Person) {
			continue
		}
		m := store.Message{Person: n.Person, Request: after.ID, Seq: n.Seq, Kind: n.Kind, Rung: n.Rung, Task: n.Task, At: facts.Now}
		if n.Kind == message.Decide || n.Kind == message.Remind {
			m.DecideBy = decideBy(after, n.Rung, facts.Now)
		}
		m.Subject, m.Body, m.Text = n.Write(after, facts, by)
		if l.goes(&m, facts.Company, wayOf(ways, n.Person, n.Kind)) {
			all = append(all, m)
		}
	}
	return tx.AddMessages(all)
}

// wayOf is how a person gets messages of a kind: as they chose, or as is usual.
func wayOf(chosen map[string]map[message.Kind]message.Way, person string, kind message.Kind) message.Way {
	if way, ok := chosen[person][kind]; ok && kind.Chosen() {
		return way
	}
	return message.UsualWay(kind)
}

// goes readies a message for the list and the mail as its reader wants it, and reports
// whether they want it.
func (l *letters) goes(m *store.Message, company *people.Directory, way message.Way) bool {
	m.Listed, m.Mail, m.Due = way.List, "off", m.At
	p, _ := company.Person(m.Person)
	if l.mailing != nil && p.Email != "" && way.Mail != message.Never {
		m.Mail, m.Daily = "waiting", way.Mail == message.Daily
		if m.Daily {
			m.Due = message.NextDaily(m.At, company.HoursOf(m.Person))
		}
	}
	return m.Listed || m.Mail != "off"
}

// postKind writes a message that is about no request, in the general text of its
// kind.
func (l *letters) postKind(ctx context.Context, tx *store.Tx, company *people.Directory, m store.Message, facts message.Facts) error {
	ways, err := tx.Ways(ctx, []string{m.Person})
	if err != nil {
		return err
	}
	general, err := l.generalTexts(ctx, tx)
	if err != nil {
		return err
	}
	m.Subject, m.Body, m.Text = message.Write(m.Kind, facts, general)
	if !l.goes(&m, company, wayOf(ways, m.Person, m.Kind)) {
		return nil
	}
	return tx.AddMessages([]store.Message{m})
}

// decideBy is until when the links of a mail decide on a rung.
func decideBy(s request.State, rung string, now time.Time) time.Time {
	by := now.Add(linkLife)
	if r, open := s.OpenRung(); open && r.Key == rung && r.Times.Expire.Before(by) {
		by = r.Times.Expire
	}
	return by
}

// generalTexts compiles the texts that took the place of the usual ones.
func (l *letters) generalTexts(ctx context.Context, from interface {
	Texts(ctx context.Context) ([]message.Text, error)
}) (*message.Texts, error) {
	if texts := l.texts.Load(); texts != nil {
		return texts, nil
	}
	texts, err := from.Texts(ctx)
	if err != nil {
		return nil, err
	}
	compiled := message.Compile(texts, "", &finding.List{})
	l.texts.Store(compiled)
	return compiled, nil
}

// pageOf is the address of a page, as mails link to it; empty where no mail goes out.
func (l *letters) pageOf(path string) string {
	if l.mailing == nil {
		return ""
	}
	return l.mailing.Base + path
}
