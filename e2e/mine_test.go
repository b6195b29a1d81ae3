package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A task is put on one's own list for a day, moved, and taken off; only who put it there
// sees it. Its due time goes into a calendar.
func TestMyOwnList(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	ysolde := s.openBrowser()
	ysolde.signIn("Ysolde Marrec")
	s.publishQuick()
	id := s.asksQuick("sarmento")
	ysolde.open("/deliver/" + id + "/check")
	ysolde.press(`[data-my-list] summary`)
	ysolde.press(`[data-do=to-list]`)
	ysolde.see("On your list for")
	entry := ysolde.call("GET", "/api/tasks/"+id+"/check/entry?of=due", "")
	assert.Contains(t, entry, "BEGIN:VEVENT")
	assert.Contains(t, entry, "SUMMARY:Due: Check")
	meeting := ysolde.call("GET", "/api/tasks/"+id+"/check/entry?of=meeting&at=2027-03-12T09:00:00Z&minutes=45&place=Gate+4", "")
	assert.Contains(t, meeting, "DTEND:20270312T094500Z")
	assert.Contains(t, meeting, "Davi Sarmento")
	s.restart()
	ysolde.open("/mine")
	ysolde.there(`[data-own=check]`)
	ysolde.see("Today")
	henrike := s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	henrike.open("/mine")
	henrike.see("Nothing is on it.")
	henrike.open("/follow/" + id)
	henrike.press(`[data-my-list] summary`)
	henrike.press(`[data-do=to-list]`)
	henrike.see("On your list for")
	henrike.open("/mine")
	henrike.there(`[data-own=request]`)
	ysolde.click("Take off")
	ysolde.see("Nothing is on it.")
}
