package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// TestALongListStaysLight goes through a desk of many tasks: of its lines only those near
// what is in sight are there, and nothing of what one has done to the others is lost.
func TestALongListStaysLight(t *testing.T) {
	t.Parallel()
	const many = 260
	b := serveMany(t, many).openBrowser()
	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.there(".index li.task")
	b.script(`document.querySelector('.index li.task [type=checkbox]').click()`)
	b.until("the end of the list", `(index => {
		index.scrollTop = index.scrollHeight;
		return ![...index.querySelectorAll('button')].some(b => /^(More|Loading)/.test(b.textContent)) && Number(document.querySelector('.index li.task:nth-last-child(2)')?.dataset.index) >= %d
	})(document.querySelector('.index'))`, many-1)
	b.until("only lines near what is in sight", `document.querySelectorAll('.index li.task').length < 60`)

	b.script(`document.querySelector('.index').scrollTop /= 2`)
	b.until("lines in the middle", `(() => {
		const at = document.elementFromPoint(140, innerHeight / 2).closest('li.task');
		return at && at.dataset.index > 60 && at.dataset.index < %d
	})()`, many-60)
	b.script(`document.elementFromPoint(140, innerHeight / 2).closest('li.task').querySelector('a').focus()`)
	const focused = `Number(document.activeElement.closest('li.task')?.dataset.index)`
	b.script(`window.was = ` + focused)
	for range 30 { // beyond what was there
		b.do(chromedp.KeyEvent(kb.ArrowDown))
	}
	b.until("the line thirty further on", focused+" === window.was + 30")
	b.script(`document.querySelector('.index').scrollTop = 0`)
	b.until("the first line again, still picked", `document.querySelector('.index li.task[data-index="0"] [type=checkbox]')?.checked`)
	b.until("the focus where it was", focused+" === window.was + 30")
	b.until("only lines near what is in sight", `document.querySelectorAll('.index li.task').length < 60`)
	b.do(chromedp.KeyEvent(kb.ArrowDown)) // comes back into sight
	b.until("the next line in sight", `(r => r.top > 0 && r.bottom < innerHeight)(document.activeElement.getBoundingClientRect()) && `+focused+" === window.was + 31")
}
