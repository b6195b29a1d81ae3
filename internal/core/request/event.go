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

// The bodies of events on a request and its decisions.
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
		Shared    bool                 `json:"told,omitempty"` // the beneficiary sees the request
		Answers   form.Answers         `json:"answers"`
		Price     price.Price          `json:"price"`
		Rungs     []Rung               `json:"rungs"` // still closed, without seats
		Promise   *promise.Promised    `json:"promise,omitempty"`
		Named     []people.Belonging   `json:"held,omitempty"`    // what the answers name of what they have
		Present   map[string]string    `json:"present,omitempty"` // how it is now, by key of the question
		Private   []string             `json:"private,omitempty"` // keys of the questions whose answers are kept apart

		Together *Together `json:"together,omitempty"` // sent with others on one slip

		// What must not change later, for measuring; empty in events of before.
		AskerWas       Standing      `json:"askerWas,omitzero"`
		Foreseen       []string      `json:"foreseen,omitempty"` // keys of the teams that the plan foresees
		BeneficiaryWas Standing      `json:"beneficiaryWas,omitzero"`
		Likely         time.Time     `json:"likely,omitzero"` // to be done, in half of all cases
		Sure           time.Time     `json:"sure,omitzero"`   // in four of five
		Channel        Channel       `json:"channel,omitempty"`
		Door           offering.Door `json:"door,omitempty"`
		Impact         string        `json:"impact,omitempty"`  // in words, where the form asks for it
		Urgency        string        `json:"urgency,omitempty"` // likewise
	}
	// DueSet says when its promise is due from now on, until a pause, another speed or
	// another calendar moves that.
	DueSet struct {
		Due  time.Time `json:"due"`
		Late time.Time `json:"late"` // the first instant at which it is late
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
		Open     int64    `json:"open,omitempty"` // time since they were asked, by the calendar of the promise, in milliseconds
	}
	// AskedBack returns the request to its asker: with a question, or declined,
	// where the rung lets a decline be mended.
	AskedBack struct {
		Rung     string      `json:"rung"`
		Text     string      `json:"text"`
		Until    time.Time   `json:"until"`
		Remind   []time.Time `json:"remind,omitempty"` // of the asker's side
		Declined bool        `json:"declined,omitempty"`
		Parts    []string    `json:"parts,omitempty"` // cost centres whose shares were declined
		Open     int64       `json:"open,omitempty"`  // time since the rung was opened, by the calendar of the promise, in milliseconds
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
		Named   []people.Belonging `json:"held,omitempty"`
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
		Open    int64          `json:"open,omitempty"`   // time since it was opened, by the calendar of the promise, in milliseconds
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
	// WorkDelivered says that every task has ended.
	WorkDelivered struct {
		ConfirmBy time.Time   `json:"confirmBy"`
		LeftOut   []LeftOut   `json:"leftOut,omitempty"` // what was needed and not done
		Remind    []time.Time `json:"remind,omitempty"`  // of the asker's side
		Rates     bool        `json:"rates,omitempty"`   // it can be rated from now on
		Word      string      `json:"word,omitempty"`    // of staff to the asker
		Next      string      `json:"next,omitempty"`    // what the offering says comes next
	}
	// ClockEnded keeps what a clock of the promise showed when it ended.
	ClockEnded struct {
		Clock ClockKind `json:"clock"`
		promise.End
		Went *Went `json:"went,omitempty"` // of the delivery; nil in events of before
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

		Chosen string    `json:"chosen,omitempty"` // of the reasons that the offering gives
		Rates  bool      `json:"rates,omitempty"`  // it can be rated from now on
		BackBy time.Time `json:"backBy,omitzero"`  // until when it can be sent back; zero for never
		Word   string    `json:"word,omitempty"`   // of staff who closed it
	}
	// MarkReached says that a share of a promised time is used. Of several of one clock that
	// were reached in an outage only the highest is told.
	MarkReached struct {
		Reached
		Silent bool           `json:"silent,omitempty"`
		Tell   []promise.Told `json:"tell,omitempty"`
		People []string       `json:"people,omitempty"` // IDs
		Text   string         `json:"text,omitempty"`
		HandUp bool           `json:"handUp,omitempty"`
		Used   int64          `json:"used"` // open time, in milliseconds
		Left   int64          `json:"left"` // open time, in milliseconds; negative when it is late
		Due    time.Time      `json:"due"`
	}
	// Tied says how it belongs to another request, and Untied that it does no more.
	Tied   struct{ Link }
	Untied struct {
		Link
		Free bool `json:"free,omitempty"` // it ended otherwise, or its main one did
	}
	// TieEnded says that another request that it belongs to has ended.
	TieEnded struct {
		Kind    Linking `json:"kind"`
		Other   string  `json:"other"` // ID
		Outcome Outcome `json:"outcome"`
	}
	// EndsWith says that it ends as its main one did.
	EndsWith struct {
		Outcome Outcome `json:"outcome"`
		Why     string  `json:"why"`
	}
	// Echoed passes on what staff said on its main one.
	Echoed struct {
		From string `json:"from"` // reference
		By   string `json:"by"`   // ID of a person
		Text string `json:"text"`
	}
	// OpenedToAll lets others join, with a sentence that they read; an empty one ends that.
	OpenedToAll struct {
		Sentence string `json:"sentence,omitempty"`
	}
	// Joined says that somebody has the same trouble.
	Joined struct {
		Line string `json:"line,omitempty"`
	}
	// Urged asks for more urgency, and UrgeDecided says whether it is granted.
	Urged struct {
		Choice  string            `json:"choice"` // label
		Reason  string            `json:"reason,omitempty"`
		Answers form.Answers      `json:"answers"`
		Price   price.Price       `json:"price"`
		Rungs   []Rung            `json:"rungs"`
		Promise *promise.Promised `json:"promise,omitempty"`
	}
	UrgeDecided struct {
		Granted bool      `json:"granted"`
		From    time.Time `json:"from,omitzero"` // from when on its clock counts
	}
	// SideReminded says that the asker's side was reminded that it waits for them.
	SideReminded struct {
		Times int `json:"times"` // how many of the reminders have passed
	}
	// Rated is what one of the asker's side thinks of how it went.
	Rated struct {
		Stars   int            `json:"stars"`
		Text    string         `json:"text,omitempty"`
		Answers []RatingAnswer `json:"answers,omitempty"`
		Pooled  bool           `json:"pooled,omitempty"` // staff see it only among others
	}
	// SentBack says that what was delivered is not right, and what follows.
	SentBack struct {
		Text    string    `json:"text"`
		Lines   []string  `json:"lines,omitempty"`  // names of what is not right
		Stopped time.Time `json:"stopped,omitzero"` // when the clock of the delivery had stopped
		Tasks   []Task    `json:"tasks"`            // all blocked
		Undo    []string  `json:"undo,omitempty"`   // keys of the tasks that are taken back first
		Raised  bool      `json:"raised,omitempty"` // so often that the owner is told
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
