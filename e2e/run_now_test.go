package e2e

import (
	"testing"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
)

// Staff run an action from their task, which ends in the same act; what came of it stands on
// the request.
func TestRunNow(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	henrike, ysolde := s.openBrowser(), s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	s.publishQuick()
	s.changesQuick(func(d *offering.Document) {
		d.Plan = []plan.Task{
			{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys-badges"},
			{Key: "anew", Name: "Write it anew", Kind: plan.Automatic, Team: "keys-badges", Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ beneficiary.name }}", "opens": "Gate"}}},
		}
	})
	henrike.open("/design/quick-badge/plan")
	henrike.press(`[data-piece="/plan/1"] button[aria-expanded]`)
	henrike.press(`[data-field=on-demand]`)
	henrike.until("it is saved", `document.querySelector('[data-saved=true]')`)
	s.changesQuick(func(d *offering.Document) { d.Plan[1].Action.Inputs["opens"] = "" })

	id := s.asksQuick("sarmento")
	ysolde.signIn("Ysolde Marrec")
	ysolde.open("/deliver/" + id + "/check")
	ysolde.click("Take")
	ysolde.press(`[data-runs] summary`)
	ysolde.press(`[data-do=run-and-end]`)
	ysolde.see("is needed.")
	ysolde.write(`[data-input=opens]`, "Gate 4")
	ysolde.write(`[data-field=run-word]`, "Try the gate again.")
	ysolde.press(`[data-do=run-and-end]`)
	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	davi.open("/follow/" + id)
	davi.see("Your turn: is it right?")
	davi.see("Write it anew")
	davi.see("Try the gate again.")
	davi.see("Badge number")
}
