package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/demo"
)

// A bundle is made, an offering names it, and changing it shows who gains and loses what
// before it counts; then it counts at once, and the owner is told.
func TestABundle(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	manager, owner, asker := s.openBrowser(), s.openBrowser(), s.openBrowser()
	const rule = `[data-rule="/audience/ask"] `

	manager.signIn("Tove Lindskaug")
	manager.open("/design/bundles")
	manager.press(`[data-do=new-bundle]`)
	manager.write(`[data-field=bundle-name]`, "Divers")
	manager.write(`[data-field=bundle-text]`, "Those who go under water")
	manager.set(rule+`.sentence select`, "all")
	manager.set(rule+`.part select[aria-label=Question]`, "asker.department")
	manager.set(rule+`.part select[aria-label=Comparison]`, "oneOf")
	manager.click("Premises")
	manager.there(`.gains[data-ins]`)
	manager.see("would be in it")
	manager.press(`[data-do=save-bundle]:not(:disabled)`)
	manager.there(`[data-bundle-sheet=divers]`)
	manager.write(`[aria-label="Find a person"]`, "Sarmento")
	manager.see("Davi Sarmento does not fit: department is one of Premises.")

	owner.signIn("Henrike Falkenau")
	owner.open("/design/berth-side-parking/audience")
	owner.press(`[data-bundle=own-staff]:checked`)
	owner.see("Nobody has said yet who may ask.")
	owner.press(`[data-bundle=divers]`)
	owner.see("Premises")
	owner.until("those of Premises alone are in", `+document.querySelector('[data-count]').dataset.count < 60`)
	designer{owner}.unguarded("berth-side-parking") // nobody in its cases dives
	designer{owner}.publish("2")

	asker.signIn("Davi Sarmento")
	asker.open("/ask/berth-side-parking")
	asker.see("not yours to see")

	manager.set(rule+`.sentence select`, "always")
	manager.there(`[data-turned=berth-side-parking]`)
	assert.Contains(t, manager.text(`[data-turned=berth-side-parking]`), "may ask for it from now on")
	manager.press(`[data-do=save-bundle]:not(:disabled)`)
	manager.see("240 of 240 people")
	asker.open("/ask/berth-side-parking")
	asker.see("Number plate")

	owner.open("/messages")
	owner.see("the bundle Divers was changed")
	manager.open("/manage/company/people?one=" + demo.ID("sarmento"))
	manager.press(`[data-reached] summary`)
	manager.there(`[data-reach=berth-side-parking][data-asks=true]`)
	manager.see("Davi Sarmento is in Divers")
	manager.open("/design/bundles?key=divers")
	manager.see("Berth-side parking")
	assert.False(t, manager.has(`[data-do=drop-bundle]`), "it is in use")
	manager.open("/design/bundles?key=contractors-ilha-serena")
	manager.press(`[data-do=drop-bundle]`)
	manager.until("it is gone", `!document.body.innerText.includes('Contractors of Ilha Serena')`)

	owner.open("/design/bundles?key=divers")
	owner.see("In it is who fits")
	assert.False(t, owner.has(`[data-do=save-bundle]`), "owners look at them")
}

// Areas are renamed with all that is in them, which is shown first; a service that is
// ended is asked about, and what is in it is found no more.
func TestAreas(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	manager, owner, asker := s.openBrowser(), s.openBrowser(), s.openBrowser()

	manager.signIn("Tove Lindskaug")
	manager.open("/manage/company/areas?one=Facilities")
	manager.there(`[data-hanging]`)
	manager.see("5 services")
	manager.write(`[data-field=owner]`, "falkenau")
	manager.press(`[data-do=save]`)
	manager.until("it is kept", `!document.querySelector('[role=dialog]')`)

	owner.signIn("Henrike Falkenau")
	owner.open("/design")
	owner.press(`[data-do=change-area]`)
	owner.write(`[data-field=service-name]`, "Houses and quays")
	owner.press(`[data-do=save-service]`)
	owner.see("Houses and quays")
	asker.signIn("Davi Sarmento")
	asker.open("/ask")
	asker.see("Houses and quays")
	asker.see("Berth-side parking")

	owner.set(`[aria-label="Place of Parking at the berths in the portfolio"]`, "ended")
	owner.there(`[role=dialog] [data-hanging]`)
	owner.see("Berth-side parking")
	owner.press(`[data-do=leave-place]`)
	asker.until("it is found no more", `!document.querySelector('a[href$="/ask/berth-side-parking"]')`)

	owner.press(`[data-do=new-service]`)
	owner.write(`[data-field=service-name]`, "Diving")
	owner.write(`[data-field=area]`, "Under water")
	owner.set(`[data-field=home]`, "premises-crew")
	owner.press(`[data-do=save-service]`)
	owner.see("Under water")
	manager.open("/manage/company/areas?one=Under%20water")
	manager.until("whoever made its first service owns it", `document.querySelector('[data-field=owner]')?.value === 'falkenau'`)
}
