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
	shot("design-plan")
	b.press(`[data-side=questions]`)
	b.click("+ Reason")
	b.see("Zones")
	shot("design-questions")
	b.open("/design")
	b.see("Your services")
	shot("design")

	b.signIn("Davi Sarmento")
	b.see("Everything you can ask for")
	shot("ask")
	fillBadge(b)
	b.press(`[data-question=badge] input[value=card]`)
	b.press(`[data-question=badge] input[value=keyFob]`)
	b.write(`#q-reason-field`, "I help at the bunkering of the Tern Dancer.")
	b.until("saved", `document.body.innerText.includes('Draft saved')`)
	shot("form")
	b.open("/follow")
	b.see("Your turn: is it right?")
	shot("follow")

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.see("What follows on a yes")
	shot("decide")

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.see("No task")
	shot("deliver-empty")
}
