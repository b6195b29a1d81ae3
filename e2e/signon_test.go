package e2e

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
)

// fault lets one of the simulated systems be as a word says, or well again.
func (s *server) fault(system int, what string) {
	s.t.Helper()
	s.tell(s.systems[system]+"/faults", fmt.Sprintf(`{%q: true}`, what))
}

// report lets purchasing tell of an order.
func (s *server) report(order, text string) string {
	s.t.Helper()
	return s.tell(s.systems[purchasingSystem]+"/orders/"+order+"/report", text)
}

// simulated systems by their place among the addresses.
const (
	badgeSystem      = 2
	purchasingSystem = 3
)

// signOnNoor begins a sign-on as Ragnhild Quist, sends it in the browser and
// has Bertil Okonjo approve it. It gives the ID of the request.
func (s *server) signOnNoor(b *browser, uniforms int) string {
	s.t.Helper()
	b.signIn("Ragnhild Quist")
	day := func(n int) string { return time.Now().AddDate(0, 0, n).Format("2006-01-02") }
	b.call("PUT", "/api/offerings/sign-on-a-crew-member/draft", fmt.Sprintf(`{"for": {"newcomer": {"name": "Noor Halvorsen", "department": "Fleet"}}, "answers": {
		"contract": "season", "ends": %q, "vessel": "heron", "rank": "second", "start": %q, "aid": [],
		"cabin": [{"item": "cabin-single", "quantity": 1}], "uniform": [{"item": "uniform-bridge", "quantity": %d, "options": {"size": "m"}}],
		"certificates": [{"kind": "basic", "number": "BS-771", "until": %q}]}}`, day(300), day(21), uniforms, day(900)))
	b.open("/ask/sign-on-a-crew-member")
	b.see("Likely")
	b.click("2 Certificates and papers")
	b.click("Send to Bertil Okonjo")
	id := b.sent()

	b.signIn("Bertil Okonjo")
	b.open("/decide/" + id + "/crewing")
	b.see("Shall Noor Halvorsen sign on to MV Grey Heron as Second officer?")
	b.approve()
	return id
}

// doTask takes a task and does it, from a team of its own or brought over.
func (b *browser) doTask(request, task string) {
	b.t.Helper()
	b.open("/deliver/" + request + "/" + task)
	b.there(`[data-state]`)
	b.until("somebody can begin", `document.querySelector('[data-state=ready], [data-state=taken]')`)
	if b.has(`[data-do=hand-over]`) && !b.has(`div.do .btn.do`) {
		b.press(`[data-do=hand-over]`)
		b.set(`[data-field=to]`, "tcrewing")
		b.write(`[data-field=why]`, "Crewing does it this time")
		b.press(`[data-do=hand]`)
	}
	b.click("Take")
	b.there(`[data-state=taken]`)
	b.until("every point is ticked", `(() => { const left = [...document.querySelectorAll('[data-point]')].filter((c) => !c.checked); left[0]?.click(); return left.length === 0; })()`)
	if b.has(`[data-output-field]`) {
		b.write(`[data-output-field]`, "TB-4410")
	}
	b.click("Done")
	b.there(`[data-state=done]`)
}

// sheetOf reads a request as its asker.
func (b *browser) sheetOf(request string) (sheet struct {
	Status, Outcome string
	Tasks           []struct{ Key, Kind, State, Trouble string }
}) {
	b.t.Helper()
	require.NoError(b.t, json.Unmarshal([]byte(b.call("GET", "/api/requests/"+request, "")), &sheet))
	return sheet
}

// keptBy reads the file in which a simulated system keeps what it did; before it has done
// anything there is none.
func keptBy[T any](s *server, system string) (file T) {
	s.t.Helper()
	data, err := os.ReadFile(filepath.Join(s.dir, "simulators", system+".json"))
	if errors.Is(err, fs.ErrNotExist) {
		return file
	}
	require.NoError(s.t, err)
	require.NoError(s.t, json.Unmarshal(data, &file))
	return file
}

type orders struct {
	Orders []struct {
		Number, Key, State string
		Quantity           int
		Cancelled          bool
	}
}

// A crew member is signed on, from sending to delivery, over five departments:
// the badge system refuses, the task gets stuck with the reason in words, and a
// person has it tried again once the system is well.
func TestASignOnFromSendingToDelivery(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	s.fault(badgeSystem, "refuse")
	id := s.signOnNoor(b, 1)

	b.doTask(id, "check")
	b.open("/follow/" + id)
	b.until("the badge is stuck", `[...document.querySelectorAll('[data-status] li')].some((l) => l.innerText.includes('stuck'))`)
	b.see("Stuck on Write the quay badge, with Keys & Badges")

	b.signIn("Ysolde Marrec")
	b.open("/deliver?state=stuck")
	b.openTask("Write the quay badge")
	b.see("refuses everything just now")
	s.fault(badgeSystem, "none")
	b.click("Try again")
	b.there(`[data-state=done]`)

	b.signIn("Bertil Okonjo")
	for _, task := range []string{"contract", "pay", "cabin"} {
		b.doTask(id, task)
	}
	b.open("/deliver/" + id + "/near") // the contract is signed early, so nobody need wait
	b.press(`[data-do=skip]`)
	b.write(`[data-field=telling]`, "Noor signs on earlier")
	b.press(`[data-do=tell]`)
	b.there(`[data-state=skipped]`)
	b.doTask(id, "tablet")
	for _, order := range keptBy[orders](s, "purchasing").Orders {
		if strings.HasPrefix(order.Key, id) {
			assert.JSONEq(t, `{"status": 200}`, s.report(order.Number, `{"state":"delivered"}`))
		}
	}
	b.doTask(id, "welcome")

	b.signIn("Ragnhild Quist")
	b.open("/follow/" + id)
	b.see("Your turn: is it right?")
	s.restart()
	b.reload()
	b.click("Confirm that it is done")
	b.see("Fulfilled")
}

// A sign-on is taken back in the middle: what was open stops, what was done is
// undone in the systems, the last first, and only then it closes.
func TestTakenBackInTheMiddle(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	id := s.signOnNoor(b, 1)
	b.doTask(id, "check")
	require.Eventually(t, func() bool {
		done := 0
		for _, task := range b.sheetOf(id).Tasks {
			if (task.Key == "badge" || task.Key == "berth") && task.State == "done" {
				done++
			}
		}
		return done == 2
	}, patience, 100*time.Millisecond, "badge and berth are done by themselves")

	b.signIn("Ragnhild Quist")
	b.open("/follow/" + id)
	s.fault(badgeSystem, "refuse")
	b.press(`[data-do=take-back]`)
	b.press(`[role=dialog] .btn.do`)
	b.see("Being taken back")
	s.fault(badgeSystem, "none")
	b.see("Taken back")
	b.there(`[data-status=closed]`)
	states := map[string]string{}
	sheet := b.sheetOf(id)
	for _, task := range sheet.Tasks {
		states[task.Key] = task.State
	}
	assert.Equal(t, "withdrawn", sheet.Outcome)
	assert.Equal(t, "undone", states["badge"])
	assert.Equal(t, "undone", states["berth"])
	assert.Equal(t, "undone", states["uniform"], "an order that is under way is cancelled")
	assert.Equal(t, "stopped", states["contract"])
	badges := keptBy[struct {
		Badges map[string]struct{ Ended bool }
	}](s, "badges").Badges
	assert.True(t, badges[id+"/badge"].Ended)
	berths := keptBy[struct {
		Bookings map[string]struct{ Ended bool }
	}](s, "web").Bookings
	assert.True(t, berths[id+"/berth"].Ended)
	for _, order := range keptBy[orders](s, "purchasing").Orders {
		if strings.HasPrefix(order.Key, id) {
			assert.True(t, order.Cancelled)
		}
	}
}

// Purchasing reports in parts, twice and late; a forged report changes nothing.
func TestPurchasingReports(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	id := s.signOnNoor(b, 3)
	b.doTask(id, "check")
	b.open("/deliver/" + id + "/uniform")
	b.see("will report: Purchasing")
	var number, key string
	require.Eventually(t, func() bool {
		for _, order := range keptBy[orders](s, "purchasing").Orders {
			if strings.HasPrefix(order.Key, id) {
				number, key = order.Number, order.Key
				assert.Equal(t, 3, order.Quantity)
			}
		}
		return number != ""
	}, patience, 100*time.Millisecond)
	report := func(text string) string { return s.report(number, text) }

	assert.JSONEq(t, `{"status": 200}`, report(`{"step": "1", "state": "partial", "delivered": 2}`))
	b.until("two of three came", `document.querySelector('[data-line]')?.value === '2'`)
	assert.JSONEq(t, `{"status": 200}`, report(`{"step": "1", "state": "partial", "delivered": 3}`), "a step that was told already is taken and changes nothing")
	forged := fmt.Sprintf(`{"key": %q, "step": "9", "state": "delivered", "delivered": 3}`, key)
	request, err := http.NewRequest(http.MethodPost, s.url+"/api/reports/purchasing", strings.NewReader(forged))
	require.NoError(t, err)
	signature, stamp := connect.Sign("not the secret", time.Now(), []byte(forged))
	request.Header.Set(connect.SignatureHeader, signature)
	request.Header.Set(connect.TimeHeader, stamp)
	response, err := http.DefaultClient.Do(request)
	require.NoError(t, err)
	assert.Equal(t, http.StatusUnauthorized, response.StatusCode, body(t, response))
	b.reload()
	b.until("still two of three", `document.querySelector('[data-line]')?.value === '2'`)
	b.there(`[data-state=ready]`)

	assert.JSONEq(t, `{"status": 200}`, report(`{"step": "2", "state": "delivered", "delivered": 3}`))
	b.there(`[data-state=done]`)
	b.see("Supplier's number: S-")
	assert.JSONEq(t, `{"status": 200}`, report(`{"step": "3", "state": "refused"}`), "what comes after the end is kept in the log only")
	b.signIn("Tove Lindskaug")
	b.open("/manage")
	b.click("Reports from outside")
	b.see("1 forged for Purchasing")
}
