package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A request that was delivered is not right: the asker sends it back with words and a
// picture, the home team puts it right, and it can be sent back once more after it is
// confirmed.
func TestSentBackAndPutRight(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	s.publishQuick()
	asker, keys := s.as("sarmento"), s.as("marrec")
	var form struct{ Draft string }
	require.NoError(t, asker.send("PUT", "/api/offerings/quick-badge/draft", map[string]any{"answers": map[string]any{}}, &form))
	id := form.Draft
	require.NoError(t, asker.send("POST", "/api/requests/"+id+"/submit", map[string]any{"answers": map[string]any{}, "slip": ""}, nil))
	does := func(task string) {
		require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/"+task+"/take", map[string]any{}, nil))
		require.NoError(t, keys.send("POST", "/api/tasks/"+id+"/"+task+"/complete", map[string]any{}, nil))
	}
	does("check")
	davi.open("/follow/" + id)
	davi.see("Hand out")
	davi.until("it can be handed out", `document.body.innerText.includes('Now with Keys & Badges')`)
	does("hand")
	davi.open("/follow/" + id)
	davi.see("Your turn: is it right?")
	davi.press(`[data-do=not-right]`)
	davi.there(`[data-field=wrong]`)
	assert.True(t, davi.is(`document.querySelector('[data-do=send-back]').disabled`), "without a word it goes nowhere")
	davi.write(`[data-field=wrong]`, "It opens nothing.")
	davi.file(`[data-field=wrong-files]`, "gate.txt", "The gate stays shut.")
	davi.press(`[data-do=send-back]`)
	davi.see("It is with those who put it right.")
	davi.there(`[data-back]`)
	davi.see("gate.txt")

	ysolde := s.openBrowser()
	ysolde.signIn("Ysolde Marrec")
	ysolde.open("/deliver")
	ysolde.see("Put right")
	ysolde.open("/deliver/" + id + "/right-1")
	ysolde.see("It opens nothing.")
	ysolde.see("gate.txt")
	ysolde.click("Take")
	ysolde.click("Done")
	davi.see("Your turn: is it right?")
	davi.click("Confirm that it is done")
	davi.see("If it is not right, send it back until")
	davi.press(`[data-rate] [data-segment="2"] input`)
	davi.see("Thank you: 2 of 5.")
	davi.write(`[data-field=why-rated]`, "It took two goes.")
	davi.press(`[data-do=say-why]`)
	davi.reload()
	davi.there(`[data-rate="2"]`)
	davi.until("the word is kept", `document.querySelector('[data-field=why-rated]')?.value === 'It took two goes.'`)
	henrike := s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	henrike.open("/follow/" + id)
	henrike.there(`[data-rated="2"]`)
	henrike.open("/messages")
	henrike.see("not content")
	davi.press(`[data-do=not-right]`)
	davi.write(`[data-field=wrong]`, "Now the number is wrong.")
	davi.press(`[data-do=send-back]`)
	davi.see("Now the number is wrong.")
	s.restart()
	davi.reload()
	davi.see("Now the number is wrong.")
	davi.see("Sent back: it is not right")
}
