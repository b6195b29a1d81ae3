package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// call gives a command to the API as the person who is signed in, and gives
// the answer.
func (b *browser) call(method, path, body string) string {
	b.t.Helper()
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](fmt.Sprintf(`fetch(%q, {method: %q, headers: {'Content-Type': 'application/json'}, body: %q || undefined})
		.then(async (r) => (r.ok ? '' : 'status ' + r.status + ' ') + await r.text())`, path, method, body), chromedp.EvalAwaitPromise))
	require.NoError(b.t, err)
	require.False(b.t, strings.HasPrefix(out, "status "), "%s %s: %s", method, path, out)
	return out
}

// threeRungs asks the line manager, then three people of whom 60 % must say
// yes when it is dear, then somebody named.
const threeRungs = `{"format":"heptad/catalog/1","services":[],"shared":[],"offerings":[{"format":"heptad/offering/1","key":"winch","purpose":{"name":"Deck winch","text":"A winch for the quay.","keywords":["hoist"],"service":"places"},
	"audience":{},"sections":[],
	"questions":[
		{"key":"pick","kind":"items","label":"Which winch?","items":["small","big"],"require":"true"},
		{"key":"why","kind":"text","label":"What for?","require":"true"},
		{"key":"note","kind":"text","label":"A note"}],
	"items":{"currency":"EUR","list":[
		{"key":"small","name":"Small winch","group":"Winches","price":{"amount":"800.00","per":"once"}},
		{"key":"big","name":"Big winch","group":"Winches","instead":["small"],"price":{"amount":"2500.00","per":"once"}}]},
	"ladder":[
		{"key":"manager","name":"Line manager","approvers":[{"source":"lineManager"}],"quorum":"any","facts":["pick","why"]},
		{"key":"board","name":"Board","when":"cost.once > money(\"2000.00\")","approvers":[{"source":"person","person":"okonjo"},{"source":"person","person":"marrec"},{"source":"person","person":"vidigal"}],"quorum":"60%","facts":["pick","why"],"limit":"2d","then":"escalate"},
		{"key":"last","name":"Whole company","approvers":[{"source":"person","person":"vidigal"}],"quorum":"any","afresh":true}],
	"plan":[{"key":"order","name":"Order the winch","kind":"manual","team":"purchasing"}],
	"promise":{"zone":"Europe/Lisbon","calendar":"maravel","targets":[{"name":"Usual","fulfilment":"20d"}]}}]}`

// letter waits for a mail to somebody with all these words in its subject and text.
func (s *server) letter(login string, words ...string) (text string) {
	s.t.Helper()
	require.Eventually(s.t, func() bool {
		answer, err := http.Get(s.mailbox + "/letters")
		if err != nil {
			return false
		}
		defer answer.Body.Close()
		data, err := io.ReadAll(answer.Body)
		var letters []struct {
			To            []string
			Subject, Text string
		}
		if err != nil || json.Unmarshal(data, &letters) != nil {
			return false
		}
		for _, l := range letters {
			text = l.Text
			lacks := func(word string) bool { return !strings.Contains(l.Subject+"\n"+text, word) }
			if strings.HasPrefix(l.To[0], login+"@") && !slices.ContainsFunc(words, lacks) {
				return true
			}
		}
		return false
	}, patience, 100*time.Millisecond, "a mail to %s: %q", login, words)
	return text
}

// Three rungs by price, with a stand-in and a share of votes; a question back,
// an answer, and the last yes from a mail without signing in.
func TestThreeRungs(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	assert.Contains(t, b.call("POST", "/api/catalog?publish=true", threeRungs), `"warnings":0`)

	b.signIn("Ragnhild Quist")
	b.open("/decide/absence")
	b.set(`[data-field=from]`, time.Now().Format("2006-01-02"))
	b.set(`[data-field=until]`, time.Now().AddDate(0, 0, 7).Format("2006-01-02"))
	b.pick(`#stand-in-person`, "Henrike F")
	b.until("she is taken", `document.querySelector('#stand-in-person').value === 'Henrike Falkenau'`)
	b.click("Set absence")
	b.there(`[data-absence]`)
	b.see("Henrike Falkenau decides")
	b.signIn("Tove Lindskaug")
	b.open("/decide/absence")
	b.pick(`#whose-person`, "Ragnhild Q") // an administrator sees anybody's
	b.see("When Ragnhild Quist is away")
	b.see("Henrike Falkenau decides")

	b.signIn("Davi Sarmento")
	b.open("/ask/winch")
	b.press(`[data-item=big] input`)
	b.write(`#q-why-field`, "For the heavy lines at berth 4")
	b.see("Henrike Falkenau, for Ragnhild Quist")
	b.see("2 of 3 yes votes, as the cost once is more than 2000.00")
	b.until("the form is complete", `document.querySelector('[data-missing]') === null`)
	b.click("Send to")
	id := b.sent()

	b.signIn("Henrike Falkenau")
	b.open("/decide/" + id + "/manager")
	b.see("€1,700.00 more in the first year than Small winch")
	b.approve()
	b.signIn("Bertil Okonjo")
	b.open("/decide/" + id + "/board")
	b.click("Approve")
	b.see("You can change your mind until the decision is passed.")
	b.signIn("Ysolde Marrec")
	b.open("/decide/" + id + "/board")
	b.click("Ask a question back")
	b.see("Write what you want to know.")
	b.write("#reason", "Who keeps it greased?")
	b.click("Ask a question back")
	b.see("has until")

	b.signIn("Davi Sarmento")
	b.open("/follow/" + id)
	b.see("Your turn: Ysolde Marrec asks")
	b.press(`[data-do=change]`)
	b.there(`[data-returned]`)
	b.write(`#q-note-field`, "The berth crew does.")
	b.write(`[data-field=reply]`, "We do, each Monday.")
	b.see("Draft saved")
	b.click("Answer Ysolde Marrec")
	b.there(`[data-status=deciding]`)
	b.see("We do, each Monday.")
	b.until("the vote on answers that stayed is kept", `document.querySelector('[data-rung=board]').innerText.includes('Bertil Okonjo approved')`)

	b.signIn("Ysolde Marrec")
	b.open("/decide/" + id + "/board")
	b.see("We do, each Monday.")
	b.approve()

	mail := s.letter("vidigal", "Your decision: Deck winch", "Decision: Whole company")
	link := mail[strings.Index(mail, "http://"):]
	link, _, _ = strings.Cut(link, "\n")
	out := s.openBrowser() // nobody is signed in here
	out.do(chromedp.Navigate(link))
	out.see("you decide as Amaranta Vidigal")
	out.do(chromedp.Navigate(link)) // a link checker changes nothing
	out.see("you decide as Amaranta Vidigal")
	out.press(`[data-confirm]`)
	out.there(`[data-done]`)
	out.do(chromedp.Navigate(link))
	out.see("This link has been used already.")
	out.do(chromedp.Navigate(link[:len(link)-30]))
	out.see("This link is not right, or not whole.")

	b.signIn("Davi Sarmento")
	b.open("/follow/" + id)
	b.there(`[data-status=delivering]`)
	b.see("Approved, for Ragnhild Quist")
	b.until("three rungs are passed", `document.querySelectorAll('[data-outcome=passed]').length === 3`)
}

// Eight requests come in while the approver looks: they are told live, and
// decide all at once.
func TestEightAtOnce(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	quist := s.openBrowser()
	quist.signIn("Ragnhild Quist")
	quist.open("/messages")
	quist.there(`[data-message=decide]`)
	unread := func() string { return `Number(document.querySelector('[data-unread]').dataset.unread)` }
	before, err := chromedp.Run(quist.ctx, chromedp.Evaluate[int](unread()))
	require.NoError(t, err)

	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	for i := range 8 {
		answers := fmt.Sprintf(`{"port":"maravel","plate":"MV-0%d-QS","place":[{"item":"covered","quantity":1}],"from":"2099-01-05","why":"Night %d."}`, i, i)
		var draft struct{ Draft string }
		require.NoError(t, json.Unmarshal([]byte(davi.call("PUT", "/api/offerings/berth-side-parking/draft", `{"answers":`+answers+`}`)), &draft))
		davi.call("POST", "/api/requests/"+draft.Draft+"/submit", `{"slip":"","answers":`+answers+`}`)
	}
	quist.until("the messages are counted without a reload", unread()+` === `+fmt.Sprint(before+8))
	quist.open("/decide/several?words=sarmento")
	quist.until("the eight are found", `document.querySelectorAll('main li').length === 8`)
	quist.click("Tick all 8")
	quist.click("Decline 8")
	quist.see("8 were not taken: see below.")
	quist.until("each says what is wrong", `document.querySelectorAll('main li .problem').length === 8`)
	quist.write(`[data-field=reason-for-all]`, "Enjoy the dry seat.")
	quist.click("Approve 8")
	quist.there(`[data-done="8"]`)
	quist.see("Nothing waits for your decision.")
	davi.open("/follow")
	davi.until("all eight go on", `[...document.querySelectorAll('nav li')].filter((li) => li.innerText.includes('Berth-side parking')).length >= 8`)
}
