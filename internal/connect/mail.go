package connect

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"html"
	"net"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	mail "github.com/wneessen/go-mail"
)

// Mail is one message by mail.
type Mail struct {
	ID      string // its Message-ID is made of it, and stays over retries
	Thread  string // mails of one thread belong together; empty for none
	To      string // address
	Name    string // of the reader
	Subject string
	Text    string    // plain text; paragraphs are parted by empty lines
	Links   []Link    // below the text
	Due     time.Time // until when something is to be done; zero for no calendar entry
	DueName string    // of the calendar entry for Due
	Stamp   time.Time // when the calendar entry was made
}

// Link is something that can be opened from a mail.
type Link struct{ Words, URL string }

// Poster sends mails.
type Poster interface {
	Post(ctx context.Context, m Mail) error
}

// SMTP sends mails through a server (RFC 5321).
type SMTP struct {
	Addr string // host:port
	From string // address of the sender
	Name string // of the sender
	List string // host under which the List-Id stands
}

// Post sends a mail as plain text and HTML, with list and thread headers, and
// a calendar entry (RFC 5545) for its due time.
func (s SMTP) Post(ctx context.Context, m Mail) error {
	host, portText, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return err
	}
	port, err := strconv.Atoi(portText)
	if err != nil {
		return err
	}
	msg := mail.NewMsg()
	if err := msg.FromFormat(s.Name, s.From); err != nil {
		return err
	}
	if err := s.write(msg, m); err != nil {
		return BadMail{err}
	}
	client, err := mail.NewClient(host, mail.WithPort(port), mail.WithTLSPolicy(mail.TLSOpportunistic), mail.WithTimeout(20*time.Second), mail.WithHELO(s.List))
	if err != nil {
		return err
	}
	err = client.DialAndSendWithContext(ctx, msg)
	var refused *mail.SendError
	switch {
	case !errors.As(err, &refused):
		return err
	case refused.ErrorCode() >= 500 && refused.Reason != mail.ErrSMTPMailFrom: // for good (RFC 5321, 4.2.1), and not for who sends
		return BadMail{err}
	}
	return NotTaken{err}
}

// BadMail is what is wrong with one mail itself, such as its address: trying
// again is of no use, and others are not touched by it.
type BadMail struct{ error }

func (b BadMail) Unwrap() error { return b.error }

// NotTaken is the trouble of one mail with a server that answers.
type NotTaken struct{ error }

func (n NotTaken) Unwrap() error { return n.error }

// write writes what a mail says into one that has its sender.
func (s SMTP) write(msg *mail.Msg, m Mail) error {
	if err := msg.AddToFormat(m.Name, m.To); err != nil {
		return err
	}
	msg.Subject(m.Subject)
	msg.SetMessageIDWithValue(m.ID + "@" + s.List)
	msg.SetGenHeader("List-Id", fmt.Sprintf("%s <requests.%s>", s.Name, s.List))
	msg.SetGenHeader("Auto-Submitted", "auto-generated")
	if m.Thread != "" {
		thread := "<" + m.Thread + "@" + s.List + ">"
		msg.SetGenHeader(mail.HeaderInReplyTo, thread)
		msg.SetGenHeader(mail.HeaderReferences, thread)
	}
	msg.SetBodyString(mail.TypeTextPlain, m.plain())
	msg.AddAlternativeString(mail.TypeTextHTML, m.html())
	if !m.Due.IsZero() {
		entry, err := m.entry(s.List)
		if err != nil {
			return err
		}
		return msg.AttachReader("decide.ics", bytes.NewReader(entry), mail.WithFileContentType("text/calendar; charset=utf-8; method=PUBLISH"))
	}
	return nil
}

func (m Mail) plain() string {
	text := m.Text + "\n"
	for _, l := range m.Links {
		text += "\n" + l.Words + ":\n" + l.URL + "\n"
	}
	return text
}

func (m Mail) html() string {
	var b strings.Builder
	b.WriteString(`<!doctype html><html><head><meta charset="utf-8"></head><body style="font-family:sans-serif;color:#13262B;background:#F6F3EA;padding:16px">`)
	for paragraph := range strings.SplitSeq(m.Text, "\n\n") {
		b.WriteString("<p>" + strings.ReplaceAll(html.EscapeString(paragraph), "\n", "<br>") + "</p>")
	}
	for _, l := range m.Links {
		b.WriteString(`<p><a style="color:#17576B;font-weight:bold" href="` + html.EscapeString(l.URL) + `">` + html.EscapeString(l.Words) + "</a></p>")
	}
	b.WriteString("</body></html>")
	return b.String()
}

// entry is a calendar entry that ends at the due time.
func (m Mail) entry(host string) ([]byte, error) {
	calendar := ics.NewCalendar()
	calendar.SetProductId("-//Heptad//messages//EN")
	calendar.SetMethod(ics.MethodPublish)
	event := calendar.AddEvent(m.ID + "@" + host)
	event.SetDtStampTime(m.Stamp)
	event.SetStartAt(m.Due.Add(-15 * time.Minute))
	event.SetEndAt(m.Due)
	event.SetSummary(m.DueName)
	var out bytes.Buffer
	err := calendar.SerializeTo(&out)
	return out.Bytes(), err
}
