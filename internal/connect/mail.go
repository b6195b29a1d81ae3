package connect

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"html/template"
	"net"
	"strconv"
	"strings"
	"text/tabwriter"
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
	Parts   []Part    // one for each thing that is told
	Due     time.Time // until when something is to be done; zero for no calendar entry
	DueName string    // of the calendar entry for Due
	Stamp   time.Time // when the calendar entry was made
}

// Part is one thing that a mail tells.
type Part struct {
	Heading string // empty for none
	Text    string // plain; paragraphs are parted by empty lines
	Answers []Answer
	Links   []Link // below
}

// Answer is what was answered to a question: words, or a table with as many cells
// in each row as there are headings.
type Answer struct {
	Label, Text string
	Headings    []string
	Rows        [][]string
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
	TLS  SMTPTLS

	User, Password string // by which the server knows who sends; empty for none
}

// SMTPTLS says how a connection to a mail server is kept from being read.
type SMTPTLS string

// The ways; the zero value takes TLS when the server offers it.
const (
	TLSNone     SMTPTLS = "none"
	TLSRequired SMTPTLS = "required" // by STARTTLS (RFC 3207), or nothing is sent
	TLSImplicit SMTPTLS = "implicit" // from the first byte (RFC 8314)
)

// client is a connection that is not open yet.
func (s SMTP) client(host string, port int) (*mail.Client, error) {
	options := []mail.Option{mail.WithPort(port), mail.WithTimeout(20 * time.Second), mail.WithHELO(s.domain())}
	switch s.TLS {
	case TLSNone:
		options = append(options, mail.WithTLSPolicy(mail.NoTLS))
	case TLSRequired:
		options = append(options, mail.WithTLSPolicy(mail.TLSMandatory))
	case TLSImplicit:
		options = append(options, mail.WithSSL())
	default:
		options = append(options, mail.WithTLSPolicy(mail.TLSOpportunistic))
	}
	if s.User != "" {
		options = append(options, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Password))
	}
	return mail.NewClient(host, options...)
}

// domain is that of the sender, under which mails and their list have their IDs.
func (s SMTP) domain() string {
	_, domain, _ := strings.Cut(s.From, "@")
	return domain
}

// Try reaches the server and signs in there, and sends nothing.
func (s SMTP) Try(ctx context.Context) error {
	client, err := s.reach()
	if err != nil {
		return err
	}
	if err := client.DialWithContext(ctx); err != nil {
		return err
	}
	return client.Close()
}

// reach is a connection to the server that is not open yet.
func (s SMTP) reach() (*mail.Client, error) {
	host, portText, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return nil, err
	}
	port, err := strconv.Atoi(portText)
	if err != nil {
		return nil, err
	}
	return s.client(host, port)
}

// Post sends a mail as plain text and HTML, with list and thread headers, and
// a calendar entry (RFC 5545) for its due time.
func (s SMTP) Post(ctx context.Context, m Mail) error {
	msg := mail.NewMsg()
	if err := msg.FromFormat(s.Name, s.From); err != nil {
		return err
	}
	if err := s.write(msg, m); err != nil {
		return BadMail{err}
	}
	client, err := s.reach()
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
	msg.SetMessageIDWithValue(m.ID + "@" + s.domain())
	msg.SetGenHeader("List-Id", fmt.Sprintf("%s <requests.%s>", s.Name, s.domain()))
	msg.SetGenHeader("Auto-Submitted", "auto-generated")
	if m.Thread != "" {
		thread := "<" + m.Thread + "@" + s.domain() + ">"
		msg.SetGenHeader(mail.HeaderInReplyTo, thread)
		msg.SetGenHeader(mail.HeaderReferences, thread)
	}
	msg.SetBodyString(mail.TypeTextPlain, m.Plain())
	html, err := m.html()
	if err != nil {
		return err
	}
	msg.AddAlternativeString(mail.TypeTextHTML, html)
	if !m.Due.IsZero() {
		entry, err := m.entry(s.domain())
		if err != nil {
			return err
		}
		return msg.AttachReader("decide.ics", bytes.NewReader(entry), mail.WithFileContentType("text/calendar; charset=utf-8; method=PUBLISH"))
	}
	return nil
}

// Plain is what a mail tells, without pictures and colours.
func (m Mail) Plain() string {
	var b strings.Builder
	for _, p := range m.Parts {
		if p.Heading != "" {
			b.WriteString(p.Heading + "\n")
		}
		b.WriteString(p.Text + "\n\n")
		for _, a := range p.Answers {
			mark := ":"
			if strings.HasSuffix(a.Label, "?") {
				mark = ""
			}
			b.WriteString(a.Label + mark)
			if a.Headings != nil {
				b.WriteString("\n" + columns(a))
			}
			if a.Text != "" {
				b.WriteString(" " + a.Text + "\n")
			}
		}
		for _, l := range p.Links {
			b.WriteString("\n" + l.Words + ":\n" + l.URL + "\n")
		}
		b.WriteString("\n")
	}
	return strings.TrimRight(b.String(), "\n") + "\n"
}

// columns writes a table with its columns below each other.
func columns(a Answer) string {
	var b strings.Builder
	w := tabwriter.NewWriter(&b, 0, 0, 3, ' ', 0)
	for _, row := range append([][]string{a.Headings}, a.Rows...) {
		_, _ = fmt.Fprintln(w, "  "+strings.Join(row, "\t")) // a builder takes all
	}
	_ = w.Flush()
	return b.String()
}

func (m Mail) html() (string, error) {
	var b strings.Builder
	err := page.Execute(&b, m)
	return b.String(), err
}

var page = template.Must(template.New("mail").Funcs(template.FuncMap{
	"paragraphs": func(text string) []string { return strings.Split(text, "\n\n") },
	"lines":      func(text string) []string { return strings.Split(text, "\n") },
}).Parse(`<!doctype html><html><head><meta charset="utf-8"></head><body style="font-family:sans-serif;color:#13262B;background:#F6F3EA;padding:16px">
{{- range .Parts}}
{{- with .Heading}}<h2 style="font-size:16px;margin:24px 0 0">{{.}}</h2>{{end}}
{{- range paragraphs .Text}}<p>{{range $i, $line := lines .}}{{if $i}}<br>{{end}}{{$line}}{{end}}</p>{{end}}
{{- with .Answers}}<dl>{{range .}}<dt style="color:#4C5E63">{{.Label}}</dt><dd style="margin:0 0 8px">
{{- if .Headings}}<table style="border-collapse:collapse"><tr>{{range .Headings}}<th style="text-align:left;padding:2px 16px 2px 0;border-bottom:1px solid #13262B">{{.}}</th>{{end}}</tr>
{{- range .Rows}}<tr>{{range .}}<td style="padding:2px 16px 2px 0">{{.}}</td>{{end}}</tr>{{end}}</table>{{end}}{{.Text}}</dd>{{end}}</dl>{{end}}
{{- range .Links}}<p><a style="color:#17576B;font-weight:bold" href="{{.URL}}">{{.Words}}</a></p>{{end}}
{{- end}}</body></html>`))

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
