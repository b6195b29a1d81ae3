package e2e

import (
	"os"
	"path/filepath"
	"testing"
)

// TestScreenshots takes one picture of each main view from the demo data into
// the folder HEPTAD_SHOTS; without it there is nothing to do.
func TestScreenshots(t *testing.T) {
	folder := os.Getenv("HEPTAD_SHOTS")
	if folder == "" {
		t.Skip("HEPTAD_SHOTS names no folder")
	}
	b := startServer(t).openBrowser()
	shot := func(name string) { b.picture(filepath.Join(folder, name+".png")) }

	b.open("/")
	b.see("Who are you today?")
	shot("sign-in")

	b.signIn("Henrike Falkenau")
	designBadge(b)
	b.settled()
	shot("design-plan")
	b.open("/design/gangway-badge/questions")
	b.click("+ Reason")
	b.see("Zones")
	shot("design-questions")
	b.open("/design/quay-access-badge/audience")
	b.see("of 240 people")
	b.settled()
	shot("design-audience")
	b.open("/design/berth-side-parking/items")
	b.click("+ Open place")
	b.settled()
	shot("design-items")
	b.open("/design/quay-access-badge/purpose")
	b.write(`[data-field=keywords]`, " ")
	b.see("1 to consider")
	b.click("Publish …")
	b.see("What changes for people")
	shot("design-publish")
	b.click("Not yet")
	b.open("/design")
	b.see("Your services")
	shot("design")

	b.signIn("Tove Lindskaug")
	b.open("/ask/bridge-tablet")
	b.press(`[data-extra=mount]`)
	b.until("the slip adds up", `document.querySelector('[data-total=firstYear]')?.innerText.includes('447')`)
	shot("form-items")

	b.signIn("Davi Sarmento")
	b.see("Gangway badge")
	b.settled()
	shot("ask")
	fillBadge(b)
	b.press(`[data-question=badge] input[value=card]`)
	b.press(`[data-question=badge] input[value=keyFob]`)
	b.write(`#q-reason-field`, "I help at the bunkering of the Tern Dancer.")
	b.until("saved", `document.body.innerText.includes('Draft saved')`)
	shot("form")
	b.open("/follow")
	b.see("Your turn: is it right?")
	b.settled()
	shot("follow")

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.see("What follows on a yes")
	b.settled()
	shot("decide")

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.click("Check the badge Berth-side parking · Ilinca Petrovan")
	b.see("Nobody has taken this yet")
	b.settled()
	shot("deliver")

	b.signIn("Davi Sarmento")
	b.open("/ask/gangway-badge")
	b.there(`#q-start-field`)
	b.set(`#q-start-field`, "2099-01-05")
	b.click("Send to Ragnhild Quist")
	b.there(`[data-reference]`)
	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.click("Gangway badge")
	b.see("bunkering")
	b.click("Approve")
	b.see("You approved this.")
	b.signIn("Bertil Okonjo")
	b.open("/deliver")
	b.click("Take")
	b.see("You have taken this")
	b.signIn("Davi Sarmento")
	b.open("/follow")
	b.click("Gangway badge")
	b.see("Now with Bertil Okonjo")
	b.settled()
	shot("request")
}
