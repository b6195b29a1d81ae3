package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
)

// always is a working calendar that is open at any time, so that a test can run at any.
func (s *server) always() string {
	s.t.Helper()
	week := map[string][]string{}
	for _, day := range []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"} {
		week[day] = []string{"00:00-24:00"}
	}
	calendar := map[string]any{"format": "heptad/calendar/1", "name": "Always", "zone": "UTC", "week": week, "exceptions": []any{}}
	require.NoError(s.t, s.as("lindskaug").send("PUT", "/api/calendars/always?year=2026", calendar, nil))
	return "always"
}

// The owner writes a mark; it is told to who has the work at its instant, live, what nobody
// has taken goes up, and a while later it is told that it is missed, to the owner as well.
func TestAMarkAndAMiss(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	henrike := s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	s.publishQuick()
	always := s.always()
	s.changesQuick(func(d *offering.Document) {
		d.Promise.Calendar = always
		d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "20s"}}
	})

	henrike.open("/design/quick-badge/promise")
	henrike.press(`[data-field=new-mark]`)
	henrike.write(`[data-field=mark-share]`, "20")
	henrike.press(`[data-mark-tell=lead]`)
	henrike.write(`[data-field=mark-text]`, "Somebody stands at the gate.")
	henrike.there(`[data-mark="0"]`)
	henrike.see("20 % tells who has it and the lead of the team")
	henrike.until("it is saved", `document.querySelector('[data-saved=true]')`)
	s.changesQuick(func(*offering.Document) {})

	ysolde := s.openBrowser()
	ysolde.signIn("Ysolde Marrec")
	ysolde.open("/messages")
	id := s.asksQuick("sarmento")
	ysolde.see("The time is nearly used: Quick badge")
	ysolde.see("Somebody stands at the gate.")
	ysolde.see("20 % of the promised time is used")
	ysolde.click("new The time is nearly used: Quick badge")
	ysolde.until("it leads to the task", `location.pathname === '/deliver/%s/check'`, id)
	henrike.open("/messages")
	henrike.see("Late: Quick badge")
	henrike.see("The promised time is missed")
	henrike.open("/follow/" + id)
	henrike.see("20 % of the promised time is used")
	henrike.see("The promised time is missed")
	henrike.press(`[data-counted] summary`)
	henrike.see("in working time:")
}
