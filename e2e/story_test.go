package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// designBadge makes a gangway badge on the desk and publishes it.
func designBadge(b *browser) {
	b.t.Helper()
	b.signIn("Henrike Falkenau")
	b.open("/design")
	b.write(`[data-field=new-offering]`, "Gangway badge")
	b.click("Begin")

	b.there(`[data-field=text]`)
	b.write(`[data-field=text]`, "A badge that opens the quays and offices of a port.")
	b.set(`[data-field=service]`, "access")
	b.tags(`[data-field=keywords]`, "gate, door, pass")

	b.press(`[data-side=audience]`)
	b.press(`[data-segment=everyone] input`)

	b.press(`[data-side=items]`)
	for _, item := range []struct{ name, amount, per string }{{"Card", "12.50", "once"}, {"Key fob", "2.00", "month"}} {
		designer{b}.line("new-item", item.name)
		b.write(`[data-piece]:last-child [data-field=amount]`, item.amount)
		b.set(`[data-piece]:last-child [data-field=per]`, item.per)
	}

	b.press(`[data-side=questions]`)
	question := func(label, kind string, choices ...string) {
		designer{b}.line("new-question", label)
		b.set(`[data-piece]:last-child [data-field=kind]`, kind)
		for _, choice := range choices {
			b.there(`[data-piece]:last-child [data-field=choice]`)
			b.write(`[data-piece]:last-child [data-field=choice]`, choice+"\r")
		}
	}
	rule := func(side, mode string) { b.set(`[data-piece]:last-child [data-rule$="/`+side+`"] select`, mode) }
	question("Port", "choice", "Maravel", "Sankt Orm", "Ilha Serena")
	rule("require", "always")
	question("Zones", "choices", "Offices", "Fuel dock", "Control room")
	rule("require", "always")
	question("Reason", "longText")
	for _, side := range []string{"show", "require"} {
		at := `[data-piece]:last-child [data-rule$="/` + side + `"] `
		b.set(at+`.sentence select`, "all")
		b.set(at+`.part select[aria-label=Question]`, "zones")
		b.press(at + `.values label:nth-child(2) input`)
		b.press(at + `.values label:nth-child(3) input`)
	}
	question("Start", "date")
	rule("require", "always")
	b.press(`[data-piece]:last-child [data-do=add-check]`)
	b.set(`[data-piece]:last-child [data-rule$="/check/0/rule"] .sentence select`, "all")
	b.set(`[data-piece]:last-child [data-rule$="/check/0/rule"] select[aria-label=Question]`, "start")
	b.write(`[data-piece]:last-child [data-field=message]`, "Start: this day is over.")
	question("Badge", "items")
	rule("require", "always")

	b.press(`[data-side=ladder]`)
	designer{b}.line("new-rung", "Line manager")

	b.press(`[data-side=plan]`)
	task := designer{b}.task
	task("Check safety record", "crewing")
	b.press(`[data-piece]:last-child [data-slice=zones]`)
	b.press(`[data-piece]:last-child [data-slice=reason]`)
	task("Take photo", "keys-badges")
	b.press(`[data-piece]:last-child [data-slice=port]`)
	task("Write badge", "keys-badges")
	b.set(`[data-piece]:last-child [data-field=kind]`, "automatic")
	b.set(`[data-piece]:last-child [data-field=action]`, "badges write")
	b.press(`[data-piece]:last-child [data-after=checkSafetyRecord]`)
	b.press(`[data-piece]:last-child [data-after=takePhoto]`)
	b.write(`[data-piece]:last-child [data-field=action-holder]`, "{{ beneficiary.name }}")
	b.write(`[data-piece]:last-child [data-field=action-opens]`, "{{ answers.port }}: {{ answers.zones }}")
	b.press(`[data-side=promise]`)
	b.write(`[data-field=new-promise]`, "Usual")
	b.click("Add promise")
	b.until("everything is saved", `document.querySelector('[data-saved=true]')`)
	b.see("Nothing is missing.")
	b.click("Publish …")
	b.see("Nothing needs mending.")
	b.press(`[data-do=publish-now]`)
	b.there(`[data-published="1"]`)
}

// fillBadge fills the form of the badge as an employee does.
func fillBadge(b *browser) {
	b.t.Helper()
	b.open("/ask")
	b.write("#wish", "gangw")
	b.see("Gangway badge")
	b.click("Gangway badge")
	b.click("Sankt Orm")
	b.click("Offices")
	b.until("no reason is asked", `!document.querySelector('[data-question=reason]')`)
	b.click("Fuel dock")
	b.there(`[data-question=reason]`)
}

func TestTheWholeStory(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	designBadge(b)
	b.open("/ask")
	b.see("Gangway badge")

	b.signIn("Davi Sarmento")
	fillBadge(b)
	b.set(`#q-start-field`, "2020-01-01")
	b.see("Start: this day is over.")
	b.until("the problem stands beside Send, too", `document.querySelector('[data-missing]').innerText.includes('this day is over')`)
	b.press(`[data-question=badge] input[value=card]`)
	b.until("the slip adds up", `document.querySelector('[data-total=firstYear]')?.innerText.includes('12.50')`)
	b.press(`[data-question=badge] input[value=keyFob]`)
	b.until("the slip adds up both", `document.querySelector('[data-total=firstYear]')?.innerText.includes('36.50')`)
	b.see("Ragnhild Quist")
	b.write(`#q-reason-field`, "I help at the bunkering.")
	b.until("it is saved", `document.body.innerText.includes('Draft saved')`)

	b.reload()
	b.until("the reason is still there", `document.querySelector('#q-reason-field')?.value === 'I help at the bunkering.'`)
	b.signIn("Davi Sarmento")
	b.open("/ask/gangway-badge")
	b.until("the reason is there after a new sign-in", `document.querySelector('#q-reason-field')?.value === 'I help at the bunkering.'`)

	b.click("Send to Ragnhild Quist")
	b.until("the wrong date is jumped to", `document.activeElement.id === 'q-start-field'`)
	b.set(`#q-start-field`, "2099-01-05")
	b.until("nothing is missing", `!document.querySelector('[data-missing]')`)
	b.click("Send to Ragnhild Quist")
	b.there(`[data-reference]`)
	reference := b.text(`[data-reference]`)
	assert.Regexp(t, `^QS-\d{5}-[A-Y]$`, reference)
	b.see("Now with Ragnhild Quist")

	b.signIn("Ragnhild Quist")
	before := b.text(`[data-desk=decide] .count`)
	assert.Contains(t, before, "4")
	b.open("/decide")
	b.click("Gangway badge")
	b.see("I help at the bunkering.")
	b.approve()
	b.until("it is counted no more", `document.querySelector('[data-desk=decide] .count').innerText.includes('3')`)

	b.signIn("Bertil Okonjo")
	b.open("/deliver")
	b.see("Check safety record")
	b.see("Fuel dock")
	b.gone("12.50")
	assert.NotContains(t, b.text("main"), "Sankt Orm", "the port is not in the slice of this task")
	b.click("Take")
	b.click("Done")
	b.see("This is done")

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.click("Take photo")
	b.until("the task is open", `document.querySelector('main h1').innerText === 'Take photo'`)
	assert.NotContains(t, b.text("main"), "bunkering", "the reason is not in the slice of this task")
	b.click("Take")
	b.see("You have taken this")
	b.click("Done")
	b.see("This is done")

	b.signIn("Davi Sarmento")
	openMine := func() {
		b.open("/follow")
		b.click("Gangway badge")
		b.until("the badge is open", `document.querySelector('main .mono')?.innerText === %q`, reference)
		b.see("Your turn: is it right?")
	}
	openMine()
	assert.Regexp(t, `^QB-\d+$`, b.text(`[data-output=number]`))
	b.see("try 1 failed; it is tried again by itself")
	number := b.text(`[data-output=number]`)
	history := b.text(".history")

	s.restart()
	openMine()
	assert.Equal(t, number, b.text(`[data-output=number]`), "the badge was not written again")
	assert.Equal(t, history, b.text(".history"), "nothing is lost and nothing is doubled")

	b.write("#remark", "It opens the gate.")
	b.click("Confirm that it is done")
	b.see("Fulfilled")
	b.see("It opens the gate.")
	b.until("all seven stages", `document.querySelector('.margin svg').getAttribute('aria-label').startsWith('7 of 7')`)
}

func TestDeclined(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/berth-side-parking")
	b.click("Sankt Orm")
	b.write("#q-plate-field", "SO-77-DS")
	b.press(`[data-question=place] input[value=covered]`)
	b.write("#q-why-field", "I work at night.")
	b.set("#q-from-field", "2099-01-05")
	b.click("Send to Ragnhild Quist")
	b.there(`[data-reference]`)
	asker := b.path()

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.click("Berth-side parking Davi Sarmento")
	b.see("I work at night.")
	b.click("Decline")
	b.see("Say why you decline")
	b.until("the reason has the focus", `document.activeElement.id === 'reason'`)
	b.write("#reason", "The hall is full until spring.")
	b.click("Decline")
	b.see("You declined this. The request is closed as declined.")

	b.signIn("Davi Sarmento")
	b.open(asker)
	b.until("it is closed", `document.querySelector('[data-status=closed]')`)
	assert.Equal(t, "The hall is full until spring.", b.text("[data-reason]"))
	b.see("Ragnhild Quist declined")
	b.until("there are no tasks", `!document.querySelector('.tasks')`)
}
