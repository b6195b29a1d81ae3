package simulate

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	"net/http"
	"net/mail"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Mail is a mail server: it receives SMTP and shows its mailbox in the
// browser. A mail whose Message-ID it has already it takes again without
// keeping it twice.
type Mail struct {
	path  string
	mu    sync.Mutex
	mails []Letter
	down  bool
	slow  bool
}

// slowness is how long a slow server takes for a mail.
const slowness = 5 * time.Second

// Letter is one received mail.
type Letter struct {
	ID       string              `json:"id"` // its Message-ID
	To       []string            `json:"to"`
	Subject  string              `json:"subject"`
	At       time.Time           `json:"at"`
	Header   map[string][]string `json:"header"`
	Text     string              `json:"text"`
	HTML     string              `json:"html"`
	Calendar string              `json:"calendar,omitempty"`
}

// OpenMail reads the mailbox from a file, or begins one.
func OpenMail(path string) (*Mail, error) {
	m := &Mail{path: path}
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return m, nil
	}
	if err != nil {
		return nil, err
	}
	return m, json.Unmarshal(data, &m.mails)
}

// Serve receives mail until the listener is closed.
func (m *Mail) Serve(l net.Listener) error {
	server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &session{mail: m}, nil }))
	server.Domain, server.AllowInsecureAuth = "localhost", true
	server.ReadTimeout, server.WriteTimeout = 30*time.Second, 30*time.Second
	server.MaxMessageBytes, server.MaxRecipients = 4<<20, 50
	err := server.Serve(l)
	if errors.Is(err, net.ErrClosed) || errors.Is(err, smtp.ErrServerClosed) {
		return nil
	}
	return err
}

// Down lets the server refuse everything for a while, or work again.
func (m *Mail) Down(down bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.down = down
}

// Slow lets the server take long for each mail, or be as fast as usual.
func (m *Mail) Slow(slow bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.slow = slow
}

// Letters gives the mailbox, the last first.
func (m *Mail) Letters() []Letter {
	m.mu.Lock()
	defer m.mu.Unlock()
	all := slices.Clone(m.mails)
	slices.Reverse(all)
	return all
}

// session is one SMTP conversation.
type session struct {
	mail *Mail
	to   []string
}

var errDown = &smtp.SMTPError{Code: 421, EnhancedCode: smtp.EnhancedCode{4, 3, 2}, Message: "The mail server is down"}

func (s *session) Reset()        { s.to = nil }
func (s *session) Logout() error { return nil }
func (s *session) Mail(string, *smtp.MailOptions) error {
	s.mail.mu.Lock()
	defer s.mail.mu.Unlock()
	if s.mail.down {
		return errDown
	}
	return nil
}
func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	s.to = append(s.to, to)
	return nil
}

func (s *session) Data(r io.Reader) error {
	letter, err := read(r)
	if err != nil {
		return &smtp.SMTPError{Code: 554, EnhancedCode: smtp.EnhancedCode{5, 6, 0}, Message: "This is no mail: " + err.Error()}
	}
	letter.To = s.to
	s.mail.mu.Lock()
	slow := s.mail.slow
	s.mail.mu.Unlock()
	if slow {
		time.Sleep(slowness)
	}
	return s.mail.keep(letter)
}

func (m *Mail) keep(letter Letter) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	if slices.ContainsFunc(m.mails, func(l Letter) bool { return l.ID == letter.ID }) {
		return nil
	}
	all := append(slices.Clone(m.mails), letter)
	if err := keep(m.path, all); err != nil {
		return err
	}
	m.mails = all
	return nil
}

// read takes a mail apart.
func read(r io.Reader) (Letter, error) {
	msg, err := mail.ReadMessage(r)
	if err != nil {
		return Letter{}, err
	}
	l := Letter{ID: msg.Header.Get("Message-Id"), At: time.Now().UTC(), Header: msg.Header}
	if l.Subject, err = new(mime.WordDecoder).DecodeHeader(msg.Header.Get("Subject")); err != nil {
		return l, err
	}
	return l, l.part(msg.Header.Get("Content-Type"), msg.Header.Get("Content-Transfer-Encoding"), msg.Body)
}

// part reads one part, or those inside of it.
func (l *Letter) part(contentType, encoding string, body io.Reader) error {
	kind, params, err := mime.ParseMediaType(contentType)
	if err != nil {
		return err
	}
	if strings.HasPrefix(kind, "multipart/") {
		parts := multipart.NewReader(body, params["boundary"])
		for {
			p, err := parts.NextRawPart()
			if errors.Is(err, io.EOF) {
				return nil
			}
			if err == nil {
				err = l.part(p.Header.Get("Content-Type"), p.Header.Get("Content-Transfer-Encoding"), p)
			}
			if err != nil {
				return err
			}
		}
	}
	content, err := io.ReadAll(decode(encoding, body))
	switch kind {
	case "text/plain":
		l.Text = strings.ReplaceAll(string(content), "\r\n", "\n")
	case "text/html":
		l.HTML = string(content)
	case "text/calendar":
		l.Calendar = string(content)
	}
	return err
}

func decode(encoding string, body io.Reader) io.Reader {
	switch strings.ToLower(encoding) {
	case "quoted-printable":
		return quotedprintable.NewReader(body)
	case "base64":
		return base64.NewDecoder(base64.StdEncoding, body)
	}
	return body
}

// Handler shows the mailbox: GET / as a page, GET /letters as JSON, POST /down
// and /up switch a fault on and off.
func (m *Mail) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /letters", func(w http.ResponseWriter, _ *http.Request) { Reply(w, http.StatusOK, m.Letters()) })
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) {
		m.mu.Lock()
		down, slow := m.down, m.slow
		m.mu.Unlock()
		var page bytes.Buffer
		if err := mailbox.Execute(&page, map[string]any{"Letters": m.Letters(), "Down": down, "Slow": slow}); err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_, _ = page.WriteTo(w) // the reader has gone away
	})
	for path, do := range map[string]func(){
		"POST /down": func() { m.Down(true) }, "POST /up": func() { m.Down(false) }, "POST /slow": func() { m.Slow(true) }, "POST /fast": func() { m.Slow(false) },
	} {
		mux.HandleFunc(path, func(w http.ResponseWriter, r *http.Request) {
			do()
			http.Redirect(w, r, "/", http.StatusSeeOther)
		})
	}
	return mux
}

var mailbox = template.Must(template.New("mailbox").Funcs(template.FuncMap{
	"links": func(text string) template.HTML {
		var out strings.Builder
		for _, line := range strings.Split(text, "\n") {
			safe := template.HTMLEscapeString(line)
			if strings.HasPrefix(line, "http://") || strings.HasPrefix(line, "https://") {
				safe = fmt.Sprintf(`<a href="%s">%s</a>`, safe, safe)
			}
			out.WriteString(safe + "\n")
		}
		return template.HTML(out.String()) // every line was escaped
	},
}).Parse(`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Mailbox of the simulated mail server</title>
<style>body{font:16px/1.5 sans-serif;max-width:48rem;margin:2rem auto;padding:0 1rem;color:#13262B;background:#F6F3EA}
details{border-top:1px solid #cfc9b8;padding:.5rem 0}summary{cursor:pointer}pre{white-space:pre-wrap;word-break:break-all}form{display:inline}</style></head><body>
<h1>Mailbox</h1><p>What the simulated mail server has received, the last first.
{{if .Down}}<strong>It is down.</strong> <form method="post" action="/up"><button>Let it work again</button></form>
{{else}}<form method="post" action="/down"><button>Let it be down</button></form>{{end}}
{{if .Slow}}<strong>It takes five seconds for each mail.</strong> <form method="post" action="/fast"><button>Let it be fast again</button></form>
{{else}}<form method="post" action="/slow"><button>Let it be slow</button></form>{{end}}</p>
{{range .Letters}}<details><summary><strong>{{.Subject}}</strong> to {{range .To}}{{.}} {{end}}({{.At.Format "15:04:05"}})</summary>
<pre>{{links .Text}}</pre>{{if .Calendar}}<p>With a calendar entry:</p><pre>{{.Calendar}}</pre>{{end}}</details>
{{else}}<p>Nothing yet.</p>{{end}}</body></html>`))
