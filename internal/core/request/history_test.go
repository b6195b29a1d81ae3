package request_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// told gives the history in lines of "who: what. remark".
func (r *run) told() []string {
	var lines []string
	for _, e := range request.History(r.events, r.facts.Company, request.Viewer{Asker: true}) {
		line := e.Sentence
		if e.Actor != "" {
			line = e.Actor + ": " + line
		}
		if e.Remark != "" {
			line += ". " + e.Remark
		}
		lines = append(lines, line)
	}
	return lines
}

func TestHistoryOfADecline(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit()).must("p-tomas", request.Decide{Rung: "manager", Decision: request.Decline, Reason: "Not now."})
	assert.Equal(t, []string{
		"Ilse Brandvik: Began to write", "Ilse Brandvik: Sent as QS-10432-P", "Line manager: asked Tomas Lindqvist",
		"Tomas Lindqvist: Declined. Not now.", "Closed as declined",
	}, r.told())
}

func TestHistoryOfWhatHappensByItself(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder, d.Plan[2].After = nil, []string{"photo"}
		d.Plan[1].When = "false"
		d.Plan = d.Plan[1:]
	}).must("p-ilse", begin(), submit())
	for range 6 {
		r.must(request.Program, request.Fail{Task: "write", Trouble: "Down."})
	}
	r.must("p-kira", request.Retry{Task: "write"}).must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-9"}}).later(aWeek).must(request.Program, request.Lapse{})
	told := strings.Join(r.told(), "\n")
	for _, line := range []string{
		"No decision is needed", "Planned 2 tasks", "Take photo: not needed", "Write badge: now being done by itself",
		"Write badge: try 5 failed; it is tried again by itself. Down.", "Write badge: stuck, with Keys & Badges. Tried 6 times. Down.",
		"Kira Matsuda: Write badge: started again", "Write badge: done. Badge number: QB-9", "All work is done", "Closed as fulfilled, as nobody objected in time",
	} {
		assert.Contains(t, told, line)
	}
	assert.NotContains(t, told, "Kira Matsuda: Planned", "what follows by itself has nobody's name")
}

func TestHistoryOfAVoteThatCountsAgain(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder = append(d.Ladder, ladder.Rung{Key: "again", Name: "Again", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.LineManager}}})
	}).must("p-ilse", begin(), submit()).must("p-tomas", approve())
	assert.Contains(t, r.told(), "Tomas Lindqvist: Approved, as before")
	assert.Contains(t, r.told(), "Every decision needed was a yes")
}

func TestHistoryIsSortedIntoKinds(t *testing.T) {
	r := start(t).must("p-ilse", begin(), submit()).must("p-tomas", approve()).must("p-kira", request.Take{Task: "photo"})
	kinds := map[string]int{}
	for _, e := range request.History(r.events, r.facts.Company, request.Viewer{Asker: true}) {
		kinds[e.Kind]++
	}
	assert.Equal(t, map[string]int{"stage": 4, "decision": 2, "task": 3}, kinds)
}
