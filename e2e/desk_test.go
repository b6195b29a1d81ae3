package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// stored reads a value of the draft, or of the current version, as it is kept.
func (b *browser) stored(key, path string) string {
	b.t.Helper()
	b.until("it is saved", `document.querySelector('[data-saved=true]')`)
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string](`(async () => JSON.stringify((await (await fetch('/api/design/`+key+`')).json()).document`+path+`))()`, chromedp.EvalAwaitPromise))
	require.NoError(b.t, err)
	return out
}

// pick finds a person by name as one types, and takes the first.
func (b *browser) pick(field, words string) {
	b.t.Helper()
	b.there(field)
	b.settled()
	for range 5 { // a list that closes just now takes the focus back
		b.script(`(() => { const f = document.querySelector(%q); f.focus(); f.select(); })()`, field)
		b.keys(words)
		if b.value(field) == words {
			break
		}
	}
	b.there(`[role=option]`)
	b.script(`document.activeElement.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true, cancelable: true}))`) // a key event of the protocol would send the form besides
}

// tags types words into a field that makes each a tag, in place of what is there,
// and leaves it.
func (b *browser) tags(field, words string) {
	b.t.Helper()
	b.there(field)
	for range 5 { // a change of page that ends just now takes the focus away
		b.settled()
		b.until("what was there is taken out", `(() => { const one = document.querySelector('[data-words] [data-part=item-delete-trigger]'); one?.click(); return !one; })()`)
		b.script(`(() => { const f = document.querySelector(%q); f.focus(); f.select(); })()`, field)
		b.keys(words)
		b.script(`document.activeElement.blur()`)
		if b.is(fmt.Sprintf(`document.querySelector('[data-words]').dataset.words === %q`, words)) {
			return
		}
	}
	require.Fail(b.t, "no words can be typed into "+field)
}

// Looking at every side of what is published changes nothing: no draft begins.
func TestLookingBeginsNoDraft(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	for _, key := range []string{"berth-side-parking", "cabin-refit", "quay-access-badge"} {
		b.open("/design/" + key + "/purpose")
		for _, side := range []string{"audience", "questions", "items", "ladder", "plan", "promise", "purpose"} {
			b.press(`[data-side=` + side + `]`)
			b.there(`[data-side=` + side + `][aria-current=page]`)
			b.script(`(() => {
				for (let round = 0; round < 2; round++) document.querySelectorAll('.title[aria-expanded=false]').forEach((e) => e.click());
				document.querySelectorAll('main details').forEach((e) => (e.open = true));
			})()`)
			b.settled()
			b.until(key+", "+side+": it stays as it is", `document.querySelector('[data-saved=true]').innerText.includes('as on Ask')`)
		}
	}
}

// A rule shows what is stored: after an undo, after a move, and while it is not
// whole.
func TestARuleShowsWhatIsStored(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/questions")
	b.see("Number plate")
	b.press(`[data-piece="/questions/1"] .title`)
	const rule = `[data-piece="/questions/1"] [data-rule="/questions/1/show"] `
	before := b.stored("berth-side-parking", ".questions[1].show ?? ''")
	assert.Equal(t, `""`, before)

	// The first comparison that offers itself is stored as it is shown.
	b.set(rule+`.sentence select`, "all")
	b.there(rule + `[aria-label=Question]`)
	b.set(rule+`[aria-label=Question]`, "asker.department")
	b.see("not stored before it is whole")
	assert.Equal(t, `""`, b.stored("berth-side-parking", ".questions[1].show ?? ''"))
	b.set(rule+`[aria-label=Answer]`, "Finance")
	b.gone("not stored before it is whole")
	b.until("it is stored", `document.querySelector('[data-saved=true]') && document.body.innerText.includes('Draft of version 2')`)
	assert.Equal(t, `"asker.department == \"Finance\""`, b.stored("berth-side-parking", ".questions[1].show"))

	// What another fact says can be compared with, too.
	b.set(rule+`[aria-label="Compared with"]`, "fact")
	b.set(rule+`[aria-label="The other fact"]`, "beneficiary.department")
	assert.Equal(t, `"asker.department == beneficiary.department"`, b.stored("berth-side-parking", ".questions[1].show"))

	// Undo takes back what is shown and what is stored.
	b.press(`[data-do=undo]:not(:disabled)`)
	b.until("the sentence is as before", `!document.querySelector(%q)`, rule+`[aria-label="The other fact"]`)
	b.press(`[data-do=undo]:not(:disabled)`)
	b.until("and before that there was none", `!document.querySelector(%q)`, rule+`[aria-label=Question]`)
	b.press(`[data-do=redo]:not(:disabled)`)
	b.there(rule + `[aria-label=Question]`)
	assert.Equal(t, `"asker.department == \"Finance\""`, b.stored("berth-side-parking", ".questions[1].show"))

	// A question is no condition of its own, and the reason is there.
	b.until("it is not offered", `[...document.querySelectorAll(%q)].some((o) => o.disabled && o.title === 'it is this question')`, rule+`[aria-label=Question] option`)

	// Moving the question takes its rule along.
	b.press(`[data-piece="/questions/1"] .head .btn:nth-of-type(3)`)
	b.there(`[data-rule="/questions/2/show"] [aria-label=Question]`)
	assert.Equal(t, `"asker.department == \"Finance\""`, b.stored("berth-side-parking", ".questions[2].show"))
}

// Promises change places with what stands in them, a choice without choices
// keeps its editor, keywords count as they are typed, and a draft is discarded
// only after asking.
func TestWhatIsTypedStays(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/promise")
	b.write(`[data-field=new-promise]`, "For Finance")
	b.click("Add promise")
	b.there(lastPart + `[data-rule$="/when"]`)
	b.set(lastPart+`[data-rule$="/when"] .sentence select`, "all")
	b.set(lastPart+`[aria-label=Question]`, "asker.department")
	b.set(lastPart+`[aria-label=Answer]`, "Finance")
	b.see("when the asker's department is Finance")
	b.script(`[...document.querySelectorAll("[data-piece]")].at(-1).querySelector(".head .btn").click()`)
	b.until("it stands first of the two, and open", `(() => {
		const parts = [...document.querySelectorAll('[data-piece]')], at = parts.findIndex((p) => p.innerText.includes('For Finance'));
		return at === parts.length - 2 && parts[at].querySelector('[aria-label=Answer]')?.value === 'Finance' && !parts.at(-1).querySelector('.body');
	})()`)

	b.press(`[data-side=questions]`)
	designer{b}.line("new-question", "Which side?")
	b.set(lastPart+`[data-field=kind]`, "choice")
	b.there(lastPart + `[data-field=choice]`)
	b.stored("berth-side-parking", "")
	b.reload()
	b.click("+ Which side?")
	b.there(lastPart + `[data-field=choice]`)
	// Limits of dates are dates, or days from today.
	b.set(lastPart+`[data-field=kind]`, "date")
	b.script(`document.querySelector(%q).open = true`, lastPart+`details.more`)
	b.set(lastPart+`[data-field=min]`, "later")
	b.write(lastPart+`[data-field=min-days]`, "14")
	assert.Equal(t, `"today+14"`, b.stored("berth-side-parking", ".questions.at(-1).min"))

	b.press(`[data-side=purpose]`)
	b.there(`[data-field=keywords]`)
	b.tags(`[data-field=keywords]`, "car")
	b.script(`document.querySelector('[data-field=keywords]').focus()`)
	b.keys(", bi")
	b.until("what is ended is a tag, and the rest stays as it is typed", `document.querySelector('[data-words]').dataset.words === 'car, bi' && document.querySelector('[data-field=keywords]').value.trim() === 'bi'`)
	assert.Equal(t, `["car","bi"]`, b.stored("berth-side-parking", ".purpose.keywords"))
	b.keys("\b\b")
	b.until("what is taken out counts no more", `document.querySelector('[data-field=keywords]').value.trim() === ''`)
	assert.Equal(t, `["car"]`, b.stored("berth-side-parking", ".purpose.keywords"))

	b.click("Versions, and its end")
	b.click("Discard the draft")
	b.see("All that was changed since version 1 is lost")
	b.click("Keep it")
	b.click("Discard the draft")
	b.press(`[data-do=discard-now]`)
	b.see("Version 1, as on Ask")
}

// People are found by name as one types, and nobody is meant before somebody is
// chosen; a rung and a task say in one line what they are.
func TestChoosingPeopleOnTheDesk(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/berth-side-parking/ladder")
	designer{b}.line("new-rung", "Named: owner of the service")
	b.set(lastPart+`[aria-label="Who decides 1"]`, "person")
	b.see("nobody yet")
	assert.Equal(t, `""`, b.stored("berth-side-parking", ".ladder.at(-1).approvers[0].person ?? ''"))
	b.pick(lastPart+`[data-field=approver]`, "Sarm")
	b.see("Davi Sarmento")
	assert.Equal(t, `"sarmento"`, b.stored("berth-side-parking", ".ladder.at(-1).approvers[0].person"))
	b.set(lastPart+`[data-field=quorum]`, "all")
	b.set(lastPart+`[data-field=limit]`, "2d")
	b.see("all of them, within 2d")

	// A task follows the one before it and begins with the home team.
	b.press(`[data-side=plan]`)
	designer{b}.line("new-task", "Paint the line")
	b.there(lastPart + `[data-field=team]`)
	b.until("it has a team and follows", `(() => { const d = document.querySelector('[data-piece]:last-child'); return d.querySelector('[data-field=team]').value !== '' && d.querySelector('[data-after]:checked'); })()`)

	b.stored("berth-side-parking", "")

	// A preview is as somebody who may ask, and others are found by name.
	b.open("/design/quay-access-badge/questions")
	b.until("somebody is there", `document.querySelector('[data-field=as]').value !== ''`)
	b.pick(`[data-field=as]`, "Quist")
	b.until("it is tried as her", `document.querySelector('[data-field=as]').value === 'Ragnhild Quist'`)
}

// What is not begun is not called good, and a name that is taken is found.
func TestSidesNotBegun(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.write(`[data-field=new-offering]`, "Berth-side parking")
	b.set(`form [data-field=service]`, "parking")
	b.click("Begin")
	b.there(`[data-field=text]`)
	b.see("Another offering of this service has the same name")
	b.until("nothing is good yet", `document.querySelector('.dial svg').getAttribute('aria-label') === '0 of 7 sides are begun, with nothing to mend'`)
	b.see("not begun")
	b.write(`[data-field=text]`, "A place by the berth.")
	b.until("one is", `document.querySelector('.dial svg').getAttribute('aria-label').startsWith('1 of 7')`)
}

// counting is somebody who builds, with each thing they do counted: a key or a
// click is one, and so is a field that is filled in.
type counting struct {
	*browser
	actions int
}

func (c *counting) press(selector string) {
	c.t.Helper()
	c.actions++
	c.browser.press(selector)
}

func (c *counting) write(selector, text string) {
	c.t.Helper()
	c.actions++
	c.browser.write(selector, text)
}

// lines types each line and adds it with Enter.
func (c *counting) lines(field string, lines ...string) {
	c.t.Helper()
	for _, line := range lines {
		c.actions += 2
		c.browser.write(`[data-field=`+field+`]`, line+"\r")
		c.until("it is added: "+line, `document.querySelector('[data-field=%s]').value === ''`, field)
	}
}

// An offering of 12 questions, 2 items, 2 extras, 3 rungs, 7 tasks and 2
// promises is built and published with less than 120 things done.
func TestBuildingIsQuick(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	c := &counting{browser: b}
	c.write(`[data-field=new-offering]`, "Gangway badge")
	c.press(`form .btn.do`)
	c.write(`[data-field=text]`, "A badge that opens the gangways you work at.")
	c.tags(`[data-field=keywords]`, "gate, pass, door")

	c.press(`[data-side=audience]`)
	c.press(`[data-segment=everyone] input`)

	c.press(`[data-side=items]`)
	c.lines("new-item", "Card, 12.50", "+ Holder, 3.00", "Key fob, 2.00 a month, at most 3", "+ Strap, 1.50")

	c.press(`[data-side=questions]`)
	c.lines("new-question",
		"# Where", "At which port? *: Maravel | Sankt Orm | Ilha Serena", "Zones *: several of Offices | Quayside | Fuel dock",
		"Reason: long text, when Zones has Fuel dock", "Safety course: date, when Zones has Fuel dock",
		"# When", "From which day? *: date from today", "Night shifts?: yes or no", "How many nights?: number 1 to 31, when Night shifts is yes",
		"# What", "Which badge? *: items", "Name on the badge *", "Photo: file", "Who hands it out?: person", "Anything else?")

	c.press(`[data-side=ladder]`)
	c.lines("new-rung", "Line manager, within 2d", "Safety: lead of Crewing, when Zones has Fuel dock", "Owner of the service, when cost is more than 20")

	c.press(`[data-side=plan]`)
	c.lines("new-task",
		"Check the record, Crewing, 1h, sees Zones and Reason, when Zones has Fuel dock", "Take the photo, Keys & Badges, 30m, at once, sees Photo",
		"Write the badge, Keys & Badges, 30m, after Check the record and Take the photo, sees Zones and Name on the badge", "Set the gates, Premises Crew, 1h, sees At which port and Zones",
		"Test the badge, Keys & Badges, 15m", "Hand it out, Keys & Badges, 15m, sees Who hands it out", "File the form, People Desk, 15m, at once, sees all")

	c.press(`[data-side=promise]`)
	c.lines("new-promise", "Usual", "Quick")

	b.until("all is saved", `document.querySelector('[data-saved=true]')`)
	c.press(`[data-do=publish]`)
	b.see("Nothing needs mending.")
	for b.has(`[data-accept]:not(:checked)`) {
		c.press(`[data-accept]:not(:checked)`)
	}
	c.press(`[data-do=publish-now]:not(:disabled)`)
	b.there(`[data-published="1"]`)
	t.Logf("%d actions", c.actions)
	assert.Less(t, c.actions, 120)
	for part, n := range map[string]string{"questions": "12", "items.list": "2", "items.extras": "2", "ladder": "3", "plan": "7", "promise.targets": "2"} {
		assert.Equal(t, n, b.stored("gangway-badge", "."+part+".length"), part)
	}

	// Pasted, lines are shown as they will be; what is not understood stays, marked.
	b.press(`[data-side=plan]`)
	b.there(`[data-field=new-task]`)
	b.script(`(() => { const f = document.querySelector('[data-field=new-task]'); f.focus(); f.value = 'Sweep the gangway, Premises Crew, 1h\nPaint it, Painters'; f.dispatchEvent(new Event('input', {bubbles: true})); })()`)
	b.see("Premises Crew, 1h of work, after File the form, sees no answer")
	b.see(`"Painters" is neither a team`)
	b.until("it is marked", `document.querySelector('[data-read=problem] mark')?.innerText === 'Painters'`)
	b.press(`[data-field=new-task] ~ button`)
	b.until("the other stays", `document.querySelector('[data-field=new-task]').value === 'Paint it, Painters' && document.body.innerText.includes('Sweep the gangway')`)
	b.press(`[data-do=undo]:not(:disabled)`)
	b.until("and one step takes it back", `![...document.querySelectorAll('[data-piece] .title')].some((e) => e.innerText.includes('Sweep'))`)
}

// What a desk shows first comes with its page: nothing is asked for once more.
func TestADeskComesWhole(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	for _, of := range []struct{ who, desk string }{{"Davi Sarmento", "follow"}, {"Ragnhild Quist", "decide"}, {"Ysolde Marrec", "deliver"}} {
		b.signIn(of.who)
		b.open("/" + of.desk)
		b.until("it leads to its first entry", `location.pathname.split('/').length > 2 && !!document.querySelector('#sheet h1')`)
		b.until("what came along was used", `!document.querySelector('script[data-sveltekit-fetched]')`)
		b.until("of what came along nothing is asked for", `performance.getEntriesByType('resource').every((e) => !e.name.includes('/api/') || /\/(live|around)/.test(e.name))`)
	}
}
