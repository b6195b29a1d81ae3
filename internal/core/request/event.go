package request

import (
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
)

// Program is the actor of events that nobody in person caused.
const Program = ""

// Event is one entry of a request's history. It is only ever added.
type Event struct {
	Seq   int       // 1 for the first of its request
	At    time.Time // UTC, whole milliseconds
	Actor string    // ID of a person, or Program
	Body  Body
}

// Body is what happened. Each says how a state takes it in, and how it is told: one
// that does not is no body.
type Body interface {
	apply(s *State, e Event)
	// tell puts the event into words, and reports whether there are any.
	tell(w *telling) bool
}

// The bodies of events.
type (
	// DraftBegun opens a request as a draft.
	DraftBegun struct {
		ID       string `json:"id"`
		Offering string `json:"offering"`
		Title    string `json:"title"`
		Service  string `json:"service"`
	}
	// Submitted fixes the offering's version, the answers and the price.
	Submitted struct {
		Reference string               `json:"reference"`
		Version   int                  `json:"version"`
		Title     string               `json:"title"`
		Service   string               `json:"service"`
		For       offering.Beneficiary `json:"for"`
		Told      bool                 `json:"told,omitempty"` // the beneficiary sees the request
		Answers   form.Answers         `json:"answers"`
		Price     price.Price          `json:"price"`
		Rungs     []Rung               `json:"rungs"` // still closed, without seats
		Promise   *promise.Promised    `json:"promise,omitempty"`
		Held      []people.Belonging   `json:"held,omitempty"`    // what the answers name of what they have
		Present   map[string]string    `json:"present,omitempty"` // how it is now, by key of the question
		Private   []string             `json:"private,omitempty"` // keys of the questions whose answers are kept apart

		// What must not change later, for measuring; empty in events of before.
		AskerWas       Standing  `json:"askerWas,omitzero"`
		Foreseen       []string  `json:"foreseen,omitempty"` // keys of the teams that the plan foresees
		BeneficiaryWas Standing  `json:"beneficiaryWas,omitzero"`
		Likely         time.Time `json:"likely,omitzero"` // to be done, in half of all cases
		Sure           time.Time `json:"sure,omitzero"`   // in four of five
	}
	// RungOpened names who decides now.
	RungOpened struct {
		Rung  string        `json:"rung"`
		Name  string        `json:"name"`
		Seats []ladder.Seat `json:"seats"`
		Times ladder.Times  `json:"times"`
		Note  string        `json:"note,omitempty"`
	}
	// RungResumed goes on with a rung whose seats and votes stayed.
	RungResumed struct {
		Rung  string       `json:"rung"`
		Name  string       `json:"name"`
		Times ladder.Times `json:"times"`
	}
	// SeatJoined asks somebody else for the decision of a seat as well.
	SeatJoined struct {
		Rung  string       `json:"rung"`
		Seat  string       `json:"seat"`           // ID of its approver
		Part  string       `json:"part,omitempty"` // of the seat
		Other ladder.Other `json:"other"`
	}
	// SeatLeft says that a decision is not with somebody any more: the absence has
	// ended that they stood in for, or who passed it on has taken it back.
	SeatLeft struct {
		Rung   string `json:"rung"`
		Seat   string `json:"seat"`           // ID of its approver
		Part   string `json:"part,omitempty"` // of the seat
		Person string `json:"person"`
		Back   bool   `json:"back,omitempty"` // who passed it on has taken it back
	}
	// QuestionDropped takes a question back that was asked, before it is answered.
	QuestionDropped struct {
		Rung string `json:"rung"`
	}
	// RungReminded tells those with whom a decision lies that it waits.
	RungReminded struct {
		Rung   string `json:"rung"`
		Share  int    `json:"share"`            // of the limit, in per cent
		Passed []int  `json:"passed,omitempty"` // lower shares that were passed unsaid, while the program stood still
	}
	// Voted is a decision of one approver; it takes the place of what the seat
	// said before.
	Voted struct {
		Rung     string   `json:"rung"`
		Seat     string   `json:"seat"`           // ID of the approver whose seat it fills
		Part     string   `json:"part,omitempty"` // of the seat
		Decision Decision `json:"decision"`
		Reason   string   `json:"reason,omitempty"`
		Person   string   `json:"person"`
		Carried  bool     `json:"carried,omitempty"`
	}
	// AskedBack returns the request to its asker: with a question, or declined,
	// where the rung lets a decline be mended.
	AskedBack struct {
		Rung     string    `json:"rung"`
		Text     string    `json:"text"`
		Until    time.Time `json:"until"`
		Declined bool      `json:"declined,omitempty"`
		Parts    []string  `json:"parts,omitempty"` // cost centres whose shares were declined
	}
	// Resubmitted brings the asker's answer: what they said, the new answers and
	// price, and the rungs as they stand after it.
	Resubmitted struct {
		Reply   string             `json:"reply,omitempty"`
		Title   string             `json:"title"`
		Answers form.Answers       `json:"answers"`
		Price   price.Price        `json:"price"`
		Rungs   []Rung             `json:"rungs"`
		Promise *promise.Promised  `json:"promise,omitempty"`
		Held    []people.Belonging `json:"held,omitempty"`
		Present map[string]string  `json:"present,omitempty"`
		Changed []string           `json:"changed,omitempty"` // keys of the questions answered differently
		Private []string           `json:"private,omitempty"` // keys of the questions whose answers are kept apart
		Heard   *Heard             `json:"heard,omitempty"`   // when staff enter what was said
	}
	// RungEnded says how a rung ended.
	RungEnded struct {
		Rung    string         `json:"rung"`
		Outcome ladder.Outcome `json:"outcome"`
		Reason  string         `json:"reason,omitempty"` // when nobody's vote ended it
	}
	// Commented is a word of somebody, for all who see the request; of staff with
	// the task they speak of.
	Commented struct {
		Text    string   `json:"text"`
		Task    string   `json:"task,omitempty"`
		Readers *Readers `json:"readers,omitempty"` // nil before they could be chosen
	}
	// Noted is a word of staff to staff.
	Noted struct {
		Text    string   `json:"text"`
		Task    string   `json:"task,omitempty"`
		Readers *Readers `json:"readers,omitempty"`
	}
	// Attached adds a file.
	Attached struct {
		File    form.Upload `json:"file"`
		Task    string      `json:"task,omitempty"`
		Readers *Readers    `json:"readers,omitempty"`
	}
	// Followed makes somebody hear of the request.
	Followed struct {
		Person string `json:"person"`
	}
	// Unfollowed ends that.
	Unfollowed struct {
		Person string `json:"person"`
	}
	// Decided says that every rung is passed.
	Decided struct {
		From time.Time `json:"from"` // of the promise, when the decision starts its clock
	}
	// Planned lists the tasks, all blocked.
	Planned struct {
		Tasks []Task `json:"tasks"`
	}
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
		Asked        []string    `json:"asked,omitempty"`
	}
	// TaskSkipped ends a task that its rule does not want, or that staff leave
	// out with a reason.
	TaskSkipped struct {
		Task   string `json:"task"`
		Reason string `json:"reason,omitempty"`
		Needed bool   `json:"needed,omitempty"` // it was needed, as far as one could tell
	}
	// TaskTaken gives a task a holder.
	TaskTaken struct {
		Task string `json:"task"`
	}
	// TaskHanded gives a task to somebody, or to a team.
	TaskHanded struct {
		Task   string `json:"task"`
		Person string `json:"person,omitempty"` // ID; empty for nobody in particular
		Team   string `json:"team"`
		Reason string `json:"reason,omitempty"`
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
	}
	// AskerAnswered brings the answer; the task is again with who asked.
	AskerAnswered struct {
		Task  string `json:"task"`
		Text  string `json:"text"`
		Heard *Heard `json:"heard,omitempty"` // when staff enter what was said
	}
	// TaskQuestionDropped takes a question about a task back.
	TaskQuestionDropped struct {
		Task string `json:"task"`
	}
	// Foretold keeps when it is likely done, as the asker's side knows it: told when
	// it slips.
	Foretold struct {
		Likely time.Time `json:"likely"`
		Told   bool      `json:"told,omitempty"`
	}
	// Doubted says that a member of a team finds the asker, or whom it is for, not
	// eligible. It is for those who lead.
	Doubted struct {
		Task   string `json:"task"`
		Reason string `json:"reason"`
	}
	// TaskReminded tells who has a task that it is due, or soon.
	TaskReminded struct {
		Task string `json:"task"`
		Told int    `json:"told"` // how many reminders are told now
		Over bool   `json:"over,omitempty"`
	}
	// TaskDone ends a task, with what came out of it.
	TaskDone struct {
		Task    string            `json:"task"`
		Outputs map[string]string `json:"outputs,omitempty"`
		Word    string            `json:"word,omitempty"`    // to the asker
		Reason  string            `json:"reason,omitempty"`  // when it ended by itself
		Over    string            `json:"over,omitempty"`    // working time after it was due, such as 3h30m
		Secrets []string          `json:"secrets,omitempty"` // keys of the outputs that are kept apart
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
	}
	// TaskRetried starts an automatic task, or its undo, anew; one of people goes
	// on.
	TaskRetried struct {
		Task   string            `json:"task"`
		Undo   bool              `json:"undo,omitempty"`
		Inputs map[string]string `json:"inputs,omitempty"` // corrected ones
		Reason string            `json:"reason,omitempty"` // of the correction
	}
	// TaskStopped ends a task because the request ended first.
	TaskStopped struct {
		Task string `json:"task"`
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
		Task string `json:"task"`
		Held Held   `json:"held"`
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
	// WorkDelivered says that every task has ended.
	WorkDelivered struct {
		ConfirmBy time.Time `json:"confirmBy"`
		LeftOut   []LeftOut `json:"leftOut,omitempty"` // what was needed and not done
	}
	// ClockEnded keeps what a clock of the promise showed when it ended.
	ClockEnded struct {
		Clock ClockKind `json:"clock"`
		promise.End
	}
	// Confirmed is the asker's word that it is done.
	Confirmed struct {
		Remark string `json:"remark,omitempty"`
	}
	// RequestClosed ends a request.
	RequestClosed struct {
		Outcome Outcome `json:"outcome"`
		Silent  bool    `json:"silent,omitempty"` // nobody confirmed in time
		Reason  string  `json:"reason,omitempty"`
	}
)

// Standing is where somebody stood in the company at an instant.
type Standing struct {
	Department string `json:"department,omitempty"`
	Location   string `json:"location,omitempty"`
	CostCentre string `json:"costCentre,omitempty"`
	Employment string `json:"employment,omitempty"`
}

// Heard is an answer that staff have entered in the words of who said it.
type Heard struct {
	From string    `json:"from"` // ID of a person
	At   time.Time `json:"at"`
	How  string    `json:"how"` // such as phone
}

// LeftOut is work that was needed and not done.
type LeftOut struct {
	Task   string `json:"task"` // its name
	Reason string `json:"reason"`
}
