package request

import (
	"encoding/json"
	"fmt"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
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

// Body is what happened.
type Body interface{ kind() string }

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
		Seat  string       `json:"seat"` // ID of its approver
		Other ladder.Other `json:"other"`
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
		Seat     string   `json:"seat"` // ID of the approver whose seat it fills
		Decision Decision `json:"decision"`
		Reason   string   `json:"reason,omitempty"`
		Person   string   `json:"person"`
		Carried  bool     `json:"carried,omitempty"`
	}
	// AskedBack returns the request to its asker with a question.
	AskedBack struct {
		Rung  string    `json:"rung"`
		Text  string    `json:"text"`
		Until time.Time `json:"until"`
	}
	// Resubmitted brings the asker's answer: what they said, the new answers and
	// price, and the rungs as they stand after it.
	Resubmitted struct {
		Reply   string            `json:"reply,omitempty"`
		Title   string            `json:"title"`
		Answers form.Answers      `json:"answers"`
		Price   price.Price       `json:"price"`
		Rungs   []Rung            `json:"rungs"`
		Promise *promise.Promised `json:"promise,omitempty"`
		Changed []string          `json:"changed,omitempty"` // keys of the questions answered differently
	}
	// RungEnded says how a rung ended.
	RungEnded struct {
		Rung    string         `json:"rung"`
		Outcome ladder.Outcome `json:"outcome"`
		Reason  string         `json:"reason,omitempty"` // when nobody's vote ended it
	}
	// Commented is a word of somebody, for all who see the request.
	Commented struct {
		Text string `json:"text"`
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
	Decided struct{}
	// Planned lists the tasks, all blocked.
	Planned struct {
		Tasks []Task `json:"tasks"`
	}
	// TaskReady releases a task.
	TaskReady struct {
		Task string `json:"task"`
	}
	// TaskSkipped ends a task that its rule does not want.
	TaskSkipped struct {
		Task string `json:"task"`
	}
	// TaskTaken gives a task a holder.
	TaskTaken struct {
		Task string `json:"task"`
	}
	// TaskDone ends a task, with what came out of it.
	TaskDone struct {
		Task    string            `json:"task"`
		Outputs map[string]string `json:"outputs,omitempty"`
	}
	// CallFailed is one failed try of an automatic task.
	CallFailed struct {
		Task    string    `json:"task"`
		Attempt int       `json:"attempt"`
		Trouble string    `json:"trouble"`
		RetryAt time.Time `json:"retryAt"`
	}
	// TaskStuck hands an automatic task to people.
	TaskStuck struct {
		Task    string `json:"task"`
		Trouble string `json:"trouble"`
	}
	// TaskRetried starts an automatic task anew.
	TaskRetried struct {
		Task string `json:"task"`
	}
	// WorkDelivered says that every task has ended.
	WorkDelivered struct {
		ConfirmBy time.Time `json:"confirmBy"`
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

func (DraftBegun) kind() string    { return "drafted" }
func (Submitted) kind() string     { return "submitted" }
func (RungOpened) kind() string    { return "rungOpened" }
func (RungResumed) kind() string   { return "rungResumed" }
func (SeatJoined) kind() string    { return "seatJoined" }
func (RungReminded) kind() string  { return "rungReminded" }
func (Voted) kind() string         { return "voted" }
func (AskedBack) kind() string     { return "askedBack" }
func (Resubmitted) kind() string   { return "resubmitted" }
func (Commented) kind() string     { return "commented" }
func (Followed) kind() string      { return "followed" }
func (Unfollowed) kind() string    { return "unfollowed" }
func (RungEnded) kind() string     { return "rungEnded" }
func (Decided) kind() string       { return "decided" }
func (Planned) kind() string       { return "planned" }
func (TaskReady) kind() string     { return "taskReady" }
func (TaskSkipped) kind() string   { return "taskSkipped" }
func (TaskTaken) kind() string     { return "taskTaken" }
func (TaskDone) kind() string      { return "taskDone" }
func (CallFailed) kind() string    { return "callFailed" }
func (TaskStuck) kind() string     { return "taskStuck" }
func (TaskRetried) kind() string   { return "taskRetried" }
func (WorkDelivered) kind() string { return "delivered" }
func (Confirmed) kind() string     { return "confirmed" }
func (RequestClosed) kind() string { return "closed" }

// Deciding tells whether an event changes with whom a decision lies.
func (e Event) Deciding() bool {
	switch e.Body.(type) {
	case Submitted, RungOpened, RungResumed, SeatJoined, Voted, AskedBack, Resubmitted, RungEnded, RequestClosed:
		return true
	}
	return false
}

// Kind is the name under which an event is stored.
func (e Event) Kind() string { return e.Body.kind() }

// decoders read bodies back by their kind.
var decoders = map[string]func([]byte) (Body, error){}

func init() {
	register[DraftBegun]()
	register[Submitted]()
	register[RungOpened]()
	register[RungResumed]()
	register[SeatJoined]()
	register[RungReminded]()
	register[Voted]()
	register[AskedBack]()
	register[Resubmitted]()
	register[Commented]()
	register[Followed]()
	register[Unfollowed]()
	register[RungEnded]()
	register[Decided]()
	register[Planned]()
	register[TaskReady]()
	register[TaskSkipped]()
	register[TaskTaken]()
	register[TaskDone]()
	register[CallFailed]()
	register[TaskStuck]()
	register[TaskRetried]()
	register[WorkDelivered]()
	register[Confirmed]()
	register[RequestClosed]()
}

func register[B Body]() {
	var zero B
	decoders[zero.kind()] = func(data []byte) (Body, error) {
		var body B
		err := json.Unmarshal(data, &body)
		return body, err
	}
}

// DecodeBody reads the body of an event of a kind from JSON.
func DecodeBody(kind string, data []byte) (Body, error) {
	decode, ok := decoders[kind]
	if !ok {
		return nil, fmt.Errorf("unknown event %q", kind)
	}
	return decode(data)
}
