package e2e

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// told gives what a script in the page comes to, as text.
func (b *browser) told(script string) string {
	b.t.Helper()
	out, err := chromedp.Run(b.ctx, chromedp.Evaluate[string]("String("+script+")"))
	require.NoError(b.t, err)
	return out
}

// follow follows a link, also one of a drawing.
func (b *browser) follow(selector string) {
	b.t.Helper()
	b.acts++
	b.there(selector)
	before := b.told(`location.href`)
	b.script(`document.querySelector(%q).dispatchEvent(new MouseEvent('click', {bubbles: true, cancelable: true}))`, selector)
	b.until("another sentence", `location.href !== %q`, before)
	b.settled()
}

// madeUp checks that the records below make up the number of the figure that is looked at.
func (b *browser) madeUp(figure string) {
	b.t.Helper()
	b.until("the records of "+figure, `document.querySelector('[data-figure=%s]')?.dataset.records === document.querySelector('[data-total]')?.dataset.total`, figure)
	b.until("lines and what is not shown make the number of "+figure, `window.scrollTo(0, document.body.scrollHeight) ?? Number(document.querySelector('[data-total]').dataset.total) === document.querySelectorAll('[data-record]').length + Number(document.querySelector('[data-total]').dataset.hidden)`)
}

// bars are what a figure is made up of, on the screen: the share or length of each.
func (b *browser) bars() map[string]float64 {
	b.t.Helper()
	b.there(`[data-bar]`)
	all := map[string]float64{}
	for _, line := range strings.Split(b.told(`[...document.querySelectorAll('.bars tr:has([data-bar])')].map((r) => r.querySelector('[data-bar]').dataset.bar + ' ' + r.querySelector('.bar').style.width).join('\n')`), "\n") {
		key, width, _ := strings.Cut(line, " ")
		n, err := strconv.ParseFloat(strings.TrimSuffix(width, "%"), 64)
		require.NoError(b.t, err, line)
		all[key] = n
	}
	return all
}

// The boss looks at the year, goes down to what made October bad, and sends the address to a
// lead, who sees their part of it.
func measureTheYear(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Amaranta Vidigal")
	b.click("Measure")
	b.there(`[data-along]`)
	b.see("the last twelve months and this one")
	for _, figure := range []string{"asked", "ended", "open", "overdue", "kept", "well", "done", "sentBack", "rating"} {
		b.there(fmt.Sprintf(`[data-figure=%s][data-records]`, figure))
	}
	b.see("by the day they were delivered")
	b.accessible("figures")
	b.press(`[data-do=of]`)
	b.there(`[data-value]`)
	b.accessible("what counts")
	b.keys(kb.Escape)
	b.media("print")
	assert.Contains(t, b.told(`document.querySelector('.sentence select').checkVisibility()`), "true", "the sentence is read on paper, too")
	assert.Contains(t, b.told(`document.querySelector('[data-do=set-target]').checkVisibility()`), "false")
	b.media("screen")
	require.NotEmpty(t, b.printed())
	worst := b.told(`[...document.querySelectorAll('[data-along]')].map((a) => [Number(a.getAttribute('aria-label').match(/: ([0-9.]+) ?%/)?.[1] ?? 100), a.dataset.along]).sort((x, y) => x[0] - y[0])[0][1]`)
	assert.Equal(t, "-10", worst[4:], "kept fell in October")
	b.follow(fmt.Sprintf(`[data-along=%q]`, worst))
	b.see("October " + worst[:4])
	services := b.bars()
	assert.Less(t, services["access"], services["papers"]-15, "what Keys & Badges does was late")
	b.follow(`[data-bar=access]`)
	b.there(`[data-narrowed=service]`)
	b.set(`[data-field=figure]`, "taskWaited")
	b.there(`[data-figure=taskWaited][aria-current]`)
	b.set(`[data-field=side]`, "task")
	b.until("by task", `new URLSearchParams(location.search).get('side') === 'task' && document.querySelector('[data-bar*="/"]')`)
	longest, most := "", 0.0
	for task, wait := range b.bars() {
		if wait > most {
			longest, most = task, wait
		}
	}
	b.follow(fmt.Sprintf(`[data-bar=%q]`, longest))
	b.there(`[data-narrowed=task]`)
	b.see("Keys & Badges")
	b.madeUp("taskWaited")
	require.NotEqual(t, "0", b.told(`document.querySelector('[data-total]').dataset.total`))
	address := b.told(`location.pathname + location.search`)
	whole := b.told(`document.querySelector('[data-total]').dataset.total`)
	b.do(chromedp.NavigateBack())
	b.until("back is wider", `!document.querySelector('[data-narrowed=task]') && document.querySelector('[data-narrowed=service]')`)

	lead := s.openBrowser()
	lead.signIn("Bertil Okonjo")
	lead.open(address)
	lead.see("You see what is yours")
	lead.there(`[data-narrowed=task]`)
	lead.madeUp("taskWaited")
	assert.NotEqual(t, whole, lead.told(`document.querySelector('[data-total]').dataset.total`), "of another team's tasks a lead sees nothing")
	lead.open("/measure?figure=taskWaited&side=task")
	lead.there(`[data-bar]`)
	lead.madeUp("taskWaited")
}

// Each figure of the desk opens exactly what it counts.
func measureEachFigure(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Amaranta Vidigal")
	b.open("/measure?period=lastMonth")
	b.there(`[data-field=figure] option`)
	figures := strings.Fields(b.told(`[...document.querySelectorAll('[data-field=figure] option')].map((o) => o.value).join(' ')`))
	require.Greater(t, len(figures), 40)
	for _, figure := range figures {
		b.set(`[data-field=figure]`, figure)
		b.there(fmt.Sprintf(`[data-figure=%s][aria-current]`, figure))
		b.settled()
		b.until("the records of "+figure, `document.querySelector('[data-figure=%s]').dataset.records === document.querySelector('[data-total]')?.dataset.total`, figure)
	}
}

// What is clicked is painted at once, with all that follows from it.
func measureAtOnce(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Amaranta Vidigal")
	b.open("/measure")
	b.there(`[data-bar]`)
	b.settled()
	took, err := chromedp.Run(b.ctx, chromedp.Evaluate[[]float64](`(async () => {
		const took = [];
		const frame = () => new Promise((r) => requestAnimationFrame(r));
		for (const figure of ['kept', 'done', 'open', 'taskWaited', 'hours', 'asked', 'decisionTime', 'well', 'overdue', 'tasks', 'rating', 'ended', 'automatic', 'declined', 'cost']) {
			const field = document.querySelector('[data-field=figure]');
			if (field.value === figure) continue;
			field.value = figure;
			const began = performance.now();
			field.dispatchEvent(new Event('change', {bubbles: true}));
			while (!document.querySelector('[data-figure=' + figure + '][aria-current]')) {
				await frame();
				if (performance.now() - began > 20000) throw new Error('it never showed ' + figure);
			}
			await frame();
			took.push(performance.now() - began);
			await new Promise((r) => setTimeout(r, 100));
		}
		return took;
	})()`, chromedp.EvalAwaitPromise))
	require.NoError(t, err)
	slices.Sort(took)
	t.Log("measured shown:", fmt.Sprintf("%.0f ms by the median, %.0f ms at most", took[len(took)/2], took[len(took)-1]))
	assert.Less(t, took[len(took)/2], 2000.0, "far above the aim of 150 ms, which make bench prints")
}

// A lead looks at their team, sets a target, and is told that it will be missed.
func measureATeam(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Bertil Okonjo")
	b.open("/measure?figure=taskWaited&side=task&second=weekday")
	b.there(`[data-cell]`)
	b.open("/measure?figure=taskHanded&side=task")
	b.there(`[data-figure=taskHanded][aria-current]`)
	b.madeUp("taskHanded")
	b.open("/measure?figure=tasks")
	b.there(`[data-figure=tasks][aria-current]`)
	b.press(`[data-do=set-target]`)
	b.there(`[data-field=target-goal]`)
	b.set(`[data-field=target-period]`, "last30") // the others have just begun on some days
	b.set(`[data-field=target-bound]`, "false")
	b.write(`[data-field=target-goal]`, "many")
	b.until("what is no number is not taken", `document.querySelector('[data-do=save-target]').disabled`)
	b.write(`[data-field=target-goal]`, "1")
	b.accessible("a target")
	b.press(`[data-do=save-target]`)
	b.there(`[data-target=tasks][data-stands=missed]`)
	b.accessible("targets")
	b.open("/measure?figure=tasks&period=last30")
	b.there(`[data-aim=missed]`)
	b.open("/measure/targets")
	b.press(`[data-do=drop-target]`)
	b.see("You have set none yet.")
	b.click("Undo")
	b.there(`[data-target=tasks]`)

	b.open("/measure?figure=taskWaited")
	b.there(`[data-figure=taskWaited][aria-current]`)
	b.press(`[data-do=set-target]`)
	b.write(`[data-field=target-goal]`, "1")
	b.press(`[data-do=save-target]`)
	b.there(`[data-target=taskWaited]`)
	b.open("/measure?figure=taskWaited")
	b.there(`line.target`)
}

// The owner compares two versions, and reads what to do next.
func measureAnOffering(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/measure/goes?offering=quay-access-badge")
	b.there(`[data-goes]`)
	b.press(`[data-do=compare]`)
	b.there(`[data-goes="1"]`)
	b.there(`[data-goes="2"]`)
	b.accessible("where time goes")
	steps := func(version string) string {
		return b.told(fmt.Sprintf(`[...document.querySelectorAll('[data-goes="%s"] [data-step]')].map((r) => r.dataset.step).join(' ')`, version))
	}
	assert.Contains(t, steps("1"), "premises")
	assert.NotContains(t, steps("2"), "premises", "the second version has no such decision")
	b.open("/measure/next")
	b.until("five tasks to make automatic", `document.querySelectorAll('[data-automate]').length >= 5`)
	b.until("twelve wishes", `document.querySelectorAll('[data-wish]').length >= 12`)
	b.until("a question at which forms are given up", `[...document.querySelectorAll('[data-mend$=givenUp]')].some((r) => r.innerText.includes('question'))`)
	b.there(`[data-less]`)
	b.accessible("what to do next")
}

// A board is made for the boss, shared, sent, kept and put on the wall, and taken back.
func measureOnABoard(t *testing.T, s *server) {
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/measure")
	b.press(`[data-do=put-on-board]`)
	b.write(`[data-field=board-title]`, "For the boss")
	b.press(`[data-do=put]`)
	b.see("It is on For the boss now.")
	b.there(`[data-page="0"] [data-along]`)
	b.open("/measure?figure=open&period=month")
	b.press(`[data-do=put-on-board]`)
	b.until("the board is chosen", `document.querySelector('[data-field=board]')?.selectedOptions[0]?.innerText === 'For the boss'`)
	b.write(`[data-field=page-title]`, "Where all of it stands")
	b.set(`[data-field=page-show]`, "stages")
	b.press(`[data-do=put]`)
	b.there(`[data-page="1"] [data-stage]`)

	b.press(`[data-do=edit-board]`)
	b.pick(`[data-field=share-with]`, "Amaranta")
	b.set(`[data-field=share-team]`, "service-bench")
	b.accessible("arranging a board")
	b.set(`[data-field=rhythm]`, "FREQ=MONTHLY;BYMONTHDAY=1")
	b.write(`[data-field=turns]`, "5")
	b.press(`[data-do=save-board]`)
	b.see("It is sent next")

	b.press(`[data-do=keep-copy]`)
	b.set(`[data-field=copy-day]`, b.told(`(() => { const d = new Date(); return new Date(Date.UTC(d.getUTCFullYear(), Math.floor(d.getUTCMonth() / 3) * 3, 0)).toISOString().slice(0, 10) })()`))
	b.press(`[data-do=keep]`)
	b.there(`[data-copy]`)

	b.press(`[data-do=on-wall]`)
	b.there(`[data-wall]`)
	link := b.told(`document.querySelector('[data-wall]').dataset.wall`)
	wall := s.openBrowser() // nobody is signed in
	wall.open(link)
	wall.there(`[data-wall-page="0"]`)
	wall.there(`[data-wall-page="1"] [data-stage]`) // it turns by itself
	wall.keys(" ")
	wall.see("stands still")
	wall.accessible("a wall")
	count := `[...document.querySelectorAll('[data-stage] .big')].map((c) => Number(c.innerText.replace(/\D/g, ''))).reduce((a, b) => a + b, 0)`
	before := wall.told(count)
	asker := s.openBrowser()
	asker.signIn("Davi Sarmento")
	var form struct{ Draft string }
	const answers = `{"port":"maravel","plate":"MV-01-QS","place":[{"item":"open","quantity":1}],"from":"2099-01-05"}`
	require.NoError(t, json.Unmarshal([]byte(asker.call("PUT", "/api/offerings/berth-side-parking/draft", `{"answers":`+answers+`}`)), &form))
	asker.call("POST", "/api/requests/"+form.Draft+"/submit", `{"slip":"","answers":`+answers+`}`)
	wall.until("it moves live", count+` > %s`, before)
	assert.NotContains(t, wall.told(`document.body.innerText`), "Sarmento", "no asker's name stands on a wall")

	boss := s.openBrowser()
	boss.signIn("Amaranta Vidigal")
	boss.open("/measure/boards")
	boss.press(`[data-board="For the boss"]`)
	boss.there(`[data-page="1"] [data-stage]`)
	boss.accessible("a board")
	require.False(t, boss.has(`[data-do=edit-board]`), "who reads it does not arrange it")
	boss.click("as of the end of")
	boss.there(`[data-page="0"] [data-along]`)

	b.press(`[data-do=off-wall]`)
	b.there(`[data-do=on-wall]`)
	wall.until("it is taken back", `document.body.innerText.includes('Nothing is shown here')`)
	stranger := s.openBrowser()
	stranger.open("/wall/AAAAAAAAAAAAAAAAAAAAAAAAAA")
	stranger.see("Nothing is shown here")
}

// TestMeasure lives the five parts of the story on the company's two years.
func TestMeasure(t *testing.T) {
	t.Parallel()
	s := serveYears(t)
	for name, part := range map[string]func(*testing.T, *server){
		"the year": measureTheYear, "each figure": measureEachFigure, "at once": measureAtOnce, "a team": measureATeam, "an offering": measureAnOffering, "on a board": measureOnABoard, "rehearsed": rehearseTheYears,
	} {
		t.Run(name, func(t *testing.T) { part(t, &server{t: t, url: s.url}) })
	}
	s.restart() // what it measures, and what it has promised to tell, is there again
	b := s.openBrowser()
	b.signIn("Bertil Okonjo")
	b.open("/measure/targets")
	b.there(`[data-target=tasks][data-stands=missed]`)
	b.open("/messages")
	b.see("Missed: tasks done")
}
