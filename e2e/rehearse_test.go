package e2e

import (
	"encoding/xml"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An owner lives through a draft, drags back and declines, keeps what they saw as a case,
// lets cases be proposed, and is stopped by one that fails when they publish.
func TestRehearseKeepAndPublish(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/rehearse")
	b.there(`[data-unsent]`) // the form is empty
	b.press(`[data-do=fill]`)
	b.pick(`[data-field=as]`, "Inês Castelo")
	b.until("they are taken", `document.querySelector('[data-field=as]').value === 'Inês Castelo'`)
	b.click("Maravel")
	b.click("Offices")
	b.set(`#p-from-field`, "2099-01-05")
	b.until("the form is complete", `document.body.innerText.includes('The form is complete.')`)
	b.press(`[data-do=rehearse]`)
	b.there(`[data-end=closed]`)
	b.see("The promise is kept")

	// back to the decision, and another end
	b.press(`[data-part-of=now]`)
	b.until("it is at its end", `document.querySelector('[data-standing]')?.dataset.standing === 'closed'`)
	b.script(`document.querySelector('[role=slider]').focus()`)
	b.keys(kb.Home)
	b.there(`[data-decision=manager]`)
	b.write(`[data-field=said]`, "Not this month.")
	b.press(`[data-act=decline]`)
	b.see("declined.")
	b.until("it ends otherwise", `document.querySelector('[data-end]').innerText.includes('declined')`)
	b.press(`[data-do=end]`)
	b.press(`[data-part-of=messages]`)
	b.script(`[...document.querySelectorAll('summary')].filter(s => s.innerText.includes('Castelo')).forEach(s => s.click())`)
	b.see("Not this month.")
	b.reload()
	b.until("it is remembered", `document.querySelector('[data-end]')?.innerText.includes('declined')`)
	b.press(`[data-do=undo-act]`) // as if nobody had declined
	b.until("it ends well again", `document.querySelector('[data-end]').innerText.includes('fulfilled')`)

	// keep it
	b.press(`[data-part-of=keep]`)
	b.write(`[data-field=case]`, "Offices only")
	b.press(`[data-do=keep]`)
	b.there(`[data-kept]`)
	b.press(`[data-beside=cases]`)
	b.until("all of them hold", `document.querySelectorAll('[data-passed=true]').length === 5`)
	b.accessible("cases")
	b.press(`[data-do=propose]`)
	b.there(`[data-reached]`)
	b.press(`[data-do=take-proposed]:not(:disabled)`)
	b.until("more are kept", `document.querySelectorAll('[data-passed=true]').length > 5`)

	// a change that breaks one stops publishing, in words, until it is mended
	after := func(keys string) {
		b.call("GET", "/api/design/quay-access-badge", "")
		b.script(`fetch('/api/design/quay-access-badge').then((r) => r.json()).then((o) => {
			o.document.plan.find((t) => t.key === 'write').after = %s;
			return fetch('/api/design/quay-access-badge', {method: 'PUT', headers: {'Content-Type': 'application/json'}, body: JSON.stringify({document: o.document, revision: o.revision})});
		}).then((r) => (document.body.dataset.put = %s + r.status))`, keys, "`"+keys+" `")
		b.until("it is saved", `document.body.dataset.put === %q`, keys+" 200")
		b.open("/design/quay-access-badge/plan")
		b.saidPublish()
	}
	after(`[]`)
	b.until("cases fail", `Number(document.querySelector('[data-cases]')?.dataset.cases) > 0`)
	require.True(t, b.is(`document.querySelector('[data-do=publish-now]').disabled`))
	b.click("Look at them")
	b.see("now begins before")
	after(`['photo', 'safety']`)
	b.until("they hold", `document.querySelector('[data-cases]')?.dataset.cases === '0'`)
	b.press(`[data-do=publish-now]:not(:disabled)`)
	b.there(`[data-published="3"]`)

	b.open("/design/quay-access-badge/items")
	b.there(`[data-part]`)
	b.press(`[data-beside=rehearse]`)
	b.there(`[data-end]`)
	b.accessible("rehearse")
}

// saidPublish opens the dialog to publish, with what is to be considered accepted.
func (b *browser) saidPublish() {
	b.t.Helper()
	b.click("Publish …")
	b.there(`[data-cases]`)
	b.script(`document.querySelectorAll('[data-accept]:not(:checked)').forEach((a) => a.click())`)
}

// The last year is put through a draft, and a season is looked at with it before it comes;
// both are there again after they were left.
func rehearseTheYears(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/quay-access-badge/replay")
	b.set(`[data-field=fill-question]`, "port")
	b.set(`[data-field=fill-value]`, "maravel")
	b.press(`[data-do=fill]`)
	b.there(`[data-filled=port]`)
	b.press(`[data-do=replay]`)
	b.there(`[data-replayed]`)
	b.until("as many as there were", `Number(document.querySelector('[data-replayed]').dataset.replayed) > 300`)
	b.press(`[data-only=approvers]`)
	b.script(`document.querySelector('[data-record]').open = true`)
	b.see("no longer decides") // version 2 took a rung away
	b.accessible("replay")

	b.press(`[data-beside=foresee]`)
	b.there(`[data-do=foresee]`)
	summer := time.Now().AddDate(1, 0, 0).Year()
	if time.Now().Month() < time.May {
		summer--
	}
	b.set(`[data-field=from]`, fmt.Sprintf("1 Jun %d", summer))
	b.set(`[data-field=until]`, fmt.Sprintf("31 Aug %d", summer))
	b.set(`[data-field=more]`, "80")
	b.set(`[data-field=others]`, "20")
	b.press(`[data-do=foresee]`)
	b.there(`[data-team=keys-badges]`)
	late := b.told(`document.querySelector('[data-team=keys-badges]').dataset.behind.split(' ').length`)
	b.see("Keys & Badges would be late in weeks")
	b.there(`[data-checked=keys-badges]`)
	b.set(`[data-field=if-which]`, "keys-badges")
	b.press(`[data-do=add-if]:not(:disabled)`)
	b.there(`[data-if]`)
	b.press(`[data-do=foresee]`)
	b.there(`[data-study=running]`)
	b.open("/design") // it goes on without them
	b.open("/design/quay-access-badge/foresee")
	b.until("it is found again", `document.querySelectorAll('[data-study=done]').length === 2 && document.querySelector('[data-team=keys-badges]')`)
	b.see("Without the change: Keys & Badges would be late in weeks")
	b.until("fewer weeks are late", `document.querySelector('[data-team=keys-badges]').dataset.behind.split(' ').filter(Boolean).length < %s`, late)
	b.accessible("foresee")
	b.set(`[data-field=from]`, fmt.Sprintf("1 Dec %d", summer))
	b.press(`[data-do=foresee]`)
	b.see("The last day is before the first.")
}

// A pipeline runs the cases of a folder, and reads how they went; one that fails is told in
// words.
func TestCasesOnTheCommandLine(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	data, err := os.ReadFile("../internal/demo/offerings/sign-on-a-crew-member.yaml")
	require.NoError(t, err)
	file := filepath.Join(dir, "sign-on.yaml")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	report := filepath.Join(dir, "report.xml")
	out, code := command(t, "offering", "test", dir, "--junit", report)
	assert.Equal(t, 0, code, out)
	var read struct {
		Tests    int `xml:"tests,attr"`
		Failures int `xml:"failures,attr"`
		Suites   []struct {
			Name string `xml:"name,attr"`
		} `xml:"testsuite"`
	}
	written, err := os.ReadFile(report)
	require.NoError(t, err)
	require.NoError(t, xml.Unmarshal(written, &read))
	assert.Equal(t, 4, read.Tests)
	assert.Zero(t, read.Failures)
	assert.Equal(t, "sign-on-a-crew-member", read.Suites[0].Name)

	changed := strings.Replace(string(data), "key: cabin, name: Make the cabin ready, kind: manual, team: premises-crew, after: [check],", "key: cabin, name: Make the cabin ready, kind: manual, team: premises-crew,", 1)
	require.NotEqual(t, string(data), changed)
	require.NoError(t, os.WriteFile(file, []byte(changed), 0o600))
	out, code = command(t, "offering", "test", file)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "Make the cabin ready now begins before Check the certificates has ended.")

	people := "../internal/demo/company/people.csv"
	script := filepath.Join(dir, "script.yaml")
	require.NoError(t, os.WriteFile(script, []byte("format: heptad/rehearsal/1\nasker: okonjo\nfor: {name: Ada Lund, department: Fleet}\nsend: 2027-05-18T09:10:00+01:00\nscript:\n  - {after: PT1H, who: nobody, do: approve}\n"), 0o600))
	out, code = command(t, "offering", "rehearse", file, "--people", people, "--script", script)
	assert.Equal(t, 2, code)
	assert.Contains(t, out, `line 6: Nobody has the login "nobody".`)
	require.NoError(t, os.WriteFile(script, []byte("format: heptad/rehearsal/1\nasker: okonjo\nfor: {name: Ada Lund, department: Fleet}\nsend: 2027-05-18T09:10:00+01:00\n"), 0o600))
	out, code = command(t, "offering", "rehearse", file, "--people", people, "--script", script)
	assert.Equal(t, 0, code)
	assert.Contains(t, out, `"end": "unsent"`)
}
