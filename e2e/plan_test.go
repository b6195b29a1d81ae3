package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// dropOn drops the part of a place on another by the mouse.
func (b *browser) dropOn(from, to string) {
	b.t.Helper()
	b.there(`[data-piece="` + from + `"] .head`)
	b.script(`(() => {
		const carried = new DataTransfer();
		const part = (place) => document.querySelector('[data-piece="' + place + '"]');
		part(%q).querySelector('.head').dispatchEvent(new DragEvent('dragstart', {dataTransfer: carried, bubbles: true}));
		part(%q).dispatchEvent(new DragEvent('drop', {dataTransfer: carried, bubbles: true, cancelable: true}));
	})()`, from, to)
}

// An owner makes a plan of all kinds of task: what is set stands in the chart,
// in the next version and after a restart.
func TestAPlanOnTheDesk(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	d := designer{b}
	d.signIn("Henrike Falkenau")
	d.open("/design/cabin-refit/plan")
	d.there(`[data-chart] .bar`)
	first := d.text(`[data-likely]`)
	d.see("sent by ")
	d.see(" now, answered as in the preview")
	d.set(`[data-field=on]`, time.Now().AddDate(0, 1, 0).Format("2006-01-02"))
	d.until("the chart is computed from the chosen day", `!document.querySelector('[data-likely]').innerText.includes(%q)`, first)

	// Tasks dropped on one another set the order; a circle is refused.
	d.dropOn("/plan/0", "/plan/2")
	d.see("“Do the refit” waits for “Plan the refit”, so “Plan the refit” cannot begin after it.")
	d.task("Paint the door", "premises-crew")
	d.dropOn("/plan/3", "/plan/0")
	d.see("“Paint the door” now begins after “Plan the refit”.")
	d.see("Premises Crew, after Plan the refit")

	// What it takes, by when, and what comes out of it.
	d.script(`document.querySelectorAll('%s details').forEach((e) => e.open = true)`, strings.TrimSpace(lastPart))
	d.write(lastPart+`[data-field=effort]`, "3 days")
	d.see(`"3 days" is no working time.`)
	d.write(lastPart+`[data-field=effort]`, "2d")
	d.gone("is no working time.")
	d.set(lastPart+`[data-field=due]`, "moment")
	d.set(lastPart+`[data-field=way]`, "after")
	d.set(lastPart+`[data-field=days]`, "4")
	d.set(lastPart+`[data-field=moment-task]`, "plan")
	d.write(lastPart+`[data-field=task-reminders]`, "1d, 2h")
	d.set(lastPart+`[data-field=must-dos]`, "Door taken out\nDoor hung again")
	d.write(lastPart+`[data-field=new-output]`, "Colour")
	d.press(lastPart + `[data-field=new-output] ~ *, ` + lastPart + `.addline:has([data-field=new-output]) button`)
	d.see("outputs.paintTheDoor.colour")
	d.set(lastPart+`[data-field=belonging]`, "make")
	d.write(lastPart+`[data-field=belonging-kind]`, "door")
	d.write(lastPart+`[data-field=belonging-name]`, "Door in {{ outputs.paintTheDoor.colour }}")
	d.write(lastPart+`[data-field=undo-text]`, "Paint it as it was.")
	d.press(lastPart + `[data-do=add-route]`)
	d.set(lastPart+`[data-field=route-team]`, "keys-badges")
	d.cel(lastPart+`.route `, "when", `asker.department == "Fleet"`)

	// A task of people becomes one that is done by itself; what it had stays.
	const order = `[data-piece="/plan/1"] `
	d.press(order + `.title`)
	d.set(order+`[data-field=kind]`, "automatic")
	d.set(order+`[data-field=action]`, "purchasing order")
	d.see("The service may not use")
	require.NoError(t, s.as("lindskaug").send("PUT", "/api/grants", map[string]string{"service": "places", "connector": "purchasing", "action": "order"}, nil))
	d.see("needs How many")
	d.write(order+`[data-field=action-item]`, "Fittings for {{ answers.room }}")
	d.write(order+`[data-field=action-quantity]`, "1")
	d.gone("needs How many")
	d.gone("The service may not use")
	d.script(`document.querySelectorAll('[data-piece="/plan/1"] details').forEach((e) => e.open = true)`)
	d.until("what takes it back is known", `document.querySelector('%s[data-field=undo]').value === 'purchasing cancel'`, strings.ReplaceAll(order, `"`, `\"`))
	d.write(order+`[data-field=tries]`, "5s, soon")
	d.see(`"soon" is no time to wait before another try.`)
	d.write(order+`[data-field=tries]`, "5s, 1m")
	d.gone("is no time to wait")

	// A wait and a message.
	d.line("new-task", "Let the paint dry, after Paint the door")
	d.set(lastPart+`[data-field=kind]`, "wait")
	d.set(lastPart+`[data-field=way]`, "after")
	d.set(lastPart+`[data-field=days]`, "1")
	d.set(lastPart+`[data-field=moment-task]`, "paintTheDoor")
	d.line("new-task", "Tell them it is dry")
	d.set(lastPart+`[data-field=kind]`, "message")
	d.see(`Nothing says what "Tell them it is dry" writes.`)
	d.write(lastPart+`[data-field=message-subject]`, "The paint is dry")
	d.write(lastPart+`[data-field=message-text]`, "The door of {{ answers.room }} can be used.")
	d.gone("Nothing says what")
	d.until("all of it stands in the chart", `['Paint the door', 'Let the paint dry', 'Tell them it is dry'].every((name) => document.querySelector('[data-chart]').innerText.includes(name))`)

	// The clock on the promise side.
	d.saved()
	d.open("/design/cabin-refit/promise")
	d.set(`[data-field=starts]`, "decision")
	d.set(`[data-field=cut-off]`, "25:00")
	d.see("That is no time of day: write it like 08:30.")
	d.set(`[data-field=cut-off]`, "15:00")
	d.gone("That is no time of day")
	d.press(`[data-pauses=order]`)
	d.press(`[data-piece="/promise/targets/0"] .title`)
	d.script(`document.querySelector('[data-piece="/promise/targets/0"] details').open = true`)
	d.set(`[data-field=target-calendar]`, "sankt-orm")
	d.press(`[data-until=build]`)
	d.unguarded("cabin-refit")
	d.publish("2")

	s.restart()
	var opened struct {
		Document struct {
			Plan    []map[string]any
			Promise map[string]any
		}
	}
	require.NoError(t, json.Unmarshal([]byte(b.call("GET", "/api/design/cabin-refit", "")), &opened))
	plan := opened.Document.Plan
	require.Len(t, plan, 6)
	assert.Equal(t, map[string]any{"connector": "purchasing", "do": "order", "inputs": map[string]any{"item": "Fittings for {{ answers.room }}", "quantity": "1"}}, plan[1]["action"])
	assert.Equal(t, []any{"5s", "1m"}, plan[1]["tries"])
	assert.Equal(t, "purchasing", plan[1]["team"], "who helps when it is stuck")
	assert.Equal(t, []any{"plan"}, plan[1]["after"])
	assert.Equal(t, map[string]any{
		"key": "paintTheDoor", "name": "Paint the door", "kind": "manual", "team": "premises-crew", "after": []any{"plan"}, "effort": "2d",
		"due": map[string]any{"task": "plan", "days": 4.0, "remind": []any{"1d", "2h"}}, "mustDos": []any{"Door taken out", "Door hung again"},
		"outputs": []any{map[string]any{"key": "colour", "name": "Colour"}}, "undo": map[string]any{"text": "Paint it as it was."},
		"belonging": map[string]any{"does": "make", "kind": "door", "name": "Door in {{ outputs.paintTheDoor.colour }}"},
		"routes":    []any{map[string]any{"team": "keys-badges", "when": `asker.department == "Fleet"`}},
	}, plan[3])
	assert.Equal(t, map[string]any{"task": "paintTheDoor", "days": 1.0}, plan[4]["wait"])
	assert.Equal(t, "The paint is dry", plan[5]["words"].(map[string]any)["subject"])
	assert.Equal(t, "decision", opened.Document.Promise["starts"])
	assert.Equal(t, "15:00", opened.Document.Promise["cutOff"])
	assert.Equal(t, []any{"order"}, opened.Document.Promise["pauses"])
	target := opened.Document.Promise["targets"].([]any)[0].(map[string]any)
	assert.Equal(t, "sankt-orm", target["calendar"])
	assert.Equal(t, []any{"build"}, target["until"])
}

// An owner changes a working calendar: the year shows it before it is kept, bad
// hours are told at their place, and what hangs on it is named.
func TestACalendarOnTheDesk(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Henrike Falkenau")
	b.open("/design/calendars?key=maravel")
	b.see("Administrators change it.")
	b.signIn("Tove Lindskaug")
	b.open("/manage")
	b.click("Working calendars")
	b.there(`[data-day]`)
	b.open("/design/calendars?key=maravel")
	b.see("It keeps the time of the promises of")
	b.there(`[data-day]`)
	year := time.Now().Year()
	day := time.Date(year, time.June, 1, 0, 0, 0, 0, time.UTC)
	for day.Weekday() != time.Wednesday {
		day = day.AddDate(0, 0, 1)
	}
	date := day.Format("2006-01-02")
	assert.Equal(t, "8", b.text(`[data-day="`+date+`"]`))
	b.press(`[data-day="` + date + `"]`)
	b.write(`[data-exception="`+date+`"] input`, "Regatta")
	b.until("it is closed", `document.querySelector('[data-day="%s"]').innerText === 'W'`, date)
	b.set(`[data-field=thu]`, "08:30-12:30, soon")
	b.see("soon")
	b.there(`p.problem`)
	b.set(`[data-field=thu]`, "08:30-12:30")
	b.until("a Thursday is shorter", `document.querySelector('[data-day="%s"]').innerText === '4'`, day.AddDate(0, 0, 1).Format("2006-01-02"))
	b.see("Keeping it changes the promises of")
	b.script(`(() => {
		const carried = new DataTransfer();
		carried.items.add(new File([%q], 'holidays.ics', {type: 'text/calendar'}));
		const field = document.querySelector('[data-field=holidays]');
		field.files = carried.files;
		field.dispatchEvent(new Event('change', {bubbles: true}));
	})()`, fmt.Sprintf("BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Blessing of the boats\r\nDTSTART;VALUE=DATE:%d0714\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", year))
	b.until("the holiday was read", `document.querySelector('[data-exception="%d-07-14"] input')?.value === 'Blessing of the boats'`, year)
	b.press(`[data-do=keep]`)
	b.see("Saved: every clock and forecast uses it from now on.")
	s.restart()
	b.reload()
	b.until("it is kept", `document.querySelector('[data-day="%s"]')?.innerText === 'W' && document.querySelector('[data-exception="%s"] input').value === 'Regatta'`, date, date)

	// A new one begins with the week of the one that is open.
	b.write(`[data-field=new-calendar]`, "Night ferry")
	b.click("Begin")
	b.set(`[data-field=fri]`, "22:00-06:00")
	b.press(`[data-do=keep]`)
	b.see("Saved:")
	b.signIn("Henrike Falkenau")
	b.open("/design/cabin-refit/promise")
	b.until("it can be chosen", `[...document.querySelectorAll('[data-field=calendar] option')].some((o) => o.innerText === 'Night ferry')`)
}

// Any request is found by its reference, and a mistyped one is told; a list is
// narrowed and ordered; a request is printed and exported.
func TestFindingAndGivingOut(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	b := s.openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/follow")
	b.there(`[data-do=export]`)
	reference := b.text(`.eyebrow.mono`)
	wrong := reference[:len(reference)-1] + "A"
	if strings.HasSuffix(reference, "A") {
		wrong = reference[:len(reference)-1] + "B"
	}
	b.open("/ask/quay-access-badge")
	b.write(`header [name=words]`, strings.ToLower(reference)+"\r")
	b.until("the request is opened", `location.pathname.startsWith('/follow/') && document.querySelector('.eyebrow.mono')?.innerText === %q`, reference)
	b.write(`header [name=words]`, wrong+"\r")
	b.see("is no reference: its letter does not fit its number.")
	b.open("/find")
	b.write(`[data-field=find-request]`, wrong+"\r")
	b.see("is no reference: its letter does not fit its number.")
	b.write(`[data-field=find-request]`, "Davi parking\r")
	b.there(`[data-found]`)
	b.see("asked by Davi Sarmento")

	b.open("/follow")
	b.there(`[data-do=export]`)
	id := b.path()[len("/follow/"):]
	b.until("a change shows in the counts at once", `document.querySelector('nav.index h2').innerText.startsWith('Waits for you 1')`)
	b.open("/follow/" + id + "?sort=sent")
	b.set(`[data-field=group]`, "closed")
	b.until("only what is closed", `[...document.querySelectorAll('nav.index h2')].every((h) => h.innerText.startsWith('Closed'))`)
	b.write(`[data-field=find-mine]`, "no such words\r")
	b.see("None of yours is like that.")
	b.click("Show all")
	b.until("nothing narrows the list", `location.search === ''`)
	b.open("/follow/" + id + "?group=closed")
	b.there(`[data-field=sort]`)
	b.settled()
	b.set(`[data-field=sort]`, "likely")
	b.until("the order stands in the address", `location.search.includes('sort=likely')`)

	var exported struct {
		Format  string
		Request struct {
			Reference string
			History   []any
		}
	}
	require.NoError(t, json.Unmarshal([]byte(b.call("GET", "/api/requests/"+id+"/export", "")), &exported))
	assert.Equal(t, "heptad/request/1", exported.Format)
	assert.Equal(t, reference, exported.Request.Reference)
	assert.NotEmpty(t, exported.Request.History)
	assert.Equal(t, http.StatusUnauthorized, s.get("/api/requests/"+id+"/export").StatusCode)

	printed := b.printed()
	assert.True(t, strings.HasPrefix(string(printed), "%PDF-"))
	b.media("print")
	b.until("paper shows the sheet without what can be pressed", `document.querySelector('.sheet h1').checkVisibility() && !document.querySelector('.strip').checkVisibility() && ![...document.querySelectorAll('button')].some((e) => e.checkVisibility())`)
	b.media("screen")
}
