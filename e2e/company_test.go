package e2e

import (
	"bufio"
	"fmt"
	"net"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/intake"
	"heptad/internal/demo/demotest"
	"heptad/internal/simulate"
)

// company is a running `heptad serve`, with a mail server beside it.
type company struct {
	*server
	flags []string
	entry string // the link that was printed; empty for none
	mail  *simulate.Mail
	smtp  string
}

// newCompany serves an empty folder, with more flags.
func newCompany(t *testing.T, flags ...string) *company {
	t.Helper()
	c := &company{flags: flags, server: &server{t: t, dir: filepath.Join(t.TempDir(), "data")}}
	var err error
	c.mail, err = simulate.OpenMail(filepath.Join(t.TempDir(), "mail.json"))
	require.NoError(t, err)
	receiving, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = receiving.Close() })
	go func() { _ = c.mail.Serve(receiving) }()
	c.smtp = receiving.Addr().String()
	c.serve("127.0.0.1:0")
	t.Cleanup(func() { _ = c.stop(syscall.SIGTERM) })
	return c
}

// serve starts the program at an address.
func (c *company) serve(addr string, more ...string) {
	c.t.Helper()
	c.process = exec.Command(program, append(append([]string{"serve", "--addr", addr, "--data", c.dir, "--mail-addr", c.smtp, "--mail-from", "heptad@halvorsenito.example", "--mail-tls", "none",
		"--limit-writes=100000", "--limit-writes-burst=100000", "--limit-lookups=100000", "--limit-lookups-burst=100000"}, c.flags...), more...)...)
	c.process.Stderr = &logged{t: c.t}
	out, err := c.process.StdoutPipe()
	require.NoError(c.t, err)
	require.NoError(c.t, c.process.Start())
	started := c.process.Process
	c.t.Cleanup(func() { _ = started.Kill() })
	lines := make(chan string)
	go func() {
		for s := bufio.NewScanner(out); s.Scan(); {
			lines <- s.Text()
		}
	}()
	c.entry, c.url = "", ""
	for c.url == "" {
		select {
		case line := <-lines:
			if link, ok := strings.CutPrefix(line, "Move in: "); ok {
				c.entry = link
			}
			if url, ok := strings.CutPrefix(line, "Heptad is at "); ok {
				c.url = url
			}
		case <-time.After(patience):
			require.Fail(c.t, "the program does not start")
		}
	}
}

// code is what a second factor shows in so many steps from now.
func code(t *testing.T, secret string, steps int) string {
	t.Helper()
	text, err := totp.GenerateCode(secret, time.Now().Add(time.Duration(steps)*30*time.Second))
	require.NoError(t, err)
	return text
}

// letter waits for a mail to somebody with a subject.
func (c *company) letter(to, subject string) simulate.Letter {
	c.t.Helper()
	for range 600 {
		for _, l := range c.mail.Letters() {
			if strings.Contains(strings.Join(l.To, " "), to) && strings.Contains(l.Subject, subject) {
				return l
			}
		}
		time.Sleep(50 * time.Millisecond)
	}
	require.Fail(c.t, "no mail to "+to, subject)
	return simulate.Letter{}
}

// read sends a sheet and opens its preview.
func (b *browser) read(kind, name string, content []byte) {
	b.t.Helper()
	b.open("/manage/company/" + kind)
	b.there(`main [data-total]`)
	b.file(`input[data-field=sheet]`, name, string(content))
	b.there(`main[data-kind]`)
}

// A company of ten thousand people moves in, through the page.
func TestMovingIn(t *testing.T) {
	size := 10_000
	if testing.Short() {
		size = 600
	}
	c := newCompany(t)
	g := demotest.Greenhouses{Size: size}
	require.NotEmpty(t, c.entry)
	b := c.openBrowser()
	b.do(chromedp.Navigate(c.entry))
	b.write(`[data-field=name]`, "Signe Halvorsen")
	b.write(`[data-field=login]`, "s.halvorsen")
	b.write(`[data-field=email]`, "signe@halvorsenito.example")
	b.write(`[data-field=new]`, "leavemealone")
	b.press(`[data-do=move-in]`)
	b.see("among the passwords that are guessed first")
	b.write(`[data-field=new]`, "glass over green leaves")
	b.press(`[data-do=move-in]`)
	b.there(`[data-step=organisation]`)

	// The organisation, with its home calendar.
	b.click("Tell of it")
	b.write(`[data-field=name]`, "Halvorsen-Ito Greenhouses")
	b.write(`[data-field=prefix]`, "hg")
	b.write(`[data-field=zone]`, "Europe/Copenhagen")
	b.press(`[data-do=make-calendar]`)
	b.there(`select[data-field=calendar]`)
	b.write(`[data-field=currency]`, "DKK")
	b.write(`[data-field=tax-name]`, "Moms")
	b.write(`[data-field=tax-percent]`, "25")
	b.write(`[data-field=accent]`, "#ffcc00")
	b.press(`[data-do=save]`)
	b.see("cannot begin a reference")
	b.see("too pale to be read on paper")
	b.write(`[data-field=prefix]`, "HG")
	b.write(`[data-field=accent]`, "#2f6b3a")
	b.press(`[data-do=save]`)
	b.see("Saved.")
	b.file(`[data-field=emblem]`, "emblem.svg", `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><path fill="#2f6b3a" d="M1 9 9 1z"/></svg>`)
	b.there(`img[alt="The emblem"]`)
	b.press(`[data-do=save]`)
	b.until("the look has changed", `document.documentElement.style.getPropertyValue('--accent-day') === '#2f6b3a'`)

	// The holidays of its calendar.
	holidays := fmt.Sprintf("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Day of the glass\r\nDTSTART;VALUE=DATE:%d0605\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", time.Now().Year())
	b.open("/design/calendars?key=home")
	b.file(`[data-field=holidays]`, "holidays.ics", holidays)
	b.there(`[data-exception]`)
	b.press(`[data-do=keep]`)
	b.see("Saved:")

	// A second factor for the administrator.
	b.open("/me")
	b.press(`[data-do=begin-factor]`)
	secret := b.text(`[data-secret]`)
	b.write(`[data-field=factor-code]`, code(t, secret, 0))
	b.press(`[data-do=set-factor]`)
	b.there(`[data-codes]`)
	b.press(`[data-do=kept-codes]`)
	b.see("10 recovery codes are left")

	// Sheets, with mistakes that are mended.
	b.read("locations", "locations.csv", demotest.CSV(intake.Locations, g.Locations()))
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)
	file, wrong := g.Mistaken()
	b.read("people", "people.csv", file)
	b.see(fmt.Sprintf("%d wrong", wrong))
	b.press(`[data-near="Glasshouse Nord"]`)
	b.see("5 wrong")
	assert.True(t, b.is(`document.querySelector('[data-do=do-sheet]').disabled`))
	b.press(`[data-field=leave-wrong]`)
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)
	b.see(fmt.Sprintf("Done: %d new, 1 changed, 5 left out.", size-6))
	b.read("costCentres", "centres.csv", demotest.CSV(intake.CostCentres, g.CostCentres()))
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)
	b.read("teams", "teams.csv", demotest.CSV(intake.Teams, g.Teams()))
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)
	b.read("areas", "areas.csv", demotest.CSV(intake.Areas, g.Areas()))
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)
	b.read("services", "services.csv", demotest.CSV(intake.Services, g.Services()))
	b.press(`[data-do=do-sheet]`)
	b.there(`[data-done]`)

	// The line with the administrator's address has become her.
	b.open("/manage/company/people?words=signe@halvorsenito.example")
	b.there(`[data-record]`)
	assert.Equal(t, "1", b.text(`[data-total]`))
	assert.Contains(t, b.text(`[data-record]`), "signe")

	// Offerings, mail, and a first request.
	b.open("/manage/move-in/offerings")
	for _, starter := range []string{"letter", "equipment", "badge", "something-broken", "new-colleague"} {
		b.press(`[data-do=take-` + starter + `]`)
		if starter == "equipment" {
			b.set(`[data-field=service]`, "workplace")
		}
		if starter == "new-colleague" {
			b.set(`[data-field=team-account]`, "systems")
		}
		b.press(`[data-do=offer]`)
		b.there(`[data-starter=` + starter + `] .taken`)
	}
	told := c.letter(g.Login(6), "has changed what you answer for")
	assert.Contains(t, told.Text, "is offered in Workplace, of which you are the owner")
	b.open("/manage/move-in")
	b.press(`[data-do=try-mail]`)
	b.see("A message is on its way")
	c.letter("signe@halvorsenito.example", "Mail of Heptad works")
	b.open("/ask/letter")
	b.there(`[data-question]`)
	b.click("Send")
	b.sent()
	b.see("HG-10401-")
	b.open("/manage/move-in")
	b.see("8 of 8 done")
	b.press(`[data-do=end-moving]`)
	b.there(`[data-field=prefix]`)
	b.see("Since the first request was sent it stays.")
	t.Logf("%d things done", b.acts)
	assert.Less(t, b.acts, 120, "an hour, if each takes half a minute")
}
