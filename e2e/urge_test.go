package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
)

// The asker asks for more urgency, sees who decides before they do, and after the yes the
// promise is another; a no leaves all as it was.
func TestMoreUrgency(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi, ragnhild := s.openBrowser(), s.openBrowser()
	davi.signIn("Davi Sarmento")
	ragnhild.signIn("Ragnhild Quist")
	s.publishQuick()
	s.changesQuick(func(d *offering.Document) {
		d.Questions = []form.Question{{Key: "speed", Kind: form.Choice, Label: "How fast?", Choices: []form.Option{{Key: "usual", Label: "Usual speed"}, {Key: "quick", Label: "Quick"}}}}
		d.Promise.Targets = []promise.Target{{Name: "Quick", When: `has(answers.speed) && answers.speed == "quick"`, Fulfilment: "1d"}, {Name: "Usual", Fulfilment: "5d"}}
		d.Promise.Urge = &promise.Urge{Question: "speed", Choices: []string{"quick"}}
		d.Ladder = []ladder.Rung{{Key: "speed", Name: "Speed", When: `has(answers.speed) && answers.speed == "quick"`, Quorum: "any", Approvers: []ladder.Source{{Source: ladder.LineManager}}}}
	})
	id := s.asksQuick("sarmento")
	require.NoError(t, s.as("marrec").send("POST", "/api/tasks/"+id+"/check/take", map[string]any{}, nil))
	davi.open("/follow/" + id)
	davi.press(`[data-do=urge]`)
	davi.see("once Ragnhild Quist said yes")
	davi.write(`[data-field=why-urgent]`, "We sail on Tuesday.")
	davi.press(`[data-do=urge-now]`)
	davi.there(`[data-urging]`)
	davi.see("It waits to be decided")
	ragnhild.open("/decide/" + id + "/speed")
	ragnhild.see("asks for more urgency: Quick, “We sail on Tuesday.”")
	ragnhild.write(`#reason`, "It can wait.")
	ragnhild.click("Decline")
	davi.see("More urgency is not granted")
	davi.press(`[data-do=urge]`)
	davi.see("once Ragnhild Quist said yes")
	davi.press(`[data-do=urge-now]`)
	davi.there(`[data-urging]`)
	ragnhild.open("/decide/" + id + "/speed")
	ragnhild.click("Approve")
	davi.see("Quick: 1 working day")
	davi.see("More urgency is granted, from now on")
	s.restart()
	davi.reload()
	davi.see("Quick: 1 working day")
	require.NoError(t, s.as("marrec").send("POST", "/api/tasks/"+id+"/check/complete", map[string]any{}, nil))
}
