package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"syscall"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// accessible lets axe look at the screen: light and dark, wide and narrow.
func (b *browser) accessible(screen string) {
	b.t.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(b.t, err, "run 'make build' first")
	for _, width := range []int64{1280, 390} {
		for _, scheme := range []string{"light", "dark"} {
			_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
				// Colours change at once, not over time.
				Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme}, {Name: "prefers-reduced-motion", Value: "reduce"}},
			})
			require.NoError(b.t, err)
			b.do(chromedp.EmulateViewport(width, 800))
			if !b.is(`!!window.axe`) {
				b.do(chromedp.Evaluate[chromedp.Void](string(axe)))
			}
			only := "" // the dark differs by its colours alone
			if scheme == "dark" {
				only = ", runOnly: ['color-contrast']"
			}
			found, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`axe.run(document, {resultTypes: ['violations']`+only+`}).then((r) => JSON.stringify(
				r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160) + ' ' + n.any.map((a) => a.message).join(' ')).join(' | '))))`, chromedp.EvalAwaitPromise))
			require.NoError(b.t, err)
			var violations []string
			require.NoError(b.t, json.Unmarshal([]byte(found), &violations))
			assert.Empty(b.t, violations, "%s, %d wide, %s", screen, width, scheme)
			over, err := chromedp.Run(b.ctx, chromedp.Evaluate[int](`document.documentElement.scrollWidth - document.documentElement.clientWidth`))
			require.NoError(b.t, err)
			assert.LessOrEqual(b.t, over, 0, "%s, %d wide, does not fit", screen, width)
		}
	}
	b.do(chromedp.EmulateViewport(1280, 800))
}

// is reports whether something is so in the page now.
func (b *browser) is(condition string) bool {
	b.t.Helper()
	yes, err := chromedp.Run(b.ctx, chromedp.Evaluate[bool](condition))
	require.NoError(b.t, err)
	return yes
}

func TestEveryScreenIsAccessible(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.open("/")
	b.see("Who are you today?")
	b.accessible("the door")

	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.see("Your services")
	b.accessible("Design")
	for side, text := range map[string]string{"purpose": "Keywords", "audience": "Who may ask", "questions": "Another question", "items": "Another item", "ladder": "Another decision", "plan": "Another task", "promise": "Working days to confirm"} {
		b.open("/design/berth-side-parking/" + side)
		b.see(text)
		b.see("Which place?")
		b.script(`document.querySelectorAll('[data-piece] .title').forEach((t) => t.click())`)
		b.accessible("Design, " + side)
	}
	b.open("/design/texts")
	b.see("Administrators write them")
	b.script(`document.querySelectorAll('details')[1].open = true`)
	b.see("Please decide until")
	b.accessible("Texts of messages, of an owner")
	b.open("/design/calendars?key=maravel")
	b.there(`[data-day]`)
	b.accessible("Working calendars")
	b.open("/design/berth-side-parking/shape")
	b.see("An offering has seven sides")
	b.accessible("an error")

	b.signIn("Ragnhild Quist")
	b.open("/messages")
	b.there(`[data-message]`)
	b.accessible("Messages")
	b.open("/decide/several")
	b.see("Tick all")
	b.script(`document.querySelectorAll('main [type=checkbox]').forEach((c) => c.click())`)
	b.accessible("Decide several")
	b.open("/decide/absence")
	b.see("Another absence")
	b.accessible("Absence")

	b.signIn("Davi Sarmento")
	b.see("Everything you can ask for")
	b.accessible("Ask")
	b.open("/ask?words=park")
	b.see("Found for")
	b.accessible("Ask, found")
	b.open("/ask/berth-side-parking")
	b.see("Which place?")
	b.press(`[data-question=place] input[value=covered]`)
	b.there(`[data-question=why]`)
	b.click("Send to Ragnhild Quist")
	b.see("an answer is needed")
	b.accessible("the form, with problems")
	b.open("/follow")
	b.see("Your turn: is it right?")
	b.accessible("Follow")
	b.open("/follow/have")
	b.see("What I have")
	b.accessible("What I have")
	b.open("/find?words=parking")
	b.there(`[data-result]`)
	b.accessible("Find a request")

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.see("What follows on a yes")
	b.click("Decline")
	b.see("Say why you decline")
	b.accessible("Decide")
	b.menu("person", "Keys")
	b.see("Walk the index")
	b.accessible("the keys")

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.see("What to do")
	b.accessible("Deliver")
	b.open("/deliver/replies")
	b.see("Prepared replies")
	b.accessible("Prepared replies")
}

// Two browsers look at the same thing: what happens in one shows in the other
// without a reload.
func TestWhatOthersDoShows(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	first, second := s.openBrowser(), s.openBrowser()
	first.signIn("Ysolde Marrec")
	first.open("/deliver")
	first.openTask("Ilinca Petrovan")
	first.see("Nobody has taken this yet")
	address := first.path()
	second.signIn("Ysolde Marrec")
	second.open(address)
	second.see("Nobody has taken this yet")

	first.click("Take")
	first.see("You have taken this")
	second.see("You have taken this")
	first.click("Done")
	second.see("This is done")
}

func TestATaskTakenByAnotherAtTheSameMoment(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.openTask("Ilinca Petrovan")
	b.see("Nobody has taken this yet")
	// Another tab of hers is faster, and this one has not yet heard of it.
	b.script(`(() => {
		const take = [...document.querySelectorAll('button')].find((b) => b.innerText === 'Take');
		fetch('/api/tasks' + location.pathname.replace('/deliver', '') + '/take', {method: 'POST'}).then(() => take.click());
	})()`)
	b.see("Ysolde Marrec has taken")
	b.see("You have taken this")
}

func TestAnEndedSessionKeepsWhatWasTyped(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking")
	b.write("#q-plate-field", "SO-77-DS")
	b.see("Draft saved")
	// The session ends elsewhere.
	b.do(chromedp.Evaluate[chromedp.Void](`fetch('/api/session', {method: 'DELETE'})`, chromedp.EvalAwaitPromise))
	b.click("Sankt Orm")
	b.see("Who are you today?")
	b.click("Davi Sarmento")
	b.until("it is all there", `document.querySelector('#q-plate-field')?.value === 'SO-77-DS' && document.querySelector('input[value="sankt-orm"]')?.checked`)
	b.see("Draft saved")
}

// A reason belongs to its decision: it is not taken over to another, and is
// still there on coming back.
func TestAReasonStaysWithItsDecision(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.click("Berth-side parking Mei Sorensen-Koh")
	b.see("The ticket hall opens at seven")
	b.write("#reason", "Only from May.")
	b.click("Decline")
	b.see("You declined this.")
	b.click("Berth-side parking Folu Adebayor")
	b.see("while mine is in the workshop")
	b.click("Decline")
	b.see("Say why you decline")
	b.write("#reason", "For a week at most?")
	b.click("Berth-side parking Mei Sorensen-Koh")
	b.see("You declined this.")
	b.gone("Say why you decline")
	b.click("Berth-side parking Folu Adebayor")
	b.until("it is still there", `document.querySelector('#reason')?.value === 'For a week at most?'`)
}

// While the program is away what is typed stays in the browser; once it is back
// it is saved by itself.
func TestTypingGoesOnWhileTheProgramIsAway(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking")
	b.there("#q-plate-field")
	_ = s.stop(syscall.SIGKILL)
	b.write("#q-plate-field", "SO-77-DS")
	b.see("Not saved yet, but kept in this browser.")
	b.see("Heptad does not answer.")
	s.start(strings.TrimPrefix(s.url, "http://"))
	b.see("Draft saved")
	b.gone("Heptad does not answer.")
	b.reload()
	b.until("it is there", `document.querySelector('#q-plate-field')?.value === 'SO-77-DS'`)
}

func TestADraftIsDiscardedOnlyAfterAsking(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking")
	b.write("#q-plate-field", "SO-77-DS")
	b.see("Draft saved")
	b.click("Discard draft")
	b.see("Discard what you typed?")
	b.click("Keep")
	b.open("/ask")
	b.see("Finish and send")
	b.open("/ask/berth-side-parking")
	b.click("Discard draft")
	b.see("Discard what you typed?")
	b.click("Discard")
	b.see("Everything you can ask for")
	b.gone("Finish and send")
	b.open("/ask/berth-side-parking")
	b.until("it is empty", `document.querySelector('#q-plate-field')?.value === ''`)
}

func TestWhatIsWrongWithAnOfferingStandsAtItsPlace(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/plan")
	b.click("+ Mark the place")
	b.press(`[data-piece="/plan/0"] [data-after=barrier]`)
	b.see("These tasks wait for each other in a circle: Mark the place → Open the barrier → Mark the place.")
	b.see("1 to mend before")
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	b.click("Publish …")
	b.see("To mend before")
	b.until("it cannot be published", `document.querySelector('[data-do=publish-now]').disabled`)
	b.click("Not yet")
	b.press(`[data-piece="/plan/0"] [data-after=barrier]`)
	b.see("Nothing is missing.")
	b.open("/design/berth-side-parking/questions")
	b.click("+ Which place?")
	b.set(`[data-piece="/questions/2"] [data-rule$="/show"] select`, "cel")
	b.write(`[data-piece="/questions/2"] [data-rule$="/show"] textarea`, "answers.why == 'x'")
	b.see("These questions wait for each other in a circle")
	b.write(`[data-piece="/questions/2"] [data-rule$="/show"] textarea`, "answers.prt == 'x'")
	b.see("there is nothing called prt here")
	b.see("To mend")
}

func TestWhatIsRemovedCanBeBroughtBack(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/plan")
	b.see("Mark the place")
	b.press(`[data-piece="/plan/0"] .head .btn:last-child`)
	b.see("“Mark the place” is removed.")
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	b.click("Bring it back")
	b.gone("is removed.")
	b.until("it is saved again", `document.querySelector('[data-saved=true]')`)
	b.reload()
	b.see("Open the barrier")
	assert.Contains(t, b.text(`[data-piece="/plan/0"]`), "Mark the place")
	assert.Contains(t, b.text(`[data-piece="/plan/2"]`), "after Mark the place and Check the badge")
}

// Two owners' windows on one draft: the second to save is told what changed,
// and loses nothing: both are brought together, and that can be undone.
func TestTwoPeopleEditOneDraft(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	first, second := s.openBrowser(), s.openBrowser()
	_, err := chromedp.Call(second.ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{
		Source: `window.EventSource = class { addEventListener() {} close() {} }`, // it hears of the other too late
	})
	require.NoError(t, err)
	for _, b := range []*browser{first, second} {
		b.signIn("Henrike Falkenau")
		b.open("/design/berth-side-parking/purpose")
		b.there(`[data-field=text]`)
	}
	first.write(`[data-field=text]`, "A place for your car.")
	first.until("saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	second.tags(`[data-field=keywords]`, "bicycle, car")
	second.see("Henrike Falkenau has changed this draft meanwhile.")
	second.see("The text is another.")
	assert.True(t, second.is(`document.querySelector("[data-words]").dataset.words === "bicycle, car"`))
	second.click("Bring both together")
	second.until("both are there", `document.querySelector('[data-field=text]').value === 'A place for your car.' && document.querySelector('[data-words]').dataset.words === 'bicycle, car'`)
	second.until("saved", `document.querySelector('[data-saved=true]') && !document.querySelector('[data-other]')`)
	second.reload()
	second.until("both are kept", `document.querySelector('[data-field=text]')?.value === 'A place for your car.' && document.querySelector('[data-words]').dataset.words === 'bicycle, car'`)
}

// The desks are reached, the index walked and a request found by keys alone.
func TestByKeyboard(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Davi Sarmento")
	b.see("Everything you can ask for")
	b.settled()
	b.script(`document.activeElement.blur(); window.dispatchEvent(new KeyboardEvent('keydown', {key: '/', bubbles: true, cancelable: true}))`)
	b.until("the wish has the focus", `document.activeElement.id === 'wish'`)
	b.keys("lett")
	b.see("Found for “lett”")
	b.keys("\r")
	b.see("Who will read it?")
	b.script(`document.activeElement.blur(); window.dispatchEvent(new KeyboardEvent('keydown', {code: 'Digit2', key: '"', shiftKey: true, bubbles: true}))`)
	b.see("Your turn: is it right?")
	b.script(`document.querySelector('.index a').focus()`)
	b.keys(kb.ArrowDown)
	b.until("the next entry has the focus", `document.activeElement === document.querySelectorAll('.index a')[1]`)
	b.keys("?")
	b.see("Walk the index")
}

// printed is the page as a PDF, as the browser prints it.
func (b *browser) printed() []byte {
	b.t.Helper()
	pdf, err := chromedp.Run(b.ctx, func(ctx context.Context, target *chromedp.Target) ([]byte, error) {
		out, err := cdp.Call(ctx, target, page.PrintToPDF, page.PrintToPDFParams{})
		return out.Data, err
	})
	require.NoError(b.t, err)
	return pdf
}

// media lets the page be as on a screen or in print.
func (b *browser) media(media string) {
	b.t.Helper()
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: media})
	require.NoError(b.t, err)
}

// path is where the browser is.
func (b *browser) path() string {
	b.t.Helper()
	at, err := chromedp.Run(b.ctx, chromedp.Location())
	require.NoError(b.t, err)
	return strings.TrimPrefix(at, b.url)
}

// value reads what stands in a field.
func (b *browser) value(selector string) string {
	b.t.Helper()
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](fmt.Sprintf(`document.querySelector(%q).value`, selector)))
	require.NoError(b.t, err)
	return out
}

// keys types without choosing a field.
func (b *browser) keys(text string) {
	b.t.Helper()
	b.do(chromedp.KeyEvent(text))
}

// On a narrow screen everything is there too: a wish is found, a request read.
func TestOnANarrowScreen(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.do(chromedp.EmulateViewport(390, 800))
	b.signIn("Davi Sarmento")
	b.write("#wish", "letter")
	b.click("Proof of employment letter")
	b.see("Who will read it?")
	b.see("None: the work begins as you send.")
	b.click("A bank")
	b.click("Yes")
	b.click("English")
	b.until("nothing is missing", `!document.querySelector('[data-missing]')`)
	b.press(`form .btn.do`)
	b.see("Now with People Desk")
	b.set(`.bar select`, "task")
	b.until("the history is filtered", `document.querySelectorAll('.history li').length === 1`)
	b.see("Write the letter: now with People Desk")
}
