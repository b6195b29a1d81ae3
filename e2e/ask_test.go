package e2e

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
)

// drop puts a file of a name and content on a file question, as one chooses it.
func (b *browser) drop(question, name, content string) {
	b.t.Helper()
	at := `[data-question=` + question + `] input[type=file]`
	b.there(at)
	b.script(`(() => {
		const data = new DataTransfer();
		data.items.add(new File([Uint8Array.from(atob(%q), (c) => c.charCodeAt(0))], %q));
		const field = document.querySelector(%q);
		field.files = data.files;
		field.dispatchEvent(new Event('input', {bubbles: true}));
	})()`, content, name, at)
}

// A PNG of one point, and a script that calls itself one.
const (
	onePoint = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
	script   = "IyEvYmluL3NoCmVjaG8gbm8K"
)

func TestFilesOnAForm(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask?words=the winch is brokn")
	b.click("Something is broken")
	b.until("what was typed goes on into the form", `document.querySelector('#q-what-field')?.value === 'the winch is brokn'`)
	b.drop("photos", "harmless.png", script)
	b.see("harmless.png is text/x-shellscript, whatever its name says.")
	b.drop("photos", "winch.png", onePoint)
	b.see("winch.png")
	b.until("it is kept", `[...document.querySelectorAll('[data-question=photos] li')].length === 1`)
	b.click("Building, cabin or quay")
	b.click("A sailing")
	b.see("A vessel cannot leave or must turn back. We call you at once.")
	b.gone("You alone cannot work")
	b.click("Now")
	b.see("Leave it alone if it may hurt someone")
	b.reload()
	b.until("the file is still there", `document.querySelector('[data-question=photos] li')?.innerText.includes('winch.png')`)
	b.until("nothing is missing", `!document.querySelector('[data-missing]') && document.querySelector('#q-what-field')`)
	b.click("Send")
	b.there(`[data-reference]`)
	b.see("the winch is brokn")
	got, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`fetch(document.querySelector('[data-answer=photos] a').href).then((r) => r.status + ' ' + r.headers.get('content-type') + ' ' + r.headers.get('content-disposition'))`, chromedp.EvalAwaitPromise))
	require.NoError(t, err)
	assert.Equal(t, `200 image/png attachment; filename=winch.png`, got)
	assert.Equal(t, 401, s.get("/api/requests/x/files/y").StatusCode, "nobody gets it without signing in")
}

// The price rises while somebody writes: they see it and confirm, and nothing
// is charged in silence. Two quick presses send once.
func TestTheSlipChangesWhileOneWrites(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking?plate=SO-77-DS&place=open&port=sankt-orm&stranger=1")
	b.until("the link brought answers", `document.querySelector('#q-plate-field')?.value === 'SO-77-DS' && document.querySelector('[data-question=place] input[value=open]').checked`)
	b.set("#q-from-field", "2099-01-05")
	b.until("nothing is missing", `!document.querySelector('[data-missing]') && document.querySelector('[data-total=firstYear]')?.innerText.includes('216')`)

	owner := s.as("falkenau")
	var opened struct {
		Document offering.Document
		Revision int
	}
	require.NoError(t, owner.send("GET", "/api/design/berth-side-parking", nil, &opened))
	opened.Document.Items.List[0].Price.Amount = "21.00"
	opened.Document.Cases = nil // they guard what is changed here
	require.NoError(t, owner.send("PUT", "/api/design/berth-side-parking", map[string]any{"document": opened.Document, "revision": opened.Revision}, &opened))
	require.NoError(t, owner.send("POST", "/api/design/berth-side-parking/publish", map[string]any{"revision": opened.Revision, "accepted": []string{"breaksDrafts /questions"}}, nil))

	b.click("Send")
	b.there(`[data-changed]`)
	b.see("This has changed while you were writing.")
	b.see("252.00")
	b.script(`for (let i = 0; i < 2; i++) [...document.querySelectorAll('form button.do')].at(-1).click()`)
	b.there(`[data-reference]`)
	b.open("/follow")
	b.see("Berth-side parking")

	require.NoError(t, owner.send("POST", "/api/design/berth-side-parking/end", map[string]any{"successor": "quay-access-badge"}, nil))
	b.open("/ask/berth-side-parking")
	b.see("This is not offered any more. Ask for “Quay access badge” instead.")
	b.click("To what takes its place")
	b.see("At which port?")
}

// An answer shows on the screen within a tenth of a second, by the median.
func TestAnAnswerShowsAtOnce(t *testing.T) {
	b := startServer(t).openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking")
	b.there(`[data-question=place] input[value=covered]`)
	b.settled()
	took, err := chromedp.Run(b.ctx, chromedp.Evaluate[[]float64](`(async () => {
		const took = [];
		const open = document.querySelector('[data-question=place] input[value=covered]');
		for (let i = 0; i < 20; i++) {
			const want = !document.querySelector('[data-question=why]');
			const began = performance.now();
			open.click();
			while (Boolean(document.querySelector('[data-question=why]')) !== want) {
				await new Promise((r) => setTimeout(r, 1));
				if (performance.now() - began > 5000) throw new Error('it never showed');
			}
			took.push(performance.now() - began);
			await new Promise((r) => setTimeout(r, 30));
		}
		return took;
	})()`, chromedp.EvalAwaitPromise))
	require.NoError(t, err)
	slices.Sort(took)
	t.Log("answer shown:", fmt.Sprintf("%.0f ms by the median, %.0f ms at most", took[10], took[19]))
	assert.Less(t, took[10], 1000.0, "far above the aim of 100 ms, which make bench prints")
}

// Items from a CSV file: nothing half done, all of it undone by one step.
func TestItemsFromAFile(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/items")
	b.see("Covered place")
	choose := func(content string) {
		b.script(`(() => {
			const data = new DataTransfer();
			data.items.add(new File([%q], 'items.csv', {type: 'text/csv'}));
			const field = document.querySelector('#items-file');
			field.files = data.files;
			field.dispatchEvent(new Event('change', {bubbles: true}));
		})()`, content)
	}
	choose("key,name,amount\nnight,Night place\nday,Day place,cheap\n")
	b.see("Nothing was brought in.")
	b.see("Line 2: There are 2 columns; 3 are needed.")
	b.see("Line 3, amount:")
	choose("key,name,amount,per\nnight,Night place,9.00,month\nopen,Open bay,17.00,month\n")
	b.see("2 items are good; 1 of them take the place of items that are here.")
	b.click("Bring them in")
	b.see("Night place")
	b.see("Open bay")
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	b.see("No question offers the item")
	b.press(`[data-do=undo]`)
	b.gone("Night place")
	b.see("Open place")
	b.press(`[data-do=redo]`)
	b.see("Night place")
}

// A rule with a group one level deep is built from words, reads as CEL, and
// opens as a sentence again.
func TestARuleOfGroups(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/questions")
	b.click("+ From which day?")
	at := `[data-piece="/questions/4"] [data-rule$="/show"] `
	b.set(at+`.sentence select`, "all")
	b.set(at+`.part select[aria-label=Question]`, "port")
	b.set(at+`.part select[aria-label=Answer]`, "maravel")
	b.script(`[...document.querySelectorAll(%q)].find((x) => x.innerText === 'Add a group').click()`, at+`button`)
	b.there(at + `[data-group]`)
	b.set(at+`[data-group] .part:nth-of-type(1) select[aria-label=Question]`, "asker.department")
	b.set(at+`[data-group] .part:nth-of-type(1) select[aria-label=Answer]`, "Fleet")
	b.set(at+`[data-group] .part:nth-of-type(2) select[aria-label=Question]`, "place")
	b.press(at + `[data-group] .part:nth-of-type(2) .values input`)
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	b.set(at+`.sentence select`, "cel")
	b.until("it reads as CEL", `document.querySelector(%q)?.value === %q`, at+`textarea`, `answers.port == "maravel" && (asker.department == "Fleet" || answers.place.exists(x, x.item in ["open"]))`)
	b.set(at+`.sentence select`, "all")
	b.there(at + `[data-group]`)
	b.set(at+`.sentence select`, "cel")
	b.write(at+`textarea`, "answers.prot")
	b.script(`document.querySelector(%q).focus()`, at+`textarea`)
	b.see("is answers.port meant?")
}
