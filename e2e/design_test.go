package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A new offering begins from the set or as a copy, is found in the list, waits
// for its time, and goes again.
func TestThePortfolio(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.write(`[data-field=new-offering]`, "Key for a locker")
	b.set(`[data-field=beginning]`, "starter:loan")
	b.click("Begin")
	b.there(`[data-field=text]`)
	assert.Equal(t, "Something lent for a while and handed back.", b.value(`[data-field=text]`))
	b.press(`[data-side=plan]`)
	b.see("Keys & Badges") // the home team of the service
	b.open("/design")
	b.write(`[data-field=new-offering]`, "Parking for a season")
	b.set(`[data-field=beginning]`, "copy")
	b.there(`form button:disabled`)
	b.pick(`[data-field=copied]`, "Berth-side")
	b.click("Begin")
	b.press(`[data-side=questions]`)
	b.see("Number plate")
	b.click("Publish …")
	b.see("Nothing needs mending.")
	b.set(`[data-field=later]`, "2099-05-01")
	b.set(`[data-field=later-time]`, "08:00")
	b.press(`[data-do=publish-now]:not(:disabled)`)
	b.there(`[data-scheduled]`)
	b.open("/design")
	b.see("publishes itself")
	b.write(`[data-field=find]`, "season")
	b.until("only what was looked for is listed", `[...document.querySelectorAll('.offerings a')].map((a) => a.innerText).join() === 'Parking for a season'`)
	b.click("Parking for a season")
	b.click("Not then")
	b.until("it waits no more", `!document.querySelector('[data-scheduled]')`)
	b.click("Versions, and its end")
	b.click("Discard this offering")
	b.see("It was never published: all of it is lost.")
	b.press(`[data-do=discard-now]`)
	b.see("Your services")
	b.until("it is gone", `![...document.querySelectorAll('.offerings a')].some((a) => a.innerText === 'Parking for a season')`)

	b.set(`[data-service=parking] select`, "ended")
	b.until("it is kept", `!document.querySelector('.underway.on')`)
	b.open("/ask")
	b.see("Quay access badge")
	b.until("what its service offered is not found", `!document.querySelector('.index a[href="/ask/berth-side-parking"]')`)
}

// What there can be much of comes a page at a time, and is found by words.
func TestWhatThereCanBeMuchOf(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	for i := range 60 {
		s.design(fmt.Sprintf("Place by the water %02d", i))
	}
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.see("Place by the water 00")
	assert.False(t, b.has(`a[href="/design/lifejacket-inspection-round/purpose"]`), "it is on the next page")
	b.script(`window.scrollTo(0, document.body.scrollHeight)`)
	b.there(`a[href="/design/lifejacket-inspection-round/purpose"]`)
	b.until("each is there once", `document.querySelectorAll('.offerings a').length === 64`)
	b.write(`[data-field=find]`, "lifejacket")
	b.until("only what was looked for is listed", `document.querySelectorAll('.offerings a').length === 1`)
	b.open("/design?words=water")
	b.until("the words stand in the address", `document.querySelector('[data-field=find]')?.value === 'water'`)

	b.open("/design/place-by-the-water-07/purpose")
	b.click("Offerings that end when this one is published")
	b.pick(`[data-field=replaces]`, "Cabin")
	b.until("it is taken", `[...document.querySelectorAll('.tag')].some((t) => t.innerText.includes('Cabin refit'))`)
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	b.open("/design/place-by-the-water-07/audience")
	rule := `[data-rule="/audience/see"] `
	b.there(rule)
	b.set(rule+`.sentence select`, "all")
	b.set(rule+`.part select[aria-label=Question]`, "asker.costCentre")
	b.set(rule+`.part select[aria-label=Comparison]`, "oneOf")
	b.pick(rule+`[aria-label^="Add a"]`, "Tern")
	b.see("MV Tern Dancer (CC-4100)")
	b.pick(rule+`[aria-label^="Add a"]`, "cc-4110")
	b.see("MV Grey Heron (CC-4110)")
	b.click("Take out MV Tern Dancer (CC-4100)")
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	b.open("/design/place-by-the-water-07/audience")
	b.see("MV Grey Heron (CC-4110)")
	b.gone("MV Tern Dancer")
	b.open("/design/place-by-the-water-07/purpose")
	b.see("Cabin refit")

	b.open("/design/berth-side-parking/audience")
	b.press(`[data-do=more-people]`)
	b.until("the next of those who may ask are listed", `document.querySelectorAll('[data-verdict]').length === 60`)
	b.write(`[aria-label="Find a person"]`, "sarmento")
	b.until("and by words only those", `document.querySelectorAll('[data-verdict]').length < 5`)
}

// The catalog goes out as a file, and what comes back is shown before anything
// is kept.
func TestMovingTheCatalog(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.see("Move the catalog")
	b.script(`(async () => {
		const catalog = await (await fetch('/api/catalog')).json();
		catalog.offerings.find((o) => o.key === 'cabin-refit').purpose.name = 'Cabin makeover';
		catalog.offerings.push({...structuredClone(catalog.offerings[0]), key: 'brought-along'});
		catalog.offerings.push({...structuredClone(catalog.offerings[0]), key: 'foreign', purpose: {...catalog.offerings[0].purpose, service: 'papers'}});
		catalog.offerings.push({...structuredClone(catalog.offerings[0]), key: 'boat-hire', purpose: {...catalog.offerings[0].purpose, name: 'Boat hire', service: 'boats'}});
		catalog.services.push({key: 'boats', name: 'Boats', area: 'Facilities', owner: 'nobody', home: 'no-team', place: 'offered'});
		const data = new DataTransfer();
		data.items.add(new File([JSON.stringify(catalog)], 'catalog.json'));
		const field = document.querySelector('#catalog-file');
		field.files = data.files;
		field.dispatchEvent(new Event('change', {bubbles: true}));
	})()`)
	b.there(`[data-incoming]`)
	b.see("Changes: Cabin makeover")
	b.see("The service \"papers\" is not yours.")
	b.see("The service \"boats\" is new here: say first which team is home to it.")
	b.set(`[data-new-service=boats] [data-field=home]`, "premises-crew")
	b.see("New: Boat hire")
	b.gone("is new here: say first")
	b.click("1 differences")
	b.see("The name changes from “Cabin refit” to “Cabin makeover”.")
	b.gone("Brought in.")
	b.click("Bring it in")
	b.there(`[data-brought]`)
	b.open("/design")
	b.there(`[data-service=boats]`)
	b.see("Owned by Henrike Falkenau, home team Premises Crew.")
	b.open("/design/cabin-refit/purpose")
	b.until("it is a draft", `document.querySelector('[data-field=name]')?.value === 'Cabin makeover' && document.body.innerText.includes('Draft of version 2')`)
}

// Parts move by keys and by dragging, are doubled, and every step can be taken
// back.
func TestMovingParts(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/questions")
	b.see("Number plate")
	order := func() string {
		out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`[...document.querySelectorAll('[data-piece] .title strong')].map((s) => s.innerText[0]).join('')`))
		require.NoError(t, err)
		return out
	}
	begin := order()
	b.script(`document.querySelector('[data-piece="/questions/0"] .title').focus()`)
	b.do(chromedp.KeyEvent(kb.ArrowDown, chromedp.KeyModifiers(kb.ModifierAlt)))
	b.until("it has moved", `document.querySelector('[data-piece="/questions/1"] .title strong').innerText === 'At which port?'`)
	b.script(`(() => {
		const data = new DataTransfer();
		const from = document.querySelector('[data-piece="/questions/3"] .head'), to = document.querySelector('[data-piece="/questions/0"]');
		from.dispatchEvent(new DragEvent('dragstart', {dataTransfer: data, bubbles: true}));
		to.dispatchEvent(new DragEvent('dragover', {dataTransfer: data, bubbles: true, cancelable: true}));
		to.dispatchEvent(new DragEvent('drop', {dataTransfer: data, bubbles: true, cancelable: true}));
	})()`)
	b.until("it was dropped", `document.querySelector('[data-piece="/questions/0"] .title strong').innerText === 'Why a covered place?'`)
	b.script(`[...document.querySelectorAll('[data-piece] .head')].find((h) => h.innerText.includes('Number plate')).querySelectorAll('.btn')[2].click()`)
	b.until("it is there twice", `[...document.querySelectorAll('[data-piece] .title strong')].filter((s) => s.innerText === 'Number plate').length === 2`)
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	for range 3 {
		b.press(`[data-do=undo]:not(:disabled)`)
	}
	b.until("all steps are taken back", `[...document.querySelectorAll('[data-piece] .title strong')].map((s) => s.innerText[0]).join('') === %q`, begin)
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	b.reload()
	b.see("Number plate")
	assert.Equal(t, begin, order())
}

// A question is shared with other offerings and used in one with settings of
// its own.
func TestSharingAQuestion(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/questions")
	b.click("+ At which port?")
	b.click("Share this question with other offerings")
	b.there(`[data-shared=port]`)
	b.open("/design/cabin-refit/questions")
	b.set(`[data-field=shared]`, "port")
	b.click("Add shared question")
	b.there(lastPart + `[data-shared=port]`)
	b.write(lastPart+`[data-field=label]`, "Which port is nearest?")
	b.see("Here different: label")
	b.until("it is saved", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	b.click("Take the shared one again")
	b.until("the label is the shared one", `document.querySelector(%q)?.value === 'At which port?'`, lastPart+`[data-field=label]`)
}

// The preview runs the same rules as live: as another, for another, on a day; what those
// who decide would see is a step into its rehearsal.
func TestThePreview(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/questions")
	b.there(`[data-field=as]`)
	pick := func(field, name string) {
		b.pick(`[data-field=`+field+`]`, name)
		b.until("they are taken", `document.querySelector('[data-field=%s]').value === %q`, field, name)
	}
	pick("as", "Davi Sarmento")
	pick("for", "Ragnhild Quist")
	b.see("Ragnhild Quist does not fit")
	pick("as", "Ragnhild Quist")
	pick("for", "Davi Sarmento")
	b.gone("does not fit")
	b.until("a sample is offered, and not what he has", `document.querySelector('#p-has-field')?.innerText.includes('Sample badge, S-1000') && !document.body.innerText.includes('QB-20011')`)
	b.click("Maravel")
	b.click("Fuel dock")
	b.there(`#p-reason-field`)
	b.set(`#p-from-field`, "2027-03-12")
	b.set(`[data-field=on]`, "2027-03-13")
	b.see("This day is over.")
	b.set(`[data-field=on]`, "2027-03-11")
	b.gone("This day is over.")
	b.write(`#p-reason-field`, "Bunkering")
	b.press(`[data-beside=rehearse]`)
	b.see("Quay badge for Davi Sarmento, Maravel")
	b.press(`[data-do=step]`)
	b.see("Davi Sarmento wants to enter Fuel dock.")
}
