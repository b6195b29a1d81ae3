package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// The front page lists what waits with its verb, three picks or fewer, what is
// under way, and the whole catalog with pictures; a wish that nothing is for goes
// to somebody as it was said.
func TestTheFrontPage(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/ask")
	b.see("Waits for you")
	b.until("each has its verb", `[...document.querySelectorAll('[data-waiting]')].length > 0 && [...document.querySelectorAll('[data-waiting] .do')].every((e) => e.innerText.length > 3)`)
	b.until("picks are different ones, and counted right", `(() => {
		const picks = [...document.querySelectorAll('[data-pick]')].map((e) => e.dataset.pick);
		return new Set(picks).size === picks.length && picks.length <= 3 && document.querySelector('#picks').innerText.includes(['no', 'one', 'two', 'three'][picks.length] + ' pick');
	})()`)
	b.until("a fault stands at its door only", `document.querySelectorAll('[data-door=broken]').length === 1 && ![...document.querySelectorAll('.columns [data-result]')].some((e) => e.innerText === 'Something is broken')`)
	b.until("offerings carry pictures", `[...document.querySelectorAll('.drawn img')].length > 8 && [...document.querySelectorAll('.drawn img')].every((i) => i.src.startsWith('data:image/svg+xml'))`)

	b.write("#wish", "a zeppelin for the harbour festival")
	b.press(`[data-do=send-words]`)
	b.until("the words are carried", `[...document.querySelectorAll('textarea')].some((f) => f.value === 'a zeppelin for the harbour festival')`)
	b.press(`form .btn.do`)
	b.there(`[data-reference]`)
	b.see("Service Bench")
}

// Where there is little room the strip is one line with a menu, the index folds,
// and what one came for is in the first screen; Publish can be reached.
func TestLittleRoom(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	for _, width := range []int64{390, 640} { // a phone; 1280 at 200 per cent
		b.do(chromedp.EmulateViewport(width, 800))
		b.open("/design/quay-access-badge/questions")
		b.there(`[data-piece]`)
		b.until("the strip is one line", `document.querySelector('.strip').getBoundingClientRect().height < 64`)
		b.until("the sheet begins in the first screen", `document.querySelector('#sheet h1').getBoundingClientRect().top < 250`)
		b.until("nothing is wider than the screen", `document.documentElement.scrollWidth <= innerWidth`)
		b.press(`[data-do=menu]`)
		b.until("the desks are there", `document.querySelector('[data-desk=follow]').getBoundingClientRect().height > 0`)
		b.press(`[data-desk=follow]`)
		b.until("the menu closes with the page", `location.pathname.startsWith('/follow') && document.querySelector('[data-desk=follow]').getBoundingClientRect().height === 0`)
	}
	b.open("/design/berth-side-parking/purpose")
	b.write(`[data-field=not]`, "Not for bicycles.")
	b.press(`[data-do=unfold]`)
	b.press(`[data-do=publish]`)
	b.see("Nothing needs mending.")
}

// The focus goes where one expects it: to the heading of the new sheet, from
// which arrows go on in the index.
func TestFocusFollows(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openBrowser()
	b.signIn("Ysolde Marrec")
	b.open("/ask")
	b.press(`[data-desk=deliver]`)
	b.until("changing the desk goes to its heading", `document.activeElement.matches('#sheet h1')`)
	b.there(`nav.index li > a`)
	first := b.path()
	b.script(`[...document.querySelectorAll('nav.index a[data-task], nav.index li a')].find((a) => !a.getAttribute('aria-current') && a.pathname.split('/').length === 4)?.click()`)
	b.until("another is open", `location.pathname !== %q`, first)
	b.until("opening goes to the heading", `document.activeElement.matches('#sheet h1')`)
	b.do(chromedp.KeyEvent(kb.ArrowUp))
	b.until("and arrows go on in the index", `document.activeElement.closest('nav.index')`)
	assert.NotEqual(t, first, b.path())
}
