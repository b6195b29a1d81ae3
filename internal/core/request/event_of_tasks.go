package request

import (
	"time"

	"heptad/internal/core/people"
)

// The bodies of events on tasks, other systems, places and what people have.
type (
	// TaskAdded is a task that staff add.
	TaskAdded struct {
		Task   Task   `json:"task"`
		Before string `json:"before,omitempty"` // key of a task that now waits for it
		Reason string `json:"reason"`
	}
	// TaskReady releases a task, to the team it is routed to.
	TaskReady struct {
		Task         string      `json:"task"`
		Team         string      `json:"team,omitempty"`
		Person       string      `json:"person,omitempty"` // ID of who gets it
		Instructions string      `json:"instructions,omitempty"`
		Until        time.Time   `json:"until"`
		Due          time.Time   `json:"due"`
		Remind       []time.Time `json:"remind,omitempty"`
		Confirmers   []string    `json:"asked,omitempty"`
		Took
	}
	// TaskSkipped ends a task that its rule does not want, or that staff leave
	// out with a reason.
	TaskSkipped struct {
		Task   string `json:"task"`
		Reason string `json:"reason,omitempty"`
		Needed bool   `json:"needed,omitempty"` // it was needed, as far as one could tell
		Took
	}
	// TaskTaken gives a task a holder.
	TaskTaken struct {
		Task string `json:"task"`
		Took
	}
	// TaskHanded gives a task to somebody, or to a team.
	TaskHanded struct {
		Task   string `json:"task"`
		Person string `json:"person,omitempty"` // ID; empty for nobody in particular
		Team   string `json:"team"`
		Reason string `json:"reason,omitempty"`
		Took
	}
	// TaskWaived lets a task begin before a forerunner has ended.
	TaskWaived struct {
		Task   string `json:"task"`
		After  string `json:"after"`
		Reason string `json:"reason"`
	}
	// PointTicked ticks a must-do, or takes the tick away.
	PointTicked struct {
		Task  string `json:"task"`
		Point int    `json:"point"` // from 0
		Done  bool   `json:"done"`
	}
	// LineDone says how many of a line are done.
	LineDone struct {
		Task string `json:"task"`
		Line int    `json:"line"` // from 0
		Done int    `json:"done"`
	}
	// PartConfirmed is the word of one of many who are asked.
	PartConfirmed struct {
		Task string `json:"task"`
	}
	// AskerAsked asks the asker something about a task.
	AskerAsked struct {
		Task  string    `json:"task"`
		Text  string    `json:"text"`
		Until time.Time `json:"until"`
		Took
	}
	// AskerAnswered brings the answer; the task is again with who asked.
	AskerAnswered struct {
		Task  string `json:"task"`
		Text  string `json:"text"`
		Heard *Heard `json:"heard,omitempty"` // when staff enter what was said
		Took
	}
	// TaskQuestionDropped takes a question about a task back.
	TaskQuestionDropped struct {
		Task string `json:"task"`
		Took
	}
	// Foretold keeps when it is likely done, as the asker's side knows it: told when
	// it slips.
	Foretold struct {
		Likely time.Time `json:"likely"`
		Slips  bool      `json:"told,omitempty"`
	}
	// Doubted says that a member of a team finds the asker, or whom it is for, not
	// eligible. It is for those who lead.
	Doubted struct {
		Task   string `json:"task"`
		Reason string `json:"reason"`
	}
	// TaskReminded tells who has a task that it is due, or soon.
	TaskReminded struct {
		Task     string `json:"task"`
		Reminded int    `json:"told"` // how many reminders are told now
		Over     bool   `json:"over,omitempty"`
	}
	// TaskDone ends a task, with what came out of it.
	TaskDone struct {
		Task    string            `json:"task"`
		Outputs map[string]string `json:"outputs,omitempty"`
		Word    string            `json:"word,omitempty"`    // to the asker
		Reason  string            `json:"reason,omitempty"`  // when it ended by itself
		Over    string            `json:"over,omitempty"`    // working time after it was due, such as 3h30m
		Secrets []string          `json:"secrets,omitempty"` // keys of the outputs that are kept apart
		Took
	}
	// MessageWritten is the message of a message task.
	MessageWritten struct {
		Task    string `json:"task"`
		To      string `json:"to"`
		Subject string `json:"subject"`
		Text    string `json:"text"`
	}
	// CallFailed is one failed try of an automatic task, or of its undo.
	CallFailed struct {
		Task    string    `json:"task"`
		Undo    bool      `json:"undo,omitempty"`
		Attempt int       `json:"attempt"`
		Trouble string    `json:"trouble"`
		RetryAt time.Time `json:"retryAt"`
	}
	// CallAccepted says that another system has taken a call and will report.
	CallAccepted struct {
		Task    string            `json:"task"`
		Outputs map[string]string `json:"outputs,omitempty"`
		Secrets []string          `json:"secrets,omitempty"` // keys of the outputs that are kept apart
	}
	// Reported is a report of another system on its way to the end.
	Reported struct {
		Task    string            `json:"task"`
		Step    string            `json:"step"`
		Words   string            `json:"words,omitempty"`
		Outputs map[string]string `json:"outputs,omitempty"`
		Lines   map[int]int       `json:"lines,omitempty"`   // how many are done
		Secrets []string          `json:"secrets,omitempty"` // keys of the outputs that are kept apart
	}
	// TaskStuck says that a task, or its undo, cannot go on without people.
	TaskStuck struct {
		Task    string      `json:"task"`
		Undo    bool        `json:"undo,omitempty"`
		Trouble string      `json:"trouble"`
		Team    string      `json:"team,omitempty"` // whose work it is now, when it is another's
		Tell    []string    `json:"tell,omitempty"` // IDs of who is told beside the team
		Due     time.Time   `json:"due,omitzero"`   // when it must go on; zero when its due time stays
		Remind  []time.Time `json:"remind,omitempty"`
		Took
	}
	// TaskRetried starts an automatic task, or its undo, anew; one of people goes
	// on.
	TaskRetried struct {
		Task   string            `json:"task"`
		Undo   bool              `json:"undo,omitempty"`
		Inputs map[string]string `json:"inputs,omitempty"` // corrected ones
		Reason string            `json:"reason,omitempty"` // of the correction
		Took
	}
	// TaskStopped ends a task because the request ended first.
	TaskStopped struct {
		Task string `json:"task"`
		Took
	}
	// PlaceQueued puts a task on the waiting list of a pool.
	PlaceQueued struct {
		Task string `json:"task"`
		Pool string `json:"pool"`
	}
	// PlaceReserved gives a task a place of a pool.
	PlaceReserved struct {
		Task string `json:"task"`
		Pool string `json:"pool"`
	}
	// PlaceReturned gives a place back, or leaves the waiting list.
	PlaceReturned struct {
		Task string `json:"task"`
		Pool string `json:"pool"`
	}
	// PoolGrown makes a pool one larger, or smaller again.
	PoolGrown struct {
		Task string `json:"task"`
		Pool string `json:"pool"`
		By   int    `json:"by"`
	}
	// HoldingMade says that somebody has something.
	HoldingMade struct {
		Task    string  `json:"task"`
		Holding Holding `json:"held"`
	}
	// HoldingChanged says what somebody has now in place of what it was.
	HoldingChanged struct {
		Task   string           `json:"task"`
		Now    people.Belonging `json:"now"`
		Before people.Belonging `json:"before"`
	}
	// HoldingEnded says that somebody has something no more.
	HoldingEnded struct {
		Task string `json:"task"`
		ID   string `json:"id"`
		Name string `json:"name"`
		Over int    `json:"over,omitempty"` // days after its last day
	}
	// HoldingRestored says that somebody has again what was ended.
	HoldingRestored struct {
		Task string `json:"task"`
		ID   string `json:"id"`
		Name string `json:"name"`
	}
	// UndoingBegun stops what is open and takes back what was done.
	UndoingBegun struct {
		Outcome Outcome `json:"outcome"` // with which the request will close
		Reason  string  `json:"reason,omitempty"`
		Chosen  string  `json:"chosen,omitempty"` // of the reasons that the offering gives
	}
	// UndoBegun begins to take a task back: by a call, or by hand.
	UndoBegun struct {
		Task string `json:"task"`
		Text string `json:"text,omitempty"` // what is to be done by hand
	}
	// UndoTaken gives an undo by hand a holder.
	UndoTaken struct {
		Task string `json:"task"`
	}
	// TaskUndone says that a task is taken back.
	TaskUndone struct {
		Task string `json:"task"`
	}
	// UndoLeft lets a task be as it was done; without a reason when nothing
	// takes it back.
	UndoLeft struct {
		Task   string `json:"task"`
		Reason string `json:"reason,omitempty"`
	}
)
