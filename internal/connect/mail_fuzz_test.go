package connect

import (
	"strings"
	"testing"
	"time"

	mail "github.com/wneessen/go-mail"

	"heptad/internal/core/coretest"
)

// A mail can be made of whatever people have typed, or is refused; nothing of it
// becomes a header of its own.
func FuzzMessage(f *testing.F) {
	f.Add("noor@quillonstraits.example", "Noor", "Subject", "Text")
	f.Add("a@b\r\nBcc: all@x.example", "N\r\nX: y", "S\r\nBcc: all@x.example", "T\r\n.\r\n")
	f.Fuzz(func(t *testing.T, to, name, subject, text string) {
		coretest.Bounded(t, 100, func() {
			msg := mail.NewMsg()
			if err := msg.FromFormat("Heptad", "heptad@quillonstraits.example"); err != nil {
				t.Fatal(err)
			}
			err := SMTP{From: "heptad@quillonstraits.example"}.write(msg, Mail{
				ID: "m1", To: to, Name: name, Subject: subject, Parts: []Part{{
					Text: text, Answers: []Answer{{Label: subject, Headings: []string{name, to}, Rows: [][]string{{text, subject}}}}, Links: []Link{{"Look", "https://heptad.example/x"}},
				}}, Due: time.Unix(1e9, 0), DueName: subject,
			})
			if err != nil {
				return
			}
			var out strings.Builder
			if _, err := msg.WriteTo(&out); err != nil {
				return
			}
			head, _, _ := strings.Cut(out.String(), "\r\n\r\n")
			for _, line := range strings.Split(head, "\r\n") {
				key, _, _ := strings.Cut(line, ":")
				if strings.EqualFold(strings.TrimSpace(key), "Bcc") && !strings.HasPrefix(line, " ") && !strings.HasPrefix(line, "\t") {
					t.Fatalf("a header was added: %q", line)
				}
			}
		})
	})
}
