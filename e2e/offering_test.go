package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// designer builds parts of an offering on the desk, as an owner does.
type designer struct{ *browser }

const lastPart = `[data-piece]:last-child `

// line writes a part as a line and adds it, opened.
func (d designer) line(field, text string) {
	d.t.Helper()
	d.write(`[data-field=`+field+`]`, text)
	d.press(`[data-field=` + field + `] ~ button:not(:disabled)`)
	d.until("it is added", `document.querySelector('[data-field=%s]').value === ''`, field)
}

func (d designer) item(name, amount, per string) {
	d.line("new-item", name)
	d.write(lastPart+`[data-field=amount]`, amount)
	d.set(lastPart+`[data-field=per]`, per)
}

func (d designer) section(name string, page bool) {
	d.write(`[data-field=new-section]`, name)
	d.click("Add section")
	if page {
		d.press(`[data-section]:last-child .tick input`)
	}
}

func (d designer) question(label, kind, section string, choices ...string) {
	d.line("new-question", label)
	d.set(lastPart+`[data-field=kind]`, kind)
	d.script(`document.querySelector(%q).open = true`, lastPart+`details.more`)
	d.set(lastPart+`[data-field=section]`, section)
	for _, choice := range choices {
		d.there(lastPart + `[data-field=choice]`)
		d.write(lastPart+`[data-field=choice]`, choice+"\r")
	}
}

// rule chooses how a rule of the last part begins: always, all, any, cel.
func (d designer) rule(field, mode string) {
	d.set(lastPart+`[data-rule$="/`+field+`"] .sentence select`, mode)
}

func (d designer) cel(at, field, source string) {
	d.set(at+`[data-rule$="/`+field+`"] .sentence select`, "cel")
	d.write(at+`[data-rule$="/`+field+`"] textarea`, source)
}

func (d designer) task(name, team string, slice ...string) {
	d.line("new-task", name)
	d.set(lastPart+`[data-field=team]`, team)
	d.script(`document.querySelectorAll(%q).forEach((after) => after.click())`, lastPart+`[data-after]:checked`) // it follows nothing
	for _, key := range slice {
		d.press(lastPart + `[data-slice=` + key + `]`)
	}
}

func (d designer) saved() {
	d.until("everything is saved", `document.querySelector('[data-saved=true]')`)
}

// unguarded takes the cases of an offering away, so that what they guard can be changed.
func (d designer) unguarded(offering string) {
	d.saved()
	d.open("/design/" + offering + "/cases")
	d.there(`[data-do=remove-case]`)
	for d.has(`[data-do=remove-case]`) {
		d.press(`[data-do=remove-case]`)
		d.saved()
	}
	d.there(`[data-no-cases]`)
}

func (d designer) publish(version string) {
	d.saved()
	d.click("Publish …")
	d.see("Nothing needs mending.")
	d.script(`document.querySelectorAll('[data-accept]:not(:checked)').forEach((a) => a.click())`)
	d.press(`[data-do=publish-now]:not(:disabled)`)
	d.there(`[data-published="` + version + `"]`)
}

// designCrew builds the signing on of a crew member from nothing.
func designCrew(d designer) {
	d.open("/design")
	d.write(`[data-field=new-offering]`, "Crew sign-on")
	d.set(`form [data-field=service]`, "access")
	d.click("Begin")
	d.there(`[data-field=text]`)
	d.write(`[data-field=text]`, "Everything a new crew member needs before the first watch.")
	d.write(`[data-field=not]`, "Not for a change of vessel.")
	d.tags(`[data-field=keywords]`, "joiner, onboarding")
	d.write(`[data-field=title]`, "Sign on {{ beneficiary.name }}, {{ answers.whichVessel }}")

	d.press(`[data-side=audience]`)
	d.see("Nobody has said yet who may ask.")
	d.press(`[data-segment=rule] input`)
	d.there(`[data-rule="/audience/ask"]`)
	d.set(`[data-rule="/audience/ask"] .part select[aria-label=Question]`, "asker.grade")
	d.set(`[data-rule="/audience/ask"] .part select[aria-label=Comparison]`, "oneOf")
	for _, grade := range []string{"5", "6", "7", "8"} {
		d.click(grade)
	}
	d.press(`[data-field=newcomers]`)
	d.until("some are in and some are out", `+document.querySelector('[data-count]').dataset.count > 10 && +document.querySelector('[data-count]').dataset.count < 200`)
	d.write(`[aria-label="Find a person"]`, "Sarmento")
	d.see("does not fit: grade is one of 5, 6, 7, 8")

	d.press(`[data-side=items]`)
	d.item("Shared cabin", "0", "once")
	d.item("Single cabin", "85.00", "month")
	d.item("Deck uniform", "145.00", "once")
	d.press(lastPart + `[data-do=add-options]`)
	for _, size := range []string{"S", "M", "L"} {
		d.write(lastPart+`[aria-label="Another choice of Size"]`, size+"\r")
	}

	d.press(`[data-side=questions]`)
	d.there(`[data-field=new-question]`)
	d.script(`document.querySelector('.sections').open = true`)
	d.section("Contract and duty", false)
	d.section("Papers", true)
	d.question("Which contract?", "choice", "contractAndDuty", "Permanent", "One season", "Relief")
	d.rule("require", "always")
	d.question("Which vessel?", "choice", "contractAndDuty", "MV Tern Dancer", "MV Grey Heron", "MV Saltmarsh")
	d.rule("require", "always")
	d.set(lastPart+`[data-field=width]`, "half")
	d.question("Sign-on date", "date", "contractAndDuty")
	d.rule("require", "always")
	d.press(lastPart + `[data-do=add-check]`)
	d.cel(lastPart, "check/0/rule", "workdays(today, answers.signonDate) >= 3")
	d.write(lastPart+`[data-field=message]`, "Three working days are needed.")
	d.question("Until which day?", "date", "contractAndDuty")
	for _, field := range []string{"show", "require"} {
		at := lastPart + `[data-rule$="/` + field + `"] `
		d.set(at+`.sentence select`, "all")
		d.set(at+`.part select[aria-label=Question]`, "whichContract")
		d.set(at+`.part select[aria-label=Comparison]`, "oneOf")
		d.press(at + `.values label:nth-child(2) input`)
		d.press(at + `.values label:nth-child(3) input`)
	}
	d.question("Cabin and uniform", "items", "contractAndDuty")
	d.rule("require", "always")
	d.question("Certificates", "table", "papers")
	d.rule("require", "always")
	for i, label := range []string{"Number", "Valid until"} {
		d.press(lastPart + `[data-do=add-column]`)
		column := lastPart + `[data-column]:nth-of-type(` + []string{"1", "2"}[i] + `) `
		d.write(column+`[data-field=label]`, label)
		d.set(column+`[data-field=kind]`, []string{"text", "date"}[i])
		d.set(column+`[data-rule$="/require"] .sentence select`, "always")
	}
	d.question("Anything else?", "longText", "papers")

	d.press(`[data-side=ladder]`)
	d.line("new-rung", "Lead of Crewing")

	d.press(`[data-side=plan]`)
	d.there(`[data-field=new-task]`)
	d.task("Write the contract", "people-desk", "whichContract", "signonDate")
	d.task("Enter the pay", "payroll", "whichContract")
	d.press(lastPart + `[data-after=writeTheContract]`)
	d.task("Check the certificates", "crewing", "certificates")
	d.task("Make the cabin ready", "premises-crew", "whichVessel", "cabinAndUniform")
	d.task("Order the uniform", "purchasing", "cabinAndUniform")
	d.task("Make the account", "identity-access", "whichVessel")
	d.task("Prepare the bridge", "bridge-systems", "whichVessel")
	d.task("Hand out a radio", "service-bench", "whichVessel")
	d.task("Welcome on board", "crewing", "whichVessel", "signonDate")
	d.press(lastPart + `[data-after=makeTheCabinReady]`)
	d.press(lastPart + `[data-after=makeTheAccount]`)
	d.publish("1")
}

// An owner builds the signing on of a crew member from nothing, a manager asks
// for somebody new, and a second version comes while that request runs.
func TestAnOfferingFromNothing(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	d := designer{s.openBrowser()}
	d.signIn("Henrike Falkenau")
	designCrew(d)

	b := s.openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/ask?words=onbaording") // mistyped
	b.click("Crew sign-on")
	b.see("Not for a change of vessel.")
	b.click("For somebody new")
	b.write(`[data-newcomer=name]`, "Ondina Farsund")
	b.click("One season")
	b.there(`[data-question=untilWhichDay]`)
	b.click("MV Grey Heron")
	b.set(`#q-signonDate-field`, "2099-05-04")
	b.set(`#q-untilWhichDay-field`, "2099-09-30")
	b.press(`[data-item=deckUniform] > label input`)
	b.set(`[data-option=size]`, "m")
	b.press(`[data-item=singleCabin] > label input`)
	b.until("the slip adds up", `document.querySelector('[data-total=firstYear]')?.innerText.includes('1,165.00')`)
	b.click("Next: Papers")
	b.click("Send to Bertil Okonjo")
	b.see("Certificates: an answer is needed.")
	b.press(`[data-do=add-row]`)
	b.write(`#q-certificates-0-column1-field`, "BST-4410")
	b.until("the row tells what it lacks", `document.querySelector('[data-missing]')?.innerText.includes('Row 1: Valid until: an answer is needed.')`)
	b.set(`#q-certificates-0-column2-field`, "2099-12-31")
	b.until("nothing is missing", `!document.querySelector('[data-missing]')`)
	b.click("Send to Bertil Okonjo")
	b.there(`[data-reference]`)
	b.see("Sign on Ondina Farsund, MV Grey Heron")
	request := strings.TrimSuffix(b.path(), "?sent")

	d.open("/design/crew-sign-on/ladder")
	d.see("Another decision")
	d.line("new-rung", "Owner of the service")
	d.press(`[data-side=questions]`)
	d.click("+ Which vessel?")
	d.write(`[data-piece="/questions/1"] [data-field=label]`, "To which vessel?")
	d.press(`[data-side=plan]`)
	d.press(`[data-piece="/plan/7"] .head .btn:last-child`)
	d.see("“Hand out a radio” is removed.")
	d.saved()
	d.click("Versions, and its end")
	d.see("Rung 2 “Owner of the service” is new.")
	d.see("Question “To which vessel?”: the label changes from “Which vessel?” to “To which vessel?”.")
	d.see("Task “Hand out a radio” is gone.")
	d.click("Close")
	d.publish("2")

	b.signIn("Bertil Okonjo")
	b.open("/decide")
	b.click("Sign on Ondina Farsund")
	b.see("BST-4410")
	b.approve()
	b.signIn("Ragnhild Quist")
	b.open(request)
	b.see("Hand out a radio")
	assert.NotContains(t, b.text("main"), "Owner of the service", "it runs on as it was sent")
	assert.Contains(t, b.text("main"), "Which vessel?")
	b.press(`[data-do=again]`)
	b.see("“Which vessel?” is now asked as “To which vessel?”.")
	b.until("the answers of then are there", `document.querySelector('#q-signonDate-field')?.value === '4 May 2099'`)
	b.see("Henrike Falkenau") // the new rung stands on the slip
}
