package e2e

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
)

// asksQuick sends a request for the quick badge, and gives its ID.
func (s *server) asksQuick(login string) string {
	s.t.Helper()
	asker := s.as(login)
	var form struct{ Draft string }
	require.NoError(s.t, asker.send("PUT", "/api/offerings/quick-badge/draft", map[string]any{"answers": map[string]any{}}, &form))
	require.NoError(s.t, asker.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"answers": map[string]any{}, "slip": ""}, nil))
	return form.Draft
}

// changesQuick publishes another version of the quick badge.
func (s *server) changesQuick(change func(*offering.Document)) {
	s.t.Helper()
	owner := s.as("falkenau")
	var opened struct {
		Document offering.Document
		Revision int
	}
	require.NoError(s.t, owner.send("GET", "/api/design/quick-badge", nil, &opened))
	change(&opened.Document)
	require.NoError(s.t, owner.send("PUT", "/api/design/quick-badge", map[string]any{"document": opened.Document, "revision": opened.Revision}, &opened))
	require.NoError(s.t, owner.send("POST", "/api/design/quick-badge/publish", map[string]any{"revision": opened.Revision, "accepted": []string{}}, nil))
}

// A request that was delivered is not right: the asker sends it back with words and a
// picture, the home team puts it right, and it can be sent back once more after it is
// confirmed.
func TestSentBackAndPutRight(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	s.publishQuick()
	keys := s.as("marrec")
	id := s.asksQuick("sarmento")
	does := func(task string) {
		require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/"+task+"/take", map[string]any{}, nil))
		require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/"+task+"/complete", map[string]any{}, nil))
	}
	does("check")
	davi.open("/follow/" + id)
	davi.see("Hand out")
	davi.until("it can be handed out", `document.body.innerText.includes('Now with Keys & Badges')`)
	does("hand")
	davi.open("/follow/" + id)
	davi.see("Your turn: is it right?")
	davi.press(`[data-do=not-right]`)
	davi.there(`[data-field=wrong]`)
	assert.True(t, davi.is(`document.querySelector('[data-do=send-back]').disabled`), "without a word it goes nowhere")
	davi.write(`[data-field=wrong]`, "It opens nothing.")
	davi.file(`[data-field=wrong-files]`, "gate.txt", "The gate stays shut.")
	davi.press(`[data-do=send-back]`)
	davi.see("It is with those who put it right.")
	davi.there(`[data-back]`)
	davi.see("gate.txt")

	ysolde := s.openBrowser()
	ysolde.signIn("Ysolde Marrec")
	ysolde.open("/deliver")
	ysolde.see("Put right")
	ysolde.open("/deliver/" + id + "/right-1")
	ysolde.see("It opens nothing.")
	ysolde.see("gate.txt")
	ysolde.click("Take")
	ysolde.click("Done")
	davi.see("Your turn: is it right?")
	davi.click("Confirm that it is done")
	davi.see("If it is not right, send it back until")
	davi.press(`[data-rate] [data-segment="2"] input`)
	davi.see("Thank you: 2 of 5.")
	davi.write(`[data-field=why-rated]`, "It took two goes.")
	davi.there(`[data-do=say-why]:enabled`)
	davi.press(`[data-do=say-why]`)
	davi.there(`[data-said="It took two goes."]`)
	davi.reload()
	davi.there(`[data-rate="2"]`)
	davi.until("the word is kept", `document.querySelector('[data-field=why-rated]')?.value === 'It took two goes.'`)
	henrike := s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	henrike.open("/follow/" + id)
	henrike.there(`[data-rated="2"]`)
	henrike.open("/messages")
	henrike.see("not content")
	davi.press(`[data-do=not-right]`)
	davi.write(`[data-field=wrong]`, "Now the number is wrong.")
	davi.press(`[data-do=send-back]`)
	davi.see("Now the number is wrong.")
	s.restart()
	davi.reload()
	davi.see("Now the number is wrong.")
	davi.see("Sent back: it is not right")

	// The owner ends it, with one of the reasons that the offering gives.
	s.changesQuick(func(d *offering.Document) { d.Promise.Reasons = []string{"Asked twice", "Not possible here"} })
	other := s.asksQuick("sarmento")
	henrike.signIn("Henrike Falkenau")
	henrike.open("/follow/" + other)
	henrike.press(`[data-do=cancel]`)
	henrike.set(`[data-field=chosen]`, "Asked twice")
	henrike.press(`[data-do=cancel-now]`)
	davi.open("/follow/" + other)
	davi.see("Cancelled")
	davi.see("Asked twice")
}

// A mail that says that all is done rates: its link opens a page with the value chosen and
// changes nothing; who sends it has rated, without a session, and may change it.
func TestRatedFromAMail(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	s.publishQuick()
	asker, keys := s.as("sarmento"), s.as("marrec")
	s.changesQuick(func(d *offering.Document) {
		d.Promise.Rating, d.Plan = &promise.Rating{At: promise.RateDelivered}, d.Plan[:1]
	})
	id := s.asksQuick("sarmento")
	require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/check/take", map[string]any{}, nil))
	require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/check/complete", map[string]any{}, nil))

	text := s.letter("sarmento", "Quick badge is done: is it right?")
	found := regexp.MustCompile(`http://[^/]+(/rate/\S+stars=)4`).FindStringSubmatch(text)
	require.NotNil(t, found, text)
	path := found[1] + "4"
	b := s.openBrowser()
	b.open(path)
	b.there(`[data-do=rate]`)
	rated := func() (stars int) {
		var sheet struct{ Mine *struct{ Stars int } }
		require.NoError(t, asker.send("GET", "/api/requests/"+id, nil, &sheet))
		if sheet.Mine != nil {
			stars = sheet.Mine.Stars
		}
		return stars
	}
	assert.Zero(t, rated(), "following it changes nothing")
	b.press(`[data-do=rate]`)
	b.see("Thank you, Davi Sarmento: 4 of 5.")
	assert.Equal(t, 4, rated())
	b.open(found[1] + "5")
	b.press(`[data-do=rate]`)
	b.see("5 of 5.")
	assert.Equal(t, 5, rated())
	b.open("/rate/altered.link")
	b.see("This link is not right, or not whole.")
}

// A promise is switched off, and valid until a day, visibly and for good.
func TestAPromiseIsSwitchedOff(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/promise")
	b.there(`[data-piece="/promise/targets/0"] button[aria-expanded]`)
	b.press(`[data-piece="/promise/targets/0"] button[aria-expanded]`)
	b.there(`[data-field=target-on]`)
	b.script("document.querySelectorAll('[data-piece] details').forEach((d) => d.open = true)")
	b.write(`[data-field=target-validUntil]`, "31 Dec 2027")
	b.press(`[data-field=target-on]`)
	b.see("switched off")
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	b.reload()
	b.there(`[data-piece="/promise/targets/0"] button[aria-expanded]`)
	b.press(`[data-piece="/promise/targets/0"] button[aria-expanded]`)
	b.until("it is kept", `document.querySelector('[data-field=target-validUntil]')?.value === '31 Dec 2027'`)
}

// Staff close a request as done, with a prepared word; the asker reads it and what comes
// next, answers a question of the offering, and takes another back for a reason they choose.
func TestClosedWithAWord(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi, henrike := s.openBrowser(), s.openBrowser()
	davi.signIn("Davi Sarmento")
	henrike.signIn("Henrike Falkenau")
	s.publishQuick()
	henrike.open("/design/quick-badge/promise")
	henrike.write(`[data-field=next]`, "It is yours until the summer, {{ asker.name }}.")
	henrike.write(`[data-field=asker-reasons]`, "Not needed any more, Asked twice")
	henrike.write(`[data-field=rating-asks]`, "Was everybody friendly?")
	henrike.until("it is saved", `document.querySelector('[data-saved=true]')`)
	s.changesQuick(func(*offering.Document) {})
	require.NoError(t, s.as("falkenau").send("PUT", "/api/replies", map[string]any{"name": "By phone", "text": "Done by phone, {{ asker.name }}."}, nil))

	id := s.asksQuick("sarmento")
	henrike.open("/follow/" + id)
	henrike.press(`[data-do=close]`)
	henrike.see("Left out with your word: Check")
	henrike.there(`[data-field=closing-reply]`)
	henrike.until("the reply is there", `document.querySelector('[data-field=closing-reply]').options.length > 1`)
	henrike.script(`(() => { const s = document.querySelector('[data-field=closing-reply]'); s.selectedIndex = 1; s.dispatchEvent(new Event('change', {bubbles: true})) })()`)
	henrike.press(`[data-do=close-now]`)
	henrike.see("This request is closed.")
	davi.open("/messages")
	davi.see("Henrike Falkenau: Done by phone, Davi Sarmento.")
	davi.open("/follow/" + id)
	davi.there(`[data-closing]`)
	davi.see("It is yours until the summer, Davi Sarmento.")
	davi.see("Not done: Check")
	davi.press(`[data-rate] [data-segment="4"] input`)
	davi.see("Thank you: 4 of 5.")
	davi.see("Was everybody friendly?")
	davi.press(`[data-asks="0"] [data-segment="5"] input`)
	davi.reload()
	davi.until("the answer is kept", `document.querySelector('[data-asks="0"] [data-segment="5"] input')?.checked`)

	other := s.asksQuick("sarmento")
	davi.open("/follow/" + other)
	davi.press(`[data-do=take-back]`)
	davi.set(`[data-field=why-back]`, "Asked twice")
	davi.click("Take it back")
	davi.see("Asked twice")
}
