package e2e

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A task goes to a supplier outside by mail; they answer by the link in it,
// without signing in, and the request goes on.
func TestASupplierAnswersByALink(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.call("PUT", "/api/offerings/lifejacket-inspection-round/draft", `{"answers": {"vessel": "heron", "total": 12, "sizes": [{"size": "adult", "count": 12, "bad": 3}]}}`)
	b.open("/ask/lifejacket-inspection-round")
	b.see("Likely")
	b.click("Send")
	id := b.sent()
	b.open("/deliver/" + id + "/inspect") // a task of another team, of a service that is hers
	b.press(`[data-do=skip]`)
	b.write(`[data-field=telling]`, "Inspected last week already")
	b.press(`[data-do=tell]`)
	b.there(`[data-state=skipped]`)

	link := regexp.MustCompile(`http://\S+/supplier/\S+`)
	var address string
	require.Eventually(t, func() bool {
		for _, letter := range keptBy[[]struct {
			To            []string
			Subject, Text string
		}](s, "mail") {
			if letter.Subject == "3 life jackets for MV Grey Heron" {
				assert.Equal(t, "jackets@safety-yard.example", letter.To[0])
				address = link.FindString(letter.Text)
			}
		}
		return address != ""
	}, patience, 100*time.Millisecond, "the supplier gets a mail")

	outside := s.openBrowser() // who never signed in
	path := strings.TrimPrefix(address, s.url)
	outside.open(path)
	outside.see("Please bring 3 new life jackets to MV Grey Heron")
	outside.accessible("a supplier's page")
	outside.press(`[data-segment=begun] input`)
	outside.write(`[data-field=number]`, "SY-118")
	outside.click("Answer")
	outside.there(`[data-said]`)
	b.open("/follow/" + id)
	b.see("Order new jackets")
	b.there(`[data-status=delivering]`)
	outside.open(path)
	outside.press(`[data-segment=done] input`)
	outside.click("Answer")
	outside.there(`[data-said]`)
	b.see("Your turn: is it right?")
	b.see("SY-118")
	outside.open(path)
	outside.there(`[data-trouble]`)
	assert.Equal(t, http.StatusNotFound, s.get("/api"+path[:len(path)-4]+"abcd").StatusCode, "a forged link leads nowhere")
}

// An administrator sees what runs by itself: a system that is down is left
// alone, what got stuck is tried again with one press.
func TestTheBackground(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	s.fault(badgeSystem, "refuse")
	id := s.signOnNoor(b, 1)
	b.doTask(id, "check")
	b.signIn("Tove Lindskaug")
	b.open("/manage")
	b.see("refuses everything just now")
	b.there(`[data-do=retry-badges]`)
	b.accessible("Manage")
	b.see("Write the quay badge, Badge system:")
	s.fault(badgeSystem, "none")
	b.press(`[data-do=retry-badges]`)
	b.see("Nothing is stuck.")
	b.until("it is done", `document.querySelector('[data-connector=badges]').innerText.includes('well')`)
}
