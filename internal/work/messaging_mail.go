package work

import (
	"context"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"sync"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/message"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// How many mails are taken up together, and how many go out side by side.
const (
	mailsAtATime = 40
	mailsAtOnce  = 4
)

// runMail sends what is due by mail until the context ends. It has a lane of its
// own: however slow a mail server is, nothing else waits for it.
func (w *Messaging) runMail(ctx context.Context) {
	for ctx.Err() == nil {
		nap := longestNap
		if err := w.caught(mailLane, "", func() error { _, err := w.postDue(ctx); return err }); err != nil && ctx.Err() == nil {
			w.Log.Error("mails cannot be sent", "error", err)
			nap = faultPause
		} else if next, err := w.Store.NextMail(ctx); err == nil {
			now := w.Clock()
			if paused := w.lanes.pausedUntil(mailLane); paused.After(next) {
				next = paused
			}
			nap = min(nap, max(0, next.Sub(now)))
		}
		rest(ctx, nap, w.wakeMail)
	}
}

// postDue sends the mails that are due, and tells how many messages that were.
// When nobody answers at the mail server all wait, and none loses a try by it.
func (w *Messaging) postDue(ctx context.Context) (int, error) {
	now := w.Clock()
	if w.Mailing == nil || now.Before(w.lanes.pausedUntil(mailLane)) {
		return 0, nil
	}
	due, err := w.Store.LeaseMails(ctx, now, mailsAtATime)
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
				failed.add(w.each(ctx, mailLane, mail[0].ID, func() error { return w.postOne(ctx, mail, func() { once.Do(func() { close(away) }) }) }))
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
		failed.add(w.Store.MailsWait(ctx, left, w.lanes.pausedUntil(mailLane), ""))
	}
	return len(due) - len(left), failed.join()
}

// postOne sends one mail and keeps what became of it. What is wrong with a mail
// itself is final for that mail.
func (w *Messaging) postOne(ctx context.Context, mail []store.Message, away func()) error {
	err := w.Mailing.Poster.Post(ctx, w.mail(ctx, mail))
	if ctx.Err() != nil {
		return nil // it stays leased
	}
	if err == nil {
		w.lanes.answered(mailLane)
		return w.Store.MailSent(ctx, mail, w.Clock())
	}
	w.Log.Info("a mail could not be sent", "message", mail[0].ID, "error", err)
	trouble := connect.Shortened("The mail server did not take it: " + err.Error())
	switch {
	case errors.As(err, new(connect.BadMail)):
		return w.Store.MailFailed(ctx, mail, trouble, time.Time{})
	case !errors.As(err, new(connect.NotTaken)):
		w.lanes.silent(mailLane, w.Clock())
		away()
		return w.Store.MailsWait(ctx, mail, w.lanes.pausedUntil(mailLane), connect.Shortened("The mail server does not answer: "+err.Error()))
	}
	next := time.Time{}
	if tries := mail[0].Attempts; tries < len(message.Retries) {
		next = w.Clock().Add(message.Retries[tries])
	}
	return w.Store.MailFailed(ctx, mail, trouble, next)
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

// choices is what the mail of a decision shows beside its text: the answers that the
// rung shows, but nothing private, and until when it is to be decided. All is
// empty when it is not open any more; a mail goes out without what cannot be read.
func (w *Messaging) choices(ctx context.Context, m store.Message) (answers []connect.Answer, due time.Time, byLink bool) {
	state, err := w.Store.Request(ctx, m.Request)
	if err != nil {
		return nil, time.Time{}, false
	}
	r, open := state.OpenRung()
	if !open || r.Key != m.Rung {
		return nil, time.Time{}, false
	}
	c, err := w.Version(ctx, state.Offering, state.Version)
	if err != nil {
		return nil, r.DueAt(), false
	}
	for _, a := range state.InWords(c, w.Company(), r.Sight()) {
		if a.Private != "" || len(answers) == mailedAnswers {
			continue
		}
		answer := connect.Answer{Label: a.Label, Text: inMail(a.Text)}
		if a.Table != nil {
			answer.Text, answer.Headings = "", a.Table.Headings
			for _, row := range a.Table.Rows[:min(len(a.Table.Rows), mailedRows)] {
				cells := make([]string, len(row))
				for i, cell := range row {
					cells[i] = inMail(cell)
				}
				answer.Rows = append(answer.Rows, cells)
			}
			if more := len(a.Table.Rows) - mailedRows; more > 0 {
				answer.Text = fmt.Sprintf("and %d more", more)
			}
		}
		answers = append(answers, answer)
	}
	return answers, r.DueAt(), decidesByMail(ctx, w.kernel, state)
}

// ratings are the links that rate what a mail tells the end of, one for each value; none
// where its reader cannot rate it.
func (w *Messaging) ratings(ctx context.Context, m store.Message) (links []connect.Link) {
	if m.Kind != message.Delivered && m.Kind != message.Finished {
		return nil
	}
	state, err := w.Store.Request(ctx, m.Request)
	if err != nil || !slices.Contains(state.Allowed(m.Person), request.OfferRate) {
		return nil
	}
	for stars := request.MostStars; stars > 0; stars-- {
		links = append(links, connect.Link{
			Words: fmt.Sprintf("It went %s: %d of %d", []string{"badly", "not well", "fairly", "well", "very well"}[stars-1], stars, request.MostStars),
			URL:   fmt.Sprintf("%s/rate/%s?stars=%d", w.Mailing.Base, w.Mailing.token(toRate, m.ID), stars),
		})
	}
	return links
}

// How much of the answers a mail shows: so many of them, rows of a table, and
// characters of a text.
const (
	mailedAnswers = 40
	mailedRows    = 30
	mailedText    = 500
)

// inMail puts a text into one line, not too long a one.
func inMail(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	if runes := []rune(text); len(runes) > mailedText {
		return string(runes[:mailedText]) + "…"
	}
	return text
}

// mail makes one mail of messages to one person.
func (w *Messaging) mail(ctx context.Context, messages []store.Message) connect.Mail {
	first := messages[0]
	p, _ := w.Company().Person(first.Person)
	alone := len(messages) == 1 && !first.Daily
	mail := connect.Mail{ID: first.ID, To: p.Email, Name: p.Name, Subject: first.Subject}
	switch {
	case alone:
		mail.Thread = first.Request
	case len(messages) == 1:
		mail.Subject = "Today: " + first.Subject
	default:
		mail.Subject = fmt.Sprintf("Your %d messages of today", len(messages))
	}
	for _, m := range messages {
		part := connect.Part{Text: m.Body}
		if !alone {
			part.Heading = m.Subject
		}
		if m.Kind == message.Entry {
			part.Links = []connect.Link{{Words: "Set a new password", URL: w.Mailing.Base + "/new-password/" + w.Mailing.token(toSetPassword, m.ID)}}
		} else if m.DecideBy.IsZero() {
			part.Links = append([]connect.Link{{Words: "Look at it", URL: w.Mailing.Base + "/messages/" + url.PathEscape(m.ID)}}, w.ratings(ctx, m)...)
		} else {
			answers, due, byLink := w.choices(ctx, m)
			part.Answers, part.Links = answers, []connect.Link{{Words: "Decide", URL: w.Mailing.Base + "/decide/" + m.Request + "/" + m.Rung}}
			if byLink {
				link := w.Mailing.Base + "/mail/" + w.Mailing.token(toDecide, m.ID) + "?answer="
				part.Links = []connect.Link{{Words: "Approve", URL: link + "approve"}, {Words: "Decline", URL: link + "decline"}}
			}
			if alone {
				mail.Due, mail.DueName, mail.Stamp = due, m.Subject, m.At
			}
		}
		mail.Parts = append(mail.Parts, part)
	}
	return mail
}
