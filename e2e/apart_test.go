package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

// publishSea makes an offering with an answer that is private and one that only
// staff read, a decision and a task in two teams.
func (s *server) publishSea() {
	s.t.Helper()
	s.publish("Day aboard", "day-aboard", func(d *offering.Document) {
		d.Purpose.Text, d.Purpose.Keywords = "A day on a ferry, with a badge for it.", []string{"sea"}
		d.Audience.Everyone = new(true)
		d.Questions = []form.Question{
			{Key: "health", Kind: form.Text, Label: "What must the crew know of your health?", Short: "Health", Readers: form.Private, Require: "true"},
			{Key: "ferry", Kind: form.Text, Label: "Which ferry?", Short: "Ferry", Require: "true"},
			{Key: "grade", Kind: form.Text, Label: "Grade of who asks", Short: "Grade", Readers: form.ForStaff, Preset: "asker.grade"},
		}
		d.Ladder = []ladder.Rung{{Key: "lead", Name: "Line manager", Approvers: []ladder.Source{{Source: "lineManager"}}, Quorum: "any", Facts: []string{"health", "ferry"}}}
		d.Plan = []plan.Task{
			{Key: "badge", Name: "Lend a badge", Kind: plan.Manual, Team: "keys-badges", Slice: []string{"ferry", "health", "grade"}},
			{Key: "berth", Name: "Find a berth", Kind: plan.Manual, Team: "crewing", Slice: []string{"ferry"}},
		}
		d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "5d"}}
	})
}

// Each person of a request sees what is meant for them and no more: private
// answers on asking, answers for staff, and words for chosen readers.
func TestEachSeesWhatIsMeantForThem(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	s.publishSea()
	b := s.openBrowser()
	const health = "I cannot swim."

	b.signIn("Davi Sarmento")
	b.open("/ask/day-aboard")
	b.write("#q-health-field", health)
	b.write("#q-ferry-field", "Tern Dancer")
	b.see("and you see who did")
	b.gone("Grade of who asks")
	b.click("Send to Ragnhild Quist")
	b.there(`[data-reference]`)
	sheet := b.path()
	assert.NotContains(t, b.text("main"), health, "it is shown on asking")
	assert.NotContains(t, b.text("main"), "Grade", "the asker's side does not read what is for staff")
	b.press(`[data-do=show]`)
	b.see(health)

	b.signIn("Ragnhild Quist")
	b.open("/decide")
	b.click("Day aboard Davi Sarmento")
	b.see("Tern Dancer")
	assert.NotContains(t, b.text("main"), health)
	b.press(`[data-do=show]`)
	b.see(health)
	b.approve()

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.openTask("Davi Sarmento")
	b.see("Grade")
	b.press(`[data-do=show]`)
	b.see(health)
	b.set(`[data-field=readers]`, "note")
	b.write(`[data-field=say]`, "The spare badge is in the safe.")
	b.press(`[data-do=say]`)
	b.see("(read by Keys & Badges)")
	b.set(`[data-field=readers]`, "staff")
	b.write(`[data-field=say]`, "He boards at the stern.")
	b.press(`[data-do=say]`)
	b.see("He boards at the stern.")

	b.signIn("Davi Sarmento")
	b.open(sheet)
	b.there(`[data-readings]`)
	b.press(`[data-readings] summary`)
	for _, reader := range []string{"Davi Sarmento", "Ragnhild Quist", "Ysolde Marrec"} {
		assert.Contains(t, b.text(`[data-readings]`), reader)
	}
	for _, hidden := range []string{health, "safe", "stern"} {
		assert.NotContains(t, b.text("main"), hidden, "on the asker's sheet")
	}
	b.set(`[data-field=readers]`, "task/berth")
	b.write(`[data-field=word]`, "I am two metres tall.")
	b.click("Write")
	b.see("I am two metres tall.")

	s.restart()
	b.signIn("Bertil Okonjo")
	b.open("/deliver")
	b.openTask("Davi Sarmento")
	b.see("Tern Dancer")
	b.see("He boards at the stern.")
	b.see("I am two metres tall.")
	for _, hidden := range []string{"Health", "Grade", "safe"} {
		assert.NotContains(t, b.text("main"), hidden, "in the berth's task")
	}

	b.signIn("Ysolde Marrec")
	b.open("/deliver")
	b.openTask("Davi Sarmento")
	b.see("The spare badge is in the safe.")
	assert.NotContains(t, b.text("main"), "two metres", "in the badge's task")
}
