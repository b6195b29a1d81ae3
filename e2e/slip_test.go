package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// Three wishes go on one slip: two are sent, the third stays with its reason until it is
// mended; who decides on several decides them in one act, and a title holds them together.
func TestThreeWishesOnOneSlip(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	api := s.as("sarmento")
	parking := map[string]any{"port": "maravel", "plate": "MV-01-QS", "place": []any{map[string]any{"item": "covered", "quantity": 1}}, "from": "2099-01-05", "why": "I work at night."}
	require.NoError(t, api.send("PUT", "/api/offerings/berth-side-parking/draft", map[string]any{"answers": parking}, nil))
	davi.open("/ask/berth-side-parking")
	davi.press(`[data-do=to-slip]`)
	davi.there(`[data-wish="berth-side-parking"]`)
	parking["plate"] = "MV-02-QS"
	require.NoError(t, api.send("PUT", "/api/offerings/berth-side-parking/draft", map[string]any{"answers": parking}, nil))
	davi.open("/ask/berth-side-parking")
	davi.press(`[data-do=to-slip]`)
	davi.until("both are there", `document.querySelectorAll('[data-wish="berth-side-parking"]').length === 2`)
	davi.open("/ask")
	davi.there(`[data-on-slip="2"]`)
	davi.open("/ask/proof-of-employment-letter")
	davi.press(`[data-question=pay] input`)
	davi.press(`[data-do=to-slip]`)
	davi.there(`[data-wish="proof-of-employment-letter"] [data-trouble]`)
	davi.write(`[data-field=slip-title]`, "Night shifts")
	davi.press(`[data-do=send-slip]`)
	davi.there(`[data-sent="2"]`)
	davi.see("One stays on the slip")
	davi.until("what was sent is gone from it", `document.querySelectorAll('[data-wish]').length === 1`)
	davi.open("/follow")
	davi.see("of “Night shifts”")

	ragnhild := s.openBrowser()
	ragnhild.signIn("Ragnhild Quist")
	ragnhild.open("/decide")
	ragnhild.until("they wait", `document.querySelectorAll('a[href^="/decide/"]').length > 3`)
	ragnhild.script(`[...document.querySelectorAll('a[href^="/decide/"]')].filter((a) => a.innerText.includes('Davi Sarmento')).at(-1).click()`)
	ragnhild.see("Sent together with others: “Night shifts”")
	ragnhild.press(`[data-together] a`)
	ragnhild.see("Approve 2")
	ragnhild.click("Approve 2")
	ragnhild.see("2 decisions are taken.")
	davi.script(`[...document.querySelectorAll('a[href^="/follow/"]')].find((a) => a.innerText.includes('Night shifts')).click()`)
	davi.there(`[data-sent-together]`)

	// Sent again there is nothing to send; a restart keeps what stays.
	s.restart()
	davi.open("/slip")
	davi.there(`[data-wish="proof-of-employment-letter"] [data-trouble]`)
	davi.click("Change it")
	davi.see("Put on my slip")
}
