package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Forms with everything in them are accessible, light and dark, wide and
// narrow.
func TestRichFormsAreAccessible(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Tove Lindskaug")
	b.open("/ask/bridge-tablet")
	b.press(`[data-extra=mount]`)
	b.click("Which size for which bridge")
	b.see("needs the deep mount")
	b.accessible("a form with items and help")
	b.click("Next: Delivery and cost")
	b.press(`[data-do=add-row]`)
	b.click("Fast")
	b.see("Within two working days; it costs 10 % more.")
	b.click("Send")
	b.see("Row 1: Cost centre: an answer is needed.")
	b.accessible("a second page with a table and problems")
	b.open("/ask/something-is-broken")
	b.there(`[data-question=photos] .files`)
	b.accessible("a form with files")

	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/purpose")
	b.write(`[data-field=not]`, "For nothing else.")
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 3')`)
	b.click("Publish …")
	b.see("What changes for people")
	b.accessible("publishing")
	b.click("Not yet")
	b.click("Versions, and its end")
	b.see("The note on what it is not for changes from")
	b.accessible("versions")
	b.click("Close")
	b.open("/design/lifejacket-inspection-round/questions")
	b.click("+ How many of each size?")
	b.click("Size One choice")
	b.accessible("a table on the desk")
}

// A whole mailbox is asked for by keys: people are found by name and taken with
// the arrows, nobody stands twice, and known answers are filled in.
func TestPeopleInATable(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/ask/shared-mailbox")
	b.write(`#q-address-field`, "North Pier")
	b.see("Which address? Write it like berth-four.")
	b.write(`#q-address-field`, "north-pier")
	b.until("it is worked out", `document.querySelector('[data-question=whole] output')?.innerText === 'north-pier@quillonstraits.example'`)
	find := func(row, words, name string) {
		field := `#q-readers-` + row + `-person-field`
		b.there(field)
		b.script(`document.querySelector(%q).focus()`, field)
		b.keys(words)
		b.until("somebody is found", `document.querySelector(%q).getAttribute('aria-expanded') === 'true'`, field)
		b.keys(kb.ArrowDown + "\r")
		b.until("they are taken", `document.querySelector(%q).value === %q`, field, name)
	}
	b.press(`[data-do=add-row]`)
	find("0", "sarmen", "Davi Sarmento")
	b.until("the preset is there", `document.querySelector('[data-row="1"] input[value=send]')?.checked`)
	b.press(`[data-do=add-row]`)
	find("1", "sarmen", "Davi Sarmento")
	b.until("twice is told at its row", `document.querySelector('[data-missing]')?.innerText.includes('Row 2: They stand twice.')`)
	b.script(`document.querySelector('#q-readers-1-person-field').select()`)
	find("1", "adebay", "Folu Adebayor")
	b.until("nothing is missing", `!document.querySelector('[data-missing]')`)
	b.click("Send to")
	b.there(`[data-reference]`)
	b.see("Mailbox north-pier")
	assert.Equal(t, "Person\tThey may\nDavi Sarmento\tread and answer\nFolu Adebayor\tread and answer", b.text(`[data-answer=readers]`), "a table reads as one")
}

// What was typed for somebody else, for somebody new, survives a reload and the
// program's end.
func TestForSomebodyNewIsKept(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Bertil Okonjo")
	b.open("/ask/sign-on-a-crew-member")
	b.click("For somebody new")
	b.write(`[data-newcomer=name]`, "Ondina Farsund")
	b.write(`[data-newcomer=location]`, "Crew House")
	b.set(`[data-field=via]`, "phone")
	b.click("Bosun")
	b.there(`[data-item=uniform-deck]`)
	b.until("only what fits the rank is offered", `!document.querySelector('[data-item=uniform-bridge]')`)
	b.press(`[data-item=uniform-deck] > label input`)
	b.see("Draft saved")
	s.restart()
	b.open("/ask/sign-on-a-crew-member")
	b.until("the newcomer is there", `document.querySelector('[data-newcomer=name]')?.value === 'Ondina Farsund' && document.querySelector('[data-field=via]').value === 'phone'`)
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[bool](`document.querySelector('[data-item=uniform-deck] > label input').checked`))
	require.NoError(t, err)
	assert.True(t, out)
	b.click("Deckhand")
	b.until("a single cabin is not for a deckhand", `!document.querySelector('[data-item=cabin-single]')`)
	b.click("Passenger host")
	b.see("Which uniform? One of the items is not offered here, or no longer.")
}

// A problem that appears as one leaves a field moves nothing, so that no click is
// lost; and times read as the page's language has them, whatever the browser's is.
func TestWhatAppearsMovesNothing(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/ask/shared-mailbox")
	b.see("Promised")
	assert.Regexp(t, `by \w{3} \d{1,2} \w{3}, \d{2}:\d{2}\.`, b.text(`main`))
	b.write(`#q-address-field`, "n")
	b.settled()
	place := func() float64 {
		top, err := chromedp.Run(b.ctx, chromedp.Evaluate[float64](`document.querySelector('#q-why-field').getBoundingClientRect().top`))
		require.NoError(t, err)
		return top
	}
	before := place()
	b.script(`document.activeElement.blur()`)
	b.see("Which address? Write it like berth-four.")
	assert.Equal(t, before, place())
}
