package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// What opens, turns and orders does so by keys, and is still so after a reload.
func TestPartsByKeyboard(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	focus := func(selector string) {
		b.there(selector)
		b.script(`document.querySelector(%q).focus()`, selector)
	}
	at := func(what, selector string) {
		b.until(what, fmt.Sprintf(`document.activeElement?.matches(%q)`, selector))
	}

	b.signIn("Tove Lindskaug")
	b.open("/manage")
	b.settled()
	focus(`[data-part-of=systems]`)
	b.keys(kb.ArrowLeft) // round to the last
	at("the last part has the focus", `[data-part-of=grants][data-selected]`)
	b.until("the address says so", `location.search === '?part=grants'`)
	b.reload()
	b.there(`[data-grant]`)
	first := func(want string) {
		b.until(want+" is first", `document.querySelector('[data-grant]').innerText.includes(%q)`, want)
	}
	first("Access to the quays")
	focus(`[data-order=action]`)
	b.keys("\r")
	b.there(`th[aria-sort=ascending] [data-order=action]`)
	first("Add licences to a pool")
	b.keys("\r")
	b.there(`th[aria-sort=descending] [data-order=action]`)
	first("Write a badge")
	b.keys("\r")
	first("Access to the quays")

	b.menu("person", "How you are told")
	b.until("they are on Messages", `location.pathname === '/messages'`)
	const news = `[data-field="ways/progress"]`
	focus(news)
	assert.True(t, b.is(`!document.querySelector('`+news+`').checked`), "what goes on is not told unasked")
	b.keys(" ")
	b.until("it is on", `document.querySelector('%s').checked`, news)
	b.settled()
	b.reload()
	b.until("it is still on", `document.querySelector('%s')?.checked`, news)

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.see("What follows on a yes")
	b.settled()
	focus(`button.why`)
	b.keys("\r")
	b.there(`.why-card`)
	b.see("line manager of")
	b.keys(kb.Escape)
	b.until("the reason is gone", `!document.querySelector('.why-card')?.checkVisibility()`)
	at("the why has the focus again", `button.why`)
}
