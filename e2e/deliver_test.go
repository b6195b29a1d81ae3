package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// file puts a file into the field that a selector finds.
func (b *browser) file(selector, name, content string) {
	b.t.Helper()
	b.acts++
	path := filepath.Join(b.t.TempDir(), name)
	require.NoError(b.t, os.WriteFile(path, []byte(content), 0o600))
	b.there(selector)
	b.do(chromedp.SetUploadFiles(selector, []string{path}))
}

// A lead works through a request with an asker who is asked back: the answer
// brings the task to the same holder; notes stay among staff; a prepared reply
// fills itself in; a file goes along.
func TestTalkingOnATask(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	id := s.signOnNoor(b, 1)
	at := "/deliver/" + id + "/check"

	b.open("/deliver/replies")
	b.write(`[data-field=name]`, "Which papers")
	b.write(`[data-field=text]`, "{{ request.asker }}, which papers of {{ request.reference }} are still to come?")
	b.set(`[data-field=reply-offering]`, "sign-on-a-crew-member")
	b.click("Save")
	b.see("for Sign on a crew member")

	b.open(at)
	b.click("Take")
	b.see("You have taken this")
	b.there(`[data-field=reply] option:nth-of-type(2)`)
	b.script(`(() => { const s = document.querySelector('[data-field=reply]'); s.value = [...s.options].find((o) => o.innerText === 'Which papers').value; s.dispatchEvent(new Event('change', {bubbles: true})); })()`)
	b.until("the reply fills itself in", `/^Ragnhild Quist, which papers of QS-\d+-[A-Z] are still to come\?$/.test(document.querySelector('[data-field=say]').value)`)
	b.press(`[data-do=say]`)
	b.see("are still to come?")
	b.set(`[data-field=readers]`, "note")
	b.write(`[data-field=say]`, "His certificate looks copied")
	b.press(`[data-do=say]`)
	b.see("staff only")
	b.see("(read by Crewing)")
	b.set(`[data-field=readers]`, "say")
	b.file(`[data-field=file]`, "list.txt", "What we need")
	b.see("list.txt")
	b.press(`[data-do=ask]`)
	b.write(`[data-field=telling]`, "Is the certificate of this year?")
	b.press(`[data-do=tell]`)
	b.there(`[data-state=asking]`)

	b.signIn("Ragnhild Quist")
	b.open("/follow/" + id)
	b.see("Your turn: Bertil Okonjo asks")
	b.see("list.txt")
	b.see("Paused")
	assert.NotContains(t, b.text(`main`), "looks copied", "what staff say among themselves")
	b.write(`[data-field=answer]`, "Yes, since January")
	b.click("Answer Bertil Okonjo")
	b.there(`[data-status=delivering]`)

	b.signIn("Bertil Okonjo")
	b.open(at)
	b.see("You have taken this")
	b.see("Yes, since January")
	b.see("looks copied")
	s.restart()
	b.reload()

	b.press(`[data-do=ask]`)
	b.write(`[data-field=telling]`, "And the radio certificate?")
	b.press(`[data-do=tell]`)
	b.there(`[data-state=asking]`)
	b.press(`[data-do=hear]`)
	b.there(`[data-do=enter-heard]:disabled`)
	b.write(`[data-field=heard]`, "It comes on Monday")
	b.press(`[data-do=enter-heard]`)
	b.see("You have taken this")
	b.see("It comes on Monday")
	b.see("as Ragnhild Quist said by phone on")
	b.signIn("Ragnhild Quist")
	b.open("/follow/" + id)
	b.see("It comes on Monday")
	b.see("as Ragnhild Quist said by phone on")

	b.signIn("Bertil Okonjo")
	b.open(at)
	b.write(`[data-field=closing]`, "All papers are here")
	b.click("Done")
	b.there(`[data-state=done]`)
	b.signIn("Ragnhild Quist")
	b.open("/follow/" + id)
	b.see("All papers are here")
}

// The lead looks after the team: a view for all of it, several tasks at once,
// who has how much, a task begun earlier, one more, one upward, and the end of
// it all with a reason that the asker reads.
func TestLeadingATeam(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	first, second := s.signOnNoor(b, 1), ""
	b.signIn("Ragnhild Quist")
	second = s.signOnNoor(b, 2)

	b.open("/deliver")
	b.set(`[data-field=who]`, "free")
	b.until("only what nobody has", `location.search.includes('who=free')`)
	b.press(`[data-do=save-view]`)
	b.write(`[data-field=view-name]`, "Nobody's yet")
	b.set(`[role=dialog] select`, "crewing")
	b.press(`[data-do=keep-view]`)
	b.there(`[data-view="Nobody's yet"]`)
	b.until("two wait", `document.querySelectorAll('.task').length === 2`)
	b.script(`document.querySelectorAll('.task input[type=checkbox]').forEach((c) => c.click())`)
	b.see("2 at once")
	b.set(`.several select`, "")
	b.until("the members are listed", `document.querySelectorAll('.several option').length > 2`)
	b.script(`(() => { const s = document.querySelector('.several select'); s.value = [...s.options].find((o) => o.innerText === 'Marit Grabner').value; s.dispatchEvent(new Event('change', {bubbles: true})); })()`)
	b.script(`[...document.querySelectorAll('.several button')].find((x) => x.innerText === 'Hand over').click()`)
	b.see("No task fits this view.")
	b.until("she has two", `[...document.querySelectorAll('.load tr')].some((r) => r.innerText.replace(/\s+/g, ' ').startsWith('Marit Grabner 2 0 0'))`)

	b.open("/deliver/" + first + "/welcome")
	b.click("Begin earlier")
	b.write(`[role=dialog] input`, "She comes by the night boat")
	b.script(`document.querySelector('[role=dialog] .btn.do').click()`)
	b.until("it is told in the history", `document.querySelector('[data-state=blocked]')`)

	b.open("/follow/" + first)
	b.press(`[data-do=add-task]`)
	b.write(`[data-field=task-name]`, "Find an interpreter")
	b.set(`[data-field=task-team]`, "crewing")
	b.write(`[data-field=task-reason]`, "She speaks Faroese")
	b.click("Add it")
	b.there(`[data-task=added-14]`)
	b.see("She speaks Faroese")
	b.open("/deliver/" + first + "/added-14")
	b.click("Stuck")
	b.write(`[data-field=telling]`, "Nobody here speaks it")
	b.press(`[data-do=tell]`)
	b.there(`[data-state=stuck]`)
	b.see("Nobody here speaks it")

	b.open("/follow/" + second)
	b.press(`[data-do=cancel]`)
	b.write(`[role=dialog] input`, "It was sent twice")
	b.script(`document.querySelector('[role=dialog] .btn.do').click()`)
	b.there(`[data-status=closed]`)
	s.restart()
	b.signIn("Ragnhild Quist")
	b.open("/follow/" + second)
	b.see("Cancelled")
	b.see("It was sent twice")
}

// What somebody has is changed, with how it is now beside what is wanted, for
// who asks, decides and does; then it is handed back.
func TestABadgeChangesAndComesBack(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/follow/have")
	b.see("QB-20011 offices")
	b.click("Change it")
	b.see("Now: QB-20011 offices")
	b.press(`[data-question=port] input[value=sankt-orm]`)
	b.until("the zones of the port", `!!document.querySelector('[data-question=zones] input[value=crew-house]')`)
	b.press(`[data-question=zones] input[value=crew-house]`)
	b.set(`#q-from-field`, time.Now().AddDate(0, 0, 7).Format("2006-01-02"))
	assert.False(t, b.has(`[data-question=badge]`), "no new card is needed")
	b.click("Send to Ragnhild Quist")
	id := b.sent()

	b.signIn("Ragnhild Quist")
	b.open("/decide/" + id + "/manager")
	b.see("now: QB-20011 offices")
	b.approve()
	b.signIn("Bertil Okonjo")
	b.open("/deliver/" + id + "/safety")
	b.see("now: QB-20011 offices")
	b.click("Take")
	b.click("Done")
	b.there(`[data-state=done]`)

	b.signIn("Davi Sarmento")
	b.open("/follow/" + id)
	b.see("Your turn: is it right?")
	b.open("/follow/have")
	b.see("QB-20011 Crew House")
	badges := keptBy[struct {
		Badges map[string]struct {
			Opens string
			Ended bool
		}
	}](s, "badges").Badges
	assert.Equal(t, "Crew House, Sankt Orm", badges["own-1001"].Opens)

	b.click("Hand it back")
	b.see("What comes back?")
	b.click("Send")
	back := b.sent()
	b.signIn("Ysolde Marrec")
	b.open("/deliver/" + back + "/take")
	b.there(`[data-state]`)
	if b.has(`[data-state=blocked]`) { // in the night, and at the weekend, the day has not begun
		b.see("Waits for Wait for the day")
		return
	}
	b.click("Take")
	b.see("You have taken this")
	b.press(`[data-point="0"]`)
	b.until("the point is ticked", `document.querySelector('[data-point="0"]').checked`)
	b.click("Done")
	b.there(`[data-state=done]`)
	b.signIn("Davi Sarmento")
	b.open("/follow/have")
	b.see("Nothing yet")
}

// With the requests of a season the desks are full, what is late and stuck is
// seen at a glance, and a person finds why a system would not do it.
func TestASeasonOnTheDesks(t *testing.T) {
	t.Parallel()
	s := serve(t, true)
	b := s.openBrowser()
	var all, late int
	for _, who := range []string{"Bertil Okonjo", "Ysolde Marrec"} {
		b.signIn(who)
		b.open("/deliver")
		b.there(`.task`)
		begins, err := chromedp.Run(b.ctx, chromedp.Evaluate[[]string](`[...document.querySelectorAll('.task')].filter((t) => !t.innerText.includes('stuck')).flatMap((t) => [...t.querySelectorAll('.slack')]).map((e) => e.innerText)`))
		require.NoError(t, err)
		before := 0 // how many ought to have begun before now
		for before < len(begins) && strings.HasPrefix(begins[before], "−") {
			before++
		}
		assert.NotContains(t, strings.Join(begins[before:], " "), "−", "%s: after those that are stuck, what must begin first stands first", who)
		all, late = all+len(begins), late+before
	}
	assert.Greater(t, all, 3)
	assert.Positive(t, late)
	b.accessible("Deliver with a season")
	b.signIn("Ysolde Marrec")
	b.open("/deliver?state=stuck")
	b.openTask("Change what the badge opens")
	b.see("The badge system knows no badge QB-20014.")
	b.see("What is asked for: Badge system")
	b.see("Workshop Hall")
	b.write(`[data-output-field=number]`, "QB-20014")
	b.write(`[data-output-field=before]`, "nothing")
	b.click("Done by hand")
	b.there(`[data-state=done]`)
	b.signIn("Tove Lindskaug")
	b.open("/manage")
	b.there(`[data-pulse]`)
	b.see("All goes on by itself.")
	b.see("Nothing is stuck.")
	b.press(`[data-do=look]`)
	b.see("Last looked for what is due just now")
	b.signIn("Henrike Falkenau")
	b.open("/find")
	b.there(`[data-service=parking]`)
	b.accessible("all that is under way")
	working := b.text(`[data-service=parking] [data-standing=working]`)
	b.press(`[data-service=parking] [data-standing=working]`)
	b.see("the most pressed before all")
	b.there(fmt.Sprintf(`[data-found="%s"]`, strings.Fields(working)[0]))
	var finds int
	for _, words := range []string{"parking", "badge", "letter"} {
		b.open(fmt.Sprintf("/find?words=%s", words))
		b.there(`[data-field=find-request]`)
		b.settled()
		if b.has(`[data-result]`) {
			finds++
		}
	}
	assert.Equal(t, 2, finds, "letters are none of her services")
}
