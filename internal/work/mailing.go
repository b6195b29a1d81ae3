package work

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"sync"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/message"
	"heptad/internal/store"
)

// How many mails are taken up together, and how many go out side by side.
const (
	mailsAtATime = 40
	mailsAtOnce  = 4
)

// runMail sends what is due by mail until the context ends. It has a lane of its
// own: however slow a mail server is, nothing else waits for it.
func (o *Office) runMail(ctx context.Context) {
	for ctx.Err() == nil {
		nap := longestNap
		if err := o.caught(mailLane, "", func() error { _, err := o.postDue(ctx); return err }); err != nil && ctx.Err() == nil {
			o.Log.Error("mails cannot be sent", "error", err)
			nap = faultPause
		} else if next, err := o.Store.NextMail(ctx); err == nil {
			now := o.Clock()
			if paused := o.lanes.pausedUntil(mailLane); paused.After(next) {
				next = paused
			}
			nap = min(nap, max(0, next.Sub(now)))
		}
		rest(ctx, nap, o.wakeMail)
	}
}

// rouseMail tells the mail lane that there may be something to send.
func (o *Office) rouseMail() {
	select {
	case o.wakeMail <- struct{}{}:
	default:
	}
}

// postDue sends the mails that are due, and tells how many messages that were.
// When nobody answers at the mail server all wait, and none loses a try by it.
func (o *Office) postDue(ctx context.Context) (int, error) {
	now := o.Clock()
	if o.Mailing == nil || now.Before(o.lanes.pausedUntil(mailLane)) {
		return 0, nil
	}
	due, err := o.Store.LeaseMails(ctx, now, mailsAtATime)
	if err != nil {
		return 0, err
	}
	mails := make(chan []store.Message)
	away := make(chan struct{}) // closed when nobody answers
	var once sync.Once
	var running sync.WaitGroup
	var failed errorsOf
	for range min(mailsAtOnce, len(due)) {
		running.Go(func() {
			for mail := range mails {
				failed.add(o.each(ctx, mailLane, mail[0].ID, func() error { return o.postOne(ctx, mail, func() { once.Do(func() { close(away) }) }) }))
			}
		})
	}
	var left []store.Message
	for _, mail := range bundled(due) {
		select {
		case <-away:
			left = append(left, mail...)
			continue
		case <-ctx.Done(): // they stay leased, and are taken up at the next start
			continue
		default:
		}
		select {
		case mails <- mail:
		case <-away:
			left = append(left, mail...)
		}
	}
	close(mails)
	running.Wait()
	if len(left) > 0 {
		failed.add(o.Store.MailsWait(ctx, idsOf(left), o.lanes.pausedUntil(mailLane), ""))
	}
	return len(due) - len(left), failed.join()
}

// postOne sends one mail and keeps what became of it. What is wrong with a mail
// itself is final for that mail.
func (o *Office) postOne(ctx context.Context, mail []store.Message, away func()) error {
	err := o.Mailing.Poster.Post(ctx, o.mail(ctx, mail))
	if ctx.Err() != nil {
		return nil // it stays leased
	}
	if err == nil {
		o.lanes.answered(mailLane)
		return o.Store.MailSent(ctx, idsOf(mail), o.Clock())
	}
	o.Log.Info("a mail could not be sent", "message", mail[0].ID, "error", err)
	trouble := connect.Shortened("The mail server did not take it: " + err.Error())
	switch {
	case errors.As(err, new(connect.BadMail)):
		return o.Store.MailFailed(ctx, idsOf(mail), trouble, time.Time{})
	case !errors.As(err, new(connect.NotTaken)):
		o.lanes.silent(mailLane, o.Clock())
		away()
		return o.Store.MailsWait(ctx, idsOf(mail), o.lanes.pausedUntil(mailLane), connect.Shortened("The mail server does not answer: "+err.Error()))
	}
	next := time.Time{}
	if tries := mail[0].Attempts; tries < len(message.Retries) {
		next = o.Clock().Add(message.Retries[tries])
	}
	return o.Store.MailFailed(ctx, idsOf(mail), trouble, next)
}

// errorsOf gathers errors from several goroutines.
type errorsOf struct {
	mu  sync.Mutex
	all []error
}

func (e *errorsOf) add(err error) {
	e.mu.Lock()
	defer e.mu.Unlock()
	e.all = append(e.all, err)
}

func (e *errorsOf) join() error { return errors.Join(e.all...) }

func idsOf(messages []store.Message) []string {
	ids := make([]string, len(messages))
	for i, m := range messages {
		ids[i] = m.ID
	}
	return ids
}

// bundled groups messages into mails: those of one person's day together, each
// other by itself.
func bundled(due []store.Message) [][]store.Message {
	var mails [][]store.Message
	daily := map[string]int{}
	for _, m := range due {
		at, ok := daily[m.Person]
		switch {
		case m.Daily && ok:
			mails[at] = append(mails[at], m)
		default:
			if m.Daily {
				daily[m.Person] = len(mails)
			}
			mails = append(mails, []store.Message{m})
		}
	}
	return mails
}

// dueOf is until when the decision that a message asks for is to be taken; zero
// when it is not open any more.
func (o *Office) dueOf(ctx context.Context, m store.Message) time.Time {
	state, err := o.Store.Request(ctx, m.Request)
	if err != nil {
		return time.Time{} // the mail goes out without its calendar entry
	}
	if r, open := state.OpenRung(); open && r.Key == m.Rung {
		return r.DueAt()
	}
	return time.Time{}
}

// mail makes one mail of messages to one person.
func (o *Office) mail(ctx context.Context, messages []store.Message) connect.Mail {
	first := messages[0]
	p, _ := o.Company().Person(first.Person)
	mail := connect.Mail{ID: first.ID, To: p.Email, Name: p.Name, Subject: first.Subject, Text: first.Body}
	if len(messages) > 1 || first.Daily {
		mail.Subject = fmt.Sprintf("Your %d messages of today", len(messages))
		if len(messages) == 1 {
			mail.Subject = "Today: " + first.Subject
		}
		mail.Text = ""
		for _, m := range messages {
			mail.Text += m.Subject + "\n" + m.Body + "\n\n"
		}
	} else {
		mail.Thread = first.Request
	}
	for _, m := range messages {
		words := ""
		if len(messages) > 1 {
			words = ": " + m.Subject
		}
		if !m.DecideBy.IsZero() {
			token := o.link(m.ID)
			mail.Links = append(mail.Links,
				connect.Link{Words: "Approve" + words, URL: o.Mailing.Base + "/mail/" + token + "?answer=approve"},
				connect.Link{Words: "Decline" + words, URL: o.Mailing.Base + "/mail/" + token + "?answer=decline"})
			if len(messages) == 1 && !m.Daily {
				mail.Due, mail.DueName, mail.Stamp = o.dueOf(ctx, m), m.Subject, m.At
			}
			continue
		}
		mail.Links = append(mail.Links, connect.Link{Words: "Look at it" + words, URL: o.Mailing.Base + "/messages/" + url.PathEscape(m.ID)})
	}
	return mail
}
