package promise

import (
	"fmt"

	"heptad/internal/core/finding"
)

// Rating says when a request can be rated, and who sees it.
type Rating struct {
	At     string   `json:"at,omitempty" enum:",delivery,closing,never" doc:"From when; closing when left out"`
	Asks   []string `json:"asks,omitempty" maxItems:"5" nullable:"false" doc:"Questions of its own, each answered from one to five, and by nobody who does not want to"`
	Pooled bool     `json:"pooled,omitempty" doc:"Staff see only what is pooled of five and more"`
}

// Urge lets askers ask for more urgency: another answer to the question that speed hangs on.
type Urge struct {
	Question string   `json:"question" maxLength:"60" doc:"Key of a choice"`
	Choices  []string `json:"choices" maxItems:"20" nullable:"false" doc:"Keys of those that they can change to"`
}

// From when a request can be rated.
const (
	RateDelivered = "delivery"
	RateClosed    = "closing"
	RateNever     = "never"
)

// LeastPooled is of how many ratings those are shown that are only pooled.
const LeastPooled = 5

// Right says what happens when a request is sent back.
type Right struct {
	Team  string   `json:"team,omitempty" maxLength:"60" doc:"Key of the team that puts it right; the home team of the service when left out"`
	Tasks []string `json:"tasks,omitempty" maxItems:"200" nullable:"false" doc:"Keys of tasks that are done again, in place of a task for the team"`
	Undo  bool     `json:"undo,omitempty" doc:"What those did is taken back first, the last first"`
}

// Check looks whether the tasks it names are of the plan.
func (r *Right) Check(task func(key string) bool, findings *finding.List) {
	if r == nil {
		return
	}
	for i, key := range r.Tasks {
		if !task(key) {
			findings.Error(finding.UnknownTask, finding.At("promise", "right", "tasks", i), fmt.Sprintf("There is no task %q.", key), "Choose a task of the plan.")
		}
	}
}
